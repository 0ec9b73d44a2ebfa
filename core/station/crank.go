package station

import (
	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/engine"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// Crank is the lowest volts while the engine is cranked, and where they are lost on
// the way to the starter.
const Crank = "crank"

// CableDrop is the volts lost over the cables of one side while cranking.
const CableDrop = "cable_drop"

// A starter's lowest volts come with its first surge, which a clamp reading the
// steady draw does not show: 3 to 5 times as much. From memory.
const (
	surge        = 4.0
	surgeSpread  = 0.25
	surgeSeconds = 0.3
)

// Volts over one joint or one cable from which it is bad, and from where it is
// watched, of 12. Common practice, no source.
const (
	jointBad  = 0.2
	jointNote = 0.1
)

// silentAmps is less than any starter draws when it moves at all. Common practice,
// no source.
const silentAmps = 20.0

var (
	turnedWords = words.ListOf(words.Term{Code: "normal", Word: "Normally"},
		words.Term{Code: "slow", Word: "Slowly"}, words.Term{Code: "no", Word: "Not at all"})
	pathWords = words.ListOf(words.Term{Code: "live", Word: "Live side"},
		words.Term{Code: "earth", Word: "Earthed side"})
	partWords = words.ListOf(words.Term{Code: "whole", Word: "Whole path"},
		words.Term{Code: "joint", Word: "One joint or clamp", Said: "one joint"},
		words.Term{Code: "cable", Word: "One cable", Said: "one cable"})
)

func init() {
	register(Station{
		Code: Crank, Place: 80, Name: "Crank", Hint: "volts while it cranks, and where they are lost", Minutes: 10,
		Fits:     func(b *bench.Bench) bool { return !b.Case.Vehicle.Electric() && b.Case.Vehicle.Fuel != "none" },
		Cautions: always("cranking"), Advise: adviseCrank, Gauges: crankGauges, Sum: sumCrank,
		Chief: func(r reading.Reading) bool { return r.Kind == Crank },
	}, Kind{
		Code: Crank, Name: "Crank", Hint: "lowest volts while it cranks", Minutes: 5,
		Fields: []Field{
			{
				Name:    "volts_min",
				Label:   "Lowest at the posts",
				Shape:   postVolts(),
				Need:    true,
				Big:     true,
				Digits:  2,
				Example: "10.20",
				Posts:   true,
			},
			{Name: "turned", Label: "How it turned", Words: turnedWords},
			{Name: "amps", Label: "Amps in the cable", Shape: document.Number(0, 3000, "A")},
			{Name: "drop_live_volts", Label: "Lost on the live path", Shape: dropVolts(), Digits: 2, Said: "live path loses {value}"},
			{Name: "drop_earth_volts", Label: "Lost on the earthed path", Shape: dropVolts(), Digits: 2, Said: "earthed path loses {value}"},
			{Name: "seconds", Label: "Cranked for", Shape: document.Number(0, 60, "s")},
		},
		Judge: judgeCrank, Expect: expectCrank,
	}, Kind{
		Code: CableDrop, Name: "Cable drop", Hint: "volts lost over a cable while it cranks", Minutes: 10,
		Fields: []Field{
			{Name: "path", Label: "Path", Need: true, Words: pathWords},
			{Name: "part", Label: "Over", Words: partWords, Default: "whole"},
			{Name: "volts", Label: "Volts lost", Shape: dropVolts(), Need: true, Big: true, Digits: 2, Example: "0.20"},
			{Name: "amps", Label: "Amps in the cable", Shape: document.Number(0, 3000, "A"), Said: "at {value}"},
		},
		Judge: judgeDrop, Expect: expectDrop,
	}, jumpKind())
}

// expectCrank: the volts at the posts under the starter's first surge, and the
// draw a clamp shows when it turns steadily.
func expectCrank(w World, _ reading.Reading) []Prediction {
	if w.StarterAmps <= 0 {
		return nil
	}
	v, u := w.endVolts(surge*w.StarterAmps, surgeSeconds, surgeSpread)
	return []Prediction{{Field: "volts_min", Best: v, Sigma: sigma(meterSigma(v), u)},
		{Field: "amps", Best: w.StarterAmps, Sigma: readAmps * w.StarterAmps},
		{Field: "drop_live_volts", Best: w.LiveOhms * w.StarterAmps, Sigma: sigma(meterSigma(0), readAmps*w.LiveOhms*w.StarterAmps)},
		{Field: "drop_earth_volts", Best: w.EarthOhms * w.StarterAmps, Sigma: sigma(meterSigma(0), readAmps*w.EarthOhms*w.StarterAmps)}}
}

// expectDrop: Ohm's law over the path at the starter's steady draw.
func expectDrop(w World, how reading.Reading) []Prediction {
	ohms := w.LiveOhms
	if how.Word("path") == "earth" {
		ohms = w.EarthOhms
	}
	v := ohms * how.Or("amps", w.StarterAmps)
	return []Prediction{{Field: "volts", Best: v, Sigma: sigma(meterSigma(v), readAmps*v)}}
}

// usual is what the starter of such a vehicle draws at a temperature, amps; false
// where the label does not say how big it is.
func usual(c reading.Case) (battery.Band, bool) {
	sae, ok := c.Battery.Rating.Label().ToSAE()
	if !ok {
		return battery.Band{}, false
	}
	temp, _ := c.TempC(nil)
	a := engine.Of(c.Vehicle.Fuel, sae.Amps).Amps
	n := engine.Need(temp)
	return battery.Band{Low: a.Low * n * usualLow, Best: a.Best * n, High: a.High * n * usualHigh}, true
}

// Engines of one label differ more than their batteries: what is too few and too
// many amps lies outside the usual band by these parts. House judgement.
const (
	usualLow  = 0.6
	usualHigh = 1.4
)

// judgeCrank says what the crank shows of battery, cables and starter, and keeps it
// as a reading of strength where its amps are known.
func judgeCrank(in Before, r reading.Reading) bench.Fact {
	c := in.Case
	house := c.Rules.For(c.Vehicle.Class)
	k := c.Volts() / 12
	here := []int{in.Reading}
	low, steady, turned := r.Or("volts_min", 0), r.Or("amps", 0), r.Word("turned")
	_, read := r.Number("amps")
	fact := bench.Fact{Mends: []string{"starter", "starter_silent", "path_live", "path_earth"}, Settles: Crank}
	tell := func(code string, level bench.Level, rule string, text, why words.Text) {
		fact.Findings = append(fact.Findings, bench.Finding{Code: code, Level: level, Readings: here, Rule: rule,
			Source: bench.Practice, Text: text, Why: why})
	}
	limit := house.StarterMinVolts * k
	holds := low >= limit
	volts := measure.Volts(low, 2)
	if holds {
		tell("crank.holds", bench.OK, rules.StarterMin, words.Say(saysCrankHolds, "volts", volts),
			words.Say(whyCrank, "limit", measure.Volts(limit, 1)))
	} else {
		tell("crank.sags", bench.Act, rules.StarterMin, words.Say(saysCrankSags, "volts", volts),
			words.Say(whyCrankSags, "limit", measure.Volts(limit, 1)))
	}
	fact.Findings[0].Other = otherSchools(house, rules.StarterMin, func(s rules.School) words.Text {
		return schoolSays(words.Say(schoolFigure, "name", s.Name, "figure", measure.Volts(s.Number, measure.Exact)),
			holdsOrFails(low >= s.Number*k), (low >= s.Number*k) == holds)
	})
	lossy, paths := false, 0
	for _, p := range []struct{ field, path string }{{"drop_live_volts", "live"}, {"drop_earth_volts", "earth"}} {
		if v, ok := r.Number(p.field); ok {
			f, fault := pathDrop(c, house, in.Reading, p.path, "whole", v, steady)
			fact.Findings = append(fact.Findings, f)
			paths++
			if fault != nil {
				lossy = true
				fact.Faults = append(fact.Faults, *fault)
			}
		}
	}
	draws, sized := usual(c)
	quantity := measure.Amps(steady)
	// Of 12 V, what a battery shows while nothing draws from it.
	const silent = 11.8
	switch {
	case turned == "no" && low >= silent*k && steady < silentAmps:
		tell("crank.silent", bench.Act, "crank.silent", words.Say(saysCrankSilent, "volts", volts), words.Say(whyCrankSilent))
		fact.Faults = append(fact.Faults, bench.Fault{Code: "starter_silent", Name: words.Say(nameSilent), Explains: true})
	case turned == "slow" && holds && paths == 2 && !lossy && (!read || !sized || steady >= draws.Low && steady <= draws.High):
		// Good volts reach it, it draws what is usual, and yet it is slow.
		tell("crank.slow", bench.Act, "crank.reaches", words.Say(saysSlow, "volts", volts), words.Say(whySlow))
		fact.Faults = append(fact.Faults, bench.Fault{Code: "starter", Name: words.Say(nameSlow), Explains: true, Vague: true})
	case !read || !sized || turned == "":
	case turned != "normal" && steady > draws.High:
		tell("crank.drags", bench.Act, "crank.amps", words.Say(saysDrags, "amps", quantity,
			"low", measure.Plain(draws.Low, 0), "high", measure.Amps(draws.High)), words.Say(whyDrags))
		fact.Faults = append(fact.Faults, bench.Fault{Code: "starter", Name: words.Say(nameDrags), Explains: true})
	case turned != "normal" && holds && steady < draws.Low:
		tell("crank.starved", bench.Act, "crank.amps", words.Say(saysStarved, "amps", quantity,
			"low", measure.Plain(draws.Low, 0), "high", measure.Amps(draws.High)), words.Say(whyStarved))
		if !lossy {
			fact.Faults = append(fact.Faults, bench.Fault{Code: "starter", Name: words.Say(nameStarved), Explains: true, Vague: true})
		}
	}
	if l, ok := r.Number("drop_live_volts"); ok {
		if e, ok := r.Number("drop_earth_volts"); ok {
			tell("crank.reaches", bench.Note, "crank.reaches", words.Say(saysReaches, "volts", measure.Volts(low-l-e, 2)),
				words.Say(whyReaches, "posts", measure.Plain(low, 2), "live", measure.Plain(l, 2), "earth", measure.Plain(e, 2)))
		}
	}
	t := &bench.Test{Kind: Crank, Code: Crank, Rank: 3, What: "crank"}
	t.Measure = func(b battery.Battery, at battery.Condition) (battery.Strength, bool) {
		if steady <= 0 || turned == "no" {
			return battery.Strength{}, false
		}
		s, err := b.StrengthFromLoad(at, battery.Discharge{
			Amps:       surge * steady,
			Seconds:    surgeSeconds,
			Volts:      low,
			AmpsSpread: surgeSpread,
		})
		return s, err == nil
	}
	t.Demand = func(charge words.Text) words.Text {
		return words.Say(demandCrank, "surge", measure.Amps(surge*steady), "steady", quantity, "charge", charge)
	}
	fact.Test = t
	return fact
}

// pathDrop judges volts lost over a path, or a part of it, at the amps that flowed.
func pathDrop(c reading.Case, house rules.Rules, reading int, path, over string, volts, amps float64) (bench.Finding, *bench.Fault) {
	k := c.Volts() / 12
	most, note, code := house.CableDropMax*k, house.CableDropMax*k, "path_"+path
	if over == "joint" || over == "cable" {
		most, note, code = jointBad*k, jointNote*k, "joint"
	}
	where := words.Say(map[string]string{"whole": whereWhole, "joint": whereJoint, "cable": whereCable}[over], "path", pathSaid[path])
	f := bench.Finding{
		Code: "cable_drop.fine", Level: bench.OK, Readings: []int{reading}, Rule: rules.CableDropMax, Source: bench.Practice,
		Text: words.Say(saysDropFine, "volts", measure.Volts(volts, 2), "where", where),
		Why:  words.Say(whyDropPlain, "most", measure.Volts(most, 2)),
	}
	if amps > 0 {
		f.Why = words.Say(whyDrop, "ohms", measure.Plain(1000*volts/amps, 1), "amps", measure.Amps(amps), "most", measure.Volts(most, 2))
	}
	if over == "whole" {
		f.Other = otherSchools(house, rules.CableDropMax, func(s rules.School) words.Text {
			return schoolSays(words.Say(schoolFigure, "name", s.Name, "figure", measure.Volts(s.Number*k, measure.Exact)),
				withinOrOver(volts <= s.Number*k), (volts <= s.Number*k) == (volts <= most))
		})
	}
	switch {
	case volts > most+1e-9:
		f.Code, f.Level, f.Text = "cable_drop.over", bench.Act, words.Say(saysDropBad, "volts", measure.Volts(volts, 2), "where", where)
		return f, &bench.Fault{Code: code, Name: words.Say(map[string]string{"whole": namePath, "joint": nameJoint, "cable": nameCable}[over],
			"path", pathSaid[path]), Explains: true}
	case volts > note+1e-9:
		f.Code, f.Level, f.Text = "cable_drop.some", bench.Note, words.Say(saysDropSome, "volts", measure.Volts(volts, 2), "where", where)
	}
	return f, nil
}

func judgeDrop(in Before, r reading.Reading) bench.Fact {
	over := r.Word("part")
	if over == "" {
		over = "whole"
	}
	path := r.Word("path")
	code := "path_" + path
	if over != "whole" {
		code = "joint"
	}
	f, fault := pathDrop(in.Case, in.Case.Rules.For(in.Case.Vehicle.Class), in.Reading, path, over, r.Or("volts", 0), r.Or("amps", 0))
	fact := bench.Fact{Findings: []bench.Finding{f}, Mends: []string{code}, Settles: Crank}
	if fault != nil {
		fact.Faults = []bench.Fault{*fault}
	}
	return fact
}

func adviseCrank(b *bench.Bench) Advice {
	a := Advice{Level: bench.OK, Ways: []Way{
		{Code: Crank, Word: "Crank", Kind: Crank, Do: words.Say(doCrank),
			Timer:  &Timer{starterSeconds, "Crank", "Stop cranking", secondsBetween},
			Fields: []FieldAdvice{{Name: "seconds", Hidden: true}}},
		{Code: CableDrop, Word: "Step the probe", Kind: CableDrop, Do: words.Say(doStep)},
		{Code: JumpResult, Word: "On another battery", Kind: JumpResult, Do: words.Say(doJump)},
	}}
	unsafe(b, &a)
	return a
}

// crankGauges shows the lowest volts, the two paths and the amps, as far as they
// were read.
func crankGauges(b *bench.Bench) []bench.Gauge {
	c := b.Case
	k := c.Volts() / 12
	limit := b.House.StarterMinVolts * k
	g := bench.Gauge{
		Quantity: "crank_volts", Name: "Lowest at the posts", Unit: "V", Digits: 2, Min: 6 * k, Max: 12.5 * k, Step: 0.5 * k,
		Level: bench.Note, Label: words.Say(notRead), Shown: true,
		Notches: []bench.Notch{{At: limit, Word: words.Say(notchHolds, "limit", measure.Plain(limit, 1))}},
	}
	for _, s := range b.House.Others(rules.StarterMin) {
		g.Notches = append(g.Notches, bench.Notch{At: s.Number * k, Word: words.Say(s.Name), Ghost: true})
	}
	out := []bench.Gauge{g}
	drop := func(path string, v float64) bench.Gauge {
		most := b.House.CableDropMax * k
		d := bench.Gauge{
			Quantity: "drop_" + path, Name: "Lost on the " + pathSaid[path] + " path", Title: "Lost on the " + pathSaid[path] + " path",
			Unit: "V", Digits: 2, Max: max(1*k, 0.5*float64(int(2*v+1.5))), Step: 0.1 * k, Level: bench.OK, Shown: true,
			Band: &battery.Band{Low: max(0, v-battery.MeterError(v)), Best: v, High: v + battery.MeterError(v)}, Label: words.Say(labelDrop, "volts", measure.Volts(v, 2), "path", pathSaid[path]),
			Notches: []bench.Notch{{At: most, Word: words.Say(notchDrop, "most", measure.Plain(most, 1))}},
		}
		for _, s := range b.House.Others(rules.CableDropMax) {
			d.Notches = append(d.Notches, bench.Notch{At: s.Number * k, Word: words.Say(s.Name), Ghost: true})
		}
		if v > most {
			d.Level = bench.Act
		}
		return d
	}
	var last *reading.Reading
	drops := map[string]float64{}
	for i, r := range c.Readings {
		switch r.Kind {
		case Crank:
			last = &c.Readings[i]
			for _, p := range []struct{ field, path string }{{"drop_live_volts", "live"}, {"drop_earth_volts", "earth"}} {
				if v, ok := r.Number(p.field); ok {
					drops[p.path] = v
				}
			}
		case CableDrop:
			if over := r.Word("part"); over == "" || over == "whole" {
				drops[r.Word("path")] = r.Or("volts", 0)
			}
		}
	}
	if last != nil {
		low := last.Or("volts_min", 0)
		e := battery.MeterError(low)
		out[0].Band = &battery.Band{Low: low - e, Best: low, High: low + e}
		out[0].Label, out[0].Level = words.Say(labelPosts, "volts", measure.Volts(low, 2)), bench.OK
		if low < limit {
			out[0].Level = bench.Act
		}
	}
	for _, path := range []string{"live", "earth"} {
		if v, ok := drops[path]; ok {
			out = append(out, drop(path, v))
		}
	}
	if last != nil {
		if amps, ok := last.Number("amps"); ok {
			if draws, sized := usual(c); sized {
				top := scaleStep(max(1.6*draws.High, 1.2*amps))
				a := bench.Gauge{
					Quantity: "crank_amps", Name: "Amps in the cable", Title: "Amps in the cable", Unit: "A", Max: 8 * top, Step: top, Level: bench.OK,
					Shown: true, Band: &battery.Band{Low: 0.97 * amps, Best: amps, High: 1.03 * amps},
					Label: words.Say("{amps}", "amps", measure.Amps(amps)),
					Notches: []bench.Notch{{At: draws.Low, Word: words.Say(notchFew, "amps", measure.Plain(draws.Low, 0))},
						{At: draws.High, Word: words.Say(notchMany, "amps", measure.Plain(draws.High, 0))}},
				}
				if amps < draws.Low || amps > draws.High {
					a.Level = bench.Note
				}
				out = append(out, a)
			}
		}
	}
	return out
}

// sumCrank gives the worst of what was found here in a line.
func sumCrank(b *bench.Bench) (bench.Level, words.Text) {
	level, line := bench.Note, words.Text{}
	for _, g := range crankGauges(b) {
		if g.Band == nil {
			continue
		}
		if line.IsZero() {
			level, line = g.Level, g.Label
		} else if g.Level == bench.Act && level != bench.Act {
			level, line = g.Level, words.Say("{name} {label}", "name", words.Say(lower(g.Name)), "label", g.Label)
		}
	}
	for _, f := range b.Faults {
		if f.Code == "starter" || f.Code == "starter_silent" || f.Code == "joint" {
			return bench.Act, words.Say("{name}", "name", f.Name)
		}
	}
	if line.IsZero() && b.Measured(JumpResult) {
		for _, r := range b.Case.Readings {
			if r.Kind == JumpResult {
				line = Tell(r).Text
			}
		}
	}
	return level, line
}

var pathSaid = map[string]string{"live": "live", "earth": "earthed"}

const (
	demandCrank = "About {surge} at the first surge, for {steady} steady; {charge}"

	saysCrankHolds  = "{volts} at the lowest: it holds under the starter."
	saysCrankSags   = "{volts} at the lowest: it sags under the starter."
	whyCrank        = "{limit} and more at the posts, by the house rule."
	whyCrankSags    = "Under {limit}: flat, weak, or a starter that draws too much. Engine computers may log false codes below it."
	saysCrankSilent = "{volts} and nothing turns: no current reaches the starter."
	whyCrankSilent  = "Key, immobiliser, gear or clutch switch, relay, solenoid: full volts at the solenoid and no turn is the starter."
	nameSilent      = "Find why the starter gets no current"
	saysDrags       = "{amps} and it turns badly: {low} to {high} are usual. The starter or the engine drags."
	whyDrags        = "A rubbing armature, a tight engine, thick oil. It robs the ignition too."
	nameDrags       = "Mend the starter, or find what the engine drags"
	saysSlow        = "{volts} at the posts and both paths are fine, yet it turns slowly: the starter or a stiff engine."
	whySlow         = "Nothing between the posts and the crankshaft is left but the starter, thick oil or the engine itself."
	saysStarved     = "{amps} and it turns badly, with volts at the posts: {low} to {high} are usual. The starter is starved or worn."
	whyStarved      = "A low current is a fault too: a bad path, or worn brushes."
	nameSlow        = "Look at the starter: it turns slowly on good volts"
	nameStarved     = "Look at the path to the starter and at its brushes"
	saysReaches     = "{volts} reach the starter."
	whyReaches      = "{posts} − {live} − {earth}."
	saysDropFine    = "{volts} lost {where}: fine."
	saysDropSome    = "{volts} lost {where}: worth cleaning."
	saysDropBad     = "{volts} lost {where}: too much."
	whyDrop         = "{ohms} mΩ at {amps}; {most} at most."
	whyDropPlain    = "{most} at most. Note the amps that flowed: a drop means little without them."
	whereWhole      = "on the {path} path"
	whereJoint      = "in one joint on the {path} side"
	whereCable      = "in one cable on the {path} side"
	namePath        = "Mend the {path} path"
	nameJoint       = "Mend the joint on the {path} side"
	nameCable       = "Replace the cable on the {path} side"
	doCrank         = "Fuel or spark disabled, neutral, brake on. Lowest volts, amps, and what each path loses."
	doStep          = "One probe stays on the post, the other steps along the path, joint by joint, while it cranks."
	doJump          = "Did it start on a good battery?"
	notchDrop       = "up to {most}"
	notchFew        = "few {amps}"
	notchMany       = "many {amps}"
	labelDrop       = "{volts} on the {path} path"
	labelPosts      = "{volts} at the posts"
)
