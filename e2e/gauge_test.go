package e2e

import (
	"bufio"
	"fmt"
	"net"
	"os"
	"os/exec"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/server"
)

// bench starts the stand-in and waits until it speaks; out is the line that says where.
func bench(t testing.TB, args ...string) (cmd *exec.Cmd, out string) {
	t.Helper()
	cmd = exec.Command(binary, append([]string{"bench"}, args...)...)
	cmd.Stderr = os.Stderr
	pipe, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	t.Cleanup(func() { _ = cmd.Process.Kill(); _ = cmd.Wait() })
	out, err = bufio.NewReader(pipe).ReadString('\n')
	require.NoError(t, err)
	return cmd, strings.TrimSpace(out)
}

// benchFour is the engine that the stand-in has, as it is entered.
var benchFour = map[string]any{
	"name": "Siskin", "kind": "four-stroke", "layout": map[string]any{"banks": [][]int{{1, 2, 3, 4}}}, "firing_order": []int{1, 3, 4, 2},
	"bore_mm": 86, "stroke_mm": 86, "compression_ratio": 9.8,
}

// begun opens a run sheet of the stand-in's engine at the dry test.
func begun(t *testing.T, s *shop) *rod.Page {
	t.Helper()
	s.siskin(t, benchFour)
	return beginOn(t, s.open(t, "/engines/siskin", 1280, 800))
}

// beginOn begins a test of an engine that has none.
func beginOn(t *testing.T, page *rod.Page) *rod.Page {
	t.Helper()
	see(t, page, "header p", "Not tested yet")
	begin(t, page)
	return page
}

// A whole dry test without a hand on the keys: each pull is kept when the next beat adds nothing, the next cylinder begins when the gauge
// was vented. In the middle of a pull the lead comes off: that pull is nobody's, and the test goes on when it is back.
func TestADryTestByItselfFromTheStandIn(t *testing.T) {
	t.Parallel()
	port, calls := freePort(t), freePort(t)
	s := serve(t, port, "serve", "--data", t.TempDir(), "--gauge-port", fmt.Sprint(calls), "--no-browser")
	page := begun(t, s)
	at := fmt.Sprintf("localhost:%d", calls)
	cmd, _ := bench(t, "--tcp", at, "--fault", "exhaust_valve:3:15", "--alone")
	// Anything on this machine may call there: somebody says that it is a gauge of his, once.
	see(t, page, "[data-asking]", "A gauge wants to connect: bench gauge")
	click(t, page, "[data-asking] button", "Connect")
	see(t, page, "[data-kept]", "2 readings saved")
	see(t, page, "[data-live][data-phase=rising]", ".")
	require.NoError(t, cmd.Process.Signal(syscall.SIGKILL))
	see(t, page, "[data-gauge-fault]", "bench gauge was unplugged in the middle of a reading")
	see(t, page, "[data-kept]", "2 readings saved")
	// By hand meanwhile: the sheet does not wait for a gauge.
	press(t, page, '1', '8', '0', input.Enter)
	see(t, page, "[data-kept]", "3 readings saved")
	_, _ = bench(t, "--tcp", at, "--fault", "exhaust_valve:3:15", "--alone")
	see(t, page, "[data-prompt]", "All cylinders read")
	got := s.sheet(t, "siskin")
	require.Len(t, got.Cells, 4)
	for _, c := range got.Cells {
		assert.GreaterOrEqual(t, len(c.Pulls), 2)
		require.NotNil(t, c.Reading)
		for _, p := range c.Pulls {
			if p.Note == "" {
				continue // typed
			}
			assert.Equal(t, "from bench gauge", p.Note)
			assert.InDelta(t, 240, p.RPM, 40)
			assert.Greater(t, p.Beats, 2)
		}
	}
	assert.Less(t, got.Cells[2].Reading.Value, got.Cells[0].Reading.Value*0.95, "the valve of 3 leaks")
	traces := 0
	for _, o := range got.Session.Observations {
		if o.Trace != nil {
			traces++
			assert.NotEmpty(t, o.Trace.Curve)
		}
	}
	assert.GreaterOrEqual(t, traces, 7, "each pull with its curve")
	assert.NotEqual(t, "steady", string(got.Verdict.State))
}

