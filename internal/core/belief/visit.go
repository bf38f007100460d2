package belief

// Visit is what a visit says, cylinder by cylinder, by index.
type Visit struct {
	Order      []int    // the cylinders whose compression was read, in the order of reading
	SecondBank []int    // those of Order that stand in the second bank of two
	Rows       [][]Part // of each cylinder, what its pulls may mean: logarithms of kPa at sea level; empty where there are none
	Pulls      []int    // how many
	Leaks      [][]LeakRow
	Scatter    float64 // what two visits of an unchanged cylinder differ by
	Mean, SD   float64 // what the way of testing does to all readings, a logarithm
	LeakMean   float64 // and to all leaks, of their area
	LeakSD     float64
	VoltsFell  float64
	VoltsHeld  bool
	Teaches    bool // it is one of the visits that say what the engine reads when it is right
	Repaired   bool
	Touched    []int // by the repair, by index; nil where it is not told: all
	Marks      [marks]Mark
	Raw        bool // the head has not run, or the engine is cold: valves let a little by
}

// Told is what a visit makes of one cylinder.
type Told struct {
	Sound, Leaking, Short float64 // chances; a leak into a neighbour is leaking. They sum to 1
	Innocent              float64 // the chance that it is sound and a raised leak is dirt, TDC missed, the tester's seal, a slip of the pen
	Failed                float64 // the chance that it is sound and a low reading is the gauge's
	Points, LostPct       float64 // how far it has gone, if it has: points of leak, percent of compression
	Place                 [places]float64
	Pair                  int // the index of the neighbour that it most likely leaks into, -1 for none
	PairChance            float64
	Change, ChangeSE      float64        // of compression against what is expected of it, the others' offset taken off; SE 0: not read
	Among                 float64        // the same change, by the offset that all tell, its own reading among them
	Rise, RiseSE          float64        // of leak, points
	Expected              float64        // leak when sound, percent
	Order                 float64        // how far its reading was moved by what went wrong with the testing, beside what moved all
	NewLeak, NewReading   bool           // nothing of the kind was measured on it before
	NoBaseLeak, NoBase    bool           // it was never sound when that was measured: it is held against the others, or the usual
	Meant                 float64        // its compression as it is most likely meant, the logarithm of kPa at sea level
	LeftOut               bool           // some of its pulls are left out of that
	Unsure                bool           // it may as well be meant otherwise: two pulls disagree, and nothing tells which is right
	Beyond                [marks]float64 // the chances that it has gone so far as the visit's marks
}

// Mark is a size that is asked about: points of leak more than when it was sound, percent of compression lost. A leak counts also by the
// compression that goes with it, unless it is asked about by its points alone and was measured.
type Mark struct {
	Points, LostPct float64
	PointsAlone     bool
}

const marks = 3
