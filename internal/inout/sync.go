package inout

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"slices"
	"strings"
	"time"

	"github.com/go-json-experiment/json"

	"braxel/internal/core/book"
	"braxel/internal/store"
)

// Where another machine's book is asked for and handed to.
const (
	DigestsPath   = "/api/sync/digests"
	DigestsOfPath = "/api/sync/digests-of"
	GivePath      = "/api/sync/give"
	TakePath      = "/api/sync/take"
	PicturesPath  = "/api/sync/pictures"
	picturePath   = "/api/sync/pictures/"
	putPicture    = "/api/photos/"
	doorPath      = "/api/door"
)

// MostHanded is how many entries go over at once.
const MostHanded = 500

// Asking names entries.
type Asking struct {
	IDs []string `json:"ids" maxItems:"500"`
}

// Handing holds entries.
type Handing struct {
	Entries []book.Entry `json:"entries" maxItems:"500"`
}

// Taken says how many of them were not there.
type Taken struct {
	Added int `json:"added"`
}

// Synced is what went over between two machines.
type Synced struct {
	Got      int      `json:"got" doc:"Entries that came here"`
	Gave     int      `json:"gave" doc:"Entries that went there"`
	Pictures int      `json:"pictures" doc:"Photos that went either way"`
	Engines  []string `json:"engines" doc:"Engines of which something came"`
	Clashes  []Clash  `json:"clashes" doc:"What both changed without sight of each other; the later stands"`
	Missing  []string `json:"missing" doc:"Photos that neither has whole"`
	More     bool     `json:"more,omitzero" doc:"It was broken off: begun again, it goes on"`
}

// Clash is a field that both machines changed.
type Clash struct {
	Engine string `json:"engine"`
	Words  string `json:"words"`
}

// peer is the other machine.
type peer struct {
	http *http.Client
	base string
}

// Sync exchanges with the machine at address the entries and photos that each lacks of the other's. Broken off, it has done what it
// has done; begun again, it goes on. Both then hold the same book, whoever began.
func Sync(ctx context.Context, s *store.Store, address, passcode string) (Synced, error) {
	done := Synced{Engines: []string{}, Clashes: []Clash{}, Missing: []string{}}
	p, err := dial(address)
	if err != nil {
		return done, err
	}
	if err := p.enter(ctx, passcode); err != nil {
		return done, err
	}
	var theirs map[string]string
	if err := p.get(ctx, DigestsPath, &theirs); err != nil {
		return done, err
	}
	ours, err := s.Digests(ctx)
	if err != nil {
		return done, err
	}
	for _, engine := range either(ours, theirs) {
		if ours[engine] == theirs[engine] {
			continue
		}
		if err := p.exchange(ctx, s, engine, &done); err != nil {
			return done, err
		}
	}
	return done, p.exchangePictures(ctx, s, &done)
}

// either returns the keys of both, the workshop's own first: testers are there before readings name them.
func either(a, b map[string]string) []string {
	var all []string
	for k := range a {
		all = append(all, k)
	}
	for k := range b {
		if _, there := a[k]; !there {
			all = append(all, k)
		}
	}
	slices.Sort(all)
	return all
}

func dial(address string) (*peer, error) {
	if !strings.Contains(address, "://") {
		address = "http://" + address
	}
	u, err := url.Parse(strings.TrimSpace(address))
	if err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https" {
		return nil, fmt.Errorf("“%.80s” is no address: it is shown on the other machine under Devices, such as http://192.168.1.20:8314", address)
	}
	jar, err := cookiejar.New(nil)
	if err != nil {
		return nil, err
	}
	const patience = 20 * time.Second
	return &peer{&http.Client{Jar: jar, Timeout: patience}, u.Scheme + "://" + u.Host}, nil
}

// enter knocks with the passcode, where the other machine asks for one.
func (p *peer) enter(ctx context.Context, passcode string) error {
	var page struct {
		In bool `json:"in"`
	}
	if err := p.get(ctx, doorPath, &page); err != nil {
		return fmt.Errorf("no Braxel answers at %s: %w", p.base, err)
	}
	if page.In {
		return nil
	}
	name, err := os.Hostname()
	if err != nil || name == "" {
		name = "another machine"
	}
	return p.post(ctx, doorPath, map[string]string{"passcode": passcode, "name": fmt.Sprintf("%.60s", name)}, nil)
}

func (p *peer) get(ctx context.Context, path string, into any) error {
	return p.do(ctx, http.MethodGet, path, "", nil, into)
}

func (p *peer) post(ctx context.Context, path string, body, into any) error {
	text, err := json.Marshal(body)
	if err != nil {
		return err
	}
	return p.do(ctx, http.MethodPost, path, "application/json", text, into)
}

