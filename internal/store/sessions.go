package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"

	"braxel/internal/core/log"
)

// AddSession begins a visit and returns it with its id, unique within the engine.
func (s *Store) AddSession(ctx context.Context, engine string, one log.Session) (log.Session, error) {
	err := s.change(ctx, engine, "", func(tx *sql.Tx) error {
		var n int
		if err := tx.QueryRowContext(ctx, "SELECT count(*) FROM session WHERE engine = ?", engine).Scan(&n); err != nil {
			return err
		}
		for {
			n++
			one.ID = fmt.Sprintf("s%d", n)
			if _, err := sessionNumber(ctx, tx, engine, one.ID); errors.Is(err, ErrUnknown) {
				break
			} else if err != nil {
				return err
			}
		}
		_, err := addSession(ctx, tx, engine, one)
		return err
	})
	return one, err
}

func addSession(ctx context.Context, tx *sql.Tx, engine string, one log.Session) (int64, error) {
	conditions, err := json.Marshal(one.Conditions)
	if err != nil {
		return 0, err
	}
	head, err := json.Marshal(headOf(one))
	if err != nil {
		return 0, err
	}
	done, err := tx.ExecContext(ctx,
		"INSERT INTO session (engine, id, date, build, stage, meter, baseline, operator, note, open, conditions, sheet) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
		engine, one.ID, one.Date, one.Build, one.Stage, one.Meter, one.Baseline, one.Operator, one.Note, one.Open, string(conditions), string(head))
	if err != nil {
		return 0, err
	}
	return done.LastInsertId()
}

// head is what the run sheet keeps of a session beside its readings and conditions.
type head struct {
	Place    string   `json:"place,omitempty"`
	Protocol string   `json:"protocol,omitempty"`
	Gauge    string   `json:"gauge,omitempty"`
	Kit      string   `json:"kit,omitempty"`
	Ticks    []string `json:"ticks,omitempty"`
}

func headOf(s log.Session) head { return head{s.Place, s.Protocol, s.Gauge, s.Kit, s.Ticks} }

func (h head) put(s *log.Session) {
	s.Place, s.Protocol, s.Gauge, s.Kit, s.Ticks = h.Place, h.Protocol, h.Gauge, h.Kit, h.Ticks
}

// Tick sets or clears one line of a session's lists, leaving the others as they are.
func (s *Store) Tick(ctx context.Context, engine, session, line string, done bool) error {
	return s.change(ctx, engine, session, func(tx *sql.Tx) error {
		n, err := sessionNumber(ctx, tx, engine, session)
		if err != nil {
			return err
		}
		var text []byte
		if err := tx.QueryRowContext(ctx, "SELECT sheet FROM session WHERE n = ?", n).Scan(&text); err != nil {
			return err
		}
		var h head
		if err := json.Unmarshal(text, &h); err != nil {
			return err
		}
		h.Ticks = slices.DeleteFunc(h.Ticks, func(t string) bool { return t == line })
		if done {
			h.Ticks = append(h.Ticks, line)
		}
		if text, err = json.Marshal(h); err != nil {
			return err
		}
		_, err = tx.ExecContext(ctx, "UPDATE session SET sheet = ? WHERE n = ?", string(text), n)
		return err
	})
}

// SetSession replaces what stands at the head of a session: date, build, stage, meter, conditions, notes. Its readings
// are not touched.
func (s *Store) SetSession(ctx context.Context, engine string, one log.Session) error {
	conditions, err := json.Marshal(one.Conditions)
	if err != nil {
		return err
	}
	head, err := json.Marshal(headOf(one))
	if err != nil {
		return err
	}
	return s.change(ctx, engine, "", func(tx *sql.Tx) error {
		done, err := tx.ExecContext(ctx,
			"UPDATE session SET date = ?, build = ?, stage = ?, meter = ?, baseline = ?, operator = ?, note = ?, open = ?, conditions = ?, sheet = ? WHERE engine = ? AND id = ?",
			one.Date, one.Build, one.Stage, one.Meter, one.Baseline, one.Operator, one.Note, one.Open, string(conditions), string(head), engine, one.ID)
		return changed(done, err, "session "+one.ID)
	})
}

func changed(done sql.Result, err error, what string) error {
	if err != nil {
		return err
	}
	if n, _ := done.RowsAffected(); n == 0 {
		return fmt.Errorf("%s: %w", what, ErrUnknown)
	}
	return nil
}

func sessionNumber(ctx context.Context, tx *sql.Tx, engine, session string) (int64, error) {
	var n int64
	err := tx.QueryRowContext(ctx, "SELECT n FROM session WHERE engine = ? AND id = ?", engine, session).Scan(&n)
	if errors.Is(err, sql.ErrNoRows) {
		return 0, fmt.Errorf("session %q: %w", session, ErrUnknown)
	}
	return n, err
}

