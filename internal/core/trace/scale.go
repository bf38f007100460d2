package trace

import (
	"regexp"
	"strconv"
	"strings"
)

// scale turns volts into kPa or A: value = (volts − zero)·per.
type scale struct {
	zero, per float64
	known     bool
	absolute  bool
}

const number = `([-+]?\d+(?:[.,]\d+)?(?:[eE][-+]?\d+)?)`

const unitWord = `(kPa|MPa|hPa|Pa|mbar|bar|psi|kgf?/cm[2²]|kA|mA|A|amps?)(?:\s*\(?(?:g|a|abs|gauge)\b\)?)?`

var (
	point    = regexp.MustCompile(`(?i)` + number + `\s*(m?V)\s*(?:=|:|is|at|→|->)\s*` + number + `\s*` + unitWord)
	pointTo  = regexp.MustCompile(`(?i)` + number + `\s*` + unitWord + `\s*(?:=|at|is|@)\s*` + number + `\s*(m?V)\b`)
	slope    = regexp.MustCompile(`(?i)` + number + `\s*` + unitWord + `\s*(?:/|per|pr\.?|je|par)\s*(m?V)\b`)
	inverse  = regexp.MustCompile(`(?i)` + number + `\s*(m?V)\s*(?:/|per|pr\.?|je|par)\s*` + unitWord)
	zeroAt   = regexp.MustCompile(`(?i)(?:zero|offset|null|nullpunkt)\D{0,12}?` + number + `\s*(m?V)\b`)
	absWords = regexp.MustCompile(`(?i)\b(absolute?|absolut|abs|absolu|bara|psia)\b`)
)

// figure reads a number that may have a comma for its point.
func figure(text string) float64 {
	v, _ := strconv.ParseFloat(strings.ReplaceAll(text, ",", "."), 64)
	return v
}

func volts(text string) float64 {
	if strings.EqualFold(text, "mV") {
		return 1e-3
	}
	return 1
}

func sized(text string) float64 {
	u, _ := readUnit(text)
	return u.size
}

// readScale reads what a line says of volts: two points, or a slope and, where it does not begin at 0 V, the volts at zero.
func readScale(text string) scale {
	type at struct{ volts, value float64 }
	var points []at
	for _, m := range point.FindAllStringSubmatch(text, -1) {
		points = append(points, at{figure(m[1]) * volts(m[2]), figure(m[3]) * sized(m[4])})
	}
	if len(points) < 2 {
		for _, m := range pointTo.FindAllStringSubmatch(text, -1) {
			points = append(points, at{figure(m[3]) * volts(m[4]), figure(m[1]) * sized(m[2])})
		}
	}
	s := scale{absolute: absWords.MatchString(text)}
	if len(points) > 0 {
		a, b := points[0], points[len(points)-1]
		if b.volts != a.volts && b.value != a.value {
			s.per = (b.value - a.value) / (b.volts - a.volts)
			s.zero, s.known = a.volts-a.value/s.per, true
			return s
		}
	}
	if m := slope.FindStringSubmatch(text); m != nil {
		s.per, s.known = figure(m[1])*sized(m[2])/volts(m[3]), true
	} else if m := inverse.FindStringSubmatch(text); m != nil {
		s.per, s.known = sized(m[3])/(figure(m[1])*volts(m[2])), true
	}
	if !s.known || s.per == 0 {
		return scale{}
	}
	if m := zeroAt.FindStringSubmatch(text); m != nil {
		s.zero = figure(m[1]) * volts(m[2])
	} else if len(points) > 0 {
		s.zero = points[0].volts - points[0].value/s.per
	}
	return s
}
