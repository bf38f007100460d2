package compare

import (
	"math"
	"slices"
	"strings"

	"braxel/internal/core/judge"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/core/twice"
	"braxel/internal/core/units"
)

// tell answers what the two are laid beside each other for, in words made from what was found.
func (p *pair) tell(r *Result) {
	r.Between = p.happened()
	r.Title = p.title(r)
	asked := p.asked(r)
	switch r.Purpose {
	case Repair, Builds:
		r.Answer = answerOf(asked)
		r.Sentence = p.helped(r, asked)
	case Gauges:
		r.Answer = twice.Untold
		r.Sentence = p.gauges(r)
	case Season, Change:
		r.Answer = answerOf(r.Cylinders)
		r.Sentence = p.moved(r)
		if t := r.Together; told(t) && (r.Answer == twice.Untold || r.Answer == twice.Same) {
			r.Answer = t.Move
		}
	}
	if together := p.together(r); together != "" && (r.Purpose == Repair || r.Purpose == Builds || !told(r.Together)) {
		r.Notes = append(r.Notes, together)
	}
	r.Notes = append(r.Notes, p.alike())
	if odds := p.odds(r, asked); odds != "" {
		r.Notes = append(r.Notes, odds)
	}
	if r.Answer == twice.Untold && r.Purpose != Gauges {
		r.Advice = p.advice(asked)
	}
}

// asked returns the cylinders that the repair was for: those in concern before it, else all.
func (p *pair) asked(r *Result) []Cylinder {
	concern := p.before.InConcern()
	if r.Purpose == Season || r.Purpose == Change || r.Purpose == Gauges {
		return r.Cylinders
	}
	var asked []Cylinder
	for _, c := range r.Cylinders {
		if slices.Contains(concern, c.Cylinder) {
			asked = append(asked, c)
		}
	}
	if len(asked) == 0 {
		return r.Cylinders
	}
	return asked
}

// answerOf is what became of several cylinders: worse if any is, better if any is and none worse, the same if all are.
func answerOf(all []Cylinder) twice.Move {
	switch {
	case some(all, twice.Worse):
		return twice.Worse
	case some(all, twice.Better):
		return twice.Better
	case len(all) > 0 && len(of(all, twice.Same)) == len(all):
		return twice.Same
	}
	return twice.Untold
}

func some(all []Cylinder, m twice.Move) bool { return len(of(all, m)) > 0 }

func of(all []Cylinder, m twice.Move) []Cylinder {
	var found []Cylinder
	for _, c := range all {
		if c.Move == m {
			found = append(found, c)
		}
	}
	return found
}

// helped answers whether a repair, or a rebuild, helped.
func (p *pair) helped(r *Result, asked []Cylinder) string {
	var others []Cylinder
	for _, c := range r.Cylinders {
		if !slices.ContainsFunc(asked, func(a Cylinder) bool { return a.Cylinder == c.Cylinder }) {
			others = append(others, c)
		}
	}
	better, worse, hurt := of(asked, twice.Better), of(asked, twice.Worse), of(others, twice.Worse)
	var words []string
	switch {
	case len(hurt) > 0 && len(better) > 0 && len(worse) == 0:
		words = append(words, say.Text("compare.partly-helped", "changed", p.changed(better)))
	case len(worse) > 0 && len(better) > 0:
		words = append(words, say.Text("compare.partly-helped-2",
			"changed", p.changed(better),
			"changed2", p.changed(worse),
		))
	case len(worse) > 0:
		words = append(words, say.Text("compare.surely-didnt-help", "changed", p.changed(worse)))
	case len(better) == len(asked):
		words = append(words, say.Text("compare.surely-helped", "changed", p.changed(better)))
	case len(better) > 0:
		rest := slices.DeleteFunc(slices.Clone(asked), func(c Cylinder) bool { return c.Move == twice.Better })
		words = append(words, say.Text("compare.partly-helped-3", "changed", p.changed(better), "untold", p.untold(rest)))
	case len(of(asked, twice.Same)) == len(asked):
		words = append(words, say.Text("compare.made-no-difference-matters-stayed",
			"names", p.names(asked),
			"within", within(asked),
		))
	case r.Together != nil && r.Together.Move == twice.Better && len(asked) == len(r.Cylinders):
		words = append(words, say.Text("compare.all-came-up-together-more",
			"by", r.Together.By,
			"value", say.Text("compare.which-cylinder-gained-own-cant"),
		))
	default:
		words = append(words, say.Text("compare.cant-tell-yet-whether-helped", "untold", p.untold(asked)))
	}
	if len(hurt) > 0 {
		words = append(words, say.Text("compare.new", "changed", p.changed(hurt)))
		r.Answer = twice.Worse
	}
	if bad := p.after.InConcern(); len(bad) > 0 && r.Answer == twice.Better {
		words = append(words, say.Text("compare.still-needs-look", "called", p.called(bad)))
	}
	return strings.Join(words, " ")
}

