// Package plain puts the errors of the file system, the network, SQLite and the readers of files into words for whoever stands at the
// engine. What our own code says is left as it is.
package plain

import (
	"archive/zip"
	"context"
	"encoding/csv"
	stdjson "encoding/json"
	"errors"
	"io"
	"io/fs"
	"net"
	"net/url"
	"os"
	"slices"
	"strings"
	"syscall"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	"modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"

	"braxel/internal/core/say"
)

// Words returns what an error says, with whatever Go, the system or a library says in it put plainly.
func Words(err error) string {
	if words := known(err); words != "" {
		return words
	}
	text := err.Error()
	for _, inner := range within(err) {
		if said := inner.Error(); said != "" {
			text = strings.Replace(text, said, Words(inner), 1)
		}
	}
	return text
}

// within returns the errors that an error wraps.
func within(err error) []error {
	switch u := err.(type) {
	case interface{ Unwrap() error }:
		if inner := u.Unwrap(); inner != nil {
			return []error{inner}
		}
	case interface{ Unwrap() []error }:
		return u.Unwrap()
	}
	return nil
}

// known returns the words for an error that is itself of a library, not merely about one; "" for any other.
func known(err error) string {
	switch e := err.(type) {
	case *fs.PathError:
		return say.Text("plain.of-file", "file", e.Path, "why", Words(e.Err))
	case *os.LinkError:
		return say.Text("plain.of-file", "file", e.New, "why", Words(e.Err))
	case *os.SyscallError:
		return Words(e.Err)
	case *url.Error:
		return Words(e.Err)
	case *net.DNSError:
		return say.Text("plain.no-such-machine", "name", e.Name)
	case *net.OpError:
		return Words(e.Err)
	case *sqlite.Error:
		return database(e)
	case *csv.ParseError:
		return say.Text("plain.at-line", "line", e.Line, "column", e.Column)
	case *jsontext.SyntacticError:
		return say.Text("plain.at-character", "n", int(e.ByteOffset)+1)
	case *json.SemanticError:
		return say.Text("plain.wrong-kind", "field", string(e.JSONPointer))
	case *stdjson.SyntaxError:
		return say.Text("plain.at-character", "n", int(e.Offset))
	case *stdjson.UnmarshalTypeError:
		return say.Text("plain.wrong-kind", "field", e.Field)
	}
	if len(within(err)) > 0 {
		return ""
	}
	return reason(err)
}

// reasons are the words for errors that are known by what they are.
var reasons = []struct {
	words string
	of    []error
}{
	{say.Text("plain.not-there"), []error{fs.ErrNotExist}},
	{say.Text("plain.not-allowed"), []error{fs.ErrPermission}},
	{say.Text("plain.already-there"), []error{fs.ErrExist}},
	{say.Text("plain.disk-full"), []error{syscall.ENOSPC, syscall.EDQUOT}},
	{say.Text("plain.read-only"), []error{syscall.EROFS}},
	{say.Text("plain.disk-silent"), []error{syscall.EIO}},
	{say.Text("plain.a-directory"), []error{syscall.EISDIR}},
	{say.Text("plain.no-directory"), []error{syscall.ENOTDIR}},
	{say.Text("plain.too-many-files"), []error{syscall.EMFILE, syscall.ENFILE}},
	{say.Text("plain.port-in-use"), []error{syscall.EADDRINUSE}},
	{say.Text("plain.not-this-machine"), []error{syscall.EADDRNOTAVAIL}},
	{say.Text("plain.nothing-answers"), []error{syscall.ECONNREFUSED}},
	{say.Text("plain.no-way-there"), []error{syscall.EHOSTUNREACH, syscall.ENETUNREACH}},
	{say.Text("plain.connection-lost"), []error{syscall.ECONNRESET, syscall.EPIPE, net.ErrClosed}},
	{say.Text("plain.stopped"), []error{context.Canceled}},
	{say.Text("plain.ends-early"), []error{io.ErrUnexpectedEOF, io.EOF}},
	{say.Text("plain.damaged-archive"), []error{zip.ErrFormat, zip.ErrAlgorithm, zip.ErrChecksum}},
}

// reason returns the words for an error that wraps no other.
func reason(err error) string {
	for _, r := range reasons {
		if slices.ContainsFunc(r.of, func(one error) bool { return errors.Is(err, one) }) {
			return r.words
		}
	}
	var slow interface{ Timeout() bool }
	if errors.As(err, &slow) && slow.Timeout() {
		return say.Text("plain.too-slow")
	}
	return ""
}

// database returns the words for an error of SQLite, by its primary result code.
func database(err *sqlite.Error) string {
	const primary = 0xff
	switch err.Code() & primary {
	case sqlite3.SQLITE_FULL:
		return say.Text("plain.disk-full")
	case sqlite3.SQLITE_BUSY, sqlite3.SQLITE_LOCKED:
		return say.Text("plain.in-use")
	case sqlite3.SQLITE_READONLY, sqlite3.SQLITE_PERM:
		return say.Text("plain.not-allowed")
	case sqlite3.SQLITE_CANTOPEN:
		return say.Text("plain.cant-open")
	case sqlite3.SQLITE_IOERR:
		return say.Text("plain.disk-silent")
	case sqlite3.SQLITE_CORRUPT:
		return say.Text("plain.damaged")
	case sqlite3.SQLITE_NOTADB:
		return say.Text("plain.no-database")
	}
	return say.Text("plain.database", "text", err.Error())
}
