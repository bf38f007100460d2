package logfile_test

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"maps"
	"os"
	"reflect"
	"strconv"
	"strings"
	"testing"

	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/units"
	"braxel/internal/demo"
	"braxel/internal/logfile"
)

func example(t testing.TB) []byte {
	text, err := os.ReadFile("testdata/heron.json")
	require.NoError(t, err)
	return text
}

func TestALogComesBackAsItWas(t *testing.T) {
	l, strangers, err := logfile.Read(example(t))
	require.NoError(t, err)
	assert.Empty(t, strangers)
	text, err := logfile.Write(l)
	require.NoError(t, err)
	assert.JSONEq(t, string(example(t)), string(text))
}

func TestKeysFromElsewhereAreKeptWithTheirOwnObjectAndNamed(t *testing.T) {
	odd := strings.NewReplacer(
		`"stage": "pre-install"`, `"stage": "pre-install", "humidity": 55, "lift": {"bay": 2}`,
		`"value": 184`, `"serial": 12345678901234567890123, "value": 184`,
		`"source": "builder"`, `"source": "builder", "page": [12]`,
		`"version": 1`, `"version": 1, "a/b": null`,
	).Replace(string(example(t)))
	l, strangers, err := logfile.Read([]byte(odd))
	require.NoError(t, err)
	assert.Equal(t, []string{"/engine/limits/page", "/sessions/0/compression/1/pulls/0/serial", "/sessions/0/humidity", "/sessions/0/lift", "/a~1b"}, strangers)
	text, err := logfile.Line(l)
	require.NoError(t, err)
	assert.JSONEq(t, odd, string(text))
	assert.Contains(t, string(text), `"serial":12345678901234567890123`, "to the last digit")
}

func TestWhatCouldBeReadTwoWaysIsRefused(t *testing.T) {
	for name, c := range map[string]struct{ old, new string }{
		"a key twice":          {`"name": "Heron"`, `"name": "Heron", "name": "Bittern"`},
		"invalid UTF-8":        {`"Heron"`, "\"H\xffron\""},
		"a lone surrogate":     {`"Heron"`, `"H\ud800ron"`},
		"more than any number": {`"bore_mm": 87.0`, `"bore_mm": 1e999`},
		"a figure left out":    {`{"value": 190, "unit": "psi"}`, `{"unit": "psi"}`},
		"a figure of nothing":  {`{"value": 190, "unit": "psi"}`, `{"value": null, "unit": "psi"}`},
		"in capitals":          {`{"value": 190, "unit": "psi"}`, `{"VALUE": 190, "unit": "psi"}`},
	} {
		text := strings.Replace(string(example(t)), c.old, c.new, 1)
		require.NotEqual(t, string(example(t)), text, name)
		_, _, err := logfile.Read([]byte(text))
		assert.Error(t, err, name)
	}
}

// limits are the tags of a Go field that the schema has too.
var limits = []string{"minimum", "maximum", "exclusiveMinimum", "maxLength", "minLength", "maxItems", "format", "enum"}

