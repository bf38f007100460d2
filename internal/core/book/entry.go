// Package book is the one way to change anything. What somebody does is an entry, written once; nothing is rubbed out, what
// was wrong is struck with a reason. Admit says whether an entry may be written; a Book is what entries come to, in whatever
// order they arrive.
package book

import (
	"bytes"
	"cmp"
	"crypto/sha256"
	"encoding/base32"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
)

// Entry is one thing that somebody did. Everything but At, Clock and Doubt is as it was typed.
type Entry struct {
	ID     string         `json:"id" doc:"Made on the device: letters, digits, - and _, at most 64. It never changes"`
	At     string         `json:"at" format:"date-time" doc:"When it was typed"`
	Clock  string         `json:"clock,omitzero" format:"date-time" doc:"What the device's clock said, if it ran ahead"`
	By     string         `json:"by,omitzero" maxLength:"120" doc:"Who entered it, and on which device"`
	Engine string         `json:"engine,omitzero" maxLength:"120" doc:"The engine; left out for entries of the whole shop"`
	Kind   string         `json:"kind" enum:"engine,build,event,note,test,whole,pull,leakdown,look,photo,tick,strike,unstrike,move,as-read,tester,protocol,plan,rule,units,columns,put-off,meeting,car,start,job,terms,kept"`
	Body   jsontext.Value `json:"body"`
	Was    jsontext.Value `json:"was,omitzero" doc:"What the changed fields held before, as the person saw them"`
	Sure   bool           `json:"sure,omitzero" doc:"The person was asked about it and confirmed it"`
	Doubt  string         `json:"doubt,omitzero" maxLength:"300" doc:"Why the reading was doubted when it arrived"`
}

// Kinds of entry. Engine, Build, Test, Tester, Protocol, Plan, Units, Columns and what a season has change fields of the thing they name (RFC 7396; null clears);
// the first of a thing begins it. Whole is a test with all its readings, from another log or from paper. Kept holds what a log
// from elsewhere says beside its engine. The others happened, and can be struck.
const (
	Engine   = "engine"
	Build    = "build"
	Event    = "event"
	Note     = "note"
	Test     = "test"
	Whole    = "whole"
	Pull     = "pull"
	Leakdown = "leakdown"
	Look     = "look"
	Photo    = "photo"
	Tick     = "tick"
	Strike   = "strike"
	Unstrike = "unstrike"
	Move     = "move"
	AsRead   = "as-read"
	Tester   = "tester"
	Protocol = "protocol"
	Plan     = "plan"
	Rule     = "rule"
	Units    = "units"
	Columns  = "columns"
	PutOff   = "put-off"
	Meeting  = "meeting" // an event of the season
	Car      = "car"
	Start    = "start" // which engine runs in a car at an event
	Job      = "job"   // work before an event
	Terms    = "terms" // what a season is planned by
	Kept     = "kept"
)

// Clock is the form of every time in a book; in this form, earlier sorts first.
const Clock = "2006-01-02T15:04:05.000Z"

// before orders entries by time, then by id: one order for all who hold the same entries. The time is one of a hybrid logical clock
// (Kulkarni and others, 2014): what the wall clock said, but later than all that whoever typed it had been told of. The device sees to
// that, and Arrived to devices that don't.
func before(a, b *Entry) int { return cmp.Or(cmp.Compare(a.At, b.At), cmp.Compare(a.ID, b.ID)) }

// Same reports whether two entries say the same; when they say it to have been typed does not matter.
func Same(a, b Entry) bool {
	return bytes.Equal(content(a), content(b))
}

// content is what an entry says, apart from its name and its time.
func content(e Entry) []byte {
	return bytes.Join([][]byte{[]byte(e.Kind), []byte(e.Engine), compact(e.Body), compact(e.Was)}, []byte{0})
}

func compact(v jsontext.Value) []byte {
	text := v.Clone()
	if text.Compact() != nil {
		return v
	}
	return text
}

// Merge returns the union of two books in their common order. Two entries of one id that say different things are both kept:
// the lesser by its content under the id, the other under one made from what it says. Merge is commutative, associative and
// idempotent.
func Merge(a, b []Entry) []Entry {
	byID := map[string]Entry{}
	var put func(Entry)
	put = func(e Entry) {
		have, there := byID[e.ID]
		if !there {
			byID[e.ID] = e
			return
		}
		first, second := have, e
		if c := bytes.Compare(content(second), content(first)); c < 0 || (c == 0 && bytes.Compare(text(second), text(first)) < 0) {
			first, second = second, first
		}
		byID[e.ID] = first
		if !Same(first, second) {
			second.ID = NameOf("twin", e.ID, string(content(second)))
			put(second)
		}
	}
	for _, e := range slices.Concat(a, b) {
		put(e)
	}
	all := make([]Entry, 0, len(byID))
	for _, e := range byID {
		all = append(all, e)
	}
	slices.SortFunc(all, func(a, b Entry) int { return before(&a, &b) })
	return all
}

// Digest is what an entry says, with its name and its time, in a few letters.
func Digest(e Entry) string { return NameOf(string(text(e))) }

func text(e Entry) []byte {
	e.Body, e.Was = compact(e.Body), compact(e.Was)
	out, err := json.Marshal(e)
	if err != nil {
		return []byte(e.ID)
	}
	return out
}

// NameOf makes an id from what parts say, for entries that come from where none has one: the same parts, the same id.
func NameOf(parts ...string) string {
	sum := sha256.Sum256([]byte(strings.Join(parts, "\x00")))
	return strings.ToLower(base32.HexEncoding.WithPadding(base32.NoPadding).EncodeToString(sum[:20]))
}

var plainID = regexp.MustCompile(`^[A-Za-z0-9_-]{1,64}$`)

// IsID reports whether an id is one that an entry may have.
func IsID(id string) bool { return plainID.MatchString(id) }

// withClock returns the entry with its times in the book's form.
func withClock(e Entry) Entry {
	said, err := time.Parse(time.RFC3339Nano, e.At)
	if err != nil {
		return e
	}
	e.At = said.UTC().Format(Clock)
	own, err := time.Parse(time.RFC3339Nano, e.Clock)
	if e.Clock = own.UTC().Format(Clock); err != nil {
		e.Clock = ""
	}
	return e
}

// at gives the entry another time, and keeps what its device's clock said beside it.
func (e Entry) at(time string) Entry {
	e.Clock, e.At = cmp.Or(e.Clock, e.At), time
	return e
}

// justAfter is the next moment that a book tells from that one.
func justAfter(at string) string {
	t, err := time.Parse(Clock, at)
	if err != nil {
		return at
	}
	return t.Add(time.Millisecond).Format(Clock)
}
