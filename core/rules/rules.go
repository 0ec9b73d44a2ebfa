// Package rules holds the house rules: the points on which good practitioners
// differ, what each school does, and the choice a workshop has made.
package rules

import "fmt"

// Limit choices for Rules.LoadTestLimit.
const (
	LimitByTemperature = "temperature_table" // the published table, easier in the cold
	LimitFixed         = "fixed"             // 9.6 V whatever the temperature
)

// Rules is one workshop's choice. Field names are those of a case's "rules"
// object; a field left out of a case takes its value from Default.
type Rules struct {
	LoadTestMinSOC  float64 `json:"load_test_min_soc_pct" doc:"least charge, %, for a fair load test"`
	LoadTestLimit   string  `json:"load_test_limit" enum:"temperature_table,fixed" doc:"how the least volts under load follow temperature"`
	StarterMinVolts float64 `json:"starter_test_min_volts" doc:"least volts of a 12 V battery with the starter as the load"`
	RestMinutes     float64 `json:"rest_minutes" doc:"minutes of rest before a voltage is believed"`
	ReturnMinSOC    float64 `json:"return_min_soc_pct" doc:"least charge, %, to hand a battery back"`
}

// Default is what a new workshop starts with: the schools most widely printed.
func Default() Rules {
	return Rules{
		LoadTestMinSOC:  75,
		LoadTestLimit:   LimitByTemperature,
		StarterMinVolts: 9.6,
		RestMinutes:     60,
		ReturnMinSOC:    90,
	}
}

// FieldError says what is wrong with one rule.
type FieldError struct{ Field, Message string }

func (e *FieldError) Error() string { return e.Field + ": " + e.Message }

// Check reports the first rule outside its range as a *FieldError.
func (r Rules) Check() error {
	for _, f := range Book {
		if f.Number == nil {
			continue
		}
		if v := f.Number(r); !(v >= f.Min && v <= f.Max) {
			return &FieldError{f.Field, fmt.Sprintf("%g is outside %g to %g %s", v, f.Min, f.Max, f.Unit)}
		}
	}
	if r.LoadTestLimit != LimitByTemperature && r.LoadTestLimit != LimitFixed {
		return &FieldError{"load_test_limit", fmt.Sprintf("%q is unknown, use %s or %s", r.LoadTestLimit, LimitByTemperature, LimitFixed)}
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
	ID       string              `json:"id"`    // as findings cite it
	Field    string              `json:"field"` // in Rules
	Title    string              `json:"title"`
	Question string              `json:"question"`
	Unit     string              `json:"unit"`
	Min      float64             `json:"min,omitempty"`
	Max      float64             `json:"max,omitempty"`
	Schools  []School            `json:"schools"`
	Number   func(Rules) float64 `json:"-"` // nil for rules that are a choice
}

const (
	practice = "common practice, no source"
	bci      = "BCI service texts, from memory"
)

// Book lists every house rule.
var Book = []Rule{
	{
		ID: "load_test.min_soc", Field: "load_test_min_soc_pct", Title: "Fair test", Unit: "%", Min: 50, Max: 100,
		Question: "How full must a battery be before a load test can condemn it?",
		Number:   func(r Rules) float64 { return r.LoadTestMinSOC },
		Schools: []School{
			{Name: "three quarters", Number: 75, Why: "A lower battery sags because it is flat, not because it is bad.", Source: bci},
			{Name: "eye school", Number: 65, Why: "A green eye shows at about 65 %, and green means test.", Source: practice},
		},
	},
	{
		ID: "load_test.limit", Field: "load_test_limit", Title: "Limit under load",
		Question: "Does the least voltage under load follow the temperature?",
		Schools: []School{
			{Name: "temperature table", Word: LimitByTemperature, Why: "A cold battery sags more and is not worse for it.", Source: bci},
			{Name: "9.6 V flat", Word: LimitFixed, Why: "One figure to remember; strict on a cold day.", Source: practice},
		},
	},
	{
		ID: "load_test.starter_min", Field: "starter_test_min_volts", Title: "Starter as the load", Unit: "V", Min: 9, Max: 10.5,
		Question: "How low may the volts go while the starter is the load?",
		Number:   func(r Rules) float64 { return r.StarterMinVolts },
		Schools: []School{
			{Name: "common", Number: 9.6, Why: "The same figure as the load test.", Source: practice},
			{Name: "strict", Number: 10, Why: "A starter draws less than half the CCA, so it should sag less.", Source: practice},
		},
	},
	{
		ID: "rest_voltage.rest", Field: "rest_minutes", Title: "Rest", Unit: "min", Min: 10, Max: 1440,
		Question: "How long must a battery rest before its voltage is believed?",
		Number:   func(r Rules) float64 { return r.RestMinutes },
		Schools: []School{
			{Name: "one hour", Number: 60, Why: "Most of the surface charge is gone within the hour.", Source: practice},
			{Name: "overnight", Number: 480, Why: "A warm, fresh AGM holds its surface charge for hours.", Source: practice},
		},
	},
	{
		ID: "return.min_soc", Field: "return_min_soc_pct", Title: "Handing back", Unit: "%", Min: 75, Max: 100,
		Question: "How full must a sound battery be to go back to the customer?",
		Number:   func(r Rules) float64 { return r.ReturnMinSOC },
		Schools: []School{
			{Name: "nearly full", Number: 90, Why: "A half charged battery comes back in three days.", Source: practice},
			{Name: "fair test will do", Number: 75, Why: "The alternator does the rest on a long drive.", Source: practice},
		},
	},
}

// Find gives the rule with the given ID, as findings cite it.
func Find(id string) (Rule, bool) {
	for _, r := range Book {
		if r.ID == id {
			return r, true
		}
	}
	return Rule{}, false
}

// Other gives the school of rule id that the house did not choose, and whether
// there is one. Where the house figure is its own, the first school is named.
func (r Rules) Other(id string) (School, bool) {
	rule, ok := Find(id)
	if !ok {
		return School{}, false
	}
	for _, s := range rule.Schools {
		if rule.Number != nil && s.Number != rule.Number(r) {
			return s, true
		}
		if rule.Number == nil && s.Word != r.LoadTestLimit {
			return s, true
		}
	}
	return School{}, false
}
