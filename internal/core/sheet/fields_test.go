package sheet_test

import (
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/diary"
	"braxel/internal/core/inspect"
	"braxel/internal/core/judge"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/season"
	"braxel/internal/core/sheet"
	"braxel/internal/core/strips"
	"braxel/internal/core/units"
	"braxel/internal/core/wheel"
)

// shownAsItIs are fields that are shown as somebody wrote them, or that say where a thing belongs: there is nothing to work out from them.
var shownAsItIs = []string{
	"id", "name", "owner", "note", "rest", "range", "induction", "place", "archived", "source", "format",
	"struck", "operator", "ambient_c", "oil_temp_c", "reopened", "agreed", "hours_spent", "typed",
}

// Every field that can be filled in does something: another value changes what Braxel makes of the engine somewhere, beside the field itself.
func TestEveryFieldChangesWhatIsMadeOfIt(t *testing.T) {
	for name, of := range map[string]func(*log.Log, *rules.Shop) any{
		"engine":     func(l *log.Log, _ *rules.Shop) any { return &l.Engine },
		"limits":     func(l *log.Log, _ *rules.Shop) any { return l.Engine.Limits },
		"gauge":      func(l *log.Log, _ *rules.Shop) any { return &l.Testers[0] },
		"kit":        func(l *log.Log, _ *rules.Shop) any { return &l.Testers[1] },
		"protocol":   func(_ *log.Log, s *rules.Shop) any { return &s.Protocols[0] },
		"conditions": func(l *log.Log, _ *rules.Shop) any { return &l.Sessions[1].Conditions },
		"test":       func(l *log.Log, _ *rules.Shop) any { return &l.Sessions[1] },
	} {
		example := reflect.TypeOf(of(ptr(several()[0].log), ptr(several()[0].shop))).Elem()
		for i := range example.NumField() {
			field := example.Field(i)
			key, _, _ := strings.Cut(field.Tag.Get("json"), ",")
			if key == "" || slices.Contains(shownAsItIs, key) || (name == "kit" && kitHasNo[key]) || (name == "gauge" && gaugeHasNo[key]) {
				continue
			}
			changes, tried := false, false
			for _, base := range several() {
				before := made(t, base.log, base.shop)
				for _, value := range values(field) {
					l, shop := base.clone(t)
					at := reflect.ValueOf(of(&l, &shop)).Elem().Field(i)
					if !put(at, value) {
						continue
					}
					tried = true
					changes = changes || made(t, l, shop) != before
				}
			}
			assert.True(t, changes || !tried, "%s: %s changes nothing that anybody sees", name, key)
		}
	}
}

var (
	kitHasNo   = map[string]bool{"dead_volume_cc": true, "offset_kpa": true, "repeat_kpa": true, "kind": true}
	gaugeHasNo = map[string]bool{"orifice_mm": true, "kind": true}
)

func ptr[T any](v T) *T { return &v }

// values are what a field is set to, by its tags: each word of an enum, the ends and two figures between them.
func values(f reflect.StructField) []string {
	if words := f.Tag.Get("enum"); words != "" {
		return strings.Split(words, ",")
	}
	switch f.Type.Kind() {
	case reflect.Bool:
		return []string{"true", "false"}
	case reflect.String:
		return []string{"g2", "ours", "race", "50psi", "2031-12-24"}
	}
	return []string{"0", "1", "3", "7", "12", "40", "85", "250", "2000", "80 psi", "150 psi"}
}

// put sets a field, false where the value is none of its kind.
func put(at reflect.Value, value string) bool {
	for at.Kind() == reflect.Pointer && at.Type().Elem() != reflect.TypeFor[units.Reading]() {
		at.Set(reflect.New(at.Type().Elem()))
		at = at.Elem()
	}
	figure, unit, _ := strings.Cut(value, " ")
	n, err := strconv.ParseFloat(figure, 64)
	switch at.Kind() {
	case reflect.String:
		at.SetString(value)
	case reflect.Bool:
		at.SetBool(value == "true")
	case reflect.Float64, reflect.Int:
		if err != nil || unit != "" {
			return false
		}
		at.Set(reflect.ValueOf(n).Convert(at.Type()))
	case reflect.Pointer:
		if unit == "" {
			return false
		}
		at.Set(reflect.ValueOf(&units.Reading{Value: n, Unit: units.PSI}))
	case reflect.Struct, reflect.Slice:
		if at.IsZero() {
			return false
		}
		at.SetZero() // a list or a part of its own: taken away
	default:
		return false
	}
	return true
}

type based struct {
	log  log.Log
	shop rules.Shop
}

func (b based) clone(t *testing.T) (log.Log, rules.Shop) {
	t.Helper()
	var out based
	text, err := json.Marshal(struct {
		Log  log.Log
		Shop rules.Shop
	}{b.log, b.shop})
	require.NoError(t, err)
	var both struct {
		Log  log.Log
		Shop rules.Shop
	}
	require.NoError(t, json.Unmarshal(text, &both))
	out.log, out.shop = both.Log, both.Shop
	return out.log, out.shop
}

