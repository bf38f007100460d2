package protocol_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
	"braxel/internal/core/protocol"
	"braxel/internal/core/reading"
)

func TestTheProtocolFitsTheEngine(t *testing.T) {
	for want, e := range map[string]log.Engine{
		"street": {Duty: "street"}, "race": {Duty: "circuit"}, "diesel": {Duty: "work", Fuel: "diesel"}, "ours": {Duty: "drag", Protocol: "ours"},
	} {
		assert.Equal(t, want, protocol.For(e))
	}
}

func TestAWorkshopsOwnStandsInTheBuiltInOnesPlace(t *testing.T) {
	own := []protocol.Protocol{{ID: "race", Name: "Our race test"}, {ID: "quick", Name: "Quick look"}}
	assert.Equal(t, "Our race test", protocol.Of("race", own).Name)
	assert.Equal(t, "Street engine", protocol.Of("nothing of that name", own).Name)
	var names []string
	for _, p := range protocol.All(own) {
		names = append(names, p.Name)
	}
	assert.Equal(t, []string{"Street engine", "Our race test", "Diesel", "Candidate on a stand", "Between runs", "One plug out at a time", "Quick look"}, names)
}

func TestTheBuiltInOnesKeepToTheTradesCautions(t *testing.T) {
	assert.Equal(t, protocol.Never, protocol.Of("diesel", nil).Wet, "a diesel can fire on the oil")
	assert.Equal(t, "one", protocol.Of("one-plug", nil).PlugsOut)
	assert.Equal(t, "cold", protocol.Of("stand", nil).Temp)
	for _, p := range protocol.BuiltIn {
		assert.LessOrEqual(t, p.LeakWatch, p.LeakAct, p.ID)
		assert.Contains(t, []reading.Rule{reading.UntilTwoAgree, reading.Three, reading.One}, p.Pulls)
		var schools []string
		for _, s := range reading.Schools {
			schools = append(schools, s.ID)
		}
		assert.Contains(t, schools, p.Evenness, p.ID)
	}
}

func TestALeakIsWatchedBeforeItIsActedUpon(t *testing.T) {
	p := protocol.Of("street", nil)
	assert.Empty(t, p.Check())
	p.LeakWatch = p.LeakAct
	assert.Empty(t, p.Check(), "from one limit on both")
	p.LeakWatch = p.LeakAct + 1
	faults := p.Check()
	assert.Len(t, faults, 1)
	assert.Equal(t, "/leak_watch_pct", faults[0].At)
	assert.Contains(t, faults[0].What, "the first must be the lower")
}
