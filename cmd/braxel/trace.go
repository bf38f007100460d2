package main

import (
	"encoding/json"
	"fmt"
	"io"
	"os"
	"path/filepath"

	"github.com/spf13/cobra"

	"braxel/internal/core/say"
	"braxel/internal/core/trace"
	"braxel/internal/logfile"
	"braxel/internal/plain"
)

func traceCommand() *cobra.Command {
	var index string
	c := &cobra.Command{
		Use:   "trace FILE...",
		Short: say.Text("command.read-recordings-cranking-engine-pressure"),
		Args:  args(cobra.MinimumNArgs(1)),
		RunE: func(c *cobra.Command, files []string) error {
			known, err := readIndex(index)
			if err != nil {
				return err
			}
			out := json.NewEncoder(c.OutOrStdout())
			for _, file := range files {
				k := known[filepath.Base(file)]
				k.File = filepath.Base(file)
				a, err := readTrace(file, k)
				if err != nil {
					return err
				}
				if err := out.Encode(a); err != nil {
					return err
				}
			}
			return nil
		},
	}
	c.Flags().StringVar(&index, "index", "", say.Text("command.file-with-what-known-each"))
	return c
}

// readIndex reads what is known of recordings, by the file's name; nothing of any where there is no index.
func readIndex(path string) (map[string]trace.Known, error) {
	known := map[string]trace.Known{}
	if path == "" {
		return known, nil
	}
	text, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	var all []trace.Known
	if err := json.Unmarshal(text, &all); err != nil {
		return nil, fmt.Errorf("%s: %w", path, err)
	}
	for _, k := range all {
		known[k.File] = k
	}
	return known, nil
}

// readTrace reads one file. One that cannot be opened is an error; one that is no recording is an answer, which says why.
func readTrace(path string, k trace.Known) (trace.Answer, error) {
	in, err := os.Open(path)
	if err != nil {
		return trace.Answer{}, err
	}
	defer in.Close()
	text, err := io.ReadAll(io.LimitReader(in, logfile.MostTrace+1))
	if err != nil {
		return trace.Answer{}, err
	}
	r, err := logfile.ReadTrace(text, k)
	if err != nil {
		return trace.Answer{File: k.File, Why: plain.Words(err)}, nil
	}
	return trace.Read(r, k), nil
}
