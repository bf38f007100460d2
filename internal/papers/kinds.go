package papers

import (
	"math"
	"strings"

	"braxel/internal/core/compare"
	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/prepare"
	"braxel/internal/core/reading"
	"braxel/internal/core/say"
	"braxel/internal/core/strips"
	"braxel/internal/core/units"
	"braxel/internal/core/wheel"
)

// wall is a blank sheet for the garage wall: boxes in the engine's layout and firing order, turns, marks, cautions.
func (m *maker) wall() ([]byte, error) {
	p := m.paper()
	p.title(m.Log.Engine.Name, m.Shop)
	p.paragraph(words, 10.5, m.about())
	p.y += 2
	x := margin
	for _, label := range []string{
		say.Text("papers.date"),
		say.Text("papers.meter"),
		say.Text("papers.gauge"),
		say.Text("papers.engine-hot-cold"),
		say.Text("papers.battery"),
		say.Text("papers.by"),
	} {
		w := p.w / 6
		p.SetLineWidth(0.25)
		p.Rect(x, p.y, w, 11, "D")
		p.write(x+1.2, p.y+3.2, words, 7.5, label)
		x += w
	}
	p.y += 13
	wide, tall := p.w, 44.0
	w, err := wheel.Of(m.Log.Engine, m.Rules.Shown)
	turns := err == nil
	if turns {
		wide = p.w - 52
		p.crankWheel(w, margin+p.w-50, p.y-2, 50)
	}
	nothing := func(int) string { return "" }
	p.borePlan(m.Log.Engine, margin, p.y, wide, tall, nothing, nothing)
	p.y += tall + 4
	m.boxes(p, w, turns)
	p.heading(say.Text("papers.before-you-crank"))
	for _, t := range prepare.Before(m.Log.Engine, "car", "hot") {
		mark := ""
		if t.Safe {
			mark = "! "
		}
		p.room(5)
		p.y += 4.3
		p.SetLineWidth(0.25)
		p.Rect(margin, p.y-2.7, 2.8, 2.8, "D")
		p.write(margin+4.5, p.y, words, p.fit(words, 9, p.w-5, mark+t.Words), mark+t.Words)
	}
	p.y += 2
	if m.Log.Engine.Kind != log.Rotary { // it has no leak-down
		p.paragraph(words, 8.5, say.Text("papers.air-raise-slowly-never-above"))
	}
	p.paragraph(words, 7.5, Caution)
	return p.bytes()
}

// boxes draws a row to write in for each cylinder, in firing order where it is known.
func (m *maker) boxes(p *page, w wheel.Wheel, turns bool) {
	e := m.Log.Engine
	order := e.Cylinders()
	turn := map[int]string{}
	if turns {
		order = nil
		for i, s := range w.Steps {
			order = append(order, s.Cylinder)
			turn[s.Cylinder] = say.Text("papers.start-at-tdc")
			if i > 0 {
				turn[s.Cylinder] = say.Text("papers.turn", "figure", say.Number(math.Round(s.Turn)))
			}
		}
	}
	heads := []string{
		e.Noun(),
		say.Text("papers.get-there"),
		say.Text("papers.dry"),
		say.Text("papers.again"),
		say.Text("papers.again"),
		say.Text("papers.wet"),
		say.Text("papers.supply"),
		say.Text("papers.held"),
		say.Text("papers.leak"),
		say.Text("papers.air-heard-at"),
	}
	share := []float64{17, 23, 15, 15, 15, 15, 15, 15, 15, 37}
	if e.Kind == log.Rotary {
		heads = []string{
			say.Text("papers.rotor"),
			"",
			say.Text("papers.face-1"),
			say.Text("papers.face-2"),
			say.Text("papers.face-3"),
			"",
			say.Text("papers.rpm"),
			"",
			"",
			say.Text("papers.remarks"),
		}
	}
	total := 0.0
	for _, s := range share {
		total += s
	}
	const below = 92 // what the lists under it need
	height := math.Min(17, math.Max(6.2, (p.h-p.y-below)/float64(len(order))))
	p.room(height + 6)
	x := margin
	for i, h := range heads {
		p.write(x+1, p.y+3, words, 7.5, h)
		x += share[i] / total * p.w
	}
	p.y += 4
	for _, c := range order {
		p.room(height)
		x := margin
		for i, s := range share {
			width := s / total * p.w
			p.SetLineWidth(0.25)
			p.Rect(x, p.y, width, height, "D")
			switch i {
			case 0:
				p.write(x+1.5, p.y+height*0.7, heavy, p.fit(heavy, 13, width-2, e.Called(c)), e.Called(c))
			case 1:
				p.write(x+1.5, p.y+height*0.68, words, 8.5, turn[c])
			}
			x += width
		}
		p.y += height
	}
}

