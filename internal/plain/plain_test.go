package plain_test

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/say"
	"braxel/internal/logfile"
	"braxel/internal/plain"
)

// goes is how Go, the system and SQLite talk, and no builder does.
var goes = regexp.MustCompile(`(?i)dial tcp|lookup |connect: |no such file or directory$|invalid argument|json: |jsontext|zip: |` +
	`parse error|syscall|SQL logic|\(\d+\)|EOF|0x[0-9a-f]|deadline|strconv|goroutine`)

// real makes each trouble happen, so that what is put into words is what a machine says.
func real(t *testing.T) map[string]error {
	t.Helper()
	dir := t.TempDir()
	text := filepath.Join(dir, "text")
	require.NoError(t, os.WriteFile(text, []byte(strings.Repeat("no database ", 100)), 0o600))
	all := map[string]error{}
	_, all["there is no such file"] = os.Open(filepath.Join(dir, "none"))
	_, all["is a directory"] = os.ReadFile(dir)
	_, all["part of the path is a file"] = os.Open(filepath.Join(text, "deeper"))
	all["already there"] = os.Mkdir(dir, 0o700)
	db, err := sql.Open("sqlite", text)
	require.NoError(t, err)
	t.Cleanup(func() { _ = db.Close() })
	_, all["isn't a database"] = db.Exec("CREATE TABLE t (x)")
	nowhere, err := sql.Open("sqlite", filepath.Join(dir, "none", "x.db"))
	require.NoError(t, err)
	t.Cleanup(func() { _ = nowhere.Close() })
	all["can't be opened"] = nowhere.Ping()

	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	_, all["another program is using that port"] = net.Listen("tcp", l.Addr().String())
	_, all["doesn't have that address"] = net.Listen("tcp", "192.0.2.1:0")
	ctx, stop := context.WithTimeout(t.Context(), time.Nanosecond)
	defer stop()
	late, err := http.NewRequestWithContext(ctx, http.MethodGet, "http://"+l.Addr().String(), nil)
	require.NoError(t, err)
	_, all["no answer in time"] = http.DefaultClient.Do(late) //nolint:bodyclose // there is none
	require.NoError(t, l.Close())
	_, all["nothing answers there"] = http.Get("http://" + l.Addr().String()) //nolint:bodyclose,noctx // there is none
	_, all["no machine called"] = net.Dial("tcp", "nowhere.invalid:80")       //nolint:noctx // it ends at once

	var v map[string]int
	all["wrong at character 6"] = json.Unmarshal([]byte(`{"a":}`), &v)
	all["/a holds the wrong kind"] = json.Unmarshal([]byte(`{"a":"x"}`), &v)
	all["isn't a zip archive"] = logfile.ReadArchive(strings.NewReader("PK\x03\x04 and no more"), 15, nil)
	return all
}

func TestWhatTheSystemSaysIsPutPlainly(t *testing.T) {
	for words, err := range real(t) {
		require.Error(t, err, words)
		for _, one := range []error{
			err,
			fmt.Errorf("reading it: %w", err),
			errors.Join(errors.New("first"), err),
			say.Error("store.data-file", "err", err),
		} {
			said := plain.Words(one)
			assert.Contains(t, said, words)
			assert.NotRegexp(t, goes, strings.ReplaceAll(said, "there is no such file or directory", ""), "from %q", one)
			assert.Equal(t, said, plain.Words(errors.New(said)), "said plainly once is said plainly")
		}
	}
}

func TestOurOwnWordsStay(t *testing.T) {
	own := say.Error("store.data-file-gone-disk-was")
	assert.Equal(t, own.Error(), plain.Words(own))
	assert.Equal(t, "x: "+own.Error(), plain.Words(fmt.Errorf("x: %w", own)))
	assert.Equal(t, "x: ", plain.Words(fmt.Errorf("x: %w", errors.New(""))), "an error that says nothing")
}
