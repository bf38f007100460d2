package book

import (
	"strings"
	"time"

	"github.com/go-json-experiment/json"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// Around is what an entry is asked about by, beside its own book: the workshop's, the day, and whether another engine has a name.
type Around struct {
	Shop  *Book
	Now   time.Time
	Named func(name string) bool
}

// Questions returns what is asked before an entry is kept that Admit let in and that nobody called sure: what may be meant, and
// mostly is a slip of the hand.
func (b *Book) Questions(e Entry, around Around) log.Faults {
	switch e.Kind {
	case Engine:
		var v log.Engine
		if json.Unmarshal(e.Body, &v) == nil && v.Name != "" && around.Named(v.Name) {
			return log.Faults{log.At("/name", "book.there-already-engine-called-another", "name", v.Name)}
		}
	case Event:
		v, _ := read[log.Event](&e)
		return append(b.toCome(around, v.Date), b.backwards(around, "", v.Date, v.Meter)...)
	case Note:
		v, _ := read[log.Note](&e)
		return b.toCome(around, v.Date)
	case PutOff:
		if v, _ := read[log.PutOff](&e); v.Until <= around.Now.Format(time.DateOnly) {
			return log.Faults{log.At("/until", "book.not-future-so-would-due", "until", v.Until)}
		}
	case Build:
		v, _ := read[log.Build](&e)
		return b.toCome(around, v.Date)
	case Test, Whole:
		return b.questionsOfTest(e, around)
	case Look:
		v, _ := read[LookBody](&e)
		return append(negative(v.Observation), beyond(v.Observation)...)
	case Pull:
		v, _ := read[PullBody](&e)
		return volts("/battery_v", v.BatteryV)
	case Tester:
		var v log.Tester
		_ = json.Unmarshal(e.Body, &v)
		return around.Shop.sameTester(v)
	}
	return nil
}

// questionsOfTest asks about what a change of a test's head says, in the test as it would then be.
func (b *Book) questionsOfTest(e Entry, around Around) log.Faults {
	var said log.Session
	_ = json.Unmarshal(e.Body, &said)
	now := said
	if t := b.tests[said.ID]; t != nil {
		now, _, _ = fold(t.head().with(&e), b.struck, func(log.Session) log.Faults { return nil })
	}
	f := b.toCome(around, said.Date)
	if said.Meter != nil || said.Date != "" {
		f = append(f, b.backwards(around, now.ID, now.Date, now.Meter)...)
	}
	f = append(f, volts("/conditions/battery_v", said.Conditions.BatteryV)...)
	return append(f, volts("/conditions/battery_end_v", said.Conditions.BatteryEnd)...)
}

// How far ahead a date may lie unasked: a day, for who is further east; where an engine's tests lie in days to come already,
// a year after the last of them.
const (
	aDay    = 24 * time.Hour
	aheadOf = 366 * 24 * time.Hour
)

// toCome asks about a date that is still to come.
func (b *Book) toCome(around Around, date string) log.Faults {
	if date == "" {
		return nil
	}
	latest := around.Now.Add(aDay).Format(time.DateOnly)
	for _, s := range b.Log(around.Shop).Standing().Sessions {
		if day, err := time.Parse(time.DateOnly, s.Date); err == nil && day.After(around.Now) {
			latest = max(latest, day.Add(aheadOf).Format(time.DateOnly))
		}
	}
	if date <= latest {
		return nil
	}
	return log.Faults{log.At("/date", "book.future-right-date", "date", date)}
}

// backwards asks about a meter that read more on an earlier day, or less on a later one.
func (b *Book) backwards(around Around, test, date string, meter *float64) log.Faults {
	if meter == nil || date == "" {
		return nil
	}
	for _, s := range b.Log(around.Shop).Standing().Sessions {
		if s.ID == test || s.Meter == nil {
			continue
		}
		if before := s.Date < date && *s.Meter > *meter; before || (s.Date > date && *s.Meter < *meter) {
			return log.Faults{log.At("/meter", "book.meter-read-would-mean-ran",
				"meter", *s.Meter,
				"date", s.Date,
				"meter2", *meter,
				"date2", date)}
		}
	}
	return nil
}

// Voltages of starter batteries, 6 to 24 V, flat to charging; racers start some engines on 16 V.
const (
	flattest = 4.0
	fullest  = 32.0
)

func volts(at string, v float64) log.Faults {
	if v == 0 || (v >= flattest && v <= fullest) {
		return nil
	}
	return log.Faults{log.At(at, "book.v-right-for-battery", "v", v)}
}

// negative asks about a measure below nothing, of what has none.
func negative(o log.Observation) log.Faults {
	below := map[string]string{
		"oil-pressure": say.Text("book.oil-pressure"),
		"end-play":     say.Text("book.end-play"),
		"lash":         say.Text("book.valve-lash"),
	}[o.What]
	if o.Value == nil || *o.Value >= 0 || below == "" {
		return nil
	}
	return log.Faults{log.At("/value", "book.can-below-zero", "below", below, "value", *o.Value)}
}

// beyond asks about a measure that no engine comes near.
func beyond(o log.Observation) log.Faults {
	most, known := rules.MeasuredMost(o.What, o.Unit)
	if !known || o.Value == nil || *o.Value <= most {
		return nil
	}
	return log.Faults{log.At("/value", "book.can-so-much", "value", *o.Value, "unit", o.Unit, "most", most)}
}

// sameTester asks about a tester that would be called as another is.
func (b *Book) sameTester(t log.Tester) log.Faults {
	for _, have := range b.Testers() {
		if have.ID != t.ID && t.Name != "" && SameName(have.Name, t.Name) {
			return log.Faults{log.At("/name", "book.there-already-tester-called-another", "name", have.Name)}
		}
	}
	return nil
}

// SameName reports whether two would be taken for one another on a list.
func SameName(a, b string) bool { return strings.EqualFold(strings.TrimSpace(a), strings.TrimSpace(b)) }
