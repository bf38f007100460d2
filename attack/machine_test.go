package attack

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// logs writes a file of so many logs.
func logs(t testing.TB, n int) string {
	t.Helper()
	var out strings.Builder
	for i := range n {
		_, _ = fmt.Fprintf(&out, `{"format":"braxel-log","version":1,"engine":{"id":"e%d","name":"Engine %d","kind":"four-stroke","layout":{"banks":[[1,2,3,4]]}},"sessions":[{"id":"a","date":"2031-02-14","compression":[{"cylinder":1,"mode":"dry","pulls":[{"value":%d,"unit":"psi"}]}]}]}`+"\n", i, i, 150+i%30)
	}
	file := filepath.Join(t.TempDir(), "logs.jsonl")
	require.NoError(t, os.WriteFile(file, []byte(out.String()), 0o600))
	return file
}

// Every command that writes is killed at whatever moment; done again, it ends where it would have ended.
func TestKillsInEveryCommandThatWrites(t *testing.T) {
	const engines = 60
	file := logs(t, engines)
	want, err := func() (string, error) {
		data := t.TempDir()
		if out, err := braxel("import", "--data", data, file); err != nil {
			return out, err
		}
		return braxel("export", "--data", data)
	}()
	require.NoError(t, err, want)
	copied := filepath.Join(t.TempDir(), "copy.zip")
	source := t.TempDir()
	out, err := braxel("import", "--data", source, file)
	require.NoError(t, err, out)
	out, err = braxel("backup", "--data", source, copied)
	require.NoError(t, err, out)
	draw := rand.New(rand.NewPCG(5, 5))
	for round := range some(2, 20) {
		data := t.TempDir()
		for range 4 {
			killed(time.Duration(draw.IntN(250))*time.Millisecond, "import", "--data", data, file)
		}
		out, err := braxel("import", "--data", data, file)
		require.NoError(t, err, out)
		got, err := braxel("export", "--data", data)
		require.NoError(t, err, got)
		require.Equal(t, want, got, "import, round %d", round)

		back := t.TempDir()
		out, err = braxel("import", "--data", back, logs(t, 2))
		require.NoError(t, err, out)
		for range 4 {
			killed(time.Duration(draw.IntN(150))*time.Millisecond, "restore", "--data", back, copied)
			sound(t, back)
		}
		out, err = braxel("restore", "--data", back, copied)
		require.NoError(t, err, out)
		got, err = braxel("export", "--data", back)
		require.NoError(t, err, got)
		require.Equal(t, want, got, "restore, round %d", round)

		for i := range 4 {
			to := filepath.Join(t.TempDir(), fmt.Sprintf("b%d.zip", i))
			if !killed(time.Duration(draw.IntN(120))*time.Millisecond, "backup", "--data", source, to) {
				if _, err := os.Stat(to); err == nil {
					out, err := braxel("restore", "--data", t.TempDir(), to)
					require.NoError(t, err, "a copy that is there under its name is whole: %s", out)
				}
			}
			killed(time.Duration(draw.IntN(150))*time.Millisecond, "import", "--data", t.TempDir(), filepath.Join(source, "braxel.db"))
		}
		sound(t, source)
	}
}

// Two machines exchange, cut off at whatever moment: both end with all that either had, once.
func TestKillsInSync(t *testing.T) {
	ours, theirs := t.TempDir(), t.TempDir()
	s := serve(t, "", theirs)
	s.siskin()
	for i := range 200 {
		s.tell(pull(fmt.Sprint("t", i), 1+i%4, 150+i%20))
	}
	out, err := braxel("import", "--data", ours, logs(t, 40))
	require.NoError(t, err, out)
	draw := rand.New(rand.NewPCG(7, 7))
	cut := 0
	for i := range some(10, 100) {
		s.tell(pull(fmt.Sprint("more", i), 1+i%4, 150+i%20))
		if !killed(time.Duration(20+draw.IntN(200))*time.Millisecond, "sync", "--data", ours, s.host()) {
			cut++
		}
	}
	out, err = braxel("sync", "--data", ours, s.host())
	require.NoError(t, err, out)
	s.kill()
	one, err := braxel("export", "--data", ours)
	require.NoError(t, err, one)
	other, err := braxel("export", "--data", theirs)
	require.NoError(t, err, other)
	lines := func(text string) []string { return slices.Sorted(strings.Lines(text)) }
	assert.Equal(t, lines(one), lines(other))
	assert.Equal(t, 41, strings.Count(one, "\n"))
	sound(t, ours)
	sound(t, theirs)
	t.Logf("%d of the exchanges were cut off", cut)
}

// small returns a directory on a disk of so many MB: a memory disk of its own where that may be mounted, else a limit on files.
func small(t *testing.T, mb int) (dir, shell string) {
	t.Helper()
	dir = t.TempDir()
	if exec.Command("mount", "-t", "tmpfs", "-o", fmt.Sprintf("size=%dm", mb), "tmpfs", dir).Run() == nil {
		t.Cleanup(func() { _ = exec.Command("umount", "-l", dir).Run() })
		return dir, ""
	}
	return dir, fmt.Sprintf("ulimit -f %d;", mb*1024)
}

