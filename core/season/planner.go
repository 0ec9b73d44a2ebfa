package season

import (
	"math"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/charge"
	"grapnel/core/document"
	"grapnel/core/engine"
	"grapnel/core/guide"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/words"
)

// planner makes the ways of one request.
type planner struct {
	r      *Request
	s      *standing
	b      battery.Battery
	belief // after the looks
	prior  belief
	starts starts
	needs  func(tempC float64) float64 // amps the engine needs; nil for none
	amps   Amps
	looks  []seen
}

// planner finds the battery of a request and what is thought of it.
func (r *Request) planner(labels bench.Labels) (*planner, error) {
	label := r.Battery.Rating.Label()
	volts := r.volts()
	if label == (rating.Label{}) {
		label = usualLabel(r.Vehicle.Class)
	}
	b, _, err := labels(r.Battery.Chemistry, int(battery.Cells(volts)), label)
	if err != nil {
		return nil, document.Problems{{Path: "battery.rating", Message: err.Error()}}
	}
	rated := b.CCA
	b = b.WornTo(r.Start.HealthPct).WithCapacity(charge.CapacityOf(r.Start.HealthPct))
	p := &planner{r: r, b: b}
	p.s = &standing{
		chem:  r.Battery.Chemistry,
		cells: float64(b.Cells()),
		ah:    b.Coulombs / 3600 * b.Groups[0].Capacity,
		drain: r.usualDrain(),
		start: r.Start.SOCPct,
		days:  r.weatherOf(),
	}
	for _, d := range p.s.days {
		p.s.self = append(p.s.self, battery.SelfAt(p.s.chem, d.mean))
	}
	if r.DrainMA != nil {
		p.s.drain = *r.DrainMA
	}
	if r.Vehicle.Arrangement == "parallel" {
		p.s.drain /= 2
	}
	if r.Vehicle.Electric() {
		for i := range p.starts.least {
			p.starts.least[i] = wakes
		}
	} else {
		e := engine.Of(r.Vehicle.Fuel, rated)
		p.needs = func(tempC float64) float64 { return e.Amps.Best * engine.Need(tempC) }
		p.starts = startsOf(b, p.needs)
	}
	p.prior = r.prior()
	p.belief = p.prior
	p.looks = r.seenOf(p.s)
	if k, ok := p.plainly(r.Way); ok {
		p.belief = p.s.learn(p.prior, &k, p.looks)
	}
	p.amps = p.s.maintainerAmps(p.belief)
	return p, nil
}

// plainly is the keeping of a way in which what it loses shows in its charge; false for one
// that hides it.
func (p *planner) plainly(way string) (keeping, bool) {
	switch way {
	case Connected, ChargeEvery, DriveEvery:
		return keeping{clamped: true, looks: p.looks}, true
	case Disconnected:
		return keeping{looks: p.looks}, true
	case TakenIn:
		room := p.r.room()
		return keeping{tempC: &room, looks: p.looks}, true
	}
	return keeping{}, false
}

// room is how warm the shelf indoors is.
func (r *Request) room() float64 {
	if r.IndoorsC != nil {
		return *r.IndoorsC
	}
	return usualIndoorsC
}

// usualLabel is the label usual for a class.
func usualLabel(class string) rating.Label {
	all := guide.Defaults()
	i := slices.IndexFunc(all, func(d guide.ClassDefault) bool { return d.Class == class })
	return all[max(0, i)].Battery.Rating.Label()
}

// forgets reports whether the vehicle loses memories without its battery.
func (p *planner) forgets() bool {
	return (&guide.Scene{Vehicle: p.r.Vehicle, Year: date(p.r.From).Year()}).Forgets()
}

// learnt reports whether a look told how it is charged.
func (p *planner) learnt() bool {
	return slices.ContainsFunc(p.looks, func(l seen) bool { return l.known })
}

// cautions are those of storing it.
func (p *planner) cautions() []string {
	out := []string{"acid", "spanner", "hydrogen"}
	if p.r.Vehicle.Electric() {
		out = append([]string{"high_voltage"}, out...)
	}
	if p.drivable() && !p.r.Vehicle.Electric() {
		out = append(out, "running_engine")
	}
	if p.r.hand(Indoors) {
		out = append(out, "lifting")
	}
	return out
}

// drains says what it is thought to lose.
func (p *planner) drains() Drain {
	factor := func(of int, side float64) float64 {
		return math.Exp(p.at[of] + side*sure*math.Sqrt(max(0, p.var3[of][of])))
	}
	band := func(of int, v float64) battery.Band {
		return battery.Band{
			Low:  hundredth(v * factor(of, -1)),
			Best: hundredth(v * factor(of, 0)),
			High: hundredth(v * factor(of, 1)),
		}
	}
	return Drain{Milliamps: band(ofDrain, p.s.drain), Measured: p.r.DrainMA != nil,
		SelfMonth: band(ofSelf, battery.SelfDischarge(p.s.chem, 100, 25))}
}

// state is how it stands on a day, and what is to spare from then on.
func (w *WayOfKeeping) state(day int) State {
	d := w.Days[day]
	s := State{
		Date:    d.Date,
		SOC:     battery.Band{Low: d.SOCLow, Best: d.SOC, High: d.SOCHigh},
		Freezes: d.Weak,
		Spare:   math.Inf(1),
	}
	for _, d := range w.Days[day:] {
		if spare := hundredth(d.Low - d.Weak); spare < s.Spare {
			s.Spare, s.SpareOn = spare, d.Date
		}
	}
	return s
}

// why says why the first way is the first.
func (p *planner) why(first, connected *WayOfKeeping) words.Text {
	left := words.Say(whyLeft, "says", connected.Says.Small())
	switch {
	case first.Sign == "stop":
		return words.Say(whyNone, "name", first.Name, "says", first.Says.Small())
	case first.Way == Connected && first.Sign == "holds":
		return words.Say(whyNothing)
	case first.Way == Connected:
		return words.Say(whyNothingElse, "says", first.Says.Small())
	case connected.Sign == "holds":
		left = words.Say(whyLeftToo)
	}
	return words.Say(whyBest, "cost", first.Cost, "left", left)
}

// actBy is the day by which something has to be done, and what happens if it is not.
func (p *planner) actBy(keptIn, connected *WayOfKeeping) (string, words.Text) {
	w := keptIn
	if p.r.Way == "" {
		w = connected // nothing has been done yet
	}
	if w.ChargeBy == "" {
		return "", words.Text{}
	}
	if w.Sign == "stop" {
		return w.ChargeBy, w.Says
	}
	return w.ChargeBy, words.Say(
		elseHardens,
		"min",
		measure.Percents(p.r.Rules.StoreMinSOC),
		"margin",
		measure.Rise(p.r.Rules.StoreMarginC),
	)
}

const (
	whyBest        = "{cost} {left}"
	whyLeft        = "Left connected: {says}"
	whyLeftToo     = "Left connected it comes through too, but what can go wrong costs more than this."
	whyNothing     = "Nothing has to be done: it comes through as it stands."
	whyNothingElse = "Nothing at hand does better: {says}"
	whyNone        = "Nothing at hand keeps it. {name} does longest: {says}"
	elseHardens    = "Under {min}, or with less than {margin} to spare: sulphate hardens, and the next frost is near."
)
