// Package strips lays all tests of an engine on one axis: of each cylinder its compression beside its baseline and its leak, and what
// all did together, with what happened between the tests.
package strips

import (
	"math"
	"slices"

	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

// Of lays a log on its strips. The log has its struck tests, the verdict is that of what stands. Pressures are shown in unit.
func Of(l log.Log, verdict judge.Verdict, unit units.Unit, shop rules.Shop) Strips {
	s := Strips{Visits: []Visit{}, Strips: []Strip{}, Marks: []Mark{}, Spans: []Span{}, All: Strip{Called: "all", Points: []Point{}}}
	d := drawing{log: l, unit: unit, out: &s, judged: map[string]judge.Session{}, base: map[string]map[int][]float64{}}
	for _, one := range verdict.Sessions {
		d.judged[one.ID] = one
	}
	for _, c := range l.Engine.Cylinders() {
		s.Strips = append(s.Strips, Strip{Cylinder: c, Called: l.Engine.Called(c), Points: []Point{}})
	}
	reader := judge.NewReader(l, shop)
	read := make([]map[int]judge.Figure, len(l.Sessions))
	for i, one := range l.Sessions {
		read[i] = map[int]judge.Figure{}
		for _, f := range reader.Next(unstruck(one)) {
			read[i][f.Cylinder] = f
		}
		d.learn(one, read[i])
	}
	for i, one := range l.Sessions {
		d.visit(i, one, read[i])
	}
	d.bands()
	d.marks()
	d.spans()
	if last, ok := verdict.Latest(); ok {
		for i := range s.Strips {
			s.Strips[i].Fan = last.Of(s.Strips[i].Cylinder).Fan
		}
	}
	s.ByMeter = rising(s.Visits)
	return s
}

// learn takes from a judged test where each cylinder's baseline lies, so that a struck one can be drawn beside it.
func (d *drawing) learn(s log.Session, read map[int]judge.Figure) {
	now, judged := d.judged[s.ID]
	if !judged {
		return
	}
	build := d.log.BuildOf(s)
	if d.base[build] == nil {
		d.base[build] = map[int][]float64{}
	}
	for _, c := range now.Cylinders {
		f := read[c.Cylinder]
		if f.SE == 0 {
			continue
		}
		at := f.Log
		if c.ChangePct != nil && now.CommonPct != nil {
			at -= math.Log1p(*c.ChangePct/100) + math.Log1p(*now.CommonPct/100)
		}
		d.base[build][c.Cylinder] = append(d.base[build][c.Cylinder], at)
	}
}

// visit puts one test on every strip that it says something of.
func (d *drawing) visit(i int, s log.Session, read map[int]judge.Figure) {
	now, judged := d.judged[s.ID]
	v := Visit{
		ID: s.ID, Date: s.Date, Meter: s.Meter, Build: d.log.BuildOf(s), Stage: s.Stage, Temp: s.Conditions.EngineTemp,
		Baseline: s.Baseline, Struck: s.Struck, State: judge.Steady,
	}
	if judged {
		v.State = now.State
	}
	d.out.Visits = append(d.out.Visits, v)
	off := d.offset(v.Build, now, read)
	for k := range d.out.Strips {
		strip := &d.out.Strips[k]
		f, there := read[strip.Cylinder]
		if !there {
			continue
		}
		p := Point{Visit: i, State: judge.Steady}
		c, said := told(now, strip.Cylinder)
		if said {
			p.State = c.State
		}
		p.Faint = !said || p.State == judge.Retest
		if f.SE > 0 {
			p.Reading = f.Gauge.Written(d.unit)
			d.change(&p, c, f, v.Build, off)
			if p.Change != nil && len(f.Faces) > 1 {
				low := slices.Min(f.Faces)
				for _, face := range f.Faces {
					p.Faces = append(p.Faces, *p.Change+100*(face/max(low, 1)-1))
				}
			}
		}
		if f.LeakSE > 0 {
			p.Leak = &f.Leak
			if f.First > f.Leak+0.5 {
				p.First = &f.First
			}
			p.Heard, p.At = heard(f.Paths)
		}
		strip.Points = append(strip.Points, p)
	}
	if judged && len(now.Cylinders) > 0 {
		p := Point{Visit: i, State: judge.Steady, Change: now.CommonPct}
		if now.CommonPct == nil {
			p.Change, p.Baseline = new(float64), true
		} else {
			// A visit moves all readings by so much by itself.
			p.SE = math.Hypot(*now.CommonSEPct, 100*rules.VisitSD)
			p.Outside = math.Abs(*p.Change) > rules.OutsideBand*p.SE
		}
		d.out.All.Points = append(d.out.All.Points, p)
	}
}

// change fills in how far a cylinder went: as it was judged, or, where that test counts for nothing, as it would stand.
func (d *drawing) change(p *Point, c judge.Cylinder, f judge.Figure, build string, off float64) {
	p.SE = 100 * f.SE
	if c.ChangeSEPct != nil {
		p.SE = *c.ChangeSEPct
	}
	base := d.base[build][f.Cylinder]
	switch {
	case c.ChangePct != nil:
		p.Change = c.ChangePct
	case c.Compression != nil:
		p.Change, p.Baseline = new(float64), true
	case len(base) > 0:
		by := 100 * math.Expm1(f.Log-stat.Mean(base, nil)-off)
		p.Change = &by
	}
	p.Outside = p.Change != nil && math.Abs(*p.Change) > rules.OutsideBand*p.SE
}

// offset is what all did together at a test, a logarithm: as it was judged, or the median of its cylinders.
func (d *drawing) offset(build string, now judge.Session, read map[int]judge.Figure) float64 {
	if now.CommonPct != nil {
		return math.Log1p(*now.CommonPct / 100)
	}
	var all []float64
	for c, f := range read {
		if base := d.base[build][c]; f.SE > 0 && len(base) > 0 {
			all = append(all, f.Log-stat.Mean(base, nil))
		}
	}
	if len(all) == 0 {
		return 0
	}
	slices.Sort(all)
	return stat.Quantile(0.5, stat.LinInterp, all, nil)
}

func told(now judge.Session, cylinder int) (judge.Cylinder, bool) {
	for _, c := range now.Cylinders {
		if c.Cylinder == cylinder {
			return c, true
		}
	}
	return judge.Cylinder{}, false
}

// heard returns where air was heard that tells something; at the oil filler only where it was more than faint.
func heard(paths []log.Path) (where string, at int) {
	if loud, ok := judge.Loudest(paths); ok {
		return loud.Where, loud.Cylinder
	}
	for _, p := range paths {
		if p.Where == log.Crankcase && p.Level > 1 {
			return p.Where, 0
		}
	}
	return "", 0
}

// unstruck returns a session in which what was struck of a cylinder counts where nothing else of it does, to be drawn faint.
func unstruck(s log.Session) log.Session {
	s.Compression = slices.Clone(s.Compression)
	for i, row := range s.Compression {
		if slices.ContainsFunc(row.Pulls, log.Pull.Counts) {
			continue
		}
		s.Compression[i].Pulls = slices.Clone(row.Pulls)
		for k := range row.Pulls {
			s.Compression[i].Pulls[k].Struck = ""
		}
	}
	stands := map[int]bool{}
	for _, row := range s.Leakdown {
		stands[row.Number()] = stands[row.Number()] || row.Struck == ""
	}
	s.Leakdown = slices.Clone(s.Leakdown)
	for i, row := range s.Leakdown {
		if !stands[row.Number()] {
			s.Leakdown[i].Struck = ""
		}
	}
	return s
}

func (d *drawing) bands() {
	for _, s := range append(pointers(d.out.Strips), &d.out.All) {
		var all []float64
		for _, p := range s.Points {
			if p.SE > 0 && !p.Faint {
				all = append(all, p.SE)
			}
		}
		s.Band = rules.BandUsual
		if len(all) > 0 {
			slices.Sort(all)
			s.Band = rules.OutsideBand * stat.Quantile(0.5, stat.LinInterp, all, nil)
		}
	}
}

func pointers(all []Strip) []*Strip {
	out := make([]*Strip, len(all))
	for i := range all {
		out[i] = &all[i]
	}
	return out
}
