// Package photo looks at pictures before they are kept.
package photo

import (
	"bytes"
	"image/jpeg"
	"sync"

	"braxel/internal/core/say"
)

// Limits of a picture. The browser makes them smaller, and as one scan.
const (
	Most     = 2 << 20 // bytes
	mostSide = 4000    // dots
	// mostWork is the dots of all scans together: a progressive picture has each dot in many of them, and a hostile one in thousands. It
	// is decoded in about two seconds.
	mostWork = 64_000_000
)

// Why a picture isn't kept.
var (
	ErrLarge = say.Error("photo.photo-larger-than-mb", "most", Most>>20)
	ErrWide  = say.Error("photo.photo-more-than-pixels-side", "mostSide", mostSide)
	ErrWork  = say.Error("photo.photo-has-too-many-scans")
	ErrNone  = say.Error("photo.not-whole-jpeg-photo")
)

// one lets a picture be decoded at a time: it takes a core for itself.
var one sync.Mutex

// Check reports why a picture isn't kept, before much is spent on it; nil for a JPEG that can be shown to its last line.
func Check(picture []byte) error {
	if len(picture) > Most {
		return ErrLarge
	}
	size, err := jpeg.DecodeConfig(bytes.NewReader(picture))
	if err != nil {
		return ErrNone
	}
	if size.Width > mostSide || size.Height > mostSide {
		return ErrWide
	}
	if size.Width*size.Height*Scans(picture) > mostWork {
		return ErrWork
	}
	one.Lock()
	defer one.Unlock()
	if _, err := jpeg.Decode(bytes.NewReader(picture)); err != nil {
		return ErrNone
	}
	return nil
}

// Scans counts what looks like the beginning of a scan (ITU T.81, SOS). In what a scan holds, FF is followed by 00 or a restart, so none
// is counted there by mistake; in a comment one may be, which does a picture no harm but to be refused.
func Scans(picture []byte) int {
	return max(1, bytes.Count(picture, []byte{0xff, 0xda}))
}
