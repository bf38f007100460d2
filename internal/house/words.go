package house

import (
	"fmt"
	"go/ast"
	"go/token"
	"go/types"
	"path/filepath"
	"regexp"
	"strconv"
)

// Said is one call of the catalogue: its id, the names of the values that go with it, where it stands. Where the id is put together, ID is
// its beginning.
type Said struct {
	ID     string
	Names  []string
	Begins bool
	At     string
}

// Said returns the calls of the catalogue in a package, and every other literal that reads like one of its ids.
func (p Package) Said() (calls []Said, literals []string) {
	for _, f := range p.files {
		ast.Inspect(f, func(n ast.Node) bool {
			switch n := n.(type) {
			case *ast.BasicLit:
				if text, ok := textOf(n); ok {
					literals = append(literals, text)
					for _, m := range quoted.FindAllStringSubmatch(text, -1) { // a template says its texts itself
						literals = append(literals, m[1])
					}
				}
			case *ast.CallExpr:
				if one, ok := p.said(n); ok {
					calls = append(calls, one)
				}
			}
			return true
		})
	}
	return calls, literals
}

// quoted is an id within a template.
var quoted = regexp.MustCompile(`says "([a-z]+\.[a-z0-9-]+)"`)

// anID is how an id of the catalogue looks.
var anID = regexp.MustCompile(`^[a-z]+\.[a-z0-9-]*$`)

// said reads a call that says a text by its id: say.Text and say.Error, and those that hand id and values on, such as log.At. The id is
// the first argument or the second, the values come after it.
func (p Package) said(call *ast.CallExpr) (Said, bool) {
	for i, arg := range call.Args[:min(2, len(call.Args))] {
		out := Said{At: p.at(call.Pos())}
		if sum, ok := arg.(*ast.BinaryExpr); ok {
			arg, out.Begins = sum.X, true
		}
		lit, ok := arg.(*ast.BasicLit)
		if !ok {
			continue
		}
		if out.ID, ok = textOf(lit); !ok || !anID.MatchString(out.ID) || !p.says(call, i) {
			continue
		}
		for k := i + 1; k < len(call.Args); k += 2 {
			if name, ok := call.Args[k].(*ast.BasicLit); ok {
				text, _ := textOf(name)
				out.Names = append(out.Names, text)
			}
		}
		return out, true
	}
	return Said{}, false
}

// says reports whether a call takes an id as its argument i: say.Maybe, or one with values after it, any number of any type.
func (p Package) says(call *ast.CallExpr, i int) bool {
	if fun, ok := call.Fun.(*ast.SelectorExpr); ok && fun.Sel.Name == "Maybe" {
		return i == 0
	}
	of, ok := p.info.TypeOf(call.Fun).(*types.Signature)
	if !ok || !of.Variadic() || of.Params().Len() != i+2 {
		return false
	}
	values, ok := of.Params().At(i + 1).Type().(*types.Slice)
	return ok && types.IsInterface(values.Elem())
}

func (p Package) at(pos token.Pos) string {
	at := p.fset.Position(pos)
	return fmt.Sprintf("%s:%d", filepath.Base(at.Filename), at.Line)
}

func textOf(lit *ast.BasicLit) (string, bool) {
	if lit.Kind != token.STRING {
		return "", false
	}
	text, err := strconv.Unquote(lit.Value)
	return text, err == nil
}

// phrase is two words of a sentence beside each other, or one with a capital: a heading, or the name of a thing.
var phrase = regexp.MustCompile(`[A-Za-z’',;]{2,} +[A-Za-z(“]{2,}|^[A-Z][a-z]{2,}$`)

// Phrase is a literal that reads like something said to somebody.
type Phrase struct{ File, Text string }

// Phrases returns the literals of a package that read like something said. Tags of fields, imports and patterns are none.
func (p Package) Phrases() []Phrase {
	var all []Phrase
	for _, f := range p.files {
		ast.Inspect(f, func(n ast.Node) bool {
			switch n := n.(type) {
			case *ast.Field:
				return n.Tag == nil
			case *ast.ImportSpec:
				return false
			case *ast.CallExpr:
				if fun, ok := n.Fun.(*ast.SelectorExpr); ok && fun.Sel.Name == "MustCompile" {
					return false
				}
			case *ast.BasicLit:
				if text, ok := textOf(n); ok && phrase.MatchString(text) {
					all = append(all, Phrase{filepath.Base(p.fset.Position(n.Pos()).Filename), text})
				}
			}
			return true
		})
	}
	return all
}

// Raw returns where a package takes the text of an error as it came: a call of Error on a value of the interface type error.
func (p Package) Raw() []string {
	var all []string
	for _, f := range p.files {
		ast.Inspect(f, func(n ast.Node) bool {
			call, ok := n.(*ast.CallExpr)
			if !ok || len(call.Args) > 0 {
				return true
			}
			fun, ok := call.Fun.(*ast.SelectorExpr)
			if ok && fun.Sel.Name == "Error" && types.Identical(p.info.TypeOf(fun.X), types.Universe.Lookup("error").Type()) {
				all = append(all, p.at(call.Pos()))
			}
			return true
		})
	}
	return all
}
