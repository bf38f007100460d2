package e2e

import (
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// onto gives the focus to what shows those words, as Tab would.
func onto(t testing.TB, page *rod.Page, selector, words string) {
	t.Helper()
	require.NoError(t, see(t, page, selector, words).Focus())
}

// typeInto types into a field.
func typeInto(t testing.TB, page *rod.Page, selector, words string) {
	t.Helper()
	field, err := page.Element(selector)
	require.NoError(t, err, "%s; the page says:\n%s", selector, text(page))
	require.NoError(t, field.SelectAllText())
	require.NoError(t, field.Input(words))
}

// toCell walks the grid by its arrows to a row and a column.
func toCell(t testing.TB, page *rod.Page, engine, event string) {
	t.Helper()
	one, err := page.Element(`[data-cell][tabindex="0"]`)
	require.NoError(t, err)
	require.NoError(t, one.Focus())
	at := func() string {
		v, err := page.Eval(`() => document.activeElement.textContent || ''`)
		require.NoError(t, err)
		return v.Value.Str()
	}
	for _, keys := range []struct {
		back, on input.Key
		want     string
	}{{input.ArrowUp, input.ArrowDown, engine}, {input.ArrowLeft, input.ArrowRight, event}} {
		for range 12 {
			press(t, page, keys.back)
		}
		for range 12 {
			if strings.Contains(at(), keys.want) {
				break
			}
			press(t, page, keys.on)
			time.Sleep(30 * time.Millisecond)
		}
		require.Contains(t, at(), keys.want)
	}
}

// A season is typed, an engine moved, an event run and the plan made anew, on a screen and on a phone, by the keyboard alone.
func TestASeasonIsRunByKeyboard(t *testing.T) {
	for name, wide := range map[string]bool{"1280": true, "390": false} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			s := demo(t)
			width, height := 1280, 800
			if !wide {
				width, height = 390, 844
			}
			page := s.openFor(t, 3*time.Minute, "/season", width, height)
			see(t, page, "h1", "Season")
			see(t, page, "[data-asks]", "beyond the chance")

			// An event of today is typed.
			press(t, page, 'n')
			see(t, page, "[data-event-dialog]", "Add event")
			typeInto(t, page, "[data-event-dialog] [data-name]", "Test Day")
			day, err := page.Element("[data-event-dialog] [data-date]")
			require.NoError(t, err)
			require.NoError(t, day.InputTime(time.Date(2033, 5, 14, 0, 0, 0, 0, time.UTC)))
			onto(t, page, "[data-event-dialog] .choice", "hill-climb car")
			press(t, page, input.Space)
			typeInto(t, page, "[data-event-dialog] [data-hours] input", "2")
			press(t, page, input.Enter)
			until(t, page, `() => !document.querySelector('[role=dialog]')`)
			if !wide {
				onto(t, page, "[data-whole]", "Whole season")
				press(t, page, input.Enter)
			}
			see(t, page, "button", "Test Day")

			// An engine is put into the car there, and what it ran is entered.
			open := func(engine, event string) {
				if wide {
					toCell(t, page, engine, event)
					press(t, page, input.Enter)
				} else {
					item := see(t, page, "[data-list] > li", event)
					row, err := item.ElementR("[data-cell]", engine)
					require.NoError(t, err)
					require.NoError(t, row.Focus())
					press(t, page, input.Enter)
				}
				see(t, page, "[data-cell-dialog]", engine+" at "+event)
			}
			open("Whinchat", "Test Day")
			onto(t, page, "[data-cell-dialog] .choice", "hill-climb car")
			press(t, page, input.Space)
			see(t, page, "[data-words]", "to be inside its limits at the end")
			typeInto(t, page, "[data-ran] input", "1.5")
			press(t, page, input.Enter)
			until(t, page, `() => !document.querySelector('[role=dialog]')`)
			see(t, page, "[data-cell]", `1\.5 ?h`)

			// Another is moved by hand: its chances change at once.
			open("Whinchat", "Tarn Cup")
			onto(t, page, "[data-cell-dialog] .choice", "hill-climb car")
			press(t, page, input.Space)
			see(t, page, "[data-words]", "Whinchat at Tarn Cup")
			press(t, page, input.Escape)
			until(t, page, `() => !document.querySelector('[role=dialog]')`)

			// The plan is made anew and taken.
			press(t, page, 'p')
			see(t, page, "[data-offer-words]", "change")
			onto(t, page, "[data-take]", "Take this plan")
			press(t, page, input.Enter)
			until(t, page, `() => !document.querySelector('[data-offer-words]')`)
			until(t, page, `() => !document.querySelector('[data-asks]')`)
			assert.NotContains(t, text(page), "beyond the chance")

			// One undo takes the whole plan back.
			require.NoError(t, page.KeyActions().Press(input.ControlLeft).Type('z').Release(input.ControlLeft).Do())
			see(t, page, "[data-asks]", "beyond the chance")
		})
	}
}

