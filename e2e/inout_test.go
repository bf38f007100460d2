package e2e

import (
	"encoding/json"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/server"
)

const notebook = "Teal 1600; bar\r\nDatum;Std.;Zyl. 1;Zyl. 2;Zyl. 3;Anmerkung\r\n3/4/2031;12,5;12,4;12,5;12,3;\r\n5/6/2031;31;12,3/12,4;12,4;10,1;nach dem Rennen\r\n" +
	"7/8/2031;44;12,2;12,3;=D4*0,9;\r\nMittel;;12,3;12,4;11,2;\r\n"

// handed chooses a file on the page of imports.
func handed(t *testing.T, page *rod.Page, name, text string) {
	t.Helper()
	file := filepath.Join(t.TempDir(), name)
	require.NoError(t, os.WriteFile(file, []byte(text), 0o600))
	chooseFile(t, page, file)
}

func TestASpreadsheetComesInOnTheScreen(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	page := s.open(t, "/import", 1280, 800)
	handed(t, page, "notebook.csv", notebook)
	see(t, page, "[data-sentence]", "3 tests of Teal 1600, read from 6 rows; 1 refused")
	see(t, page, "[data-refused]", "Row 5, Zyl. 3")
	click(t, page, "[data-take]", "The question first")
	see(t, page, "[role=alert]", "Answer the question first")
	see(t, page, "[data-sentence]", "3 tests of Teal 1600, read from") // nothing comes in by half
	click(t, page, "[data-choice=dmy]", "day first")
	see(t, page, "[data-test]", "2031-06-05")
	click(t, page, "[data-take]", "Import 3 tests")
	see(t, page, "[data-sentence]", "a new engine, 3 tests imported")
	click(t, page, "[data-sentence] a", "Teal 1600")
	see(t, page, "[role=heading]", "Teal 1600")
	again := s.open(t, "/import", 390, 844)
	handed(t, again, "notebook.csv", notebook)
	click(t, again, "[data-choice=dmy]", "day first")
	see(t, again, "[data-take]", "Nothing new in it")
}

func TestAColumnIsCorrectedByPicking(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir())
	page := s.open(t, "/import", 1280, 800)
	handed(t, page, "odd.csv", "Date,Alpha,Beta,Misc\n2031-05-01,150,152,7\n2031-06-01,149,151,8\n")
	see(t, page, "[data-test]", "\\(Alpha\\): 150")
	field, err := page.Element(`select[aria-label="What “Misc” is"]`)
	require.NoError(t, err)
	require.NoError(t, field.Select([]string{"ignored"}, true, rod.SelectorTypeText))
	see(t, page, "[data-test]", "2 \\(Beta\\): 152 psi$")
	click(t, page, "[data-question=columns] [data-choice=yes]", "readings of cylinders so called") // nobody has called a cylinder so before
	click(t, page, "[data-take]", "Import 2 tests")
	see(t, page, "[data-sentence]", "2 tests imported")
}

func TestALogThatSaysOtherwiseIsLaidBesideAndChosen(t *testing.T) {
	t.Parallel()
	s := demo(t)
	var l map[string]any
	s.get(t, "/api/export?engine=dunlin", &l)
	l["engine"].(map[string]any)["owner"] = "somebody else"
	other, err := json.Marshal(l)
	require.NoError(t, err)
	page := s.open(t, "/import", 1280, 800)
	handed(t, page, "other.json", string(other))
	see(t, page, "[data-differs]", "somebody else")
	see(t, page, "[data-take]", "Nothing new in it")
	click(t, page, "[data-differs] label", "use the file's")
	click(t, page, "[data-take]", "Import")
	see(t, page, "[data-log] a", "Dunlin")
	var now server.EnginePage
	s.get(t, "/api/engines/dunlin", &now)
	assert.Equal(t, "somebody else", now.Engine.Owner)
}

