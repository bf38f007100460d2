package belief

import (
	"math"
	"slices"
	"sync"
)

// Kind is what may have gone wrong with the testing of a visit.
type Kind string

// What moves the readings of a visit, beside what moves all of them alike.
const (
	Alike Kind = "alike" // all alike: battery, gauge, heat, height
	Sag   Kind = "sag"   // ever lower, in the order of reading: the battery
	Step  Kind = "step"  // from one reading on: throttle, charger
	Bank  Kind = "bank"  // one bank against the other: a cam
)

// Hypothesis is one of them with its weight: the chance that it is how this visit was. From is the index into Visit.Order from
// which a step counts. Size is how far it moves the last reading against the first, or the banks against each other; Power is
// how the sag goes with the order. Common is how far all moved, both logarithms.
type Hypothesis struct {
	Kind   Kind
	From   int
	Size   float64
	Power  float64
	Weight float64
	Common float64

	shape []float64 // by cylinder
	prior float64   // its logarithm
	low   int       // index of the lowest common shift that was tried
	by    []float64 // how well it accounts for the readings, by common shift
	best  float64
}

// The sizes that are tried, logarithms, and how often each kind is met in a shop: a sagging battery in one visit of twenty where
// nobody wrote the volts, a throttle or charger that was noticed half-way through in one of forty.
var (
	sagTotals = [...]float64{0.035, 0.06, 0.09, 0.13, 0.18, 0.25, 0.35}
	sagPowers = [...]float64{0.6, 1, 1.8}
	stepSizes = [...]float64{0.04, 0.07, 0.11, 0.16, 0.22, 0.3, 0.45}
	bankSizes = [...]float64{0.04, 0.07, 0.11, 0.16}
)

const (
	sags, sagsFell, sagsHeld = 0.06, 0.5, 0.006
	steps                    = 0.03
	banks                    = 0.006
	oneSide                  = 0.1 // a step that moves one reading alone is oftener that cylinder's own
)

// hypotheses lists what may have moved the readings of a visit. The list is kept for the next that is read in the same order.
func (e *Believed) hypotheses(v *Visit) []Hypothesis {
	sag := sags
	switch {
	case v.VoltsFell > 0.35:
		sag = sagsFell
	case v.VoltsHeld:
		sag = sagsHeld
	}
	w := e.work
	if !slices.Equal(w.order, v.Order) || !slices.Equal(w.secondBank, v.SecondBank) || w.cylinders != len(e.Cylinders) || w.sag != sag {
		w.order, w.secondBank, w.cylinders, w.sag = slices.Clone(v.Order), slices.Clone(v.SecondBank), len(e.Cylinders), sag
		w.accounts = e.list(v, sag)
	}
	return w.accounts
}

func (e *Believed) list(v *Visit, sag float64) []Hypothesis {
	n := len(v.Order)
	all := []Hypothesis{{Kind: Alike, prior: 1, shape: make([]float64, len(e.Cylinders))}}
	if n < 3 {
		return all
	}
	for _, total := range sagTotals {
		if total > 0.055*float64(n) {
			break
		}
		for _, power := range sagPowers {
			h := Hypothesis{Kind: Sag, Size: -total, Power: power, shape: make([]float64, len(e.Cylinders))}
			h.prior = sag / float64(len(sagTotals)*len(sagPowers))
			for k, c := range v.Order {
				h.shape[c] = -total * math.Pow(float64(k)/float64(n-1), power)
			}
			all = append(all, h)
		}
	}
	for from := 1; from < n; from++ {
		rare := 1.0
		if from == 1 || from == n-1 {
			rare = oneSide
		}
		for _, size := range stepSizes {
			for _, sign := range [...]float64{-1, 1} {
				h := Hypothesis{Kind: Step, From: from, Size: sign * size, shape: make([]float64, len(e.Cylinders))}
				h.prior = rare * steps / float64(2*len(stepSizes)*(n-1))
				for _, c := range v.Order[from:] {
					h.shape[c] = sign * size
				}
				all = append(all, h)
			}
		}
	}
	if len(v.SecondBank) > 1 && n-len(v.SecondBank) > 1 {
		for _, size := range bankSizes {
			for _, sign := range [...]float64{-1, 1} {
				h := Hypothesis{Kind: Bank, Size: sign * size, prior: banks / float64(2*len(bankSizes)), shape: make([]float64, len(e.Cylinders))}
				for _, c := range v.SecondBank {
					h.shape[c] = sign * size
				}
				all = append(all, h)
			}
		}
	}
	return all
}

// The grid of deviations, logarithms: what is lower counts as its lowest.
const (
	devStep = 0.005
	devLow  = -1.8
	devs    = 451
	devZero = 360 // the index of no deviation
	// devSmooth is the index, a seventh lost, below which what is believed of a cylinder is smooth by itself.
	devSmooth = devZero - 30
)

