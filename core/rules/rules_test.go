package rules

import (
	"encoding/json"
	"reflect"
	"slices"
	"strings"
	"testing"

	"grapnel/core/document"
)

func TestDefaultsAreASchoolOfEachRule(t *testing.T) {
	if err := Default().Check(); err != nil {
		t.Fatal(err)
	}
	for _, r := range Book() {
		if len(r.Schools) < 2 {
			t.Errorf("%s has no other school", r.ID)
		}
		if d := Default(); !r.follows(&d, r.Schools[0]) {
			t.Errorf("%s: the default is not the first school", r.ID)
		}
		for _, s := range r.Schools {
			if s.Source == "" || s.Why == "" {
				t.Errorf("%s, school %q: no reason or source", r.ID, s.Name)
			}
		}
		if others := Default().Others(r.ID); len(others) != len(r.Schools)-1 || others[0].Name != r.Schools[1].Name {
			t.Errorf("%s: the other schools are %+v", r.ID, others)
		}
		// The shape names the field as Rules writes it.
		raw, err := json.Marshal(Default())
		if err != nil || !strings.Contains(string(raw), `"`+r.Field+`":`) {
			t.Errorf("Rules has no field %s: %s", r.Field, raw)
		}
	}
}

// The figures of the schools, common practice and BCI service texts, from memory:
// a change here changes what every workshop is told.
func TestSchools(t *testing.T) {
	for id, want := range map[string][]any{
		LoadTestMinSOC: {75.0, 65.0}, LoadTestLimit: {"temperature_table", "fixed"}, StarterMin: {9.6,
			10.0}, RestTime: {60.0, 480.0},
		ReturnMinSOC: {90.0, 75.0}, StrengthMethod: {ByHalfCCA, ByFixedLoad, ByStarter, ByConductance},
		WeakBelow: {65.0, 80.0}, WeakPolicy: {WeakTell, WeakOffer, WeakWatch}, CableDropMax: {0.5, 0.3},
		DrainMax: {50.0, 30.0}, ChargePlace: {ChargeInPlace, ChargeOnBench},
	} {
		rule, ok := Find(id)
		if !ok || len(rule.Schools) != len(want) {
			t.Errorf("%s: %+v", id, rule)
			continue
		}
		for i, s := range rule.Schools {
			if s.Number != want[i] && s.Word != want[i] {
				t.Errorf("%s, %s: %g %s, want %v", id, s.Name, s.Number, s.Word, want[i])
			}
		}
	}
	if _, ok := Find("no.such"); ok {
		t.Error("a rule nobody wrote is found")
	}
}

func TestOtherSchoolFollowsTheChoice(t *testing.T) {
	r := Default()
	r.LoadTestMinSOC, r.LoadTestLimit = 65, LimitFixed
	if s := r.Others(LoadTestMinSOC); len(s) != 1 || s[0].Number != 75 {
		t.Errorf("an eye-school house is told the other schools are %+v", s)
	}
	if s := r.Others(LoadTestLimit); len(s) != 1 || s[0].Word != LimitByTemperature {
		t.Errorf("a fixed-limit house is told the other schools are %+v", s)
	}
	r.LoadTestMinSOC = 70
	if s := r.Others(LoadTestMinSOC); len(s) != 2 {
		t.Errorf("a house with a figure of its own is told %+v", s)
	}
	if r.Others("no.such") != nil {
		t.Error("schools of a rule nobody wrote")
	}
}

