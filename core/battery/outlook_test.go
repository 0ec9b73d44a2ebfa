package battery

import "testing"

// More charge never makes the outlook worse, and what freezes is said to be
// frozen only below its freezing point.
func TestOutlookIsMonotonic(t *testing.T) {
	for _, c := range Chemistries {
		b := car(t, c)
		last := Outlook{RestVolts: -1, FreezesC: 1, CrankNow: -1, HalfCCAVolts: -1, Ah: -1}
		for soc := 0.0; soc <= 100; soc += 20 {
			o, err := b.Outlook(soc, -15, 30)
			if err != nil {
				t.Fatal(err)
			}
			if o.RestVolts <= last.RestVolts || o.FreezesC >= last.FreezesC || o.CrankNow < last.CrankNow || o.HalfCCAVolts < last.HalfCCAVolts || o.Ah < last.Ah {
				t.Errorf("%s at %g %%: %+v after %+v", c, soc, o, last)
			}
			if o.Frozen != (-15 < o.FreezesC) || (o.SG != nil) != c.Liquid() || (o.DaysToHalf != nil) != (soc > 50) {
				t.Errorf("%s at %g %%: %+v", c, soc, o)
			}
			last = o
		}
	}
}
