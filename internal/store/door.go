package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// Device is one that was let in by the passcode.
type Device struct {
	ID    string
	Name  string
	Token []byte // SHA-256 of what its cookie holds
	Since time.Time
	Seen  time.Time
	Shut  bool
}

// Passcode returns the hash of the passcode, nil where none was ever set.
func (s *Store) Passcode(ctx context.Context) (hash []byte, err error) {
	err = s.read.QueryRowContext(ctx, "SELECT hash FROM passcode").Scan(&hash)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	return hash, err
}

// SetPasscode keeps the hash of a new passcode in the place of the one before.
func (s *Store) SetPasscode(ctx context.Context, hash []byte, now time.Time) error {
	_, err := s.write.ExecContext(ctx, "INSERT OR REPLACE INTO passcode (one, hash, made) VALUES (1, ?, ?)", hash, stamp(now))
	return err
}

// Devices returns every device that was ever let in, in the order of that.
func (s *Store) Devices(ctx context.Context) ([]Device, error) {
	return collect(func(r *sql.Rows) (d Device, err error) {
		var since, seen string
		if err = r.Scan(&d.ID, &d.Name, &d.Token, &since, &seen, &d.Shut); err != nil {
			return d, err
		}
		d.Since, err = time.Parse(time.RFC3339, since)
		if err == nil {
			d.Seen, err = time.Parse(time.RFC3339, seen)
		}
		return d, err
	})(s.read.QueryContext(ctx, "SELECT id, name, token, since, seen, shut IS NOT NULL FROM device ORDER BY since, id"))
}

// KeepDevice writes a device, new or changed.
func (s *Store) KeepDevice(ctx context.Context, d Device) error {
	var shut any
	if d.Shut {
		shut = stamp(d.Seen)
	}
	_, err := s.write.ExecContext(ctx, "INSERT OR REPLACE INTO device (id, name, token, since, seen, shut) VALUES (?, ?, ?, ?, ?, ?)",
		d.ID, d.Name, d.Token, stamp(d.Since), stamp(d.Seen), shut)
	return err
}

func stamp(t time.Time) string { return t.UTC().Format(time.RFC3339) }
