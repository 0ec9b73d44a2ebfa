package rules

import (
	"strings"
	"testing"
)

func TestDefaultsAreASchoolOfEachRule(t *testing.T) {
	if err := Default().Check(); err != nil {
		t.Fatal(err)
	}
	for _, r := range Book {
		if len(r.Schools) < 2 {
			t.Errorf("%s has no other school", r.ID)
		}
		if r.Number != nil && r.Number(Default()) != r.Schools[0].Number {
			t.Errorf("%s: the default is not the first school", r.ID)
		}
		for _, s := range r.Schools {
			if s.Source == "" || s.Why == "" {
				t.Errorf("%s, school %q: no reason or source", r.ID, s.Name)
			}
		}
		if other, ok := Default().Other(r.ID); !ok || other.Name != r.Schools[1].Name {
			t.Errorf("%s: the other school is %+v", r.ID, other)
		}
	}
}

func TestOtherSchoolFollowsTheChoice(t *testing.T) {
	r := Default()
	r.LoadTestMinSOC, r.LoadTestLimit = 65, LimitFixed
	if s, _ := r.Other("load_test.min_soc"); s.Number != 75 {
		t.Errorf("an eye-school house is told the other school is %+v", s)
	}
	if s, _ := r.Other("load_test.limit"); s.Word != LimitByTemperature {
		t.Errorf("a fixed-limit house is told the other school is %+v", s)
	}
}

func TestCheckNamesTheField(t *testing.T) {
	bad := map[string]func(*Rules){
		"load_test_min_soc_pct":  func(r *Rules) { r.LoadTestMinSOC = 20 },
		"load_test_limit":        func(r *Rules) { r.LoadTestLimit = "maybe" },
		"starter_test_min_volts": func(r *Rules) { r.StarterMinVolts = 12 },
		"rest_minutes":           func(r *Rules) { r.RestMinutes = 0 },
		"return_min_soc_pct":     func(r *Rules) { r.ReturnMinSOC = 10 },
	}
	for field, spoil := range bad {
		r := Default()
		spoil(&r)
		if err := r.Check(); err == nil || !strings.HasPrefix(err.Error(), field+":") {
			t.Errorf("%s out of range: error %v", field, err)
		}
	}
}
