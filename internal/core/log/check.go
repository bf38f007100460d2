package log

import (
	"cmp"
	"fmt"
	"math"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/say"
	"braxel/internal/core/units"
)

// What a field may hold stands in its tags, where the API's description and the log's schema read it too: enum, minimum,
// maximum, exclusiveMinimum, minLength, maxLength, maxItems, format. CheckFields holds values against them.

// fields are the rules of a struct, read from its tags once.
type fields []*field

type field struct {
	index     int
	name      string // as JSON writes it; "" for a struct whose fields stand among its owner's
	optional  bool
	enum      []string
	min, max  float64
	above     bool // min itself is not in
	minLength int
	maxLength int
	maxItems  int
	format    string
}

var known sync.Map // reflect.Type: fields

func fieldsOf(t reflect.Type) fields {
	if have, ok := known.Load(t); ok {
		return have.(fields)
	}
	var all fields
	for i := range t.NumField() {
		f := t.Field(i)
		name, options, _ := strings.Cut(f.Tag.Get("json"), ",")
		if name == "-" || !f.IsExported() || strings.Contains(options, "embed") {
			continue
		}
		one := &field{
			index:    i,
			name:     name,
			optional: strings.Contains(options, "omit"),
			min:      math.Inf(-1),
			max:      math.Inf(1),
			format:   f.Tag.Get("format"),
		}
		if f.Type == reflect.TypeFor[units.Unit]() {
			one.enum = units.Names()
		}
		if enum := f.Tag.Get("enum"); enum != "" {
			one.enum = strings.Split(enum, ",")
		}
		for tag, to := range map[string]*float64{"minimum": &one.min, "maximum": &one.max, "exclusiveMinimum": &one.min} {
			if v, err := strconv.ParseFloat(f.Tag.Get(tag), 64); err == nil {
				*to = v
			}
		}
		one.above = f.Tag.Get("exclusiveMinimum") != ""
		// A list and an object say in words of their own how much they may hold.
		most := cmp.Or(f.Tag.Get("maxItems"), f.Tag.Get("maxProperties"))
		one.maxItems, _ = strconv.Atoi(most)
		for tag, to := range map[string]*int{"minLength": &one.minLength, "maxLength": &one.maxLength} {
			*to, _ = strconv.Atoi(f.Tag.Get(tag))
		}
		all = append(all, one)
	}
	known.Store(t, all)
	return all
}

// mostPressure is the tag's limit on a pressure in any unit, for saying so in its own.
const mostPressure = 10000

// CheckFields returns what the tags of a struct's fields do not allow, with pointers below at.
func CheckFields(at string, v any) Faults {
	var f Faults
	checkStruct(at, reflect.ValueOf(v), &f)
	return f
}

func checkStruct(at string, v reflect.Value, f *Faults) {
	if r, ok := v.Interface().(units.Reading); ok && r.Unit.Valid() && !(r.Value >= 0 && r.Value <= mostPressure) {
		f.add(at+"/value", "log.must-between-0", "mostPressure", mostPressure, "unit", r.Unit, "r", r)
		return
	}
	for _, rule := range fieldsOf(v.Type()) {
		if len(*f) >= mostFaults {
			return
		}
		one := v.Field(rule.index)
		if rule.optional && one.IsZero() {
			continue
		}
		rule.check(at, rule.name, one, f)
	}
}

// check holds one value against the rule. Where it stands, at and name, is put together only for what needs it: most values
// are as they should be.
func (rule *field) check(at, name string, v reflect.Value, f *Faults) {
	switch v.Kind() {
	case reflect.String:
		rule.checkText(at, name, v.String(), f)
		return
	case reflect.Int:
		rule.checkFigure(at, name, float64(v.Int()), f)
		return
	case reflect.Float64:
		rule.checkFigure(at, name, v.Float(), f)
		return
	case reflect.Pointer:
		if !v.IsNil() {
			rule.check(at, name, v.Elem(), f)
		}
		return
	}
	if name != "" {
		at += "/" + name
	}
	switch v.Kind() {
	case reflect.Struct:
		checkStruct(at, v, f)
	case reflect.Slice:
		if rule.maxItems > 0 && v.Len() > rule.maxItems {
			f.add(at, "log.too-many-at-most-allowed", "len", v.Len(), "maxItems", rule.maxItems)
			return
		}
		each := *rule
		each.maxItems = 0
		for i := range v.Len() {
			if len(*f) >= mostFaults {
				return
			}
			each.check(at, strconv.Itoa(i), v.Index(i), f)
		}
	case reflect.Map:
		if rule.maxItems > 0 && v.Len() > rule.maxItems {
			f.add(at, "log.too-many-at-most-allowed", "len", v.Len(), "maxItems", rule.maxItems)
			return
		}
		for _, key := range v.MapKeys() {
			rule.check(at, key.String(), v.MapIndex(key), f)
		}
	}
}

