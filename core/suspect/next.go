package suspect

import (
	"cmp"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
)

// Test is something that can be measured next, with what it is worth: the information
// it is expected to bring about what to do, for the minutes of work it takes.
type Test struct {
	Code    string
	Bits    float64  // expected about what to do, 0 and more
	Work    float64  // minutes of hands
	Wait    float64  // minutes of waiting besides
	After   string   // "charge", "clean" or "warm": done once that is done
	Clock   bool     // what it waits for runs already, whatever is done meanwhile
	Breaks  float64  // minutes of the rest that runs, which it would end
	Between [2]Fault // the two likeliest that it tells apart best
}

// Worth is bits for each minute of work, with a little for what must be waited for.
func (t Test) Worth() float64 {
	waits := t.Wait + t.Breaks
	if t.Clock {
		waits = 0
	}
	return t.Bits / max(t.Work+waiting*min(waits, 60)+overnight*max(0, waits-60), 1)
}

// What a minute of waiting costs in minutes of work: the hands are at another job
// meanwhile, but the job stands in the way; a night costs little more than an hour.
// House judgement.
const waiting, overnight = 0.02, 0.002

// RestApart is a rest voltage taken after a night with nothing connected: it finds the
// cell that loses its charge.
const RestApart = "rest_apart"

// disturbs are the tests that end a rest: they load the battery or charge it.
var disturbs = []string{station.LoadTest, station.CableDrop, station.Charging}

// minutes are those of hands at a test, and of waiting besides.
func minutes(code string) (work, waits float64) {
	if code == RestApart {
		k, _ := station.KindOf(station.RestVoltage)
		return k.Minutes + setAside, nightMinutes
	}
	k, _ := station.KindOf(code)
	return k.Minutes, k.Waits
}

// What a night apart takes: a cable off and on again, and the night. Common practice, no
// source.
const setAside, nightMinutes = 1.0, 720.0

// tests values every test that can be done now.
func (m *model) tests(bel *belief) []Test {
	if m.b.Hazardous() {
		return nil
	}
	counted := m.counted(bel)
	now := &m.stretches[len(m.stretches)-1]
	left, resting := m.b.RestLeft()
	var out []Test
	offer := func(code, after string, bits, waits float64) {
		if bits <= 0 {
			return
		}
		t := Test{Code: code, Bits: bits, After: after}
		t.Work, t.Wait = minutes(code)
		switch {
		case code == station.RestVoltage && resting:
			t.Wait, t.Clock = left, true
		case after == "" && resting && slices.Contains(disturbs, code):
			t.Breaks = m.c.Rules.RestMinutes
		}
		t.Wait += waits
		switch after {
		case "charge":
			at, _ := station.Of(station.Charge)
			rest, _ := minutes(station.RestVoltage)
			t.Work += at.Minutes + rest
		case "clean":
			clean, _ := minutes(station.Cleaned)
			t.Work += clean
		}
		out = append(out, t)
	}
	soc := m.b.SOC()
	v := m.c.Vehicle
	enough := soc != nil && soc.Best >= m.b.House.LoadTestMinSOC
	dirty := len(m.b.Dirty) > 0
	if soc == nil || resting {
		offer(station.RestVoltage, "", m.restBits(bel, counted, now), 0)
	}
	if m.chem == battery.Flooded && m.c.Battery.Opens() && !m.taken(station.Hydrometer, now) {
		offer(station.Hydrometer, "", m.acidBits(bel, counted), 0)
	}
	if m.c.Battery.Eye && !m.taken(station.Eye, now) {
		offer(station.Eye, "", m.eyeBits(bel, counted, now), 0)
	}
	strength := station.LoadTest
	if m.b.House.StrengthMethod == rules.ByConductance {
		strength = station.Conductance
	}
	switch {
	case enough && dirty:
		offer(strength, "clean", m.loadBits(bel, counted, now, strength, true), 0)
	case enough:
		switch {
		case !m.taken(strength, now):
			offer(strength, "", m.loadBits(bel, counted, now, strength, false), 0)
		case m.takenCold(strength, now):
			offer(strength, "warm", again*m.loadBits(bel, counted, now, strength, false), warmMinutes)
		}
	case soc != nil:
		full := stretch{begins: "full", hours: 12}
		offer(strength, "charge", m.loadBits(bel, counted, &full, strength, dirty), m.b.ChargeMinutes(m.b.House.ChargeRate, 100))
	}
	if enough && !m.stoodApart(now) {
		offer(RestApart, "", m.apartBits(bel, counted), 0)
	}
	turns := !v.Electric() && v.Fuel != "none" && (soc == nil || soc.Best >= 45)
	if turns && !m.b.Settled(station.Crank) {
		offer(station.CableDrop, "", m.crankBits(bel, counted), 0)
	}
	if !m.b.Settled(station.Charging) && (soc == nil || soc.Best >= 45) && !m.neverTurned() {
		offer(station.Charging, "", m.partBits(
			bel,
			counted,
			&m.parts.charging,
			"volts",
			reading.Of(
				station.Charging,
				reading.Fields{"speed": "raised", "loads": "off"},
			),
			classOf(0, Undercharging, Overcharging),
		), 0)
	}
	if !m.b.Settled(station.Drain) {
		offer(station.Drain, "", m.partBits(bel, counted, &m.parts.drain, "milliamps",
			reading.Of(station.Drain, reading.Fields{"minutes_asleep": 30}), classOf(0, Drain, None)), 0)
	}
	for i := range out {
		out[i].Between = m.between(bel, out[i])
	}
	slices.SortStableFunc(out, func(a, b Test) int { return cmp.Compare(b.Worth(), a.Worth()) })
	return out
}

