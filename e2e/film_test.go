package e2e

import (
	"bufio"
	"math"
	"os"
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/require"

	"braxel/internal/camera"
)

// filmedPSI is what the gauge before the browser's camera holds.
const filmedPSI = 152.0

// filmTo writes the film that the browser's camera shows.
func filmTo(path string) error {
	f, err := os.Create(path)
	if err != nil {
		return err
	}
	w := bufio.NewWriter(f)
	film := camera.Standing(filmedPSI)
	if err := film.Reel(w); err != nil {
		return err
	}
	if err := w.Flush(); err != nil {
		return err
	}
	return f.Close()
}

// tapDial taps the axis, the beginning and two figures of the stand-in's gauge on the picture that is shown, and returns how many taps.
func tapDial(t testing.TB, page *rod.Page) int {
	t.Helper()
	film := camera.Standing(filmedPSI)
	marks := film.Taps(0, 150, 250)
	picture, err := page.Element("[data-mark-picture]")
	require.NoError(t, err)
	still(t, picture)
	shape, err := picture.Shape()
	require.NoError(t, err)
	box := shape.Box()
	k := math.Min(box.Width/float64(film.Width), box.Height/float64(film.Height))
	left, top := box.X+(box.Width-k*float64(film.Width))/2, box.Y+(box.Height-k*float64(film.Height))/2
	taps := [][2]float64{marks.Centre}
	for _, p := range marks.Points {
		taps = append(taps, p.At)
	}
	for _, at := range taps {
		require.NoError(t, page.Mouse.MoveTo(proto.NewPoint(left+k*at[0], top+k*at[1])))
		require.NoError(t, page.Mouse.Click(proto.InputMouseButtonLeft, 1))
	}
	for i, figure := range []string{"0", "150", "250"} {
		fields, err := page.Elements("[data-dial-marks] label input")
		require.NoError(t, err)
		require.Len(t, fields, 3)
		require.NoError(t, fields[i].SelectAllText())
		require.NoError(t, fields[i].Input(figure))
	}
	return len(taps)
}

// recordedHere has the browser record its own camera for some seconds, and puts that film into the field, as one picks a file.
const recordedHere = `async (ms) => {
	const stream = await navigator.mediaDevices.getUserMedia({ video: true })
	const recorder = new MediaRecorder(stream, { mimeType: 'video/webm', videoBitsPerSecond: 4e6 })
	const parts = []
	recorder.ondataavailable = (e) => parts.push(e.data)
	const done = new Promise((resolve) => (recorder.onstop = resolve))
	recorder.start()
	await new Promise((resolve) => setTimeout(resolve, ms))
	recorder.stop()
	await done
	stream.getTracks().forEach((t) => t.stop())
	const files = new DataTransfer()
	files.items.add(new File(parts, 'pull.webm', { type: 'video/webm' }))
	const field = document.querySelector('[data-film-file]')
	field.files = files.files
	field.dispatchEvent(new Event('change'))
}`

// On a phone: the film of a pull is chosen, marked by four taps, read, and kept with its curve and its picture.
func TestAFilmOfTheDialBecomesAReading(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir(), "--no-browser")
	page := begun(t, s)
	require.NoError(t, page.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: 390, Height: 844, DeviceScaleFactor: 1}))
	click(t, page, "[data-film]", "Film it")
	_, err := page.Element("[data-film-file]")
	require.NoError(t, err)
	_, err = page.Eval(recordedHere, 6500)
	require.NoError(t, err)
	tapDial(t, page)
	click(t, page, "[data-marked]", "Read it")
	see(t, page, "[data-film-found]", "psi, give or take")
	click(t, page, "[data-film-save]", "Save 15")
	see(t, page, "[data-kept]", "1 reading saved")
	got := s.sheet(t, "siskin")
	pull := got.Cells[0].Pulls[0]
	require.InDelta(t, filmedPSI, pull.Value, 3, "within 1 % of full scale")
	require.Positive(t, pull.CameraSD)
	require.Less(t, pull.CameraSD, 3.0)
}

// A dry test on a phone without a hand on the keys: the live camera is a gauge like any other, and its readings are kept by
// themselves. Four taps on the dial, four presses, and the figures of three marks are all that it takes.
func TestADryTestByTheLiveCamera(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir(), "--no-browser")
	page := begun(t, s)
	require.NoError(t, page.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: 390, Height: 844, DeviceScaleFactor: 1}))
	click(t, page, "[data-film]", "Film it")
	click(t, page, "[data-film-camera]", "Use the camera")
	require.Equal(t, 4, tapDial(t, page))
	click(t, page, "[data-marked]", "Start")
	see(t, page, "[data-live][data-phase=rising]", ".")
	see(t, page, "[data-kept]", "[2-8] readings saved")
	for _, c := range s.sheet(t, "siskin").Cells {
		for _, p := range c.Pulls {
			require.InDelta(t, filmedPSI, p.Value, 6)
			require.Positive(t, p.CameraSD)
		}
	}
	click(t, page, "[data-film-stop]", "Close")
}

// What a leak-down tester's dial holds comes from the camera into its field, with its doubt; the place of the air is for the ear.
func TestTheCameraReadsALeakDown(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir(), "--no-browser")
	page := begun(t, s)
	click(t, page, "nav a", "Leak-down")
	click(t, page, "[data-film]", "Film it")
	click(t, page, "[data-film-camera]", "Use the camera")
	tapDial(t, page)
	click(t, page, "[data-marked]", "Start")
	see(t, page, "[data-film-value]", "15[0-4]")
	click(t, page, "[data-that-is-it]", "That is it: 15")
	click(t, page, "[data-film-stop]", "Close")
	until(t, page, `() => [...document.querySelectorAll('[data-figure]')].some((f) => /^15\d/.test(f.value))`)
}
