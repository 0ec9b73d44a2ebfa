package assess

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
	"time"

	"grapnel/core/bench"
	"grapnel/core/charge"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/internal/effort"
)

var morning = time.Date(2026, 3, 2, 8, 0, 0, 0, time.UTC)

// when gives a reading with the time it was taken, minutes after eight.
func when(minutes float64, r reading.Reading) reading.Reading {
	at := morning.Add(span(minutes))
	r.At = &at
	return r
}

func hungOn(minutes, amps float64) reading.Reading {
	return when(minutes, reading.Of(station.OnCharger, reading.Fields{"charger": "3", "charger_kind": "smart", "amps": amps}))
}

func looked(minutes, volts, amps float64, warmth string) reading.Reading {
	return when(minutes, reading.Of(station.ChargeCheck, reading.Fields{"volts": volts, "amps": amps, "warmth": warmth}))
}

func onCharge(t *testing.T, c reading.Case) OnCharge {
	t.Helper()
	o, ok, err := OnCharger(c, readingtest.Labels, nil)
	if err != nil || !ok {
		t.Fatalf("not on charge: %v", err)
	}
	return o
}

// A battery that was hung on a charger is looked at every half hour; the forecast begins
// when it was hung on, and each look makes it anew, beside the one before. By hand: 62 Ah
// from half at 6 A is at three quarters after 2.6 to 2.9 h.
func TestOnCharge(t *testing.T) {
	c := car(when(-30, at(50)), hungOn(0, 6))
	o := onCharge(t, c)
	if o.Charger != "3" || o.Kind != charge.Smart || o.Amps != 6 || !o.Since.Equal(morning) ||
		!o.Check.Equal(morning.Add(30*time.Minute)) ||
		o.Before != nil {
		t.Errorf("%+v", o)
	}
	if h := o.Ready.Sub(morning).Hours(); h < 2.2 || h > 3.2 {
		t.Errorf("ready after %.2f h", h)
	}
	if h := o.Full.Sub(*o.Ready).Hours(); h < 2 || h > 6 {
		t.Errorf("full %.2f h later", h)
	}
	if o.Found != nil {
		t.Error("nobody looked, and something is found")
	}
	if s := o.Thumb.String(); !strings.HasPrefix(s, "The rule of thumb says ") || !strings.Contains(s, "the model") {
		t.Errorf("the rule of thumb: %q", s)
	}
	// A look that fits moves little; one that does not is named.
	c.Readings = append(c.Readings, looked(30, 13.1, 6, charge.Cold))
	fits := onCharge(t, c)
	if f := fits.Found; f == nil || math.Abs(f.SOC-50) > 15 || f.Capacity < 60 || f.Capacity > 110 || f.Acceptance < 50 ||
		f.Acceptance > 200 {
		t.Errorf("%+v", fits.Found)
	}
	if d := fits.Ready.Sub(*o.Ready).Hours(); fits.Before == nil || math.Abs(d) > 0.8 || fits.Follows.Code != charge.Sound ||
		!fits.Check.Equal(morning.Add(time.Hour)) {
		t.Errorf("moved by %.2f h, %+v", d, fits.Follows)
	}
	c.Readings = append(
		c.Readings[:len(c.Readings)-1:len(c.Readings)-1],
		looked(30, 10.95, 6, charge.Warm),
		looked(60, 11, 6, charge.Warm),
	)
	if o := onCharge(t, c); o.Follows.Code != charge.Shorted || o.Follows.Sign != "stop" || o.Ready != nil || o.Full != nil ||
		o.Found != nil ||
		!o.Thumb.IsZero() {
		t.Errorf("%+v %v", o.Follows, o.Shares)
	}
}

// What looks say of a battery is said in words; how it takes current only where that is
// out of the common. Both bounds from both sides.
func TestFound(t *testing.T) {
	s, _, ok := standing(station.Put(car(rest(12.1)), readingtest.Labels))
	if !ok {
		t.Fatal("nothing can be made of its label")
	}
	s.Battery = s.Battery.WithCapacity(80)
	for _, c := range []struct {
		acceptance float64
		says       string
	}{
		{0.84, "at 84 % of what its build usually does."}, {0.85, "like others of its build."},
		{1.18, "like others of its build."}, {1.19, "at 119 % of what its build usually does."},
	} {
		s.Battery.Acceptance = c.acceptance
		f := found(s)
		if said := f.Text.String(); !strings.HasSuffix(said, c.says) || !strings.Contains(said, "with 80 % of its") ||
			!strings.Contains(said, fmt.Sprintf("about %g %%", f.SOC)) {
			t.Errorf("%g: %+v, %q", c.acceptance, f, said)
		}
	}
}

