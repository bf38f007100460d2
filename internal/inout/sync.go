package inout

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"mime"
	"net"
	"net/http"
	"net/url"
	"os"
	"slices"
	"strings"
	"syscall"
	"time"

	"github.com/go-json-experiment/json"

	"braxel/internal/core/book"
	"braxel/internal/core/say"
	"braxel/internal/photo"
	"braxel/internal/plain"
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
	Added   int      `json:"added"`
	Refused []string `json:"refused,omitzero" doc:"What wasn't an entry, and why; it is left out"`
}

// Synced is what went over between two machines.
type Synced struct {
	Got      int      `json:"got" doc:"Entries received"`
	Gave     int      `json:"gave" doc:"Entries sent"`
	Pictures int      `json:"pictures" doc:"Photos exchanged"`
	Engines  []string `json:"engines" doc:"Engines that received something"`
	Clashes  []Clash  `json:"clashes" doc:"What both machines changed without seeing each other's change; the later counts"`
	Missing  []string `json:"missing" doc:"Photos and entries that were refused, and why"`
	More     bool     `json:"more,omitzero" doc:"It was interrupted and continues when started again"`
}

// Clash is a field that both machines changed.
type Clash struct {
	Engine string `json:"engine"`
	Words  string `json:"words"`
}

// peer is the other machine.
type peer struct {
	http   *http.Client
	base   string
	cookie string // what it knows this machine by, "" where it doesn't yet
}

// cookieName is the cookie that a device of a Braxel is known by.
const cookieName = "braxel"

// ErrPasscode is why two machines that were never paired can't exchange: the passcode is typed once.
var ErrPasscode = say.Error("inout.other-machine-doesnt-know-one")

