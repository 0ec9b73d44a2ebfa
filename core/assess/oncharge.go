package assess

import (
	"cmp"
	"slices"
	"time"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/charge"
	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/core/words"
)

// OnCharge is a battery on a charger: what its charge will do, as its looks have it, and
// when it next needs hands.
type OnCharge struct {
	Charger string      `json:"charger" doc:"as the shop calls it"`
	Kind    charge.Kind `json:"kind"`
	Amps    float64     `json:"amps"`
	Since   time.Time   `json:"since"`

	// Before is the forecast before the last look, Now that after it.
	Before  *charge.Forecast   `json:"-"`
	Now     charge.Forecast    `json:"-"`
	Follows charge.Follows     `json:"follows"`
	Shares  map[string]float64 `json:"shares" doc:"how likely each way things may be is"`

	Ready *time.Time `json:"ready_at,omitempty" doc:"when it can be tested"`
	Full  *time.Time `json:"full_at,omitempty"`
	Check time.Time  `json:"check_at" doc:"when it is to be looked at next"`
	Thumb float64    `json:"-"` // hours by the rule of thumb
}

// Hanging is the charger a battery hangs on, and when it is to be looked at.
type Hanging struct {
	Charger string    // as the shop calls it
	Since   time.Time // zero where nobody noted it
	Check   time.Time // half an hour after the last look
}

func hanging(b *bench.Bench) *Hanging {
	if b.Hung == nil {
		return nil
	}
	h := Hanging{Charger: b.Hung.Charger, Since: b.Hung.At}
	if !h.Since.IsZero() {
		h.Check = lastLook(b.Hung).Add(span(charge.CheckEvery))
	}
	return &h
}

// lastLook is when somebody last looked at it, or hung it on.
func lastLook(h *bench.Hung) time.Time {
	last := h.At
	for _, l := range h.Looks {
		if l.At.After(last) {
			last = l.At
		}
	}
	return last
}

func (h *Hanging) says() words.Text {
	if h.Charger == "" {
		return words.Say(waitOnCharge)
	}
	return words.Say(waitCharging, "charger", h.Charger)
}

// setup gives the battery and the charger of a bench as they were when it was hung on;
// false where it hangs on none, nobody knows when, or nothing can be made of its label.
// before is the bench as it was then.
func setup(b, before *bench.Bench) (charge.Setup, charge.Doubt, bool) {
	h := b.Hung
	if h == nil || h.At.IsZero() {
		return charge.Setup{}, charge.Doubt{}, false
	}
	made, ok := b.AsNew()
	if !ok {
		return charge.Setup{}, charge.Doubt{}, false
	}
	doubt := charge.Usual()
	health := usualHealth
	if part, ok := before.Part(); ok {
		health = part.Best
		doubt.Capacity += (part.High - part.Low) / 100 / 6
	} else {
		doubt.Capacity += unknownHealth
	}
	health = min(110, max(5, health))
	made = made.WornTo(health).WithCapacity(charge.CapacityOf(health))
	soc := unknownSOC
	if band := before.SOC(); band != nil {
		soc = *band
	}
	doubt.SOC = max(doubt.SOC, (soc.High-soc.Low)/bandSpreads)
	temp, _ := b.Case.TempC(nil)
	room := temp
	if c := b.Case.Conditions.AmbientC; c != nil {
		room = *c
	}
	c := charge.Charger{Kind: h.Kind}
	switch h.Kind {
	case charge.Taper:
		c.AmpsStart, c.VoltsOpen = h.Amps, h.Volts
	case charge.Manual, charge.Trickle:
		c.Amps, c.VoltsOpen = h.Amps, h.Volts
	default:
		c.AmpsMax, c.Absorption = h.Amps, h.Volts
	}
	return charge.Setup{Battery: made, State: made.Rested(soc.Best, temp), Charger: c,
		Room: battery.Ambient{Start: room}, Ready: b.House.LoadTestMinSOC}, doubt, true
}

// What is taken of a battery nobody has tested or read: its strength and how little that
// says of its capacity, its charge, and how many standard deviations a band is wide.
// House judgement.
const (
	usualHealth   = 90.0
	unknownHealth = 0.08
	bandSpreads   = 2 * 1.645
)

var unknownSOC = battery.Band{Low: 5, Best: 35, High: 75}

// OnCharger says what a battery on a charger is doing; false where it hangs on
// none, or nothing can be foretold of it.
func OnCharger(c reading.Case, labels bench.Labels) (OnCharge, bool, error) {
	b := station.Put(c, labels)
	if b.Hung == nil {
		return OnCharge{}, false, nil
	}
	then := c
	then.Readings = c.Readings[:b.Hung.Reading]
	if !b.Hung.At.IsZero() {
		then.AsOf = &b.Hung.At // what was read of it was fresh then, however long it hangs there
	}
	s, doubt, ok := setup(b, station.Put(then, labels))
	if !ok {
		return OnCharge{}, false, nil
	}
	h := b.Hung
	out := OnCharge{Charger: h.Charger, Kind: h.Kind, Amps: h.Amps, Since: h.At}
	var checks []charge.Check
	for _, l := range h.Looks {
		if l.At.IsZero() || l.At.Before(h.At) {
			continue
		}
		checks = append(checks, charge.Check{Minutes: l.At.Sub(h.At).Minutes(), Volts: l.Volts, Amps: l.Amps, TempC: l.CaseC, Warmth: l.Warmth})
	}
	slices.SortStableFunc(checks, func(a, b charge.Check) int { return cmp.Compare(a.Minutes, b.Minutes) })
	checks = checks[max(0, len(checks)-mostLooks):]
	e, err := s.Estimate(doubt, checks)
	if err != nil {
		return OnCharge{}, false, err
	}
	if out.Now, err = e.Forecast(); err != nil {
		return OnCharge{}, false, err
	}
	out.Shares, out.Thumb = e.Shares, charge.RuleOfThumb(s.Battery.RCMin, h.Amps)
	if n := len(checks); n > 0 {
		before, err := s.Estimate(doubt, checks[:n-1])
		if err != nil {
			return OnCharge{}, false, err
		}
		was, err := before.Forecast()
		if err != nil {
			return OnCharge{}, false, err
		}
		out.Before = &was
		out.Follows = e.Follow(out.Now, checks[n-1])
	} else {
		out.Follows = charge.Follows{Code: charge.Sound, Sign: "ok", Text: words.Say(saysHung, "amps", measure.Of(h.Amps, measure.Amp, measure.Exact))}
	}
	at := func(m *charge.Hours) *time.Time {
		if m == nil {
			return nil
		}
		t := h.At.Add(span(60 * m.Best))
		return &t
	}
	out.Ready, out.Full = at(out.Now.Ready), at(out.Now.Full)
	out.Check = hanging(b).Check
	return out, true, nil
}

// mostLooks is how many looks, the last ones, a forecast is made from: a day of them.
const mostLooks = 48

func span(minutes float64) time.Duration { return time.Duration(minutes * float64(time.Minute)) }

const saysHung = "On the charger at {amps}; nobody has looked yet."