// What comes next is a look; a word that it was taken off, or any reading that is not
// taken on a charger, ends it. Hours and amps of the charge are then known.
func TestHungAndTakenOff(t *testing.T) {
	base := []reading.Reading{when(-30, at(50)), hungOn(0, 6), looked(30, 13.1, 6, charge.Cold)}
	on := car(base...)
	next := Assess(on, readingtest.Labels).Next
	if i := slices.IndexFunc(next, func(s Step) bool { return s.Test == "charge_check" }); i < 0 ||
		slices.ContainsFunc(next, func(s Step) bool { return s.Test == "charge" }) {
		t.Errorf("next: %+v", next)
	}
	for name, r := range map[string]reading.Reading{
		"taken off": when(240, charged("full")), "rested": when(240, rest(12.6)), "loaded": when(240, load(10)),
		"cranked": when(240, reading.Of(station.Crank, reading.Fields{"volts_min": 10.2, "seconds": 2, "turned": "normal"})),
	} {
		if _, ok, err := OnCharger(car(append(slices.Clone(base), r)...), readingtest.Labels, nil); ok || err != nil {
			t.Errorf("%s: still on its charger (%v)", name, err)
		}
	}
	if _, ok, _ := OnCharger(car(when(-30, at(50))), readingtest.Labels, nil); ok {
		t.Error("on a charger it was never hung on")
	}
	// An hour at 6 A cannot fill half a battery: full too soon, without a word of hours.
	soon := Assess(car(append(slices.Clone(base), when(60, charged("full")))...), readingtest.Labels)
	late := Assess(car(append(slices.Clone(base), when(600, charged("full")))...), readingtest.Labels)
	has := func(a Assessment) bool {
		return slices.ContainsFunc(a.Findings, func(f bench.Finding) bool { return f.Code == "charged.too_soon" })
	}
	if !has(soon) || has(late) {
		t.Errorf("too soon after an hour %v, after ten %v", has(soon), has(late))
	}
}

// What is seen on a charger can stop it: heat, gas, a clear eye, dry plates.
func TestLooksThatStop(t *testing.T) {
	look := func(f reading.Fields) Assessment {
		c := car(when(-30, at(50)), hungOn(0, 6), when(30, reading.Of(station.ChargeCheck, f)))
		c.Battery.Eye = true
		return Assess(c, readingtest.Labels)
	}
	for _, c := range []struct {
		fields reading.Fields
		code   string
		stop   bool
	}{
		{reading.Fields{"warmth": "hot"}, "charge_check.hot", false},
		{reading.Fields{"case_c": 52.0}, "charge_check.hot", false},
		{reading.Fields{"gassing": "violent"}, "charge_check.gassing", false},
		{reading.Fields{"colour": "clear"}, "eye.clear", true},
	} {
		a := look(c.fields)
		if !slices.ContainsFunc(a.Findings, func(f bench.Finding) bool { return f.Code == c.code }) ||
			(a.Verdict == Stop) != c.stop {
			t.Errorf("%v: %s, %+v", c.fields, a.Verdict, a.Findings)
		}
	}
	for _, f := range []reading.Fields{{"warmth": "warm"}, {"case_c": 51.9}, {"gassing": "some"}, {"colour": "green"}} {
		for _, found := range look(f).Findings {
			if strings.HasPrefix(found.Code, "charge_check") || found.Code == "eye.clear" {
				t.Errorf("%v: %s", f, found.Code)
			}
		}
	}
	// It has cooled when somebody feels so.
	cooled := car(when(-30, at(50)), hungOn(0, 6), looked(30, 13.1, 6, charge.Hot), looked(90, 12.6, 0, charge.Cold))
	if next := Assess(cooled, readingtest.Labels).Next; next[0].Test == "cool" {
		t.Errorf("cooled: %+v", next[0])
	}
	still := car(when(-30, at(50)), hungOn(0, 6), looked(30, 13.1, 6, charge.Hot))
	if next := Assess(still, readingtest.Labels).Next; next[0].Test != "cool" {
		t.Errorf("hot: %+v", next[0])
	}
	if a := look(reading.Fields{"level": "plates_dry"}); a.Next[0].Test != "water" {
		t.Errorf("dry plates: %+v", a.Next[0])
	}
}

