package judge

import (
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/story"
)

// origin is one way in which a fault may have begun: by running, part nil, or by what happened.
type origin struct {
	part  *story.Part
	rate  float64 // how often it makes a fault of one cylinder between two tests
	since bool    // it happened since the last test at which nothing showed
	use   float64 // between the test at which it was seen first and the one before, in intervals between tests
}

// path is how the size of a fault went from test to test.
type path int

// The paths. One that is unclear tells nothing; of one that was found nobody knows how it came.
const (
	unclear path = iota
	atOnce       // all of it between two tests
	small        // it has just begun to show
	grown        // test by test
)

// begun is how a fault may have begun, and how it came.
type begun struct {
	origins []origin
	came    path
	stays   int // of all cylinders: at how many tests before it was about as much
	engine  rules.Past
	heard   bool // somebody listened where the air comes out since it was first seen
}

// beganIn returns how a fault of a cylinder may have begun, by what is known of its tests and of what happened.
func beganIn(on *subject, known past, c int, s log.Session) begun {
	tests := known.points.of(c)
	first, came := pathOf(tests, rules.PaceLarge)
	b := begun{came: came, engine: pastOf(on, known, first)}
	b.heard = slices.ContainsFunc(tests[min(first, len(tests)):], func(p point) bool { return p.listened })
	from, since := on.builtOn(s), 1.0
	if first > 0 {
		from, since = tests[first-1].date, useBetween(on, tests[first-1], tests[first])
	}
	b.origins = append(b.origins, origin{rate: rules.Begins * since, use: since})
	n := float64(len(on.order))
	until := s.Date
	if len(tests) > 0 {
		until = tests[first].date
	}
	for i := range on.story {
		p := &on.story[i]
		if p.Date > until || p.Happened.Harm == 0 {
			continue
		}
		rate, late := p.Happened.Harm/n, first > 0 && after(tests[first-1], p)
		for k := first - 1; k >= 0 && after(tests[k], p); k-- {
			rate *= rules.FoundLate
		}
		if from == "" || first > 0 || p.Date >= from {
			b.origins = append(b.origins, origin{part: p, rate: rate, use: since, since: !late})
		}
	}
	if first > 0 {
		if stood := standing(tests[first-1], tests[first]); stood != nil {
			b.origins = append(b.origins, origin{part: stood, rate: stood.Happened.Harm / n * rules.StoodUnwritten, use: since})
		}
	}
	return b
}

// after reports whether a test lies after what happened: by the meter where both have it, which is read and not remembered, else by the
// day; of one day the test is the later.
func after(t point, p *story.Part) bool {
	if p.Meter != nil && !math.IsNaN(t.at) && t.at != *p.Meter {
		return t.at > *p.Meter
	}
	return t.date >= p.Date
}

// pastOf returns what is known of an engine before the test at which a fault was first seen.
func pastOf(on *subject, known past, first int) rules.Past {
	switch {
	case strange(on, known) && first == 0:
		return rules.AsFound
	case known.fresh && len(known.points) <= rules.BuiltTests:
		return rules.Built
	}
	return rules.HasRun
}

// strange reports whether nobody here saw the engine when it was right.
func strange(on *subject, known past) bool { return len(on.log.Builds) == 0 && !known.madeHere }

// builtOn returns the date of a session's build, "" where it is not known.
func (on *subject) builtOn(s log.Session) string {
	id := on.log.BuildOf(s)
	i := slices.IndexFunc(on.log.Builds, func(b log.Build) bool { return b.ID == id })
	if i < 0 {
		return ""
	}
	return on.log.Builds[i].Date
}

// graveSince reports whether something happened since the test before that wrecks engines.
func graveSince(on *subject, before past, s log.Session) bool {
	from := ""
	if n := len(before.tested); n > 0 {
		from = before.tested[n-1]
	}
	return slices.ContainsFunc(on.story, func(p story.Part) bool { return p.Happened.Grave && p.Date >= from && p.Date <= s.Date })
}

// useBetween returns how much an engine was used between two tests, in intervals of its duty; 1 where nobody knows.
func useBetween(on *subject, from, to point) float64 {
	by, months, _ := on.shop.TestedEvery(on.engine)
	use := 1.0
	switch days := daysBetween(from.date, to.date); {
	case by > 0 && to.at > from.at:
		use = (to.at - from.at) / by
	case months > 0 && days > 0:
		use = days / (daysOfMonth * float64(months))
	}
	return min(max(use, rules.UseLeast), rules.UseMost)
}

const daysOfMonth = 30.4

// standing returns that an engine stood between two tests, where they lie so far apart that it must have.
func standing(from, to point) *story.Part {
	if daysBetween(from.date, to.date) < rules.StoodDays {
		return nil
	}
	h, _ := rules.Happened().Of("stood")
	return &story.Part{Happened: h, Date: to.date, Guessed: true}
}

// pathOf returns at which test a fault showed first, and how it came; the last test is now.
func pathOf(tests []point, large float64) (first int, came path) {
	size := func(p point) float64 { return math.Max(0, p.leak) + math.Max(0, p.loss) }
	last := len(tests) - 1
	if last < 1 {
		return 0, unclear
	}
	now := 0.0
	for _, p := range tests {
		now = math.Max(now, size(p))
	}
	shows := math.Max(rules.PaceSmall, rules.PaceBegun*now)
	for first = last; first > 0 && size(tests[first-1]) >= shows; first-- {
	}
	switch {
	case first == 0:
		return 0, unclear
	case first == last && size(tests[first]) < large:
		return first, small
	case size(tests[first]) >= rules.PaceSudden*now:
		return first, atOnce
	case size(tests[first]) <= rules.PaceGradual*now:
		return first, grown
	}
	return first, unclear
}

