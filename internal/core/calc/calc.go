// Package calc names the core's sums, each from one object of figures to another, for the command line and the API.
package calc

import (
	"bytes"
	"encoding/json"
	"errors"
	"reflect"
	"strings"

	"braxel/internal/core/say"
)

// Sum is one of the named sums.
type Sum struct {
	Name   string   `json:"name"`
	Words  string   `json:"words"`
	Fields []string `json:"fields" doc:"Its inputs; those in brackets are optional"`
	run    func(text []byte) (any, error)
}

// sum makes a Sum of a function on structs. A field without omitempty must be given.
func sum[In, Out any](name, words string, do func(In) (Out, error)) Sum {
	s := Sum{Name: name, Words: words}
	var required []string
	for _, field := range reflect.VisibleFields(reflect.TypeFor[In]()) {
		if field.Anonymous {
			continue
		}
		key, options, _ := strings.Cut(field.Tag.Get("json"), ",")
		if options == "" {
			required = append(required, key)
			s.Fields = append(s.Fields, key)
		} else {
			s.Fields = append(s.Fields, "["+key+"]")
		}
	}
	s.run = func(text []byte) (any, error) {
		var given map[string]json.RawMessage
		if err := json.Unmarshal(text, &given); err != nil {
			return nil, say.Error("calc.input-must-one-json-object", "err", err)
		}
		for _, key := range required {
			if value, ok := given[key]; !ok || string(value) == "null" {
				return nil, say.Error("calc.missing", "key", key)
			}
		}
		var in In
		d := json.NewDecoder(bytes.NewReader(text))
		d.DisallowUnknownFields()
		if err := d.Decode(&in); err != nil {
			return nil, typed(err)
		}
		return do(in)
	}
	return s
}

// typed makes a decoding error name the field.
func typed(err error) error {
	var wrong *json.UnmarshalTypeError
	if errors.As(err, &wrong) {
		return say.Error("calc.must-different-kind-value-not", "field", wrong.Field, "value", wrong.Value)
	}
	if key, ok := strings.CutPrefix(err.Error(), "json: unknown field "); ok {
		return say.Error("calc.sum-has-no-such-input", "key", strings.Trim(key, `"`))
	}
	return err
}

// between returns an error that names the field where v is not within its bounds.
func between(field string, v, low, high float64) error {
	if !(v >= low && v <= high) {
		return &RangeError{field, v, low, high}
	}
	return nil
}

// RangeError is what a sum answers for a figure beyond its bounds, all in the sum's own unit.
type RangeError struct {
	Field     string
	Value     float64
	Low, High float64
}

func (e *RangeError) Error() string {
	const nothing = 1e-3 // a least figure so small stands for "more than nothing"
	if e.Low > 0 && e.Low <= nothing {
		return say.Text("calc.must-above-0-at-most", "field", e.Field, "value", e.Value, "high", e.High)
	}
	return say.Text("calc.must-between",
		"field", e.Field,
		"value", e.Value,
		"low", e.Low,
		"high", e.High,
	)
}