// sameRules compares a Go type with its schema, field by field, and tells where they differ.
func sameRules(t *testing.T, at string, typ reflect.Type, node, defs map[string]any) {
	resolve := func(n map[string]any) map[string]any {
		if ref, ok := n["$ref"].(string); ok {
			return defs[strings.TrimPrefix(ref, "#/$defs/")].(map[string]any)
		}
		return n
	}
	properties := map[string]any{}
	node = resolve(node)
	parts := []any{node}
	if all, ok := node["allOf"].([]any); ok {
		parts = append(parts, all...)
	}
	for _, part := range parts {
		if p, ok := resolve(part.(map[string]any))["properties"].(map[string]any); ok {
			maps.Copy(properties, p)
		}
	}
	seen := map[string]bool{}
	var each func(reflect.Type)
	each = func(typ reflect.Type) {
		for i := range typ.NumField() {
			f := typ.Field(i)
			name, options, _ := strings.Cut(f.Tag.Get("json"), ",")
			if strings.Contains(options, "embed") {
				continue
			}
			if name == "" {
				each(f.Type)
				continue
			}
			seen[name] = true
			here := at + "/" + name
			raw, ok := properties[name].(map[string]any)
			if !assert.True(t, ok, "%s is not in the schema", here) {
				continue
			}
			n, inner := resolve(raw), f.Type
			for _, limit := range limits {
				in := n
				if items, ok := n["items"].(map[string]any); ok && limit != "maxItems" && limit != "enum" {
					in = resolve(items)
				}
				if more, ok := n["additionalProperties"].(map[string]any); ok {
					in = more
				}
				want := f.Tag.Get(limit)
				have := ""
				if v, ok := in[limit]; ok {
					have = strings.Trim(strings.ReplaceAll(fmt.Sprint(v), " ", ","), "[]")
				}
				if limit == "maximum" || limit == "minimum" || limit == "exclusiveMinimum" {
					if x, err := strconv.ParseFloat(have, 64); err == nil {
						have = strconv.FormatFloat(x, 'f', -1, 64)
					}
				}
				if inner == reflect.TypeFor[units.Unit]() && limit == "enum" {
					want = strings.Join(units.Names(), ",")
				}
				// The zero of a place is one that is left out.
				if (name == "cylinder" || name == "rotor" || name == "face") && limit == "minimum" || here == "/layout/banks" || here == "/engine/layout/banks" || here == "/engine/firing_order" || here == "/engine/firing_intervals_deg" {
					continue
				}
				assert.Equal(t, want, have, "%s of %s", limit, here)
			}
			bytes := inner == reflect.TypeFor[[]byte]() // written as base64
			for !bytes && (inner.Kind() == reflect.Pointer || inner.Kind() == reflect.Slice) {
				if inner.Kind() == reflect.Slice {
					n = resolve(n["items"].(map[string]any))
				}
				inner = inner.Elem()
			}
			if inner.Kind() == reflect.Struct {
				sameRules(t, here, inner, n, defs)
			}
		}
	}
	each(typ)
	for name := range properties {
		assert.True(t, seen[name], "%s/%s is in the schema alone", at, name)
	}
}

func TestTheSchemaAndTheGoTypesSayTheSame(t *testing.T) {
	text, err := os.ReadFile("braxel-log.schema.json")
	require.NoError(t, err)
	var schema map[string]any
	require.NoError(t, json.Unmarshal(text, &schema))
	properties := schema["properties"].(map[string]any)
	delete(properties, "format")
	delete(properties, "version")
	type bare struct {
		Engine   log.Engine    `json:"engine"`
		Testers  []log.Tester  `json:"testers"`
		Builds   []log.Build   `json:"builds"`
		Events   []log.Event   `json:"events"`
		Notes    []log.Note    `json:"notes"`
		PutOff   []log.PutOff  `json:"put_off"`
		Sessions []log.Session `json:"sessions"`
	}
	sameRules(t, "", reflect.TypeFor[bare](), schema, schema["$defs"].(map[string]any))
}

func TestEveryFaultIsNamedByItsPointer(t *testing.T) {
	broken := strings.NewReplacer(`"kind": "four-stroke"`, `"kind": "steam"`, `"meter": 0`, `"meter": -1`, `"held": 97`, `"held": "much"`).Replace(string(example(t)))
	_, _, err := logfile.Read([]byte(broken))
	var faults log.Faults
	require.ErrorAs(t, err, &faults)
	at := []string{}
	for _, f := range faults {
		at = append(at, f.At)
	}
	assert.ElementsMatch(t, []string{"/engine/kind", "/sessions/0/meter", "/sessions/0/leakdown/0/held"}, at)
}

func TestWhatTheSchemaCannotSeeIsRefusedToo(t *testing.T) {
	for name, c := range map[string]struct{ old, new, at string }{
		"cylinder twice":       {`[[1, 2, 3, 4]]`, `[[1, 2, 3, 3]]`, "/engine/layout/banks/0/3"},
		"no permutation":       {`"firing_order": [1, 3, 4, 2]`, `"firing_order": [1, 3, 4, 4]`, "/engine/firing_order"},
		"unknown cylinder":     {`{"cylinder": 1, "mode": "dry"`, `{"cylinder": 9, "mode": "dry"`, "/sessions/0/compression/0/cylinder"},
		"beyond any gauge":     {`"value": 190`, `"value": 1900`, "/sessions/0/compression/3/pulls/0/value"},
		"held above supply":    {`"supply": 96, "held": 92`, `"supply": 90, "held": 92`, "/sessions/0/leakdown/1/held"},
		"rod within the crank": {`"rod_mm": 149.0`, `"rod_mm": 40`, "/engine/rod_mm"},
	} {
		_, _, err := logfile.Read([]byte(strings.Replace(string(example(t)), c.old, c.new, 1)))
		assert.ErrorContains(t, err, c.at, name)
	}
}

