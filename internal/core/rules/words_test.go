package rules_test

import (
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// texts returns every text that the rows of both tables came to.
func texts() []string {
	t, l := rules.Causes(), rules.Inspected()
	var all []string
	for _, f := range t.Findings {
		all = append(all, f.Words, f.Rotary, f.TwoStroke)
	}
	for _, c := range t.Causes {
		all = append(all, c.Words, c.Phrase, c.Rotary, c.Mend, c.Plain, c.RotorFix, c.Mind)
	}
	for _, x := range t.Tests {
		all = append(all, x.Words, x.Tells, x.Rotary, x.TwoStroke)
	}
	for _, it := range l.Items {
		all = append(all, it.Section, it.Words, it.Caution)
		flags := slices.Collect(func(yield func(rules.Flag) bool) {
			for _, a := range it.Answers {
				yield(a.Flag)
			}
			for _, b := range it.Bands {
				yield(b.Flag)
			}
		})
		for _, f := range flags {
			all = append(all, f.Says, f.Work, f.Ask, f.Note)
		}
	}
	return all
}

// A row whose name was changed would lose its words without anybody being told: each text of the two files is some row's.
func TestEveryTextOfTheTablesIsTheWordsOfARow(t *testing.T) {
	used := texts()
	for id := range say.Texts() {
		if subject, _, _ := strings.Cut(id, "."); subject == "causes" || subject == "inspection" {
			assert.Contains(t, used, say.Text(id), "no row is called so: %s", id)
		}
	}
}

func TestTheTablesHoldNoTextThatIsShown(t *testing.T) {
	for _, file := range []string{"causes.json", "inspection.json"} {
		raw, err := os.ReadFile(file)
		require.NoError(t, err)
		for _, field := range []string{"words", "phrase", "mend", "mind", "tells", "says", "work", "ask", "caution"} {
			assert.NotContains(t, string(raw), `"`+field+`":`, file)
		}
	}
}
