package station

import (
	"cmp"
	"math"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/energy"
	"grapnel/core/engine"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// WhyFlat is where a typical week is told, and its account drawn.
const WhyFlat = "why_flat"

// Week is a typical week as the customer tells it.
const Week = "week"

func init() {
	register(Station{
		Code: WhyFlat, Place: 110, Name: "Why flat?", Hint: "a usual week in ampere-hours, in and out", Minutes: 4,
		Fits:   func(b *bench.Bench) bool { return !b.Case.Vehicle.Electric() },
		Advise: adviseWeek, Gauges: weekGauges, Draws: flowOf,
		Chief: func(reading.Reading) bool { return false }, // what it comes to, not the trips
	}, Kind{
		Code: Week, Name: "Week", Hint: "trips of a usual week, as the customer tells it", Minutes: 4,
		Fields: []Field{
			{
				Name: "trips", Label: "Trips a week", Shape: document.Number(0, 300, ""), Need: true, Big: true, Example: "10",
				Said: "{value} trips",
			},
			{
				Name: "minutes", Label: "Each lasts", Shape: document.Number(1, 1440, "min"), Need: true, Said: "of {value}",
				Picks: []Pick{{5, "5 min"}, {12, "12 min"}, {25, "25 min"}, {60, "1 h"}},
			},
			{
				Name: "long_minutes", Label: "And one long drive a week", Shape: document.Number(1, 1440, "min"), Unknown: "None",
				Said:  "one long drive of {value}",
				Picks: []Pick{{40, "40 min"}, {60, "1 h"}, {180, "3 h"}},
			},
			{
				Name: "traffic", Label: "Mostly", Default: "road",
				Words: words.ListOf(words.Term{Code: "road", Word: "On the road", Said: "on the road"},
					words.Term{Code: "idling", Word: "Idling, stop and go", Said: "in traffic"}),
			},
			{
				Name: "loads", Label: "Switched on meanwhile", Default: "some",
				Words: words.ListOf(words.Term{Code: "few", Word: "Little", Said: "little on"},
					words.Term{Code: "some", Word: "Lamps and fan", Said: "lamps and fan on"},
					words.Term{Code: "many", Word: "Screen and seats too", Said: "screen and seats heated"}),
			},
			{
				Name: "season", Label: "Season", Default: "winter",
				Words: words.ListOf(words.Term{Code: "winter", Word: "Winter", Said: "in winter"},
					words.Term{Code: "between", Word: "Spring, autumn", Said: "in spring and autumn"},
					words.Term{Code: "summer", Word: "Summer", Said: "in summer"}),
			},
			{
				Name: "nights", Label: "Nights on a charger", Shape: document.Number(1, 7, ""), Unknown: "None", Said: "{value} on a charger",
				Picks: []Pick{{1, "One"}, {2, "Two"}, {7, "All"}},
			},
		},
		Judge: judgeWeek,
	})
}

// seasonTemp is the acid's mean temperature while it is driven and stands, °C, in a
// temperate upland. House judgement.
var seasonTemp = map[string]float64{"winter": 0, "between": 9, "summer": 20}

// loadsOn are the loads of the words.
var loadsOn = map[string]int{"few": energy.LittleOn, "some": energy.SomeOn, "many": energy.MuchOn}

// crankSeconds is how long a start takes. Common practice, no source.
const crankSeconds = 2.0

func judgeWeek(in Before, r reading.Reading) bench.Fact {
	// What is asked of the week under other house rules is the same week.
	type asked struct{ drain, volts, strength float64 }
	known := map[asked]*bench.Fed{}
	return bench.Fact{
		Feeds: func(b *bench.Bench) *bench.Fed {
			w, fed, ok := weekOf(b, in.Reading, r)
			if !ok {
				return nil
			}
			part, _ := b.Part()
			key := asked{w.Vehicle.DrainMilliamps, w.Vehicle.AlternatorVolts, part.Best}
			if known[key] == nil {
				fed.Account = energy.Of(w)
				known[key] = &fed
			}
			return known[key]
		},
		Late: tellWeek,
	}
}

// weekOf is the week that was told, of this battery as far as it is known: what was
// measured of its charging and its drain, and what is usual of the rest.
func weekOf(b *bench.Bench, at int, r reading.Reading) (energy.Week, bench.Fed, bool) {
	made, ok := b.AsNew()
	if !ok || b.Case.Vehicle.Electric() {
		return energy.Week{}, bench.Fed{}, false
	}
	now := made
	if part, known := b.Part(); known {
		now = made.WornTo(min(100, max(2, part.Best)))
	}
	usual := energy.UsualOf(b.Case.Vehicle.Class)
	temp := seasonTemp[cmp.Or(r.Word("season"), "winter")]
	w := energy.Week{Battery: now, TempC: temp, Vehicle: energy.Vehicle{
		AlternatorVolts: regulated(b.Case, energy.UsualVolts, temp),
		RoadAmps:        usual.RoadAmps, IdleAmps: usual.IdleAmps, LoadAmps: usual.LoadAmps[loadsOn[cmp.Or(r.Word("loads"), "some")]],
		DrainMilliamps: usual.DrainMilliamps, UsualMilliamps: usual.DrainMilliamps,
	}}
	if fuel := b.Case.Vehicle.Fuel; fuel != "none" && b.Case.Vehicle.Class != "hybrid" {
		w.Vehicle.CrankAmps, w.Vehicle.CrankSeconds = engine.Of(fuel, made.CCA).Amps.Best*engine.Need(temp), crankSeconds
	}
	fed := bench.Fed{Reading: at}
	measured(b, &w, &fed)
	if b.Case.Vehicle.Arrangement == "parallel" { // each of a pair has half
		w.Vehicle.RoadAmps, w.Vehicle.IdleAmps, w.Vehicle.LoadAmps = w.Vehicle.RoadAmps/2, w.Vehicle.IdleAmps/2, w.Vehicle.LoadAmps/2
		w.Vehicle.CrankAmps, w.Vehicle.DrainMilliamps = w.Vehicle.CrankAmps/2, w.Vehicle.DrainMilliamps/2
		w.Vehicle.UsualMilliamps /= 2
	}
	idling := r.Word("traffic") == "idling"
	w.Trips = []energy.Trip{{Times: r.Or("trips", 0), Minutes: r.Or("minutes", 0), Idling: idling}}
	if long, has := r.Number("long_minutes"); has {
		w.Trips = append(w.Trips, energy.Trip{Times: 1, Minutes: long})
	}
	if nights, has := r.Number("nights"); has {
		w.Nights, w.ChargerAmps = nights, energy.NightAmps(made)
	}
	fed.Week = w
	return w, fed, true
}

// regulated is what an alternator gives at tempC that is regulated to so many volts of 12
// at 25 °C.
func regulated(c reading.Case, at25, tempC float64) float64 {
	return energy.Regulated(at25, tempC, c.Volts())
}

// measured takes charging volts and drain as they were read last, unless what was wrong
// with them has been put right since.
func measured(b *bench.Bench, w *energy.Week, fed *bench.Fed) {
	for _, r := range b.Case.Readings {
		switch {
		case r.Kind == Charging:
			volts := r.Or("volts", 0)
			v, _, _ := at25(b.Case, volts)
			fed.Charging = r.Word("speed") == "raised" || v >= chargesFrom
			if !fed.Charging {
				continue // an idling engine says little
			}
			w.Vehicle.AlternatorVolts = regulated(b.Case, v, w.TempC)
			if v < chargesNot {
				w.Vehicle.AlternatorVolts = 0
			}
		case asleep(r):
			w.Vehicle.DrainMilliamps, fed.Drain = r.Or("milliamps", 0), true
		case r.Kind == PutRight:
			usual := energy.UsualOf(b.Case.Vehicle.Class)
			what := r.Words("what")
			if slices.Contains(what, "drain") {
				w.Vehicle.DrainMilliamps, fed.Drain = usual.DrainMilliamps, false
			}
			if slices.Contains(what, "alternator") || slices.Contains(what, "belt") {
				w.Vehicle.AlternatorVolts, fed.Charging = regulated(b.Case, energy.UsualVolts, w.TempC), false
			}
		}
	}
}

func adviseWeek(b *bench.Bench) Advice {
	a := Advice{Level: bench.OK, Ways: []Way{{Code: Week, Word: "A usual week", Kind: Week, Do: words.Say(doWeek)}}}
	if _, ok := b.AsNew(); !ok {
		a.Level, a.Text = bench.Note, words.Say(noteWeekLabel)
	}
	return a
}

// weekLevel says how the charge weighs at which a week settles.
func weekLevel(b *bench.Bench, f *bench.Fed) bench.Level {
	switch {
	case f.Underfed(b.House.LoadTestMinSOC):
		return bench.Act
	case f.Account.Settles.Best < energy.Enough:
		return bench.Note
	}
	return bench.OK
}

func tellWeek(b *bench.Bench) []bench.Finding {
	f := b.Fed()
	if f == nil {
		return nil
	}
	in, out := f.Account.Sums()
	finding := bench.Finding{
		Code: "week.settles", Level: weekLevel(b, f), Readings: []int{f.Reading}, Rule: "why.week", Source: bench.ModelSource,
		Text: words.Say(saysFed, "settles", percentBand(f.Account.Settles)),
		Why: words.Say(whyWeek, "in", ampHours(in), "out", ampHours(out), "temp", measure.Degrees(f.Week.TempC),
			"taken", taken(f)),
	}
	switch finding.Level {
	case bench.Act:
		finding.Code, finding.Text = "week.underfed", words.Say(saysUnderfed, "settles", percentBand(f.Account.Settles))
	case bench.Note:
		finding.Text = words.Say(saysBarelyFed, "settles", percentBand(f.Account.Settles))
	}
	return []bench.Finding{finding}
}

// taken says what of the week was measured here.
func taken(f *bench.Fed) words.Text {
	switch {
	case f.Charging && f.Drain:
		return words.Say(takenAll)
	case f.Charging:
		return words.Say(takenCharging)
	case f.Drain:
		return words.Say(takenDrain)
	}
	return words.Say(takenNone)
}

func percentBand(b battery.Band) words.Text {
	if b.High-b.Low < 1 {
		return words.Say("{best}", "best", measure.Percents(b.Best))
	}
	return words.Say(
		"{best} ({low} to {high})",
		"best",
		measure.Percents(b.Best),
		"low",
		measure.Plain(b.Low, 0),
		"high",
		measure.Percents(b.High),
	)
}

// ampHours says an amount as finely as it counts.
func ampHours(ah float64) measure.Quantity {
	digits := 1
	if math.Abs(ah) >= 20 {
		digits = 0
	}
	return measure.Of(math.Abs(ah), measure.AmpHour, digits)
}

func weekGauges(b *bench.Bench) []bench.Gauge {
	least := b.House.LoadTestMinSOC
	g := bench.Gauge{
		Quantity: "settles", Name: "Where the charge settles", Unit: "%", Min: 0, Max: 100, Step: 25, Level: bench.Note,
		Label: words.Say(notTold), Shown: b.Fed() == nil,
		Notches: []bench.Notch{{At: least, Word: words.Say(notchTest, "least", measure.Percents(least))}},
	}
	if f := b.Fed(); f != nil {
		g.Band, g.Level = &f.Account.Settles, weekLevel(b, f)
		g.Label = words.Say(labelSettles, "settles", measure.Percents(f.Account.Settles.Best))
	}
	return []bench.Gauge{g}
}

const (
	doWeek        = "Ask how it is used in a usual week: how often, how long, what is on meanwhile."
	noteWeekLabel = "Without its label nobody knows how many ampere-hours it has: enter the label first."
	saysFed       = "A week like this keeps it at about {settles}: it is fed."
	saysBarelyFed = "A week like this leaves it at about {settles}: fed, with nothing to spare."
	saysUnderfed  = "A week like this leaves it at about {settles}: it lives half charged, with nothing wrong in it."
	whyWeek       = "{in} go in and {out} out at {temp}, where the two meet. {taken}"
	takenAll      = "Charging volts and drain as measured."
	takenCharging = "Charging volts as measured, the drain as is usual: measure it."
	takenDrain    = "The drain as measured, charging volts as are usual: measure them."
	takenNone     = "Charging volts and drain as are usual: measure them."
	notTold       = "not told"
	notchTest     = "fair test from {least}"
	labelSettles  = "settles at {settles}"
)
