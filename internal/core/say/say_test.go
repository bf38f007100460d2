package say_test

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/say"
)

func TestATextTakesItsValuesAndItsPluralForm(t *testing.T) {
	assert.Equal(t, "Cylinder 3 is down 9 %", say.Text("judge.fact-down-baseline", "name", "Cylinder 3", "value", 8.7))
	assert.Equal(t, "The rest are unchanged.", say.Text("judge.visit-others-stood", "n", 3))
	assert.Equal(t, "The other is unchanged.", say.Text("judge.visit-others-stood", "n", 1))
	assert.Equal(t, "judge.nobody-wrote-this", say.Text("judge.nobody-wrote-this"), "an id without a text shows itself")
}

func TestAnErrorSaysItsTextAndKeepsWhatItWraps(t *testing.T) {
	cause := errors.New("the lead is off")
	err := say.Error("gauges.was-unplugged", "name", cause)
	assert.Contains(t, err.Error(), "the lead is off")
	assert.ErrorIs(t, err, cause)
	assert.NotErrorIs(t, say.Error("gauges.was-unplugged", "name", "x"), cause)
}

func TestAFileOfTextsIsReadOrRefused(t *testing.T) {
	_, err := say.Read([]byte(`{"a": "{{x}} of {n}", "b": {"one": "one", "other": "{n}"}}`))
	require.NoError(t, err)
	for _, bad := range []string{`{"a": 3}`, `{"a": {"one": "x"}}`, `{"a": {"one": "x", "few": "y"}}`, `{"a": "x", "a": "y"}`, `[]`} {
		_, err := say.Read([]byte(bad))
		assert.Error(t, err, bad)
	}
}

func TestNamesDatesAndSentencesAreWrittenAsPeopleDo(t *testing.T) {
	assert.Equal(t, "5", say.And([]string{"5"}))
	assert.Equal(t, "5 and 7", say.And([]string{"5", "7"}))
	assert.Equal(t, "hot, warm or cold", say.Or([]string{"hot", "warm", "cold"}))
	assert.Empty(t, say.And(nil))
	assert.Equal(t, "2 Apr 2033", say.Day("2033-04-02").String())
	assert.Equal(t, "spring", say.Day("spring").String(), "what is no date stays as it was typed")
	assert.Equal(t, "Ölig", say.Capital("ölig"))
	assert.Empty(t, say.Capital(""))
	assert.Equal(t, "Run it. Check it.", say.Sentences("Run it.", "", " Check it."))
}

func TestWordsBecomeOneSentenceAndStayOne(t *testing.T) {
	for words, want := range map[string]string{"ran hot": "Ran hot.", "Ran hot.": "Ran hot.", "why?": "Why?", "": "", "été": "Été."} {
		assert.Equal(t, want, say.Sentence(words))
	}
}

func TestNumbersHaveTheDecimalsThatTheyHave(t *testing.T) {
	assert.Equal(t, "151", say.Number(151))
	assert.Equal(t, "10.4", say.Number(10.4))
	assert.Equal(t, "-0.003", say.Number(-0.003))
	assert.Equal(t, "9800", say.Number(9800), "four digits stand together")
	assert.Equal(t, "128,000", say.Number(128_000))
	assert.Equal(t, "110,000,000", say.Number(1.1e8), "never with an exponent")
	assert.Equal(t, "5.3", say.Rounded(5.27, 1))
	assert.Equal(t, "12,346", say.Rounded(12345.6, 0))
	assert.Equal(t, "12.3", say.Digits(12.345, 3))
	assert.Equal(t, "must be between 0 and 60,000 V", say.Text("log.must-between", "min", 0, "max", 60_000, "unit", " V"))
}
