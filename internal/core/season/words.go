package season

import (
	"math"

	"braxel/internal/core/ahead"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/wear"
)

// Odds says a chance as people do: nine in ten, nineteen in twenty, one in a hundred.
func Odds(p float64) string {
	const tenths, twentieths, hundredths = 10, 20, 100
	of := func(n float64, all int) string { return say.Text("season.odds", "k", int(n), "all", all) }
	switch {
	case p >= 0.995:
		return say.Text("season.almost-surely")
	case p >= 0.975:
		return of(math.Round(p*hundredths), hundredths)
	case p >= 0.925:
		return of(19, twentieths)
	case p < 0.005:
		return say.Text("season.hardly-ever")
	case p < 0.025:
		return of(math.Round(p*hundredths), hundredths)
	case p < 0.075:
		return of(1, twentieths)
	}
	return of(math.Round(p*tenths), tenths)
}

// fine says a chance in hundredths, where two that are close are held beside each other.
func fine(p float64) string {
	const hundredths = 100
	if k := math.Round(p * hundredths); k > 0 && k < hundredths {
		return say.Text("season.odds", "k", int(k), "all", hundredths)
	}
	return Odds(p)
}

// amount writes running in a meter's unit, as finely as anybody knows it.
func amount(x float64, unit string) string {
	round := 1.0
	switch {
	case x >= 1000:
		round = 100
	case x >= 100:
		round = 10
	case x < 10 && unit == "h":
		round = 0.1
	}
	const tenths = 10
	down := math.Floor(x/round+1e-9) * round
	return say.Text("season.amount", "x", units.Figure(math.Round(tenths*down)/tenths), "unit", unit)
}

// goodFor says how much an engine is good for; "" where it is good for nothing.
func goodFor(much float64, unit string) string {
	switch {
	case much >= wear.Most:
		return say.Text("season.good-for-long")
	case much > 0:
		return say.Text("season.good-for", "much", amount(much, unit))
	}
	return ""
}

// asks says what a season asks for as it is planned: engines for the cars that have none, and less risk where there is too much.
func (s *Shop) asks(p Price) string {
	words := ""
	if p.Unmet > 0 {
		words = say.Text("season.asks-less-risk", "n", p.Unmet, "odds", Odds(s.terms.Chance))
	}
	if p.Empty > 0 {
		words = say.Sentences(words, say.Text("season.asks-engines", "n", p.Empty))
	}
	return words
}

// worthSaying is the least chance that is spoken of.
const worthSaying = 0.005

// cellWords says a chance.
func (s *Shop) cellWords(e Engine, m ahead.Meeting, c Cell) string {
	if e.Repair != "" && c.Chance == 0 {
		return say.Text("season.mend-first", "repair", e.Repair)
	}
	return say.Text("season.cell", "engine", e.Name, "name", m.Name, "odds", Odds(c.Chance), "much", amount(c.Running, e.Life.Unit))
}

// blindWords says that nobody knows a chance, since the running at an event isn't known.
func (s *Shop) blindWords(e Engine, event int) string {
	return say.Text("season.running-unknown", "engine", e.Name, "name", s.meets[event-1].Name)
}

// cellMore says what the risk is made of.
func (s *Shop) cellMore(e Engine, c Cell, sudden float64) string {
	words := ""
	if share := sudden / max(1-c.Chance, sudden); sudden > worthSaying {
		words = say.Text("season.cell-sudden", "share", 100*share)
	}
	if !e.Life.Known {
		words = say.Sentences(words, say.Text("season.by-the-general-rate"))
	}
	return words
}

// Line is what an engine's page says of its season: how much it is good for, and what the next event takes.
func (b Board) Line(engine string) string {
	for _, r := range b.Engines {
		if r.Engine != engine || r.Unit == "" || r.Repair != "" {
			continue
		}
		if !r.Known {
			return ""
		}
		good := goodFor(r.GoodFor, r.Unit)
		if good == "" {
			return r.Sentence
		}
		for k, c := range r.Cells {
			if c.Car != "" && !b.Meetings[k].Past && c.Running > 0 {
				return say.Sentences(good, say.Text("season.next-takes", "name", b.Meetings[k].Name, "much", amount(c.Running, r.Unit)))
			}
		}
		return good
	}
	return ""
}
