package e2e

import (
	"fmt"
	"io"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/emersion/go-ical"
	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/server"
)

// tested tells of a whole finished test, each cylinder pulled twice, and leaked down where leaks are given.
func (s *shop) tested(t *testing.T, engine, id, date string, head map[string]any, psi, leaks []int) {
	t.Helper()
	body := map[string]any{"id": id, "date": date, "conditions": map[string]any{"engine_temp": "hot", "throttle": "open"}}
	for k, v := range head {
		body[k] = v
	}
	entry := func(name, kind string, body map[string]any) map[string]any {
		return map[string]any{"id": engine + "-" + id + "-" + name, "engine": engine, "kind": kind, "sure": true, "body": body}
	}
	all := []map[string]any{entry("head", "test", body)}
	for i, v := range psi {
		for k := range 2 {
			all = append(all, entry(fmt.Sprintf("p%d-%d", i, k), "pull",
				map[string]any{"test": id, "cylinder": i + 1, "mode": "dry", "tester": "long-hose", "value": v, "unit": "psi"}))
		}
	}
	for i, v := range leaks {
		all = append(all, entry(fmt.Sprintf("l%d", i), "leakdown", map[string]any{
			"test": id, "cylinder": i + 1, "tester": "two-dial-kit", "supply": 100, "pct": v, "unit": "psi",
			"paths": []any{map[string]any{"where": "crankcase", "level": 1}}}))
	}
	s.tell(t, all...)
}

func option(t *testing.T, page *rod.Page, words string) {
	t.Helper()
	require.NoError(t, see(t, page, "option", words).MustParent().Select([]string{words}, true, "text"))
}

// A rebuild resets the comparison and keeps the past: the new build is held against itself, and the old one lies behind it.
func TestARebuildResetsTheComparisonAndKeepsThePast(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/heron", 1280, 800)
	see(t, page, "[data-decision]", "Don't run it again")
	click(t, page, "button", "Add a repair")
	option(t, page, "a new build")
	see(t, page, "p", "Earlier tests stay")
	fill(t, page, "^In your words", "bored, new valves")
	click(t, page, "form button", "Save")
	see(t, page, "li", "New build: bored, new valves")
	s.tested(t, "heron", "n1", "2033-05-14", map[string]any{"meter": 41, "baseline": true}, []int{200, 199, 201, 200}, []int{2, 2, 2, 2})
	s.tested(t, "heron", "n2", "2033-06-20", map[string]any{"meter": 47}, []int{200, 199, 200, 200}, []int{2, 2, 3, 2})
	see(t, page, "header p", "Nothing has changed since the baseline")

	until(t, page, `() => document.querySelector('[role=slider]')?.getAttribute('aria-valuemax') === '2'`)
	option(t, page, "behind: new rings, valve job")
	until(t, page, `() => document.querySelector('[data-strip="3"] [data-behind]')?.getAttribute('d').length > 20`)
	option(t, page, "all of it")
	until(t, page, `() => document.querySelector('[role=slider]')?.getAttribute('aria-valuemax') === '12'`)
	see(t, page, "li", "21 Aug 2032")
	click(t, page, "[data-offers] a", "Its 2 builds, by their baselines")
	see(t, page, "[data-column]", "bored, new valves")
	see(t, page, "[data-sentence]", "It surely helped|It partly helped|Can't tell|All came up")
}

// A real repair helped, for sure; one inside the noise cannot be told, and what would tell is said. The comparison is chosen on the
// timeline, and its address can be kept.
func TestDidTheRepairHelp(t *testing.T) {
	t.Parallel()
	s := demo(t)
	for engine, low := range map[string]int{"serin": 150, "siskin": 176} {
		s.tell(t, map[string]any{"id": engine + "-1", "engine": engine, "kind": "engine", "body": map[string]any{
			"name": strings.ToUpper(engine[:1]) + engine[1:], "kind": "four-stroke", "layout": map[string]any{"banks": [][]int{{1, 2, 3, 4}}}}})
		s.tested(t, engine, "before", "2033-04-01", map[string]any{"baseline": true}, []int{180, 180, low, 180}, nil)
		s.tested(t, engine, "after", "2033-04-20", map[string]any{"stage": "after-repair"}, []int{179, 180, 180, 181}, nil)
	}
	compare := func(engine string) *rod.Page {
		page := s.open(t, "/engines/"+engine, 1280, 800)
		for _, date := range []string{"20 Apr 2033", "1 Apr 2033"} {
			click(t, page, "label", "Compare the test of "+date)
		}
		click(t, page, "button", "Compare the 2 chosen")
		see(t, page, "[data-sentence]", ".")
		return page
	}
	page := compare("serin")
	see(t, page, "[data-sentence]", `^It surely helped\. Cylinder 3 came up (19|2\d)\.\d %`)
	see(t, page, "tr[data-move=better] th", "3")
	address := page.MustInfo().URL
	require.NoError(t, page.Navigate("about:blank"))
	require.NoError(t, page.Navigate(address))
	see(t, page, "[data-sentence]", "^It surely helped")

	page = compare("siskin")
	see(t, page, "[data-sentence]", "^Can't tell yet whether it helped")
	see(t, page, "[data-advice]", "test once more")
	until(t, page, `() => !document.querySelector('tr[data-move=better], tr[data-move=worse]')`)
}

