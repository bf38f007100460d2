package seal_test

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"regexp"
	"strings"
	"testing"

	gojson "github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/log"
	"braxel/internal/core/seal"
	"braxel/internal/demo"
)

func logs() []log.Log { return demo.Logs() }

func sealed(t *testing.T, tests []log.Session) seal.Seal {
	s, err := seal.Of(tests)
	require.NoError(t, err)
	return s
}

func TestASealIsTheHashOfTheCanonicalForm(t *testing.T) {
	// The standard library sorts the keys of a map, and writes these plain values as RFC 8785 does.
	test := log.Session{ID: "s1", Date: "2033-04-02", Note: "plain"}
	text, err := json.Marshal(map[string]any{"tests": []any{map[string]any{"date": "2033-04-02", "id": "s1", "note": "plain"}}})
	require.NoError(t, err)
	sum := sha256.Sum256(text)
	assert.Equal(t, hex.EncodeToString(sum[:]), sealed(t, []log.Session{test}).Hex())
}

var aDigit = regexp.MustCompile(`[0-9]`)

func TestOneChangedDigitAnywhereIsFound(t *testing.T) {
	l := logs()[0]
	test := l.Sessions[len(l.Sessions)-1]
	test.Rest = jsontext.Value(`{"serial":12345678901234567890123,"small":0.30000000000000000001}`)
	text, err := jsontext.AppendFormat(nil, mustMarshal(t, test))
	require.NoError(t, err)
	was := sealed(t, []log.Session{test})
	for _, at := range aDigit.FindAllIndex(text, -1) {
		changed := []byte(string(text))
		changed[at[0]] = '0' + (changed[at[0]]-'0'+1)%10
		var other log.Session
		if unmarshal(changed, &other) != nil {
			continue // no number any more
		}
		assert.NotEqual(t, was, sealed(t, []log.Session{other}), "%s", changed[max(at[0]-20, 0):at[0]+5])
	}
}

func TestAPaperIsKnownByItsWordsItsDigitsAndItsCode(t *testing.T) {
	all := logs()
	l := all[2]
	last := l.Sessions[len(l.Sessions)-1]
	one := sealed(t, []log.Session{last})
	history := sealed(t, l.Sessions)
	code := seal.Paper{Engine: l.Engine.ID, From: last.ID, To: last.ID, Seal: one}.Code()
	for _, said := range []string{one.Words(), strings.ToUpper(one.Words()), one.Hex(), one.Hex()[:16], history.Words(), code} {
		found, err := seal.Verify(said, all)
		require.NoError(t, err)
		assert.True(t, found.Same, said)
		assert.Equal(t, l.Engine.Name, found.Engine)
	}
	spoilt := l
	spoilt.Sessions = append([]log.Session{}, l.Sessions...)
	spoilt.Sessions[len(spoilt.Sessions)-1].Note += "."
	for _, said := range []string{one.Words(), history.Words(), code} {
		found, err := seal.Verify(said, []log.Log{spoilt})
		require.NoError(t, err)
		assert.False(t, found.Same, said)
	}
	found, err := seal.Verify(code, []log.Log{spoilt})
	require.NoError(t, err)
	assert.Contains(t, found.Words, "no longer matches")
	found, err = seal.Verify(code, all[:1])
	require.NoError(t, err)
	assert.Contains(t, found.Words, "isn't here")
	for _, none := range []string{"", "acorn", "acorn acorn", "xyz", "BRAXEL1|a|b", "12"} {
		_, err := seal.Verify(none, all)
		assert.ErrorIs(t, err, seal.ErrCode, none)
	}
}

func TestEveryByteHasAWordOfItsOwn(t *testing.T) {
	seen := map[string]bool{}
	for b := range 256 {
		first := strings.Fields(seal.Seal{byte(b)}.Words())[0]
		assert.False(t, seen[first], first)
		seen[first] = true
	}
	assert.Len(t, seen, 256)
}

func TestASignInANameCannotMoveTheFieldsOfACode(t *testing.T) {
	l := logs()[0]
	l.Engine.ID = "a|b%7C"
	s := sealed(t, l.Sessions[:1])
	code := seal.Paper{Engine: l.Engine.ID, From: l.Sessions[0].ID, To: l.Sessions[0].ID, Seal: s}.Code()
	found, err := seal.Verify(code, []log.Log{l})
	require.NoError(t, err)
	assert.True(t, found.Same, fmt.Sprint(found))
}

func mustMarshal(t *testing.T, s log.Session) []byte {
	text, err := gojson.Marshal(s, gojson.Deterministic(true))
	require.NoError(t, err)
	return text
}

func unmarshal(text []byte, s *log.Session) error { return gojson.Unmarshal(text, s) }
