package papers

import (
	"fmt"
	"slices"
	"strings"

	"braxel/internal/core/compare"
	"braxel/internal/core/gas"
	"braxel/internal/core/judge"
	"braxel/internal/core/layout"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/seal"
	"braxel/internal/core/sheet"
	"braxel/internal/core/units"
)

// Kind is a paper.
type Kind string

// The papers.
const (
	Wall        Kind = "wall"
	Filled      Kind = "filled"
	Certificate Kind = "certificate"
	Season      Kind = "season"
	Tag         Kind = "tag"
	History     Kind = "history"
	Mended      Kind = "before-after"
	Label       Kind = "label"
	Report      Kind = "report"
)

// Kinds are all papers, in the order in which they are offered.
var Kinds = []Kind{Wall, Filled, Report, Mended, Certificate, Season, Tag, Label, History}

// Title is what a paper is called.
func (k Kind) Title() string {
	return map[Kind]string{
		Wall:        say.Text("papers.wall-sheet"),
		Filled:      say.Text("papers.filled-sheet"),
		Certificate: say.Text("papers.baseline-certificate"),
		Season:      say.Text("papers.season-report"),
		Report:      say.Text("papers.report"),
		Mended:      say.Text("papers.before-after"),
		Tag:         say.Text("papers.valve-cover-tag"),
		Label:       say.Text("papers.engine-label"),
		History:     say.Text("papers.history-for-sale"),
	}[k]
}

// Sticks reports whether it is printed on a label.
func (k Kind) Sticks() bool { return k == Tag || k == Label }

// Sizes of paper and of labels, millimetres wide and high. The labels are those that label printers are sold with.
var Sizes = map[string][2]float64{
	"a4": {210, 297}, "letter": {215.9, 279.4}, "62x29": {62, 29}, "62x100": {100, 62}, "89x36": {89, 36}, "102x51": {102, 51},
}

// IsLabel reports whether a size is that of a label.
func IsLabel(size string) bool { return size != "a4" && size != "letter" }

// Input is what a paper is made of.
type Input struct {
	Kind    Kind
	Log     log.Log // without what was struck whole
	Verdict judge.Verdict
	Rules   rules.Shop
	Spreads map[string]reading.Spread // how the gauges repeated, by tester
	Shop    string
	Test    string // the test that it is of; the baseline, or the last, where none is named
	Size    string // a name of Sizes; a4 where none is named
	Shows   Shows
	Picture func(test, key string) []byte // a photo of a test; nil where there is none to be had
	Address string                        // by which the shop's network reaches the engine's page, for its label
}

// Shows is what of an engine's identity a paper says.
type Shows struct {
	NoNumbers bool // without its numbers
	Contact   bool // with how its owner is reached
}

// ErrNoTest is what Make answers where a paper needs a test and there is none.
var ErrNoTest = say.Error("papers.paper-needs-test-engine-has")

// Make prints a paper as PDF.
func Make(in Input) ([]byte, error) {
	if in.Size == "" {
		in.Size = "a4"
		if in.Kind.Sticks() {
			in.Size = "89x36"
		}
	}
	if _, known := Sizes[in.Size]; !known || IsLabel(in.Size) != in.Kind.Sticks() {
		return nil, say.Error("papers.doesnt-fit", "title", strings.ToLower(in.Kind.Title()), "size", in.Size)
	}
	m := maker{Input: in, unit: sheet.Unit(in.Log, in.Rules.Shown)}
	switch in.Kind {
	case Wall:
		return m.wall()
	case Label:
		return m.label()
	}
	if err := m.find(); err != nil {
		return nil, err
	}
	switch in.Kind {
	case Filled:
		return m.filled()
	case Certificate:
		return m.certificate()
	case Report:
		return m.report()
	case Mended:
		return m.mended()
	case Season:
		return m.season()
	case Tag:
		return m.tag()
	case History:
		return m.history()
	}
	return nil, say.Error("papers.there-no-paper", "kind", in.Kind)
}

// maker makes one paper.
type maker struct {
	Input
	unit   units.Unit
	at     int // of the test
	test   log.Session
	judged judge.Session
	read   map[int]judge.Figure
}

