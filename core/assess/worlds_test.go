package assess

import (
	"math/rand/v2"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/internal/effort"
	"grapnel/internal/fatal"
)

// Batteries of known wear, charge and cold are read by honest instruments, noise
// and all: one with 80 % of its label and more is never condemned nor called weak,
// one with 30 % never called good, and one that is low is charged, by whatever
// tester. Between lies what nobody can tell.
func TestHonestReadings(t *testing.T) {
	rng := rand.New(rand.NewPCG(31, 32))
	judged, each := map[Verdict]int{}, effort.Of(15, 60, 60)
	for _, of := range []struct {
		class string
		chem  battery.Chemistry
		label rating.Label
	}{
		{"car", battery.Flooded, rating.Label{CCA: 650, Ah20h: 62}},
		{"car", battery.FloodedSealed, rating.Label{CCA: 540, Ah20h: 60}},
		{"car", battery.AGM, rating.Label{CCA: 760, Ah20h: 70}},
		{"mower", battery.Flooded, rating.Label{CCA: 300, Ah20h: 28}},
		{"motorcycle", battery.AGM, rating.Label{CCA: 200, Ah20h: 12}},
		{"van", battery.EFB, rating.Label{CCA: 850, Ah20h: 95}},
	} {
		made, _, err := readingtest.Labels(of.chem, 6, of.label)
		if err != nil {
			t.Fatal(err)
		}
		for _, part := range []float64{100, 90, 80, 30, 20} {
			worn := fatal.Of(made.Worn(part))
			for range each {
				temp := -12 + 42*rng.Float64()
				w := station.World{Battery: worn, SOC: []float64{30, 50, 80, 90, 97, 100}[rng.IntN(6)], BatteryC: temp, StarterAmps: of.label.CCA / 4}
				read := func(kind, field string, how reading.Fields) reading.Reading {
					k, _ := station.KindOf(kind)
					for _, p := range k.Expect(w, reading.Of(kind, how)) {
						if p.Field == field {
							return reading.Of(kind, how).With(field, p.Best+p.Sigma*rng.NormFloat64())
						}
					}
					t.Fatalf("%s expects no %s", kind, field)
					return reading.Reading{}
				}
				how := reading.Fields{"method": station.HalfCCA, "amps": of.label.CCA / 2 * (0.96 + 0.08*rng.Float64()), "seconds": 15}
				if rng.IntN(4) == 0 {
					how = reading.Fields{"method": station.Fixed10s, "amps": 125, "seconds": 10}
				}
				rs := []reading.Reading{
					inspected("clean"),
					read(station.RestVoltage, "volts", reading.Fields{"minutes_since_charge": 600, "surface_charge": "rested"}),
					read(station.LoadTest, "volts_end", how),
				}
				if rng.IntN(2) == 0 {
					rs = append(rs, read(station.Conductance, "cca", reading.Fields{"standard": "SAE"}))
				}
				cca, ah := of.label.CCA, of.label.Ah20h
				a := ByRules(reading.Case{
					Format: reading.CaseFormat, Vehicle: reading.Vehicle{Class: of.class, SystemVolts: 12, Fuel: "petrol"},
					Battery:    reading.Battery{Chemistry: of.chem, Rating: reading.Rating{CCA: &cca, Standard: rating.SAE, Ah20h: &ah}},
					Conditions: reading.Conditions{AmbientC: &temp, BatteryC: &temp}, Rules: rules.Default(), Readings: rs,
				}, readingtest.Labels)
				judged[a.Verdict]++
				condemned := a.Verdict == Replace || a.Verdict == Weak
				passed := a.Verdict == Good || a.Verdict == GoodAfterCharge
				if part >= 80 && condemned || part <= 30 && passed || w.SOC <= 50 && a.Verdict != ChargeAndRetest && a.Verdict != MoreReadings {
					t.Errorf("%s, %s, %g %% of its label, %g %% charged, %.0f °C: %s, %s", of.class, of.chem, part, w.SOC, temp, a.Verdict, a.Headline)
				}
			}
		}
	}
	for v, least := range map[Verdict]int{Good: 200, GoodAfterCharge: 100, Replace: 200, ChargeAndRetest: 400} {
		if judged[v] < least*each/60 {
			t.Errorf("only %d are judged %s", judged[v], v)
		}
	}
}