// On a full disk nothing is called kept that isn't, what is there is shown, and with room again it goes on.
func TestAFullDisk(t *testing.T) {
	disk, shell := small(t, 6)
	data := filepath.Join(disk, "data")
	s := serve(t, shell, data)
	s.siskin()
	kept := map[string]bool{}
	long := strings.Repeat("x", 900)
	full := false
	for i := 0; i < 20_000 && !full; i++ {
		var many []map[string]any
		for j := range 50 {
			many = append(many, entry(fmt.Sprintf("f%d-%d", i, j), "note", map[string]any{"text": long}))
		}
		status, text := s.ask("POST", "/api/entries", map[string]any{"entries": many})
		if status != 200 {
			full = true
			assert.Equal(t, 503, status, string(text))
			assert.Regexp(t, "disk is full|can't be written|doesn't answer", string(text))
			continue
		}
		var out struct{ Answers []struct{ ID, Result string } }
		require.NoError(t, json.Unmarshal(text, &out))
		for _, a := range out.Answers {
			if a.Result == "kept" {
				kept[a.ID] = true
			}
		}
	}
	require.True(t, full, "the disk was meant to fill up")
	for _, path := range []string{"/api/rack", "/api/engines/siskin", "/api/copies", "/api/diary"} {
		status, text := s.ask("GET", path, nil)
		assert.Equal(t, 200, status, "%s: %s", path, text)
	}
	found := s.record()
	for id := range kept {
		require.Equal(t, 1, found[id], id)
	}
	s.kill()
	out, err := braxel("export", "--data", data)
	if err == nil { // an opening needs a little room itself
		assert.Contains(t, out, "Siskin")
	}
}

// The program runs out of descriptors: it goes on when there are some again.
func TestNoDescriptorsLeft(t *testing.T) {
	s := serve(t, "ulimit -n 96;", t.TempDir())
	s.siskin()
	var all []net.Conn
	for range 300 {
		conn, err := net.DialTimeout("tcp", s.host(), time.Second)
		if err != nil {
			break
		}
		all = append(all, conn)
	}
	time.Sleep(200 * time.Millisecond)
	for _, c := range all {
		_ = c.Close()
	}
	require.Eventually(t, func() bool {
		status, _, err := s.try("GET", "/api/rack", nil)
		return err == nil && status == 200
	}, time.Minute, 50*time.Millisecond, "it ended: %s", s.log)
	assert.Len(t, s.tell(pull("after", 1, 170)), 1)
}

// The data directory goes away under the program: nothing is called kept from then on, and no empty one takes its place.
func TestTheDataGoesAway(t *testing.T) {
	data := filepath.Join(t.TempDir(), "data")
	s := serve(t, "", data)
	s.siskin()
	require.NoError(t, os.Rename(data, data+"-away"))
	require.NoError(t, os.Mkdir(data, 0o700))
	status, text := s.ask("POST", "/api/entries", map[string]any{"entries": []any{pull("late", 1, 170)}})
	assert.Equal(t, 503, status, string(text))
	assert.Contains(t, string(text), "data file is gone")
	status, _ = s.ask("POST", "/api/copies", nil)
	assert.NotEqual(t, 204, status)
	left, err := os.ReadDir(data)
	require.NoError(t, err)
	assert.Empty(t, left, "nothing is written to the bare place")
	s.kill()
	sound(t, data+"-away")
}

// A copy that can't be put back ends nothing: the shop goes on with what it has, and says why.
func TestACopyThatCannotBePutBackEndsNothing(t *testing.T) {
	data := t.TempDir()
	s := serve(t, "", data)
	s.siskin()
	status, text := s.ask("POST", "/api/copies", nil)
	require.Equal(t, 204, status, string(text))
	files, err := filepath.Glob(filepath.Join(data, "copies", "*.db"))
	require.NoError(t, err)
	require.Len(t, files, 1)
	status, text = s.ask("POST", "/api/copies/restore", map[string]any{"place": filepath.Join(data, "copies"), "name": filepath.Base(files[0])})
	require.Equal(t, 204, status, string(text))
	require.NoError(t, os.Truncate(files[0], 9000)) // its disk fails just then
	require.Eventually(t, func() bool {
		status, text, err := s.try("GET", "/api/copies", nil)
		return err == nil && status == 200 && strings.Contains(string(text), "not restored")
	}, time.Minute, 50*time.Millisecond, "it ended: %s", s.log)
	assert.Len(t, s.tell(pull("after", 1, 170)), 1)
}

// Twenty clients for a minute at a thousand engines: nothing lost, nothing doubled; how quick it is, is told and not judged.
func TestLoad(t *testing.T) {
	data := t.TempDir()
	out, err := braxel("import", "--data", data, logs(t, some(50, 1000)))
	require.NoError(t, err, out)
	s := serve(t, "", data)
	s.siskin()
	end := time.Now().Add(time.Duration(some(2, 60)) * time.Second)
	var mu sync.Mutex
	var took []time.Duration
	kept := map[string]bool{}
	var each sync.WaitGroup
	for c := range 20 {
		each.Go(func() {
			for i := 0; time.Now().Before(end); i++ {
				id := fmt.Sprintf("c%d-%d", c, i)
				begun := time.Now()
				ids := s.tell(pull(id, 1+i%4, 150+i%20))
				lasted := time.Since(begun)
				if i%10 == 0 {
					_, _, _ = s.try("GET", "/api/rack", nil)
				}
				mu.Lock()
				took = append(took, lasted)
				for _, id := range ids {
					kept[id] = true
				}
				mu.Unlock()
			}
		})
	}
	each.Wait()
	slices.Sort(took)
	found := s.record()
	lost := 0
	for id := range kept {
		if found[id] != 1 {
			lost++
		}
	}
	assert.Zero(t, lost)
	assert.Len(t, kept, len(took), "every entry was answered")
	t.Logf("%d entries of 20 clients: median %v, p99 %v, the longest %v; %d MB resident", len(took), took[len(took)/2], took[len(took)*99/100], took[len(took)-1], s.resident())
}
