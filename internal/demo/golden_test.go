package demo_test

import (
	"fmt"
	"strings"
	"testing"

	"braxel/internal/core/judge"
	"braxel/internal/core/rules"
	"braxel/internal/demo"
	"braxel/internal/golden"
)

// TestTheSentencesAreThoseThatWereReadThrough holds what the judge says of every test of the workshop to a file that was
// read for sense. Where the judge means to say something else, read the new file through before it is kept:
// BRAXEL_GOLDEN=write go test ./internal/demo
func TestTheSentencesAreThoseThatWereReadThrough(t *testing.T) {
	var all strings.Builder
	for _, l := range demo.Logs() {
		v := judge.Log(l, rules.Shop{})
		for i, s := range v.Sessions {
			fmt.Fprintf(&all, "%s %s: %s. %s\n", l.Engine.Name, l.Sessions[i].Date, s.State, s.Sentence)
			fmt.Fprintf(&all, "    %s\n", s.Decision)
			if s.Next != nil {
				fmt.Fprintf(&all, "    next: %s\n", s.Next.Words)
			}
			if s.Due != nil {
				fmt.Fprintf(&all, "    test again by %s: %s\n", s.Due.ByDate, s.Due.Why)
			}
		}
	}
	golden.Same(t, "sentences.txt", all.String())
}
