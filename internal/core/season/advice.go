package season

import (
	"braxel/internal/core/ahead"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// rowWords says how far an engine goes: how much it is good for, whether it sees the events out that are planned for it, and what
// would help.
func (s *Shop) rowWords(i int, r EngineRow, p indexed, all []passage, today state) string {
	e := s.Engines[i]
	if today.mend {
		return say.Text("season.mend-first", "repair", e.Repair)
	}
	if e.Tested != "" && e.Life.Unit == "" {
		return say.Text("season.no-meter", "engine", e.Name)
	}
	var lines []string
	if today.fresh && e.Built <= e.Tested {
		lines = append(lines, say.Text("season.needs-a-baseline"))
	}
	if e.Unsettled != "" {
		lines = append(lines, say.Text("season.asks-for-more", "what", e.Unsettled))
	}
	switch {
	case e.Happened != "":
		lines = append(lines, say.Text("season.test-first", "happened", e.Happened))
	case today.blind > 0:
		lines = append(lines, s.blindWords(e, today.blind))
	case e.Tested == "":
		lines = append(lines, say.Text("season.never-tested"))
	case !e.Life.Known && !today.fresh:
		lines = append(lines, say.Text("season.one-test-tells-nothing"))
	case e.Limit > 0 && e.ranSince(today) >= e.Limit:
		lines = append(lines, s.limitWords(e, today))
	case r.GoodFor == 0:
		lines = append(lines, say.Text("season.not-good", "odds", Odds(e.inside(today))))
	default:
		lines = append(lines, goodFor(r.GoodFor, e.Life.Unit))
	}
	return say.Sentences(append(lines, s.seesOut(i, p, all)...)...)
}

// seesOut says which of its events an engine sees out: the last that is within the owner's chance, the first that isn't, and what
// would help.
func (s *Shop) seesOut(i int, p indexed, all []passage) []string {
	last, first := -1, -1
	for k, one := range all {
		if !one.runs || s.past(s.meets[k]) || one.blind > 0 || first >= 0 {
			continue
		}
		if s.levelAt(one) == "fine" {
			last = k
		} else {
			first = k
		}
	}
	if last < 0 && first < 0 {
		return nil
	}
	var lines []string
	if last >= 0 {
		lines = append(lines, say.Text("season.sees-out", "last", s.meets[last].Name, "odds", Odds(all[last].chance)))
	}
	switch {
	case first < 0:
		return append(lines, s.ifItPasses(i, last, p, all), s.tells(i, p, all))
	case all[first].beyond:
		e := s.Engines[i]
		limit := amount(e.Limit, e.Life.Unit)
		lines = append(lines, say.Text("season.first-beyond-limit", "name", s.meets[first].Name, "limit", limit, "by", e.LimitBy))
	default:
		lines = append(lines, say.Text("season.first-is-too-much", "first", s.meets[first].Name, "odds", Odds(all[first].chance)))
	}
	return append(lines, s.tells(i, p, all), s.freshened(i, first, p))
}

// limitWords says that an engine has run as long as its builder or maker wants.
func (s *Shop) limitWords(e Engine, now state) string {
	unit := e.Life.Unit
	return say.Text("season.runs-beyond", "by", say.Capital(e.LimitBy), "limit", amount(e.Limit, unit), "ran", amount(e.ranSince(now), unit))
}

// freshened says how an engine sees its season out if it is freshened before an event; "" where that doesn't help.
func (s *Shop) freshened(i, k int, p indexed) string {
	all, _ := s.follow(i, p, map[int][]ahead.Work{k: {ahead.Freshen}})
	last := s.seenOut(i, k, p, all, ahead.Freshen)
	if last < 0 {
		return ""
	}
	odds := Odds(all[last].chance)
	return say.Text("season.freshened-sees", "first", s.meets[k].Name, "last", s.meets[last].Name, "odds", odds)
}

// tells says before which event a test that isn't planned pays and keeps the owner's chance, and what it changes; "" where none
// does. What it would tell of the rate of wear isn't counted: only that it finds an engine which is past its limits before that one
// runs.
func (s *Shop) tells(i int, p indexed, all []passage) string {
	best, most := -1, 0.0
	var with []passage
	free := never
	for k, m := range s.meets {
		if !all[k].runs {
			continue
		}
		if s.worthAsking(i, all[k]) && !s.past(m) && len(p.jobs[at{i, k}]) == 0 && s.room(free, k, ahead.Test) {
			tested, _ := s.follow(i, p, map[int][]ahead.Work{k: {ahead.Test}})
			if saved := s.saved(i, k, all, tested); saved > most && s.levelAt(tested[k]) == "fine" {
				best, most, with = k, saved, tested
			}
		}
		free = s.ends[k]
	}
	if best < 0 {
		return ""
	}
	last := s.seenOut(i, best, p, with, ahead.Test)
	return say.Text("season.test-pays", "name", s.meets[best].Name, "last", s.meets[last].Name,
		"with", fine(with[last].chance), "without", fine(all[last].chance), "hours", s.terms.Test)
}

// seenOut returns the last event from k on, before the next work that is as much at least, up to which the owner's chance is kept;
// -1 where it isn't at k.
func (s *Shop) seenOut(i, k int, p indexed, all []passage, least ahead.Work) int {
	last, until := -1, s.until(i, k, p, all, least)
	for n := k; n <= until; n++ {
		if all[n].runs && s.levelAt(all[n]) != "fine" {
			break
		}
		if all[n].runs {
			last = n
		}
	}
	return last
}

// worthAsking reports whether a test before an event is worth speaking of: the start is beyond the owner's chance, or one test
// alone is all that is known of the engine.
func (s *Shop) worthAsking(i int, one passage) bool {
	return one.runs && one.blind == 0 && (!s.Engines[i].Life.Known || s.levelAt(one) != "fine")
}

// saved returns what a test before an event saves over the season, hours of work.
func (s *Shop) saved(i, k int, without, with []passage) float64 {
	saved := -s.hoursOf(ahead.Test) - s.failing(s.Engines[i], without[k].before)
	for n := k; n < len(with); n++ {
		if with[n].runs && !s.past(s.meets[n]) {
			was, _ := s.riskCost(without[n].chance, without[n].beyond)
			is, _ := s.riskCost(with[n].chance, with[n].beyond)
			saved += was - is
		}
	}
	return saved
}

// ifItPasses says that a chance is of an engine which passes the test that is planned before; "" where that hardly matters.
func (s *Shop) ifItPasses(i, k int, p indexed, all []passage) string {
	fails := rules.TestCatches * (1 - all[k].before.found)
	if fails < worthSaying {
		return ""
	}
	for n := k; n >= 0; n-- {
		for _, j := range p.jobs[at{i, n}] {
			if j.Work == ahead.Test && s.counts(s.Engines[i], s.meets[n], j) {
				return say.Text("season.if-it-passes", "name", s.meets[n].Name, "odds", fine(fails))
			}
		}
	}
	return ""
}