// readings is the table of what a test read.
func (m *maker) readings(p *page) {
	rows := [][]string{}
	for _, c := range m.Log.Engine.Cylinders() {
		leak, heard := m.leaks(c)
		rows = append(rows, []string{m.Log.Engine.Called(c), m.pulls(c, log.Dry), m.shown(c), m.pulls(c, log.Wet), leak, heard})
	}
	p.table([]column{
		{m.Log.Engine.Noun(), 16, false, heavy},
		{say.Text("papers.dry-readings", "unit", string(m.unit)), 40, false, figures},
		{say.Text("papers.counts"), 14, true, figures},
		{say.Text("papers.wet-readings"), 22, false, figures},
		{say.Text("papers.leak-down-held-supply"), 50, false, figures},
		{say.Text("papers.air-heard-at"), 34, false, words},
	}, rows, 6.2)
}

func (m *maker) verdict(p *page) {
	p.y += 6.5
	if m.judged.Mark != "" {
		p.punches(margin, p.y, m.judged.Mark, 13)
		p.y += 0.8
	}
	p.paragraph(heavy, 12.5, m.judged.Headline)
	p.paragraph(words, 11, m.judged.Sentence)
	if m.judged.Decision != "" {
		p.paragraph(heavy, 11, m.judged.Decision)
	}
}

// filled is a test as it was written down.
func (m *maker) filled() ([]byte, error) {
	p := m.paper()
	p.title(m.Log.Engine.Name, m.Shop)
	p.paragraph(words, 10.5, m.about())
	p.pairs(4, m.conditions())
	m.verdict(p)
	m.readings(p)
	if rows := m.seen(); len(rows) > 0 {
		p.heading(say.Text("papers.seen-measured"))
		p.table([]column{
			{say.Text("papers.what"), 24, false, words}, {say.Text("papers.where"), 16, false, words}, {say.Text("papers.finding"), 60, false, words}, {say.Text("papers.note"), 60, false, words},
		}, rows, 6)
	}
	if m.test.Note != "" {
		p.heading(say.Text("papers.heading-notes"))
		p.paragraph(words, 10, m.test.Note)
	}
	p.y += 2
	p.paragraph(words, 7.5, Caution)
	return p.bytes()
}

func (m *maker) seen() [][]string {
	var rows [][]string
	for _, o := range m.test.Observations {
		if o.Struck != "" || o.Inspected() || o.Trace != nil || o.Finding == log.Photo { // these have places of their own
			continue
		}
		where, found := "", o.Finding
		if n := o.Number(); n > 0 {
			where = m.Log.Engine.Called(n)
		}
		if o.Value != nil {
			found = strings.TrimSpace(found + " " + say.Number(*o.Value) + " " + o.Unit)
		}
		rows = append(rows, []string{o.What, where, found, o.Note})
	}
	return rows
}

// baseline reports whether the test may stand as one: it is the one of its build, or was called that, and found nothing to act upon.
func (m *maker) baseline() bool {
	called := m.test.Baseline && m.judged.State.Severity() < judge.Act.Severity()
	return called || compare.BaselineOf(m.Log, m.Verdict, m.Log.BuildOf(m.test)) == m.at
}

