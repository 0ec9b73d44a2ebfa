package bench

import (
	"math"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// A charge that ends full too soon for the ampere-hours that were missing did not
// fill the battery: it took none. What a charger gives at most where nobody noted
// it, and the part of what was missing that must at least have been possible.
// House judgement.
const (
	mostShopAmps = 25.0
	tookPart     = 0.6
)

// givenPart is how many times its ampere-hours a charge has given that has filled any
// battery which can be filled. Common practice, no source.
const givenPart = 1.3

// Given is the ampere-hours a charge can have given at the amps its charger gives; 0
// where nobody noted them.
func (c *Charged) Given() float64 { return c.Hours * c.Amps }

// takeHung notes that it hangs on a charger, and that it no longer does: a rest voltage,
// a test or a start says so as well as the word that it was taken off.
func (b *Bench) takeHung(f *Fact) {
	switch {
	case f.Hung != nil:
		one := *f.Hung
		one.Reading, one.At = f.Reading, f.At
		b.Hung = &one
	case f.Look != nil && b.Hung != nil:
		look, looks := *f.Look, b.Hung.Looks
		look.At = f.At
		hung := *b.Hung
		hung.Looks = append(slices.Clone(looks), look)
		b.Hung = &hung
	case f.Charged != nil || f.Charge != nil || f.Load != nil || f.Test != nil || f.Ran:
		b.Hung = nil
	}
}

// fromHung fills in of a charge what is known from its charger: how long it hung there,
// and at what amps.
func (b *Bench) fromHung(c *Charged) {
	h := b.Hung
	if h == nil {
		return
	}
	if c.Hours == 0 && !h.At.IsZero() && c.At.After(h.At) {
		c.Hours = c.At.Sub(h.At).Hours()
	}
	if c.Amps == 0 {
		c.Amps = h.Amps
	}
}

func (b *Bench) takeCharged(f *Fact) {
	one := *f.Charged
	c := &one
	c.Reading, c.At = f.Reading, f.At
	b.fromHung(c)
	if soc := b.knownCharge(); soc != nil {
		c.Missing = (100 - soc.High) / 100 * b.ampHours()
		c.Nearly = soc.High >= nearlyFull
	}
	b.Charges = append(b.Charges, c)
	if b.TooSoon(c) {
		b.tell(Finding{
			Code: "charged.too_soon", Level: Act, Readings: []int{f.Reading}, Rule: "charge.taken", Source: Practice,
			Text: words.Say(saysTooSoon, "hours", measure.Of(c.Hours, measure.Hour, measure.Exact),
				"missing", measure.Of(c.Missing, measure.AmpHour, 0)),
			Why: words.Say(whyTooSoon),
		})
	}
	switch c.Ended {
	case EndedFull:
		if !b.TooSoon(c) {
			b.Full, b.FullAt = c, f.At
		}
	case EndedStopped:
		// Stopped, yet given all that was missing and more: as full as it will get.
		if c.Given() >= givenPart*b.ampHours() && b.ampHours() > 0 {
			b.Full, b.FullAt = c, f.At
		} else {
			b.Full = nil
		}
	default:
		if c.Ended == EndedHot {
			b.end(HazardHot)
			b.Hazards = append(b.Hazards, Hot(f.Reading))
		}
		b.Full = nil
	}
	b.Charge, b.Acid, b.Eye = nil, nil, ""
	for _, l := range b.loads {
		l.ChargedSince = true
	}
	for _, t := range b.tests {
		t.ChargedSince = true
	}
}

// ampHours is the battery's size, 0 where the label does not say.
func (b *Bench) ampHours() float64 {
	plate, err := battery.Complete(b.Case.Battery.Chemistry, b.label())
	if err != nil {
		return 0
	}
	return plate.Ah20h.Value
}

// TooSoon reports whether a charge ended full before it can have given what was
// missing.
func (b *Bench) TooSoon(c *Charged) bool {
	if c.Ended != EndedFull || c.Hours <= 0 || c.Missing <= 0 {
		return false
	}
	amps := c.Amps
	if amps <= 0 {
		amps = min(mostShopAmps, 0.5*b.ampHours())
	}
	return c.Hours*amps < tookPart*c.Missing
}

// AsFullAsItGets reports whether it was charged to full lately, by a charge that can
// have filled it, and has not been used since: a battery that then rests a little under
// the table's volts is full for what it is, and charging it again changes nothing.
func (b *Bench) AsFullAsItGets() bool {
	return b.Full != nil && b.Charge != nil && b.Charge.Reading > b.Full.Reading && !b.ranSince(b.Full.Reading) &&
		!older(b.FullAt, b.Now, ChargeSpeaks)
}

// LeastOfFull is the least charge, percent, of a battery that was charged full and
// rested: what its volts leave open below is its build and its age, not its charge.
// House judgement.
const LeastOfFull = 85.0

// filled reports whether a rest voltage is that of a battery charged full, and not used
// or left standing since, that may be full by it.
func (b *Bench) filled(c *Charge) bool {
	return b.Full != nil && c.Settled && c.Known() && !c.Other && !older(b.FullAt, c.At, ChargeSpeaks) &&
		c.Rest.MinutesSinceCharge <= ChargeSpeaks.Minutes() && c.RestCharge.Charge.High >= b.House.LoadTestMinSOC
}

// FilledBefore reports whether a reading was taken of a battery that was as full as it
// gets.
func (b *Bench) FilledBefore(reading int) bool {
	return b.Full != nil && b.Full.Reading < reading && !b.ranSince(b.Full.Reading)
}

// ranSince reports whether an engine was cranked or run after a reading.
func (b *Bench) ranSince(reading int) bool {
	for _, f := range b.facts {
		if f.Reading > reading && f.Ran {
			return true
		}
	}
	return false
}

// HouseRate is the rate at which the house charges it; a tenth where the house goes by a
// label that prints none.
func (b *Bench) HouseRate() string {
	if b.House.ChargeRate == rules.RateLabel && b.Case.Battery.Rating.ChargeAmps == nil {
		return rules.RateTenth
	}
	return b.House.ChargeRate
}

// ChargeAmps is what it is charged with at a rate: a tenth of its ampere-hours, what its
// label prints, or fast; 0 where nobody knows its size.
func (b *Bench) ChargeAmps(rate string) float64 {
	ah := b.ampHours()
	if ah <= 0 {
		return 0
	}
	printed := 0.0
	if p := b.Case.Battery.Rating.ChargeAmps; p != nil {
		printed = *p
	}
	return charge.RateAmps(rate, b.Case.Battery.Chemistry, ah, printed)
}

// ChargeMinutes is how long it takes to a charge, percent, on a smart charger at the
// given rate, in the cold it stands in: to the next quarter of an hour, and one at
// least. Of a battery whose size nobody knows it takes a common one; the size cancels
// out at a tenth.
func (b *Bench) ChargeMinutes(rate string, to float64) float64 {
	ask := reach{to: to, amps: b.ChargeAmps(rate)}
	if soc := b.SOC(); soc != nil {
		ask.from = soc.Best
	}
	if ask.from >= to {
		return 0
	}
	ask.tempC, _ = b.Case.TempC(nil)
	for _, r := range b.memo.reaches {
		if r.reach == ask {
			return r.minutes
		}
	}
	made, ok := b.AsNew()
	if !ok {
		if made, ok = b.Of(rating.Label{Ah20h: commonAh}); !ok {
			return 0
		}
		ask.amps = charge.RateAmps(rate, b.Case.Battery.Chemistry, commonAh, 0)
	}
	hours, err := charge.Reach(made, ask.from, to, ask.tempC, ask.amps)
	if err != nil {
		return 0
	}
	minutes := max(15, 15*math.Ceil(hours*4-1e-9))
	b.memo.reaches = append(b.memo.reaches, reached{ask, minutes})
	return minutes
}

// commonAh is the size of a battery that nobody knows the size of.
const commonAh = 50.0

// reach is a charge that was asked of the model, and reached what it said.
type reach struct{ from, to, tempC, amps float64 }

type reached struct {
	reach
	minutes float64
}

// WasCharged reports whether it was charged in this job.
func (b *Bench) WasCharged() bool { return len(b.Charges) > 0 }

// Refusals counts the last charges in a row that ended in refusal or, by the other
// count, heat; a refusal given up early counts half.
func (b *Bench) Refusals() (refused, hot float64) {
	for i := len(b.Charges) - 1; i >= 0; i-- {
		switch c := b.Charges[i]; c.Ended {
		case EndedRefused:
			one := 1.0
			if c.Hours < refusalHours { // or nobody noted them
				one = 0.5
			}
			if c.Hours >= 2*refusalHours {
				one = 2
			}
			if c.Nearly {
				one = 0 // what is nearly full takes little
			}
			refused += one
		case EndedHot:
			hot++
		default:
			return refused, hot
		}
	}
	return refused, hot
}

// nearlyFull is the charge, percent, from which a battery may take next to nothing
// and be none the worse. House judgement.
const nearlyFull = 85.0

// refusalHours is how long a flat battery may take nothing before it is a
// refusal: 8 to 16 h under 16 V. Common practice, no source.
const refusalHours = 8

// showsFull remembers what a battery rests at when it is full: settled after a
// full charge, glass mat and gel for the ten hours in which their tail fades.
func (b *Bench) showsFull(c *Charge) {
	if b.Full == nil || !c.Settled || !c.Known() || c.Other {
		return
	}
	chem := b.Case.Battery.Chemistry
	if !chem.Liquid() && c.Rest.MinutesSinceCharge < tailOverMinutes {
		return
	}
	top := battery.RestVolts(chem, battery.Cells(b.Case.Volts()), 100, c.TempC)
	if d := c.Volts - top; d > -0.12*b.Case.Volts()/12 && d < 0.12*b.Case.Volts()/12 {
		b.Shown = c.Volts
	}
}

const tailOverMinutes = 600

// Holding is what a battery that is low again after a full charge says of itself.
type Holding int

// What a low battery after a full charge may be.
const (
	Holds     Holding = iota // it is not low, or was never full
	Shorted                  // it rests where five good cells of six do
	Leaks                    // its own loss, too much for the time
	Drained                  // time and what hangs on it explain it
	TimeLost                 // nobody said how long it stood
	Connected                // its cable was on, and nobody measured the drain
)

// How long after a full charge a loss is a night's, minutes; and the part of the
// charge that may go missing beside what is known to take it. House judgement.
const (
	nightMinutes = 3 * 24 * 60
	lossSpread   = 8.0
)

// Holding says whether it holds its charge.
func (b *Bench) Holding() Holding {
	c := b.Charge
	if b.Full == nil || c == nil || !c.Settled || !c.Known() || c.RestCharge.Charge.High >= b.House.LoadTestMinSOC {
		return Holds
	}
	k := b.Case.Volts() / 12
	if c.Volts >= FiveCellsFrom*k && c.Volts <= FiveCellsTo*k && b.Case.Volts() == 12 {
		return Shorted
	}
	minutes := c.Rest.MinutesSinceCharge
	if minutes < 0 && !b.FullAt.IsZero() && !c.At.IsZero() {
		minutes = c.At.Sub(b.FullAt).Minutes()
	}
	if minutes < 0 {
		return TimeLost
	}
	lost := 100 - c.RestCharge.Charge.High
	own := battery.SelfDischarge(b.Case.Battery.Chemistry, 100, c.TempC) * minutes / (30 * 24 * 60)
	drain, known := b.drained(minutes)
	switch {
	case !c.Apart && !known && minutes >= 60*6:
		return Connected
	case lost > 2*own+drain+lossSpread && (minutes <= nightMinutes || c.Apart || known):
		return Leaks
	}
	return Drained
}

// drained is the charge, percent, that a standing drain has taken in so many
// minutes, and whether it is known.
func (b *Bench) drained(minutes float64) (pct float64, known bool) {
	ah := b.ampHours()
	for i, r := range b.Case.Readings {
		if ma, ok := r.Number("milliamps"); ok && b.speaks(i) && ah > 0 && r.Word("fuse") == "" {
			pct, known = 100*ma/1000*minutes/60/ah, true
		}
	}
	if b.Charge.Apart {
		return 0, true
	}
	return pct, known
}

// Volts, of 12, that five good cells of six make. Arithmetic: 5 × 2.1 V, within
// 0.35 V either way for their charge.
const FiveCellsFrom, FiveCellsTo = 10.2, 10.9

// label is the case's label with what its class adds to it.
func (b *Bench) label() rating.Label {
	l := b.Case.Battery.Rating.Label()
	if l.CCA > 0 || l.CA > 0 || l.Ah20h <= 0 {
		return l
	}
	switch {
	case b.Case.Vehicle.Class == "motorcycle" && !b.Case.Battery.Chemistry.Liquid():
		l.CCA = motorcycleAmps * l.Ah20h
	case b.Case.Vehicle.Class == "hybrid":
		l.CCA = hybridAmps * l.Ah20h
	}
	return l
}

// Cranking amps for each ampere-hour where a class is apart from its chemistry:
// motorcycle AGM 17 to 19, a hybrid's auxiliary about 7. Read off common labels,
// no source.
const (
	motorcycleAmps = 18.0
	hybridAmps     = 7.0
)

// Words of charges.
const (
	saysTooSoon = "Full after {hours}, with at least {missing} missing: it did not fill up."
	whyTooSoon  = "A charger's lamp goes by volts. A battery that reaches them at once takes no current: sulphated, or a bad contact."
)
