package logfile

import (
	"archive/zip"
	"errors"
	"fmt"
	"io"
	"path"
	"strings"

	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/book"
	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/photo"
)

// Limits of an archive: what it unpacks to, not what it is packed to.
const (
	mostPhotos = 20_000
	MostPhoto  = photo.Most
	mostZip    = 1 << 30
)

// Picture is a photo of a test, an observation of the log; or of the engine itself, a note of it, with no test.
type Picture struct{ Engine, Test, Key string }

// PicturesOf returns the pictures that a log speaks of.
func PicturesOf(engine string, l log.Log) []Picture {
	var all []Picture
	for _, s := range l.Sessions {
		for _, o := range s.Observations {
			if o.Finding == "photo" && o.Key != "" {
				all = append(all, Picture{engine, s.ID, o.Key})
			}
		}
	}
	for _, n := range l.Notes {
		if n.Photo && n.Key != "" {
			all = append(all, Picture{Engine: engine, Key: n.Key})
		}
	}
	return all
}

// name is where a picture stands in an archive: made of what it is of, so that any sign may be in a test's name.
func (p Picture) name() string {
	return "photos/" + book.NameOf("picture", p.Engine, p.Test, p.Key) + ".jpg"
}

// Archive writes logs with their pictures: logs.jsonl, and photos/NAME.jpg. It holds one log at a time.
type Archive struct {
	zip      *zip.Writer
	logs     io.Writer
	pictures []Picture
}

// NewArchive begins an archive.
func NewArchive(w io.Writer) (*Archive, error) {
	a := &Archive{zip: zip.NewWriter(w)}
	var err error
	a.logs, err = a.zip.Create("logs.jsonl")
	return a, err
}

// Add adds a log. Its pictures come at the end.
func (a *Archive) Add(engine string, l log.Log) error {
	line, err := Line(l)
	if err != nil {
		return err
	}
	a.pictures = append(a.pictures, PicturesOf(engine, l)...)
	_, err = a.logs.Write(line)
	return err
}

// Close adds each picture that picture returns, nil where one is missing, and a note of what is left out, where something is.
func (a *Archive) Close(picture func(Picture) []byte, leftOut string) error {
	for _, p := range a.pictures {
		text := picture(p)
		if text == nil {
			continue
		}
		if err := a.file(p.name(), zip.Store, text); err != nil { // a JPEG packs no smaller
			return err
		}
	}
	if leftOut != "" {
		if err := a.file("LEFT-OUT.txt", zip.Deflate, []byte(leftOut+"\n")); err != nil {
			return err
		}
	}
	return a.zip.Close()
}

func (a *Archive) file(name string, method uint16, text []byte) error {
	w, err := a.zip.CreateHeader(&zip.FileHeader{Name: name, Method: method})
	if err != nil {
		return err
	}
	_, err = w.Write(text)
	return err
}

// Pictures finds the pictures that came with a log; nil where none could.
type Pictures func(Picture) ([]byte, error)

// archiveMark begins every archive.
const archiveMark = "PK\x03\x04"

// IsArchive reports whether a file is an archive, by how it begins.
func IsArchive(r io.ReaderAt) bool {
	head := make([]byte, len(archiveMark))
	n, _ := r.ReadAt(head, 0)
	return string(head[:n]) == archiveMark
}

// Each gives each log of a file to do, numbered from 1, whether it holds logs or is an archive of them.
func Each(r io.ReaderAt, size int64, do func(n int, one jsontext.Value, pictures Pictures) error) error {
	if IsArchive(r) {
		return ReadArchive(r, size, do)
	}
	if size > MostFile {
		return say.Error("logfile.file-larger-than-mb-more-2", "most", MostFile>>20)
	}
	return Logs(io.NewSectionReader(r, 0, size), func(n int, one jsontext.Value) error { return do(n, one, nil) })
}

// ReadArchive gives each log of an archive to do, with what finds its pictures. It unpacks no more than the limits allow.
func ReadArchive(r io.ReaderAt, size int64, do func(n int, one jsontext.Value, pictures Pictures) error) error {
	z, err := zip.NewReader(r, size)
	if err != nil {
		return say.Error("logfile.archive-cant-read", "err", err)
	}
	if len(z.File) > mostPhotos {
		return say.Error("logfile.archive-holds-more-than-files", "problem", errLarge, "mostPhotos", mostPhotos)
	}
	photos := map[string]*zip.File{}
	var total uint64
	for _, f := range z.File {
		total += f.UncompressedSize64
		photos[f.Name] = f
	}
	if total > mostZip {
		return say.Error("logfile.archive-unpacks-more-than-mb", "problem", errLarge, "mostZip", mostZip>>20)
	}
	picture := func(p Picture) ([]byte, error) {
		f := photos[p.name()]
		if f == nil {
			return nil, nil
		}
		return unpack(f, MostPhoto)
	}
	n := 0
	for _, f := range z.File {
		if ext := path.Ext(f.Name); ext != ".json" && ext != ".jsonl" || strings.HasPrefix(f.Name, "__MACOSX/") {
			continue
		}
		in, err := f.Open()
		if err != nil {
			return fmt.Errorf("%s: %w", f.Name, err)
		}
		err = Logs(in, func(_ int, one jsontext.Value) error {
			n++
			return do(n, one, picture)
		})
		if err = errors.Join(err, in.Close()); err != nil {
			return fmt.Errorf("%s: %w", f.Name, err)
		}
	}
	if n == 0 {
		return say.Error("logfile.there-no-log-archive-logs")
	}
	return nil
}

// unpack reads a file of an archive that may be so long and no longer, whatever the archive says of it.
func unpack(f *zip.File, most int64) ([]byte, error) {
	in, err := f.Open()
	if err != nil {
		return nil, err
	}
	defer func() { _ = in.Close() }()
	text, err := io.ReadAll(io.LimitReader(in, most+1))
	if err != nil {
		return nil, err
	}
	if int64(len(text)) > most {
		return nil, fmt.Errorf("%s: %w", f.Name, errLarge)
	}
	return text, nil
}
