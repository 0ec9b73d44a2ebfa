package clinic

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"grapnel/core/assess"
	"grapnel/core/battery"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/rules"
)

// hand is a technician at one vehicle: the case as it is written down, with the habits
// of whoever writes it.
type hand struct {
	v     *Vehicle
	rng   *rand.Rand
	bench bench
	c     reading.Case
	now   time.Time

	work, wait float64 // minutes so far
	post       float64 // ohms between the posts and what the tester is clamped on
	cleaned    bool
	looked     bool
	filled     bool      // charged last, not driven
	since      time.Time // when it was last charged or driven
	loaded     time.Time // when it was last loaded or cranked
	impatient  bool      // reads volts with the surface charge on them
	coldBlind  bool      // takes no temperatures
	danger     []string
	path       []string
}

func newHand(v *Vehicle, rng *rand.Rand) *hand {
	h := &hand{v: v, rng: rng, bench: newBench(rng), now: time.Date(2026, 11, 24, 8, 0, 0, 0, time.UTC)}
	if chance(rng, 0.5) {
		h.post = v.bad // clamped on the cable's own clamps, dirt and all
	} else {
		h.post = between(rng, 0, 0.0003) * 500 / v.Label.CCA
	}
	h.since = h.now.Add(-600 * time.Minute)
	if v.ran {
		h.since = h.now
	}
	h.impatient, h.coldBlind = chance(rng, 0.2), chance(rng, 0.15)
	cca, ah := v.Label.CCA, v.Label.Ah20h
	made := h.now.AddDate(0, -int(12*v.Years), 0)
	h.c = reading.Case{
		Format: reading.CaseFormat,
		Vehicle: reading.Vehicle{Class: v.Class, Fuel: v.Fuel, SystemVolts: v.Volts, Earth: v.Earth, StopStart: v.Stops,
			HighVoltage: v.Class == "hybrid" || v.Class == "electric"},
		Battery:   reading.Battery{Chemistry: v.Chemistry, Caps: v.Caps, Eye: v.Eye, Rating: reading.Rating{CCA: &cca, Standard: "SAE", Ah20h: &ah}},
		Complaint: v.Complaint, Rules: rules.Default(),
	}
	if chance(rng, 0.7) {
		h.c.Battery.Made = fmt.Sprintf("%04d-%02d", made.Year(), int(made.Month()))
	}
	if chance(rng, 0.03) {
		// The wrong standard keyed: EN figures are a little higher.
		wrong := math.Round(cca * 0.93)
		h.c.Battery.Rating.CCA = &wrong
	}
	if !h.coldBlind {
		ambient := math.Round(v.ambient)
		h.c.Conditions.AmbientC = &ambient
		if chance(rng, 0.75) {
			b := math.Round(v.state.TempC + 1.5*rng.NormFloat64())
			h.c.Conditions.BatteryC = &b
		}
	}
	return h
}

func (h *hand) write(kind string, f reading.Fields) {
	r := reading.Of(kind, f)
	at := h.now
	r.At = &at
	h.c.Readings = append(h.c.Readings, r)
}

func (h *hand) works(minutes float64) {
	h.work += minutes
	h.now = h.now.Add(time.Duration(minutes * float64(time.Minute)))
}

func (h *hand) waits(minutes float64) {
	h.wait += minutes
	h.now = h.now.Add(time.Duration(minutes * float64(time.Minute)))
}

// look inspects; now and then something is missed.
func (h *hand) look() {
	h.works(2)
	h.looked = true
	found := []string{}
	for _, s := range h.v.seen {
		if h.cleaned && slices.Contains([]string{"corrosion_live", "corrosion_earth", "film_live", "film_earth", "loose_clamp",
			"clamp_not_seated", "clamp_eaten"}, s) {
			continue
		}
		if !slices.Contains(found, s) {
			found = append(found, s)
		}
	}
	if len(found) == 0 {
		found = []string{"clean"}
		h.write("inspection", reading.Fields{"found": found})
		return
	}
	h.write("inspection", reading.Fields{"found": found, "checked": checkedFor(found)})
}

