package films_test

import (
	"bytes"
	"errors"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"io"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/films"
)

// picture is a small picture of one grey, with an end of a picture in a comment of its own.
func picture(t testing.TB, grey uint8) []byte {
	g := image.NewGray(image.Rect(0, 0, 40, 30))
	for i := range g.Pix {
		g.Pix[i] = grey
	}
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, g, nil))
	comment := []byte{0xff, 0xfe, 0, 8, 'a', 0xff, 0xd9, 0xff, 0xd8, 'b'}
	return append(append([]byte{0xff, 0xd8}, comment...), out.Bytes()[2:]...)
}

func all(r *films.Reel) (greys []uint8, err error) {
	for {
		text, err := r.Next()
		if errors.Is(err, io.EOF) {
			return greys, nil
		}
		if err != nil {
			return greys, err
		}
		g, err := films.Gray(text, films.MostDots)
		if err != nil {
			return greys, err
		}
		greys = append(greys, g.Pix[0])
	}
}

// Pictures come out one by one, whatever a comment in one of them looks like; of a film that is cut off, those that are whole.
func TestPicturesComeOutOfAFilmInTheirOrder(t *testing.T) {
	film := append(append(picture(t, 10), picture(t, 120)...), picture(t, 230)...)
	greys, err := all(films.Of(bytes.NewReader(film)))
	require.NoError(t, err)
	assert.Equal(t, []uint8{10, 120, 230}, greys)
	greys, err = all(films.Of(bytes.NewReader(film[:len(film)-20])))
	assert.ErrorIs(t, err, films.ErrCut)
	assert.Len(t, greys, 2)
	_, err = all(films.Of(bytes.NewReader([]byte("GIF89a"))))
	assert.ErrorIs(t, err, films.ErrPicture)
}

// A folder has its pictures in the order of their numbers, and of what is seen through the white behind it.
func TestAFolderIsReadInTheOrderOfItsNumbers(t *testing.T) {
	dir := t.TempDir()
	for name, grey := range map[string]uint8{"10.jpg": 200, "9.jpg": 100, "notes.txt": 0} {
		require.NoError(t, os.WriteFile(filepath.Join(dir, name), picture(t, grey), 0o600))
	}
	clear := image.NewNRGBA(image.Rect(0, 0, 4, 4))
	clear.SetNRGBA(1, 1, color.NRGBA{A: 255})
	var out bytes.Buffer
	require.NoError(t, png.Encode(&out, clear))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "2.png"), out.Bytes(), 0o600))
	r, err := films.Open(dir)
	require.NoError(t, err)
	greys, err := all(r)
	require.NoError(t, err)
	assert.Equal(t, []uint8{255, 100, 200}, greys)
	_, err = films.Open(filepath.Join(dir, "none"))
	assert.Error(t, err)
}

// Whatever a film is, its pictures are told apart or it is refused: nothing is made up, and what comes out stood in it.
func FuzzFilm(f *testing.F) {
	f.Add(append(picture(f, 1), picture(f, 2)...))
	f.Add([]byte{0xff, 0xd8, 0xff, 0xda, 0, 2, 0xff, 0x00, 0xff, 0xd9})
	f.Add([]byte{0xff, 0xd8, 0xff, 0xe0, 0, 0})
	f.Fuzz(func(t *testing.T, film []byte) {
		r := films.Of(bytes.NewReader(film))
		for range 100 {
			text, err := r.Next()
			if err != nil {
				return
			}
			require.True(t, bytes.Contains(film, text))
			_, _ = films.Gray(text, films.MostDots)
		}
	})
}
