package clinic

import (
	"bytes"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/internal/effort"
)

// A short clinic of a fixed draw. The limits are those of docs/clinic.md, less what a
// draw of this size may stray by.
func TestClinic(t *testing.T) {
	n := effort.Of(60, 200, 600)
	s := Of(Run(n, 7))
	stray := func(p float64) float64 { return 100 * 2.6 * math.Sqrt(p*(1-p)/float64(n)) }
	if s.Right < 95-stray(0.95) {
		t.Errorf("right verdict in %.1f %%", s.Right)
	}
	if s.Suspect < 86-stray(0.86) {
		t.Errorf("right first suspect in %.1f %%", s.Suspect)
	}
	if s.Dangerous > 0 || s.Stuck > 0 {
		t.Errorf("%d dangerous, %d without end", s.Dangerous, s.Stuck)
	}
	if s.Condemned > 1.2 || s.Passed > 6 {
		t.Errorf("%.2f %% of the sound condemned, %.2f %% of the bad passed", s.Condemned, s.Passed)
	}
	if s.Share() > 60 {
		t.Errorf("%.1f min to a verdict, %.0f %% of every station in order", s.ToVerdict, s.Share())
	}
	if s.Eighty.Called > 30 && (s.Eighty.Percent() < 65 || s.Eighty.Percent() > 95) {
		t.Errorf("of what is called 80 %%, %.0f %% is true", s.Eighty.Percent())
	}
	for _, w := range s.Ways {
		if w.Right >= s.Right+effort.Of(stray(0.95), stray(0.95), 0) {
			t.Errorf("%s is right in %.1f %%, the offered steps in %.1f %%", w.Name, w.Right, s.Right)
		}
	}
	if s.SoundOnes+s.BadOnes > n || s.SoundOnes < n/3 || s.BadOnes < n/10 {
		t.Errorf("%d sound, %d bad of %d", s.SoundOnes, s.BadOnes, n)
	}
}

// The same seed gives the same clinic, in whatever order its vehicles are worked.
func TestClinicIsRepeatable(t *testing.T) {
	a, b := One(3), One(3)
	if a.Outcome.Verdict != b.Outcome.Verdict || !slices.Equal(a.Outcome.Path, b.Outcome.Path) || !reflect.DeepEqual(a.Vehicle.Faults, b.Vehicle.Faults) {
		t.Errorf("%v, then %v", a.Outcome.Path, b.Outcome.Path)
	}
	var one, two bytes.Buffer
	Report(&one, Run(12, 5), 5)
	Report(&two, Run(12, 5), 5)
	if one.String() != two.String() || !strings.Contains(one.String(), "Voltmeter only") {
		t.Error("two reports of one clinic differ")
	}
}

// What is drawn is what it says it is: faults show in the vehicle, every class and
// chemistry comes, and nothing lies outside what can be.
func TestDraw(t *testing.T) {
	draws := effort.Of(150, 450, 900)
	classes, chemistries, faults := map[string]int{}, map[battery.Chemistry]int{}, map[string]int{}
	for i := range draws {
		v := Draw(rand.New(rand.NewPCG(uint64(i), 1)))
		classes[v.Class]++
		chemistries[v.Chemistry]++
		for _, f := range v.Faults {
			faults[f]++
		}
		k := v.Volts / 12
		drop := v.starter * math.Max(v.live, v.earth) / k
		switch {
		case len(v.Faults) > 2, v.pct < 1, v.pct > 140, v.ambient < -25, v.ambient > 40:
			t.Errorf("%d: %+v", i, v)
		case v.has("worn_out") && v.pct > 66, len(v.Faults) == 0 && v.Odd == "" && v.pct < 60:
			t.Errorf("%d: %v at %.0f %% of its label", i, v.Faults, v.pct)
		case v.has("drain") && v.drain < 80, !v.has("drain") && v.drain > 50:
			t.Errorf("%d: %v draws %.0f mA", i, v.Faults, v.drain)
		case v.has("undercharging") && v.alt > 13.4, v.has("overcharging") && v.alt < 15:
			t.Errorf("%d: %v charges at %.1f V", i, v.Faults, v.alt)
		case v.has("bad_cable") && v.starter > 0 && !v.has("starter_draw") && drop < 0.5:
			t.Errorf("%d: a bad cable loses %.2f V", i, drop)
		case v.has("frozen") && !v.ice:
			t.Errorf("%d: frozen without ice", i)
		}
	}
	if len(classes) < 10 || len(chemistries) < 6 || len(faults) < 14 {
		t.Errorf("%v %v %v", classes, chemistries, faults)
	}
}

