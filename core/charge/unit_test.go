package charge

import (
	"encoding/json"
	"math"
	"slices"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/rating"
)

// A rate switch is put to the most that is kind: at or a shade over what is wanted, or
// to its least. By hand: 60 Ah wants 6 A.
func TestUnitSwitch(t *testing.T) {
	u := Unit{Name: "6", Kind: Manual, Amps: 10, Rates: []float64{2, 6, 10}}
	for _, c := range []struct{ want, is float64 }{{6, 6}, {5.99, 6}, {5.46, 6}, {5.45, 2}, {1, 2}, {9, 6}, {9.1, 10}, {40, 10}, {0.01, 2}, {0, 10}} {
		if got := u.At(c.want); got != c.is {
			t.Errorf("wanted %g A, set to %g", c.want, got)
		}
	}
	if u.Rates = nil; u.At(3) != 10 {
		t.Error("without a switch it gives what it gives")
	}
}

// The setting follows the build, and what is noted of a charger makes the same charger
// again.
func TestUnitSet(t *testing.T) {
	for _, c := range []struct {
		unit  Unit
		chem  battery.Chemistry
		amps  float64
		volts float64
	}{
		{Unit{Kind: Smart, Amps: 10, Volts: 14.8, VoltsLow: 14.4}, battery.Flooded, 10, 14.8},
		{Unit{Kind: Smart, Amps: 10, Volts: 14.8, VoltsLow: 14.4}, battery.AGM, 10, 14.4},
		{Unit{Kind: Smart, Amps: 10, Volts: 14.8}, battery.AGM, 10, 14.8},
		{Unit{Kind: Smart, Amps: 10}, battery.Gel, 10, 0},
		{Unit{Kind: Taper, Amps: 30, Volts: 17}, battery.Flooded, 30, 17},
		{Unit{Kind: Taper, Amps: 30, Volts: 17, VoltsLow: 14.6}, battery.EFB, 15.6, 14.6}, // 30 A × 2.6 V of 5 V
		{Unit{Kind: Manual, Amps: 6, Volts: 16}, battery.Flooded, 6, 16},
		{Unit{Kind: Maintainer, Amps: 1}, battery.Flooded, 1, 0},
		{Unit{Kind: Trickle, Amps: 1.5}, battery.Flooded, 1.5, 0},
	} {
		made := c.unit.Set(c.chem, 6, c.unit.Amps)
		if amps, volts := made.Held(); amps != c.amps || volts != c.volts {
			t.Errorf("%+v for %s: noted as %g A, %g V", c.unit, c.chem, amps, volts)
		}
		b := ofAh(t, c.chem, 60)
		if got := made.nominal(b); math.Abs(got-c.amps) > 1e-9 {
			t.Errorf("%+v gives %g A", c.unit, got)
		}
		if c.volts > 0 && c.unit.Kind != Taper {
			if got := made.stages(b)[0].source.Volts; got != c.volts {
				t.Errorf("%+v for %s holds %g V", c.unit, c.chem, got)
			}
		}
		if wrong := made.Check(""); len(wrong) > 0 {
			t.Errorf("%+v makes a charger with faults: %v", c.unit, wrong)
		}
	}
}

func TestUnitCheck(t *testing.T) {
	good := Unit{Name: "3", Where: "by the door", Kind: Taper, Amps: 10, Rates: []float64{2, 10}, Volts: 17, VoltsLow: 14.4}
	if wrong := good.Check(); len(wrong) > 0 {
		t.Error(wrong)
	}
	data, _ := json.Marshal(good)
	var back Unit
	if err := json.Unmarshal(data, &back); err != nil || !slices.Equal(back.Rates, good.Rates) || back.Volts != 17 {
		t.Errorf("%s: %+v", data, back)
	}
	for field, u := range map[string]Unit{
		"name":        {Kind: Smart, Amps: 4},
		"volts":       {Name: "1", Kind: Smart, Amps: 4, Volts: 4.99},
		"volts_low":   {Name: "1", Kind: Smart, Amps: 4, Volts: 14.4, VoltsLow: 14.8},
		"volts_float": {Name: "1", Kind: Smart, Amps: 4, Volts: 14.4, VoltsFloat: 14.5},
		"rates[1]":    {Name: "1", Kind: Manual, Amps: 4, Rates: []float64{4, 4.1}},
		"rates[0]":    {Name: "1", Kind: Manual, Amps: 4, Rates: []float64{0.04}},
	} {
		if wrong := u.Check(); len(wrong) != 1 || wrong[0].Path != field {
			t.Errorf("%s: %v", field, wrong)
		}
	}
	for _, u := range []Unit{
		{Name: "1", Kind: Smart, Amps: 4, Volts: 5}, {Name: "1", Kind: Smart, Amps: 4, Volts: 14.4, VoltsLow: 14.4, VoltsFloat: 14.4},
		{Name: "1", Kind: Manual, Amps: 4, Rates: []float64{0.05, 4}},
	} {
		if wrong := u.Check(); len(wrong) > 0 {
			t.Errorf("%+v: %v", u, wrong)
		}
	}
}