// find looks the test up.
func (m *maker) find() error {
	m.at = m.Log.At(m.Test)
	switch {
	case len(m.Log.Sessions) == 0:
		return ErrNoTest
	case m.Test != "" && m.at < 0:
		return say.Error("papers.has-no-test", "name", m.Log.Engine.Name, "test", m.Test)
	case m.at < 0 && (m.Kind == Certificate || m.Kind == Tag):
		last := m.Log.Sessions[len(m.Log.Sessions)-1]
		m.at = compare.BaselineOf(m.Log, m.Verdict, m.Log.BuildOf(last))
	}
	if m.at < 0 {
		m.at = len(m.Log.Sessions) - 1
	}
	m.take(m.at)
	return nil
}

func (m *maker) paper() *page {
	size := Sizes[m.Size]
	foot := fmt.Sprintf("%s · %s", m.title(), m.Log.Engine.Name)
	if m.Shop != "" {
		foot = m.Shop + " · " + foot
	}
	return newPage(size[0], size[1], foot)
}

// name writes the engine's name under the title, as large as it fits.
func (m *maker) name(p *page) {
	p.y += 6.5
	p.write(margin, p.y, heavy, p.fit(heavy, 16, p.w, m.Log.Engine.Name), m.Log.Engine.Name)
	p.y += 0.5
}

// Caution stands on every paper that somebody may go by.
var Caution = say.Text("papers.test-says-how-engine-read")

func (m *maker) about() string {
	all := []string{layout.Describe(m.Log.Engine, m.Rules.Shown)}
	if m.Log.Engine.Owner != "" {
		all = append(all, say.Text("papers.of", "owner", m.Log.Engine.Owner))
	}
	return strings.Join(append(all, m.known()...), ", ")
}

// known are the numbers of the engine and how its owner is reached, as far as they are wanted.
func (m *maker) known() []string {
	var all []string
	if i := m.Log.Engine.Identity; i != nil {
		for _, n := range i.Numbers() {
			if !m.Shows.NoNumbers {
				all = append(all, say.Text("papers.number-"+n[0], "number", n[1]))
			}
		}
		if i.Builder != "" {
			all = append(all, say.Text("papers.built-by", "who", i.Builder))
		}
		if m.Shows.Contact {
			all = append(all, slices.DeleteFunc([]string{i.Phone, i.Email}, func(s string) bool { return s == "" })...)
		}
	}
	return all
}

func (m *maker) meter(v *float64) string {
	if v == nil {
		return say.Text("papers.not-noted")
	}
	return strings.TrimSpace(say.Number(*v) + " " + m.Log.Engine.MeterUnit)
}

// conditions are the head of a test as labels and values; what nobody noted is said to be so.
func (m *maker) conditions() [][2]string {
	s, c := m.test, m.test.Conditions
	said := func(text string) string {
		if text == "" {
			return say.Text("papers.not-noted")
		}
		return text
	}
	degrees := func(v *float64) string {
		if v == nil {
			return say.Text("papers.not-noted")
		}
		return m.Rules.Shown.Noted(units.Temperature, *v)
	}
	battery := say.Text("papers.not-noted")
	if c.BatteryV > 0 {
		battery = say.Number(c.BatteryV) + " V"
		if c.BatteryEnd > 0 {
			battery += say.Text("papers.at-end-v", "figure", say.Number(c.BatteryEnd))
		}
	}
	air := say.Text("papers.not-noted")
	if c.AmbientKPa > 0 {
		air = m.Rules.Shown.Noted(units.Air, c.AmbientKPa)
	} else if c.AltitudeM != nil {
		air = say.Text("papers.altitude", "figure", m.Rules.Shown.Noted(units.Height, *c.AltitudeM))
	}
	return [][2]string{
		{say.Text("papers.tested-2"), m.day(s.Date)},
		{say.Text("papers.by"), said(s.Operator)},
		{say.Text("papers.meter"), m.meter(s.Meter)},
		{say.Text("papers.occasion"), said(s.Occasion())},
		{say.Text("papers.engine"), said(c.Temp())},
		{say.Text("papers.oil"), degrees(c.OilC)},
		{say.Text("papers.throttle"), said(c.Throttle)},
		{say.Text("papers.plugs-out"), said(c.PlugsOut)},
		{say.Text("papers.battery"), battery},
		{say.Text("papers.air"), degrees(c.AmbientC)},
		{say.Text("papers.air-pressure-or-altitude"), air},
		{say.Text("papers.protocol"), m.Rules.TestedBy(m.Log, s).Name},
	}
}