func checkedFor(found []string) []string {
	out := []string{}
	for _, q := range []struct {
		code    string
		against []string
	}{{"whole", []string{"case_bulged", "case_cracked"}}, {"dry", []string{"leaking"}}, {"not_frozen", []string{"frozen"}},
		{"no_smell", []string{"rotten_egg_smell"}}} {
		if !slices.ContainsFunc(q.against, func(a string) bool { return slices.Contains(found, a) }) {
			out = append(out, q.code)
		}
	}
	return out
}

// rest reads the rest volts, after what the hand does about surface charge; after a load
// it lets the volts come back.
func (h *hand) rest() {
	h.works(2)
	if h.now.Sub(h.loaded).Minutes() < 10 {
		h.v.stand(10, 0)
		h.waits(10)
	}
	surface := "rested"
	if h.now.Sub(h.since).Minutes() < 55 {
		switch {
		case h.impatient:
			h.v.stand(8, 0)
			h.waits(8)
			surface = "none"
		case !h.filled && chance(h.rng, 0.3):
			h.v.stand(2, 9*h.v.Volts/12)
			h.v.stand(2, 0)
			h.waits(4)
			surface = "headlights_2min"
		default:
			left := 60 - h.now.Sub(h.since).Minutes()
			h.v.stand(left, 0)
			h.waits(left)
		}
	}
	f := reading.Fields{"volts": h.bench.voltage(h.rng, h.v.volts(h.v.state)), "surface_charge": surface}
	if !chance(h.rng, 0.1) {
		f["minutes_since_charge"] = math.Round(h.now.Sub(h.since).Minutes())
	}
	h.write("rest_voltage", f)
}

func (h *hand) load() {
	h.works(6)
	amps := math.Round(h.v.Label.CCA/2/5) * 5
	seconds := 15.0
	if chance(h.rng, 0.08) {
		seconds = between(h.rng, 18, 26) // held too long, written down as 15
	}
	v := h.v.loaded(h.rng, h.bench, amps, seconds, h.post)
	f := reading.Fields{"method": "half_cca", "amps": amps, "seconds": 15, "volts_end": v}
	if !h.coldBlind && chance(h.rng, 0.6) {
		f["battery_c"] = math.Round(h.v.state.TempC + 1.5*h.rng.NormFloat64())
	}
	h.write("load_test", f)
	h.loaded = h.now
}

func (h *hand) conductance() {
	h.works(3)
	h.write("conductance", reading.Fields{"cca": max(1, h.v.conducted(h.rng, h.bench, h.post)), "standard": "SAE"})
}

func (h *hand) crank() {
	h.works(10)
	c := h.v.crank(h.rng, 3)
	f := reading.Fields{"volts_min": h.bench.voltage(h.rng, c.lowest), "turned": c.turned, "seconds": 3}
	f["amps"] = math.Round(max(0, c.amps*(1+h.bench.clamp+0.02*h.rng.NormFloat64())))
	if c.amps > 0 {
		f["drop_live_volts"] = max(0, h.bench.voltage(h.rng, c.live)-h.bench.offset)
		f["drop_earth_volts"] = max(0, h.bench.voltage(h.rng, c.earth)-h.bench.offset)
	}
	h.write("crank", f)
	h.loaded = h.now
}

// charging runs the engine and reads; a flat or dead one is started on a good battery.
func (h *hand) charging() {
	h.works(5)
	k := h.v.Volts / 12
	shown := h.v.alt * k
	if h.v.alt > 0 {
		shown -= 0.021 * k * (h.v.state.TempC - 25)
	}
	amps := min(1.2*h.v.Label.Ah20h, 70)
	s, err := h.v.battery.Run(h.v.state, battery.Duty{Source: battery.Source{Amps: amps, Volts: max(shown, 12.2*k)},
		Ambient: battery.Ambient{Start: h.v.ambient}, Seconds: 90, Tolerance: 5e-3})
	volts := s.Volts
	if err != nil || h.v.alt == 0 {
		volts = h.v.volts(h.v.state) - 0.1*k
	} else {
		h.v.state = s.State
	}
	h.write("charging", reading.Fields{"volts": h.bench.voltage(h.rng, volts), "speed": "raised", "loads": []string{"off", "on"}[h.rng.IntN(2)]})
	if h.v.alt > 0 {
		h.since, h.filled = h.now, false
	}
}

