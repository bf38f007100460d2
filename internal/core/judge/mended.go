package judge

import "braxel/internal/core/twice"

// Repaired is what a repair before a test came to: the first thing that the test is asked.
type Repaired struct {
	Work      string   `json:"work" doc:"The kind of repair, other where nobody named it"`
	The       string   `json:"the" doc:"The same in a sentence: the valve job"`
	What      string   `json:"what,omitzero" doc:"As it was written"`
	Date      string   `json:"date,omitzero"`
	From      string   `json:"from" doc:"The test before it"`
	Cylinders []int    `json:"cylinders" doc:"That were in concern before it, or that it was of"`
	Each      []Mended `json:"each"`
	Worked    Worked   `json:"worked" enum:"surely,probably,partly,not,unclear"`
	Sentence  string   `json:"sentence"`
}

// Worked is whether a repair did what it was for.
type Worked string

// A repair worked surely where each cylinder is better beyond chance and none is in concern; in part where one that is better still is.
const (
	Surely   Worked = "surely"
	Probably Worked = "probably"
	Partly   Worked = "partly"
	NotAtAll Worked = "not"
	Unclear  Worked = "unclear"
)

// Mended is one cylinder before a repair and after it: compression in kPa as its gauge showed it, leaks in percent.
type Mended struct {
	Cylinder int        `json:"cylinder"`
	Was      *float64   `json:"was_kpa,omitempty"`
	Now      *float64   `json:"now_kpa,omitempty"`
	LeakWas  *float64   `json:"leak_was_pct,omitempty"`
	LeakNow  *float64   `json:"leak_now_pct,omitempty"`
	Move     twice.Move `json:"move" enum:"better,worse,same,untold"`
	Rose     bool       `json:"-"` // in the right direction, sure or not
}
