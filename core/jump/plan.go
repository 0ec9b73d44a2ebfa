package jump

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/document"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Will it turn.
const (
	Yes      = "yes"
	Marginal = "marginal"
	No       = "no"
)

// Plan is what a jump start will do.
type Plan struct {
	Format   string           `json:"format"`
	Allowed  bool             `json:"allowed"`
	Refusals []charge.Warning `json:"refusals"`

	About        words.Text  `json:"about,omitzero"` // the flat vehicle, as it is taken to be
	Starts       string      `json:"starts,omitempty" enum:"yes,marginal,no"`
	Answer       words.Text  `json:"answer,omitzero"` // in two words
	Then         words.Text  `json:"then,omitzero"`   // and what to do
	Why          words.Text  `json:"why,omitzero"`
	StarterVolts *float64    `json:"starter_volts,omitempty"`
	StarterAmps  *float64    `json:"starter_amps,omitempty"`
	CrankRPM     *float64    `json:"crank_rpm,omitempty"`
	RPMNeeded    *float64    `json:"rpm_needed,omitempty"`
	Wake         *Wake       `json:"wake,omitempty"`
	Reached      *Reached    `json:"reached,omitempty"`
	Losses       []Loss      `json:"losses"`
	Rise         float64     `json:"lead_rise_c_per_10s"`
	MinutesFirst *float64    `json:"minutes_first,omitempty"`
	Minutes      *Minutes    `json:"minutes,omitempty"`
	Now          *Stream     `json:"now,omitempty"`
	Later        *Stream     `json:"later,omitempty"`
	Curve        []AtMinute  `json:"curve"`
	Changes      []Remedy    `json:"changes"`
	Turns        []Turn      `json:"turns"`
	Tries        Tries       `json:"tries"`
	Connect      []Act       `json:"connect"`
	Disconnect   []Act       `json:"disconnect"`
	Unoffered    []Unoffered `json:"not_offered"`

	Cautions []charge.Warning `json:"cautions"`
	PutBack  float64          `json:"put_back_pct_15min"`
	After    *After           `json:"after,omitempty"`

	took float64 // ampere-hours by the flat battery in MinutesFirst
}

// Wake is what a vehicle without a starter is jumped for.
type Wake struct {
	Volts float64 `json:"volts"`
	Needs float64 `json:"needs_volts"`
	Amps  float64 `json:"amps"`
}

// Reached is what a try reaches, nine times in ten between low and high, and what it has
// to: turns a minute, or volts where there is no starter.
type Reached struct {
	Low   float64 `json:"low"`
	Best  float64 `json:"best"`
	High  float64 `json:"high"`
	Needs float64 `json:"needs"`
	Unit  string  `json:"unit" enum:"rpm,V"`
	Volts float64 `json:"needs_volts"` // at the starter, to turn so fast
}

// Loss is where volts are lost on the way to the starter.
type Loss struct {
	Part      string  `json:"part" enum:"source,live_lead,earthed_lead,clamps,live_cable,earthed_cable"`
	Milliohms float64 `json:"milliohms"`
	Volts     float64 `json:"volts"`
}

// Minutes is for how long it is charged through the leads before a try: high is absent
// where it may never do.
type Minutes struct {
	Low  float64  `json:"low"`
	Best float64  `json:"best"`
	High *float64 `json:"high,omitempty"`
}

// Stream is the circuit while it is cranked, as it is drawn.
type Stream struct {
	SourceRest   float64 `json:"source_rest_volts"` // before the try
	SourceVolts  float64 `json:"source_volts"`
	FlatVolts    float64 `json:"flat_volts"`
	StarterVolts float64 `json:"starter_volts"`
	SourceAmps   float64 `json:"source_battery_amps"`
	MakerAmps    float64 `json:"alternator_amps"`
	LeadAmps     float64 `json:"lead_amps"`
	FlatAmps     float64 `json:"flat_amps"` // into it; below 0 where it helps
	StarterAmps  float64 `json:"starter_amps"`
	Reached      float64 `json:"reached"`
}

// AtMinute is what a try reaches after so many minutes of charging through the leads.
type AtMinute struct {
	Minute float64 `json:"minute"`
	Low    float64 `json:"low"`
	Best   float64 `json:"best"`
	High   float64 `json:"high"`
}