// AddPull keeps one pull on disk; row says where it stands and holds that pull alone. It goes into the cylinder's last
// row of that mode, or into a new one where the tester or the oil differs. A pull whose key is there already is kept
// once.
func (s *Store) AddPull(ctx context.Context, engine, session string, row log.Compression) error {
	return s.change(ctx, engine, session, func(tx *sql.Tx) error {
		n, err := sessionNumber(ctx, tx, engine, session)
		if err != nil {
			return err
		}
		var line int
		err = tx.QueryRowContext(ctx,
			`SELECT line FROM pull WHERE session = ?1 AND mode = ?2 AND cylinder = ?3 AND rotor = ?4 AND face = ?5 AND tester = ?6 AND oil_cc = ?7
			 AND n = (SELECT max(n) FROM pull WHERE session = ?1 AND mode = ?2 AND cylinder = ?3 AND rotor = ?4 AND face = ?5)`,
			n, row.Mode, row.Cylinder, row.Rotor, row.Face, row.Tester, row.OilCC).Scan(&line)
		if errors.Is(err, sql.ErrNoRows) {
			err = tx.QueryRowContext(ctx, "SELECT coalesce(max(line), -1) + 1 FROM pull WHERE session = ?", n).Scan(&line)
		}
		if err != nil {
			return err
		}
		return addPulls(ctx, tx, n, line, row)
	})
}

func addPulls(ctx context.Context, tx *sql.Tx, session int64, line int, row log.Compression) error {
	for i, p := range row.Pulls {
		if p.Key == "" {
			p.Key = fmt.Sprintf("%d.%d", line, i)
		}
		if _, err := tx.ExecContext(ctx,
			`INSERT INTO pull (session, line, mode, cylinder, rotor, face, tester, oil_cc, value, unit, beats, rpm, battery_v, struck, note, key, at)
			 VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (session, key) DO NOTHING`,
			session, line, row.Mode, row.Cylinder, row.Rotor, row.Face, row.Tester, row.OilCC,
			p.Value, p.Unit, p.Beats, p.RPM, p.BatteryV, p.Struck, p.Note, p.Key, p.At); err != nil {
			return err
		}
	}
	return nil
}

// Tables whose entries can be struck, by the name the API uses.
var struckIn = map[string]string{"pulls": "pull", "leakdown": "leakdown"}

// Strike marks an entry as not counting, with the reason. It stays on record, and the first reason stands.
func (s *Store) Strike(ctx context.Context, engine, session, kind, key, why string) error {
	table, ok := struckIn[kind]
	if !ok {
		return fmt.Errorf("%s: %w", kind, ErrUnknown)
	}
	return s.change(ctx, engine, session, func(tx *sql.Tx) error {
		n, err := sessionNumber(ctx, tx, engine, session)
		if err != nil {
			return err
		}
		done, err := tx.ExecContext(ctx, "UPDATE "+table+" SET struck = CASE WHEN struck = '' THEN ? ELSE struck END WHERE session = ? AND key = ?", why, n, key)
		return changed(done, err, "entry "+key)
	})
}

// AddLeakdown keeps one leak-down attempt, once for its key.
func (s *Store) AddLeakdown(ctx context.Context, engine, session string, row log.Leakdown) error {
	return s.change(ctx, engine, session, func(tx *sql.Tx) error {
		n, err := sessionNumber(ctx, tx, engine, session)
		if err != nil {
			return err
		}
		return addLeakdown(ctx, tx, n, row)
	})
}

func addLeakdown(ctx context.Context, tx *sql.Tx, session int64, row log.Leakdown) error {
	var paths any
	if row.Paths != nil {
		body, err := json.Marshal(row.Paths)
		if err != nil {
			return err
		}
		paths = string(body)
	}
	_, err := tx.ExecContext(ctx,
		`INSERT INTO leakdown (session, cylinder, tester, supply, held, unit, position, struck, note, paths, key)
		 VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (session, key) DO NOTHING`,
		session, row.Cylinder, row.Tester, row.Supply, row.Held, row.Unit, row.Position, row.Struck, row.Note, paths, row.Key)
	return err
}

// AddObservation keeps one observation, once for its key.
func (s *Store) AddObservation(ctx context.Context, engine, session string, o log.Observation) error {
	return s.change(ctx, engine, session, func(tx *sql.Tx) error {
		n, err := sessionNumber(ctx, tx, engine, session)
		if err != nil {
			return err
		}
		return addObservation(ctx, tx, n, o)
	})
}

func addObservation(ctx context.Context, tx *sql.Tx, session int64, o log.Observation) error {
	_, err := tx.ExecContext(ctx,
		"INSERT INTO observation (session, what, cylinder, finding, value, unit, note, key) VALUES (?, ?, ?, ?, ?, ?, ?, ?) ON CONFLICT (session, key) DO NOTHING",
		session, o.What, o.Cylinder, o.Finding, o.Value, o.Unit, o.Note, o.Key)
	return err
}
