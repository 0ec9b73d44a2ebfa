package assess

import (
	"fmt"

	"grapnel/core/rating"
	"grapnel/core/reading"
)

// LoadAdvice is what to set on the load tester, for how long, and what to
// expect, for the battery as it is now.
type LoadAdvice struct {
	Possible   bool     `json:"possible" doc:"false when the label gives nothing to work from"`
	Problem    string   `json:"problem,omitempty" doc:"what to enter first, when not possible"`
	Amps       float64  `json:"amps,omitempty"`
	From       string   `json:"from,omitempty" doc:"how the amps were found"`
	Note       string   `json:"note,omitempty" doc:"what makes the amps approximate"`
	Seconds    float64  `json:"seconds"`
	LimitVolts float64  `json:"limit_volts"`
	LimitFrom  string   `json:"limit_from"`
	BatteryC   float64  `json:"battery_c"`
	Assumed    bool     `json:"assumed" doc:"the battery's temperature was not measured"`
	Fair       string   `json:"fair" enum:"yes,no,unknown" doc:"whether a load test now would be a fair one"`
	FairWords  string   `json:"fair_words"`
	Methods    []Method `json:"methods" doc:"the ways to load it, the usual one first"`
}

// Method is one way to load a battery.
type Method struct {
	Code    string  `json:"code" enum:"half_cca,fixed_10s,starter"`
	Word    string  `json:"word"`
	Seconds float64 `json:"seconds" doc:"how long the load stays on"`
	Set     string  `json:"set" doc:"what to do with the load"`
}

// Methods lists the ways to load a battery. Seconds: SAE J537 practice for half
// the CCA, from memory; the others common practice, no source. A starter dislikes
// more than 10 to 15 s at a time and wants two minutes between.
var Methods = []Method{
	{reading.HalfCCA, "Half the CCA", rating.LoadSeconds, "Set the load, hold it, and read the volts at the last second."},
	{reading.Fixed10s, "Fixed load", 10, "Press, hold ten seconds, read the volts at the end. Enter the amps printed on the tester."},
	{reading.Starter, "The starter", 15, "Disable fuel or spark as the maker says, crank, and read the lowest volts. Then two minutes’ rest for the starter."},
}

// AdviseLoad works out the load test for a case. Amps follow the label, the
// limit follows the battery's temperature and the house rule.
func AdviseLoad(c reading.Case, scale Scale) LoadAdvice { return tell(c, scale).adviseLoad() }

func (s *story) adviseLoad() LoadAdvice {
	c := s.c
	temp, assumed := c.TempC(nil)
	a := LoadAdvice{Seconds: rating.LoadSeconds, BatteryC: temp, Assumed: assumed, Methods: Methods}
	a.LimitVolts, a.LimitFrom = s.limit(c.Rules, temp)
	load, err := rating.TestLoad(c.Battery.Rating.Label())
	if err != nil {
		a.Problem = "Enter the CCA, CA or Ah from the label: the load follows it."
	} else {
		a.Possible, a.Amps, a.From, a.Note = true, load.Amps, load.From, load.Note
	}
	least := c.Rules.LoadTestMinSOC
	switch soc := s.socBefore(); {
	case s.hazard != "":
		a.Fair, a.FairWords = "no", s.hazard+". Do not load it."
	case s.frozen:
		a.Fair, a.FairWords = "no", "It may be frozen. Do not load it until it is thawed and checked."
	case soc == nil:
		a.Fair, a.FairWords = "unknown", "Take a rest voltage first: nobody knows how full it is."
	case soc.Best < least:
		a.Fair = "no"
		a.FairWords = fmt.Sprintf("%s charged. Charge it to %.0f %% first: now it would sag for being flat.", capital(spell(soc.Rounded())), least)
	default:
		a.Fair, a.FairWords = "yes", fmt.Sprintf("%s charged: a fair test.", capital(spell(soc.Rounded())))
	}
	return a
}

// newVolts is where a new battery of this label would end the last load test, or
// the one the label asks for, full and at the battery's temperature. False where
// neither can be said.
func (s *story) newVolts() (float64, bool) {
	b, ok := s.model()
	asked, err := rating.TestLoad(s.c.Battery.Rating.Label())
	if !ok || err != nil {
		return 0, false
	}
	amps, seconds, own := asked.Amps, float64(rating.LoadSeconds), (*float64)(nil)
	if s.load != nil {
		own = s.load.r.BatteryC
		if s.load.r.Method == reading.Starter && s.load.r.Amps == nil {
			return 0, false
		}
		if s.load.r.Amps != nil {
			amps = *s.load.r.Amps
		}
		if s.load.r.Seconds != nil {
			seconds = max(1, *s.load.r.Seconds)
		}
	}
	temp, _ := s.c.TempC(own)
	return b.EndVolts(100, temp, amps, seconds), true
}

// capital makes the first letter of an ASCII sentence a capital.
func capital(s string) string {
	if s != "" && s[0] >= 'a' && s[0] <= 'z' {
		return string(s[0]-'a'+'A') + s[1:]
	}
	return s
}
