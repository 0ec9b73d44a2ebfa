package guide_test

import (
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/core/casefile"
	"grapnel/core/guide"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/rules"
)

// Every class default is a case that can be assessed as it stands.
func TestDefaultsAreValidCases(t *testing.T) {
	var classes []string
	for _, d := range guide.Defaults() {
		classes = append(classes, d.Class)
		c := reading.Case{Format: reading.CaseFormat, Vehicle: d.Vehicle, Battery: d.Battery, Rules: rules.Default()}
		if err := casefile.Check(c); err != nil {
			t.Errorf("%s: %v", d.Class, err)
		}
		if load, err := rating.TestLoad(d.Battery.Rating.Label()); err != nil || load.Amps < 50 {
			t.Errorf("%s: load %+v, %v", d.Class, load, err)
		}
		// Classics have 6 V, all others 12; petrol, but for what is mostly diesel or has no engine.
		volts, fuel := 12.0, "petrol"
		switch d.Class {
		case "classic":
			volts = 6
		case "van", "tractor", "boat", "motorhome":
			fuel = "diesel"
		case "electric":
			fuel = "none"
		}
		if d.Vehicle.SystemVolts != volts || d.Fuels[0] != fuel || d.Vehicle.Fuel != fuel {
			t.Errorf("%s: %g V, %v", d.Class, d.Vehicle.SystemVolts, d.Fuels)
		}
		if !d.Battery.Rating.Typical {
			t.Errorf("%s: a default rating must be marked typical", d.Class)
		}
	}
	slices.Sort(classes)
	want := slices.Sorted(slices.Values(reading.Classes().Codes()))
	if !slices.Equal(classes, want) {
		t.Errorf("classes with defaults: %v, classes of the format: %v", classes, want)
	}
}

// The live side is the post that is not bonded to the body, whichever it is;
// red always goes to the positive post.
func TestPosts(t *testing.T) {
	for earth, want := range map[string][2]string{"negative": {"live", "earthed"}, "": {"live", "earthed"},
		"positive": {"earthed", "live"}} {
		plus, minus := guide.Posts(earth)
		if plus.Role != want[0] || minus.Role != want[1] || plus.Lead != "red" || minus.Lead != "black" {
			t.Errorf("earth %q: plus %+v, minus %+v", earth, plus, minus)
		}
	}
}

func TestCautionsExist(t *testing.T) {
	for _, code := range []string{"hydrogen", "acid", "load_tester", "frozen", "lifting", "recycle", "high_voltage"} {
		if c, ok := guide.CautionOf(code); !ok || c.Line == "" || c.More == "" {
			t.Errorf("caution %s: %+v", code, c)
		}
	}
}

// A temperature entered for one job is a first guess for the next for six hours.
func TestAmbientGuess(t *testing.T) {
	now := time.Date(2026, 1, 5, 12, 0, 0, 0, time.UTC)
	entered := 4.0
	for ago, want := range map[time.Duration]bool{0: true, 6*time.Hour - time.Minute: true, 6 * time.Hour: false,
		30 * time.Hour: false} {
		if got := guide.AmbientGuess(now.Add(-ago), now, &entered); (got != nil) != want {
			t.Errorf("%s later: %v", ago, got)
		}
	}
	if guide.AmbientGuess(now, now, nil) != nil {
		t.Error("a guess of nothing")
	}
}

// The load tester's caution says what keeps a hand and an eye.
func TestLoadTesterCaution(t *testing.T) {
	c, _ := guide.CautionOf("load_tester")
	for _, say := range []string{"fully off before connecting", "Eyes"} {
		if !strings.Contains(c.Line, say) {
			t.Errorf("the caution does not say %q: %s", say, c.Line)
		}
	}
	if _, ok := guide.CautionOf("no_such"); ok {
		t.Error("a caution nobody wrote")
	}
	for _, code := range []string{"hydrogen", "acid", "load_tester", "high_voltage"} {
		if c, _ := guide.CautionOf(code); !strings.Contains(c.More, "ollow the") {
			t.Errorf("%s does not defer to the makers' instructions: %s", code, c.More)
		}
	}
}

// Every word is explained once, by more than itself, and given away as a copy.
func TestTerms(t *testing.T) {
	seen := map[string]bool{}
	for _, term := range guide.Terms() {
		for _, word := range append(term.Also, term.Term) {
			if word = strings.ToLower(word); seen[word] || len(term.Means) < 3*len(word) {
				t.Errorf("%s: %s", word, term.Means)
			}
			seen[word] = true
		}
	}
	for _, word := range []string{"eye school", "efb", "surface charge"} {
		if !seen[word] {
			t.Errorf("%s is not explained", word)
		}
	}
	guide.Terms()[1].Also[0] = "x"
	if guide.Terms()[1].Also[0] == "x" {
		t.Error("the words can be changed")
	}
}

// What is usual is given away as a copy.
func TestDefaultsAreACopy(t *testing.T) {
	guide.Defaults()[0].Labels[0].CCA = 1
	guide.Defaults()[0].Fuels[0] = "steam"
	if d := guide.Defaults()[0]; d.Labels[0].CCA == 1 || d.Fuels[0] == "steam" {
		t.Errorf("%+v", d)
	}
}
