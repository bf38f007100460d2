package camera

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"image/jpeg"
	"io"
	"maps"
	"math"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/core/dial"
	"braxel/internal/core/trace"
	"braxel/internal/films"
)

// filmed is a film with what was so in it.
type filmed struct {
	name  string
	bytes []byte
	marks dial.Marks
	fps   float64
	truth
}

// made draws a film of any gauge.
func made(t testing.TB, seed uint64) filmed {
	f, was, m := anyFilm(seed)
	var b bytes.Buffer
	require.NoError(t, f.Reel(&b))
	one := filmed{name: fmt.Sprint("film ", seed), bytes: b.Bytes(), fps: f.FPS, truth: was}
	one.marks = marksOf(t, m)
	return one
}

func marksOf(t testing.TB, m Marks) (out dial.Marks) {
	text, err := json.Marshal(m)
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(text, &out))
	return out
}

// read reads a film as the command line does.
func read(one filmed) (dial.Found, error) {
	reel := films.Of(bytes.NewReader(one.bytes))
	var f *dial.Film
	for i := 0; ; i++ {
		text, err := reel.Next()
		if errors.Is(err, io.EOF) {
			return f.Find(trace.Known{}, "")
		}
		if err != nil {
			return dial.Found{}, err
		}
		g, err := films.Gray(text, films.MostDots)
		if err != nil {
			return dial.Found{}, err
		}
		if f == nil {
			if f, err = dial.Begin(g, one.marks); err != nil {
				return dial.Found{}, err
			}
		}
		if err := f.Add(float64(i)/one.fps, g); err != nil {
			return dial.Found{}, err
		}
	}
}

// score is what was right of a film.
type score struct {
	rest, resting, sure, pictures, wrong int
	peak, held, beats, rpm, faces        bool
}

// off is how much a figure differs from what was so, as a share.
func off(got *float64, was float64) float64 {
	if got == nil {
		return math.Inf(1)
	}
	return math.Abs(*got - was)
}

// scored holds a reading against what was so: the limits are those that films of gauges are to be read within.
func scored(one filmed, found dial.Found) (s score) {
	full := one.To - one.From
	by := map[int]dial.Sight{}
	for _, sight := range found.Sights {
		by[int(math.Round(sight.Seconds*one.fps))] = sight
	}
	for _, i := range one.Rest {
		if sight, ok := by[i]; ok && math.Abs(sight.Value-one.Values[i]) <= 0.01*full {
			s.rest++
		}
	}
	for i, sight := range by {
		if i >= len(one.Values) || sight.Sure < dial.Believed {
			continue
		}
		s.sure++
		if math.Abs(sight.Value-one.Values[i]) > 0.03*full+one.Smear[i] {
			s.wrong++
		}
	}
	s.resting, s.pictures = len(one.Rest), len(one.Values)
	s.peak = off(found.Peak, one.Peak) <= 0.02*full
	s.held = one.Kind == "rotary" || off(found.Held, one.Held) <= 0.01*full
	s.beats, s.rpm, s.faces = true, true, true
	if one.Kind == "compression" || one.Kind == "rotary" {
		s.beats = found.Beats != nil && math.Abs(float64(*found.Beats-one.Beats)) <= 1
		s.rpm = off(found.RPM, one.RPM) <= 0.03*one.RPM
	}
	if one.Kind == "rotary" {
		s.faces = facesRight(found.Faces, one.Faces)
	}
	return s
}

// facesRight reports whether three faces are right within 4 % each, whichever comes first.
func facesRight(got, was []float64) bool {
	for k := range 3 {
		right := len(got) == 3
		for i := range got {
			right = right && math.Abs(got[i]/was[(i+k)%3]-1) <= 0.04
		}
		if right {
			return true
		}
	}
	return false
}

// tally counts films, and what was right of them: of pictures at rest, of figures that were asked, of all pictures.
type tally struct{ films, read, rest, resting, right, asked, sure, pictures, wrong int }

