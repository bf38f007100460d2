package store

import (
	"errors"
	"syscall"

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
		return "The data file is gone from where it was: its disk was unplugged, or the file was moved. Nothing can be kept until it is back and Braxel is started again."
	case code == sqlite3.SQLITE_FULL, errors.Is(err, syscall.ENOSPC), errors.Is(err, syscall.EDQUOT):
		return "The disk is full. Make room on the machine that runs Braxel: what you typed waits and is kept then."
	case code == sqlite3.SQLITE_BUSY, code == sqlite3.SQLITE_LOCKED:
		return "Another program is holding the data file. Close it, or wait: what you typed is kept then."
	case code == sqlite3.SQLITE_READONLY, code == sqlite3.SQLITE_PERM, code == sqlite3.SQLITE_CANTOPEN,
		errors.Is(err, syscall.EROFS), errors.Is(err, syscall.EACCES):
		return "The data file can't be written to. Look at its disk and its permissions on the machine that runs Braxel."
	case code == sqlite3.SQLITE_IOERR, errors.Is(err, syscall.EIO):
		return "The disk doesn't answer. Look at it on the machine that runs Braxel."
	case code == sqlite3.SQLITE_CORRUPT, code == sqlite3.SQLITE_NOTADB:
		return "Part of the data file is damaged. See Backups: check it, or put a copy back."
	case errors.Is(err, syscall.EMFILE), errors.Is(err, syscall.ENFILE):
		return "This machine has no room for more open files just now. Try again in a moment."
	}
	return ""
}
