package season

import (
	"cmp"
	"slices"
	"time"

	"braxel/internal/core/ahead"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// Board is a season as it stands: engines down, events across.
type Board struct {
	Today    string        `json:"today" format:"date"`
	Meetings []MeetingHead `json:"meetings" doc:"By date"`
	Engines  []EngineRow   `json:"engines"`
	Cars     []ahead.Car   `json:"cars"`
	Terms    ahead.Terms   `json:"terms" doc:"The built-in figures included"`
	Typed    ahead.Terms   `json:"typed" doc:"As the workshop typed them"`
	Price    Price         `json:"price" doc:"What the rest of the season comes to as it is planned"`
	Problems []Problem     `json:"problems"`
	Next     *NextMeeting  `json:"next,omitempty" doc:"The next event, with what has to be done before it"`
	Record   Record        `json:"record" doc:"How often the chances given were right"`
}

// MeetingHead is an event with where it stands.
type MeetingHead struct {
	ahead.Meeting
	Past bool `json:"past,omitzero"`
	Days int  `json:"days" doc:"Until it; negative when it has begun"`
}

// EngineRow is an engine's way through the season.
type EngineRow struct {
	Engine   string  `json:"engine"`
	Name     string  `json:"name"`
	Unit     string  `json:"unit,omitzero"`
	Known    bool    `json:"known" doc:"False where its tests say too little to do better than the general rate"`
	Tests    int     `json:"tests"`
	GoodFor  float64 `json:"good_for,omitzero" doc:"The running for which it is inside nine times in ten, from now"`
	Sentence string  `json:"sentence"`
	Repair   string  `json:"repair,omitzero" doc:"What its last test says has to be mended before it runs"`
	Cells    []Cell  `json:"cells" doc:"One for each event, in their order"`
}

// Cell is an engine at an event.
type Cell struct {
	Meeting string    `json:"meeting"`
	Car     string    `json:"car,omitzero" doc:"The car that it runs in; none: it doesn't run there"`
	Chance  float64   `json:"chance,omitzero" doc:"That it is inside its limits at the end"`
	Running float64   `json:"running,omitzero" doc:"In its own meter, as it counts for wear"`
	Level   string    `json:"level,omitzero" enum:"fine,near,past" doc:"Against the owner's chance"`
	Unknown bool      `json:"unknown,omitzero" doc:"Nobody said how long it runs there in its meter"`
	Pinned  bool      `json:"pinned,omitzero"`
	Ran     *float64  `json:"ran,omitempty"`
	Stopped string    `json:"stopped,omitzero"`
	Jobs    []CellJob `json:"jobs,omitempty" doc:"Work on it before the event"`
	Words   string    `json:"words,omitzero"`
}

// CellJob is work on an engine before an event.
type CellJob struct {
	ID     string     `json:"id"`
	Work   ahead.Work `json:"work" enum:"test,freshen,rebuild"`
	Pinned bool       `json:"pinned,omitzero"`
	Done   string     `json:"done,omitzero" format:"date"`
}

// Problem is something in what was typed that no plan can meet.
type Problem struct {
	Words   string `json:"words"`
	Meeting string `json:"meeting,omitzero"`
	Engine  string `json:"engine,omitzero"`
}

// Level says how a chance stands against what the owner takes: fine within it, near within twice as much, past beyond.
func (s *Shop) level(inside float64) string {
	switch risk := 1 - inside; {
	case risk <= s.terms.Chance:
		return "fine"
	case risk <= 2*s.terms.Chance:
		return "near"
	}
	return "past"
}

// Board lays the season out as it is typed.
func (s *Shop) Board() Board {
	b := Board{
		Today: s.Today, Cars: append([]ahead.Car{}, s.Season.Cars...), Terms: s.terms, Typed: s.Season.Terms,
		Engines: []EngineRow{}, Meetings: []MeetingHead{}, Problems: append([]Problem{}, s.problems()...),
	}
	for _, m := range s.meets {
		b.Meetings = append(b.Meetings, MeetingHead{m, s.past(m), s.daysTo(m)})
	}
	p := s.index(s.typed())
	for i, e := range s.Engines {
		if !e.Away || s.planned(e.ID) {
			b.Engines = append(b.Engines, s.row(i, p))
		}
	}
	b.Price = s.Price(s.typed())
	b.Next = s.next(b)
	return b
}

func (s *Shop) planned(engine string) bool {
	return slices.ContainsFunc(s.Season.Starts, func(x ahead.Start) bool { return x.Engine == engine })
}

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

// row follows an engine through the season by a plan.
func (s *Shop) row(i int, p indexed) EngineRow {
	e := s.Engines[i]
	r := EngineRow{
		Engine: e.ID, Name: e.Name, Unit: e.Life.Unit, Known: e.Life.Known, Tests: e.Life.Tests, Repair: e.Repair, Cells: []Cell{},
	}
	now := e.begin()
	ran := 0.0
	for k, m := range s.meets {
		c := Cell{Meeting: m.ID}
		for _, j := range p.jobs[at{i, k}] {
			c.Jobs = append(c.Jobs, CellJob{j.ID, j.Work, j.Pinned, j.Done})
			if s.counts(e, m, j) {
				now = e.after(now, j.Work)
				if j.Work != ahead.Test {
					ran = 0
				}
			}
		}
		if x, runs := p.engines[at{i, k}]; runs {
			c.Car, c.Pinned, c.Ran, c.Stopped = x.Car, x.Pinned, x.Ran, x.Stopped
			running, known := s.running(e, m, x)
			c.Running, c.Unknown = running, !known
			if e.sinceTest(m) {
				now, c.Chance = e.runs(now, running)
				if s.past(m) {
					ran += running
				}
				c.Level = s.level(c.Chance)
				c.Words = s.cellWords(e, m, c)
			}
		}
		r.Cells = append(r.Cells, c)
	}
	r.GoodFor = max(0, e.Life.Until(rules.NineInTen)-ran)
	r.Sentence = s.rowWords(e, r)
	return r
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

// problems names what was typed and no plan can meet.
func (s *Shop) problems() []Problem {
	var all []Problem
	add := func(meeting, engine, id string, pairs ...any) {
		all = append(all, Problem{say.Text(id, pairs...), meeting, engine})
	}
	here, of := map[string][]ahead.Start{}, map[string][]ahead.Start{}
	for _, x := range s.Season.Starts {
		if x.Engine != "" {
			here[x.Meeting], of[x.Engine] = append(here[x.Meeting], x), append(of[x.Engine], x)
		}
	}
	for k, m := range s.meets {
		if len(s.Season.Cars) > 0 && m.Hours == 0 && m.Km == 0 && m.Runs == 0 && !s.past(m) {
			add(m.ID, "", "season.how-long-do-engines-run", "name", m.Name)
		}
		for _, x := range here[m.ID] {
			i, known := s.number[x.Engine]
			if !known {
				add(m.ID, x.Engine, "season.engine-gone", "name", m.Name)
				continue
			}
			e := s.Engines[i]
			switch _, said := s.running(e, m, x); {
			case e.Life.Unit == "":
				add(m.ID, e.ID, "season.no-meter", "engine", e.Name)
			case !said && (m.Hours > 0 || m.Km > 0 || m.Runs > 0):
				add(m.ID, e.ID, "season.meter-of-another-unit", "engine", e.Name, "unit", e.Life.Unit, "name", m.Name)
			}
			for _, y := range of[x.Engine] {
				j, there := s.place[y.Meeting]
				if !there || y.ID <= x.ID {
					continue
				}
				if other := s.meets[j]; overlap(m, other) {
					add(m.ID, e.ID, "season.in-two-places", "engine", e.Name, "name", m.Name, "other", other.Name, "date", say.Day(max(m.Date, other.Date)))
				}
			}
		}
		for _, other := range s.meets[k+1:] {
			if other.Date > m.Last() {
				break
			}
			for _, c := range s.Season.Cars {
				if overlap(m, other) && goes(m, c.ID) && goes(other, c.ID) && !s.past(m) {
					add(m.ID, "", "season.car-in-two-places", "car", c.Name, "name", m.Name, "other", other.Name)
				}
			}
		}
	}
	const most = 50
	return all[:min(len(all), most)]
}

// overlap reports whether two events share a day.
func overlap(a, b ahead.Meeting) bool { return a.Date <= b.Last() && b.Date <= a.Last() }
