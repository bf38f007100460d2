package compare

import (
	"bytes"
	"encoding/json"
	"os"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/twice"
)

// truth is what was wrong with a simulated engine, test by test, by a model that is not the product's.
type truth struct {
	Cause    string `json:"cause"`
	Sessions []struct {
		Fault map[string]struct {
			Leak float64 `json:"leak_added"`
			Lost float64 `json:"compression_lost_pct"`
		} `json:"fault"`
	} `json:"sessions"`
}

func lines[T any](t *testing.T, file string) []T {
	t.Helper()
	text, err := os.ReadFile(file)
	require.NoError(t, err)
	var all []T
	for d := json.NewDecoder(bytes.NewReader(text)); d.More(); {
		var one T
		require.NoError(t, d.Decode(&one))
		all = append(all, one)
	}
	return all
}

// On simulated lives, each test laid beside the next, and the last beside the baseline: hardly a change is told that is none, though dirt on a seat was not always
// repeated; nearly every large one of single cylinders is told; none the wrong way round; and the bars hold the truth.
func TestComparisonsKeepTheirWordOnSimulatedLives(t *testing.T) {
	logs, truths := lines[log.Log](t, "../judge/testdata/lives.jsonl"), lines[truth](t, "../judge/testdata/truth.jsonl")
	var pairs, falsePairs, large, told, wrong, bars, held float64
	for i, l := range logs {
		verdict := judge.Log(l, rules.Shop{})
		for k := range l.Sessions {
			from, to := k-1, k
			if k == 0 { // the last beside the end of the baseline
				from, to = 1, len(l.Sessions)-1
			}
			r, err := Tests(l, verdict, l.Sessions[from].ID, l.Sessions[to].ID, rules.Shop{})
			require.NoError(t, err)
			before, after := truths[i].Sessions[from].Fault, truths[i].Sessions[to].Fault
			together := len(after) == len(l.Engine.Cylinders()) || truths[i].Cause == "gauge_drift"
			pairs++
			claimed := false
			for _, c := range r.Cylinders {
				a, b := before[strconv.Itoa(c.Cylinder)], after[strconv.Itoa(c.Cylinder)]
				sure := c.Move == twice.Better || c.Move == twice.Worse
				claimed = claimed || (sure && a == b && !together)
				if !together && ((b.Lost-a.Lost >= 7 && c.Compression != nil) || (b.Leak-a.Leak >= 8 && c.Leak != nil)) {
					large++
					switch c.Move {
					case twice.Worse:
						told++
					case twice.Better:
						wrong++
					}
				}
				if m := c.Compression; m != nil && !together {
					bars++
					if by := 100 * ((1-b.Lost/100)/(1-a.Lost/100) - 1); m.Low <= by && by <= m.High {
						held++
					}
				}
			}
			if claimed {
				falsePairs++
			}
		}
	}
	t.Logf("%.0f pairs, %.2f %% with a false claim; %.0f of %.0f large changes told, %.0f the wrong way; bars hold %.1f %%",
		pairs, 100*falsePairs/pairs, told, large, wrong, 100*held/bars)
	assert.LessOrEqual(t, falsePairs/pairs, 0.02)
	assert.GreaterOrEqual(t, told/large, 0.9)
	assert.Zero(t, wrong)
	assert.Greater(t, held/bars, 0.94)
}
