package e2e

import (
	"bytes"
	"fmt"
	"image/png"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/server"
)

// view is one picture for the README: where, what must be on it, and what to do before it is taken.
type view struct {
	name, path, selector, shows string
	dark                        bool
	unshown                     bool // it has no picture of its own
	moving                      bool // it never stands still
	args                        []string
	width, height               int
	prepare                     func(*testing.T, *shop, *rod.Page)
}

var views = []view{
	{name: "rack", path: "/", selector: "li", shows: "Bittern"},
	{name: "engine", path: "/engines/bittern", selector: "section", shows: "Every test, cylinder by cylinder"},
	{name: "engine-curlew", path: "/engines/curlew", selector: "section", shows: "Why, and what would settle it", unshown: true},
	{name: "rotary", path: "/engines/plover", selector: "button", shows: "Start a test", prepare: filmPlover},
	{name: "trace", path: "/engines/heron", selector: "button", shows: "Start a test", prepare: recordHeron},
	{name: "inspection", path: "/engines/osprey", selector: "[data-checked] a", shows: "Inspected on", prepare: openInspection},
	{name: "engine-dark", path: "/engines/heron", selector: "section", shows: "Every test, cylinder by cylinder", dark: true, prepare: whoseHeron},
	{name: "run-sheet", path: "/engines/heron", selector: "button", shows: "Start a test", prepare: beginHeron},
	{name: "prepare", path: "/engines/bittern", selector: "button", shows: "Start a test", prepare: prepareBittern, unshown: true},
	{name: "compare", path: "/compare?of=heron:s3&of=heron:r1", selector: "[data-sentence]", shows: "It surely helped"},
	{name: "candidates", path: "/compare?of=osprey&of=kestrel", selector: "[data-rank] li", shows: "a hot test", unshown: true},
	{name: "diary", path: "/diary", selector: "[data-item]", shows: "Dunlin"},
	{name: "season", path: "/season", selector: "[data-cell]", shows: "hill-climb car"},
	{name: "season-phone", path: "/season", selector: "[data-next]", shows: "Quarry Hill", width: 390, height: 844},
	{name: "leak-down", path: "/engines/bittern", selector: "button", shows: "Start a test", prepare: leakBittern, unshown: true},
	{name: "look", path: "/engines/heron/tests/s9/look", selector: "h2", shows: "How does plug", prepare: nil, unshown: true},
	{name: "findings", path: "/engines/heron/tests/s9/findings", selector: "[data-sentence]", shows: "Cylinder 3", prepare: openHow},
	{name: "gauges", path: "/gauges", selector: "th", shows: "Long-hose gauge", unshown: true},
	{name: "rules", path: "/rules", selector: "h1", shows: "Rules", prepare: changeCircuit, unshown: true},
	{name: "phone", path: "/engines/heron", selector: "button", shows: "Start a test", width: 390, height: 844, prepare: phoneHeron},
	{name: "sums", path: "/sums/leak", selector: "[data-answer]", shows: "like a hole of", unshown: true},
	{name: "sums-cylinder", path: "/sums/piston-push", selector: "[data-answer]", shows: "end of the bar", unshown: true},
	{name: "old-tests", path: "/engines/bittern/old-tests", selector: "h1", shows: "old tests", prepare: pasteBittern, unshown: true},
	{name: "seat", path: "/seat", selector: "p", shows: "Open an engine's run sheet", width: 390, height: 844, prepare: crankCurlew},
	{name: "devices", path: "/devices", selector: "h1", shows: "Devices", args: []string{"--lan"}, prepare: letTwoIn, unshown: true},
	{name: "crank-wheel", path: "/engines/bittern/wheel", selector: "[data-say]", shows: "Bring 1", prepare: turnOnce, unshown: true},
	{name: "figures", path: "/engines/heron/edit", selector: "h1", shows: "Heron", unshown: true},
	{name: "history", path: "/engines/heron/edit", selector: "h1", shows: "Heron", prepare: recordOfHeron, unshown: true},
	{name: "outbox", path: "/engines/heron", selector: "button", shows: "Start a test", prepare: waitingOnHeron, unshown: true},
	{name: "import", path: "/import", selector: "h1", shows: "Import", prepare: chooseNotebook},
	{name: "copies", path: "/copies", selector: "[data-make]", shows: "Back up now", prepare: lookInCopy, unshown: true},
	{name: "papers", path: "/engines/bittern/papers", selector: "h1", shows: "papers", unshown: true},
	{name: "shop", path: "/shop", selector: "h1", shows: "Tarn Hollow", unshown: true},
	{name: "help", path: "/help", selector: "h1", shows: "First engine", unshown: true},
	{name: "needle", path: "/practice/", selector: "[data-judged]", shows: "0 of 12", prepare: crankLinnet, unshown: true},
	{name: "camera", path: "/engines/curlew", selector: "button", shows: "Start a test", prepare: filmCurlew, moving: true},
	{name: "film-marks", path: "/engines/curlew", selector: "button", shows: "Start a test", width: 390, height: 844, prepare: markCurlew, unshown: true},
	{name: "practice", path: "/practice/", selector: "[data-judged]", shows: "0 of 12", prepare: halfTheCourse, unshown: true},
	{name: "repair", path: "/engines/heron?repair", selector: "[role=dialog]", shows: "Record a repair", unshown: true},
	{name: "papers", path: "/engines/heron/papers", selector: "b", shows: "Report for the customer", unshown: true},
	{name: "debrief", path: "/practice/", selector: "[data-judged]", shows: "0 of 12", prepare: debriefLinnet},
	{name: "units", path: "/units", selector: "h1", shows: "Units and dates", prepare: chooseMine, unshown: true},
	{name: "new-engine", path: "/new-engine", selector: "label", shows: "Bore, mm", prepare: chooseV8},
}

