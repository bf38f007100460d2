package book

import (
	"slices"

	"braxel/internal/core/ahead"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// AheadKinds are the kinds of what a workshop has ahead of it.
var AheadKinds = []string{Meeting, Car, Start, Job, Terms}

func isAhead(kind string) bool { return slices.Contains(AheadKinds, kind) }

// OfSeason reports whether an entry is of a season, or strikes what is: engines are judged without it.
func (b *Book) OfSeason(e Entry) bool {
	if e.Kind == Strike || e.Kind == Unstrike {
		body, f := read[MarkBody](&e)
		struck, ok := b.Entry(body.Entry)
		return len(f) == 0 && ok && isAhead(struck.Kind)
	}
	return isAhead(e.Kind)
}

// The names by which the things of a season are filed.
func meetingID(m ahead.Meeting) string { return m.ID }
func carID(c ahead.Car) string         { return c.ID }
func startID(s ahead.Start) string     { return s.ID }
func jobID(j ahead.Job) string         { return j.ID }
func oneTerms(ahead.Terms) string      { return Terms }

func (b *Book) placeAhead(e *Entry) log.Faults {
	all := b.season[e.Kind]
	switch e.Kind {
	case Meeting:
		return addThing[ahead.Meeting](all, e, meetingID)
	case Car:
		return addThing[ahead.Car](all, e, carID)
	case Start:
		return addThing[ahead.Start](all, e, startID)
	case Job:
		return addThing[ahead.Job](all, e, jobID)
	}
	return addThing[ahead.Terms](all, e, oneTerms)
}

func (b *Book) admitAhead(e Entry) log.Faults {
	all := b.season[e.Kind]
	switch e.Kind {
	case Meeting:
		return admitThing(all, b, e, meetingID, ahead.Meeting.Check)
	case Car:
		return admitThing(all, b, e, carID, byFields[ahead.Car])
	case Start:
		return admitThing(all, b, e, startID, ahead.Start.Check)
	case Job:
		return admitThing(all, b, e, jobID, byFields[ahead.Job])
	}
	return admitThing(all, b, e, oneTerms, byFields[ahead.Terms])
}

// Season returns what the workshop has ahead of it.
func (b *Book) Season() ahead.Season {
	out := ahead.Season{
		Meetings: foldAll[ahead.Meeting](b.season[Meeting], b.struck),
		Cars:     foldAll[ahead.Car](b.season[Car], b.struck),
		Starts:   foldAll[ahead.Start](b.season[Start], b.struck),
		Jobs:     foldAll[ahead.Job](b.season[Job], b.struck),
	}
	// Unlike a thing that was begun, the terms stay when their first change is struck.
	stands := slices.DeleteFunc(slices.Clone(b.season[Terms][Terms]), func(e *Entry) bool { return b.struck(e.ID) != "" })
	out.Terms, _, _ = fold(stands, b.struck, byFields[ahead.Terms])
	out.Meetings = slices.DeleteFunc(out.Meetings, func(m ahead.Meeting) bool { return m.Off })
	out.Cars = slices.DeleteFunc(out.Cars, func(c ahead.Car) bool { return c.Off })
	out.Starts = slices.DeleteFunc(out.Starts, func(x ahead.Start) bool { return x.Off })
	out.Jobs = slices.DeleteFunc(out.Jobs, func(j ahead.Job) bool { return j.Off })
	return out
}

// wordsOfAhead says what an entry of a season says.
func (b *Book) wordsOfAhead(e Entry, shown units.Choice) (string, bool) {
	switch e.Kind {
	case Meeting:
		if m, f := read[ahead.Meeting](&e); len(f) == 0 {
			return say.Text("book.season-event", "name", m.Name, "date", shown.Day(m.Date)), true
		}
	case Car:
		if c, f := read[ahead.Car](&e); len(f) == 0 {
			return say.Text("book.season-car", "name", c.Name), true
		}
	case Start:
		if s, f := read[ahead.Start](&e); len(f) == 0 {
			if s.Ran != nil {
				return say.Text("book.season-ran", "engine", s.Engine, "ran", *s.Ran, "meeting", s.Meeting), true
			}
			return say.Text("book.season-start", "engine", s.Engine, "meeting", s.Meeting, "car", s.Car), true
		}
	case Job:
		if j, f := read[ahead.Job](&e); len(f) == 0 {
			id := "book.season-job"
			if j.Off {
				id = "book.season-job-off"
			}
			return say.Text(id, "work", say.Text("book.work-"+string(j.Work)), "engine", j.Engine, "meeting", j.Before), true
		}
	}
	return "", false
}
