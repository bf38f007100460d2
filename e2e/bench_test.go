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
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	workshop "braxel/internal/demo"
)

// many writes a file of 200 engines' logs, some 3.5 MB, and returns its path.
func many(b *testing.B) string {
	b.Helper()
	var text bytes.Buffer
	logs := workshop.Logs()
	for n := range 200 {
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
	file := many(b)
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
	file, data := many(b), b.TempDir()
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
