package store

import (
	"errors"
	"os"
	"path/filepath"

	"braxel/internal/core/book"
	"braxel/internal/core/say"
)

// The faces of gauges that were marked for the camera are beside the data file, a file each. They are no entries: losing one costs a few
// taps.
func (s *Store) face(gauge string) string {
	return filepath.Join(s.Dir, "faces", book.NameOf("face", gauge)+".json")
}

// PutFace keeps the face of a gauge, in place of the one before.
func (s *Store) PutFace(gauge string, face []byte) error {
	if err := s.present(); err != nil {
		return err
	}
	file := s.face(gauge)
	if err := os.MkdirAll(filepath.Dir(file), 0o700); err != nil {
		return err
	}
	return writeWhole(file, face)
}

// Face returns the face of a gauge; ErrUnknown where it was never marked.
func (s *Store) Face(gauge string) ([]byte, error) {
	face, err := os.ReadFile(s.face(gauge))
	if errors.Is(err, os.ErrNotExist) {
		return nil, say.Error("store.face", "gauge", gauge, "problem", ErrUnknown)
	}
	return face, err
}
