package assess

import (
	"fmt"
	"strings"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading"
)

// modelSource names what turns readings of different testers into one figure.
const modelSource = "Grapnel's battery model (docs/model.md)"

// The conductance school's limits, percent of the label. Common practice, no
// source: 80 and over serviceable, under 60 replace.
const (
	serviceablePct = 80.0
	finishedPct    = 60.0
)

// Spread of what a reading's amps are, ± part: read off the tester, or not read
// at all and taken to be what the label asks for.
const (
	readAmps    = 0.03
	assumedAmps = 0.10
)

// A starter's lowest volts come with its first surge, which a clamp reading the
// steady draw does not show: about 1.6 times as much, within half either way.
// From memory; published starter traces show 1.5 to 3 times.
const (
	surge       = 1.6
	surgeSpread = 0.5
)

// CCAEstimate is the cold cranking amps (SAE) the battery would have if it were
// full, as all readings of its strength say together.
type CCAEstimate struct {
	battery.Band
	OfRatingPct float64 `json:"of_rating_pct" doc:"the best figure in percent of the label"`
}

// evidence is one reading of strength, put through the model.
type evidence struct {
	i     int
	what  string // in a technician's words
	asked string // what it really asked of the battery
	battery.Strength
}

// cranks is what the readings say of strength.
type cranks struct {
	label float64 // SAE amps
	all   []evidence
	joint *battery.Band // nil when nothing was read, or no one battery explains it all
}

// taken is a reading of strength with what was known of the charge then.
type taken struct {
	i   int
	r   reading.Reading
	soc *battery.Band
}

// model gives the battery that the label promises, made once; false when the
// label has no cranking figure to compare with.
func (s *story) model() (battery.Battery, bool) {
	if !s.modelled {
		s.modelled = true
		if s.sae.Amps > 0 {
			b, plate, err := battery.FromLabel(s.c.Battery.Chemistry, int(battery.Cells(s.c.Volts())), s.c.Battery.Rating.Label())
			if err == nil {
				s.asNew, s.doubt = &b, plate.Doubt
			}
		}
	}
	if s.asNew == nil {
		return battery.Battery{}, false
	}
	return *s.asNew, true
}

// strength puts the last load test, conductance figure and crank through the
// model; each counts only with a charge to go with it.
func (s *story) strength() cranks {
	if s.cranks != nil {
		return *s.cranks
	}
	c := cranks{label: s.sae.Amps}
	s.cranks = &c
	if s.hazard != "" || s.frozen {
		return c
	}
	var ts []taken
	if l := s.load; l != nil {
		ts = append(ts, taken{l.i, l.r, l.soc})
	}
	for _, t := range []*taken{s.conductance, s.crank} {
		if t == nil {
			continue
		}
		if t.soc == nil && s.rest != nil && !s.rest.tooHigh && s.charged < t.i {
			soc := s.rest.Charge
			t.soc = &soc
		}
		ts = append(ts, *t)
	}
	for _, t := range ts {
		if t.soc == nil {
			continue
		}
		if e, ok := s.through(t); ok {
			c.all = append(c.all, e)
		}
	}
	if len(c.all) > 0 {
		joint, agree := c.all[0].CCA, true
		for _, e := range c.all[1:] {
			a := battery.Compare(battery.Strength{CCA: joint}, e.Strength)
			joint, agree = a.Both, agree && a.Agree
		}
		if agree {
			c.joint = &joint
		}
	}
	return c
}

