package assess

import (
	"fmt"
	"math"
	"strings"
	"testing"
	"time"

	"grapnel/core/charge"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/words"
)

// What comes next is charging, and it hangs on no charger: it waits for one. A battery
// that stops, hangs, or is charged enough does not.
func TestForCharge(t *testing.T) {
	flat := car(rest(12.1))
	a := Glance(flat, readingtest.Labels)
	if a.Charge == nil || a.Charge.SOC < 30 || a.Charge.SOC > 65 || a.Charge.Amps <= 0 {
		t.Fatalf("%+v", a.Charge)
	}
	for name, c := range map[string]reading.Case{
		"full": car(rest(12.7)), "hung": car(when(-30, at(50)), hungOn(0, 6)), "leaking": car(rest(12.1), inspected("leaking")),
		"hot": car(when(-30, at(50)), hungOn(0, 6), looked(30, 13.1, 6, "hot")),
	} {
		if a := Glance(c, readingtest.Labels); a.Charge != nil {
			t.Errorf("%s: waits for a charger", name)
		}
	}
	// A charger's switch is put to the house's rate; its time is the model's, to five
	// minutes, and a charger that is not for it takes for ever.
	six := charge.Unit{Name: "6", Kind: charge.Smart, Amps: 20, Rates: []float64{2, 6, 20}}
	if got := a.Charge.On(six).AmpsMax; got != six.At(a.Charge.Amps) || got != 6 && got != 2 {
		t.Errorf("set to %g A", got)
	}
	minutes := a.Charge.Minutes(six)
	hours, err := a.Charge.On(six).Reach(a.Charge.Setup.Battery, a.Charge.SOC, 100, a.Charge.Setup.State.TempC)
	if err != nil || minutes < 60*hours || minutes > 60*hours+5 || math.Mod(minutes, 5) != 0 {
		t.Errorf("%g min, the model %g h (%v)", minutes, hours, err)
	}
	for _, u := range []charge.Unit{{Kind: charge.Trickle, Amps: 2}, {Kind: charge.Smart, Amps: 300}, {Kind: charge.Smart, Amps: 0.1}, {Kind: charge.Smart, Amps: 6, Volts: 28.8}} {
		if got := a.Charge.Minutes(u); !math.IsInf(got, 1) {
			t.Errorf("%+v: %g min", u, got)
		}
	}
}

// What a plan says of the battery of a case: its time, its order for this vehicle, and
// every hazard on the bench refuses it.
func TestPlanCharge(t *testing.T) {
	on := Hang{Charger: charge.SmartAt(6)}
	plan := func(c reading.Case, h Hang) charge.Plan {
		t.Helper()
		p, ok, err := PlanCharge(c, readingtest.Labels, h, words.Voice{})
		if err != nil || !ok {
			t.Fatal(ok, err)
		}
		return p
	}
	p := plan(car(rest(12.1)), on)
	if !p.Allowed || p.TestReadyHours == nil || *p.TestReadyHours <= 0 || len(p.Curve) < 50 || len(p.Connect) != 5 ||
		p.Connect[1].Side != "" {
		t.Errorf("%+v", p)
	}
	c := car(rest(12.1))
	c.Vehicle.Earth = "positive"
	if p := plan(c, Hang{Charger: on.Charger, InVehicle: true, OnBody: true}); p.Connect[1].Place != "minus" ||
		p.Connect[1].Side != "live" ||
		p.Connect[2].Place != "body" ||
		p.Disconnect[1].Place != "body" {
		t.Errorf("positive earth: %+v", p.Connect)
	}
	for code, c := range map[string]reading.Case{
		"leaking": car(rest(12.1), inspected("leaking")), "case_bulged": car(inspected("case_bulged")), "plates_dry": car(inspected("plates_dry")),
		"frozen": readingtest.Car(inspected("frozen")), "rotten_egg_smell": readingtest.Car(inspected("rotten_egg_smell")),
		"hot": car(when(-30, at(50)), hungOn(0, 6), looked(30, 13.1, 6, "hot")),
	} {
		p := plan(c, on)
		found := false
		for _, r := range p.Refusals {
			found = found || r.Code == code && r.Text.String() != ""
		}
		if p.Allowed || !found || len(p.Curve) > 0 {
			t.Errorf("%s: %+v", code, p.Refusals)
		}
	}
	eye := car(rest(12.1), reading.Of(station.Eye, reading.Fields{"colour": "clear"}))
	eye.Battery.Eye = true
	if p := plan(eye, on); p.Allowed || p.Refusals[0].Code != "clear_eye" {
		t.Errorf("clear eye: %+v", p)
	}
	// Flat for months it first takes nothing; flat since yesterday it takes current.
	long, short := car(rest(10.8).With("minutes_since_charge", 200*1440)), car(rest(10.8).With("minutes_since_charge", 1440))
	if a, b := plan(long, on), plan(short, on); a.DelayHours <= b.DelayHours {
		t.Errorf("flat for 200 days it waits %g h, for a day %g h", a.DelayHours, b.DelayHours)
	}
	// The house charges out of the vehicle: said where it is charged in it.
	c = car(rest(12.1))
	c.Rules = rules.Default()
	c.Rules.ChargePlace = rules.ChargeOnBench
	says := func(p charge.Plan, code string) bool {
		for _, w := range p.Warnings {
			if w.Code == code {
				return true
			}
		}
		return false
	}
	if !says(plan(c, Hang{Charger: on.Charger, InVehicle: true}), "take_out") || says(plan(c, on), "take_out") {
		t.Error("the house's place is not minded")
	}
	bare := car(rest(12.1))
	bare.Battery.Rating = reading.Rating{}
	if _, ok, err := PlanCharge(bare, readingtest.Labels, on, words.Voice{}); ok || err != nil {
		t.Errorf("of no label: %t, %v", ok, err)
	}
}

