-- +goose Up
CREATE TABLE engine (
  id       TEXT PRIMARY KEY,
  body     TEXT NOT NULL,                -- log.Engine as JSON
  extra    TEXT,                         -- keys of an imported log that Braxel does not know, by JSON Pointer
  revision INTEGER NOT NULL DEFAULT 1,   -- rises with every change to the engine or its history
  summary  TEXT,                         -- what the rack shows, as judged at summary_revision
  summary_revision INTEGER NOT NULL DEFAULT 0,
  summary_judge    INTEGER NOT NULL DEFAULT 0
) STRICT;

CREATE TABLE tester (
  id   TEXT PRIMARY KEY,
  body TEXT NOT NULL                     -- log.Tester as JSON
) STRICT;

CREATE TABLE build (
  engine TEXT NOT NULL REFERENCES engine(id) ON DELETE CASCADE,
  id     TEXT NOT NULL,
  date   TEXT NOT NULL,
  what   TEXT NOT NULL,
  PRIMARY KEY (engine, id)
) STRICT;

CREATE TABLE event (
  n      INTEGER PRIMARY KEY,
  engine TEXT NOT NULL REFERENCES engine(id) ON DELETE CASCADE,
  date   TEXT NOT NULL,
  meter  REAL,
  what   TEXT NOT NULL
) STRICT;
CREATE INDEX event_engine ON event(engine, date, n);

CREATE TABLE session (
  n          INTEGER PRIMARY KEY,
  engine     TEXT NOT NULL REFERENCES engine(id) ON DELETE CASCADE,
  id         TEXT NOT NULL,
  date       TEXT NOT NULL,
  build      TEXT NOT NULL,
  stage      TEXT NOT NULL,
  meter      REAL,
  baseline   INTEGER NOT NULL,
  operator   TEXT NOT NULL,
  note       TEXT NOT NULL,
  open       INTEGER NOT NULL,
  conditions TEXT NOT NULL,              -- log.Conditions as JSON
  UNIQUE (engine, id)
) STRICT;
CREATE INDEX session_engine ON session(engine, date, n);

-- A pull keeps the row of the sheet that it stands in. It is never changed or deleted; struck says why it does not count.
CREATE TABLE pull (
  n         INTEGER PRIMARY KEY,
  session   INTEGER NOT NULL REFERENCES session(n) ON DELETE CASCADE,
  line      INTEGER NOT NULL,
  mode      TEXT NOT NULL,
  cylinder  INTEGER NOT NULL,
  rotor     INTEGER NOT NULL,
  face      INTEGER NOT NULL,
  tester    TEXT NOT NULL,
  oil_cc    REAL NOT NULL,
  value     REAL NOT NULL,
  unit      TEXT NOT NULL,
  beats     INTEGER NOT NULL,
  rpm       REAL NOT NULL,
  battery_v REAL NOT NULL,
  struck    TEXT NOT NULL,
  note      TEXT NOT NULL,
  key       TEXT NOT NULL,
  at        TEXT NOT NULL,
  UNIQUE (session, key)
) STRICT;

CREATE TABLE leakdown (
  n        INTEGER PRIMARY KEY,
  session  INTEGER NOT NULL REFERENCES session(n) ON DELETE CASCADE,
  cylinder INTEGER NOT NULL,
  tester   TEXT NOT NULL,
  supply   REAL NOT NULL,
  held     REAL NOT NULL,
  unit     TEXT NOT NULL,
  position TEXT NOT NULL,
  struck   TEXT NOT NULL,
  note     TEXT NOT NULL,
  paths    TEXT,                         -- JSON; NULL where nobody listened
  key      TEXT NOT NULL,
  UNIQUE (session, key)
) STRICT;

CREATE TABLE observation (
  n        INTEGER PRIMARY KEY,
  session  INTEGER NOT NULL REFERENCES session(n) ON DELETE CASCADE,
  what     TEXT NOT NULL,
  cylinder INTEGER NOT NULL,
  finding  TEXT NOT NULL,
  value    REAL,
  unit     TEXT NOT NULL,
  note     TEXT NOT NULL,
  key      TEXT NOT NULL,
  UNIQUE (session, key)
) STRICT;
