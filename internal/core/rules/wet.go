package rules

// What oil does in a wet test.
const (
	// OilUsual is what a teaspoon adds by its own room where the chamber is not known: 5 to 15. [%; trade]
	OilUsual = 8.0
	// OilMost is the most that it adds by its room, since it runs off. [%; trade]
	OilMost = 9.0
	// OilSeals is how much more it has to add before that is sealing: 10 psi on 180 is no rise, and two readings differ by 2 %. [points; trade]
	OilSeals = 3.5
	// OilRunsOff is how much of the gain by its room is seen: the rest has run off. [share; practice]
	OilRunsOff = 0.65
	// OilRunsOffSD is how unlike that is. [share; practice]
	OilRunsOffSD = 0.25
	// OilUnknown is what a teaspoon adds in a chamber of half a litre that nobody measured. [%; practice]
	OilUnknown = 10.0
	// OilUnknownSD is how unlike that is. [%; practice]
	OilUnknownSD = 4.5
	// OilBesideSD is how unlike the gains of two sound cylinders of one engine are. [%; practice]
	OilBesideSD = 3.0
	// OilReads is the doubt of a gain by its two readings. [%; practice]
	OilReads = 2.0
	// OilSealsSD is how unlike two cylinders are in what oil brings back. [share; practice]
	OilSealsSD = 0.3
	// OilLostMost is the most that counts as lost where it is asked what oil brings back: beyond that little is squeezed. [%; judgement]
	OilLostMost = 60.0
	// OilOdd is the density of a gain that nothing accounts for. [1/%; judgement]
	OilOdd = 0.004
	// Teaspoon is the usual amount of oil. [cm³; trade]
	Teaspoon = 5.0
	// NoRisePSI is a rise that builders call none. [psi; trade]
	NoRisePSI = 10.0
	// WetLow is how far below the highest a cylinder stands that is tested wet. [share; trade]
	WetLow = 0.1
	// WetLowOwn is the same below its own baseline. [share; trade]
	WetLowOwn = 0.07
)
