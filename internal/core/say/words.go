package say

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"
)

// Day is a date as Braxel keeps it, 2033-04-02, to be written as people do: 2 Apr 2033.
type Day string

func (d Day) String() string {
	t, err := time.Parse(time.DateOnly, string(d))
	if err != nil {
		return string(d)
	}
	return fmt.Sprintf("%d %s %d", t.Day(), Text("say.month-"+strconv.Itoa(int(t.Month()))), t.Year())
}

// MonthFirst writes such a date with its month first: Apr 2, 2033.
func MonthFirst(date string) string {
	t, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return date
	}
	return fmt.Sprintf("%s %d, %d", Text("say.month-"+strconv.Itoa(int(t.Month()))), t.Day(), t.Year())
}

// And lists names as one says them: "1, 2 and 3".
func And(names []string) string { return list(names, Text("say.and")) }

// Or lists what there is to choose from: "hot, warm or cold".
func Or(names []string) string { return list(names, Text("say.or")) }

func list(names []string, last string) string {
	if len(names) < 2 {
		return strings.Join(names, "")
	}
	end := len(names) - 1
	return strings.Join(names[:end], ", ") + " " + last + " " + names[end]
}

// Some returns the lines that say something.
func Some(all ...string) []string {
	return slices.DeleteFunc(all, func(line string) bool { return line == "" })
}

// Sentences joins what there is to say, leaving out what is empty.
func Sentences(all ...string) string {
	return strings.Join(strings.Fields(strings.Join(all, " ")), " ")
}

// Sentence makes a sentence of words that may be one already.
func Sentence(words string) string {
	if words == "" || strings.ContainsAny(words[len(words)-1:], ".?!") {
		return Capital(words)
	}
	return Capital(words) + "."
}

// Capital begins a sentence.
func Capital(words string) string {
	first, size := utf8.DecodeRuneInString(words)
	if size == 0 {
		return words
	}
	return string(unicode.ToUpper(first)) + words[size:]
}
