// Package logfile reads and writes the open formats: the JSON log and tidy CSV.
package logfile

import (
	"bytes"
	_ "embed"
	"errors"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"sync"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/santhosh-tekuri/jsonschema/v6"
	"golang.org/x/text/language"
	"golang.org/x/text/message"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
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

// Read reads one log. A log that breaks the schema, or that no engine could have, is refused whole with its faults as
// log.Faults, the first hundred. strangers are the pointers of the keys that Braxel does not know; they are kept as they are.
func Read(text []byte) (l log.Log, strangers []string, err error) {
	if err := measure(text); err != nil {
		return log.Log{}, nil, err
	}
	var found log.Faults
	if err := json.Unmarshal(text, &l); err != nil {
		// The first fault stops the reader; the schema may know of more, where it can be asked.
		if !errors.As(unreadable(err), &found) || beyond.Match(text) {
			return log.Log{}, nil, unreadable(err)
		}
	}
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	if err != nil {
		return log.Log{}, nil, unreadable(err)
	}
	sch, err := schema()
	if err != nil {
		return log.Log{}, nil, err
	}
	first := len(found) > 0
	if err := sch.Validate(doc); err != nil {
		var more log.Faults
		if !errors.As(faults(err), &more) {
			return log.Log{}, nil, err
		}
		found.Also(more...)
	}
	if !first {
		found.Also(l.Check()...)
	}
	if len(found) > 0 {
		return log.Log{}, nil, found[:min(len(found), most)]
	}
	return l, log.Strangers(l), nil
}

// beyond finds numbers too large to be worked with exactly, as the schema does.
var beyond = regexp.MustCompile(`[0-9][eE][+-]?[0-9]{4,}`)

// most is how many faults of a log are named.
const most = 100

// unreadable names where a text is no JSON, or holds what a field cannot.
func unreadable(err error) error {
	var semantic *json.SemanticError
	if errors.As(err, &semantic) && semantic.Err == nil {
		what := say.Text("logfile.cant-read-here")
		if semantic.GoType != nil && semantic.GoType.Kind() == reflect.Struct {
			what = say.Text("logfile.must-object")
		} else if semantic.GoType != nil {
			what = say.Text("logfile.must", "kind", semantic.GoType.Kind())
		}
		return log.Faults{{At: shortened(semantic.JSONPointer), What: what}}
	}
	var syntactic *jsontext.SyntacticError
	if !errors.As(err, &syntactic) {
		if read := errors.Unwrap(err); read != nil { // the file could not be read
			return read
		}
		return err
	}
	if syntactic.JSONPointer != "" {
		return log.Faults{log.At(shortened(syntactic.JSONPointer), "logfile.not-json-here")}
	}
	return say.Error("logfile.not-valid-json", "err", err)
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
		if len(all) >= most {
			return
		}
		if len(e.Causes) == 0 {
			all = append(all, log.Fault{At: pointer(e.InstanceLocation), What: e.ErrorKind.LocalizedString(english)})
		}
		for _, c := range e.Causes {
			walk(c)
		}
	}
	walk(broken)
	slices.SortStableFunc(all, func(a, b log.Fault) int { return strings.Compare(a.At, b.At) })
	return all
}

func pointer(path []string) string {
	var b strings.Builder
	for _, step := range path {
		b.WriteString("/" + strings.NewReplacer("~", "~0", "/", "~1").Replace(step))
	}
	return b.String()
}

// Write returns the log as indented JSON, unknown keys and all: one log, one text.
func Write(l log.Log) ([]byte, error) {
	text, err := json.Marshal(l, json.Deterministic(true), jsontext.WithIndent(" "))
	return append(text, '\n'), err
}

// Line returns the log as one line of JSON.
func Line(l log.Log) ([]byte, error) {
	text, err := json.Marshal(l, json.Deterministic(true))
	return append(text, '\n'), err
}
