package assess

import (
	"cmp"
	"math"
	"reflect"
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
	Looks []Looked   `json:"looks" doc:"what it was seen at on this charger, the oldest first"`
	// By its looks: what it held when it was hung on, how much of its ampere-hours it
	// has left, and how readily it takes current, beside others of its build.
	Found *Found `json:"found,omitempty" doc:"what its looks say of it; absent before the first, and of one that does not follow"`
	// Thumb is the rule of thumb beside the forecast, and why they do not agree.
	Thumb words.Text `json:"rule_of_thumb,omitzero" doc:"what the rule of thumb says, and why the forecast does not agree; left out of what has to come off"`

	checks []charge.Check // what Now is made from
	setup  charge.Setup   // and of what
}

// Looked is what somebody saw of a battery on its charger.
type Looked struct {
	At     time.Time `json:"at"`
	Volts  *float64  `json:"volts,omitempty"`
	Amps   *float64  `json:"amps,omitempty"`
	Warmth string    `json:"warmth,omitempty"`
}

// Found is what looks say of a battery on its charger.
type Found struct {
	SOC        float64 `json:"soc_pct" doc:"when it was hung on"`
	Capacity   float64 `json:"capacity_pct" doc:"of its ampere-hours"`
	Acceptance float64 `json:"acceptance_pct" doc:"of what its build usually takes"`

	Text words.Text `json:"text" doc:"the same in a sentence"`
}

// found reads the battery of a fit.
func found(s charge.Setup) *Found {
	f := Found{
		SOC:        math.Round(s.Battery.SOC(s.State)),
		Capacity:   math.Round(100 * s.Battery.Groups[0].Capacity),
		Acceptance: math.Round(100 * s.Battery.Acceptance),
	}
	takes := words.Say(takesAsUsual)
	if f.Acceptance < leastUsual || f.Acceptance > mostUsual {
		takes = words.Say(takesOtherwise, "part", measure.Percents(f.Acceptance))
	}
	f.Text = words.Say(saysFound, "soc", measure.Percents(f.SOC), "capacity", measure.Percents(f.Capacity), "takes", takes)
	return &f
}

// How much current a battery takes, in percent of what its build usually does, that is
// nothing to speak of. House judgement.
const leastUsual, mostUsual = 85.0, 118.0

// Hanging is the charger a battery hangs on, and when it is to be looked at.
type Hanging struct {
	Charger string // as the shop calls it
	Kind    charge.Kind
	Since   time.Time // zero where nobody noted it
	Last    time.Time // when somebody last looked at it, or hung it on
	Check   time.Time // half an hour after that
	Volts   *float64  // as last read on this charger
}

func hanging(b *bench.Bench) *Hanging {
	if b.Hung == nil {
		return nil
	}
	h := Hanging{Charger: b.Hung.Charger, Kind: b.Hung.Kind, Since: b.Hung.At}
	if !h.Since.IsZero() {
		h.Last = lastLook(b.Hung)
		for _, l := range b.Hung.Looks {
			if l.Volts != nil {
				h.Volts = l.Volts
			}
		}
		h.Check = h.Last.Add(span(h.every()))
	}
	return &h
}

// keeps reports whether it hangs on what is meant to be left on.
func (h *Hanging) keeps() bool { return h.Kind == charge.Maintainer }

// every is how often it is looked at, minutes.
func (h *Hanging) every() float64 {
	if h.keeps() {
		return keptEvery
	}
	return charge.CheckEvery
}

// keptEvery is how often a battery on a maintainer is looked at, minutes: once a day.
// House judgement.
const keptEvery = 24 * 60

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
	switch {
	case h.keeps() && h.Charger != "":
		return words.Say(waitKept, "charger", h.Charger)
	case h.Charger == "":
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
	s, doubt, ok := standing(before)
	s.Charger = charge.Noted(h.Kind, h.Amps, h.Volts)
	// What its days have made of it is a guess within a factor, which looks mend.
	if hard, _ := stood(before); hard > 0 {
		doubt.Sulphate = max(doubt.Sulphate, min(mostGuessed, hard)/charge.HardUsual)
	}
	return s, doubt, ok
}

// mostGuessed is the most hard sulphate that days alone make anybody expect. House
// judgement.
const mostGuessed = 0.5

