package station

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/rating"
	"grapnel/core/reading"
	. "grapnel/core/reading/readingtest"
	"grapnel/core/rules"
)

// says reports whether the ledger has a line of a code, and which of its kind it
// has instead.
func says(c reading.Case, code string) (bool, string) {
	b := put(c)
	kind, _, _ := strings.Cut(code, ".")
	var all []string
	for _, f := range b.Findings {
		if strings.HasPrefix(f.Code, kind+".") {
			all = append(all, f.Code)
		}
	}
	return slices.Contains(all, code), strings.Join(all, " ")
}

// Every threshold of the stations about the battery, from both sides. Lid 0.1 and
// 0.5 V, joints 0.1 and 0.2 V, a path 0.5 or 0.3 V, cranking 9.6 V, a silent
// starter 11.8 V and 20 A, drain 50 or 30 mA after twenty minutes asleep: common
// practice, no source. Cells 0.025 and 0.050 apart: BCI service texts, from memory.
func TestThresholdsAboutTheBattery(t *testing.T) {
	lid := func(v float64) reading.Reading { return reading.Of(LidLeakage, reading.Fields{"volts": v}) }
	crank := func(v float64, more reading.Fields) reading.Reading {
		r := reading.Of(Crank, reading.Fields{"volts_min": v})
		for name, value := range more {
			r = r.With(name, value)
		}
		return r
	}
	drop := func(part string, v float64) reading.Reading {
		return reading.Of(CableDrop, reading.Fields{"path": "live", "part": part, "volts": v, "amps": 150.0})
	}
	drain := func(ma, minutes float64) reading.Reading {
		return reading.Of(Drain, reading.Fields{"milliamps": ma, "minutes_asleep": minutes})
	}
	cells := func(low float64) reading.Reading {
		return reading.Of(Hydrometer, reading.Fields{"cells_sg": []float64{1.265, 1.265, low, 1.265, 1.265, 1.265}, "acid_c": 26.7})
	}
	draws, _ := usual(car())
	slow := func(amps float64) reading.Reading { return crank(10.5, reading.Fields{"amps": amps, "turned": "slow"}) }
	reaches := func(v, amps, live float64) reading.Reading {
		r := crank(v, reading.Fields{"turned": "slow", "drop_live_volts": live, "drop_earth_volts": 0.1})
		if amps > 0 {
			r = r.With("amps", amps)
		}
		return r
	}
	silent := func(v, amps float64) reading.Reading {
		return crank(v, reading.Fields{"amps": amps, "turned": "no"})
	}
	spread := func(ma float64) float64 { return 2 * math.Hypot(drainFloor, drainPart*ma) }
	over := 50.0 // the least that is surely over 50 mA, worked out by steps
	for over-spread(over) <= 50 {
		over += 0.1
	}
	for _, c := range []struct {
		name string
		r    reading.Reading
		want string
	}{
		{"lid under a tenth", lid(0.099), "lid_leakage.clean"},
		{"lid at a tenth", lid(0.1), "lid_leakage.some"},
		{"lid under half", lid(0.499), "lid_leakage.some"},
		{"lid at half", lid(0.5), "lid_leakage.film"},
		{"cranks at the limit", crank(9.6, nil), "crank.holds"},
		{"cranks under it", crank(9.59, nil), "crank.sags"},
		{"slow on good volts, usual draw, high", reaches(9.6, draws.High, 0.5), "crank.slow"},
		{"slow on good volts, usual draw, low", reaches(9.6, draws.Low, 0.5), "crank.slow"},
		{"slow on good volts, draw not read", reaches(9.6, 0, 0.5), "crank.slow"},
		{"silent", silent(11.8, 19), "crank.silent"},
		{"slow, draws too much", slow(draws.High + 1), "crank.drags"},
		{"slow, draws too little", slow(draws.Low - 1), "crank.starved"},
		{"joint carries", drop("joint", 0.1), "cable_drop.fine"},
		{"joint watched", drop("joint", 0.11), "cable_drop.some"},
		{"joint still watched", drop("joint", 0.2), "cable_drop.some"},
		{"joint bad", drop("joint", 0.21), "cable_drop.over"},
		{"cable bad", drop("cable", 0.21), "cable_drop.over"},
		{"path carries", drop("whole", 0.5), "cable_drop.fine"},
		{"path does not", drop("whole", 0.51), "cable_drop.over"},
		{"drain usual", drain(50, 20), "drain.fine"},
		{"drain at the meter's error", drain(over-0.1, 20), "drain.near"},
		{"drain over", drain(over, 20), "drain.over"},
		{"drain not asleep", drain(over, 19.9), "drain.awake"},
		{"cells even", cells(1.241), "hydrometer.even"},
		{"cell watched", cells(1.240), "hydrometer.watch_cell"},
		{"cell still watched", cells(1.216), "hydrometer.watch_cell"},
		{"cell failing", cells(1.215), "hydrometer.failing_cell"},
	} {
		if ok, got := says(car(c.r), c.want); !ok {
			t.Errorf("%s: %s, want %s", c.name, got, c.want)
		}
	}
	for name, r := range map[string]reading.Reading{"silent at 11.79 V": silent(11.79, 19), "silent at 20 A": silent(11.8, 20),
		"turns": crank(11.8, reading.Fields{"amps": 19.0, "turned": "slow"})} {
		if ok, got := says(car(r), "crank.silent"); ok {
			t.Errorf("%s: %s", name, got)
		}
	}
	for name, r := range map[string]reading.Reading{"poor volts": reaches(9.59, 0, 0.1), "a bad path": reaches(9.6, 0, 0.51),
		"one path not read": reaches(9.6, 0, 0.1).With("drop_earth_volts", nil), "too much": reaches(9.6, draws.High+1, 0.1),
		"too little": reaches(9.6, draws.Low-1, 0.1), "turned well": reaches(9.6, 0, 0.1).With("turned", "normal")} {
		if ok, got := says(car(r), "crank.slow"); ok {
			t.Errorf("%s: %s", name, got)
		}
	}
	for name, r := range map[string]reading.Reading{"usual draw, high": slow(draws.High), "usual draw, low": slow(draws.Low)} {
		if _, got := says(car(r), "crank.drags"); strings.Contains(got, "drags") || strings.Contains(got, "starved") {
			t.Errorf("%s: %s", name, got)
		}
	}
	// On 6 V the limits are half, and a mower's drain is a simple vehicle's.
	six := func(r reading.Reading) reading.Case {
		c := car(r)
		c.Vehicle.SystemVolts = 6
		return c
	}
	mower := car(drain(40, 30))
	mower.Vehicle.Class = "mower"
	mower.Rules = rules.Default()
	for _, c := range []struct {
		c    reading.Case
		want string
	}{{six(lid(0.25)), "lid_leakage.film"}, {six(lid(0.24)), "lid_leakage.some"}, {six(crank(4.8, nil)), "crank.holds"},
		{six(crank(4.79, nil)), "crank.sags"}, {six(drop("whole", 0.25)), "cable_drop.fine"}, {six(drop("whole", 0.26)), "cable_drop.over"},
		{mower, "drain.over"}, {car(drain(40, 30)), "drain.fine"}} {
		if ok, got := says(c.c, c.want); !ok {
			t.Errorf("%v: %s, want %s", c.c.Readings, got, c.want)
		}
	}
}