func TestACopyIsPutBackFromTheScreen(t *testing.T) {
	t.Parallel()
	data := t.TempDir()
	_, complaint, exit := braxel(t, "", "import", "../internal/logfile/testdata/heron.json", "--data", data)
	require.Equal(t, 0, exit, complaint)
	s := serve(t, freePort(t), "serve", "--data", data)
	page := s.open(t, "/copies", 1280, 800)
	click(t, page, "[data-make]", "Back up now")
	see(t, page, "[role=status]", "A backup was made")
	var rack server.Rack
	s.get(t, "/api/rack", &rack)
	heron := rack.Engines[0].ID
	s.tell(t, map[string]any{"id": "late", "engine": heron, "kind": "note", "body": map[string]any{"text": "typed after the copy"}})
	click(t, page, "[data-copy] button", "Look inside")
	see(t, page, "[data-inside]", "One entry typed since would be set\\s+aside")
	click(t, page, "[data-restore]", "Restore this backup")
	click(t, page, "[data-sure]", "Restore")
	require.Eventually(t, func() bool {
		response, err := http.Get(s.url + "/api/engines/" + heron)
		if err != nil {
			return false
		}
		defer func() { _ = response.Body.Close() }()
		text, _ := io.ReadAll(response.Body)
		return response.StatusCode == http.StatusOK && !strings.Contains(string(text), "typed after the copy")
	}, time.Minute, 200*time.Millisecond)
	aside, err := filepath.Glob(filepath.Join(data, "before-restore-*.db"))
	require.NoError(t, err)
	assert.Len(t, aside, 1)
	see(t, page, "[data-sentence]", "The newest backup is from")
}

func TestDataThatCannotBeOpenedIsSaidAndPutRight(t *testing.T) {
	t.Parallel()
	data := t.TempDir()
	_, complaint, exit := braxel(t, "", "import", "../internal/logfile/testdata/heron.json", "--data", data)
	require.Equal(t, 0, exit, complaint)
	s := serve(t, freePort(t), "serve", "--data", data)
	s.post(t, "/api/copies", map[string]any{}, nil)
	s.kill(t)
	for _, name := range []string{"braxel.db-wal", "braxel.db-shm"} {
		_ = os.Remove(filepath.Join(data, name))
	}
	require.NoError(t, os.WriteFile(filepath.Join(data, "braxel.db"), []byte("this was a data file once, before the disk failed"), 0o600))
	s = serve(t, s.port, "serve", "--data", data)
	page := s.open(t, "/", 1280, 800)
	see(t, page, "h1", "Braxel can't open its data")
	click(t, page, "button", "Restore this backup")
	see(t, page, "li", "Heron")
}

func TestAPaperIsOpenedAndCheckedOnTheScreen(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/bittern/papers", 1280, 800)
	link, err := see(t, page, "[data-paper=certificate]", "Open").Property("href")
	require.NoError(t, err)
	response, err := http.Get(link.Str())
	require.NoError(t, err)
	defer func() { _ = response.Body.Close() }()
	require.Equal(t, "application/pdf", response.Header.Get("Content-Type"))
	c := exec.Command("pdftotext", "-layout", "-", "-")
	c.Stdin = response.Body
	printed, err := c.Output()
	require.NoError(t, err)
	words := strings.TrimSpace(regexp.MustCompile(`(?m)^ *((?:[a-z]+ +){7}[a-z]+) *$`).FindString(string(printed)))
	require.NotEmpty(t, words, string(printed))
	desk := s.open(t, "/shop", 1280, 800)
	check := func(code, pattern string) {
		field, err := desk.Element("[data-code]")
		require.NoError(t, err)
		require.NoError(t, field.SelectAllText())
		require.NoError(t, field.Input(code))
		click(t, desk, "button", "Check it")
		see(t, desk, "[data-found],[data-fault]", pattern)
	}
	check(words, "Bittern: the log matches the paper, digit for digit")
	check("not a code", "not the code of a paper")
	check("acorn acorn acorn acorn acorn acorn acorn acorn", "No test or history here")
}

func TestTwoMachinesExchangeOnTheScreen(t *testing.T) {
	t.Parallel()
	laptop, shop := serve(t, 0, "serve", "--data", t.TempDir()), demo(t)
	page := laptop.open(t, "/shop", 1280, 800)
	field, err := page.Element("[data-peer]")
	require.NoError(t, err)
	require.NoError(t, field.Input(shop.url))
	click(t, page, "button", "Exchange")
	see(t, page, "[data-synced]", "Both now have the same")
	assert.Equal(t, shop.export(t), laptop.export(t))
}

