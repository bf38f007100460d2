// Package logfile reads and writes the open formats: the JSON log and tidy CSV.
package logfile

import (
	"bytes"
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"sync"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"golang.org/x/text/language"
	"golang.org/x/text/message"

	"braxel/internal/core/log"
)

//go:embed braxel-log.schema.json
var schemaText []byte

var schema = sync.OnceValues(func() (*jsonschema.Schema, error) {
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(schemaText))
	if err != nil {
		return nil, err
	}
	c := jsonschema.NewCompiler()
	c.AssertFormat()
	if err := c.AddResource("braxel-log.schema.json", doc); err != nil {
		return nil, err
	}
	return c.Compile("braxel-log.schema.json")
})

// Read reads one log. A log that breaks the schema, or that no engine could have, is refused whole with every fault as
// log.Faults. unknown holds the keys that Braxel does not know, by JSON Pointer; they are to be kept and reported.
func Read(text []byte) (l log.Log, unknown map[string]any, err error) {
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	if err != nil {
		return l, nil, fmt.Errorf("this is not JSON: %w", err)
	}
	sch, err := schema()
	if err != nil {
		return l, nil, err
	}
	if err := sch.Validate(doc); err != nil {
		return log.Log{}, nil, also(faults(err), text)
	}
	if err := json.Unmarshal(text, &l); err != nil {
		return l, nil, fmt.Errorf("reading the log: %w", err)
	}
	if f := l.Check(); len(f) > 0 {
		return l, nil, f
	}
	return l, strangers(doc, l), nil
}

// also adds to the schema's findings what no engine could have, as far as the text can be read as a log at all.
func also(broken error, text []byte) error {
	var all log.Faults
	var l log.Log
	if !errors.As(broken, &all) || json.Unmarshal(text, &l) != nil {
		return broken
	}
	for _, f := range l.Check() {
		if !slices.ContainsFunc(all, func(have log.Fault) bool { return have.At == f.At }) {
			all = append(all, f)
		}
	}
	return all
}

// faults turns the schema's findings into pointers and sentences, innermost causes only.
func faults(err error) error {
	var broken *jsonschema.ValidationError
	if !errors.As(err, &broken) {
		return err
	}
	english := message.NewPrinter(language.English)
	var all log.Faults
	var walk func(*jsonschema.ValidationError)
	walk = func(e *jsonschema.ValidationError) {
		if len(e.Causes) == 0 {
			all = append(all, log.Fault{At: pointer(e.InstanceLocation), What: e.ErrorKind.LocalizedString(english)})
		}
		for _, c := range e.Causes {
			walk(c)
		}
	}
	walk(broken)
	return all
}

func pointer(path []string) string {
	var b strings.Builder
	for _, step := range path {
		b.WriteString("/" + strings.NewReplacer("~", "~0", "/", "~1").Replace(step))
	}
	return b.String()
}

// strangers returns what stands in the document and not in the log read from it.
func strangers(doc any, l log.Log) map[string]any {
	text, err := json.Marshal(l)
	if err != nil {
		return nil
	}
	known, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	if err != nil {
		return nil
	}
	found := map[string]any{}
	compare(doc, known, nil, found)
	return found
}

// compare collects the keys of doc that known has not. A key that holds nothing (0, "", false, empty) is written back by
// leaving it out, and is no stranger where its name is one of the format's.
func compare(doc, known any, path []string, found map[string]any) {
	switch d := doc.(type) {
	case map[string]any:
		k, _ := known.(map[string]any)
		for key, value := range d {
			here := append(slices.Clone(path), key)
			if inner, ok := k[key]; ok {
				compare(value, inner, here, found)
			} else if !empty(value) || !inFormat(key) {
				found[pointer(here)] = value
			}
		}
	case []any:
		k, _ := known.([]any)
		for i, value := range d {
			if i < len(k) {
				compare(value, k[i], append(slices.Clone(path), strconv.Itoa(i)), found)
			}
		}
	}
}

func inFormat(key string) bool { return bytes.Contains(schemaText, []byte(`"`+key+`":`)) }

func empty(v any) bool {
	switch x := v.(type) {
	case nil:
		return true
	case bool:
		return !x
	case string:
		return x == ""
	case json.Number:
		f, err := x.Float64()
		return err == nil && f == 0
	case []any:
		return len(x) == 0
	case map[string]any:
		return !slices.ContainsFunc(slices.Collect(maps.Values(x)), func(inner any) bool { return !empty(inner) })
	}
	return false
}

// Write returns the log as indented JSON, with the unknown keys that its import kept put back.
func Write(l log.Log, unknown map[string]any) ([]byte, error) {
	text, err := json.Marshal(l)
	if err != nil || len(unknown) == 0 {
		return indent(text), err
	}
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	if err != nil {
		return nil, err
	}
	for _, at := range slices.Sorted(maps.Keys(unknown)) {
		put(doc, strings.Split(at, "/")[1:], unknown[at])
	}
	text, err = json.Marshal(doc)
	return indent(text), err
}

func put(doc any, path []string, value any) {
	step := strings.NewReplacer("~1", "/", "~0", "~").Replace(path[0])
	switch d := doc.(type) {
	case map[string]any:
		if len(path) == 1 {
			d[step] = value
			return
		}
		if d[step] == nil {
			d[step] = map[string]any{}
		}
		put(d[step], path[1:], value)
	case []any:
		if i, err := strconv.Atoi(step); err == nil && i >= 0 && i < len(d) && len(path) > 1 {
			put(d[i], path[1:], value)
		}
	}
}

func indent(text []byte) []byte {
	var b bytes.Buffer
	if json.Indent(&b, text, "", " ") != nil {
		return text
	}
	b.WriteByte('\n')
	return b.Bytes()
}

// Logs splits the text of a .json or .jsonl file into its logs.
func Logs(text []byte) ([]json.RawMessage, error) {
	var all []json.RawMessage
	d := json.NewDecoder(bytes.NewReader(text))
	for d.More() {
		var one json.RawMessage
		if err := d.Decode(&one); err != nil {
			return nil, fmt.Errorf("log %d: %w", len(all)+1, err)
		}
		all = append(all, one)
	}
	if len(all) == 0 {
		return nil, errors.New("there is no log in it")
	}
	return all, nil
}
