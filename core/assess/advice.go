package assess

import (
	"fmt"

	"grapnel/core/rating"
	"grapnel/core/reading"
)

// LoadAdvice is what to set on the load tester, for how long, and what to
// expect, for the battery as it is now.
type LoadAdvice struct {
	Possible   bool    `json:"possible" doc:"false when the label gives nothing to work from"`
	Problem    string  `json:"problem,omitempty" doc:"what to enter first, when not possible"`
	Amps       float64 `json:"amps,omitempty"`
	From       string  `json:"from,omitempty" doc:"how the amps were found"`
	Note       string  `json:"note,omitempty" doc:"what makes the amps approximate"`
	Seconds    float64 `json:"seconds"`
	LimitVolts float64 `json:"limit_volts"`
	LimitFrom  string  `json:"limit_from"`
	BatteryC   float64 `json:"battery_c"`
	Assumed    bool    `json:"assumed" doc:"the battery's temperature was not measured"`
	Fair       string  `json:"fair" enum:"yes,no,unknown" doc:"whether a load test now would be a fair one"`
	FairWords  string  `json:"fair_words"`
}

// AdviseLoad works out the load test for a case. Amps follow the label, the
// limit follows the battery's temperature and the house rule.
func AdviseLoad(c reading.Case) LoadAdvice {
	s := tell(c)
	temp, assumed := c.TempC(nil)
	a := LoadAdvice{Seconds: rating.LoadSeconds, BatteryC: temp, Assumed: assumed}
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

// capital makes the first letter of an ASCII sentence a capital.
func capital(s string) string {
	if s != "" && s[0] >= 'a' && s[0] <= 'z' {
		return string(s[0]-'a'+'A') + s[1:]
	}
	return s
}
