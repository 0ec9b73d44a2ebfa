package station

import (
	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// LoadTest is volts at the end of a load.
const LoadTest = "load_test"

// Load test methods.
const (
	HalfCCA  = "half_cca"
	Fixed10s = "fixed_10s"
	Starter  = "starter"
)

var loadMethods = words.ListOf(
	words.Term{Code: HalfCCA, Word: "Half the CCA", Said: "Half the CCA"},
	words.Term{Code: Fixed10s, Word: "Fixed load", Said: "Fixed load"},
	words.Term{Code: Starter, Word: "The starter", Said: "The starter"})

// Seconds each load is on. Half the CCA: SAE J537 practice, from memory; the
// others common practice, no source: a starter dislikes more than 10 to 15 s at a
// time and wants two minutes between.
const (
	fixedSeconds   = 10
	starterSeconds = 15
	secondsBetween = 120
)

// Figures of the other ways to load a battery, 12 V. Common practice, no source.
const (
	fixedFine = 10.0  // fixed load, 10 s: fine from here
	fixedBad  = 9.0   // and finished below here
	lightLoad = 0.8   // of the load of the label; less proves little by holding
	shortBy   = 1.5   // seconds off its time that still count
	sameVolts = 0.005 // limits closer than a meter tells are one
	loadPart  = 0.05  // ± part of the load of the label that still is that load
)

// Spread of what a reading's amps are, ± part: read off the tester, or not read
// at all and taken to be what the label asks for.
const (
	readAmps    = 0.03
	assumedAmps = 0.10
)

func loadKind() Kind {
	return Kind{
		Code: LoadTest, Name: "Load test", Hint: "volts at the end of the load", Minutes: 5,
		Fields: []Field{
			{Name: "method", Label: "Load with", Need: true, Words: loadMethods, Default: HalfCCA},
			{
				Name:    "volts_end",
				Label:   "Volts at the end",
				Shape:   postVolts(),
				Need:    true,
				Big:     true,
				Digits:  2,
				Example: "9.85",
				Posts:   true,
			},
			{Name: "amps", Label: "Load that was on", Shape: document.Number(1, 3000, "A")},
			{Name: "seconds", Label: "Seconds", Shape: document.Number(1, 60, "s")},
			{Name: "battery_c", Label: "Battery", Shape: reading.TempShape(), Unsaid: true},
		},
		Judge: judgeLoad, Expect: expectLoad,
	}
}

// loadApplied is how a load test is done in a world: amps, seconds and the ± part
// of the amps that nobody knows. False where the amps cannot be said.
func loadApplied(r reading.Reading, l rating.Label) (amps, seconds, spread float64, ok bool) {
	seconds, spread = rating.LoadSeconds, readAmps
	switch r.Word("method") {
	case Fixed10s:
		seconds = fixedSeconds
	case Starter:
		seconds = starterSeconds
	}
	if s, ok := r.Number("seconds"); ok {
		seconds = s
	}
	if a, ok := r.Number("amps"); ok {
		return a, seconds, spread, true
	}
	if r.Word("method") != HalfCCA {
		return 0, 0, 0, false // a starter's volts without its amps say nothing of the battery alone
	}
	byLabel, err := rating.TestLoad(l)
	return byLabel.Amps, seconds, assumedAmps, err == nil
}

// expectLoad: the model's volts at the end of the load, less what the clamps lose.
func expectLoad(w World, how reading.Reading) []Prediction {
	label := rating.Label{CCA: w.Battery.CCA, Ah20h: w.Battery.Ah20h}
	if how.Word("method") == Starter && w.StarterAmps > 0 {
		if _, ok := how.Number("amps"); !ok {
			how = how.With("amps", w.StarterAmps)
		}
	}
	amps, seconds, spread, ok := loadApplied(how, label)
	if !ok {
		return nil
	}
	v, u := w.endVolts(amps, seconds, spread)
	return []Prediction{{Field: "volts_end", Best: v, Sigma: sigma(meterSigma(v), u), Amps: amps}}
}

// judgeLoad keeps a load test as it was taken; what it says is weighed once charge
// and label are known.
func judgeLoad(in Before, r reading.Reading) bench.Fact {
	c := in.Case
	l := &bench.Load{
		Method:  r.Word("method"),
		Amps:    r.Or("amps", 0),
		Seconds: r.Or("seconds", 0),
		Volts:   r.Or("volts_end", 0),
		Weigh:   weighLoad,
	}
	l.TempC, l.TempAssumed = c.TempC(ownTemp(r))
	l.LabelLoad, _ = rating.TestLoad(c.Battery.Rating.Label())
	l.Conclude = func(b *bench.Bench, l *bench.Load) []bench.Finding {
		return append([]bench.Finding{loadLine(b, l)}, loadWeakness(l, b)...)
	}
	fact := bench.Fact{Load: l, Test: loadStrength(in, r)}
	if t := ownTemp(r); t != nil {
		fact.Warm = t
	}
	return fact
}

func ownTemp(r reading.Reading) *float64 {
	if v, ok := r.Number("battery_c"); ok {
		return &v
	}
	return nil
}

// light reports whether holding the volts proves little: a light or short load is
// easy to hold.
func light(l *bench.Load) bool {
	return l.LabelLoad.Amps > 0 && l.Amps > 0 && l.Amps < lightLoad*l.LabelLoad.Amps ||
		l.Seconds > 0 && l.Seconds < rating.LoadSeconds-shortBy
}

// loadStrength is the load test as a reading of strength.
func loadStrength(in Before, r reading.Reading) *bench.Test {
	amps, seconds, spread, ok := loadApplied(r, in.Case.Battery.Rating.Label())
	t := &bench.Test{Kind: LoadTest, Code: LoadTest, Rank: 1, What: "load test", BatteryC: ownTemp(r)}
	if r.Word("method") == Starter && in.Case.Vehicle.Electric() {
		ok = false
	}
	t.Measure = func(b battery.Battery, at battery.Condition) (battery.Strength, bool) {
		if !ok {
			return battery.Strength{}, false
		}
		s, err := b.StrengthFromLoad(at,
			battery.Discharge{Amps: amps, Seconds: seconds, Volts: r.Or("volts_end", 0), AmpsSpread: spread})
		return s, err == nil
	}
	t.Demand = func(charge words.Text) words.Text {
		return words.Say(demandLoad, "amps", measure.Amps(amps), "seconds", measure.Seconds(seconds),
			"charge", charge)
	}
	return t
}
