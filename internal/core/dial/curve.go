package dial

import (
	"cmp"
	"math"
	"slices"

	"braxel/internal/core/say"
	"braxel/internal/core/trace"
	"braxel/internal/core/units"

	"gonum.org/v1/gonum/interp"
)

// Kind is what was filmed.
type Kind string

// A gauge that stands still; one with a check valve, which climbs and holds; a bare one, which shows every pulse; air that settles.
const (
	Still    Kind = "still"
	Valve    Kind = "valve"
	Bare     Kind = "bare"
	LeakDown Kind = "leak-down"
)

// Found is what a film of a dial comes to. Figures are in the unit of the marks; what the film does not hold is nil.
type Found struct {
	Kind   Kind
	Sights []Sight
	Peak   *float64 // the highest that the needle showed
	Held   *float64 // where it stood in the end
	Beats  *int
	RPM    *float64
	Faces  []float64
	Doubt  float64 // of a reading, one standard deviation
	Hidden bool    // the needle was not seen where it stood highest, so neither peak nor held is known
	Top    float64 // s, of the highest sight
	Rest   float64 // s, of one in which it rested
	Curve  trace.Recording
	Answer trace.Answer
}

// Shares of the way from the lowest to the highest that was seen.
const (
	stillShare  = 0.03 // of the scale that was tapped: a needle that moves less stands still
	upShare     = 0.5
	downShare   = 0.25
	restShare   = 0.012
	restS       = 0.25 // s that a needle has to stand
	bottomShare = 0.1
	hiddenShare = 0.01
	hiddenS     = 0.3 // s
	beforeS     = 0.6 // s of a pull that are left before its first rise
)

// Find says what the film comes to. What it is of is told by the curve, where known leaves it open; unit is that of the marks.
func (f *Film) Find(known trace.Known, kind Kind) (Found, error) {
	sights, err := f.Read()
	if err != nil {
		return Found{}, err
	}
	return Find(sights, f.Marks, f.Doubt(), known, kind)
}

// Slowings are how many times slower than it was a film may show what was filmed.
var Slowings = []float64{1, 2, 4, 8}

// How far a speed of cranking may be from what is expected, as a factor: of an engine whose own is known, and of any.
const (
	likeOwn = 1.35
	likeAny = 1.9
)

// Slowed finds what a film comes to that may be in slow motion, and by how much it was slowed: a file says how fast it is played, not how
// fast it was filmed. Where slower is 0 it is told by the speed of cranking, which is expected to be rpm, own if it is that engine's; 1
// where no slowing makes it likely. Times of what is found are as the film shows them.
func (f *Film) Slowed(known trace.Known, kind Kind, slower, rpm float64, own bool) (Found, float64, error) {
	sights, err := f.Read()
	if err != nil {
		return Found{}, 1, err
	}
	return f.slowed(sights, known, kind, slower, rpm, own)
}

func (f *Film) slowed(sights []Sight, known trace.Known, kind Kind, slower, rpm float64, own bool) (Found, float64, error) {
	tries := []float64{slower}
	if slower == 0 {
		tries = Slowings
	}
	off := math.Log(likeAny)
	if own {
		off = math.Log(likeOwn)
	}
	var best Found
	by := tries[0]
	for i, n := range tries {
		quick := slices.Clone(sights)
		for i := range quick {
			quick[i].Seconds /= n
		}
		one, err := Find(quick, f.Marks, f.Doubt(), known, kind)
		if err != nil {
			return Found{}, 1, err
		}
		if i == 0 {
			best = one
		}
		if one.Kind == Still || kind == LeakDown {
			break
		}
		if one.RPM == nil || *one.RPM <= 0 {
			continue
		}
		if i == 0 && !own && *one.RPM > rpm/likeAny { // some crank faster, nothing is filmed faster than it was
			break
		}
		if d := math.Abs(math.Log(*one.RPM / rpm)); d < off {
			best, by, off = one, n, d
		}
	}
	best.Sights, best.Top, best.Rest = sights, best.Top*by, best.Rest*by
	return best, by, nil
}

// ErrUnsure is what a film is refused for in which the needle was seen surely too rarely.
var ErrUnsure = say.Error("dial.needle-not-seen-well")

