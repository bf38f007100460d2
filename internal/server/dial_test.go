package server_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/jpeg"
	"math"
	"net/http"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/camera"
	"braxel/internal/server"
)

// sendForm posts a form with a file, and reads the answer.
func sendForm[T any](t *testing.T, a *fiber.App, path, file string, fields map[string]string) (out T, status int, text string) {
	t.Helper()
	body, kind := formOf(t, "film", file, fields)
	status, _, text = ask(t, a, "POST", path, body, func(r *http.Request) { r.Header.Set("Content-Type", kind) })
	if status == 200 {
		require.NoError(t, json.Unmarshal([]byte(text), &out), text)
	}
	return out, status, text
}

func endFilm(t *testing.T, a *fiber.App, body string) {
	t.Helper()
	status, _, text := ask(t, a, "POST", "/api/dial/end", body)
	require.Equal(t, 204, status, text)
}

// small is the stand-in's camera with fewer dots, so that its pictures are soon made.
func small() *camera.Film {
	f := camera.Standing(131)
	f.Width, f.Height, f.Size = 320, 240, 88
	return f
}

// drawn are its pictures, drawn once, and cut them with their marks.
var drawn = sync.OnceValue(func() (pictures []string) {
	f := small()
	f.Open()
	for i := range f.Frames {
		var one bytes.Buffer
		if jpeg.Encode(&one, f.Picture(i), &jpeg.Options{Quality: 85}) != nil {
			return nil
		}
		pictures = append(pictures, one.String())
	}
	return pictures
})

func cut(t *testing.T) (pictures []string, marks string) {
	t.Helper()
	text, err := json.Marshal(small().Taps(0, 150, 250))
	require.NoError(t, err)
	return drawn(), string(text)
}

// filmed sends a film whole, so many times slower than it was.
func filmed(t *testing.T, a *fiber.App, slower float64, fields map[string]string) (id string) {
	t.Helper()
	pictures, marks := cut(t)
	fields["marks"] = marks
	begun, _, text := sendForm[server.FilmBegun](t, a, "/api/dial", pictures[0], fields)
	require.NotEmpty(t, begun.ID, text)
	for from := 0; from < len(pictures); from += 45 {
		part := pictures[from:min(from+45, len(pictures))]
		times := make([]float64, len(part))
		for i := range times {
			times[i] = slower * float64(from+i) / 30
		}
		said, err := json.Marshal(times)
		require.NoError(t, err)
		fields := map[string]string{"id": begun.ID, "times": string(said)}
		seen, _, text := sendForm[server.FilmSeen](t, a, "/api/dial/pictures", strings.Join(part, ""), fields)
		require.Empty(t, seen.Refused, text)
	}
	return begun.ID
}

// A film is sent in parts and read; what it is can't be read twice once it is ended.
func TestAFilmIsSentInPartsAndRead(t *testing.T) {
	a := begunFour(t)
	id := filmed(t, a, 1, map[string]string{})
	read := func(unit string) server.FilmFound {
		body := fmt.Sprintf(`{"id":%q,"engine":"siskin","number":2,"unit":%q,"name":"pull.webm"}`, id, unit)
		return post[server.FilmFound](t, a, "/api/dial/read", body, 200)
	}
	psi, kpa := read("psi"), read("kPa")
	require.NotNil(t, psi.Value)
	assert.InDelta(t, 131, *psi.Value, 3)
	assert.InDelta(t, 131*6.894757, *kpa.Value, 20)
	assert.InDelta(t, psi.CameraSD*6.894757, kpa.CameraSD, 0.05*kpa.CameraSD)
	require.Len(t, psi.Pulls, 1)
	assert.Equal(t, 2, psi.Pulls[0].Cylinder)
	assert.InDelta(t, 240, psi.Pulls[0].RPM, 8)
	assert.Equal(t, 1.0, psi.Slower)
	endFilm(t, a, fmt.Sprintf(`{"id":%q}`, id))
	status, _, text := ask(t, a, "POST", "/api/dial/read", fmt.Sprintf(`{"id":%q,"engine":"siskin","number":2,"unit":"psi"}`, id))
	assert.Equal(t, 404, status, text)
}

