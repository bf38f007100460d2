package paper

import (
	"errors"
	"regexp"
	"strconv"
	"strings"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

// figure is a number with a comma or a point.
const figure = `\d+(?:[.,]\d*)?|[.,]\d+`

var aFigure = regexp.MustCompile(`^(?:` + figure + `)$`)

// figureOf reads one: it has no sign, and no groups of thousands, which a comma would be taken for.
func figureOf(text string) (float64, bool) {
	if !aFigure.MatchString(text) {
		return 0, false
	}
	v, err := strconv.ParseFloat(strings.Replace(text, ",", ".", 1), 64)
	return v, err == nil
}

// mostInCell is as many pulls as anybody writes into a cell.
const mostInCell = 12

// cell reads what was typed of a cylinder.
func (r *reader) cell(l line, cylinder int, text string) (cell, error) {
	var c cell
	parts := strings.FieldsFunc(text, func(r rune) bool { return r == '/' || r == ';' || r == '+' })
	if len(parts) > mostInCell || len(parts) == 0 {
		return c, noReading(text)
	}
	for _, part := range parts {
		part = strings.TrimSpace(part)
		if l.what == Leak {
			one, err := leakOf(part, l.unit)
			if err != nil {
				return c, err
			}
			if f := one.row(log.Place{Cylinder: cylinder}, l.tester).Check(""); len(f) > 0 {
				return c, errors.New(f[0].What)
			}
			c.leaks = append(c.leaks, one)
			continue
		}
		v, ok := figureOf(part)
		if !ok {
			return c, noReading(part)
		}
		if err := units.Check(units.Reading{Value: v, Unit: l.unit}); err != nil {
			return c, err
		}
		c.pulls = append(c.pulls, v)
	}
	return c, nil
}

func noReading(text string) error {
	return say.Error("paper.not-reading-type-one-such", "text", text)
}

// leak is one leak-down as it stands in a cell.
type leak struct {
	supply, held float64
	unit         units.Unit
	paths        []log.Path
}

// nothing stands for "listened, nothing heard": a word, since a letter behind a figure would be taken for one of its digits.
const nothing = "none"

var aLeak = regexp.MustCompile(`^(` + figure + `)\s*%?(?:\s*of\s*(` + figure + `))?((?:\s*[ciewnp][123]?)*|\s*none)$`)

var aPlace = regexp.MustCompile(`[ciewnp][123]?`)

// leakOf reads a percent, 7, or what was held of the supply, 93 of 100; then the places where air was heard: 7e2c.
func leakOf(text string, unit units.Unit) (leak, error) {
	m := aLeak.FindStringSubmatch(strings.ToLower(text))
	if m == nil {
		return leak{}, say.Error("paper.not-leak-type-percentage-such", "text", text)
	}
	first, _ := figureOf(m[1])
	one := leak{supply: units.UsualSupply[unit], unit: unit}
	switch {
	case m[2] != "":
		one.supply, _ = figureOf(m[2])
		one.held = first
	case first > 100:
		return leak{}, say.Error("paper.leak-must-between-0-100", "first", first)
	default:
		one.held = book.HeldFrom(one.supply, first)
	}
	heard := strings.TrimSpace(m[3])
	if heard == nothing {
		one.paths = []log.Path{}
		return one, nil
	}
	for _, place := range aPlace.FindAllString(heard, -1) {
		level, _ := strconv.Atoi(place[1:])
		for _, where := range written.PlacesIn(place[:1]) {
			one.paths = append(one.paths, log.Path{Where: where, Level: level})
		}
	}
	return one, nil
}

func (l leak) row(at log.Place, tester string) log.Leakdown {
	return log.Leakdown{Place: at, Tester: tester, Supply: l.supply, Held: l.held, Unit: l.unit, Paths: l.paths}
}

// aSerial is a spreadsheet's count of days: nobody types one from paper.
var aSerial = regexp.MustCompile(`^\d{5}$`)

// dateOf reads a date in the usual orders, as the log writes it; one that could be two days is refused.
func dateOf(text string) (string, error) {
	text = strings.Join(strings.Fields(strings.ReplaceAll(text, ",", " ")), " ")
	if !written.IsDay(written.Fold(text)) || aSerial.MatchString(text) {
		return "", say.Error("paper.not-date-type-one-such", "text", text)
	}
	either := written.Dates{Order: written.Undecidable}
	day, err := either.Read(text)
	switch {
	case err != nil:
		return "", say.Error("paper.not-day-calendar", "text", text)
	case day == "":
		return "", say.Error("paper.could-two-different-days-type", "text", text)
	}
	return day, nil
}
