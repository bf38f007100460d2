package belief

import "sync"

// workspace is room for the sums of one visit, to be used again for the next of any engine.
type workspace struct {
	all     []reading
	asLeak  []leakEvidence
	post    []posterior
	own     [][devs]float64
	room    []float64
	kernels kernels

	accounts listed
}

var workspaces = sync.Pool{New: func() any {
	return &workspace{room: make([]float64, 0, 4096), kernels: kernels{}}
}}

// forCylinders makes a workspace large enough.
func (w *workspace) forCylinders(n int) {
	if n <= len(w.all) {
		return
	}
	w.all, w.asLeak, w.post, w.own = make([]reading, n), make([]leakEvidence, n), make([]posterior, n), make([][devs]float64, n)
}

// Next takes a visit in, and returns what it makes of each cylinder, and what may have gone wrong with the testing.
func (b *Believed) Next(v *Visit) ([]Told, []Hypothesis) {
	if v.Repaired {
		if v.Touched != nil && b.begun {
			b.later()
		}
		b.mended(v.Touched)
	} else if b.begun {
		b.later()
	}
	n := len(b.Cylinders)
	told := make([]Told, n)
	work := workspaces.Get().(*workspace)
	defer workspaces.Put(work)
	work.forCylinders(n)
	asLeak, post := work.asLeak, work.post[:n]
	factor := b.leakFactors(v)
	for i := range b.Cylinders {
		b.leakEvidence(i, v, factor[i], &asLeak[i])
	}
	all := work.all[:n]
	for i := range all {
		all[i].parts = nil
	}
	for _, c := range v.Order {
		b.reading(c, v, &asLeak[c], work.kernels, &all[c])
	}
	var kept []Hypothesis
	var own [][devs]float64
	if len(v.Order) > 0 {
		kept, own = b.weigh(v, all, work.own[:n], work.room[:0], &work.accounts)
	}
	for i := range b.Cylinders {
		b.posterior(i, v, &asLeak[i], &all[i], own, &post[i])
	}
	b.pairUp(post)
	for i := range b.Cylinders {
		told[i] = b.tell(i, v, &asLeak[i], &all[i], &post[i])
		for _, h := range kept {
			told[i].Order += h.Weight * h.shape[i]
			told[i].Among -= h.Weight * (h.Common + h.shape[i])
		}
		told[i].Among += all[i].dev
	}
	b.learn(v, told, all, kept, factor)
	b.made = levelOf(all, told, v)
	b.begun = true
	b.visits++
	return told, kept
}

// Level returns what sound cylinders made at the visit that was last taken in, the logarithm of kPa at sea level; 0 where none was cranked.
func (b *Believed) Level() float64 { return b.made }

// levelOf returns that: the mean of those believed to be sound.
func levelOf(all []reading, told []Told, v *Visit) float64 {
	const some = 1e-6 // so that there is a mean where none is
	sum, weight := 0.0, 0.0
	for _, c := range v.Order {
		w := told[c].Sound + some
		sum += w * (all[c].parts[all[c].best].Mean - told[c].Order)
		weight += w
	}
	if weight == 0 {
		return 0
	}
	return sum / weight
}
