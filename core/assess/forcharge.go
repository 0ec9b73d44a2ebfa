package assess

import (
	"math"
	"slices"

	"grapnel/core/bench"
	"grapnel/core/charge"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/words"
)

// ForCharge is a battery that waits for a charger.
type ForCharge struct {
	Setup charge.Setup // as it stands, on no charger yet
	SOC   float64      // percent
	Amps  float64      // at the house's rate; 0 where nobody knows its size
}

// forCharge gives what waits for a charger; nil where charging is not what comes next,
// it hangs on one, or nothing can be made of its label.
func forCharge(b *bench.Bench, a Assessment) *ForCharge {
	if a.Verdict == Stop || b.Hung != nil || b.Hazardous() {
		return nil
	}
	if !slices.ContainsFunc(a.Next, func(s Step) bool { return s.Test == "charge" }) {
		return nil
	}
	s, _, ok := standing(b)
	if !ok {
		return nil
	}
	return &ForCharge{Setup: s, SOC: s.Battery.SOC(s.State), Amps: b.ChargeAmps(b.HouseRate())}
}

// On gives the charger of a shop with its switches as they belong for this battery at the
// house's rate.
func (f ForCharge) On(u charge.Unit) charge.Charger {
	return u.Set(f.Setup.Battery.Chemistry, f.Setup.Battery.Cells(), u.At(f.Amps))
}

// Minutes is how long it hangs on a charger until it is full, to the next five minutes;
// +Inf where it is not to hang there, or is never full.
func (f ForCharge) Minutes(u charge.Unit) float64 {
	s := f.Setup
	s.Charger = f.On(u)
	if s.Unfit() != "" {
		return math.Inf(1)
	}
	hours, err := s.Charger.Reach(s.Battery, f.SOC, 100, s.State.TempC)
	if err != nil || hours >= charge.MostHours {
		return math.Inf(1)
	}
	return toFive(hours)
}

// toFive is hours in minutes, up to the next five and at least five.
func toFive(hours float64) float64 { return max(5, 5*math.Ceil(hours*12-1e-9)) }

// Hang is how a battery is hung on a charger.
type Hang struct {
	Charger   charge.Charger
	InVehicle bool
	OnBody    bool // the maker wants the earthed clamp on bare metal
}

// PlanCharge says what a charge would do to the battery of a case as it stands, what
// forbids it, what to mind, and in what order it is connected; false where nothing can be
// made of its label.
func PlanCharge(c reading.Case, labels bench.Labels, h Hang, v words.Voice) (charge.Plan, bool, error) {
	b := station.Put(c, labels)
	s, doubt, ok := standing(b)
	if !ok {
		return charge.Plan{}, false, nil
	}
	var hard float64
	hard, doubt.Sulphate = stood(b)
	s = s.Hard(hard)
	s.Charger = h.Charger
	around := charge.Case{
		InVehicle: h.InVehicle, OnBody: h.OnBody, TakeOut: b.House.ChargePlace == rules.ChargeOnBench,
		Sealed: c.Battery.Caps == "sealed", Arrangement: c.Vehicle.Arrangement, Earth: c.Vehicle.Earth,
	}
	var others []charge.Warning
	for _, hazard := range b.Hazards {
		code := hazard.Code
		if code == bench.HazardEye {
			code = "clear_eye"
		}
		switch {
		case charge.Hazards().Has(code):
			around.Hazards = append(around.Hazards, code)
		case code != bench.HazardIce: // the charge it freezes at speaks for itself
			others = append(others, charge.Warning{Code: code, Text: words.Say(refuseHazard, "hazard", hazard.Name).In(v)})
		}
	}
	plan, err := s.Plan(doubt, around, v)
	if len(others) > 0 && err == nil {
		plan = charge.Refused(append(plan.Refusals, others...))
	}
	return plan, true, err
}

const refuseHazard = "{hazard}: it is not charged before that is dealt with."

// ChargeRates gives the amps of each rate at which the battery of a case can be charged,
// 0 where nobody knows its size or its label prints none, and the house's own.
func ChargeRates(c reading.Case, labels bench.Labels) (amps map[string]float64, house string) {
	b := station.Put(c, labels)
	amps = map[string]float64{rules.RateTenth: b.ChargeAmps(rules.RateTenth), rules.RateFast: b.ChargeAmps(rules.RateFast)}
	if p := c.Battery.Rating.ChargeAmps; p != nil {
		amps[rules.RateLabel] = *p
	}
	return amps, b.HouseRate()
}

// TestMinutes is what a fair test takes once a battery is charged: its rest by the house's
// rule, and hands on it. The hands are house judgement.
func TestMinutes(r rules.Rules) float64 { return r.RestMinutes + handsMinutes }

const handsMinutes = 15.0

// WarmEnoughC is what a cold battery is warmed to before it is charged or tested, °C.
// House judgement.
const WarmEnoughC = 15.0

// Warming gives the minutes in which the battery of a case is warm enough in the room it
// is in, to the next five; false where it is not known, it is already, or the room never
// warms it.
func Warming(c reading.Case, labels bench.Labels) (minutes float64, ok bool) {
	room, cold := c.Conditions.AmbientC, c.Conditions.BatteryC
	if room == nil || cold == nil || *cold >= WarmEnoughC || *room <= *cold {
		return 0, false
	}
	made, ok := station.Put(c, labels).AsNew()
	if !ok {
		return 0, false
	}
	hours := made.Warming(*cold, WarmEnoughC, *room)
	return toFive(hours), !math.IsInf(hours, 1) && hours > 0
}
