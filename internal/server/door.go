package server

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
	"math/big"
	"net"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"
	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/crypto/bcrypt"
	"golang.org/x/time/rate"

	"braxel/internal/core/say"
	"braxel/internal/gauges"
	"braxel/internal/store"
)

// Door lets devices of the shop's network in by a passcode, and knows those that it let in. This machine itself is always in.
type Door struct {
	store *store.Store
	now   func() time.Time
	proxy bool // a proxy on this machine passes requests on

	weighing sync.Mutex
	mu       sync.Mutex
	byToken  map[[sha256.Size]byte]*store.Device
	out      map[string]chan struct{} // of each device by its id, closed when it is shut out
	passcode string                   // as it was drawn, while this process lives; only its hash is kept
	tries    *lru.Cache[string, *tried]
	others   *rate.Limiter
}

// digitsOfPasscode are few enough to be typed with one thumb; at the rate that tries are let through, all of them take years.
const digitsOfPasscode = 8

// Wrong tries of the passcode: five at once from an address and then one every twelve seconds. An address that has used up its five shares
// one try every two seconds with all others that have: so a hundred machines that guess don't go a hundred times as fast, and a phone that
// types the passcode for the first time is never held up by them.
const (
	triesAtOnce = 5
	triesEvery  = 12 * time.Second
	othersEvery = 2 * time.Second
	addresses   = 10000 // whose tries are remembered
)

// NewDoor opens the door of a store. Where no passcode was ever set, or a fresh one is asked for, one is drawn.
func NewDoor(s *store.Store, now func() time.Time, fresh bool) (*Door, error) {
	tries, err := lru.New[string, *tried](addresses)
	if err != nil {
		return nil, err
	}
	d := &Door{
		store: s, now: now, byToken: map[[sha256.Size]byte]*store.Device{}, out: map[string]chan struct{}{}, tries: tries,
		others: rate.NewLimiter(rate.Every(othersEvery), triesAtOnce),
	}
	for _, one := range s.Devices() {
		d.byToken[[sha256.Size]byte(one.Token)] = &one
	}
	if s.Passcode() == nil || fresh {
		err = d.Renew()
	}
	return d, err
}

