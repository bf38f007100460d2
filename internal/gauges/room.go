// Package gauges is where electronic gauges are heard: by a serial port, by TCP, or from the bench in the same program. One of them is
// followed at a time; who watches gets what it does, frame by frame.
package gauges

import (
	"crypto/rand"
	"errors"
	"io"
	"slices"
	"sync"
	"time"

	"braxel/internal/core/gauge"
	"braxel/internal/core/say"
	"braxel/internal/plain"
)

// Room holds the gauges that speak.
type Room struct {
	mu     sync.Mutex
	all    []*heard
	next   int
	turns  float64
	fault  string // why the last one is heard no more, for whom it concerns
	told   string // what the sheet wants, for a gauge that comes later
	change func()

	asking  []*heard        // gauges that wait until somebody lets them in on the screen
	allowed map[caller]bool // those that were, until Braxel ends
}

// caller is a gauge as it calls itself, from where it calls.
type caller struct{ from, name string }

// Lead is the way by which a gauge is plugged in.
type Lead struct {
	// Network says that anything on this machine or the shop's network may call there: it has to repeat a word that it was sent.
	Network bool
	// Let says whether a gauge is let in by its passcode: nil where it is, ErrAsk where somebody has to say so on the screen.
	Let func(passcode string) error
	// Chosen says that somebody has just asked for this gauge: it is followed at once.
	Chosen bool
}

// ErrAsk has a gauge wait until it is let in on the screen.
var ErrAsk = say.Error("gauges.let-gauge-screen-first")

// heard is one gauge.
type heard struct {
	id     int
	from   string
	head   gauge.Head
	conn   io.ReadWriteCloser
	watch  *gauge.Watch
	last   time.Time
	points []gauge.Sample // of the pull under way, with the number of the first
	first  int
	pull   int
	say    chan string
	let    chan bool // what was said on the screen
	chosen bool
}

// Gauge is a gauge that speaks.
type Gauge struct {
	ID       int    `json:"id"`
	Name     string `json:"name"`
	Kind     string `json:"kind" enum:"valve,bare,leak-down"`
	From     string `json:"from" doc:"Where it is plugged in"`
	Followed bool   `json:"followed,omitzero"`
}

// Caller is a gauge that waits to be let in.
type Caller struct {
	ID   int    `json:"id"`
	Name string `json:"name"`
	From string `json:"from"`
}

// Now is what the room hears at this moment. Pressures are gauge kPa.
type Now struct {
	Gauges  []Gauge     `json:"gauges"`
	Asking  []Caller    `json:"asking,omitempty" doc:"Gauges waiting to be allowed"`
	Fault   string      `json:"fault,omitzero" doc:"Why the last gauge is no longer heard"`
	Phase   gauge.Phase `json:"phase,omitzero" enum:"open,rising,settled,stopped,taken"`
	Silent  bool        `json:"silent,omitzero" doc:"It is plugged in, and sends nothing"`
	Pull    int         `json:"pull,omitzero"`
	KPa     float64     `json:"kpa"`
	Reading float64     `json:"reading_kpa"`
	Supply  float64     `json:"supply_kpa,omitzero"`
	Beats   int         `json:"beats,omitzero"`
	RPM     float64     `json:"rpm,omitzero"`
	Seconds float64     `json:"seconds,omitzero"`
}

// New returns a room in which nobody speaks yet.
func New() *Room { return &Room{turns: 2, allowed: map[caller]bool{}} }

// OnChange has that called when a gauge comes or goes.
func (r *Room) OnChange(changed func()) {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.change = changed
}

// What a gauge gets for speaking too fast, and how long one may be silent before that is said.
var errFlood = say.Error("gauges.gauge-sends-more-than-lines", "mostRate", gauge.MostRate)

const (
	silentFor = 1500 * time.Millisecond
	headFor   = 8 * time.Second  // in which a gauge has to say what it is
	goneFor   = 30 * time.Second // without a line, and a gauge on the network is gone
	mostHeard = 8
	mostAsk   = 3               // gauges that wait to be let in
	askFor    = 3 * time.Minute // that one waits
)

