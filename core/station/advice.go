package station

import (
	"grapnel/core/bench"
	"grapnel/core/guide"
	"grapnel/core/words"
)

// Advice is what to do and to mind at a station now.
type Advice struct {
	Level bench.Level `json:"level" enum:"ok,note,act,stop"`
	// Head warns in front of Text, More says what follows from going on all the
	// same.
	Head words.Text `json:"head,omitzero"`
	Text words.Text `json:"text,omitzero"`
	More words.Text `json:"more,omitzero"`
	// Closed: a hazard stands, and no reading is taken here.
	Closed bool `json:"closed,omitempty" doc:"no reading is taken now"`
	// Ways are the ways to do it, the usual one first; none where there is but one.
	Ways []Way `json:"ways,omitempty"`
}

// Way is one way to do what a station does: the kind of reading it gives and the
// words that are settled by choosing it.
type Way struct {
	Code   string            `json:"code"`
	Word   string            `json:"word"`
	Kind   string            `json:"kind" doc:"the kind of reading it gives"`
	Preset map[string]string `json:"preset,omitempty" doc:"words of the reading that choosing it settles"`
	Do     words.Text        `json:"do,omitzero"`
	Set    *Setting          `json:"set,omitempty" doc:"the figure to set, the largest thing before the reading"`
	// Timer counts down while it is done.
	Timer  *Timer        `json:"timer,omitempty"`
	Asleep float64       `json:"asleep_minutes,omitempty" doc:"how long all must be shut and off before it is read"`
	Fields []FieldAdvice `json:"fields,omitempty"`
	// Cautions are what can hurt this way, beside those of the station.
	Cautions []guide.Caution `json:"cautions,omitempty"`
	// Not says why it is not to be used on this battery; it is not offered then.
	Not words.Text `json:"not,omitzero" doc:"why it is not offered here"`
}

// Setting is a figure to set on an instrument.
type Setting struct {
	Caption string     `json:"caption"`
	Value   *float64   `json:"value,omitempty" doc:"absent when it cannot be worked out"`
	Unit    string     `json:"unit"`
	From    words.Text `json:"from,omitzero" doc:"how it was worked out, or what is missing"`
	Note    words.Text `json:"note,omitzero" doc:"what makes it approximate"`
}

// Timer is what a countdown says.
type Timer struct {
	Seconds float64 `json:"seconds"`
	Go      string  `json:"go"`
	Stop    string  `json:"stop"`
	Wait    float64 `json:"wait" doc:"seconds from its end until the next"`
}

// FieldAdvice is what is known of a field before it is filled in. A hidden field
// is sent with its default, or left out when it has none.
type FieldAdvice struct {
	Name    string     `json:"name"`
	Default *float64   `json:"default,omitempty"`
	Word    string     `json:"word,omitempty" doc:"the word picked before anything is; several stand apart by spaces"`
	Hint    words.Text `json:"hint,omitzero"`
	Hidden  bool       `json:"hidden,omitempty"`
	Need    bool       `json:"need,omitempty" doc:"not to be left out, done this way"`
	Count   int        `json:"count,omitempty" doc:"how many figures it has"`
	Apart   float64    `json:"apart,omitempty" doc:"how far under the highest of them one stands out"`
}

// unsafe closes a station where a hazard stands, and says what comes first. Closes
// says whether the hazards that only wait for something close it too.
func unsafe(b *bench.Bench, a *Advice) bool {
	h, ok := b.Stopped()
	if !ok {
		if h, ok = b.Held(); !ok {
			return false
		}
		a.Level, a.Closed, a.Text = bench.Act, true, words.Say(adviceHeld, "hazard", h.Name)
		return true
	}
	a.Level, a.Closed, a.Text = bench.Stopped, true, words.Say(adviceHazard, "hazard", h.Name)
	return true
}

const (
	adviceHazard = "{hazard}. Do not load or charge it."
	adviceHeld   = "{hazard}. Nothing is charged, loaded or jumped before that is dealt with."
)
