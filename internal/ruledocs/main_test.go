package main

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Who changes a rule runs “make docs”, and commits both.
func TestTheDocumentsSayWhatTheRulesAre(t *testing.T) {
	pages, err := pages("../..")
	require.NoError(t, err)
	for file, want := range pages {
		have, err := os.ReadFile(filepath.Join("../..", file))
		require.NoError(t, err)
		assert.Equal(t, want, string(have), "%s: run “make docs”", file)
	}
}

func TestADocumentThatNamesNoRuleIsRefused(t *testing.T) {
	text := "<!-- rules\n| a | {Nothing} |\n-->\n<!-- /rules -->"
	_, err := fill(text, nil)
	assert.ErrorContains(t, err, "Nothing")
	filled, err := fill("<!-- rules\n| a | {Half} {Half%} |\n-->\n<!-- /rules -->", []figure{{name: "Half", value: "0.5"}})
	require.NoError(t, err)
	assert.Contains(t, filled, "| a | 0.5 50 % |")
	again, err := fill(filled, []figure{{name: "Half", value: "0.5"}})
	require.NoError(t, err)
	assert.Equal(t, filled, again, "made twice it is the same")
}
