package written

import (
	"regexp"
	"strconv"

	"braxel/internal/core/log"
)

// PlacesIn returns where folded text says that air was heard.
func PlacesIn(text string) []string {
	var all []string
	for _, w := range Word.FindAllString(text, -1) {
		if p, ok := known().places[w]; ok {
			all = append(all, placeOf(p))
		}
	}
	return all
}

// PlaceLetter returns the letter that stands for a place: c, i, e, w, n, p.
func PlaceLetter(where string) string {
	for _, letter := range "ciewnp" {
		if p, ok := known().places[string(letter)]; ok && placeOf(p) == where {
			return string(letter)
		}
	}
	return ""
}

// placeOf returns the log's word for a place of the table.
func placeOf(name string) string {
	if name == "plug" {
		return log.PlugHole
	}
	return name
}

var nothingHeard = regexp.MustCompile(`^(?:none|nothing|silent|quiet|no air|nowhere|rien|nichts|niente|nada|niets|inget|ei mitaan|nic|0)$`)

// PathsIn reads where air was heard, and how loud; heard reports whether somebody listened.
func PathsIn(text string) (paths []log.Path, heard bool) {
	t := Fold(text)
	if nothingHeard.MatchString(t) {
		return []log.Path{}, true
	}
	level := 0
	seen := map[string]bool{}
	for _, w := range Word.FindAllString(t, -1) {
		if l, ok := known().levels[w]; ok {
			level, _ = strconv.Atoi(l)
		}
		p, ok := known().places[w]
		if !ok || seen[p] {
			continue
		}
		seen[p] = true
		paths = append(paths, log.Path{Where: placeOf(p), Level: level})
		level = 0
	}
	if level > 0 && len(paths) == 1 {
		paths[0].Level = level
	}
	return paths, len(paths) > 0
}
