package e2e

import (
	"fmt"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/server"
)

var v8 = map[string]any{
	"name": "Siskin", "kind": "four-stroke", "layout": map[string]any{"banks": [][]int{{1, 3, 5, 7}, {2, 4, 6, 8}}, "bank_angle_deg": 90},
	"firing_order": []int{1, 8, 4, 3, 6, 5, 7, 2},
}

// keyed types keys one by one and counts them.
type keyed struct {
	page  *rod.Page
	count int
}

func (k *keyed) pull(t testing.TB, psi int) {
	t.Helper()
	keys := append(digits(psi), input.Enter)
	k.count += len(keys)
	press(t, k.page, keys...)
}

// press types keys and counts them.
func (k *keyed) press(t testing.TB, keys ...input.Key) {
	t.Helper()
	k.count += len(keys)
	press(t, k.page, keys...)
}

// pullOr types a pull: every second one of a cylinder as the same again.
func (k *keyed) pullOr(t testing.TB, psi int, n *int) {
	t.Helper()
	if *n++; *n%2 == 1 {
		k.pull(t, psi)
		return
	}
	k.press(t, '=')
}

func kept(n int) string {
	return fmt.Sprintf(`() => document.querySelector('[data-kept]')?.innerText.includes('%d reading') && !document.querySelector('[data-kept]').innerText.includes('waiting')`, n)
}

func TestAWholeEightIsTypedThroughAPowerCut(t *testing.T) {
	t.Parallel()
	port, data := freePort(t), t.TempDir()
	s := serve(t, port, "serve", "--data", data)
	s.siskin(t, v8)

	page := s.open(t, "/", 1280, 800)
	see(t, page, "li", "Siskin")
	begin(t, page)
	k := &keyed{page: page}
	readings := map[int][2]int{1: {172, 172}, 3: {170, 171}, 5: {169, 170}, 7: {171, 171}, 2: {174, 173}, 4: {171, 171}, 6: {169, 170}, 8: {172, 172}}
	order := []int{1, 3, 5, 7, 2, 4, 6, 8}
	n := 0
	for _, c := range order {
		for _, psi := range readings[c] {
			until(t, page, fmt.Sprintf(`() => document.querySelector('[data-current]').innerText === '%d'`, c))
			k.pull(t, psi)
			n++
			until(t, page, kept(n))
			if n == 11 {
				s.kill(t)
				s = serve(t, port, "serve", "--data", data)
				require.NoError(t, page.Reload())
				see(t, page, "[data-prompt]", "6 again|4 again")
				until(t, page, kept(11))
			}
		}
	}
	assert.Equal(t, 64, k.count, "three digits and one Enter a pull, nothing more")
	see(t, page, "[data-prompt]", "All cylinders read")

	got := s.sheet(t, "siskin")
	for _, cell := range got.Cells {
		require.Len(t, cell.Pulls, 2)
		for i, p := range cell.Pulls {
			assert.InDelta(t, readings[cell.Cylinder][i], p.Value, 0, "cylinder %d", cell.Cylinder)
		}
	}
	press(t, page, input.Escape)
	see(t, page, "header p", "First test, as found")
}

// enter makes a whole dry test through the API, two pulls a cylinder.
func (s *shop) enter(t *testing.T, engine string, psi map[int]float64) {
	t.Helper()
	var page server.EnginePage
	s.get(t, "/api/engines/"+engine, &page)
	test := fmt.Sprint("test-", len(page.Tests)+1)
	begin := page.Begin
	begin.ID, begin.Open = test, false
	entries := []map[string]any{{"id": test, "engine": engine, "kind": "test", "body": begin}}
	for c, v := range psi {
		for i := range 2 {
			entries = append(entries, map[string]any{"id": fmt.Sprintf("%s-%d-%d", test, c, i), "engine": engine, "kind": "pull", "sure": true,
				"body": map[string]any{"test": test, "cylinder": c, "mode": "dry", "value": v, "unit": "psi"}})
		}
	}
	s.tell(t, entries...)
}

func TestTheSecondTestNamesTheCylinderThatMovedAndNoOther(t *testing.T) {
	t.Parallel()
	right := map[int]float64{1: 172, 2: 174, 3: 170, 4: 171, 5: 169, 6: 169, 7: 171, 8: 172}
	for name, c := range map[string]struct {
		all, three    float64
		says, saysNot string
	}{
		"one is 9 % lower":    {1, 0.91, `Cylinder 3 is down \d+ %.*The rest are unchanged`, `All are down`},
		"all are 9 % lower":   {0.91, 1, `All are down \d+ % together, and no cylinder stands out`, `Cylinder \d`},
		"nothing has changed": {1, 1, `Nothing has changed`, `Cylinder \d`},
	} {
		t.Run(name, func(t *testing.T) {
			s := serve(t, 0, "serve", "--data", t.TempDir())
			s.siskin(t, v8)
			s.enter(t, "siskin", right)
			now := map[int]float64{}
			for cylinder, v := range right {
				now[cylinder] = v * c.all
			}
			now[3] *= c.three
			s.enter(t, "siskin", now)
			page := s.open(t, "/engines/siskin", 1280, 800)
			sentence, err := see(t, page, "header p", c.says).Text()
			require.NoError(t, err)
			assert.NotRegexp(t, c.saysNot, sentence[len("Cylinder 3"):])
			if c.all < 1 {
				sheet := s.open(t, "/engines/siskin/tests/test-2/dry", 390, 844)
				see(t, sheet, "[data-remark]", "All read .* lower than the baseline. Throttle open")
			}
		})
	}
}