func (h *hand) drain() {
	h.works(6)
	h.waits(25)
	shown := math.Round(h.v.drain * (1 + h.bench.milli + 0.02*h.rng.NormFloat64()))
	asleep := 30.0
	if chance(h.rng, 0.1) {
		asleep = 12
	}
	if asleep < h.v.awakeFor {
		shown += math.Round(between(h.rng, 100, 2500))
	}
	h.write("drain", reading.Fields{"milliamps": max(0, shown), "minutes_asleep": asleep})
}

func (h *hand) charge() {
	h.works(8)
	hours, ended := h.v.fill()
	h.waits(60 * hours)
	h.write("charged", reading.Fields{"hours": math.Round(10*hours) / 10, "ended": ended, "amps": math.Round(h.v.Label.Ah20h/10 + 0.5)})
	h.filled, h.since = true, h.now
}

func (h *hand) clean() {
	h.works(15)
	h.write("cleaned", reading.Fields{"what": []string{"posts", "clamps"}})
	h.cleaned = true
	h.v.bad = 0.00005
	h.post = h.v.bad
}

func (h *hand) acid() {
	h.works(8)
	if h.v.dry && chance(h.rng, 0.9) {
		h.write("hydrometer", reading.Fields{"level": "plates_dry"})
		return
	}
	h.write("hydrometer", reading.Fields{"cells_sg": h.v.gravities(h.rng, h.bench), "level": "covered", "acid_c": math.Round(h.v.state.TempC)})
}

func (h *hand) eye() {
	h.works(1)
	soc := h.v.battery.SOC(h.v.state)
	colour := "dark"
	if soc > 65+6*h.rng.NormFloat64() {
		colour = "green"
	}
	if h.v.dry {
		colour = "clear"
	}
	if chance(h.rng, 0.04) {
		colour = map[string]string{"dark": "green", "green": "dark", "clear": "dark"}[colour]
	}
	h.write("eye", reading.Fields{"colour": colour})
}

// strains are the steps that a hazardous battery must not meet.
var strains = []string{"charge", "load_test", "cable_drop", "jump"}

// step carries out what is asked; false where it ends the work, or nobody can.
func (h *hand) step(test string) bool {
	h.path = append(h.path, test)
	if slices.Contains(strains, test) && h.hazardous() && (!h.looked || h.showed()) {
		h.danger = append(h.danger, test)
	}
	switch test {
	case "look":
		h.look()
	case "rest_voltage", "say_rest", "say_time":
		h.rest()
	case "rest":
		h.v.stand(60, 0)
		h.waits(60)
		h.rest()
	case "rest_apart":
		h.v.stand(720, 0)
		h.waits(720)
		h.rest()
	case "load_test":
		h.load()
	case "conductance":
		h.conductance()
	case "cable_drop":
		h.crank()
	case "charging":
		h.charging()
	case "drain":
		h.drain()
	case "charge":
		h.charge()
	case "clean":
		h.clean()
	case "acid":
		h.acid()
	case "eye":
		h.eye()
	case "temperature":
		h.works(2)
		a, b := math.Round(h.v.ambient), math.Round(h.v.state.TempC)
		h.c.Conditions.AmbientC, h.c.Conditions.BatteryC = &a, &b
	case "read_label":
		h.works(2)
		cca := h.v.Label.CCA
		h.c.Battery.Rating.CCA = &cca
	case "warm", "thaw":
		h.waits(480)
		h.v.state.TempC, h.v.ambient = 18, 18
		b := 18.0
		h.c.Conditions.AmbientC = &b
		if test == "thaw" {
			h.write("put_right", reading.Fields{"what": []string{"thawed"}, "battery_c": 18})
			if h.v.ice {
				h.v.ice = false
				h.v.seen = slices.DeleteFunc(h.v.seen, func(s string) bool { return s == "frozen" })
				h.v.seen = append(h.v.seen, "case_bulged")
			}
			h.look()
		} else {
			h.c.Conditions.BatteryC = &b
		}
	case "cool", "air":
		h.waits(240)
		h.v.seen = slices.DeleteFunc(h.v.seen, func(s string) bool { return s == "rotten_egg_smell" })
		h.write("put_right", reading.Fields{"what": []string{map[string]string{"cool": "cooled", "air": "aired"}[test]}})
	case "water":
		h.works(10)
		h.write("put_right", reading.Fields{"what": []string{"watered"}})
		for i := range h.v.battery.Kinds {
			h.v.battery.Groups[i].Wet = 1
		}
		h.v.dry = false
		h.v.seen = slices.DeleteFunc(h.v.seen, func(s string) bool { return s == "plates_dry" })
	default:
		return false
	}
	return true
}