// moved says what became of each cylinder over a season, or any stretch.
func (p *pair) moved(r *Result) string {
	worse, better := of(r.Cylinders, twice.Worse), of(r.Cylinders, twice.Better)
	var words []string
	if told(r.Together) {
		words = append(words, p.together(r))
	}
	if len(worse) > 0 {
		words = append(words, p.changed(worse))
	}
	if len(better) > 0 {
		words = append(words, p.changed(better))
	}
	rest := slices.DeleteFunc(slices.Clone(r.Cylinders), func(c Cylinder) bool { return c.Move == twice.Worse || c.Move == twice.Better })
	switch {
	case len(r.Cylinders) == 0:
		words = append(words, say.Text("compare.nothing-was-measured-at-both"))
	case len(rest) == 0:
	case len(words) > 0 && len(of(rest, twice.Same)) == len(rest):
		words = append(words, say.Text("compare.rest-stayed-within", "within", within(rest)))
	case len(words) > 0:
		words = append(words, say.Text("compare.no-change-can-told-for"))
	case len(of(rest, twice.Same)) == len(rest):
		words = append(words, say.Text("compare.no-changed-more-than",
			"noun", p.log.Engine.Nouns(1),
			"within", within(rest),
		))
	default:
		words = append(words, say.Text("compare.no-sure-change-any",
			"noun", p.log.Engine.Nouns(1),
			"untold", p.untold(rest),
		))
	}
	return strings.Join(words, " ")
}

// gauges says how two gauges differ on one engine.
func (p *pair) gauges(r *Result) string {
	t := r.Together
	if t == nil {
		return say.Text("compare.with-one-alone-two-gauges", "noun", p.log.Engine.Nouns(1))
	}
	from, to := judge.GaugeOf(p.log, p.from), judge.GaugeOf(p.log, p.to)
	if math.Abs(t.By) < twice.Z95*t.SE {
		return say.Text("compare.agree",
			"to", say.Capital(to),
			"from", from,
			"low", math.Max(math.Abs(t.Low), math.Abs(t.High)),
		)
	}
	id := "compare.reads-more"
	if t.By < 0 {
		id = "compare.reads-less"
	}
	return say.Text(id,
		"to", say.Capital(to),
		"by", math.Abs(t.By),
		"from", from,
		"z95", twice.Z95*t.SE,
	)
}

// changed says of cylinders that moved for sure how far: "Cylinder 3 came up 9.3 %, and its leak went from 14 to 4 %."
func (p *pair) changed(all []Cylinder) string {
	const few = 3
	if len(all) > few {
		if all[0].Move == twice.Worse {
			return say.Text("compare.these-lost", "who", p.names(all))
		}
		return say.Text("compare.these-gained", "who", p.names(all))
	}
	var words []string
	for _, c := range all {
		words = append(words, p.changedOne(c))
	}
	return strings.Join(words, " ")
}

// changedOne says how far one cylinder moved: by compression, by leak, or by both where both are sure.
func (p *pair) changedOne(c Cylinder) string {
	sure := func(m *twice.Moved, other bool) bool {
		return m != nil && (m.Move == c.Move || !other || math.Abs(m.By) > 2*m.SE)
	}
	comp := sure(c.Compression, c.Leak != nil)
	id := "compare.changed-leak"
	switch leak := sure(c.Leak, comp); {
	case comp && c.Compression.By < 0 && leak:
		id = "compare.changed-lost-and-leak"
	case comp && c.Compression.By < 0:
		id = "compare.changed-lost"
	case comp && leak:
		id = "compare.changed-gained-and-leak"
	case comp:
		id = "compare.changed-gained"
	}
	by := 0.0
	if c.Compression != nil {
		by = math.Abs(c.Compression.By)
	}
	return say.Text(id, "who", p.names([]Cylinder{c}), "by", by, "leak", p.a[c.Cylinder].Leak, "now", p.b[c.Cylinder].Leak)
}

