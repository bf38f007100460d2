package sheet

import (
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// places in the words of the trade.
var places = map[string]string{
	log.Crankcase: say.Text("sheet.oil-filler"),
	log.Intake:    say.Text("sheet.intake"),
	log.Exhaust:   say.Text("sheet.exhaust"),
	log.Coolant:   say.Text("sheet.coolant"),
	log.Neighbour: say.Text("sheet.neighbour"),
	log.PlugHole:  say.Text("sheet.own-plug-hole"),
}

// Heard says where air was heard: "exhaust, clear; oil filler, faint". A nil list is one that nobody listened for. A two-stroke has no oil
// filler: there it is the crankcase.
func Heard(kind string, paths []log.Path) string {
	if paths == nil {
		return say.Text("sheet.not-listened")
	}
	if len(paths) == 0 {
		return say.Text("sheet.nothing-heard")
	}
	loud := []string{"", say.Text("sheet.faint"), say.Text("sheet.clear"), say.Text("sheet.strong")}
	words := make([]string, len(paths))
	for i, p := range paths {
		words[i] = places[p.Where]
		if kind == log.TwoStroke && p.Where == log.Crankcase {
			words[i] = say.Text("sheet.crankcase")
		}
		if p.Where == log.Neighbour && p.Cylinder > 0 {
			words[i] = say.Text("sheet.plug-hole", "cylinder", p.Cylinder)
		}
		if p.Level > 0 && p.Level < len(loud) {
			words[i] += loud[p.Level]
		}
	}
	return strings.Join(words, "; ")
}
