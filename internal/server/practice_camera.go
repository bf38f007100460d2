package server

import (
	"math"
	"net/http"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"

	"braxel/internal/camera"
	"braxel/internal/core/units"
)

// benchCamera is the camera that stands before the gauge of the engine that is practised on; it is set up when somebody looks.
var benchCamera = sync.OnceValue(camera.NewLive)

// practiceCamera is what the camera sees at this moment: the gauge of the engine on the stand, or the dial of the leak-down tester that is
// asked for.
func (h *handlers) practiceCamera(x fiber.Ctx) error {
	if h.practice == nil {
		return fiber.NewError(http.StatusNotFound, errNoPractice.Error())
	}
	air := x.Query("air") == "true"
	kpa, supply := h.practice.room.Shows(benchName, air)
	if air && x.Query("dial") == "supply" {
		kpa = supply
	}
	psi := units.Pressure(kpa).In(units.PSI)
	seconds := math.Mod(float64(time.Now().UnixMilli())/1000, 3600)
	picture, err := benchCamera().Picture(psi, seconds)
	if err != nil {
		return err
	}
	x.Set("Content-Type", "image/jpeg")
	x.Set("Cache-Control", "no-store")
	return x.Send(picture)
}