// Find says what sights come to.
func Find(sights []Sight, m Marks, doubt float64, known trace.Known, kind Kind) (Found, error) {
	var sure, seen []Sight
	slices.SortStableFunc(sights, func(a, b Sight) int { return cmp.Compare(a.Seconds, b.Seconds) })
	for _, s := range sights {
		if s.Sure >= Believed {
			sure = append(sure, s)
		}
		if s.Sure >= glimpsed {
			seen = append(seen, s)
		}
	}
	if len(sure) < max(1, len(sights)/5) {
		return Found{}, ErrUnsure
	}
	out := Found{Kind: kind, Sights: sights, Doubt: doubt}
	low, high := sure[0].Value, sure[0].Value
	for _, s := range sure {
		low = min(low, s.Value)
		if s.Value > high {
			high, out.Top = s.Value, s.Seconds
		}
	}
	out.Peak = &high
	span := 0.0
	for _, p := range m.Points {
		span = max(span, math.Abs(p.Value-m.Points[0].Value))
	}
	if len(sure) < 4 || high-low < stillShare*span {
		held := valueOf(sure)
		out.Kind, out.Held, out.Rest = Still, &held, sure[len(sure)/2].Seconds
		return out, nil
	}
	if out.Kind == "" {
		out.Kind = kindOf(sure, low, high)
	}
	if out.Kind != Bare {
		sure = onePull(sure, low, high)
		seen = during(seen, sure)
		rest := resting(sure, high-low)
		held := valueOf(rest)
		out.Held, out.Rest = &held, rest[len(rest)/2].Seconds
	}
	if out.Kind != LeakDown {
		out.follow(sure, seen, units.Unit(m.Unit), known)
	}
	if hidden(sights, out.Rest, high+hiddenShare*span) && len(out.Faces) == 0 {
		out.Peak, out.Held, out.Hidden = nil, nil, true
	}
	return out, nil
}

// hidden reports whether the needle was out of sight for a while after a time in which, for all that was seen of it, it stood higher
// than a level.
func hidden(sights []Sight, after, level float64) bool {
	for i := 0; i < len(sights); {
		if sights[i].Seconds < after {
			i++
			continue
		}
		j := i
		var values []float64
		for ; j < len(sights) && sights[j].Sure < Believed; j++ {
			values = append(values, sights[j].Value)
		}
		if j > i && sights[j-1].Seconds-sights[i].Seconds > hiddenS && middle(values) > level {
			return true
		}
		i = j + 1
	}
	return false
}

// during leaves what was seen while some other sights were.
func during(seen, others []Sight) []Sight {
	from, to := others[0].Seconds, others[len(others)-1].Seconds
	return slices.DeleteFunc(seen, func(s Sight) bool { return s.Seconds < from || s.Seconds > to })
}

// follow hands the curve of what was seen to the reader of recordings.
func (f *Found) follow(sure, seen []Sight, u units.Unit, known trace.Known) {
	in := func(v float64) float64 { return v }
	back := in
	if u.Valid() {
		in = func(v float64) float64 { return float64(units.Reading{Value: v, Unit: u}.Pressure()) }
		back = func(kpa float64) float64 { return units.Pressure(kpa).In(u) }
	}
	f.Curve = trace.Recording{Measured: trace.Pressure, Needle: true}
	f.Curve.Seconds, f.Curve.Values = between(seen, in, f.Kind == Valve)
	if known.Engine == "" {
		known.Engine = "four-stroke"
		if f.Kind == Bare {
			known.Engine, known.Rotors, known.Rotor = "rotary", 1, 1
		}
	}
	if len(f.Curve.Values) == 0 {
		return
	}
	f.Answer = trace.Read(f.Curve, known)
	if f.Kind == Valve && f.Answer.Readable && f.Answer.Form == trace.Pulses {
		f.Answer.FacesKPa = nil
	}
	if !f.Answer.Readable {
		if f.Kind == Valve { // a rise without steps is air that settles
			f.Kind = LeakDown
		}
		return
	}
	beats, rpm := f.Answer.Pulses, f.Answer.RPM
	f.Beats, f.RPM = &beats, &rpm
	if len(f.Answer.FacesKPa) == 3 {
		f.faces(sure, in, back)
	}
}

