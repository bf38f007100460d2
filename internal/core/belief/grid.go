package belief

import "math"

// The grid of deviations, logarithms: what is lower counts as its lowest.
const (
	devStep = 0.005
	devLow  = -1.8
	devs    = 451
	devZero = 360 // the index of no deviation
	// devSmooth is the index, a seventh lost, below which what is believed of a cylinder is smooth by itself.
	devSmooth = devZero - 30
)

// stepsOf returns a deviation in steps of the grid.
func stepsOf(z float64) int { return int(math.Floor(z/devStep + 0.5)) }

// onGrid returns the nearest index that is on the grid, devAt that of a deviation.
func onGrid(at int) int { return min(max(at, 0), devs-1) }

func devAt(z float64) int { return onGrid(devZero + stepsOf(z)) }

// kernels are normal densities on the grid, made as they are asked for.
type kernels map[int][]float64

// of returns the density of sd, from the middle outwards, to within a hundredth of sd.
func (all kernels) of(sd float64) []float64 {
	const finely = 8000
	key := int(sd*finely + 0.5)
	k := all[key]
	if k == nil {
		sd := float64(max(key, 1)) / finely
		k = make([]float64, int(math.Ceil(4*sd/devStep))+1)
		for i := range k {
			k[i] = density(float64(i)*devStep, sd)
		}
		all[key] = k
	}
	return k
}

// spread adds weight × the kernel around the index at.
func spread(to *[devs]float64, at int, weight float64, k []float64) {
	down := to[max(at-len(k)+1, 0) : at+1]
	for d := range down {
		down[len(down)-1-d] += weight * k[d]
	}
	up := to[at+1 : min(at+len(k), devs)]
	for d := range up {
		up[d] += weight * k[d+1]
	}
}

// bin is a range of deviations that a size stands for, as indices, both ends in it: so that what is between two sizes is as likely
// as they are, and no verdict flickers from one to the next.
type bin struct{ from, to int }

func binOf(low, high float64) bin { return bin{devAt(low), devAt(high)} }

// add spreads a weight over a bin, as steps up and down that are to be summed.
func add(steps *[devs + 1]float64, in bin, w float64) {
	w /= float64(in.to - in.from + 1)
	steps[in.from] += w
	steps[in.to+1] -= w
}

func moments(weights *[devs]float64) (mean, variance float64) {
	for at, w := range weights {
		z := float64(at-devZero) * devStep
		mean += w * z
		variance += w * z * z
	}
	return mean, max(0, variance-mean*mean)
}

// tiny is a weight that adds less to a density than a failed row does.
const tiny = 1e-5

func density(d, sd float64) float64 {
	z := d / sd
	return math.Exp(-z*z/2) / (sd * math.Sqrt(2*math.Pi))
}