// through puts one reading through the model.
func (s *story) through(t taken) (evidence, bool) {
	b, ok := s.model()
	if !ok {
		return evidence{}, false
	}
	temp, assumed := s.c.TempC(t.r.BatteryC)
	at := battery.Condition{SOC: *t.soc, TempC: temp}
	if assumed {
		at.TempSpread = battery.UnknownTempC
	}
	charge := fmt.Sprintf("%s charged, %s", spell(t.soc.Rounded()), s.temp(temp))
	var e evidence
	var err error
	switch t.r.Kind {
	case reading.Conductance:
		e.what = "conductance"
		e.asked = fmt.Sprintf("No load: %.0f A found, %s", *t.r.CCA, charge)
		e.Strength, err = b.StrengthFromConductance(at, s.found(t.r), s.sae.Amps)
	default:
		d := battery.Discharge{Seconds: rating.LoadSeconds, AmpsSpread: readAmps}
		e.what, d.Volts = "load test", 0
		if t.r.Kind == reading.Crank {
			e.what, d.Volts, d.Seconds, d.AmpsSpread = "crank", *t.r.VoltsMin, 1, surgeSpread
		} else {
			d.Volts = *t.r.VoltsEnd
			if t.r.Method == reading.Fixed10s {
				d.Seconds = 10
			}
		}
		if t.r.Kind == reading.LoadTest && t.r.Seconds != nil && *t.r.Seconds > 0 {
			d.Seconds = *t.r.Seconds
		}
		switch {
		case t.r.Amps != nil && *t.r.Amps > 0:
			d.Amps = *t.r.Amps
			if t.r.Kind == reading.Crank {
				d.Amps *= surge
			}
		case t.r.Kind == reading.LoadTest && t.r.Method == reading.HalfCCA:
			asked, aerr := rating.TestLoad(s.c.Battery.Rating.Label())
			if aerr != nil {
				return e, false
			}
			d.Amps, d.AmpsSpread = asked.Amps, assumedAmps
		default:
			return e, false // a starter's volts without its amps say nothing of the battery alone
		}
		e.asked = fmt.Sprintf("%.0f A for %.0f s, %s", d.Amps, d.Seconds, charge)
		if t.r.Kind == reading.Crank {
			e.asked = fmt.Sprintf("About %.0f A at the first surge, for %.0f A steady; %s", d.Amps, *t.r.Amps, charge)
		}
		e.Strength, err = b.StrengthFromLoad(at, d)
	}
	e.i = t.i
	return e, err == nil
}

// found is a conductance figure in SAE amps. A tester whose standard nobody noted
// was told the label's.
func (s *story) found(r reading.Reading) float64 {
	standard := r.Standard
	if standard == "" {
		standard = s.c.Battery.Rating.Standard
	}
	amps, _, err := rating.Convert(*r.CCA, standard, rating.SAE)
	if err != nil {
		return *r.CCA
	}
	return amps
}

// tellStrength writes the ledger's lines about strength.
func (s *story) tellStrength() {
	c := s.strength()
	if s.doubt != "" && len(c.all) > 0 {
		s.add(Finding{Code: "rating.doubt", Level: Act, Rule: "rating.together", Source: modelSource,
			Text: "Read the label again: its figures hardly belong together.", Why: capital(s.doubt) + "."})
	}
	for _, e := range c.all {
		s.add(Finding{Code: "strength." + strings.ReplaceAll(e.what, " ", "_"), Level: Note, Readings: []int{e.i}, Rule: "strength.model", Source: modelSource,
			Text: fmt.Sprintf("%s: strong as %.0f CCA, %.0f to %.0f. That is %.0f %% of its label.", capital(e.what), round5(e.CCA.Best), round5(e.CCA.Low), round5(e.CCA.High), c.ofLabel(e)),
			Why:  e.asked + ". Charge and temperature are taken out.", Other: conductanceSchool(c.ofLabel(e))})
	}
	if len(c.all) < 2 {
		return
	}
	f := Finding{Rule: "strength.reconcile", Source: modelSource}
	for _, e := range c.all {
		f.Readings = append(f.Readings, e.i)
	}
	if !c.contradicted() {
		f.Code, f.Level = "strength.agree", OK
		f.Text = fmt.Sprintf("These readings agree: one battery of about %.0f CCA gives them all.", round5(c.joint.Best))
		f.Why = "They asked different things of it, at the charge and temperature of the moment."
	} else {
		f.Code, f.Level = "strength.disagree", Act
		f.Text = "No one battery gives all these readings: one of them is wrong."
		f.Why = "A bad contact, a wrong rating keyed in or a mistaken charge are the usual causes. " + s.settle()
	}
	s.add(f)
}