func (m *model) neverTurned() bool {
	for i := len(m.c.Readings) - 1; i >= 0; i-- {
		if r := m.c.Readings[i]; r.Kind == station.Crank {
			return r.Word("turned") == "no"
		}
	}
	return false
}

// taken reports whether a test was taken in the world as it is now: at this charge and
// through these contacts.
func (m *model) taken(code string, now *stretch) bool {
	for i := range now.tables {
		t := &now.tables[i]
		if t.reading != nobodys && m.c.Readings[t.reading].Kind == code && (m.dirtyNow || t.posts == 1) {
			return true
		}
	}
	return false
}

// A battery that was tested colder than this, °C, is worth testing again warm: the cold
// law of one battery differs from another's. It follows the shop by so many minutes, and
// the same hand and tester say half as much the second time. House judgement.
const (
	coldTestC   = 5.0
	warmMinutes = 480.0
	again       = 0.5
)

// takenCold reports whether all such tests at this charge were of a cold battery.
func (m *model) takenCold(code string, now *stretch) bool {
	for i := range now.tables {
		t := &now.tables[i]
		if t.reading == nobodys || m.c.Readings[t.reading].Kind != code {
			continue
		}
		if temp, _ := m.c.TempC(ownTemp(m.c.Readings[t.reading])); temp >= coldTestC {
			return false
		}
	}
	return true
}

// between gives the two likeliest faults that a test tells apart.
func (m *model) between(bel *belief, t Test) [2]Fault {
	var about Set
	switch t.Code {
	case station.LoadTest, station.Conductance:
		about = SetOf(WornOut, Open, ShortedCell, LowAcid, DirtyContacts)
	case station.Hydrometer:
		about = SetOf(ShortedCell, LowAcid)
	case RestApart:
		about = SetOf(ShortedCell)
	case station.CableDrop:
		about = SetOf(BadCable, StarterDraw, DirtyContacts)
	case station.Charging:
		about = SetOf(Undercharging, Overcharging)
	case station.Drain:
		about = SetOf(Drain)
	case station.RestVoltage:
		about = SetOf(Discharged, Drain, Undercharging, ShortTrips, ShortedCell)
	}
	in, out := None, None
	here, there := 0.0, 0.0
	for f := None; f < faultCount; f++ {
		p := m.present(bel, f)
		if about.Has(f) && f != None {
			if p > here {
				in, here = f, p
			}
		} else if p > there {
			out, there = f, p
		}
	}
	return [2]Fault{out, in}
}

// present is how likely a fault is there, alone or beside another.
func (m *model) present(bel *belief, f Fault) float64 {
	sum := 0.0
	for k, h := range m.hyps {
		if h.set.Has(f) {
			sum += bel.post[k]
		}
	}
	return sum
}
