package e2e

import (
	"bytes"
	"errors"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// braxel runs the program and returns what it printed, what it complained of, and its exit.
func braxel(t *testing.T, stdin string, args ...string) (out, complaint string, exit int) {
	t.Helper()
	cmd := exec.Command(binary, args...)
	var o, e bytes.Buffer
	cmd.Stdin, cmd.Stdout, cmd.Stderr = strings.NewReader(stdin), &o, &e
	err := cmd.Run()
	var ended *exec.ExitError
	if errors.As(err, &ended) {
		return o.String(), e.String(), ended.ExitCode()
	}
	require.NoError(t, err)
	return o.String(), e.String(), 0
}

func TestTheCommandLineKeepsItsExits(t *testing.T) {
	t.Parallel()
	out, _, exit := braxel(t, `{"altitude_m":0}`, "calc", "ambient")
	assert.Equal(t, 0, exit)
	assert.JSONEq(t, `{"ambient_kpa":101.325}`, out)
	_, complaint, exit := braxel(t, `{"supply_kpa":500,"held_kpa":600}`, "calc", "leak")
	assert.Equal(t, 1, exit)
	assert.Contains(t, complaint, "held_kpa: must not be above the supply")
	for _, wrong := range [][]string{{"calc", "luck"}, {"judge"}, {"serve", "--wings"}, {"fly"}} {
		_, _, exit = braxel(t, "", wrong...)
		assert.Equal(t, 2, exit, "%v", wrong)
	}
	_, complaint, exit = braxel(t, `{"format":"braxel-log","version":1,"engine":{"name":"x","kind":"steam","layout":{"banks":[[1]]}},"sessions":[]}`, "judge", "-")
	assert.Equal(t, 1, exit)
	assert.Contains(t, complaint, "/engine/kind")
}

func TestAWrongCallIsAnsweredPlainly(t *testing.T) {
	t.Parallel()
	for call, want := range map[string]string{
		"fly":               "there is no command fly; braxel --help lists them",
		"judge":             "use it like this: braxel judge FILE [flags]",
		"serve --wings":     "there is no flag --wings; --help lists those there are",
		"serve -w":          "there is no flag -w; --help lists those there are",
		"serve --port":      "--port needs a value",
		"serve --port x":    "--port takes a whole number, not “x”",
		"import /none.json": "/none.json: there is no such file or directory",
		"judge /dev":        "log 1: /dev: it is a directory, not a file",
		"judge /dev/null":   "/dev/null: there is no log in it",
		"restore /none":     "/none can't be restored: /none: there is no such file or directory",
		"sync http://nowhere.invalid": "http://nowhere.invalid can't be reached: the network knows no machine called nowhere.invalid. " +
			"Are both machines on the same network?",
	} {
		args := strings.Fields(call)
		if args[0] == "sync" || args[0] == "import" || args[0] == "restore" {
			args = append(args, "--data", t.TempDir())
		}
		_, complaint, exit := braxel(t, "", args...)
		assert.NotZero(t, exit, call)
		assert.Equal(t, want, strings.TrimSpace(complaint), call)
	}
}

func TestALogGoesInAndOutAndACopyIsPutBack(t *testing.T) {
	t.Parallel()
	data, file := t.TempDir(), "../internal/logfile/testdata/heron.json"
	_, complaint, exit := braxel(t, "", "import", file, "--data", data)
	require.Equal(t, 0, exit, complaint)
	out, _, _ := braxel(t, "", "export", "--engine", "heron", "--data", data)
	assert.Contains(t, out, `"struck": "throttle not held open"`)
	out, _, _ = braxel(t, "", "export", "--csv", "--data", data)
	assert.Contains(t, out, "Heron,s1,2031-02-14,0,pre-install,cold,1,dry,1,188,psi")

	aside := filepath.Join(t.TempDir(), "copy.db")
	_, complaint, exit = braxel(t, "", "backup", aside, "--data", data)
	require.Equal(t, 0, exit, complaint)
	out, _, _ = braxel(t, "", "import", file, "--data", data)
	assert.Contains(t, out, "all of it is here already")
	_, complaint, exit = braxel(t, `{"format":"braxel-log","version":1,"engine":{"name":"Other","kind":"two-stroke","layout":{"banks":[[1]]}},"sessions":[]}`, "import", "-", "--data", data)
	require.Equal(t, 0, exit, complaint)
	_, complaint, exit = braxel(t, "", "restore", aside, "--data", data)
	require.Equal(t, 0, exit, complaint)
	out, _, _ = braxel(t, "", "export", "--data", data)
	assert.Equal(t, 1, strings.Count(out, "\n"), "the other came after the copy")
	out, _, exit = braxel(t, "", "check", "--data", data)
	assert.Equal(t, 0, exit)
	assert.Contains(t, out, "sound")

	require.NoError(t, os.WriteFile(aside, []byte("no data file"), 0o600))
	_, _, exit = braxel(t, "", "restore", aside, "--data", data)
	assert.Equal(t, 1, exit)
}