// Charging at 25 °C: 13.5 to 14.8 V, beyond the meter's error a fault; under 12.9 V
// nothing charges; an idling engine says little. The range moves by −21 mV per °C:
// by hand 40 °C warmer is 0.84 V lower. Range common practice, no source; slope
// published, from memory.
func TestChargingThresholds(t *testing.T) {
	at := func(temp, volts float64, speed string) reading.Case {
		c := car(reading.Of(Charging, reading.Fields{"volts": volts, "speed": speed, "loads": "on"}))
		c.Conditions = reading.Conditions{AmbientC: Num(temp), BatteryC: Num(temp)}
		return c
	}
	e := battery.MeterError(14.8)
	low := battery.MeterError(13.5)
	for _, c := range []struct {
		temp, volts float64
		speed, want string
	}{
		{25, 14.8, "raised", "charging.fine"}, {25, 14.81, "raised", "charging.high"}, {25, 14.8 + e - 0.005, "raised", "charging.high"},
		{25, 14.8 + e + 0.005, "raised", "charging.over"}, {25, 13.5, "raised", "charging.fine"}, {25, 13.49, "raised", "charging.lowish"},
		{25, 13.5 - low + 0.005, "raised", "charging.lowish"}, {25, 13.5 - low - 0.005, "raised", "charging.under"},
		{25, 13.5 - low - 0.005, "idle", "charging.low_idle"}, {25, 12.9, "raised", "charging.under"}, {25, 12.89, "raised", "charging.none"},
		{-15, 15.6, "raised", "charging.fine"}, {-15, 15.65, "raised", "charging.high"}, {65, 13.9, "raised", "charging.fine"},
		{65, 14.1, "raised", "charging.over"}, {65, 12.7, "raised", "charging.fine"},
	} {
		if ok, got := says(at(c.temp, c.volts, c.speed), c.want); !ok {
			t.Errorf("%g V at %g °C, %s: %s, want %s", c.volts, c.temp, c.speed, got, c.want)
		}
	}
}

