package book

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"github.com/stretchr/testify/assert"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// plainFold is fold as one would write it who had all the time in the world: everything anew after each entry.
func plainFold(all changes) log.Engine {
	var good changes
	for _, e := range all {
		var v log.Engine
		fine := true
		for _, g := range append(append(changes{}, good...), e) {
			if json.Unmarshal(g.Body, &v) != nil {
				fine = false
			}
		}
		if fine && len(log.CheckFields("", v)) == 0 {
			good = append(good, e)
		}
	}
	var v log.Engine
	for _, g := range good {
		_ = json.Unmarshal(g.Body, &v)
	}
	return v
}

// Laid over each other in one walk, changes come to what they come to when all is made anew after each; however many are set apart.
func TestChangesComeToTheSameInOneWalk(t *testing.T) {
	bodies := []string{
		`{"name":"Heron"}`, `{"bore_mm":87}`, `{"bore_mm":null}`, `{"bore_mm":-5}`, `{"bore_mm":"wide"}`, `{"layout":{"banks":[[1,2]]}}`,
		`{"layout":{"names":{"1":"front"}}}`, `{"layout":{"names":{"1":null}}}`, `{"layout":{"bank_angle_deg":9000}}`, `{"limits":{"leak_pct":5}}`, `{"limits":null}`,
		`{"fuel":"coal"}`, `{"plan":{"every":20}}`, `{"own":{"key":[1,{"a":2}]}}`, `{"own":{"key":null}}`, `{"note":"` + strings.Repeat("x", 30) + `"}`,
	}
	for seed := range 300 {
		draw := rand.New(rand.NewPCG(uint64(seed), 1))
		var all changes
		for i := range 1 + draw.IntN(25) {
			all.add(&Entry{ID: fmt.Sprint(i), At: fmt.Sprintf("2033-01-01T00:00:%02d.000Z", i), Body: jsontext.Value(bodies[draw.IntN(len(bodies))])})
		}
		got, _, _ := fold(all, func(string) string { return "" }, func(e log.Engine) log.Faults { return log.CheckFields("", e) })
		assert.Equal(t, string(raw(plainFold(all))), string(raw(got)), "seed %d", seed)
	}
}

// A value that is nested without end is one field, so it costs what it is long.
func TestWhatIsNestedWithoutEndIsOneField(t *testing.T) {
	all := map[string][]byte{}
	leaves("", jsontext.Value(strings.Repeat(`{"a":`, 9000)+"1"+strings.Repeat("}", 9000)), all)
	assert.Len(t, all, 1)
	for at := range all {
		assert.Less(t, len(at), 100)
	}
	deep := jsontext.Value(strings.Repeat(`{"a":"}]\"{["`, 1) + `}`)
	assert.Equal(t, 1, depth(deep), "what stands in a text is no nesting")
	assert.Equal(t, 9000, depth(jsontext.Value(strings.Repeat("[", 9000)+strings.Repeat("]", 9000))))
}

// FuzzEnvelope hands in entries with a hostile was: what is let in is small and shallow, and can be replayed.
func FuzzEnvelope(f *testing.F) {
	f.Add(`{"bore_mm":87}`, `{"bore_mm":86}`)
	f.Add(`{}`, strings.Repeat(`{"a":`, 50)+"1"+strings.Repeat("}", 50))
	f.Add(`{"layout":{"names":{"1":"x"}}}`, `{"layout":{"names":{"1":[[[]]]}}}`)
	f.Add(`{"a":1}`, `{"a/b":{"~":"\u0000"}}`)
	f.Fuzz(func(t *testing.T, body, was string) {
		e := Entry{ID: "e", At: "2033-04-02T09:14:07.312Z", Engine: "heron", Kind: Engine, Body: jsontext.Value(body), Was: jsontext.Value(was)}
		if !jsontext.Value(body).IsValid() || was != "" && !jsontext.Value(was).IsValid() || len(CheckEnvelope(e)) > 0 {
			return
		}
		if depth(e.Was) > deepestBody || len(e.Was) > bodyMost {
			t.Fatal("let in")
		}
		b := Of("heron")
		b.Add(Entry{ID: "a", At: "2033-01-01T00:00:00.000Z", Engine: "heron", Kind: Engine, Body: jsontext.Value(`{"name":"Heron","kind":"four-stroke","layout":{"banks":[[1,2]]}}`)})
		for _, one := range Admit(b, Of(""), e).Faults {
			if say.Texts()[one.ID] == nil || one.What == "" {
				t.Fatalf("a refusal without its text: %+v", one)
			}
		}
		b.Add(e)
		b.Log(Of(""))
		b.Clashes()
	})
}
