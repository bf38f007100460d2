package logfile

import (
	"fmt"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
	"braxel/internal/core/season"
)

// seasonFile is a shop with a season ahead, as it is written.
type seasonFile struct {
	Format  string           `json:"format"`
	Version int              `json:"version"`
	Logs    []jsontext.Value `json:"logs"`
	Events  []season.Event   `json:"events"`
	Plans   []season.Run    `json:"plans"`
	Rest    jsontext.Value   `json:",embed"`
}

// ReadSeason reads a shop with a season ahead. One that can't be is refused with its faults, by pointer.
func ReadSeason(text []byte) (season.Ahead, error) {
	if err := measure(text); err != nil {
		return season.Ahead{}, err
	}
	var file seasonFile
	if err := json.Unmarshal(text, &file); err != nil {
		return season.Ahead{}, unreadable(err)
	}
	if file.Format != "braxel-season" || file.Version != 1 {
		return season.Ahead{}, log.Faults{log.At("/format", "logfile.not-a-season")}
	}
	out := season.Ahead{Events: file.Events, Plans: file.Plans}
	var found log.Faults
	for i, one := range file.Logs {
		l, _, err := Read(one)
		if err != nil {
			found.Also(log.Of(fmt.Sprintf("/logs/%d", i), err))
		}
		out.Logs = append(out.Logs, l)
	}
	found.Also(out.Check()...)
	if len(found) > 0 {
		return season.Ahead{}, found[:min(len(found), most)]
	}
	return out, nil
}