func TestFaultsOfBothKindsAreListedTogether(t *testing.T) {
	broken := strings.NewReplacer(`"kind": "four-stroke"`, `"kind": "steam"`, `"firing_order": [1, 3, 4, 2]`, `"firing_order": [1, 3, 4, 4]`).Replace(string(example(t)))
	_, _, err := logfile.Read([]byte(broken))
	assert.ErrorContains(t, err, "/engine/kind")
	assert.ErrorContains(t, err, "/engine/firing_order")
}

func TestCSVHasOneRowAReading(t *testing.T) {
	l, _, err := logfile.Read(example(t))
	require.NoError(t, err)
	var out bytes.Buffer
	sheet, err := logfile.NewCSV(&out)
	require.NoError(t, err)
	require.NoError(t, sheet.Add(l))
	rows, err := csv.NewReader(&out).ReadAll()
	require.NoError(t, err)
	assert.Len(t, rows, 1+9+2+1)
	assert.Equal(t, []string{"Heron", "s1", "2031-02-14", "0", "pre-install", "cold", "3", "dry", "1", "176", "psi", "", "", "", "", "struck: throttle not held open"}, rows[5])
	assert.Equal(t, "crankcase;exhaust", rows[11][13])
}

// told takes a log into an empty book, through admission, and writes what the book tells.
func told(t *testing.T, l log.Log) []byte {
	t.Helper()
	entries, _ := book.FromLog(l, book.Of(book.EngineID(l)), book.Of(""))
	own, shop := book.Of(book.EngineID(l)), book.Of("")
	for _, e := range entries {
		to := own
		if e.Engine == "" {
			to = shop
		}
		require.Empty(t, book.CheckEnvelope(e))
		answer := book.Admit(to, shop, e)
		require.Equal(t, book.IsKept, answer.Result, "%s: %s", answer.Field, answer.Why)
		to.Add(e)
	}
	again, err := logfile.Line(own.Log(shop))
	require.NoError(t, err)
	return again
}

// within reports where something of a document is not in another: keys and rows may have been added, nothing changed or moved.
func within(t *testing.T, at string, was, now any) {
	t.Helper()
	switch w := was.(type) {
	case map[string]any:
		n, _ := now.(map[string]any)
		for key, value := range w {
			if empty := value == nil || value == "" || value == false || value == 0.0; empty && n[key] == nil {
				continue
			}
			if list, ok := value.([]any); ok && len(list) == 0 && key != "paths" {
				continue
			}
			within(t, at+"/"+key, value, n[key])
		}
	case []any:
		n, _ := now.([]any)
		require.Len(t, n, len(w), at)
		for i := range w {
			within(t, fmt.Sprint(at, "/", i), w[i], n[i])
		}
	default:
		require.Equal(t, was, now, at)
	}
}

// odd is a log with keys that Braxel does not know, at every depth, and names and readings as few would write them.
const odd = `{"format":"braxel-log","version":1,"x":{"deep":[1,{"y":12345678901234567890}]},"engine":{"name":"Ünïque/~","kind":"four-stroke","paint":"red","layout":{"banks":[[1,2]],"vee":false},"limits":{"page":3,"compression_nominal":{"value":170,"unit":"psi","at":"sea"}}},
"testers":[{"id":"g 1","kind":"compression","serial":"0007"},{"id":"spare","name":"Spare","kind":"leakdown"}],"builds":[{"id":"b2","by":"hand"}],"events":[{"what":"ran","laps":9},{"what":"ran","laps":9}],
"sessions":[{"id":"a test","date":"2031-02-14","sky":"grey","conditions":{"wind":3,"cranking":{"rule":"count","count":6,"key":"left"}},
"compression":[{"cylinder":1,"mode":"dry","tester":"nobody's","row":1,"pulls":[{"value":150,"unit":"psi","key":"0.1","n":1},{"value":151,"unit":"psi","n":2}]},{"cylinder":1,"mode":"dry","tester":"nobody's","pulls":[]},{"cylinder":1,"mode":"dry","pulls":[{"value":152.5,"unit":"psi","n":3}]}],
"leakdown":[{"cylinder":2,"supply":100,"held":1e-30,"unit":"psi","paths":[],"ear":"left"},{"cylinder":2,"supply":100,"held":97,"unit":"psi","paths":[{"where":"neighbour","cylinder":1,"hiss":true}]}],
"observations":[{"what":"plug","cylinder":2,"gap":0.7},{"what":"other","note":""}]},{"id":"s2","date":"2031-02-14"}]}`

