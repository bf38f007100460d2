package rules

// Starter and battery, by the words usual on their plates; the maker's own stand above these.
const (
	// CrankMost is the longest that a starter is run at once. [s; trade]
	CrankMost = 10.0
	// CrankRest is how long it cools for each second that it ran. [s/s; trade]
	CrankRest = 3.0
	// CrankRPM is a speed of cranking with the plugs out, where nobody noted one. [rpm; practice]
	CrankRPM = 200.0
	// CrankPlateau is how long a needle takes to come to rest: some eight beats of a four-stroke. [s; practice]
	CrankPlateau = 5.0
	// BatteryFull is what a battery should stand at before the first reading. [V; trade]
	BatteryFull = 12.5
	// BatteryLow is what it stands at when cranking is slow and reads low. [V; trade]
	BatteryLow = 12.0
	// BatterySag is by how much it may fall from the first reading to the last. [V; trade]
	BatterySag = 0.5
	// CrankSlowed is by how much the cranking of one recording may slow. [%; practice]
	CrankSlowed = 8.0
	// HoseTells is what a hose has to take of a reading to be worth a word. [%; judgement]
	HoseTells = 3.0
)
