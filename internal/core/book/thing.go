package book

import (
	"bytes"
	"cmp"
	"errors"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// DecodeFault says in words, and where, why JSON could not be read into what it should be.
func DecodeFault(err error) log.Fault {
	var semantic *json.SemanticError
	var syntactic *jsontext.SyntacticError
	switch {
	case errors.Is(err, json.ErrUnknownName) && errors.As(err, &semantic):
		return log.At(legible(semantic.JSONPointer), "book.there-no-such-field")
	case errors.As(err, &semantic):
		want := say.Text("book.something-else")
		if semantic.GoType != nil {
			want = cmp.Or(inWords[semantic.GoType.Kind()], want)
		}
		return log.At(legible(semantic.JSONPointer), "book.must-not-something-else", "want", want)
	case errors.As(err, &syntactic):
		return log.At(legible(syntactic.JSONPointer), "book.not-valid-json")
	}
	return log.Of("", err)
}

var inWords = map[reflect.Kind]string{
	reflect.Float64: say.Text("book.number"),
	reflect.Int:     say.Text("book.whole-number"),
	reflect.Bool:    say.Text("book.yes-or-no"),
	reflect.String:  say.Text("book.words"),
	reflect.Slice:   say.Text("book.list"), reflect.Struct: say.Text("book.object"),
}

// legible returns where a fault is so that it can be shown, whatever was sent.
func legible(at jsontext.Pointer) string {
	return strings.ToValidUTF8(fmt.Sprintf("%.120s", string(at)), "?")
}

// Clash is a field that two changed without sight of each other: both changes are kept, the later stands.
type Clash struct {
	Field   string `json:"field"`
	Earlier string `json:"earlier" doc:"The entry that was overwritten without being seen"`
	Later   string `json:"later" doc:"The entry that counts"`
	Words   string `json:"words"`
}

// changes are the entries that begin a thing and change its fields, in order.
type changes []*Entry

func (c *changes) add(e *Entry) {
	at, _ := slices.BinarySearchFunc(*c, e, before)
	*c = slices.Insert(*c, at, e)
}

// fold returns what the changes come to: each is laid over those before it (RFC 7396), those that struck names are passed
// over, and those after which check would find a fault are set apart. The first is never passed over: a thing whose
// beginning is struck is struck as a whole, and can still be shown.
func fold[T any](all changes, struck func(string) string, check func(T) log.Faults) (value T, clashes []Clash, apart []Unplaced) {
	last := map[string]leaf{}
	// What an entry that is set apart has spoiled is made anew from the last sound text and the good ones since, so that each of
	// those is laid over twice at most, however many are set apart.
	sound := jsontext.Value("{}")
	var since changes
	for i, e := range all {
		if i > 0 && struck(e.ID) != "" {
			continue
		}
		var faults log.Faults
		if err := json.Unmarshal(e.Body, &value); err != nil {
			faults = log.Faults{DecodeFault(err)}
		} else {
			faults = check(value)
		}
		if len(faults) > 0 {
			apart = append(apart, unplaced(*e, faults[0]))
			sound, value = over[T](sound, since)
			since = nil
			continue
		}
		since = append(since, e)
		clashes = clash(clashes, last, e)
	}
	return value, clashes, apart
}

// over lays changes over a value as JSON, and returns what it comes to, as JSON too.
func over[T any](sound jsontext.Value, all changes) (jsontext.Value, T) {
	var value T
	_ = json.Unmarshal(sound, &value)
	for _, e := range all {
		_ = json.Unmarshal(e.Body, &value)
	}
	if len(all) > 0 {
		if text, err := json.Marshal(value); err == nil {
			sound = text
		}
	}
	return sound, value
}

// leaf is a field's value as an entry set it.
type leaf struct {
	value []byte
	entry *Entry
}

// clash takes in the fields that an entry sets, and returns the clashes as they now are.
func clash(clashes []Clash, last map[string]leaf, e *Entry) []Clash {
	was := map[string][]byte{}
	leaves("", e.Was, was)
	set := map[string][]byte{}
	leaves("", e.Body, set)
	for _, field := range slices.Sorted(keysOf(set)) {
		value := set[field]
		clashes = slices.DeleteFunc(clashes, func(c Clash) bool { return c.Field == field })
		before, there := last[field]
		seen, said := was[field]
		if there && said && !bytes.Equal(before.value, seen) && !bytes.Equal(before.value, value) {
			name := strings.ReplaceAll(strings.TrimPrefix(field, "/"), "/", " ")
			clashes = append(
				clashes,
				Clash{
					field,
					before.entry.ID,
					e.ID,
					say.Text("book.was-changed-two-people-who",
						"name", strings.ReplaceAll(name, "_", " "),
						"value", before.value,
						"entry", who(before.entry),
						"value2", value,
						"e", who(e),
					),
				},
			)
		}
		last[field] = leaf{value, e}
	}
	return clashes
}

func who(e *Entry) string {
	if e.By == "" {
		return say.Text("book.no-name")
	}
	return e.By
}

func keysOf(m map[string][]byte) func(func(string) bool) {
	return func(yield func(string) bool) {
		for k := range m {
			if !yield(k) {
				return
			}
		}
	}
}

// leaves collects the fields of an object by pointer; an array is one field, and so is what stands deeper than any field of ours.
func leaves(at string, v jsontext.Value, into map[string][]byte) { leavesAt(at, v, into, 0) }

func leavesAt(at string, v jsontext.Value, into map[string][]byte, deep int) {
	if len(v) == 0 {
		return
	}
	var object map[string]jsontext.Value
	if v.Kind() != '{' || deep > deepestBody || json.Unmarshal(v, &object) != nil {
		if at != "" {
			into[at] = compact(v)
		}
		return
	}
	for key, value := range object {
		leavesAt(at+"/"+key, value, into, deep+1)
	}
}
