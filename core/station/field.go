package station

import (
	"strings"

	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Field is one figure or word of a reading.
type Field struct {
	Name  string
	Label string // over its entry
	Shape document.Shape
	Need  bool

	// A figure: the station's own is Big. Digits are the decimals the instrument
	// gives, Example is how it would be typed, Hint stands under it. Posts is true of
	// volts across this battery's posts, which cannot be more than it can show.
	Big     bool
	Digits  int
	Example string
	Hint    string
	Posts   bool
	// Picks are figures worth a tap; Unknown, where set, is the word for leaving
	// the field out.
	Picks   []Pick
	Unknown string

	// A word, or several where the shape is a list: its vocabulary, and the one
	// picked before anything is.
	Words   words.List
	Default string

	// Said is how its value stands in a line about the reading, {value}; empty is
	// the value alone. Unsaid leaves it out.
	Said   string
	Unsaid bool
}

// Pick is a figure with the word for it.
type Pick struct {
	Value float64
	Word  string
}

// shape gives what may stand in the field, its words from its vocabulary.
func (f Field) shape() document.Shape {
	s := f.Shape
	codes := f.Words.Codes()
	switch {
	case len(codes) == 0:
	case s.Kind == "list":
		item := document.Words(codes...)
		s.Item = &item
	default:
		s = document.Words(codes...)
	}
	return s
}

// A slipped decimal point must reach the check against the battery's own volts,
// which can say what was probably meant; only nonsense is stopped by the range.
const (
	maxPostVolts = 1000
	maxDropVolts = 33.6
)

func postVolts() document.Shape { return document.Number(-maxPostVolts, maxPostVolts, "V") }
func dropVolts() document.Shape { return document.Number(-maxDropVolts, maxDropVolts, "V") }

// List is the shape of several words of a vocabulary, at most so many.
func list(most float64) document.Shape { return document.List(1, most, document.Shape{}) }

// Line is a reading in few words: what was taken and the figure, and how.
type Line struct {
	Figure string     `json:"figure,omitempty" doc:"the station's own figure, as the instrument gives it"`
	Unit   string     `json:"unit,omitempty"`
	Text   words.Text `json:"text" doc:"the reading in a few words"`
	How    words.Text `json:"how,omitzero" doc:"how it was taken"`
}

// Full is the line in one: what was taken, and how where that is not in it already.
func (l Line) Full() words.Text {
	if l.Figure == "" || l.How.IsZero() {
		return l.Text
	}
	return words.Say("{text}, {how}", "text", l.Text, "how", l.How)
}

// Tell says a reading in few words.
func Tell(r reading.Reading) Line {
	k, ok := KindOf(r.Kind)
	if !ok {
		return Line{Text: words.Say(words.Spaced(r.Kind))}
	}
	var l Line
	var how []words.Text
	said := []any{}
	template := k.Name
	for _, f := range k.Fields {
		value, ok := f.said(r)
		if !ok {
			continue
		}
		if f.Big {
			v, _ := r.Number(f.Name)
			l.Figure, l.Unit = words.Voice{}.Quantity(measure.Plain(v, f.Digits)), f.Shape.Unit
			template += " {" + f.Name + "}"
			said = append(said, f.Name, value)
			continue
		}
		if !f.Unsaid {
			how = append(how, value)
		}
	}
	if len(how) > 0 {
		l.How = words.Say("{how}", "how", how)
		if l.Figure == "" {
			template += ": {how}"
			said = append(said, "how", how)
		}
	}
	l.Text = words.Say(template, said...)
	return l
}

// said is a field's value in words; false where it was not given.
func (f Field) said(r reading.Reading) (words.Text, bool) {
	template := f.Said
	if template == "" {
		template = "{value}"
	}
	if v, ok := r.Number(f.Name); ok {
		for _, p := range f.Picks {
			if p.Value == v {
				return words.Say(template, "value", words.Say("{Word}", "Word", lower(p.Word))), true
			}
		}
		digits := f.Digits
		if !f.Big {
			digits = measure.Exact
		}
		unit := measure.Unit(f.Shape.Unit)
		return words.Say(template, "value", measure.Of(v, unit, digits)), true
	}
	if w := r.Word(f.Name); w != "" {
		if f.Shape.Kind == "date" {
			return words.Say(template, "value", words.Date(w)), true
		}
		return words.Say(template, "value", f.Words.Said(w)), true
	}
	if list := r.Words(f.Name); len(list) > 0 {
		var all []words.Text
		for _, w := range list {
			all = append(all, words.Say(f.Words.Said(w)))
		}
		return words.Say(template, "value", all), true
	}
	if list := r.Numbers(f.Name); len(list) > 0 {
		var all []words.Text
		for _, v := range list {
			all = append(all, words.Say("{v}", "v", measure.Plain(v, f.Digits)))
		}
		return words.Say(template, "value", all), true
	}
	if v, ok := r.Flag(f.Name); ok {
		word := "no"
		if v {
			word = "yes"
		}
		return words.Say(template, "value", word), true
	}
	return words.Text{}, false
}

// lower begins a word of a pick in small letters.
func lower(s string) string {
	return strings.ToLower(s[:1]) + s[1:]
}
