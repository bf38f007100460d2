package e2e

import (
	"os"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/proto"
)

func TestZZShot(t *testing.T) {
	if os.Getenv("SHOT") == "" {
		t.Skip()
	}
	s := demo(t)
	for _, one := range strings.Split(os.Getenv("SHOT"), ";") {
		f := strings.Fields(one)
		w, h := 1280, 800
		if strings.HasSuffix(f[0], "-p") {
			w, h = 390, 844
		}
		page := s.open(t, f[1], w, h)
		if strings.Contains(f[0], "dark") {
			_ = proto.EmulationSetEmulatedMedia{Features: []*proto.EmulationMediaFeature{{Name: "prefers-color-scheme", Value: "dark"}}}.Call(page)
		}
		time.Sleep(1800 * time.Millisecond)
		if len(f) > 2 && f[2] != "-" {
			click(t, page, "button, a, summary", strings.ReplaceAll(f[2], "_", " "))
			time.Sleep(1200 * time.Millisecond)
		}
		if len(f) > 3 { page.MustEval(`(s) => document.querySelector(s).scrollIntoView()`, f[3]); time.Sleep(400*time.Millisecond) }
		data, _ := page.Screenshot(false, &proto.PageCaptureScreenshot{})
		_ = os.WriteFile("/tmp/look/"+f[0]+".png", data, 0o644)
	}
}