func TestASeasonBeginsFromPastedEvents(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/season", 1280, 800)
	click(t, page, "[data-paste]", "Paste events")
	typeInto(t, page, "[data-paste-dialog] [data-text]", "Autumn Run; 8 Oct 2033; 3 h\nnobody knows when")
	see(t, page, "[data-came]", "Autumn Run")
	see(t, page, "[data-refused]", "Line 2")
	click(t, page, "[data-paste-dialog] [data-save]", "Add 1 event")
	see(t, page, "[data-event]", "Autumn Run")

	// A form that was left empty doesn't take over what another showed: else a new event would be typed over an old one.
	for _, form := range []struct{ add, words, old, name string }{
		{"[data-add-event]", "Add event", "[data-event]", "Autumn Run"}, {"[data-add-car]", "Add car", "[data-car]", "sprint boat"},
	} {
		leave := func() {
			click(t, page, "[role=dialog] button", "Cancel")
			until(t, page, `() => !document.querySelector('[role=dialog]')`)
		}
		click(t, page, form.add, form.words)
		see(t, page, "[role=dialog]", "Cancel")
		leave()
		click(t, page, form.old, form.name)
		see(t, page, "[role=dialog]", form.name)
		leave()
		click(t, page, form.add, form.words)
		name, err := page.Element("[role=dialog] [data-name]")
		require.NoError(t, err)
		assert.Empty(t, name.MustProperty("value").Str())
		leave()
	}
	page.MustNavigate(s.url + "/engines/redpoll")
	see(t, page, "[data-season]", `Good for .* h more, 9 times in 10\. Quarry Hill takes 3(\.0)? h\.`)
	page.MustNavigate(s.url + "/diary")
	see(t, page, "[data-item]", `[Tt]est before the event: For Long Pass`)
}

func TestAStartIsDraggedToAnotherEngineAndWorkHasItsPrice(t *testing.T) {
	t.Parallel()
	s := demo(t)
	page := s.open(t, "/season", 1280, 800)
	see(t, page, "[data-row=Redpoll]", "Redpoll")
	drag := func(to string) {
		_, err := page.Eval(`to => {
			const cell = row => [...document.querySelectorAll('[data-row="' + row + '"] [data-cell]')].find(c => c.textContent.includes('Tarn Cup'))
			const tell = (of, what) => of.dispatchEvent(new DragEvent(what, { bubbles: true, cancelable: true }))
			tell(cell('Redpoll'), 'dragstart')
			return new Promise(done => setTimeout(() => { tell(cell(to), 'dragover'); tell(cell(to), 'drop'); done() }, 100))
		}`, to)
		require.NoError(t, err)
	}
	drag("Bittern") // it fits no car of Redpoll's
	drag("Whinchat")
	see(t, page, "[data-row=Whinchat] [data-cell]", `Tarn Cup:\s*\d+%\s*hill-climb car`)
	see(t, page, "[data-row=Redpoll] [data-cell]", `Tarn Cup, doesn.t run`)
	see(t, page, "[data-row=Bittern] [data-cell]", `Tarn Cup:\s*freshen\s*\d+%\s*sprint boat`)

	click(t, page, "[data-row=Redpoll] [data-cell]", "Long Pass")
	see(t, page, "[data-work=test]", "As planned")
	see(t, page, "[data-work=freshen]", `9\d%:\s*24 h more work`)
	click(t, page, "[data-work=freshen]", "Freshen")
	see(t, page, "[data-work=freshen]", "As planned")
	see(t, page, "[data-work=test]", `24 h less work`)
	click(t, page, "[data-close]", "Done")
	see(t, page, "[data-row=Redpoll] [data-cell]", `Long Pass:\s*freshen`)
}
