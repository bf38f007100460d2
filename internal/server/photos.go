package server

import (
	"bytes"
	"errors"
	"io/fs"
	"net/http"
	"os"
	"path/filepath"
	"regexp"
	"strings"

	"github.com/gofiber/fiber/v3"

	"braxel/internal/core/log"
)

// Photos are files in the data directory, named by the entry that they belong to. The browser has made them small and,
// by drawing them anew, taken place and camera out.
const maxPhoto = 2 << 20

var plainName = regexp.MustCompile(`^[A-Za-z0-9_.-]{1,120}$`)

func (h *handlers) photoRoutes(app *fiber.App) {
	const path = "/api/engines/:engine/sessions/:session/photos/:key"
	app.Put(path, h.putPhoto)
	app.Get(path, h.getPhoto)
}

// photoFile returns where a photo is kept; names that could lead elsewhere are refused.
func (h *handlers) photoFile(x fiber.Ctx) (string, error) {
	parts := []string{h.store.Dir, "photos"}
	for _, name := range []string{x.Params("engine"), x.Params("session"), x.Params("key")} {
		if !plainName.MatchString(name) || strings.Trim(name, ".") == "" {
			return "", fiber.NewError(http.StatusNotFound, "there is no photo of that name")
		}
		parts = append(parts, strings.Clone(name))
	}
	return filepath.Join(parts...) + ".jpg", nil
}

// putPhoto keeps a photo, once: a second one of the same key changes nothing. What stands beside the picture is noted
// as an observation of the same key.
func (h *handlers) putPhoto(x fiber.Ctx) error {
	file, err := h.photoFile(x)
	if err != nil {
		return err
	}
	body := x.Body()
	switch {
	case len(body) > maxPhoto:
		return fiber.NewError(http.StatusRequestEntityTooLarge, "the photo is larger than 2 MB")
	case !bytes.HasPrefix(body, []byte{0xff, 0xd8, 0xff}):
		return fiber.NewError(http.StatusUnprocessableEntity, "the photo is no JPEG")
	}
	engine, session := strings.Clone(x.Params("engine")), strings.Clone(x.Params("session"))
	note := log.Observation{What: "other", Finding: "photo", Note: strings.Clone(x.Query("note")), Key: strings.Clone(x.Params("key"))}
	if err := h.store.AddObservation(x.Context(), engine, session, note); err != nil {
		return fiber.NewError(http.StatusNotFound, err.Error())
	}
	if err := os.MkdirAll(filepath.Dir(file), 0o700); err != nil {
		return err
	}
	// Written aside and then renamed, so that a photo is there whole or not at all.
	if err := os.WriteFile(file+".part", body, 0o600); err != nil {
		return err
	}
	if err := os.Rename(file+".part", file); err != nil {
		return err
	}
	h.hub.tell(engine + "/" + session)
	return x.SendStatus(http.StatusCreated)
}

func (h *handlers) getPhoto(x fiber.Ctx) error {
	file, err := h.photoFile(x)
	if err != nil {
		return err
	}
	body, err := os.ReadFile(file)
	if errors.Is(err, fs.ErrNotExist) {
		return fiber.NewError(http.StatusNotFound, "there is no photo of that name")
	}
	if err != nil {
		return err
	}
	x.Set("Content-Type", "image/jpeg")
	x.Set("Cache-Control", "private, max-age=31536000, immutable")
	return x.Send(body)
}
