// Package assess decides what to do about a battery: from what holds of it on the
// bench to a verdict, the next steps and the sheet that shows them. Its policy is
// one ordered table (policy.go); every sentence it says stands in words.go. It
// reads a reading.Case and nothing else.
//
// A case is judged in passes, each of which can be read by itself:
//
//	station.Judge   what each reading says, looked at alone
//	bench.Put       what holds once they are put together
//	policy          the verdict and what comes next
//	words           sentences in the reader's units, spoken when they are read
package assess

import (
	"maps"
	"math"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/suspect"
	"grapnel/core/words"
)

// Format is the value of an assessment's "format" field.
const Format = "grapnel.assessment/1"

// Verdict is the conclusion of an assessment.
type Verdict string

// The verdicts.
const (
	Good            Verdict = "good"              // sound and charged
	GoodAfterCharge Verdict = "good_after_charge" // sound, only needs charging
	ChargeAndRetest Verdict = "charge_and_retest" // cannot be judged yet
	Replace         Verdict = "replace"
	Stop            Verdict = "stop" // hazard: do not charge, test or jump
	LookElsewhere   Verdict = "look_elsewhere"
	MoreReadings    Verdict = "more_readings"
	Weak            Verdict = "weak" // holds today, far under its label
)

// Verdicts gives every verdict.
func Verdicts() []string {
	return []string{
		string(Good),
		string(GoodAfterCharge),
		string(ChargeAndRetest),
		string(Replace),
		string(Stop),
		string(LookElsewhere),
		string(MoreReadings),
		string(Weak),
	}
}

// Assessment is the grapnel.assessment/1 document. Fields that nothing is known
// about are left out, never made up.
type Assessment struct {
	Format   string        `json:"format"`
	Verdict  Verdict       `json:"verdict"`
	Headline words.Text    `json:"headline"`
	Because  words.Text    `json:"because,omitzero"`
	Customer words.Text    `json:"customer"` // one sentence for who owns it
	SOC      *battery.Band `json:"soc_pct,omitempty"`
	CCAEst   *CCAEstimate  `json:"cca_est,omitempty"`
	// FailsBelow is the temperature from which a weak battery no longer turns its
	// engine, °C.
	FailsBelow *float64        `json:"fails_below_c,omitempty"`
	Findings   []bench.Finding `json:"findings"`
	// Suspects are the faults that are still possible, the likeliest first.
	Suspects []suspect.Suspect `json:"suspects,omitempty"`
	Next     []Step            `json:"next"`
	// Tests are the best that can be measured next, whatever the verdict asks for.
	Tests    []Step   `json:"tests,omitempty"`
	Cautions []string `json:"cautions"`
	// Others is what the house would have said by other schools.
	Others []Otherwise `json:"other_schools,omitempty"`
	// Hangs is the charger it hangs on; no part of the document.
	Hangs *Hanging `json:"-"`
	// Charge is what waits for a charger; no part of the document.
	Charge *ForCharge `json:"-"`
}

// Otherwise is a verdict that another school of one house rule would have given.
type Otherwise struct {
	Rule     string     `json:"rule"`
	School   string     `json:"school"`
	Verdict  Verdict    `json:"verdict"`
	Headline words.Text `json:"headline"`
}

// CCAEstimate is the cold cranking amps (SAE) the battery would have if it were
// full, as all readings of its strength say together.
type CCAEstimate struct {
	battery.Band
	OfRatingPct float64 `json:"of_rating_pct"` // the best figure in percent of the label
}

// Step is something worth doing next, best first.
type Step struct {
	Test    string     `json:"test"`
	Do      words.Text `json:"do"`      // the test as an order to a technician
	Minutes float64    `json:"minutes"` // of work or waiting
	Why     words.Text `json:"why"`
	// Bits are the information expected about what to do, 0 where that is not asked.
	Bits  float64 `json:"bits,omitempty"`
	Waits float64 `json:"waits,omitempty"` // minutes of waiting besides
	After string  `json:"after,omitempty"` // what is done before: charge, clean or warm
	// Clock is true of a step whose waiting runs already, and Breaks of one that would end
	// the rest that runs.
	Clock   bool   `json:"clock,omitempty"`
	Breaks  bool   `json:"breaks,omitempty"`
	Station string `json:"station"` // of the sheet, where it is done
}

// Level says how a verdict weighs, for the sign beside it.
func (v Verdict) Level() bench.Level {
	switch v {
	case Good, GoodAfterCharge, LookElsewhere:
		return bench.OK
	case Stop:
		return bench.Stopped
	case MoreReadings:
		return bench.Note
	}
	return bench.Act
}

// Ready reports whether nothing is left to do but to hand the battery back, with what
// is put right in passing.
func (a Assessment) Ready() bool {
	return !slices.ContainsFunc(a.Next, func(s Step) bool {
		return !slices.Contains([]string{"clean", "put_right", "why_flat", "hand_over"}, s.Test)
	})
}