// From the finding to the customer's paper: the repair is recorded where the fault was found, the next test begins as the one after it and
// opens with the answer, and the paper shows before and after.
func TestARepairIsFollowedThrough(t *testing.T) {
	t.Parallel()
	s := demo(t)
	s.tell(t, map[string]any{"id": "serin-1", "engine": "serin", "kind": "engine", "body": map[string]any{
		"name": "Serin", "kind": "four-stroke", "layout": map[string]any{"banks": [][]int{{1, 2, 3, 4}}}}})
	s.tested(t, "serin", "found", "2033-05-01", map[string]any{"baseline": true, "stage": "as-found"}, []int{172, 174, 150, 173}, []int{4, 3, 20, 4})
	page := s.open(t, "/engines/serin/tests/found/findings", 1280, 800)
	click(t, page, "button", "Record a repair")
	until(t, page, `() => document.querySelector('[role=dialog] .choice[aria-pressed=true]')?.innerText === '3'`)
	option(t, page, "valve job")
	fill(t, page, "^In your words", "head off, new exhaust valve")
	click(t, page, "[role=dialog] button", "Save")
	see(t, page, "[role=status]", "The next test says whether it worked")

	require.NoError(t, page.Navigate(s.url+"/engines/serin"))
	see(t, page, "[data-due]", "Test it: did the repair work")
	see(t, page, "li", "Valve job, cylinder 3: head off, new exhaust valve")
	click(t, page, "button", "Start a test")
	until(t, page, `() => document.querySelector('[data-touched] [aria-pressed=true]')?.innerText === '3'`)
	id := regexp.MustCompile(`/tests/([^/]+)`).FindStringSubmatch(page.MustInfo().URL)[1]
	s.tested(t, "serin", id, "2033-05-14", map[string]any{"open": nil}, []int{172, 174, 173, 172}, []int{4, 3, 4, 4})

	require.NoError(t, page.Navigate(s.url+"/engines/serin"))
	see(t, page, "[data-headline]", "Cylinder 3: the valve job worked")
	see(t, page, "header p", `Cylinder 3 came up from 150 to 173 psi, its leak down from 20 to 4 %\. The valve job surely worked`)
	click(t, page, "[data-repair] a", "Before and after")
	see(t, page, "[data-sentence]", "^It surely helped")
	require.NoError(t, page.Navigate(s.url+"/engines/serin"))
	click(t, page, "button", `change\s*Valve job, cylinder 3`)
	see(t, page, "[role=dialog]", "Change this repair")
	fill(t, page, "^In your words", "new exhaust valve and guide")
	click(t, page, "[role=dialog] button", "Save")
	see(t, page, "li", "Valve job, cylinder 3: new exhaust valve and guide")
	see(t, page, "[data-headline]", "Cylinder 3: the valve job worked") // its test still answers it
	click(t, page, "button", "Add a repair")
	option(t, page, "a repair")
	see(t, page, "[role=dialog]", "Record a repair")
	require.NoError(t, page.Navigate(s.url+"/engines/serin/papers"))
	see(t, page, "[data-paper=before-after]", "Open")
	answer, err := http.Get(s.url + "/api/engines/serin/papers/certificate.pdf")
	require.NoError(t, err)
	defer func() { _ = answer.Body.Close() }()
	assert.Equal(t, http.StatusOK, answer.StatusCode)
}

