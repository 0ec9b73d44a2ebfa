package bench

import (
	"grapnel/core/battery"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// FreezeMarginC is how near to freezing is too near. House judgement, as the
// trade's defaults: 5 °C.
const FreezeMarginC = 5.0

// assumedC is how much nearer to ice is taken for ice where the battery's own
// temperature was not measured, °C. House judgement.
const assumedC = 3.0

// Points gives the freezing points of the weakest and the strongest acid that what
// was read allows, °C; false when nobody knows the charge. Under the volts a build
// calls empty the acid goes on thinning, and its freezing point on rising to 0 °C.
func (b *Bench) Points() (weak, strong float64, ok bool) {
	soc := b.knownCharge()
	if soc == nil {
		return 0, 0, false
	}
	chem := b.Case.Battery.Chemistry
	thin := battery.SpecificGravity(chem, soc.Low)
	if c := b.Charge; c != nil && soc.Low <= 0 {
		cells := battery.Cells(b.Case.Volts())
		thin = battery.GravityAtRest(chem, cells, c.Volts-c.ErrorVolts-c.SurfaceVolts, c.TempC)
	}
	if a := b.Acid; a != nil {
		thin = min(thin, a.Cells[a.Lowest])
	}
	return battery.FreezingPoint(thin), battery.FreezingPoint(battery.SpecificGravity(chem, soc.High)), true
}

// freezing compares the acid's freezing point with the cold the battery is in.
func (b *Bench) freezing() {
	weak, strong, ok := b.Points()
	if !ok || b.thawed {
		return
	}
	chem := b.Case.Battery.Chemistry
	at := b.chargeReadings()
	b.thinAcid(at)
	in, measured := b.coldNow()
	soc := b.knownCharge()
	doubt := battery.FreezingError(battery.SpecificGravity(chem, soc.Low))
	if !measured {
		doubt += assumedC // the shop's temperature stands in for the battery's
	}
	temp := func(c float64) measure.Quantity { return measure.Degrees(c) }
	f := Finding{
		Readings: at,
		Rule:     "freeze.acid",
		Source:   "CRC Handbook and BCI service tables, from memory",
		Why:      words.Say(whyFreezes, "strong", temp(strong), "weak", temp(weak)),
	}
	switch {
	case in < strong && chem.Liquid():
		b.Hazards = append(b.Hazards, Hazard{Code: HazardIce, Reading: at[0], Name: words.Say(hazardIce), First: "thaw"})
		f.Code, f.Level, f.Text = "freeze.frozen", Act, words.Say(saysIce, "temp", temp(in))
	case in < weak+doubt && in < 0:
		b.Hazards = append(b.Hazards, Hazard{Code: HazardIce, Reading: at[0], Name: words.Say(hazardMaybeIce), First: "thaw"})
		f.Code, f.Level, f.Text = "freeze.doubt", Act, words.Say(saysMaybeIce)
	default:
		if a := b.Case.Conditions.AmbientC; a != nil {
			in = min(in, *a)
		}
		if in > weak+FreezeMarginC {
			return
		}
		f.Code, f.Level, f.Text = "freeze.margin", Act, words.Say(saysNearIce, "weak", temp(weak), "temp", temp(in))
	}
	b.tell(f)
}

// coldNow is the battery's temperature, and whether anybody measured it.
func (b *Bench) coldNow() (tempC float64, measured bool) {
	if c := b.Charge; c != nil && !c.Other {
		return c.TempC, !c.Rest.TempAssumed
	}
	t, assumed := b.Case.TempC(nil)
	return t, !assumed
}

// chargeReadings are the readings the charge was read off.
func (b *Bench) chargeReadings() []int {
	var at []int
	if b.Charge != nil {
		at = append(at, b.Charge.Reading)
	}
	if b.Acid != nil {
		at = append(at, b.Acid.Reading)
	}
	return at
}

// thinAcid is acid under what its build calls empty: it freezes near 0 °C, and its
// plates are sulphated deeply.
func (b *Bench) thinAcid(at []int) {
	c := b.Charge
	chem := b.Case.Battery.Chemistry
	if c == nil || !c.Known() || c.RestCharge.Charge.High > 0 && c.RestCharge.Charge.Best > 0 {
		return
	}
	cells := battery.Cells(b.Case.Volts())
	// With all the error there is, still under empty.
	most := battery.GravityAtRest(chem, cells, c.Volts+c.ErrorVolts, c.TempC)
	best := battery.GravityAtRest(chem, cells, c.Volts, c.TempC)
	if best >= battery.EmptyGravity(chem) {
		return
	}
	f := Finding{
		Code: "freeze.thin_acid", Level: Note, Readings: at, Rule: "freeze.acid",
		Source: "CRC Handbook and BCI service tables, from memory",
		Text:   words.Say(saysThin, "volts", measure.Volts(c.Volts, 2), "point", measure.Degrees(battery.FreezingPoint(best))),
		Why:    words.Say(whyThin, "from", measure.Degrees(battery.FreezingPoint(most))),
	}
	b.tell(f)
}

// Words of freezing.
const (
	whyFreezes     = "Acid this weak freezes between {strong} and {weak}, by a table good to a few degrees."
	hazardIce      = "It is colder than its acid can stand"
	hazardMaybeIce = "It may be frozen"
	saysIce        = "At {temp} this acid is ice. Do not charge, load or jump it: thaw it, then look at the case."
	saysMaybeIce   = "It may be frozen. Thaw it and look at the case before you charge it."
	saysNearIce    = "It can freeze from {weak}, and it stands at {temp}. Charge it before it stands out in the cold."
	saysThin       = "{volts} is under its empty mark: acid nearly water, which freezes at {point}."
	whyThin        = "The volts go on falling as the acid thins. It may freeze from {from} on, and its plates are deep in sulphate."
)
