package e2e

import (
	"bufio"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
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
// gauge needs none: its dial is known. A line that is dragged elsewhere says what stands there, and is no longer the camera's. It takes
// place in real time, so nothing else runs beside it.
func TestAFilmOfTheDialBecomesAReading(t *testing.T) {
	s := serve(t, 0, "serve", "--data", t.TempDir(), "--no-browser")
	s.siskin(t, benchFour)
	page := beginOn(t, s.openFor(t, 4*time.Minute, "/engines/siskin", 1280, 800)) // two films take a minute here
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

// filming counts what a hand does while the camera reads.
type filming struct {
	page          *rod.Page
	presses, taps int
}

func (f *filming) press(t testing.TB, selector, words string) {
	t.Helper()
	click(t, f.page, selector, words)
	f.presses++
}

// begin has the live camera look at the dial: three presses, four taps and the figures of three marks.
func (f *filming) begin(t testing.TB) {
	t.Helper()
	f.press(t, "[data-film]", "Film it")
	f.press(t, "[data-film-camera]", "Use the camera")
	f.taps += tapDial(t, f.page)
	f.press(t, "[data-marked]", "Start")
}

// A whole dry test on a phone without a hand on the keys: the live camera is a gauge like any other, and each reading is kept by itself,
// with its picture. After the dial was tapped it takes no press at all until the camera is put away. In real time, too: of a twin, so that
// it is over soon.
func TestADryTestByTheLiveCamera(t *testing.T) {
	dir := t.TempDir()
	s := serve(t, 0, "serve", "--data", dir, "--no-browser")
	s.siskin(t, map[string]any{
		"name": "Siskin", "kind": "four-stroke", "layout": map[string]any{"banks": [][]int{{1, 2}}}, "firing_order": []int{1, 2},
		"bore_mm": 86, "stroke_mm": 86, "compression_ratio": 9.8,
	})
	f := &filming{page: beginOn(t, s.openFor(t, 4*time.Minute, "/engines/siskin", 390, 844))}
	f.begin(t)
	see(t, f.page, "[data-prompt]", "All cylinders read")
	f.press(t, "[data-film-stop]", "Close")
	require.Equal(t, []int{4, 4}, []int{f.presses, f.taps})
	pulls := 0
	for _, c := range s.sheet(t, "siskin").Cells {
		require.GreaterOrEqual(t, len(c.Pulls), 2)
		for _, p := range c.Pulls {
			require.InDelta(t, filmedPSI, p.Value, 3, "1 % of full scale")
			require.Positive(t, p.CameraSD)
			pulls++
		}
	}
	require.Eventually(t, func() bool {
		pictures, err := filepath.Glob(filepath.Join(dir, "photos", "*.jpg"))
		return err == nil && len(pictures) == pulls
	}, time.Minute, 100*time.Millisecond, "a picture of each")
}

// A whole leak-down on a phone: what the dial holds comes from the camera into its field, with its doubt; the place of the air is for the
// ear. Three presses for a cylinder, the place among them. In real time.
func TestALeakDownByTheLiveCamera(t *testing.T) {
	s := serve(t, 0, "serve", "--data", t.TempDir(), "--no-browser")
	s.siskin(t, benchFour)
	f := &filming{page: beginOn(t, s.openFor(t, 4*time.Minute, "/engines/siskin", 1280, 800))}
	onPhone(t, f.page)
	click(t, f.page, "nav a", "Leak-down")
	require.NoError(t, f.page.MustElement("[aria-label^='Supply']").SelectAllText())
	require.NoError(t, f.page.MustElement("[aria-label^='Supply']").Input("160"))
	f.begin(t)
	for n := 1; n <= 4; n++ {
		see(t, f.page, "[data-film-value]", "15[0-4]")
		f.press(t, "[data-that-is-it]", "That is it: 15[0-4]")
		f.press(t, "[data-places] button", "nothing heard")
		f.press(t, "[data-keep]", "Save")
		see(t, f.page, "[data-kept]", fmt.Sprintf("%d readings? saved", n))
	}
	f.press(t, "[data-film-stop]", "Close")
	require.Equal(t, []int{4 + 3*4, 4}, []int{f.presses, f.taps})
	for _, c := range s.sheet(t, "siskin").Leak {
		require.Len(t, c.Attempts, 1)
		require.InDelta(t, filmedPSI, c.Attempts[0].Held, 3)
	}
}

// Practice by camera: the stand-in's camera stands before the hidden engine's gauge, and its reading is what the engine makes, with the
// camera's doubt. In real time: where the machine stands still for half a second the camera was silent in the reading, which then isn't
// believed, and the sheet asks for another. Nothing but that is filmed again.
func TestAPracticeEngineIsReadByCamera(t *testing.T) {
	for range 5 {
		if practisedByCamera(t) {
			return
		}
	}
	t.Fatal("five times the camera fell silent in a reading")
}

// practisedByCamera films one reading, and reports whether it was saved; false where the camera fell silent in it.
func practisedByCamera(t *testing.T) bool {
	s := demo(t)
	page := s.openFor(t, 4*time.Minute, "/practice/", 1280, 800)
	practised(t, page, "burnt")
	click(t, page, "[data-film]", "Film it")
	click(t, page, "[data-film-camera]", "Use the camera")
	tapDial(t, page)
	click(t, page, "[data-marked]", "Start")
	see(t, page, "[data-film-value]", "^-?[01]\\.")
	press(t, page, input.Space)
	see(t, page, "[data-film-value]", "1[3-9][0-9]")
	if _, err := page.Timeout(30*time.Second).ElementR("[data-kept]", "1 reading saved"); err != nil {
		require.Contains(t, text(page), "Vent the gauge, then the next one.", "the camera fell silent, and the sheet says what to do")
		require.Contains(t, text(page), "0 compressions")
		return false
	}
	until(t, page, `() => document.body.innerText.includes('±')`)
	return true
}
