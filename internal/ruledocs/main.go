// Command ruledocs writes docs/rules.md, and the tables of docs/judge.md, from the rules themselves.
package main

import (
	"fmt"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/judge"
	"braxel/internal/core/rules"
	"braxel/internal/house"
)

func main() {
	root := "."
	if len(os.Args) > 1 {
		root = os.Args[1]
	}
	pages, err := pages(root)
	for file, text := range pages {
		if err == nil {
			err = os.WriteFile(filepath.Join(root, file), []byte(text), 0o644)
		}
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

// pages returns the documents as they should be, by their files under root.
func pages(root string) (map[string]string, error) {
	figures, err := figures(root)
	if err != nil {
		return nil, err
	}
	document, err := os.ReadFile(filepath.Join(root, "docs/judge.md"))
	if err != nil {
		return nil, err
	}
	filled, err := fill(string(document), figures)
	if err == nil {
		filled, err = fillReliability(filled)
	}
	if err != nil {
		return nil, err
	}
	return map[string]string{"docs/rules.md": book(figures), "docs/judge.md": filled}, nil
}

// figure is one constant of the rules, read from its comment: “Name is what it is and why. [unit; source]”.
type figure struct {
	group, name, why, value, unit, source string
}

var comment = regexp.MustCompile(`(?s)^(\w+) (?:is|makes) (.*) \[(.+); (.+)\]$`)

// figures reads the rules' own source. A figure without unit or source is an error.
func figures(root string) ([]figure, error) {
	all, err := house.Load(root, "./internal/core/rules")
	if err != nil {
		return nil, err
	}
	var out []figure
	for _, c := range all[0].Constants() {
		part := comment.FindStringSubmatch(strings.ReplaceAll(c.Doc, "\n", " "))
		switch {
		case part == nil && !strings.Contains(c.Doc, "["):
			continue // a name, no figure
		case part == nil || part[1] != c.Name:
			return nil, fmt.Errorf("%s in %s: its comment should be “%s is …. [unit; source]”", c.Name, c.File, c.Name)
		}
		out = append(out, figure{c.Group, c.Name, part[2], plain(c.Value), part[3], part[4]})
	}
	return out, nil
}

// plain writes a constant as one reads it.
func plain(value string) string {
	v, err := strconv.ParseFloat(value, 64)
	if err != nil {
		return value
	}
	return strconv.FormatFloat(v, 'g', 6, 64)
}

const made = "<!-- Made by “make docs” from internal/core/rules: change it there. -->\n"

// book is the whole of docs/rules.md.
func book(all []figure) string {
	var b strings.Builder
	b.WriteString("# The rules\n\n" + made + `
Every rule and figure of the trade that Braxel goes by, once each. Sources: *trade* is what builders and makers commonly go by, *practice*
how people test, *physics* and *ISO* what they say, *judgement* ours, where the trade has no figure: the first to be questioned. “log” is
a natural logarithm of a ratio: 0.03 is about 3 %.

A workshop can change the limits by duty, the intervals and the chances of causes on the page *Rules*; factory manuals and the builder's
own limits for an engine come before all of them.
`)
	group := ""
	for _, f := range all {
		if f.group != group {
			group = f.group
			fmt.Fprintf(&b, "\n## %s\n\n| figure | value | unit | what it is | source |\n|---|---|---|---|---|\n", strings.TrimSuffix(group, "."))
		}
		fmt.Fprintf(&b, "| %s | %s | %s | %s | %s |\n", f.name, f.value, f.unit, f.why, f.source)
	}
	for _, t := range tables() {
		fmt.Fprintf(&b, "\n## %s\n\n%s", t.title, t.text())
	}
	return b.String()
}

// fill puts the figures that a document names into its tables: a row “| words | {Name} … | from |” has stood between the marks before, and
// the row after it says the same with values.
func fill(text string, all []figure) (string, error) {
	begin, end := "<!-- rules", "<!-- /rules -->"
	i, j := strings.Index(text, begin), strings.Index(text, end)
	if i < 0 || j < i {
		return "", fmt.Errorf("docs/judge.md has no table between %q and %q", begin, end)
	}
	head, template, ok := strings.Cut(text[i:j], "\n")
	template, _, closed := strings.Cut(template, "-->\n")
	if !ok || !closed {
		return "", fmt.Errorf("docs/judge.md: the template of its table is not closed")
	}
	var missing []string
	rows := named.ReplaceAllStringFunc(template, func(name string) string {
		part := named.FindStringSubmatch(name)
		k := slices.IndexFunc(all, func(f figure) bool { return f.name == part[1] })
		if k < 0 {
			missing = append(missing, part[1])
			return name
		}
		return shown(all[k], part[2])
	})
	if len(missing) > 0 {
		return "", fmt.Errorf("docs/judge.md names what is no rule: %s", strings.Join(missing, ", "))
	}
	return text[:i] + head + "\n" + template + "-->\n" + made + "\n" + rows + "\n" + text[j:], nil
}

// fillReliability puts in how often the judge's words were right, between its marks.
func fillReliability(text string) (string, error) {
	begin, end := "<!-- reliability -->", "<!-- /reliability -->"
	i, j := strings.Index(text, begin), strings.Index(text, end)
	if i < 0 || j < i {
		return "", fmt.Errorf("docs/judge.md has no table between %q and %q", begin, end)
	}
	t := table{head: []string{"it says", "chance", "it was right"}}
	for _, r := range judge.Reliability() {
		t.rows = append(t.rows, []string{
			r.Words, fmt.Sprintf("%.0f %%", 100*r.Said), fmt.Sprintf("%d of %d times, %.0f %%", r.Right, r.Times, 100*float64(r.Right)/float64(r.Times)),
		})
	}
	return text[:i] + begin + "\n" + t.text() + text[j:], nil
}

var named = regexp.MustCompile(`\{(\w+)(%?)\}`)

// shown writes a figure as it is, or as a percentage.
func shown(f figure, percent string) string {
	if percent == "" {
		return f.value
	}
	v, _ := strconv.ParseFloat(f.value, 64)
	return strconv.FormatFloat(100*v, 'g', 3, 64) + " %"
}

// table is one of the tables of the rules.
type table struct {
	title string
	head  []string
	rows  [][]string
}

func (t table) text() string {
	var b strings.Builder
	line := func(cells []string) { fmt.Fprintf(&b, "| %s |\n", strings.Join(cells, " | ")) }
	line(t.head)
	line(slices.Repeat([]string{"---"}, len(t.head)))
	for _, r := range t.rows {
		line(r)
	}
	return b.String()
}

func g(v float64) string { return strconv.FormatFloat(v, 'g', 6, 64) }

// some writes a figure, a dash where there is none.
func some(v float64) string {
	if v == 0 {
		return "–"
	}
	return g(v)
}

// tables are the rules that are tables.
func tables() []table {
	var none rules.Shop
	limits := table{title: "Limits by duty", head: []string{"duty", "watched from, points of leak", "watched from, % lost", "acted upon from, points", "acted upon from, %"}}
	intervals := table{title: "Intervals by duty", head: []string{"duty", "h", "km", "runs or events", "months"}}
	for i, l := range rules.Limits {
		limits.rows = append(limits.rows, []string{l.Duty, g(l.LeakWatch), g(l.LossWatch), g(l.LeakAct), g(l.LossAct)})
		v := none.IntervalOf(rules.Limits[i].Duty)
		intervals.rows = append(intervals.rows, []string{v.Duty, some(v.Hours), some(v.Km), some(v.Events), strconv.Itoa(v.Months)})
	}
	protocols := table{title: "Protocols", head: []string{"protocol", "readings", "plugs out", "engine", "school", "wet", "leak-down", "leak watched, %", "acted upon, %"}}
	for _, p := range rules.Protocols {
		protocols.rows = append(protocols.rows, []string{
			p.Name, string(p.Pulls), p.PlugsOut, p.Temp, p.Evenness, string(p.Wet), string(p.Leakdown), g(p.LeakWatch), g(p.LeakAct),
		})
	}
	schools := table{title: "Schools", head: []string{"school", "rule"}}
	for _, s := range rules.Schools {
		schools.rows = append(schools.rows, []string{s.ID, s.Words})
	}
	for _, s := range rules.LeakSchools {
		schools.rows = append(schools.rows, []string{s.ID, s.Words})
	}
	ways := table{title: "What the way of testing does", head: []string{"way", "compression, log", "± log", "leak's area", "± log", "why", "source"}}
	for _, w := range rules.Ways {
		ways.rows = append(ways.rows, []string{w.ID, effects(w.Level), some(w.SD), effects(w.Leak), some(w.LeakSD), w.Why, w.Source})
	}
	cylinders := table{title: "A cylinder whose figures nobody gave", head: []string{"of", "ratio", "cm³", "rpm", "kPa", "± log"}}
	for _, c := range rules.Cylinders {
		cylinders.rows = append(cylinders.rows, []string{c.Kind, g(c.Ratio), g(c.CC), g(c.RPM), g(c.LevelKPa), g(c.LevelSD)})
	}
	happenings := table{title: "What happened, and what it asks for", head: []string{"kind", "within days", "asks for", "why"}}
	harms := table{title: "What happenings do", head: []string{"kind", "does harm in", "of that", "all at once in", "to several in", "note"}}
	for _, h := range rules.Happened().Happenings {
		happenings.rows = append(happenings.rows, []string{h.Kind, strconv.Itoa(h.Days), h.Asks, h.Why})
		harms.rows = append(harms.rows, []string{h.Kind, some(h.Harm), effects(h.Does), some(h.AtOnce), some(h.Several), h.Note})
	}
	repairs := table{title: "Repairs", head: []string{"repair", "puts right", "on"}}
	for _, w := range rules.Repairs().Repairs {
		repairs.rows = append(repairs.rows, []string{w.Words, strings.Join(w.Cures, ", "), strings.Join(w.Kinds, ", ")})
	}
	causes := table{
		title: "Causes",
		head:  []string{"cause", "how common", "elsewhere", "at once", "leaks, points", "loses, %", "of", "what measures it", "note"},
	}
	for _, c := range rules.Causes().Causes {
		causes.rows = append(causes.rows, []string{
			c.Words, g(c.Prior), effects(c.Often), some(c.Sudden), size(c.Leak), size(c.Loss), c.Scope, string(c.Class), c.Note,
		})
	}
	tests := table{title: "Tests that may be next", head: []string{"test", "minutes", "tells"}}
	for _, x := range rules.Causes().Tests {
		tests.rows = append(tests.rows, []string{x.Words, g(x.Minutes), x.Tells})
	}
	return []table{limits, intervals, protocols, schools, ways, cylinders, happenings, harms, repairs, causes, tests}
}

// size writes how large a fault usually is, with the range that two thirds of them lie in.
func size(s rules.Size) string {
	if s.Usual == 0 {
		return "–"
	}
	return fmt.Sprintf("%s (%.0f to %.0f)", g(s.Usual), s.Usual/s.Spread, s.Usual*s.Spread)
}

// effects writes what each way does, in order.
func effects(by map[string]float64) string {
	var all []string
	for way, v := range by {
		all = append(all, way+" "+g(v))
	}
	slices.Sort(all)
	if len(all) == 0 {
		return "–"
	}
	return strings.Join(all, ", ")
}
