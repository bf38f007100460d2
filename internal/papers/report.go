package papers

import (
	"bytes"
	"slices"
	"strings"

	"codeberg.org/go-pdf/fpdf"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// report tells whoever owns the engine what one test found: in words that need no workshop, with the pictures taken, and what is to be done in
// which order.
func (m *maker) report() ([]byte, error) {
	p := m.paper()
	p.title(say.Text("papers.report"), m.Shop)
	m.name(p)
	p.paragraph(words, 10.5, m.about())
	p.paragraph(words, 10.5, say.Text("papers.tested-on", "date", m.day(m.test.Date), "meter", m.meter(m.test.Meter)))
	p.y += 2
	p.paragraph(heavy, 14, m.judged.Headline+".")
	p.heading(say.Text("papers.what-was-found"))
	for _, line := range m.foundPlainly() {
		p.paragraph(words, 10.5, line)
	}
	if rows := m.seen(); len(rows) > 0 {
		for _, row := range rows {
			p.paragraph(words, 9.5, "– "+joined(row))
		}
	}
	tall := planHeight(m.Log.Engine, p.w, 46)
	p.room(tall + 6)
	p.y += 4
	p.borePlan(m.Log.Engine, margin, p.y, p.w, tall, m.shown, m.leakOf)
	p.y += tall + 3
	p.paragraph(words, 8.5, say.Text("papers.in-each-cylinder", "unit", string(m.unit)))
	m.pictures(p)
	p.heading(say.Text("papers.what-next"))
	for i, step := range m.nextSteps() {
		p.paragraph(words, 10.5, say.Text("papers.step", "n", i+1, "step", step))
	}
	if m.test.Agreed != "" || m.test.HoursSpent > 0 {
		p.heading(say.Text("papers.agreed"))
		if m.test.Agreed != "" {
			p.paragraph(words, 10.5, m.test.Agreed)
		}
		if m.test.HoursSpent > 0 {
			p.paragraph(words, 10.5, say.Text("papers.hours-spent", "hours", m.test.HoursSpent))
		}
	}
	p.y += 2
	p.paragraph(words, 8, Caution)
	return p.bytes()
}

// foundPlainly says each fault by its cylinders and its likeliest cause, in plain words; what nothing is wrong with is said to be so.
func (m *maker) foundPlainly() []string {
	var all []string
	for _, f := range m.judged.Faults {
		who := say.Capital(m.named(f.Cylinders))
		plain := ""
		if len(f.Causes) > 0 && f.State != judge.Retest {
			plain = rules.Plainly(f.Causes[0].Cause)
		}
		switch {
		case f.State == judge.Retest || plain == "":
			all = append(all, say.Text("papers.reading-to-repeat", "who", who))
		case f.Causes[0].Probability >= rules.MostLikely:
			all = append(all, who+": "+plain)
		default:
			all = append(all, say.Text("papers.perhaps", "who", who, "plain", plain))
		}
	}
	if r := m.judged.Repaired; r != nil {
		all = append([]string{r.Sentence}, all...)
	}
	switch {
	case len(all) > 0:
		return all
	case m.judged.Mark == judge.Steady:
		return []string{say.Text("papers.nothing-wrong")}
	}
	return []string{m.judged.Sentence}
}

// nextSteps are what is to be done, in its order: whether to run it, the tests that settle the cause, and when to look again.
func (m *maker) nextSteps() []string {
	steps := []string{m.judged.Decision}
	add := func(n *judge.Next) {
		if n != nil && !slices.Contains(steps, n.Words+".") {
			steps = append(steps, n.Words+".")
		}
	}
	if m.judged.State != judge.Steady {
		add(m.judged.Next)
		for i := range m.judged.Then {
			add(&m.judged.Then[i])
		}
	}
	steps = append(steps, m.next())
	return slices.DeleteFunc(steps, func(s string) bool { return s == "" })
}

// pictures shows what was photographed at the test, two beside each other.
func (m *maker) pictures(p *page) {
	const gap, tall = 4.0, 58.0
	wide, i := (p.w-gap)/2, 0
	for _, o := range m.test.Observations {
		if o.Finding != log.Photo || o.Struck != "" || m.Picture == nil {
			continue
		}
		picture := m.Picture(m.test.ID, o.Key)
		info := p.RegisterImageOptionsReader(o.Key, fpdf.ImageOptions{ImageType: "JPG"}, bytes.NewReader(picture))
		if len(picture) == 0 || info == nil || p.Err() {
			p.ClearError()
			continue
		}
		if i%2 == 0 {
			p.room(tall + 8)
			p.y += 3
		}
		w, h := fitted(info.Width(), info.Height(), wide, tall-6)
		x := margin + float64(i%2)*(wide+gap)
		p.ImageOptions(o.Key, x, p.y, w, h, false, fpdf.ImageOptions{ImageType: "JPG"}, 0, "")
		p.write(x, p.y+h+3.5, words, 8.5, m.captionOf(o))
		if i++; i%2 == 0 {
			p.y += tall
		}
	}
	if i%2 == 1 {
		p.y += tall
	}
}

// captionOf says what a picture is of.
func (m *maker) captionOf(o log.Observation) string {
	if n := o.Number(); n > 0 {
		return joined([]string{say.Capital(m.named([]int{n})), o.Note})
	}
	return o.Note
}

// fitted returns how large a picture is that is to fit into a frame.
func fitted(w, h, wide, tall float64) (float64, float64) {
	scale := min(wide/w, tall/h)
	return w * scale, h * scale
}

// joined puts the parts that say something behind each other.
func joined(parts []string) string {
	return strings.Join(slices.DeleteFunc(slices.Clone(parts), func(s string) bool { return s == "" }), ", ")
}
