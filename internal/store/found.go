package store

import (
	"context"

	"braxel/internal/core/log"
)

// Opened returns the engines of which somebody noted what was found when they were opened.
func (s *Store) Opened(ctx context.Context) ([]string, error) {
	rows, err := s.read.QueryContext(ctx, "SELECT DISTINCT engine FROM entry WHERE instr(body, ?) > 0 ORDER BY engine", `"item":"`+log.Found+`"`)
	if err != nil {
		return nil, err
	}
	defer func() { _ = rows.Close() }()
	var all []string
	for rows.Next() {
		var engine string
		if err := rows.Scan(&engine); err != nil {
			return nil, err
		}
		all = append(all, engine)
	}
	return all, rows.Err()
}
