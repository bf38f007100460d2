package demo

import "braxel/internal/core/log"

// heron is a hill-climb four whose exhaust valve in 3 is going.
func heron() story {
	valve := func(lost, leak float64, level int) map[int]fault {
		return map[int]fault{3: {lost: lost, leak: leak, heard: []log.Path{{Where: log.Exhaust, Level: level}}}}
	}
	return story{
		engine: log.Engine{
			Name: "Heron", Owner: "Tarn Hollow hill-climb", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}},
			FiringOrder: []int{1, 3, 4, 2}, FiringIntervals: []float64{180, 180, 180, 180}, Rotation: "clockwise",
			BoreMM: 87, StrokeMM: 91, RodMM: 149, Ratio: 11.4, IntakeCloses: of(62.0), Fuel: "petrol", Induction: "natural",
			RingPack: "conventional", Duty: "circuit", MeterUnit: "h", AltitudeM: of(210.0),
			Limits: &log.Limits{Source: "builder", Minimum: psi(165), SpreadMaximumPct: 7, LeakMaximumPct: 10},
		},
		gauge: longHose, kit: twoDial,
		builds:  []log.Build{{ID: "b1", Date: "2031-02-11", What: "new rings, valve job"}},
		events:  []log.Event{{Date: "2032-06-20", Meter: of(31.5), What: "missed shift on the ridge climb"}},
		healthy: map[int]cylinder{1: {189, 3}, 2: {186, 3.4}, 3: {187, 3.6}, 4: {190, 3.2}},
		visits: []visit{
			{date: "2031-02-14", stage: "pre-install", temp: "cold", baseline: true, all: -1},
			{date: "2031-03-22", stage: "after-running", temp: "hot", meter: 2.5, baseline: true},
			{date: "2031-06-14", stage: "service", temp: "hot", meter: 9},
			{date: "2031-09-20", stage: "post-season", temp: "hot", meter: 17.5, all: 1},
			{date: "2032-03-06", stage: "pre-season", temp: "cold", meter: 18, all: -2},
			{date: "2032-05-15", stage: "between-runs", temp: "hot", meter: 26, all: 0.5, wrong: valve(0.8, 0.8, 1)},
			{date: "2032-06-26", stage: "between-runs", temp: "hot", meter: 32, all: -1, wrong: valve(2.5, 3.4, 1)},
			{date: "2032-07-24", stage: "service", temp: "hot", meter: 37.5, wrong: valve(4.6, 5.8, 2)},
			{date: "2032-08-21", stage: "between-runs", temp: "hot", meter: 41, all: -0.5, wrong: valve(8.4, 9.2, 2), wet: []int{3, 4}, oilCC: 5,
				seen: []log.Observation{{What: "plug", Cylinder: 3, Finding: "white"}}},
		},
	}
}

// bittern is a sprint boat's V8 whose gasket burnt through between 5 and 7 on a hot day.
func bittern() story {
	between := func(lost, leak float64, level int) map[int]fault {
		return map[int]fault{
			5: {lost: lost, leak: leak, heard: []log.Path{{Where: log.Neighbour, Cylinder: 7, Level: level}}},
			7: {lost: lost * 1.1, leak: leak * 1.12, heard: []log.Path{{Where: log.Neighbour, Cylinder: 5, Level: level}}},
		}
	}
	return story{
		engine: log.Engine{
			Name: "Bittern", Owner: "Marit, sprint boat", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 3, 5, 7}, {2, 4, 6, 8}}, AngleDeg: 90},
			FiringOrder: []int{1, 8, 4, 3, 6, 5, 7, 2}, FiringIntervals: []float64{90, 90, 90, 90, 90, 90, 90, 90}, Rotation: "clockwise",
			BoreMM: 101, StrokeMM: 84.2, RodMM: 152, Ratio: 10.6, IntakeCloses: of(66.0), Fuel: "petrol", Induction: "natural",
			Duty: "marine", MeterUnit: "h", AltitudeM: of(180.0),
		},
		gauge: longHose, kit: twoDial,
		builds:  []log.Build{{ID: "b1", Date: "2031-01-20", What: "as bought"}, {ID: "b2", Date: "2032-02-02", What: "bored, new pistons, heads decked"}},
		events:  []log.Event{{Date: "2032-02-20", Meter: of(3.0), What: "first run"}, {Date: "2032-07-31", Meter: of(36.0), What: "hot day, lost water"}},
		healthy: map[int]cylinder{1: {173, 4}, 2: {174, 3.8}, 3: {172, 4.6}, 4: {172.5, 3.4}, 5: {170, 4.2}, 6: {172, 4.8}, 7: {170, 4}, 8: {173, 4.6}},
		visits: []visit{
			{date: "2032-02-14", stage: "pre-install", temp: "hot", baseline: true},
			{date: "2032-02-21", stage: "after-running", temp: "hot", meter: 3, baseline: true},
			{date: "2032-04-03", stage: "dyno", temp: "hot", meter: 9, all: -0.5},
			{date: "2032-05-01", stage: "between-runs", temp: "hot", meter: 15, all: 1.5},
			{date: "2032-05-22", stage: "service", temp: "cold", meter: 20, all: -4},
			{date: "2032-06-12", stage: "between-runs", temp: "hot", meter: 26, all: 1},
			{date: "2032-07-10", stage: "between-runs", temp: "hot", meter: 31, all: 0.5},
			{date: "2032-08-01", stage: "after-incident", temp: "hot", meter: 38, all: -1.5, wrong: between(7, 6, 2)},
			{date: "2032-08-06", stage: "service", temp: "hot", meter: 44, all: -0.5, wrong: between(13.8, 12.8, 3), wet: []int{5, 7, 6, 8}, oilCC: 5},
		},
	}
}

// dunlin is freshly rebuilt: a baseline and nothing else.
func dunlin() story {
	return story{
		engine: log.Engine{
			Name: "Dunlin", Owner: "Pekka", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}},
			FiringOrder: []int{1, 3, 4, 2}, Rotation: "clockwise", BoreMM: 80, StrokeMM: 79.5, RodMM: 131, Ratio: 9.8, IntakeCloses: of(52.0),
			Fuel: "petrol", Induction: "natural", Duty: "street", MeterUnit: "km", AltitudeM: of(210.0),
		},
		gauge: longHose, kit: twoDial,
		builds:  []log.Build{{ID: "b1", Date: "2033-03-28", What: "full rebuild, rings not bedded yet"}},
		healthy: map[int]cylinder{1: {166, 6}, 2: {168, 5.4}, 3: {164, 6.4}, 4: {167, 5.8}},
		visits:  []visit{{date: "2033-04-02", stage: "pre-install", temp: "cold", baseline: true}},
	}
}
