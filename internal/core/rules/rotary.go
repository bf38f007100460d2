package rules

// Rotaries.
const (
	// RotorSlowest is the slowest that a starter turns the output shaft. [rpm; practice]
	RotorSlowest = 80.0
	// RotorQuickest is the quickest. [rpm; practice]
	RotorQuickest = 600.0
	// RotorNominal is the speed that makers give compression at. [rpm; trade]
	RotorNominal = 250.0
	// RotorLeakSpeed is the speed at which a sound rotor loses half of what it compresses; seals leak for a time that goes with 1/speed. [rpm; physics]
	RotorLeakSpeed = 60.0
	// FacesApart is how far one face may stand below the highest of its rotor. [%; trade]
	FacesApart = 15.0
	// RotorSilentPSI is the reading below which the faces of a rotor are not told apart. [psi; trade]
	RotorSilentPSI = 25.0
)
