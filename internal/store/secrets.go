package store

import (
	"context"
	"database/sql"
	"errors"
	"os"
	"path/filepath"
	"slices"
	"sync"
	"time"

	"braxel/internal/core/say"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
)

// What lets somebody in is kept in a file beside the data file, for its owner's eyes alone. It is in no copy and in no export, and stays
// as it is when a copy of the data is put back.

// secretsFile is its name in the data directory.
const secretsFile = "braxel.secrets"

// Device is one that was let in by the passcode.
type Device struct {
	ID    string    `json:"id"`
	Name  string    `json:"name"`
	Token []byte    `json:"token"` // SHA-256 of what its cookie holds
	Since time.Time `json:"since"`
	Seen  time.Time `json:"seen"`
	Shut  bool      `json:"shut,omitzero"`
}

// Pairing is another machine that this one exchanges with, and what its Braxel knows this one by.
type Pairing struct {
	Address string `json:"address"`
	Token   string `json:"token"`
}

// secrets is the file, in memory.
type secrets struct {
	mu   sync.Mutex
	file string
	now  kept
}

// kept is what it holds.
type kept struct {
	Passcode []byte         `json:"passcode,omitzero"` // its bcrypt hash
	Devices  []Device       `json:"devices,omitzero"`
	Calendar string         `json:"calendar,omitzero"` // the secret of the calendar's address
	Paired   []Pairing      `json:"paired,omitzero"`
	Rest     jsontext.Value `json:",embed"`
}

// openSecrets reads the file, where there is one.
func openSecrets(dir string) (*secrets, error) {
	s := &secrets{file: filepath.Join(dir, secretsFile)}
	text, err := os.ReadFile(s.file)
	if errors.Is(err, os.ErrNotExist) {
		return s, nil
	}
	if err == nil {
		err = json.Unmarshal(text, &s.now)
	}
	if err != nil {
		return nil, say.Error("store.cant-read-move-away-let", "file", s.file, "err", err)
	}
	return s, nil
}

// change changes what is kept, on disk before it counts.
func (s *secrets) change(change func(*kept)) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	next := s.now
	next.Devices, next.Paired = slices.Clone(s.now.Devices), slices.Clone(s.now.Paired)
	change(&next)
	text, err := json.Marshal(next)
	if err != nil {
		return err
	}
	if err := writeWhole(s.file, text); err != nil { // a fresh file is its owner's alone
		return say.Error("store.connected-devices-cant-saved", "err", err)
	}
	s.now = next
	return nil
}

func (s *secrets) read() kept {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.now
}

// Passcode returns the hash of the passcode, nil where none was ever set.
func (s *Store) Passcode() []byte { return s.secrets.read().Passcode }

// SetPasscode keeps the hash of a new passcode in the place of the one before.
func (s *Store) SetPasscode(hash []byte) error {
	return s.secrets.change(func(k *kept) { k.Passcode = hash })
}

// Devices returns every device that was ever let in, in the order of that.
func (s *Store) Devices() []Device { return slices.Clone(s.secrets.read().Devices) }

// KeepDevice writes a device, new or changed.
func (s *Store) KeepDevice(d Device) error {
	return s.secrets.change(func(k *kept) {
		i := slices.IndexFunc(k.Devices, func(have Device) bool { return have.ID == d.ID })
		if i < 0 {
			k.Devices = append(k.Devices, d)
			return
		}
		k.Devices[i] = d
	})
}

// CalendarKey returns the secret of the calendar's address, "" where there is none yet.
func (s *Store) CalendarKey() string { return s.secrets.read().Calendar }

// SetCalendarKey keeps a secret in the place of the one before, under which nobody is answered from then on.
func (s *Store) SetCalendarKey(key string) error {
	return s.secrets.change(func(k *kept) { k.Calendar = key })
}

// PairedWith returns what the machine at that address knows this one by, "" where they were never paired.
func (s *Store) PairedWith(address string) string {
	for _, p := range s.secrets.read().Paired {
		if p.Address == address {
			return p.Token
		}
	}
	return ""
}

// Pair keeps what the machine at that address knows this one by.
func (s *Store) Pair(address, token string) error {
	return s.secrets.change(func(k *kept) {
		k.Paired = slices.DeleteFunc(k.Paired, func(p Pairing) bool { return p.Address == address })
		k.Paired = append(k.Paired, Pairing{address, token})
	})
}

// takeSecretsOut moves what lets somebody in out of a data file of schema 4 to 6, before anything is copied from it. Broken off, it is
// done again.
func takeSecretsOut(ctx context.Context, db *sql.DB, dir string) error {
	s, err := openSecrets(dir)
	if err != nil {
		return err
	}
	var old kept
	_ = db.QueryRowContext(ctx, "SELECT hash FROM passcode").Scan(&old.Passcode) // there may be none, and no such table
	_ = db.QueryRowContext(ctx, "SELECT key FROM calendar").Scan(&old.Calendar)
	old.Devices, err = collect(func(r *sql.Rows) (d Device, err error) {
		var since, seen string
		if err = r.Scan(&d.ID, &d.Name, &d.Token, &since, &seen, &d.Shut); err != nil {
			return d, err
		}
		d.Since, _ = time.Parse(time.RFC3339, since)
		d.Seen, _ = time.Parse(time.RFC3339, seen)
		return d, nil
	})(db.QueryContext(ctx, "SELECT id, name, token, since, seen, shut IS NOT NULL FROM device ORDER BY since, id"))
	if err != nil {
		return nil // an older file, which has none
	}
	have := s.read()
	if have.Passcode == nil && len(have.Devices) == 0 && have.Calendar == "" {
		if err := s.change(func(k *kept) { *k = old }); err != nil {
			return err
		}
	}
	for _, table := range []string{"passcode", "device", "calendar"} {
		if _, err := db.ExecContext(ctx, "DELETE FROM "+table); err != nil && table != "calendar" { // schema 4 has none
			return err
		}
	}
	return nil
}
