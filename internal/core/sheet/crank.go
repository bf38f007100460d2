package sheet

import (
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

// Crank says how the starter is run for a pull, and how it is spared.
type Crank struct {
	Seconds float64 `json:"seconds,omitzero" doc:"Seconds to crank, if cranked by time"`
	Beats   int     `json:"beats,omitzero" doc:"Compressions to count, if cranked by count"`
	About   float64 `json:"about_s" doc:"About how long the starter runs for one reading"`
	Most    float64 `json:"most_s" doc:"Longest time to run the starter at once, in seconds"`
	Rest    float64 `json:"rest_factor" doc:"Seconds of rest for each second of cranking"`
	Pedal   string  `json:"pedal,omitzero" doc:"What the helper does with the pedal"`
	Ran     float64 `json:"ran_s,omitzero" doc:"How long the starter has run in this test, as far as it was timed"`
}

// CrankOf returns how the engine of a session is cranked.
func CrankOf(e log.Engine, s log.Session) Crank {
	how := s.Conditions.Cranking
	c := Crank{About: rules.CrankPlateau, Most: rules.CrankMost, Rest: rules.CrankRest, Pedal: pedal(e, s)}
	switch how.Rule {
	case "time":
		c.Seconds, c.About = how.Seconds, how.Seconds
		c.Most = max(c.Most, c.Seconds)
	case "count":
		rpm := how.RPM
		if rpm == 0 {
			rpm = rules.CrankRPM
		}
		c.Beats = how.Count
		// A cylinder compresses once in each cycle: 720° of a four-stroke, 360° of a two-stroke.
		c.About = float64(how.Count) * e.Cycle() / 360 * 60 / rpm
		c.Most = max(c.Most, c.About)
	}
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			c.Ran += p.Seconds
		}
	}
	return c
}

// pedal says what the helper holds while it is cranked, "" where there is nothing to hold.
func pedal(e log.Engine, s log.Session) string {
	switch {
	case e.Fuel == "diesel" || s.Conditions.Throttle == "none" || s.Conditions.Throttle == "closed":
		return ""
	case e.Duty == "motorcycle" || e.Duty == "kart" || s.Place == "stand" || s.Place == "dyno":
		return say.Text("sheet.throttle-wide-open")
	}
	return say.Text("sheet.pedal-floor")
}
