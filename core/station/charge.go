package station

import (
	"grapnel/core/bench"
	"grapnel/core/charge"
	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// Charge is where it is charged, if it is too low to test.
const Charge = "charge"

// Kinds of reading at a charge: it was hung on a charger, somebody looked at it there,
// and it was taken off again.
const (
	OnCharger   = "on_charger"
	ChargeCheck = "charge_check"
	Charged     = "charged"
)

// gassings is how a battery on charge gasses.
var gassings = words.ListOf(
	words.Term{Code: "none", Word: "None"},
	words.Term{Code: "some", Word: "Some", Said: "some gas"},
	words.Term{Code: bench.GassingViolent, Word: "Violent", Said: "gassing violently"})

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
	}, Kind{
		Code: OnCharger, Name: "On charger", Hint: "what it hangs on", Minutes: 3, EndsRest: true,
		Fields: []Field{
			{Name: "charger", Label: "Which charger", Shape: document.Text(40), Said: "charger {value}"},
			{Name: "charger_kind", Label: "Kind of charger", Need: true, Words: charge.Kinds(), Default: string(charge.Smart), Unsaid: true},
			{Name: "amps", Label: "Set to", Big: true, Need: true, Shape: document.Number(0.05, 500, "A"), Digits: 1, Example: "4"},
			{Name: "volts", Label: "Held at", Shape: document.Number(5, 40, "V"), Digits: 1, Said: "held at {value}",
				Hint: "Left out: as its build asks."},
			{Name: "place", Label: "Where", Words: chargePlaces},
		},
		Judge: judgeOnCharger,
	}, Kind{
		Code: ChargeCheck, Name: "On charge", Hint: "volts, amps, its warmth", Minutes: 1,
		Fields: []Field{
			{Name: "volts", Label: "Volts at the posts", Big: true, Need: true, Shape: document.Number(0, 40, "V"), Digits: 2, Example: "13.40"},
			{Name: "amps", Label: "Amps", Shape: document.Number(0, 500, "A"), Digits: 1, Example: "6.4"},
			{Name: "warmth", Label: "To the hand", Words: charge.Warmths()},
			{Name: "case_c", Label: "Case temperature", Shape: document.Number(-50, 110, "°C"), Said: "case at {value}"},
			{Name: "gassing", Label: "Gassing", Words: gassings},
			{Name: "colour", Label: "Eye", Words: colours, Said: "eye {value}"},
			{Name: "level", Label: "Level", Words: levels},
		},
		Judge: judgeCheck,
	})
}

// chargePlaces is where a battery is charged.
var chargePlaces = words.ListOf(
	words.Term{Code: rules.ChargeOnBench, Word: "On the bench"},
	words.Term{Code: rules.ChargeInPlace, Word: "In the vehicle"})

// judgeOnCharger notes that it hangs on a charger.
func judgeOnCharger(in Before, r reading.Reading) bench.Fact {
	return bench.Fact{Hung: &bench.Hung{
		Charger: r.Word("charger"), Kind: charge.Kind(r.Word("charger_kind")), Amps: r.Or("amps", 0), Volts: r.Or("volts", 0),
	}}
}

// judgeCheck stops what gets too hot or gasses violently; the rest is for the forecast.
func judgeCheck(in Before, r reading.Reading) bench.Fact {
	var f bench.Fact
	switch r.Word("colour") {
	case "clear", "yellow":
		f = judgeEye(in, r)
	}
	if r.Word("level") == "plates_dry" {
		f.Hazards = append(f.Hazards, bench.Hazard{Code: bench.HazardDry, Name: words.Say("The plates are dry"), First: "water"})
	}
	f.Look = &bench.Look{Warmth: r.Word("warmth")}
	for name, into := range map[string]**float64{"volts": &f.Look.Volts, "amps": &f.Look.Amps, "case_c": &f.Look.CaseC} {
		if v, ok := r.Number(name); ok {
			*into = &v
		}
	}
	say := func(code, text, why string, with ...any) {
		f.Findings = append(f.Findings, bench.Finding{
			Code: code, Level: bench.Act, Readings: []int{in.Reading}, Rule: "charge.limits", Source: bench.Practice,
			Text: words.Say(text, with...), Why: words.Say(why, "limit", measure.Degrees(charge.HotC)),
		})
	}
	if f.Look.Warmth == charge.Hot || f.Look.CaseC != nil && *f.Look.CaseC >= charge.HotC {
		say("charge_check.hot", saysTooHot, whyTooHot)
		f.Hazards = append(f.Hazards, bench.Hot(in.Reading))
	} else if f.Look.Warmth != "" || f.Look.CaseC != nil {
		f.Clears = append(f.Clears, bench.HazardHot)
	}
	if r.Word("gassing") == bench.GassingViolent {
		say("charge_check.gassing", saysGassing, whyTooHot)
	}
	return f
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
	hang := Way{Code: OnCharger, Word: "Hang it on", Kind: OnCharger, Do: a.Ways[0].Do}
	if b.ChargeAmps(rules.RateTenth) > 0 {
		hang.Fields = []FieldAdvice{{Name: "amps", Hint: ratesOf(b)}}
	}
	if b.Hung == nil {
		a.Ways = append(a.Ways, hang)
	} else {
		a.Ways = append([]Way{{Code: ChargeCheck, Word: "Look at it", Kind: ChargeCheck, Do: words.Say(doCheck)}}, append(a.Ways, hang)...)
	}
	if c := b.Charge; c != nil && watched(b) {
		a.Level, a.Head, a.Text = bench.Act, words.Say(adviceWatched, "volts", measure.Volts(c.Volts, 2)), words.Say(adviceWatch)
	}
	return a
}

// ratesOf is the amps of every rate it can be charged at, the house's first.
func ratesOf(b *bench.Bench) words.Text {
	house := b.HouseRate()
	var all []words.Text
	add := func(code string) {
		if code == rules.RateLabel && b.Case.Battery.Rating.ChargeAmps == nil {
			return
		}
		all = append(all, words.Say(oneRate, "rate", charge.Rates().Word(code), "amps", measure.Of(b.ChargeAmps(code), measure.Amp, measure.Exact)))
	}
	add(house)
	for _, code := range charge.Rates().Codes() {
		if code != house {
			add(code)
		}
	}
	return words.Join(". ", all)
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
	saysTooHot      = "Too hot on charge: off, or fewer amps."
	saysGassing     = "It gasses violently: off, or fewer amps."
	whyTooHot       = "Case under {limit}, cool enough for a hand, no violent gassing or spewing: else stop or turn down."
	whyHot          = "A shorted cell, too many amps or too many volts. Let it cool before anything else."
	doChargeFlooded = "At a tenth of its ampere-hours or less, on the setting for its build."
	doChargeHeld    = "On the charger’s AGM or gel setting, never equalised, vents left shut."
	oneRate         = "{rate}: {amps}"
	doCheck         = "Volts at the posts, amps, a hand on its case. Every half hour."
	doInPlace       = "In the vehicle, clamps clean, fresh air."
	doOnBench       = "Out of the vehicle, on a clear bench."
	adviceWatched   = "{volts}: one cell may be shorted."
	adviceWatch     = "Charge it watched, at low amps. Stop if it gets hot, gasses or smells."
)
