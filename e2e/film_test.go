package e2e

import (
	"bufio"
	"math"
	"os"
	"testing"
	"time"

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

// onPhone makes the page a phone's.
func onPhone(t testing.TB, page *rod.Page) {
	t.Helper()
	require.NoError(t, page.SetViewport(&proto.EmulationSetDeviceMetricsOverride{Width: 390, Height: 844, DeviceScaleFactor: 1}))
}

// chooseFilm has the browser film its own camera, and chooses that film.
func chooseFilm(t testing.TB, page *rod.Page) {
	t.Helper()
	click(t, page, "[data-film]", "Film it")
	_, err := page.Element("[data-film-file]")
	require.NoError(t, err)
	_, err = page.Eval(recordedHere, 6500)
	require.NoError(t, err)
}

// On a phone: the film of a pull is chosen, marked by four taps, read, and kept with its curve and its picture. The next film of the
// gauge needs none: its dial is known. A line that is dragged elsewhere says what stands there, and is no longer the camera's.
func TestAFilmOfTheDialBecomesAReading(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir(), "--no-browser")
	page := begun(t, s)
	onPhone(t, page)
	chooseFilm(t, page)
	tapDial(t, page)
	click(t, page, "[data-marked]", "Read it")
	see(t, page, "[data-film-found]", "psi, give or take")
	click(t, page, "[data-film-save]", "Save 15")
	see(t, page, "[data-kept]", "1 reading saved")
	pull := s.sheet(t, "siskin").Cells[0].Pulls[0]
	require.InDelta(t, filmedPSI, pull.Value, 3, "within 1 % of full scale")
	require.Positive(t, pull.CameraSD)
	require.Less(t, pull.CameraSD, 3.0)

	chooseFilm(t, page)
	see(t, page, "[data-mark-asks]", "This dial was marked before")
	click(t, page, "[data-marked]", "Read it")
	see(t, page, "[data-film-found]", "15[0-4].*psi, give or take")
	picture, err := page.Element("[data-film-picture]")
	require.NoError(t, err)
	still(t, picture)
	shape, err := picture.Shape()
	require.NoError(t, err)
	box := shape.Box()
	// Straight down from the axis is in the gap of the scale, to the right of it 225° along: 250 psi.
	require.NoError(t, page.Mouse.MoveTo(proto.NewPoint(box.X+0.5*box.Width, box.Y+0.3*box.Height)))
	require.NoError(t, page.Mouse.Down(proto.InputMouseButtonLeft, 1))
	require.NoError(t, page.Mouse.MoveTo(proto.NewPoint(box.X+0.85*box.Width, box.Y+0.52*box.Height)))
	require.NoError(t, page.Mouse.Up(proto.InputMouseButtonLeft, 1))
	click(t, page, "[data-film-save]", "Save 2[45]")
	see(t, page, "[data-kept]", "2 readings saved")
	require.Zero(t, s.sheet(t, "siskin").Cells[0].Pulls[1].CameraSD)
}

// A whole test on a phone by its live camera: dry without a hand on the keys, each reading kept by itself with its picture, then a
// leak-down. The dials are tapped once, four taps each and the figures of three marks; the dry test takes four presses and none for a
// reading, the leak-down four and three for a cylinder, where air is heard among them.
func TestAWholeTestByTheLiveCamera(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--data", t.TempDir(), "--no-browser")
	s.siskin(t, benchFour)
	page := beginOn(t, s.openFor(t, 4*time.Minute, "/engines/siskin", 390, 844))
	presses, taps := 0, 0
	do := func(selector, words string) {
		click(t, page, selector, words)
		presses++
	}
	film := func() {
		do("[data-film]", "Film it")
		do("[data-film-camera]", "Use the camera")
		taps += tapDial(t, page)
		do("[data-marked]", "Start")
	}
	film()
	see(t, page, "[data-prompt]", "All cylinders read")
	do("[data-film-stop]", "Close")
	require.Equal(t, 4, presses)
	got := s.sheet(t, "siskin")
	for _, c := range got.Cells {
		require.GreaterOrEqual(t, len(c.Pulls), 2)
		for _, p := range c.Pulls {
			require.InDelta(t, filmedPSI, p.Value, 3, "1 % of full scale")
			require.Positive(t, p.CameraSD)
		}
	}

	click(t, page, "nav a", "Leak-down")
	presses = 0
	film()
	for range got.Cells {
		see(t, page, "[data-film-value]", "15[0-4]")
		do("[data-that-is-it]", "That is it: 15[0-4]")
		do("[data-places] button", "nothing heard")
		do("[data-keep]", "Save")
		until(t, page, `() => [...document.querySelectorAll('[data-figure]')].every((f) => !/^15\d/.test(f.value))`)
	}
	do("[data-film-stop]", "Close")
	require.Equal(t, 4+3*len(got.Cells), presses)
	require.Equal(t, 8, taps)
	for _, c := range s.sheet(t, "siskin").Leak {
		require.Len(t, c.Attempts, 1)
		require.InDelta(t, filmedPSI, c.Attempts[0].Held, 3)
	}
}
