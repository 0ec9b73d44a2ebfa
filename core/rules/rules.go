// Package rules holds the house rules: the points on which good practitioners
// differ, what each school does, and the choice a workshop has made.
package rules

import (
	"encoding/json"
	"fmt"
	"maps"
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
	RestMinutes     float64 `json:"rest_minutes"`         // minutes of rest before a voltage is believed
	ReturnMinSOC    float64 `json:"return_min_soc_pct"`   // least charge, %, to hand a battery back
	StrengthMethod  string  `json:"strength_method"`      // how strength is judged
	WeakBelow       float64 `json:"weak_below_pct"`       // part of the label, %, under which a battery that passes is weak
	WeakPolicy      string  `json:"weak_policy"`          // what is said of a weak battery that starts its engine today
	CableDropMax    float64 `json:"cable_drop_max_volts"` // most volts lost over one path while cranking, 12 V
	DrainMax        float64 `json:"drain_max_ma"`         // most milliamps with everything asleep
	ChargePlace     string  `json:"charge_place"`         // where a battery is charged
	ChargeRate      string  `json:"charge_rate"`          // how many amps it is charged with
	TestOrder       string  `json:"test_order"`           // what is measured next
	JumpClamp       string  `json:"jump_clamp"`           // where the earthed clamp of a jump start goes last
	JumpSource      string  `json:"jump_source"`          // what a vehicle is jumped from first
	CleanPlace      string  `json:"clean_place"`          // where a battery is cleaned
	Protection      string  `json:"contact_protection"`   // what keeps contacts bright
	KeepAlive       string  `json:"keep_alive"`           // which vehicles are fed while their battery is off
	StoreMarginC    float64 `json:"store_margin_c"`       // least degrees between a stored battery's acid freezing and the coldest night
	StoreMinSOC     float64 `json:"store_min_soc_pct"`    // charge, %, under which a stored battery is charged again

	// ByClass settles rules otherwise for a class of vehicle: class, then field. The
	// customs of package rules stand there from the start.
	ByClass map[string]Settings `json:"by_class,omitempty"`
}

// Settings are values of rules by their field: a float64 or a string.
type Settings map[string]any

// Default is what a new workshop starts with: the first school of each rule, the
// one most widely printed.
func Default() Rules {
	var r Rules
	for _, rule := range book {
		rule.choose(&r, rule.Schools[0])
		for class, school := range rule.Customs {
			r.ByClass = with(r.ByClass, class, rule.Field, rule.Schools[school].value())
		}
	}
	return r
}

// with gives settings by class with one more.
func with(all map[string]Settings, class, field string, value any) map[string]Settings {
	out := map[string]Settings{}
	for c, s := range all {
		out[c] = maps.Clone(s)
	}
	if out[class] == nil {
		out[class] = Settings{}
	}
	out[class][field] = value
	return out
}

// For gives the rules as they hold for a class of vehicle.
func (r Rules) For(class string) Rules {
	for field, value := range r.ByClass[class] {
		if i := slices.IndexFunc(book, func(rule Rule) bool { return rule.Field == field }); i >= 0 {
			book[i].set(&r, value)
		}
	}
	r.ByClass = nil
	return r
}

// Set gives the rules with one of them settled for a class of vehicle, or, where
// class is empty, for all that have no custom of their own.
func (r Rules) Set(id, class string, s School) Rules {
	rule, ok := Find(id)
	switch {
	case !ok:
	case class == "":
		rule.choose(&r, s)
	default:
		r.ByClass = with(r.ByClass, class, rule.Field, s.value())
	}
	return r
}

// UnmarshalJSON reads rules; one that is missing takes its default.
func (r *Rules) UnmarshalJSON(data []byte) error {
	type plain Rules
	whole := plain(Default())
	customs := whole.ByClass
	whole.ByClass = nil
	if err := json.Unmarshal(data, &whole); err != nil {
		return err
	}
	if whole.ByClass == nil {
		// Who settles a rule and says nothing of classes means it for all of them.
		var said map[string]any
		if err := json.Unmarshal(data, &said); err != nil {
			return err
		}
		for class, settings := range customs {
			for field, value := range settings {
				if _, ok := said[field]; !ok {
					whole.ByClass = with(whole.ByClass, class, field, value)
				}
			}
		}
	}
	*r = Rules(whole)
	return nil
}

// FieldError says what is wrong with one rule.
type FieldError struct{ Field, Message string }

func (e *FieldError) Error() string { return e.Field + ": " + e.Message }

// Check reports the first rule outside its range or vocabulary as a *FieldError.
func (r Rules) Check() error {
	if err := r.check(""); err != nil {
		return err
	}
	for _, class := range slices.Sorted(maps.Keys(r.ByClass)) {
		for field, value := range r.ByClass[class] {
			at := "by_class." + class + "." + field
			i := slices.IndexFunc(book, func(rule Rule) bool { return rule.Field == field })
			if i < 0 {
				return &FieldError{at, "there is no such house rule"}
			}
			if _, number := value.(float64); number != (book[i].number != nil) {
				return &FieldError{at, fmt.Sprintf("%v is not a value of this rule", value)}
			}
		}
		if err := r.For(class).check("by_class." + class + "."); err != nil {
			return err
		}
	}
	return nil
}

func (r Rules) check(at string) error {
	for _, rule := range book {
		if rule.number != nil {
			if v := *rule.number(&r); !(v >= rule.Min && v <= rule.Max) {
				return &FieldError{
					at + rule.Field,
					fmt.Sprintf("%g is outside %g to %g %s", v, rule.Min, rule.Max, rule.Unit),
				}
			}
			continue
		}
		if v := *rule.word(&r); !slices.Contains(rule.words(), v) {
			return &FieldError{at + rule.Field, fmt.Sprintf("%q is unknown, use %s", v, strings.Join(rule.words(), " or "))}
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

func (s School) value() any {
	if s.Word != "" {
		return s.Word
	}
	return s.Number
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
	// Customs are the classes of vehicle whose default is another school, by its place
	// in Schools.
	Customs map[string]int `json:"customs,omitempty" doc:"classes whose default is another of the schools"`

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

func (rule Rule) choose(r *Rules, s School) { rule.set(r, s.value()) }

// set settles the rule; a value of the wrong type is left out.
func (rule Rule) set(r *Rules, value any) {
	switch v := value.(type) {
	case float64:
		if rule.number != nil {
			*rule.number(r) = v
		}
	case string:
		if rule.word != nil {
			*rule.word(r) = v
		}
	}
}

// Of gives the figure rules have for it, 0 where it is a choice.
func (rule Rule) Of(r Rules) float64 {
	if rule.number == nil {
		return 0
	}
	return *rule.number(&r)
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
		out[i].Schools, out[i].Customs = slices.Clone(out[i].Schools), maps.Clone(out[i].Customs)
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
	fields["by_class"] = document.Object(nil, map[string]document.Shape{}).
		About("class of vehicle, then rule: what holds there instead")
	settings := document.Object(nil, maps.Clone(fields))
	delete(settings.Fields, "by_class")
	for _, class := range classes {
		fields["by_class"].Fields[class] = settings
	}
	return document.Object(need, fields)
}

// classes are the classes of vehicle that may have rules of their own. Package
// reading has the words for them, and a test that the two agree.
var classes = []string{"car", "van", "motorcycle", "atv", "mower", "tractor", "hybrid", "electric", "classic", "boat",
	"motorhome"}
