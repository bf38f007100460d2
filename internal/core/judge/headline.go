package judge

import (
	"math"
	"unicode/utf8"

	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// HeadlineMost is how long a headline may be, in letters: what a row of the rack, a phone and a tag have room for.
const HeadlineMost = 60

// headline says the one thing that matters of a visit, in a line.
func headline(on *subject, out Session, d change) string {
	if out.Partial {
		return say.Text("judge.head-partial", "read", len(out.Cylinders), "all", len(on.order))
	}
	if len(out.Faults) > 0 {
		return headOfFaults(on, out)
	}
	if allAlike(out, d) {
		return headOfAll(out)
	}
	if r := out.Repaired; r != nil && (r.Worked == Surely || r.Worked == Probably) {
		line := say.Text("judge.head-repaired-"+string(r.Worked), "who", on.those(r.Cylinders), "it", r.The)
		return fitting(line, say.Text("judge.head-repaired", "it", r.The))
	}
	for _, what := range []What{TakenOff, LeaksWithAll, Sank, Stepped, BankApart, AllMoved, AllAsTested, AllLow, FirstTest, FirstFound, FirstKnown, Into, NothingNew} {
		f, ok := named(out.Facts, what)
		if !ok {
			continue
		}
		id, who := "judge.head-"+string(what), on.names(f.Cylinders)
		if what == TakenOff {
			who = on.those(f.Cylinders)
		}
		if what == AllMoved && f.Value > 0 {
			id += "-up"
		}
		if what == AllAsTested {
			return say.Text(id)
		}
		line := say.Text(id, "value", math.Abs(f.Value), "who", who)
		return fitting(withCause(line, out.Causes), line)
	}
	return say.Text("judge.head-steady")
}

// headOfFaults names the worst fault and how many more there are: "5 and 7: head gasket between them".
func headOfFaults(on *subject, out Session) string {
	f := out.Faults[0]
	who := on.those(f.Cylinders)
	if len(f.Cylinders) > 1 {
		who = on.names(f.Cylinders)
	}
	line := headOfFault(who, out.Of(f.Cylinders[0]), f)
	if more := len(out.Faults) - 1; more > 0 {
		return fitting(say.Text("judge.head-and-more", "head", line, "n", more), line)
	}
	return line
}

func headOfFault(who string, c Cylinder, f Fault) string {
	if f.State == Retest {
		if !c.doubted() {
			return say.Text("judge.head-cold", "who", who)
		}
		if f.Next != nil && f.Next.Test == "repeat-leakdown" {
			return say.Text("judge.head-repeat-leakdown", "who", who)
		}
		return say.Text("judge.head-repeat", "who", who)
	}
	top := f.Causes[0]
	short := say.Text("judge.head-fault", "who", who)
	switch {
	case top.Probability >= rules.MostLikely:
		return fitting(say.Text("judge.head-cause", "who", who, "cause", top.Words), short)
	case top.Probability >= rules.Probably:
		return fitting(
			say.Text("judge.head-probably", "who", who, "cause", top.Words),
			say.Text("judge.head-cause", "who", who, "cause", top.Words), short,
		)
	}
	for _, what := range []What{Down, LeakUp, PullOnce, LeakOnce} {
		if fact, ok := named(c.Facts, what); ok {
			return fitting(say.Text("judge.head-"+string(what), "who", who, "value", fact.Value), short)
		}
	}
	return short
}

// headOfAll says what every cylinder does.
func headOfAll(out Session) string {
	last := out.Cylinders[0].Facts[len(out.Cylinders[0].Facts)-1]
	line := say.Text("judge.head-all-"+string(last.What), "value", last.Value)
	return fitting(withCause(line, out.Causes), line)
}

// withCause puts the likeliest cause behind a line.
func withCause(line string, causes []Cause) string {
	if len(causes) == 0 || causes[0].Class() == rules.Nothing {
		return line
	}
	switch top := causes[0]; {
	case top.Probability >= rules.MostLikely:
		return say.Text("judge.head-cause", "who", line, "cause", top.Words)
	case top.Probability >= rules.Probably:
		return say.Text("judge.head-probably", "who", line, "cause", top.Words)
	}
	return line
}

// fitting returns the first of the lines that is short enough, else the last.
func fitting(lines ...string) string {
	for _, line := range lines {
		if utf8.RuneCountInString(line) <= HeadlineMost {
			return line
		}
	}
	return lines[len(lines)-1]
}
