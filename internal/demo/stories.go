package demo

import (
	"braxel/internal/core/log"
	"braxel/internal/core/units"
)

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
			RingPack: "conventional", Duty: "circuit", MeterUnit: "h", AltitudeM: of(210.0), Stands: "car",
			Identity: &log.Identity{
				Serial: "TH-0117", Block: "4471", Head: "C2-88", Seal: "hill-climb 2033-61", Builder: "Tarn Hollow Engine Works", Phone: "555 0142",
				Spec: []log.SpecRow{
					{What: "Top ring gap", Value: "0.40", Unit: "mm"}, {What: "Piston to bore", Value: "0.055", Unit: "mm"},
					{What: "Head bolts, in three steps", Value: "82", Unit: "Nm"},
				},
				Owners: []log.PastOwner{{Name: "Oskar", Until: "2030"}},
			},
			Limits: &log.Limits{Source: "builder", Minimum: psi(165), SpreadMaximumPct: 7, LeakMaximumPct: 10},
		},
		gauge: longHose, kit: twoDial,
		builds: []log.Build{{ID: "b1", Date: "2031-02-11", What: "new rings, valve job"}},
		events: []log.Event{
			{Date: "2031-06-20", Meter: of(9.0), What: "intake seat recut and the valve lapped", Kind: log.Repair, Work: "valve-job", Cylinders: []int{2}},
			{Date: "2032-06-20", Meter: of(31.5), What: "missed shift on the ridge climb"},
		},
		notes:   []log.Note{{Date: "2031-02-11", Text: "block 4471, rings gapped at 0.40 mm"}},
		healthy: map[int]cylinder{1: {189, 3}, 2: {186, 3.4}, 3: {187, 3.6}, 4: {190, 3.2}},
		visits: []visit{
			{date: "2031-02-14", stage: "pre-install", temp: "cold", baseline: true, all: -1},
			{date: "2031-03-22", stage: "after-running", temp: "hot", meter: 2.5, baseline: true},
			{
				date: "2031-06-14", stage: "service", temp: "hot", meter: 9,
				wrong: map[int]fault{2: {lost: 5.5, leak: 8, heard: []log.Path{{Where: log.Intake, Level: 2}}}},
			},
			{id: "r1", date: "2031-06-28", stage: "after-repair", temp: "hot", meter: 9.5, touched: []int{2}, all: 0.3},
			{date: "2031-09-20", stage: "post-season", temp: "hot", meter: 17.5, all: 1},
			{date: "2032-03-06", stage: "pre-season", temp: "cold", meter: 18, all: -2},
			{date: "2032-05-15", stage: "between-runs", temp: "hot", meter: 26, all: 0.5, wrong: valve(0.8, 0.8, 1)},
			{date: "2032-06-26", stage: "between-runs", temp: "hot", meter: 32, all: -1, wrong: valve(2.5, 3.4, 1)},
			{date: "2032-07-24", stage: "service", temp: "hot", meter: 37.5, wrong: valve(4.6, 5.8, 2)},
			{
				date:  "2032-08-21",
				stage: "between-runs",
				temp:  "hot",
				meter: 41,
				all:   -0.5,
				wrong: valve(8.4, 9.2, 2),
				wet:   []int{3, 4},
				oilCC: 5,
				seen:  []log.Observation{{What: "plug", Place: log.Place{Cylinder: 3}, Finding: "white"}},
			},
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
			Duty: "marine", MeterUnit: "h", AltitudeM: of(180.0), Stands: "car",
		},
		gauge: longHose, kit: twoDial,
		builds: []log.Build{
			{ID: "b1", Date: "2031-01-20", What: "as bought"},
			{ID: "b2", Date: "2032-02-02", What: "bored, new pistons, heads decked"},
		},
		events: []log.Event{
			{Date: "2032-02-20", Meter: of(3.0), What: "first run"},
			{Date: "2032-07-31", Meter: of(36.0), What: "hot day, lost water"},
		},
		healthy: map[int]cylinder{
			1: {173, 4},
			2: {174, 3.8},
			3: {172, 4.6},
			4: {172.5, 3.4},
			5: {170, 4.2},
			6: {172, 4.8},
			7: {170, 4},
			8: {173, 4.6},
		},
		visits: []visit{
			{
				id: "p1", date: "2031-04-18", stage: "as-found", temp: "hot", meter: 212, baseline: true, all: -7,
				wrong: map[int]fault{3: {lost: 9, leak: 9}, 6: {lost: 6, leak: 6}},
			},
			{
				id: "p2", date: "2031-09-26", stage: "post-season", temp: "hot", meter: 231, all: -8,
				wrong: map[int]fault{3: {lost: 12, leak: 13}, 6: {lost: 8, leak: 9}},
			},
			{date: "2032-02-14", stage: "pre-install", temp: "hot", baseline: true},
			{date: "2032-02-21", stage: "after-running", temp: "hot", meter: 3, baseline: true},
			{date: "2032-04-03", stage: "dyno", temp: "hot", meter: 9, all: -0.5},
			{date: "2032-05-01", stage: "between-runs", temp: "hot", meter: 15, all: 1.5},
			{date: "2032-05-22", stage: "service", temp: "cold", meter: 20, all: -4},
			{date: "2032-06-12", stage: "between-runs", temp: "hot", meter: 26, all: 1},
			{date: "2032-07-10", stage: "between-runs", temp: "hot", meter: 31, all: 0.5},
			{date: "2032-08-01", stage: "after-incident", temp: "hot", meter: 38, all: -1.5, wrong: between(7, 6, 2)},
			{
				date:  "2032-08-06",
				stage: "service",
				temp:  "hot",
				meter: 44,
				all:   -0.5,
				wrong: between(13.8, 12.8, 3),
				wet:   []int{5, 7, 6, 8},
				oilCC: 5,
			},
		},
	}
}

