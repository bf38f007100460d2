package server

import (
	"context"
	"crypto/rand"
	"errors"
	"net"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"rsc.io/qr"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
	"braxel/internal/plain"
	"braxel/internal/store"
)

const doorPath = "/api/door"

// DoorPage says whether whoever asks is in, and to this machine how others come in.
type DoorPage struct {
	In       bool     `json:"in"`
	Local    bool     `json:"local" doc:"It is the machine Braxel runs on"`
	Open     bool     `json:"open" doc:"Braxel answers to other devices"`
	Name     string   `json:"name,omitzero" doc:"What this device is called"`
	Secure   bool     `json:"secure" doc:"It answers by https"`
	Passcode string   `json:"passcode,omitzero" doc:"The passcode, while known; shown on this machine only"`
	Ways     []Way    `json:"ways"`
	Devices  []Device `json:"devices"`
}

// Way is an address by which other devices reach Braxel, with its QR code as dark squares on a grid.
type Way struct {
	Address string `json:"address"`
	Size    int    `json:"size"`
	Dark    string `json:"dark" doc:"The dark squares, as a path of SVG"`
}

// Device is one that was let in.
type Device struct {
	ID    string    `json:"id"`
	Name  string    `json:"name"`
	Since time.Time `json:"since"`
	Seen  time.Time `json:"seen"`
	Shut  bool      `json:"shut" doc:"It was shut out"`
	This  bool      `json:"this" doc:"It is the device asking"`
}

func (h *handlers) doorRoutes(api huma.API) {
	open := map[string]any{openKey: true}
	huma.Register(api, huma.Operation{OperationID: "door", Method: http.MethodGet, Path: doorPath, Metadata: open}, h.doorPage)
	huma.Register(api, huma.Operation{
		OperationID: "enter", Method: http.MethodPost, Path: doorPath, DefaultStatus: http.StatusNoContent, Metadata: open,
	}, h.enter)
}

func (h *handlers) deviceRoutes(api huma.API) {
	post := func(id, path string) huma.Operation {
		return huma.Operation{OperationID: id, Method: http.MethodPost, Path: path, DefaultStatus: http.StatusNoContent}
	}
	huma.Register(api, post("renew-passcode", "/api/passcode"), h.renew)
	huma.Register(api, post("change-device", "/api/devices/{device}"), h.changeDevice)
}

func (h *handlers) doorPage(ctx context.Context, _ *struct{}) (*answer[DoorPage], error) {
	w := whoOf(ctx)
	page := DoorPage{
		In: w.local || w.device.ID != "", Local: w.local, Open: h.door != nil, Name: w.device.Name, Secure: h.secure,
		Ways: []Way{}, Devices: []Device{},
	}
	if h.door == nil || !page.In {
		return &answer[DoorPage]{page}, nil
	}
	for _, d := range h.store.Devices() {
		page.Devices = append(page.Devices, Device{d.ID, d.Name, d.Since, d.Seen, d.Shut, d.ID == w.device.ID})
	}
	if w.local {
		page.Passcode = h.door.Passcode()
		for _, address := range h.ways() {
			way, err := wayTo(address, page.Passcode)
			if err != nil {
				return nil, err
			}
			page.Ways = append(page.Ways, way)
		}
	}
	return &answer[DoorPage]{page}, nil
}

// entered is the answer that lets a device in: the cookie that it is known by from now on.
type entered struct {
	SetCookie http.Cookie `header:"Set-Cookie"`
}

func (h *handlers) enter(ctx context.Context, in *struct {
	Had  string `cookie:"braxel"`
	Body struct {
		Passcode string `json:"passcode" maxLength:"40"`
		Name     string `json:"name" minLength:"1" maxLength:"60" doc:"The device's name on the list"`
	}
}) (*entered, error) {
	if h.door == nil {
		return nil, huma.Error404NotFound(say.Text("server.braxel-only-answers-machine"))
	}
	name := strings.TrimSpace(in.Body.Name)
	if name == "" {
		return nil, refuse(log.Faults{log.At("/name", "server.give-device-name")})
	}
	token, err := h.door.letIn(whoOf(ctx).from, in.Body.Passcode, name, in.Had)
	switch {
	case errors.Is(err, errWrongPasscode):
		return nil, huma.Error403Forbidden(plain.Words(err))
	case errors.Is(err, errTooManyTries):
		return nil, huma.Error429TooManyRequests(plain.Words(err))
	case err != nil:
		return nil, err
	}
	return &entered{http.Cookie{
		Name: cookie, Value: token, Path: "/", MaxAge: int(cookieFor.Seconds()),
		HttpOnly: true, Secure: h.secure, SameSite: http.SameSiteStrictMode,
	}}, nil
}

func (h *handlers) renew(ctx context.Context, _ *struct{}) (*struct{}, error) {
	if h.door == nil || !whoOf(ctx).local {
		return nil, huma.Error403Forbidden(say.Text("server.new-passcode-made-machine-runs"))
	}
	return nil, h.door.Renew()
}

func (h *handlers) changeDevice(_ context.Context, in *struct {
	Device string `path:"device" maxLength:"40"`
	Body   struct {
		Name *string `json:"name,omitempty" minLength:"1" maxLength:"60"`
		Shut *bool   `json:"shut,omitempty" enum:"true" doc:"Shut it out; it can connect again only with the passcode"`
	}
}) (*struct{}, error) {
	if h.door == nil {
		return nil, huma.Error404NotFound(say.Text("server.no-device-connected"))
	}
	there, err := h.door.change(in.Device, func(d *store.Device) {
		if in.Body.Name != nil && strings.TrimSpace(*in.Body.Name) != "" {
			d.Name = strings.TrimSpace(*in.Body.Name)
		}
		d.Shut = d.Shut || in.Body.Shut != nil
	})
	if !there {
		return nil, huma.Error404NotFound(say.Text("server.there-no-such-device"))
	}
	if in.Body.Shut != nil && err == nil && h.store.CalendarKey() != "" {
		// It may have written down the calendar's address, which asks for no cookie.
		err = h.store.SetCalendarKey(rand.Text())
	}
	return nil, err
}

// wayTo returns an address with its code. The passcode goes along behind the #, which no browser sends and no log keeps.
func wayTo(address, passcode string) (Way, error) {
	code, err := QR(address, passcode)
	if err != nil {
		return Way{}, err
	}
	var dark strings.Builder
	for y := range code.Size {
		for x := range code.Size {
			if code.Black(x, y) {
				dark.WriteString("M" + strconv.Itoa(x) + " " + strconv.Itoa(y) + "h1v1h-1z")
			}
		}
	}
	return Way{address, code.Size, dark.String()}, nil
}

// QR returns the code that leads a phone to an address, and in.
func QR(address, passcode string) (*qr.Code, error) {
	if passcode != "" {
		address += "/#passcode=" + passcode
	}
	return qr.Encode(address, qr.M)
}

// Ways returns the addresses of this machine on the networks that it is in: those of the shop's network before others.
func Ways(scheme, port string) []string {
	all, err := net.InterfaceAddrs()
	if err != nil {
		return nil
	}
	var private, others []string
	for _, a := range all {
		ip, ok := a.(*net.IPNet)
		if !ok || ip.IP.IsLoopback() || ip.IP.IsLinkLocalUnicast() || ip.IP.To4() == nil {
			continue
		}
		address := scheme + "://" + net.JoinHostPort(ip.IP.String(), port)
		if ip.IP.IsPrivate() {
			private = append(private, address)
		} else {
			others = append(others, address)
		}
	}
	return slices.Concat(private, others)
}