// Level says how it weighs, for the sign beside it: a battery that holds is no green
// light while what is wrong elsewhere is still to be found or mended.
func (a Assessment) Level() bench.Level {
	if a.Verdict == LookElsewhere && !a.Ready() {
		return bench.Act
	}
	return a.Verdict.Level()
}

// Assess judges a case that has passed casefile.Check. The same case always gives
// the same assessment. Its words give temperatures in °C. Labels finds the battery
// of a label; nil works it out, which takes most of the time.
func Assess(c reading.Case, labels bench.Labels) Assessment {
	b := station.Put(c, labels)
	return others(suspected(b, assess(b)), b)
}

// suspected adds what is suspected, and orders what comes next by what it would tell.
func suspected(b *bench.Bench, a Assessment) Assessment {
	op := suspect.Of(b)
	a.Suspects = op.Suspects
	if f, ok := against(b, a); ok {
		a.Findings = append(slices.Clone(a.Findings), f)
	}
	return ordered(b, confirmed(b, a, op.Present(suspect.DirtyContacts)), op)
}

// Glance is an Assessment without the ledger's lines of strength and without the
// other schools, for lists.
func Glance(c reading.Case, labels bench.Labels) Assessment {
	b := station.Put(c, labels)
	a := suspected(b, decided(b))
	a.Charge = forCharge(b, a)
	return a
}

// Ended is a Glance at a job that was handed over: nothing comes next, so nothing is
// suspected. Its verdict is the same.
func Ended(c reading.Case, labels bench.Labels) Assessment { return decided(station.Put(c, labels)) }

// Concluded is the same of what lies on a bench already.
func Concluded(b *bench.Bench) Assessment { return decided(b) }

// ByRules is an Assessment by hazards, house rules and limits alone: nothing is
// suspected, and what comes next stands in the order of the policy.
func ByRules(c reading.Case, labels bench.Labels) Assessment {
	b := station.Put(c, labels)
	return others(assess(b), b)
}

// bears reports whether anything that was read lies between what the house and
// another school of a rule ask for, so that the two can differ.
func bears(rule rules.Rule, other rules.School, b *bench.Bench) bool {
	ours := rule.Of(b.House)
	between := func(values ...float64) bool {
		lo, hi := min(ours, other.Number), max(ours, other.Number)
		return slices.ContainsFunc(values, func(v float64) bool { return v >= lo-1e-9 && v <= hi+1e-9 })
	}
	k := b.Case.Volts() / 12
	read := func(scale float64, fields ...string) bool {
		for _, r := range b.Case.Readings {
			for _, f := range fields {
				if v, ok := r.Number(f); ok && between(v/scale) {
					return true
				}
			}
		}
		return false
	}
	switch rule.ID {
	case rules.LoadTestMinSOC, rules.ReturnMinSOC:
		return between(b.ChargesRead()...)
	case rules.LoadTestLimit:
		return b.Load != nil && b.Load.Method == station.HalfCCA
	case rules.StarterMin:
		return read(k, "volts_min") || b.Load != nil && b.Load.Method == station.Starter && between(b.Load.Volts/k)
	case rules.RestTime:
		return read(1, "minutes_since_charge")
	case rules.CableDropMax:
		return read(k, "volts", "drop_live_volts", "drop_earth_volts")
	case rules.DrainMax:
		return read(1, "milliamps")
	case rules.WeakBelow:
		part, ok := b.Part()
		return ok && between(part.Best)
	case rules.StrengthMethod:
		return b.SOC() != nil && (b.Load != nil || b.Conducted())
	}
	return false
}

// others adds what other schools of the house rules would have said, where that is
// another verdict.
func others(a Assessment, b *bench.Bench) Assessment {
	if b.Hazardous() {
		return a
	}
	for _, id := range rules.Deciding() {
		rule, _ := rules.Find(id)
		for _, school := range b.House.Others(id) {
			if !bears(rule, school, b) {
				continue
			}
			if o := decide(station.Again(b, id, school)); o.Verdict != a.Verdict {
				a.Others = append(a.Others, Otherwise{id, school.Name, o.Verdict, o.Headline})
			}
		}
	}
	return a
}

func assess(b *bench.Bench) Assessment {
	a := decide(b)
	b.TellLate()
	b.TellStrength()
	a = finish(b, a)
	a.CCAEst = estimate(b)
	return a
}

func decided(b *bench.Bench) Assessment { return finish(b, decide(b)) }

