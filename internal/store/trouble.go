package store

import (
	"errors"
	"syscall"

	"braxel/internal/core/say"

	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// primary leaves of a code of SQLite what it is about; what stands above tells more than anybody at an engine wants to know.
const primary = 0xff

// Trouble says in a sentence why the disk doesn't take or give something now, where it is that; else it is "". What was typed is in none
// of these cases lost: whoever typed it keeps it and tries again.
func Trouble(err error) string {
	var of *sqlite.Error
	code := 0
	if errors.As(err, &of) {
		code = of.Code() & primary
	}
	switch {
	case errors.Is(err, ErrGone):
		return say.Text("store.data-file-gone-disk-was")
	case code == sqlite3.SQLITE_FULL, errors.Is(err, syscall.ENOSPC), errors.Is(err, syscall.EDQUOT):
		return say.Text("store.disk-full-make-room-machine")
	case code == sqlite3.SQLITE_BUSY, code == sqlite3.SQLITE_LOCKED:
		return say.Text("store.another-program-using-data-file")
	case code == sqlite3.SQLITE_READONLY, code == sqlite3.SQLITE_PERM, code == sqlite3.SQLITE_CANTOPEN,
		errors.Is(err, syscall.EROFS), errors.Is(err, syscall.EACCES):
		return say.Text("store.data-file-cant-written-check")
	case code == sqlite3.SQLITE_IOERR, errors.Is(err, syscall.EIO):
		return say.Text("store.disk-doesnt-answer-look-at")
	case code == sqlite3.SQLITE_CORRUPT, code == sqlite3.SQLITE_NOTADB:
		return say.Text("store.part-data-file-damaged-go")
	case errors.Is(err, syscall.EMFILE), errors.Is(err, syscall.ENFILE):
		return say.Text("store.machine-cant-open-more-files")
	}
	return ""
}

// damaged reports whether SQLite found the pages of a file at odds with each other.
func damaged(err error) bool {
	var of *sqlite.Error
	return errors.As(err, &of) && of.Code()&primary == sqlite3.SQLITE_CORRUPT
}