// whoseHeron goes to which engine it is and whose.
func whoseHeron(t *testing.T, _ *shop, page *rod.Page) {
	see(t, page, "[data-identity]", "serial")
	page.MustEval(`() => document.querySelector('[data-identity]').scrollIntoView({ block: 'center' })`)
}

// chooseMine has some units for one person alone, in a workshop that has chosen bar.
func chooseMine(t *testing.T, _ *shop, page *rod.Page) {
	chooseUnit(t, page, "Compression and leak-down, workshop", "bar")
	for what, unit := range map[string]string{"Compression and leak-down": "psi", "Temperature": "°F", "Bore, stroke, lash": "in", "Air pressure": "inHg", "Date": "month first"} {
		chooseUnit(t, page, what+", me", unit)
	}
	see(t, page, "tr", "172 psi")
	see(t, page, "tr", "Apr 2, 2033")
}

// changeCircuit asks what a wider limit would have changed on past tests.
func changeCircuit(t *testing.T, _ *shop, page *rod.Page) {
	click(t, page, `[data-rule="limits.circuit.leak_act"]`, "5")
	field := page.MustElement("[data-rule-dialog] input")
	require.NoError(t, field.SelectAllText())
	require.NoError(t, field.Input("8"))
	require.NoError(t, page.MustElement("[data-rule-dialog] textarea").Input("wide ring gaps, built that way"))
	see(t, page, "[data-past]", "Heron")
}

// chooseNotebook hands in a sheet of a made-up notebook, with a formula and a figure that cannot be.
func chooseNotebook(t *testing.T, _ *shop, page *rod.Page) {
	handed(t, page, "notebook.csv", "Teal 1600; bar\nDatum;Std.;Zyl. 1;Zyl. 2;Zyl. 3;Zyl. 4;Anmerkung\n3/4/2031;12,5;12,4;12,5;12,3;12,4;\n"+
		"5/6/2031;31;12,3/12,4;12,4;10,1 (11,6 nass);12,3;nach dem Rennen\n7/8/2031;44;~12,2;12,3;=D4*0,9;-12,3;\nMittel;;12,3;12,4;11,2;12,3;\n")
	see(t, page, "[data-sentence]", "3 tests of Teal 1600")
}

