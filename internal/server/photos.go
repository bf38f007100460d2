package server

import (
	"errors"
	"net/http"
	"strings"

	"github.com/gofiber/fiber/v3"

	"braxel/internal/core/book"
	"braxel/internal/core/say"
	"braxel/internal/photo"
	"braxel/internal/plain"
	"braxel/internal/store"
)

func (h *handlers) photoRoutes(app routes) {
	// Photos are files in the data directory, named by their entry. The browser has made them small and, by drawing them anew,
	// taken place and camera out.
	app.add(http.MethodPut, "/api/photos/:id", terms{most: photo.Most + 1}, h.putPhoto)
	app.get("/api/sync/pictures/:id", h.givePicture)
	app.get("/api/engines/:engine/sessions/:session/photos/:key", h.getPhoto)
	app.get("/api/engines/:engine/photos/:key", h.getPhoto)
}

// putPhoto keeps the picture of an entry, once: the same again changes nothing, another is refused.
func (h *handlers) putPhoto(x fiber.Ctx) error {
	id, picture := strings.Clone(x.Params("id")), x.Request().Body()
	if !book.IsID(id) {
		return fiber.NewError(http.StatusUnprocessableEntity, say.Text("server.photo-has-id-entry-letters"))
	}
	if err := photo.Check(picture); errors.Is(err, photo.ErrLarge) {
		return fiber.NewError(http.StatusRequestEntityTooLarge, plain.Words(err))
	} else if err != nil {
		return fiber.NewError(http.StatusUnprocessableEntity, plain.Words(err))
	}
	if err := h.store.PutPhoto(id, picture); errors.Is(err, store.ErrOther) {
		return fiber.NewError(http.StatusConflict, plain.Words(err))
	} else if err != nil {
		return err
	}
	return x.SendStatus(http.StatusCreated)
}

func (h *handlers) getPhoto(x fiber.Ctx) error {
	picture, err := h.store.PhotoOf(unescape(x.Params("engine")), unescape(x.Params("session")), unescape(x.Params("key")))
	if isUnknown(err) {
		return fiber.NewError(http.StatusNotFound, say.Text("server.there-no-photo-name"))
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
		return fiber.NewError(http.StatusNotFound, say.Text("server.there-no-photo-name"))
	}
	picture, err := h.store.Photo(id)
	if isUnknown(err) {
		return fiber.NewError(http.StatusNotFound, say.Text("server.there-no-photo-name"))
	}
	if err != nil {
		return err
	}
	x.Set("Content-Type", "image/jpeg")
	return x.Send(picture)
}
