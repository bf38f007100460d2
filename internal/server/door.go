package server

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"math/big"
	"net"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"
	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/crypto/bcrypt"
	"golang.org/x/time/rate"

	"braxel/internal/store"
)

// Door lets devices of the shop's network in by a passcode, and knows those that it let in. This machine itself is always in.
type Door struct {
	store *store.Store
	now   func() time.Time

	mu       sync.Mutex
	byToken  map[[sha256.Size]byte]*store.Device
	passcode string // as it was drawn, while this process lives; only its hash is kept
	tries    *lru.Cache[string, *rate.Limiter]
	all      *rate.Limiter
}

// digitsOfPasscode are few enough to be typed with one thumb; at the rate that tries are let through, all of them take years.
const digitsOfPasscode = 8

// Tries of the passcode: five at once from an address and then one every twelve seconds; of all addresses together twenty, and one
// every two seconds.
const (
	triesAtOnce = 5
	triesEvery  = 12 * time.Second
	allAtOnce   = 20
	allEvery    = 2 * time.Second
	addresses   = 1000 // whose tries are remembered
)

// NewDoor opens the door of a store. Where no passcode was ever set, or a fresh one is asked for, one is drawn.
func NewDoor(ctx context.Context, s *store.Store, now func() time.Time, fresh bool) (*Door, error) {
	tries, err := lru.New[string, *rate.Limiter](addresses)
	if err != nil {
		return nil, err
	}
	d := &Door{
		store: s, now: now, byToken: map[[sha256.Size]byte]*store.Device{}, tries: tries,
		all: rate.NewLimiter(rate.Every(allEvery), allAtOnce),
	}
	devices, err := s.Devices(ctx)
	if err != nil {
		return nil, err
	}
	for _, one := range devices {
		d.byToken[[sha256.Size]byte(one.Token)] = &one
	}
	hash, err := s.Passcode(ctx)
	if err == nil && (hash == nil || fresh) {
		err = d.Renew(ctx)
	}
	return d, err
}

// Renew draws a new passcode. Devices that are in stay in.
func (d *Door) Renew(ctx context.Context) error {
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
	if err := d.store.SetPasscode(ctx, hash, d.now()); err != nil {
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
	errWrongPasscode = errors.New("that is not the passcode: it is shown on the machine that runs Braxel, under Devices")
	errTooManyTries  = errors.New("too many tries: wait a minute, then try again")
)

// letIn lets a device in that knows the passcode, and returns what its cookie is to hold. One that comes back with the cookie that it
// had is the same device.
func (d *Door) letIn(ctx context.Context, from, passcode, name, had string) (token string, err error) {
	if err := d.try(ctx, from, passcode); err != nil {
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
	if err := d.store.KeepDevice(ctx, one); err != nil {
		return "", err
	}
	delete(d.byToken, before)
	d.byToken[sum] = &one
	return token, nil
}

// Hears says whether a gauge that calls from an address with a passcode is heard: this machine's own is always.
func (d *Door) Hears(ctx context.Context, from, passcode string) error {
	if d == nil || net.ParseIP(from).IsLoopback() {
		return nil
	}
	return d.try(ctx, from, passcode)
}

// try tries a passcode from an address.
func (d *Door) try(ctx context.Context, from, passcode string) error {
	if !d.mayTry(from) {
		return errTooManyTries
	}
	hash, err := d.store.Passcode(ctx)
	if err != nil {
		return err
	}
	if bcrypt.CompareHashAndPassword(hash, []byte(onlyDigits(passcode))) != nil {
		return errWrongPasscode
	}
	return nil
}

// mayTry counts a try from an address.
func (d *Door) mayTry(from string) bool {
	d.mu.Lock()
	defer d.mu.Unlock()
	one, there := d.tries.Get(from)
	if !there {
		one = rate.NewLimiter(rate.Every(triesEvery), triesAtOnce)
		d.tries.Add(from, one)
	}
	return one.AllowN(d.now(), 1) && d.all.AllowN(d.now(), 1)
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
func (d *Door) device(ctx context.Context, token string) (store.Device, bool) {
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
		_ = d.store.KeepDevice(ctx, *one) // when it was here last is worth no refusal
	}
	return *one, true
}

// change changes a device by its id. It is false where there is none.
func (d *Door) change(ctx context.Context, id string, change func(*store.Device)) (bool, error) {
	d.mu.Lock()
	defer d.mu.Unlock()
	for _, one := range d.byToken {
		if one.ID == id {
			next := *one
			change(&next)
			if err := d.store.KeepDevice(ctx, next); err != nil {
				return true, err
			}
			*one = next
			return true, nil
		}
	}
	return false, nil
}

// cookie is the name of the cookie that a device is known by, and cookieFor how long it keeps it.
const (
	cookie    = "braxel"
	cookieFor = 400 * 24 * time.Hour
)

// who is asking, as the gate found out.
type who struct {
	local  bool
	from   string // its address
	device store.Device
}

type whoKey struct{}

func whoOf(ctx context.Context) who {
	w, _ := ctx.Value(whoKey{}).(who)
	return w
}

// gate asks devices that are not in for the passcode, before the API answers. The pages themselves, which hold nothing of the shop,
// are for everyone: they show where to type it.
func (d *Door) gate(x fiber.Ctx) error {
	w := who{local: d == nil || isLocal(x), from: strings.Clone(x.IP())}
	in := w.local
	if !in {
		w.device, in = d.device(x.Context(), x.Cookies(cookie))
	}
	x.SetContext(context.WithValue(x.Context(), whoKey{}, w))
	if in || !isAPI(x.Path()) || strings.TrimPrefix(x.Path(), "/practice") == doorPath {
		return x.Next()
	}
	return fiber.NewError(http.StatusUnauthorized, "this device is not let in: type the passcode of the shop")
}

// isLocal reports whether a request comes from this machine itself, and not by way of a proxy on it.
func isLocal(x fiber.Ctx) bool {
	name := x.Host()
	if h, _, err := net.SplitHostPort(name); err == nil {
		name = h
	}
	name = strings.Trim(name, "[]")
	named := name == "localhost" || net.ParseIP(name).IsLoopback()
	forwarded := x.Get("X-Forwarded-For") != "" || x.Get("Forwarded") != "" || x.Get("Via") != ""
	return named && !forwarded && net.ParseIP(x.IP()).IsLoopback()
}