// lookInCopy makes a copy and looks inside it.
func lookInCopy(t *testing.T, _ *shop, page *rod.Page) {
	click(t, page, "[data-make]", "Back up now")
	click(t, page, "[data-copy] button", "Look inside")
	see(t, page, "[data-inside]", "Wren")
}

// pasteBittern lays three tests of a notebook into the grid, one of them with a date of two readings.
func pasteBittern(t *testing.T, _ *shop, page *rod.Page) {
	until(t, page, `() => document.activeElement?.dataset.at?.endsWith(' 0')`)
	paste(t, page, strings.Join([]string{
		"12.5.2029\t96\thot\tlong\tdry\tpsi\t172/173\t171\t170\t172\t173\t171\t170/171\t172\tbefore the summer",
		"\t\t\ttwo\tleak\tpsi\t4c\t5c\t4c\t5c\t4c\t5c\t4c\t4c",
		"3/9/2029\t118\thot\tlong\tdry\tpsi\t171\t170\t169\t171\t172\t15o\t170\t171",
		"20 Apr 2030\t121\tcold\tlong\tdry\tpsi\t160\t159\t158\t160\t161\t131\t158\t160\tstood all winter",
	}, "\n"))
	see(t, page, "[data-faults]", "could be two different days")
	see(t, page, "tr", "watch|act|stop")
	press(t, page, input.ArrowDown, input.ArrowDown, input.ArrowDown)
	see(t, page, "[data-said]", "Cylinder 4")
}

// crankCurlew has a sheet on another screen that cranks.
func crankCurlew(t *testing.T, s *shop, page *rod.Page) {
	seat := `{"name":"Curlew","do":"crank","cylinder":3,"line":"pedal to the floor","foot":"battery 12.6 V","seconds":7,"ran_s":4.1,"for_ms":0}`
	require.Eventually(t, func() bool {
		request, err := http.NewRequestWithContext(t.Context(), http.MethodPut, s.url+"/api/engines/curlew/sessions/tonight/seat", strings.NewReader(seat))
		require.NoError(t, err)
		request.Header.Set("Content-Type", "application/json")
		s.do(t, request, nil)
		there, _, err := page.Timeout(time.Second).Has("[data-do=crank]")
		return err == nil && there
	}, 20*time.Second, 200*time.Millisecond)
}

// letTwoIn lets two devices in, and shuts one of them out.
func letTwoIn(t *testing.T, s *shop, page *rod.Page) {
	var door server.DoorPage
	s.get(t, "/api/door", &door)
	for _, name := range []string{"Ansa’s phone", "Tablet by the key"} {
		s.post(t, "/api/door", map[string]string{"passcode": door.Passcode, "name": name}, nil)
	}
	require.NoError(t, page.Reload())
	click(t, page, "button", `Shut it out\s*: Tablet`)
	see(t, page, "[data-device]", "shut out")
}

func beginHeron(t *testing.T, _ *shop, page *rod.Page) {
	begin(t, page)
	for _, v := range []int{188, 188, 186, 184} {
		press(t, page, append(digits(v), '\r')...)
		until(t, page, `() => document.querySelector('input[aria-label^=Reading]').value === ''`)
	}
	see(t, page, "[data-prompt]", "Next: 3")
	press(t, page, digits(17)...)
}

func prepareBittern(t *testing.T, _ *shop, page *rod.Page) {
	press(t, page, 't')
	see(t, page, "h2", "Prepare and make safe")
	for _, line := range []string{"^Level", "^Run to working", "^Valve lash"} {
		click(t, page, "label", line)
	}
	until(t, page, `() => document.querySelectorAll('input:checked').length >= 3`)
}