// What is proposed: neither too big nor too small, held to its volts where the build
// asks for it, for this system, and one that ends. Each limit from both sides.
func TestUnfit(t *testing.T) {
	smart := func(amps float64) Charger { return Unit{Kind: Smart, Amps: amps}.Set(battery.Flooded, 6, amps) }
	for _, c := range []struct {
		what string
		chem battery.Chemistry
		ah   float64
		on   Charger
		why  string
	}{
		{"fast", battery.Flooded, 50, smart(20), ""}, {"over fast", battery.Flooded, 50, smart(20.1), UnfitBig},
		{"fast for gel", battery.Gel, 48, smart(12), ""}, {"over fast for gel", battery.Gel, 48, smart(12.1), UnfitBig},
		{"a fiftieth", battery.Flooded, 50, smart(1), ""}, {"under a fiftieth", battery.Flooded, 50, smart(0.99), UnfitSmall},
		{"trickle", battery.Flooded, 20, Charger{Kind: Trickle, Amps: 1}, UnfitTrickle},
		{"24 V", battery.Flooded, 50, Charger{Kind: Smart, AmpsMax: 5, Absorption: 28.8}, UnfitVolts},
		{"volts its build stands", battery.AGM, 50, Charger{Kind: Smart, AmpsMax: 5, Absorption: 14.84}, ""},
		{"volts over those", battery.AGM, 50, Charger{Kind: Smart, AmpsMax: 5, Absorption: 14.86}, UnfitHigh},
		{"a crude one for caps that come off", battery.Flooded, 50, Charger{Kind: Taper, AmpsStart: 5, VoltsOpen: 17}, ""},
		{"a crude one for glass mat", battery.AGM, 50, Charger{Kind: Taper, AmpsStart: 5, VoltsOpen: 17}, UnfitNotHeld},
		{"a crude one held low", battery.AGM, 50, Charger{Kind: Taper, AmpsStart: 5, VoltsOpen: 17, Setting: LowMaintenance, VoltsLow: 14.4}, ""},
	} {
		b := ofAh(t, c.chem, c.ah)
		if got := (Setup{Battery: b, State: b.Rested(40, 20), Charger: c.on}).Unfit(); got != c.why {
			t.Errorf("%s: %q, want %q", c.what, got, c.why)
		}
	}
}

// The quick way agrees with the forecast, on every kind of charger.
func TestReachOnEveryKind(t *testing.T) {
	b := ofAh(t, battery.Flooded, 60)
	for _, u := range []Unit{{Kind: Smart, Amps: 6}, {Kind: Taper, Amps: 10, Volts: 17}, {Kind: Manual, Amps: 6}, {Kind: Maintainer, Amps: 2}} {
		on := u.Set(b.Chemistry, 6, u.Amps)
		s := Setup{Battery: b, State: b.Rested(30, 20), Charger: on, Room: battery.Ambient{Start: 20}, Ready: 75}
		f, err := s.Forecast(Doubt{})
		must(t, err)
		for to, want := range map[float64]*Hours{75: f.Ready, 100: f.Full} {
			got, err := on.Reach(b, 30, to, 20)
			must(t, err)
			if want == nil || math.Abs(got/want.Best-1) > 0.05 {
				t.Errorf("%s to %g %%: %.2f h, the forecast says %+v", u.Kind, to, got, want)
			}
		}
		if h, err := on.Reach(b, 80, 75, 20); h != 0 || err != nil {
			t.Errorf("%s: there already, and %g h (%v)", u.Kind, h, err)
		}
	}
	// What a charger never brings there takes the most that is looked for.
	weak := Unit{Kind: Manual, Amps: 0.05}.Set(b.Chemistry, 6, 0.05)
	if h, err := weak.Reach(b, 10, 100, 20); err != nil || h != MostHours {
		t.Errorf("%g h (%v)", h, err)
	}
}