// Turn is what a try now would reach with one thing turned up or down by a step.
type Turn struct {
	Code    string  `json:"code" enum:"mm2,metres,rpm"`
	Value   float64 `json:"value"`
	Reached float64 `json:"reached"`
}

// Tries is for how long it is cranked at a time, and left alone between.
type Tries struct {
	Seconds     float64 `json:"seconds"`
	RestSeconds float64 `json:"rest_seconds"`
}

// A try, and the rest after it, seconds. Common practice, no source.
const (
	trySeconds  = 10.0
	restSeconds = 120.0
)

// blank is a plan before anything is worked out, and one that never is.
func blank(why []charge.Warning) Plan {
	return Plan{Format: PlanFormat, Refusals: why, Losses: []Loss{}, Curve: []AtMinute{}, Changes: []Remedy{},
		Turns: []Turn{}, Connect: []Act{},
		Disconnect: []Act{}, Unoffered: []Unoffered{}, Cautions: []charge.Warning{}, Tries: Tries{trySeconds, restSeconds}}
}

// Plan gives the plan of a request, in a voice; labels finds the battery of a label, nil
// works it out. The error says what in the request cannot be.
func (r Request) Plan(labels Labels, v words.Voice) (Plan, error) {
	if labels == nil {
		labels = battery.FromLabel
	}
	if why := r.refusals(); len(why) > 0 {
		p := blank(why)
		p.About = r.about()
		p.refuse()
		words.Spoken(&p, v)
		return p, nil
	}
	s, err := r.scene(labels)
	if err != nil {
		return Plan{}, err
	}
	p := blank([]charge.Warning{})
	p.Allowed = true
	if r.Source.Kind == FromCharger {
		p.Tries = Tries{min(trySeconds, r.Source.OnSeconds), max(restSeconds, r.Source.RestSeconds)}
	}
	p.About = r.about()
	p.Connect, p.Disconnect = r.order(&s)
	p.Unoffered = unoffered()
	s.try(&p)
	p.Changes = s.changes(r, &p)
	p.Turns = s.turns(r)
	p.say(&s)
	p.Cautions = r.cautions(&s, &p)
	r.after(&s, &p)
	p.fine()
	words.Spoken(&p, v)
	return p, nil
}

// try works out what a try reaches now, and after minutes on the leads.
func (s *scene) try(p *Plan) {
	goal := s.goal()
	start := s.circuit(0)
	rest := s.sourceRest(start)
	now := s.tried(start, true)
	p.Now = s.flow(now, rest)
	p.Losses = s.losses(now, rest)
	p.Rise = s.leads.Rise(math.Abs(now.LeadAmps))

	on := make([]*Circuit, 0, len(marks))
	best := s.over(0, all, func(k *Circuit) { on = append(on, k.Fork()) })
	low, high := spreadOver(best, s.over(-1, rough[:], nil)), spreadOver(best, s.over(1, rough[:], nil))
	// The few steps of a search lie a little off the fine ones: all by as much.
	fine := s.reaches(now)
	if best[0] > 0 {
		off := fine / best[0]
		for i := range best {
			low[i], best[i], high[i] = low[i]*off, best[i]*off, high[i]*off
		}
	}
	for i, m := range marks {
		low[i], high[i] = min(low[i], best[i]), max(high[i], best[i])
		p.Curve = append(p.Curve, AtMinute{m, low[i], best[i], high[i]})
	}
	unit := "rpm"
	if s.electric {
		unit = "V"
		p.Wake = &Wake{Volts: now.FlatVolts, Needs: goal, Amps: s.load}
	} else {
		p.StarterVolts, p.StarterAmps, p.CrankRPM, p.RPMNeeded = &now.StarterVolts, &now.StarterAmps, &now.RPM, &s.needed
	}
	p.Reached = &Reached{low[0], fine, high[0], goal, unit, s.goalVolts()}
	switch {
	case low[0] >= goal:
		p.Starts = Yes
	case high[0] < goal:
		p.Starts = No
	default:
		p.Starts = Marginal
	}
	first := 0.0
	if p.Starts != Yes {
		if at, ever := crosses(best, goal); ever {
			first = math.Ceil(at - 1e-9)
			m := Minutes{Best: first}
			if soonest, ok := crosses(high, goal); ok {
				m.Low = math.Ceil(soonest - 1e-9)
			}
			if latest, ok := crosses(low, goal); ok {
				latest = math.Ceil(latest - 1e-9)
				m.High = &latest
			}
			p.Minutes = &m
			p.MinutesFirst = &first
		}
	} else {
		p.MinutesFirst = &first
	}
	if first > 0 {
		s.later(p, on, first)
	}
}

