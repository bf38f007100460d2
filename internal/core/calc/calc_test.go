package calc_test

import (
	"encoding/json"
	"math"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/calc"
)

// vector is a worked case, made apart from this program.
type vector struct {
	Calc   string          `json:"calc"`
	In     json.RawMessage `json:"in"`
	Out    any             `json:"out"`
	RelTol float64         `json:"rel_tol"`
}

func vectors(t testing.TB) []vector {
	text, err := os.ReadFile("testdata/maths.json")
	require.NoError(t, err)
	var all []vector
	require.NoError(t, json.Unmarshal(text, &all))
	return all
}

func run(t testing.TB, name, in string) any {
	out, err := calc.Run(name, []byte(in))
	require.NoError(t, err, "%s %s", name, in)
	text, err := json.Marshal(out)
	require.NoError(t, err)
	var plain any
	require.NoError(t, json.Unmarshal(text, &plain))
	return plain
}

// near compares two values of JSON, numbers within a share of their size, and keys exactly.
func near(t *testing.T, want, got any, tol float64, at string) {
	t.Helper()
	switch w := want.(type) {
	case map[string]any:
		g, ok := got.(map[string]any)
		require.True(t, ok, at)
		assert.Len(t, g, len(w), at)
		for key, v := range w {
			near(t, v, g[key], tol, at+"."+key)
		}
	case []any:
		g, ok := got.([]any)
		require.True(t, ok, at)
		require.Len(t, g, len(w), at)
		for i := range w {
			near(t, w[i], g[i], tol, at)
		}
	case float64:
		assert.InDelta(t, w, got, tol*math.Max(1e-9, math.Abs(w)), at)
	default:
		assert.Equal(t, want, got, at)
	}
}

func TestEverySumAgreesWithTheWorkedCases(t *testing.T) {
	seen := map[string]bool{}
	for _, v := range vectors(t) {
		seen[v.Calc] = true
		near(t, v.Out, run(t, v.Calc, string(v.In)), v.RelTol, v.Calc)
	}
	for _, s := range calc.All() {
		if s.Name != "two-testers" {
			assert.True(t, seen[s.Name], "%s has no worked case", s.Name)
		}
	}
}

const four = `"bore_mm":87,"stroke_mm":91,"rod_mm":149`

func TestWhatCannotBeIsRefusedByField(t *testing.T) {
	for name, c := range map[string]struct{ sum, in, says string }{
		"held above supply":     {"leak", `{"supply_kpa":600,"held_kpa":650}`, "held_kpa: must not be above the supply"},
		"nothing held":          {"leak", `{"supply_kpa":600,"held_kpa":0}`, "held_kpa: nothing is held"},
		"no supply":             {"leak", `{"supply_kpa":0,"held_kpa":0}`, "supply_kpa"},
		"ratio of one":          {"cranking", `{` + four + `,"compression_ratio":1,"intake_closes_abdc_deg":60}`, "compression_ratio: must be above 1"},
		"ratio below one":       {"oil-gain", `{` + four + `,"compression_ratio":0.5,"intake_closes_abdc_deg":60,"oil_cc":5}`, "compression_ratio"},
		"rod too short":         {"cranking", `{"bore_mm":87,"stroke_mm":91,"rod_mm":45,"compression_ratio":10,"intake_closes_abdc_deg":60}`, "rod_mm: must be longer"},
		"valve never closes":    {"ratio", `{` + four + `,"gauge_kpa":1200,"intake_closes_abdc_deg":190}`, "intake_closes_abdc_deg"},
		"oil locks the engine":  {"oil-gain", `{` + four + `,"compression_ratio":11,"intake_closes_abdc_deg":60,"oil_cc":54}`, "oil_cc"},
		"zero seconds":          {"rotor", `{"pulses":10,"seconds":0,"held_peak_kpa":800,"face_pulses_kpa":[700,700,700]}`, "seconds"},
		"two faces":             {"rotor", `{"pulses":10,"seconds":2,"held_peak_kpa":800,"face_pulses_kpa":[700,700]}`, "face_pulses_kpa: a rotor has three faces, not 2"},
		"pulse above the peak":  {"rotor", `{"pulses":10,"seconds":2,"held_peak_kpa":800,"face_pulses_kpa":[700,900,700]}`, "face_pulses_kpa.1"},
		"a word for a figure":   {"ambient", `{"altitude_m":"high"}`, "altitude_m"},
		"a figure left out":     {"sea-level", `{"gauge_kpa":1000}`, "ambient_kpa: missing"},
		"a figure too many":     {"ambient", `{"altitude_m":1,"depth":2}`, "depth: this sum has no such input"},
		"no firing order":       {"tdc-plan", `{"firing_order":[]}`, "firing_order"},
		"a cylinder twice":      {"tdc-plan", `{"firing_order":[1,1]}`, "firing_order: cylinder 1"},
		"pulled once each":      {"repeatability", `{"groups_kpa":[[1],[2]]}`, "groups_kpa"},
		"no reading":            {"evenness", `{"readings_kpa":[]}`, "readings_kpa"},
		"not an object":         {"ambient", `7`, "one JSON object"},
		"higher than mountains": {"ambient", `{"altitude_m":99999}`, "altitude_m"},
	} {
		_, err := calc.Run(c.sum, []byte(c.in))
		assert.ErrorContains(t, err, c.says, name)
	}
	_, err := calc.Run("luck", nil)
	assert.ErrorIs(t, err, calc.ErrUnknown)
}

