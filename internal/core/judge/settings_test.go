package judge_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// Every rule that a workshop may change does something: among engines that go wrong in every way, another value makes another verdict.
func TestEverySettingChangesWhatIsSaid(t *testing.T) {
	told := func(l log.Log, shop rules.Shop) string {
		text, err := json.Marshal(judge.Log(l, shop))
		require.NoError(t, err)
		return string(text)
	}
	for _, s := range rules.Settings() {
		part := strings.Split(s.ID, ".")
		changes := false
		for _, l := range goingWrong(part[0], part[1], part[len(part)-1]) {
			for _, value := range []float64{s.Minimum, s.Maximum} {
				changes = changes || told(l, rules.Shop{}) != told(l, rules.Shop{}.With(rules.Own{ID: s.ID, Value: value}))
			}
		}
		assert.True(t, changes, "%s: nothing that anybody sees changes", s.ID)
	}
}

// goingWrong are engines on which a setting should show.
func goingWrong(group, of, field string) []log.Log {
	four := inline(4)
	if group != "causes" {
		four.Duty = of
	}
	if field == "km" || field == "events" {
		four.MeterUnit = field
	}
	var all []log.Log
	add := func(e log.Engine, tests ...test) { all = append(all, situation{engine: e, tests: tests}.log()) }
	sound := test{psi: []float64{180, 182, 178, 180}, leak: []float64{3, 4, 3, 4}}
	add(four, sound, sound)
	for lost := 2.0; lost <= 24; lost += 2 { // little by little, at the exhaust, and without a leak-down
		bad := test{psi: []float64{180, 182, 178 * (1 - lost/100), 180}, leak: []float64{3, 4, 3 + 0.9*lost, 4}, heard: heardAt(3, log.Exhaust)}
		add(four, sound, bad)
		add(four, test{psi: sound.psi}, test{psi: bad.psi})
	}
	if group == "limits" { // what is watched is a matter of a point
		for by := 1.0; by <= 9; by += 0.25 {
			add(four, test{psi: sound.psi}, test{psi: []float64{180, 182, 178 * (1 - by/100), 180}})
			add(four, test{leak: sound.leak}, test{leak: []float64{3, 4, 3 + by, 4}, again: map[int]float64{3: 3 + by}})
		}
	}
	if group != "causes" {
		return all
	}
	for _, where := range []string{log.Intake, log.Coolant, log.Crankcase} {
		add(four, sound, test{psi: []float64{180, 182, 150, 180}, leak: []float64{3, 4, 25, 4}, heard: heardAt(3, where)})
	}
	add(four, sound, test{psi: []float64{180, 150, 148, 180}, leak: []float64{3, 25, 24, 4}, heard: heardAt(2, log.Neighbour)})
	add(four, sound, test{psi: sound.psi, leak: []float64{3, 4, 25, 4}}) // by one reading, which compression denies
	low := test{psi: []float64{150, 151, 148, 150}, leak: sound.leak}
	add(four, sound, low)
	add(four, test{psi: sound.psi, leak: sound.leak, with: preInstall}, test{psi: low.psi, leak: sound.leak, with: func(s *log.Session) { s.Stage = "after-running" }})
	two := with(inline(2), func(e *log.Engine) { e.Kind = log.TwoStroke })
	add(two, test{psi: []float64{120, 121}, leak: []float64{4, 4}}, test{psi: []float64{120, 95}, leak: []float64{4, 30}})
	add(two, test{psi: []float64{120, 121}, leak: []float64{4, 4}}, test{psi: []float64{120, 95}, leak: []float64{4, 4}})
	sides := [3]float64{110, 112, 111}
	add(rotary(2), test{with: faces(250, sides, sides)}, test{with: faces(250, sides, [3]float64{70, 112, 111})})
	return all
}

func heardAt(cylinder int, where string) map[int][]log.Path {
	return map[int][]log.Path{cylinder: {{Where: where, Level: 3}}}
}