// Sync exchanges with the machine at address the entries and photos that each lacks of the other's. Broken off, it has done what it
// has done; begun again, it goes on. Both then hold the same book, whoever began. The passcode is asked for once: from then on the
// two are paired.
func Sync(ctx context.Context, s *store.Store, address, passcode string) (Synced, error) {
	done := Synced{Engines: []string{}, Clashes: []Clash{}, Missing: []string{}}
	base, err := Address(address)
	if err != nil {
		return done, err
	}
	p := dial(base, s.PairedWith(base))
	if err := p.enter(ctx, passcode, func(token string) error { return s.Pair(base, token) }); err != nil {
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

// Address returns an address as it is asked at, or why it is none.
func Address(address string) (string, error) {
	address = strings.TrimSpace(address)
	if !strings.Contains(address, "://") {
		address = "http://" + address
	}
	u, err := url.Parse(address)
	if err != nil || u.Host == "" || u.Scheme != "http" && u.Scheme != "https" || u.User != nil {
		return "", say.Error("inout.not-address-other-machine-shows", "address", address)
	}
	return u.Scheme + "://" + strings.ToLower(u.Host), nil
}

// dial makes what asks one address and no other: no redirect is followed, wherever it leads, and no proxy is asked.
func dial(base, cookie string) *peer {
	const patience, connects = 20 * time.Second, 5 * time.Second
	return &peer{&http.Client{
		Timeout:       patience,
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
		Transport: &http.Transport{
			DialContext:            (&net.Dialer{Timeout: connects}).DialContext,
			ResponseHeaderTimeout:  patience,
			MaxResponseHeaderBytes: 64 << 10,
			DisableCompression:     true,
			MaxConnsPerHost:        2,
			IdleConnTimeout:        patience,
		},
	}, base, cookie}
}

// enter knocks: with what the other machine knows this one by or, the first time, with the passcode.
func (p *peer) enter(ctx context.Context, passcode string, pair func(token string) error) error {
	var page struct {
		In bool `json:"in"`
	}
	if err := p.get(ctx, doorPath, &page); err != nil {
		return err
	}
	if page.In {
		return nil
	}
	if passcode == "" {
		return ErrPasscode
	}
	name, err := os.Hostname()
	if err != nil || name == "" {
		name = say.Text("inout.another-machine")
	}
	text, err := json.Marshal(map[string]string{"passcode": passcode, "name": fmt.Sprintf("%.60s", name)})
	if err != nil {
		return err
	}
	got, _, err := p.ask(ctx, http.MethodPost, doorPath, kindJSON, text, mostWord)
	if err != nil {
		return err
	}
	for _, c := range got.Cookies() {
		if c.Name == cookieName {
			p.cookie = c.Value
		}
	}
	if p.cookie == "" {
		return say.Error("inout.other-machine-didnt-say-what")
	}
	return pair(p.cookie)
}

const kindJSON = "application/json"

// How much an answer may have: a word, entries by the hundred or digests by the ten thousand, a picture.
const (
	mostWord    = 64 << 10
	mostAnswer  = 64 << 20
	mostPicture = photo.Most
)

func (p *peer) get(ctx context.Context, path string, into any) error {
	return p.exchangeJSON(ctx, http.MethodGet, path, nil, into)
}

func (p *peer) post(ctx context.Context, path string, body, into any) error {
	text, err := json.Marshal(body)
	if err != nil {
		return err
	}
	return p.exchangeJSON(ctx, http.MethodPost, path, text, into)
}

func (p *peer) exchangeJSON(ctx context.Context, method, path string, body []byte, into any) error {
	got, text, err := p.ask(ctx, method, path, kindJSON, body, mostAnswer)
	if err != nil {
		return err
	}
	if kind, _, _ := mime.ParseMediaType(got.Header.Get("Content-Type")); kind != kindJSON {
		return say.Error("inout.what-answers-at-not-braxel", "base", p.base)
	}
	return json.Unmarshal(text, into)
}

// ask asks the other machine, and reads what it answers: so much and no more, and nothing but success.
func (p *peer) ask(ctx context.Context, method, path, kind string, body []byte, most int64) (*http.Response, []byte, error) {
	r, err := http.NewRequestWithContext(ctx, method, p.base+path, bytes.NewReader(body))
	if err != nil {
		return nil, nil, err
	}
	if len(body) > 0 {
		r.Header.Set("Content-Type", kind)
	}
	if p.cookie != "" {
		r.AddCookie(&http.Cookie{Name: cookieName, Value: p.cookie})
	}
	got, err := p.http.Do(r)
	if err != nil {
		return nil, nil, plainly(p.base, err)
	}
	defer func() { _ = got.Body.Close() }()
	text, err := io.ReadAll(io.LimitReader(got.Body, most+1))
	switch {
	case err != nil:
		return nil, nil, plainly(p.base, err)
	case int64(len(text)) > most:
		return nil, nil, say.Error("inout.answers-with-more-than-braxel", "base", p.base)
	case got.StatusCode >= http.StatusMultipleChoices && got.StatusCode < http.StatusBadRequest:
		return nil, nil, say.Error("inout.redirects-another-address-which-braxel", "base", p.base)
	case got.StatusCode >= http.StatusBadRequest:
		var said struct {
			Detail string `json:"detail"`
		}
		if json.Unmarshal(text, &said) != nil || said.Detail == "" {
			said.Detail = got.Status
		}
		return nil, nil, say.Error("inout.other-machine-says", "detail", said.Detail)
	}
	return got, text, nil
}

// plainly says why a machine can't be reached.
func plainly(base string, err error) error {
	switch {
	case errors.Is(err, context.Canceled), errors.Is(err, context.DeadlineExceeded):
		return say.Error("inout.took-too-long-answer", "base", base, "err", err)
	case errors.Is(err, syscall.ECONNREFUSED):
		return say.Error("inout.nothing-answers-at-braxel-running", "base", base)
	}
	return say.Error("inout.cant-reached-both-machines-same", "base", base, "err", err)
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
		added, engines, refused, err := s.Union(ctx, entries)
		done.Got += added
		done.Missing = append(done.Missing, refused...)
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
		done.Missing = append(done.Missing, taken.Refused...)
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
		_, picture, err := p.ask(ctx, http.MethodGet, picturePath+id, "", nil, mostPicture)
		if err != nil {
			return err
		}
		if err := photo.Check(picture); err != nil {
			done.Missing = append(done.Missing, id+": "+plain.Words(err))
			continue
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
		if err := give(ctx, p, id, picture); err != nil {
			if ctx.Err() != nil {
				return err
			}
			done.Missing = append(done.Missing, id+": "+plain.Words(err))
			continue
		}
		done.Pictures++
	}
	return nil
}

func give(ctx context.Context, p *peer, id string, picture []byte) error {
	_, _, err := p.ask(ctx, http.MethodPut, putPicture+id, "image/jpeg", picture, mostWord)
	return err
}
