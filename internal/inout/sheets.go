package inout

import (
	"context"

	"braxel/internal/core/log"
	"braxel/internal/core/table"
	"braxel/internal/store"
)

// Here gives the reader of sheets what is on record: the engines, by which those of a sheet are known again, and what was corrected in
// earlier sheets.
func Here(ctx context.Context, s *store.Store, picks *table.Picks) {
	picks.Remembered = s.Sheets()
	names := s.Names()
	for _, id := range s.Engines() {
		picks.Known = append(picks.Known, table.Known{ID: id, Name: names[id], Load: func() (log.Engine, error) {
			l, _, err := s.Log(ctx, id)
			return l.Engine, err
		}})
	}
}