// several are engines on which something should show: a sound four, one with a low cylinder, a race engine that nobody knows yet.
func several() []based {
	closes, height, meter, later := 60.0, 400.0, 100.0, 180.0
	var all []based
	for _, bad := range []float64{0, 12, 25} {
		for _, first := range []bool{false, true} {
			l := log.Log{
				Engine: log.Engine{
					ID: "siskin", Name: "Siskin", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}}, FiringOrder: []int{1, 3, 4, 2},
					BoreMM: 87, StrokeMM: 91, RodMM: 149, Ratio: 10, IntakeCloses: &closes, Fuel: "petrol", Duty: "street", MeterUnit: "h", AltitudeM: &height,
					Fuelling: "injection", Protocol: "ours", Limits: &log.Limits{Minimum: &units.Reading{Value: 136, Unit: units.PSI}},
				},
				Testers: []log.Tester{
					{ID: "g", Name: "gauge", Kind: log.CompressionTester, Resolution: &units.Reading{Value: 2, Unit: units.PSI}},
					{ID: "k", Name: "kit", Kind: log.LeakdownTester, OrificeMM: 1.2},
					{ID: "g2", Name: "second", Kind: log.CompressionTester},
				},
			}
			for i, lost := range []float64{0, bad} {
				s := log.Session{
					ID: fmt.Sprint("s", i+1), Date: fmt.Sprintf("2031-%02d-01", i+1), Meter: []*float64{&meter, &later}[i], Baseline: i == 0,
					Stage: "service", Place: "car", Protocol: "ours", Gauge: "g", Kit: "k",
					Conditions: log.Conditions{EngineTemp: "hot", Throttle: "open", PlugsOut: "all", BatteryV: 12.6, Cranking: log.Cranking{Rule: "plateau"}},
				}
				for c, v := range []float64{170, 172, 171 * (1 - lost/100), 169} {
					p := log.Pull{Reading: units.Reading{Value: v, Unit: units.PSI}, RPM: 180}
					s.Compression = append(s.Compression, log.Compression{Place: log.Place{Cylinder: c + 1}, Mode: log.Dry, Tester: "g", Pulls: []log.Pull{p, p}})
					leak := map[bool]float64{true: lost, false: 0}[c == 2]
					s.Leakdown = append(s.Leakdown, log.Leakdown{
						Place: log.Place{Cylinder: c + 1}, Tester: "k", Supply: 100, Held: 96 - leak, Unit: units.PSI, Position: "tdc", Paths: []log.Path{},
					})
				}
				s.Compression = append(s.Compression, log.Compression{
					Place: log.Place{Cylinder: 3}, Mode: log.Wet, Tester: "g", OilCC: 5,
					Pulls: []log.Pull{{Reading: units.Reading{Value: 180, Unit: units.PSI}}, {Reading: units.Reading{Value: 180, Unit: units.PSI}}},
				})
				l.Sessions = append(l.Sessions, s)
			}
			if first {
				l.Sessions = append([]log.Session{{ID: "s0", Date: "2030-01-01"}}, l.Sessions[1])
			}
			if first && bad > 0 { // of some engines nobody knows bore and stroke
				l.Engine.BoreMM, l.Engine.StrokeMM = 0, 0
			}
			ours := rules.Protocols[0]
			ours.ID = "ours"
			all = append(all, based{l, rules.Shop{Protocols: []rules.Protocol{ours}}})
		}
	}
	return all
}

// made is what Braxel makes of an engine, without what it only repeats.
func made(t *testing.T, l log.Log, shop rules.Shop) string {
	t.Helper()
	v := judge.Log(l, shop)
	begin := sheet.Begin(l, "2031-03-01", shop)
	untested := l
	untested.Sessions = nil
	out := []any{v, diary.Of(l, v), sheet.Begin(untested, "2031-03-01", shop).Conditions, begin.Protocol, begin.Conditions, begin.Stage, begin.Gauge, begin.Kit, begin.Place, layout.Describe(l.Engine, units.Choice{})}
	for _, s := range l.Sessions {
		one, err := sheet.OfBy(l, s.ID, shop, judge.Log)
		require.NoError(t, err)
		one.Engine, one.Session, one.Protocol, one.Builds, one.About = log.Engine{}, log.Session{}, rules.Protocol{}, nil, ""
		out = append(out, one, inspect.Of(l, s, v.Sessions[l.At(s.ID)], false, units.Choice{}).Window)
	}
	freshen, _ := season.FreshenedAfter(l.Engine) // what a season makes of it is in its own tests: that takes long
	out = append(out, freshen, strips.Of(l, v, units.PSI, shop).Strips)
	if w, err := wheel.Of(l.Engine, units.Choice{}); err == nil {
		out = append(out, w, wheel.Push(l.Engine, units.Reading{Value: 100, Unit: units.PSI}.Pressure(), units.PSI, units.Choice{}))
	}
	text, err := json.Marshal(out)
	require.NoError(t, err)
	return string(text)
}