// dunlin is freshly rebuilt: a baseline and nothing else.
func dunlin() story {
	return story{
		engine: log.Engine{
			Name: "Dunlin", Owner: "Pekka", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4}}},
			FiringOrder: []int{
				1,
				3,
				4,
				2,
			}, Rotation: "clockwise", BoreMM: 80, StrokeMM: 79.5, RodMM: 131, Ratio: 9.8, IntakeCloses: of(52.0),
			Fuel: "petrol", Induction: "natural", Duty: "street", MeterUnit: "km", AltitudeM: of(210.0), Stands: "stand",
		},
		gauge: longHose, kit: twoDial,
		builds:  []log.Build{{ID: "b1", Date: "2033-03-28", What: "full rebuild, rings not bedded yet"}},
		healthy: map[int]cylinder{1: {166, 6}, 2: {168, 5.4}, 3: {164, 6.4}, 4: {167, 5.8}},
		visits:  []visit{{date: "2033-04-02", stage: "pre-install", temp: "cold", baseline: true}},
	}
}

// curlew is a lake patrol V6 whose gauge drifted; the engine did not.
func curlew() story {
	return story{
		engine: log.Engine{
			Name: "Curlew", Owner: "lake patrol", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 3, 5}, {2, 4, 6}}, AngleDeg: 60},
			FiringOrder: []int{
				1,
				2,
				3,
				4,
				5,
				6,
			}, Rotation: "clockwise", BoreMM: 93, StrokeMM: 68.7, RodMM: 137, Ratio: 9.6, IntakeCloses: of(56.0),
			Fuel: "petrol", Induction: "natural", Duty: "work", MeterUnit: "h", AltitudeM: of(180.0),
		},
		gauge: shortHose, kit: twoDial,
		builds:  []log.Build{{ID: "b1", Date: "2031-04-01", What: "new boat"}},
		healthy: map[int]cylinder{1: {158, 4}, 2: {157, 4.4}, 3: {160, 3.8}, 4: {158, 4.2}, 5: {156, 5}, 6: {159, 4}},
		visits: []visit{
			{date: "2031-04-10", stage: "after-running", temp: "hot", meter: 12, baseline: true},
			{date: "2031-07-15", stage: "service", temp: "hot", meter: 110, baseline: true, all: 0.6},
			{date: "2031-10-30", stage: "post-season", temp: "hot", meter: 224, all: -0.8},
			{date: "2032-04-12", stage: "pre-season", temp: "hot", meter: 226, all: -2.2},
			{date: "2032-07-20", stage: "service", temp: "hot", meter: 330, all: -4},
			{date: "2032-10-28", stage: "post-season", temp: "hot", meter: 441, all: -5.8},
			{date: "2033-04-08", stage: "pre-season", temp: "hot", meter: 444, all: -7.8},
		},
	}
}