// The strength and the charge that were read are what the forecast begins with.
func TestOnChargeKnowsTheBattery(t *testing.T) {
	low, high := onCharge(t, car(when(-30, at(30)), hungOn(0, 6))), onCharge(t, car(when(-30, at(65)), hungOn(0, 6)))
	if !high.Ready.Before(*low.Ready) {
		t.Errorf("from 65 %% ready at %v, from 30 %% at %v", high.Ready, low.Ready)
	}
	taper := hungOn(0, 6).With("charger_kind", "taper")
	if o := onCharge(t, car(when(-30, at(30)), taper)); o.Kind != charge.Taper || o.Now.Curve[0].Amps > 7.5 {
		t.Errorf("%+v", o.Now.Curve[0])
	}
	// The house tests from 65 %: sooner.
	c := car(when(-30, at(30)), hungOn(0, 6))
	c.Rules = rules.Default()
	c.Rules.LoadTestMinSOC = 65
	if o := onCharge(t, c); !o.Ready.Before(*low.Ready) {
		t.Errorf("ready at %v from 65 %%, at %v from 75 %%", o.Ready, low.Ready)
	}
}

// What was read before it was hung on does not grow old while it hangs there; a look that
// was sent late stands at its own time; and however many there are, a day's are enough.
func TestOnChargeInTime(t *testing.T) {
	c := car(when(-30, at(30)), hungOn(0, 1.5))
	first := onCharge(t, c)
	late := morning.AddDate(0, 2, 0)
	c.AsOf = &late
	if o := onCharge(t, c); !o.Ready.Equal(*first.Ready) {
		t.Errorf("two months later ready at %v, at first %v", o.Ready, first.Ready)
	}
	in := car(when(-30, at(50)), hungOn(0, 6), looked(30, 13.1, 6, "cold"), looked(60, 13.2, 6, "cold"))
	out := car(when(-30, at(50)), hungOn(0, 6), looked(60, 13.2, 6, "cold"), looked(30, 13.1, 6, "cold"))
	if a, b := onCharge(t, in), onCharge(t, out); !a.Ready.Equal(*b.Ready) || !a.Check.Equal(b.Check) ||
		a.Follows.Code != b.Follows.Code {
		t.Errorf("in order ready at %v, sent late %v", a.Ready, b.Ready)
	}
	many := []reading.Reading{when(-30, at(50)), hungOn(0, 1)}
	for i := range effort.Of(60, 1500, 1500) {
		many = append(many, looked(float64(i+1)/2, 12.9, 1, "cold"))
	}
	few := car(append(slices.Clone(many[:2]), many[len(many)-48:]...)...)
	if a, b := onCharge(t, car(many...)), onCharge(t, few); !a.Ready.Equal(*b.Ready) {
		t.Errorf("of 1500 looks ready at %v, of the last 48 %v", a.Ready, b.Ready)
	}
}

// What was said before the last look need not be worked out again, and is the same either
// way; what was said of other looks, or of another charge, is of no use.
func TestOnChargeGoesOn(t *testing.T) {
	looks := []reading.Reading{
		when(-30, at(50)),
		hungOn(0, 6),
		looked(30, 13.1, 6, charge.Cold),
		looked(60, 13.15, 6, charge.Cold),
		looked(90, 13.3, 6, charge.Cold),
	}
	one, two := onCharge(t, car(looks[:4:4]...)), onCharge(t, car(looks...))
	for name, known := range map[string]*OnCharge{"one look less": &one, "nothing": nil, "itself": &two} {
		got, ok, err := OnCharger(car(looks...), readingtest.Labels, known)
		if err != nil || !ok || !got.Full.Equal(*two.Full) || got.Before.Full.Best != two.Before.Full.Best {
			t.Errorf("%s: full %v, before %v (%v)", name, got.Full, got.Before.Full, err)
		}
	}
	one.Now.Full = &charge.Hours{Best: 77}
	if got, _, _ := OnCharger(car(looks...), readingtest.Labels, &one); got.Before.Full.Best != 77 {
		t.Error("what was known was worked out again")
	}
	other := car(looks...)
	other.Readings[3] = looked(60, 13.05, 6, charge.Cold)
	if got, _, _ := OnCharger(other, readingtest.Labels, &one); got.Before.Full.Best == 77 {
		t.Error("a look was corrected, and the forecast of before it stands")
	}
}
