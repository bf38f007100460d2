package papers

import (
	"strings"

	"braxel/internal/core/compare"
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// ErrNoRepair is what Make answers where no test answers a repair.
var ErrNoRepair = say.Error("papers.no-test-after-repair")

// mended shows whoever pays what a repair came to: what was found, what was done, each cylinder before and after, and what comes next.
func (m *maker) mended() ([]byte, error) {
	if m.Test == "" {
		m.at = -1
		for i, s := range m.Verdict.Sessions {
			if s.Repaired != nil {
				m.at = i
			}
		}
	}
	if m.at < 0 || m.Verdict.Sessions[m.at].Repaired == nil {
		return nil, ErrNoRepair
	}
	m.take(m.at)
	r := m.judged.Repaired
	before := m.of(m.Log.At(r.From))
	p := m.paper()
	p.title(say.Text("papers.before-after"), m.Shop)
	m.name(p)
	p.paragraph(words, 10.5, m.about())
	p.y += 2
	p.paragraph(heavy, 14, r.Sentence)
	p.heading(say.Text("papers.what-was-found"))
	p.paragraph(words, 10.5, say.Sentences(m.day(before.test.Date)+": "+before.judged.Headline+".", plainly(before.judged)))
	p.heading(say.Text("papers.what-was-done"))
	p.paragraph(words, 10.5, m.done(r))
	half := p.w/2 - 4
	tall := planHeight(m.Log.Engine, half, 46)
	p.room(tall + 12)
	p.y += 5
	for i, one := range []*maker{before, m} {
		x := margin + float64(i)*(half+8)
		p.write(x, p.y, heavy, 10, []string{say.Text("papers.before"), say.Text("papers.after")}[i]+", "+m.day(one.test.Date))
		p.borePlan(m.Log.Engine, x, p.y+3, half, tall, one.shown, one.leakOf)
	}
	p.y += tall + 5
	p.heading(say.Text("papers.cylinder-cylinder"))
	m.besideTable(p, before)
	if c, err := compare.Tests(m.Log, m.Verdict, r.From, m.test.ID, m.Rules); err == nil {
		for _, n := range c.Notes {
			p.paragraph(words, 9, "– "+n)
		}
	}
	p.heading(say.Text("papers.what-next"))
	p.paragraph(words, 10.5, say.Sentences(m.judged.Decision, m.next()))
	p.y += 2
	p.paragraph(words, 8, Caution)
	return p.bytes()
}

// of returns a maker of the same paper for another test.
func (m *maker) of(at int) *maker {
	other := maker{Input: m.Input, unit: m.unit}
	other.take(at)
	return &other
}

// leakOf writes a cylinder's leak under its bore.
func (m *maker) leakOf(c int) string {
	if f := m.read[c]; f.LeakSE > 0 {
		return say.Rounded(f.Leak, 0) + " %"
	}
	return ""
}

// named names cylinders as one says them: cylinders 3 and 4.
func (m *maker) named(cylinders []int) string {
	var names []string
	for _, c := range cylinders {
		names = append(names, m.Log.Engine.Called(c))
	}
	return m.Log.Engine.Nouns(len(names)) + " " + say.And(names)
}

// done says what was repaired, when and where.
func (m *maker) done(r *judge.Repaired) string {
	work := rules.Repairs().Of(r.Work).Words
	if r.Work == rules.OtherWork || r.Work == "" {
		work = say.Text("papers.repair")
	}
	text := say.Capital(work)
	if r.Date != "" {
		text = m.day(r.Date) + ": " + text
	}
	if len(r.Cylinders) > 0 {
		text += ", " + m.named(r.Cylinders)
	}
	if r.What != "" && !strings.EqualFold(r.What, work) {
		text += ". " + say.Capital(r.What)
	}
	return text + "."
}

// besideTable writes what each cylinder read before and after.
func (m *maker) besideTable(p *page, before *maker) {
	var rows [][]string
	for _, c := range m.Log.Engine.Cylinders() {
		cell := func(show func(int) string) string {
			if s := show(c); s != "" {
				return s
			}
			return "–"
		}
		rows = append(rows, []string{m.Log.Engine.Called(c), cell(before.shown), cell(m.shown), cell(before.leakOf), cell(m.leakOf)})
	}
	unit := string(m.unit)
	p.table([]column{
		{say.Capital(m.Log.Engine.Nouns(1)), 24, false, heavy}, {say.Text("papers.before-in", "unit", unit), 30, true, figures},
		{say.Text("papers.after-in", "unit", unit), 30, true, figures}, {say.Text("papers.leak-before"), 30, true, figures},
		{say.Text("papers.leak-after"), 30, true, figures},
	}, rows, 5.6)
}

// next says when to test again; "" where nothing is due.
func (m *maker) next() string {
	due := m.judged.Due
	switch {
	case due == nil:
		return ""
	case due.ByMeter != nil && due.ByDate != "":
		return say.Text("papers.next-test-meter-or", "meter", m.meter(due.ByMeter), "date", m.day(due.ByDate))
	case due.ByMeter != nil:
		return say.Text("papers.next-test-meter", "meter", m.meter(due.ByMeter))
	}
	return say.Text("papers.next-test", "date", m.day(due.ByDate))
}

// plainly says the likeliest cause of what a test found as one explains it to whoever owns the engine.
func plainly(s judge.Session) string {
	if len(s.Faults) == 0 || len(s.Faults[0].Causes) == 0 {
		return ""
	}
	top := s.Faults[0].Causes[0]
	if top.Probability < rules.Probably {
		return ""
	}
	return rules.Plainly(top.Cause)
}

// take makes one test the one that the paper is of.
func (m *maker) take(at int) {
	m.at, m.test, m.judged = at, m.Log.Sessions[at], m.Verdict.Sessions[at]
	m.read = readOf(m.Log, m.test, m.Rules)
}

func readOf(l log.Log, s log.Session, shop rules.Shop) map[int]judge.Figure {
	all := map[int]judge.Figure{}
	for _, f := range judge.Figures(l, s, shop) {
		all[f.Cylinder] = f
	}
	return all
}