// bankOf is a bank at eight with chargers that are free at some minutes, and what waits.
func bankOf(free []float64, waiting ...BankWaiting) Bank {
	b := Bank{Now: morning, Waiting: waiting}
	for i, f := range free {
		c := BankCharger{Unit: charge.Unit{Name: fmt.Sprint(i + 1)}}
		if f > 0 {
			c.Free = morning.Add(span(f))
		}
		b.Chargers = append(b.Chargers, c)
	}
	return b
}

// promised is a battery that is promised some minutes after eight, 0 for not.
func promised(key string, due float64, takes ...float64) BankWaiting {
	w := BankWaiting{Key: key, Tag: key, Minutes: takes}
	if due > 0 {
		at := morning.Add(span(due))
		w.Promised = &at
	}
	return w
}

// bankSays is a plan in short: each battery with its charger, its times and the reason.
func bankSays(b Bank) string {
	p := b.Planned()
	var out []string
	for _, r := range p.Rows {
		if r.Charger == charge.Free {
			out = append(out, fmt.Sprintf("%s nowhere: %s", b.Waiting[r.Waiting].Key, r.Why))
			continue
		}
		out = append(
			out,
			fmt.Sprintf(
				"%s on %s %s-%s: %s",
				b.Waiting[r.Waiting].Key,
				b.Chargers[r.Charger].Unit.Name,
				r.From.Format("15:04"),
				r.To.Format("15:04"),
				r.Why,
			),
		)
	}
	return fmt.Sprintf("%d of %d, first come %d. ", p.Kept, p.Promises, p.FirstCome) + strings.Join(out, " ")
}

