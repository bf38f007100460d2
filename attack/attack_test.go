// Package attack goes at the built program as an enemy, a bad disk and a power cut do. A short part of it runs with the tests; make attack
// runs all of it. What is defended against whom, and what is not, stands in docs/security.md.
package attack

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// full runs all of the trial, not the short part of it.
var full = flag.Bool("full", false, "the whole trial: 300 kills, 100 in a sync, a minute of load")

// some returns how often something is done: little with the tests, much in the whole trial.
func some(little, much int) int {
	if *full {
		return much
	}
	return little
}

var binary string

func TestMain(m *testing.M) {
	flag.Parse()
	os.Exit(run(m))
}

func run(m *testing.M) int {
	dir, err := os.MkdirTemp("", "braxel-attack-")
	if err != nil {
		return 1
	}
	defer func() { _ = os.RemoveAll(dir) }()
	binary = filepath.Join(dir, "braxel")
	if out, err := exec.Command("go", "build", "-o", binary, "../cmd/braxel").CombinedOutput(); err != nil {
		fmt.Fprintf(os.Stderr, "building: %v\n%s", err, out)
		return 1
	}
	return m.Run()
}

// shop is the program, running.
type shop struct {
	t   testing.TB
	url string
	cmd *exec.Cmd
	log *bytes.Buffer
}

// serve starts the program; shell goes before it, such as a limit of the system's.
func serve(t testing.TB, shell, data string, args ...string) *shop {
	t.Helper()
	line := fmt.Sprintf("%s exec %s serve --no-browser --port 0 --data %s %s", shell, binary, data, strings.Join(args, " "))
	s := &shop{t: t, cmd: exec.Command("bash", "-c", line), log: &bytes.Buffer{}}
	s.cmd.Stderr = s.log
	out, err := s.cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, s.cmd.Start())
	t.Cleanup(func() { _ = s.cmd.Process.Kill(); _ = s.cmd.Wait() })
	said, err := bufio.NewReader(out).ReadString('\n')
	require.NoError(t, err, s.log.String())
	go func() { _, _ = io.Copy(io.Discard, out) }()
	s.url = strings.TrimSpace(strings.TrimPrefix(said, "Braxel is at "))
	return s
}

func (s *shop) kill() {
	_ = s.cmd.Process.Kill()
	_ = s.cmd.Wait()
}

func (s *shop) host() string { return strings.TrimPrefix(s.url, "http://") }

// ask asks the program from this machine, and returns what it answers.
func (s *shop) ask(method, path string, body any) (int, []byte) {
	s.t.Helper()
	status, text, err := s.try(method, path, body)
	require.NoError(s.t, err, "%s %s; %s", method, path, s.log)
	return status, text
}

func (s *shop) try(method, path string, body any) (int, []byte, error) {
	text, isText := body.([]byte)
	if !isText && body != nil {
		var err error
		if text, err = json.Marshal(body); err != nil {
			return 0, nil, err
		}
	}
	ctx, stop := context.WithTimeout(context.Background(), time.Minute)
	defer stop()
	r, err := http.NewRequestWithContext(ctx, method, s.url+path, bytes.NewReader(text))
	if err != nil {
		return 0, nil, err
	}
	r.Header.Set("Content-Type", "application/json")
	answer, err := http.DefaultClient.Do(r)
	if err != nil {
		return 0, nil, err
	}
	defer func() { _ = answer.Body.Close() }()
	out, err := io.ReadAll(answer.Body)
	return answer.StatusCode, out, err
}

// entry is one thing that somebody enters of the engine siskin.
func entry(id, kind string, body map[string]any) map[string]any {
	return map[string]any{"id": id, "at": time.Now().UTC().Format(time.RFC3339Nano), "engine": "siskin", "kind": kind, "sure": true, "body": body}
}

// tell hands entries in, and returns the ids of those that were answered as kept.
func (s *shop) tell(entries ...map[string]any) (kept []string) {
	_, text, err := s.try("POST", "/api/entries", map[string]any{"entries": entries})
	if err != nil {
		return nil
	}
	var out struct {
		Answers []struct{ ID, Result, Why string }
	}
	if json.Unmarshal(text, &out) != nil {
		return nil
	}
	for _, a := range out.Answers {
		if a.Result == "kept" || a.Result == "already" {
			kept = append(kept, a.ID)
		}
	}
	return kept
}

// siskin enters an engine and begins a test of it.
func (s *shop) siskin() {
	s.t.Helper()
	kept := s.tell(
		entry("siskin-begun", "engine", map[string]any{"name": "Siskin", "kind": "four-stroke", "layout": map[string]any{"banks": [][]int{{1, 2, 3, 4}}}}),
		entry("s1-begun", "test", map[string]any{"id": "s1", "date": "2031-02-14"}),
	)
	require.Len(s.t, kept, 2, s.log.String())
}

func pull(id string, cylinder, psi int) map[string]any {
	return entry(id, "pull", map[string]any{"test": "s1", "cylinder": cylinder, "mode": "dry", "value": psi, "unit": "psi"})
}

// record returns the ids of all that is on record of the engine, and how often each is.
func (s *shop) record() map[string]int {
	s.t.Helper()
	status, text := s.ask("GET", "/api/engines/siskin/record", nil)
	require.Equal(s.t, 200, status, string(text))
	var out struct{ Lines []struct{ ID string } }
	require.NoError(s.t, json.Unmarshal(text, &out))
	found := map[string]int{}
	for _, l := range out.Lines {
		found[l.ID]++
	}
	return found
}

// resident is the memory that the program holds, in MB.
func (s *shop) resident() int {
	text, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", s.cmd.Process.Pid))
	require.NoError(s.t, err)
	for line := range strings.Lines(string(text)) {
		if kb, ok := strings.CutPrefix(line, "VmRSS:"); ok {
			n, err := strconv.Atoi(strings.Fields(kb)[0])
			require.NoError(s.t, err)
			return n / 1024
		}
	}
	return 0
}

// braxel runs a command of the program to its end.
func braxel(args ...string) (string, error) {
	out, err := exec.Command(binary, args...).CombinedOutput()
	return string(out), err
}

// sound says that a data directory is in order.
func sound(t testing.TB, data string) {
	t.Helper()
	out, err := braxel("check", "--data", data)
	require.NoError(t, err, out)
}

// killed runs a command and kills it after a while; it tells whether it had ended before.
func killed(after time.Duration, args ...string) bool {
	cmd := exec.Command(binary, args...)
	if cmd.Start() != nil {
		return false
	}
	done := make(chan struct{})
	go func() { _ = cmd.Wait(); close(done) }()
	select {
	case <-done:
		return true
	case <-time.After(after):
		_ = cmd.Process.Signal(syscall.SIGKILL)
		<-done
		return false
	}
}

// dial connects to the program with nothing said.
func (s *shop) dial() net.Conn {
	s.t.Helper()
	conn, err := net.Dial("tcp", s.host())
	require.NoError(s.t, err)
	s.t.Cleanup(func() { _ = conn.Close() })
	return conn
}