func (t *tally) add(one filmed, s *score) {
	if t.films++; s == nil {
		return
	}
	t.read++
	t.rest, t.resting, t.sure, t.pictures = t.rest+s.rest, t.resting+s.resting, t.sure+s.sure, t.pictures+s.pictures
	t.wrong += s.wrong
	asked := []bool{s.peak, s.held}
	if one.Kind == "compression" || one.Kind == "rotary" {
		asked = append(asked, s.beats, s.rpm)
	}
	for _, right := range asked {
		if t.asked++; right {
			t.right++
		}
	}
}

// byCondition prints what was right of films, by what makes them hard.
func byCondition(t testing.TB, of map[string]*tally) {
	for _, name := range slices.Sorted(maps.Keys(of)) {
		c := of[name]
		t.Logf("%-20s %4d films, %4d read; at rest %5.1f %%, figures %5.1f %%, sure %5.1f %% of pictures, %d wrong", name, c.films, c.read,
			100*float64(c.rest)/float64(max(c.resting, 1)), 100*float64(c.right)/float64(max(c.asked, 1)),
			100*float64(c.sure)/float64(max(c.pictures, 1)), c.wrong)
	}
}

// measure reads films and says how many were right, with a line for each of which something was not; by condition where somebody wants it.
func measure(t testing.TB, all []filmed, conditions map[string]*tally) (right map[string]int, of map[string]int, wrong int) {
	right, of = map[string]int{}, map[string]int{}
	condition := func(one filmed, s *score) {
		for _, name := range append([]string{" all"}, one.Hard...) {
			if conditions[name] == nil && conditions != nil {
				conditions[name] = &tally{}
			}
			if conditions != nil {
				conditions[name].add(one, s)
			}
		}
	}
	count := func(what string, is bool) {
		if of[what]++; is {
			right[what]++
		}
	}
	for _, one := range all {
		found, err := read(one)
		if one.Kind == "refuse" {
			count("refused", err != nil)
			continue
		}
		count("read", err == nil)
		if err != nil {
			condition(one, nil)
			t.Log(one.name, one.Kind, err, one.Hard)
			continue
		}
		s := scored(one, found)
		condition(one, &s)
		wrong += s.wrong
		right["rest"], of["rest"] = right["rest"]+s.rest, of["rest"]+s.resting
		right["sure"], of["sure"] = right["sure"]+s.sure, of["sure"]+s.pictures
		count("peak", s.peak)
		count("held", s.held)
		if one.Kind == "compression" || one.Kind == "rotary" {
			count("beats", s.beats)
			count("rpm", s.rpm)
		}
		if one.Kind == "rotary" {
			count("faces", s.faces)
		}
		if s.wrong > 0 || !s.peak || !s.held || !s.beats || !s.rpm || !s.faces || s.rest < s.resting {
			t.Logf("%s %s %+v %v", one.name, one.Kind, s, one.Hard)
		}
	}
	return right, of, wrong
}

// given are the films that lie beside the project.
func given(t testing.TB) []filmed {
	dir := filepath.Join("..", "..", "..", "shared", "film")
	text, err := os.ReadFile(filepath.Join(dir, "truth.json"))
	if err != nil {
		t.Skip("no films beside the project")
	}
	var all []struct {
		File, Marks, Kind, Why      string
		FPS                         float64
		Scale, Values, Smear, Faces []float64
		Rest, Beats                 []int
		Held, Peak                  []float64
		RPM                         float64
		Conditions                  []string
	}
	require.NoError(t, json.Unmarshal(text, &all))
	middle := func(v []float64) float64 {
		if len(v) != 2 {
			return 0
		}
		return (v[0] + v[1]) / 2
	}
	var out []filmed
	for _, g := range all {
		one := filmed{name: g.File, fps: g.FPS, truth: truth{
			Kind: g.Kind, Why: g.Why, From: g.Scale[0], To: g.Scale[1], Values: g.Values, Smear: g.Smear, Rest: g.Rest,
			Held: middle(g.Held), Peak: middle(g.Peak), RPM: g.RPM, Faces: g.Faces, Hard: g.Conditions,
		}}
		if len(g.Beats) == 2 {
			one.Beats = (g.Beats[0] + g.Beats[1]) / 2
		}
		one.bytes, err = os.ReadFile(filepath.Join(dir, g.File))
		require.NoError(t, err)
		text, err := os.ReadFile(filepath.Join(dir, g.Marks))
		require.NoError(t, err)
		require.NoError(t, json.Unmarshal(text, &one.marks))
		out = append(out, one)
	}
	return out
}