// Figures to tap: the forecast's own among five, each a step apart, none below nothing.
func TestPicks(t *testing.T) {
	f := Forecast{
		Curve: []Instant{
			{Minute: 0, Volts: 12.4, Amps: 6},
			{Minute: 60, Volts: 13.4, Amps: 6},
			{Minute: 120, Volts: 14.6, Amps: 0.1},
		},
	}
	for _, c := range []struct {
		minute, volts, amps float64
		picks               []float64
	}{
		{-5, 12.4, 6, []float64{12.2, 12.3, 12.4, 12.5, 12.6}},
		{30, 12.9, 6, []float64{12.7, 12.8, 12.9, 13, 13.1}},
		{120, 14.6, 0.1, []float64{14.4, 14.5, 14.6, 14.7, 14.8}},
		{500, 14.6, 0.1, []float64{14.4, 14.5, 14.6, 14.7, 14.8}},
	} {
		volts, amps := f.Picks(c.minute)
		if volts.Said != c.volts || amps.Said != c.amps || !slices.Equal(volts.Picks, c.picks) {
			t.Errorf("after %g min: %+v, %+v", c.minute, volts, amps)
		}
	}
	for _, c := range []struct {
		amps  float64
		picks []float64
	}{
		{0, []float64{0, 0.1, 0.2, 0.3, 0.4}}, {0.1, []float64{0, 0.1, 0.2, 0.3, 0.4}}, {1, []float64{0.8, 0.9, 1, 1.1, 1.2}},
		{6.4, []float64{5.5, 6, 6.5, 7, 7.5}}, {2.39, []float64{2.2, 2.3, 2.4, 2.5, 2.6}}, {2.4, []float64{2, 2.2, 2.4, 2.6, 2.8}}, {30, []float64{26, 28, 30, 32, 34}},
	} {
		_, got := Forecast{Curve: []Instant{{Amps: c.amps}}}.Picks(0)
		if !slices.Equal(got.Picks, c.picks) || !slices.Contains(got.Picks, got.Said) {
			t.Errorf("%g A: %+v", c.amps, got)
		}
	}
}

// An order of somebody's own is kept: one after the other, on the charger chosen, or
// where it is done first.
func TestOrdered(t *testing.T) {
	all := []Waiting{
		{Due: never, Takes: []float64{60, 120}}, {Due: 100, Takes: []float64{60, 120}},
		{Due: never, Takes: []float64{never, 30}}, {Due: never, Takes: []float64{never, never}},
	}
	places := []Place{{}, {}}
	free := []int{Free, Free, Free, Free}
	p := Ordered(all, places, []int{0, 1, 2}, free)
	if len(p.Hangs) != 3 || p.Hangs[0].Battery != 0 || p.Hangs[0].Place != 0 || p.Kept != 0 || p.Late != 20 ||
		!slices.Equal(p.Left, []int{3}) {
		t.Errorf("%+v", p)
	}
	// The other way round its promise is kept.
	if p := Ordered(all, places, []int{1, 0, 2}, free); p.Kept != 1 || p.Late != 0 {
		t.Errorf("%+v", p)
	}
	// On the charger chosen, and not on one that does not suit; what is left out is left.
	p = Ordered(all, places, []int{1, 2}, []int{Free, 1, 0, Free})
	if p.Hangs[0].Place != 1 || p.Hangs[0].To != 120 || p.Hangs[1].Battery != 2 || p.Hangs[1].Place != 1 ||
		!slices.Equal(p.Left, []int{0, 3}) {
		t.Errorf("%+v", p)
	}
}

func ofAh(t testing.TB, c battery.Chemistry, ah float64) battery.Battery {
	t.Helper()
	b, _, err := battery.FromLabel(c, 6, rating.Label{Ah20h: ah})
	must(t, err)
	return b
}
