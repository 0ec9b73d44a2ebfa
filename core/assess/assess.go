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

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/station"
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
	}
}

// Assessment is the grapnel.assessment/1 document. Fields that nothing is known
// about are left out, never made up.
type Assessment struct {
	Format   string          `json:"format"`
	Verdict  Verdict         `json:"verdict"`
	Headline words.Text      `json:"headline"`
	Because  words.Text      `json:"because,omitzero"`
	SOC      *battery.Band   `json:"soc_pct,omitempty"`
	CCAEst   *CCAEstimate    `json:"cca_est,omitempty"`
	Findings []bench.Finding `json:"findings"`
	Next     []Step          `json:"next"`
	Cautions []string        `json:"cautions"`
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
	Station string     `json:"station"` // of the sheet, where it is done
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

// HandsOver reports whether nothing is left to do but to hand the battery back.
func (v Verdict) HandsOver() bool { return v == Good || v == LookElsewhere }

// Assess judges a case that has passed casefile.Check. The same case always gives
// the same assessment. Its words give temperatures in °C.
func Assess(c reading.Case) Assessment { return assess(station.Put(c)) }

// Glance is an Assessment without the model's figures of strength: verdict,
// reasons and next step at a hundredth of the cost, for lists. The model is asked
// only where two testers may contradict each other, which holds a verdict back.
func Glance(c reading.Case) Assessment { return decided(station.Put(c)) }

func assess(b *bench.Bench) Assessment {
	b.TellStrength()
	a := decided(b)
	a.CCAEst = estimate(b)
	return a
}

func decided(b *bench.Bench) Assessment {
	a := decide(b)
	a.Format, a.Findings, a.Cautions = Format, b.Findings, cautions(b, a)
	if soc := b.SOC(); soc != nil {
		band := soc.Rounded()
		a.SOC = &band
	}
	if a.Findings == nil {
		a.Findings = []bench.Finding{}
	}
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
	})
	need := []string{"format", "verdict", "headline", "findings", "next", "cautions"}
	return document.Object(need, map[string]document.Shape{
		"format":   document.Words(Format),
		"verdict":  document.Words(Verdicts()...),
		"headline": text.About("one plain sentence a technician would say"),
		"because":  text.About("the reason in one more sentence"),
		"soc_pct":  document.Object(ends, band).About("charge as of the last reading, percent"),
		"cca_est":  document.Object(append(ends, "of_rating_pct"), estimate).About("cold cranking amps (SAE) if full"),
		"findings": document.List(0, 1e6, finding),
		"next":     document.List(0, 100, step),
		"cautions": document.List(0, 100, text).About("what can hurt at the steps ahead"),
	})
}
