package reading

import (
	"gonum.org/v1/gonum/floats"
	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Evenness describes a set of readings. Both percentages are counted from the highest.
type Evenness struct {
	Highest            float64 `json:"highest"`
	Lowest             float64 `json:"lowest"`
	Mean               float64 `json:"mean"`
	Spread             float64 `json:"spread"`
	SpreadPctOfHighest float64 `json:"spread_pct_of_highest"`
	LowestPctOfHighest float64 `json:"lowest_pct_of_highest"`
}

// Even returns the evenness of readings, in the unit they are in: spread = highest − lowest. Percentages are 0 where
// the highest reading is.
func Even(readings []float64) Evenness {
	if len(readings) == 0 {
		return Evenness{}
	}
	e := Evenness{Highest: floats.Max(readings), Lowest: floats.Min(readings), Mean: stat.Mean(readings, nil)}
	e.Spread = e.Highest - e.Lowest
	if e.Highest > 0 {
		e.SpreadPctOfHighest = 100 * e.Spread / e.Highest
		e.LowestPctOfHighest = 100 * e.Lowest / e.Highest
	}
	return e
}

// Judgement is what one school says of a set of readings.
type Judgement struct {
	School string `json:"school"`
	Words  string `json:"words" doc:"The rule, with what its percentage is of"`
	Passes bool   `json:"passes"`
	Says   string `json:"says" doc:"The figure and the limit"`
	Own    bool   `json:"own,omitzero" doc:"This engine is held to it: by its protocol, the maker or the builder"`
}

// BySchools returns what every school that can apply to an engine says of its readings (gauge kPa), figures shown in the unit u, and
// the maker's or builder's own minimum and spread where they are known; own is the school that the engine is tested by. Of one reading
// nobody can say how even it is.
func BySchools(engine log.Engine, readings []float64, own string, u units.Unit) []Judgement {
	e, limits := Even(readings), engine.Limits
	several := len(readings) > 1
	var all []Judgement
	for _, s := range rules.Schools {
		if several && (s.ID == own || s.For == nil || s.For(engine)) {
			j := spreadBy(s, e, u)
			j.Own = s.ID == own
			all = append(all, j)
		}
	}
	if limits == nil || len(readings) == 0 {
		return all
	}
	return append(all, byOwnLimits(*limits, e, several, u)...)
}

// byOwnLimits returns what the maker's or the builder's own figures say of readings.
func byOwnLimits(limits log.Limits, e Evenness, several bool, u units.Unit) []Judgement {
	var all []Judgement
	source := limits.By()
	if several && limits.SpreadMaximumPct > 0 {
		all = append(
			all,
			spreadBy(
				rules.School{
					ID: "own-pct",
					Words: say.Text("reading.lowest-within-highest",
						"spreadMaximumPct", limits.SpreadMaximumPct,
						"source", source,
					),
					Pct: limits.SpreadMaximumPct,
				},
				e,
				u,
			),
		)
	}
	if several && limits.SpreadMaximum != nil {
		all = append(
			all,
			spreadBy(
				rules.School{
					ID:    "own-spread",
					Words: say.Text("reading.no-more-than-apart", "spreadMaximum", limits.SpreadMaximum, "source", source),
					Fixed: limits.SpreadMaximum.Pressure(),
				},
				e,
				u,
			),
		)
	}
	if limits.Minimum != nil {
		at := limits.Minimum.Pressure()
		all = append(
			all,
			Judgement{
				School: "own-minimum",
				Words:  say.Text("reading.none-below", "minimum", limits.Minimum, "source", source),
				Passes: e.Lowest >= float64(at),
				Says:   say.Text("reading.lowest", "show", units.Pressure(e.Lowest).Written(u)),
			},
		)
	}
	for i := range all {
		all[i].Own = true
	}
	return all
}

// LeaksBySchools returns what every school that can apply to an engine says of its leaks (percent of the supply), and the maker's or
// builder's own limit where it is known; way is the protocol that it is tested by, with its own two limits. Nothing where no cylinder was leaked
// down.
func LeaksBySchools(engine log.Engine, leaks []float64, way rules.Protocol) []Judgement {
	if len(leaks) == 0 {
		return nil
	}
	worst := floats.Max(leaks)
	says := say.Text("reading.worst", "worst", worst)
	var all []Judgement
	for _, s := range rules.LeakSchools {
		if s.For(engine) && s.Most != way.LeakWatch { // else its own row says it
			all = append(all, Judgement{School: s.ID, Words: s.Words, Passes: within(worst, s.Most), Says: says})
		}
	}
	if way.LeakWatch > 0 {
		j := Judgement{
			School: "protocol-leak", Words: say.Text("reading.leak-as-engine-tested", "leakWatch", way.LeakWatch),
			Passes: within(worst, way.LeakWatch), Says: says, Own: true,
		}
		if way.LeakAct > 0 {
			j.Words = say.Text("reading.leak-act-above-as-engine", "leakWatch", way.LeakWatch, "leakAct", way.LeakAct)
			if !within(worst, way.LeakAct) {
				j.Says += say.Text("reading.act")
			}
		}
		all = append(all, j)
	}
	if limits := engine.Limits; limits != nil && limits.LeakMaximumPct > 0 {
		words := say.Text("reading.leak", "leakMaximumPct", limits.LeakMaximumPct, "by", limits.By())
		all = append(all, Judgement{School: "own-leak", Words: words, Passes: within(worst, limits.LeakMaximumPct), Says: says, Own: true})
	}
	return all
}

// within reports whether a figure is within a limit, rounding aside.
func within(v, most float64) bool { return v <= most+1e-9 }

func spreadBy(s rules.School, e Evenness, u units.Unit) Judgement {
	if s.Pct > 0 {
		return Judgement{School: s.ID, Words: s.Words, Passes: e.SpreadPctOfHighest <= s.Pct, Says: say.Text("reading.below",
			"spreadPctOfHighest", e.SpreadPctOfHighest,
		)}
	}
	return Judgement{School: s.ID, Words: s.Words, Passes: e.Spread <= float64(s.Fixed)+1e-9, Says: say.Text("reading.apart",
		"show", units.Pressure(e.Spread).Written(u),
	)}
}
