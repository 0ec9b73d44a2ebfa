package jump

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/energy"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// After is what comes after it has started.
type After struct {
	DriveMinutes float64          `json:"drive_minutes"`
	PutBackPct   float64          `json:"put_back_pct"` // what the drive returns
	SOCPct       float64          `json:"soc_pct"`      // then
	Warm         bool             `json:"restarts_warm"`
	Cold         bool             `json:"restarts_cold"`  // the next morning, as cold as now
	Days         float64          `json:"days_startable"` // for how long it stays so
	FullHours    float64          `json:"hours_to_full"`  // on a charger
	Say          []charge.Warning `json:"say"`
}

// quarter is the drive that everybody speaks of, minutes.
const quarter = 15.0

// warmOilC is an engine's oil after a drive, °C. House judgement.
const warmOilC = 50.0

// fillC and fillPart are a shop's temperature, °C, and kind amps for each ampere-hour.
const fillC, fillPart = 20.0, 0.10

// startMargin is by how much of its charge, percent, a battery is to be over what just
// turns the engine for it to be called startable. House judgement.
const startMargin = 3.0

// after works out what a drive puts back, and whether it restarts.
func (r *Request) after(s *scene, p *Plan) {
	class := r.Flat.Vehicle.Class
	usual := energy.UsualOf(class)
	k := r.Flat.Vehicle.SystemVolts / 12
	spare := r.Flat.AlternatorAmps - usual.LoadAmps[energy.SomeOn]/k
	alternator := Maker{
		Volts: energy.Regulated(energy.UsualVolts, s.flatC, r.Flat.Vehicle.SystemVolts),
		Amps:  spare,
		Ohms:  regulated / spare,
	}
	driven := func(minutes float64) float64 {
		if spare <= 0 {
			return s.soc
		}
		fed := s.fed(s.flatC, alternator, s.soc)
		fed.run(60*minutes, onCurve)
		return fed.Flat.SOC()
	}
	soc := driven(r.DriveMinutes)
	after := soc
	if r.DriveMinutes != quarter {
		after = driven(quarter)
	}
	p.PutBack = after - s.soc
	a := &After{DriveMinutes: r.DriveMinutes, PutBackPct: soc - s.soc, SOCPct: soc}
	least := s.least()
	a.Cold = soc >= least+startMargin
	a.Warm = a.Cold
	if !s.electric {
		warm := *s
		warm.oilC = max(s.oilC, warmOilC)
		warm.needed = s.starter.Fires(warm.oilC)
		a.Warm = warm.alone(soc) >= warm.needed
	}
	if a.Cold {
		a.Days = battery.DaysUnder(s.flat.Chemistry, s.flat.Ah20h*s.flat.Groups[0].Capacity, soc, least, r.DrainMA, s.flatC)
	}
	a.FullHours = s.fill(soc)
	a.say(r, s)
	p.After = a
}

// fed is the flat battery by itself on an alternator or a charger, at a temperature.
func (s *scene) fed(tempC float64, m Maker, soc float64) *Circuit {
	return &Circuit{Maker: m, Leads: shortOhms, Flat: s.flat.Join(s.flat.Rested(soc, tempC), tempC)}
}

// shortOhms is what stands between a battery and what feeds it.
const shortOhms = 0.002

// fill gives the hours on a charger of a tenth of its ampere-hours in a shop, to where the
// last of it takes days; at most mostFill.
func (s *scene) fill(soc float64) float64 {
	volts := charge.LimitsOf(s.flat.Chemistry).AbsorptionUsual * float64(s.flat.Cells()) / 6
	amps := max(1, fillPart*s.flat.Ah20h)
	k := s.fed(fillC, Maker{Volts: volts, Amps: amps, Ohms: regulated / amps}, soc)
	at, step := 0.0, 10.0
	for at < mostFill*3600 && k.Flat.SOC() < charge.FullPct {
		k.Step(step)
		at += step
		step = min(fillStep, 4*step)
	}
	return at / 3600
}

// The longest step while a battery fills, seconds, and how far ahead it is looked, hours.
const fillStep, mostFill = 3600.0, 72.0

// alone is what a try reaches with nothing joined, the battery rested at a charge.
func (s *scene) alone(soc float64) float64 {
	k := &Circuit{Leads: math.Inf(1), Flat: s.flat.Join(s.flat.Rested(soc, s.flatC), s.flatC), FlatLoad: s.load,
		Path: s.live + s.earthed + s.toPost, Starter: s.starter, OilC: s.oilC}
	return s.reaches(k.crankQuick(&s.byItself))
}

// least is the charge, percent, at which it starts by itself as cold as it is; over 100
// where it never does.
func (s *scene) least() float64 {
	goal := s.goal()
	if s.alone(100) < goal {
		return math.Inf(1)
	}
	lo, hi := 0.0, 100.0
	for hi-lo > 1 {
		if mid := (lo + hi) / 2; s.alone(mid) >= goal {
			hi = mid
		} else {
			lo = mid
		}
	}
	return hi
}

// say says what to do once it runs.
func (a *After) say(r *Request, s *scene) {
	add := func(code, text string, with ...any) {
		a.Say = append(a.Say, charge.Warning{Code: code, Text: words.Say(text, with...)})
	}
	drive, back := measure.Minutes(a.DriveMinutes), measure.Of(a.PutBackPct, measure.Percent, 0)
	if s.electric {
		add("awake", sayAwake)
		add("put_back", sayPutBackPark, "back", back, "drive", drive)
	} else {
		add("charging_volts", sayVolts)
		add("put_back", sayPutBack, "back", back, "drive", drive, "soc", measure.Percents(a.SOCPct))
	}
	days := measure.Minutes(60 * 24 * a.Days)
	switch {
	case s.electric && !a.Cold:
		add("restart", sayNoWake)
	case !a.Warm:
		add("restart", sayNoRestart)
	case !a.Cold:
		add("restart", sayNotCold, "temp", measure.Degrees(s.flatC))
	case a.Days < 14:
		add("restart", sayDays, "days", days)
	default:
		add("restart", sayRestarts)
	}
	add("prove", sayProve)
	add("charger", sayCharger, "hours", measure.Of(a.FullHours, measure.Hour, 0))
	add("why_flat", sayWhy)
}

// Words of what comes after.
const (
	sayVolts       = "At once, engine running: volts at its posts. 13.5 or more and it is being fed."
	sayAwake       = "12.8 rising to 13.5 V at its posts: the converter is awake and feeds it. Leads off then."
	sayPutBack     = "{drive} of driving put back about {back}: it is at {soc} then."
	sayPutBackPark = "{drive} awake put back about {back}; a few hundred metres put back nothing."
	sayNoRestart   = "It will not restart by itself, not even warm: do not switch it off on the way."
	sayNoWake      = "Switched off now it would not wake by itself again: leave it switched on."
	sayNotCold     = "Warm it restarts; at {temp}, tomorrow morning, it does not."
	sayDays        = "It restarts, for about {days}."
	sayRestarts    = "It restarts, also after days."
	sayProve       = "Prove it where help is near: stop it, and start it again."
	sayCharger     = "Only a charger fills it: about {hours}."
	sayWhy         = "Why was it flat? That stays open until it is found."
)