// title is what the paper is called: a certificate is that of a baseline only where the test is one.
func (m *maker) title() string {
	if m.Kind == Certificate && !m.baseline() {
		return say.Text("papers.certificate-test")
	}
	return m.Kind.Title()
}

// certificate says how an engine read when it was right: who, what, how, by which gauges, and what was not tested.
func (m *maker) certificate() ([]byte, error) {
	p := m.paper()
	p.title(m.title(), m.Shop)
	m.name(p)
	p.paragraph(words, 10.5, m.about())
	p.pairs(4, m.conditions())
	m.verdict(p)
	p.room(50)
	p.borePlan(m.Log.Engine, margin, p.y, p.w, 46, m.shown, m.leakOf)
	p.y += 48
	m.readings(p)
	m.gauges(p)
	m.limits(p)
	p.heading(say.Text("papers.not-tested"))
	for _, line := range m.untested() {
		p.paragraph(words, 9.5, "– "+line)
	}
	for _, line := range m.judged.Caveats {
		p.paragraph(words, 9.5, "– "+line)
	}
	const signed = 80.0 // the fingerprint, the caution and the signatures go together: no page of signatures alone
	p.room(signed)
	s, err := m.sealed(m.at)
	if err != nil {
		return nil, err
	}
	if err := p.fingerprint(s, say.Text("papers.covers-whole-test-as-log", "date", m.day(m.test.Date))); err != nil {
		return nil, err
	}
	p.paragraph(words, 8, Caution)
	p.room(16)
	p.y += 13
	p.SetLineWidth(0.2)
	for i, label := range []string{say.Text("papers.tested"), say.Text("papers.date"), say.Text("papers.witness")} {
		x := margin + float64(i)*p.w/3
		p.Line(x, p.y, x+p.w/3-6, p.y)
		p.write(x, p.y+3.4, words, 7.5, label)
	}
	return p.bytes()
}

// gauges names the testers of a test, with how they repeated.
func (m *maker) gauges(p *page) {
	var rows [][]string
	seen := map[string]bool{"": true}
	add := func(id string) {
		if seen[id] {
			return
		}
		seen[id] = true
		t, ok := m.Log.Tester(id)
		if !ok {
			rows = append(rows, []string{id, say.Text("papers.not-described"), "", ""})
			return
		}
		name := t.Name
		if name == "" {
			name = t.ID
		}
		division, repeats := say.Text("papers.not-noted"), say.Text("papers.not-known-yet")
		if t.Resolution != nil {
			division = t.Resolution.String()
		}
		if sd, _ := m.Spreads[id].Repeatability(); sd > 0 {
			repeats = say.Text("papers.one-standard-deviation-readings",
				"show", units.Pressure(sd).Written(m.unit),
				"pulls", m.Spreads[id].Pulls,
			)
		}
		rows = append(rows, []string{name, say.Maybe("book.value-kind-" + t.Kind), division, repeats})
	}
	for _, row := range m.test.Compression {
		add(row.Tester)
	}
	for _, row := range m.test.Leakdown {
		add(row.Tester)
	}
	p.heading(say.Text("papers.heading-gauges"))
	if len(rows) == 0 {
		p.paragraph(words, 9.5, say.Text("papers.not-noted-2"))
		return
	}
	p.table([]column{
		{say.Text("papers.gauge-2"), 44, false, words},
		{say.Text("papers.kind"), 24, false, words},
		{say.Text("papers.division"), 24, false, words},
		{say.Text("papers.repeats"), 70, false, words},
	}, rows, 6)
}

