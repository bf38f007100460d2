// Package house measures how the code of a package hangs together: which of its files refer to which, how long its functions are, how
// many decimals stand inside them. Its test keeps what has been put in order in order.
package house

import (
	"fmt"
	"go/ast"
	"go/importer"
	"go/parser"
	"go/token"
	"go/types"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
)

// Package is one package of the module, parsed and with its names resolved.
type Package struct {
	Path  string
	fset  *token.FileSet
	files []*ast.File
	info  *types.Info
}

// Load reads the packages that a pattern names, as “go list” understands it, without their tests.
func Load(dir string, patterns ...string) ([]Package, error) {
	args := append([]string{"list", "-export", "-deps", "-f", "{{.ImportPath}}\t{{.Export}}\t{{.Dir}}\t{{.DepOnly}}\t{{join .GoFiles \",\"}}"}, patterns...)
	list := exec.Command("go", args...)
	list.Dir = dir
	out, err := list.Output()
	if err != nil {
		return nil, fmt.Errorf("list the packages: %w", err)
	}
	exports := map[string]string{}
	var asked [][]string
	for line := range strings.Lines(string(out)) {
		part := strings.Split(strings.TrimSpace(line), "\t")
		exports[part[0]] = part[1]
		if part[3] == "false" {
			asked = append(asked, part)
		}
	}
	fset := token.NewFileSet()
	from := importer.ForCompiler(fset, "gc", func(path string) (io.ReadCloser, error) { return os.Open(exports[path]) })
	var all []Package
	for _, part := range asked {
		p := Package{Path: part[0], fset: fset, info: &types.Info{Types: map[ast.Expr]types.TypeAndValue{},
			Uses: map[*ast.Ident]types.Object{}, Defs: map[*ast.Ident]types.Object{}, Selections: map[*ast.SelectorExpr]*types.Selection{},
		}}
		for name := range strings.SplitSeq(part[4], ",") {
			f, err := parser.ParseFile(fset, filepath.Join(part[2], name), nil, parser.ParseComments|parser.SkipObjectResolution)
			if err != nil {
				return nil, err
			}
			p.files = append(p.files, f)
		}
		config := types.Config{Importer: from}
		if _, err := config.Check(p.Path, fset, p.files, p.info); err != nil {
			return nil, err
		}
		all = append(all, p)
	}
	return all, nil
}

// References returns, for each file of the package, the others that it refers to, by name.
func (p Package) References() map[string][]string {
	all := map[string]map[string]bool{}
	for _, f := range p.files {
		all[p.file(f.Pos())] = map[string]bool{}
	}
	for name, object := range p.info.Uses {
		if object.Pkg() == nil || object.Pkg().Path() != p.Path || !object.Pos().IsValid() {
			continue
		}
		if from, to := p.file(name.Pos()), p.file(object.Pos()); from != to {
			all[from][to] = true
		}
	}
	out := map[string][]string{}
	for from, to := range all {
		for name := range to {
			out[from] = append(out[from], name)
		}
		slices.Sort(out[from])
	}
	return out
}

func (p Package) file(at token.Pos) string { return filepath.Base(p.fset.Position(at).Filename) }

// Backward returns the references between files that run in a circle: each file named with one that it refers to, and from which
// references lead back to it.
func Backward(refs map[string][]string) []string {
	var all []string
	for from, to := range refs {
		for _, name := range to {
			if reaches(refs, name, from, map[string]bool{}) {
				all = append(all, from+" → "+name)
			}
		}
	}
	slices.Sort(all)
	return all
}

func reaches(refs map[string][]string, from, to string, seen map[string]bool) bool {
	if from == to {
		return true
	}
	if seen[from] {
		return false
	}
	seen[from] = true
	return slices.ContainsFunc(refs[from], func(next string) bool { return reaches(refs, next, to, seen) })
}

// Constant is one constant of a package with its comment, and that of the group that it stands in.
type Constant struct {
	Group, Name, Doc, Value, File string
}

// Constants returns the exported constants of the package that have a comment, in the order of its files.
func (p Package) Constants() []Constant {
	var all []Constant
	for _, f := range p.files {
		group := ""
		for _, d := range f.Decls {
			block, is := d.(*ast.GenDecl)
			if !is || block.Tok != token.CONST {
				continue
			}
			if block.Lparen.IsValid() && block.Doc != nil {
				group = block.Doc.Text()
			}
			for _, spec := range block.Specs {
				one := spec.(*ast.ValueSpec)
				doc := one.Doc
				if !block.Lparen.IsValid() {
					doc = block.Doc
				}
				if name := one.Names[0]; doc != nil && name.IsExported() {
					value := p.info.Defs[name].(*types.Const).Val()
					all = append(all, Constant{strings.Join(strings.Fields(group), " "), name.Name, strings.TrimSpace(doc.Text()), value.String(), p.file(name.Pos())})
				}
			}
		}
	}
	return all
}

// Function is how long one function is and how many decimals stand in it.
type Function struct {
	Name     string
	File     string
	Lines    int
	Decimals []string
}

// Functions returns the functions of the package, the longest first.
func (p Package) Functions() []Function {
	var all []Function
	for _, f := range p.files {
		for _, d := range f.Decls {
			fn, is := d.(*ast.FuncDecl)
			if !is || fn.Body == nil {
				continue
			}
			one := Function{Name: fn.Name.Name, File: p.file(fn.Pos()), Lines: p.line(fn.End()) - p.line(fn.Pos()) + 1}
			ast.Inspect(fn.Body, func(n ast.Node) bool {
				if lit, is := n.(*ast.BasicLit); is && lit.Kind == token.FLOAT && strings.Contains(lit.Value, ".") {
					one.Decimals = append(one.Decimals, lit.Value)
				}
				return true
			})
			all = append(all, one)
		}
	}
	slices.SortStableFunc(all, func(a, b Function) int { return b.Lines - a.Lines })
	return all
}

func (p Package) line(at token.Pos) int { return p.fset.Position(at).Line }
