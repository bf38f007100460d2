// Package judge reads a log and says, session by session, what changed in which cylinder, and whether to run it. Its stages each take
// values and return one, and none reaches back: read, believe, decide, facts, causes and what is due, words.
package judge

import (
	"slices"

	"braxel/internal/core/log"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
)

const verdictFormat = "braxel-verdict"

// Log judges every session of a log, each from itself and those before it, against the baseline of its build, by the rules of a workshop.
func Log(l log.Log, shop rules.Shop) Verdict {
	v := Verdict{Format: verdictFormat, Version: 1, Engine: l.Engine.Name, Sessions: []Session{}}
	on, all := subjectOf(l, shop), known{builds: map[string]past{}}
	for i := range l.Sessions {
		v.Sessions = append(v.Sessions, oneMore(on, &all, i))
	}
	return v
}

// known is all that is known of an engine before one of its sessions: of each build by its id, and what was read last.
type known struct {
	builds map[string]past
	last   earlier
}

// oneMore judges one more session of a log by what is known of its build, and takes it into that.
func oneMore(on *subject, all *known, at int) Session {
	s := on.log.Sessions[at]
	id := on.log.BuildOf(s)
	out, next, read := session(on, all.builds[id], all.last, at)
	all.builds[id] = next
	if len(read) > 0 {
		all.last = earlier{tested: true, at: at, session: s, figures: read, bad: out.InConcern()}
	}
	out = unconfirmed(on, s, out)
	if len(read) > 0 && (len(out.Unread) == 0 || out.State != Steady) {
		out.Mark = out.State
	}
	return out
}

// session judges one visit by the past of its build and what was read last, and returns what is known after it, and what it read.
func session(on *subject, before past, last earlier, at int) (Session, past, map[int]figure) {
	s, after := on.log.Sessions[at], before
	after.repeats = before.repeats.with(s)
	now := read(on, after.repeats, &after.steps, s)
	unlike := unlikeIn(s, before.made, before.learned)
	out := Session{ID: s.ID, State: Steady, Cylinders: []Cylinder{}, Causes: []Cause{}, Caveats: caveats(on.log, s, unlike)}
	if len(now) == 0 {
		out.Headline, out.Sentence = say.Text("judge.head-no-reading"), say.Text("judge.no-reading-yet")
		return out, after, nil
	}
	mended := mendedBefore(on, last, at)
	after.known = before.knownAfter(mended)
	var d change
	after.believed, d = believe(on, before.believed, s, mended, now, unlike)

	d.fellBefore, d.grave = before.falling, graveSince(on, before, s)
	out.Cylinders = decide(on, before, after.known, s, now, d)
	out.Caveats = append(out.Caveats, lacks(on, s, now)...)
	out.Unread = unread(on, now)
	out.Partial = s.Open && len(out.Unread) > 0
	if d.compared {
		common, se := percent(d.common), 100*d.commonSE
		out.CommonPct, out.CommonSEPct = &common, &se
		beyond, _ := d.beyond()
		after.losses = add(before.losses, -percent(beyond))
	}
	if s.Meter != nil {
		after.visits = add(before.visits, visit{*s.Meter, s.Date})
	}
	after.points = noted(before.points, out, s, now, d)
	after.seen, after.oiled = seenAfter(on, before.seen, out, s, mended, now), oiledAfter(on, before.oiled, out, now, d)
	after.tested, after.falling = add(before.tested, s.Date), d.fell()
	after.fresh = before.fresh || s.Stage == "pre-install" || s.Stage == "after-running"
	after.madeHere = before.madeHere || s.Baseline
	out.Repaired = repaired(on, last, mended, s, out, now)
	out.Facts = facts(on, out, s, now, d)
	settle(on, after, &out, s, now, d)

	for _, c := range out.atLeast(Watch) {
		after.known[c] = true
	}
	if out.State.Severity() < Watch.Severity() && !d.unexplained() && d.commonSE > 0 {
		after.learned = learn(before.learned, d.unlike, d.common, d.commonSE)
	}
	if s.Baseline || d.first {
		after.made = before.made.with(s)
	}
	speak(on, &out, s, now, d)
	return out, after, now
}

// settle finds the faults, the engine's state, its causes, the next test and the date to look again.
func settle(on *subject, known past, out *Session, s log.Session, now map[int]figure, d change) {
	for _, c := range out.Cylinders {
		out.State = Worse(out.State, c.State)
	}
	if !allAlike(*out, d) {
		out.Faults = faults(on, known, *out, s, now, d)
		out.raise()
	}
	if len(out.Faults) > 0 {
		worst := out.Faults[0]
		out.Causes, out.Story, out.Next, out.Then = worst.Causes, worst.Story, worst.Next, worst.Then
	} else {
		out.Causes, out.Story = whole(on, known, *out, s, now, d)
		ofEngine(on, out, d)
		f := Fault{Cylinders: []int{}, State: out.State, Causes: out.Causes}
		switch {
		case out.State == Retest && len(out.thatAre(TakenOff)) > 0:
			f.Cylinders = out.thatAre(TakenOff)
			f.add(on.table.Named("pull-again"))
		case out.State == Retest:
			f.add(on.table.Named("same-way"))
		case d.fell() && !d.unexplained():
			f.add(on.table.Named("same-way"))
		case out.Causes[0].Class() != rules.Nothing:
			search(on.table, &f, done(on, nil, s, now))
		}
		out.Next, out.Then = f.Next, f.Then
	}
	bad := out.atLeast(Watch)
	due(on, known, out, s, d, bad)
	fans(known, out, bad)
}

// ofEngine raises the state where what moved all is the engine's own: worn by as much as is acted upon in one cylinder, or something
// that it is not to be run with.
func ofEngine(on *subject, out *Session, d change) {
	top := out.Causes[0]
	common, _ := d.beyond()
	worn := top.Probability >= rules.MostLikely && -percent(common) >= on.limit.LossAct
	_, bank := named(out.Facts, BankApart)
	switch {
	case top.Class() != rules.OfEngine || !(top.NotRun() || worn):
	case bank && !d.fell():
		out.State = Worse(out.State, Watch)
		for i := range out.Cylinders {
			if c := &out.Cylinders[i]; d.of(c.Cylinder).Order < 0 && c.State.Severity() < Watch.Severity() {
				c.worsen(Watch, Fact{What: FellWithAll, Value: takenOff(d, c.Cylinder)})
			}
		}
	case d.fell():
		out.State = Worse(out.State, Watch)
		fellTogether(out.Cylinders, d)
	}
}

// unread returns the cylinders that a visit read nothing of.
func unread(on *subject, now map[int]figure) []int {
	return slices.DeleteFunc(slices.Clone(on.order), func(c int) bool { _, read := now[c]; return read })
}

// lacks says what a finished visit leaves open.
func lacks(on *subject, s log.Session, now map[int]figure) []string {
	var all []string
	if unread := unread(on, now); len(unread) > 0 && !s.Open {
		all = append(all, unreadWords(on, unread))
	}
	if on.oneAlone {
		if f := now[on.order[0]]; f.se > 0 && f.leakSE == 0 {
			all = append(all, say.Text("judge.single-alone"))
		}
	}
	return all
}
