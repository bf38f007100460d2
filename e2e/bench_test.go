package e2e

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/creack/pty"
	"github.com/stretchr/testify/require"

	workshop "braxel/internal/demo"
)

// many writes a file of so many engines' logs, of 200 some 3.5 MB, and returns its path.
func many(b *testing.B, engines int) string {
	b.Helper()
	var text bytes.Buffer
	logs := workshop.Logs()
	for n := range engines {
		l := logs[n%len(logs)]
		l.Engine.Name = fmt.Sprintf("%s %d", l.Engine.Name, n)
		require.NoError(b, json.NewEncoder(&text).Encode(l))
	}
	file := filepath.Join(b.TempDir(), "many.jsonl")
	require.NoError(b, os.WriteFile(file, text.Bytes(), 0o600))
	b.ReportMetric(float64(text.Len())/1e6, "MB")
	return file
}

func BenchmarkImport(b *testing.B) {
	file := many(b, 200)
	for b.Loop() {
		out, err := exec.Command(binary, "import", file, "--data", b.TempDir()).CombinedOutput()
		require.NoError(b, err, string(out))
		b.ReportMetric(0, "ns/op")
	}
	b.ReportMetric(b.Elapsed().Seconds()/float64(b.N), "s/import")
}

var resident = regexp.MustCompile(`VmRSS:\s+(\d+) kB`)

// BenchmarkStart starts the program on 200 engines and asks for the rack.
func BenchmarkStart(b *testing.B) {
	file, data := many(b, 200), b.TempDir()
	out, err := exec.Command(binary, "import", file, "--data", data).CombinedOutput()
	require.NoError(b, err, string(out))
	port := freePort(b)
	ask := func() *exec.Cmd {
		cmd := exec.Command(binary, "serve", "--data", data, "--port", strconv.Itoa(port))
		require.NoError(b, cmd.Start())
		for {
			answer, err := http.Get(fmt.Sprintf("http://127.0.0.1:%d/api/rack", port))
			if err == nil {
				require.Equal(b, http.StatusOK, answer.StatusCode)
				_ = answer.Body.Close()
				return cmd
			}
			time.Sleep(time.Millisecond)
		}
	}
	end := func(cmd *exec.Cmd) {
		_ = cmd.Process.Signal(os.Interrupt)
		_ = cmd.Wait()
	}
	end(ask()) // every engine is judged once
	var took time.Duration
	memory := 0
	for b.Loop() {
		start := time.Now()
		cmd := ask()
		took += time.Since(start)
		status, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", cmd.Process.Pid))
		require.NoError(b, err)
		if m := resident.FindSubmatch(status); m != nil {
			memory, _ = strconv.Atoi(string(m[1]))
		}
		end(cmd)
	}
	b.ReportMetric(0, "ns/op")
	b.ReportMetric(took.Seconds()/float64(b.N), "s/first-answer")
	b.ReportMetric(float64(memory)/1000, "MB-resident")
}

// BenchmarkRackOf500 opens a rack of 500 engines in a browser, and tells how long it takes until it is shown, and until what is typed
// into its search has narrowed it.
func BenchmarkRackOf500(b *testing.B) {
	file, data := many(b, 500), b.TempDir()
	out, err := exec.Command(binary, "import", file, "--data", data).CombinedOutput()
	require.NoError(b, err, string(out))
	s := serve(b, 0, "serve", "--data", data)
	var rack struct{ Pending int }
	for s.get(b, "/api/rack", &rack); rack.Pending > 0; s.get(b, "/api/rack", &rack) {
		rack.Pending = 0 // it is left out of an answer where it is none
	}
	shown, narrowed, longest := 0.0, 0.0, 0.0
	for b.Loop() {
		page := s.open(b, "/", 1280, 800)
		start := time.Now()
		require.NoError(b, page.Navigate(s.url+"/"))
		see(b, page, "li", "Bittern")
		shown += time.Since(start).Seconds()
		took := page.MustEval(`async () => {
			const field = document.querySelector('input[type=search]')
			let longest = 0
			new PerformanceObserver((l) => l.getEntries().forEach((e) => (longest = Math.max(longest, e.duration)))).observe({ type: 'longtask', buffered: false })
			const start = performance.now()
			for (const typed of ['h', 'he', 'heron', 'heron 3', 'heron 30']) {
				field.value = typed
				field.dispatchEvent(new Event('input', { bubbles: true }))
				await new Promise((done) => requestAnimationFrame(() => setTimeout(done)))
			}
			for (let y = 0; y < 40; y++) {
				scrollBy(0, 600)
				await new Promise((done) => requestAnimationFrame(() => setTimeout(done)))
			}
			return [(performance.now() - start) / 45, longest]
		}`)
		narrowed += took.Get("0").Num()
		longest = max(longest, took.Get("1").Num())
	}
	b.ReportMetric(0, "ns/op")
	b.ReportMetric(shown/float64(b.N), "s/shown")
	b.ReportMetric(narrowed/float64(b.N), "ms/step")
	b.ReportMetric(longest, "ms/longest-task")
}