func TestALogComesInAndGoesOutTheSameForEver(t *testing.T) {
	lives, err := os.ReadFile("../core/judge/testdata/lives.jsonl")
	require.NoError(t, err)
	var texts []jsontext.Value
	require.NoError(t, logfile.Logs(bytes.NewReader(lives), func(_ int, one jsontext.Value) error {
		texts = append(texts, one.Clone())
		return nil
	}))
	for _, l := range demo.Logs() {
		line, err := logfile.Line(l)
		require.NoError(t, err)
		texts = append(texts, line)
	}
	for i, text := range append(texts, []byte(odd), example(t)) {
		l, _, err := logfile.Read(text)
		require.NoError(t, err, i)
		first := told(t, l)
		var was, now any
		require.NoError(t, json.Unmarshal(text, &was))
		require.NoError(t, json.Unmarshal(first, &now))
		within(t, "", was, now)
		back, _, err := logfile.Read(first)
		require.NoError(t, err, i)
		require.Equal(t, string(first), string(told(t, back)), i)
		entries, _ := book.FromLog(l, book.Of(book.EngineID(l)), book.Of(""))
		twice, _ := book.FromLog(l, book.Of(book.EngineID(l)), book.Of(""))
		require.Equal(t, entries, twice, "the same log, the same entries")
	}
}

func FuzzRead(f *testing.F) {
	f.Add(example(f))
	f.Add([]byte(odd))
	f.Add([]byte(`{"format":"braxel-log","version":1,"engine":{"name":"x","kind":"rotary","layout":{"rotors":2}},"sessions":[]}`))
	f.Add([]byte(`{"sessions":[{}]}`))
	f.Fuzz(func(t *testing.T, text []byte) {
		l, _, err := logfile.Read(text)
		if err != nil {
			return
		}
		written, err := logfile.Line(l)
		require.NoError(t, err)
		first := told(t, l)
		back, _, err := logfile.Read(first)
		require.NoError(t, err, "what was written by Braxel passes its own check: %s", written)
		require.Equal(t, string(first), string(told(t, back)))
	})
}

func TestNoCellOfACSVIsAFormula(t *testing.T) {
	l, _, err := logfile.Read(example(t))
	require.NoError(t, err)
	l.Engine.Name = `=HYPERLINK("http://evil","x")`
	for i, note := range []string{"+1+1", "-2+3", "@SUM(A1)", "\t=1", "plain", "-5"} {
		l.Sessions[0].Compression[i%len(l.Sessions[0].Compression)].Pulls[0].Note = note
		var out bytes.Buffer
		sheet, err := logfile.NewCSV(&out)
		require.NoError(t, err)
		require.NoError(t, sheet.Add(l))
		require.NoError(t, sheet.Add(l))
		rows, err := csv.NewReader(&out).ReadAll()
		require.NoError(t, err)
		assert.Equal(t, "engine", rows[0][0])
		for _, row := range rows[1:] {
			assert.NotEqual(t, "engine", row[0], "one header")
			for _, cell := range row {
				if _, err := strconv.ParseFloat(cell, 64); err == nil || cell == "" {
					continue
				}
				assert.NotContains(t, "=+-@\t\r", cell[:1], cell)
			}
		}
	}
}

// No cell of what goes out is worked out by a spreadsheet, however its formula is dressed.
func TestNoCellIsAFormula(t *testing.T) {
	for _, cell := range []string{"=1+1", "+1+1", "-cmd", "@x", "\t=1", "\r=1", "\r\n=1+1", "\n=1", "  =1", "＝1+1", "＋1", "－1", "＠x", "\ufeff=1", "\u00a0=1", "−x"} {
		assert.Equal(t, "'"+cell, logfile.Inert(cell), "%q", cell)
	}
	for _, cell := range []string{"", "172", "-12.5", "+3", "1-3-4-2", "exhaust valve", "a=b", "Zylinder 1"} {
		assert.Equal(t, cell, logfile.Inert(cell), "%q", cell)
	}
}
