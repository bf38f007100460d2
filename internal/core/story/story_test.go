package story_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/story"
)

func kindOf(what string) string {
	h, _ := story.Of(log.Event{What: what})
	return h.Kind
}

// As people write it in a book beside the engine, in words that are not the table's own rows.
func TestWhatHappenedIsKnownByItsWords(t *testing.T) {
	for what, kind := range map[string]string{
		"Got far too hot in the paddock queue, steam everywhere": "ran-hot",
		"lower hose burst on the straight, coolant all gone":     "ran-hot",
		"118 degrees at the end of the climb":                    "ran-hot",
		"grabbed second instead of fourth at the hairpin":        "over-revved",
		"buzzed to 9400 when the clutch let go":                  "over-revved",
		"Missed a gear. Tell-tale says 8900":                     "over-revved",
		"swallowed half the river and stopped dead":              "took-water",
		"hydraulicked on the starter after the wash":             "took-water",
		"injector stuck open, cylinder 3 full of petrol":         "took-water",
		"oil light came on in turn two":                          "lost-oil",
		"ran it with no oil for half a lap":                      "lost-oil",
		"dropped its oil pressure under brakes":                  "lost-oil",
		"knocking badly on the cheap fuel":                       "ran-lean",
		"ran lean all afternoon, plugs white":                    "ran-lean",
		"not run since the last autumn meeting":                  "stood",
		"has been in storage for two years":                      "stood",
		"air filter fell off, full of sand":                      "took-dirt",
		"kicked back and ran backwards for a moment":             "ran-backwards",
		"new timing belt and tensioner":                          "cam-drive",
		"hit the barrier backwards, nothing leaks":               "hit",
		"first start on the stand, twenty minutes":               "first-run",
		"Oil and filter changed":                                 "",
		"new set of plugs and leads":                             "",
		"club day, four runs, no trouble":                        "",
		"rev limiter set to 7800":                                "",
		"oil pressure good, temperature normal":                  "",
		"did not overheat all day":                               "",
		"never missed a shift":                                   "",
		"through the water splash, took none in, no harm":        "",
		"": "",
	} {
		assert.Equal(t, kind, kindOf(what), what)
	}
}

// Words stand above a kind that was picked in a hurry; a kind stands where the words say nothing, unless they deny it.
func TestWordsAndKind(t *testing.T) {
	of := func(kind, what string) string {
		h, _ := story.Of(log.Event{Kind: kind, What: what})
		return h.Kind
	}
	assert.Equal(t, "lost-oil", of("hit", "sump split, ran without oil to the pits"))
	assert.Equal(t, "ran-hot", of("other", "boiled over"))
	assert.Equal(t, "ran-hot", of("ran-hot", "at the third corner"))
	assert.Empty(t, of("ran-hot", "they say it did not overheat"))
	assert.Empty(t, of("other", "washed it"))
}

// One wrong letter in a long word, or two the wrong way round, anywhere but at its beginning, changes nothing.
func TestASlipOfThePenIsForgiven(t *testing.T) {
	for _, what := range []string{"overheated on the hill", "detonated badly", "standing since autumn", "swallowed water", "missed shift"} {
		kind := kindOf(what)
		require.NotEmpty(t, kind, what)
		word := strings.Fields(what)[0]
		for i := 1; i < len(word)-1; i++ {
			rest := what[len(word):]
			for _, slip := range []string{word[:i] + "x" + word[i+1:], word[:i] + word[i+1:], word[:i] + "x" + word[i:], word[:i] + string(word[i+1]) + string(word[i]) + word[i+2:]} {
				assert.Equal(t, kind, kindOf(slip+rest), slip+rest)
			}
		}
	}
}

