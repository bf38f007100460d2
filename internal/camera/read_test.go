package camera_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"os"
	"path/filepath"
	"testing"
	"time"

	"braxel/internal/camera"
	"braxel/internal/core/dial"
	"braxel/internal/core/trace"
	"braxel/internal/films"
)

// given is a film of truth.json.
type given struct {
	File, Marks, Kind, Why string
	FPS                    float64
	Scale, Values, Smear   []float64
	Hidden, Rest           []int
	Held, Peak             []float64
	Beats                  []int
	RPM                    float64
	Faces                  []float64
	Conditions             []string
}

type filmed struct {
	given
	bytes []byte
	marks dial.Marks
}

func shared(t *testing.T, dir string) []filmed {
	text, err := os.ReadFile(filepath.Join(dir, "truth.json"))
	if err != nil {
		t.Skip("no films")
	}
	var all []given
	if err := json.Unmarshal(text, &all); err != nil {
		t.Fatal(err)
	}
	var out []filmed
	for _, g := range all {
		one := filmed{given: g}
		one.bytes, _ = os.ReadFile(filepath.Join(dir, g.File))
		m, _ := os.ReadFile(filepath.Join(dir, g.Marks))
		_ = json.Unmarshal(m, &one.marks)
		out = append(out, one)
	}
	return out
}

func rendered(seed uint64) filmed {
	f, t, m := camera.Any(seed)
	var b bytes.Buffer
	_ = f.Reel(&b)
	one := filmed{bytes: b.Bytes()}
	one.given = given{File: fmt.Sprint("seed ", seed), Kind: t.Kind, Why: t.Why, FPS: f.FPS, Scale: []float64{t.From, t.To}, Values: t.Values, Smear: t.Smear,
		Rest: t.Rest, Held: []float64{t.Held, t.Held}, Peak: []float64{t.Peak, t.Peak}, Beats: []int{t.Beats, t.Beats}, RPM: t.RPM, Faces: t.Faces, Conditions: t.Hard}
	text, _ := json.Marshal(m)
	_ = json.Unmarshal(text, &one.marks)
	return one
}

func read(one filmed) (dial.Found, error) {
	reel := films.Of(bytes.NewReader(one.bytes))
	var f *dial.Film
	for i := 0; ; i++ {
		text, err := reel.Next()
		if err == io.EOF {
			break
		}
		if err != nil {
			return dial.Found{}, err
		}
		g, err := films.Gray(text)
		if err != nil {
			return dial.Found{}, err
		}
		if f == nil {
			if f, err = dial.Begin(g, one.marks); err != nil {
				return dial.Found{}, err
			}
		}
		if err := f.Add(float64(i)/one.FPS, g); err != nil {
			return dial.Found{}, err
		}
	}
	return f.Find(trace.Known{}, "")
}

