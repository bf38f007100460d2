package practice

import (
	"slices"
	"time"

	"braxel/internal/core/bench"
	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// Case is an engine that somebody practises on: what is hidden in it, how it stands, what was done to it.
type Case struct {
	ID       string       `json:"id"`   // the engine's
	Test     string       `json:"test"` // the last; one that was run warm has two
	Lesson   Lesson       `json:"lesson"`
	Seed     uint64       `json:"seed"`
	State    bench.State  `json:"state"`
	Acts     []Act        `json:"acts,omitempty"`
	True     bool         `json:"true_gauge,omitzero"`
	Sought   map[int]bool `json:"sought,omitempty"` // cylinders whose dead centre was found anew
	Begun    string       `json:"begun"`
	Decision *Decision    `json:"decision,omitempty"`
}

// Decision is what somebody takes an engine for, and whether it is run.
type Decision struct {
	Kind      string `json:"kind" maxLength:"40"`
	Cylinders []int  `json:"cylinders,omitempty" maxItems:"2"`
	Run       bool   `json:"run"`
	At        string `json:"at,omitzero"`
}

// New begins a case.
func (c Course) New(id, test string, l Lesson, seed uint64, now time.Time) Case {
	k := Case{ID: id, Test: test, Lesson: l, Seed: seed, Begun: stamp(now)}
	k.State = c.Bench(k).Begin(l.Cold)
	return k
}

// Bench returns the engine of a case, as the bench has it.
func (c Course) Bench(k Case) *bench.Engine { return bench.New(c.Spec(k.Lesson, k.Seed)) }

// Gauge returns the gauge that is on the engine of a case.
func (c Course) Gauge(k Case) bench.Gauge {
	g := bench.Shop
	if !k.True {
		g.Scale = c.Bench(k).Scale()
	}
	return g
}

// Do does something to the engine of a case. Air says whether there is air on the cylinder. What is to be written on the sheet, if
// anything, is returned beside. Errors name the field that is wrong.
func (c Course) Do(k Case, a Act, air bool, now time.Time) (Case, Act, *log.Observation, error) {
	if k.Decision != nil {
		return k, a, nil, say.Error("practice.what-you-have-already-decided")
	}
	out, err := act(c, k.Lesson, c.Bench(k), k.State, air, a)
	if err != nil {
		return k, a, nil, err
	}
	out.Act.At = stamp(now)
	k.State, k.True = out.State, k.True || out.True
	k.Acts = append(k.Acts[:len(k.Acts):len(k.Acts)], out.Act)
	if out.Found {
		sought := map[int]bool{a.Cylinder: true}
		for c, is := range k.Sought {
			sought[c] = is
		}
		k.Sought = sought
	}
	return k, out.Act, out.Look, nil
}

// stamp is a time as a book has it.
func stamp(t time.Time) string { return t.UTC().Format(book.Clock) }

// Decide decides a case. Errors name the field that is wrong.
func (c Course) Decide(k *Case, d Decision, now time.Time) error {
	if k.Decision != nil {
		return say.Error("practice.kind-you-have-already-decided")
	}
	e := c.Engines[k.Lesson.Engine]
	choices := Choices(e.Kind)
	i := slices.IndexFunc(choices, func(one Choice) bool { return one.Kind == d.Kind })
	if i < 0 {
		return say.Error("practice.kind-say-what-fault-or")
	}
	choice := choices[i]
	for _, n := range d.Cylinders {
		if !e.Has(e.Place(n)) {
			return say.Error("practice.cylinders-engine-has-no", "n", n)
		}
	}
	if len(d.Cylinders) != choice.Of {
		return say.Error("practice.cylinders",
			"value", [...]string{
				say.Text("practice.none-them"),
				say.Text("practice.say-which-one"),
				say.Text("practice.say-which-two-between"),
			}[choice.Of],
		)
	}
	d.At = stamp(now)
	k.Decision = &d
	return nil
}

// Right reports whether what, where and whether it is run were decided right.
func (k Case) Right() bool {
	truth := mainFault(k.Lesson)
	return k.Decision != nil && k.Decision.Kind == truth.Kind && sameWhere(k.Decision.Cylinders, truth) && k.Decision.Run == runs(k.Lesson)
}