// A test typed under the wrong engine is moved to its own, all of it, and back by one undo; one worth nothing is discarded, and comes back
// the same way.
func TestATestIsMovedAndMovedBack(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/heron", 1280, 800)
	click(t, page, "label", "Compare the test of 24 Jul 2032")
	click(t, page, "button", "Move or discard")
	option(t, page, "Bittern")
	click(t, page, "[data-move] button", "Move the test")
	until(t, page, `() => location.pathname.startsWith('/engines/bittern/tests/')`)
	see(t, page, "[data-caveat]", "Not tested: 5, 7, 6 and 8")
	require.NoError(t, page.Navigate(s.url+"/engines/heron/record"))
	see(t, page, "[data-line]", `struck \(?moved to Bittern\)?|moved to Bittern`)
	see(t, page, "[data-line]", "test of 24 Jul 2032")
	require.NoError(t, page.Navigate(s.url+"/engines/heron"))
	see(t, page, "li", "21 Aug 2032")
	until(t, page, `() => ![...document.querySelectorAll('label')].some((l) => l.innerText.includes('24 Jul 2032'))`)
	click(t, page, "button", "^undo$")
	see(t, page, "label", "Compare the test of 24 Jul 2032")

	require.NoError(t, page.Navigate(s.url+"/engines/heron/tests/s8/findings"))
	click(t, page, "button", "Move or discard")
	fill(t, page, "^Or discard it", "a gauge that had been dropped")
	click(t, page, "[data-move] button", "Discard the test")
	see(t, page, "li", "a gauge that had been dropped")
	click(t, page, "button", "^undo$")
	see(t, page, "label", "Compare the test of 24 Jul 2032|Compare the test of 26 Jun 2032")
}

// One test is read out across all strips by the arrow keys, in words too, and opened by Enter.
func TestAStripIsReadByKeyboard(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/heron", 1280, 800)
	see(t, page, "[data-strips] h2", "Every test")
	until(t, page, `() => document.querySelectorAll('[data-stem]').length >= 36`)
	page.MustEval(`() => document.querySelector('[role=slider]').focus()`)
	said := func(pattern string) {
		t.Helper()
		until(t, page, fmt.Sprintf(`() => /%s/.test(document.querySelector('[role=slider]').getAttribute('aria-valuetext'))`, pattern))
	}
	press(t, page, input.ArrowLeft)
	said(`21 Aug 2032 · 41 h.*3: 169 psi, −8\.\d %, leaks 14 %, at the exhaust, act`)
	press(t, page, input.ArrowLeft, input.ArrowLeft)
	said(`26 Jun 2032 · 32 h.*3: .*watch`)
	see(t, page, "[data-readout]", "26 Jun 2032")
	press(t, page, input.Home)
	said(`14 Feb 2031.*its baseline`)
	see(t, page, "h2", "Every test") // the page's own arrow keys left the plan alone
	until(t, page, `() => !document.querySelector('[data-strip] rect.fill-verdigris-pale\\/45')`)
	press(t, page, input.End, input.Enter)
	see(t, page, "[data-sentence]", "Cylinder 3")
	until(t, page, `() => location.pathname.endsWith('/tests/s9/findings')`)
	require.NoError(t, page.Navigate(s.url+"/engines/heron"))
	click(t, page, "summary", "As figures")
	see(t, page, "[data-strips] td", `14\.\d % leak`)
}

// calendar returns what a calendar at an address lists, read by another library than the one that wrote it: the summary by UID.
func calendar(t *testing.T, address string) map[string]string {
	t.Helper()
	answer, err := http.Get(address) //nolint:gosec // the test's own server
	require.NoError(t, err)
	defer func() { _ = answer.Body.Close() }()
	text, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	require.Equal(t, 200, answer.StatusCode, string(text))
	cal, err := ical.NewDecoder(strings.NewReader(string(text))).Decode()
	require.NoError(t, err)
	all := map[string]string{}
	for _, e := range cal.Events() {
		uid, err := e.Props.Text(ical.PropUID)
		require.NoError(t, err)
		all[uid], err = e.Props.Text(ical.PropSummary)
		require.NoError(t, err)
	}
	return all
}

