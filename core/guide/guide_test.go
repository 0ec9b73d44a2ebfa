package guide

import (
	"slices"
	"testing"

	"grapnel/core/assess"
	"grapnel/core/reading"
	"grapnel/core/rules"
)

// Every class default is a case that can be assessed as it stands.
func TestDefaultsAreValidCases(t *testing.T) {
	var classes []string
	for _, d := range Defaults {
		classes = append(classes, d.Class)
		c := reading.Case{Format: reading.CaseFormat, Vehicle: d.Vehicle, Battery: d.Battery, Rules: rules.Default()}
		if err := c.Check(); err != nil {
			t.Errorf("%s: %v", d.Class, err)
		}
		if adv := assess.AdviseLoad(c, assess.Celsius); !adv.Possible || adv.Amps < 50 {
			t.Errorf("%s: load advice %+v", d.Class, adv)
		}
		if !d.Battery.Rating.Typical {
			t.Errorf("%s: a default rating must be marked typical", d.Class)
		}
	}
	slices.Sort(classes)
	want := slices.Sorted(slices.Values(reading.Classes))
	if !slices.Equal(classes, want) {
		t.Errorf("classes with defaults: %v, classes of the format: %v", classes, want)
	}
}

func TestWordsCoverTheFormat(t *testing.T) {
	for _, code := range reading.Complaints {
		if Say(Complaints, code) == code {
			t.Errorf("complaint %s has no words", code)
		}
	}
	if len(Complaints) != len(reading.Complaints) {
		t.Errorf("%d complaint words for %d complaints", len(Complaints), len(reading.Complaints))
	}
}

// The live side is the post that is not bonded to the body, whichever it is;
// red always goes to the positive post.
func TestPosts(t *testing.T) {
	for earth, want := range map[string][2]string{"negative": {"live", "earthed"}, "": {"live", "earthed"}, "positive": {"earthed", "live"}} {
		plus, minus := Posts(earth)
		if plus.Role != want[0] || minus.Role != want[1] || plus.Lead != "red" || minus.Lead != "black" {
			t.Errorf("earth %q: plus %+v, minus %+v", earth, plus, minus)
		}
	}
}

func TestCautionsExist(t *testing.T) {
	for _, code := range []string{"hydrogen", "acid", "load_tester", "frozen", "lifting", "recycle", "high_voltage"} {
		if c, ok := CautionOf(code); !ok || c.Line == "" || c.More == "" {
			t.Errorf("caution %s: %+v", code, c)
		}
	}
}
