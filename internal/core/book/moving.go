package book

import (
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// MovingStep is an entry that is yet to be made: whoever hands it in gives it its id and its time.
type MovingStep struct {
	Engine string `json:"engine"`
	Kind   string `json:"kind" enum:"tester,whole,strike,test"`
	Body   any    `json:"body"`
}

// Moved returns the entries that take a test to another engine, or to another build of its own: the testers that the other engine's
// log lacks, the test with all its readings, and the strike of the entry behind it where it stood. What does not fit the other engine
// is refused, and nothing is moved.
func Moved(from log.Log, test, behind string, to log.Log, build string, shop []log.Tester) ([]MovingStep, log.Faults) {
	at := from.At(test)
	if at < 0 {
		return nil, log.Faults{log.At("/test", "book.there-no-test-engine", "test", test)}
	}
	s := from.Sessions[at]
	if build != "" && !slices.ContainsFunc(to.Builds, func(b log.Build) bool { return b.ID == build }) {
		return nil, log.Faults{log.At("/build", "book.there-no-build-engine", "build", build)}
	}
	if to.Engine.ID == from.Engine.ID {
		if build == from.BuildOf(s) {
			return nil, log.Faults{log.At("/to", "book.it-is-there-already")}
		}
		return []MovingStep{{from.Engine.ID, Test, map[string]any{"id": test, "build": build}}}, nil
	}
	s.Build = build
	for to.At(s.ID) >= 0 {
		s.ID = say.Text("book.moved-id", "id", s.ID, "engine", from.Engine.ID)
	}
	if f := s.Check(to.Engine, ""); len(f) > 0 {
		return nil, log.Faults{log.At("/to", "book.does-not-fit", "name", to.Engine.Name, "why", f[0].What)}
	}
	var steps []MovingStep
	for id := range testersUsed(log.Log{Sessions: []log.Session{s}}) {
		has := func(t log.Tester) bool { return t.ID == id }
		if i := slices.IndexFunc(from.Testers, has); i >= 0 && !slices.ContainsFunc(to.Testers, has) && !slices.ContainsFunc(shop, has) {
			steps = append(steps, MovingStep{to.Engine.ID, Tester, from.Testers[i]})
		}
	}
	return append(steps,
		MovingStep{to.Engine.ID, Whole, WithKeys(s)},
		MovingStep{from.Engine.ID, Strike, MarkBody{Entry: behind, Why: say.Text("book.moved-to", "name", to.Engine.Name)}},
	), nil
}