// later looks closely at the try after some minutes, and waits longer where that does not do:
// the few steps of a search may promise too much.
func (s *scene) later(p *Plan, on []*Circuit, first float64) {
	i := len(marks) - 1
	for marks[i] > first {
		i--
	}
	k, at := on[i], marks[i]
	for most := marks[len(marks)-1]; ; first++ {
		k.goOn(60*(first-at), onCurve, onCurve.most)
		at = first
		p.took = k.Flat.Ah()
		rest := s.sourceRest(k)
		p.Later = s.flow(s.tried(k.Fork(), true), rest)
		if p.Later.Reached >= s.goal() || first >= most {
			break
		}
	}
	*p.MinutesFirst = first
	p.Minutes.Best = first
	p.Minutes.Low = min(p.Minutes.Low, first)
	if p.Minutes.High != nil {
		*p.Minutes.High = max(*p.Minutes.High, first)
	}
}

// sourceRest is what the source shows while nothing is cranked, volts.
func (s *scene) sourceRest(k *Circuit) float64 {
	k = k.Fork()
	k.Maker = s.cranking
	return k.Step(1).GiverVolts
}

func (s *scene) flow(m Moment, rest float64) *Stream {
	return &Stream{rest, m.GiverVolts, m.FlatVolts, m.StarterVolts, m.GiverAmps, m.MakerAmps, m.LeadAmps, m.FlatAmps,
		m.StarterAmps, s.reaches(m)}
}

// losses gives where the volts go between the source at rest and the starter.
func (s *scene) losses(m Moment, rest float64) []Loss {
	var out []Loss
	add := func(part string, ohms, amps float64) {
		if ohms > 0 {
			out = append(out, Loss{part, 1000 * ohms, ohms * amps})
		}
	}
	if amps := math.Abs(m.LeadAmps); amps > 1 {
		add("source", max(0, rest-m.GiverVolts)/amps, amps)
	}
	add("live_lead", s.leads.Each(), m.LeadAmps)
	add("earthed_lead", s.leads.Each(), m.LeadAmps)
	add("clamps", s.leads.Bites(), m.LeadAmps)
	add("live_cable", s.live, m.StarterAmps)
	if !s.onBody {
		add("earthed_cable", s.earthed, m.StarterAmps)
	}
	return out
}

// say puts the answer into words.
func (p *Plan) say(s *scene) {
	reached, goal := measure.Of(p.Reached.Best, measure.Turns, 0), measure.Of(p.Reached.Needs, measure.Turns, 0)
	if s.electric {
		reached, goal = measure.Volts(p.Reached.Best, 1), measure.Volts(p.Reached.Needs, 1)
	}
	say := func(answer, then string, with ...any) {
		with = append(with, "reached", reached, "goal", goal)
		p.Answer, p.Then = words.Say(answer), words.Say(then, with...)
	}
	minutes := measure.Minutes(0)
	if p.MinutesFirst != nil {
		minutes = measure.Minutes(*p.MinutesFirst)
	}
	switch {
	case p.Starts == Yes && s.electric:
		say(answerYes, thenWakes)
	case p.Starts == Yes:
		say(answerYes, thenTurns)
	case p.MinutesFirst != nil && *p.MinutesFirst > 0:
		say(answerNotYet, thenMinutes, "minutes", minutes)
	case p.Starts == Marginal:
		say(answerPerhaps, thenTry)
		if p.Minutes != nil && p.Minutes.High != nil {
			say(answerPerhaps, thenSurer, "minutes", measure.Minutes(*p.Minutes.High))
		}
	case len(p.Changes) > 0:
		say(answerNo, thenChange, "change", p.Changes[0].Do)
	default:
		say(answerNo, thenNothing)
	}
	p.Why = p.why()
}

