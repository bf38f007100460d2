package diary

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/units"
)

func at(v float64) *float64 { return &v }

// tested is a hot test of a four, with the readings given in psi.
func tested(id, date string, meter float64, psi ...float64) log.Session {
	s := log.Session{ID: id, Date: date, Meter: &meter, Baseline: id == "s1", Conditions: log.Conditions{EngineTemp: "hot", Throttle: "open"}}
	for i, v := range psi {
		pull := log.Pull{Reading: units.Reading{Value: v, Unit: units.PSI}}
		s.Compression = append(s.Compression, log.Compression{Place: log.Place{Cylinder: i + 1}, Mode: log.Dry, Pulls: []log.Pull{pull, pull}})
	}
	return s
}

func siskin(sessions ...log.Session) log.Log {
	return log.Log{
		Engine: log.Engine{
			ID: "siskin", Name: "Siskin", Owner: "Pekka", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}},
			Duty: "circuit", MeterUnit: "h", Fuel: "petrol",
		},
		Sessions: sessions,
	}
}

func due(l log.Log) []Item { return dueBy(l, rules.Shop{}) }

func dueBy(l log.Log, shop rules.Shop) []Item { return Of(l, judge.Log(l, shop)) }

func kinds(all []Item) []Kind {
	var out []Kind
	for _, i := range all {
		out = append(out, i.Kind)
	}
	return out
}

// A circuit engine is tested again after ten hours or six months, by the table: 2 + 10 hours, 1 March + 6 months.
func TestTheDutySaysWhenToTestAgain(t *testing.T) {
	all := due(siskin(tested("s1", "2026-03-01", 2, 180, 180, 181, 180)))
	require.Len(t, all, 1)
	i := all[0]
	assert.Equal(t, "test.s1", i.ID)
	assert.Equal(t, Test, i.Kind)
	assert.InDelta(t, 12, *i.Meter, 0)
	assert.Equal(t, "2026-09-01", i.By)
	assert.Contains(t, i.Why, "a circuit engine is due every 10 h or 6 months")
	assert.Equal(t, "Siskin", i.Name)
	assert.Equal(t, "Pekka", i.Owner)
}

func TestTheRulesOfThePlanCanBeChanged(t *testing.T) {
	l := siskin(tested("s1", "2026-03-01", 2, 180, 180, 181, 180))
	shop := rules.Shop{Intervals: []rules.Interval{{Duty: "circuit", Hours: 6, Months: 2}}}
	i := dueBy(l, shop)[0]
	assert.InDelta(t, 8, *i.Meter, 0)
	assert.Equal(t, "2026-05-01", i.By)
	l.Engine.Plan = &log.Plan{Every: 3}
	i = dueBy(l, shop)[0]
	assert.InDelta(t, 5, *i.Meter, 0, "the engine's own stands above the workshop's")
	assert.Equal(t, "2026-05-01", i.By, "and what it leaves open is the workshop's")
}

// The meter may come sooner than the day.
func TestTheMeterMakesItOverdue(t *testing.T) {
	l := siskin(tested("s1", "2026-03-01", 2, 180, 180, 181, 180))
	assert.Equal(t, Later, due(l)[0].On("2026-04-01", "2026-05-01"))
	l.Events = []log.Event{{Key: "e", Date: "2026-04-01", Meter: at(12), What: "club day"}}
	i := due(l)[0]
	assert.True(t, i.Reached)
	assert.Equal(t, Overdue, i.On("2026-04-01", "2026-05-01"))
}

// Where a thing stands goes by the day alone.
func TestStandingByTheDay(t *testing.T) {
	i := Item{By: "2026-09-01"}
	for day, want := range map[string]Standing{"2026-08-31": Soon, "2026-09-01": Now, "2026-09-02": Overdue, "2026-06-01": Later} {
		assert.Equal(t, want, i.On(day, later(day, 30)), day)
	}
	i.PutOff = "2026-10-01"
	assert.Equal(t, Off, i.On("2026-09-20", "2026-10-20"))
	assert.Equal(t, Overdue, i.On("2026-10-01", "2026-11-01"))
}

// What happened asks for a test, by its kind or by its words, until one is made.
func TestWhatHappenedAsksForATest(t *testing.T) {
	l := siskin(tested("s1", "2026-03-01", 2, 180, 180, 181, 180))
	for what, id := range map[string]string{
		"missed shift on the ridge": "do a leak-down before the next run", "hot day, lost water": "test it before you work it hard again",
		"took some water in": "test it before you start it again",
	} {
		l.Events = []log.Event{{Key: "e1", Date: "2026-04-01", What: what}}
		all := due(l)
		require.Equal(t, []Kind{After, Test}, kinds(all), what)
		assert.Equal(t, "after.e1", all[0].ID)
		assert.Equal(t, id, all[0].What)
		assert.Equal(t, "2026-04-01", all[0].By)
	}
	l.Events[0] = log.Event{Key: "e1", Date: "2026-04-01", What: "new sticker"}
	assert.Equal(t, []Kind{Test}, kinds(due(l)))
	l.Events[0].Kind = "hit"
	assert.Equal(t, []Kind{After, Test}, kinds(due(l)), "what it was said to be counts before its words")
	l.Events[0] = log.Event{Key: "e1", Date: "2026-04-01", What: "missed shift", Kind: "other"}
	assert.Equal(t, []Kind{Test}, kinds(due(l)))

	l.Events[0] = log.Event{Key: "e1", Date: "2026-04-01", Meter: at(5), What: "missed shift"}
	l.Sessions = append(l.Sessions, tested("s2", "2026-04-01", 4.5, 180, 180, 181, 180))
	assert.Equal(t, []Kind{After, Test}, kinds(due(l)), "tested that day, but before it")
	l.Sessions[1].Meter = at(5)
	assert.Equal(t, []Kind{Test}, kinds(due(l)), "done by testing")
}