// limits says whose limits the readings were held against, and how they stand.
func (m *maker) limits(p *page) {
	way := m.Rules.TestedBy(m.Log, m.test)
	all := reading.BySchools(m.Log.Engine, m.judged.Pressures(), way.Evenness, m.unit)
	all = append(all, reading.LeaksBySchools(m.Log.Engine, m.judged.Leaks(), way)...)
	var rows [][]string
	for _, j := range all {
		if !j.Own {
			continue
		}
		holds := say.Text("papers.outside")
		if j.Passes {
			holds = say.Text("papers.inside")
		}
		rows = append(rows, []string{j.Words, j.Says, holds})
	}
	p.heading(say.Text("papers.heading-limits"))
	if len(rows) == 0 {
		p.paragraph(words, 9.5, say.Text("papers.no-limits-noted-for-engine"))
		return
	}
	p.table([]column{{say.Text("papers.rule"), 80, false, words}, {say.Text("papers.reads"), 70, false, words}, {"", 18, false, heavy}}, rows, 6)
	if limits := m.Log.Engine.Limits; limits != nil {
		p.y += 1
		p.paragraph(words, 9, say.Text("papers.figures-come-first", "by", limits.By()))
	}
}

// season is a report over a run of tests: strips, and the first beside the last.
func (m *maker) season() ([]byte, error) {
	p := m.paper()
	s := strips.Of(m.Log, m.Verdict, m.unit, m.Rules)
	from, to := 0, m.at
	for _, span := range s.Spans {
		if span.Kind == "season" && span.From <= m.at && span.To >= m.at {
			from, to = span.From, span.To
		}
	}
	first, last := m.Log.Sessions[from], m.Log.Sessions[to]
	m.take(to)
	p.title(say.Text("papers.season-report"), m.Shop)
	m.name(p)
	p.paragraph(words, 10.5, say.Text("papers.tests-from",
		"about", m.about(),
		"to", to-from+1,
		"date", m.day(first.Date),
		"date2", m.day(last.Date),
	))
	m.verdict(p)
	if from < to {
		start := compare.StartOf(m.Log, m.Log.Sessions[from:to], last)
		r, err := compare.Tests(m.Log, m.Verdict, start.ID, last.ID, m.Rules)
		if err == nil {
			p.heading(say.Text("papers.two-days-compared", "from", m.day(start.Date), "to", m.day(last.Date)))
			p.paragraph(words, 10, r.Sentence)
			for _, n := range r.Notes {
				p.paragraph(words, 9, "– "+n)
			}
		}
	}
	p.heading(say.Text("papers.cylinder-cylinder-change-compression-since"))
	most, mostLeak := 12.0, 20.0
	for _, one := range s.Strips {
		for _, pt := range one.Points {
			if pt.Visit < from || pt.Visit > to {
				continue
			}
			if pt.Change != nil {
				most = math.Max(most, math.Abs(*pt.Change))
			}
			if pt.Leak != nil {
				mostLeak = math.Max(mostLeak, *pt.Leak)
			}
		}
	}
	height := math.Max(13, math.Min(26, 120/float64(len(s.Strips))))
	for _, one := range s.Strips {
		p.strip(one, from, to, height, most, mostLeak)
	}
	p.paragraph(words, 7.5, say.Text("papers.inside-grey-band-measuring-error"))
	p.heading(say.Text("papers.heading-tests"))
	m.list(p, from, to)
	m.happened(p, first.Date, last.Date)
	p.paragraph(words, 7.5, Caution)
	return p.bytes()
}

// list is a table of tests, each in a line.
func (m *maker) list(p *page, from, to int) {
	var rows [][]string
	for i := from; i <= to; i++ {
		s := m.Log.Sessions[i]
		low, high, leak := units.Beyond, units.Pressure(0), -1.0
		for _, f := range judge.Figures(m.Log, s, m.Rules) {
			if f.SE > 0 {
				low, high = min(low, f.Gauge), max(high, f.Gauge)
			}
			if f.LeakSE > 0 {
				leak = math.Max(leak, f.Leak)
			}
		}
		span, worst := "", ""
		if high > 0 {
			span = low.Digits(m.unit) + "–" + high.Digits(m.unit)
		}
		if leak >= 0 {
			worst = say.Rounded(leak, 0) + " %"
		}
		occasion := s.Occasion()
		if s.Baseline && m.Verdict.Sessions[i].State.Severity() < judge.Act.Severity() {
			occasion = strings.TrimSpace(say.Text("papers.baseline", "occasion", occasion))
		}
		rows = append(rows, []string{
			m.day(s.Date), m.meter(s.Meter), occasion, s.Conditions.Temp(), span, worst, string(m.Verdict.Sessions[i].Mark),
		})
	}
	p.table([]column{
		{say.Text("papers.day"), 22, false, figures}, {say.Text("papers.meter-2"), 22, false, figures}, {say.Text("papers.occasion-2"), 36, false, words}, {say.Text("papers.engine-2"), 14, false, words},
		{say.Text("papers.compression",
			"unit", string(m.unit),
		), 30, true, figures}, {say.Text("papers.most-leak"), 18, true, figures}, {say.Text("papers.judged"), 18, false, heavy},
	}, rows, 5.6)
}

