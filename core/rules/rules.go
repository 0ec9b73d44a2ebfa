// Package rules holds the house rules: the points on which good practitioners
// differ, what each school does, and the choice a workshop has made.
package rules

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"grapnel/core/document"
)

// Limit choices for Rules.LoadTestLimit.
const (
	LimitByTemperature = "temperature_table" // the published table, easier in the cold
	LimitFixed         = "fixed"             // 9.6 V whatever the temperature
)

// Rules is one workshop's choice. Field names are those of a case's "rules"
// object; a field left out takes its value from Default, also one that a
// workshop's stored rules do not have because the rule is younger than they are.
type Rules struct {
	LoadTestMinSOC float64 `json:"load_test_min_soc_pct"` // least charge, %, for a fair load test
	LoadTestLimit  string  `json:"load_test_limit"`       // how the least volts under load follow temperature
	// least volts of a 12 V battery with the starter as the load
	StarterMinVolts float64 `json:"starter_test_min_volts"`
	RestMinutes     float64 `json:"rest_minutes"`       // minutes of rest before a voltage is believed
	ReturnMinSOC    float64 `json:"return_min_soc_pct"` // least charge, %, to hand a battery back
}

// Default is what a new workshop starts with: the first school of each rule, the
// one most widely printed.
func Default() Rules {
	var r Rules
	for _, rule := range book {
		rule.choose(&r, rule.Schools[0])
	}
	return r
}

// UnmarshalJSON reads rules; one that is missing takes its default.
func (r *Rules) UnmarshalJSON(data []byte) error {
	type plain Rules
	whole := plain(Default())
	if err := json.Unmarshal(data, &whole); err != nil {
		return err
	}
	*r = Rules(whole)
	return nil
}

// FieldError says what is wrong with one rule.
type FieldError struct{ Field, Message string }

func (e *FieldError) Error() string { return e.Field + ": " + e.Message }

// Check reports the first rule outside its range or vocabulary as a *FieldError.
func (r Rules) Check() error {
	for _, rule := range book {
		if rule.number != nil {
			if v := *rule.number(&r); !(v >= rule.Min && v <= rule.Max) {
				return &FieldError{
					rule.Field,
					fmt.Sprintf("%g is outside %g to %g %s", v, rule.Min, rule.Max, rule.Unit),
				}
			}
			continue
		}
		if v := *rule.word(&r); !slices.Contains(rule.words(), v) {
			return &FieldError{rule.Field, fmt.Sprintf("%q is unknown, use %s", v, strings.Join(rule.words(), " or "))}
		}
	}
	return nil
}

// School is one way good practitioners settle a rule.
type School struct {
	Name   string  `json:"name"`
	Number float64 `json:"number,omitempty"` // for rules that are a figure
	Word   string  `json:"word,omitempty"`   // for rules that are a choice
	Why    string  `json:"why"`
	Source string  `json:"source"`
}

// Rule describes one house rule and its schools, the default first.
type Rule struct {
	ID       string   `json:"id"`    // as findings cite it
	Field    string   `json:"field"` // in Rules
	Title    string   `json:"title"`
	Question string   `json:"question"`
	Unit     string   `json:"unit"`
	Min      float64  `json:"min,omitempty"`
	Max      float64  `json:"max,omitempty"`
	Schools  []School `json:"schools"`

	// One of the two says where in Rules it stands.
	number func(*Rules) *float64
	word   func(*Rules) *string
}

func (rule Rule) words() []string {
	out := make([]string, len(rule.Schools))
	for i, s := range rule.Schools {
		out[i] = s.Word
	}
	return out
}

func (rule Rule) choose(r *Rules, s School) {
	if rule.number != nil {
		*rule.number(r) = s.Number
		return
	}
	*rule.word(r) = s.Word
}

// follows reports whether rules are of a school.
func (rule *Rule) follows(r *Rules, s School) bool {
	if rule.number != nil {
		return *rule.number(r) == s.Number
	}
	return *rule.word(r) == s.Word
}

// Book gives every house rule; the caller may keep it.
func Book() []Rule {
	out := slices.Clone(book)
	for i := range out {
		out[i].Schools = slices.Clone(out[i].Schools)
	}
	return out
}

// Find gives the rule with the given ID, as findings cite it.
func Find(id string) (Rule, bool) {
	i := slices.IndexFunc(book, func(r Rule) bool { return r.ID == id })
	if i < 0 {
		return Rule{}, false
	}
	return book[i], true
}

// Others gives the schools of a rule that the house did not choose: all of them
// where the house figure is its own.
func (r Rules) Others(id string) []School {
	i := slices.IndexFunc(book, func(r Rule) bool { return r.ID == id })
	if i < 0 {
		return nil
	}
	rule := &book[i]
	others := make([]School, 0, len(rule.Schools))
	for _, s := range rule.Schools {
		if !rule.follows(&r, s) {
			others = append(others, s)
		}
	}
	return others
}

// Following gives the rules with one of them settled as a school does.
func (r Rules) Following(id string, s School) Rules {
	if rule, ok := Find(id); ok {
		rule.choose(&r, s)
	}
	return r
}

// Shape describes the rules of a document. A document may leave any out; whole
// rules, as a workshop keeps them, may not.
func Shape(whole bool) document.Shape {
	fields := map[string]document.Shape{}
	var need []string
	for _, rule := range book {
		if rule.number != nil {
			fields[rule.Field] = document.Number(rule.Min, rule.Max, rule.Unit)
		} else {
			fields[rule.Field] = document.Words(rule.words()...)
		}
		need = append(need, rule.Field)
	}
	if !whole {
		need = nil
	}
	return document.Object(need, fields)
}
