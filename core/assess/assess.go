// Package assess judges one battery's case: it turns readings into findings,
// each with the rule and source it rests on, and findings into a verdict and
// the next thing to do. It reads a reading.Case and nothing else.
package assess

import (
	"grapnel/core/battery"
	"grapnel/core/reading"
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

// Level is how much a finding matters.
type Level string

// The levels of a finding, mildest first.
const (
	OK      Level = "ok"
	Note    Level = "note"
	Act     Level = "act"
	Stopped Level = "stop"
)

// Assessment is the grapnel.assessment/1 document. Fields that nothing is known
// about are left out, never made up.
type Assessment struct {
	Format   string        `json:"format"`
	Verdict  Verdict       `json:"verdict" enum:"good,good_after_charge,charge_and_retest,replace,stop,look_elsewhere,more_readings"`
	Headline string        `json:"headline" doc:"one plain sentence a technician would say"`
	Because  string        `json:"because,omitempty" doc:"the reason in one more sentence"`
	SOC      *battery.Band `json:"soc_pct,omitempty" doc:"charge as of the last reading, percent"`
	CCAEst   *CCAEstimate  `json:"cca_est,omitempty" doc:"cold cranking amps (SAE) it would have if full"`
	Findings []Finding     `json:"findings"`
	Next     []Step        `json:"next"`
	Cautions []string      `json:"cautions"`
}

// Finding is one line of the ledger: reading, rule with its source, conclusion.
type Finding struct {
	Code     string `json:"code"`
	Level    Level  `json:"level" enum:"ok,note,act,stop"`
	Text     string `json:"text" doc:"the conclusion"`
	Readings []int  `json:"readings" doc:"positions in the case's readings"`
	Rule     string `json:"rule,omitempty" doc:"the house rule or table that decided"`
	Why      string `json:"why,omitempty" doc:"how the conclusion follows"`
	Source   string `json:"source,omitempty" doc:"where the rule comes from"`
	Other    string `json:"other_school,omitempty" doc:"what the other school would have said"`
}

// Step is something worth doing next, best first.
type Step struct {
	Test    string  `json:"test"`
	Do      string  `json:"do" doc:"the test as an order to a technician"`
	Minutes float64 `json:"minutes" doc:"of work or waiting"`
	Why     string  `json:"why"`
}

// Level says how a verdict weighs, for the sign beside it.
func (v Verdict) Level() Level {
	switch v {
	case Good, GoodAfterCharge, LookElsewhere:
		return OK
	case Stop:
		return Stopped
	case MoreReadings:
		return Note
	}
	return Act
}

// orders gives each step as an order to a technician.
var orders = map[string]string{
	"rest_voltage": "Take the rest voltage", "load_test": "Load test it", "charge": "Charge it",
	"rest": "Let it rest", "clean": "Clean the contacts", "replace": "Replace it", "hand_over": "Hand it over",
	"thaw":       "Let it thaw, then look at the case",
	"cable_drop": "Measure the cables while cranking", "charging": "Check the charging volts",
}

const (
	practice   = "common practice, no source"
	bciTables  = "BCI service tables, from memory"
	ownRanking = "house judgement: condemn only what is certain"
)

// Assess judges a case that has passed its Check. The same case always gives
// the same assessment. Its words give temperatures in °C.
func Assess(c reading.Case) Assessment { return AssessIn(c, Celsius) }

// AssessIn is Assess with the temperatures of its words in a scale.
func AssessIn(c reading.Case, scale Scale) Assessment { return tell(c, scale).assessment() }

// Glance is an Assessment without the model's figures of strength: verdict,
// reasons and next step at a hundredth of the cost, for lists. The model is asked
// only where two testers may contradict each other, which holds a verdict back.
func Glance(c reading.Case) Assessment { return tell(c, Celsius).judged() }

// Judgement is everything that is said of a case, worked out together.
type Judgement struct {
	Assessment Assessment
	Gauges     []Gauge
	Load       LoadAdvice
}

// Judge gives assessment, gauges and advice of a case, with the temperatures of
// their words in a scale.
func Judge(c reading.Case, scale Scale) Judgement {
	s := tell(c, scale)
	j := Judgement{Gauges: s.gauges(), Load: s.adviseLoad()}
	j.Assessment = s.assessment() // last: it adds to the story
	return j
}

func (s *story) assessment() Assessment {
	s.tellStrength()
	a := s.judged()
	a.CCAEst = s.estimate()
	return a
}

func (s *story) judged() Assessment {
	d := s.decide()
	a := Assessment{
		Format: Format, Verdict: d.verdict, Headline: d.headline, Because: d.because,
		Findings: s.findings, Next: d.next, Cautions: s.cautions(d),
	}
	if s.rest != nil && !s.rest.tooHigh {
		band := s.rest.Charge.Rounded()
		a.SOC = &band
	}
	if a.Findings == nil {
		a.Findings = []Finding{}
	}
	if a.Next == nil {
		a.Next = []Step{}
	}
	for i := range a.Next {
		a.Next[i].Do = orders[a.Next[i].Test]
	}
	return a
}

// cautions lists what can hurt somebody at the steps ahead, by the names that
// package guide explains.
func (s *story) cautions(d decision) []string {
	out := []string{}
	if s.c.Vehicle.HighVoltage || s.c.Vehicle.Class == "hybrid" || s.c.Vehicle.Class == "electric" {
		out = append(out, "high_voltage")
	}
	if s.frozen {
		out = append(out, "frozen")
	}
	for _, n := range d.next {
		switch n.Test {
		case "charge":
			out = append(out, "hydrogen", "acid")
		case "load_test":
			out = append(out, "hydrogen", "load_tester")
		case "replace":
			out = append(out, "lifting", "acid", "recycle")
		case "clean":
			out = append(out, "acid")
		}
	}
	if d.verdict == Stop {
		out = append(out, "acid", "lifting", "recycle")
	}
	return unique(out)
}

func unique(in []string) []string {
	seen, out := map[string]bool{}, []string{}
	for _, v := range in {
		if !seen[v] {
			seen[v] = true
			out = append(out, v)
		}
	}
	return out
}
