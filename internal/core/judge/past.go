package judge

import (
	"maps"
	"slices"

	"braxel/internal/core/belief"
)

// past is what is known of one build before a visit. A visit changes nothing of it: it makes another. The zero value is that of a build
// that was never tested.
type past struct {
	believed *belief.Believed
	known    map[int]bool // cylinders that were found bad at an earlier test
	repeats  repeats
	steps    written
	learned  map[string]effect
	made     waysMade  // how the sessions of the baseline were made
	losses   []float64 // what all lost together since the baseline beyond what was expected, test by test, in percent
	points   points    // how far each cylinder had gone, test by test
	visits   []visit
	oiled    map[int]oiled    // what oil did to cylinders that were bad
	seen     map[int][]string // what was found on cylinders that were bad, and holds until they are repaired
	tested   []string         // the dates of its tests
	falling  bool             // all read low at the last test, too
	fresh    bool             // it was tested before it had run, or just after
	madeHere bool             // somebody called one of its tests the baseline
}

// visit is a test's place in time.
type visit struct {
	meter float64
	date  string
}

// knownAfter returns the cylinders that are known to be bad after a repair: what was wrong has been put right, and is believed again
// only if it is seen again.
func (p past) knownAfter(m mending) map[int]bool {
	known := maps.Clone(p.known)
	if known == nil {
		known = map[int]bool{}
	}
	maps.DeleteFunc(known, func(c int, _ bool) bool { return m.of(c) })
	return known
}

// seenOn returns what was found on any of some cylinders, once each.
func (p past) seenOn(cylinders []int) []string {
	var all []string
	for _, c := range cylinders {
		for _, is := range p.seen[c] {
			if !slices.Contains(all, is) {
				all = append(all, is)
			}
		}
	}
	return all
}
