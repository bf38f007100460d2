package table

import (
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/core/units"
	"braxel/internal/core/written"
)

// slips looks at figures that cannot be what they seem, once all are known.
func (r *reader) slips() {
	r.percentSlips()
	var all []float64
	for _, t := range r.tests {
		for _, k := range t.taken {
			if k.kind != Leak && k.pull.shown() == nil {
				all = append(all, k.pull.pressure())
			}
		}
	}
	const enough = 4
	mid := 0.0
	if len(all) >= enough {
		mid = middle(all)
	}
	r.pressureSlips(mid)
	r.doubtful()
}

// A figure is looked at for a slip where it is this far from the middle of its sheet; one mended has to come this near to it.
const farBelow, farAbove, nearBelow, nearAbove = 0.2, 2.2, 0.75, 1.35

// pressureSlips refuses figures that no gauge shows beside the others, and asks about those that are only strange.
func (r *reader) pressureSlips(mid float64) {
	var far []string
	for _, t := range r.tests {
		t.taken = slices.DeleteFunc(t.taken, func(k taken) bool {
			if k.kind == Leak {
				return false
			}
			if err := k.pull.shown(); err != nil {
				r.refuse(k.line, k.column, k.line.at(k.column), firstOf(likelySlip(k.pull, mid), err.Error()))
				return true
			}
			if k.pull.value == 0 || mid == 0 || k.pull.struck != "" {
				return false
			}
			ratio := k.pull.pressure() / mid
			if ratio > farBelow && ratio < farAbove {
				return false
			}
			text := k.line.at(k.column)
			if why := likelySlip(k.pull, mid); why != "" {
				r.refuse(k.line, k.column, text, why)
				return true
			}
			if r.picks.Far == leave {
				r.refuse(k.line, k.column, text, say.Text("table.far-left"))
				return true
			}
			far = append(far, text)
			return false
		})
	}
	if len(far) == 0 || r.picks.Far != "" {
		return
	}
	r.out.Asked = append(r.out.Asked, Asked{
		What: AskFar, Sheet: r.sheet.Title, Must: true, Text: strings.Join(far[:min(len(far), 8)], ", "),
		Words: say.Text("table.ask-far", "n", len(far)),
		Choices: []Reply{
			{Name: "take", Words: say.Text("table.far-take"), Picks: Picks{Far: "take"}},
			{Name: leave, Words: say.Text("table.far-leave"), Picks: Picks{Far: leave}},
		},
	})
}

// shown reports why no gauge shows a pull.
func (p pulled) shown() error { return units.Check(units.Reading{Value: p.value, Unit: p.unit}) }

// likelySlip says which slip makes a figure of one like the others: "" where none does, or a dead cylinder reads so.
func likelySlip(p pulled, mid float64) string {
	if mid == 0 {
		return ""
	}
	near := func(kpa float64) bool { return kpa/mid > nearBelow && kpa/mid < nearAbove }
	kpa := p.pressure()
	switch {
	case near(kpa / 10):
		return say.Text("table.nought-too-many", "value", say.Number(p.value))
	case near(kpa / 100):
		return say.Text("table.sign-missing", "value", say.Number(p.value))
	case near(kpa*10) && p.value != math.Trunc(p.value):
		return say.Text("table.sign-too-many", "value", say.Number(p.value))
	}
	for _, u := range []units.Unit{units.PSI, units.Bar, units.KPa} {
		if u != p.unit && near(float64(units.Reading{Value: p.value, Unit: u}.Pressure())) {
			return say.Text("table.other-unit", "value", say.Number(p.value), "unit", u)
		}
	}
	if kpa > mid {
		return say.Text("table.far-above", "value", say.Number(p.value))
	}
	return ""
}

// percentSlips reads 0.04 among percents as 4.
func (r *reader) percentSlips() {
	whole, parts := 0, 0
	each := func(do func(k *taken, bare bool)) {
		for _, t := range r.tests {
			for i := range t.taken {
				if k := &t.taken[i]; k.kind == Leak && k.leak.pct != nil {
					do(k, !strings.Contains(k.line.at(k.column), "%"))
				}
			}
		}
	}
	each(func(k *taken, bare bool) {
		if bare && *k.leak.pct > 0 && *k.leak.pct < 1 {
			parts++
		} else if *k.leak.pct > 0 {
			whole++
		}
	})
	if parts == 0 {
		return
	}
	each(func(k *taken, bare bool) {
		pct := *k.leak.pct
		if !bare || pct <= 0 || pct >= 1 {
			return
		}
		if pct *= 100; whole > 0 {
			r.doubt(k.line, k.column, k.line.at(k.column), say.Text("table.among-percentages", "pct", pct))
		}
		pct = math.Round(pct*1e6) / 1e6
		k.leak.pct = &pct
	})
	if whole == 0 {
		r.out.Doubts = append(r.out.Doubts, Doubt{Sheet: r.sheet.Title, Words: say.Text("table.leaks-written-as-fractions-0")})
	}
}

