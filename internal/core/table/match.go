package table

import (
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/written"
)

// Known is an engine on record: what it is called, and the whole of it where that is wanted.
type Known struct {
	ID, Name string
	Load     func() (log.Engine, error)
}

// nameKey is a name without letter case, spaces and signs: engines that differ in no more are one.
func nameKey(name string) string {
	return strings.Join(written.Word.FindAllString(strings.ReplaceAll(written.Fold(name), "_", " "), -1), "")
}

// match finds the engine on record that a name of the sheet stands for. One that is only near is asked about.
func match(known []Known, name string, cylinders int) (same *log.Engine, near []log.Engine) {
	const most = 6
	key := nameKey(name)
	var alike []log.Engine
	for _, k := range known {
		own := nameKey(k.Name)
		if own != key && !isNear(own, key) {
			continue
		}
		e, err := k.Load()
		if err != nil {
			continue
		}
		e.ID = k.ID
		switch owned := e.Owner != "" && (own+nameKey(e.Owner) == key || nameKey(e.Owner)+own == key); {
		case own == key || owned:
			alike = append(alike, e)
		case len(near) < most:
			near = append(near, e)
		}
	}
	if len(alike) == 1 && fits(len(alike[0].Cylinders()), cylinders) {
		return &alike[0], nil
	}
	return nil, append(alike, near...)
}

// fits reports whether readings of so many cylinders may be of an engine: some may not have been read.
func fits(has, read int) bool { return has == 0 || read <= has }

// isNear reports whether two names differ by as little as a slip of the pen, or one is the other with more behind it.
func isNear(a, b string) bool {
	const short = 4
	if len(a) < short || len(b) < short {
		return false
	}
	if strings.HasPrefix(a, b) || strings.HasPrefix(b, a) {
		return true
	}
	allowed := 1
	const long = 8
	if min(len(a), len(b)) >= long {
		allowed = 2
	}
	return digitsOf(a) == digitsOf(b) && distance(a, b) <= allowed
}

// digitsOf tells Pipit 1800 from Pipit 2000, which are two engines.
func digitsOf(s string) string {
	return strings.Map(func(c rune) rune {
		if c >= '0' && c <= '9' {
			return c
		}
		return -1
	}, s)
}

// distance counts the letters to change, add or leave out that make one word of another (Levenshtein 1966).
func distance(a, b string) int {
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i := range len(a) {
		corner := row[0]
		row[0] = i + 1
		for j := range len(b) {
			cost := 1
			if a[i] == b[j] {
				cost = 0
			}
			corner, row[j+1] = row[j+1], min(row[j+1]+1, row[j]+1, corner+cost)
		}
	}
	return row[len(b)]
}

// engineHere returns the engine on record that one of the sheet is, nil where it is new; what is not sure is asked.
func (r *reader) engineHere(name string, cylinders int) *log.Engine {
	if r.picks.Into != nil {
		return r.picks.Into
	}
	picked, chosen := r.picks.Engines[name]
	if picked == NewEngine {
		return nil
	}
	if chosen {
		for _, k := range r.picks.Known {
			if k.ID != picked {
				continue
			}
			if e, err := k.Load(); err == nil {
				e.ID = k.ID
				return &e
			}
		}
		return nil
	}
	same, near := match(r.picks.Known, name, cylinders)
	if same != nil || len(near) == 0 {
		return same
	}
	a := Asked{
		What: AskEngines, Sheet: r.sheet.Title, Text: name, Must: true, Words: say.Text("table.ask-engine-here", "name", name),
	}
	for _, e := range near {
		words := say.Text("table.engine-here", "name", join(e.Name, e.Owner), "n", len(e.Cylinders()))
		a.Choices = append(a.Choices, Reply{Name: e.ID, Words: words, Picks: Picks{Engines: map[string]string{name: e.ID}}})
	}
	a.Choices = append(a.Choices, Reply{
		Name: NewEngine, Words: say.Text("table.engine-new", "name", name), Picks: Picks{Engines: map[string]string{name: NewEngine}},
	})
	r.out.Asked = append(r.out.Asked, a)
	return nil
}