// The needle is watched and kept by hand: on a serial line, with what keeps by itself off.
func TestANeedleOnASerialLineIsKeptByHand(t *testing.T) {
	t.Parallel()
	_, said := bench(t, "--pty")
	path := strings.TrimPrefix(said, "The gauge is at ")
	s := serve(t, freePort(t), "serve", "--data", t.TempDir(), "--gauge", path, "--no-browser")
	page := begun(t, s)
	see(t, page, "[data-live-say]", "The gauge is open: screw it in and crank")
	hands := page.MustElement("[data-hands]")
	require.NoError(t, hands.Click("left", 1))
	require.NoError(t, page.MustElement("input[aria-label^=Reading]").Focus())
	press(t, page, input.Space)
	see(t, page, "[data-live-say]", "That is it: 1")
	see(t, page, "[data-keep]", "Save 1")
	see(t, page, "[data-kept]", "0 readings saved")
	ink, err := page.Eval(`() => {
		const c = document.querySelector('[data-live-curve]'), d = c.getContext('2d').getImageData(0, 0, c.width, c.height).data
		let dark = 0
		for (let i = 3; i < d.length; i += 4) if (d[i] > 128 && d[i - 1] < 100) dark++
		return dark
	}`)
	require.NoError(t, err)
	assert.Greater(t, ink.Value.Int(), 300, "the curve is drawn")
	press(t, page, input.Enter)
	see(t, page, "[data-kept]", "1 reading saved")
	see(t, page, "[data-prompt]", "1 again: two must agree")
	see(t, page, "[data-live-say]", "The gauge is open")
	// A figure that is being typed is what Enter keeps, whatever the gauge shows.
	press(t, page, input.Space)
	see(t, page, "[data-live-say]", "That is it")
	press(t, page, '1', '9', '2', input.Enter)
	see(t, page, "[data-kept]", "2 readings saved")
	got := s.sheet(t, "siskin")
	assert.Equal(t, 192.0, got.Cells[0].Pulls[1].Value)
	// With the hands off again, what was typed in the place of that pull is not kept a second time, in the next cylinder's row.
	require.NoError(t, page.MustElement("[data-hands]").Click("left", 1))
	see(t, page, "[data-live][data-phase=open]", ".")
	press(t, page, input.Space)
	see(t, page, "[data-live][data-phase=rising]", ".")
	press(t, page, '1', '9')
	see(t, page, "[data-live-say]", "That is it")
	press(t, page, '0', input.Enter)
	see(t, page, "[data-live][data-phase=open]", ".")
	got = s.sheet(t, "siskin")
	assert.Equal(t, 3, got.Kept)
	assert.Equal(t, 190.0, got.Cells[1].Pulls[0].Value)
}

