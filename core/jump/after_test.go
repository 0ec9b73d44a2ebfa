package jump

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"grapnel/core/battery"
)

// By hand: an alternator with 60 − 22 = 38 A to spare puts at most 38·0.25 = 9.5 Ah into
// a battery in a quarter of an hour, of 90 Ah 10.6 %; in the cold less. It is often about
// a tenth of the battery. Common practice, no source.
func TestQuarterOfAnHour(t *testing.T) {
	back := func(edits ...string) float64 {
		return planned(t, decoded(t, append([]string{"flat.alternator_amps", "60", "flat.soc_pct", "10"}, edits...)...)).PutBack
	}
	if got := back("flat.battery_c", "20"); got < 7 || got > 10.6 {
		t.Errorf("warm %.1f %%", got)
	}
	last := math.Inf(1)
	for _, c := range []string{"25", "10", "0", "-8"} {
		got := back("flat.battery_c", c)
		if got > last+0.5 || got <= 0 {
			t.Errorf("%s °C puts back %.2f %%, warmer %.2f", c, got, last)
		}
		last = got
	}
	if fuller := back("flat.battery_c", "20", "flat.soc_pct", "80"); fuller >= back("flat.battery_c", "20") {
		t.Errorf("a fuller battery takes %.1f %%", fuller)
	}
	// A mower's coil gives 3 to 16 A: fifteen minutes are about an ampere-hour.
	mower := planned(
		t,
		decoded(
			t,
			"flat.vehicle.class",
			`"mower"`,
			"flat.vehicle.fuel",
			petrol,
			"flat.engine.litres",
			"0.5",
			"flat.battery.rating",
			`{"cca": 300, "ah_20h": 28}`,
			"flat.battery_c",
			"15",
		),
	)
	if ah := mower.PutBack / 100 * 28; ah < 0.5 || ah > 3.5 {
		t.Errorf("a mower's coil puts back %.1f Ah", ah)
	}
	if none := back("flat.alternator_amps", "20"); none != 0 {
		t.Errorf("an alternator that its loads eat up puts back %g %%", none)
	}
}

// A longer drive puts back more, a fuller battery restarts, and what is said follows.
func TestDriveHome(t *testing.T) {
	after := func(edits ...string) *After { return planned(t, decoded(t, edits...)).After }
	short, long := after("drive_minutes", "10"), after("drive_minutes", "90")
	if short.PutBackPct >= long.PutBackPct || short.FullHours <= long.FullHours || short.DriveMinutes != 10 {
		t.Errorf("%+v and %+v", short, long)
	}
	if p := planned(t, decoded(t)); p.After.PutBackPct != math.Round(p.PutBack*10)/10 {
		t.Errorf("the quarter %g, the drive of a quarter %g", p.PutBack, p.After.PutBackPct)
	}
	saying := func(a *After) string {
		for _, w := range a.Say {
			if w.Code == "restart" {
				return w.Text.String()
			}
		}
		return ""
	}
	for _, c := range []struct {
		want  string
		edits []string
	}{
		{"not even warm", []string{"flat.soc_pct", "2", "flat.battery_c", "-8", "drive_minutes", "1"}},
		{"tomorrow morning, it does not", []string{"flat.soc_pct", "25", "flat.battery_c", "-15", "drive_minutes", "10"}},
		{"also after days", []string{"flat.soc_pct", "70", "flat.battery_c", "10", "drive_minutes", "60"}},
		{"for about", []string{"flat.soc_pct", "60", "flat.battery_c", "10", "drain_ma", "400"}},
	} {
		a := after(c.edits...)
		if !strings.Contains(saying(a), c.want) {
			t.Errorf("%v: %s (%+v)", c.edits, saying(a), a)
		}
		if a.Cold && !a.Warm || !a.Cold && a.Days > 0 {
			t.Errorf("%v: %+v", c.edits, a)
		}
	}
	for _, code := range []string{"charging_volts", "put_back", "prove", "charger", "why_flat"} {
		found := false
		for _, w := range short.Say {
			found = found || w.Code == code && !w.Text.IsZero()
		}
		if !found {
			t.Errorf("nothing is said of %s", code)
		}
	}
}

// Days under a drain are those of the battery's own account, down to the charge that just
// turns the engine.
func TestDaysStartable(t *testing.T) {
	r := decoded(t, "flat.soc_pct", "70", "drain_ma", "60")
	s, err := r.scene(labels)
	if err != nil {
		t.Fatal(err)
	}
	least := s.least()
	if v := s.alone(least); v < s.goal() || s.alone(least-2) >= s.goal() {
		t.Errorf("at %g %% it reaches %g, at %g %% %g, and needs %g", least, v, least-2, s.alone(least-2), s.goal())
	}
	p := planned(t, r)
	if want := battery.DaysUnder(battery.Flooded, 90, p.After.SOCPct, least, 60, 0); math.Abs(p.After.Days-want) > 1 {
		t.Errorf("%g days, want %g", p.After.Days, want)
	}
	if more := planned(t, decoded(t, "flat.soc_pct", "70", "drain_ma", "120")); more.After.Days >= p.After.Days {
		t.Errorf("twice the drain leaves %g days", more.After.Days)
	}
	// Startable from both sides of the margin.
	for off, want := range map[float64]bool{-0.2: false, 0.2: true} {
		soc := least + startMargin + off
		a := planned(t, decoded(t, "flat.soc_pct", fmt.Sprint(soc), "flat.alternator_amps", "10")).After
		if a.Cold != want {
			t.Errorf("at %g %%, %+g of the margin: %+v", soc, off, a)
		}
	}
	if worn, err := decodedScene(t, "flat.health_pct", "20", "flat.battery_c", "-18", "flat.soc_pct", "90"); err != nil ||
		!math.IsInf(worn.least(), 1) {
		t.Errorf("a worn one starts from %g %%", worn.least())
	}
}

func decodedScene(t testing.TB, edits ...string) (scene, error) {
	r := decoded(t, edits...)
	return r.scene(labels)
}

// The hours on a charger are those of the charger's own forecast, within a tenth or so.
func TestFullHours(t *testing.T) {
	s, err := decodedScene(t)
	if err != nil {
		t.Fatal(err)
	}
	for _, soc := range []float64{10, 40, 75} {
		got := s.fill(soc)
		want := reach(t, s.flat, soc)
		if math.Abs(got-want) > 0.12*want+0.5 {
			t.Errorf("from %g %%: %.1f h, by the charger's forecast %.1f", soc, got, want)
		}
	}
}