// indexOf returns the index of a deviation, devAt the same kept on the grid.
func indexOf(z float64) int { return devZero + int(math.Floor(z/devStep+0.5)) }

func devAt(z float64) int { return min(max(indexOf(z), 0), devs-1) }

// kernel returns the normal density of sd on the grid, from the middle outwards, to within a hundredth of sd.
func (b *Believed) kernel(sd float64) []float64 {
	const finely = 8000
	key := int(sd*finely + 0.5)
	k := b.work.kernels[key]
	if k == nil {
		sd := float64(max(key, 1)) / finely
		k = make([]float64, int(math.Ceil(4*sd/devStep))+1)
		for i := range k {
			k[i] = density(float64(i)*devStep, sd)
		}
		b.work.kernels[key] = k
	}
	return k
}

// spread adds weight × the kernel around the index at.
func spread(to *[devs]float64, at int, weight float64, k []float64) {
	for d := max(-(len(k) - 1), -at); d < len(k) && at+d < devs; d++ {
		to[at+d] += weight * k[max(d, -d)]
	}
}

// Where nothing that is known accounts for a reading: gains from carbon or oil now and then, the rest hardly ever.
const (
	gains   = 0.01
	gainsTo = 0.12
	never   = 1e-7
)

// oddOf is the density of a reading of so many pulls by nothing but a failed row or a gain, by the index of its deviation.
func oddOf(pulls int) *[devs]float64 { return &odds()[min(pulls, 3)] }

var odds = sync.OnceValue(func() *[4][devs]float64 {
	var all [4][devs]float64
	for n := range all {
		o := &all[n]
		fail := fails(n)
		for at := range o {
			z := float64(at-devZero) * devStep
			switch {
			case z < 0.02:
				o[at] = fail*failsBelow/1.5 + never
			case z < gainsTo:
				o[at] = gains/gainsTo + fail*failsOver + never
			default:
				o[at] = fail*failsOver + never
			}
		}
	}
	return &all
})

// weigh finds how likely each hypothesis is, and for each cylinder what the others tell of the offset of its reading: weights
// by deviation of its own reading, so that it is never judged by itself.
func (e *Believed) weigh(v *Visit, r []reading) (kept []Hypothesis, own [][devs]float64) {
	own = e.work.own[:len(e.Cylinders)]
	clear(own)
	prior := commons{mean: v.Mean + e.common, sd: math.Sqrt(commonSD*commonSD + v.SD*v.SD + e.commonVar + e.levelVar)}
	prior.wide = wideOften
	if len(e.Cylinders) == 1 {
		prior.wide = wideSingle
	}
	reach := prune
	if len(v.Order) < 3 {
		reach = pruneFew
	}
	all := e.hypotheses(v)
	best := 0.0
	room := e.work.room[:0]
	parts := e.parted(v, r)
	for h := range all {
		y := &all[h]
		if y.best = 0; parts.like(y) {
			room = e.account(v, r, y, &prior, room)
			best = max(best, y.best)
		}
	}
	whole := 0.0
	for h := range all {
		y := &all[h]
		if y.best <= best*reach {
			continue
		}
		sum, moment := 0.0, 0.0
		for k, w := range y.by {
			if w <= best*reach {
				continue
			}
			sum += w
			moment += w * float64(y.low+k) * devStep
			for _, c := range v.Order {
				at := min(max(indexOf(r[c].dev-y.shape[c])-y.low-k, 0), devs-1)
				own[c][at] += w / r[c].expects[at]
			}
		}
		y.Weight, y.Common = sum, moment/sum
		whole += sum
		kept = append(kept, *y)
	}
	if !(whole > 0) { // more readings than numbers reach, and none of them likely
		return nil, prior.alone(v, r, own)
	}
	for i := range kept {
		kept[i].Weight /= whole
		kept[i].by = nil
	}
	for _, c := range v.Order {
		sum := 0.0
		for _, w := range own[c] {
			sum += w
		}
		for i := range own[c] {
			own[c][i] /= sum
		}
	}
	return kept, own
}

// parted is how far the readings of a visit stand apart, by where it is parted: the middles and the highest of the later ones
// against those of the earlier, and of the second bank against the first.
type parted struct {
	from [maxOrder][2]float64
	bank [2]float64
	half int
}

