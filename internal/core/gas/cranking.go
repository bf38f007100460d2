package gas

import (
	"math"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// Cylinder is the geometry of one cylinder. Lengths are in mm, the intake's closing in degrees after bottom dead centre.
type Cylinder struct {
	Bore, Stroke, Rod float64
	Ratio             float64
	IntakeCloses      float64
}

// What a cylinder's geometry can be refused for. Each names the field that is wrong.
var (
	ErrRatio  = say.Error("gas.compression-ratio-must-above-1")
	ErrRod    = say.Error("gas.rod-mm-must-longer-than")
	ErrCloses = say.Error("gas.intake-closes-abdc-deg-must")
	ErrOil    = say.Error("gas.oil-cc-much-oil-would")
	ErrGauge  = say.Error("gas.gauge-kpa-must-above-0")
	ErrDead   = say.Error("gas.dead-volume-cc-hose-would")
)

// Check reports what the sums refuse in the geometry.
func (c Cylinder) Check() error {
	switch {
	case !(c.Ratio > 1):
		return ErrRatio
	case !(c.Rod > c.Stroke/2):
		return ErrRod
	case !(c.IntakeCloses >= 0 && c.IntakeCloses < 180):
		return ErrCloses
	}
	return nil
}

// The polytropic exponents of cranking air: much heat lost, some, little. They bound what a sound cylinder shows.
const (
	ExponentLow  = 1.20
	ExponentMid  = 1.25
	ExponentHigh = 1.30
)

// area returns the piston's area in cm².
func (c Cylinder) area() float64 { return math.Pi / 4 * c.Bore * c.Bore / 100 }

// swept returns the swept volume in cm³.
func (c Cylinder) swept() float64 { return c.area() * c.Stroke / 10 }

// Chamber returns the volume left at TDC in cm³: swept/(ratio − 1).
func (c Cylinder) Chamber() float64 { return c.swept() / (c.Ratio - 1) }

// Drop returns how far the piston is below TDC, in mm, at a crank angle in degrees from it:
// r + l − (r·cosθ + √(l² − r²·sin²θ)), r = stroke/2.
func (c Cylinder) Drop(deg float64) float64 {
	sin, cos := math.Sincos(deg * math.Pi / 180)
	r := c.Stroke / 2
	return r + c.Rod - (r*cos + math.Sqrt(c.Rod*c.Rod-r*r*sin*sin))
}

// Volume returns the room above the piston in cm³ at a crank angle in degrees from TDC: the chamber, and what the piston has left.
func (c Cylinder) Volume(deg float64) float64 { return c.Chamber() + c.area()*c.Drop(deg)/10 }

// trapped returns the volume in cm³ that is swept after the intake has closed.
func (c Cylinder) trapped() float64 { return c.area() * c.Drop(180-c.IntakeCloses) / 10 }

// Cranking returns the gauge pressure that cranking makes with the exponent n:
// pa·((V at intake closing/V at TDC)ⁿ − 1). The tester's dead volume ahead of its check valve (cm³) is added to both
// volumes, oil (cm³) is taken from both. Errors: those of Check, ErrOil.
func (c Cylinder) Cranking(ambient units.Pressure, n, dead, oil float64) (units.Pressure, error) {
	if err := c.Check(); err != nil {
		return 0, err
	}
	top := c.Chamber() + dead - oil
	// An engine whose oil leaves less than a twentieth of the chamber is locked, not tested.
	if top < c.Chamber()/20 {
		return 0, ErrOil
	}
	return ambient * units.Pressure(math.Pow((top+c.trapped())/top, n)-1), nil
}

// RatioFor returns the compression ratio that makes the measured gauge pressure with the exponent n: the inverse of
// Cranking in Ratio. c's own ratio is not used. Errors: those of Check, ErrGauge, ErrDead.
func (c Cylinder) RatioFor(gauge, ambient units.Pressure, n, dead float64) (float64, error) {
	c.Ratio = 2
	if err := c.Check(); err != nil {
		return 0, err
	}
	if !(gauge > 0) {
		return 0, ErrGauge
	}
	chamber := c.trapped()/(math.Pow(float64(gauge/ambient)+1, 1/n)-1) - dead
	if !(chamber > 0) {
		return 0, ErrDead
	}
	return 1 + c.swept()/chamber, nil
}

// OilGainPct returns by how many percent oil (cm³) raises the reading only by taking up room:
// 100·(pg(oil)/pg(0) − 1) at the middle exponent. It is an upper bound, since oil also runs off: a wet gain beyond it
// is sealing.
func (c Cylinder) OilGainPct(oil float64) (float64, error) {
	without, err := c.Cranking(SeaLevel, ExponentMid, 0, 0)
	if err != nil {
		return 0, err
	}
	with, err := c.Cranking(SeaLevel, ExponentMid, 0, oil)
	return 100 * (float64(with/without) - 1), err
}

// Likely returns the cylinder of an engine of which bore and stroke are known, with what is assumed of the rest; assumed is true where
// its intake's closing is.
func Likely(e log.Engine) (c Cylinder, assumed bool) {
	c = Cylinder{Bore: e.BoreMM, Stroke: e.StrokeMM, Rod: e.RodMM, Ratio: e.Ratio, IntakeCloses: rules.ClosesABDC}
	if c.Rod == 0 {
		c.Rod = rules.RodStrokes * c.Stroke
	}
	if e.IntakeCloses != nil {
		c.IntakeCloses = *e.IntakeCloses
	}
	return c, e.IntakeCloses == nil
}

// OilShare returns the share of a wet gain that oil (cm³; 0 for the usual spoon) takes by its own room in an engine, in percent;
// false where bore, stroke or ratio are not known.
func OilShare(e log.Engine, oil float64) (pct float64, known bool) {
	if e.BoreMM == 0 || e.StrokeMM == 0 || e.Ratio == 0 {
		return 0, false
	}
	c, _ := Likely(e)
	if oil == 0 {
		oil = rules.Teaspoon
	}
	pct, err := c.OilGainPct(oil)
	return pct, err == nil
}

// Push returns what leak-down air does to a crank that stands deg from TDC: the force on the piston in N (F = p·A), the
// torque on the crank in N·m (F·dx/dθ, dx/dθ = r·sinθ + r²·sinθ·cosθ/√(l² − r²·sin²θ)), and the force in N at the end
// of a bar of the given length in mm. Friction is left out: an upper figure, which is the safe side.
func (c Cylinder) Push(supply units.Pressure, deg, handle float64) (force, torque, bar float64) {
	force = float64(supply) * c.area() / 10
	torque = force * c.lever(deg) / 1000
	return force, torque, torque / (handle / 1000)
}

// lever returns how far the piston goes down a radian of the crank at deg past TDC, in mm: dx/dθ as above.
func (c Cylinder) lever(deg float64) float64 {
	sin, cos := math.Sincos(deg * math.Pi / 180)
	r := c.Stroke / 2
	return r*sin + r*r*sin*cos/math.Sqrt(c.Rod*c.Rod-r*r*sin*sin)
}

// StrokeFrom returns the stroke in mm from the distance between two marks on a rod through the plug hole, which stands
// at an angle to the bore: distance·cos(angle).
func StrokeFrom(distance, angle float64) float64 { return distance * math.Cos(angle*math.Pi/180) }