// Renew draws a new passcode. Devices that are in stay in.
func (d *Door) Renew() error {
	most := new(big.Int).Exp(big.NewInt(10), big.NewInt(digitsOfPasscode), nil)
	n, err := rand.Int(rand.Reader, most)
	if err != nil {
		return err
	}
	passcode := fmt.Sprintf("%0*d", digitsOfPasscode, n)
	hash, err := bcrypt.GenerateFromPassword([]byte(passcode), bcrypt.DefaultCost)
	if err != nil {
		return err
	}
	if err := d.store.SetPasscode(hash); err != nil {
		return err
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	d.passcode = passcode
	return nil
}

// Passcode returns the passcode if it was drawn since this process began, else "": then only its hash is known.
func (d *Door) Passcode() string {
	d.mu.Lock()
	defer d.mu.Unlock()
	return d.passcode
}

// What a try of the passcode comes to, beside being let in.
var (
	errWrongPasscode = say.Error("server.wrong-passcode-shown-under-devices")
	errTooManyTries  = say.Error("server.too-many-tries-wait-minute")
)

// letIn lets a device in that knows the passcode, and returns what its cookie is to hold. One that comes back with the cookie that it
// had is the same device.
func (d *Door) letIn(from, passcode, name, had string) (token string, err error) {
	if err := d.try(from, passcode); err != nil {
		return "", err
	}
	secret := make([]byte, 32)
	if _, err := rand.Read(secret); err != nil {
		return "", err
	}
	token = base64.RawURLEncoding.EncodeToString(secret)
	sum := sha256.Sum256([]byte(token))
	d.mu.Lock()
	defer d.mu.Unlock()
	now := d.now()
	one := store.Device{ID: rand.Text()[:12], Name: name, Since: now}
	before := sha256.Sum256([]byte(had))
	if have := d.byToken[before]; have != nil && had != "" {
		one.ID, one.Since = have.ID, have.Since
	}
	one.Token, one.Seen = sum[:], now
	if err := d.store.KeepDevice(one); err != nil {
		return "", err
	}
	delete(d.byToken, before)
	d.byToken[sum] = &one
	return token, nil
}

// try tries a passcode from an address. A right one costs nothing.
func (d *Door) try(from, passcode string) error {
	if !d.mayTry(from) {
		return errTooManyTries
	}
	d.weighing.Lock() // it costs a core a tenth of a second: one at a time
	defer d.weighing.Unlock()
	if bcrypt.CompareHashAndPassword(d.store.Passcode(), []byte(onlyDigits(passcode))) != nil {
		return errWrongPasscode
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	d.tries.Remove(from)
	return nil
}

// mayTry counts a try from an address.
func (d *Door) mayTry(from string) bool {
	d.mu.Lock()
	defer d.mu.Unlock()
	from, now := network(from), d.now()
	one, there := d.tries.Get(from)
	if !there {
		one = &tried{limit: rate.NewLimiter(rate.Every(triesEvery), triesAtOnce)}
		d.tries.Add(from, one)
	}
	if !one.limit.AllowN(now, 1) {
		return false
	}
	one.n++
	return one.n <= triesAtOnce || d.others.AllowN(now, 1)
}

// tried is what an address has tried.
type tried struct {
	limit *rate.Limiter
	n     int
}

// Hears says whether a gauge that calls from an address is let in. This machine's own may leave the passcode out: it is then let in on
// the screen.
func (d *Door) Hears(from, passcode string) error {
	if passcode == "" && (d == nil || net.ParseIP(from).IsLoopback()) {
		return gauges.ErrAsk
	}
	if d == nil {
		return errNoPasscode
	}
	return d.try(from, passcode)
}

var errNoPasscode = say.Error("server.braxel-has-no-passcode-leave")

// network is what an address counts as: of IPv6, where a machine has as many addresses as it likes, its network.
func network(from string) string {
	ip := net.ParseIP(from)
	if ip == nil || ip.To4() != nil {
		return from
	}
	return ip.Mask(net.CIDRMask(64, 128)).String()
}

func onlyDigits(text string) string {
	return strings.Map(func(r rune) rune {
		if r < '0' || r > '9' {
			return -1
		}
		return r
	}, text)
}

// seenEvery is how often it is written down that a device was here.
const seenEvery = 5 * time.Minute

// device returns the device whose cookie that is, if it is in.
func (d *Door) device(token string) (store.Device, bool) {
	if token == "" {
		return store.Device{}, false
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	one := d.byToken[sha256.Sum256([]byte(token))]
	if one == nil || one.Shut {
		return store.Device{}, false
	}
	if now := d.now(); now.Sub(one.Seen) > seenEvery {
		one.Seen = now
		_ = d.store.KeepDevice(*one) // when it was here last is worth no refusal
	}
	return *one, true
}

// change changes a device by its id. It is false where there is none.
func (d *Door) change(id string, change func(*store.Device)) (bool, error) {
	d.mu.Lock()
	defer d.mu.Unlock()
	for _, one := range d.byToken {
		if one.ID == id {
			next := *one
			change(&next)
			if err := d.store.KeepDevice(next); err != nil {
				return true, err
			}
			*one = next
			if out := d.out[id]; next.Shut && out != nil {
				close(out)
				delete(d.out, id)
			}
			return true, nil
		}
	}
	return false, nil
}

// Out returns what is closed when a device is shut out, for whatever it has under way; nil, which never is, for this machine itself.
func (d *Door) Out(id string) <-chan struct{} {
	if d == nil || id == "" {
		return nil
	}
	d.mu.Lock()
	defer d.mu.Unlock()
	if d.out[id] == nil {
		d.out[id] = make(chan struct{})
	}
	return d.out[id]
}

// cookie is the name of the cookie that a device is known by, and cookieFor how long it keeps it.
const (
	cookie    = "braxel"
	cookieFor = 400 * 24 * time.Hour
)

// who is asking, as the gate found out.
type who struct {
	in     bool // behind the door
	local  bool
	from   string // its address
	device store.Device
}

type whoKey struct{}

func whoOf(ctx context.Context) who {
	w, _ := ctx.Value(whoKey{}).(who)
	return w
}

// tell finds out who is asking. What it may do, each route says.
func (d *Door) tell(x fiber.Ctx) error {
	w := who{local: d.isLocal(x), from: strings.Clone(x.IP())}
	w.in = w.local
	if !w.in {
		w.device, w.in = d.device(x.Cookies(cookie))
	}
	x.SetContext(context.WithValue(x.Context(), whoKey{}, w))
	return x.Next()
}

// NobodyLocal has every request ask for the passcode: behind a proxy, all of them come from this machine.
func (d *Door) NobodyLocal() { d.proxy = true }

// isLocal reports whether a request comes from this machine itself, and not by way of a proxy on it. A proxy that hides itself can't be
// told from a browser here: for that one, there is --proxy.
func (d *Door) isLocal(x fiber.Ctx) bool {
	if d == nil {
		return true
	}
	name := x.Host()
	if h, _, err := net.SplitHostPort(name); err == nil {
		name = h
	}
	name = strings.Trim(name, "[]")
	named := name == "localhost" || net.ParseIP(name).IsLoopback()
	return !d.proxy && named && !passedOn(x) && net.ParseIP(x.IP()).IsLoopback()
}

// passedOn reports what proxies leave on a request: a header of theirs, or a protocol that no browser has spoken for decades.
func passedOn(x fiber.Ctx) bool {
	for name := range x.Request().Header.All() {
		low := strings.ToLower(string(name))
		if strings.HasPrefix(low, "x-forwarded") || strings.HasPrefix(low, "x-real") ||
			slices.Contains([]string{"forwarded", "via", "x-client-ip", "x-cluster-client-ip", "true-client-ip", "cf-connecting-ip"}, low) {
			return true
		}
	}
	return string(x.Request().Header.Protocol()) == "HTTP/1.0"
}