// leakBittern does three cylinders' leak-down and is at the fourth, in firing order.
func leakBittern(t *testing.T, _ *shop, page *rod.Page) {
	press(t, page, 't')
	see(t, page, "h2", "Prepare and make safe")
	press(t, page, input.PageDown, input.PageDown, input.PageDown)
	see(t, page, "[data-prompt]", "Bring 1 to TDC")
	for i, held := range []int{94, 95, 95} {
		press(t, page, append(digits(held), 'c', '1')...)
		see(t, page, "[data-preview]", "%")
		press(t, page, input.Enter)
		until(t, page, kept(i+1))
	}
	see(t, page, "[data-prompt]", "to 3")
	press(t, page, '9', '2', 'c', 'e')
	see(t, page, "[data-preview]", "8.0 %|8.2 %|7")
}

// markCurlew taps the marks of a gauge on the first picture of the camera.
func markCurlew(t *testing.T, _ *shop, page *rod.Page) {
	begin(t, page)
	click(t, page, "[data-film]", "Film it")
	click(t, page, "[data-film-camera]", "Use the camera")
	tapDial(t, page)
}

// filmCurlew has the camera read a gauge, after a reading that was kept by itself.
func filmCurlew(t *testing.T, s *shop, page *rod.Page) {
	markCurlew(t, s, page)
	click(t, page, "[data-marked]", "Start")
	see(t, page, "[data-kept]", "1 reading saved")
	see(t, page, "[data-live][data-phase=rising]", "[2-9] *compressions")
}

// crankLinnet pulls a cylinder of a practice engine, and is at the end of the next pull, which nobody keeps.
func crankLinnet(t *testing.T, _ *shop, page *rod.Page) {
	practised(t, page, "burnt")
	press(t, page, input.Space)
	see(t, page, "[data-kept]", "1 reading saved")
	require.NoError(t, page.MustElement("[data-hands]").Click(proto.InputMouseButtonLeft, 1))
	see(t, page, "[data-live][data-phase=open]", ".")
	press(t, page, input.Space)
	see(t, page, "[data-live-say]", "That is it")
}

// judgeLinnet begins with an engine of the course, types its readings in and decides, without the minutes that it takes.
func judgeLinnet(t *testing.T, s *shop, lesson string, decision map[string]any, psi ...float64) string {
	t.Helper()
	var begun server.PracticeTry
	s.post(t, "/practice/api/practice", map[string]any{"lesson": lesson, "seed": 4}, &begun)
	var entries []map[string]any
	enter := func(kind string, body map[string]any) {
		body["test"] = begun.Test
		entries = append(entries, map[string]any{
			"id": fmt.Sprintf("%s-r%d", begun.Engine, len(entries)), "at": time.Now().Add(time.Duration(len(entries)) * time.Millisecond).UTC().Format(time.RFC3339Nano),
			"engine": begun.Engine, "kind": kind, "body": body,
		})
	}
	for n, v := range psi {
		for range 2 {
			enter("pull", map[string]any{"cylinder": n + 1, "mode": "dry", "value": v, "unit": "psi", "tester": "bench-gauge"})
		}
	}
	enter("leakdown", map[string]any{
		"cylinder": 3, "supply": 98, "held": 72, "unit": "psi", "tester": "bench-kit", "paths": []map[string]any{{"where": "exhaust", "level": 3}},
	})
	var out server.EntriesOut
	s.post(t, "/practice/api/entries", map[string]any{"entries": entries}, &out)
	for _, a := range out.Answers {
		require.NotEqual(t, "refused", a.Result, a.Why)
	}
	s.post(t, "/practice/api/practice/"+begun.Engine+"/decide", decision, nil)
	return begun.Engine
}

