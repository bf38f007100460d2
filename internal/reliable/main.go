// Command reliable measures how often the judge's words for a cause are right: of lives whose truth is known, a log a line in
// lives.jsonl and a truth a line in truth.jsonl of a directory. It writes the table that docs/judge.md and the pages show.
package main

import (
	"bufio"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strconv"

	"braxel/internal/core/judge"
	"braxel/internal/core/log"
	"braxel/internal/core/rules"
)

// file is what is written, from the root of the project.
const file = "internal/core/judge/reliability.json"

// A fault shows from so many points of leak, or percent of compression lost, where that was measured.
const (
	showsPts = 5.0
	showsPct = 7.0
)

type truth struct {
	Faults []struct {
		Cause string `json:"cause"`
		Where []int  `json:"where"`
	} `json:"faults"`
	Sessions []struct {
		Fault map[string]struct {
			Leak     float64 `json:"leak_added"`
			Lost     float64 `json:"compression_lost_pct"`
			SeenLeak bool    `json:"seen_leak"`
			SeenComp bool    `json:"seen_comp"`
		} `json:"fault"`
	} `json:"sessions"`
}

// shows reports whether a fault shows at a session.
func (t truth) shows(session int) bool {
	for _, f := range t.Sessions[session].Fault {
		if (f.SeenLeak && f.Leak >= showsPts) || (f.SeenComp && f.Lost >= showsPct) {
			return true
		}
	}
	return false
}

// said returns the likeliest cause that a session names of the faulty place, false where it names none.
func said(s judge.Session, where []int) (judge.Cause, bool) {
	for _, f := range s.Faults {
		if slices.ContainsFunc(f.Cylinders, func(c int) bool { return slices.Contains(where, c) }) {
			return f.Causes[0], true
		}
	}
	if len(s.Faults) == 0 && s.State != judge.Steady && len(s.Causes) > 0 && len(s.Causes[0].Cylinders) == 0 {
		return s.Causes[0], true
	}
	return judge.Cause{}, false
}

func main() {
	if err := measure(); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func measure() error {
	if len(os.Args) != 2 {
		return fmt.Errorf("name the directory of the lives")
	}
	logs, err := lines[log.Log](filepath.Join(os.Args[1], "lives.jsonl"))
	if err != nil {
		return err
	}
	truths, err := lines[truth](filepath.Join(os.Args[1], "truth.jsonl"))
	if err != nil {
		return err
	}
	if len(logs) != len(truths) {
		return fmt.Errorf("%s lives and %s truths", strconv.Itoa(len(logs)), strconv.Itoa(len(truths)))
	}
	by := map[string]*judge.Reliable{}
	for i, t := range truths {
		if len(t.Faults) != 1 {
			continue
		}
		var shown []int
		for k := range t.Sessions {
			if t.shows(k) {
				shown = append(shown, k)
			}
		}
		if len(shown) == 0 {
			continue
		}
		v := judge.Log(logs[i], rules.Shop{})
		for _, k := range slices.Compact([]int{shown[0], shown[len(shown)-1]}) {
			top, ok := said(v.Sessions[k], t.Faults[0].Where)
			if !ok {
				continue
			}
			word := judge.Sureness(top.Probability)
			if by[word] == nil {
				by[word] = &judge.Reliable{Word: word}
			}
			r := by[word]
			r.Said += top.Probability
			r.Times++
			if top.Cause == t.Faults[0].Cause {
				r.Right++
			}
		}
	}
	var out []judge.Reliable
	for _, word := range judge.SurenessWords {
		if r := by[word]; r != nil {
			r.Said /= float64(r.Times)
			out = append(out, *r)
		}
	}
	text, err := json.MarshalIndent(out, "", "  ")
	if err != nil {
		return err
	}
	return os.WriteFile(file, append(text, '\n'), 0o644)
}

func lines[T any](file string) ([]T, error) {
	f, err := os.Open(file)
	if err != nil {
		return nil, err
	}
	defer func() { _ = f.Close() }()
	var all []T
	for d := json.NewDecoder(bufio.NewReader(f)); d.More(); {
		var one T
		if err := d.Decode(&one); err != nil {
			return nil, err
		}
		all = append(all, one)
	}
	return all, nil
}