// What stays at the edge of its limits twice settles the question; once, or idling before,
// it does not.
func TestChargingAtTheEdgeAgain(t *testing.T) {
	r := func(volts float64, speed string) reading.Reading {
		return reading.Of(Charging, reading.Fields{"volts": volts, "speed": speed, "loads": "on"})
	}
	for _, c := range []struct {
		name    string
		rs      []reading.Reading
		settled bool
	}{
		{"high once", []reading.Reading{r(14.82, "raised")}, false},
		{"high twice", []reading.Reading{r(14.82, "raised"), r(14.82, "raised")}, true},
		{"low once", []reading.Reading{r(13.49, "raised")}, false},
		{"low twice", []reading.Reading{r(13.49, "raised"), r(13.49, "raised")}, true},
		{"low after idling", []reading.Reading{r(13.49, "idle"), r(13.49, "raised")}, false},
		{"low, then idling", []reading.Reading{r(13.49, "raised"), r(13.49, "idle")}, false},
	} {
		made := car(c.rs...)
		made.Conditions = reading.Conditions{AmbientC: Num(25), BatteryC: Num(25)}
		if b := put(made); b.Settled(Charging) != c.settled || len(b.Faults) > 0 {
			t.Errorf("%s: settled %t, faults %v", c.name, b.Settled(Charging), b.Faults)
		}
	}
}

// A worked example of a handbook's kind: 1.230 read at 5 °C is 0.0007 × 21.7 less,
// 1.215 at 26.7 °C; read at 43 °C it is 1.241. Corrected once: a tester that has
// done it is not corrected again. BCI correction, from memory.
func TestGravityIsCorrectedOnce(t *testing.T) {
	mean := func(temp float64, corrected bool) float64 {
		r := reading.Of(Hydrometer, reading.Fields{"cells_sg": []float64{1.23, 1.23, 1.23, 1.23, 1.23, 1.23}, "acid_c": temp, "corrected": corrected})
		return put(car(r)).Acid.Cells[0]
	}
	for _, c := range []struct {
		temp float64
		done bool
		want float64
	}{{5, false, 1.215}, {43, false, 1.241}, {26.7, false, 1.230}, {5, true, 1.230}} {
		if got := mean(c.temp, c.done); math.Abs(got-c.want) > 0.001 {
			t.Errorf("1.230 at %g °C, corrected %v: %.4f, want %.3f", c.temp, c.done, got, c.want)
		}
	}
}