// What is due is put off for a reason, subscribed to, and keeps its UID through an edit; testing does it.
func TestTheDiaryIsPutOffSubscribedToAndDone(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/diary", 1280, 800)
	see(t, page, "[data-standing=overdue] [data-item]", "Dunlin")
	click(t, page, "button", `postpone\s*: Dunlin`)
	click(t, page, "[role=dialog] button", "Postpone")
	see(t, page, "[role=dialog] [data-fault]", ".")
	fill(t, page, "^Why", "waits for its gearbox")
	click(t, page, "[role=dialog] button", "Postpone")
	see(t, page, `[data-standing="put off"] [data-item]`, "waits for its gearbox")

	click(t, page, "button", "Make an address")
	// No other device is let in here: the address is this machine's own.
	see(t, page, "[data-address]", "^"+s.url+"/calendar/")
	address := see(t, page, "[data-address]", "/calendar/").MustText()
	before := calendar(t, address)
	assert.Contains(t, before, "dunlin.test.s1@braxel")
	s.tell(t, map[string]any{"id": "edit-1", "engine": "dunlin", "kind": "test", "body": map[string]any{"id": "s1", "date": "2033-04-03", "note": "a day later"}},
		map[string]any{"id": "edit-2", "engine": "dunlin", "kind": "engine", "body": map[string]any{"name": "Dunlin II"}})
	after := calendar(t, address)
	for uid := range before {
		assert.Contains(t, after, uid)
	}
	assert.Equal(t, "Dunlin II: test it", after["dunlin.test.s1@braxel"])
	click(t, page, "button", "Renew the address")
	until(t, page, fmt.Sprintf(`() => document.querySelector('[data-address]').innerText !== %q`, address))
	answer, err := http.Get(address) //nolint:gosec // the test's own server
	require.NoError(t, err)
	_ = answer.Body.Close()
	assert.Equal(t, 404, answer.StatusCode)

	s.tested(t, "dunlin", "hot", "2033-05-14", map[string]any{"meter": 300, "stage": "after-running", "baseline": true}, []int{172, 173, 171, 172}, nil)
	until(t, page, `() => ![...document.querySelectorAll('[data-standing="put off"] [data-item]')].some(i => i.innerText.includes('Dunlin'))`)
	assert.NotContains(t, calendar(t, s.url+"/api/diary.ics"), "dunlin.test.s1@braxel")

	// An interval is changed on the page of rules, and what is due goes by it.
	click(t, page, "a", "Rules")
	see(t, page, "h1", "Rules")
	click(t, page, `[data-rule="intervals.street.months"]`, "12")
	write := func(selector, words string) {
		e := page.MustElement(selector)
		require.NoError(t, e.SelectAllText())
		require.NoError(t, e.Input(words))
	}
	see(t, page, "[data-rule-dialog]", "Built in: 12 months")
	write("[data-rule-dialog] input", "3")
	see(t, page, "[data-past]", "With 3 months, in .*: .*Dunlin.* would be due sooner")
	write("[data-rule-dialog] input", "300")
	see(t, page, "[data-rule-dialog]", "Must be between 1 and 120 months")
	write("[data-rule-dialog] input", "3")
	write("[data-rule-dialog] textarea", "they stand outside in winter")
	click(t, page, "[data-rule-dialog] button", "Save")
	see(t, page, "[data-word]", "Saved")
	see(t, page, "[data-own]", "3 months.*built in 12[^$]*they stand outside in winter")
	require.NoError(t, page.Navigate(s.url+"/diary"))
	until(t, page, `() => [...document.querySelectorAll('[data-item]')].some(i => i.innerText.includes('Dunlin') && /14 Aug 2033/.test(i.innerText))`)
	require.NoError(t, page.Navigate(s.url+"/record"))
	see(t, page, "li, tr, p", "because: they stand outside in winter")
}

// The rack is picked from by state and words, and several are laid side by side.
func TestTheRackIsPickedFrom(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/", 1280, 800)
	names := func(want ...string) {
		t.Helper()
		until(t, page, fmt.Sprintf(`() => JSON.stringify([...document.querySelectorAll('ol li a p > span.text-2xl')].map(e => e.innerText)) === '["%s"]'`, strings.Join(want, `","`)))
	}
	names("Bittern", "Gannet", "Heron", "Plover", "Wren", "Osprey", "Curlew", "Dunlin", "Kestrel", "Redpoll", "Whinchat")
	click(t, page, "button", `^retest`)
	names("Osprey")
	click(t, page, "button", `^retest`)
	press(t, page, '/')
	require.NoError(t, page.InsertText("4471"))
	names("Heron")
	require.NoError(t, page.MustElement("input[type=search]").SelectAllText())
	require.NoError(t, page.InsertText("tuuli rotor"))
	names("Plover")
	click(t, page, "button", "show all 11")
	option(t, page, "next due first")
	until(t, page, `() => document.querySelector('ol li a p > span.text-2xl').innerText === 'Wren'`)
	for _, name := range []string{"Osprey", "Kestrel"} {
		click(t, page, "label", "Compare "+name)
	}
	click(t, page, "button", "Compare the 2 chosen")
	see(t, page, "[data-sentence]", "Kestrel looks best")
	see(t, page, "[data-rank] li", "a hot test")
}

