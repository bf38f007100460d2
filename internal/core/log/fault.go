package log

import (
	"errors"
	"slices"
	"strings"

	"braxel/internal/core/say"
)

// mostFaults is how many faults are named; a file with more is no better for a longer list.
const mostFaults = 100

// Fault is one thing wrong with what was given: where, as a JSON Pointer, and what, as a sentence and by the id of its text.
type Fault struct {
	At   string `json:"at"`
	ID   string `json:"id,omitzero" doc:"Names the reason, whatever the language"`
	What string `json:"what"`
}

// At returns a fault at a place, said from the catalogue.
func At(at, id string, pairs ...any) Fault { return Fault{at, id, say.Text(id, pairs...)} }

// Of returns an error as the fault of a place, by its id where it has one.
func Of(at string, err error) Fault {
	var said *say.Fault
	if errors.As(err, &said) {
		return Fault{at, said.ID, err.Error()}
	}
	return Fault{At: at, What: err.Error()}
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

func (f *Faults) add(at, id string, pairs ...any) {
	*f = append(*f, At(at, id, pairs...))
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