// Load limits of the table, by hand between its rows: 9.6 V from 21 °C, 9.4 at 10,
// 9.1 at −1, 8.7 at −12, 8.5 at −18. BCI load test table, from memory.
func TestLoadLimitsOfTheTable(t *testing.T) {
	for temp, want := range map[float64]float64{30: 9.6, 21.1: 9.6, 10: 9.4, -1.1: 9.1, -12.2: 8.7, -17.8: 8.5} {
		if got := rating.LoadTestLimit(12, temp); math.Abs(got-want) > 0.005 {
			t.Errorf("%g °C: %.3f V, want %.1f", temp, got, want)
		}
	}
}

// Days of a drain by hand: 50 mA takes 1.2 Ah a day; from full to half of 60 Ah are
// 30 Ah, 25 days, a little less with what it loses by itself.
func TestDrainDaysByHand(t *testing.T) {
	for _, c := range []struct{ ah, ma, days float64 }{{60, 50, 25}, {60, 500, 2.5}, {12, 10, 25}, {70, 30, 48.6}} {
		got := battery.DaysUnder(battery.Flooded, c.ah, 100, 50, c.ma, 21)
		if got > c.days+1e-9 || got < 0.85*c.days {
			t.Errorf("%g mA from %g Ah: %.1f days, by hand %.1f without self-discharge", c.ma, c.ah, got, c.days)
		}
	}
}

// Fuse by fuse: the one whose branch carries the drain is named; a fuse out must be
// named, and comes first once there is something to look for.
func TestFuseByFuse(t *testing.T) {
	asleep := reading.Of(Drain, reading.Fields{"milliamps": 180.0, "minutes_asleep": 30.0})
	out := func(ma float64) reading.Reading {
		return reading.Of(Drain, reading.Fields{"milliamps": ma, "fuse": "F7"})
	}
	least := 2 * math.Hypot(drainFloor, drainPart*180)
	for ma, want := range map[float64]string{22: "drain.branch", 180 - least - 0.1: "drain.branch", 180 - least + 0.1: "drain.fuse", 200: "drain.fuse"} {
		if ok, got := says(car(asleep, out(ma)), want); !ok {
			t.Errorf("%g mA without the fuse: %s, want %s", ma, got, want)
		}
	}
	if ok, got := says(car(out(22)), "drain.fuse"); !ok {
		t.Errorf("nothing to compare with: %s", got)
	}
	ways := func(rs ...reading.Reading) string {
		a := adviseDrain(put(car(rs...)))
		need := ""
		for _, w := range a.Ways {
			for _, f := range w.Fields {
				if f.Need {
					need += " " + w.Code + " needs " + f.Name
				}
			}
		}
		return a.Ways[0].Code + need
	}
	if got := ways(); got != "asleep fuse needs fuse" {
		t.Error(got)
	}
	if got := ways(asleep); got != "fuse fuse needs fuse" {
		t.Error(got)
	}
	b := put(car(asleep, out(22)))
	if f, ok := b.Fault(FaultDrain); !ok || !f.Found || !strings.Contains(fmt.Sprint(f.Name), "F7") {
		t.Errorf("the branch is not kept: %+v", f)
	}
	st, _ := Of(Drain)
	if st.Shows(out(22)) || !st.Shows(asleep) {
		t.Error("the station's figure is of a fuse")
	}
}

// The classes of vehicle that may have rules of their own are those of the format.
func TestClassesAgree(t *testing.T) {
	for _, class := range reading.Classes().Codes() {
		if _, ok := rules.Shape(false).Fields["by_class"].Fields[class]; !ok {
			t.Errorf("no rules of its own for %s", class)
		}
	}
	if n := len(rules.Shape(false).Fields["by_class"].Fields); n != len(reading.Classes().Codes()) {
		t.Errorf("%d classes in the rules", n)
	}
}