// faces takes the tops of the faces from all turns together where they can be had, else from the recording's reader. The needle went at
// least as high as they are, even if it was hidden there.
func (f *Found) faces(sure []Sight, in, back func(float64) float64) {
	if f.Faces = topsOf(sure, f.Answer.Beats); f.Faces == nil {
		for _, v := range f.Answer.FacesKPa {
			f.Faces = append(f.Faces, back(v))
		}
	}
	for i, v := range f.Faces {
		f.Answer.FacesKPa[i] = in(v)
		if v > *f.Peak {
			f.Peak = &v
		}
	}
}

// leastCurve is how many sights make a curve, and curveRate how many points a second it is given: a needle has mass, and what it did
// between two pictures is a smooth way between them.
const (
	leastCurve = 12
	curveRate  = 250.0
	mostGap    = 0.3 // s without a sight that are still filled
)

// between lays the curve of H. Akima (1970) through sights, which swings over at no step, and returns its points. Of a needle that was
// hidden for long a gauge that holds is taken to have held.
func between(s []Sight, in func(float64) float64, holds bool) (seconds, values []float64) {
	var x, y []float64
	for _, one := range s {
		if n := len(x); n > 0 && one.Seconds <= x[n-1] {
			continue
		}
		x, y = append(x, one.Seconds), append(y, in(one.Value))
	}
	var way interp.AkimaSpline
	if len(x) < leastCurve || way.Fit(x, y) != nil {
		return nil, nil
	}
	if step := (x[len(x)-1] - x[0]) / float64(len(x)-1); step < 1/curveRate {
		return x, y
	}
	next := 1
	for t := x[0]; t <= x[len(x)-1]; t += 1 / curveRate {
		for x[next] < t && next < len(x)-1 {
			next++
		}
		at := t
		if x[next]-x[next-1] > mostGap && t > x[next-1] && t < x[next] {
			if at = x[next-1]; !holds {
				continue
			}
		}
		seconds, values = append(seconds, t), append(values, way.Predict(at))
	}
	return seconds, values
}

// kindOf tells a bare gauge, whose needle falls back after each pulse, from one that holds what it came to.
func kindOf(s []Sight, low, high float64) Kind {
	up, falls := false, 0
	for _, one := range s {
		share := (one.Value - low) / (high - low)
		switch {
		case !up && share > upShare:
			up = true
		case up && share < downShare:
			up = false
			falls++
		}
	}
	if falls > 2 {
		return Bare
	}
	return Valve
}

// onePull leaves one pull of a film: to the end of the highest stretch in which the needle stood, before the gauge was let off, from a
// little before it last rose from the bottom.
func onePull(s []Sight, low, high float64) []Sight {
	span := high - low
	from, to := 0, len(s)
	best := math.Inf(-1)
	for i := range s {
		least, most := s[i].Value, s[i].Value
		j := i + 1
		for ; j < len(s); j++ {
			least, most = min(least, s[j].Value), max(most, s[j].Value)
			if most-least > 2*restShare*span {
				break
			}
		}
		if s[j-1].Seconds-s[i].Seconds >= restS && least > best {
			best, from, to = least, i, j
		}
	}
	for to < len(s) && s[to].Value > best-4*restShare*span { // it swings before it stands
		to++
	}
	for from > 0 && s[from].Value > low+bottomShare*span {
		from--
	}
	begins := s[from].Seconds - beforeS
	for from > 0 && s[from-1].Seconds >= begins {
		from--
	}
	return s[from:to]
}

// resting returns the last stretch in which the needle stood, all of it that agrees with its end.
func resting(s []Sight, span float64) []Sight {
	for end := len(s); end > 1; end-- {
		last := s[max(0, end-3):end]
		mid := valueOf(last)
		from := end
		for from > 0 && math.Abs(s[from-1].Value-mid) < restShare*span && s[end-1].Seconds-s[from-1].Seconds < 1.5 {
			from--
		}
		if end > from && s[end-1].Seconds-s[from].Seconds >= restS {
			return s[from:end]
		}
	}
	return s[max(0, len(s)-3):]
}

// valueOf returns the middle value of sights.
func valueOf(s []Sight) float64 {
	var all []float64
	for _, one := range s {
		all = append(all, one.Value)
	}
	return middle(all)
}