// standing gives the battery of a bench as it stands, without a charger, and how little
// is known of it; false where nothing can be made of its label.
func standing(b *bench.Bench) (charge.Setup, charge.Doubt, bool) {
	made, ok := b.AsNew()
	if !ok {
		return charge.Setup{}, charge.Doubt{}, false
	}
	doubt := charge.Usual()
	health := usualHealth
	if part, ok := b.Part(); ok {
		health = part.Best
		doubt.Capacity += (part.High - part.Low) / 100 / 6
	} else {
		doubt.Capacity += unknownHealth
	}
	health = min(110, max(5, health))
	made = made.WornTo(health).WithCapacity(charge.CapacityOf(health))
	soc := unknownSOC
	if band := b.SOC(); band != nil {
		soc = *band
	}
	doubt.SOC = max(doubt.SOC, (soc.High-soc.Low)/bandSpreads)
	temp, _ := b.Case.TempC(nil)
	room := temp
	if c := b.Case.Conditions.AmbientC; c != nil {
		room = *c
	}
	s := charge.Setup{
		Battery: made,
		State:   made.Rested(soc.Best, temp),
		Room:    battery.Ambient{Start: room},
		Ready:   b.House.LoadTestMinSOC,
	}
	if c := b.Charge; c != nil {
		s.Shows = c.Volts
	}
	return s, doubt, true
}

// stood gives the hard sulphate that is to be expected of a battery by how long it was
// not charged, and how little is known of it.
func stood(b *bench.Bench) (hard, spread float64) {
	soc := unknownSOC
	if band := b.SOC(); band != nil {
		soc = *band
	}
	temp, _ := b.Case.TempC(nil)
	var days *float64
	if c := b.Charge; c != nil && c.Rest.MinutesSinceCharge > 0 && soc.Best < charge.LongFlat {
		flat := flatPart * c.Rest.MinutesSinceCharge / (24 * 60)
		days = &flat
	}
	return charge.Stood(0, soc.Best, temp, days)
}

// flatPart is the part of the time since it was charged or driven last that a flat
// battery has stood flat. House judgement: it ran down all the while.
const flatPart = 0.5

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
// none, or nothing can be foretold of it. before is what was said of it last, nil for
// nothing: where one look was added since, it need not be worked out again.
func OnCharger(c reading.Case, labels bench.Labels, before *OnCharge) (OnCharge, bool, error) {
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
	out := OnCharge{Charger: h.Charger, Kind: h.Kind, Amps: h.Amps, Since: h.At, Looks: []Looked{}}
	var checks []charge.Check
	for _, l := range h.Looks {
		if l.At.IsZero() || l.At.Before(h.At) {
			continue
		}
		checks = append(
			checks,
			charge.Check{Minutes: l.At.Sub(h.At).Minutes(), Volts: l.Volts, Amps: l.Amps, TempC: l.CaseC, Warmth: l.Warmth},
		)
	}
	slices.SortStableFunc(checks, func(a, b charge.Check) int { return cmp.Compare(a.Minutes, b.Minutes) })
	checks = checks[max(0, len(checks)-mostLooks):]
	for _, l := range checks {
		out.Looks = append(out.Looks, Looked{h.At.Add(span(l.Minutes)), l.Volts, l.Amps, l.Warmth})
	}
	e, err := s.Estimate(doubt, checks)
	if err != nil {
		return OnCharge{}, false, err
	}
	if out.Now, err = e.Forecast(); err != nil {
		return OnCharge{}, false, err
	}
	out.Shares, out.checks, out.setup = e.Shares, checks, s
	sound := s
	if n := len(checks); n > 0 {
		was, err := forecastBefore(s, doubt, checks[:n-1], before)
		if err != nil {
			return OnCharge{}, false, err
		}
		out.Before = &was
		out.Follows = e.Follow(out.Now, checks[n-1])
		if e.World == charge.Sound {
			sound = e.Setup
			out.Found = found(sound)
		}
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
	if out.Follows.Sign != "stop" { // nothing that has to come off is waited for
		out.Ready, out.Full = at(out.Now.Ready), at(out.Now.Full)
		_, out.Thumb = sound.Thumb(out.Now)
	}
	out.Check = hanging(b).Check
	return out, true, nil
}

// forecastBefore is the forecast by looks before the last.
func forecastBefore(s charge.Setup, doubt charge.Doubt, checks []charge.Check, known *OnCharge) (charge.Forecast, error) {
	if known != nil && known.setup == s && reflect.DeepEqual(known.checks, checks) {
		return known.Now, nil
	}
	e, err := s.Estimate(doubt, checks)
	if err != nil {
		return charge.Forecast{}, err
	}
	return e.Forecast()
}

// mostLooks is how many looks, the last ones, a forecast is made from: a day of them.
const mostLooks = 48

func span(minutes float64) time.Duration { return time.Duration(minutes * float64(time.Minute)) }

const (
	saysHung       = "On the charger at {amps}; nobody has looked yet."
	saysFound      = "By its looks about {soc} charged when it was hung on, with {capacity} of its ampere-hours left; it takes current {takes}."
	takesAsUsual   = "like others of its build"
	takesOtherwise = "at {part} of what its build usually does"
)