// Whoever cleans is told what to do first: put right while a fault stands, clean
// while a contact is bad, and what a hazard asks before both.
func TestCleanBeginsWithWhatIsNeeded(t *testing.T) {
	fault := reading.Of(Charging, reading.Fields{"volts": 12.0, "speed": "raised", "loads": "on"})
	for want, rs := range map[string][]reading.Reading{
		LidLeakage:     {},
		PutRight:       {fault},
		Cleaned:        {fault, looked("loose_clamp")},
		PutRight + " ": {fault, looked("loose_clamp"), looked("loose_clamp", "rotten_egg_smell")},
	} {
		a := adviseClean(put(car(rs...)))
		if got := a.Ways[0].Code; got != strings.TrimSpace(want) || len(a.Ways) != 3 {
			t.Errorf("%v: %s first, want %s", rs, got, want)
		}
		if held := strings.HasSuffix(want, " "); held != (a.Level == bench.Act && strings.Contains(fmt.Sprint(a.Text), "smells")) {
			t.Errorf("%v: %s", rs, a.Text)
		}
	}
}

// Each complaint asks what matters for it, and each answer says what any technician
// draws from it. Common practice, no source.
func TestInterview(t *testing.T) {
	asked := map[string]string{"": "used", "dead_silent": "dash used stood_hours", "rapid_click": "dash used stood_hours",
		"slow_crank": "came used stood_c", "cold_only": "came used stood_c", "after_standing": "used stood_hours stood_c",
		"warning_lights": "came used", "lights_left_on": "used"}
	for complaint, want := range asked {
		c := car()
		if complaint != "" {
			c.Complaint = []string{complaint}
		}
		hidden := map[string]bool{}
		for _, f := range adviseArrive(put(c)).Ways[0].Fields {
			hidden[f.Name] = f.Hidden
		}
		var got []string
		k, _ := KindOf(Interview)
		for _, f := range k.Fields {
			if !hidden[f.Name] {
				got = append(got, f.Name)
			}
		}
		if strings.Join(got, " ") != want {
			t.Errorf("%q: asks %v, want %s", complaint, got, want)
		}
	}
	for answer, want := range map[string]string{"dash bright": "interview.bright", "dash dims": "interview.dims", "dash dark": "interview.dark",
		"came suddenly": "interview.suddenly", "came by_degrees": "interview.by_degrees", "used short": "interview.short_trips",
		"used stored": "interview.stored", "used daily": "", "used weekly": ""} {
		field, word, _ := strings.Cut(answer, " ")
		if _, got := says(car(reading.Of(Interview, reading.Fields{field: word})), want); got != want {
			t.Errorf("%s: %q, want %q", answer, got, want)
		}
	}
}

// A load whose amps nobody noted says nothing, and says why.
func TestLoadsThatSayNothing(t *testing.T) {
	for says, r := range map[string]reading.Reading{
		"amps were not noted": reading.Of(LoadTest, reading.Fields{"method": Fixed10s, "volts_end": 8.0, "seconds": 10.0}),
		"the load was not on": reading.Of(LoadTest, reading.Fields{"method": HalfCCA, "volts_end": 12.4, "amps": 325.0, "seconds": 15.0}),
	} {
		b := put(car(rest(12.65), r))
		if b.Load.Result != bench.Silent || !strings.Contains(b.Load.Mute.String(), says) {
			t.Errorf("%v: %v %s, want silent: %s", r, b.Load.Result, b.Load.Mute, says)
		}
	}
	// The strongest that is still believed: 1.6 times as strong as its label.
	at := func(volts float64) bench.Outcome {
		return put(car(rest(12.65), reading.Of(LoadTest, reading.Fields{"method": HalfCCA, "volts_end": volts, "amps": 325.0, "seconds": 15.0}))).Load.Result
	}
	if at(11.4) != bench.Held || at(11.7) != bench.Silent {
		t.Errorf("11.4 V is %v, 11.7 V is %v", at(11.4), at(11.7))
	}
}

