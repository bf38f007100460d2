package server

import (
	"context"
	"io"
	"sync"
	"time"
)

// jobs is how far each import under way has come, by the name that the screen gave it.
type jobs struct {
	mu  sync.Mutex
	all map[string]*job
}

// job is one of them. A nil one, which nobody asks about, keeps no count.
type job struct {
	of  *jobs
	key string
	now Progress
}

// Progress is how far an import has come.
type Progress struct {
	Known bool    `json:"known" doc:"An import is under way"`
	Done  int64   `json:"done" doc:"Bytes of the file done so far"`
	Size  int64   `json:"size"`
	Logs  int     `json:"logs" doc:"Engines done so far"`
	Left  float64 `json:"left_s,omitzero" doc:"Seconds left at the pace so far"`
	begun time.Time
}

// mostJobs is as many as are followed at once.
const mostJobs = 20

func (j *jobs) begin(key string) *job {
	j.mu.Lock()
	defer j.mu.Unlock()
	if key == "" || len(j.all) >= mostJobs || j.all[key] != nil {
		return nil
	}
	if j.all == nil {
		j.all = map[string]*job{}
	}
	one := &job{of: j, key: key, now: Progress{Known: true, begun: time.Now()}}
	j.all[key] = one
	return one
}

func (j *job) end() {
	if j == nil {
		return
	}
	j.of.mu.Lock()
	defer j.of.mu.Unlock()
	delete(j.of.all, j.key)
}

func (j *job) note(change func(*Progress)) {
	if j == nil {
		return
	}
	j.of.mu.Lock()
	defer j.of.mu.Unlock()
	change(&j.now)
}

func (j *job) count(logs int) { j.note(func(p *Progress) { p.Logs = logs }) }

// reading counts what is read of a file, by how far into it the reading has come.
func (j *job) reading(file io.ReaderAt, size int64) io.ReaderAt {
	j.note(func(p *Progress) { p.Size = size })
	return &readCounted{file, j}
}

type readCounted struct {
	io.ReaderAt
	job *job
}

func (r *readCounted) ReadAt(b []byte, off int64) (int, error) {
	n, err := r.ReaderAt.ReadAt(b, off)
	r.job.note(func(p *Progress) { p.Done = max(p.Done, min(off+int64(n), p.Size)) })
	return n, err
}

func (h *handlers) importProgress(_ context.Context, in *struct {
	Job string `query:"job" maxLength:"64"`
}) (*answer[Progress], error) {
	h.jobs.mu.Lock()
	defer h.jobs.mu.Unlock()
	var p Progress
	if one := h.jobs.all[in.Job]; one != nil {
		p = one.now
		if p.Done > 0 {
			p.Left = time.Since(p.begun).Seconds() * float64(p.Size-p.Done) / float64(p.Done)
		}
	}
	return &answer[Progress]{p}, nil
}
