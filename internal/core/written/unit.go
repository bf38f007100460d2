package written

import (
	"regexp"
	"strings"

	"braxel/internal/core/units"
)

var unitForms = []struct {
	form *regexp.Regexp
	unit units.Unit
}{
	{regexp.MustCompile(`(?:^|[^a-z])(k(?:g|gf|p)(?: ?(?:/|per) ?(?:cm ?2?|sq ?cm))?)(?:[^a-z]|$)`), units.KgfCm2},
	{regexp.MustCompile(`(?:^|[^a-z])(psig?|lbs?(?: ?/ ?(?:in2|sq ?in))?|#/in2|pounds?)(?:[^a-z]|$)`), units.PSI},
	{regexp.MustCompile(`(?:^|[^a-z])(kpa)(?:[^a-z]|$)`), units.KPa},
	{regexp.MustCompile(`(?:^|[^a-z])(bars?|baria?)(?:[^a-z]|$)`), units.Bar},
}

// otherUnit is a unit of pressure that no gauge of the log's has.
var otherUnit = regexp.MustCompile(`(?:^|[^a-z])(mpa|atm|at|ata|torr|mmhg|inhg|pa|mbar|hpa|n/mm2)(?:[^a-z]|$)`)

// besideFigure is one of them behind a figure, or in brackets, where "at" and "pa" cannot be other words.
var plainlyOther = regexp.MustCompile(`(?:^|[^a-z])(mpa|torr|mmhg|inhg|mbar|hpa|n/mm2)(?:[^a-z]|$)|[(\[]\s*(?:atm|ata?|pa)\s*[)\]]`)

// OtherUnit reports whether the folded text of a figure has a unit of pressure that is not known here.
func OtherUnit(text string) bool { return otherUnit.MatchString(text) }

// HeadedByOther reports whether a folded heading or title has such a unit.
func HeadedByOther(text string) bool { return plainlyOther.MatchString(text) }

var twoPartUnits = regexp.MustCompile(`\b(k)(?:g|gf|p) ?(?:/|per) ?(?:cm ?2?|sq ?cm)\b|\b(lb)s? ?/ ?(?:in2|sq ?in)\b`)

// PlainUnits writes the units of folded text that have a stroke in them without it, so that a stroke parts figures.
func PlainUnits(text string) string {
	if !strings.ContainsAny(text, "kl") {
		return text
	}
	return twoPartUnits.ReplaceAllStringFunc(text, func(u string) string {
		if u[0] == 'k' {
			return "kgf"
		}
		return "psi"
	})
}

// UnitIn finds a unit of pressure in folded text, and returns the text without it.
func UnitIn(text string) (units.Unit, string) {
	if strings.Trim(text, " 0123456789.,/%~-") == "" {
		return "", text
	}
	for _, u := range unitForms {
		if m := u.form.FindStringSubmatchIndex(text); m != nil {
			return u.unit, text[:m[2]] + " " + text[m[3]:]
		}
	}
	return "", text
}
