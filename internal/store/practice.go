package store

import (
	"context"
	"errors"
)

// Practice returns what was kept of engines that are practised on, by engine.
func (s *Store) Practice(ctx context.Context) (all map[string][]byte, err error) {
	rows, err := s.read.QueryContext(ctx, "SELECT engine, body FROM practice")
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	all = map[string][]byte{}
	for rows.Next() {
		var engine string
		var body []byte
		if err := rows.Scan(&engine, &body); err != nil {
			return nil, err
		}
		all[engine] = body
	}
	return all, rows.Err()
}

// KeepPractice keeps what is to be known of an engine that is practised on, in the place of what was.
func (s *Store) KeepPractice(ctx context.Context, engine string, body []byte) error {
	_, err := s.write.ExecContext(ctx, "INSERT OR REPLACE INTO practice (engine, body) VALUES (?, ?)", engine, string(body))
	return err
}