// gannet is a launch's diesel six with a bent rod in 4 after the winter.
func gannet() story {
	bent := map[int]fault{4: {lost: 12}}
	return story{
		engine: log.Engine{
			Name: "Gannet", Owner: "Tuuli, launch", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1, 2, 3, 4, 5, 6}}},
			FiringOrder: []int{
				1,
				5,
				3,
				6,
				2,
				4,
			}, Rotation: "clockwise", BoreMM: 102, StrokeMM: 120, RodMM: 192, Ratio: 17.5, IntakeCloses: of(40.0),
			Fuel: "diesel", Induction: "turbo", Duty: "work", MeterUnit: "h", AltitudeM: of(180.0),
		},
		gauge: dieselGauge, kit: twoDial,
		builds:  []log.Build{{ID: "b1", Date: "2031-03-10", What: "overhaul"}},
		events:  []log.Event{{Date: "2032-11-02", Meter: of(505.0), What: "took water in"}},
		healthy: map[int]cylinder{1: {410, 6}, 2: {405, 6.4}, 3: {410, 5.6}, 4: {415, 6}, 5: {405, 6.8}, 6: {410, 6}},
		visits: []visit{
			{date: "2031-04-02", stage: "after-running", temp: "hot", meter: 20, baseline: true},
			{date: "2031-10-20", stage: "post-season", temp: "hot", meter: 260, baseline: true},
			{date: "2032-04-15", stage: "pre-season", temp: "hot", meter: 265},
			{date: "2032-10-22", stage: "post-season", temp: "hot", meter: 498, all: -1},
			{date: "2033-04-18", stage: "pre-season", temp: "hot", meter: 512, wrong: bent},
		},
	}
}

// wren is a kart's two-stroke single: its ring wears by the hour.
func wren() story {
	worn := func(lost, leak float64) map[int]fault {
		return map[int]fault{1: {lost: lost, leak: leak, oil: 0.8}}
	}
	return story{
		engine: log.Engine{
			Name: "Wren", Owner: "Ilo, kart", Kind: log.TwoStroke, Layout: log.Layout{Banks: [][]int{{1}}}, FiringOrder: []int{1}, Rotation: "clockwise",
			BoreMM: 54, StrokeMM: 54.4, RodMM: 102, Ratio: 13, Fuel: "petrol", Fuelling: "carburettor", Duty: "kart", MeterUnit: "h", AltitudeM: of(210.0),
		},
		gauge: longHose, kit: twoDial,
		builds:  []log.Build{{ID: "b1", Date: "2032-04-20", What: "new piston and ring"}},
		healthy: map[int]cylinder{1: {162, 4}},
		visits: []visit{
			{date: "2032-04-24", stage: "after-running", temp: "hot", meter: 0.5, baseline: true},
			{date: "2032-05-08", stage: "between-runs", temp: "hot", meter: 2, baseline: true},
			{date: "2032-05-22", stage: "between-runs", temp: "hot", meter: 3.5, wrong: worn(3, 1.5)},
			{date: "2032-06-05", stage: "between-runs", temp: "hot", meter: 5, wrong: worn(6.5, 3.4)},
			{date: "2032-06-19", stage: "between-runs", temp: "hot", meter: 6.5, wrong: worn(10, 5.4)},
			{date: "2032-07-03", stage: "between-runs", temp: "hot", meter: 8, wrong: worn(14, 7.5)},
		},
	}
}

// kestrel is a motorcycle's V-twin that fires unevenly and lacks nothing.
func kestrel() story {
	return story{
		engine: log.Engine{
			Name: "Kestrel", Owner: "Aavo", Kind: log.FourStroke, Layout: log.Layout{Banks: [][]int{{1}, {2}}, AngleDeg: 90},
			FiringOrder: []int{
				1,
				2,
			}, FiringIntervals: []float64{270, 450}, Rotation: "anticlockwise", BoreMM: 98, StrokeMM: 73, RodMM: 130, Ratio: 11.5,
			IntakeCloses: of(60.0), Fuel: "petrol", Induction: "natural", Duty: "motorcycle", MeterUnit: "km", AltitudeM: of(210.0),
		},
		gauge: longHose, kit: twoDial,
		builds:  []log.Build{{ID: "b1", Date: "2031-05-02", What: "as bought"}},
		healthy: map[int]cylinder{1: {182, 3}, 2: {180, 3.4}},
		visits: []visit{
			{date: "2031-05-10", stage: "service", temp: "hot", meter: 14200, baseline: true},
			{date: "2031-10-04", stage: "post-season", temp: "hot", meter: 19800, baseline: true},
			{date: "2032-10-09", stage: "post-season", temp: "hot", meter: 27300, all: 0.5},
			{date: "2033-05-01", stage: "pre-season", temp: "hot", meter: 27300, all: -0.5},
		},
	}
}