// export reads a whole shop out.
func (s *shop) export(t *testing.T) string {
	t.Helper()
	response, err := http.Get(s.url + "/api/export")
	require.NoError(t, err)
	defer func() { _ = response.Body.Close() }()
	text, err := io.ReadAll(response.Body)
	require.NoError(t, err)
	return string(text)
}

func TestASheetIsReadByCommandWithoutADataFile(t *testing.T) {
	t.Parallel()
	nowhere := filepath.Join(t.TempDir(), "none")
	out, complaint, exit := braxel(t, "", "import", "--dry-run", "--json", "--data", nowhere, "../internal/logfile/testdata/sheets/p2.csv")
	require.Equal(t, 0, exit, complaint)
	var got struct {
		Logs    []log.Log
		Refused []struct {
			Row int
			Why string
		}
		Asked []any
	}
	require.NoError(t, json.Unmarshal([]byte(out), &got))
	require.Len(t, got.Logs, 1)
	assert.Equal(t, "Curlew 125 single", got.Logs[0].Engine.Name)
	assert.Len(t, got.Logs[0].Sessions, 3)
	require.Len(t, got.Refused, 1)
	assert.Equal(t, 5, got.Refused[0].Row)
	assert.Empty(t, got.Asked)
	assert.NoDirExists(t, nowhere, "a dry run makes nothing")

	data := t.TempDir()
	file := filepath.Join(t.TempDir(), "notebook.csv")
	require.NoError(t, os.WriteFile(file, []byte(notebook), 0o600))
	_, complaint, exit = braxel(t, "", "import", "--data", data, file)
	assert.Equal(t, 1, exit)
	assert.Contains(t, complaint, "nothing was imported")
	out, complaint, exit = braxel(t, "", "import", "--data", data, "--dates", "dmy", file)
	require.Equal(t, 0, exit, complaint)
	assert.Contains(t, out, "3 tests")
	out, _, _ = braxel(t, "", "export", "--csv", "--data", data)
	assert.Equal(t, 1, strings.Count(out, "engine,session"))
}

func TestAThirdLogThatIsBadLeavesTheOthersAndIsNotDoubled(t *testing.T) {
	t.Parallel()
	text, err := os.ReadFile("../internal/logfile/testdata/heron.json")
	require.NoError(t, err)
	good := strings.ReplaceAll(string(text), "\n", " ")
	all := good + "\n" + strings.Replace(good, `"name": "Heron"`, `"name": "Teal"`, 1) + "\n" + strings.ReplaceAll(good, `"psi"`, `"atm"`) + "\n"
	data := t.TempDir()
	for range 2 {
		_, complaint, exit := braxel(t, all, "import", "--data", data, "-")
		assert.Equal(t, 1, exit)
		assert.Contains(t, complaint, "log 3 refused")
		assert.Contains(t, complaint, "/sessions/0/compression/0/pulls/0/unit")
		out, _, _ := braxel(t, "", "export", "--data", data)
		assert.Equal(t, 2, strings.Count(out, "\n"))
	}
}

func TestWhatIsNoLogIsRefusedBeforeItIsRead(t *testing.T) {
	t.Parallel()
	large := filepath.Join(t.TempDir(), "large.json")
	f, err := os.Create(large)
	require.NoError(t, err)
	require.NoError(t, f.Truncate(200<<20))
	require.NoError(t, f.Close())
	_, complaint, exit := braxel(t, "", "judge", large)
	assert.Equal(t, 1, exit)
	assert.Contains(t, complaint, "larger than 128 MB")
	for what, text := range map[string]string{
		"brackets": strings.Repeat("[", 20<<20), "ones": `{"x":[` + strings.Repeat("1,", 10<<20) + "1]}", "a word": `"` + strings.Repeat("a", 20<<20),
	} {
		_, complaint, exit := braxel(t, text, "judge", "-")
		assert.Equal(t, 1, exit, what)
		assert.NotEmpty(t, complaint, what)
		assert.Less(t, len(complaint), 2000, what)
	}
}