// mostAnswered is as much as an answer may have: entries by the hundred, digests by the ten thousand.
const mostAnswered = 64 << 20

func (p *peer) do(ctx context.Context, method, path, kind string, body []byte, into any) error {
	ask, err := http.NewRequestWithContext(ctx, method, p.base+path, bytes.NewReader(body))
	if err != nil {
		return err
	}
	if kind != "" {
		ask.Header.Set("Content-Type", kind)
	}
	got, err := p.http.Do(ask)
	if err != nil {
		return err
	}
	defer func() { _ = got.Body.Close() }()
	text, err := io.ReadAll(io.LimitReader(got.Body, mostAnswered))
	if err != nil {
		return err
	}
	if got.StatusCode >= http.StatusBadRequest {
		var said struct {
			Detail string `json:"detail"`
		}
		if json.Unmarshal(text, &said) != nil || said.Detail == "" {
			said.Detail = got.Status
		}
		return errors.New("the other machine says: " + said.Detail)
	}
	switch to := into.(type) {
	case nil:
		return nil
	case *[]byte:
		*to = text
		return nil
	}
	return json.Unmarshal(text, into)
}

// exchange evens out one engine.
func (p *peer) exchange(ctx context.Context, s *store.Store, engine string, done *Synced) error {
	ours, err := s.DigestsOf(ctx, engine)
	if err != nil {
		return err
	}
	var theirs map[string]string
	if err := p.get(ctx, DigestsOfPath+"?engine="+url.QueryEscape(engine), &theirs); err != nil {
		return err
	}
	var get, give []string
	for id, digest := range theirs {
		if ours[id] != digest {
			get = append(get, id)
		}
	}
	for id, digest := range ours {
		if theirs[id] != digest {
			give = append(give, id)
		}
	}
	slices.Sort(get)
	slices.Sort(give)
	before := clashes(ctx, s, engine)
	// What is to be given is read first: taking theirs may change what has an id here.
	out, err := s.Entries(ctx, give)
	if err != nil {
		return err
	}
	for some := range slices.Chunk(get, MostHanded) {
		var entries []book.Entry
		if err := p.post(ctx, GivePath, Asking{some}, &entries); err != nil {
			return err
		}
		added, engines, err := s.Union(ctx, entries)
		done.Got += added
		for _, e := range engines {
			if !slices.Contains(done.Engines, e) {
				done.Engines = append(done.Engines, e)
			}
		}
		if err != nil {
			return err
		}
	}
	for _, some := range bySize(out) {
		var taken Taken
		if err := p.post(ctx, TakePath, Handing{some}, &taken); err != nil {
			return err
		}
		done.Gave += taken.Added
	}
	for words := range clashes(ctx, s, engine) {
		if !before[words] {
			done.Clashes = append(done.Clashes, Clash{engine, words})
		}
	}
	return nil
}

// bySize parts entries so that each part is taken: by their number and by their length.
func bySize(all []book.Entry) [][]book.Entry {
	const most = 4 << 20
	var parts [][]book.Entry
	size := most
	for _, e := range all {
		if n := len(parts); size+len(e.Body) > most || len(parts[n-1]) >= MostHanded {
			parts, size = append(parts, nil), 0
		}
		parts[len(parts)-1] = append(parts[len(parts)-1], e)
		size += len(e.Body)
	}
	return parts
}

func clashes(ctx context.Context, s *store.Store, engine string) map[string]bool {
	all := map[string]bool{}
	v, err := s.View(ctx, engine)
	if err != nil {
		return all
	}
	for _, of := range v.Clashes {
		for _, c := range of {
			all[c.Words] = true
		}
	}
	return all
}

// exchangePictures hands over the pictures that one of both lacks. A picture never changes, so its name is enough.
func (p *peer) exchangePictures(ctx context.Context, s *store.Store, done *Synced) error {
	var theirs []string
	if err := p.get(ctx, PicturesPath, &theirs); err != nil {
		return err
	}
	ours, err := s.Pictures()
	if err != nil {
		return err
	}
	for _, id := range theirs {
		if slices.Contains(ours, id) || !book.IsID(id) {
			continue
		}
		var picture []byte
		if err := p.get(ctx, picturePath+id, &picture); err != nil {
			return err
		}
		if err := s.PutPhoto(id, picture); err != nil {
			return err
		}
		done.Pictures++
	}
	for _, id := range ours {
		if slices.Contains(theirs, id) {
			continue
		}
		picture, err := s.Photo(id)
		if err != nil {
			return err
		}
		if err := p.do(ctx, http.MethodPut, putPicture+id, "image/jpeg", picture, nil); err != nil {
			if ctx.Err() != nil {
				return err
			}
			done.Missing = append(done.Missing, id+": "+err.Error())
			continue
		}
		done.Pictures++
	}
	return nil
}
