package trace

import (
	"regexp"
	"strings"

	"braxel/internal/core/units"
)

// role is what a column holds.
type role int

const (
	unknown role = iota
	isTime
	isIndex
	isMark
	isBattery
	isPressure
	isCurrent
)

// headings are the words that head a column, in the languages that recorders come with. A word counts whole.
var headings = []struct {
	role  role
	words string
}{
	{isTime, "time t zeit tid temps tempo tiempo tijd elapsed seconds sekunden secondes sec timestamp clock aika czas stamp"},
	{isIndex, "n no nr index frame frames sample samples i row bild nummer count record #"},
	{isMark, "mark marker marke marks tdc trigger sync cyl ot pmh repère ref pickup"},
	{isBattery, "battery supply batterie batteri volts voltage u ubat vbat spannung"},
	{isPressure, "pressure press p druck tryk tryck trykk pression presión presion pressione druk plug hole gauge needle dial manometer cylinder kompression compression zylinderdruck paine ciśnienie chamber"},
	{isCurrent, "current i amps ampere amperes amp strom strøm ström courant corriente corrente stroom clamp starter anlasser"},
}

// perUnit is how many of the core's unit one of a unit is: s, kPa, A, V.
var perUnit = map[string]struct {
	role role
	size float64
}{
	"s": {isTime, 1}, "sec": {isTime, 1}, "secs": {isTime, 1}, "second": {isTime, 1}, "seconds": {isTime, 1}, "sek": {isTime, 1},
	"ms": {isTime, 1e-3}, "msec": {isTime, 1e-3}, "millisecond": {isTime, 1e-3}, "milliseconds": {isTime, 1e-3},
	"us": {isTime, 1e-6}, "µs": {isTime, 1e-6}, "μs": {isTime, 1e-6}, "min": {isTime, 60},
	"pa": {isPressure, 1e-3}, "hpa": {isPressure, 0.1}, "kpa": {isPressure, 1}, "mpa": {isPressure, 1000},
	"bar": {isPressure, 100}, "mbar": {isPressure, 0.1}, "psi": {isPressure, kPaIn(units.PSI)},
	"kgf/cm2": {isPressure, kPaIn(units.KgfCm2)}, "kg/cm2": {isPressure, kPaIn(units.KgfCm2)}, "kgf/cm²": {isPressure, kPaIn(units.KgfCm2)}, "kg/cm²": {isPressure, kPaIn(units.KgfCm2)},
	"at": {isPressure, kPaIn(units.KgfCm2)}, "atm": {isPressure, 101.325}, "mmhg": {isPressure, 0.1333224}, "inhg": {isPressure, 3.386389},
	"a": {isCurrent, 1}, "amp": {isCurrent, 1}, "amps": {isCurrent, 1}, "ka": {isCurrent, 1000}, "ma": {isCurrent, 1e-3},
	"v": {isBattery, 1}, "mv": {isBattery, 1e-3}, "volt": {isBattery, 1}, "volts": {isBattery, 1},
}

func kPaIn(u units.Unit) float64 { return float64(units.Reading{Value: 1, Unit: u}.Pressure()) }

// unit is a unit as a heading writes it.
type unit struct {
	role     role
	size     float64
	absolute bool
	volts    bool
}

var absolute = regexp.MustCompile(`(?i)^(psi|bar|kpa|mpa|mbar|hpa|pa)\s*[(\[ ]*(a|abs|absolute|absolut|absolu|g|gauge|rel|relative|überdruck)?[)\]]*$`)

// readUnit reads a unit; ok is false where it is none.
func readUnit(text string) (unit, bool) {
	text = strings.ToLower(strings.TrimSpace(text))
	if known, ok := perUnit[text]; ok {
		return unit{role: known.role, size: known.size, volts: known.role == isBattery}, true
	}
	if m := absolute.FindStringSubmatch(text); m != nil {
		return unit{role: isPressure, size: perUnit[m[1]].size, absolute: strings.HasPrefix(m[2], "a")}, true
	}
	return unit{}, false
}

var inBrackets = regexp.MustCompile(`^(.*?)\s*[\[(]\s*(.*?)\s*[\])]\s*$`)

// heading splits what heads a column into its name and its unit: "p (kPa)", "Pressure [V]", "Druck/bar abs", "Time_ms",
// "I (V, 500 A/V)", or a unit alone.
func heading(text string) (name, unitText string) {
	text = strings.TrimSpace(text)
	if m := inBrackets.FindStringSubmatch(text); m != nil {
		return m[1], m[2]
	}
	for _, cut := range []string{"/", "_", ",", " in ", " "} {
		at := strings.Index(text, cut)
		if cut == "_" || cut == " " {
			at = strings.LastIndex(text, cut)
		}
		if at < 0 {
			continue
		}
		if _, ok := readUnit(text[at+len(cut):]); ok {
			return text[:at], text[at+len(cut):]
		}
	}
	if _, ok := readUnit(text); ok && len(text) > 1 {
		return "", text
	}
	return text, ""
}

var wordBreaks = regexp.MustCompile(`[^\pL\d#]+|\d+`)

// roleOf says what a column's name makes it.
func roleOf(name string) role {
	found := unknown
	for _, word := range wordBreaks.Split(strings.ToLower(name), -1) {
		if word == "" {
			continue
		}
		for _, h := range headings {
			if !strings.Contains(" "+h.words+" ", " "+word+" ") {
				continue
			}
			// A mark says so beside the cylinder that it marks; a cylinder's pressure is named with it too.
			if found == unknown || h.role == isMark && word != "cyl" {
				found = h.role
			} else if found == isMark && word != "cyl" {
				return isMark
			} else if h.role == isPressure || h.role == isCurrent {
				found = h.role
			}
		}
	}
	return found
}
