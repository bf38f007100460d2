package season

import (
	"braxel/internal/core/ahead"
	"braxel/internal/core/say"
)

// Board is a season as it stands: engines down, events across.
type Board struct {
	Today    string        `json:"today" format:"date"`
	Meetings []MeetingHead `json:"meetings" doc:"By date"`
	From     int           `json:"from" doc:"The first of them that belongs to this season, by its place"`
	Engines  []EngineRow   `json:"engines"`
	Cars     []ahead.Car   `json:"cars"`
	Terms    ahead.Terms   `json:"terms" doc:"The built-in figures included"`
	Typed    ahead.Terms   `json:"typed" doc:"As the workshop typed them"`
	Words    string        `json:"words,omitzero" doc:"What the season asks for now"`
	Price    Price         `json:"price" doc:"What the rest of the season comes to as it is planned"`
	Problems []Problem     `json:"problems"`
	Next     *NextMeeting  `json:"next,omitempty" doc:"The next event, with what has to be done before it"`
	Record   Record        `json:"record" doc:"How often the chances given were right"`
}

// MeetingHead is an event with where it stands.
type MeetingHead struct {
	ahead.Meeting
	Past bool `json:"past,omitzero"`
	Days int  `json:"days" doc:"Until it; negative when it has begun"`
}

// EngineRow is an engine's way through the season.
type EngineRow struct {
	Engine   string  `json:"engine"`
	Name     string  `json:"name"`
	Unit     string  `json:"unit,omitzero"`
	Known    bool    `json:"known" doc:"False where its tests say too little to do better than the general rate"`
	Tests    int     `json:"tests"`
	GoodFor  float64 `json:"good_for,omitzero" doc:"Running, nine times in ten; 1e9: longer than is looked ahead"`
	Sentence string  `json:"sentence"`
	Repair   string  `json:"repair,omitzero" doc:"What has to be mended before it runs"`
	Cells    []Cell  `json:"cells" doc:"One for each event, in their order"`
}

// Cell is an engine at an event.
type Cell struct {
	Meeting string    `json:"meeting"`
	Car     string    `json:"car,omitzero" doc:"The car that it runs in; none: it doesn't run there"`
	Chance  float64   `json:"chance,omitzero" doc:"That it is inside its limits at the end"`
	Running float64   `json:"running,omitzero" doc:"In its own meter, as it counts for wear"`
	Level   string    `json:"level,omitzero" enum:"fine,near,over,far" doc:"Against the owner's chance"`
	Unknown bool      `json:"unknown,omitzero" doc:"Nobody said how long it runs there in its meter"`
	Pinned  bool      `json:"pinned,omitzero"`
	Ran     *float64  `json:"ran,omitempty"`
	Stopped string    `json:"stopped,omitzero"`
	Broke   bool      `json:"broke,omitzero"`
	Jobs    []CellJob `json:"jobs,omitempty" doc:"Work on it before the event"`
	Words   string    `json:"words,omitzero"`
	More    string    `json:"more,omitzero" doc:"What the risk is made of"`
}

// CellJob is work on an engine before an event.
type CellJob struct {
	ID     string     `json:"id"`
	Work   ahead.Work `json:"work" enum:"test,freshen,rebuild"`
	Pinned bool       `json:"pinned,omitzero"`
	Done   string     `json:"done,omitzero" format:"date"`
}

// Problem is something in what was typed that no plan can meet.
type Problem struct {
	Words   string `json:"words"`
	Meeting string `json:"meeting,omitzero"`
	Engine  string `json:"engine,omitzero"`
}

// NextMeeting is the next event, and what has to be done before it.
type NextMeeting struct {
	Meeting MeetingHead `json:"meeting"`
	Starts  []NextStart `json:"starts"`
	Todo    []Todo      `json:"todo"`
	Words   string      `json:"words"`
}

// NextStart is a car with its engine at the next event.
type NextStart struct {
	Car    string  `json:"car"`
	Engine string  `json:"engine,omitzero"`
	ID     string  `json:"engine_id,omitzero"`
	Chance float64 `json:"chance,omitzero"`
	Level  string  `json:"level,omitzero" enum:"fine,near,over,far"`
	Words  string  `json:"words"`
}

// Todo is work that has to be done before an event.
type Todo struct {
	Job     string     `json:"job,omitzero" doc:"The id of the planned work"`
	Engine  string     `json:"engine"`
	Name    string     `json:"name"`
	Meeting string     `json:"meeting"`
	Begin   string     `json:"begin" format:"date" doc:"The last day to begin it, working by day alone"`
	Order   string     `json:"order,omitzero" format:"date" doc:"The last day to order its parts"`
	When    string     `json:"when"`
	Work    ahead.Work `json:"work,omitzero" enum:"test,freshen,rebuild" doc:"None for a swap"`
	What    string     `json:"what"`
	Why     string     `json:"why"`
}

// NameOf returns an event's name.
func (b Board) NameOf(meeting string) string {
	for _, m := range b.Meetings {
		if m.ID == meeting {
			return m.Name
		}
	}
	return meeting
}

// CarName returns a car's name.
func (b Board) CarName(car string) string {
	for _, c := range b.Cars {
		if c.ID == car {
			return c.Name
		}
	}
	return say.Text("season.car-gone")
}