// A gauge whose film was read is known again: by whom, where its marks are, and only it. A line laid through the needle says what the
// needle does, one laid elsewhere something else.
func TestAGaugeRemembersItsFace(t *testing.T) {
	a := begunFour(t)
	pictures, text := cut(t)
	var marks struct {
		Centre [2]float64
		Points []server.FilmMark
	}
	require.NoError(t, json.Unmarshal([]byte(text), &marks))
	face := func(gauge, tap string) server.FilmFace {
		fields := map[string]string{"gauge": gauge, "tap": tap}
		out, status, said := sendForm[server.FilmFace](t, a, "/api/dial/face", pictures[100], fields)
		require.Equal(t, 200, status, said)
		return out
	}
	assert.False(t, face("G-1", "").Known)
	id := filmed(t, a, 1, map[string]string{"gauge": "G-1"})
	assert.False(t, face("G-1", "").Known, "nothing was read by the marks as yet")
	read := fmt.Sprintf(`{"id":%q,"engine":"siskin","number":2,"unit":"psi"}`, id)
	found := post[server.FilmFound](t, a, "/api/dial/read", read, 200)
	for _, tap := range []string{"", fmt.Sprintf("[%g,%g]", marks.Centre[0]+3, marks.Centre[1]-2)} {
		got := face("G-1", tap)
		require.Len(t, got.Points, 3)
		for i, p := range got.Points {
			assert.Equal(t, marks.Points[i].Value, p.Value)
			assert.InDeltaSlice(t, marks.Points[i].At[:], p.At[:], 6, "dots; a hand moved by some")
		}
	}
	assert.Empty(t, face("G-1", "[5,5]").Points, "no dial has its middle there")
	assert.False(t, face("G-2", "").Known)

	held := found.Sights[120]
	point := func(x, y float64) float64 {
		body := fmt.Sprintf(`{"id":%q,"t":%g,"at":[%g,%g],"unit":"psi"}`, id, held.Seconds, x, y)
		return post[server.FilmPoint](t, a, "/api/dial/point", body, 200).Value
	}
	dx, dy := held.To[0]-held.From[0], held.To[1]-held.From[1]
	assert.InDelta(t, held.Value, point(held.To[0], held.To[1]), 1)
	// A tenth of a turn clockwise is a tenth of 360°, of which 270 are 300 psi.
	sin, cos := math.Sincos(math.Pi / 5)
	assert.InDelta(t, held.Value+40, point(held.From[0]+dx*cos-dy*sin, held.From[1]+dx*sin+dy*cos), 4)
	status, _, _ := ask(t, a, "POST", "/api/dial/point", `{"id":"nobody's","t":0,"at":[1,1],"unit":"psi"}`)
	assert.Equal(t, 404, status)
}

// A film in slow motion is told by the speed of cranking, or by whoever knows it.
func TestAFilmInSlowMotionIsReadAsItWas(t *testing.T) {
	a := begunFour(t)
	id := filmed(t, a, 4, map[string]string{})
	read := func(more string) server.FilmFound {
		body := fmt.Sprintf(`{"id":%q,"engine":"siskin","number":2,"unit":"psi","kind":"valve"%s}`, id, more)
		return post[server.FilmFound](t, a, "/api/dial/read", body, 200)
	}
	slow := read("")
	assert.Equal(t, 4.0, slow.Slower)
	require.Len(t, slow.Pulls, 1)
	assert.InDelta(t, 240, slow.Pulls[0].RPM, 8)
	assert.Contains(t, slow.Slowed, "4 times slower: 24")
	assert.InDelta(t, 131, *slow.Value, 3)
	told := read(`,"slower":2`)
	assert.Equal(t, 2.0, told.Slower)
	assert.Empty(t, told.Slowed)
	assert.InDelta(t, 120, told.Pulls[0].RPM, 4)
}

// marked are marks for 0 and 100 psi, about an axis.
func marked(x, y, x0, y0, x1, y1 int) string {
	return fmt.Sprintf(`{"centre":[%d,%d],"points":[{"at":[%d,%d],"value":0},{"at":[%d,%d],"value":100}],"unit":"psi"}`, x, y, x0, y0, x1, y1)
}

