-- +goose Up
-- Engines are told apart by their names, too: those are asked for at every start.
CREATE INDEX entry_names ON entry(engine, n) WHERE kind = 'engine';

-- The passcode that lets a device in, as bcrypt has it, and the devices that it let in: of each, its token's SHA-256.
CREATE TABLE passcode (
    one  INTEGER PRIMARY KEY CHECK (one = 1),
    hash BLOB NOT NULL,
    made TEXT NOT NULL
) STRICT;

CREATE TABLE device (
    id    TEXT PRIMARY KEY,
    name  TEXT NOT NULL,
    token BLOB NOT NULL UNIQUE,
    since TEXT NOT NULL,
    seen  TEXT NOT NULL,
    shut  TEXT
) STRICT;
