package station

import (
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// Charge is where it is charged, if it is too low to test.
const Charge = "charge"

// Charged is a charge that was given.
const Charged = "charged"

// Ended is how a charge ended.
var ended = words.ListOf(
	words.Term{Code: bench.EndedFull, Word: "To full"},
	words.Term{Code: bench.EndedStopped, Word: "Stopped early"},
	words.Term{Code: bench.EndedRefused, Word: "It refused"},
	words.Term{Code: bench.EndedHot, Word: "It got hot"})

func init() {
	register(Station{
		Code: Charge, Place: 60, Name: "Charge", Hint: "how the charge went", Minutes: 5,
		Advise: adviseCharge, Cautions: cautionsOfCharge, Sum: sumCharged,
	}, Kind{
		Code: Charged, Name: "Charged", Hint: "how the charge ended", Minutes: 1,
		Fields: []Field{
			{Name: "ended", Label: "How the charge ended", Need: true, Words: ended},
			{Name: "hours", Label: "Hours on the charger", Shape: document.Number(0, 500, "h")},
			{Name: "amps", Label: "Charger gives", Shape: document.Number(0, 500, "A"), Said: "charger of {value}"},
			{
				Name:  "amps_end",
				Label: "Amps at the end",
				Shape: document.Number(0, 500, "A"),
				Said:  "{value} at the end",
			},
		},
		Judge: judgeCharged,
	})
}

// judgeCharged starts a new chapter: what the rest voltage said is history.
func judgeCharged(in Before, r reading.Reading) bench.Fact {
	how := r.Word("ended")
	level, text, why := bench.OK, saysFull, whyHistory
	switch how {
	case bench.EndedStopped:
		text = saysStopped
	case bench.EndedRefused:
		level, text, why = bench.Act, saysRefused, whyRefused
	case bench.EndedHot:
		level, text, why = bench.Act, saysHot, whyHot
	}
	return bench.Fact{
		Charged: &bench.Charged{Ended: how, Hours: r.Or("hours", 0), Amps: r.Or("amps", 0)},
		Findings: []bench.Finding{{
			Code:     "charged." + how,
			Level:    level,
			Readings: []int{in.Reading},
			Rule:     "charge.ended",
			Source:   bench.Practice,
			Text:     words.Say(text),
			Why:      words.Say(why),
		}},
	}
}

// adviseCharge says how this battery is charged.
func adviseCharge(b *bench.Bench) Advice {
	a := Advice{Level: bench.OK, Ways: []Way{{Code: Charged, Word: "Charged", Kind: Charged}}}
	if unsafe(b, &a) {
		return a
	}
	do := doChargeFlooded
	if !b.Case.Battery.Chemistry.Liquid() {
		do = doChargeHeld
	}
	where := doInPlace
	if b.House.ChargePlace == rules.ChargeOnBench {
		where = doOnBench
	}
	a.Ways[0].Do = words.Say("{how} {where}", "how", do, "where", where)
	if c := b.Charge; c != nil && watched(b) {
		a.Level, a.Head, a.Text = bench.Act, words.Say(adviceWatched, "volts", measure.Volts(c.Volts, 2)), words.Say(adviceWatch)
	}
	return a
}

// watched reports whether it rests where five good cells would: one may be
// shorted, and it is charged under somebody's eyes.
func watched(b *bench.Bench) bool {
	v := b.Charge.Volts
	return b.Case.Volts() == 12 && v >= bench.FiveCellsFrom && v <= bench.FiveCellsTo
}

func cautionsOfCharge(b *bench.Bench) []string {
	out := []string{"hydrogen", "charging"}
	if !b.Case.Battery.Chemistry.Liquid() {
		out = append(out, "charging_sealed")
	}
	if b.Case.Vehicle.Electric() {
		out = append(out, "high_voltage")
	}
	return out
}

func sumCharged(b *bench.Bench) (bench.Level, words.Text) {
	if len(b.Charges) == 0 {
		return bench.Note, words.Text{}
	}
	c := b.Charges[len(b.Charges)-1]
	level := bench.OK
	if c.Ended == bench.EndedRefused || c.Ended == bench.EndedHot || b.TooSoon(c) {
		level = bench.Act
	}
	return level, words.Say(ended.Said(c.Ended))
}

const (
	saysFull    = "Charged to full."
	saysStopped = "Charging was stopped before the end."
	saysRefused = "It refused the charge."
	saysHot     = "Charging was stopped because it got hot."
	whyHistory  = "Readings from before are judged as of then."
	whyRefused  = "A deeply flat battery takes nothing for hours: up to 4 h at 16 V and over, 8 to 16 h under 16 V. Many " +
		"chargers do not start under about 8 V."
	whyHot          = "A shorted cell, too many amps or too many volts. Let it cool before anything else."
	doChargeFlooded = "At a tenth of its ampere-hours or less, on the setting for its build."
	doChargeHeld    = "On the charger’s AGM or gel setting, never equalised, vents left shut."
	doInPlace       = "In the vehicle, clamps clean, fresh air."
	doOnBench       = "Out of the vehicle, on a clear bench."
	adviceWatched   = "{volts}: one cell may be shorted."
	adviceWatch     = "Charge it watched, at low amps. Stop if it gets hot, gasses or smells."
)
