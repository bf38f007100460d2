package book

import (
	"bytes"
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// Differing is something that a log has otherwise than the book. It is left as it is here unless somebody chooses theirs.
type Differing struct {
	At     string `json:"at" doc:"JSON Pointer in the log that came"`
	What   string `json:"what"`
	Sides  []Side `json:"sides" doc:"Field by field"`
	Choice bool   `json:"choice,omitzero" doc:"Theirs can be taken instead"`
}

// Side is one field as it is here and as it came: each as JSON, empty where it is not there.
type Side struct {
	At    string `json:"at"`
	Here  string `json:"here,omitzero"`
	There string `json:"there,omitzero"`
}

// mostSides is how many fields of one thing are laid side by side.
const mostSides = 40

// sides returns the fields in which two texts of JSON differ.
func sides(here, there jsontext.Value) []Side {
	all := []Side{}
	differ("", here, there, &all)
	return all
}

func differ(at string, here, there jsontext.Value, all *[]Side) {
	if len(*all) >= mostSides || bytes.Equal(compact(here), compact(there)) {
		return
	}
	var a, b map[string]jsontext.Value
	if here.Kind() == '{' && there.Kind() == '{' && json.Unmarshal(here, &a) == nil && json.Unmarshal(there, &b) == nil {
		both := maps.Clone(a)
		maps.Copy(both, b)
		for _, key := range slices.Sorted(maps.Keys(both)) {
			differ(at+"/"+strings.NewReplacer("~", "~0", "/", "~1").Replace(key), a[key], b[key], all)
		}
		return
	}
	var p, q []jsontext.Value
	if here.Kind() == '[' && there.Kind() == '[' && json.Unmarshal(here, &p) == nil && json.Unmarshal(there, &q) == nil && structured(p, q) {
		for i := range max(len(p), len(q)) {
			var one, other jsontext.Value
			if i < len(p) {
				one = p[i]
			}
			if i < len(q) {
				other = q[i]
			}
			differ(fmt.Sprintf("%s/%d", at, i), one, other, all)
		}
		return
	}
	*all = append(*all, Side{at, shown(here), shown(there)})
}

// structured reports whether two lists hold objects or lists: a list of plain figures is shown whole.
func structured(p, q []jsontext.Value) bool {
	return slices.ContainsFunc(slices.Concat(p, q), func(v jsontext.Value) bool { return v.Kind() == '{' || v.Kind() == '[' })
}

func shown(v jsontext.Value) string {
	const enough = 200
	text := string(compact(v))
	if len(text) > enough {
		return strings.ToValidUTF8(text[:enough], "") + "…"
	}
	return text
}

// TakeTheirs returns the entries by which what a log has otherwise than the book is taken as the log has it, for those of the
// differences that are named by where they stand. Figures of an engine, of a build and of a tester are changed; a test is struck,
// and theirs comes in under a name of its own, so that both can be looked at.
func TakeTheirs(l log.Log, b, shop *Book, at []string) []Entry {
	im := &importer{engine: EngineID(l), b: b, shop: shop}
	have := b.Log(shop)
	chosen := func(where string, args ...any) bool { return slices.Contains(at, fmt.Sprintf(where, args...)) }
	if chosen("/engine") && b.Begun() {
		e := l.Engine
		e.ID = have.Engine.ID
		im.add(Engine, im.engine, patch(raw(have.Engine), raw(e), ""))
	}
	for i, t := range l.Testers {
		if mine := find(have.Testers, func(h log.Tester) bool { return h.ID == t.ID }); chosen("/testers/%d", i) && mine != nil {
			engine := im.engine
			if slices.ContainsFunc(shop.Testers(), func(s log.Tester) bool { return s.ID == t.ID }) {
				engine = ""
			}
			im.add(Tester, engine, patch(raw(mine), raw(t), t.ID))
		}
	}
	for i, one := range l.Builds {
		if mine := find(have.Builds, func(h log.Build) bool { return h.ID == one.ID }); chosen("/builds/%d", i) && mine != nil {
			im.add(Build, im.engine, patch(raw(mine), raw(one), one.ID))
		}
	}
	for i, s := range l.Sessions {
		if have.At(s.ID) < 0 || !chosen("/sessions/%d", i) {
			continue
		}
		s = WithKeys(s)
		const enough = 6
		if t := b.tests[s.ID]; t != nil && t.begun() {
			im.add(Strike, im.engine, raw(MarkBody{Entry: t.first().ID, Why: say.Text("book.another-log-says-something-else")}))
		}
		s.ID += "-" + NameOf("theirs", string(raw(s)))[:enough]
		im.add(Whole, im.engine, raw(s))
	}
	return im.entries
}

// patch returns what makes here into there (RFC 7396), with the id of the thing that it changes.
func patch(here, there jsontext.Value, id string) jsontext.Value {
	var a, b map[string]jsontext.Value
	if json.Unmarshal(here, &a) != nil || json.Unmarshal(there, &b) != nil {
		return jsontext.Value("{}")
	}
	out := map[string]jsontext.Value{}
	for key, v := range b {
		switch {
		case bytes.Equal(compact(a[key]), compact(v)):
		case a[key].Kind() == '{' && v.Kind() == '{':
			out[key] = patch(a[key], v, "")
		default:
			out[key] = v
		}
	}
	for key := range a {
		if _, kept := b[key]; !kept {
			out[key] = jsontext.Value("null")
		}
	}
	if id != "" {
		out["id"] = raw(id)
	}
	return raw(out)
}
