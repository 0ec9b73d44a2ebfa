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
			Rule:   "rating.read",
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
// label has no figure to make one of.
func (b *Bench) AsNew() (battery.Battery, bool) {
	if !b.modelled {
		b.modelled = true
		made, plate, err := b.labels(b.Case.Battery.Chemistry, int(battery.Cells(b.Case.Volts())), b.label())
		if err == nil {
			b.asNew, b.plate = &made, plate
		}
	}
	if b.asNew == nil {
		return battery.Battery{}, false
	}
	return *b.asNew, true
}

// Of gives the battery of another label, of the same build and volts; false where none
// can be made of it.
func (b *Bench) Of(l rating.Label) (battery.Battery, bool) {
	made, _, err := b.labels(b.Case.Battery.Chemistry, int(battery.Cells(b.Case.Volts())), l)
	return made, err == nil
}

// Label gives the battery of the label with its nameplate; false when there is
// none.
func (b *Bench) Label() (battery.Battery, battery.Nameplate, bool) {
	made, ok := b.AsNew()
	return made, b.plate, ok
}

// LabelDoubt says what in the label contradicts itself; empty when nothing does.
func (b *Bench) LabelDoubt() string {
	b.AsNew()
	return b.plate.Doubt
}

// LabelRead reports whether somebody has read a cranking figure or ampere-hours
// off this very battery, and they belong together.
func (b *Bench) LabelRead() bool {
	l := b.Case.Battery.Rating.Label()
	return !b.Case.Battery.Rating.Typical && (l.CCA > 0 || l.CA > 0 || l.Ah20h > 0) && b.LabelDoubt() == ""
}

// Words of the label.
const (
	saysTypical   = "The rating is typical of this class. Read the label before you condemn anything."
	whyTypical    = "The load and the judgement of strength follow the rating; a wrong one gives a wrong answer."
	saysConverted = "Taken as {amps} SAE."
	whyConverted  = "{how}. The standards test for different times to different volts."
)

// Years from which a battery is watched, and after which it has lived its life.
// Common practice, no source.
const (
	watchYears = 3
	lifeYears  = 6
)

// Months is how old the battery is; false where nobody knows when it was made or
// fitted.
func (b *Bench) Months() (months int, known bool) {
	made := b.Case.Battery.Made
	if made == "" {
		made = b.Case.Battery.Fitted
	}
	m, ok := rating.ParseMonth(made)
	if !ok || b.Now.IsZero() {
		return 0, false
	}
	return m.MonthsUntil(rating.Month{Year: b.Now.Year(), Month: int(b.Now.Month())}), true
}

// buildFindings notes the battery's age, and a build its vehicle was not made for.
func (b *Bench) buildFindings() {
	if months, known := b.Months(); known {
		f := Finding{Code: "battery.age", Level: Note, Rule: "battery.age", Source: Practice, Why: words.Say(whyAge)}
		years := measure.Plain(float64(months/12), 0)
		switch {
		case months >= 12*lifeYears:
			f.Text = words.Say(saysOld, "years", years)
			b.tell(f)
		case months >= 12*watchYears:
			f.Text = words.Say(saysAgeing, "years", years)
			b.tell(f)
		}
	}
	chem := b.Case.Battery.Chemistry
	if b.Case.Vehicle.StopStart && (chem == battery.Flooded || chem == battery.FloodedSealed) {
		b.tell(Finding{Code: "battery.stop_start", Level: Act, Rule: "battery.stop_start", Source: Practice,
			Text: words.Say(saysStopStart), Why: words.Say(whyStopStart)})
	}
	if a := b.Case.Vehicle.Arrangement; a == "parallel" || a == "series" {
		b.tell(Finding{Code: "battery.one_of_two", Level: Note, Rule: "battery.one_of_two", Source: Practice,
			Text: words.Say(saysOneOfTwo), Why: words.Say(whyOneOfTwo)})
	}
}

// Words of age and build.
const (
	saysAgeing    = "{years} years old: watch it."
	saysOld       = "{years} years old: it has lived its life, whatever it shows today."
	whyAge        = "Three to five years are usual, less in heat; six and more happens."
	saysStopStart = "A plain flooded battery in a stop-start vehicle: it wants EFB or AGM."
	whyStopStart  = "Many starts a day and fast charging wear a plain one out within a year or two. Replace it by the build the maker asks for."
	saysOneOfTwo  = "One of two: part it from the other before it is tested."
	whyOneOfTwo   = "Joined, every reading is of both, and a bad one drags the other down."
)
