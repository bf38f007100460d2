package sheet

import "braxel/internal/core/log"

// Preview says what a figure that is being typed comes to, for the sheet to show before it is kept.
type Preview struct {
	LeakPct      float64  `json:"leak_pct"`
	HeldValue    float64  `json:"held"`
	HoleMM       *float64 `json:"hole_mm,omitempty"`
	ReferencePct *float64 `json:"reference_leak_pct,omitempty"`
}

// PreviewOf reckons an attempt that is not kept yet.
func PreviewOf(l log.Log, session string, row log.Leakdown) (Preview, error) {
	at, err := find(l, session)
	if err != nil {
		return Preview{}, err
	}
	if err := row.Check("").Err(); err != nil {
		return Preview{}, err
	}
	a := Reckon(l, l.Sessions[at], row)
	return Preview{a.LeakPct, row.Held, a.HoleMM, a.ReferencePct}, nil
}