// remarked is a remark that makes a reading doubtful.
type remarked struct {
	line line
	text string
	date string
}

// ofCylinderIn finds the cylinder that a remark names: #3, cyl 3, no. 3.
var ofCylinderIn = regexp.MustCompile(`(?:#|\b(?:cyl(?:inder)?|zyl(?:inder)?|cil(?:indro)?|cylindre|sylinteri|no|nr)[. ]*#? ?)(\d{1,2})\b`)

// cylinderSigns are what each way to name a cylinder in a remark has in it.
var cylinderSigns = []string{"#", "cyl", "zyl", "cil", "syl", "no ", "no.", "nr"}

// remark gives a remark under the table, or among its rows, to the last test above it.
func (r *reader) remark(l line, text string) {
	t := r.last()
	if t == nil {
		return
	}
	t.note = join(t.note, text)
	r.pinned(t, l, text)
}

// doubtful gives what notes say of one cylinder to its reading, and asks whether those count that a note makes doubtful.
func (r *reader) doubtful() {
	for _, t := range r.tests {
		for _, one := range strings.Split(t.note, "; ") {
			r.pinned(t, t.line, one)
		}
		for i := range t.taken {
			if k := &t.taken[i]; k.kind != Leak && slipIn(k.pull.note) {
				r.remarks = append(r.remarks, remarked{k.line, k.pull.note, t.date})
				k.pull.struck = r.struckBy(k.pull.struck, k.pull.note)
			}
		}
	}
	if len(r.remarks) > 0 && r.picks.Remarks == "" {
		var texts []string
		for _, one := range r.remarks {
			text := one.text
			if one.date != "" {
				text = one.date + ": " + text
			}
			if !slices.Contains(texts, text) {
				texts = append(texts, text)
			}
		}
		r.out.Asked = append(r.out.Asked, Asked{
			What: AskRemarks, Sheet: r.sheet.Title, Row: r.remarks[0].line.n, Must: true, Text: strings.Join(texts, " · "),
			Words: say.Text("table.ask-remarks"),
			Choices: []Reply{
				{Name: "strike", Words: say.Text("table.remarks-strike"), Picks: Picks{Remarks: "strike"}},
				{Name: "count", Words: say.Text("table.remarks-count"), Picks: Picks{Remarks: "count"}},
			},
		})
	}
	if len(r.ranges) > 0 && r.picks.Ranges == "" {
		r.out.Asked = append(r.out.Asked, Asked{
			What: AskRanges, Sheet: r.sheet.Title, Must: true, Text: strings.Join(r.ranges[:min(len(r.ranges), 8)], ", "),
			Words: say.Text("table.ask-ranges"),
			Choices: []Reply{
				{Name: "both", Words: say.Text("table.ranges-both"), Picks: Picks{Ranges: "both"}},
				{Name: leave, Words: say.Text("table.ranges-leave"), Picks: Picks{Ranges: leave}},
			},
		})
	}
}

func slipIn(text string) bool {
	return slices.ContainsFunc(written.Word.FindAllString(written.Fold(text), -1), written.IsSlip)
}

func (r *reader) struckBy(was, remark string) string {
	if was == "" && r.picks.Remarks == "strike" {
		return remark
	}
	return was
}

// pinned puts a remark that names a cylinder, and perhaps which of its readings, on that reading.
func (r *reader) pinned(t *test, l line, text string) {
	if !strings.ContainsAny(text, "0123456789") {
		return
	}
	folded := written.Fold(text)
	if !slices.ContainsFunc(cylinderSigns, func(sign string) bool { return strings.Contains(folded, sign) }) {
		return
	}
	m := ofCylinderIn.FindStringSubmatch(folded)
	if m == nil {
		return
	}
	number, _ := strconv.Atoi(m[1])
	nth := 0
	for _, w := range strings.FieldsFunc(folded, func(c rune) bool { return strings.ContainsRune(" ,.;:", c) }) {
		if n, err := strconv.Atoi(written.Ordinal(w)); err == nil {
			nth = n
			break
		}
	}
	var mine []*taken
	for i := range t.taken {
		if k := &t.taken[i]; k.cylinder == strconv.Itoa(number) && k.kind != Leak && !strings.Contains(k.pull.note, text) {
			mine = append(mine, k)
		}
	}
	switch {
	case nth > 0 && nth <= len(mine):
		mine = mine[nth-1 : nth]
	case nth < 0 && len(mine) > 0:
		mine = mine[len(mine)-1:]
	}
	if slipIn(text) && len(mine) > 0 {
		r.remarks = append(r.remarks, remarked{l, text, t.date})
	}
	for _, k := range mine {
		if k.kind == log.Dry || k.kind == log.Wet {
			k.pull.note = join(k.pull.note, text)
			if slipIn(text) {
				k.pull.struck = r.struckBy(k.pull.struck, text)
			}
		}
	}
}