func finish(b *bench.Bench, a Assessment) Assessment {
	a.Format, a.Findings, a.Cautions = Format, b.Findings, cautions(b, a)
	if soc := b.SOC(); soc != nil {
		band := soc.Rounded()
		a.SOC = &band
	}
	if a.Verdict == Weak {
		if t, ok := b.FailsBelow(); ok && t.Best > coldestSaid {
			whole := math.Round(t.Best)
			a.FailsBelow = &whole
		}
	}
	if a.Findings == nil {
		a.Findings = []bench.Finding{}
	}
	a.Hangs = hanging(b)
	return a
}

// estimate is the strength for the assessment, nil when it is not known or the
// readings cannot all be true.
func estimate(b *bench.Bench) *CCAEstimate {
	s := b.Strength()
	if s.Joint == nil || s.Label <= 0 {
		return nil
	}
	band := s.Joint.Rounded()
	return &CCAEstimate{band, station.OfLabelPct(band.Best, s.Label)}
}

// Schema gives the JSON Schema (2020-12) of grapnel.assessment/1.
func Schema() map[string]any { return document.Schema(Format, Shape()) }

// Shape describes the document.
func Shape() document.Shape {
	text, figure := document.Text(0), document.Shape{Kind: "number", Unbounded: true}
	band := map[string]document.Shape{"low": figure, "best": figure, "high": figure}
	ends := []string{"low", "best", "high"}
	estimate := maps.Clone(band)
	estimate["of_rating_pct"] = figure.About("the best figure in percent of the label")
	positions := document.List(0, 500, document.Shape{Kind: "integer", Max: 499})
	finding := document.Object([]string{"code", "level", "text", "readings"}, map[string]document.Shape{
		"code": text, "level": document.Words(bench.Levels()...),
		"text":         text.About("the conclusion"),
		"readings":     positions.About("positions in the case's readings"),
		"rule":         text.About("the house rule or table that decided"),
		"why":          text.About("how the conclusion follows"),
		"source":       text.About("where the rule comes from"),
		"other_school": text.About("what the other school would have said"),
	})
	step := document.Object([]string{"test", "do", "minutes", "why", "station"}, map[string]document.Shape{
		"test": text, "why": text,
		"do":      text.About("the test as an order to a technician"),
		"minutes": figure.About("of work or waiting"),
		"station": text.About("of the sheet, where it is done"),
		"bits":    figure.About("of information expected about what to do"),
		"waits":   figure.About("minutes of waiting besides"),
		"after":   document.Words("charge", "clean").About("what is done before"),
	})
	suspects := document.Object(
		[]string{"fault", "name", "probability", "present", "word", "for", "against"},
		map[string]document.Shape{
			"fault":       document.Words(suspect.Faults().Codes()...),
			"probability": figure.About("its share of all that may be; shares sum to 1"),
			"present":     figure.About("how likely it is there, alone or beside another fault, 0 to 1"),
			"name":        text.About("as a technician says it"),
			"word":        text.About("how likely that is, in a word"),
			"reasons": document.List(0, 100, document.Object([]string{"text", "weight", "reading"}, map[string]document.Shape{
				"text": text, "weight": figure.About("base 2 logarithm of how many times likelier it makes the fault"),
				"reading": document.Shape{
					Kind: "integer",
					Min:  -1,
					Max:  499,
				}.About(
					"position in the case's readings, -1 of the complaint",
				),
			})).About("what speaks for it and against it"),
			"for":     document.List(0, 100, text).About("what speaks for it, the weightiest first"),
			"against": document.List(0, 100, text).About("what speaks against it"),
			"moves":   text.About("what would move it"),
		},
	)
	need := []string{"format", "verdict", "headline", "findings", "next", "cautions"}
	return document.Object(need, map[string]document.Shape{
		"format":        document.Words(Format),
		"verdict":       document.Words(Verdicts()...),
		"headline":      text.About("one plain sentence a technician would say"),
		"because":       text.About("the reason in one more sentence"),
		"customer":      text.About("one sentence for who owns it"),
		"soc_pct":       document.Object(ends, band).About("charge as of the last reading, percent"),
		"cca_est":       document.Object(append(ends, "of_rating_pct"), estimate).About("cold cranking amps (SAE) if full"),
		"findings":      document.List(0, 1e6, finding),
		"suspects":      document.List(0, 20, suspects).About("the faults that are still possible, the likeliest first"),
		"next":          document.List(0, 100, step),
		"tests":         document.List(0, 3, step).About("the best that can be measured next, whatever the verdict asks for"),
		"cautions":      document.List(0, 100, text).About("what can hurt at the steps ahead"),
		"fails_below_c": figure.About("of a weak battery: the temperature from which it no longer turns its engine, °C"),
		"other_schools": document.List(0, 100, document.Object([]string{"rule", "school", "verdict", "headline"},
			map[string]document.Shape{"rule": text, "school": text, "verdict": document.Words(Verdicts()...), "headline": text})).
			About("verdicts that another school of a house rule would have given"),
	})
}
