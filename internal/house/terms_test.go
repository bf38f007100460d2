package house_test

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/say"
)

// shunned are the phrases of the second column of docs/words.md.
func shunned(t *testing.T) []*regexp.Regexp {
	t.Helper()
	raw, err := os.ReadFile("../../docs/words.md")
	require.NoError(t, err)
	_, table, ok := strings.Cut(string(raw), "| use | not | for |\n|---|---|---|\n")
	require.True(t, ok)
	table, _, _ = strings.Cut(table, "\n\n")
	var all []*regexp.Regexp
	for line := range strings.Lines(table) {
		for phrase := range strings.SplitSeq(strings.Split(line, "|")[2], ";") {
			all = append(all, regexp.MustCompile(`(?i)(^|[^\p{L}])`+regexp.QuoteMeta(strings.TrimSpace(phrase))+`([^\p{L}]|$)`))
		}
	}
	require.Greater(t, len(all), 30)
	return all
}

// read returns everything that people read, by where it stands.
func everythingRead(t *testing.T) map[string]string {
	t.Helper()
	all := map[string]string{}
	for id, forms := range say.Texts() {
		all["say "+id] = strings.Join(forms, "\n")
	}
	for _, pattern := range []string{
		"web/src/words/en/*.json", "internal/core/rules/*.json", "internal/core/practice/*.json",
		"docs/guide/*.md", "docs/[a-qst-v]*.md", "README.md",
	} {
		files, err := filepath.Glob("../../" + pattern)
		require.NoError(t, err)
		require.NotEmpty(t, files, pattern)
		for _, file := range files {
			raw, err := os.ReadFile(file)
			require.NoError(t, err)
			var texts map[string]any
			if strings.HasSuffix(file, ".json") && json.Unmarshal(raw, &texts) == nil {
				gather(file, texts, all)
				continue
			}
			all[file] = string(raw)
		}
	}
	var api map[string]any
	raw, err := os.ReadFile("../../web/openapi.json")
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(raw, &api))
	described("openapi.json", api, all)
	require.Greater(t, len(all), 3000)
	return all
}

// described adds what an API's description says in sentences.
func described(at string, v any, all map[string]string) {
	switch v := v.(type) {
	case []any:
		for i, one := range v {
			described(fmt.Sprintf("%s/%d", at, i), one, all)
		}
	case map[string]any:
		for key, one := range v {
			if text, ok := one.(string); ok && (key == "description" || key == "summary") {
				all[at+"/"+key] = text
			} else {
				described(at+"/"+key, one, all)
			}
		}
	}
}

// gather adds the texts of a JSON file; its keys are ids, and numbers are nobody's words.
func gather(at string, v any, all map[string]string) {
	switch v := v.(type) {
	case string:
		all[at] = v
	case []any:
		for i, one := range v {
			gather(fmt.Sprintf("%s/%d", at, i), one, all)
		}
	case map[string]any:
		for key, one := range v {
			gather(at+"/"+key, one, all)
		}
	}
}

func TestNoWordThatNobodySaysIsReadAnywhere(t *testing.T) {
	phrases := shunned(t)
	for at, text := range everythingRead(t) {
		for _, phrase := range phrases {
			assert.Empty(t, phrase.FindString(names.ReplaceAllString(text, "…")), "%s: %s", at, text)
		}
	}
}

var names = regexp.MustCompile(`\{\w+\}|` + "`[^`]*`")

// Errors say a number as people write it, and a fault in words.
func TestNoTextIsWrittenForAMachine(t *testing.T) {
	for id, forms := range say.Texts() {
		for _, text := range forms {
			assert.NotRegexp(t, `expected (number|string|object)|invalid|nil|NaN|unmarshal`, text, id)
			assert.NotRegexp(t, `,,|\.\.`, text, id)
		}
	}
}