func TestScore(t *testing.T) {
	var all []filmed
	dir := os.TempDir() + "/seeds"
	_ = os.MkdirAll(dir, 0o755)
	if os.Getenv("SEEDS") != "" {
		var a, b uint64
		fmt.Sscanf(os.Getenv("SEEDS"), "%d-%d", &a, &b)
		for s := a; s < b; s++ {
			all = append(all, cached(dir, s))
		}
	} else {
		all = shared(t, "../../../shared/film")
	}
	for _, one := range all {
		if o := os.Getenv("ONLY"); o != "" && o != one.File && o != filepath.Base(one.File) {
			continue
		}
		start := time.Now()
		if one.bytes == nil {
			one.bytes, _ = os.ReadFile(one.File)
			one.File = filepath.Base(one.File)
		}
		found, err := read(one)
		got := found.Sights
		took := time.Since(start).Seconds()
		if one.Kind == "refuse" || err != nil {
			fmt.Printf("%-9s %-11s %-22s -> %v (%d)  %v\n", one.File, one.Kind, one.Why, err, len(got), one.Conditions)
			continue
		}
		full := one.Scale[1] - one.Scale[0]
		by := map[int]dial.Sight{}
		for _, s := range got {
			by[int(math.Round(s.Seconds*one.FPS))] = s
		}
		rest, sum, worst := 0, 0.0, 0.0
		for _, i := range one.Rest {
			s, ok := by[i]
			if ok && math.Abs(s.Value-one.Values[i]) <= 0.01*full {
				rest++
			}
			if ok {
				sum += (s.Value - one.Values[i]) / full
				worst = max(worst, math.Abs(s.Value-one.Values[i])/full)
			}
		}
		wrong, sure := 0, 0
		peak := math.Inf(-1)
		for i, s := range by {
			if s.Sure >= 0.5 {
				sure++
				peak = max(peak, s.Value)
				if math.Abs(s.Value-one.Values[i]) > 0.03*full+one.Smear[i] {
					wrong++
					if os.Getenv("SHOW") != "" {
						fmt.Println("   wrong", i, s, one.Values[i], one.Smear[i])
					}
				}
			}
		}
		flag := ""
		off := func(v *float64, r []float64) float64 {
			if v == nil || len(r) == 0 {
				return math.NaN()
			}
			return max(r[0]-*v, *v-r[1], 0) / full
		}
		if len(one.Peak) == 2 && off(found.Peak, one.Peak) > 0.02 || found.Peak == nil {
			flag += " PEAK2"
		}
		if len(one.Held) == 2 && one.Kind != "rotary" && !(off(found.Held, one.Held) <= 0.01) {
			flag += fmt.Sprintf(" HELD %.3f", off(found.Held, one.Held))
		}
		if one.Kind == "compression" || one.Kind == "rotary" {
			if found.Beats == nil || *found.Beats < one.Beats[0]-1 || *found.Beats > one.Beats[1]+1 {
				flag += " BEATS"
				if found.Beats != nil {
					flag += fmt.Sprint(*found.Beats, one.Beats)
				}
			}
			if found.RPM == nil || math.Abs(*found.RPM/one.RPM-1) > 0.03 {
				flag += " RPM"
				if found.RPM != nil {
					flag += fmt.Sprintf(" %.1f%%", 100*(*found.RPM/one.RPM-1))
				}
			}
		}
		if one.Kind == "rotary" {
			best := math.Inf(1)
			for k := range 3 {
				worst := 0.0
				for i := range found.Faces {
					worst = max(worst, math.Abs(found.Faces[i]/one.Faces[(i+k)%3]-1))
				}
				best = min(best, worst)
			}
			if len(found.Faces) != 3 || best > 0.04 {
				flag += fmt.Sprintf(" FACES %d %.3f", len(found.Faces), best)
			}
		}
		flag += " " + string(found.Kind)
		if os.Getenv("CURVE") != "" {
			for i := 0; i < len(got); i += max(1, len(got)/90) {
				fmt.Printf("%.2f:%.3f/%.3f ", got[i].Seconds, (got[i].Value-one.Scale[0])/full, (one.Values[min(len(one.Values)-1, int(math.Round(got[i].Seconds*one.FPS)))]-one.Scale[0])/full)
			}
			fmt.Println(found.Held, one.Held)
		}
		if os.Getenv("WHY") != "" {
			flag += " " + found.Answer.Why
		}
		if rest < len(one.Rest)*95/100 {
			flag += " REST"
		}
		if wrong > 0 {
			flag += " WRONG"
		}
		if math.Abs(peak-one.Peak[1]) > 0.02*full {
			flag += " PEAK"
		}
		fmt.Printf("%-9s %-11s rest %3d/%3d bias %+.2f%% worst %.2f%%  wrong %d sure %3d%% peak %+.2f%% %.1fs %4.0ffps %s %v\n", one.File, one.Kind, rest, len(one.Rest),
			100*sum/max(1, float64(len(one.Rest))), 100*worst, wrong, 100*sure/max(1, len(one.Values)), 100*(peak-one.Peak[1])/full, took, float64(len(one.Values))/took, flag, one.Conditions)
	}
}

func cached(dir string, seed uint64) filmed {
	path := filepath.Join(dir, fmt.Sprint("seed", seed))
	var one filmed
	text, err := os.ReadFile(path + ".json")
	if err == nil {
		_ = json.Unmarshal(text, &one.given)
		text, _ = os.ReadFile(path + ".marks")
		_ = json.Unmarshal(text, &one.marks)
	} else {
		one = rendered(seed)
		_ = os.WriteFile(path, one.bytes, 0o644)
		one.bytes = nil
		text, _ = json.Marshal(one.marks)
		_ = os.WriteFile(path+".marks", text, 0o644)
		one.given.File = path
		text, _ = json.Marshal(one.given)
		_ = os.WriteFile(path+".json", text, 0o644)
	}
	one.File = path
	return one
}