// What is no film is told in words, and nothing of it stays.
func TestWhatIsNoFilmIsToldInWords(t *testing.T) {
	a := app(t)
	pictures, marks := cut(t)
	black := func(w, h int) string {
		var one bytes.Buffer
		require.NoError(t, jpeg.Encode(&one, image.NewGray(image.Rect(0, 0, w, h)), nil))
		return one.String()
	}
	for what, c := range map[string]struct{ file, marks, says string }{
		"no picture":          {"MZ", marks, "can't be read"},
		"half a picture":      {pictures[0][:4000], marks, "ends in the middle"},
		"marks in one place":  {pictures[0], marked(100, 100, 101, 100, 99, 101), "too close"},
		"one mark":            {pictures[0], `{"centre":[160,120],"points":[{"at":[100,150],"value":0}],"unit":"psi"}`, "one to four marks"},
		"marks beside it":     {pictures[0], marked(160, 120, 100, 150, 9000, 240), "outside the picture"},
		"the same mark twice": {pictures[0], marked(160, 120, 100, 150, 100, 150), "Two marks"},
		"a dial cut off":      {black(320, 240), marked(160, 2, 100, 60, 220, 60), "a part of the dial"},
	} {
		begun, status, text := sendForm[server.FilmBegun](t, a, "/api/dial", c.file, map[string]string{"marks": c.marks})
		assert.Equal(t, 200, status, what)
		assert.Empty(t, begun.ID, what)
		assert.Contains(t, begun.Refused, c.says, "%s: %s", what, text)
	}
	_, status, _ := sendForm[server.FilmBegun](t, a, "/api/dial", pictures[0], map[string]string{"marks": "no"})
	assert.Equal(t, 422, status)
	_, status, _ = sendForm[server.FilmSeen](t, a, "/api/dial/pictures", pictures[0], map[string]string{"id": "nobody's", "times": "[0]"})
	assert.Equal(t, 404, status)
}

// Two films are held at once, no more: a stranger's third takes no room. Pictures of another size, or too many at once, are refused.
func TestFilmsTakeNoMoreRoomThanTheyMay(t *testing.T) {
	a := app(t)
	pictures, marks := cut(t)
	var ids []string
	for range 3 {
		begun, _, _ := sendForm[server.FilmBegun](t, a, "/api/dial", pictures[0], map[string]string{"marks": marks})
		ids = append(ids, begun.ID)
	}
	assert.NotEmpty(t, ids[1])
	assert.Empty(t, ids[2])
	other := small()
	other.Width = 300
	other.Open()
	var one bytes.Buffer
	require.NoError(t, jpeg.Encode(&one, other.Picture(0), nil))
	seen, _, _ := sendForm[server.FilmSeen](t, a, "/api/dial/pictures", one.String(), map[string]string{"id": ids[0], "times": "[0.1]"})
	assert.Contains(t, seen.Refused, "one size")
	times := "[" + strings.Repeat("0,", 400) + "0]"
	_, status, _ := sendForm[server.FilmSeen](t, a, "/api/dial/pictures", pictures[0], map[string]string{"id": ids[0], "times": times})
	assert.Equal(t, 422, status)
}

// A camera that is looked at live is a gauge that the room hears, until it is ended.
func TestALiveCameraIsHeardAsAGauge(t *testing.T) {
	a := app(t)
	pictures, marks := cut(t)
	begun, _, _ := sendForm[server.FilmBegun](t, a, "/api/dial", pictures[0], map[string]string{"marks": marks, "live": "valve"})
	require.NotEmpty(t, begun.ID)
	var last server.FilmSeen
	for i := 0; i < 148; i += 4 {
		times := fmt.Sprintf("[%g,%g,%g,%g]", float64(i)/30, float64(i+1)/30, float64(i+2)/30, float64(i+3)/30)
		fields := map[string]string{"id": begun.ID, "times": times, "unit": "bar"}
		last, _, _ = sendForm[server.FilmSeen](t, a, "/api/dial/pictures", strings.Join(pictures[i:i+4], ""), fields)
	}
	require.NotEmpty(t, last.Sights)
	assert.InDelta(t, 131*0.0689476, last.Sights[0].Value, 0.25, "in bar, whatever the dial is marked in")
	assert.Positive(t, last.CameraSD)
	now := post[server.GaugeNow](t, a, "/api/gauge?unit=psi", "", 200)
	require.Len(t, now.Gauges, 1)
	assert.Equal(t, "camera", now.Gauges[0].Name)
	endFilm(t, a, fmt.Sprintf(`{"id":%q}`, begun.ID))
	assert.Eventually(t, func() bool {
		return len(post[server.GaugeNow](t, a, "/api/gauge?unit=psi", "", 200).Gauges) == 0
	}, time.Minute, 20*time.Millisecond)
}
