-- +goose Up
-- Engines that are practised on, with what is hidden in them. Only the file of practice has any.
CREATE TABLE practice (
    engine TEXT PRIMARY KEY,
    body   TEXT NOT NULL
) STRICT;