// An engine is sold, put away, and deleted, but not before a copy of it was offered; the record brings it back.
func TestAnEngineIsDeletedOnlyAfterACopyWasOffered(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/wren", 1280, 800)
	see(t, page, "[data-due]", "Repair it")
	option(t, page, "elsewhere: sold")
	until(t, page, `() => !document.querySelector('[data-due]')`)
	click(t, page, "button", "Delete it")
	see(t, page, "[role=dialog] a", "Export its history")
	see(t, page, "[data-delete]", "Delete without export")
	click(t, page, "[data-delete]", "Delete without export")
	see(t, page, "[role=alert]", "This engine was struck: deleted")
	require.NoError(t, page.Navigate(s.url+"/"))
	see(t, page, "li", "Heron")
	until(t, page, `() => ![...document.querySelectorAll('li')].some(e => e.innerText.includes('Wren'))`)
	click(t, page, "button", "1 archived or deleted")
	see(t, page, "li", "Wren")
	answer, err := http.Get(s.url + "/api/engines/wren/log.json")
	require.NoError(t, err)
	defer func() { _ = answer.Body.Close() }()
	text, err := io.ReadAll(answer.Body)
	require.NoError(t, err)
	assert.Contains(t, string(text), `"name": "Wren"`)
}

// What happened is put right where it stands: the new line counts, the old one is struck and stays; a build is changed field by field.
func TestWhatHappenedIsPutRight(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/heron", 1280, 800)
	click(t, page, "button", `change\s*missed shift`)
	fill(t, page, "^In your words", "missed shift, second to first")
	click(t, page, "form button", "Save")
	see(t, page, "li", "missed shift, second to first")
	see(t, page, "button", `restore\s*missed shift on the ridge climb`)
	click(t, page, "button", `change\s*New build: new rings`)
	fill(t, page, "^In your words", "new rings, valve job, decked")
	require.NoError(t, page.Navigate(s.url+"/"))
	require.NoError(t, page.Navigate(s.url+"/engines/heron"))
	click(t, page, "button", `change\s*New build: new rings`)
	until(t, page, `() => [...document.querySelectorAll('input')].some(i => i.value === 'new rings, valve job, decked')`) // nothing typed is lost
	click(t, page, "form button", "Save")
	see(t, page, "li", "New build: new rings, valve job, decked")
	var engine server.EnginePage
	s.get(t, "/api/engines/heron", &engine)
	require.Len(t, engine.Builds, 1)
	assert.Equal(t, "2031-02-11", engine.Builds[0].Date, "what was not touched stays")
	struck := map[string]string{}
	for _, e := range engine.Events {
		struck[e.What] = e.Struck
	}
	assert.Equal(t, map[string]string{"intake seat recut and the valve lapped": "", "missed shift on the ridge climb": "corrected", "missed shift, second to first": ""}, struck)
}

// An engine fits two sheets of paper, and its findings say what all did together.
func TestAnEngineOnPaperAndWhatAllDid(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/bittern", 1280, 800)
	see(t, page, "[data-strips] h2", "Every test")
	see(t, page, "li", "New build: bored")
	print, err := page.PDF(&proto.PagePrintToPDF{})
	require.NoError(t, err)
	text, err := io.ReadAll(print)
	require.NoError(t, err)
	assert.LessOrEqual(t, len(regexp.MustCompile(`/Type /Page\b`).FindAll(text, -1)), 2)
	require.NoError(t, page.Navigate(s.url+"/engines/curlew/tests/s7/findings"))
	see(t, page, "tfoot tr", `all together\s*−8\.\d %`)
	// No two cells of a row run into each other.
	until(t, page, `() => [...document.querySelectorAll('table tr')].every((row) => {
		const words = [...row.cells].map((c) => { const r = document.createRange(); r.selectNodeContents(c); return r.getBoundingClientRect() })
		return words.every((w, i) => i === 0 || w.width === 0 || words[i - 1].width === 0 || w.left - words[i - 1].right > 8)
	})`)
}
