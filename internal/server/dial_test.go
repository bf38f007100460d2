package server_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/jpeg"
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

// A film is sent in parts, some of them broken, and read; what it is can't be read twice once it is ended.
func TestAFilmIsSentInPartsAndRead(t *testing.T) {
	a := begunFour(t)
	pictures, marks := cut(t)
	begun, _, text := sendForm[server.FilmBegun](t, a, "/api/dial", pictures[0], map[string]string{"marks": marks})
	require.NotEmpty(t, begun.ID, text)
	for from := 0; from < len(pictures); from += 45 {
		part := pictures[from:min(from+45, len(pictures))]
		times := make([]float64, len(part))
		for i := range times {
			times[i] = float64(from+i) / 30
		}
		said, err := json.Marshal(times)
		require.NoError(t, err)
		fields := map[string]string{"id": begun.ID, "times": string(said)}
		seen, _, text := sendForm[server.FilmSeen](t, a, "/api/dial/pictures", strings.Join(part, ""), fields)
		require.Empty(t, seen.Refused, text)
	}
	read := func(unit string) server.FilmFound {
		body := fmt.Sprintf(`{"id":%q,"engine":"siskin","number":2,"unit":%q,"name":"pull.webm"}`, begun.ID, unit)
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
	endFilm(t, a, fmt.Sprintf(`{"id":%q}`, begun.ID))
	status, _, text := ask(t, a, "POST", "/api/dial/read", fmt.Sprintf(`{"id":%q,"engine":"siskin","number":2,"unit":"psi"}`, begun.ID))
	assert.Equal(t, 404, status, text)
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
	for i := 0; i < 160; i += 4 {
		times := fmt.Sprintf("[%g,%g,%g,%g]", float64(i)/30, float64(i+1)/30, float64(i+2)/30, float64(i+3)/30)
		fields := map[string]string{"id": begun.ID, "times": times}
		last, _, _ = sendForm[server.FilmSeen](t, a, "/api/dial/pictures", strings.Join(pictures[i:i+4], ""), fields)
	}
	require.NotEmpty(t, last.Sights)
	now := post[server.GaugeNow](t, a, "/api/gauge?unit=psi", "", 200)
	require.Len(t, now.Gauges, 1)
	assert.Equal(t, "camera", now.Gauges[0].Name)
	endFilm(t, a, fmt.Sprintf(`{"id":%q}`, begun.ID))
	assert.Eventually(t, func() bool {
		return len(post[server.GaugeNow](t, a, "/api/gauge?unit=psi", "", 200).Gauges) == 0
	}, time.Minute, 20*time.Millisecond)
}
