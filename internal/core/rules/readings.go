package rules

// How readings repeat.
const (
	// PullSD is how far one reading of an unchanged cylinder strays with a careful hand. [share; practice]
	PullSD = 0.009
	// PullSDLeast is the least that a gauge is believed to stray by, however well its own readings repeat. [share; judgement]
	PullSDLeast = 0.5 * PullSD
	// PullSDMost is the most, since a slip of the pen is no gauge's fault. [share; judgement]
	PullSDMost = 1.5 * PullSD
	// CameraMost is the most that a figure read from a film of the dial is doubted by, of itself or of the supply: one that is read
	// worse is not given. [share; films whose truth is known]
	CameraMost = 0.03
	// PullRoom is the most doubt that a reading has by itself, so that a needle near zero still tells something. [log; judgement]
	PullRoom = 0.3
	// GaugeRepeats is the standard deviation of a reading with a gauge of which nothing is known. [kPa; practice]
	GaugeRepeats = 10.0
	// GaugeWorth is how many pairs of readings that guess, or the gauge's own figure, is worth. [pairs; judgement]
	GaugeWorth = 8.0
	// GaugeDivisionPSI is the division of a gauge whose division nobody gave. [psi; trade]
	GaugeDivisionPSI = 5.0
	// KitDivisionPSI is the division of a leak-down tester's dials where nobody gave it. [psi; trade]
	KitDivisionPSI = 1.0
	// PullsAgree is how far apart two readings in a row may be and still agree; one division of the gauge where that is more. [share; trade]
	PullsAgree = 0.02
	// RepeatLimit makes of a standard deviation what two readings seldom differ by: 1.96·√2. [–; ISO 5725-2]
	RepeatLimit = 2.8
	// PullsMost is how many readings of a row are weighed, the last ones. [readings; judgement]
	PullsMost = 5

	// LeakPoint is what a leak-down strays by, however small the leak. [points; practice]
	LeakPoint = 0.7
	// LeakShare is what it strays by beside that, as a share of the leak. [share; practice]
	LeakShare = 0.05
	// Strays is how many leak-downs stray twice as far as that. [share; judgement]
	Strays = 0.02

	// Scatter is how far two visits to an unchanged hot cylinder differ, beyond gauge and division: ring position, oil, heat. [log; practice]
	Scatter = 0.006
	// ScatterCold is the same of a cold engine, which is tested at whatever temperature it has. [log; practice]
	ScatterCold = 0.012
	// LeakWander is how far the area of a cylinder's leak wanders from visit to visit, as its rings turn. [log; practice]
	LeakWander = 0.12
	// LeakVisit is how far a visit moves all leaks together, of their area. [log; practice]
	LeakVisit = 0.1

	// RiseSlow is by what factor a cylinder takes more beats to its plateau than its siblings' middle, to be called slow. [–; judgement]
	RiseSlow = 1.5
	// RiseSlowBeats is how many beats more it takes at the least. [beats; judgement]
	RiseSlowBeats = 2.0
	// RiseSudden is the most beats in which two cylinders that share a gasket jump up. [beats; trade]
	RiseSudden = 2.0
	// RiseOften is how many beats its siblings then take at the least. [beats; judgement]
	RiseOften = 4.0
)

// What a figure is asked about as it is typed.
const (
	// FarFromLast is how far a reading may stand from the last of the same cylinder before it is asked about. [share; judgement]
	FarFromLast = 0.25
	// FarFromBaseline is the same from what the cylinder made when it was right. [share; judgement]
	FarFromBaseline = 0.35
	// FarFromOthers is the same from the middle of the others. [share; judgement]
	FarFromOthers = 0.4
	// HardlyReads is the pressure below which a needle that moved is more likely a decimal point in the wrong place. [kPa; judgement]
	HardlyReads = 35.0
)

// measuredMost are the largest figures that are taken for what is measured beside compression and leak, by what it is and its unit: several
// times what engines show, so that only a slip of the hand is beyond them. Source: practice.
var measuredMost = map[string]map[string]float64{
	"oil-pressure": {"psi": 300, "bar": 20, "kPa": 2000, "kgf/cm2": 20},
	"end-play":     {"mm": 10, "in": 0.4},
	"lash":         {"mm": 10, "in": 0.4},
	"stroke-marks": {"mm": 600, "in": 24},
}

// MeasuredMost returns the largest figure that is taken for something measured, false where there is no limit to it.
func MeasuredMost(what, unit string) (most float64, known bool) {
	most, known = measuredMost[what][unit]
	return most, known
}
