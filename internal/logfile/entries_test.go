package logfile_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"braxel/internal/core/book"
	"braxel/internal/logfile"
)

// FuzzAnEntryThatIsKeptGoesOutAndComesIn: whatever is admitted can be written, read by the log's own check, and told again
// the same by a book that has only the log.
func FuzzAnEntryThatIsKeptGoesOutAndComesIn(f *testing.F) {
	for kind, body := range map[string]string{
		book.Engine: `{"altitude_m":300,"layout":{"banks":[[1,2],[3,4]],"names":{"1":"1L"}}}`, book.Build: `{"id":"b2","date":"2033-05-01"}`,
		book.Tester: `{"id":"g2","kind":"leakdown","orifice_mm":1}`, book.Event: `{"date":"2033-05-01","what":"seized","meter":12}`,
		book.Note: `{"text":"see the plug"}`, book.Test: `{"id":"s1","conditions":{"engine_temp":"hot","cranking":{"rule":"count","count":6}}}`,
		book.Pull: `{"test":"s1","cylinder":1,"mode":"dry","value":150,"unit":"psi","beats":5}`, book.Tick: `{"test":"s1","line":"plugs","done":true}`,
		book.Leakdown: `{"test":"s1","cylinder":1,"supply":100,"held":97,"unit":"psi","paths":[{"where":"intake","level":2}]}`,
		book.Look:     `{"test":"s1","what":"plug","cylinder":2,"finding":"oily"}`, book.Strike: `{"entry":"p1","why":"missed the seat"}`,
		book.Whole: `{"id":"w","date":"2033-01-01","odd":{"a":1},"compression":[{"cylinder":1,"mode":"dry","pulls":[{"value":1e2,"unit":"psi"}]}]}`,
		book.Move:  `{"test":"s1","key":"p1","cylinder":2}`, book.Protocol: `{"id":"own","name":"Ours","rule":"one"}`,
	} {
		f.Add(kind, "e9-entry", body)
	}
	f.Fuzz(func(t *testing.T, kind, id, body string) {
		own, shop := book.Of("heron"), book.Of("")
		hand := func(e book.Entry) {
			if len(book.CheckEnvelope(e)) > 0 {
				return
			}
			to := own
			if e.Engine == "" {
				to = shop
			}
			if a := book.Admit(to, shop, e); a.Result == book.IsKept {
				e.Doubt = a.Doubt
				to.Add(e)
			}
		}
		at := "2033-04-02T09:00:00.000Z"
		hand(book.Entry{ID: "e1-entry", At: at, Engine: "heron", Kind: book.Engine, Body: []byte(`{"name":"Heron","kind":"four-stroke","layout":{"banks":[[1,2,3,4]]}}`)})
		hand(book.Entry{ID: "t1-entry", At: at, Engine: "heron", Kind: book.Test, Body: []byte(`{"id":"s1","date":"2033-04-02"}`)})
		hand(book.Entry{ID: "p1", At: at, Engine: "heron", Kind: book.Pull, Body: []byte(`{"test":"s1","cylinder":1,"mode":"dry","value":151,"unit":"psi"}`)})
		engine := "heron"
		if kind == book.Tester || kind == book.Protocol {
			engine = ""
		}
		hand(book.Entry{ID: id, At: "2033-04-02T09:00:01.000Z", Engine: engine, Kind: kind, Body: []byte(body)})
		l := own.Log(shop)
		first, err := logfile.Line(l)
		require.NoError(t, err)
		back, _, err := logfile.Read(first)
		require.NoError(t, err, string(first))
		require.Equal(t, string(told(t, l)), string(told(t, back)))
	})
}
