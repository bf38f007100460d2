// Package say is the one mouth of Braxel: it turns an id and named values into a sentence in English. The texts stand in en/*.json, a file
// for each package that speaks, so that a translator can take them as they are.
//
// A text is a string with named values in braces: "{name} is down {loss:.0f} %". What follows the colon is a verb of package fmt; without
// one a value is written as people would. Two braces make one. Where the wording depends on a number, the text is an object of plural
// forms, one and other, chosen by the value n.
package say

import (
	"embed"
	"fmt"
	"path"
	"strings"

	"github.com/go-json-experiment/json"
	"golang.org/x/text/feature/plural"
)

//go:embed en/*.json
var files embed.FS

// catalogue holds the texts by id: the file's name, a point, and the name within it.
var catalogue = load()

// Text returns the text of an id with its values, given as pairs of a name and a value. An id that no file has comes back as itself; the
// tests hold every call in the code against the files.
func Text(id string, pairs ...any) string {
	m, ok := catalogue[id]
	if !ok {
		return id
	}
	return fill(m.form(pairs), pairs)
}

// Maybe returns the text of an id without values, or "" where no file has it.
func Maybe(id string) string {
	if _, ok := catalogue[id]; !ok {
		return ""
	}
	return Text(id)
}

// Fault is an error that is said from the catalogue.
type Fault struct {
	ID    string
	Pairs []any
}

// Error returns an error with the text of an id. An error among its values is wrapped.
func Error(id string, pairs ...any) error { return &Fault{id, pairs} }

func (f *Fault) Error() string { return Text(f.ID, f.Pairs...) }

// Unwrap returns the errors among the values.
func (f *Fault) Unwrap() []error {
	var all []error
	for _, v := range f.Pairs {
		if err, ok := v.(error); ok {
			all = append(all, err)
		}
	}
	return all
}

// saying is one text: a single form under "other", or one for each plural.
type saying map[string][]part

// part is a stretch of plain text, then a value.
type part struct{ text, name, verb string }

// form returns the form that the value n asks for (CLDR plural rules).
func (m saying) form(pairs []any) []part {
	if len(m) > 1 {
		if n, ok := valueOf("n", pairs).(int); ok && plural.Cardinal.MatchPlural(reader, n, 0, 0, 0, 0) == plural.One {
			return m["one"]
		}
	}
	return m["other"]
}

func fill(parts []part, pairs []any) string {
	var b strings.Builder
	for _, p := range parts {
		b.WriteString(p.text)
		if p.name != "" {
			b.WriteString(write(valueOf(p.name, pairs), p.verb))
		}
	}
	return b.String()
}

func valueOf(name string, pairs []any) any {
	for i := 0; i+1 < len(pairs); i += 2 {
		if pairs[i] == name {
			return pairs[i+1]
		}
	}
	return nil
}

func load() map[string]saying {
	all := map[string]saying{}
	dir, err := files.ReadDir("en")
	if err != nil {
		panic(err)
	}
	for _, f := range dir {
		raw, err := files.ReadFile("en/" + f.Name())
		if err != nil {
			panic(err)
		}
		read, err := Read(raw)
		if err != nil {
			panic(fmt.Errorf("%s: %w", f.Name(), err))
		}
		subject := strings.TrimSuffix(f.Name(), path.Ext(f.Name()))
		for id, m := range read {
			all[subject+"."+id] = m
		}
	}
	return all
}

// Read reads one file of texts.
func Read(raw []byte) (map[string]saying, error) {
	var texts map[string]any
	if err := json.Unmarshal(raw, &texts); err != nil {
		return nil, err
	}
	all := map[string]saying{}
	for id, v := range texts {
		m := saying{}
		switch form := v.(type) {
		case string:
			m["other"] = cut(form)
		case map[string]any:
			for key, text := range form {
				words, ok := text.(string)
				if !ok || (key != "one" && key != "other") {
					return nil, fmt.Errorf("%s: a text has the forms one and other", id)
				}
				m[key] = cut(words)
			}
			if len(m) != 2 {
				return nil, fmt.Errorf("%s: a text has the forms one and other", id)
			}
		default:
			return nil, fmt.Errorf("%s: neither a text nor its forms", id)
		}
		all[id] = m
	}
	return all, nil
}

// cut takes a text apart into plain words and values.
func cut(text string) []part {
	var all []part
	var plain strings.Builder
	for text != "" {
		i := strings.IndexAny(text, "{}")
		if i < 0 {
			plain.WriteString(text)
			break
		}
		plain.WriteString(text[:i])
		if strings.HasPrefix(text[i+1:], text[i:i+1]) { // doubled: the brace itself
			plain.WriteByte(text[i])
			text = text[i+2:]
			continue
		}
		inner, rest, _ := strings.Cut(text[i+1:], "}")
		name, verb, _ := strings.Cut(inner, ":")
		all = append(all, part{plain.String(), name, verb})
		plain.Reset()
		text = rest
	}
	if plain.Len() > 0 {
		all = append(all, part{text: plain.String()})
	}
	return all
}
