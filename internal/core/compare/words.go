package compare

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/reading"
	"braxel/internal/core/rules"
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
		r.Answer = Untold
		r.Sentence = p.gauges(r)
	case Season, Change:
		r.Answer = answerOf(r.Cylinders)
		r.Sentence = p.moved(r)
		if t := r.Together; told(t) && (r.Answer == Untold || r.Answer == Same) {
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
	if r.Answer == Untold && r.Purpose != Gauges {
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
func answerOf(all []Cylinder) Move {
	switch {
	case some(all, Worse):
		return Worse
	case some(all, Better):
		return Better
	case len(all) > 0 && len(of(all, Same)) == len(all):
		return Same
	}
	return Untold
}

func some(all []Cylinder, m Move) bool { return len(of(all, m)) > 0 }

func of(all []Cylinder, m Move) []Cylinder {
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
	better, worse, hurt := of(asked, Better), of(asked, Worse), of(others, Worse)
	var words []string
	switch {
	case len(hurt) > 0 && len(better) > 0 && len(worse) == 0:
		words = append(words, "It helped in part. "+p.changed(better))
	case len(worse) > 0 && len(better) > 0:
		words = append(words, "It helped in part. "+p.changed(better)+" "+p.changed(worse))
	case len(worse) > 0:
		words = append(words, "It did not help, for sure. "+p.changed(worse))
	case len(better) == len(asked):
		words = append(words, "It helped, for sure. "+p.changed(better))
	case len(better) > 0:
		rest := slices.DeleteFunc(slices.Clone(asked), func(c Cylinder) bool { return c.Move == Better })
		words = append(words, "It helped in part. "+p.changed(better)+" "+p.untold(rest))
	case len(of(asked, Same)) == len(asked):
		words = append(words, fmt.Sprintf("It changed nothing that matters. %s stood within %s.", p.names(asked), within(asked)))
	case r.Together != nil && r.Together.Move == Better && len(asked) == len(r.Cylinders):
		words = append(words, fmt.Sprintf("All came up together by %.0f %%, more than battery, heat or gauge usually do. %s",
			r.Together.By, "Which cylinder gained by itself cannot be told."))
	default:
		words = append(words, "Cannot tell whether it helped. "+p.untold(asked))
	}
	if len(hurt) > 0 {
		words = append(words, p.changed(hurt)+" That is new.")
		r.Answer = Worse
	}
	if bad := p.after.InConcern(); len(bad) > 0 && r.Answer == Better {
		words = append(words, fmt.Sprintf("Still to be looked at: %s.", p.called(bad)))
	}
	return strings.Join(words, " ")
}

// moved says what became of each cylinder over a season, or any stretch.
func (p *pair) moved(r *Result) string {
	worse, better := of(r.Cylinders, Worse), of(r.Cylinders, Better)
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
	rest := slices.DeleteFunc(slices.Clone(r.Cylinders), func(c Cylinder) bool { return c.Move == Worse || c.Move == Better })
	switch {
	case len(r.Cylinders) == 0:
		words = append(words, "Nothing was measured at both tests.")
	case len(rest) == 0:
	case len(words) > 0 && len(of(rest, Same)) == len(rest):
		words = append(words, fmt.Sprintf("The others stood, within %s.", within(rest)))
	case len(words) > 0:
		words = append(words, "Of the others no change can be told.")
	case len(of(rest, Same)) == len(rest):
		words = append(words, fmt.Sprintf("No %s changed by more than %s.", strings.ToLower(p.log.Engine.Noun()), within(rest)))
	default:
		words = append(words, "No change of any "+strings.ToLower(p.log.Engine.Noun())+" can be told for sure. "+p.untold(rest))
	}
	return strings.Join(words, " ")
}

// gauges says how two gauges differ on one engine.
func (p *pair) gauges(r *Result) string {
	t := r.Together
	if t == nil {
		return "One " + strings.ToLower(p.log.Engine.Noun()) + " alone cannot tell two gauges apart from two visits."
	}
	from, to := judge.GaugeOf(p.log, p.from), judge.GaugeOf(p.log, p.to)
	way := "more"
	if t.By < 0 {
		way = "less"
	}
	if math.Abs(t.By) < z95*t.SE {
		return fmt.Sprintf("%s and %s agree within %.1f %%.", sentence(to), from, math.Max(math.Abs(t.Low), math.Abs(t.High)))
	}
	return fmt.Sprintf("%s reads %.1f %% %s than %s, give or take %.1f. One visit's battery and heat are in that.",
		sentence(to), math.Abs(t.By), way, from, z95*t.SE)
}

// changed says of cylinders that moved for sure how far: "Cylinder 3 came back by 9.3 %, and its leak went from 14 % to 4 %."
func (p *pair) changed(all []Cylinder) string {
	const few = 3
	if len(all) > few {
		verb := "gained"
		if all[0].Move == Worse {
			verb = "lost"
		}
		return fmt.Sprintf("%ss %s %s.", p.log.Engine.Noun(), list(all), verb)
	}
	var words []string
	for _, c := range all {
		var parts []string
		if m := c.Compression; m != nil && (m.Move == c.Move || c.Leak == nil || math.Abs(m.By) > 2*m.SE) {
			verb := "came up by"
			if m.By < 0 {
				verb = "lost"
			}
			parts = append(parts, fmt.Sprintf("%s %.1f %%", verb, math.Abs(m.By)))
		}
		if m := c.Leak; m != nil && (m.Move == c.Move || len(parts) == 0 || math.Abs(m.By) > 2*m.SE) {
			parts = append(parts, fmt.Sprintf("its leak went from %.0f %% to %.0f %%", p.a[c.Cylinder].Leak, p.b[c.Cylinder].Leak))
		}
		subject := p.log.Engine.Noun() + " " + c.Called + " "
		if strings.HasPrefix(parts[0], "its") {
			parts[0], subject = "of "+strings.ToLower(p.log.Engine.Noun())+" "+c.Called+strings.TrimPrefix(parts[0], "its leak"), "The leak "
		}
		words = append(words, subject+strings.Join(parts, ", and ")+".")
	}
	return strings.Join(words, " ")
}

// untold says of cylinders of which no change can be told how large it may be.
func (p *pair) untold(all []Cylinder) string {
	if len(all) == 0 {
		return "Nothing was measured at both tests."
	}
	return fmt.Sprintf("%s may have changed by %s.", p.names(all), upTo(all))
}

func (p *pair) names(all []Cylinder) string {
	switch {
	case len(all) > 1 && len(all) == len(p.log.Engine.Cylinders()):
		return "Each " + strings.ToLower(p.log.Engine.Noun())
	case len(all) == 1:
		return p.log.Engine.Noun() + " " + all[0].Called
	}
	return p.log.Engine.Noun() + "s " + list(all)
}

func list(all []Cylinder) string {
	var names []string
	for _, c := range all {
		names = append(names, c.Called)
	}
	return log.And(names)
}

func (p *pair) called(cylinders []int) string {
	var names []string
	for _, c := range cylinders {
		names = append(names, p.log.Engine.Called(c))
	}
	word := strings.ToLower(p.log.Engine.Noun()) + "s "
	if len(names) == 1 {
		word = strings.ToLower(p.log.Engine.Noun()) + " "
	}
	return word + log.And(names)
}

// within says between which bounds cylinders stood for sure.
func within(all []Cylinder) string { return bounds(all, "and") }

// upTo says how far cylinders of which nothing can be told may have gone.
func upTo(all []Cylinder) string { return "up to " + bounds(all, "or") }

func bounds(all []Cylinder, join string) string {
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
		words = append(words, fmt.Sprintf("%.1f %% of compression", comp))
	}
	if leak > 0 {
		words = append(words, fmt.Sprintf("%.1f points of leak", leak))
	}
	return strings.Join(words, " "+join+" ")
}

// told reports whether what all did is more than the testing usually makes.
func told(t *Moved) bool { return t != nil && (t.Move == Better || t.Move == Worse) }

// together says what all did, where it is more than nothing.
func (p *pair) together(r *Result) string {
	t := r.Together
	if t == nil || r.Purpose == Gauges || math.Abs(t.By) < 2*t.SE || math.Abs(t.By) < 1 {
		return ""
	}
	way := "rose"
	if t.By < 0 {
		way = "fell"
	}
	cause := "battery, heat, weather or gauge can do that, and it is taken off each cylinder's change"
	if t.Move != Untold {
		cause = "that is more than battery, heat or weather usually do"
	}
	return fmt.Sprintf("All %s together by %.1f %%: %s.", way, math.Abs(t.By), cause)
}

// alike says in what the two were made alike, and in what not.
func (p *pair) alike() string {
	var same, apart []string
	a, b := judge.GaugeOf(p.log, p.from), judge.GaugeOf(p.log, p.to)
	if a != "" && a == b {
		same = append(same, "same gauge")
	}
	if t := p.from.Conditions.EngineTemp; t != "" && t == p.to.Conditions.EngineTemp {
		same = append(same, "both "+t)
	}
	for _, u := range p.unlike {
		switch u.What {
		case "gauge":
			apart = append(apart, fmt.Sprintf("read on %s, then on %s", u.Then, u.Now))
		case "temp":
			apart = append(apart, fmt.Sprintf("%s, then %s", u.Then, u.Now))
		case "throttle":
			apart = append(apart, fmt.Sprintf("throttle %s, then %s", u.Then, u.Now))
		case "plugs":
			apart = append(apart, fmt.Sprintf("plugs out %s, then %s", u.Then, u.Now))
		case "position":
			apart = append(apart, fmt.Sprintf("leak-down at %s, then at %s", strings.ToUpper(u.Then), strings.ToUpper(u.Now)))
		}
	}
	words := sentence(strings.Join(append(same, apart...), ", "))
	if words == "" {
		words = "How either was tested is not noted"
	}
	if len(apart) > 0 {
		words += ": what that usually does is taken off, and its doubt is in the figures"
	}
	return words + "."
}

// odds says how likely chance alone makes what was found.
func (p *pair) odds(r *Result, asked []Cylinder) string {
	if r.Answer != Better && r.Answer != Worse {
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
		return "By chance, or by a slip of testing, such a change comes less than once in 10 000 such pairs."
	}
	return fmt.Sprintf("By chance, or by a slip of testing, such a change comes once in %s such pairs.", thousands(1/least))
}

// thousands writes a count in round figures, with spaces.
func thousands(v float64) string {
	scale := math.Pow(10, math.Floor(math.Log10(v)))
	n := int(math.Round(v/scale) * scale)
	if n < 1000 {
		return fmt.Sprint(n)
	}
	return fmt.Sprintf("%d %03d", n/1000, n%1000)
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
		reasons = append(reasons, "from one test on a gauge of "+t)
	}
	if single {
		reasons = append(reasons, "from single pulls")
	}
	if p.differ("gauge") {
		reasons = append(reasons, "across two gauges")
	}
	if p.differ("temp") {
		reasons = append(reasons, "from one cold test and one hot")
	}
	words := "It cannot be told from one test on each side"
	if len(reasons) > 0 {
		words = "It cannot be told " + log.And(reasons)
	}
	next := "test once more, the same way"
	switch {
	case single:
		next = "test once more, and pull until two agree"
	case !leaked:
		next = "test once more, and leak it down both times"
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
		return "another build"
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
			return name + ", before and after: " + r.Between
		}
		return name + ", before and after the repair"
	case Builds:
		return name + ", one build beside the next"
	case Gauges:
		return name + " on two gauges"
	case Season:
		if year := p.to.Date[:4]; p.to.Stage == "post-season" {
			return name + ", what season " + year + " cost"
		}
		return name + ", over the winter"
	}
	return name + ", one test beside the other"
}

func sentence(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}
