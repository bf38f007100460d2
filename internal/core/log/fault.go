package log

import (
	"slices"
	"strings"
)

// mostFaults is how many faults are named; a file with more is no better for a longer list.
const mostFaults = 100

// Fault is one thing wrong with what was given: where, as a JSON Pointer, and what, as a sentence.
type Fault struct {
	At   string `json:"at"`
	What string `json:"what"`
}

// Faults is every fault found, as one error.
type Faults []Fault

func (f Faults) Error() string {
	lines := make([]string, len(f))
	for i, one := range f {
		lines[i] = one.At + ": " + one.What
	}
	return strings.Join(lines, "\n")
}

// Err returns f as an error, nil where there is no fault.
func (f Faults) Err() error {
	if len(f) == 0 {
		return nil
	}
	return f
}

func (f *Faults) add(at, what string) {
	*f = append(*f, Fault{at, what})
}

// Also adds faults of fields that none is named of yet, while there is room for them.
func (f *Faults) Also(more ...Fault) {
	for _, one := range more {
		if len(*f) > mostFaults {
			return
		}
		if !slices.ContainsFunc(*f, func(have Fault) bool { return have.At == one.At }) {
			*f = append(*f, one)
		}
	}
}
