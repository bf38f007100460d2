package rules

import (
	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// RingPack is a way in which pistons are ringed, and what it lets by when it is sound and hot.
type RingPack struct {
	ID      string
	Words   string
	LeakPct float64
	Why     string
}

// RingPacks are the ways of ringing. Source: trade.
var RingPacks = []RingPack{
	{"conventional", "conventional", SoundLeak, say.Text("rules.fresh-race-engines-show-2")},
	{"gapless", "gapless", 1.5, say.Text("rules.gapless-second-ring-lets-hardly")},
	{"gas-ported", "gas ported", 1.5, say.Text("rules.gas-behind-ring-presses-wall")},
	{"wide-gap", "wide gaps", 6, say.Text("rules.gaps-for-long-heat-endurance")},
}

// What a measured ring gap tells.
const (
	// RingGapUsual is the end gap of a conventional ring, as a share of the bore: 4 thousandths of an inch for each. [mm/mm; trade]
	RingGapUsual = 0.004
	// RingGapLeast is the least that a gap is taken to make of the usual leak's area: rings leak past their faces, too. [factor; judgement]
	RingGapLeast = 0.5
	// RingGapMost is the most. [factor; judgement]
	RingGapMost = 2.5
)

// SoundLeakOf returns what the rings of a sound, hot cylinder of an engine let by, percent on the reference tester, and by what factor the
// area of that leak is larger for a ring gap that was measured: 1 where none was, or where the pack itself says how much.
func SoundLeakOf(e log.Engine) (pct, gap float64) {
	pct, gap = SoundLeak, 1
	for _, r := range RingPacks {
		if r.ID == e.RingPack {
			pct = r.LeakPct
		}
	}
	if e.RingGapMM != nil && *e.RingGapMM > 0 && e.BoreMM > 0 && (e.RingPack == "" || e.RingPack == RingPacks[0].ID) {
		gap = min(max(*e.RingGapMM/(RingGapUsual*e.BoreMM), RingGapLeast), RingGapMost)
	}
	return pct, gap
}