func halfTheCourse(t *testing.T, s *shop, page *rod.Page) {
	judgeLinnet(t, s, "plain", map[string]any{"kind": "healthy", "run": true}, 182, 181, 183, 182)
	judgeLinnet(t, s, "burnt", map[string]any{"kind": "exhaust_valve", "cylinders": []int{3}, "run": false}, 182, 181, 159, 182)
	judgeLinnet(t, s, "rings", map[string]any{"kind": "piston_damage", "cylinders": []int{2}, "run": true}, 182, 151, 183, 182)
	require.NoError(t, page.Reload())
	see(t, page, "[data-judged]", "2 of 12")
}

func debriefLinnet(t *testing.T, s *shop, page *rod.Page) {
	engine := judgeLinnet(t, s, "burnt", map[string]any{"kind": "exhaust_valve", "cylinders": []int{3}, "run": true}, 182, 181, 159, 182)
	require.NoError(t, page.Navigate(s.url+"/practice/engines/"+engine+"/debrief"))
	see(t, page, "[data-truth]", "Cylinder 3: exhaust valve")
}

func phoneHeron(t *testing.T, _ *shop, page *rod.Page) {
	begin(t, page)
	press(t, page, '1', '8')
}

func turnOnce(t *testing.T, _ *shop, page *rod.Page) {
	press(t, page, input.ArrowRight)
	see(t, page, "[data-say]", "Turn 90° clockwise to 8")
}

// recordOfHeron corrects a figure and strikes a reading, and shows the record of it.
func recordOfHeron(t *testing.T, s *shop, page *rod.Page) {
	until(t, page, `() => [...document.querySelectorAll('input')].some(i => i.value === '165')`)
	fill(t, page, "^Bore, mm", "87.5")
	press(t, page, input.Enter)
	see(t, page, "header p", "Heron")
	s.tell(t, map[string]any{"id": "pull-1", "by": "Ansa, phone", "engine": "heron", "kind": "pull", "body": map[string]any{"test": "s9", "cylinder": 3, "mode": "dry", "tester": "long-hose", "value": 171, "unit": "psi"}},
		map[string]any{"id": "strike-1", "by": "Marit, laptop", "engine": "heron", "kind": "strike", "body": map[string]any{"entry": "pull-1", "why": "gauge leaked at its seal"}})
	require.NoError(t, page.Navigate(s.url+"/engines/heron/record"))
	see(t, page, "[data-line]", "struck: gauge leaked at its seal")
}

// waitingOnHeron types two readings while the server is away, one of them must be between by hand of another.
func waitingOnHeron(t *testing.T, s *shop, page *rod.Page) {
	begin(t, page)
	s.kill(t)
	k := &keyed{page: page}
	for i, psi := range []int{188, 187, 186} {
		k.pull(t, psi)
		see(t, page, "[data-kept]", fmt.Sprintf("%d waiting to be sent", i+1))
	}
	click(t, page, "[data-waiting] a", "waiting")
	see(t, page, "[data-entry]", "188 psi of 1")
}

// openHow unfolds how the verdict came about.
func openHow(t *testing.T, _ *shop, page *rod.Page) {
	click(t, page, "[data-how] summary", "How this verdict was reached")
	see(t, page, "[data-how] li", "all moved alike")
	see(t, page, "[data-how] tr", "^3")
}

func chooseV8(t *testing.T, _ *shop, page *rod.Page) {
	click(t, page, "label", "^vee$")
	click(t, page, "button", "^V8$")
	require.NoError(t, page.MustElement("input").Input("Siskin"))
}