// A bad reading is seen to before any date, and a doubted one is tested again.
func TestWhatWasFoundComesBeforeAnyDate(t *testing.T) {
	l := siskin(tested("s1", "2026-03-01", 2, 180, 180, 181, 180), tested("s2", "2026-04-01", 6, 180, 180, 120, 180))
	all := due(l)
	require.Equal(t, []Kind{Mend}, kinds(all))
	assert.Equal(t, "mend.s2", all[0].ID)
	assert.Contains(t, all[0].Why, "3")
	l.Sessions[1].Open = true
	assert.Equal(t, Finish, due(l)[0].Kind)
}

// What an item is called stays while what it comes from is edited, and another test makes another of it.
func TestAnItemKeepsItsNameWhenItIsEdited(t *testing.T) {
	l := siskin(tested("s1", "2026-03-01", 2, 180, 180, 181, 180))
	before := due(l)[0]
	l.Sessions[0].Date, l.Sessions[0].Note, l.Engine.Name = "2026-03-05", "a day late", "Siskin II"
	after := due(l)[0]
	assert.Equal(t, before.ID, after.ID)
	assert.NotEqual(t, before.By, after.By)
	l.Sessions = append(l.Sessions, tested("s2", "2026-04-01", 6, 180, 180, 181, 180))
	assert.NotEqual(t, before.ID, due(l)[0].ID)
}

func TestPutOffUntilADayForAReason(t *testing.T) {
	l := siskin(tested("s1", "2026-03-01", 2, 180, 180, 181, 180))
	l.PutOff = []log.PutOff{{Item: "test.s1", Until: "2026-12-01", Why: "in the shed", Key: "p1"}, {Item: "test.s0", Until: "2030-01-01", Why: "another"}}
	i := due(l)[0]
	assert.Equal(t, "2026-12-01", i.PutOff)
	assert.Equal(t, "in the shed", i.PutOffWhy)
	l.PutOff = append(l.PutOff, log.PutOff{Item: "test.s1", Until: "2026-10-01", Why: "sooner after all", Key: "p2"})
	assert.Equal(t, "p2", due(l)[0].PutOffKey, "the last counts")
}

func TestWhatHasNothingDue(t *testing.T) {
	l := siskin(tested("s1", "2026-03-01", 2, 180, 180, 181, 180))
	l.Engine.Stands = "sold"
	assert.Empty(t, due(l))
	l.Engine.Stands, l.Engine.Archived = "", true
	assert.Empty(t, due(l))
	assert.Equal(t, []Kind{First}, kinds(due(siskin())))
}

// A test that was finished with a cylinder unread is no test of a year: the rest is due at once.
func TestTheRestOfATestIsDue(t *testing.T) {
	all := due(siskin(tested("s1", "2026-03-01", 2, 180, 180, 181)))
	require.Equal(t, []Kind{Retest}, kinds(all))
	assert.Equal(t, "test the rest", all[0].What)
	assert.Equal(t, "4 not read yet, so nothing is known of it", all[0].Why)
	assert.Equal(t, "2026-03-01", all[0].By)
}

// Once something is repaired, the test that shows whether it worked is due, also on the day of the test that found it.
func TestARepairAsksForTheTestThatAnswersIt(t *testing.T) {
	l := siskin(tested("s1", "2026-03-01", 2, 180, 180, 181, 180), tested("s2", "2026-05-01", 4, 180, 180, 120, 180))
	assert.Equal(t, []Kind{Mend}, kinds(due(l)))
	l.Events = []log.Event{{Key: "r1", Date: "2026-05-01", Kind: log.Repair, What: "valve job", Cylinders: []int{3}, After: "s2"}}
	all := due(l)
	require.Equal(t, []Kind{After}, kinds(all))
	assert.Equal(t, "after.r1", all[0].ID)
	assert.Equal(t, "test it: did the repair work?", all[0].What)
	assert.Equal(t, "2026-05-08", all[0].By)
	l.Sessions = append(l.Sessions, tested("s3", "2026-05-01", 4, 180, 180, 179, 180))
	assert.Equal(t, []Kind{Test}, kinds(due(l)), "it was tested, on the same day")
	l.Events[0].After = "" // then the test of that day is the one after it
	l.Sessions = l.Sessions[:2]
	assert.Equal(t, []Kind{Mend}, kinds(due(l)))
}
