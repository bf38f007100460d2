// Package sheet leads through a test: which cylinder is next, whether to pull again, and whether a reading can be
// believed as typed.
package sheet

import (
	"math"
	"regexp"
	"slices"
	"strconv"

	"gonum.org/v1/gonum/stat"

	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Cell is one cylinder of the dry test as it stands.
type Cell struct {
	Cylinder int            `json:"cylinder"`
	Name     string         `json:"name,omitzero" doc:"The owner's own name for it"`
	Place    string         `json:"place"`
	Pulls    []log.Pull     `json:"pulls"`
	Reading  *units.Reading `json:"reading,omitempty" doc:"The representative reading, in the sheet's unit"`
	Settled  bool           `json:"settled"`
	Baseline *units.Reading `json:"baseline,omitempty" doc:"What it read when it was right, in the sheet's unit"`
	Last     *units.Reading `json:"last,omitempty" doc:"What it read at the test before"`
}

// Prompt is what the sheet wants next.
type Prompt struct {
	Cylinder int    `json:"cylinder" doc:"The cylinder to crank; 0 when all are settled"`
	Say      string `json:"say"`
	Again    bool   `json:"again" doc:"The same cylinder again"`
	// Turn is set for a leak-down that follows the one before it in firing order.
	Turn float64 `json:"turn_deg,omitzero" doc:"How far to turn the crank, in its direction of rotation"`
}

func shown(p units.Pressure, u units.Unit) *units.Reading {
	r := p.Shown(u)
	return &r
}

// average returns each cylinder's mean dry reading over the sessions; of a rotor, that of its faces.
func average(l log.Log, sessions []log.Session, rule rules.PullRule) map[int]units.Pressure {
	sum, n := map[int]units.Pressure{}, map[int]units.Pressure{}
	for _, s := range sessions {
		for _, row := range s.Compression {
			tester, _ := l.Tester(row.Tester)
			if r := reading.Of(row.Pulls, rule, reading.DivisionOf(tester)); row.Mode == log.Dry && r.Pulls > 0 {
				sum[row.Number()] += r.Pressure
				n[row.Number()]++
			}
		}
	}
	for c := range sum {
		sum[c] /= n[c]
	}
	return sum
}

// bankNumber is what "same bank" leaves out.
var bankNumber = regexp.MustCompile(`^bank \d+`)

// Next says what to do after the last pull: the same cylinder again, or the next that is not settled, from the one last
// cranked onward.
func Next(l log.Layout, cells []Cell, lastCranked int, rule rules.PullRule) Prompt {
	at := slices.IndexFunc(cells, func(c Cell) bool { return c.Cylinder == lastCranked })
	if at >= 0 && !cells[at].Settled && kept(cells[at]) > 0 {
		return Prompt{Cylinder: lastCranked, Say: again(cells[at], rule), Again: true}
	}
	for i := range cells {
		c := cells[(at+1+i)%len(cells)]
		if c.Settled {
			continue
		}
		words := c.Place
		if at >= 0 && len(l.Banks) > 1 && layout.SameBank(l, lastCranked, c.Cylinder) {
			words = say.Text("sheet.same", "replaceAllString", bankNumber.ReplaceAllString(words, "bank"))
		}
		if kept(c) > 0 {
			return Prompt{Cylinder: c.Cylinder, Say: again(c, rule), Again: true}
		}
		return Prompt{Cylinder: c.Cylinder, Say: say.Text("sheet.next", "called", c.called(), "words", words)}
	}
	return Prompt{Say: say.Text("sheet.all-cylinders-read")}
}

func again(c Cell, rule rules.PullRule) string {
	switch {
	case rule == rules.Three:
		return say.Text("sheet.again-reading-3", "called", c.called(), "kept", kept(c)+1)
	case kept(c) == 1:
		return say.Text("sheet.again-two-must-agree", "called", c.called())
	}
	return say.Text("sheet.again-last-two-dont-agree", "called", c.called())
}

// called names the cylinder as its owner does.
func (c Cell) called() string {
	if c.Name == "" {
		return strconv.Itoa(c.Cylinder)
	}
	return strconv.Itoa(c.Cylinder) + " (" + c.Name + ")"
}

func kept(c Cell) int {
	n := 0
	for _, p := range c.Pulls {
		if p.Counts() {
			n++
		}
	}
	return n
}

// Doubt returns why a reading should be looked at again before it is kept, or "". A reading is doubted when it lies far
// from this cylinder's own last pull, from what it read before, or from its siblings.
func Doubt(cells []Cell, cylinder int, r units.Reading) string {
	p := float64(r.Pressure())
	var others []float64
	for _, c := range cells {
		if c.Cylinder != cylinder {
			if c.Reading != nil {
				others = append(others, float64(c.Reading.Pressure()))
			}
			continue
		}
		for i := len(c.Pulls) - 1; i >= 0; i-- {
			if c.Pulls[i].Counts() {
				if far(p, float64(c.Pulls[i].Pressure()), rules.FarFromLast) {
					return say.Text("sheet.as-read-last-reading-was", "cylinder", cylinder, "reading", c.Pulls[i].Reading)
				}
				return "" // already confirmed once for this cylinder
			}
		}
		if r.Value == 0 {
			return say.Text("sheet.as-read-needle-didnt-move", "cylinder", cylinder)
		}
		if p < rules.HardlyReads {
			return say.Text("sheet.as-read-hardly-anything", "cylinder", cylinder, "reading", r)
		}
		if before := c.Baseline; before != nil && far(p, float64(before.Pressure()), rules.FarFromBaseline) {
			return say.Text("sheet.as-read-made-at-baseline", "cylinder", cylinder, "before", before)
		}
	}
	if len(others) >= 2 {
		slices.Sort(others)
		if middle := stat.Quantile(0.5, stat.Empirical, others, nil); far(p, middle, rules.FarFromOthers) {
			return say.Text("sheet.as-read-others-near", "show", units.Pressure(middle).Written(r.Unit))
		}
	}
	return ""
}

func far(a, b, share float64) bool { return math.Abs(a-b) > share*max(b, 1) }

func find(l log.Log, session string) (int, error) {
	at := l.At(session)
	if at < 0 {
		return 0, say.Error("sheet.test", "session", session, "name", l.Engine.Name, "problem", ErrUnknown)
	}
	return at, nil
}

// shownBy returns the unit that a tester's dial shows, "" where nobody said.
func shownBy(l log.Log, tester string) units.Unit {
	t, _ := l.Tester(tester)
	for _, r := range []*units.Reading{t.Resolution, t.Range} {
		if r != nil {
			return r.Unit
		}
	}
	return ""
}

// ErrUnknown is what Of and Doubts answer for a test that the log has not.
var ErrUnknown = say.Error("sheet.no-such-test")
