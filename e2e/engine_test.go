package e2e

import (
	"testing"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"braxel/internal/server"
)

func TestTheBuildersLimitsAndARebuildAreEntered(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/heron", 1280, 800)
	see(t, page, "[data-decision]", "Pull the head for a valve job")
	press(t, page, 'e')
	see(t, page, "h1", "Heron")
	until(t, page, `() => [...document.querySelectorAll('input')].some(i => i.value === '165')`)
	fill(t, page, "^Compression, minimum", "1750000")
	press(t, page, input.Enter)
	see(t, page, "[data-fault]", "must be between 0 and 10,000")
	fill(t, page, "^Compression, minimum", "175")
	press(t, page, input.Enter)
	see(t, page, "[data-decision]", "Don't run it again")
	press(t, page, input.ArrowRight, input.ArrowRight, input.ArrowRight)
	see(t, page, "p", "below the builder's minimum of 175 psi")

	click(t, page, "button", "Add a repair")
	option(t, page, "a new build")
	fill(t, page, "^In your words", "head off, two valves, new gasket")
	click(t, page, "form button", "Save")
	see(t, page, "li", "New build: head off, two valves, new gasket")

	var engine server.EnginePage
	s.get(t, "/api/engines/heron", &engine)
	assert.Len(t, engine.Builds, 2)
	assert.Equal(t, 7.0, engine.Engine.Limits.SpreadMaximumPct, "what was not touched stays")
	assert.Equal(t, []float64{180, 180, 180, 180}, engine.Engine.FiringIntervals)
}

func TestWhatIsSetBeforeTheTestIsKeptThroughAPowerCut(t *testing.T) {
	t.Parallel()
	port, data := freePort(t), t.TempDir()
	s := serve(t, port, "serve", "--data", data)
	s.siskin(t, v8)
	page := s.open(t, "/engines/siskin", 1280, 800)
	see(t, page, "button", "Start a test")
	press(t, page, 't')
	see(t, page, "h2", "Prepare and make safe")
	fill(t, page, "^Battery at the start, V", "twelve")
	press(t, page, input.Tab)
	see(t, page, "[data-fault]", "“twelve” is not a number")
	fill(t, page, "^Air pressure", "4")
	press(t, page, input.Tab)
	see(t, page, "[data-fault]", "40")
	option(t, page, "after a set number of compressions")
	fill(t, page, "^Compressions for each", "8")
	press(t, page, input.Tab)
	see(t, page, "p", "Crank 8 compressions each")
	for _, refused := range []string{"twelve", "4"} {
		until(t, page, `() => [...document.querySelectorAll('input[aria-invalid=true]')].some(i => i.value === '`+refused+`')`)
	}
	until(t, page, kept(0))
	s.kill(t)
	fill(t, page, "^Meter", "12,5")
	press(t, page, input.Tab)
	see(t, page, "[data-kept]", "1 waiting to be sent")
	s = serve(t, port, "serve", "--data", data)
	until(t, page, kept(0))
	got := s.sheet(t, "siskin")
	require.NotNil(t, got.Session.Meter)
	assert.Equal(t, 12.5, *got.Session.Meter)
}