// TestShots takes the README's pictures; without -shots it looks that each view shows its main thing and fits its
// width, with nothing refused by the content policy, and asks axe-core of it by day and by night.
func TestShots(t *testing.T) {
	t.Parallel()
	shared := demo(t) // of the views that only show something
	for _, v := range views {
		if v.unshown && *shotDir != "" {
			continue
		}
		t.Run(v.name, func(t *testing.T) {
			t.Parallel()
			s := shared
			if v.prepare != nil || len(v.args) > 0 {
				s = demo(t, v.args...)
				s.away = v.name == "outbox"
			}
			if v.width == 0 {
				v.width, v.height = 1280, 800
			}
			page := s.open(t, "/", v.width, v.height)
			themes := []string{"light", "dark"}
			if v.dark {
				themes = []string{"dark", "light"}
			}
			page.MustEval(`theme => localStorage.setItem('braxel.theme', theme)`, themes[0])
			complaints := []string{}
			go page.EachEvent(func(e *proto.LogEntryAdded) {
				if !strings.Contains(e.Entry.Text, "net::ERR_") { // a server that is away is no fault of the page
					complaints = append(complaints, e.Entry.Text)
				}
			})()
			require.NoError(t, page.Navigate(s.url+v.path))
			see(t, page, v.selector, v.shows)
			if v.prepare != nil {
				v.prepare(t, s, page)
			}
			until(t, page, `() => document.fonts.status === 'loaded'`)
			until(t, page, `() => document.documentElement.scrollWidth <= innerWidth`)
			if *shotDir != "" {
				if !v.moving {
					require.NoError(t, page.WaitStable(300*time.Millisecond))
				}
				picture, err := page.Screenshot(false, nil)
				require.NoError(t, err)
				require.NoError(t, os.WriteFile(filepath.Join(*shotDir, v.name+".png"), picture, 0o600))
				return
			}
			assert.Empty(t, axe(t, page, everything), themes[0])
			byTheme(t, page, themes[1])
			assert.Empty(t, axe(t, page, contrast), themes[1])
			assert.Empty(t, complaints)
		})
	}
}

// TestPaperShots takes the pictures of papers; without -shots it looks that each has a page that can be drawn.
func TestPaperShots(t *testing.T) {
	t.Parallel()
	s := demo(t)
	for name, path := range map[string]string{
		"certificate":  "/api/engines/bittern/papers/certificate.pdf",
		"before-after": "/api/engines/heron/papers/before-after.pdf",
		"season-plan":  "/api/season.pdf",
	} {
		response, err := http.Get(s.url + path)
		require.NoError(t, err)
		c := exec.Command("pdftoppm", "-r", "76", "-f", "1", "-l", "1", "-png", "-singlefile", "-")
		c.Stdin = response.Body
		picture, err := c.Output()
		require.NoError(t, err)
		require.NoError(t, response.Body.Close())
		drawn, err := png.DecodeConfig(bytes.NewReader(picture))
		require.NoError(t, err)
		assert.Greater(t, drawn.Height, drawn.Width, "upright")
		if *shotDir != "" && name == "certificate" { // the README has one paper
			require.NoError(t, os.WriteFile(filepath.Join(*shotDir, name+".png"), picture, 0o600))
		}
	}
}

// filmPlover reads the first rotor from a film of the needle, and has the second one half typed.
func filmPlover(t *testing.T, _ *shop, page *rod.Page) {
	beginFaces(t, page)
	film(t, page, "870", "20", "835", "820", "825")
	see(t, page, "[data-prompt]", "rotor 2, rear")
	film(t, page, "655", "20", "620", "605")
}

// recordHeron reads a recording of cylinder 1.
func recordHeron(t *testing.T, _ *shop, page *rod.Page) {
	begin(t, page)
	page.MustElement("[data-read-recording]").MustClick()
	path := filepath.Join(t.TempDir(), "cylinder-1.csv")
	require.NoError(t, os.WriteFile(path, []byte(heldUp), 0o600))
	page.MustElement("[role=dialog] input[type=file]").MustSetFiles(path)
	see(t, page, "[data-trace-why]", "compressions at")
	page.MustElement("[data-trace-chart] canvas")
}

func openInspection(t *testing.T, _ *shop, page *rod.Page) {
	page.MustElement("[data-checked] a").MustClick()
	see(t, page, "[data-heading]", "Buy it cheaper|Leave it")
}
