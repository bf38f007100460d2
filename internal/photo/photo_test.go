package photo_test

import (
	"bytes"
	"image"
	"image/jpeg"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/photo"
)

func picture(t *testing.T, width, height int) []byte {
	t.Helper()
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, image.NewGray(image.Rect(0, 0, width, height)), nil))
	return out.Bytes()
}

func TestWhatIsAPhotoIsKept(t *testing.T) {
	assert.NoError(t, photo.Check(picture(t, 1600, 1200)))
	assert.NoError(t, photo.Check(picture(t, 4000, 4000)))
	assert.ErrorIs(t, photo.Check(picture(t, 4001, 10)), photo.ErrWide)
	assert.ErrorIs(t, photo.Check(nil), photo.ErrNone)
	assert.ErrorIs(t, photo.Check([]byte("<html>")), photo.ErrNone)
	whole := picture(t, 800, 600)
	assert.ErrorIs(t, photo.Check(whole[:len(whole)/2]), photo.ErrNone, "not whole")
	assert.ErrorIs(t, photo.Check(append(whole, make([]byte, photo.Most)...)), photo.ErrLarge)
}

// Each scan of a progressive picture is walked over all its dots: thousands of small ones would hold a core for minutes.
func TestAPictureOfThousandsOfScansIsRefusedUnread(t *testing.T) {
	bomb := picture(t, 4000, 4000)
	end := bytes.LastIndex(bomb, []byte{0xff, 0xd9})
	scan := []byte{0xff, 0xda, 0x00, 0x08, 1, 1, 0, 1, 1, 0, 0}
	bomb = append(bytes.Clone(bomb[:end]), append(bytes.Repeat(scan, 5000), 0xff, 0xd9)...)
	require.Less(t, len(bomb), photo.Most)
	assert.ErrorIs(t, photo.Check(bomb), photo.ErrWork)
	small := picture(t, 100, 100)
	end = bytes.LastIndex(small, []byte{0xff, 0xd9})
	small = append(bytes.Clone(small[:end]), append(bytes.Repeat(scan, 10), 0xff, 0xd9)...)
	assert.NotErrorIs(t, photo.Check(small), photo.ErrWork, "a little picture may have some")
}
