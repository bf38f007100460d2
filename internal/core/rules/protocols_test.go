package rules_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

func TestTheProtocolFitsTheEngine(t *testing.T) {
	for want, e := range map[string]log.Engine{
		"street": {Duty: "street"}, "race": {Duty: "circuit"}, "diesel": {Duty: "work", Fuel: "diesel"}, "ours": {Duty: "drag", Protocol: "ours"},
	} {
		assert.Equal(t, want, rules.ProtocolFor(e))
	}
}

func TestAWorkshopsOwnStandsInTheBuiltInOnesPlace(t *testing.T) {
	own := rules.Shop{Protocols: []rules.Protocol{{ID: "race", Name: "Our race test"}, {ID: "quick", Name: "Quick look"}}}
	assert.Equal(t, "Our race test", own.ProtocolOf("race").Name)
	assert.Equal(t, "Street engine", own.ProtocolOf("nothing of that name").Name)
	var names []string
	for _, p := range own.AllProtocols() {
		names = append(names, p.Name)
	}
	assert.Equal(t, []string{"Street engine", "Our race test", "Diesel", "Used engine on a stand", "Between runs", "One plug out at a time", "Quick look"}, names)
}

func TestTheBuiltInOnesKeepToTheTradesCautions(t *testing.T) {
	assert.Equal(t, rules.Never, builtIn.ProtocolOf("diesel").Wet, "a diesel can fire on the oil")
	assert.Equal(t, "one", builtIn.ProtocolOf("one-plug").PlugsOut)
	assert.Equal(t, "cold", builtIn.ProtocolOf("stand").Temp)
	for _, p := range rules.Protocols {
		assert.LessOrEqual(t, p.LeakWatch, p.LeakAct, p.ID)
		assert.Contains(t, []rules.PullRule{rules.UntilTwoAgree, rules.Three, rules.One}, p.Pulls)
		var schools []string
		for _, s := range rules.Schools {
			schools = append(schools, s.ID)
		}
		assert.Contains(t, schools, p.Evenness, p.ID)
	}
}

func TestALeakIsWatchedBeforeItIsActedUpon(t *testing.T) {
	p := builtIn.ProtocolOf("street")
	assert.Empty(t, p.Check())
	p.LeakWatch = p.LeakAct
	assert.Empty(t, p.Check(), "from one limit on both")
	p.LeakWatch = p.LeakAct + 1
	faults := p.Check()
	assert.Len(t, faults, 1)
	assert.Equal(t, "/leak_watch_pct", faults[0].At)
	assert.Contains(t, faults[0].What, "the first must be lower")
}
