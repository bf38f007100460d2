package judge_test

import (
	"encoding/json"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// TestAMemorySaysWhatAReplaySays: whatever is added, changed, struck or taken away, in whatever order it is asked about.
func TestAMemorySaysWhatAReplaySays(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	var m judge.Memory
	said := func(v judge.Verdict) string {
		text, err := json.Marshal(v)
		require.NoError(t, err)
		return string(text)
	}
	for seed := range uint64(6) {
		whole := simulate(seed, untidy).log
		for range 25 {
			l := whole
			l.Sessions = slices.Clone(whole.Sessions[:1+r.IntN(len(whole.Sessions))])
			last := &l.Sessions[len(l.Sessions)-1]
			switch r.IntN(5) {
			case 0:
				last.Compression = last.Compression[:r.IntN(len(last.Compression)+1)]
				last.Open = true
			case 1:
				l.Sessions[r.IntN(len(l.Sessions))].Conditions.EngineTemp = "cold"
			case 3: // something is written down late, before tests that have been judged
				l.Events = []log.Event{{Date: l.Sessions[r.IntN(len(l.Sessions))].Date, What: "took in water"}}
			case 2:
				l.Testers = append(slices.Clone(l.Testers), log.Tester{ID: "elsewhere", Kind: log.CompressionTester})
			}
			require.Equal(t, said(judge.Log(l, rules.Shop{})), said(m.Log(l, rules.Shop{})))
		}
	}
}
