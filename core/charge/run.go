package charge

import (
	"errors"
	"math"

	"grapnel/core/battery"
)

// FullPct is the charge, percent, at which a battery counts as full: at 20 °C and its
// build's volts the current has then fallen to about 1 % of the ampere-hours. The rest
// comes in days, on float. TestFullIsTheTail.
const FullPct = 96.0

// NearlyPct is the least charge at which a small current is the end of a charge and
// not a refusal.
const NearlyPct = 85.0

// How far ahead a charge is followed, hours; how much longer than to full it is, and at
// least, seconds.
const (
	mostHours = 240.0
	longAfter = 1.12
	shortest  = 3600.0
)

// never is a moment that does not come.
var never = math.Inf(1)

// Setup is a battery as it is hung on a charger.
type Setup struct {
	Battery battery.Battery
	State   battery.State
	Charger Charger
	Room    battery.Ambient
	Ready   float64 // the charge, percent, from which it can be tested
	Shows   float64 // volts it shows before it is hung on, 0 for those of its state

	// What looks have shown of the charger's own mind, seconds since it was hung on:
	// until when it has held its absorption volts, and from when on it floats; 0 for
	// nobody knows, and then the current decides.
	Held, Floats float64
}

// course is one charge as the model runs it; moments in seconds since it was hung on,
// or never.
type course struct {
	accepts float64 // most of the current goes into charge
	ready   float64
	full    float64
	says    float64 // the charger calls it full
	saysSOC float64 // what its charge is then
	hot     float64 // too hot to go on: the course ends there
	peakC   float64
	ah, wh  float64 // through the posts until full, or the end
	end     battery.Sample
}

// Names of what is watched for.
const (
	evAccepts = "accepts"
	evReady   = "ready"
	evFull    = "full"
	evHot     = "hot"
	evTail    = "tail"
	evSays    = "says"
	evEnd     = "end"
)

// run carries a battery through its charge and shows every step. It goes on for a
// little after it is full, at most ten days.
func (s Setup) run(tol float64, see func(battery.Sample)) (course, error) {
	b := s.Battery
	out := course{accepts: never, ready: never, full: never, says: never, hot: never, peakC: s.State.TempC}
	state, gone, before := s.State, 0.0, s.State
	hard := 0.0
	for i := range b.Kinds {
		hard = max(hard, s.State.Cells[i].Sulphate)
	}
	if hard < hardFrom {
		out.accepts = 0
	}
	enough := s.Charger.nominal(b) * acceptsPart
	stages := s.Charger.stages(b)
	for i := 0; i < len(stages); i++ {
		g := stages[i]
		at := func(x battery.Sample) float64 { return gone + x.Seconds }
		events := []battery.Event{
			{Name: evHot, When: func(x battery.Sample) float64 { return HotC - x.State.TempC }},
			{Name: evEnd, When: func(x battery.Sample) float64 {
				if math.IsInf(out.full, 1) {
					return 1
				}
				return max(out.full*longAfter, shortest) - at(x)
			}},
		}
		add := func(done float64, e battery.Event) {
			if math.IsInf(done, 1) {
				e.GoOn = true
				events = append(events, e)
			}
		}
		add(out.accepts, battery.Event{Name: evAccepts, When: func(x battery.Sample) float64 {
			return min(enough-(x.Amps-x.GasAmps), x.State.Cells[0].Sulphate-hardGone)
		}, Arm: func(x battery.Sample) float64 { return settleSeconds - at(x) }})
		add(out.ready, battery.Event{Name: evReady, When: func(x battery.Sample) float64 { return s.Ready - x.SOC }})
		add(out.full, battery.Event{Name: evFull, When: func(x battery.Sample) float64 { return FullPct - x.SOC }})
		if g.tail > 0 {
			add(out.says, battery.Event{Name: evSays, When: func(x battery.Sample) float64 { return x.Amps - g.tail },
				Arm: func(x battery.Sample) float64 { return settleSeconds - at(x) }})
			events = append(events, s.leaves(g, gone))
		}
		last, err := b.Run(state, battery.Duty{
			Source: g.source, Ambient: battery.Ambient{Start: s.Room.Start + s.Room.PerHour*gone/3600, PerHour: s.Room.PerHour},
			Seconds: max(0, mostHours*3600-gone), Tolerance: tol, Events: events,
			Visit: func(x battery.Sample) error {
				out.peakC = max(out.peakC, x.State.TempC)
				switch x.Event {
				case evAccepts:
					out.accepts = at(x)
				case evReady:
					out.ready = at(x)
				case evFull:
					out.full, out.ah, out.wh = at(x), x.State.AhIn-before.AhIn, x.State.WhIn-before.WhIn
				case evSays:
					out.says, out.saysSOC = at(x), x.SOC
				case evHot:
					out.hot = at(x)
				case evTail:
					if math.IsInf(out.full, 1) && x.SOC >= NearlyPct {
						out.full, out.ah, out.wh = at(x), x.State.AhIn-before.AhIn, x.State.WhIn-before.WhIn
					}
				}
				if see != nil {
					x.Seconds = at(x)
					see(x)
				}
				return nil
			}})
		gone += last.Seconds
		last.Seconds = gone
		out.end, state = last, last.State
		if boils(err) {
			out.hot = min(out.hot, gone)
			break
		}
		if err != nil {
			return out, err
		}
		if last.Event != evTail {
			break
		}
	}
	if math.IsInf(out.full, 1) {
		out.ah, out.wh = out.end.State.AhIn-before.AhIn, out.end.State.WhIn-before.WhIn
	}
	return out, nil
}

// leaves is the moment at which a charger goes from absorption to float, gone seconds
// since the battery was hung on: when its current has become small at the end of a
// charge, or as looks have shown it.
func (s Setup) leaves(g stage, gone float64) battery.Event {
	if s.Floats > 0 {
		return battery.Event{Name: evTail, When: func(x battery.Sample) float64 { return s.Floats - gone - x.Seconds }}
	}
	return battery.Event{Name: evTail, When: func(x battery.Sample) float64 { return x.Amps - g.tail },
		Arm: func(x battery.Sample) float64 {
			x.Seconds += gone
			return max(s.Held-x.Seconds, Begun(x, g.tail))
		}}
}

// Begun falls to zero once a current under tail amps is the end of a charge and not its
// beginning: a battery flat for long takes next to nothing for hours. x.Seconds is since
// the charge began. It arms an event that waits for such a current.
func Begun(x battery.Sample, tail float64) float64 {
	return min(max(settleSeconds-x.Seconds, tail-x.Amps), NearlyPct-x.SOC)
}

// Of hard sulphate, 0 to 1: from where a battery refuses, and where it no longer does,
// since it takes half of what it would without.
const (
	hardFrom = 0.1
	hardGone = 0.077
)

// acceptsPart is the part of the charger's current that has to go into charge for a
// refusal to be over.
const acceptsPart = 0.5

// settleSeconds is how long the plates' own surface takes current, whatever the charge.
const settleSeconds = 180.0

func boils(err error) bool { return errors.Is(err, battery.ErrBoils) }
