package store

import (
	"context"
	"database/sql"
	"encoding/json"

	"braxel/internal/core/protocol"
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

// Row is the kept pulls of one cylinder in one session, in kPa, with one tester.
type Row struct {
	Tester string
	Pulls  []float64
}

// Rows returns the rows of dry pulls, struck ones left out, that were made with each tester, for its repeatability.
func (s *Store) Rows(ctx context.Context) ([]Row, error) {
	const inKPa = "value * CASE unit WHEN 'psi' THEN 6.894757293168361 WHEN 'bar' THEN 100.0 WHEN 'kgf/cm2' THEN 98.0665 ELSE 1.0 END"
	return collect(func(r *sql.Rows) (row Row, err error) {
		var pulls []byte
		if err := r.Scan(&row.Tester, &pulls); err != nil {
			return row, err
		}
		return row, json.Unmarshal(pulls, &row.Pulls)
	})(s.read.QueryContext(ctx, "SELECT tester, json_group_array("+inKPa+") FROM pull WHERE struck = '' AND mode = 'dry' AND tester != '' GROUP BY session, line"))
}
