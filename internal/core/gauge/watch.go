package gauge

import (
	"math"
	"slices"
)

// Phase is where a pull stands.
type Phase string

// Phases of a pull. Open: the gauge is vented, or nothing has moved yet. Rising: beat by beat. Settled: the next beat added nothing.
// Stopped: nothing comes any more, while it still rose. Taken: its reading was kept; the gauge is to be vented before the next.
const (
	Open    Phase = "open"
	Rising  Phase = "rising"
	Settled Phase = "settled"
	Stopped Phase = "stopped"
	Taken   Phase = "taken"
)

// UnderWay reports whether there is a pull that was not kept.
func (p Phase) UnderWay() bool { return p == Rising || p == Settled || p == Stopped }

// View is what can be said of a gauge at this moment. Pressures are gauge kPa.
type View struct {
	Phase   Phase
	Pull    int // which one it is, counted since the gauge came
	KPa     float64
	Reading float64 // the highest held, or the highest pulse
	Beats   int
	RPM     float64
	Supply  float64
	Seconds float64 // since it began to rise
}

// Watch follows one gauge. Turns is how many turns of the crank lie between two beats: 2 of a four-stroke's cylinder, else 1.
type Watch struct {
	Kind  Kind
	Turns float64

	view      View
	from      float64 // s, when the pull began
	last      Sample
	any       bool
	smooth    float64
	three     [3]float64
	zero      float64 // what it shows while nothing presses on it
	base      float64 // the level of the last tread, or the bottom before a pulse
	lifting   bool
	lifted    float64 // s, when the level rose last
	highest   float64 // of the pulse under way
	beats     []beat
	gap       float64 // the usual time between two of them
	low       float64 // s since when it shows nothing
	recording []Sample
	before    []Sample // just before the pull
	steady    float64  // s since when a leak-down does not move
	mean      Sample
}

type beat struct{ at, level float64 }

// When something is a beat and when none comes any more. A step is what stands out of a tread by more than the noise of a cheap
// transducer; a plateau is told by the twentieth of the trade's two pulls that agree.
const (
	lagS      = 0.006 // s, that a level is smoothed over
	leastKPaS = 3.0   // kPa of a step, and a share of the level
	stepShare = 0.006
	treadS    = 0.045 // s without a rise: a tread
	begins    = 25.0  // kPa at which a pull has begun
	ventedKPa = 15.0
	vented    = 0.06  // of what was held
	ventedFor = 0.3   // s
	adds      = 0.08  // what the last beat that could be seen may have added: the next one, a quarter of it or less, could not
	patience  = 1.55  // beats
	slowBeat  = 330.0 // 1/min: one of a starter that is slower is longer than what is looked back over
	noBeatFor = 1.4   // s, where no two beats were seen: the slowest starter
	pulseFall = 0.5   // a pulse is over when it has fallen by this much of itself
	earlier   = 0.3   // s kept of before the pull
	mostPull  = 60.0  // s of a pull that are kept
	mostBeats = 400   // of a pull: more than a starter turns in a minute
	mostKept  = 60000 // samples of a pull, whatever its gauge's clock says
	mostAhead = 2000  // and of before it
	sameShare = 0.01  // a pulse that is higher by less adds nothing
	airFrom   = 100.0
	settles   = 0.004 // of the supply
	settleFor = 1.2   // s
)

// View returns what can be said now.
func (w *Watch) View() View { return w.view }

// Recording returns the samples of the pull that is under way or was the last, with a little before it.
func (w *Watch) Recording() []Sample { return slices.Clone(w.recording) }

// Taken says that the reading was kept: nothing is a pull until the gauge was vented.
func (w *Watch) Taken() {
	w.view.Phase = Taken
	w.low = math.NaN()
}

