package rules

// Shop is what a workshop has of its own in the place of the built-in rules. The zero value has none.
type Shop struct {
	Protocols []Protocol
	Intervals []Interval
}
