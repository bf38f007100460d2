package papers_test

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/jpeg"
	"os/exec"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/seal"
	"braxel/internal/demo"
	"braxel/internal/papers"
)

// printed returns what a reader of PDF finds in a paper: a program that is not ours.
func printed(t *testing.T, pdf []byte) string {
	t.Helper()
	c := exec.Command("pdftotext", "-layout", "-", "-")
	c.Stdin = strings.NewReader(string(pdf))
	out, err := c.Output()
	require.NoError(t, err)
	return string(out)
}

func input(l log.Log, kind papers.Kind, size string) papers.Input {
	l = l.Standing()
	return papers.Input{Kind: kind, Log: l, Verdict: judge.Log(l, rules.Shop{}), Spreads: reading.Spreads(l), Shop: "A shop", Size: size, Address: "http://192.168.1.20:8314/engines/siskin"}
}

func TestEveryReadingOfATestIsInItsPaper(t *testing.T) {
	for _, l := range demo.Logs() {
		for _, s := range l.Sessions {
			for _, kind := range []papers.Kind{papers.Filled, papers.Certificate} {
				in := input(l, kind, "letter")
				in.Test = s.ID
				pdf, err := papers.Make(in)
				require.NoError(t, err)
				said := strings.Fields(printed(t, pdf))
				has := map[string]bool{}
				for _, w := range said {
					has[strings.Trim(w, "()?")] = true
				}
				for _, row := range s.Compression {
					for _, p := range row.Pulls {
						assert.True(t, has[strconv.FormatFloat(p.Value, 'f', -1, 64)], "%s %s: %g", l.Engine.Name, s.ID, p.Value)
					}
				}
				for _, row := range s.Leakdown {
					assert.True(t, has[strconv.FormatFloat(row.Held, 'f', -1, 64)], "%s %s: held %g", l.Engine.Name, s.ID, row.Held)
					assert.True(t, has[strconv.FormatFloat(row.Supply, 'f', -1, 64)], "%s %s: supply %g", l.Engine.Name, s.ID, row.Supply)
				}
				assert.Contains(t, strings.Join(said, " "), say.Day(s.Date).String())
			}
		}
	}
}

func TestACertificateCarriesAFingerprintThatIsTheLogs(t *testing.T) {
	l := demo.Logs()[1].Standing()
	pdf, err := papers.Make(input(l, papers.Certificate, ""))
	require.NoError(t, err)
	text := printed(t, pdf)
	var words string
	for _, line := range strings.Split(text, "\n") {
		if fields := strings.Fields(line); len(fields) == 8 && !strings.ContainsAny(line, "0123456789") {
			if _, err := seal.Verify(strings.Join(fields, " "), []log.Log{l}); err == nil {
				words = strings.Join(fields, " ")
			}
		}
	}
	require.NotEmpty(t, words, text)
	found, err := seal.Verify(words, []log.Log{l})
	require.NoError(t, err)
	assert.True(t, found.Same)
	for _, said := range []string{"Not tested", "Gauges", "Limits", "licensed", l.Engine.Name, "A shop"} {
		assert.Contains(t, text, said)
	}
}

func TestEveryPaperOfEveryEngineFitsItsSize(t *testing.T) {
	many := log.Log{Engine: log.Engine{
		Name: strings.Repeat("A name that goes on ", 5), Kind: log.FourStroke, Owner: "“Å” — ½ µ ± ² °",
		Layout: log.Layout{Banks: [][]int{{1, 3, 5, 7, 9, 11}, {2, 4, 6, 8, 10, 12}}, Names: map[string]string{"1": "far left"}},
	}}
	s := log.Session{ID: "s1", Date: "2033-04-02", Note: strings.Repeat("words and more words ", 300)}
	for c := 1; c <= 12; c++ {
		row := log.Compression{Place: log.Place{Cylinder: c}, Mode: log.Dry}
		for n := range 12 {
			p := log.Pull{}
			p.Value, p.Unit = float64(1000+n), "kPa"
			row.Pulls = append(row.Pulls, p)
		}
		s.Compression = append(s.Compression, row)
	}
	many.Sessions = []log.Session{s}
	for _, l := range append(demo.Logs()[:4], many) {
		for _, kind := range papers.Kinds {
			for size := range papers.Sizes {
				pdf, err := papers.Make(input(l, kind, size))
				if papers.IsLabel(size) != kind.Sticks() {
					assert.Error(t, err)
					continue
				}
				if errors.Is(err, papers.ErrNoRepair) && kind == papers.Mended && l.Engine.Name != "Heron" {
					continue
				}
				require.NoError(t, err, "%s %s %s", l.Engine.Name, kind, size)
				text := printed(t, pdf)
				pages := strings.Count(text, "\f")
				assert.Positive(t, pages)
				if kind.Sticks() {
					assert.Equal(t, 1, pages)
				}
				again, err := papers.Make(input(l, kind, size))
				require.NoError(t, err)
				assert.Equal(t, len(pdf), len(again), "the same tests, the same paper")
			}
		}
	}
}

