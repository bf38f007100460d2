package main

import (
	"bufio"
	"encoding/json"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"braxel/internal/camera"
	"braxel/internal/core/say"
)

// usualLevel is what the stand-in's gauge holds, psi.
const usualLevel = 152.0

// cameraCommand writes a film of the stand-in's gauge, which the camera of a browser can show instead of its own.
func cameraCommand() *cobra.Command {
	level := usualLevel
	c := &cobra.Command{
		Use:   "camera FILM",
		Short: say.Text("command.write-film-of-made-up-gauge"),
		Args:  args(cobra.ExactArgs(1)),
		RunE: func(c *cobra.Command, files []string) error {
			if !(level >= 10 && level <= 290) {
				return usageError{say.Error("command.flag-not-so", "name", "--psi", "kind", kindOf("float64"), "given", level)}
			}
			f, err := os.Create(files[0])
			if err != nil {
				return err
			}
			defer f.Close()
			film := camera.Standing(level)
			w := bufio.NewWriter(f)
			if err := film.Reel(w); err != nil {
				return err
			}
			if err := w.Flush(); err != nil {
				return err
			}
			marks, err := json.Marshal(film.Taps(0, 150, 250))
			if err == nil {
				_, err = fmt.Fprintln(c.OutOrStdout(), string(marks))
			}
			return err
		},
	}
	c.Flags().Float64Var(&level, "psi", usualLevel, say.Text("command.what-made-up-gauge-holds"))
	return c
}
