// Package seal makes the fingerprint of tests: what a paper prints, so that anybody can tell later whether a log still says the same.
package seal

import (
	"bytes"
	"crypto/sha256"
	_ "embed"
	"encoding/hex"
	"math/big"
	"slices"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// Seal is the SHA-256 of the canonical JSON (RFC 8785) of tests, as their log writes them.
type Seal [sha256.Size]byte

//go:embed words.txt
var wordText string

var words = strings.Fields(wordText)

// wordsSaid is how many words a seal is said in: a byte each, so that one in 2^64 other logs has the same.
const wordsSaid = 8

// Of returns the seal of tests.
func Of(tests []log.Session) (Seal, error) {
	text, err := json.Marshal(struct {
		Tests []log.Session `json:"tests"`
	}{tests}, json.Deterministic(true))
	if err != nil {
		return Seal{}, err
	}
	exact, err := exactly(text)
	if err != nil {
		return Seal{}, err
	}
	if err := exact.Canonicalize(); err != nil {
		return Seal{}, err
	}
	return sha256.Sum256(exact), nil
}

// exactly writes numbers that a double cannot hold as text: the canonical form would take two that differ for one.
func exactly(text []byte) (jsontext.Value, error) {
	var out bytes.Buffer
	d, e := jsontext.NewDecoder(bytes.NewReader(text)), jsontext.NewEncoder(&out)
	for {
		t, err := d.ReadToken()
		if err != nil {
			break
		}
		if t.Kind() == '0' && !holds(t.String()) {
			t = jsontext.String(say.Text("seal.number", "t", t.String()))
		}
		if err := e.WriteToken(t); err != nil {
			return nil, err
		}
	}
	return jsontext.Value(bytes.TrimSpace(out.Bytes())), nil
}

// enough bits to tell any two numbers that somebody writes apart.
const enough = 4096

// holds reports whether a double is written back as the same number.
func holds(literal string) bool {
	const few = 15 // digits that every double has
	if len(literal) <= few {
		return true
	}
	want, _, err := big.ParseFloat(literal, 10, enough, big.ToNearestEven)
	if err != nil {
		return false
	}
	double, _ := want.Float64()
	written, _, err := big.ParseFloat(jsontext.Float(double).String(), 10, enough, big.ToNearestEven)
	return err == nil && written.Cmp(want) == 0
}

// Words returns the seal as one reads it out.
func (s Seal) Words() string {
	said := make([]string, wordsSaid)
	for i := range said {
		said[i] = words[s[i]]
	}
	return strings.Join(said, " ")
}

// Hex returns the whole seal.
func (s Seal) Hex() string { return hex.EncodeToString(s[:]) }

// Paper is what a paper's code says: which engine and tests it covers, and their seal.
type Paper struct {
	Engine string
	From   string // the first test that it covers
	To     string // the last
	Seal   Seal
}

const codeMark = "BRAXEL1"

// Code returns what is printed as a QR code: from it alone one knows which tests to look at.
func (p Paper) Code() string {
	field := func(s string) string { return strings.NewReplacer("%", "%25", "|", "%7C").Replace(s) }
	return strings.Join([]string{codeMark, field(p.Engine), field(p.From), field(p.To), p.Seal.Hex()}, "|")
}

// Covered returns the tests of a log that a paper covers: from one to another, both with it.
func Covered(l log.Log, from, to string) ([]log.Session, bool) {
	i, j := l.At(from), l.At(to)
	if i < 0 || j < i {
		return nil, false
	}
	return l.Sessions[i : j+1], true
}

// ErrCode is what Verify answers for what is no code of a paper.
var ErrCode = say.Error("seal.not-code-paper-type-eight")

// Finding is what came of holding a paper against a log.
type Finding struct {
	Same   bool     `json:"same" doc:"The log matches the paper"`
	Engine string   `json:"engine"`
	Tests  []string `json:"tests,omitempty" doc:"The days of the tests that it covers"`
	Words  string   `json:"words"`
}

// Verify holds the code of a paper against logs.
func Verify(code string, logs []log.Log) (Finding, error) {
	text := strings.TrimSpace(code)
	if strings.HasPrefix(text, codeMark+"|") {
		return byCode(text, logs)
	}
	match, err := matcher(text)
	if err != nil {
		return Finding{}, err
	}
	for _, l := range logs {
		for i := range l.Sessions {
			for _, from := range slices.Compact([]int{i, 0}) {
				s, err := Of(l.Sessions[from : i+1])
				if err != nil {
					return Finding{}, err
				}
				if match(s) {
					return same(l, l.Sessions[from:i+1]), nil
				}
			}
		}
	}
	return Finding{Words: say.Text("seal.no-test-or-history-here")}, nil
}

// matcher reads words or hexadecimal digits.
func matcher(text string) (func(Seal) bool, error) {
	said := strings.Fields(strings.ToLower(strings.NewReplacer(",", " ", "-", " ").Replace(text)))
	if len(said) == wordsSaid && !slices.ContainsFunc(said, func(w string) bool { return !slices.Contains(words, w) }) {
		want := strings.Join(said, " ")
		return func(s Seal) bool { return s.Words() == want }, nil
	}
	digits := strings.Join(said, "")
	const least = 16
	if _, err := hex.DecodeString(digits); err == nil && len(digits) >= least && len(digits) <= 2*sha256.Size {
		return func(s Seal) bool { return strings.HasPrefix(s.Hex(), digits) }, nil
	}
	return nil, ErrCode
}

func byCode(text string, logs []log.Log) (Finding, error) {
	parts := strings.Split(text, "|")
	const fields = 5
	if len(parts) != fields {
		return Finding{}, ErrCode
	}
	for i := range parts {
		parts[i] = strings.NewReplacer("%7C", "|", "%25", "%").Replace(parts[i])
	}
	for _, l := range logs {
		if l.Engine.ID != parts[1] && l.Engine.Name != parts[1] {
			continue
		}
		tests, there := Covered(l, parts[2], parts[3])
		if !there {
			return Finding{Engine: l.Engine.Name, Words: say.Text("seal.here-but-test-isnt",
				"name", l.Engine.Name,
				"parts", parts[3],
			)}, nil
		}
		s, err := Of(tests)
		if err != nil {
			return Finding{}, err
		}
		if s.Hex() == parts[4] {
			return same(l, tests), nil
		}
		return Finding{Engine: l.Engine.Name, Tests: days(tests), Words: say.Text("seal.log-no-longer-matches-paper",
			"name", l.Engine.Name,
			"span", span(tests),
		)}, nil
	}
	return Finding{Words: say.Text("seal.paper-belongs-engine-which-isnt", "parts", parts[1])}, nil
}

func same(l log.Log, tests []log.Session) Finding {
	return Finding{Same: true, Engine: l.Engine.Name, Tests: days(tests), Words: say.Text("seal.log-matches-paper-digit-for",
		"name", l.Engine.Name,
		"span", span(tests),
	)}
}

func days(tests []log.Session) []string {
	var all []string
	for _, t := range tests {
		all = append(all, t.Date)
	}
	return all
}

func span(tests []log.Session) string {
	if len(tests) == 1 {
		return say.Text("seal.test", "date", tests[0].Date)
	}
	return say.Text("seal.tests-from",
		"n", len(tests),
		"date", tests[0].Date,
		"date2", tests[len(tests)-1].Date,
	)
}