// Rules of words work for any number of rules and schools: a second one with
// three schools is chosen, checked, described and told apart from the first.
func TestASecondRuleOfWords(t *testing.T) {
	kept := book
	defer func() { book = kept }()
	// It borrows the place of the first in Rules; the first is taken out.
	book = slices.DeleteFunc(slices.Clone(book), func(r Rule) bool { return r.ID == LoadTestLimit })
	book = append(book, Rule{
		ID: "jump.last_clamp", Field: "load_test_limit", word: func(r *Rules) *string { return &r.LoadTestLimit },
		Schools: []School{{Name: "metal", Word: "body"}, {Name: "post", Word: "post"}, {Name: "maker", Word: "maker"}},
	})
	r := Default()
	if r.LoadTestLimit != "body" || r.Check() != nil {
		t.Fatalf("the default is %q, %v", r.LoadTestLimit, r.Check())
	}
	r = r.Following("jump.last_clamp", School{Word: "post"})
	if others := r.Others("jump.last_clamp"); len(others) != 2 || others[0].Word != "body" ||
		others[1].Word != "maker" {
		t.Errorf("%+v", others)
	}
	r.LoadTestLimit = "moon"
	if err := r.Check(); err == nil || !strings.Contains(err.Error(), "body or post or maker") {
		t.Errorf("%v", err)
	}
	if words := Shape(false).Fields["load_test_limit"].Words; !slices.Equal(words, []string{"body", "post", "maker"}) {
		t.Errorf("described as %v", words)
	}
}

// Each end of each range is allowed, what lies beyond it is refused, and the
// field is named.
func TestRanges(t *testing.T) {
	want := map[string][2]float64{
		"load_test_min_soc_pct": {50, 100}, "starter_test_min_volts": {9, 10.5}, "rest_minutes": {10,
			1440}, "return_min_soc_pct": {75, 100}, "weak_below_pct": {50, 90},
		"cable_drop_max_volts": {0.1, 1}, "drain_max_ma": {5, 500}, "store_margin_c": {0, 25}, "store_min_soc_pct": {20, 95},
	}
	for _, rule := range Book() {
		if rule.number == nil {
			continue
		}
		ends, ok := want[rule.Field]
		if !ok {
			t.Errorf("no range is pinned for %s", rule.Field)
		}
		for v, good := range map[float64]bool{ends[0]: true, ends[1]: true, ends[0] - 0.01: false,
			ends[1] + 0.01: false} {
			r := Default()
			*rule.number(&r) = v
			err := r.Check()
			if (err == nil) != good || !good && !strings.HasPrefix(err.Error(), rule.Field+":") {
				t.Errorf("%s of %g: %v", rule.Field, v, err)
			}
			tree, err := document.Parse([]byte(`{"`+rule.Field+`":`+number(v)+`}`), "rules")
			if err != nil {
				t.Fatal(err)
			}
			if wrong := document.Check(tree, Shape(false)); (len(wrong) == 0) != good {
				t.Errorf("a document with %s of %g: %v", rule.Field, v, wrong)
			}
		}
	}
}

func number(v float64) string {
	raw, _ := json.Marshal(v)
	return string(raw)
}

// Rules kept before a rule existed take its default, and keep what they have.
func TestMissingRuleTakesItsDefault(t *testing.T) {
	var r Rules
	if err := json.Unmarshal([]byte(`{"load_test_min_soc_pct":65,"load_test_limit":"fixed"}`), &r); err != nil {
		t.Fatal(err)
	}
	want := Default()
	want.LoadTestMinSOC, want.LoadTestLimit = 65, LimitFixed
	if !reflect.DeepEqual(r, want) {
		t.Errorf("%+v, want %+v", r, want)
	}
	if err := json.Unmarshal([]byte(`{"rest_minutes":"an hour"}`), &r); err == nil {
		t.Error("words for minutes are taken")
	}
	// Whole rules may leave nothing out; a document may.
	if need := Shape(true).Need; len(need) != len(Book()) || Shape(false).Need != nil {
		t.Errorf("needed: %v", need)
	}
}

// The book that is given away can be written on without changing the house's.
func TestBookIsACopy(t *testing.T) {
	b := Book()
	b[0].Schools[0].Number, b[0].Min = 1, 2
	if again := Book(); again[0].Schools[0].Number != 75 || again[0].Min != 50 {
		t.Errorf("%+v", again[0])
	}
}

