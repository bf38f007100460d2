package papers

import (
	"math"

	"braxel/internal/core/layout"
	"braxel/internal/core/say"
)

// label is a label for the engine itself: its name, its numbers, and a code that opens its page on the shop's network.
func (m *maker) label() ([]byte, error) {
	if m.Address == "" {
		return nil, say.Error("papers.label-needs-address")
	}
	size := Sizes[m.Size]
	p := newPage(size[0], size[1], "")
	const edge, gap = 2.0, 3.0
	side := math.Min(size[1]-2*edge, size[0]*0.45)
	if err := p.code(m.Address, edge, (size[1]-side)/2, side); err != nil {
		return nil, err
	}
	e := m.Log.Engine
	x := edge + side + gap
	w, h := size[0]-x-edge, size[1]-2*edge
	lines := []string{layout.Describe(e, m.Rules.Shown)}
	if !m.Shows.NoNumbers {
		for _, n := range e.Identity.Numbers() {
			lines = append(lines, say.Text("papers.number-"+n[0], "number", n[1]))
		}
	}
	if m.Shop != "" {
		lines = append(lines, m.Shop)
	}
	const most = 6
	lines = lines[:min(len(lines), most)]
	p.write(x, edge+h*0.2, heavy, p.fit(heavy, h*0.2*points, w, e.Name), e.Name)
	step := h * 0.75 / most
	for i, line := range lines {
		p.write(x, edge+h*0.2+float64(i+1)*step, words, p.fit(words, math.Min(10, step*0.85*points), w, line), line)
	}
	return p.bytes()
}
