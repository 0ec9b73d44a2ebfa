package bench

import (
	"grapnel/core/battery"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/words"
)

// labelFindings notes what weakens everything that rests on the label.
func (b *Bench) labelFindings() {
	r := b.Case.Battery.Rating
	if r.Typical {
		b.tell(Finding{
			Code:   "rating.typical",
			Level:  Note,
			Source: Practice,
			Text:   words.Say(saysTypical),
			Why:    words.Say(whyTypical),
		})
	}
	if b.SAE.From != "" {
		source := Practice
		if t, err := rating.TestOf(r.Standard); err == nil && r.CCA != nil {
			source = t.Source
		}
		b.tell(Finding{
			Code:   "rating.converted",
			Level:  Note,
			Rule:   "rating.conversion",
			Source: source,
			Text:   words.Say(saysConverted, "amps", measure.Of(b.SAE.Amps, measure.Cranking, 0)),
			Why:    words.Say(whyConverted, "how", b.SAE.From),
		})
	}
}

// AsNew gives the battery that the label promises, made once; false when the
// label has no cranking figure to compare with.
func (b *Bench) AsNew() (battery.Battery, bool) {
	if !b.modelled {
		b.modelled = true
		if b.SAE.Amps > 0 {
			made, plate, err := battery.FromLabel(b.Case.Battery.Chemistry, int(battery.Cells(b.Case.Volts())),
				b.Case.Battery.Rating.Label())
			if err == nil {
				b.asNew, b.doubt = &made, plate.Doubt
			}
		}
	}
	if b.asNew == nil {
		return battery.Battery{}, false
	}
	return *b.asNew, true
}

// Words of the label.
const (
	saysTypical   = "The rating is typical of this class. Read the label before you condemn anything."
	whyTypical    = "The load and the judgement of strength follow the rating; a wrong one gives a wrong answer."
	saysConverted = "Taken as {amps} SAE."
	whyConverted  = "{how}. The standards test for different times to different volts."
)
