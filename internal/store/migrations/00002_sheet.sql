-- +goose Up
-- What the whole run sheet keeps beside its readings: where the engine is, the testers chosen, the lists' ticks.
ALTER TABLE session ADD COLUMN sheet TEXT NOT NULL DEFAULT '{}';

CREATE TABLE protocol (
  id   TEXT PRIMARY KEY,
  body TEXT NOT NULL                     -- protocol.Protocol as JSON
) STRICT;

CREATE INDEX pull_tester ON pull(tester);
