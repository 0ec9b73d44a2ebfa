package bench

import (
	"grapnel/core/battery"
	"grapnel/core/words"
)

// Level is how much a finding matters.
type Level string

// The levels of a finding, mildest first.
const (
	OK      Level = "ok"
	Note    Level = "note"
	Act     Level = "act"
	Stopped Level = "stop"
)

// Levels gives the levels, mildest first.
func Levels() []string { return []string{string(OK), string(Note), string(Act), string(Stopped)} }

// Sources that many findings share.
const (
	Practice    = "common practice, no source"
	BCITables   = "BCI service tables, from memory"
	Judgement   = "house judgement: condemn only what is certain"
	Judged      = "house judgement"
	ModelSource = "Grapnel's battery model (docs/model.md)"
)

// Finding is one line of the ledger: reading, rule with its source, conclusion.
type Finding struct {
	Code     string     `json:"code"`
	Level    Level      `json:"level"`
	Text     words.Text `json:"text"`
	Readings []int      `json:"readings"`
	Rule     string     `json:"rule,omitempty"`
	Why      words.Text `json:"why,omitzero"`
	Source   string     `json:"source,omitempty"`
	Other    words.Text `json:"other_school,omitzero"`
}

// Gauge is one figure on a scale with the limits that matter: what the
// dipstick draws.
type Gauge struct {
	Quantity string        `json:"quantity"`
	Unit     string        `json:"unit"`
	Digits   int           `json:"digits" doc:"decimals the figure deserves"`
	Min      float64       `json:"min"`
	Max      float64       `json:"max"`
	Step     float64       `json:"step" doc:"between scale marks"`
	Band     *battery.Band `json:"band,omitempty" doc:"absent before a reading"`
	Was      *battery.Band `json:"was,omitempty" doc:"what it was before the work, where that is shown beside it"`
	Level    Level         `json:"level" enum:"ok,note,act,stop"`
	Label    words.Text    `json:"label"`
	Notches  []Notch       `json:"notches"`
	// Shown says when the gauge stands on the sheet: always, or once it has
	// something to show.
	Shown bool `json:"shown" doc:"whether it has something to show"`
	// Title stands over a gauge that needs one.
	Title string `json:"title,omitempty"`
	Name  string `json:"name" doc:"what it shows, for a screen reader"`
}

// Notch is a limit on a gauge. Ghost notches belong to the school the house did
// not choose.
type Notch struct {
	At    float64    `json:"at"`
	Word  words.Text `json:"word"`
	Ghost bool       `json:"ghost"`
}
