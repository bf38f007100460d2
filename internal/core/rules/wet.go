package rules

// What oil does in a wet test.
const (
	// OilUsual is what a teaspoon adds by its own room where the chamber is not known: 5 to 15. [%; trade]
	OilUsual = 8.0
	// OilMost is the most that it adds by its room, since it runs off. [%; trade]
	OilMost = 9.0
	// OilSeals is how much more it has to add before that is sealing: 10 psi on 180 is no rise, and two readings differ by 2 %. [points; trade]
	OilSeals = 3.5
	// Teaspoon is the usual amount of oil. [cm³; trade]
	Teaspoon = 5.0
	// NoRisePSI is a rise that builders call none. [psi; trade]
	NoRisePSI = 10.0
	// WetLow is how far below the highest a cylinder stands that is tested wet. [share; trade]
	WetLow = 0.1
	// WetLowOwn is the same below its own baseline. [share; trade]
	WetLowOwn = 0.07
)