// happened lists builds and events between two days.
func (m *maker) happened(p *page, from, to string) {
	var rows [][]string
	for _, b := range m.Log.Builds {
		if b.Date >= from && b.Date <= to || from == "" {
			rows = append(rows, []string{m.day(b.Date), say.Text("papers.build"), b.What})
		}
	}
	for _, e := range m.Log.Events {
		if e.Date >= from && e.Date <= to || from == "" {
			rows = append(rows, []string{m.day(e.Date), say.Text("papers.happened"), e.What})
		}
	}
	if len(rows) == 0 {
		return
	}
	p.heading(say.Text("papers.what-happened"))
	p.table([]column{{say.Text("papers.day"), 22, false, figures}, {"", 22, false, words}, {say.Text("papers.what"), 120, false, words}}, rows, 5.6)
}

// tag is a label for the valve cover: each cylinder's baseline, the day, the gauge.
func (m *maker) tag() ([]byte, error) {
	size := Sizes[m.Size]
	p := newPage(size[0], size[1], "")
	const edge = 2.0
	w, h := size[0]-2*edge, size[1]-2*edge
	name := m.Log.Engine.Name
	p.write(edge, edge+h*0.16, heavy, p.fit(heavy, h*0.17*points, w*0.62, name), name)
	p.right(edge+w, edge+h*0.16, figures, math.Min(9, h*0.12*points), m.day(m.test.Date))
	p.borePlan(m.Log.Engine, edge, edge+h*0.21, w, h*0.62, m.shown, m.leakOf)
	under := string(m.unit)
	if temp := m.test.Conditions.Temp(); temp != "" {
		under += ", " + temp
	}
	if gauge := judge.GaugeOf(m.Log, m.test); gauge != "" {
		under += ", " + gauge
	}
	if m.test.Meter != nil {
		under += say.Text("papers.at", "meter", m.meter(m.test.Meter))
	}
	p.write(edge, edge+h*0.97, words, p.fit(words, math.Min(8, h*0.1*points), w, under), under)
	return p.bytes()
}

// history is an engine's whole record on a page for whoever buys it.
func (m *maker) history() ([]byte, error) {
	p := m.paper()
	m.at = len(m.Log.Sessions) - 1
	m.test, m.judged = m.Log.Sessions[m.at], m.Verdict.Sessions[m.at]
	p.title(say.Text("papers.heading-history"), m.Shop)
	m.name(p)
	p.paragraph(words, 10.5, m.about())
	m.verdict(p)
	p.heading(say.Text("papers.heading-tests"))
	from := 0
	const onOnePage = 16 // the oldest of more are told in a line
	if m.at+1 > onOnePage {
		from = m.at + 1 - onOnePage
		p.paragraph(words, 9, say.Text("papers.earlier-tests-before-log", "from", from, "date", m.day(m.Log.Sessions[from].Date)))
	}
	m.list(p, from, m.at)
	m.happened(p, "", "")
	s, err := m.sealed(0)
	if err != nil {
		return nil, err
	}
	if err := p.fingerprint(s, say.Text("papers.covers-all-tests-log", "at", m.at+1)); err != nil {
		return nil, err
	}
	p.paragraph(words, 8, Caution)
	return p.bytes()
}
