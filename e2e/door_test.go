package e2e

import (
	"fmt"
	"net/http/httptest"
	"net/http/httputil"
	"net/url"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/server"
)

// A phone comes by way of a proxy, so that to Braxel it is another machine. It is let in, shut out with three readings waiting on
// it, and let in again: all are kept, once.
func TestAPhoneThatIsShutOutLosesNothing(t *testing.T) {
	t.Parallel()
	s := serve(t, 0, "serve", "--lan", "--data", t.TempDir())
	s.siskin(t, v6)
	to, err := url.Parse(s.url)
	require.NoError(t, err)
	proxy := httptest.NewServer(httputil.NewSingleHostReverseProxy(to))
	t.Cleanup(proxy.Close)
	var door server.DoorPage
	s.get(t, "/api/door", &door)
	require.NotEmpty(t, door.Passcode)
	require.NotEmpty(t, door.Ways)

	phone := &shop{url: proxy.URL}
	page := phone.open(t, "/engines/siskin#passcode=00000000", 390, 844)
	see(t, page, "[data-door]", "Connect this device")
	enter := func(passcode string) {
		t.Helper()
		fill(t, page, "^Passcode", passcode)
		press(t, page, input.Enter)
	}
	enter("1234")
	see(t, page, "[data-fault]", "wrong passcode")
	fill(t, page, "^Name of this device", "Ansa’s phone")
	enter(door.Passcode)
	until(t, page, `() => !document.querySelector('[data-door]')`)
	touch(t, page, "button", "Start a test")
	see(t, page, "h2", "Prepare and make safe")
	press(t, page, input.Enter)
	see(t, page, "[data-prompt]", "Next: 1")
	k := &keyed{page: page}
	k.pull(t, 171)
	until(t, page, kept(1))

	s.get(t, "/api/door", &door)
	require.Len(t, door.Devices, 1)
	assert.Equal(t, "Ansa’s phone", door.Devices[0].Name)
	devices := s.open(t, "/devices", 1280, 800)
	click(t, devices, "button", "Shut it out")
	see(t, devices, "[data-device]", "shut out")

	// The end of its stream says so by itself; a figure typed meanwhile would stand in the field of the passcode.
	see(t, page, "[data-door]", "Connect this device")
	touch(t, page, "button", "Later; what I enter waits here")
	see(t, page, "[data-locked]", "This device isn't connected")
	until(t, page, `() => !document.querySelector('[role=dialog]')`)
	for i, psi := range []int{172, 170, 169} {
		k.pull(t, psi)
		see(t, page, "[data-kept]", fmt.Sprintf("%d waiting to be sent", i+1))
	}
	assert.Equal(t, 1, s.sheet(t, "siskin").Kept, "nothing comes from outside")
	touch(t, page, "[data-locked] button", "Type the passcode")
	see(t, page, "[data-safe]", "3 entries are waiting")
	enter(door.Passcode)
	until(t, page, kept(4))
	got := s.sheet(t, "siskin")
	var landed []float64
	for _, cell := range got.Cells {
		for _, p := range cell.Pulls {
			landed = append(landed, p.Value)
		}
	}
	assert.Equal(t, []float64{171, 172, 170, 169}, landed)
	s.get(t, "/api/door", &door)
	assert.Len(t, door.Devices, 1, "the same device")
}

func TestWhatOthersCanReachHasAPasscodeAndACertificateIsWhole(t *testing.T) {
	t.Parallel()
	data := t.TempDir()
	out, err := exec.Command(binary, "serve", "--bind", "0.0.0.0", "--port", "0", "--data", data).CombinedOutput()
	require.Error(t, err)
	assert.Contains(t, string(out), "no passcode is set: start Braxel with --lan")
	out, err = exec.Command(binary, "serve", "--port", "0", "--data", data, "--tls-cert", filepath.Join(data, "none.pem")).CombinedOutput()
	require.Error(t, err)
	assert.Contains(t, string(out), "both --tls-cert and --tls-key are needed")

	s := serve(t, 0, "serve", "--lan", "--data", data)
	s.kill(t)
	s = serve(t, 0, "serve", "--bind", "0.0.0.0", "--data", data) // one was set
	var door server.DoorPage
	s.get(t, "/api/door", &door)
	assert.True(t, door.Open)
	assert.Empty(t, door.Passcode, "only its hash is known")
	page := s.open(t, "/devices", 1280, 800)
	see(t, page, "p", "It was made before Braxel started")
	click(t, page, "button", "Make a new passcode")
	see(t, page, "[data-passcode]", `^\d{4} \d{4}$`)
}
