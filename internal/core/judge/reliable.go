package judge

import (
	_ "embed"
	"encoding/json"
	"sync"

	"braxel/internal/core/say"
)

//go:embed reliability.json
var reliableText []byte

// Reliable is how often a word for a chance was right on engines whose fault is known.
type Reliable struct {
	Word  string  `json:"word" enum:"certain,likely,probable,unclear"`
	Words string  `json:"words,omitzero"`
	Said  float64 `json:"said" doc:"The mean chance that was said"`
	Right int     `json:"right" doc:"How often that cause was the true one"`
	Times int     `json:"times" doc:"How often it was said"`
}

// Reliability returns this of each word, the surest first, as it was measured when this judge was made.
var Reliability = sync.OnceValue(func() []Reliable {
	var all []Reliable
	if err := json.Unmarshal(reliableText, &all); err != nil {
		panic(err)
	}
	for i := range all {
		all[i].Words = say.Text("judge.sure-" + all[i].Word)
	}
	return all
})
