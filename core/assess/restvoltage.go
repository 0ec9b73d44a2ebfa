package assess

import (
	"fmt"

	"grapnel/core/battery"
	"grapnel/core/reading"
)

// aboveFull is how far over the fullest rest voltage, in volts of 12, a reading
// is no resting battery's: the alternator, a charger or fresh surface charge.
const aboveFull = 0.25

// restVoltage turns one rest voltage into charge, and says how far to trust it.
func (s *story) restVoltage(i int, r reading.Reading) {
	at := s.readRest(i, r)
	s.rest = &at
	battVolts := s.c.Volts()
	if at.tooHigh {
		s.add(Finding{Code: "rest_voltage.above_rest", Level: Act, Readings: []int{i}, Rule: "rest_voltage.rest", Source: practice,
			Text: fmt.Sprintf("%.2f V is more than any rested battery shows.", at.volts),
			Why:  "Surface charge is still on, or something is charging it.", Other: s.otherRest(at)})
		return
	}
	b := at.Charge.Rounded()
	f := Finding{Code: "rest_voltage.charge", Level: OK, Readings: []int{i}, Rule: "rest_voltage.curve", Source: curveSource(s.c.Battery.Chemistry),
		Text: fmt.Sprintf("%.2f V %s at %s is %s charged.", at.volts, how(r), s.temp(at.tempC), spell(b)),
		Why: fmt.Sprintf("%s, %g V. Meter, curve and temperature: ± %.2f V. Surface charge: %s.",
			chemistryWords[s.c.Battery.Chemistry], battVolts, at.ErrorVolts, surfaceWords(at.SurfaceVolts))}
	if at.Charge.Best < s.c.Rules.LoadTestMinSOC {
		f.Level = Act
	}
	s.add(f)
	if !at.settled {
		s.add(Finding{Code: "rest_voltage.surface_charge", Level: Note, Readings: []int{i}, Rule: "rest_voltage.rest", Source: practice,
			Text: fmt.Sprintf("Surface charge may still add %.2f V, so the low end runs low.", at.SurfaceVolts),
			Why:  fmt.Sprintf("The house rests a battery %s, or takes the surface charge off with the lights or a short load.", Span(s.c.Rules.RestMinutes)), Other: s.otherRest(at)})
	}
	if battVolts == 12 && at.volts >= 10.2 && at.volts <= 10.9 {
		s.add(Finding{Code: "rest_voltage.five_cells", Level: Note, Readings: []int{i}, Rule: "rest_voltage.five_cells", Source: practice,
			Text: "About 10.5 V is what five good cells make: one may be shorted.", Why: "Six cells of about 2.1 V make 12.6 V. Charge it; if it comes back here it is finished."})
	}
	s.fairness(at)
}

func surfaceWords(volts float64) string {
	if volts < 0.005 {
		return "none left"
	}
	return fmt.Sprintf("up to %.2f V", volts)
}

func (s *story) readRest(i int, r reading.Reading) restAt {
	temp, assumed := s.c.TempC(nil)
	minutes := -1.0
	if r.MinutesSinceCharge != nil {
		minutes = *r.MinutesSinceCharge
	}
	cells := battery.Cells(s.c.Volts())
	chem := s.c.Battery.Chemistry
	rc := battery.ChargeFromRest(chem, cells, battery.Rest{
		Volts: *r.Volts, TempC: temp, TempAssumed: assumed, Surface: r.SurfaceCharge, MinutesSinceCharge: minutes})
	top := battery.RestVolts(chem, cells, 100, temp) + (aboveFull)*cells/6
	removed := r.SurfaceCharge == battery.Headlights2 || r.SurfaceCharge == battery.HighBeam5 || r.SurfaceCharge == battery.Load15
	long := minutes >= s.c.Rules.RestMinutes || minutes < 0 && r.SurfaceCharge == battery.Rested
	return restAt{RestCharge: rc, i: i, volts: *r.Volts, tempC: temp, tooHigh: *r.Volts > top, settled: removed || long}
}

// fairness says whether the charge allows a fair load test, by the house rule,
// and what the other school would have said.
func (s *story) fairness(at restAt) {
	least := s.c.Rules.LoadTestMinSOC
	f := Finding{Rule: "load_test.min_soc", Readings: []int{at.i}, Source: bciTables,
		Why: "A flat battery sags under load however good it is."}
	if at.Charge.Best >= least {
		f.Code, f.Level = "rest_voltage.enough_to_test", OK
		f.Text = fmt.Sprintf("%.0f %% or more: a load test is fair.", least)
	} else {
		f.Code, f.Level = "rest_voltage.low_to_test", Act
		f.Text = fmt.Sprintf("Under %.0f %%: a load test now would blame a flat battery.", least)
	}
	if other, ok := s.c.Rules.Other("load_test.min_soc"); ok {
		answer := "charge it first"
		if at.Charge.Best >= other.Number {
			answer = "test it now"
		}
		same := ""
		if (at.Charge.Best >= other.Number) == (at.Charge.Best >= least) {
			same = ", same answer"
		}
		f.Other = fmt.Sprintf("%s (%.0f %%): %s%s", other.Name, other.Number, answer, same)
	}
	s.add(f)
}

func (s *story) otherRest(at restAt) string {
	other, ok := s.c.Rules.Other("rest_voltage.rest")
	if !ok {
		return ""
	}
	return fmt.Sprintf("%s: rest it %s", other.Name, Span(other.Number))
}

func curveSource(c battery.Chemistry) string {
	if c == battery.Flooded {
		return "Electromotive force of the acid (Bode) at the gravities of the BCI table, from memory"
	}
	return "Electromotive force of the acid (Bode), from memory; how strong the acid of this build is, common practice, no source"
}

var chemistryWords = map[battery.Chemistry]string{
	battery.Flooded: "Flooded", battery.FloodedSealed: "Sealed calcium", battery.EFB: "EFB", battery.AGM: "AGM", battery.Gel: "Gel", battery.AGMDeepCycle: "Deep-cycle AGM",
}

// spell writes a charge band as a technician would say it.
func spell(b battery.Band) string {
	switch {
	case b.Low == b.High:
		return fmt.Sprintf("%.0f %%", b.Best)
	case b.Low <= 0:
		return fmt.Sprintf("at most %.0f %%", b.High)
	case b.High >= 100:
		return fmt.Sprintf("at least %.0f %%", b.Low)
	}
	return fmt.Sprintf("%.0f to %.0f %%", b.Low, b.High)
}

// how says what was done before the reading.
func how(r reading.Reading) string {
	after := ""
	if r.MinutesSinceCharge != nil {
		after = " " + Span(*r.MinutesSinceCharge) + " after charging or driving"
	}
	switch r.SurfaceCharge {
	case battery.Rested:
		if r.MinutesSinceCharge != nil {
			return "rested " + Span(*r.MinutesSinceCharge)
		}
		return "rested"
	case battery.Headlights2:
		return "after 2 min of headlights" + after
	case battery.HighBeam5:
		return "after 5 min of high beam" + after
	case battery.Load15:
		return "after a 15 s load" + after
	}
	if after == "" {
		return "with its surface charge"
	}
	return after[1:]
}

// Span writes minutes as people say them.
func Span(minutes float64) string {
	switch {
	case minutes < 90:
		return fmt.Sprintf("%.0f min", minutes)
	case minutes < 48*60:
		return fmt.Sprintf("%.2g h", minutes/60)
	}
	return fmt.Sprintf("%.0f days", minutes/60/24)
}
