package table

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/written"
)

// sheet makes a grid of lines, cells between bars.
func sheet(lines ...string) []Sheet {
	s := Sheet{Name: "teal"}
	for i, l := range lines {
		var cells []string
		for _, c := range strings.Split(l, "|") {
			cells = append(cells, strings.TrimSpace(c))
		}
		s.Rows = append(s.Rows, Row{i + 1, cells})
	}
	return []Sheet{s}
}

// saysOf writes out what tests say: a line a test, with its dry pulls by cylinder and its leaks in percent.
func saysOf(r Result) []string {
	var out []string
	for _, l := range r.Logs {
		for _, s := range l.Sessions {
			line := s.Date
			for _, row := range s.Compression {
				line += fmt.Sprintf(" %d", row.Cylinder)
				for _, p := range row.Pulls {
					line += fmt.Sprintf(":%g", p.Value)
				}
				if row.Mode == log.Wet {
					line += "w"
				}
			}
			for _, row := range s.Leakdown {
				line += fmt.Sprintf(" %d=%.0f%%", row.Cylinder, 100*(1-row.Held/row.Supply))
			}
			out = append(out, line)
		}
	}
	return out
}

// One notebook in the layouts that people keep: it says the same in each.
func TestANotebookSaysTheSameInEveryLayout(t *testing.T) {
	want := []string{"2031-04-25 1:172 2:171 3:169 4:173", "2031-06-28 1:171 2:170 3:158 4:172"}
	for name, s := range map[string][]Sheet{
		"a column a cylinder": sheet("date | unit | cyl 1 | cyl 2 | cyl 3 | cyl 4", "25 Apr 2031 | psi | 172 | 171 | 169 | 173", "28 Jun 2031 | psi | 171 | 170 | 158 | 172"),
		"under a title":       sheet("Teal, psi", "", "date | 1 | 2 | 3 | 4", "25.4.2031 | 172 | 171 | 169 | 173", "28.6.2031 | 171 | 170 | 158 | 172", "average | 171.5 | 170.5 | 163.5 | 172.5"),
		"turned":              sheet("Teal | psi |", "date | 2031-04-25 | 2031-06-28", "cyl 1 | 172 | 171", "cyl 2 | 171 | 170", "cyl 3 | 169 | 158", "cyl 4 | 173 | 172"),
		"a row a cylinder": sheet("date | cylinder | psi", "2031-04-25 | 1 | 172", "2031-04-25 | 2 | 171", "2031-04-25 | 3 | 169", "2031-04-25 | 4 | 173",
			"2031-06-28 | 1 | 171", "2031-06-28 | 2 | 170", "2031-06-28 | 3 | 158", "2031-06-28 | 4 | 172"),
	} {
		t.Run(name, func(t *testing.T) {
			r := Read(s, Picks{})
			require.Nil(t, r.Must(), "%+v", r.Asked)
			assert.Equal(t, want, saysOf(r))
			assert.Empty(t, r.Refused)
		})
	}
}

// Day or month first is asked where the whole file leaves it open, and not where one of its dates says so.
func TestTheOrderOfADateIsAskedOnlyWhereNothingSaysIt(t *testing.T) {
	open := Read(sheet("date | psi 1 | psi 2", "3/4/2031 | 172 | 171", "5/6/2031 | 171 | 170"), Picks{})
	require.NotNil(t, open.Must())
	assert.Equal(t, AskDates, open.Must().What)
	told := Read(sheet("date | psi 1 | psi 2", "3/4/2031 | 172 | 171", "25/6/2031 | 171 | 170"), Picks{})
	assert.Nil(t, told.Must())
	assert.Equal(t, []string{"2031-04-03 1:172 2:171", "2031-06-25 1:171 2:170"}, saysOf(told))
	picked := Read(sheet("date | psi 1 | psi 2", "3/4/2031 | 172 | 171"), Picks{Dates: written.MonthFirst})
	assert.Equal(t, []string{"2031-03-04 1:172 2:171"}, saysOf(picked))
}

func TestWhatACellMaySay(t *testing.T) {
	f := written.Figures{}
	for text, want := range map[string][]float64{
		"172": {172}, "172 / 171": {172, 171}, "172psi": {172}, "172-175": {172, 175}, "172;171": {172, 171}, "172 (171)": {172, 171}, "~172": {172}, "1,250": {1250},
	} {
		c, err := readCell(f, text, log.Dry)
		require.NoError(t, err, text)
		var got []float64
		for _, p := range c.pulls {
			got = append(got, p.value)
		}
		assert.Equal(t, want, got, text)
	}
	comma := written.Figures{Comma: true}
	c, err := readCell(comma, "12,4", log.Dry)
	require.NoError(t, err)
	assert.InDelta(t, 12.4, c.pulls[0].value, 1e-9)
	for _, text := range []string{"=B2*2", "-172", "low", strings.Repeat("1", 300), "172 mmHg"} {
		_, err := readCell(f, text, log.Dry)
		assert.Error(t, err, text)
	}
}

