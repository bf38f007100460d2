package season

import (
	"cmp"
	"math"
	"slices"
	"time"

	"braxel/internal/core/ahead"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// terms are those of a workshop, with the built-in figure for each that it left open.
func terms(t ahead.Terms) ahead.Terms {
	or := func(v *float64, built float64) {
		if *v == 0 {
			*v = built
		}
	}
	or(&t.Chance, rules.SeasonChance)
	or(&t.Test, rules.TestHours)
	or(&t.Freshen, rules.FreshenHours)
	or(&t.Rebuild, rules.RebuildHours)
	or(&t.Swap, rules.SwapHours)
	or(&t.Day, rules.DayHours)
	if t.Lead == 0 {
		t.Lead = rules.LeadDays
	}
	return t
}

// Shop is a workshop with a season: what it typed, its engines and the day.
type Shop struct {
	Season  ahead.Season
	Engines []Engine
	Today   string
	terms   ahead.Terms
	meets   []ahead.Meeting // by date
	place   map[string]int  // of a meeting among them
	number  map[string]int  // of an engine
	seats   map[string]int  // of a car
	day     []int           // by event: the days from today until it
	ends    []int           // and until its last day
	ran     map[at]ahead.Start
	fit     [][]int // by car: the engines that fit it
	strays  float64 // how far the running at an event strays from what was foreseen, a share of it
}

// at is an engine or a car at an event.
type at struct{ one, meeting int }

// New returns a workshop's season, its events in order.
func New(s ahead.Season, engines []Engine, today string) *Shop {
	out := &Shop{
		Season: s, Engines: engines, Today: today, terms: terms(s.Terms),
		place: map[string]int{}, number: map[string]int{}, seats: map[string]int{},
	}
	out.meets = slices.Clone(s.Meetings)
	slices.SortStableFunc(out.meets, func(a, b ahead.Meeting) int {
		return cmp.Or(cmp.Compare(a.Date, b.Date), cmp.Compare(a.ID, b.ID))
	})
	for i, m := range out.meets {
		out.place[m.ID] = i
		out.day = append(out.day, days(today, m.Date))
		out.ends = append(out.ends, days(today, m.Last()))
	}
	for i, c := range s.Cars {
		out.seats[c.ID] = i
	}
	for i, e := range engines {
		out.number[e.ID] = i
	}
	out.broken()
	for _, c := range s.Cars {
		var fit []int
		for i, e := range engines {
			if fits(c, e.ID) && !e.Away {
				fit = append(fit, i)
			}
		}
		out.fit = append(out.fit, fit)
	}
	out.ran = out.index(Plan{Starts: s.Starts}).engines
	out.strays = out.strayed()
	return out
}

// broken has engines mended that broke at an event and have been neither tested nor built since.
func (s *Shop) broken() {
	s.Engines = slices.Clone(s.Engines)
	for _, x := range s.Season.Starts {
		i, known := s.number[x.Engine]
		k, held := s.place[x.Meeting]
		if !known || !held || !x.Broke {
			continue
		}
		if e, m := &s.Engines[i], s.meets[k]; e.sinceTest(m) && e.Built <= m.Last() {
			e.Broken = true
			e.Repair = say.Sentences(say.Text("season.it-broke", "name", m.Name), say.Sentence(x.Stopped))
		}
	}
}

// through takes an engine through an event: where it stands then, and its chance to be inside the limits at the end. Where nobody
// said how long it runs there, none is counted on.
func (s *Shop) through(i, k int, now state, x ahead.Start) (after state, chance float64) {
	e := s.Engines[i]
	running, known := s.running(e, s.meets[k], x)
	after, chance = e.runs(now, running, s.strayAt(i, k))
	after.mend = after.mend || x.Broke
	if !known && after.blind == 0 {
		after.blind = k + 1
	}
	if after.blind > 0 {
		chance = 0
	}
	return after, chance
}

// goes reports whether a car goes to an event.
func goes(m ahead.Meeting, car string) bool { return len(m.Cars) == 0 || slices.Contains(m.Cars, car) }

// fits reports whether an engine fits a car. One that nobody said anything of takes the engine that sits in it.
func fits(c ahead.Car, engine string) bool {
	return c.Sits == engine || slices.Contains(c.Engines, engine)
}

// past reports whether an event is over.
func (s *Shop) past(m ahead.Meeting) bool { return m.Last() < s.Today }

// daysTo returns the days until an event.
func (s *Shop) daysTo(m ahead.Meeting) int { return days(s.Today, m.Date) }

func days(from, to string) int {
	a, errA := time.Parse(time.DateOnly, from)
	b, errB := time.Parse(time.DateOnly, to)
	if errA != nil || errB != nil {
		return 0
	}
	const hours = 24
	return int(b.Sub(a).Hours() / hours)
}

// dayIn returns the day so many days from today.
func (s *Shop) dayIn(n int) string {
	day, err := time.Parse(time.DateOnly, s.Today)
	if err != nil {
		return s.Today
	}
	return day.AddDate(0, 0, n).Format(time.DateOnly)
}

// overlap reports whether two events share a day.
func overlap(a, b ahead.Meeting) bool { return a.Date <= b.Last() && b.Date <= a.Last() }

// Plan is which engine runs where, and the work between.
type Plan struct {
	Starts []ahead.Start `json:"starts"`
	Jobs   []ahead.Job   `json:"jobs"`
}

// typed is the plan as it was typed.
func (s *Shop) typed() Plan { return Plan{s.Season.Starts, s.Season.Jobs} }

// indexed is a plan by where things stand: the starts by car and by engine, the heaviest work on an engine before an event.
type indexed struct {
	cars, engines map[at]ahead.Start
	work          map[at]ahead.Work
	jobs          map[at][]ahead.Job
}

func (s *Shop) index(p Plan) indexed {
	x := indexed{map[at]ahead.Start{}, map[at]ahead.Start{}, map[at]ahead.Work{}, map[at][]ahead.Job{}}
	for _, one := range p.Starts {
		k, there := s.place[one.Meeting]
		if !there {
			continue
		}
		n, seated := s.seats[one.Car]
		if !seated && !s.past(s.meets[k]) {
			continue // its car was taken out of the season
		}
		if seated {
			x.cars[at{n, k}] = one
		}
		if i, ok := s.number[one.Engine]; ok {
			x.engines[at{i, k}] = one
		}
	}
	for _, j := range p.Jobs {
		k, there := s.place[j.Before]
		i, ok := s.number[j.Engine]
		if !there || !ok {
			continue
		}
		if j.Done == "" {
			j.Done = s.inLog(x, i, k, j)
		}
		x.jobs[at{i, k}] = append(x.jobs[at{i, k}], j)
		if s.counts(s.Engines[i], s.meets[k], j) && heavier(j.Work, x.work[at{i, k}]) {
			x.work[at{i, k}] = j.Work
		}
	}
	return x
}

// inLog returns the day on which planned work was done, by the engine's log; "" where it wasn't yet. A test isn't that before an
// event if the engine runs between.
func (s *Shop) inLog(x indexed, i, k int, j ahead.Job) string {
	e := s.Engines[i]
	day := e.Tested
	if j.Work != ahead.Test {
		day = e.Built
	}
	if j.Planned == "" || day < j.Planned {
		return ""
	}
	for n := range k {
		if _, runs := x.engines[at{i, n}]; runs && j.Work == ahead.Test && e.sinceTest(s.meets[n]) {
			return ""
		}
	}
	return day
}

// counts reports whether work on an engine isn't in its log yet.
func (s *Shop) counts(e Engine, m ahead.Meeting, j ahead.Job) bool {
	switch {
	case j.Done != "":
		return j.Done > e.Tested && j.Work != ahead.Test
	case s.past(m):
		return false // it wasn't done
	}
	return true
}

// running returns how long an engine runs at an event, in its own meter: as it really ran, else as foreseen.
func (s *Shop) running(e Engine, m ahead.Meeting, x ahead.Start) (float64, bool) {
	if x.Ran != nil {
		times := cmp.Or(m.Times, 1)
		return *x.Ran * times, true
	}
	return m.Running(e.Life.Unit)
}

var weights = map[ahead.Work]int{"": 0, ahead.Test: 1, ahead.Freshen: 2, ahead.Rebuild: 3}

func heavier(a, b ahead.Work) bool { return weights[a] > weights[b] }

func (s *Shop) planned(engine string) bool {
	return slices.ContainsFunc(s.Season.Starts, func(x ahead.Start) bool { return x.Engine == engine })
}

func (s *Shop) engineName(id string) string {
	if i, ok := s.number[id]; ok {
		return s.Engines[i].Name
	}
	return id
}

// strayAt returns by what share the running of an engine at an event may stray: none where it was entered.
func (s *Shop) strayAt(engine, meeting int) float64 {
	if s.ran[at{engine, meeting}].Ran != nil {
		return 0
	}
	return s.strays
}

// strayed returns how far running strays in this workshop: what is usual, and what came of its own events, each as a share of what was
// foreseen. What is usual counts as RunningWeighs of its events.
func (s *Shop) strayed() float64 {
	const far = 3 * rules.RunningSD // a day that went quite otherwise counts as this much
	sum, n := rules.RunningWeighs*rules.RunningSD*rules.RunningSD, rules.RunningWeighs
	for _, x := range s.Season.Starts {
		i, there := s.number[x.Engine]
		k, held := s.place[x.Meeting]
		if !there || !held || x.Ran == nil {
			continue
		}
		e, m := s.Engines[i], s.meets[k]
		if foreseen, known := m.Running(e.Life.Unit); known {
			ran, _ := s.running(e, m, x)
			off := ran/foreseen - 1
			sum += min(off*off, far*far)
			n++
		}
	}
	return math.Sqrt(sum / n)
}

// How many times over the owner's chance a risk may be to be called near, and over. [–; judgement]
const nearTimes, overTimes = 2, 5

// level says how a chance stands against what the owner takes: fine within it, near within twice as much, over within five times as much,
// far beyond.
func (s *Shop) level(inside float64) string {
	switch risk := 1 - inside; {
	case risk <= s.terms.Chance:
		return "fine"
	case risk <= nearTimes*s.terms.Chance:
		return "near"
	case risk <= overTimes*s.terms.Chance:
		return "over"
	}
	return "far"
}