// BenchmarkFirstScreen adds up, compressed, the script and style that the rack loads before it shows anything.
func BenchmarkFirstScreen(b *testing.B) {
	index, err := os.ReadFile("../web/dist/index.html")
	require.NoError(b, err)
	sum := int64(0)
	for b.Loop() {
		sum = 0
		for _, m := range regexp.MustCompile(`(?:src|href)="/(assets/[^"]+\.(?:js|css))"`).FindAllStringSubmatch(string(index), -1) {
			file := "../web/dist/" + m[1] + ".gz"
			if _, err := os.Stat(file); err != nil {
				file = strings.TrimSuffix(file, ".gz")
			}
			info, err := os.Stat(file)
			require.NoError(b, err)
			sum += info.Size()
		}
	}
	b.ReportMetric(0, "ns/op")
	b.ReportMetric(float64(sum)/1000, "kB-gzip")
}

// BenchmarkEnterToKept types pulls into the sheet in a browser, and tells how long it takes from the press of Enter until the sheet
// says that the reading is kept, on disk.
func BenchmarkEnterToKept(b *testing.B) {
	s := serve(b, 0, "serve", "--data", b.TempDir())
	s.siskin(b, v8)
	page := s.open(b, "/engines/siskin", 1280, 800)
	see(b, page, "button", "Start a test")
	begin(b, page)
	_, err := page.Eval(`() => {
		window.took = []
		let pressed = 0
		addEventListener('keydown', (e) => { if (e.key === 'Enter') pressed = performance.now() }, true)
		const at = document.querySelector('[data-kept]')
		let before = at.innerText
		new MutationObserver(() => {
			const now = at.innerText
			if (now !== before && !now.includes('waiting')) took.push(performance.now() - pressed)
			before = now
		}).observe(at, { childList: true, subtree: true, characterData: true })
	}`)
	require.NoError(b, err)
	k := &keyed{page: page}
	n := 0
	for b.Loop() {
		for i := range 16 {
			k.pull(b, 170+i%2)
			n++
			until(b, page, kept(n))
		}
	}
	out, err := page.Eval(`() => { const all = [...took].sort((a, b) => a - b); return [all[Math.floor(all.length / 2)], all[Math.floor(all.length * 0.95)]] }`)
	require.NoError(b, err)
	b.ReportMetric(0, "ns/op")
	b.ReportMetric(out.Value.Arr()[0].Num(), "ms-median")
	b.ReportMetric(out.Value.Arr()[1].Num(), "ms-p95")
}

// BenchmarkNeedle measures how long a reading takes from the serial line to the screen, the middle one of many.
func BenchmarkNeedle(b *testing.B) {
	mine, theirs, err := pty.Open()
	require.NoError(b, err)
	defer func() { _, _ = mine.Close(), theirs.Close() }()
	s := serve(b, freePort(b), "serve", "--data", b.TempDir(), "--gauge", theirs.Name(), "--no-browser")
	s.siskin(b, benchFour)
	page := s.open(b, "/engines/siskin", 1280, 800)
	see(b, page, "header p", "Not tested yet")
	begin(b, page)
	_, err = fmt.Fprint(mine, "# braxel-gauge 1\n# name: metronome\nt_ms,kPa\n0,0\n")
	require.NoError(b, err)
	see(b, page, "[data-live-say]", "The gauge is open")
	page.MustEval(`() => {
		window.seen = {}
		const dial = document.querySelector('[data-live] svg')
		new MutationObserver(() => requestAnimationFrame(() => (window.seen[dial.textContent.trim()] ??= Date.now()))).observe(dial, { subtree: true, characterData: true, childList: true })
	}`)
	var all []float64
	ms := 0
	for b.Loop() {
		written := map[int]int64{}
		for psi := 2; psi <= 60; psi++ {
			ms += 110
			written[psi] = time.Now().UnixMilli()
			_, err = fmt.Fprintf(mine, "%d,%.2f\n", ms, 6.894757*float64(psi))
			require.NoError(b, err)
			time.Sleep(110 * time.Millisecond)
		}
		_, err = fmt.Fprintf(mine, "%d,0\n", ms+110)
		require.NoError(b, err)
		for psi, at := range written {
			if seen := page.MustEval(`p => window.seen[p] ?? 0`, strconv.Itoa(psi)).Int(); seen > 0 {
				all = append(all, float64(int64(seen)-at))
			}
		}
		page.MustEval(`() => (window.seen = {})`)
		ms += 1000
	}
	slices.Sort(all)
	require.NotEmpty(b, all)
	b.ReportMetric(0, "ns/op")
	b.ReportMetric(all[len(all)/2], "ms-median")
	b.ReportMetric(all[len(all)*95/100], "ms-p95")
	b.ReportMetric(float64(len(all)), "readings")
}
