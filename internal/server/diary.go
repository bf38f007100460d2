package server

import (
	"cmp"
	"context"
	"crypto/rand"
	"crypto/subtle"
	"net/http"
	"slices"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"github.com/gofiber/fiber/v3"

	"braxel/internal/core/diary"
	"braxel/internal/core/rules"
	"braxel/internal/core/say"
	"braxel/internal/logfile"
)

// DiaryPage is what is due on all engines, the most pressing first.
type DiaryPage struct {
	Today    string      `json:"today" format:"date"`
	Items    []DiaryItem `json:"items"`
	Calendar string      `json:"calendar,omitzero" doc:"The path a calendar subscribes to"`
	Ways     []string    `json:"ways" doc:"The addresses other devices can use"`
	Pending  int         `json:"pending,omitzero"`
}

// DiaryItem is something due, and where it stands today.
type DiaryItem struct {
	diary.Item
	Standing diary.Standing `json:"standing" enum:"overdue,now,soon,later,put off"`
}

const calendarPath = "/calendar/"

func (h *handlers) diaryRoutes(app routes, api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "diary", Method: http.MethodGet, Path: "/api/diary"}, h.diary)
	huma.Register(api, huma.Operation{
		OperationID: "renew-calendar", Method: http.MethodPost, Path: "/api/calendar-key", DefaultStatus: http.StatusNoContent,
	}, h.renewCalendar)
	app.get("/api/engines/:engine/log.json", h.download)
	app.get("/api/diary.ics", h.downloadCalendar)
	app.add(http.MethodGet, calendarPath+":key", terms{open: true}, h.subscribed) // its secret is its key
}

// standings are the order of what is due.
var standings = []diary.Standing{diary.Overdue, diary.Now, diary.Soon, diary.Later, diary.Off}

// today returns the day, and the last one that counts as soon.
func (h *handlers) today() (day, soonEnds string) {
	now := h.now()
	return now.Format(time.DateOnly), now.AddDate(0, 0, rules.SoonDays).Format(time.DateOnly)
}

func (h *handlers) diary(ctx context.Context, _ *struct{}) (*answer[DiaryPage], error) {
	rack, err := h.racked(ctx)
	if err != nil {
		return nil, err
	}
	day, _ := h.today()
	page := DiaryPage{Today: day, Items: []DiaryItem{}, Ways: []string{}, Pending: rack.Pending}
	for _, e := range rack.Engines {
		page.Items = append(page.Items, e.Diary...)
	}
	pending, err := h.weighBehind(ctx)
	if err != nil {
		return nil, refuse(err)
	}
	page.Pending += pending
	planned, err := h.plannedWork(ctx, pending > 0)
	if err != nil {
		return nil, err
	}
	page.Items = append(page.Items, planned...)
	slices.SortStableFunc(page.Items, func(a, b DiaryItem) int {
		return cmp.Or(
			cmp.Compare(slices.Index(standings, a.Standing), slices.Index(standings, b.Standing)),
			cmp.Compare(urgent(a), urgent(b)),
			cmp.Compare(cmp.Or(a.PutOff, a.By, "9999"), cmp.Or(b.PutOff, b.By, "9999")),
		)
	})
	if key := h.store.CalendarKey(); key != "" {
		page.Calendar = calendarPath + key + ".ics"
	}
	if h.door != nil {
		page.Ways = append(page.Ways, h.ways()...)
	}
	return &answer[DiaryPage]{page}, nil
}

// urgent puts what is to be mended before what is to be tested, whatever its day.
func urgent(i DiaryItem) int {
	if i.Kind == diary.Mend {
		return 0
	}
	return 1
}

func (h *handlers) renewCalendar(context.Context, *struct{}) (*struct{}, error) {
	return nil, h.store.SetCalendarKey(rand.Text())
}

// downloadCalendar answers with the diary as a file.
func (h *handlers) downloadCalendar(x fiber.Ctx) error {
	x.Set("Content-Disposition", `attachment; filename="braxel-diary.ics"`)
	return h.sendCalendar(x)
}

// subscribed answers a calendar that knows the secret address: it has no cookie, and cannot type a passcode.
func (h *handlers) subscribed(x fiber.Ctx) error {
	key := h.store.CalendarKey()
	if key == "" || subtle.ConstantTimeCompare([]byte(x.Params("key")), []byte(key+".ics")) != 1 {
		return fiber.NewError(http.StatusNotFound, say.Text("server.there-no-calendar-at-address"))
	}
	return h.sendCalendar(x)
}

func (h *handlers) sendCalendar(x fiber.Ctx) error {
	rack, err := h.racked(x.Context())
	if err != nil {
		return err
	}
	var items []diary.Item
	for _, e := range rack.Engines {
		for _, i := range e.Diary {
			items = append(items, i.Item)
		}
	}
	planned, err := h.plannedWork(x.Context(), false)
	if err != nil {
		return err
	}
	for _, i := range planned {
		items = append(items, i.Item)
	}
	x.Set("Content-Type", "text/calendar; charset=utf-8")
	x.Set("Cache-Control", "no-cache")
	return x.SendString(logfile.Calendar(h.shop, items, h.now()))
}
