package judge

import (
	"math"
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// clause says a fact of a cylinder: as a clause of its own, or too, behind one that has named the cylinder already.
func clause(on *subject, f Fact, name string, too bool) string {
	id := "judge.fact-" + string(f.What)
	switch {
	case f.Against != "" && (f.What == Down || f.What == LeakUp):
		id += "-" + string(f.Against)
	case f.What == PullDoubted && f.Value <= 0:
		id += "-apart"
	}
	if too {
		id += "-too"
	}
	return say.Text(id,
		"name", name, "value", f.Value, "figure", f.Figure, "by", f.By, "reads", f.Reads, "place", place(on, f),
	)
}

// clauses says all that is known of one cylinder, named once. What is said already by how far it moved is left out.
func clauses(on *subject, facts []Fact, name string) string {
	out := ""
	for _, f := range tellable(facts) {
		out += clause(on, f, name, out != "")
	}
	return out
}

// tellable puts the facts of a cylinder in the order in which they are said: compression, what is fixed, then the leak.
func tellable(facts []Fact) []Fact {
	_, risen := named(facts, LeakUp)
	_, fallen := named(facts, Down)
	all := slices.DeleteFunc(slices.Clone(facts), func(f Fact) bool {
		return (f.What == LeaksMuch && risen) || (f.What == ApartTooFar && fallen)
	})
	order := []What{Down, PullOnce, PullDoubted, FellWithAll, BelowLeast, HardlyFires, ApartTooFar, FaceLow}
	place := func(f Fact) int {
		if i := slices.Index(order, f.What); i >= 0 {
			return i
		}
		return len(order)
	}
	slices.SortStableFunc(all, func(a, b Fact) int { return place(a) - place(b) })
	return all
}

// place says where air was heard, as it stands behind a leak: " at the exhaust"; "" where nobody knows.
func place(on *subject, f Fact) string {
	if f.Where == "" {
		return ""
	}
	where := f.Where
	switch {
	case f.Where == log.Neighbour && f.Into == 0:
		where = "some-neighbour"
	case f.Where == log.Crankcase && on.engine.Kind == log.TwoStroke: // it has no oil filler
		where = "case"
	}
	if f.Mostly {
		where += "-mostly"
	}
	return say.Text("judge.place-"+where, "into", on.called(f.Into))
}

// ofVisit says a fact of the whole visit, a sentence; beside one on a cylinder that is at fault by itself, too.
func ofVisit(on *subject, f Fact, beside, bank bool) string {
	who := on.names(f.Cylinders)
	if f.What == TakenOff {
		who = on.those(f.Cylinders)
	}
	id := "judge.visit-" + string(f.What)
	switch {
	case f.What == LeaksWithAll && beside:
		id += "-beside"
	case f.What == AllMoved && f.Value < 0 && beside:
		id += "-beside"
	case f.What == AllMoved && f.Value < 0 && bank:
		id += "-bank"
	case (f.What == AllMoved || f.What == Stepped) && f.Value > 0:
		id += "-up"
	}
	return say.Text(id,
		"n", len(f.Cylinders), "who", who, "value", math.Abs(f.Value), "figure", f.Figure, "by", f.By,
		"noun", on.engine.Nouns(1),
	)
}

// those says "Cylinder 3", or "Cylinders 5 and 7".
func (on *subject) those(all []int) string {
	return say.Capital(on.engine.Nouns(len(all))) + " " + on.names(all)
}

// pct writes a limit in percent.
func pct(v float64) string { return say.Digits(v, 3) + " %" }