// errNotLetIn is what a gauge gets that was sent away.
var errNotLetIn = say.Error("gauges.gauge-was-not-let-screen")

// ErrFull is what a gauge is refused for when there are too many.
var ErrFull = say.Error("gauges.too-many-gauges-connected-unplug")

// Listen hears one gauge until it ends, and returns why: io.EOF where it was unplugged.
func (r *Room) Listen(conn io.ReadWriteCloser, from string, lead Lead) error {
	h := &heard{from: from, conn: conn, say: make(chan string, 16), let: make(chan bool, 1), chosen: lead.Chosen}
	ended := make(chan struct{})
	defer close(ended)
	nonce, hello := "", "hello" // it says what it is
	if lead.Network {
		nonce = rand.Text()
		hello += " " + nonce
	}
	go h.tell(ended)
	h.hand(hello)
	err := r.hear(h, nonce, lead.Let)
	if isOurs(err) && !errors.Is(err, gauge.ErrGreeting) { // for whoever built it
		_, _ = io.WriteString(conn, "# "+sentence(err)+"\n")
	}
	_ = conn.Close() // it is of no more use
	r.leave(h, err)
	return err
}

// tell writes to a gauge what the sheet wants; one that does not read it loses it.
func (h *heard) tell(ended <-chan struct{}) {
	for {
		select {
		case line := <-h.say:
			if _, err := io.WriteString(h.conn, line+"\n"); err != nil {
				return
			}
		case <-ended:
			return
		}
	}
}

func (r *Room) hear(h *heard, nonce string, let func(string) error) error {
	reader := gauge.Reader{Nonce: nonce}
	buffer := make([]byte, 4096)
	begun, in := time.Now(), false
	second, lines := time.Now(), 0
	// A lead over the network may be cut without a word.
	network, _ := h.conn.(interface{ SetReadDeadline(time.Time) error })
	for {
		if network != nil {
			end := begun.Add(headFor)
			if in {
				end = time.Now().Add(goneFor)
			}
			if err := network.SetReadDeadline(end); err != nil {
				return err
			}
		}
		n, err := h.conn.Read(buffer)
		if err != nil {
			return err
		}
		samples, err := reader.Take(buffer[:n])
		if err != nil {
			return &refused{err}
		}
		if head, ok := reader.Head(); ok && !in {
			if err := r.letIn(h, head, let); err != nil {
				return &refused{err}
			}
			in = true
		}
		if !in && time.Since(begun) > headFor {
			return &refused{gauge.ErrFirst}
		}
		if now := time.Now(); now.Sub(second) > time.Second {
			second, lines = now, 0
		}
		if lines += len(samples); lines > gauge.MostRate {
			return &refused{errFlood}
		}
		if in && len(samples) > 0 {
			r.take(h, samples)
		}
	}
}

// letIn takes a gauge in that has said what it is. One that has to be let in on the screen waits; what it sends meanwhile isn't read.
func (r *Room) letIn(h *heard, head gauge.Head, let func(string) error) error {
	err := error(nil)
	if let != nil {
		err = let(head.Passcode)
	}
	who := caller{h.from, head.Name}
	if errors.Is(err, ErrAsk) {
		err = r.ask(h, head, who)
	}
	if err != nil {
		return err
	}
	return r.enter(h, head)
}