// Take follows one sample.
func (w *Watch) Take(s Sample) {
	if w.any && (s.Seconds < w.last.Seconds || s.Seconds > w.last.Seconds+mostGap) { // it was silent: what was under way is not whole
		*w = Watch{Kind: w.Kind, Turns: w.Turns, view: View{Pull: w.view.Pull}}
	}
	if !w.any {
		w.any, w.last, w.smooth, w.low, w.mean = true, s, s.KPa, math.NaN(), s
		w.steady = s.Seconds
		w.view.Phase = Open
		if max(s.KPa, s.Supply) > begins { // what it shows was there before anybody listened: it is no pull
			w.view.Phase = Taken
		}
	}
	dt := s.Seconds - w.last.Seconds
	if w.Kind == Bare { // a pulse's top is as short as that: the middle one of three
		w.three = [3]float64{w.three[1], w.three[2], s.KPa}
		w.smooth = max(min(w.three[0], w.three[1]), min(max(w.three[0], w.three[1]), w.three[2]))
	} else {
		w.smooth += (s.KPa - w.smooth) * (1 - math.Exp(-dt/lagS))
	}
	w.last = s
	w.view.KPa, w.view.Supply = s.KPa, s.Supply
	if w.Kind == LeakDown {
		w.air(s, dt)
		return
	}
	w.keep(s)
	switch w.view.Phase {
	case Open:
		w.open(s)
	case Rising, Stopped:
		w.rise(s)
	case Settled:
		if w.Kind == Bare { // a rotor's three faces are not read by the first that come
			w.pulse(s)
			w.view.Beats, w.view.RPM = len(w.beats), w.rpm()
		}
	}
	if w.view.Phase != Open {
		w.view.Seconds = s.Seconds - w.from
		w.vent(s)
	}
}

// mostGap is how long a gauge may be silent in a pull, s.
const mostGap = 0.5

func (w *Watch) keep(s Sample) {
	if w.view.Phase == Open {
		w.before = append(w.before, s)
		for len(w.before) > 1 && (w.before[0].Seconds < s.Seconds-earlier || len(w.before) > mostAhead) {
			w.before = w.before[1:]
		}
		return
	}
	if w.view.Phase != Taken && s.Seconds < w.from+mostPull && len(w.recording) < mostKept {
		w.recording = append(w.recording, s)
	}
}

// open waits for the first rise. Before it the gauge shows its zero, which a cheap one has a little off.
func (w *Watch) open(s Sample) {
	if math.Abs(w.smooth) < ventedKPa {
		w.zero += (w.smooth - w.zero) * 0.02
	}
	if w.smooth-w.zero < begins {
		return
	}
	w.recording = slices.Clone(w.before)
	w.from = s.Seconds
	w.view = View{Phase: Rising, Pull: w.view.Pull + 1, KPa: s.KPa}
	w.gap = 0
	w.beats, w.lifting, w.lifted, w.base, w.highest, w.low = nil, true, s.Seconds, w.zero, w.smooth, math.NaN()
}

// vent waits for the gauge to show nothing, for a while; a bare one shows nothing between two pulses, too.
func (w *Watch) vent(s Sample) {
	least := max(ventedKPa, vented*w.view.Reading)
	if w.smooth > least {
		w.low = math.NaN()
		return
	}
	if math.IsNaN(w.low) {
		w.low = s.Seconds
	}
	wait := ventedFor
	if w.Kind == Bare {
		wait = noBeatFor
	}
	if s.Seconds-w.low < wait {
		return
	}
	// A pull whose gauge was let off before it was kept is gone: its figure was on the dial and nobody wanted it.
	if w.view.Phase == Settled && w.Kind == Bare {
		return
	}
	w.view = View{Phase: Open, Pull: w.view.Pull, KPa: s.KPa}
	w.before = nil
}

func (w *Watch) rise(s Sample) {
	if w.Kind == Bare {
		w.pulse(s)
	} else {
		w.step(s)
	}
	w.view.Beats = len(w.beats)
	w.view.RPM = w.rpm()
	w.view.Phase = w.phase(s)
}

// step follows the level of a gauge with a valve: it rises, and stands until the next beat.
func (w *Watch) step(s Sample) {
	least := max(leastKPaS, stepShare*w.smooth)
	switch {
	case w.lifting && w.smooth > w.highest+leastKPaS/4:
		w.highest, w.lifted = w.smooth, s.Seconds
	case w.lifting && s.Seconds-w.lifted > treadS:
		w.lifting = false
		w.beat(w.smooth)
		w.base = w.smooth
		w.view.Reading = max(w.view.Reading, w.smooth-w.zero)
	case !w.lifting && w.smooth > w.base+least:
		w.lifting, w.highest, w.lifted = true, w.smooth, s.Seconds
	case !w.lifting && w.smooth > w.base: // what a beat too small to count adds
		w.view.Reading = max(w.view.Reading, w.smooth-w.zero)
	}
}

