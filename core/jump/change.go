package jump

import (
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Remedy is one change that would do.
type Remedy struct {
	Code    string     `json:"code"`
	Do      words.Text `json:"do"`
	Note    words.Text `json:"note,omitzero"`
	Reached float64    `json:"reached"` // by a try then
	Minutes float64    `json:"minutes"` // on the leads first, 0 for at once
	Value   float64    `json:"value,omitempty"`
}

// Codes of changes, the least effort first.
const (
	changeMinutes = "minutes"
	changeStart   = "start_donor"
	changeRevs    = "raise_revs"
	changeClean   = "clean_clamps"
	changeBody    = "on_body"
	changeShorter = "shorter_leads"
	changeThicker = "thicker_leads"
	changeBoth    = "thicker_and_minutes"
	changePack    = "bigger_pack"
	changePair    = "pair"
	changeWarm    = "warm"
)

var changeCodes = []string{
	changeMinutes,
	changeStart,
	changeRevs,
	changeClean,
	changeBody,
	changeShorter,
	changeThicker,
	changeBoth,
	changePack,
	changePair,
	changeWarm,
}

// What is at hand to change to. Common practice, no source: leads as they are sold, a
// clamp brushed to bright metal, packs by their cranking amps, an engine warmed by a
// heater.
var (
	leadSizes = [...]float64{10, 16, 25, 35, 50, 70}
	packSizes = [...]float64{150, 250, 400, 600, 900, 1200}
)

const (
	cleanClamp  = 0.0003
	warmerBy    = 15.0 // °C, at most to a warm shop's
	warmShopC   = 20.0
	mostChanges = 4
	mostSizes   = 3 // of thicker leads that are looked at
)

// changes gives what would make it turn, the least effort first; none where it does.
func (s *scene) changes(r Request, p *Plan) []Remedy {
	out := []Remedy{}
	if p.Starts == Yes {
		return out
	}
	goal := s.goal()
	done := func() bool { return len(out) >= mostChanges }
	add := func(code string, reached, minutes, value float64, do, note string, with ...any) {
		if done() {
			return
		}
		with = append(with, "value", measure.Of(value, measure.None, measure.Exact), "minutes", measure.Minutes(minutes))
		c := Remedy{Code: code, Do: words.Say(do, with...), Reached: reached, Minutes: minutes, Value: value}
		if note != "" {
			c.Note = words.Say(note, with...)
		}
		out = append(out, c)
	}
	// at looks at a changed scene at once, and says whether it does.
	at := func(change func(*scene)) (float64, bool) {
		if done() {
			return 0, false
		}
		c := *s
		change(&c)
		k := c.circuit(0)
		v := c.reaches(c.tried(k.Fork(), false))
		s.near = c.near
		if v >= c.goal() { // looked at closely: a search may promise too much
			v = c.reaches(c.tried(k, true))
		}
		return v, v >= c.goal()
	}
	if m := p.MinutesFirst; m != nil && *m > 0 {
		add(changeMinutes, p.Later.Reached, *m, 0, doMinutes, noteNothing)
	}
	if r.Source.Kind == FromVehicle {
		running := r.Source
		running.Running, running.RPM = true, RaisedRPM
		raise := func(c *scene) {
			c.cranking, c.own = running.maker()
			c.charging = c.cranking
		}
		if !r.Source.Running {
			if v, ok := at(raise); ok {
				add(changeStart, v, 0, RaisedRPM, doStart, noteStart)
			}
		} else if r.Source.RPM < RaisedRPM {
			if v, ok := at(raise); ok {
				add(changeRevs, v, 0, RaisedRPM, doRaise, "")
			}
		}
	}
	if s.leads.ClampOhms > cleanClamp {
		if v, ok := at(func(c *scene) { c.leads.ClampOhms = cleanClamp }); ok {
			add(changeClean, v, 0, 0, doClean, noteClean)
		}
	}
	if !s.onBody && !r.MakerPost {
		if v, ok := at(func(c *scene) { c.onBody = true }); ok {
			add(changeBody, v, 0, 0, doBody, "")
		}
	}
	if half := s.leads.Metres / 2; half >= 1 {
		if v, ok := at(func(c *scene) { c.leads.Metres = half }); ok {
			add(changeShorter, v, 0, half, doShorter, "")
		}
	}
	s.thicker(at, add, done, goal)
	switch {
	case r.Source.Kind == FromPack:
		for _, cca := range packSizes {
			if s.giver == nil || cca <= s.giver.CCA || done() {
				continue
			}
			big := s.giver.Grown(cca / s.giver.CCA)
			if v, ok := at(func(c *scene) { c.giver = &big }); ok {
				add(changePack, v, 0, cca, doPack, "")
				break
			}
		}
	case s.giver != nil && (r.Source.Arrangement == "" || r.Source.Arrangement == "single"):
		pair := s.giver.Times(2)
		if v, ok := at(func(c *scene) { c.giver = &pair }); ok {
			add(changePair, v, 0, 0, doPair, "")
		}
	}
	if !s.electric && s.oilC < warmShopC {
		warm := min(warmShopC, s.oilC+warmerBy)
		if v, ok := at(func(c *scene) {
			c.oilC = warm
			c.needed = c.starter.Fires(warm)
		}); ok {
			add(changeWarm, v, 0, warm, doWarm, noteWarm, "temp", measure.Degrees(warm))
		}
	}
	return out
}

// turns gives what a try now would reach with one thing turned by a step for the better:
// thicker, shorter, faster, or a step slower where it is fastest.
func (s *scene) turns(r Request) []Turn {
	out := []Turn{}
	look := func(code string, value float64, change func(*scene)) {
		c := *s
		change(&c)
		out = append(out, Turn{code, value, c.reaches(c.tried(c.circuit(0), false))})
	}
	if mm2, ok := leadSteps.more(s.leads.MM2); ok {
		look(leadSteps.Code, mm2, func(c *scene) { c.leads.MM2 = mm2 })
	}
	if metres, ok := metreSteps.less(s.leads.Metres); ok {
		look(metreSteps.Code, metres, func(c *scene) { c.leads.Metres = metres })
	}
	if r.Source.Kind == FromVehicle && r.Source.Running {
		other := r.Source
		rpm, ok := revSteps.more(other.RPM)
		if !ok {
			rpm, ok = revSteps.less(other.RPM)
		}
		if other.RPM = rpm; ok {
			look(revSteps.Code, rpm, func(c *scene) { c.cranking, c.own = other.maker() })
		}
	}
	return out
}

// thicker looks for the thinnest leads that do at once, else with some minutes.
func (s *scene) thicker(
	at func(func(*scene)) (float64, bool),
	add func(string, float64, float64, float64, string, string, ...any),
	done func() bool,
	goal float64,
) {
	var thick []float64
	for _, mm2 := range leadSizes {
		if (mm2 > s.leads.MM2 || s.leads.Metal != Copper) && len(thick) < mostSizes {
			thick = append(thick, mm2)
		}
	}
	for _, mm2 := range thick {
		if v, ok := at(func(c *scene) { c.leads.MM2, c.leads.Metal = mm2, Copper }); ok {
			add(changeThicker, v, 0, mm2, doThicker, "")
			return
		}
	}
	for _, mm2 := range thick {
		if done() {
			return
		}
		c := *s
		c.leads.MM2, c.leads.Metal = mm2, Copper
		var on []*Circuit
		curve := c.over(0, waits[:], func(k *Circuit) { on = append(on, k.Fork()) })
		for j, v := range curve {
			if v < goal {
				continue
			}
			if v = c.reaches(c.tried(on[j], true)); v >= goal {
				add(changeBoth, v, marks[waits[j]], mm2, doBoth, "")
				return
			}
		}
	}
}

// waits are the marks that thicker leads are looked at after: four minutes and ten.
var waits = [...]int{3, 6}

// Words of changes.
const (
	doMinutes   = "{minutes} on the leads"
	noteNothing = "nothing to fetch"
	doStart     = "start the donor, {value} turns a minute"
	noteStart   = "its alternator gives too"
	doRaise     = "raise the donor to {value} turns a minute"
	doClean     = "brush clamps and posts bright"
	noteClean   = "a clamp that looks fine may not bite"
	doBody      = "the last clamp on the engine’s bare metal"
	doShorter   = "leads of {value} m"
	doThicker   = "leads of {value} mm² copper"
	doBoth      = "leads of {value} mm² and {minutes}"
	doPack      = "a pack of {value} cold cranking amps"
	doPair      = "a donor with two such batteries"
	doWarm      = "warm the engine to {temp}"
	noteWarm    = "a heater, or a warm shop"
)
