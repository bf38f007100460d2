package sheet

import (
	"cmp"

	"braxel/internal/core/log"
	"braxel/internal/core/say"
)

// Other are the readings of a test that stand with another tester than the one that its head names.
type Other struct {
	Tester   string   `json:"tester,omitzero"`
	Name     string   `json:"name"`
	To       string   `json:"to" doc:"The tester named for the test"`
	ToName   string   `json:"to_name"`
	Readings []string `json:"readings" doc:"The keys of those readings"`
}

// others returns them, tester by tester. A gauge is meant for the pulls, a leak-down tester for the leak-downs; where the head names
// none, nothing is other.
func others(l log.Log, s log.Session) []Other {
	all := []Other{}
	add := func(tester, head, key string) {
		if head == "" || tester == head || key == "" {
			return
		}
		for i := range all {
			if all[i].Tester == tester && all[i].To == head {
				all[i].Readings = append(all[i].Readings, key)
				return
			}
		}
		all = append(all, Other{tester, called(l, tester), head, called(l, head), []string{key}})
	}
	for _, row := range s.Compression {
		for _, p := range row.Pulls {
			add(row.Tester, s.Gauge, p.Key)
		}
	}
	for _, row := range s.Leakdown {
		add(row.Tester, s.Kit, row.Key)
	}
	return all
}

func called(l log.Log, tester string) string {
	t, _ := l.Tester(tester)
	return cmp.Or(t.Name, tester, say.Text("sheet.no-gauge-noted"))
}
