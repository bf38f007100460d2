package camera

import (
	"bytes"
	"image/jpeg"
	"io"
)

// Reel writes the film as JPEG pictures one after the other, and returns how many bytes.
func (f *Film) Reel(w io.Writer) error {
	f.Open()
	quality := f.Quality
	if quality == 0 {
		quality = 85
	}
	var one bytes.Buffer
	for i := range f.Frames {
		one.Reset()
		if err := jpeg.Encode(&one, f.Picture(i), &jpeg.Options{Quality: quality}); err != nil {
			return err
		}
		if _, err := w.Write(one.Bytes()); err != nil {
			return err
		}
	}
	return nil
}
