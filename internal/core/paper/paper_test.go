package paper_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/paper"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

const engine = `{"name":"Siskin","kind":"four-stroke","layout":{"banks":[[1,2,3,4]]},"firing_order":[1,3,4,2]}`

// shop returns an empty engine's book and a workshop with two gauges of like names.
func shop(t testing.TB) (b, testers *book.Book) {
	b, testers = book.Of("siskin"), book.Of("")
	b.Add(at(book.Entry{ID: "e1", Engine: "siskin", Kind: book.Engine, Body: jsontext.Value(engine)}))
	for i, name := range []string{"Long hose", "Long reach", "Box"} {
		kind := "compression"
		if name == "Box" {
			kind = "leakdown"
		}
		testers.Add(at(book.Entry{ID: fmt.Sprint("g", i), Kind: book.Tester, Body: jsontext.Value(fmt.Sprintf(`{"id":"g%d","name":%q,"kind":%q}`, i, name, kind))}))
	}
	require.True(t, b.Begun())
	return b, testers
}

func at(e book.Entry) book.Entry {
	e.At = "2033-06-01T09:00:00.000Z"
	return e
}

func logOf(b, testers *book.Book) log.Log {
	l := b.Log(testers).Standing()
	l.Testers = testers.Testers()
	return l
}

// handIn gives the entries to the book as the screen does, and returns what it refused.
func handIn(b, testers *book.Book, entries []paper.Entry) (refused []book.Answer) {
	for i, e := range entries {
		body, err := json.Marshal(e.Body)
		if err != nil {
			panic(err)
		}
		one := book.Entry{
			ID: fmt.Sprintf("in-%d-%d", len(b.Entries()), i), Engine: "siskin", Kind: e.Kind, Body: body,
			At: time.Date(2033, 6, 1, 10, len(b.Entries()), i, 0, time.UTC).Format(book.Clock),
		}
		if a := book.Admit(b, testers, one); a.Result != book.IsKept {
			refused = append(refused, a)
			continue
		}
		b.Add(one)
	}
	return refused
}

func read(t testing.TB, l log.Log, rows ...paper.Row) paper.Result {
	out, err := paper.Read(l, rows, rules.Shop{})
	require.NoError(t, err)
	return out
}

func TestATestStandsInOneRowOrInThree(t *testing.T) {
	b, testers := shop(t)
	out := read(t, logOf(b, testers),
		paper.Row{Key: "a", Date: "2.4.2031", Meter: "120,5", Temp: "h", Gauge: "long h", Cells: []string{"172/174", "170", "", "171"}, Note: "after the lake"},
		paper.Row{Key: "b", What: "w", Gauge: "long h", Cells: []string{"180"}},
		paper.Row{Key: "c", Date: "2031-04-02", What: "leak", Gauge: "box", Cells: []string{"7e2c", "93 of 100", "4 none", "12/5"}},
		paper.Row{Key: "d", Date: "14/5/31", Cells: []string{"150", "", "", "171"}},
	)
	require.Empty(t, out.Faults)
	require.Len(t, out.Entries, 2)
	require.Empty(t, handIn(b, testers, out.Entries))
	l := logOf(b, testers)
	require.Len(t, l.Sessions, 2)
	first := l.Sessions[0]
	assert.Equal(t, "2031-04-02", first.Date)
	assert.Equal(t, 120.5, *first.Meter)
	assert.True(t, !first.Conditions.Cold() && first.Conditions.EngineTemp == "hot" && !first.Open)
	require.Len(t, first.Compression, 4, "1, 2 and 4 dry, 1 wet")
	assert.Equal(t, []float64{172, 174}, []float64{first.Compression[0].Pulls[0].Value, first.Compression[0].Pulls[1].Value})
	assert.Equal(t, "g0", first.Compression[0].Tester)
	require.Len(t, first.Leakdown, 5)
	assert.Equal(t, []log.Path{{Where: log.Exhaust, Level: 2}, {Where: log.Crankcase}}, first.Leakdown[0].Paths)
	assert.InDelta(t, 93, first.Leakdown[0].Held, 1e-9)
	assert.Nil(t, first.Leakdown[1].Paths, "nobody said that anybody listened")
	assert.Equal(t, []log.Path{}, first.Leakdown[2].Paths, "listened, nothing")
	assert.Equal(t, "2031-05-14", l.Sessions[1].Date, "there is no fourteenth month")
	require.Len(t, out.Tests, 2)
	assert.NotEmpty(t, out.Tests[0].Sentence)
}

