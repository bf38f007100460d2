package e2e

import (
	"testing"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// fill types a figure over what stands in the field of that label.
func fill(t *testing.T, page *rod.Page, label, figure string) {
	t.Helper()
	id, err := see(t, page, "label", label).Attribute("for")
	require.NoError(t, err)
	field, err := page.Element(`[id="` + *id + `"]`)
	require.NoError(t, err)
	require.NoError(t, field.SelectAllText())
	require.NoError(t, field.Input(figure))
}

func TestALeakIsReckonedAsItIsTyped(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/sums/leak", 1280, 800)
	see(t, page, "[data-answer]", "like a hole of")
	fill(t, page, "^supply, psi", "82")
	fill(t, page, "^held, psi", "77")
	see(t, page, "[data-answer] dd", `^6\.1\b`)

	fill(t, page, "^held, psi", "90")
	see(t, page, "[data-fault]", "must not be above the supply")
	see(t, page, "[data-answer] dd", `^6\.1\b`)

	fill(t, page, "^held, psi", "77")
	fill(t, page, "^supply, psi", "-5")
	see(t, page, "[data-fault]", "^must be a pressure between 0 and 1450 psi$")
	fill(t, page, "^supply, psi", "82")

	see(t, page, "label", "^Pressure$")
	_, err := page.Eval(`() => { const s = [...document.querySelectorAll('select')].find(s => s.value === 'psi'); s.value = 'bar'; s.dispatchEvent(new Event('change', {bubbles: true})) }`)
	require.NoError(t, err)
	see(t, page, "label", "^supply, bar")
	fill(t, page, "^supply, bar", "-5")
	see(t, page, "[data-fault]", "^must be a pressure between 0 and 100 bar$")
	require.NoError(t, page.Reload())
	see(t, page, "label", "^supply, bar")
}

func TestAnEnginesFiguresFillASumAndTheAnswerIsKept(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/sums/cranking", 1280, 800)
	see(t, page, "[data-answer]", "middle")
	see(t, page, "option", "Bittern")
	_, err := page.Eval(`() => { const s = document.querySelector("option[value=bittern]").parentElement; s.value = "bittern"; s.dispatchEvent(new Event('change', {bubbles: true})) }`)
	require.NoError(t, err)
	until(t, page, `() => [...document.querySelectorAll('input')].some(i => i.value === '101')`)
	require.NoError(t, see(t, page, "button", "Save to its notes").Click("left", 1))
	see(t, page, "[role=status]", "Bittern's notes")
	require.NoError(t, page.Navigate(s.url+"/engines/bittern"))
	see(t, page, "section", `Cranking pressure: low \d+ psi.*\(from bore 101 mm`)
}

func TestTheCrankWheelGoesThroughTheFiringOrder(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/engines/bittern", 1280, 800)
	see(t, page, "a", "Crank wheel")
	press(t, page, 'w')
	var went []string
	see(t, page, "[data-say]", "Bring 1 to TDC")
	for _, c := range []string{"8", "4", "3", "6", "5", "7", "2"} {
		press(t, page, input.ArrowRight)
		words, err := see(t, page, "[data-say]", "Turn 90° clockwise to "+c).Text()
		require.NoError(t, err)
		went = append(went, words)
	}
	assert.Contains(t, went[3], "1 is on overlap")
}
