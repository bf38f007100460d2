package paper

import (
	"errors"
	"regexp"
	"strconv"
	"strings"
	"time"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
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

// letters stand for places where air was heard, as on the sheet.
var letters = []struct{ letter, where string }{
	{"c", log.Crankcase}, {"i", log.Intake}, {"e", log.Exhaust}, {"w", log.Coolant}, {"n", log.Neighbour}, {"p", log.PlugHole},
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
		for _, l := range letters {
			if place[:1] == l.letter {
				level, _ := strconv.Atoi(place[1:])
				one.paths = append(one.paths, log.Path{Where: l.where, Level: level})
			}
		}
	}
	return one, nil
}

func (l leak) row(at log.Place, tester string) log.Leakdown {
	return log.Leakdown{Place: at, Tester: tester, Supply: l.supply, Held: l.held, Unit: l.unit, Paths: l.paths}
}

// Forms of dates that leave no doubt. Days and months between slashes are told apart where one is above twelve.
var plainDates = []string{
	"2006-1-2", "20060102", "2006/1/2", "2.1.2006", "2.1.06", "2 Jan 2006", "2 January 2006", "Jan 2 2006", "January 2 2006", "2-Jan-2006",
}

var slashed = regexp.MustCompile(`^(\d{1,2})[/-](\d{1,2})[/-](\d{4}|\d{2})$`)

// dateOf reads a date in the usual orders, as the log writes it.
func dateOf(text string) (string, error) {
	text = strings.Join(strings.Fields(strings.ReplaceAll(text, ",", " ")), " ")
	for _, form := range plainDates {
		if day, err := time.Parse(form, text); err == nil && day.Year() >= 1900 && day.Year() < 2200 {
			return day.Format(time.DateOnly), nil
		}
	}
	m := slashed.FindStringSubmatch(text)
	if m == nil {
		return "", say.Error("paper.not-date-type-one-such", "text", text)
	}
	one, _ := strconv.Atoi(m[1])
	two, _ := strconv.Atoi(m[2])
	if one <= 12 && two <= 12 && one != two {
		return "", say.Error("paper.could-two-different-days-type", "text", text)
	}
	form := "2/1/2006"
	if two > 12 {
		form = "1/2/2006"
	}
	if len(m[3]) == 2 {
		form = form[:4] + "06"
	}
	day, err := time.Parse(form, m[1]+"/"+m[2]+"/"+m[3])
	if err != nil {
		return "", say.Error("paper.not-day-calendar", "text", text)
	}
	return day.Format(time.DateOnly), nil
}