func TestWhatCannotBeReadIsNamedByRowAndColumn(t *testing.T) {
	b, testers := shop(t)
	out := read(t, logOf(b, testers),
		paper.Row{Key: "a", Date: "3/4/2031", Cells: []string{"172"}},
		paper.Row{Key: "b", Date: "31.2.2031", Meter: "-4", Temp: "boiling", Gauge: "long", What: "smoke", Unit: "atm", Cells: []string{"17x", "1510", "1.5.2", "150/", "9"}},
		paper.Row{Key: "c", Date: "2031-07-01", Gauge: "short", What: "leak", Cells: []string{"130", "94 of 90", "7z", "e"}},
		paper.Row{Key: "d", Date: "2031-08-01", Cells: []string{"160"}},
	)
	said := map[string]string{}
	for _, f := range out.Faults {
		said[f.Row+" "+f.Column] = f.What
	}
	assert.Contains(t, said["a date"], "two different days")
	for _, want := range []string{"b date", "b meter", "b temp", "b gauge", "b what", "b unit", "b 1", "b 2", "b 3", "b note", "c gauge", "c 1", "c 2", "c 3", "c 4"} {
		assert.Contains(t, said, want)
	}
	assert.Contains(t, said["b gauge"], "2 testers start with")
	assert.Len(t, out.Entries, 1, "the sound test is kept without the others")
}

func TestACellThatIsMendedIsStruckAndReadAnew(t *testing.T) {
	b, testers := shop(t)
	require.Empty(t, handIn(b, testers, read(t, logOf(b, testers),
		paper.Row{Key: "a", Date: "2031-04-02", Gauge: "Long hose", Cells: []string{"172", "710", "173", "171"}},
		paper.Row{Key: "b", What: "leak", Cells: []string{"4", "5", "3", "4"}},
	).Entries))
	rows, err := paper.Of(logOf(b, testers))
	require.NoError(t, err)
	require.Len(t, rows, 2)
	assert.Equal(t, []string{"172", "710", "173", "171"}, rows[0].Cells)
	assert.Equal(t, []string{"4", "5", "3", "4"}, rows[1].Cells)
	assert.Empty(t, read(t, logOf(b, testers), rows...).Entries, "nothing was typed: nothing is changed")

	rows[0].Cells[1], rows[0].Gauge, rows[0].Meter, rows[0].Date = "170/171", "Long reach", "55", "2031-04-03"
	require.Empty(t, handIn(b, testers, read(t, logOf(b, testers), rows...).Entries))
	l := logOf(b, testers)
	require.Len(t, l.Sessions, 1)
	s := l.Sessions[0]
	assert.Equal(t, "2031-04-03", s.Date)
	assert.Equal(t, 55.0, *s.Meter)
	got := map[int][]float64{}
	struck := 0
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			if p.Struck != "" {
				struck++
				continue
			}
			got[row.Cylinder] = append(got[row.Cylinder], p.Value)
			assert.Equal(t, "g1", row.Tester, "all of the row was read with that gauge")
		}
	}
	assert.Equal(t, map[int][]float64{1: {172}, 2: {170, 171}, 3: {173}, 4: {171}}, got)
	assert.Equal(t, 1, struck, "what stood there stays on record")
}

func TestWhatAnotherChangedMeanwhileIsLeftAsHeHasIt(t *testing.T) {
	b, testers := shop(t)
	require.Empty(t, handIn(b, testers, read(t, logOf(b, testers),
		paper.Row{Key: "a", Date: "2031-04-02", Note: "first", Cells: []string{"172", "710", "173", "171"}}).Entries))
	mine, err := paper.Of(logOf(b, testers))
	require.NoError(t, err)
	theirs, err := paper.Of(logOf(b, testers))
	require.NoError(t, err)
	theirs[0].Cells[0], theirs[0].Note = "168", "second"
	require.Empty(t, handIn(b, testers, read(t, logOf(b, testers), theirs...).Entries))

	mine[0].Was = &paper.Was{Date: mine[0].Date, Note: mine[0].Note, Cells: slices.Clone(mine[0].Cells)}
	mine[0].Cells[1] = "170"
	require.Empty(t, handIn(b, testers, read(t, logOf(b, testers), mine...).Entries))
	now, err := paper.Of(logOf(b, testers))
	require.NoError(t, err)
	assert.Equal(t, []string{"168", "170", "173", "171"}, now[0].Cells)
	assert.Equal(t, "second", now[0].Note)
}