func (e *Believed) parted(v *Visit, r []reading) *parted {
	var p parted
	var first, second []float64
	apart := func() [2]float64 {
		slices.Sort(first)
		slices.Sort(second)
		return [2]float64{second[len(second)/2] - first[len(first)/2], second[len(second)-1] - first[len(first)-1]}
	}
	p.half = len(v.Order) / 2
	for from := 1; from < min(len(v.Order), maxOrder); from++ {
		first, second = first[:0], second[:0]
		for k, c := range v.Order {
			if k < from {
				first = append(first, r[c].dev)
			} else {
				second = append(second, r[c].dev)
			}
		}
		p.from[from] = apart()
	}
	if n := len(v.SecondBank); n > 0 && n < len(v.Order) {
		first, second = first[:0], second[:0]
		for _, c := range v.Order {
			if slices.Contains(v.SecondBank, c) {
				second = append(second, r[c].dev)
			} else {
				first = append(first, r[c].dev)
			}
		}
		p.bank = apart()
	}
	return &p
}

// like reports whether the readings stand apart as the hypothesis has it, by their middles or by the highest, so that it is
// worth weighing.
func (p *parted) like(y *Hypothesis) bool {
	size, apart, room := y.Size, p.from[min(y.From, maxOrder-1)], 0.35
	switch y.Kind {
	case Alike:
		return true
	case Sag:
		apart, room = p.from[min(p.half, maxOrder-1)], 0.6
		size *= math.Pow(0.75, y.Power) - math.Pow(0.25, y.Power)
	case Bank:
		apart = p.bank
	}
	reach := room*math.Abs(size) + 0.012
	return math.Abs(apart[0]-size) <= reach || math.Abs(apart[1]-size) <= reach
}

// account tries a hypothesis with every common shift that could be, and keeps how well each accounts for the readings, in room. Less
// than the lower quarter of the readings no common shift can be: most would read too high.
func (e *Believed) account(v *Visit, r []reading, y *Hypothesis, prior *commons, room []float64) []float64 {
	var devsOf [maxOrder]float64
	left := devsOf[:0]
	for _, c := range v.Order {
		left = append(left, r[c].dev-y.shape[c])
	}
	slices.Sort(left)
	from, to := left[len(left)/4]-commonRoom, left[len(left)-1]+commonRoom
	if len(left) < 3 {
		from, to = min(from, prior.mean-3*prior.sd), max(to, prior.mean+3*prior.sd)
	}
	to = max(to, prior.mean+commonRoom)
	y.low = int(math.Floor(from / devStep))
	count := min(int(math.Ceil(to/devStep))-y.low+1, 2*commonSteps)
	if cap(room)-len(room) < count {
		room = make([]float64, 0, max(4096, count))
	}
	y.by = room[len(room) : len(room)+count]
	for k := range y.by {
		y.by[k] = y.prior * prior.at(y.low+k)
	}
	for _, c := range v.Order {
		at := indexOf(r[c].dev-y.shape[c]) - y.low // falls as the shift rises
		row := &r[c].expects
		for k := range y.by {
			y.by[k] *= row[min(max(at-k, 0), devs-1)]
		}
	}
	y.best = slices.Max(y.by)
	return room[:len(room)+count]
}

// commonRoom is how far beyond the readings a common shift is looked for; maxOrder is more cylinders than engines have.
const (
	commonRoom = 0.04
	maxOrder   = 64
)

// prune is the share of the best below which an account of a visit is not looked at, pruneFew where there is hardly another
// reading to go by.
const (
	prune    = 1e-7
	pruneFew = 1e-20
)

// How far one visit moves all readings: a narrow core of battery, heat and weather, and now and then much more. Of a single nobody
// can tell whether it was the visit or the engine: there it is taken for the visit's less readily.
const (
	commonSD   = 0.028
	commonWide = 0.12
	wideOften  = 0.1
	wideSingle = 0.04
)

// commons is the prior of a visit's common shift, kept as it is asked for: densities by step, from the lowest on.
type commons struct {
	mean, sd float64
	wide     float64                    // how often it is much more
	by       [2*commonSteps + 1]float64 // 0 where it was not asked for yet
}

// commonSteps reaches further than any two readings of an engine lie apart.
const commonSteps = 1200

// at returns the density of a common shift of so many steps.
func (p *commons) at(step int) float64 {
	step = min(max(step, -commonSteps), commonSteps)
	kept := &p.by[step+commonSteps]
	if *kept == 0 {
		d := float64(step)*devStep - p.mean
		*kept = (1-p.wide)*density(d, p.sd) + p.wide*density(d, math.Hypot(p.sd, commonWide)) + 1e-12
	}
	return *kept
}

// alone returns what the prior alone lets expect of each reading's deviation.
func (p *commons) alone(v *Visit, r []reading, own [][devs]float64) [][devs]float64 {
	clear(own)
	for _, c := range v.Order {
		own[c][devAt(r[c].dev-p.mean)] = 1
	}
	return own
}
