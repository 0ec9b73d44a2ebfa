package station

import (
	"grapnel/core/bench"
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
	// Ways are the ways to do it, the usual one first, each a word of the field By.
	By   string `json:"by,omitempty" doc:"the field that chooses the way"`
	Ways []Way  `json:"ways,omitempty"`
	// Ask is a question the station's entry answers; without one the entry is not
	// offered at a station that is not there for it.
	Ask words.Text `json:"ask,omitzero"`
}

// Way is one way to do what a station does.
type Way struct {
	Code string     `json:"code"`
	Do   words.Text `json:"do,omitzero"`
	Set  *Setting   `json:"set,omitempty" doc:"the figure to set, the largest thing before the reading"`
	// Timer counts down while it is done.
	Timer  *Timer        `json:"timer,omitempty"`
	Fields []FieldAdvice `json:"fields,omitempty"`
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
	Hint    words.Text `json:"hint,omitzero"`
	Hidden  bool       `json:"hidden,omitempty"`
}