// Crust at the + post hints at overcharging and at the − post at undercharging,
// whichever of them the vehicle earths. Common practice, no source.
func TestCrustByItsPost(t *testing.T) {
	for _, c := range []struct {
		earth, want string
		found       []string
	}{
		{"", "live clamp, the + post: perhaps overcharged", []string{"corrosion_live"}},
		{"negative", "earthed clamp, the − post: perhaps undercharged", []string{"corrosion_earth"}},
		{"positive", "live clamp, the − post: perhaps undercharged", []string{"corrosion_live"}},
		{"positive", "earthed clamp, the + post: perhaps overcharged", []string{"corrosion_earth"}},
		{"positive", "both clamps. Look", []string{"corrosion_live", "corrosion_earth"}},
		{"negative", "both clamps. Look", []string{"corrosion_live", "corrosion_earth"}},
	} {
		made := car(reading.Of(Inspection, reading.Fields{"found": c.found}))
		made.Vehicle.Earth = c.earth
		if f := finding(t, made, "inspection.crust"); !strings.Contains(f.Text.String(), c.want) {
			t.Errorf("%s earth, %v: %s", c.earth, c.found, f.Text)
		}
	}
}

// What the form needs of the trade it is told: how many cells, from what spread one
// stands out (0.025, published, BCI service texts, from memory), how long modules may
// take to sleep, and which findings answer the question of every job with no.
func TestTheFormIsTold(t *testing.T) {
	for volts, cells := range map[float64]int{12: 6, 8: 4, 6: 3} {
		c := car()
		c.Vehicle.SystemVolts = volts
		fields := adviseAcid(put(c)).Ways[0].Fields
		if f := fields[len(fields)-1]; f.Name != "cells_sg" || f.Count != cells || f.Apart != 0.025 {
			t.Errorf("%g V: %+v", volts, f)
		}
	}
	if ways := adviseDrain(put(car())).Ways; ways[0].Asleep != 20 || ways[1].Asleep != 0 {
		t.Errorf("asleep after %g min, fuse by fuse %g", ways[0].Asleep, ways[1].Asleep)
	}
	no := map[string]string{}
	for _, term := range asked.Terms() {
		for _, code := range term.Against {
			no[code] = term.Code
			if found.Word(code) == "" {
				t.Errorf("%s is against %s, and is no finding", code, term.Code)
			}
		}
	}
	for _, h := range hazardsSeen {
		if h.stops && no[h.found] == "" || h.found == "rotten_egg_smell" && no[h.found] != "no_smell" {
			t.Errorf("%s answers no part of the question", h.found)
		}
	}
}

// Before it is hung on, the amps of every rate stand beside the figure, the house's first.
// By hand: a tenth of 28 Ah is 2.8, to the half 2.5 A; fast a fifth, 5.5 A.
func TestRatesOfACharge(t *testing.T) {
	hint := func(rate string, printed *float64) string {
		c := Car()
		ah := 28.0
		c.Battery.Rating = reading.Rating{Ah20h: &ah, ChargeAmps: printed}
		c.Rules = rules.Default()
		c.Rules.ChargeRate = rate
		for _, w := range adviseCharge(Put(c, Labels)).Ways {
			if w.Code == OnCharger && len(w.Fields) == 1 {
				return w.Fields[0].Hint.String()
			}
		}
		return ""
	}
	three := 3.0
	for _, c := range []struct {
		rate    string
		printed *float64
		want    string
	}{
		{rules.RateTenth, nil, "A tenth of its Ah: 2.5 A. Fast, watched: 5.5 A"},
		{rules.RateLabel, nil, "A tenth of its Ah: 2.5 A. Fast, watched: 5.5 A"},
		{rules.RateLabel, &three, "As the label says: 3 A. A tenth of its Ah: 2.5 A. Fast, watched: 5.5 A"},
		{rules.RateFast, &three, "Fast, watched: 5.5 A. As the label says: 3 A. A tenth of its Ah: 2.5 A"},
	} {
		if got := hint(c.rate, c.printed); got != c.want {
			t.Errorf("house %s, printed %v: %q", c.rate, c.printed, got)
		}
	}
}