// By hand: one charger, three batteries of two hours; the one promised for ten goes
// first though it came last.
func TestBank(t *testing.T) {
	never := math.Inf(1)
	three := []BankWaiting{promised("a", 0, 120), promised("b", 245, 120), promised("c", 120, 120)}
	b := bankOf([]float64{0}, three...)
	want := "2 of 2, first come 1. c on 1 08:00-10:00: Its promise is kept with 0 min to spare. b on 1 10:00-12:00: Its promise is kept with 5 min to spare. " +
		"a on 1 12:00-14:00: The only charger that suits it."
	if got := bankSays(b); got != want {
		t.Errorf("%s\nwant %s", got, want)
	}
	// Somebody's own order is kept, though it keeps less, and what came since is added.
	b.Order = []Chosen{{"b", charge.Free}, {"gone", charge.Free}, {"a", 0}}
	want = "1 of 2, first come 1. b on 1 08:00-10:00: Its promise is kept with 2.1 h to spare. a on 1 10:00-12:00: Put there by hand. c on 1 12:00-14:00: 4 h late in this order."
	if got := bankSays(b); got != want {
		t.Errorf("%s\nwant %s", got, want)
	}
	if p := b.Planned(); !p.Own || p.Best != 2 || p.BestLate != 0 || p.Late != 240 {
		t.Errorf("%+v", p)
	}
	// A charger chosen that does not suit is none; what no charger suits stands last.
	b = bankOf([]float64{0, 30}, promised("a", 0, never, 60), promised("b", 0, never, never), promised("c", 100, 60, 60))
	b.Order = []Chosen{{"c", 1}, {"a", 0}}
	want = "1 of 1, first come 1. c on 2 08:30-09:30: Put there by hand. a on 2 09:30-10:30: The only charger that suits it. b nowhere: No charger here suits its build and size."
	if got := bankSays(b); got != want {
		t.Errorf("%s\nwant %s", got, want)
	}
	// It rests, or warms, before it is hung; late at best; a charger that never comes free.
	rests, warms, late := promised("rests", 0, 60, 300), promised("warms", 0, 300, 60), promised("late", 30, 300, 60)
	rests.From, warms.From, warms.Warming = morning.Add(span(30)), morning.Add(span(90)), true
	b = bankOf([]float64{0, 0}, rests, warms, late)
	want = "0 of 1, first come 0. late on 2 08:00-09:00: 30 min late, at best. rests on 1 08:30-09:30: It rests first. warms on 2 09:30-10:30: Cold: it warms up first."
	if got := bankSays(b); got != want {
		t.Errorf("%s\nwant %s", got, want)
	}
	b = bankOf([]float64{0}, promised("a", 0, 60))
	b.Chargers[0].Never = true
	if got := bankSays(b); got != "0 of 0, first come 0. a nowhere: What would suit it is taken, and nobody knows for how long." {
		t.Error(got)
	}
	if got := bankSays(bankOf(nil, promised("a", 0))); got != "0 of 0, first come 0. a nowhere: There is no charger yet." {
		t.Error(got)
	}
	// Everything here is too small for it.
	small := promised("a", 0, never)
	small.Need = *Glance(car(rest(12.1)), readingtest.Labels).Charge
	b = bankOf([]float64{0}, small)
	b.Chargers[0].Unit = charge.Unit{Kind: charge.Maintainer, Amps: 0.2}
	if got := bankSays(b); got != "0 of 0, first come 0. a nowhere: Every charger here is too small for it." {
		t.Error(got)
	}
	// A charge that frees its charger later than now; one that is full already frees it now.
	b = bankOf([]float64{45}, promised("a", 0, 60))
	if r := b.Planned().Rows[0]; !r.From.Equal(morning.Add(45*time.Minute)) || r.Takes != 60 {
		t.Errorf("%+v", r)
	}
	if b.Chargers[0].Free = morning.Add(-time.Hour); !b.Planned().Rows[0].From.Equal(morning) {
		t.Error("hung before now")
	}
}

// How long it warms is told of a battery known to be colder than is enough, in a room that
// warms it so far.
func TestWarming(t *testing.T) {
	at := func(battery, room float64) reading.Case {
		c := car(rest(12.1))
		c.Conditions = reading.Conditions{AmbientC: &room, BatteryC: &battery}
		return c
	}
	for _, c := range []struct {
		battery, room float64
		ok            bool
	}{{-8, 20, true}, {14.9, 20, true}, {15, 20, false}, {-8, 15, true}, {-8, 13.9, false}, {5, 2, false}} {
		minutes, ok := Warming(at(c.battery, c.room), readingtest.Labels)
		if ok != c.ok || ok && (minutes < 5 || minutes > 1000 || math.Mod(minutes, 5) != 0) {
			t.Errorf("from %g in %g °C: %g min, %t", c.battery, c.room, minutes, ok)
		}
	}
	if cold, _ := Warming(at(-8, 20), readingtest.Labels); cold < 120 || cold > 480 {
		t.Errorf("%g min from -8 to 15 in 20 °C", cold)
	}
	unknown := car(rest(12.1))
	unknown.Conditions = reading.Conditions{}
	if _, ok := Warming(unknown, readingtest.Labels); ok {
		t.Error("nobody knows how cold it is")
	}
	bare := at(-8, 20)
	bare.Battery.Rating = reading.Rating{}
	if _, ok := Warming(bare, readingtest.Labels); ok {
		t.Error("nobody knows how big it is")
	}
}
