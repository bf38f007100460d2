package reading

import (
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"

	"gonum.org/v1/gonum/stat"
)

// Cranked returns the speed at which an engine is cranked, rpm: the middle one of the readings that noted one. Own is false where none
// did, and it is what an engine usually does.
func Cranked(l log.Log) (rpm float64, own bool) {
	var all []float64
	for _, s := range l.Sessions {
		for _, row := range s.Compression {
			for _, p := range row.Pulls {
				if p.RPM > 0 && p.Struck == "" {
					all = append(all, p.RPM)
				}
			}
		}
	}
	if len(all) == 0 {
		return rules.CrankRPM, false
	}
	slices.Sort(all)
	return stat.Quantile(0.5, stat.Empirical, all, nil), true
}
