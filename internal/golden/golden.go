// Package golden holds what is said against what was said before, for tests.
package golden

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Same holds a text against the file of that name in testdata, and writes it there where BRAXEL_GOLDEN=write asks for it. Where CI is set,
// nothing is ever written: a test that agrees with itself proves nothing.
func Same(t *testing.T, name, text string) {
	t.Helper()
	file := filepath.Join("testdata", name)
	if os.Getenv("BRAXEL_GOLDEN") == "write" {
		require.Empty(t, os.Getenv("CI"), "goldens are not rewritten where the tests are judged by them")
		require.NoError(t, os.MkdirAll("testdata", 0o750))
		require.NoError(t, os.WriteFile(file, []byte(text), 0o600))
	}
	kept, err := os.ReadFile(file)
	require.NoError(t, err)
	assert.Equal(t, string(kept), text)
}