// hazardous reports whether it must not be charged, loaded, cranked or jumped.
func (h *hand) hazardous() bool {
	return h.v.ice || h.v.dry || slices.ContainsFunc(h.v.seen, func(s string) bool {
		return slices.Contains([]string{"case_bulged", "case_cracked", "leaking", "frozen", "plates_dry"}, s)
	})
}

// showed reports whether what was written down says so.
func (h *hand) showed() bool {
	for _, r := range h.c.Readings {
		for _, f := range r.Words("found") {
			if slices.Contains([]string{"case_bulged", "case_cracked", "leaking", "frozen", "plates_dry"}, f) {
				return true
			}
		}
		if c := r.Word("colour"); c == "clear" || c == "yellow" || r.Word("level") == "plates_dry" {
			return true
		}
	}
	return false
}

// drained reports whether the drain was measured asleep: what is left is to find its
// branch, fuse by fuse.
func (h *hand) drained() bool {
	return slices.ContainsFunc(h.c.Readings, func(r reading.Reading) bool { return r.Kind == "drain" && r.Or("minutes_asleep", 0) >= 20 })
}

// ends are steps at which the measuring is over.
var ends = []string{"replace", "replace_both", "hand_over", "mend", "put_right", "tell", "why_flat"}

// Outcome is what became of one vehicle.
type Outcome struct {
	Verdict    string
	Work, Wait float64 // minutes until it is ready to go
	Verdicted  float64 // minutes of work until nothing was left to find out
	Danger     []string
	Path       []string
	Stuck      bool
	Last       assess.Assessment
	Case       reading.Case
}

// mostSteps is more than any job takes.
const mostSteps = 24

// Follow works a vehicle by the steps that are offered, and nothing else.
func Follow(v *Vehicle, rng *rand.Rand) Outcome {
	h := newHand(v, rng)
	if !chance(rng, 0.15) { // some reach for the meter first, and have to be told to look
		h.look()
	}
	var a assess.Assessment
	var out Outcome
	ready := false
	for n := 0; ; n++ {
		a = assess.Assess(h.c, readingtest.Labels)
		if n == mostSteps {
			out.Stuck = true
			break
		}
		test := a.Next[0].Test
		if a.Verdict == assess.GoodAfterCharge || test == "charge" && a.Verdict == assess.Weak {
			out.Verdicted -= h.work // filling it up to go is no finding out
			h.step(test)
			out.Verdicted += h.work
			ready = true
			continue
		}
		if ready && test == "rest_voltage" {
			out.Verdicted -= h.work
			h.step(test)
			out.Verdicted += h.work
			ready = false
			continue
		}
		ready = false
		if slices.Contains(ends, test) || test == "drain" && h.drained() || !h.step(test) {
			h.path = append(h.path, test)
			break
		}
	}
	out.Verdicted = h.work - out.Verdicted
	out.Verdict, out.Work, out.Wait, out.Danger, out.Path, out.Last, out.Case = string(a.Verdict), h.work, h.wait, h.danger, h.path, a, h.c
	return out
}
