package store

import (
	"errors"
	"syscall"

	"braxel/internal/core/say"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// Trouble says in a sentence why the disk doesn't take or give something now, where it is that; else it is "". What was typed is in none
// of these cases lost: whoever typed it keeps it and tries again.
func Trouble(err error) string {
	const primary = 0xff // what SQLite adds above tells more than anybody at an engine wants to know
	var of *sqlite.Error
	code := 0
	if errors.As(err, &of) {
		code = of.Code() & primary
	}
	switch {
	case errors.Is(err, ErrGone):
		return say.Text("store.the-data-file-is-gone")
	case code == sqlite3.SQLITE_FULL, errors.Is(err, syscall.ENOSPC), errors.Is(err, syscall.EDQUOT):
		return say.Text("store.the-disk-is-full-make")
	case code == sqlite3.SQLITE_BUSY, code == sqlite3.SQLITE_LOCKED:
		return say.Text("store.another-program-is-holding-the")
	case code == sqlite3.SQLITE_READONLY, code == sqlite3.SQLITE_PERM, code == sqlite3.SQLITE_CANTOPEN,
		errors.Is(err, syscall.EROFS), errors.Is(err, syscall.EACCES):
		return say.Text("store.the-data-file-cant-be")
	case code == sqlite3.SQLITE_IOERR, errors.Is(err, syscall.EIO):
		return say.Text("store.the-disk-doesnt-answer-look")
	case code == sqlite3.SQLITE_CORRUPT, code == sqlite3.SQLITE_NOTADB:
		return say.Text("store.part-of-the-data-file")
	case errors.Is(err, syscall.EMFILE), errors.Is(err, syscall.ENFILE):
		return say.Text("store.this-machine-has-no-room")
	}
	return ""
}