// What somebody says twice is no other thing, and what is denied in one sentence can have happened in another.
func FuzzWhatIsWritten(f *testing.F) {
	for _, s := range []string{"boiled over, did not stop", "took no water", "missed third - tell-tale 8400 !!", "…", "#1", "\xff"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		kind := kindOf(s)
		if kind != "" {
			_, known := rules.Happened().Of(kind)
			assert.True(t, known)
		}
		assert.Equal(t, kind, kindOf(s), "asked again")
		if kind != "" {
			assert.NotEmpty(t, kindOf(s+"\n"+s))
		}
	})
}

func TestTheStoryOfALogIsInOrder(t *testing.T) {
	at := 12.0
	l := log.Log{
		Events:   []log.Event{{Date: "2031-05-01", What: "boiled over"}, {Date: "2031-03-01", Meter: &at, What: "missed third gear"}, {Date: "2031-04-01", What: "crash", Struck: "another car"}, {What: "undated crash"}},
		Sessions: []log.Session{{Date: "2031-04-10", Note: "stood all winter before this"}, {Date: "2031-06-10", Note: "nice weather"}},
	}
	var got []string
	for _, p := range story.Read(l) {
		got = append(got, p.Date+" "+p.Happened.Kind)
	}
	assert.Equal(t, []string{"2031-03-01 over-revved", "2031-04-10 stood", "2031-05-01 ran-hot"}, got)
}

// What people write in the book of a shop when they have mended something, and when they have not yet.
func TestRepairsInPlainWords(t *testing.T) {
	engine := log.Engine{Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 3, 5}, {2, 4, 6}}}}
	for text, want := range map[string]struct {
		work      string
		cylinders []int
	}{
		"Head off, valve job":                                 {"valve-job", nil},
		"valve job, cylinder 3":                               {"valve-job", []int{3}},
		"lapped the valves on cyl 2 and 4":                    {"valve-job", []int{2, 4}},
		"new exhaust valve in no. 5":                          {"valve-job", []int{5}},
		"New head gasket, faces skimmed, cylinders 1 and 3":   {"head-gasket", []int{1, 3}},
		"gasket replaced":                                     {"head-gasket", nil},
		"new rings and hone, cylinder 4":                      {"rings", []int{4}},
		"Re-ringed and honed":                                 {"rings", nil},
		"replaced the bent rod in cylinder 2":                 {"rod", []int{2}},
		"valve lash set, 2 was tight":                         {"valve-lash", nil},
		"fitted a new piston":                                 {"piston", nil},
		"engine rebuilt over the winter":                      {"rebuild", nil},
		"needs a valve job":                                   {"", nil},
		"valve job planned for the winter":                    {"", nil},
		"quoted for new rings":                                {"", nil},
		"no new gasket this time":                             {"", nil},
		"will want a valve job next winter":                   {"", nil},
		"ran hot, lost water":                                 {"", nil},
		"new headers fitted":                                  {"", nil},
		"New camera on the roll bar":                          {"", nil},
		"new valve cover":                                     {"", nil},
		"new O-rings on the injectors":                        {"", nil},
		"new brake pistons fitted":                            {"", nil},
		"new rod bearings":                                    {"", nil},
		"new seats fitted":                                    {"", nil},
		"new tyres":                                           {"", nil},
		"Oil and filter":                                      {"", nil},
		"Club day, 12 runs":                                   {"", nil},
		"new cylinder 3 spark plug":                           {"", nil},
		"valve cover gasket leaks, ordered a new one":         {"", nil},
		"replaced valve cover gasket":                         {"", nil},
		"exhaust gasket replaced, carburettor gasket as well": {"", nil},
	} {
		l := log.Log{Engine: engine, Events: []log.Event{{Date: "2032-05-01", What: text}}}
		all := story.Repairs(l)
		if want.work == "" {
			assert.Empty(t, all, text)
			continue
		}
		if assert.Len(t, all, 1, text) {
			assert.Equal(t, want.work, all[0].Work.Work, text)
			assert.Equal(t, want.cylinders, all[0].Cylinders, text)
		}
	}
}
