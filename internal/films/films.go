// Package films opens films of dials: JPEG pictures one after the other, or a folder of pictures.
package films

import (
	"bufio"
	"bytes"
	"errors"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	_ "image/png" // folders may hold either
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"braxel/internal/core/say"
	"braxel/internal/photo"
)

// What a picture may be.
const (
	MostBytes = 24 << 20
	MostDots  = 34_000_000 // a little more than 4 times 4K
	mostScans = 12         // of a progressive picture: a hostile one has thousands
)

// What a film can't be opened for.
var (
	ErrNone    = say.Error("films.no-pictures")
	ErrCut     = say.Error("films.cut-in-mid-picture")
	ErrPicture = say.Error("films.picture-cant-be-read")
	ErrBig     = say.Error("films.picture-too-big")
)

// Reel gives the pictures of a film in their order, io.EOF after the last.
type Reel struct {
	r    *bufio.Reader
	next func() ([]byte, error)
	done func() error
}

// Open opens a file of JPEG pictures, or a folder of JPEG and PNG pictures in the order of their names.
func Open(path string) (*Reel, error) {
	info, err := os.Stat(path)
	if err != nil {
		return nil, err
	}
	if info.IsDir() {
		return folder(path)
	}
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	reel := Of(f)
	reel.done = f.Close
	return reel, nil
}

// Of reads JPEG pictures that stand one after the other.
func Of(r io.Reader) *Reel {
	reel := &Reel{r: bufio.NewReaderSize(r, 1<<16)}
	reel.next = reel.jpeg
	return reel
}

// Close closes the file.
func (r *Reel) Close() error {
	if r.done == nil {
		return nil
	}
	return r.done()
}

// Next returns the next picture as it was written.
func (r *Reel) Next() ([]byte, error) { return r.next() }

func folder(path string) (*Reel, error) {
	entries, err := os.ReadDir(path)
	if err != nil {
		return nil, err
	}
	var names []string
	for _, e := range entries {
		switch strings.ToLower(filepath.Ext(e.Name())) {
		case ".png", ".jpg", ".jpeg":
			names = append(names, filepath.Join(path, e.Name()))
		}
	}
	slices.SortFunc(names, byNumber)
	return &Reel{next: func() ([]byte, error) {
		if len(names) == 0 {
			return nil, io.EOF
		}
		name := names[0]
		names = names[1:]
		return os.ReadFile(name)
	}}, nil
}

// byNumber orders names as a person does: 2 before 10.
func byNumber(a, b string) int {
	if len(a) != len(b) && strings.TrimRight(stem(a), "0123456789") == strings.TrimRight(stem(b), "0123456789") {
		return len(a) - len(b)
	}
	return strings.Compare(a, b)
}

func stem(name string) string { return strings.TrimSuffix(name, filepath.Ext(name)) }

// jpeg cuts the next picture out by its markers, as ITU-T T.81 has them: two bytes, of which the first is 255; a length behind most;
// behind the start of a scan, data in which no marker but a restart stands.
func (r *Reel) jpeg() ([]byte, error) {
	if two, err := r.r.Peek(2); len(two) == 0 {
		return nil, io.EOF
	} else if err != nil || two[0] != 0xff || two[1] != 0xd8 {
		return nil, ErrPicture
	}
	var out bytes.Buffer
	if err := r.take(&out, 2); err != nil {
		return nil, err
	}
	for {
		marker, err := r.marker(&out)
		if err != nil {
			return nil, err
		}
		if marker == endOfPicture {
			return out.Bytes(), nil
		}
		size, err := r.r.Peek(2)
		if err != nil {
			return nil, ErrCut
		}
		if err := r.take(&out, int(size[0])<<8+int(size[1])); err != nil {
			return nil, err
		}
	}
}

// endOfPicture is the marker EOI; a 0 behind 255 is data, and so are the eight restarts from firstRestart on.
const (
	endOfPicture = 0xd9
	firstRestart = 0xd0
	lastRestart  = 0xd7
)

// marker copies up to the next marker, and that, and returns it.
func (r *Reel) marker(out *bytes.Buffer) (byte, error) {
	for {
		part, err := r.r.ReadSlice(0xff)
		out.Write(part)
		if out.Len() > MostBytes {
			return 0, ErrBig
		}
		if errors.Is(err, bufio.ErrBufferFull) {
			continue
		}
		if err != nil {
			return 0, ErrCut
		}
		b := byte(0xff)
		for b == 0xff { // as many as there are of them fill
			if b, err = r.r.ReadByte(); err != nil {
				return 0, ErrCut
			}
			out.WriteByte(b)
		}
		if b != 0 && (b < firstRestart || b > lastRestart) {
			return b, nil
		}
	}
}

// take copies some bytes.
func (r *Reel) take(out *bytes.Buffer, n int) error {
	if out.Len()+n > MostBytes {
		return ErrBig
	}
	if _, err := io.CopyN(out, r.r, int64(n)); err != nil {
		return ErrCut
	}
	return nil
}

// Gray decodes a picture of so many dots at most to its greys. How much work it is is looked at before.
func Gray(text []byte, most int) (*image.Gray, error) {
	size, _, err := image.DecodeConfig(bytes.NewReader(text))
	if err != nil {
		return nil, ErrPicture
	}
	if size.Width*size.Height > most || size.Width < 1 || size.Height < 1 || photo.Scans(text) > mostScans {
		return nil, ErrBig
	}
	var pic image.Image
	if bytes.HasPrefix(text, []byte{0xff, 0xd8}) {
		pic, err = jpeg.Decode(bytes.NewReader(text))
	} else {
		pic, _, err = image.Decode(bytes.NewReader(text))
	}
	if err != nil {
		return nil, ErrPicture
	}
	switch p := pic.(type) {
	case *image.Gray:
		return p, nil
	case *image.YCbCr: // whose first plane is just that
		b := p.Bounds()
		return &image.Gray{Pix: p.Y, Stride: p.YStride, Rect: image.Rect(0, 0, b.Dx(), b.Dy())}, nil
	}
	b := pic.Bounds()
	g := image.NewGray(image.Rect(0, 0, b.Dx(), b.Dy()))
	draw.Draw(g, g.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.Draw(g, g.Bounds(), pic, b.Min, draw.Over)
	return g, nil
}
