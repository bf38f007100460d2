// Command licences prints the licences of what is inside the program: Go's modules, the front end's packages, the faces.
package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"log"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
)

func main() {
	if err := errors.Join(modules(os.Stdout), packages(os.Stdout, "web")); err != nil {
		log.Fatal(err)
	}
}

// module is what go list says of one.
type module struct {
	Path, Version, Dir string
	Main               bool
}

// modules prints the licences of the modules that the program is built of, on any system.
func modules(w io.Writer) error {
	seen := map[string]module{}
	for _, system := range []string{"linux", "darwin", "windows"} {
		list := exec.Command("go", "list", "-deps", "-f", "{{with .Module}}{{.Path}}\t{{.Version}}\t{{.Dir}}\t{{.Main}}{{end}}", "./cmd/braxel")
		list.Env = append(os.Environ(), "GOOS="+system)
		out, err := list.Output()
		if err != nil {
			return fmt.Errorf("listing modules: %w", err)
		}
		for line := range strings.Lines(string(out)) {
			f := strings.Split(strings.TrimSpace(line), "\t")
			if len(f) == 4 && f[3] != "true" {
				seen[f[0]] = module{Path: f[0], Version: f[1], Dir: f[2]}
			}
		}
	}
	var paths []string
	for path := range seen {
		paths = append(paths, path)
	}
	slices.Sort(paths)
	for _, path := range paths {
		if err := one(w, path+" "+seen[path].Version, seen[path].Dir); err != nil {
			return err
		}
	}
	return one(w, "The Go standard library", filepath.Clean(goroot()))
}

func goroot() string {
	out, err := exec.Command("go", "env", "GOROOT").Output()
	if err != nil {
		return ""
	}
	return strings.TrimSpace(string(out))
}

// packages prints the licences of what the front end ships: what its package.json names as dependencies, and theirs.
func packages(w io.Writer, dir string) error {
	text, err := os.ReadFile(filepath.Join(dir, "package-lock.json"))
	if err != nil {
		return err
	}
	var lock struct {
		Packages map[string]struct {
			Version string
			Dev     bool
		}
	}
	if err := json.Unmarshal(text, &lock); err != nil {
		return err
	}
	var names []string
	for name, p := range lock.Packages {
		if name != "" && !p.Dev {
			names = append(names, name)
		}
	}
	slices.Sort(names)
	for _, name := range names {
		at := filepath.Join(dir, name)
		if _, err := os.Stat(at); err != nil {
			continue // for another system
		}
		if err := one(w, strings.TrimPrefix(name, "node_modules/")+" "+lock.Packages[name].Version, at); err != nil {
			return err
		}
	}
	return nil
}

// one prints the licence that lies in a directory.
func one(w io.Writer, name, dir string) error {
	files, err := os.ReadDir(dir)
	if err != nil {
		return err
	}
	for _, f := range files {
		lower := strings.ToLower(f.Name())
		if f.IsDir() || !strings.HasPrefix(lower, "licen") && !strings.HasPrefix(lower, "copying") {
			continue
		}
		text, err := os.ReadFile(filepath.Join(dir, f.Name()))
		if err != nil {
			return err
		}
		_, err = fmt.Fprintf(w, "%s\n%s\n\n%s\n\n\n", name, strings.Repeat("=", len(name)), bytes.TrimSpace(text))
		return err
	}
	_, err = fmt.Fprintf(w, "%s\n%s\n\nNo licence file lies in it; see its own pages.\n\n\n", name, strings.Repeat("=", len(name)))
	return err
}
