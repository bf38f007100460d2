package inout

import (
	"context"
	"io"
	"time"

	"github.com/go-json-experiment/json/jsontext"

	"braxel/internal/core/log"
	"braxel/internal/logfile"
	"braxel/internal/store"
)

// ReadLog is one log of a file: as it was read, and what became of it.
type ReadLog struct {
	N        int // in the file, from 1
	Log      log.Log
	Unknown  []string // keys that Braxel does not know
	Done     store.Imported
	Err      error // why it was not taken
	pictures logfile.Pictures
}

// Taking says how a file of logs is taken in.
type Taking struct {
	Now    func() time.Time
	Dry    bool                 // only say what would come of it
	Theirs func(n int) []string // which of the differences of a log are taken as it has them; nil for none
}

// How many logs are read ahead, and how many are written before the disk is waited for: a megabyte or so.
const (
	ahead   = 64
	atOnce  = 48
	readers = 2
)

// EachLog takes the logs of a file in, in their order, and gives each to did when it is on disk, or was refused. Reading goes on while
// what was read is written; of the file a few logs are in memory at a time. An error means that the file could not be read further.
func EachLog(ctx context.Context, s *store.Store, file io.ReaderAt, size int64, t Taking, did func(ReadLog)) error {
	ctx, stop := context.WithCancel(ctx)
	defer stop()
	lined := make(chan chan ReadLog, ahead)
	failed := make(chan error, 1)
	go func() {
		defer close(lined)
		failed <- read(ctx, file, size, lined)
	}()
	var batch []ReadLog
	for one := range lined {
		if batch = append(batch, <-one); len(batch) >= atOnce {
			t.write(ctx, s, batch, did)
			batch = nil
		}
	}
	t.write(ctx, s, batch, did)
	return <-failed
}

// read reads the logs of a file ahead, several at a time, and lines up what becomes of them.
func read(ctx context.Context, file io.ReaderAt, size int64, lined chan<- chan ReadLog) error {
	busy := make(chan struct{}, readers)
	return logfile.Each(file, size, func(n int, text jsontext.Value, pictures logfile.Pictures) error {
		one := make(chan ReadLog, 1)
		select {
		case lined <- one:
		case <-ctx.Done():
			return ctx.Err()
		}
		text = text.Clone() // the file is read on meanwhile
		busy <- struct{}{}
		go func() {
			defer func() { <-busy }()
			r := ReadLog{N: n, pictures: pictures}
			r.Log, r.Unknown, r.Err = logfile.Read(text)
			one <- r
		}()
		return nil
	})
}

// write writes what was read and is not refused, and says what became of all.
func (t Taking) write(ctx context.Context, s *store.Store, batch []ReadLog, did func(ReadLog)) {
	var logs []log.Log
	var theirs [][]string
	var of []int
	for i, one := range batch {
		switch {
		case one.Err != nil:
		case t.Dry:
			batch[i].Done, batch[i].Err = s.TryImport(ctx, one.Log, t.Now())
		default:
			logs, of = append(logs, one.Log), append(of, i)
			theirs = append(theirs, t.theirs(one.N))
		}
	}
	for i, r := range s.ImportAll(ctx, logs, t.Now(), theirs...) {
		one := &batch[of[i]]
		one.Done, one.Err = r.Imported, r.Err
		if one.Err == nil && one.pictures != nil {
			one.Err = TakePictures(s, one.Done.Engine, one.Log, one.pictures)
		}
	}
	for _, one := range batch {
		did(one)
	}
}

func (t Taking) theirs(n int) []string {
	if t.Theirs == nil {
		return nil
	}
	return t.Theirs(n)
}