// untold says of cylinders of which no change can be told how large it may be.
func (p *pair) untold(all []Cylinder) string {
	if len(all) == 0 {
		return say.Text("compare.nothing-was-measured-at-both")
	}
	return say.Text("compare.may-have-changed", "names", p.names(all), "upTo", upTo(all))
}

func (p *pair) names(all []Cylinder) string {
	switch {
	case len(all) > 1 && len(all) == len(p.log.Engine.Cylinders()):
		return say.Text("compare.each", "noun", p.log.Engine.Nouns(1))
	}
	return say.Capital(p.log.Engine.Nouns(len(all))) + " " + list(all)
}

func list(all []Cylinder) string {
	var names []string
	for _, c := range all {
		names = append(names, c.Called)
	}
	return say.And(names)
}

func (p *pair) called(cylinders []int) string {
	var names []string
	for _, c := range cylinders {
		names = append(names, p.log.Engine.Called(c))
	}
	return p.log.Engine.Nouns(len(names)) + " " + say.And(names)
}

// within says between which bounds cylinders stood for sure.
func within(all []Cylinder) string { return bounds(all, say.And) }

// upTo says how far cylinders of which nothing can be told may have gone.
func upTo(all []Cylinder) string { return say.Text("compare.up", "bounds", bounds(all, say.Or)) }

func bounds(all []Cylinder, join func([]string) string) string {
	comp, leak := 0.0, 0.0
	for _, c := range all {
		if m := c.Compression; m != nil {
			comp = max(comp, math.Abs(m.Low), math.Abs(m.High))
		}
		if m := c.Leak; m != nil {
			leak = max(leak, math.Abs(m.Low), math.Abs(m.High))
		}
	}
	var words []string
	if comp > 0 {
		words = append(words, say.Text("compare.compression-2", "comp", comp))
	}
	if leak > 0 {
		words = append(words, say.Text("compare.points-leak", "leak", leak))
	}
	return join(words)
}

// told reports whether what all did is more than the testing usually makes.
func told(t *twice.Moved) bool { return t != nil && (t.Move == twice.Better || t.Move == twice.Worse) }

// together says what all did, where it is more than nothing.
func (p *pair) together(r *Result) string {
	t := r.Together
	if t == nil || r.Purpose == Gauges || math.Abs(t.By) < 2*t.SE || math.Abs(t.By) < 1 {
		return ""
	}
	id := "compare.all-rose"
	if t.By < 0 {
		id = "compare.all-fell"
	}
	cause := say.Text("compare.battery-heat-weather-or-gauge")
	if t.Move != twice.Untold {
		cause = say.Text("compare.more-than-battery-heat-or")
	}
	return say.Text(id, "by", math.Abs(t.By), "cause", cause)
}

// alike says in what the two were made alike, and in what not.
func (p *pair) alike() string {
	var same, apart []string
	a, b := judge.GaugeOf(p.log, p.from), judge.GaugeOf(p.log, p.to)
	if a != "" && a == b {
		same = append(same, say.Text("compare.same-gauge"))
	}
	if t := p.from.Conditions.EngineTemp; t != "" && t == p.to.Conditions.EngineTemp {
		same = append(same, say.Text("compare.both", "t", p.from.Conditions.Temp()))
	}
	for _, u := range p.unlike {
		switch u.What {
		case "gauge":
			apart = append(apart, say.Text("compare.read-then", "then", u.Then, "now", u.Now))
		case "temp":
			apart = append(apart, say.Text("compare.then", "then", u.Then, "now", u.Now))
		case "throttle":
			apart = append(apart, say.Text("compare.throttle-then", "then", u.Then, "now", u.Now))
		case "plugs":
			apart = append(apart, say.Text("compare.plugs-out-then", "then", u.Then, "now", u.Now))
		case "position":
			apart = append(apart, say.Text("compare.leak-down-at-then-at",
				"then", strings.ToUpper(u.Then),
				"now", strings.ToUpper(u.Now),
			))
		}
	}
	words := say.Capital(strings.Join(append(same, apart...), ", "))
	if words == "" {
		words = say.Text("compare.how-they-were-tested-not")
	}
	if len(apart) > 0 {
		words += say.Text("compare.typical-effect-taken-off-extra")
	}
	return words + "."
}