// Films by a renderer that is not ours, with taps as a finger makes them.
func TestFilmsOfMadeUpGaugesAreRead(t *testing.T) {
	t.Parallel()
	right, of, wrong := measure(t, given(t), nil)
	t.Log(right, of)
	assert.Zero(t, wrong, "readings that are sure and wrong")
	assert.GreaterOrEqual(t, right["rest"]*100, 90*of["rest"])
	assert.GreaterOrEqual(t, right["sure"]*100, 90*of["sure"])
	for _, what := range []string{"refused", "read", "peak", "held", "beats", "rpm"} {
		assert.Equal(t, of[what], right[what], what)
	}
}

// Films by our own renderer, of gauges that no film beside the project has.
func TestFilmsOfMadeGaugesOfOurOwn(t *testing.T) {
	t.Parallel()
	var all []filmed
	for _, seed := range []uint64{2, 6, 8, 12, 14, 19} {
		all = append(all, made(t, seed))
	}
	right, of, wrong := measure(t, all, nil)
	t.Log(right, of)
	assert.Zero(t, wrong, "readings that are sure and wrong")
	assert.GreaterOrEqual(t, right["rest"]*100, 95*of["rest"])
	assert.Equal(t, of["read"], right["read"])
	assert.Equal(t, of["peak"], right["peak"])
}

// A single picture is read, too: one reading, of a needle that stands.
func TestAStillPictureIsRead(t *testing.T) {
	f := Standing(152)
	f.Open()
	var one bytes.Buffer
	require.NoError(t, jpeg.Encode(&one, f.Picture(135), nil))
	found, err := read(filmed{bytes: one.Bytes(), fps: 30, marks: marksOf(t, f.Taps(0, 150, 250))})
	require.NoError(t, err)
	assert.Equal(t, dial.Still, found.Kind)
	assert.InDelta(t, 152, *found.Held, 3)
}

// BenchmarkFilms reads forty films of any gauge and says how many were right.
func BenchmarkFilms(b *testing.B) {
	if b.N > 1 { // once is enough
		return
	}
	var all []filmed
	for seed := range uint64(40) {
		if one, _, _ := anyFilm(1000 + seed); one.FPS <= 60 {
			all = append(all, made(b, 1000+seed))
		}
	}
	conditions := map[string]*tally{}
	right, of, wrong := measure(b, all, conditions)
	byCondition(b, conditions)
	b.Logf("of %d films: %v of %v, %d sure and wrong", len(all), right, of, wrong)
}

// BenchmarkPicture takes a picture of 480 dots each way, decoding and all, and its part of reading the film.
func BenchmarkPicture(b *testing.B) {
	f := Standing(152)
	f.Width, f.Size = 480, 170
	f.Open()
	var one bytes.Buffer
	require.NoError(b, jpeg.Encode(&one, f.Picture(90), nil))
	first, err := films.Gray(one.Bytes(), films.MostDots)
	require.NoError(b, err)
	film, err := dial.Begin(first, marksOf(b, f.Taps(0, 150, 250)))
	require.NoError(b, err)
	b.ResetTimer()
	for i := range b.N {
		g, err := films.Gray(one.Bytes(), films.MostDots)
		require.NoError(b, err)
		if film.Pictures() < dial.Most {
			require.NoError(b, film.Add(float64(i)/30, g))
		}
	}
	_, err = film.Read()
	require.NoError(b, err)
	b.ReportMetric(float64(b.N)/b.Elapsed().Seconds(), "pictures/s")
}