func (r *Room) ask(h *heard, head gauge.Head, who caller) error {
	r.mu.Lock()
	if r.allowed[who] {
		r.mu.Unlock()
		return nil
	}
	if len(r.asking) >= mostAsk {
		r.mu.Unlock()
		return ErrFull
	}
	r.next++
	h.id, h.head = r.next, head
	r.asking = append(r.asking, h)
	r.mu.Unlock()
	r.changed()
	defer func() {
		r.mu.Lock()
		r.asking = slices.DeleteFunc(r.asking, func(one *heard) bool { return one == h })
		r.mu.Unlock()
		r.changed()
	}()
	select {
	case yes := <-h.let:
		if !yes {
			return errNotLetIn
		}
	case <-time.After(askFor):
		return errNotLetIn
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	if len(r.allowed) < mostAllowed {
		r.allowed[who] = true
	}
	return nil
}

// mostAllowed is how many gauges are known that were let in on the screen.
const mostAllowed = 100

// Answer lets a gauge in that asks, or sends it away; false where none of that id asks.
func (r *Room) Answer(id int, yes bool) bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	for _, h := range r.asking {
		if h.id == id {
			select {
			case h.let <- yes:
			default: // it was answered already
			}
			return true
		}
	}
	return false
}

func (r *Room) enter(h *heard, head gauge.Head) error {
	r.mu.Lock()
	if len(r.all) >= mostHeard {
		r.mu.Unlock()
		return ErrFull
	}
	if h.id == 0 {
		r.next++
		h.id = r.next
	}
	h.head, h.last = head, time.Now()
	h.watch = &gauge.Watch{Kind: head.Kind, Turns: r.turns}
	if h.chosen {
		r.all = slices.Insert(r.all, 0, h)
	} else {
		r.all = append(r.all, h)
	}
	r.fault = ""
	told := r.told
	r.mu.Unlock()
	if told != "" {
		h.hand(told)
	}
	r.changed()
	return nil
}

// leave takes a gauge out, and says what became of what it was doing.
func (r *Room) leave(h *heard, err error) {
	r.mu.Lock()
	was := slices.Index(r.all, h)
	if was >= 0 {
		r.all = slices.Delete(r.all, was, was+1)
	}
	switch {
	case isOurs(err):
		r.fault = sentence(err)
	case was >= 0: // else it came, said nothing, and went
		r.fault = say.Text("gauges.was-unplugged", "name", h.head.Name)
		if h.watch.View().Phase.UnderWay() {
			r.fault = say.Text("gauges.was-unplugged-middle-reading-so", "name", h.head.Name)
		}
	}
	r.mu.Unlock()
	r.changed()
}

// isOurs reports whether an error is one that says why a gauge is not heard, and not one of its lead.
func isOurs(err error) bool {
	return errors.As(err, new(*refused))
}

// refused is an error that says why a gauge is not heard.
type refused struct{ error }

func (e *refused) Unwrap() error { return e.error }

func sentence(err error) string { return say.Capital(plain.Words(err)) + "." }

func (r *Room) changed() {
	r.mu.Lock()
	change := r.change
	r.mu.Unlock()
	if change != nil {
		change()
	}
}

func (r *Room) take(h *heard, samples []gauge.Sample) {
	r.mu.Lock()
	defer r.mu.Unlock()
	h.last = time.Now()
	for _, s := range samples {
		h.watch.Take(s)
		v := h.watch.View()
		if v.Pull != h.pull {
			h.pull, h.first, h.points = v.Pull, 0, nil
		}
		if v.Phase.UnderWay() {
			h.points = append(h.points, s)
			if over := len(h.points) - mostPoints; over > 0 {
				h.points, h.first = h.points[over:], h.first+over
			}
		}
	}
}

// mostPoints of a pull are held for those who follow.
const mostPoints = 60000

// followed returns the gauge that is followed, of those for cranking or for air: the first that came, unless another was chosen. The
// room is locked.
func (r *Room) followed(air bool) *heard {
	for _, h := range r.all {
		if (h.head.Kind == gauge.LeakDown) == air {
			return h
		}
	}
	return nil
}

// Follow makes the gauge of that id the one that is followed; false where there is none.
func (r *Room) Follow(id int) bool {
	r.mu.Lock()
	at := slices.IndexFunc(r.all, func(h *heard) bool { return h.id == id })
	if at >= 0 {
		one := r.all[at]
		r.all = slices.Insert(slices.Delete(r.all, at, at+1), 0, one)
	}
	r.mu.Unlock()
	r.changed()
	return at >= 0
}