// odds says how likely chance alone makes what was found.
func (p *pair) odds(r *Result, asked []Cylinder) string {
	if r.Answer != twice.Better && r.Answer != twice.Worse {
		return ""
	}
	least := 1.0
	for _, c := range asked {
		if c.Move == r.Answer {
			least = min(least, c.Chance)
		}
	}
	const hardly = 1e-4
	switch {
	case least >= rules.Sure:
		return ""
	case least < hardly:
		return say.Text("compare.chance-or-testing-slip-makes")
	}
	return say.Text("compare.chance-or-testing-slip-makes-2", "pairs", round(1/least))
}

// round returns a count in round figures: its first digit, and noughts.
func round(v float64) float64 {
	scale := math.Pow(10, math.Floor(math.Log10(v)))
	return math.Round(v/scale) * scale
}

// advice says what would tell, where the two tests cannot.
func (p *pair) advice(asked []Cylinder) string {
	var reasons []string
	single, leaked := false, false
	for _, c := range asked {
		single = single || (c.Compression != nil && min(p.a[c.Cylinder].Pulls, p.b[c.Cylinder].Pulls) < 2)
		leaked = leaked || c.Leak != nil
	}
	if t := p.coarse(); t != "" {
		reasons = append(reasons, say.Text("compare.from-one-test-gauge", "t", t))
	}
	if single {
		reasons = append(reasons, say.Text("compare.from-single-readings"))
	}
	if p.differ("gauge") {
		reasons = append(reasons, say.Text("compare.across-two-gauges"))
	}
	if p.differ("temp") {
		reasons = append(reasons, say.Text("compare.from-one-cold-one-hot"))
	}
	words := say.Text("compare.one-test-each-side-cant")
	if len(reasons) > 0 {
		words = say.Text("compare.cant-told", "reasons", say.And(reasons))
	}
	next := say.Text("compare.test-once-more-same-way")
	switch {
	case single:
		next = say.Text("compare.test-once-more-repeating-each")
	case !leaked:
		next = say.Text("compare.test-once-more-with-leak")
	}
	return words + ": " + next + "."
}

// coarse returns the division of the gauge where that is a good part of the doubt, in words.
func (p *pair) coarse() string {
	for _, row := range p.to.Compression {
		t, ok := p.log.Tester(row.Tester)
		f := p.b[row.Number()]
		if !ok || f.SE == 0 || !(f.Gauge > 0) {
			continue
		}
		division := reading.DivisionOf(t)
		if float64(division/f.Gauge)/math.Sqrt(12) < f.SE/2 {
			continue
		}
		if t.Resolution != nil {
			return t.Resolution.String()
		}
		return units.Reading{Value: division.In(units.PSI), Unit: units.PSI}.String()
	}
	return ""
}

// happened says what lies between the two tests.
func (p *pair) happened() string {
	if to := p.log.BuildOf(p.to); to != p.log.BuildOf(p.from) {
		for _, b := range p.log.Builds {
			if b.ID == to && b.What != "" {
				return b.What
			}
		}
		return say.Text("compare.another-build")
	}
	var words []string
	for _, e := range p.eventsBetween() {
		words = append(words, e.What)
	}
	return strings.Join(words, "; ")
}

func (p *pair) title(r *Result) string {
	name := p.log.Engine.Name
	switch r.Purpose {
	case Repair:
		if r.Between != "" {
			return say.Text("compare.before-after", "name", name, "between", r.Between)
		}
		return say.Text("compare.before-after-repair", "name", name)
	case Builds:
		return say.Text("compare.one-build-next", "name", name)
	case Gauges:
		return say.Text("compare.two-gauges", "name", name)
	case Season:
		if year := p.to.Date[:4]; p.to.Stage == "post-season" {
			return say.Text("compare.what-season-cost-2", "name", name, "year", year)
		}
		return say.Text("compare.over-winter", "name", name)
	}
	return say.Text("compare.two-tests-compared", "name", name)
}