func TestAnotherTesterReadsTheSameHoleDifferently(t *testing.T) {
	one := run(t, "two-testers", `{"supply_kpa":689.476,"held_kpa":640,"orifice_mm":1,"other_supply_kpa":689.476,"other_orifice_mm":1}`).(map[string]any)
	assert.InDelta(t, one["leak_pct"], one["other_leak_pct"], 1e-6, "the same tester reads the same")
	wide := run(t, "two-testers", `{"supply_kpa":689.476,"held_kpa":640,"orifice_mm":1,"other_supply_kpa":689.476,"other_orifice_mm":1.5}`).(map[string]any)
	assert.Less(t, wide["other_leak_pct"], one["leak_pct"], "a wider orifice feeds the leak better, and shows less")
}

func TestARotorIsBroughtToItsNominalSpeed(t *testing.T) {
	in := `{"pulses":25,"seconds":6,"held_peak_kpa":700,"face_pulses_kpa":[650,640,660],"ambient_kpa":101.325`
	slow := run(t, "rotor", `{"pulses":20,"seconds":6,"held_peak_kpa":700,"face_pulses_kpa":[650,640,660],"ambient_kpa":101.325}`).(map[string]any)
	assert.Equal(t, true, slow["estimated"])
	assert.Greater(t, slow["faces_at_250_kpa"].([]any)[0], 690.0, "a slow crank reads low")
	at := run(t, "rotor", in+`}`).(map[string]any)
	assert.InDelta(t, 690, at["faces_at_250_kpa"].([]any)[0], 1e-9, "at 250 rpm nothing is added")
	table := run(t, "rotor", in+`,"table":[{"rpm":200,"factor":1.2},{"rpm":300,"factor":1}]}`).(map[string]any)
	assert.InDelta(t, 690*1.1, table["faces_at_250_kpa"].([]any)[0], 1e-9, "half-way between the rows")
	assert.NotContains(t, table, "estimated")
}

func FuzzNoSumMakesNonsense(f *testing.F) {
	for i, s := range calc.All() {
		for _, v := range vectors(f) {
			if v.Calc == s.Name {
				f.Add(i, string(v.In))
			}
		}
	}
	f.Fuzz(func(t *testing.T, i int, in string) {
		all := calc.All()
		out, err := calc.Run(all[((i%len(all))+len(all))%len(all)].Name, []byte(in))
		if err != nil {
			return
		}
		_, err = json.Marshal(out)
		require.NoError(t, err, "JSON knows no NaN and no infinity: %s gave %v", in, out)
	})
}

func BenchmarkSums(b *testing.B) {
	done := map[string]bool{}
	for _, v := range vectors(b) {
		if done[v.Calc] {
			continue
		}
		done[v.Calc] = true
		b.Run(v.Calc, func(b *testing.B) {
			for b.Loop() {
				_, _ = calc.Run(v.Calc, v.In)
			}
		})
	}
}