// Seen is how far a follower has come: the pull, and how many of its points it has had.
type Seen struct{ gauge, pull, points int }

// Now says what is heard of a cranking, or of air; with the points of the pull that came since seen: seconds since the pull began, and
// kPa.
func (r *Room) Now(air bool, seen *Seen) (now Now, seconds, kpa []float64) {
	r.mu.Lock()
	defer r.mu.Unlock()
	now = Now{Gauges: []Gauge{}, Fault: r.fault}
	for _, one := range r.asking {
		now.Asking = append(now.Asking, Caller{one.id, one.head.Name, one.from})
	}
	h := r.followed(air)
	for _, one := range r.all {
		followed := one == r.followed(one.head.Kind == gauge.LeakDown)
		now.Gauges = append(now.Gauges, Gauge{one.id, one.head.Name, string(one.head.Kind), one.from, followed})
	}
	if h == nil {
		return now, nil, nil
	}
	v := h.watch.View()
	now.Phase, now.Pull, now.KPa, now.Reading, now.Supply = v.Phase, v.Pull, v.KPa, v.Reading, v.Supply
	now.Beats, now.RPM, now.Seconds = v.Beats, v.RPM, v.Seconds
	now.Silent = time.Since(h.last) > silentFor
	if seen == nil || len(h.points) == 0 {
		return now, nil, nil
	}
	if seen.gauge != h.id || seen.pull != h.pull {
		*seen = Seen{h.id, h.pull, 0}
	}
	begun := h.points[0].Seconds
	for _, s := range h.points[min(max(0, seen.points-h.first), len(h.points)):] {
		seconds, kpa = append(seconds, s.Seconds-begun), append(kpa, s.KPa)
	}
	seen.points = h.first + len(h.points)
	return now, seconds, kpa
}

// Shows returns what the gauge shows that is plugged in at a place, for cranking or for air, whoever is followed: gauge kPa, and of a
// leak-down tester its supply; nothing where none is there.
func (r *Room) Shows(from string, air bool) (kpa, supply float64) {
	r.mu.Lock()
	defer r.mu.Unlock()
	for _, h := range r.all {
		if h.from == from && (h.head.Kind == gauge.LeakDown) == air {
			v := h.watch.View()
			return v.KPa, v.Supply
		}
	}
	return 0, 0
}

// What a pull cannot be taken for.
var (
	ErrNoGauge = say.Error("gauges.no-gauge-connected-type-what")
	ErrNoPull  = say.Error("gauges.gauge-has-no-reading-isnt")
)

// Taking is a pull that is taken: its samples, and what was seen of it.
type Taking struct {
	Head    gauge.Head
	View    gauge.View
	Samples []gauge.Sample
}

// Take gives the pull that the gauge shows to whoever asks first, and waits for the gauge to be vented before there is another. A number
// above 0 has to be that pull's.
func (r *Room) Take(air bool, pull int) (Taking, error) {
	r.mu.Lock()
	h := r.followed(air)
	if h == nil {
		r.mu.Unlock()
		return Taking{}, ErrNoGauge
	}
	v := h.watch.View()
	if !v.Phase.UnderWay() || pull > 0 && pull != v.Pull {
		r.mu.Unlock()
		return Taking{}, ErrNoPull
	}
	out := Taking{h.head, v, h.watch.Recording()}
	h.watch.Taken()
	r.mu.Unlock()
	h.hand("kept")
	return out, nil
}

// Tell tells the gauges what the sheet wants: a line of docs/gauge.md. Turns is how many turns of the crank lie between
// two beats of what is tested.
func (r *Room) Tell(line string, turns float64) {
	r.mu.Lock()
	defer r.mu.Unlock()
	r.told, r.turns = line, turns
	for _, h := range r.all {
		h.watch.Turns = turns
		h.hand(line)
	}
}

func (h *heard) hand(line string) {
	select {
	case h.say <- line:
	default: // it does not listen
	}
}
