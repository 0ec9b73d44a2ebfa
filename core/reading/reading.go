package reading

import (
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"time"

	"grapnel/core/words"
)

// Reading is one thing measured, seen or done. Kind says which fields it carries;
// package station describes them. A Reading is never changed: With gives another.
type Reading struct {
	Kind       string
	At         *time.Time // when it was taken
	By         string     // who took it
	Instrument string

	fields Fields
}

// Fields are the figures and words of a reading by the names of the open format:
// float64, string, bool, []string or []float64.
type Fields map[string]any

// Of makes a reading of a kind. Whole numbers may be given as int.
func Of(kind string, f Fields) Reading {
	r := Reading{Kind: kind}
	for name, v := range f {
		r = r.With(name, v)
	}
	return r
}

// With gives the reading with one field set; a nil value leaves it out.
func (r Reading) With(name string, v any) Reading {
	fields := make(Fields, len(r.fields)+1)
	maps.Copy(fields, r.fields)
	switch x := v.(type) {
	case nil:
		delete(fields, name)
	case int:
		fields[name] = float64(x)
	default:
		fields[name] = v
	}
	r.fields = fields
	return r
}

// Number gives a figure, and whether it was taken.
func (r Reading) Number(name string) (float64, bool) {
	v, ok := r.fields[name].(float64)
	return v, ok
}

// Or gives a figure, or another where it was not taken.
func (r Reading) Or(name string, other float64) float64 {
	if v, ok := r.Number(name); ok {
		return v
	}
	return other
}

// Word gives a word, empty where none was given.
func (r Reading) Word(name string) string {
	w, _ := r.fields[name].(string)
	return w
}

// Words gives a list of words.
func (r Reading) Words(name string) []string {
	w, _ := r.fields[name].([]string)
	return w
}

// Numbers gives a list of figures.
func (r Reading) Numbers(name string) []float64 {
	v, _ := r.fields[name].([]float64)
	return v
}

// Flag gives a yes or no, and whether it was given.
func (r Reading) Flag(name string) (value, ok bool) {
	value, ok = r.fields[name].(bool)
	return value, ok
}

// head is what every reading may carry.
type head struct {
	Kind       string     `json:"kind"`
	At         *time.Time `json:"at,omitempty"`
	By         string     `json:"by,omitempty"`
	Instrument string     `json:"instrument,omitempty"`
}

// MarshalJSON writes the reading as the open format has it, its fields in the
// order of their names.
func (r Reading) MarshalJSON() ([]byte, error) {
	out, err := json.Marshal(head{r.Kind, r.At, r.By, r.Instrument})
	if err != nil || len(r.fields) == 0 {
		return out, err
	}
	fields, err := json.Marshal(r.fields)
	if err != nil {
		return nil, err
	}
	return append(append(out[:len(out)-1], ','), fields[1:]...), nil
}

// UnmarshalJSON reads any object with a kind; what it may hold is checked by
// package casefile. A null counts as left out.
func (r *Reading) UnmarshalJSON(data []byte) error {
	var h head
	if err := json.Unmarshal(data, &h); err != nil {
		return err
	}
	var all map[string]any
	if err := json.Unmarshal(data, &all); err != nil {
		return err
	}
	*r = Reading{Kind: h.Kind, At: h.At, By: words.Clean(h.By), Instrument: words.Clean(h.Instrument)}
	for _, name := range []string{"kind", "at", "by", "instrument"} {
		delete(all, name)
	}
	fields := Fields{}
	for name, v := range all {
		kept, err := typed(v)
		if err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
		if kept != nil {
			fields[name] = kept
		}
	}
	if len(fields) > 0 {
		r.fields = fields
	}
	return nil
}

// typed brings a decoded value to one of the types of Fields.
func typed(v any) (any, error) {
	if text, ok := v.(string); ok {
		return words.Clean(text), nil
	}
	list, ok := v.([]any)
	if !ok {
		if _, nested := v.(map[string]any); nested {
			return nil, errors.New("a reading holds figures, words and lists of them, not objects")
		}
		return v, nil
	}
	var said []string
	var numbers []float64
	for _, item := range list {
		switch x := item.(type) {
		case string:
			said = append(said, x)
		case float64:
			numbers = append(numbers, x)
		default:
			return nil, errors.New("a list holds figures or words")
		}
	}
	switch {
	case said != nil && numbers != nil:
		return nil, errors.New("a list holds figures or words, not both")
	case numbers != nil:
		return numbers, nil
	}
	return said, nil
}
