package say

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"golang.org/x/text/language"
	"golang.org/x/text/message"
	"golang.org/x/text/number"
)

// reader is whom the texts are written for; numbers and plural forms follow that language.
var reader = language.English

// printer writes numbers as the reader's language does.
var printer = message.NewPrinter(reader)

// grouped is from where on the digits of a number stand in groups: 9800 rpm, 12,000 km.
const grouped = 10_000

// Number writes a number with as many decimals as it has, and no more: 151, 10.4, 12,000.
func Number(v float64) string {
	_, decimals, _ := strings.Cut(strconv.FormatFloat(v, 'f', -1, 64), ".")
	return Rounded(v, len(decimals))
}

// Digits writes a number with at most that many digits that count: 12.3, 5.27, 140.
func Digits(v float64, digits int) string {
	short, err := strconv.ParseFloat(strconv.FormatFloat(v, 'g', digits, 64), 64)
	if err != nil {
		return Number(v)
	}
	return Number(short)
}

// Rounded writes a number with so many decimals.
func Rounded(v float64, decimals int) string {
	if math.IsNaN(v) || math.IsInf(v, 0) {
		return fmt.Sprint(v)
	}
	options := []number.Option{number.Scale(decimals)}
	if math.Abs(v) < grouped {
		options = append(options, number.NoSeparator())
	}
	return printer.Sprint(number.Decimal(v, options...))
}

// write puts a value into words: by a verb of package fmt, or as people write it.
func write(v any, verb string) string {
	if decimals, ok := fixed(verb); ok {
		if v, ok := v.(float64); ok {
			return Rounded(v, decimals)
		}
	}
	if verb != "" {
		return fmt.Sprintf("%"+verb, v)
	}
	switch v := v.(type) {
	case string:
		return v
	case int:
		return Number(float64(v))
	case float64:
		return Number(v)
	case []byte:
		return string(v)
	case nil:
		return ""
	}
	return fmt.Sprint(v)
}

// fixed returns the decimals that a verb such as .1f asks for.
func fixed(verb string) (int, bool) {
	digits, ok := strings.CutPrefix(strings.TrimSuffix(verb, "f"), ".")
	decimals, err := strconv.Atoi(digits)
	return decimals, ok && err == nil && strings.HasSuffix(verb, "f")
}