// why says what holds it up most, or why a second try works where the first fails.
func (p *Plan) why() words.Text {
	if f := p.Later; f != nil {
		took := measure.Of(p.took, measure.AmpHour, 1)
		if f.FlatAmps < 0 {
			return words.Say(whyHelps, "took", took, "amps", measure.Amps(-f.FlatAmps))
		}
		return words.Say(whyTakes, "took", took)
	}
	if p.Starts == Yes || len(p.Losses) == 0 {
		return words.Text{}
	}
	worst := p.Losses[0]
	for _, l := range p.Losses {
		if l.Volts > worst.Volts {
			worst = l
		}
	}
	return words.Say(whyLost, "volts", measure.Volts(worst.Volts, 1), "part", partWords[worst.Part])
}

var partWords = map[string]string{
	"source": "in the source itself", "live_lead": "in the live lead", "earthed_lead": "in the earthed lead", "clamps": "in the clamps",
	"live_cable": "in its own live cable", "earthed_cable": "in its own earthed cable",
}

// fine rounds every figure to the decimals it deserves.
func (p *Plan) fine() {
	round := func(digits int, all ...*float64) {
		for _, v := range all {
			if v != nil {
				k := math.Pow(10, float64(digits))
				*v = math.Round(*v*k) / k
			}
		}
	}
	round(2, p.StarterVolts, &p.PutBack)
	round(0, p.StarterAmps, p.CrankRPM, p.RPMNeeded)
	round(1, &p.Rise)
	digits := 0
	if p.Wake != nil {
		digits = 2
		round(2, &p.Wake.Volts, &p.Wake.Needs, &p.Wake.Amps)
	}
	round(2, &p.Reached.Volts)
	round(digits, &p.Reached.Low, &p.Reached.Best, &p.Reached.High, &p.Reached.Needs)
	for i := range p.Losses {
		round(2, &p.Losses[i].Milliohms, &p.Losses[i].Volts)
	}
	for _, f := range []*Stream{p.Now, p.Later} {
		if f != nil {
			round(2, &f.SourceRest, &f.SourceVolts, &f.FlatVolts, &f.StarterVolts)
			round(0, &f.SourceAmps, &f.MakerAmps, &f.LeadAmps, &f.FlatAmps, &f.StarterAmps)
			round(digits, &f.Reached)
		}
	}
	for i := range p.Curve {
		c := &p.Curve[i]
		round(max(1, digits), &c.Low, &c.Best, &c.High)
	}
	for i := range p.Changes {
		round(digits, &p.Changes[i].Reached)
	}
	for i := range p.Turns {
		round(digits, &p.Turns[i].Reached)
	}
	if a := p.After; a != nil {
		round(1, &a.PutBackPct, &a.SOCPct, &a.FullHours)
		round(0, &a.Days)
	}
}

