// Package inout takes logs and sheets into the store and brings them out of it: what the command line and the screens share.
package inout

import (
	"context"
	"errors"
	"fmt"
	"io"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/logfile"
	"braxel/internal/photo"
	"braxel/internal/store"
)

// Form is how logs are written out.
type Form int

// The forms: a log a line, indented for reading, readings as tidy CSV.
const (
	Lines Form = iota
	Indented
	CSV
)

// WriteLogs writes engines' logs. One that cannot be read leaves the others, and is named.
func WriteLogs(ctx context.Context, s *store.Store, engines []string, to io.Writer, form Form) error {
	add := func(l log.Log) error { return writeText(to, l, logfile.Line) }
	switch form {
	case Indented:
		add = func(l log.Log) error { return writeText(to, l, logfile.Write) }
	case CSV:
		sheet, err := logfile.NewCSV(to)
		if err != nil {
			return err
		}
		add = sheet.Add
	}
	return eachLog(ctx, s, engines, func(_ string, l log.Log) error { return add(l) })
}

func writeText(to io.Writer, l log.Log, as func(log.Log) ([]byte, error)) error {
	text, err := as(l)
	if err != nil {
		return err
	}
	_, err = to.Write(text)
	return err
}

// Unread names the engines that could not be read, when all the others have been.
type Unread struct{ Engines []error }

func (u *Unread) Error() string { return errors.Join(u.Engines...).Error() }

// Unwrap returns what went wrong with each.
func (u *Unread) Unwrap() []error { return u.Engines }

// eachLog gives each engine's log to do, and names those that cannot be read when the others are done.
func eachLog(ctx context.Context, s *store.Store, engines []string, do func(string, log.Log) error) error {
	var unread Unread
	for _, id := range engines {
		l, _, err := s.Log(ctx, id)
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if err != nil {
			unread.Engines = append(unread.Engines, fmt.Errorf("%s: %w", id, err))
			continue
		}
		if err := do(id, l); err != nil {
			return err
		}
	}
	if len(unread.Engines) > 0 {
		return &unread
	}
	return nil
}

// WriteWorkbook writes engines' readings as a workbook, a sheet for each. One that cannot be read leaves the others, and is named.
func WriteWorkbook(ctx context.Context, s *store.Store, engines []string, to io.Writer) (err error) {
	out, err := logfile.NewWorkbook()
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, out.Close()) }()
	left := eachLog(ctx, s, engines, func(_ string, l log.Log) error { return out.Add(l) })
	if unread := new(Unread); left != nil && !errors.As(left, &unread) {
		return left
	}
	return errors.Join(left, out.Write(to))
}

// Archive writes engines' logs with their photos. An engine that cannot be read leaves the others, and is named.
func Archive(ctx context.Context, s *store.Store, engines []string, to io.Writer) error {
	out, err := logfile.NewArchive(to)
	if err != nil {
		return err
	}
	err = eachLog(ctx, s, engines, out.Add)
	leftOut, unread := "", new(Unread)
	if errors.As(err, &unread) {
		leftOut = say.Text("inout.these-engines-cant-read-not", "unread", unread.Error())
	} else if err != nil {
		return err
	}
	picture := func(p logfile.Picture) []byte {
		text, err := s.PhotoOf(p.Engine, p.Test, p.Key)
		if err != nil {
			return nil // check names the ones that are missing
		}
		return text
	}
	return errors.Join(err, out.Close(picture, leftOut))
}

// TakePictures keeps the pictures of a log that came with it; one that is here already stays.
func TakePictures(s *store.Store, engine string, l log.Log, picture logfile.Pictures) error {
	var failed []error
	for _, p := range logfile.PicturesOf(engine, l) {
		if _, err := s.PhotoOf(engine, p.Test, p.Key); err == nil {
			continue
		}
		text, err := picture(p)
		if err == nil && text != nil {
			err = photo.Check(text)
		}
		if err == nil && text != nil {
			err = s.PutPhotoOf(engine, p.Test, p.Key, text)
		}
		failed = append(failed, err)
	}
	return errors.Join(failed...)
}