func TestTheSamePaperIsNotTypedInTwice(t *testing.T) {
	b, testers := shop(t)
	row := paper.Row{Key: "a", Date: "2.4.2031", Cells: []string{"172", "170/171", "173", "171"}}
	require.Empty(t, handIn(b, testers, read(t, logOf(b, testers), row).Entries))
	again := read(t, logOf(b, testers), paper.Row{Key: "z", Date: "2031-04-02", Gauge: "box", What: "dry", Cells: row.Cells})
	assert.Empty(t, again.Entries)
	require.Len(t, again.Faults, 1)
	assert.Contains(t, again.Faults[0].What, "is here already")
	other := read(t, logOf(b, testers), paper.Row{Key: "z", Date: "2031-04-02", Cells: []string{"172", "170/171", "173", "170"}})
	assert.Len(t, other.Entries, 1, "a second test of one day is another")
}

func TestATestOnRecordKeepsItsDay(t *testing.T) {
	b, testers := shop(t)
	require.Empty(t, handIn(b, testers, read(t, logOf(b, testers), paper.Row{Key: "a", Date: "2.4.2031", Cells: []string{"172"}}).Entries))
	rows, err := paper.Of(logOf(b, testers))
	require.NoError(t, err)
	rows[0].Date = ""
	out := read(t, logOf(b, testers), rows...)
	assert.Empty(t, out.Entries)
	require.Len(t, out.Faults, 1)
	assert.Equal(t, "date", out.Faults[0].Column)
}

// A day is also typed in digits alone, the year first, so that no other key is looked for.
func TestADayInDigitsAlone(t *testing.T) {
	b, testers := shop(t)
	out := read(t, logOf(b, testers), paper.Row{Key: "a", Date: "20310402", Cells: []string{"172"}}, paper.Row{Key: "b", Date: "20311302", Cells: []string{"172"}})
	require.Len(t, out.Tests, 1)
	assert.Equal(t, "2031-04-02", out.Tests[0].Date)
	require.Len(t, out.Faults, 1)
	assert.Equal(t, "b", out.Faults[0].Row, "there is no thirteenth month")
}

func TestARotaryHasItsOwnSheet(t *testing.T) {
	_, err := paper.Read(log.Log{Engine: log.Engine{Kind: log.Rotary}}, nil, rules.Shop{})
	assert.ErrorIs(t, err, paper.ErrRotary)
}

// Whatever is typed, what is said to be sound is taken by the book, and reads back as it was typed.
func FuzzGrid(f *testing.F) {
	f.Add("2.4.2031", "412,5", "hot", "dry", "psi", "145/147", "7e2", "93 of 100")
	f.Add("3/4/31", "x", "c", "leak", "bar", "6,5", "none", "100")
	f.Add("2 Apr 2031", "", "", "l", "kPa", "0", "12ciewnp", "5 %none")
	f.Fuzz(func(t *testing.T, date, meter, temp, what, unit, one, two, three string) {
		for _, s := range []string{date, meter, temp, what, unit, one, two, three} {
			if len(s) > 40 || !isPlain(s) {
				t.Skip()
			}
		}
		b, testers := shop(t)
		row := paper.Row{Key: "k", Date: date, Meter: meter, Temp: temp, What: what, Unit: unit, Cells: []string{one, two, three, "-"}}
		out := read(t, logOf(b, testers), row)
		require.Empty(t, handIn(b, testers, out.Entries), "%+v", row)
		rows, err := paper.Of(logOf(b, testers))
		require.NoError(t, err)
		again := read(t, logOf(b, testers), rows...)
		require.Empty(t, again.Faults, "%+v", rows)
		require.Empty(t, again.Entries, "%+v", rows)
	})
}

func isPlain(s string) bool {
	return strings.ToValidUTF8(s, "") == s && !strings.ContainsFunc(s, func(r rune) bool { return r < ' ' })
}

func TestEveryUnitHasItsUsualSupply(t *testing.T) {
	for _, unit := range []units.Unit{units.PSI, units.KPa, units.Bar, units.KgfCm2} {
		b, testers := shop(t)
		out := read(t, logOf(b, testers), paper.Row{Key: "a", Date: "2031-04-02", What: "leak", Unit: string(unit), Cells: []string{"12.5"}})
		require.Empty(t, out.Faults)
		require.Empty(t, handIn(b, testers, out.Entries))
		row := logOf(b, testers).Sessions[0].Leakdown[0]
		assert.InDelta(t, 0.125, 1-row.Held/row.Supply, 1e-9)
	}
}