// Where customs differ by class the default is the custom; a house that settles a
// rule for a class has it there and nowhere else, and one that settles it for all
// and says nothing of classes means all. Common practice, no source: 30 mA on
// simple vehicles, powersports charged on the bench.
func TestRulesByClass(t *testing.T) {
	d := Default()
	for class, want := range map[string]float64{"car": 50, "van": 50, "hybrid": 50, "motorcycle": 30, "mower": 30, "atv": 30,
		"tractor": 30, "classic": 30, "boat": 30} {
		if got := d.For(class).DrainMax; got != want {
			t.Errorf("%s: %g mA, want %g", class, got, want)
		}
	}
	if d.For("motorcycle").ChargePlace != ChargeOnBench || d.For("car").ChargePlace != ChargeInPlace {
		t.Error("powersports are charged on the bench, cars in place")
	}
	strict := d.Set(LoadTestMinSOC, "mower", School{Number: 65}).Set(DrainMax, "", School{Number: 40})
	if strict.For("mower").LoadTestMinSOC != 65 || strict.For("car").LoadTestMinSOC != 75 || d.For("mower").LoadTestMinSOC != 75 {
		t.Error("a rule for mowers reaches further, or not there")
	}
	if strict.For("car").DrainMax != 40 || strict.For("mower").DrainMax != 30 {
		t.Error("a rule for all takes a class its custom")
	}
	raw, err := json.Marshal(strict)
	if err != nil {
		t.Fatal(err)
	}
	var back Rules
	if err := json.Unmarshal(raw, &back); err != nil || !reflect.DeepEqual(back, strict) {
		t.Errorf("kept and read again: %+v (%v), want %+v", back, err, strict)
	}
	if err := json.Unmarshal([]byte(`{"drain_max_ma":45}`), &back); err != nil || back.For("mower").DrainMax != 45 ||
		back.For("motorcycle").ChargePlace != ChargeOnBench {
		t.Errorf("a figure for all: %+v (%v)", back, err)
	}
	for name, wrong := range map[string]Rules{
		"outside its range": d.Set(DrainMax, "car", School{Number: 4.9}),
		"no rule":           {ByClass: map[string]Settings{"car": {"moon": 1.0}}},
		"a word":            {ByClass: map[string]Settings{"car": {"drain_max_ma": "few"}}},
		"no such school":    d.Set(ChargePlace, "car", School{Word: "roof"}),
	} {
		if wrong.LoadTestMinSOC == 0 {
			by := wrong.ByClass
			wrong = d
			wrong.ByClass = by
		}
		if err := wrong.Check(); err == nil || !strings.HasPrefix(err.Error(), "by_class.car.") {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// What changed is told by the names of the schools, all vehicles first.
func TestChanges(t *testing.T) {
	was := Default()
	if all := Changes(was, was); len(all) != 0 {
		t.Errorf("nothing changed, and %v is told", all)
	}
	is := was
	is.RestMinutes, is.LoadTestLimit, is.DrainMax = 480, LimitFixed, 45
	drain, _ := Find(DrainMax)
	is = is.Set(DrainMax, "car", drain.Schools[1])
	delete(is.ByClass, "mower")
	var got []string
	for _, c := range Changes(was, is) {
		got = append(got, strings.TrimSpace(c.Class+" "+c.Rule+": "+c.From.String()+" to "+c.To.String()))
	}
	want := []string{
		"Limit under load: temperature table to 9.6 V flat",
		"Rest: one hour (60 min) to overnight (480 min)",
		"Drain: usual (50 mA) to 45 mA",
		"car Drain: as for all to simple vehicles (30 mA)",
		"mower Drain: simple vehicles (30 mA) to as for all",
	}
	if !slices.Equal(got, want) {
		t.Errorf("told:\n%s\nwant:\n%s", strings.Join(got, "\n"), strings.Join(want, "\n"))
	}
}