// pulls returns the figures of a cylinder in one mode, as they were typed; struck and doubted ones are marked.
func (m *maker) pulls(c int, mode string) string {
	var all []string
	for _, row := range m.test.Compression {
		if row.Number() != c || row.Mode != mode {
			continue
		}
		for _, p := range row.Pulls {
			text := say.Number(p.Value)
			if p.Unit != m.unit {
				text += " " + string(p.Unit)
			}
			if row.Face > 0 {
				text = say.Text("papers.face", "face", row.Face, "text", text)
			}
			switch {
			case p.Struck != "":
				text = say.Text("papers.struck", "text", text)
			case p.Doubt != "":
				text = "(" + text + "?)"
			}
			all = append(all, text)
		}
	}
	return strings.Join(all, "  ")
}

// leaks returns the attempts on a cylinder as they were read, with the places where air was heard.
func (m *maker) leaks(c int) (read, heard string) {
	var all, places []string
	for _, row := range m.test.Leakdown {
		if row.Number() != c {
			continue
		}
		text := say.Text("papers.of-2",
			"figure", say.Number(row.Held),
			"figure2", say.Number(row.Supply),
			"unit", row.Unit,
		)
		if row.Supply > 0 {
			text += fmt.Sprintf(" = %.1f %%", gas.LeakPct(row.SupplyReading().Pressure(), row.HeldReading().Pressure()))
		}
		if row.Struck != "" {
			text = say.Text("papers.struck-2", "text", text)
		}
		all = append(all, text)
		if row.Paths != nil {
			places = append(places, sheet.Heard(m.Log.Engine.Kind, row.Paths))
		}
	}
	return strings.Join(all, "\n"), strings.Join(slices.Compact(places), "; ")
}

// day writes a date as people do.
// day writes a date as whoever asks for the paper has it.
func (m *maker) day(date string) string { return m.Rules.Shown.Day(date) }

// shown is the reading of a cylinder as the sheet shows it.
func (m *maker) shown(c int) string {
	f, read := m.read[c]
	if !read || f.SE == 0 {
		return ""
	}
	return f.Gauge.Digits(m.unit)
}

// untested says what a test leaves open.
func (m *maker) untested() []string {
	var dry, wet, leak, deaf []int
	for _, c := range m.Log.Engine.Cylinders() {
		if m.pulls(c, log.Dry) == "" {
			dry = append(dry, c)
		}
		if m.pulls(c, log.Wet) == "" {
			wet = append(wet, c)
		}
		text, heard := m.leaks(c)
		if text == "" {
			leak = append(leak, c)
		} else if heard == "" {
			deaf = append(deaf, c)
		}
	}
	all := len(m.Log.Engine.Cylinders())
	var out []string
	told := func(of []int, what string) {
		switch {
		case len(of) == all:
			out = append(out, say.Text("papers.not-done", "what", what))
		case len(of) > 0:
			out = append(out, say.Text("papers.not-done-2", "what", what, "of", log.Join(of, ", ")))
		}
	}
	told(dry, say.Text("papers.dry-compression"))
	told(wet, say.Text("papers.wet-compression"))
	told(leak, "Leak-down")
	if len(deaf) > 0 && len(leak) < all {
		out = append(out, say.Text("papers.where-air-goes-was-not", "deaf", log.Join(deaf, ", ")))
	}
	if m.test.Conditions.Cold() {
		out = append(out, say.Text("papers.tested-cold-reads-differently-hot"))
	}
	if !slices.ContainsFunc(m.test.Observations, func(o log.Observation) bool { return o.What == "borescope" && o.Struck == "" }) {
		out = append(out, say.Text("papers.no-borescope-look-inside"))
	}
	return out
}

// sealed returns the seal of the tests that a paper covers.
func (m *maker) sealed(from int) (seal.Paper, error) {
	tests := m.Log.Sessions[from : m.at+1]
	s, err := seal.Of(tests)
	id := m.Log.Engine.ID
	if id == "" {
		id = m.Log.Engine.Name
	}
	return seal.Paper{Engine: id, From: tests[0].ID, To: tests[len(tests)-1].ID, Seal: s}, err
}
