package store

import (
	"context"
	"database/sql"
	"encoding/json"

	"braxel/internal/core/protocol"
	"braxel/internal/core/units"
)

// Protocols returns the workshop's own protocols.
func (s *Store) Protocols(ctx context.Context) ([]protocol.Protocol, error) {
	return collect(func(r *sql.Rows) (p protocol.Protocol, err error) {
		var body []byte
		if err := r.Scan(&body); err != nil {
			return p, err
		}
		return p, json.Unmarshal(body, &p)
	})(s.read.QueryContext(ctx, "SELECT body FROM protocol ORDER BY id"))
}

// SetProtocol keeps a protocol; one without an id gets one made from its name.
func (s *Store) SetProtocol(ctx context.Context, p protocol.Protocol) (protocol.Protocol, error) {
	tx, err := s.write.BeginTx(ctx, nil)
	if err != nil {
		return p, err
	}
	defer func() { _ = tx.Rollback() }()
	if p.ID == "" {
		if p.ID, err = freeID(ctx, tx, "protocol", slug(p.Name)); err != nil {
			return p, err
		}
	}
	body, err := json.Marshal(p)
	if err != nil {
		return p, err
	}
	if _, err := tx.ExecContext(ctx, "INSERT INTO protocol (id, body) VALUES (?1, ?2) ON CONFLICT (id) DO UPDATE SET body = ?2", p.ID, string(body)); err != nil {
		return p, err
	}
	return p, tx.Commit()
}

// Spread is what an engine's dry pulls with one tester, typed in one unit, say of how well it repeats: how many there are,
// the sum of their squares about their cylinder's mean, and the degrees of freedom of that.
type Spread struct {
	Engine, Tester string
	Unit           units.Unit
	Pulls          int
	Squares        float64
	Free           int
}

// Spreads returns the spread of every tester on every engine; struck pulls are left out.
func (s *Store) Spreads(ctx context.Context) ([]Spread, error) {
	return collect(func(r *sql.Rows) (one Spread, err error) {
		return one, r.Scan(&one.Engine, &one.Tester, &one.Unit, &one.Pulls, &one.Squares, &one.Free)
	})(s.read.QueryContext(ctx, `SELECT engine, tester, unit, sum(pulls), sum(squares), sum(pulls - 1) FROM (
		SELECT session, tester, unit, count(*) AS pulls, max(0, sum(value * value) - sum(value) * sum(value) / count(*)) AS squares
		FROM pull WHERE struck = '' AND mode = 'dry' AND tester != '' GROUP BY session, line, unit) AS one
		JOIN session ON session.n = one.session GROUP BY engine, tester, unit`))
}
