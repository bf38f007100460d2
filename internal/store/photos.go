package store

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"os"
	"path/filepath"
	"strings"

	"braxel/internal/core/book"
	"braxel/internal/core/say"
)

// ErrOther is what PutPhoto answers where another picture has that name.
var ErrOther = say.Error("store.another-photo-has-name-so")

// photo returns where the picture of an entry is.
func (s *Store) photo(id string) string { return filepath.Join(s.Dir, "photos", id+".jpg") }

// PutPhoto keeps the picture of an entry, whole or not at all, once: the same again changes nothing, another is refused.
// The id is one that book.CheckEnvelope would pass.
func (s *Store) PutPhoto(id string, picture []byte) error {
	file := s.photo(id)
	have, err := os.ReadFile(file)
	if err == nil {
		if bytes.Equal(have, picture) {
			return nil
		}
		return ErrOther
	}
	if err := s.present(); err != nil {
		return err
	}
	if err := os.MkdirAll(filepath.Dir(file), 0o700); err != nil {
		return err
	}
	return writeWhole(file, picture)
}

// Photo returns the picture of an entry.
func (s *Store) Photo(id string) ([]byte, error) {
	picture, err := os.ReadFile(s.photo(id))
	if errors.Is(err, os.ErrNotExist) {
		return nil, say.Error("store.photo", "id", id, "problem", ErrUnknown)
	}
	return picture, err
}

// missingPhotos names the photos that were noted and whose picture is not there.
func (s *Store) missingPhotos(ctx context.Context) ([]string, error) {
	ids, err := collect(func(r *sql.Rows) (id string, err error) { return id, r.Scan(&id) })(
		s.read.QueryContext(ctx, "SELECT id FROM entry WHERE kind = ? ORDER BY n", book.Photo))
	var missing []string
	for _, id := range ids {
		if _, err := os.Stat(s.photo(id)); err != nil {
			missing = append(missing, say.Text("store.picture-photo-missing", "id", id))
		}
	}
	return missing, err
}

// movePhotos brings pictures from where older files kept them, photos/ENGINE/TEST/KEY.jpg, to the names of their entries. It
// goes on where it was broken off.
func movePhotos(dir string) error {
	old, err := filepath.Glob(filepath.Join(dir, "photos", "*", "*", "*.jpg"))
	if err != nil || len(old) == 0 {
		return err
	}
	for _, file := range old {
		test, key := filepath.Base(filepath.Dir(file)), strings.TrimSuffix(filepath.Base(file), ".jpg")
		to := filepath.Join(dir, "photos", photoName(filepath.Base(filepath.Dir(filepath.Dir(file))), test, key)+".jpg")
		if _, err := os.Stat(to); errors.Is(err, os.ErrNotExist) {
			if err := os.Rename(file, to); err != nil {
				return err
			}
		}
	}
	return nil
}

// PhotoOf returns the picture of something seen at a test: that of its entry, or one that came from an older file.
func (s *Store) PhotoOf(engine, test, key string) ([]byte, error) {
	picture, err := s.Photo(photoName(engine, test, key))
	if errors.Is(err, ErrUnknown) && book.IsID(key) {
		return s.Photo(key)
	}
	return picture, err
}

// photoName is the name of a picture that came with a whole test: made of where it stands.
func photoName(engine, test, key string) string { return book.NameOf("picture", engine, test, key) }

// PutPhotoOf keeps the picture of something seen at a test that came in whole.
func (s *Store) PutPhotoOf(engine, test, key string, picture []byte) error {
	return s.PutPhoto(photoName(engine, test, key), picture)
}