// What can't be taken is named by its row and column, and the rest of the row is taken.
func TestAFormulaIsRefusedAndTheRestIsTaken(t *testing.T) {
	r := Read(sheet("date | unit | cyl 1 | cyl 2 | cyl 3", "25 Apr 2031 | psi | 172 | =B2*0.9 | 169", "| | | |", "26 Apr 2031 | psi | 170 | -12 | 168"), Picks{})
	assert.Equal(t, []string{"2031-04-25 1:172 3:169", "2031-04-26 1:170 3:168"}, saysOf(r))
	require.Len(t, r.Refused, 2)
	assert.Equal(t, 2, r.Refused[0].Row)
	assert.Contains(t, r.Refused[0].Why, "formula")
	assert.Equal(t, 4, r.Refused[1].Row)
}

func TestLeaksAreReadAsPercentOrAsHeld(t *testing.T) {
	for name, s := range map[string][]Sheet{
		"percent":         sheet("date | leak % 1 | leak % 2", "25 Apr 2031 | 5 | 12"),
		"signs":           sheet("date | leak 1 | leak 2", "25 Apr 2031 | 5 % | 12 %"),
		"supply and held": sheet("date | cylinder | supply psi | held psi", "25 Apr 2031 | 1 | 100 | 95", "25 Apr 2031 | 2 | 100 | 88"),
	} {
		t.Run(name, func(t *testing.T) {
			assert.Equal(t, []string{"2031-04-25 1=5% 2=12%"}, saysOf(Read(s, Picks{})))
		})
	}
}

func TestWhatTheSheetDoesNotSayIsAsked(t *testing.T) {
	r := Read(sheet("cyl 1 | cyl 2", "172 | 171"), Picks{})
	require.NotNil(t, r.Must())
	r = Read(sheet("cyl 1 | cyl 2", "172 | 171"), Picks{Date: "2031-04-25", Unit: "psi"})
	assert.Nil(t, r.Must())
	assert.Equal(t, []string{"2031-04-25 1:172 2:171"}, saysOf(r))
	assert.Empty(t, Read([]Sheet{{}}, Picks{}).Logs)
}

// Whatever stands in a grid, nothing is taken in silence: each figure of a row that was taken is in a test, or is named.
func TestNothingOfATakenRowIsLostInSilence(t *testing.T) {
	words := []string{"172", "171/170", "=A1", "-5", "low", "", "n/a", "169 wet 180", "12%", "~168", "1o8", "160 - 162", "99999"}
	for seed := range 400 {
		draw := rand.New(rand.NewPCG(uint64(seed), 9))
		lines := []string{"date | unit | cyl 1 | cyl 2 | cyl 3 | cyl 4"}
		for i := range 1 + draw.IntN(5) {
			row := fmt.Sprintf("2031-04-%02d | psi", 1+i)
			for range 4 {
				row += " | " + words[draw.IntN(len(words))]
			}
			lines = append(lines, row)
		}
		r := Read(sheet(lines...), Picks{})
		if r.Must() != nil {
			continue // nothing of it comes in by half
		}
		named := map[int]bool{}
		for _, x := range r.Refused {
			named[x.Row] = true
		}
		for _, x := range r.Ignored {
			named[x.Row] = true
		}
		byDate := map[string]string{}
		for _, l := range saysOf(r) {
			byDate[strings.Fields(l)[0]] = l
		}
		for i, line := range lines[1:] {
			cells := strings.Split(line, " | ")
			for c, cell := range cells[2:] {
				if cell == "172" && !strings.Contains(byDate[cells[0]], fmt.Sprintf(" %d:172", c+1)) && !named[i+2] {
					assert.Fail(t, "lost", "seed %d, %s, cylinder %d: %v %+v", seed, line, c+1, saysOf(r), r.Refused)
				}
				if (cell == "=A1" || cell == "-5") && !named[i+2] {
					assert.Fail(t, "silent", "seed %d, %s\n%s\n%v", seed, line, strings.Join(lines, "\n"), r.Asked)
				}
			}
		}
	}
}

// FuzzRead reads any grid: it never fails, and what it takes is a log that can be kept.
func FuzzRead(f *testing.F) {
	f.Add("date|cyl 1|cyl 2\n2031-04-25|172|171")
	f.Add("Teal; bar\nDatum|Zyl. 1\n3/4/2031|12,4")
	f.Add("cyl|date|leak %\n1|x|5%\n\n2|=A1|-")
	f.Fuzz(func(t *testing.T, text string) {
		if len(text) > 4000 {
			return
		}
		s := sheet(strings.Split(text, "\n")...)
		for _, l := range Read(s, Picks{}).Logs {
			for _, one := range l.Sessions {
				for _, row := range one.Compression {
					for _, p := range row.Pulls {
						if p.Value < 0 {
							t.Fatalf("%q: %v", text, p)
						}
					}
				}
			}
		}
	})
}