// pulse follows a bare gauge: up, and down again.
func (w *Watch) pulse(s Sample) {
	switch {
	case w.lifting && w.smooth > w.highest:
		w.highest, w.lifted = w.smooth, s.Seconds
	case w.lifting && w.smooth-w.base < (w.highest-w.base)*(1-pulseFall):
		w.lifting = false
		if w.highest-w.zero > 0.3*w.view.Reading {
			w.beat(w.highest)
			w.view.Reading = max(w.view.Reading, w.highest-w.zero)
		}
		w.base = w.smooth
	case !w.lifting && w.smooth < w.base:
		w.base = w.smooth
	case !w.lifting && w.smooth-w.base > max(begins, 0.25*w.view.Reading):
		w.lifting, w.highest, w.lifted = true, w.smooth, s.Seconds
	}
}

// beat notes a beat at the level that it came to, and what is usual between two. A gauge that pulses on and on adds no more than a pull
// can have.
func (w *Watch) beat(level float64) {
	if len(w.beats) >= mostBeats {
		return
	}
	w.beats = append(w.beats, beat{w.lifted, level})
	var all []float64
	for i := 1; i < len(w.beats); i++ {
		all = append(all, w.beats[i].at-w.beats[i-1].at)
	}
	if len(all) == 0 {
		return
	}
	slices.Sort(all)
	w.gap = all[(len(all)-1)/2]
}

// usual returns the usual time between two beats, s; 0 where no two were seen.
func (w *Watch) usual() float64 { return w.gap }

func (w *Watch) rpm() float64 {
	if gap := w.usual(); gap > 0 {
		return 60 * w.Turns / gap
	}
	return 0
}

// phase says whether the reading is there: a beat, or the time of one, has gone by that added nothing. One pulse that was as high as
// the highest does not do: the first may have been a lucky one.
func (w *Watch) phase(s Sample) Phase {
	n := len(w.beats)
	if n == 0 {
		return Rising
	}
	wait := noBeatFor
	if gap := w.usual(); gap > 0 {
		wait = patience * gap
	}
	silent := s.Seconds-w.lifted > wait
	if w.Kind == Bare {
		switch {
		case n >= 4 && w.adding(n-1) < sameShare && w.adding(n-2) < sameShare:
			return Settled
		case silent && n < 4:
			return Stopped
		case silent:
			return Settled
		}
		return Rising
	}
	switch {
	case silent && w.addedLast() < adds:
		return Settled
	case silent:
		return Stopped
	}
	return Rising
}

// addedLast returns the share of the level that the time of the last beat added. Beats that are too quick to be told apart have one all
// the same.
func (w *Watch) addedLast() float64 {
	gap := 60 * w.Turns / slowBeat
	if usual := w.usual(); usual > 0 {
		gap = min(gap, usual)
	}
	level := w.smooth - w.zero
	for i := len(w.recording) - 1; i >= 0; i-- {
		if s := w.recording[i]; s.Seconds < w.lifted-1.1*gap {
			return (level - (s.KPa - w.zero)) / level
		}
	}
	return 1
}

// adding returns by which share a pulse stood above all before it.
func (w *Watch) adding(i int) float64 {
	most := math.Inf(-1)
	for _, b := range w.beats[:i] {
		most = max(most, b.level)
	}
	return w.beats[i].level/most - 1
}

// air follows a leak-down: settled when neither supply nor held pressure has moved for a while.
func (w *Watch) air(s Sample, dt float64) {
	share := 1 - math.Exp(-dt/0.15)
	w.mean.Supply += (s.Supply - w.mean.Supply) * share
	w.mean.KPa += (s.KPa - w.mean.KPa) * share
	moved := max(math.Abs(w.mean.Supply-s.Supply), math.Abs(w.mean.KPa-s.KPa)) > max(settles*s.Supply, 2)
	if moved || s.Supply < airFrom {
		w.steady = s.Seconds
	}
	switch {
	case s.Supply < ventedKPa:
		w.view.Phase = Open
	case w.view.Phase == Open && s.Supply >= airFrom:
		w.view.Phase = Rising
		w.view.Pull++
		w.from = s.Seconds
	case w.view.Phase == Rising && s.Seconds-w.steady > settleFor:
		w.view.Phase = Settled
	case w.view.Phase == Settled && moved:
		w.view.Phase = Rising
	}
	w.view.Reading = w.mean.KPa
	w.view.Seconds = s.Seconds - w.from
}
