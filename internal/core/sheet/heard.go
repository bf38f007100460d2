package sheet

import (
	"fmt"
	"strings"

	"braxel/internal/core/log"
)

// places in the words of the trade.
var places = map[string]string{
	log.Crankcase: "oil filler", log.Intake: "intake", log.Exhaust: "exhaust", log.Coolant: "coolant", log.Neighbour: "neighbour", log.PlugHole: "its own plug hole",
}

// Heard says where air was heard: "exhaust, clear; oil filler, faint". A nil list is one that nobody listened for.
func Heard(paths []log.Path) string {
	if paths == nil {
		return "nobody listened"
	}
	if len(paths) == 0 {
		return "listened, nothing"
	}
	loud := []string{"", ", faint", ", clear", ", strong"}
	words := make([]string, len(paths))
	for i, p := range paths {
		words[i] = places[p.Where]
		if p.Where == log.Neighbour && p.Cylinder > 0 {
			words[i] = fmt.Sprintf("plug hole of %d", p.Cylinder)
		}
		if p.Level > 0 && p.Level < len(loud) {
			words[i] += loud[p.Level]
		}
	}
	return strings.Join(words, "; ")
}
