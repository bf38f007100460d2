package judge_test

import (
	"fmt"
	"regexp"
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/judge"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

// A figure with its unit, or a date: what may be said otherwise in other units.
var saidInUnits = regexp.MustCompile(`[0-9][0-9.,]* (to [0-9][0-9.,]* )?(psi|bar|kPa)|[A-Z][a-z]{2} \d+, \d{4}|\d+ [A-Z][a-z]{2} \d{4}`)

// In which units somebody has things shown changes no verdict: the states, the causes and the decision are the same, and the words but for
// the figures in those units.
func TestUnitsChangeNoVerdict(t *testing.T) {
	for _, group := range []string{"limits", "causes"} {
		for _, l := range goingWrong(group, "circuit", "leak_watch") {
			plain := judge.Log(l, rules.Shop{})
			for _, shown := range []units.Choice{{Pressure: units.Bar, Dates: "month-day"}, {Pressure: units.KPa}, {Length: "in", Temperature: "°F"}} {
				other := judge.Log(l, rules.Shop{Shown: shown})
				for i, s := range plain.Sessions {
					o := other.Sessions[i]
					same := func(a, b string) {
						assert.Equal(t, saidInUnits.ReplaceAllString(a, "…"), saidInUnits.ReplaceAllString(b, "…"))
					}
					same(s.Sentence, o.Sentence)
					same(s.Decision, o.Decision)
					same(s.Headline, o.Headline)
					assert.Equal(t, s.State, o.State)
					assert.Equal(t, s.Causes[0].Cause, o.Causes[0].Cause)
					assert.InDelta(t, s.Causes[0].Probability, o.Causes[0].Probability, 1e-12)
					assert.Equal(t, fmt.Sprint(s.Pressures()), fmt.Sprint(o.Pressures()))
				}
			}
		}
	}
}

// Where a verdict names a pressure, it is in the unit chosen.
func TestAVerdictSaysPressuresInTheUnitChosen(t *testing.T) {
	four := inline(4)
	l := situation{engine: four, tests: []test{{psi: []float64{80, 82, 79, 81}}}}.log()
	said := func(shown units.Choice) string { return fmt.Sprint(judge.Log(l, rules.Shop{Shown: shown}).Sessions[0]) }
	assert.Contains(t, said(units.Choice{}), "90 to 100 psi")
	assert.Contains(t, said(units.Choice{Pressure: units.Bar}), "6.2 to 6.9 bar")
	assert.NotContains(t, said(units.Choice{Pressure: units.Bar}), " psi")
}