// PlanShape describes the plan.
func PlanShape() document.Shape {
	figure, text := document.Shape{Kind: "number", Unbounded: true}, document.Text(0)
	said := document.Object([]string{"code", "text"}, map[string]document.Shape{"code": text, "text": text})
	of := func(names ...string) document.Shape {
		fields := map[string]document.Shape{}
		for _, n := range names {
			fields[n] = figure
		}
		return document.Object(names, fields)
	}
	step := document.Object([]string{"do", "place"}, map[string]document.Shape{
		"clamp": {Kind: "integer", Min: 1, Max: 4, Doc: "its number; left out where no clamp is moved"}, "do": text, "why": text,
		"loose": text.About("where the loose end lies meanwhile"),
		"place": document.Words(AtFlatLive, AtFlatEarthed, AtJumpPost, AtMetal, AtDonorSame, AtDonorOther, AtSwitch, AtKey,
			AtWall),
		"side": document.Words("live", "earthed").About("of the flat vehicle"), "post": document.Words("+",
			"−"), "lead": document.Words("red", "black")})
	reached := of("low", "best", "high", "needs", "needs_volts")
	reached.Fields["unit"] = document.Words("rpm", "V")
	reached.Need = append(reached.Need, "unit")
	loss := of("milliohms", "volts")
	loss.Fields["part"] = document.Words("source", "live_lead", "earthed_lead", "clamps", "live_cable", "earthed_cable")
	loss.Need = append(loss.Need, "part")
	minutes := of("low", "best")
	minutes.Fields["high"] = figure.About("absent where it may never do")
	flow := of("source_rest_volts", "source_volts", "flat_volts", "starter_volts", "source_battery_amps", "alternator_amps",
		"lead_amps",
		"flat_amps", "starter_amps", "reached")
	change := document.Object([]string{"code", "do", "reached", "minutes"}, map[string]document.Shape{
		"code": document.Words(changeCodes...), "do": text, "note": text, "reached": figure, "minutes": figure, "value": figure})
	turn := of("value", "reached")
	turn.Fields["code"] = document.Words("mm2", "metres", "rpm")
	turn.Need = append(turn.Need, "code")
	after := document.Object([]string{"drive_minutes", "put_back_pct", "soc_pct", "restarts_warm", "restarts_cold",
		"days_startable", "hours_to_full", "say"},
		map[string]document.Shape{"drive_minutes": figure, "put_back_pct": figure, "soc_pct": figure,
			"restarts_warm": document.Flag(),
			"restarts_cold": document.Flag(), "days_startable": figure, "hours_to_full": figure.About("on a charger of a tenth of its Ah, at 20 °C"),
			"say": document.List(0, 10, said)})
	return document.Object([]string{"format", "allowed", "refusals", "losses", "lead_rise_c_per_10s", "curve", "changes",
		"turns", "tries", "connect",
		"disconnect", "not_offered", "cautions", "put_back_pct_15min"}, map[string]document.Shape{
		"format": document.Words(PlanFormat), "allowed": document.Flag().About("false with refusals: nothing else is worked out then"),
		"refusals": document.List(0, 20, said), "about": text.About("the flat vehicle, as it is taken to be"), "starts": document.Words(Yes, Marginal, No), "answer": text, "then": text, "why": text,
		"starter_volts": figure.About("absent where there is no starter on it"), "starter_amps": figure, "crank_rpm": figure, "rpm_needed": figure,
		"wake":    of("volts", "needs_volts", "amps").About("of a hybrid or electric vehicle: what its 12 V side holds, and has to"),
		"reached": reached.About("what a try reaches, nine times in ten between low and high"), "losses": document.List(0,
			10, loss),
		"lead_rise_c_per_10s": figure, "minutes_first": figure.About("0 if not needed, absent where no minutes do"), "minutes": minutes,
		"now": flow.About("the circuit in a try now"), "later": flow.About("and after minutes_first"),
		"curve":   document.List(0, 50, of("minute", "low", "best", "high")),
		"changes": document.List(0, 10, change), "turns": document.List(0, 10, turn), "tries": of("seconds",
			"rest_seconds"), "connect": document.List(0, 10, step),
		"disconnect": document.List(0, 10, step),
		"not_offered": document.List(0, 20, document.Object([]string{"habit", "why"},
			map[string]document.Shape{"habit": text, "why": text})),
		"cautions": document.List(0, 30, said), "put_back_pct_15min": figure.About("what a quarter of an hour of driving returns"), "after": after,
	})
}

// PlanSchema gives the JSON Schema of a plan.
func PlanSchema() map[string]any { return document.Schema(PlanFormat, PlanShape()) }

// Words of the answer.
const (
	answerYes     = "Yes."
	answerPerhaps = "Perhaps."
	answerNotYet  = "Not yet."
	answerNo      = "No."
	thenTurns     = "It turns at {reached}; it fires from {goal}."
	thenWakes     = "It holds {reached} while it wakes; it needs {goal}."
	thenMinutes   = "Charge it through the leads {minutes}, then it turns."
	thenTry       = "It is near: {reached}, and it needs {goal}. One try tells."
	thenSurer     = "One try tells; {minutes} on the leads first make it sure."
	thenChange    = "Not like this: {change}."
	thenNothing   = "Nothing at hand turns it: put it on a charger, or fit another battery."
	whyHelps      = "By then it has taken {took} and gives {amps} of its own: why a second try works where the first fails."
	whyTakes      = "By then it has taken {took} and no longer draws the source down: why a second try works where the first fails."
	whyLost       = "Most is lost {part}: {volts}."
)
