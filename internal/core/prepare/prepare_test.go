package prepare_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
	"braxel/internal/core/prepare"
)

func ids(list []prepare.Task) []string {
	var all []string
	for _, t := range list {
		all = append(all, t.ID)
	}
	return all
}

func TestTheListFitsTheEngineAndThePlace(t *testing.T) {
	car := ids(prepare.Before(log.Engine{Kind: log.FourStroke, Fuel: "petrol", Fuelling: "carburettor"}, "car", "hot"))
	assert.Subset(t, car, []string{"chocks", "warm", "fuel-line", "ignition", "plugs", "throttle"})
	assert.NotContains(t, car, "fuel-pump")

	stand := ids(prepare.Before(log.Engine{Kind: log.FourStroke}, "stand", "cold"))
	assert.Subset(t, stand, []string{"tied", "fuel-pump", "ignition"})
	assert.NotContains(t, stand, "warm")
	assert.NotContains(t, stand, "chocks")

	blown := ids(prepare.Before(log.Engine{Kind: log.FourStroke, Induction: "turbo"}, "dyno", "hot"))
	assert.Subset(t, blown, []string{"released", "hot", "ducting", "starter"})
	assert.NotContains(t, car, "ducting")
	assert.NotContains(t, stand, "hot", "nothing is hot on a cold engine")

	diesel := ids(prepare.Before(log.Engine{Kind: log.FourStroke, Fuel: "diesel"}, "", "hot"))
	assert.Subset(t, diesel, []string{"stop-solenoid", "glow"})
	for _, not := range []string{"ignition", "plugs", "throttle", "fuel-pump"} {
		assert.NotContains(t, diesel, not)
	}
	assert.Contains(t, ids(prepare.Before(log.Engine{Kind: log.Rotary}, "", "hot")), "one-plug")
}

func TestWhatWasTakenOffIsPutBackInReverse(t *testing.T) {
	list := prepare.Before(log.Engine{Kind: log.FourStroke}, "car", "hot")
	back := prepare.After(list, []string{"ignition", "plugs", "fuel-pump"}, nil)
	assert.Equal(t, []string{"back:plugs", "back:ignition", "back:fuel-pump"}, ids(back[:3]))
	assert.Equal(t, []string{"back:gauge", "back:throttle", "back:charger", "back:chocks"}, ids(back[3:]), "it may have come off unticked")
	for i, b := range back {
		assert.Equal(t, i >= 3, b.Unsaid, b.ID)
	}
	bad := prepare.BadPlugs(log.Session{Observations: []log.Observation{{What: "plug", Place: log.Place{Cylinder: 3}, Finding: "oily"}, {What: "plug", Place: log.Place{Cylinder: 1}, Finding: "tan"}}})
	assert.Equal(t, []int{3}, bad)
	assert.Contains(t, prepare.After(list, []string{"plugs"}, bad)[0].Words, "New plugs in (3 were bad")
}
