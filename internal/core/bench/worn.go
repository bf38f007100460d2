package bench

import (
	"math"
	"math/rand/v2"
)

// Life is an engine of the bench over its seasons: what it is built as, how fast its rings wear, and what goes wrong on the way. Its law of
// wear isn't the one that chances are told by: rings wear off their bedding first, then evenly, and the gas that passes them feeds the
// rest.
type Life struct {
	Spec
	BedsIn float64 // running until two thirds of the bedding is done
	Raw    float64 // points that fresh rings leak more
	Wears  float64 // points of leak in a hundred units of running, all cylinders alike
	Feeds  float64 // running after which what passes has doubled the pace
	Goes   []Going
}

// Going is a fault that begins on the way and grows.
type Going struct {
	Fault           // Size is what it has come to after Takes
	Begins  float64 // running
	Takes   float64 // until it has grown to its size; 0: at once
	Doubles bool    // it doubles again and again, and does not grow evenly
}

// Worn returns the engine as it stands after running: with what its rings have lost, and with the faults as far as they have come.
func (l Life) Worn(running float64) Spec {
	s := l.Spec
	even := l.Wears / 100 * running
	if l.Feeds > 0 {
		even = l.Wears / 100 * l.Feeds * math.Expm1(running/l.Feeds)
	}
	if l.BedsIn > 0 {
		even += l.Raw * math.Exp(-running/l.BedsIn)
	}
	s.Faults = append([]Fault{}, s.Faults...)
	if even > 0 {
		s.Faults = append(s.Faults, Fault{Kind: EvenWear, Size: even})
	}
	for _, g := range l.Goes {
		if size := g.at(running); size > 0 {
			f := g.Fault
			f.Size = size
			s.Faults = append(s.Faults, f)
		}
	}
	return s
}

// doublings is how often a fault that doubles has done so when it has come to its size: it is seen from a sixteenth of it.
const doublings = 4

// at returns what a fault has come to after running.
func (g Going) at(running float64) float64 {
	switch past := running - g.Begins; {
	case past < 0:
		return 0
	case g.Takes == 0:
		return g.Size
	case g.Doubles:
		return g.Size * math.Exp2(doublings*(past/g.Takes-1))
	default:
		return g.Size * past / g.Takes
	}
}

// RandomLife draws how an engine wears over a life of about so much running.
func RandomLife(s Spec, lasts float64, draw *rand.Rand) Life {
	l := Life{
		Spec: s, BedsIn: lasts / 100, Raw: 2 * draw.Float64(), Wears: 100 * (3 + 5*draw.Float64()) / lasts,
		Feeds: lasts * (0.7 + draw.Float64()),
	}
	cylinders := s.Engine.Cylinders()
	if draw.Float64() < 0.5 {
		kinds := []string{RingsBore, Piston, IntakeValve, ExhaustValve, GasketWater}
		l.Goes = append(l.Goes, Going{
			Fault:  Fault{Kind: kinds[draw.IntN(len(kinds))], Cylinder: cylinders[draw.IntN(len(cylinders))], Size: 6 + 20*draw.Float64()},
			Begins: lasts * draw.Float64(), Takes: lasts * 0.3 * draw.Float64(), Doubles: draw.IntN(2) == 0,
		})
	}
	return l
}