// likely returns how likely a fault comes on a path, where it comes at once or grows, with so much use between the tests.
func (came path) likely(sudden bool, use float64) float64 {
	if sudden {
		return rules.PathSudden[came]
	}
	p := rules.PathGrows[came]
	if came == atOnce {
		p = min(p*max(use, rules.PathUseLeast), rules.PathGrowsMost)
	}
	return p
}

// chances returns how likely each cause is before what else was found on the cylinder is weighed: how often it begins in such a way, and
// how well its usual size goes with what was read. Without tells it of an engine to which nothing happened.
func chances(on *subject, b begun, a *belief.Amounts, oil oiled, pair, without bool) map[string]float64 {
	whole := 0.0
	for _, c := range on.table.Causes {
		if c.Scope != "engine" && c.Class != rules.IsInnocent {
			whole += c.In(on.engine, b.engine)
		}
	}
	out := make(map[string]float64, len(on.table.Causes))
	for _, c := range on.table.Causes {
		if c.Scope == "engine" || c.Class == rules.IsInnocent {
			continue
		}
		sudden, growing := amountsOf(c, a, pair, b.engine, false), amountsOf(c, a, pair, b.engine, true)
		for _, o := range b.origins {
			share, once, several := c.In(on.engine, b.engine)/whole, c.Sudden, rules.RunsSeveral
			if o.part != nil {
				if without {
					continue
				}
				h := o.part.Happened
				share = (1-rules.HarmElsewhere)*h.To(on.engine)[c.Cause] + rules.HarmElsewhere*share
				once, several = max(h.AtOnce, c.Sudden), h.Several
			}
			rate := o.rate * share
			if pair && c.Class != rules.LeaksNeighbour {
				rate *= max(1, several/float64(max(1, len(on.order)-1))/rules.Begins)
			}
			out[c.Cause] += oil.likely(c.OilSeals) * rate * (once*b.came.likely(true, o.use)*sudden + (1-once)*b.came.likely(false, o.use)*growing)
		}
	}
	return out
}

// amountsOf returns how well the usual size of a cause goes with what was read of a cylinder; pair says that its neighbour goes with it.
func amountsOf(c rules.Cause, a *belief.Amounts, pair bool, engine rules.Past, growing bool) float64 {
	leak, loss := c.Leak, c.Loss
	if engine == rules.AsFound {
		leak, loss = leak.InFound(), loss.InFound()
	}
	if growing {
		leak, loss = leak.Growing(), loss.Growing()
	}
	switch c.Class {
	case rules.LeaksRings:
		return a.OfLeak(belief.Rings, leak)
	case rules.LeaksIntake:
		return a.OfLeak(belief.Intake, leak)
	case rules.LeaksExhaust:
		return a.OfLeak(belief.Exhaust, leak)
	case rules.LeaksCoolant:
		return a.OfLeak(belief.Coolant, leak)
	case rules.LeaksNeighbour:
		if pair {
			return a.OfPair(leak)
		}
		return a.OfPair(leak) + rules.OneSided*a.OfLeak(belief.Neighbour, leak)
	case rules.IsShort:
		if leak.Usual > 0 { // it leaks as rings do beside that
			return a.OfLoss(loss) + rules.OneSided*a.OfLeak(belief.Rings, leak)
		}
		return a.OfLoss(loss)
	}
	return 0
}

// beganAll returns how something of the whole engine may have begun since the test before.
func beganAll(on *subject, known past, s log.Session) begun {
	lost := make([]point, len(known.losses))
	for i, l := range known.losses {
		lost[i].loss = l
	}
	_, came := pathOf(lost, rules.PaceLargeAll)
	b := begun{came: came, engine: pastOf(on, known, len(lost))}
	for k := len(lost) - 2; k >= 0 && lost[k].loss > rules.Stays*lost[len(lost)-1].loss; k-- {
		b.stays++
	}
	b.origins = append(b.origins, origin{rate: rules.Begins, use: 1})
	for i := range on.story {
		p := &on.story[i]
		if p.Date > s.Date || p.Happened.Harm == 0 {
			continue
		}
		rate := p.Happened.Harm
		for _, tested := range known.tested {
			if tested > p.Date && tested < s.Date && !known.falling {
				rate *= rules.FoundLate
			}
		}
		b.origins = append(b.origins, origin{part: p, rate: rate, use: 1})
	}
	return b
}

// chanceOfAll returns how likely a cause of the whole engine is, where all lost so many percent; 0 percent is not known.
func chanceOfAll(on *subject, b begun, c rules.Cause, lost float64, without bool) float64 {
	often := c.In(on.engine, b.engine)
	if c.Class == rules.OfEngine && c.ABank {
		// As cylinders' faults: its share of what begins, and what happened.
		often *= rules.Begins * float64(len(on.order))
		for _, o := range b.origins {
			if o.part != nil && !without {
				often += o.rate * o.part.Happened.To(on.engine)[c.Cause]
			}
		}
	}
	often *= c.Sudden*b.came.likely(true, 1) + (1-c.Sudden)*b.came.likely(false, rules.PathUseLeast)
	for range b.stays - 1 { // the first of them is a finding
		often *= on.table.Chance(c.Given, rules.StaysSo)
	}
	if c.Class == rules.OfEngine && !c.ABank && !without {
		// What wears the bores of all cylinders at once.
		for _, o := range b.origins {
			if o.part != nil {
				often += o.rate * o.part.Happened.Several * o.part.Happened.To(on.engine)[rules.BoresOfAll]
			}
		}
	}
	if lost > 0 && c.Loss.Usual > 0 {
		z := math.Log(lost/c.Loss.Usual) / math.Log(c.Loss.Spread)
		often *= math.Exp(-z*z/2) / math.Log(c.Loss.Spread)
	}
	return often
}
