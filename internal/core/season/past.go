package season

import "braxel/internal/core/say"

// Told is what was said before an event of an engine, and what came: by its next test.
type Told struct {
	Engine  string  `json:"engine"`
	Meeting string  `json:"meeting"`
	Said    float64 `json:"said" doc:"The chance given before the event"`
	Held    bool    `json:"held" doc:"Its next test found it inside its limits"`
	Broke   bool    `json:"broke,omitzero" doc:"It broke at the event"`
	Test    string  `json:"test" format:"date" doc:"The day of that test, or on which it broke"`
	Words   string  `json:"words"`
}

// Record is how often chances that were given were right.
type Record struct {
	Told  []Told      `json:"told"`
	Bins  []RecordBin `json:"bins"`
	Words string      `json:"words"`
}

// RecordBin is all chances of about one size.
type RecordBin struct {
	Said float64 `json:"said" doc:"Their mean"`
	Of   int     `json:"of"`
	Held int     `json:"held"`
}

// recordBounds part chances into those of nine in ten and more, seven in ten and more, and the rest.
var recordBounds = []float64{0.9, 0.7, 0}

// Kept sums up what was said and what came.
func Kept(told []Told) Record {
	r := Record{Told: append([]Told{}, told...), Bins: make([]RecordBin, len(recordBounds))}
	for n, t := range told {
		id := "season.told-held"
		switch {
		case t.Broke:
			id = "season.told-broke"
		case !t.Held:
			id = "season.told-past"
		}
		percent := 100 * t.Said
		r.Told[n].Words = say.Text(id, "engine", t.Engine, "name", t.Meeting, "said", percent, "day", say.Day(t.Test))
		for i, from := range recordBounds {
			if t.Said >= from {
				b := &r.Bins[i]
				b.Said = (b.Said*float64(b.Of) + t.Said) / float64(b.Of+1)
				b.Of++
				if t.Held {
					b.Held++
				}
				break
			}
		}
	}
	switch best := r.Bins[0]; {
	case len(told) == 0:
		r.Words = say.Text("season.nothing-told-yet")
	case best.Of == 0:
		r.Words = say.Text("season.told-few", "n", len(told))
	default:
		r.Words = say.Text("season.told", "of", best.Of, "held", best.Held)
	}
	return r
}