// settledPct is the charge from which a contradiction between testers can no
// longer be a mistaken charge. House judgement.
const settledPct = 90.0

// contradicted reports whether no one battery can give all readings of strength.
func (c cranks) contradicted() bool { return len(c.all) > 1 && c.joint == nil }

// undecided reports whether a contradiction bears on the verdict: readings that
// all say finished, or all say strong, differ only in how much.
func (s *story) undecided() bool {
	if s.conductance == nil && s.crank == nil {
		return false // no second witness worth asking the model for
	}
	c := s.strength()
	finished, strong := 0, 0
	for _, e := range c.all {
		switch pct := c.ofLabel(e); {
		case pct < finishedPct:
			finished++
		case pct >= serviceablePct:
			strong++
		}
	}
	return c.contradicted() && finished < len(c.all) && strong < len(c.all)
}

// ofLabel is a reading's best figure in percent of the label.
func (c cranks) ofLabel(e evidence) float64 { return 100 * e.CCA.Best / c.label }

// settle says which reading would decide between testers that cannot both be
// right. Common practice, no source.
func (s *story) settle() string {
	switch {
	case len(s.dirty) > 0:
		return "Clean the contacts, then take both again."
	case s.rest == nil || s.rest.tooHigh:
		return "Read its rest volts, then take both again."
	case s.rest.Charge.Best < settledPct:
		return "Charge it full, then take both again."
	}
	return "Take the load test again with its clamps on the posts themselves."
}

// conductanceSchool is what those who go by conductance would say of a part of
// the label.
func conductanceSchool(pct float64) string {
	switch {
	case pct >= serviceablePct:
		return fmt.Sprintf("by conductance (%.0f %% and over): serviceable", serviceablePct)
	case pct >= finishedPct:
		return fmt.Sprintf("by conductance (%.0f to %.0f %%): weak, watch it", finishedPct, serviceablePct)
	}
	return fmt.Sprintf("by conductance (under %.0f %%): replace", finishedPct)
}

// round5 gives amps as finely as any of this is known.
func round5(a float64) float64 { return 5 * float64(int(a/5+0.5)) }

// estimate is the strength for the assessment, nil when it is not known or the
// readings cannot all be true.
func (s *story) estimate() *CCAEstimate {
	c := s.strength()
	if c.joint == nil || c.label <= 0 {
		return nil
	}
	b := battery.Band{Low: c.joint.Low, Best: c.joint.Best, High: c.joint.High}.Rounded()
	return &CCAEstimate{b, float64(int(100*b.Best/c.label + 0.5))}
}

// strengthGauge is the cranking strength against the label.
func (s *story) strengthGauge() Gauge {
	c := s.strength()
	g := Gauge{Quantity: "cranking", Unit: "CCA", Max: 800, Step: 100, Level: Note, Label: "not known yet", Notches: []Notch{}}
	if c.label <= 0 {
		return g
	}
	g.Step = scaleStep(1.25 * c.label)
	for g.Max = g.Step; g.Max < 1.2*c.label; g.Max += g.Step {
	}
	g.Notches = append(g.Notches,
		Notch{At: c.label * finishedPct / 100, Word: fmt.Sprintf("%.0f %%", finishedPct), Ghost: true},
		Notch{At: c.label * serviceablePct / 100, Word: fmt.Sprintf("%.0f %%", serviceablePct), Ghost: true},
		Notch{At: c.label, Word: fmt.Sprintf("label %.0f", c.label)})
	switch e := s.estimate(); {
	case e != nil:
		b := e.Band
		g.Band = &b
		g.Label = fmt.Sprintf("strong as %.0f CCA, %.0f %% of the label", round5(b.Best), e.OfRatingPct)
		if e.OfRatingPct >= serviceablePct {
			g.Level = OK
		}
	case c.contradicted():
		g.Label, g.Level = "the testers contradict each other", Act
	}
	return g
}

// scaleStep gives a round step that divides a scale into about eight.
func scaleStep(most float64) float64 {
	for _, step := range []float64{5, 10, 20, 25, 50, 100, 200} {
		if most/step <= 9 {
			return step
		}
	}
	return 500
}
