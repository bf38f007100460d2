-- +goose Up
-- Who is let in, and by what, stands in a file beside this one (secrets.go): a copy of the data lets nobody in, and one that is put back
-- lets nobody in again who was shut out.
DROP TABLE IF EXISTS passcode;
DROP TABLE IF EXISTS device;
DROP TABLE IF EXISTS calendar;
