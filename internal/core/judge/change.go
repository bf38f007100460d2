package judge

import (
	"math"
	"slices"

	"braxel/internal/core/belief"
	"braxel/internal/core/rules"
)

// change is a session against what is expected of the engine: what all did, what of that was to be expected from the way it was
// tested, and what each did beyond that.
type change struct {
	common, commonSE float64
	unlike           []unlike
	expected         expected
	leakCommon       float64
	each             map[int]*belief.Told
	compared         bool
	accounts         []belief.Hypothesis
	order            []int   // the cylinders read, as indices, in the order of reading
	read             int     // how many
	grave            bool    // something happened since the last test that wrecks engines
	fellBefore       bool    // all read low at the test before, too
	leaked           int     // how many had a leak-down
	level            float64 // what sound cylinders made, a logarithm
	// first says that there is no baseline yet, and each cylinder was held against the others and what is usual.
	first bool
}

// of returns what the visit makes of a cylinder; of one that was not read, nothing.
func (d change) of(c int) *belief.Told {
	if t := d.each[c]; t != nil {
		return t
	}
	return &belief.Told{Sound: 1, Pair: -1}
}

// readFirst reports whether a cylinder was the first of several to be read, of an engine with a baseline to which nothing grave has happened.
func (d change) readFirst(on *subject, c int) bool {
	return !d.first && !d.grave && len(d.order) > 2 && on.order[d.order[0]] == c
}

// beyond returns what all did together beyond what was to be expected, and its standard error.
func (c change) beyond() (common, se float64) {
	return c.common - c.expected.mean, math.Hypot(c.commonSE, c.expected.sd)
}

// fell reports whether all cylinders read lower by one ratio, whatever made it.
func (d change) fell() bool {
	return d.compared && percent(d.common) < -rules.FellTogether && d.common < -rules.FellSurely*d.commonSE
}

// unexplained reports whether they read lower than what the way of testing makes.
func (d change) unexplained() bool {
	common, se := d.beyond()
	return d.compared && percent(common) < -rules.FellTogether && common < -rules.FellSurely*se
}

// confirmed reports whether a leak is borne out: it was repeated and stayed, its place was heard, or compression shows it.
func (d change) confirmed(c int, f figure) bool {
	return f.attempts > 1 || d.borneOut(c, f) || d.of(c).Leaking >= rules.Likely
}

// borneOut reports whether something else than its figure says that a cylinder leaks: its place was heard, or compression shows it.
func (d change) borneOut(c int, f figure) bool {
	e := d.of(c)
	_, heard := Loudest(f.paths)
	return heard || (e.ChangeSE > 0 && e.Change < -rules.Surely*e.ChangeSE)
}

// changed returns which of the cylinders are believed to have changed.
func (d change) changed(bad []int) []int {
	return slices.DeleteFunc(slices.Clone(bad), func(c int) bool { return 1-d.of(c).Sound < rules.WorthALook })
}

// against returns what a compression is held against.
func (d change) against(e *belief.Told) Against {
	switch {
	case !d.first && !e.NoBase:
		return Baseline
	case d.read > 1:
		return Others
	}
	return Usual
}

// percent makes percent of a logarithm of a ratio.
func percent(logRatio float64) float64 { return 100 * math.Expm1(logRatio) }

// shownOf returns a cylinder's reading in kPa: by the protocol's rule of pulls, or, where some are left out, what the others say.
func shownOf(f figure, e *belief.Told) float64 {
	if e.LeftOut && !e.Unsure {
		return float64(f.gauge) * math.Exp(e.Meant-f.log)
	}
	return float64(f.gauge)
}
