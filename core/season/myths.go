package season

import (
	"cmp"
	"math"
	"slices"
	"time"

	"grapnel/core/battery"
	"grapnel/core/energy"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Myth is something often said that is not so, with what is.
type Myth struct {
	Code  string     `json:"code"  enum:"concrete,volt_a_month,now_and_then,cold_drains"`
	Claim string     `json:"claim"`
	Is    words.Text `json:"is"`
}

// Folk is the rule that over twelve volts a battery is safe down to −60 °C and under it
// freezes at 0 °C, put beside what its acid does.
type Folk struct {
	TurnsOn string     `json:"turns_on,omitempty"   doc:"the day it falls under 12 V; absent when never"`
	Freezes string     `json:"freezes_on,omitempty" doc:"the day its acid really freezes; absent when never"`
	OutC    float64    `json:"out_c,omitempty"      doc:"by how much the rule is wrong on that night, °C"`
	Late    int        `json:"late_days,omitempty"  doc:"days by which it turns too late; under 0 too early"`
	Says    words.Text `json:"says"`
}

const (
	folkVolts = 12.0
	folkSafe  = -60.0

	folkWrong = "“Over 12 V it is safe to {safe}”: wrong by {out} on {on}, and still so at {volts}."
	folkEarly = "“Under 12 V it freezes at 0 °C”: from {on} the rule says ice; its acid stands {freezes} then."
	folkIdle  = "“Over 12 V it is safe to {safe}”: wrong by {out} here; at its lowest it freezes at {freezes}."

	mythConcrete = "“Concrete drains it”"
	mythVolt     = "“It loses a volt a month”"
	mythNow      = "“Start it now and then”"
	mythCold     = "“The cold drains it”"

	isConcrete = "The floor takes nothing through a plastic case. Damp dirt across the lid does: wipe it."
	isVolt     = "By itself it loses {volts} a month here; a whole volt is more than from full to flat."
	isNow      = "Ten minutes at idle give back {ah}, the start taken off: {days} of what it loses here, and water in the oil."
	isNowLoss  = "Ten minutes at idle do not give back what the start took, {ah}, and leave water in the oil."
	isCold     = "It loses {cold} a month at {temp} and {warm} at 25 °C. Cold hurts by ice, and by what the engine asks."
)

// folk holds the folk rule against what a way does.
func (p *planner) folk(w *WayOfKeeping) Folk {
	f := Folk{Freezes: w.FreezesOn}
	turned := slices.IndexFunc(w.Days, func(d Day) bool { return p.restVolts(d.SOC, 25) < folkVolts*p.s.cells/6 })
	if turned >= 0 {
		f.TurnsOn = w.Days[turned].Date
	}
	safe := measure.Degrees(folkSafe)
	if f.Freezes != "" {
		at := slices.IndexFunc(w.Days, func(d Day) bool { return d.Date == f.Freezes })
		if turned < 0 || turned > at {
			f.OutC = w.Days[at].Freezes - folkSafe
			if turned >= 0 {
				f.Late = turned - at
			}
			f.Says = words.Say(folkWrong, "safe", safe, "out", measure.Rise(f.OutC), "on", spoken(f.Freezes),
				"volts", measure.Volts(w.volts, 2))
			return f
		}
		f.Late = turned - at
	}
	if turned >= 0 {
		f.OutC = math.Abs(w.Days[turned].Freezes)
		f.Says = words.Say(folkEarly, "on", spoken(f.TurnsOn), "freezes", measure.Degrees(w.Days[turned].Freezes))
		return f
	}
	warmest := slices.MaxFunc(w.Days, func(a, b Day) int { return cmp.Compare(a.Freezes, b.Freezes) })
	f.OutC = warmest.Freezes - folkSafe
	f.Says = words.Say(folkIdle, "safe", safe, "out", measure.Rise(f.OutC), "freezes", measure.Degrees(warmest.Freezes))
	return f
}

// myths answers what is often said, with this battery's figures.
func (p *planner) myths() []Myth {
	coldest, _ := p.s.span()
	mean := 0.0
	for _, d := range p.s.days {
		mean += d.mean / float64(len(p.s.days))
	}
	month := battery.SelfDischarge(p.s.chem, 90, mean) * math.Exp(p.at[ofSelf])
	volts := p.restVolts(100, 25) - p.restVolts(100-month, 25)
	out := []Myth{
		{"concrete", mythConcrete, words.Say(isConcrete)},
		{"volt_a_month", mythVolt, words.Say(isVolt, "volts", measure.Volts(volts, 2))},
		{
			"cold_drains",
			mythCold,
			words.Say(
				isCold,
				"cold",
				measure.Of(battery.SelfDischarge(p.s.chem, 100, coldest), measure.Percent, 1),
				"temp",
				measure.Degrees(coldest),
				"warm",
				measure.Of(battery.SelfDischarge(p.s.chem, 100, 25), measure.Percent, 1),
			),
		},
	}
	if ah, ok := p.idling(coldest); ok {
		self, drain := p.s.loses(80, mean, true, p.at)
		perDay := (self + drain) / 100 * p.s.ah
		is := words.Say(isNow, "ah", measure.Of(ah, measure.AmpHour, 2), "days", measure.Minutes(ah/perDay*24*60))
		if ah <= 0 {
			is = words.Say(isNowLoss, "ah", measure.Of(p.crank(coldest), measure.AmpHour, 2))
		}
		out = append(out, Myth{"now_and_then", mythNow, is})
	}
	return out
}

// advice is what else a vehicle of this kind wants while it stands. Common practice, no
// source.
func (p *planner) advice() []words.Text {
	out := []words.Text{}
	if p.r.Vehicle.Electric() {
		out = append(out, words.Say(adviceSleep), words.Say(adviceTraction))
	}
	if p.forgets() {
		out = append(out, words.Say(adviceLocked))
	}
	if p.r.Vehicle.Class != "boat" {
		out = append(out, words.Say(adviceWheels))
	}
	return append(out, words.Say(adviceDamp))
}

const (
	adviceSleep    = "Lock it and wait two minutes for its converter to sleep before anything is clipped on; only the 12 V battery is touched."
	adviceTraction = "Its traction battery rests best between 40 and 80 %; what its maker says goes first."
	adviceLocked   = "Know where the mechanical key goes before it stands: a dead 12 V locks it."
	adviceWheels   = "Wheels half a turn at every look, brake off and chocked where it is level."
	adviceDamp     = "Damp, mice and rusting discs belong on the same look."
)

// idleMinutes is how long an engine is let run that is started now and then.
const idleMinutes = 10.0

// crankSeconds is how long a cold engine is cranked until it runs.
const crankSeconds = 4.0

// crank is what a start takes, Ah.
func (p *planner) crank(tempC float64) float64 { return p.needs(tempC) * crankSeconds / 3600 }

// idling gives the ampere-hours that ten minutes at idle leave, the start taken off; false
// where there is no engine.
func (p *planner) idling(tempC float64) (float64, bool) {
	if p.r.Vehicle.Electric() || p.needs == nil {
		return 0, false
	}
	u := energy.UsualOf(p.r.Vehicle.Class)
	nominal := p.r.systemVolts()
	amps := u.IdleAmps - u.LoadAmps[energy.LittleOn]
	if amps <= 0 {
		return -p.crank(tempC), true
	}
	x, err := p.b.Run(p.b.Rested(80, tempC), battery.Duty{
		Source:  battery.Source{Amps: amps * 12 / nominal, Volts: energy.Regulated(energy.UsualVolts, tempC, nominal)},
		Ambient: battery.Ambient{Start: tempC}, Seconds: idleMinutes * 60, Tolerance: 5e-3})
	return x.State.AhIn - p.crank(tempC), err == nil
}

// today gives the place of a day in the season; the first or last where it lies outside.
func (s *standing) day(on string) int {
	i := int(date(on).Sub(s.days[0].at) / (24 * time.Hour))
	return max(0, min(len(s.days)-1, i))
}
