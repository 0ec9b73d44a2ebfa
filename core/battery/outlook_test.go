package battery

import (
	"math"
	"testing"

	"grapnel/core/rating"
	"grapnel/internal/fatal"
)

// More charge never makes the outlook worse, and what freezes is said to be
// frozen only below its freezing point.
func TestOutlookIsMonotonic(t *testing.T) {
	for _, c := range Chemistries() {
		b := car(t, c)
		last := Outlook{RestVolts: -1, FreezesC: 1, CrankNow: -1, HalfCCAVolts: -1, Ah: -1}
		for soc := 0.0; soc <= 100; soc += 20 {
			o, err := b.Outlook(soc, -15, 30)
			must(t, err)
			if o.RestVolts <= last.RestVolts || o.FreezesC >= last.FreezesC || o.CrankNow < last.CrankNow ||
				o.HalfCCAVolts < last.HalfCCAVolts || o.Ah < last.Ah {
				t.Errorf("%s at %g %%: %+v after %+v", c, soc, o, last)
			}
			if o.Frozen != (-15 < o.FreezesC) || (o.SG != nil) != c.Liquid() || (o.DaysToHalf != nil) != (soc > 50) {
				t.Errorf("%s at %g %%: %+v", c, soc, o)
			}
			last = o
		}
	}
}

// Each figure of an outlook is the one its name says, asked for by itself.
func TestOutlookIsWhatItSays(t *testing.T) {
	b := car(t, Flooded)
	o, err := b.Outlook(80, -10, 30)
	must(t, err)
	s := b.Rested(80, -10)
	fast := after(t, b, s, Source{Amps: 5 * b.Ah20h, Volts: 14.4}, 120)
	least, ever := b.ChargeToCrank(-10, b.CCA/2)
	if !ever {
		t.Fatal("a new battery does not give half its CCA at -10 °C")
	}
	for name, c := range map[string][2]float64{
		"rest volts": {o.RestVolts, RestVolts(Flooded, 6, 80, -10)}, "freezes": {o.FreezesC, FreezingPoint(*o.SG)},
		"milliohms": {o.Milliohms, 1000 * b.Resistance(80, -10)}, "half CCA": {o.HalfCCAAmps, b.CCA / 2},
		"its end": {o.HalfCCAVolts, fatal.Of(b.EndVolts(80, -10, b.CCA/2, 15))}, "limit": {o.LimitVolts, rating.LoadTestLimit(12, -10)},
		"cranks": {o.CrankNow, fatal.Of(b.CrankingAmps(80, -10, 30, 7.2))}, "self": {o.SelfPctMonth, SelfDischarge(Flooded, 80, -10)},
		"days to half": {*o.DaysToHalf, fatal.Of(b.DaysTo(s, 50, 30, -10, 730))}, "fast volts": {o.FastChargeVolts, 14.4},
		"days to no start": {*o.DaysToNoStart, fatal.Of(b.DaysTo(s, least, 30, -10, 730))},
		"fast amps":        {o.FastChargeAmps, fast.Amps},
	} {
		if math.Abs(c[0]-c[1]) > 1e-6*math.Abs(c[1]) {
			t.Errorf("%s: %g, want %g", name, c[0], c[1])
		}
	}
	if got, ever := b.ChargeToCrank(-40, 2*b.CCA); ever {
		t.Errorf("twice its CCA at -40 °C from %g %%", got)
	}
}
