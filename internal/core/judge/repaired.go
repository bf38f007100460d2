package judge

import (
	"math"
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/twice"
	"braxel/internal/core/units"
)

// repaired answers whether what was put right since the test before worked; nil where nothing was, or nothing of it was read at both.
func repaired(on *subject, last earlier, m mending, s log.Session, out Session, now map[int]figure) *Repaired {
	if !m.is || !last.tested {
		return nil
	}
	r := Repaired{Work: m.work().Work, The: m.work().The, From: last.session.ID, Cylinders: askedOf(on, last, m)}
	if m.by != nil {
		r.What, r.Date = m.by.What, m.by.Date
	}
	prior, share, shareSD := Prior(UnlikeWays(on.log, last.session, s))
	for _, c := range r.Cylinders {
		a, b := last.figures[c].laid().Read(), now[c].laid().Read()
		each := Mended{Cylinder: c, Move: twice.Untold}
		var gain, leak *twice.Moved
		if a.SE > 0 && b.SE > 0 {
			common, se := prior.Common(shiftsOf(on, last, now, c))
			g := twice.Gain(a, b, common, se, 1)
			gain = &g
			each.Was, each.Now = of(float64(last.figures[c].gauge)), of(float64(now[c].gauge))
		}
		if a.LeakSE > 0 && b.LeakSE > 0 {
			l := twice.Leak(a, b, share, shareSD, 1)
			leak = &l
			each.LeakWas, each.LeakNow = of(last.figures[c].shown), of(now[c].shown)
		}
		if gain == nil && leak == nil {
			continue
		}
		each.Move, _ = twice.Join(gain, leak)
		each.Rose = (gain == nil || gain.By > 0) && (leak == nil || leak.By < 0)
		r.Each = append(r.Each, each)
	}
	if len(r.Each) == 0 {
		return nil
	}
	r.Worked = worked(r.Each, out)
	wasBad := slices.ContainsFunc(r.Cylinders, func(c int) bool { return slices.Contains(last.bad, c) })
	if !wasBad && r.Worked != Surely { // there was nothing to put right
		return nil
	}
	return &r
}

// askedOf returns the cylinders that a repair was for: those in concern before it that it touched, else those that it names.
func askedOf(on *subject, last earlier, m mending) []int {
	asked := slices.DeleteFunc(slices.Clone(last.bad), func(c int) bool { return !m.of(c) })
	if len(asked) > 0 || m.all {
		return asked
	}
	return slices.DeleteFunc(slices.Clone(on.order), func(c int) bool { return !slices.Contains(m.touched, c) })
}

// shiftsOf returns how far each cylinder but one moved between two tests.
func shiftsOf(on *subject, last earlier, now map[int]figure, but int) []twice.Shift {
	var all []twice.Shift
	for _, c := range on.order {
		a, b := last.figures[c], now[c]
		if c != but && a.se > 0 && b.se > 0 {
			all = append(all, twice.Shift{By: b.log - a.log, SE: math.Hypot(a.se, b.se)})
		}
	}
	return all
}

// worked says what it comes to for all cylinders that were asked about.
func worked(all []Mended, out Session) Worked {
	better, bad, rose, doubted := 0, 0, 0, 0
	for _, e := range all {
		state := out.Of(e.Cylinder).State
		switch {
		case state == Retest:
			doubted++
		case state.Severity() >= Watch.Severity():
			bad++
		}
		if e.Move == twice.Better {
			better++
		}
		if e.Rose {
			rose++
		}
	}
	switch {
	case doubted > 0:
		return Unclear
	case bad > 0 && better > 0:
		return Partly
	case bad > 0:
		return NotAtAll
	case better == len(all):
		return Surely
	case rose == len(all):
		return Probably
	}
	return Unclear
}

// cameTo says how far each cylinder went, and whether the repair worked.
func (r Repaired) cameTo(on *subject, s log.Session) string {
	the, who := say.Capital(r.The), on.those(r.Cylinders)
	answer := say.Text("judge.repaired-"+string(r.Worked), "the", the, "it", r.The, "who", who, "n", len(r.Cylinders))
	if r.Worked == NotAtAll {
		return answer
	}
	var each []string
	for _, e := range r.Each {
		each = append(each, e.words(on.those([]int{e.Cylinder}), on.shop.Shown.PressureOr(unitOf(s))))
	}
	const few = 2
	if len(each) > few {
		return say.Sentences(say.Text("judge.repaired-all", "who", who), answer)
	}
	return say.Sentences(append(each, answer)...)
}

// words says where one cylinder came from and where it stands, as the gauges showed it.
func (e Mended) words(who string, u units.Unit) string {
	clause := func(id, from, to string, was, now float64) string {
		switch {
		case from == to:
			id += "-same"
		case now > was:
			id += "-up"
		default:
			id += "-down"
		}
		return say.Text("judge.repaired-"+id, "who", who, "from", from, "to", to, "unit", string(u))
	}
	leak := func(id string) string {
		if e.LeakWas == nil {
			return ""
		}
		return clause(id, say.Rounded(*e.LeakWas, 0), say.Rounded(*e.LeakNow, 0), *e.LeakWas, *e.LeakNow)
	}
	if e.Was == nil {
		return leak("leak-alone") + "."
	}
	at := func(kpa float64) string { return units.Pressure(kpa).Digits(u) }
	return clause("reads", at(*e.Was), at(*e.Now), *e.Was, *e.Now) + leak("leak") + "."
}

// unitOf returns the unit in which a session's compression was typed; psi where none was.
func unitOf(s log.Session) units.Unit {
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			return p.Unit
		}
	}
	return units.PSI
}