// What is no gauge is said to be none, and two are said to be two.
func TestAWrongGaugeIsSaidOnTheSheet(t *testing.T) {
	t.Parallel()
	calls := freePort(t)
	at := fmt.Sprintf("localhost:%d", calls)
	s := serve(t, freePort(t), "serve", "--data", t.TempDir(), "--gauge-port", fmt.Sprint(calls), "--no-browser")
	page := begun(t, s)
	// What a page in a browser could make it send is cut off, and never asked about.
	// Written by hand: a client of HTTP hears the hello before it has asked, and may hang up without a word.
	posted, err := net.Dial("tcp", at)
	require.NoError(t, err)
	_, err = fmt.Fprintf(posted, "POST / HTTP/1.1\r\nHost: %s\r\nContent-Type: text/plain\r\n\r\n# braxel-gauge 1\n# name: page\nt_ms,kPa\n0,0\n4,900\n", at)
	require.NoError(t, err)
	t.Cleanup(func() { _ = posted.Close() })
	see(t, page, "[data-gauge-fault]", "The caller is not a gauge")
	conn := calling(t, at, "shed gauge", strings.Repeat("what\n", 40))
	see(t, page, "[data-gauge-fault]", "The gauge sends something that isn't a reading")
	_ = conn.Close()
	_, _ = bench(t, "--tcp", at)
	see(t, page, "[data-asking]", "bench gauge")
	click(t, page, "[data-asking] button", "Connect")
	see(t, page, "[data-live-say]", "The gauge is open")
	calling(t, at, "stranger", "0,300\n")
	see(t, page, "[data-asking]", "stranger")
	click(t, page, "[data-asking] button", "Refuse")
	until(t, page, `() => !document.querySelector('[data-asking]')`)
	calling(t, at, "other gauge", "0,300\n")
	see(t, page, "[data-asking]", "other gauge")
	click(t, page, "[data-asking] button", "Connect")
	see(t, page, "[data-others]", "Two gauges are connected; bench gauge at 127.0.0.1 is used")
	click(t, page, "[data-others] button", "Use other gauge")
	see(t, page, "[data-others]", "Two gauges are connected; other gauge")
}

// calling calls as a gauge of the network does, and repeats the word that it is sent.
func calling(t *testing.T, at, name, lines string) net.Conn {
	t.Helper()
	conn, err := net.Dial("tcp", at)
	require.NoError(t, err)
	t.Cleanup(func() { _ = conn.Close() })
	hello, err := bufio.NewReader(conn).ReadString('\n')
	require.NoError(t, err)
	word := strings.TrimSpace(strings.TrimPrefix(hello, "hello "))
	_, err = fmt.Fprintf(conn, "# braxel-gauge 1 %s\n# name: %s\nt_ms,kPa\n%s", word, name, lines)
	require.NoError(t, err)
	return conn
}

// practised opens practice and puts one engine of the course on the stand, by keyboard alone.
func practised(t *testing.T, page *rod.Page, lesson string) {
	t.Helper()
	see(t, page, "[data-judged]", "of 12 right")
	page.MustEval(`l => document.querySelector('[data-lesson=' + l + '] button').focus()`, lesson)
	press(t, page, input.Enter)
	see(t, page, "[data-prompt]", "Next: 1")
	see(t, page, "[data-live-say]", "The gauge is open")
}