func TestAPaperOfATestNeedsOne(t *testing.T) {
	l := demo.Logs()[0]
	l.Sessions = nil
	for _, kind := range papers.Kinds {
		_, err := papers.Make(input(l, kind, ""))
		if kind == papers.Wall || kind == papers.Label {
			assert.NoError(t, err)
			continue
		}
		assert.ErrorIs(t, err, papers.ErrNoTest, fmt.Sprint(kind))
	}
	in := input(demo.Logs()[0], papers.Filled, "")
	in.Test = "none"
	_, err := papers.Make(in)
	assert.ErrorContains(t, err, "no test none")
}

// What a customer is shown of a repair: what was found, what was done, and each cylinder before and after it.
func TestTheCustomersPaperOfARepair(t *testing.T) {
	l := demo.Logs()[0].Standing()
	pdf, err := papers.Make(input(l, papers.Mended, ""))
	require.NoError(t, err)
	text := strings.Join(strings.Fields(printed(t, pdf)), " ")
	for _, said := range []string{
		"Cylinder 2 came up from 174 to 184 psi, its leak down from 12 to 3 %. The valve job surely worked.",
		"An intake valve doesn't close tightly, so pressure escapes into the intake.", "intake seat recut", "Run it.",
	} {
		assert.Contains(t, strings.ToLower(text), strings.ToLower(said))
	}
}

// A test that found something to act upon is never called a baseline on paper, whatever the log calls it.
func TestABadTestIsNoBaselineOnPaper(t *testing.T) {
	l := demo.Logs()[0].Standing()
	l.Sessions, l.Events = l.Sessions[:3], nil
	l.Sessions[2].Baseline = true
	in := input(l, papers.Certificate, "")
	in.Test = l.Sessions[2].ID
	pdf, err := papers.Make(in)
	require.NoError(t, err)
	text := printed(t, pdf)
	assert.Contains(t, text, say.Text("papers.certificate-test"), "cylinder 2 was bad")
	assert.NotContains(t, text, say.Text("papers.baseline-certificate"))
	in.Test = ""
	pdf, err = papers.Make(in)
	require.NoError(t, err)
	assert.Contains(t, printed(t, pdf), say.Day(l.Sessions[1].Date).String(), "the last that was right")
}

// A paper says which engine it is of, and how its owner is reached only where that is wanted.
func TestTheNumbersOfAnEngineOnPaper(t *testing.T) {
	l := demo.Logs()[0].Standing()
	l.Engine.Identity = &log.Identity{Serial: "SN-7731", Seal: "CLASS-12", Phone: "555 0142", Email: "marit@example.org"}
	in := input(l, papers.Certificate, "")
	said := func(shows papers.Shows) string {
		in.Shows = shows
		pdf, err := papers.Make(in)
		require.NoError(t, err)
		return printed(t, pdf)
	}
	plain, all, none := said(papers.Shows{}), said(papers.Shows{Contact: true}), said(papers.Shows{NoNumbers: true})
	assert.Contains(t, plain, "SN-7731")
	assert.Contains(t, plain, "CLASS-12")
	assert.NotContains(t, plain, "555 0142")
	assert.Contains(t, all, "555 0142")
	assert.Contains(t, all, "marit@example.org")
	assert.NotContains(t, none, "SN-7731")
}

// What a customer reads: the fault in words that need no workshop, the pictures, what to do in its order, and what was agreed.
func TestTheReportForTheCustomer(t *testing.T) {
	l := demo.Logs()[0].Standing()
	last := &l.Sessions[len(l.Sessions)-1]
	last.Agreed, last.HoursSpent = "Head off on Monday, up to 400", 1.5
	last.Observations = append(last.Observations,
		log.Observation{What: "other", Finding: log.Photo, Key: "p1", Note: "the plug of 3", Place: log.Place{Cylinder: 3}},
		log.Observation{What: "other", Finding: log.Photo, Key: "none", Note: "lost"})
	var jpg bytes.Buffer
	require.NoError(t, jpeg.Encode(&jpg, image.NewGray(image.Rect(0, 0, 64, 48)), nil))
	in := input(l, papers.Report, "")
	plain, err := papers.Make(in)
	require.NoError(t, err)
	in.Picture = func(test, key string) []byte {
		assert.Equal(t, last.ID, test)
		return map[string][]byte{"p1": jpg.Bytes()}[key]
	}
	pdf, err := papers.Make(in)
	require.NoError(t, err)
	assert.Greater(t, len(pdf), len(plain), "the picture is in it")
	text := strings.Join(strings.Fields(printed(t, pdf)), " ")
	for _, said := range []string{
		"Cylinder 3: An exhaust valve doesn't close tightly, so pressure escapes into the exhaust.", "1. Don't run it again yet.",
		"Head off on Monday, up to 400", "Work so far: 1.5 h.", "the plug of 3", "licensed person",
	} {
		assert.Contains(t, text, said)
	}
	assert.NotContains(t, text, "lost")

	sound := demo.Logs()[0].Standing()
	sound.Sessions = sound.Sessions[:2]
	pdf, err = papers.Make(input(sound, papers.Report, ""))
	require.NoError(t, err)
	assert.Contains(t, strings.Join(strings.Fields(printed(t, pdf)), " "), "Nothing wrong was found.")
}