func (rule *field) checkText(at, name, text string, f *Faults) {
	n := len(text)
	if n > rule.maxLength {
		n = utf8.RuneCountInString(text)
	}
	switch {
	case rule.enum != nil && !slices.Contains(rule.enum, text):
		f.add(at+"/"+name, "log.must-one", "short", short(text), "enum", strings.Join(rule.enum, ", "))
	case rule.maxLength > 0 && n > rule.maxLength:
		f.add(at+"/"+name, "log.too-long-letters-at-most", "n", n, "maxLength", rule.maxLength)
	case n < rule.minLength || (rule.minLength > 0 && strings.TrimSpace(text) == ""):
		f.add(at+"/"+name, "log.cant-left-empty")
	case rule.format == "date" && !isDate(text):
		f.add(at+"/"+name, "log.not-date-between-1900-2199", "short", short(text))
	case rule.format == "date-time" && !isTime(text):
		f.add(at+"/"+name, "log.not-date-time-such-as", "short", short(text))
	case rule.maxLength > 0 && strings.ContainsFunc(text, func(r rune) bool { return r < ' ' && r != '\n' && r != '\t' && r != '\r' }):
		f.add(at+"/"+name, "log.contains-character-cant-shown")
	}
}

func (rule *field) checkFigure(at, name string, v float64, f *Faults) {
	switch {
	case math.IsNaN(v) || math.IsInf(v, 0) || v > rule.max || v < rule.min && !math.IsInf(rule.max, 1) || rule.above && v == rule.min && !math.IsInf(rule.max, 1):
		f.add(at+"/"+name, "log.must-between", "min", rule.min, "max", rule.max, "unit", unitOf(name), "given", given(v))
	case v < rule.min || rule.above && v == rule.min:
		f.add(at+"/"+name, "log.must-at-least", "min", rule.min, "unit", unitOf(name), "given", given(v))
	}
}

// given says what was typed, where it is a number that somebody may have typed.
func given(v float64) string {
	const most = 1e7
	if math.IsNaN(v) || math.Abs(v) > most {
		return ""
	}
	return say.Text("log.not-this", "value", v)
}

// suffixes are the ends of names that say a unit. Longer ones stand first.
var suffixes = []struct{ ends, unit string }{
	{"_kpa", " kPa"}, {"_deg", "°"}, {"_pct", " %"}, {"_mm", " mm"}, {"_cc", " cm³"}, {"rpm", " rpm"}, {"_nm", " N·m"},
	{"_v", " V"}, {"_c", " °C"}, {"_m", " m"},
}

// CutUnit takes a figure's name and its unit apart: "bore" and " mm" of bore_mm. A name without one stays as it is.
func CutUnit(name string) (short, unit string) {
	for _, one := range suffixes {
		if cut, ok := strings.CutSuffix(name, one.ends); ok && strings.HasPrefix(one.ends, "_") {
			return cut, one.unit
		}
	}
	return name, ""
}

// unitOf returns the unit that a figure's name ends in, as it stands behind the figure: " mm" of bore_mm; "" where it has none.
func unitOf(name string) string {
	for _, one := range suffixes {
		if strings.HasSuffix(name, one.ends) {
			return one.unit
		}
	}
	return ""
}

func short(text string) string {
	const enough = 60
	if utf8.RuneCountInString(text) <= enough {
		return text
	}
	return string([]rune(text)[:enough]) + "…"
}

func isDate(text string) bool {
	t, err := time.Parse(time.DateOnly, text)
	return err == nil && t.Year() >= 1900 && t.Year() < 2200
}

func isTime(text string) bool {
	t, err := time.Parse(time.RFC3339Nano, text)
	return err == nil && t.Year() >= 1900 && t.Year() < 2200
}

// Strangers returns the pointers of the keys in v that Braxel does not know and keeps as they are.
func Strangers(v any) []string {
	var all []string
	strangers("", reflect.ValueOf(v), &all)
	return all
}

var restType = reflect.TypeFor[jsontext.Value]()

func strangers(at string, v reflect.Value, all *[]string) {
	switch v.Kind() {
	case reflect.Pointer:
		if !v.IsNil() {
			strangers(at, v.Elem(), all)
		}
	case reflect.Slice:
		for i := range v.Len() {
			strangers(at+"/"+strconv.Itoa(i), v.Index(i), all)
		}
	case reflect.Struct:
		t := v.Type()
		for i := range t.NumField() {
			name, _, _ := strings.Cut(t.Field(i).Tag.Get("json"), ",")
			switch {
			case t.Field(i).Type == restType && name == "":
				*all = append(*all, keys(at, v.Field(i).Bytes())...)
			case name == "":
				strangers(at, v.Field(i), all)
			default:
				strangers(at+"/"+name, v.Field(i), all)
			}
		}
	}
}

func keys(at string, rest []byte) []string {
	if len(rest) == 0 {
		return nil
	}
	var object map[string]jsontext.Value
	if json.Unmarshal(rest, &object) != nil {
		return []string{at}
	}
	var all []string
	for key := range object {
		all = append(all, fmt.Sprintf("%s/%s", at, strings.NewReplacer("~", "~0", "/", "~1").Replace(key)))
	}
	slices.Sort(all)
	return all
}