// A practice engine is tested, listened to, decided and debriefed without a mouse.
func TestAPracticeEngineIsJudgedByKeyboard(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/practice/", 1280, 800)
	assert.Empty(t, axe(t, page, everything))
	practised(t, page, "burnt")
	for n := 1; n <= 8; n++ {
		see(t, page, "[data-live][data-phase=open]", ".")
		press(t, page, input.Space)
		see(t, page, "[data-kept]", fmt.Sprintf("%d readings? saved", n))
	}
	see(t, page, "[data-prompt]", "All cylinders read")
	assert.Empty(t, axe(t, page, everything))
	assert.NotContains(t, text(page), "below the average of the others", "who practises judges by himself")
	press(t, page, input.PageDown, input.PageDown) // past the wet test
	see(t, page, "[data-prompt]", "Bring 1 to TDC")
	press(t, page, input.ArrowRight) // to 3, which fires next
	see(t, page, "[data-current]", "^3$")
	press(t, page, input.Space)
	until(t, page, `() => document.querySelector('[aria-label^="Held by cylinder 3"]')?.value !== ''`)
	press(t, page, 'E')
	see(t, page, "[data-said]", "At the tailpipe: a strong blow of air")
	press(t, page, 'I')
	see(t, page, "[data-said]", "At the intake: nothing")
	press(t, page, 'e', '3', input.Enter)
	see(t, page, "[data-kept]", "9 readings saved")
	press(t, page, 'a')
	see(t, page, "[role=dialog] h2", "At the engine")
	assert.Empty(t, axe(t, page, everything))
	for range 6 {
		press(t, page, input.ArrowDown)
	}
	until(t, page, `() => document.activeElement.dataset.do === 'borescope'`)
	press(t, page, input.Escape)
	until(t, page, `() => !document.querySelector('[role=dialog]')`)
	press(t, page, 'd')
	see(t, page, "[role=dialog] h2", "Decide")
	until(t, page, `() => document.activeElement.matches('[data-kind]')`)
	press(t, page, 'e', 'x', 'h') // a list is chosen from by its first letters
	until(t, page, `() => document.querySelector('[data-kind]').value === 'exhaust_valve'`)
	press(t, page, input.Tab)
	press(t, page, '3')
	until(t, page, `() => document.querySelector('[data-where]').value === '3'`)
	press(t, page, input.Tab)
	press(t, page, input.ArrowUp) // from the first of two to the second
	until(t, page, `() => document.querySelector('[data-not]').checked || document.querySelector('[data-run]').checked`)
	if page.MustEval(`() => document.querySelector('[data-run]').checked`).Bool() {
		press(t, page, input.ArrowDown)
	}
	press(t, page, input.Enter)
	see(t, page, "[data-truth]", "Cylinder 3: exhaust valve, 24 points of leak")
	see(t, page, "[data-decided]", "Cylinder 3: exhaust valve; don't run it")
	assert.Empty(t, axe(t, page, everything))
	var page2 server.PracticePage
	s.get(t, "/practice/api/practice", &page2)
	assert.True(t, page2.Lessons[1].Right)
	assert.Empty(t, page2.Drawn)
	// The rack knows nothing of it.
	require.NoError(t, page.Navigate(s.url+"/"))
	see(t, page, "li", "Bittern")
	assert.NotContains(t, text(page), "Linnet")
}

// Sounds and figures of one cylinder at a time: dirt on a seat is blown off, and what leaked does not any more.
func TestDirtIsSnappedOffInPractice(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/practice/", 390, 844)
	practised(t, page, "dirt")
	wide, err := page.Eval(`() => document.documentElement.scrollWidth`)
	require.NoError(t, err)
	assert.LessOrEqual(t, wide.Value.Int(), 390)
	press(t, page, input.PageDown, input.PageDown)
	see(t, page, "[data-prompt]", "Bring 1 to TDC")
	press(t, page, input.ArrowRight, input.ArrowRight)
	see(t, page, "[data-current]", "^4$")
	leak := func(words string) {
		press(t, page, input.Space)
		until(t, page, `() => document.querySelector('[aria-label^="Held by cylinder 4"]')?.value !== ''`)
		press(t, page, 'E')
		see(t, page, "[data-said]", words)
		press(t, page, 'l', input.Enter)
	}
	leak("At the tailpipe: a (clear hiss|strong blow of air)")
	see(t, page, "[data-kept]", "1 reading saved")
	press(t, page, 'a')
	see(t, page, "[role=dialog] h2", "At the engine")
	page.MustEval(`() => { const of = document.querySelector('[data-of]'); of.value = '4'; of.dispatchEvent(new Event('change')) }`)
	click(t, page, "[data-do=snap]", "Snap the valves, 4")
	see(t, page, "[data-said]", "The valves of 4 were snapped")
	until(t, page, `() => document.querySelector('[data-current]').textContent.trim() === '4'`)
	leak("At the tailpipe: nothing")
	see(t, page, "[data-kept]", "2 readings saved")
	deadline := time.Now().Add(10 * time.Second)
	for {
		var k server.PracticeCase
		var all server.PracticePage
		s.get(t, "/practice/api/practice", &all)
		s.get(t, "/practice/api/practice/"+all.Lessons[5].Last.Engine, &k)
		if len(k.Acts) == 3 {
			assert.InDelta(t, 2*3+2*0.5+1, k.Minutes, 1e-9)
			return
		}
		require.True(t, time.Now().Before(deadline))
		time.Sleep(50 * time.Millisecond)
	}
}