func TestADoubtedReadingIsAskedForAndAWrongOneRefused(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/heron", 1280, 800)
	see(t, page, "button", "Start a test")
	begin(t, page)
	k := &keyed{page: page}

	k.pull(t, 1510)
	see(t, page, "[data-fault]", `must be between 0 and 870 psi`)
	until(t, page, `() => document.querySelector('input[aria-label^=Reading]').value === '1510'`)
	press(t, page, input.Escape)

	k.pull(t, 51)
	see(t, page, "[data-doubt]", "As read. 1 made 188 psi")
	until(t, page, kept(1))
	see(t, page, "[data-cylinder='1']", "51 as read")
	press(t, page, 'y')
	until(t, page, `() => !document.querySelector('[data-doubt]')`)

	press(t, page, 'x')
	see(t, page, "[role=dialog]", "Strike 51 psi of cylinder 1")
	press(t, page, '1')
	see(t, page, "s", "51")
	until(t, page, `() => !document.querySelector('[role=dialog]')`)
	until(t, page, `() => document.querySelector('[data-current]').innerText === '1'`)

	k.pull(t, 189)
	until(t, page, kept(2))
	press(t, page, input.Backspace)
	until(t, page, `() => document.querySelector('input[aria-label^=Reading]').value === '189'`)
	see(t, page, "s", "189")
	press(t, page, input.Backspace, '8', input.Enter)
	until(t, page, kept(3))

	press(t, page, input.ArrowRight, input.ArrowRight)
	until(t, page, `() => document.querySelector('[data-current]').innerText === '3'`)
	press(t, page, '?')
	see(t, page, "[role=dialog]", "strike the last reading")
}

func TestEntriesMadeWhileTheServerIsAwayAreSentOnce(t *testing.T) {
	t.Parallel()
	port, data := freePort(t), t.TempDir()
	s := serve(t, port, "serve", "--data", data)
	s.siskin(t, v8)
	page := s.open(t, "/", 1280, 800)
	see(t, page, "li", "Siskin")
	begin(t, page)
	k := &keyed{page: page}
	s.kill(t)
	typed := []int{172, 171, 170, 170, 169, 168}
	for i, psi := range typed {
		k.pull(t, psi)
		see(t, page, "[data-kept]", fmt.Sprintf("%d waiting to be sent", i+1))
	}
	s = serve(t, port, "serve", "--data", data)
	until(t, page, kept(6))
	got := s.sheet(t, "siskin")
	var landed []int
	for _, cell := range got.Cells[:3] {
		for _, p := range cell.Pulls {
			landed = append(landed, int(p.Value))
		}
	}
	assert.Equal(t, typed, landed, "all six, once, in order: two each for 1, 3 and 5")
}

func TestTheSheetOpensWhileTheServerIsAway(t *testing.T) {
	t.Parallel()
	port, data := freePort(t), t.TempDir()
	s := serve(t, port, "serve", "--data", data)
	s.siskin(t, v8)
	page := s.open(t, "/", 390, 844)
	see(t, page, "li", "Siskin")
	until(t, page, `() => !!navigator.serviceWorker.controller`)
	begin(t, page)
	k := &keyed{page: page}
	k.pull(t, 172)
	until(t, page, kept(1))
	s.kill(t)
	require.NoError(t, page.Reload())
	see(t, page, "[data-kept]", "1 reading saved")
	k.pull(t, 171)
	see(t, page, "[data-kept]", "1 waiting to be sent")
	serve(t, port, "serve", "--data", data)
	until(t, page, kept(2))
}

func TestANewEngineIsEnteredAndItsFaultsAreNamed(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/", 1280, 800)
	see(t, page, "li", "Bittern")
	press(t, page, 'n')
	see(t, page, "h1", "New engine")
	see(t, page, "button", "^1-3-4-2, even")
	require.NoError(t, page.MustElement("input").Input("Siskin"))
	require.NoError(t, see(t, page, "label", "^Firing order").MustParent().MustElement("input").SelectAllText())
	press(t, page, []input.Key{'1', ' ', '3', ' ', '4', ' ', '4', input.Enter}...)
	see(t, page, "[data-fault]", "must name each cylinder once")
	press(t, page, input.Backspace, '2', input.Enter)
	see(t, page, "header p", "Not tested yet")
}
