package reading_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/units"
)

func beaten(beats ...int) log.Session {
	var s log.Session
	for i, n := range beats {
		p := log.Pull{Reading: units.Reading{Value: 180, Unit: units.PSI}, Beats: n}
		s.Compression = append(s.Compression, log.Compression{Place: log.Place{Cylinder: i + 1}, Mode: log.Dry, Pulls: []log.Pull{p}})
	}
	return s
}

func words(s log.Session) (all []string) {
	for _, r := range reading.Rises(s) {
		if w := r.Words(); w != "" {
			all = append(all, w)
		}
	}
	return all
}

func TestARiseThatStandsOutIsSaid(t *testing.T) {
	assert.Empty(t, words(beaten(4, 5, 4, 4)))
	assert.Empty(t, words(beaten(4, 5, 5, 6)), "a beat or two is a matter of who counts")
	assert.Equal(t, []string{"3 took 8 compressions to stop rising, the others 4. A slow riser may leak; a leak-down tells."}, words(beaten(4, 5, 8, 4)))
	assert.Equal(t, []string{"2 was up in 1, the others took 5 compressions. Is it shared with a neighbour? Listen at the next hole."}, words(beaten(5, 1, 6, 5)))
	assert.Empty(t, words(beaten(4, 9)), "two have nothing to be held against")
	counted := beaten(4, 5, 8, 4)
	counted.Conditions.Cranking.Rule = "count"
	assert.Empty(t, words(counted), "every cylinder had as many")
	struck := beaten(4, 5, 8, 4)
	struck.Compression[2].Pulls[0].Struck = "miscounted"
	assert.Empty(t, words(struck))
}

// More beats are never less slow.
func TestMoreBeatsAreNeverLessSlow(t *testing.T) {
	for usual := 2; usual < 9; usual++ {
		slow := false
		for n := 1; n < 30; n++ {
			now := false
			for _, r := range reading.Rises(beaten(usual, usual, usual, n)) {
				now = now || r.Cylinder == 4 && r.Slow()
			}
			assert.False(t, slow && !now, "%d beside %d", n, usual)
			slow = now
		}
		assert.True(t, slow)
	}
}
