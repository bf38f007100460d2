// Package inout takes logs and sheets into the store and brings them out of it: what the command line and the screens share.
package inout

import (
	"context"
	"errors"
	"fmt"
	"io"

	"braxel/internal/core/log"
	"braxel/internal/logfile"
	"braxel/internal/store"
)

// Archive writes engines' logs with their photos. An engine that cannot be read leaves the others, and is named.
func Archive(ctx context.Context, s *store.Store, engines []string, to io.Writer) error {
	out := logfile.NewArchive(to)
	var failed []error
	for _, id := range engines {
		l, _, err := s.Log(ctx, id)
		if err != nil {
			failed = append(failed, fmt.Errorf("%s: %w", id, err))
			continue
		}
		err = out.Add(id, l, func(p logfile.Picture) []byte {
			picture, err := s.PhotoOf(p.Engine, p.Test, p.Key)
			if err != nil {
				return nil // check names the ones that are missing
			}
			return picture
		})
		if err != nil {
			return err
		}
	}
	return errors.Join(errors.Join(failed...), out.Close())
}

// TakePictures keeps the pictures of a log that came with it; one that is here already stays.
func TakePictures(s *store.Store, engine string, l log.Log, picture func(logfile.Picture) ([]byte, error)) error {
	var failed []error
	for _, p := range logfile.PicturesOf(engine, l) {
		if _, err := s.PhotoOf(engine, p.Test, p.Key); err == nil {
			continue
		}
		text, err := picture(p)
		if err == nil && text != nil {
			err = s.PutPhotoOf(engine, p.Test, p.Key, text)
		}
		failed = append(failed, err)
	}
	return errors.Join(failed...)
}
