package house_test

import (
	"path"
	"regexp"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/say"
	"braxel/internal/house"
)

// product is everything that ships, read once.
var product = sync.OnceValue(func() []house.Package {
	all, err := house.Load("../..", "./internal/...", "./cmd/...")
	if err != nil {
		panic(err)
	}
	return slices.DeleteFunc(all, func(p house.Package) bool { return slices.Contains(tools, path.Base(p.Path)) })
})

// tools are run by those who build Braxel; the demo is made-up data.
var tools = []string{"demo", "golden", "house", "licences", "measure", "reliable", "ruledocs"}

func TestEveryTextThatIsSaidIsThereWithItsValues(t *testing.T) {
	texts := say.Texts()
	for _, p := range product() {
		calls, _ := p.Said()
		for _, c := range calls {
			if c.Begins {
				continue
			}
			require.Contains(t, texts, c.ID, "%s %s", p.Path, c.At)
			for _, name := range say.Names(c.ID) {
				assert.Contains(t, c.Names, name, "%s %s: %s", p.Path, c.At, c.ID)
			}
		}
	}
}

func TestNoTextOfTheCatalogueIsIdle(t *testing.T) {
	var literals, begun []string
	for _, p := range product() {
		calls, more := p.Said()
		literals = append(literals, more...)
		for _, c := range calls {
			if c.Begins {
				begun = append(begun, c.ID)
			}
		}
	}
	for id := range say.Texts() {
		used := slices.Contains(literals, id) || slices.ContainsFunc(literals, func(l string) bool {
			return len(l) > 6 && (strings.HasSuffix(l, "-") && strings.Contains(l, ".") || strings.HasSuffix(l, ".")) && strings.HasPrefix(id, l)
		}) || slices.ContainsFunc(begun, func(l string) bool { return strings.HasPrefix(id, l) })
		assert.True(t, used, "nothing says %s", id)
	}
}

// data are the files whose literals are read or stored, and said to nobody as they stand, by what they hold.
var data = map[string]string{
	"table/words.go":     "headings and words of spreadsheets, in several languages",
	"table/titles.go":    "the same",
	"table/cell.go":      "the same",
	"table/build.go":     "occasions as spreadsheets call them",
	"trace/words.go":     "columns as recorders call them",
	"prepare/prepare.go": "findings as logs hold them",
	"practice/acts.go":   "the same",
	"practice/course.go": "names of engines",
	"logfile/ics.go":     "the program's name",
	"server/server.go":   "schemas of the API's description, headers of HTTP",
	"server/inout.go":    "a schema of the API's description",
	"server/entries.go":  "the same",
	"practice/walk.go":   "the second gauge's name, as logs hold it",
	"server/practice.go": "names, as logs hold them",
	"rules/rings.go":     "ring packs as logs hold them",
	"server/rescue.go":   "the page that is served where nothing else can be",
	"server/files.go":    "the page where the front end was never built",
	"store/old.go":       "SQL of the oldest data files",
	"braxel/bench.go":    "an example of a command",
	"standin/standin.go": "lines of the gauge's protocol",
	"say/say.go":         "what is wrong with the catalogue itself",
	"bench/visit.go":     "names of the bench's gauges, as logs hold them",
	"trace/trace.go":     "what a recording measured, as logs hold it",
	"written/date.go":    "how a date is written, as the answer names it",
	"diary/diary.go":     "a standing, as the answer names it",
	"papers/page.go":     "words that a narrow column shortens",
	"calc/calc.go":       "the JSON reader's own words, taken apart",
}

// sql, headers and the syntax of commands are for machines.
var machine = regexp.MustCompile(`\b(SELECT|INSERT|UPDATE|DELETE|VACUUM|PRAGMA|ROLLBACK|RELEASE|SAVEPOINT|FROM|WHERE|ORDER BY)\b|coalesce\(|; charset=|max-age=|^default-src|` +
	`^attachment;|^inline;|^SQLite format|^[a-z]+( [A-Z-]+)+(\.\.\.)?$|^retry: |^: still`)

func TestWhatPeopleReadStandsInTheCatalogueAlone(t *testing.T) {
	used := map[string]bool{}
	for _, p := range product() {
		for _, one := range p.Phrases() {
			at := path.Base(p.Path) + "/" + one.File
			switch {
			case machine.MatchString(one.Text):
			case data[at] != "":
				used[at] = true
			default:
				assert.Fail(t, "not in the catalogue", "%s: %q", at, one.Text)
			}
		}
	}
	for at := range data {
		assert.True(t, used[at], "%s holds nothing of the kind any more", at)
	}
}

// ownErrors are the files beyond the core that take the text of an error which can only be one of ours.
var ownErrors = []string{"present.go", "archive.go", "logs.go"}

func TestNobodyReadsAnErrorOfGoOrTheSystem(t *testing.T) {
	for _, p := range product() {
		if strings.Contains(p.Path, "/core/") || strings.HasSuffix(p.Path, "/plain") {
			continue // the core opens nothing, so its errors are its own
		}
		for _, at := range p.Raw() {
			file, _, _ := strings.Cut(at, ":")
			assert.Contains(t, ownErrors, file, "%s %s: use plain.Words", p.Path, at)
		}
	}
}
