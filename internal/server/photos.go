package server

import (
	"bytes"
	"errors"
	"image/jpeg"
	"net/http"
	"strings"

	"github.com/gofiber/fiber/v3"

	"braxel/internal/core/book"
	"braxel/internal/store"
)

// Photos are files in the data directory, named by their entry. The browser has made them small and, by drawing them anew,
// taken place and camera out.
const maxPhoto = 2 << 20

// mostSide is as wide or high as a picture may be.
const mostSide = 4000

func (h *handlers) photoRoutes(app fiber.Router) {
	app.Put("/api/photos/:id", h.putPhoto)
	app.Get("/api/sync/pictures/:id", h.givePicture)
	app.Get("/api/engines/:engine/sessions/:session/photos/:key", h.getPhoto)
}

// putPhoto keeps the picture of an entry, once: the same again changes nothing, another is refused.
func (h *handlers) putPhoto(x fiber.Ctx) error {
	id, picture := strings.Clone(x.Params("id")), x.Request().Body()
	if !book.IsID(id) {
		return fiber.NewError(http.StatusUnprocessableEntity, "a photo has the id of its entry: letters, digits, - or _")
	}
	if len(picture) > maxPhoto {
		return fiber.NewError(http.StatusRequestEntityTooLarge, "the photo is larger than 2 MB")
	}
	size, err := jpeg.DecodeConfig(bytes.NewReader(picture))
	if err == nil && (size.Width > mostSide || size.Height > mostSide) {
		return fiber.NewError(http.StatusUnprocessableEntity, "the photo is larger than 4000 dots a side")
	}
	if err == nil {
		_, err = jpeg.Decode(bytes.NewReader(picture))
	}
	if err != nil {
		return fiber.NewError(http.StatusUnprocessableEntity, "the photo is no JPEG, or not whole")
	}
	if err := h.store.PutPhoto(id, picture); errors.Is(err, store.ErrOther) {
		return fiber.NewError(http.StatusConflict, err.Error())
	} else if err != nil {
		return err
	}
	return x.SendStatus(http.StatusCreated)
}

func (h *handlers) getPhoto(x fiber.Ctx) error {
	picture, err := h.store.PhotoOf(unescape(x.Params("engine")), unescape(x.Params("session")), unescape(x.Params("key")))
	if isUnknown(err) {
		return fiber.NewError(http.StatusNotFound, "there is no photo of that name")
	}
	if err != nil {
		return err
	}
	x.Set("Content-Type", "image/jpeg")
	x.Set("Cache-Control", "private, max-age=31536000, immutable")
	return x.Send(picture)
}

// givePicture hands another machine of the shop a picture by its name.
func (h *handlers) givePicture(x fiber.Ctx) error {
	id := strings.Clone(x.Params("id"))
	if !book.IsID(id) {
		return fiber.NewError(http.StatusNotFound, "there is no photo of that name")
	}
	picture, err := h.store.Photo(id)
	if isUnknown(err) {
		return fiber.NewError(http.StatusNotFound, "there is no photo of that name")
	}
	if err != nil {
		return err
	}
	x.Set("Content-Type", "image/jpeg")
	return x.Send(picture)
}
