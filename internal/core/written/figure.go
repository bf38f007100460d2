package written

import (
	"regexp"
	"strconv"
	"strings"

	"braxel/internal/core/say"
)

// Figures reads numbers by a sheet's decimal sign.
type Figures struct {
	Comma bool
	Typed bool // from a workbook, whose numbers have a point and no thousands
}

// Number finds figures, with thousands parted by a space or an apostrophe.
var Number = regexp.MustCompile(`\d+(?:[ ']\d{3})*(?:[.,]\d+)*`)

// Piece parts a text about its first figure.
var Piece = regexp.MustCompile(`^(.*?)(\d+(?:[ ']\d{3})*(?:[.,]\d+)*|[.,]\d+)(.*)$`)

var spaces = strings.NewReplacer(" ", "", "'", "")

// Value reads one number.
func (f Figures) Value(text string) (float64, error) {
	t := spaces.Replace(text)
	if f.Typed && !strings.Contains(t, ",") {
		return number(t, text)
	}
	point, group := ".", ","
	if f.Comma {
		point, group = ",", "."
	}
	// Of two signs in one number, the last is the decimal one; one that stands twice parts thousands.
	last, first := strings.LastIndexAny(t, ".,"), strings.IndexAny(t, ".,")
	switch {
	case last > first && t[last] != t[first]:
		point, group = t[last:last+1], t[first:first+1]
	case last > first:
		point, group = "", t[last:last+1]
	case last >= 0 && t[last:last+1] == group && !(len(t)-last == 4 && last >= 1 && last <= 3 && t[0] != '0'):
		point, group = group, "" // 9,8 in a file with points: no thousands have one figure
	}
	if group != "" {
		t = strings.ReplaceAll(t, group, "")
	}
	if point != "" {
		t = strings.Replace(t, point, ".", 1)
	}
	return number(t, text)
}

func number(t, text string) (float64, error) {
	v, err := strconv.ParseFloat(t, 64)
	if err != nil || strings.ContainsAny(t, "xXpPnNiI_eE") {
		return 0, say.Error("written.not-number", "text", text)
	}
	return v, nil
}

// Within reads the number in a text such as "12,5 h"; ok is false where there is none.
func (f Figures) Within(text string) (v float64, ok bool) {
	if text == "" {
		return 0, false
	}
	v, err := f.Value(Piece.ReplaceAllString(Fold(text), "$2"))
	return v, err == nil
}

// Signs counts the numbers of texts that can only be read with a comma, or a point, as decimal sign, and those that could have either.
func Signs(texts []string) (comma, point, either int) {
	for _, text := range texts {
		if strings.HasPrefix(strings.TrimSpace(text), "=") || IsDay(text) {
			continue
		}
		for _, m := range Number.FindAllString(text, -1) {
			last := strings.LastIndexAny(m, ".,")
			if last < 0 {
				continue
			}
			twice := strings.IndexAny(m, ".,") != last
			if decimals := len(m) - last - 1; decimals == 3 && !twice && m[0] != '0' {
				either++
				continue
			}
			if twice && strings.Count(m, m[last:last+1]) > 1 {
				continue
			}
			if m[last] == ',' {
				comma++
			} else {
				point++
			}
		}
	}
	return comma, point, either
}