// What would have been right follows the perfect load test, from both sides of each
// limit, and the faults.
func TestRight(t *testing.T) {
	base := func() *Vehicle {
		return &Vehicle{Class: "car", Volts: 12, Caps: "sealed", pct: 90, loaded21: 10.4, Complaint: []string{"slow_crank"}}
	}
	for _, c := range []struct {
		name string
		set  func(*Vehicle)
		want string // of the first
		not  string
	}{
		{"sound", func(*Vehicle) {}, "good", "replace"},
		{"just too weak", func(v *Vehicle) { v.loaded21, v.pct = 9.39, 45 }, "replace", "weak"},
		{"at the edge", func(v *Vehicle) { v.loaded21, v.pct = 9.41, 47 }, "weak", "good"},
		{"passes, half its label", func(v *Vehicle) { v.loaded21, v.pct = 9.71, 51.9 }, "weak", "good"},
		{"passes, a little more", func(v *Vehicle) { v.loaded21, v.pct = 9.71, 52.1 }, "good", ""},
		{"nearly sound", func(v *Vehicle) { v.pct = 74.9 }, "weak", "replace"},
		{"sound again", func(v *Vehicle) { v.pct = 75.1 }, "good", "weak"},
		{"a drain", func(v *Vehicle) { v.Faults = []string{"drain"} }, "look_elsewhere", "good"},
		{"a drain nobody complains of", func(v *Vehicle) { v.Faults, v.Complaint = []string{"drain"}, nil }, "good", "replace"},
		{"a shorted cell", func(v *Vehicle) { v.Faults = []string{"shorted_cell"} }, "replace", "good"},
		{"a cracked case", func(v *Vehicle) { v.seen = []string{"case_cracked"} }, "stop", "good"},
	} {
		v := base()
		c.set(v)
		if got := v.Right(); !slices.Contains(got, c.want) || slices.Contains(got, c.not) {
			t.Errorf("%s: %v", c.name, got)
		}
	}
}

// Scores by hand: four vehicles, one of each kind.
func TestScore(t *testing.T) {
	result := func(faults []string, right []string, sound, bad bool, verdict string, work float64) Result {
		return Result{Vehicle: &Vehicle{Faults: faults}, Right: right, Sound: sound, Bad: bad,
			Outcome: Outcome{Verdict: verdict, Verdicted: work}, Others: make([]Other, len(Ways))}
	}
	rs := []Result{
		result(nil, []string{"good"}, true, false, "good", 10),
		result(nil, []string{"good"}, true, false, "replace", 20),
		result([]string{"worn_out"}, []string{"replace"}, false, true, "good", 30),
		result([]string{"worn_out"}, []string{"replace"}, false, true, "replace", 40),
	}
	rs[3].Outcome.Danger = []string{"charge"}
	for i := range rs {
		rs[i].Others[len(Ways)-1] = Other{"replace", 50, 60}
	}
	s := Of(rs)
	if s.Right != 50 || s.Condemned != 50 || s.Passed != 50 || s.Dangerous != 1 || s.ToVerdict != 25 || s.Share() != 50 {
		t.Errorf("%+v", s)
	}
	if w := s.Ways[len(Ways)-1]; w.Right != 50 || w.Condemned != 100 || w.Passed != 0 || w.Work != 50 || w.Waiting != 1 {
		t.Errorf("%+v", w)
	}
}
