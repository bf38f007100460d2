package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// CalendarKey returns the secret of the calendar's address, "" where there is none yet.
func (s *Store) CalendarKey(ctx context.Context) (key string, err error) {
	err = s.read.QueryRowContext(ctx, "SELECT key FROM calendar").Scan(&key)
	if errors.Is(err, sql.ErrNoRows) {
		return "", nil
	}
	return key, err
}

// SetCalendarKey keeps a secret in the place of the one before, under which nobody is answered from then on.
func (s *Store) SetCalendarKey(ctx context.Context, key string, now time.Time) error {
	_, err := s.write.ExecContext(ctx, "INSERT OR REPLACE INTO calendar (one, key, made) VALUES (1, ?, ?)", key, stamp(now))
	return err
}
