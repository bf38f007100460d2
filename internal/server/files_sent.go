package server

import (
	"errors"
	"io"
	"mime"
	"mime/multipart"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"time"

	"braxel/internal/core/say"

	"github.com/gofiber/fiber/v3"
)

func multipartOf(x fiber.Ctx) (*multipart.Reader, error) {
	kind, with, err := mime.ParseMediaType(x.Get("Content-Type"))
	if err != nil || kind != "multipart/form-data" || with["boundary"] == "" {
		return nil, say.Error("server.not-form")
	}
	return multipart.NewReader(bodyOf(x), with["boundary"]), nil
}

// scratch makes a directory for files that come and go, on the disk that the data is on. Done removes it.
func (h *handlers) scratch() (dir string, done func(), err error) {
	dir, err = os.MkdirTemp(h.store.Dir, ".passing-")
	return dir, func() { _ = os.RemoveAll(dir) }, err
}

// sendFile answers with a file as it lies on disk, for as long as whoever asks takes its bytes, and then calls done.
func sendFile(x fiber.Ctx, file, kind, name string, done func()) error {
	in, err := os.Open(file)
	if err != nil {
		done()
		return err
	}
	info, err := in.Stat()
	if err != nil {
		done()
		return errors.Join(err, in.Close())
	}
	x.Set("Content-Type", kind)
	x.Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": name}))
	return x.SendStream(&sending{in, x.RequestCtx().Conn(), done}, int(info.Size()))
}

// sending is a file on its way. What it is read for has been sent up to here, so the time for the next bytes begins anew.
type sending struct {
	*os.File
	conn net.Conn
	done func()
}

func (s *sending) Read(b []byte) (int, error) {
	_ = s.conn.SetWriteDeadline(time.Now().Add(nextBytes))
	return s.File.Read(b)
}

// WriteTo keeps a copying loop from going past Read.
func (s *sending) WriteTo(w io.Writer) (int64, error) { return io.Copy(w, struct{ io.Reader }{s}) }

func (s *sending) Close() error {
	defer s.done()
	return s.File.Close()
}

// keepSent writes a file that is being handed in to dir, and returns its path: at most so many bytes.
func keepSent(dir string, from io.Reader, most int64) (string, error) {
	file := filepath.Join(dir, "handed")
	out, err := os.OpenFile(file, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return "", err
	}
	n, err := io.Copy(out, io.LimitReader(from, most+1))
	if err = errors.Join(err, out.Close()); err != nil {
		return "", err
	}
	if n > most {
		return "", fiber.NewError(http.StatusRequestEntityTooLarge,
			say.Text("server.file-larger-than-can-imported"))
	}
	return file, nil
}
