package assess

import (
	"slices"
	"time"

	"grapnel/core/bench"
	"grapnel/core/fit"
	"grapnel/core/guide"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/station"
)

// Scene gives what a guide is made for, of a case as it stands. The site is what somebody has
// said of the vehicle; whether it is charged is the bench's to say until a guide is begun.
func Scene(c reading.Case, labels bench.Labels, site guide.Site, begun bool, now time.Time) guide.Scene {
	b := station.Put(c, labels)
	s := guide.Scene{Vehicle: c.Vehicle, Battery: c.Battery, Rules: c.Rules.For(c.Vehicle.Class), Year: now.Year(), Site: site}
	if !begun {
		s.Site.Full = b.Full != nil
	}
	if b.Replaced == "" {
		for _, h := range b.Hazards {
			s.Hazards = append(s.Hazards, guide.Hazard{Code: h.Code, Name: h.Name})
		}
	}
	return s
}

// Warrants reports whether an assessment is a reason to replace the battery: without one
// somebody has to give a reason of their own.
func Warrants(a Assessment) bool {
	return a.Verdict == Replace || a.Verdict == Weak || slices.ContainsFunc(a.Next,
		func(s Step) bool { return s.Test == "replace" })
}

// NeedsOf gives what the vehicle of a case needs, as far as its present battery tells.
func NeedsOf(c reading.Case) fit.Needs {
	n := fit.NeedsOf(c.Battery.Rating.Label(), c.Battery.Chemistry, c.Battery.Terminals)
	for _, r := range c.Readings {
		if v, ok := r.Number("volts"); ok && r.Kind == station.Charging && v > n.ChargingV {
			n.ChargingV = v
		}
	}
	return n
}

// ShelfTest gives what the readings of a battery on the shelf say of it, on the day it was in
// the shop's zone, nil where there are none.
func ShelfTest(c reading.Case, labels bench.Labels, shop *time.Location) *fit.Tested {
	if len(c.Readings) == 0 {
		return nil
	}
	b := station.Put(c, labels)
	out := fit.Tested{Verdict: string(Concluded(b).Verdict)}
	if k := b.Charge; k != nil && k.Known() {
		out.RestVolts = k.Volts
		if !k.At.IsZero() {
			out.On = k.At.In(shop).Format(time.DateOnly)
		}
		if t, assumed := c.TempC(nil); !assumed {
			out.BatteryC = &t
		}
	}
	for _, r := range c.Readings {
		if v, ok := r.Number("cca"); ok && r.Kind == station.Conductance {
			out.CCA, out.Standard = v, rating.Standard(r.Word("standard"))
		}
	}
	return &out
}
