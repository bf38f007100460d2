package main

import (
	"encoding/json"
	"errors"
	"io"
	"math"
	"os"

	"github.com/spf13/cobra"

	"braxel/internal/core/dial"
	"braxel/internal/core/say"
	"braxel/internal/core/trace"
	"braxel/internal/films"
	"braxel/internal/plain"
)

// dialAnswer is what a film says, on standard output.
type dialAnswer struct {
	FPS      float64     `json:"fps,omitempty"`
	Unit     string      `json:"unit,omitempty"`
	Readings []dialSight `json:"readings,omitempty"`
	Peak     *float64    `json:"peak,omitempty"`
	Held     *float64    `json:"held,omitempty"`
	Beats    *int        `json:"beats,omitempty"`
	RPM      *float64    `json:"rpm,omitempty"`
	Faces    []float64   `json:"faces,omitempty"`
	Doubt    float64     `json:"doubt,omitempty"`
	Kind     dial.Kind   `json:"kind,omitempty"`
	Error    string      `json:"error,omitempty"`
}

type dialSight struct {
	T     float64 `json:"t"`
	Value float64 `json:"value"`
	Sure  float64 `json:"sure"`
}

// usualFPS is the rate of a film whose own is not known: that of most phones.
const usualFPS = 30.0

func dialCommand() *cobra.Command {
	var marks, engine, kind string
	fps := usualFPS
	c := &cobra.Command{
		Use:   "dial FILM",
		Short: say.Text("command.read-film-of-gauge"),
		Args:  args(cobra.ExactArgs(1)),
		RunE: func(c *cobra.Command, files []string) error {
			if !(fps > 0 && fps <= 10000) {
				return usageError{say.Error("command.flag-not-so", "name", "--fps", "kind", kindOf("float64"), "given", fps)}
			}
			found, unit, failed := readDial(files[0], marks, fps, trace.Known{Engine: engine}, dial.Kind(kind))
			var gone *os.PathError
			if errors.As(failed, &gone) {
				return failed
			}
			out := answerOf(found, fps, unit)
			if failed != nil {
				out = dialAnswer{Error: plain.Words(failed)}
			}
			return errors.Join(json.NewEncoder(c.OutOrStdout()).Encode(out), failed)
		},
	}
	c.Flags().StringVar(&marks, "marks", "", say.Text("command.marks-of-dial"))
	c.Flags().Float64Var(&fps, "fps", usualFPS, say.Text("command.pictures-a-second"))
	c.Flags().StringVar(&engine, "engine", "", say.Text("command.engine-that-is-cranked"))
	c.Flags().StringVar(&kind, "kind", "", say.Text("command.gauge-valve-bare-leak-down"))
	_ = c.MarkFlagRequired("marks") // it is one of this command's flags
	return c
}

// readDial reads a film with its marks.
func readDial(path, marks string, fps float64, k trace.Known, kind dial.Kind) (found dial.Found, unit string, err error) {
	text, err := os.ReadFile(marks)
	if err != nil {
		return found, "", err
	}
	var m dial.Marks
	if json.Unmarshal(text, &m) != nil {
		return found, "", say.Error("command.marks-no-json", "file", marks)
	}
	found, err = readFilm(path, m, fps, k, kind)
	return found, m.Unit, err
}

// readFilm reads a film picture by picture.
func readFilm(path string, m dial.Marks, fps float64, k trace.Known, kind dial.Kind) (dial.Found, error) {
	reel, err := films.Open(path)
	if err != nil {
		return dial.Found{}, err
	}
	defer reel.Close()
	var f *dial.Film
	for i := 0; ; i++ {
		text, err := reel.Next()
		if errors.Is(err, io.EOF) {
			break
		}
		if errors.Is(err, films.ErrCut) && i > 0 { // what came before it is whole
			break
		}
		if err != nil {
			return dial.Found{}, err
		}
		g, err := films.Gray(text, films.MostDots)
		if err != nil {
			if i == 0 {
				return dial.Found{}, err
			}
			continue
		}
		if f == nil {
			if f, err = dial.Begin(g, m); err != nil {
				return dial.Found{}, err
			}
		}
		if err := f.Add(float64(i)/fps, g); err != nil {
			return dial.Found{}, err
		}
	}
	if f == nil {
		return dial.Found{}, films.ErrNone
	}
	return f.Find(k, kind)
}

func answerOf(found dial.Found, fps float64, unit string) dialAnswer {
	round := func(v float64) float64 { return math.Round(1e4*v) / 1e4 }
	out := dialAnswer{
		FPS: fps, Unit: unit, Peak: found.Peak, Held: found.Held, Beats: found.Beats, RPM: found.RPM, Faces: found.Faces,
		Doubt: round(found.Doubt), Kind: found.Kind,
	}
	for _, s := range found.Sights {
		out.Readings = append(out.Readings, dialSight{round(s.Seconds), round(s.Value), s.Sure})
	}
	return out
}
