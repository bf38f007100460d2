-- +goose Up
-- The secret of the address under which the diary's calendar is subscribed to. It is shown again, so it is kept as it is.
CREATE TABLE calendar (
    one  INTEGER PRIMARY KEY CHECK (one = 1),
    key  TEXT NOT NULL,
    made TEXT NOT NULL
) STRICT;
