package store

import (
	"archive/zip"
	"bytes"
	"context"
	"database/sql"
	"errors"
	"io"
	"os"
	"path/filepath"
	"strings"

	"braxel/internal/core/say"
)

// Copy writes a whole and consistent copy of the data in dir to the file to, whether or not another process has it open. A name
// that ends in .zip makes an archive of the data file and the photos; else the photos are put in a directory beside the copy. It
// refuses to write over a file. What was broken off leaves a .part, which the next one removes.
func Copy(ctx context.Context, dir, to string) error {
	from := filepath.Join(dir, File)
	if _, err := os.Stat(from); err != nil {
		return say.Error("store.there-no-data-file", "dir", dir)
	}
	if _, err := os.Stat(to); err == nil {
		return say.Error("store.there-already", "to", to)
	}
	part, packed := to+".part", to+".packing"
	if err := errors.Join(removeAll(part), removeAll(packed)); err != nil {
		return err
	}
	if err := copyWhole(ctx, dir, to, part, packed); err != nil {
		return errors.Join(err, removeAll(part), removeAll(packed)) // what failed leaves nothing that fills the disk
	}
	return nil
}

func copyWhole(ctx context.Context, dir, to, part, packed string) error {
	if err := copyFile(ctx, filepath.Join(dir, File), part); err != nil {
		return err
	}
	photos := filepath.Join(dir, "photos")
	if filepath.Ext(to) != ".zip" {
		if err := bringPhotos(photos, to+".photos"); err != nil {
			return err
		}
		return os.Rename(part, to)
	}
	if err := errors.Join(pack(part, photos, packed), removeAll(part)); err != nil {
		return err
	}
	return os.Rename(packed, to)
}

// Backup is Copy for an open store.
func (s *Store) Backup(ctx context.Context, to string) error { return Copy(ctx, s.Dir, to) }

// copyFile writes a copy of a data file, on disk when it returns, for its owner's eyes alone.
func copyFile(ctx context.Context, from, to string) error {
	db, err := sql.Open("sqlite", uri(from)+"?_pragma=busy_timeout(5000)")
	if err != nil {
		return err
	}
	if err := errors.Join(vacuumInto(ctx, db, to), db.Close()); err != nil {
		return err
	}
	return settle(to)
}

// settle makes sure that a file is on disk and nobody else's to read.
func settle(file string) error {
	f, err := os.OpenFile(file, os.O_RDWR, 0)
	if err != nil {
		return err
	}
	const ours = 0o600
	return errors.Join(f.Chmod(ours), f.Sync(), f.Close())
}

func vacuumInto(ctx context.Context, db *sql.DB, to string) error {
	if _, err := os.Stat(to); err == nil {
		return say.Error("store.there-already", "to", to)
	}
	_, err := db.ExecContext(ctx, "VACUUM INTO ?", to)
	return err
}

// pack writes an archive of a data file and photos.
func pack(file, photos, to string) (err error) {
	out, err := os.OpenFile(to, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, out.Close()) }()
	z := zip.NewWriter(out)
	if err := packOne(z, file, File, zip.Deflate); err != nil {
		return err
	}
	names, err := photosIn(photos)
	if err != nil {
		return err
	}
	for _, name := range names {
		if err := packOne(z, filepath.Join(photos, name), "photos/"+name, zip.Store); err != nil {
			return err
		}
	}
	return errors.Join(z.Close(), out.Sync())
}

func packOne(z *zip.Writer, file, as string, method uint16) error {
	in, err := os.Open(file)
	if err != nil {
		return err
	}
	defer func() { _ = in.Close() }()
	w, err := z.CreateHeader(&zip.FileHeader{Name: as, Method: method})
	if err == nil {
		_, err = io.Copy(w, in)
	}
	return err
}

// photosIn returns the names of the whole pictures in a directory; there is none where there is no directory.
func photosIn(dir string) ([]string, error) {
	files, err := os.ReadDir(dir)
	if errors.Is(err, os.ErrNotExist) {
		return nil, nil
	}
	var names []string
	for _, f := range files {
		if !f.IsDir() && strings.HasSuffix(f.Name(), ".jpg") {
			names = append(names, f.Name())
		}
	}
	return names, err
}

// bringPhotos puts the pictures of one directory in another where they are not there. A picture never changes, so on one disk a
// second name for it is enough.
func bringPhotos(from, to string) error {
	names, err := photosIn(from)
	if err != nil || len(names) == 0 {
		return err
	}
	if err := os.MkdirAll(to, 0o700); err != nil {
		return err
	}
	for _, name := range names {
		file := filepath.Join(to, name)
		if _, err := os.Stat(file); err == nil {
			continue
		}
		if err := linkOrCopy(filepath.Join(from, name), file); err != nil {
			return err
		}
	}
	return nil
}

// linkOrCopy gives a file a second name, or copies it where the disk knows no second names.
func linkOrCopy(from, to string) error {
	if os.Link(from, to) == nil {
		return nil
	}
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	return errors.Join(writeFrom(to, in), in.Close())
}

// writeWhole writes a file that is there whole or not at all.
func writeWhole(file string, text []byte) error { return writeFrom(file, bytes.NewReader(text)) }

func writeFrom(file string, from io.Reader) error {
	part, err := os.CreateTemp(filepath.Dir(file), "*.part")
	if err != nil {
		return err
	}
	_, err = io.Copy(part, from)
	if err = errors.Join(err, part.Sync(), part.Close()); err != nil {
		return errors.Join(err, os.Remove(part.Name()))
	}
	return os.Rename(part.Name(), file)
}
