package station

import (
	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/energy"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Charging is the volts at the battery with the engine running.
const Charging = "charging"

// chargingSpread is ± how far the volts of two alternators of one kind differ, of 12.
const chargingSpread = 0.10

// Volts at 25 °C that charge without overcharging, of 12; and under which nothing
// charges at all. Common practice, no source.
const (
	chargesFrom = 13.5
	chargesTo   = 14.8
	chargesNot  = 12.9
)

func init() {
	register(Station{
		Code: Charging, Place: 90, Name: "Charging", Hint: "volts at the battery, engine running", Minutes: 5,
		Cautions: chargingCautions, Advise: adviseCharging, Gauges: chargingGauges, Sum: sumCharging,
	}, Kind{
		Code: Charging, Name: "Charging", Hint: "volts with the engine running", Minutes: 5,
		Fields: []Field{
			{
				Name:    "volts",
				Label:   "Volts at the posts",
				Shape:   document.Number(-maxPostVolts, maxPostVolts, "V"),
				Need:    true,
				Big:     true,
				Digits:  2,
				Example: "14.30",
				Posts:   true,
			},
			{
				Name:  "speed",
				Label: "Engine",
				Words: words.ListOf(words.Term{Code: "idle", Word: "Idling", Said: "at idle"},
					words.Term{Code: "raised", Word: "Raised, 1500 to 2000", Said: "raised"}),
			},
			{
				Name:  "loads",
				Label: "Loads",
				Words: words.ListOf(words.Term{Code: "off", Word: "Off"}, words.Term{Code: "on", Word: "On: lamps, fan, screen", Said: "on"}),
				Said:  "loads {value}",
			},
		},
		Judge: judgeCharging, Expect: expectCharging,
	})
}

func chargingCautions(b *bench.Bench) []string {
	if b.Case.Vehicle.Electric() {
		return []string{"high_voltage"}
	}
	return []string{"running_engine"}
}

// at25 brings charging volts to 25 °C, of six cells.
func at25(c reading.Case, volts float64) (v, tempC float64, assumed bool) {
	tempC, assumed = c.TempC(nil)
	return volts*12/c.Volts() - energy.VoltsPerC*(tempC-25), tempC, assumed
}

func judgeCharging(in Before, r reading.Reading) bench.Fact {
	c := in.Case
	volts := r.Or("volts", 0)
	v, temp, assumed := at25(c, volts)
	e := battery.MeterError(volts) * 12 / c.Volts()
	if assumed {
		e = sigma(e, energy.VoltsPerC*battery.UnknownTempC)
	}
	idle := r.Word("speed") != "raised"
	f := bench.Finding{
		Code: "charging.fine", Level: bench.OK, Readings: []int{in.Reading}, Rule: "charging.range",
		Source: "common practice, no source; change with temperature published, from memory",
		Text:   words.Say(saysCharges, "volts", measure.Volts(volts, 2)),
		Why: words.Say(whyCharges, "temp", measure.Degrees(temp), "ref", measure.Degrees(25), "at25", measure.Volts(v*c.Volts()/12, 2),
			"from", measure.Volts(chargesFrom*c.Volts()/12, 2), "to", measure.Volts(chargesTo*c.Volts()/12, 2)),
	}
	fact := bench.Fact{Mends: []string{"undercharging", "overcharging"}, Settles: Charging}
	switch {
	case v-e > chargesTo:
		f.Code, f.Level, f.Text = "charging.over", bench.Act, words.Say(saysOver, "volts", measure.Volts(volts, 2))
		fact.Faults = []bench.Fault{{Code: "overcharging", Name: words.Say(nameOver), Explains: true}}
	case v > chargesTo+1e-9:
		f.Code, f.Level, f.Text = "charging.high", bench.Note, words.Say(saysHighish, "volts", measure.Volts(volts, 2))
		if again(in) {
			f.Text = words.Say(saysEdgeAgain, "volts", measure.Volts(volts, 2))
		} else {
			fact.Settles = ""
		}
	case v >= chargesFrom-1e-9:
	case idle && v+e < chargesFrom:
		f.Code, f.Level, f.Text = "charging.low_idle", bench.Note, words.Say(saysLowIdle, "volts", measure.Volts(volts, 2))
		fact.Mends, fact.Settles = nil, ""
	case v+e < chargesFrom:
		f.Code, f.Level, f.Text = "charging.under", bench.Act, words.Say(saysUnder, "volts", measure.Volts(volts, 2))
		if v < chargesNot {
			f.Code, f.Text = "charging.none", words.Say(saysNoCharge, "volts", measure.Volts(volts, 2))
		}
		fact.Faults = []bench.Fault{{Code: "undercharging", Name: words.Say(nameUnder), Explains: true, Why: true}}
	default:
		f.Code, f.Level, f.Text = "charging.lowish", bench.Note, words.Say(saysLowish, "volts", measure.Volts(volts, 2))
		if !idle && again(in) {
			f.Text = words.Say(saysEdgeAgain, "volts", measure.Volts(volts, 2))
		} else {
			fact.Settles = ""
		}
	}
	fact.Findings = []bench.Finding{f}
	return fact
}

// again reports whether it was read before with the engine raised: what stays at the
// edge twice is within what meter and temperature leave open, and asking a third time
// settles no more.
func again(in Before) bool {
	for _, r := range in.Case.Readings[:in.Reading] {
		if r.Kind == Charging && r.Word("speed") == "raised" {
			return true
		}
	}
	return false
}

func adviseCharging(b *bench.Bench) Advice {
	a := Advice{Level: bench.OK, Ways: []Way{{Code: Charging, Word: "Charging", Kind: Charging, Do: words.Say(doCharging)}}}
	if b.Case.Vehicle.Electric() {
		a.Ways[0].Do = words.Say(doConverter)
	}
	unsafe(b, &a)
	return a
}

func chargingGauges(b *bench.Bench) []bench.Gauge {
	c := b.Case
	k := c.Volts() / 12
	temp, _ := c.TempC(nil)
	shift := energy.VoltsPerC * (temp - 25)
	from, to := (chargesFrom+shift)*k, (chargesTo+shift)*k
	g := bench.Gauge{
		Quantity: "charging_volts", Name: "Charging volts", Unit: "V", Digits: 2, Min: 12 * k, Max: 16 * k, Step: 0.5 * k,
		Level: bench.Note, Label: words.Say(notRead), Shown: true,
		Notches: []bench.Notch{{At: from, Word: words.Say(notchCharges, "volts", measure.Plain(from, 1))},
			{At: to, Word: words.Say(notchMost, "volts", measure.Plain(to, 1))}},
	}
	for i, r := range c.Readings {
		if r.Kind != Charging {
			continue
		}
		v := r.Or("volts", 0)
		e := battery.MeterError(v)
		g.Band = &battery.Band{Low: v - e, Best: v, High: v + e}
		f := judgeCharging(Before{c, i}, r).Findings[0]
		g.Level, g.Label = f.Level, words.Say(labelCharging, "volts", measure.Volts(v, 2))
	}
	return []bench.Gauge{g}
}

func sumCharging(b *bench.Bench) (bench.Level, words.Text) {
	g := chargingGauges(b)[0]
	if g.Band == nil {
		return bench.Note, words.Text{}
	}
	return g.Level, g.Label
}

const (
	saysCharges   = "{volts} with the engine running: it charges."
	saysOver      = "{volts} with the engine running: it overcharges."
	saysHighish   = "{volts} with the engine running: high, perhaps just after a cold start. Look again in ten minutes."
	saysLowIdle   = "{volts} at idle: raise the revs, load it, look again. A smart alternator idles low."
	saysLowish    = "{volts} with the engine running: at the low edge. Raise it and load it."
	saysEdgeAgain = "{volts} with the engine running, at the edge again: no fault that this meter and the temperature can tell."
	saysUnder     = "{volts} with the engine raised: it undercharges."
	saysNoCharge  = "{volts} with the engine raised: it does not charge."
	whyCharges    = "At {temp} that is {at25} at {ref}; {from} to {to} charge without overcharging."
	nameOver      = "Mend the charging: it overcharges"
	nameUnder     = "Mend the charging: it undercharges"
	doCharging    = "Loads off at idle; then raised to 1500 to 2000 with lamps, fan and screen on. Read at the posts."
	doConverter   = "Car awake, ready light on: the converter should hold 13.5 V and more at the posts."
	notchCharges  = "charges from {volts}"
	notchMost     = "most {volts}"
	labelCharging = "{volts} running"
)

// expectCharging: the regulated voltage at this temperature, or the battery's own
// where the alternator gives nothing.
func expectCharging(w World, how reading.Reading) []Prediction {
	n := float64(w.Battery.Cells()) / 6
	if w.AlternatorV <= 0 {
		return expectRest(w, reading.Reading{})
	}
	v, s := w.AlternatorV+energy.VoltsPerC*(w.BatteryC-25), chargingSpread
	if how.Word("speed") == "idle" {
		v, s = v-idleDrop, sigma(s, idleSpread)
	}
	if how.Word("loads") == "on" {
		v, s = v-loadsDrop, sigma(s, loadsSpread)
	}
	return []Prediction{{Field: "volts", Best: n * v, Sigma: sigma(meterSigma(n*v), n*s)}}
}

// What an idling engine and switched-on loads take off the volts of a good
// alternator, and how far that differs between vehicles, of 12. Common practice, no
// source.
const (
	idleDrop, idleSpread   = 0.10, 0.20
	loadsDrop, loadsSpread = 0.10, 0.15
)