// osprey is a flat six on a stand, offered for sale: cold, cranked with a loose starter, uneven as such engines are.
func osprey() story {
	return story{
		engine: log.Engine{
			Name: "Osprey", Owner: "Ilo, for sale", Kind: log.FourStroke,
			Layout:      log.Layout{Banks: [][]int{{1, 2, 3}, {4, 5, 6}}, AngleDeg: 180},
			FiringOrder: []int{1, 6, 2, 4, 3, 5}, FiringIntervals: []float64{120, 120, 120, 120, 120, 120}, Rotation: "clockwise",
			BoreMM: 95, StrokeMM: 70.4, RodMM: 127, Ratio: 9.8, IntakeCloses: of(54.0), Fuel: "petrol", Induction: "natural", Duty: "track-day",
			MeterUnit: "km", AltitudeM: of(210.0), Stands: "stand", Protocol: "stand",
		},
		gauge: shortHose, kit: twoDial,
		notes:   []log.Note{{Date: "2033-05-06", Text: "seller says 90 000 km and stood two winters"}},
		healthy: map[int]cylinder{1: {150, 7}, 2: {146, 8}, 3: {149, 7}, 4: {148, 8}, 5: {145, 9}, 6: {151, 6}},
		visits: []visit{
			{
				date: "2033-05-06", stage: "as-found", temp: "cold", meter: 90000, baseline: true, place: "stand", wet: []int{4, 5}, oilCC: 5,
				wrong: map[int]fault{4: {lost: 15, leak: 6, oil: 0.7}},
				seen:  append([]log.Observation{{What: "plug", Place: log.Place{Cylinder: 4}, Finding: "oily"}}, inspected()...),
			},
		},
	}
}

// plover is a sand racer's two-rotor: one rotor has gone even and low.
func plover() story {
	worn := func(lost float64) map[int]fault { return map[int]fault{2: {lost: lost}} }
	return story{
		engine: log.Engine{
			Name: "Plover", Owner: "Tuuli, sand racer", Kind: log.Rotary, Layout: log.Layout{Rotors: 2}, Rotation: "clockwise",
			Fuel: "petrol", Induction: "natural", Duty: "circuit", MeterUnit: "h", AltitudeM: of(180.0), Stands: "car",
			Limits: &log.Limits{Source: "builder", Minimum: &units.Reading{Value: 590, Unit: units.KPa}, AtRPM: 250},
		},
		gauge:   faceTester,
		builds:  []log.Build{{ID: "b1", Date: "2031-05-20", What: "new apex seals"}},
		healthy: map[int]cylinder{1: {840, 0}, 2: {830, 0}},
		visits: []visit{
			{date: "2031-05-28", stage: "after-running", temp: "hot", meter: 2, baseline: true},
			{date: "2031-10-02", stage: "post-season", temp: "hot", meter: 14, all: -0.5},
			{date: "2032-04-20", stage: "pre-season", temp: "hot", meter: 14.5, all: 0.5, wrong: worn(3)},
			{date: "2032-10-08", stage: "post-season", temp: "hot", meter: 27, wrong: worn(11)},
			{date: "2033-04-30", stage: "pre-season", temp: "hot", meter: 28, all: -0.5, wrong: worn(22)},
		},
	}
}

// inspected is what a buyer found on a candidate that stands on a stand, cold: what asks for it to run could not be checked.
func inspected() []log.Observation {
	var all []log.Observation
	for _, one := range [][2]string{
		{"outside", "weeps"}, {"numbers", "as claimed"}, {"ports", "dry"}, {"plugs", "one oily"}, {"oil", "clean or honestly black"},
		{"sump", "fine grey paste"}, {"coolant", "clean"}, {"tdc", "marks agree"}, {"lash", "all within"},
		{"oil-cold", ""}, {"oil-idle", ""}, {"oil-hot", ""}, {"noise", ""}, {"blow-by", ""}, {"afterwards", ""},
	} {
		all = append(all, log.Observation{What: "other", Item: one[0], Finding: one[1]})
	}
	figure := func(item string, v float64, unit string) {
		all = append(all, log.Observation{What: "other", Item: item, Value: of(v), Unit: unit})
	}
	figure("end-play", 0.18, "mm")
	figure("stroke", 70.3, "mm")
	figure("claimed-cc", 2993, "cm³")
	figure("claimed-meter", 90000, "km")
	return all
}
