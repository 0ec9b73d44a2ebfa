package suspect

import (
	"encoding/json"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/station"
)

// Readings as they are taken most.
func looked(found ...string) reading.Reading {
	if len(found) == 0 {
		found = []string{"clean"}
	}
	return reading.Of(station.Inspection, reading.Fields{"found": found})
}

func rest(v float64) reading.Reading {
	return reading.Of(station.RestVoltage, reading.Fields{"volts": v, "minutes_since_charge": 600, "surface_charge": "rested"})
}

func load(v float64) reading.Reading {
	return reading.Of(station.LoadTest, reading.Fields{"method": station.HalfCCA, "amps": 325, "seconds": 15, "volts_end": v})
}

func full() reading.Reading {
	return reading.Of(station.Charged, reading.Fields{"ended": "full", "hours": 10})
}

func charging(v float64) reading.Reading {
	return reading.Of(station.Charging, reading.Fields{"volts": v, "speed": "raised", "loads": "off"})
}

func drain(ma float64) reading.Reading {
	return reading.Of(station.Drain, reading.Fields{"milliamps": ma, "minutes_asleep": 40})
}

func drop(path string, v float64) reading.Reading {
	return reading.Of(station.CableDrop, reading.Fields{"path": path, "volts": v, "amps": 150})
}

func crank(volts, amps float64, turned string) reading.Reading {
	return reading.Of(station.Crank, reading.Fields{"volts_min": volts, "amps": amps, "turned": turned})
}

func told(words []string, rs ...reading.Reading) reading.Case {
	c := readingtest.Car(rs...)
	c.Vehicle.Fuel = "petrol"
	c.Complaint = words
	return c
}

func modelOf(c reading.Case) *model    { return newModel(station.Put(c, readingtest.Labels)) }
func opinionOf(c reading.Case) Opinion { return Of(station.Put(c, readingtest.Labels)) }

// What practitioners think of first, case by case. Common practice, no source.
func TestWhoIsSuspectedFirst(t *testing.T) {
	for name, c := range map[string]struct {
		c    reading.Case
		want Fault
		from float64
	}{
		"nothing complained, all fine":    {told(nil, looked(), rest(12.66), load(10.6)), None, 0.6},
		"full, and gives way under load":  {told([]string{"slow_crank"}, looked(), rest(12.62), load(8.0)), WornOut, 0.6},
		"flat, lights were left on":       {told([]string{"rapid_click", "lights_left_on"}, looked(), rest(11.9)), Discharged, 0.8},
		"flat, charged, and strong":       {told([]string{"rapid_click", "accessories_left_on"}, looked(), rest(11.9), full(), rest(12.66), load(10.5)), Discharged, 0.85},
		"one cell missing":                {told([]string{"dead_silent"}, looked(), rest(10.5)), ShortedCell, 0.6},
		"one cell missing after a charge": {told([]string{"after_standing"}, looked(), rest(11.4), full(), rest(10.6)), ShortedCell, 0.9},
		"a volt lost on the live path":    {told([]string{"slow_crank"}, looked(), rest(12.6), load(10.4), drop("live", 1.0), drop("earth", 0.1)), BadCable, 0.6},
		"a volt lost under a crust":       {told([]string{"single_click"}, looked("corrosion_live"), rest(12.6), drop("live", 1.0), drop("earth", 0.1)), DirtyContacts, 0.5},
		"twice the draw, turns slowly":    {told([]string{"slow_crank"}, looked(), rest(12.6), load(10.5), crank(10.4, 340, "slow"), drop("live", 0.2), drop("earth", 0.15)), StarterDraw, 0.7},
		"flat, and does not charge":       {told([]string{"warning_lights"}, looked(), rest(11.9), full(), rest(12.66), load(10.4), charging(12.9)), Undercharging, 0.9},
		"overcharges":                     {told([]string{"warning_lights"}, looked("wet_vents"), rest(12.7), load(10.5), charging(15.6)), Overcharging, 0.9},
		"flat after standing, drained":    {told([]string{"after_standing"}, looked(), rest(11.9), full(), rest(12.66), load(10.4), charging(14.3), drain(350)), Drain, 0.9},
		"short trips":                     {told([]string{"short_trips"}, looked(), rest(12.2), full(), rest(12.66), load(10.4), charging(14.3), drain(15)), ShortTrips, 0.7},
		"turns and will not fire":         {told([]string{"cranks_no_fire"}, looked(), rest(12.64), load(10.5), crank(10.6, 150, "normal")), Immobiliser, 0.6},
		"dry plates":                      {told([]string{"slow_crank"}, looked("plates_dry")), LowAcid, 0.5},
		"flat in a hard frost": {func() reading.Case {
			c := told([]string{"dead_silent"}, looked("frozen"), rest(11.9))
			*c.Conditions.AmbientC, *c.Conditions.BatteryC = -18, -18
			return c
		}(), Frozen, 0.8},
	} {
		op := opinionOf(c.c)
		if got := op.Suspects[0]; got.Fault != c.want.Code() || got.Present < c.from {
			t.Errorf("%s: %s %.2f first, want %s from %.2f", name, got.Fault, got.Present, c.want.Code(), c.from)
		}
	}
}

// Probabilities are probabilities: shares sum to 1, nothing is out of 0 to 1, and what
// is there is there at least as surely as its share says.
func TestSharesSumToOne(t *testing.T) {
	rng := rand.New(rand.NewPCG(10, 11))
	for range 60 {
		c := randomCase(rng)
		op := opinionOf(c)
		sum := 0.0
		for i, s := range op.Suspects {
			sum += s.Probability
			if s.Present < s.Probability*0.9-1e-9 || s.Present > 1+1e-9 || s.Probability < 0 || math.IsNaN(s.Present) {
				t.Errorf("%v: %+v", c.Readings, s)
			}
			if i > 0 && s.Present > op.Suspects[i-1].Present+1e-12 {
				t.Error("the likeliest is not first")
			}
		}
		if math.Abs(sum-1) > 1e-9 {
			t.Errorf("%v: shares sum to %g", c.Readings, sum)
		}
		for _, x := range op.Tests {
			if x.Bits < 0 || x.Bits > 4 || x.Work <= 0 || math.IsNaN(x.Bits) {
				t.Errorf("%+v", x)
			}
		}
	}
}

func randomCase(rng *rand.Rand) reading.Case {
	all := []reading.Reading{
		looked(), rest(11.5 + 1.3*rng.Float64()), load(7 + 4*rng.Float64()), charging(12 + 4*rng.Float64()),
		drain(math.Exp(8 * rng.Float64())), drop("live", rng.Float64()), drop("earth", rng.Float64()),
		crank(8+3*rng.Float64(), 80+300*rng.Float64(), []string{"normal", "slow", "no"}[rng.IntN(3)]),
		full(), reading.Of(station.Conductance, reading.Fields{"cca": 100 + 600*rng.Float64(), "standard": "SAE"}),
		reading.Of(
			station.Hydrometer,
			reading.Fields{"cells_sg": []float64{1.25, 1.25, 1.25, 1.25, 1.25, 1.25 - 0.1*rng.Float64()}, "acid_c": 21},
		),
		reading.Of(station.JumpResult, reading.Fields{"started": rng.IntN(2) == 0}),
	}
	var rs []reading.Reading
	for range 1 + rng.IntN(7) {
		rs = append(rs, all[rng.IntN(len(all))])
	}
	codes := reading.Complaints().Codes()
	var words []string
	for range rng.IntN(3) {
		words = append(words, codes[rng.IntN(len(codes))])
	}
	c := told(words, rs...)
	chems := battery.Chemistries()
	c.Battery.Chemistry = chems[rng.IntN(len(chems))]
	t := -20 + 50*rng.Float64()
	c.Conditions.AmbientC, c.Conditions.BatteryC = &t, &t
	return c
}

// The same case gives the same opinion, to the last digit.
func TestSameCaseSameOpinion(t *testing.T) {
	c := told([]string{"slow_crank"}, looked(), rest(12.5), load(9.7), charging(14.2), drain(60))
	a, _ := json.Marshal(opinionOf(c))
	for range 5 {
		if b, _ := json.Marshal(opinionOf(c)); string(a) != string(b) {
			t.Fatalf("%s\n%s", a, b)
		}
	}
}

// Readings of one world say the same in whatever order they were taken.
func TestOrderOfReadingsDoesNotMatter(t *testing.T) {
	rs := []reading.Reading{
		looked("film_live"),
		rest(12.52),
		load(9.9),
		charging(13.4),
		drain(70),
		drop("live", 0.4),
		drop("earth", 0.1),
		crank(10.1, 180, "slow"),
	}
	first := modelOf(told([]string{"slow_crank"}, rs...)).weigh(allReadings).post
	rng := rand.New(rand.NewPCG(5, 6))
	for range 20 {
		rng.Shuffle(len(rs), func(i, j int) { rs[i], rs[j] = rs[j], rs[i] })
		for k, p := range modelOf(told([]string{"slow_crank"}, slices.Clone(rs)...)).weigh(allReadings).post {
			if math.Abs(p-first[k]) > 1e-9 {
				t.Fatalf("%v: hypothesis %d %.6f, was %.6f", rs, k, p, first[k])
			}
		}
	}
}

// The more a reading says, the more it moves: lower volts under load make it worn,
// more volts lost make a cable bad, more milliamps a drain, further from 14.3 V the
// charging.
func TestEvidenceIsMonotonic(t *testing.T) {
	p := func(f Fault, rs ...reading.Reading) float64 {
		return opinionOf(told([]string{"slow_crank"}, append([]reading.Reading{looked(), rest(12.6)}, rs...)...)).Present(f)
	}
	rises := func(what string, f Fault, values []float64, r func(float64) reading.Reading) {
		last := -1.0
		for _, v := range values {
			now := p(f, r(v))
			if now < last-0.01 {
				t.Errorf("%s: at %g %.3f, before %.3f", what, v, now, last)
			}
			last = now
		}
		if first := p(f, r(values[0])); last < first+0.2 {
			t.Errorf("%s: from %.3f to %.3f only", what, first, last)
		}
	}
	rises("worn", WornOut, []float64{10.6, 10.3, 10, 9.7, 9.4}, load) // far lower, a bad joint inside is as likely
	rises(
		"cable",
		BadCable,
		[]float64{0.05, 0.15, 0.3, 0.5, 0.8, 1.2},
		func(v float64) reading.Reading { return drop("earth", v) },
	)
	rises("drain", Drain, []float64{10, 30, 60, 100, 200, 400}, drain)
	rises("under", Undercharging, []float64{14.3, 13.9, 13.6, 13.3, 13}, charging)
	rises("over", Overcharging, []float64{14.3, 14.7, 15, 15.3, 15.6}, charging)
}

// What was put right no longer speaks: a path that is fine after a new cable does not
// clear the old one, and one that is bad after it does not accuse it.
func TestEachReadingInTheWorldOfThen(t *testing.T) {
	bad := []reading.Reading{looked(), rest(12.62), load(10.5), drop("live", 1.1), drop("earth", 0.1)}
	before := opinionOf(told([]string{"slow_crank"}, bad...)).Present(BadCable)
	mended := append(
		slices.Clone(bad),
		reading.Of(station.PutRight, reading.Fields{"what": []string{"cable"}}),
		drop("live", 0.12),
	)
	after := opinionOf(told([]string{"slow_crank"}, mended...)).Present(BadCable)
	if after < before-0.05 {
		t.Errorf("a new cable clears the old one: %.2f, was %.2f", after, before)
	}
	unmended := append(slices.Clone(bad), drop("live", 0.12))
	if now := opinionOf(told([]string{"slow_crank"}, unmended...)).Present(BadCable); now > before-0.2 {
		t.Errorf("read again and fine: %.2f, was %.2f", now, before)
	}
	// A load test through dirt says less of the battery than one after cleaning.
	dirty := []reading.Reading{looked("corrosion_live", "loose_clamp"), rest(12.62), load(8.6)}
	worn := opinionOf(told([]string{"slow_crank"}, dirty...)).Present(WornOut)
	cleaned := append(
		slices.Clone(dirty),
		reading.Of(station.Cleaned, reading.Fields{"what": []string{"posts", "clamps"}}),
		load(8.6),
	)
	if now := opinionOf(told([]string{"slow_crank"}, cleaned...)).Present(WornOut); now < worn+0.1 {
		t.Errorf("worn out %.2f through dirt, %.2f on clean posts", worn, now)
	}
	// Low before a charge and full after it: what was read before is history.
	if p := opinionOf(told([]string{"rapid_click"}, looked(), rest(11.9), load(7.2), full(), rest(12.66), load(10.6))).Present(WornOut); p > 0.1 {
		t.Errorf("a test of a flat battery still speaks: worn out %.2f", p)
	}
	// Bare plates that were covered are those of a battery like others.
	dry := []reading.Reading{
		looked("plates_dry"),
		reading.Of(station.PutRight, reading.Fields{"what": []string{"watered"}}),
		rest(12.6),
		load(10.4),
	}
	if p := opinionOf(told([]string{"slow_crank"}, dry...)).Present(LowAcid); p < 0.5 {
		t.Errorf("dry plates seen, then filled and sound: low acid %.2f", p)
	}
}

// Both of two faults are found that are there together.
func TestTwoFaultsTogether(t *testing.T) {
	op := opinionOf(
		told([]string{"slow_crank", "warning_lights"}, looked(), rest(12.1), full(), rest(12.6), load(8.2), charging(12.9)),
	)
	if op.Present(WornOut) < 0.8 || op.Present(Undercharging) < 0.8 {
		t.Errorf("worn out %.2f, undercharged %.2f", op.Present(WornOut), op.Present(Undercharging))
	}
	for _, s := range op.Suspects[:2] {
		if s.Probability > 0.6 {
			t.Errorf("%s has %.2f of all, though another is there too", s.Fault, s.Probability)
		}
	}
}

// What was fitted lately, the age, the frost and the class of vehicle move what is
// expected before anything is measured.
func TestPriors(t *testing.T) {
	base := told([]string{"slow_crank"})
	p := func(f Fault, change func(*reading.Case)) float64 {
		c := base
		c.Conditions.AmbientC, c.Conditions.BatteryC = readingtest.Num(21), readingtest.Num(21)
		change(&c)
		return opinionOf(c).Present(f)
	}
	same := func(*reading.Case) {}
	less := func(name string, f Fault, by float64, change func(*reading.Case)) {
		if a, b := p(f, same), p(f, change); b > a*by {
			t.Errorf("%s: %s from %.3f to %.3f", name, f.Code(), a, b)
		}
	}
	more := func(name string, f Fault, by float64, change func(*reading.Case)) {
		if a, b := p(f, same), p(f, change); b < a*by {
			t.Errorf("%s: %s from %.3f to %.3f", name, f.Code(), a, b)
		}
	}
	with := func(word string) func(*reading.Case) {
		return func(c *reading.Case) { c.Complaint = []string{"slow_crank", word} }
	}
	less("new battery", WornOut, 0.5, with("recent_battery"))
	less("new alternator", Undercharging, 0.8, with("recent_alternator"))
	more("something fitted", Drain, 1.5, with("aftermarket_fitted"))
	less("electric", StarterDraw, 0.01, func(c *reading.Case) { c.Vehicle.Class = "electric" })
	less("no engine", StarterDraw, 0.01, func(c *reading.Case) { c.Vehicle.Fuel = "none" })
	more("frost", Frozen, 5, func(c *reading.Case) {
		c.Conditions.AmbientC, c.Conditions.BatteryC = readingtest.Num(-15), readingtest.Num(-15)
	})
	less("glass mat", LowAcid, 0.5, func(c *reading.Case) { c.Battery.Chemistry = battery.AGM })
	at := func(made string) func(*reading.Case) {
		return func(c *reading.Case) {
			now := time.Date(2026, 11, 15, 0, 0, 0, 0, time.UTC)
			c.Battery.Made, c.AsOf = made, &now
		}
	}
	more("eight years old", WornOut, 1.3, at("2018-11"))
	less("a year old", WornOut, 0.6, at("2025-11"))
	if a, b := p(WornOut, at("2018-11")), p(WornOut, at("2014-11")); b < a-1e-9 {
		t.Errorf("older is less worn: %.3f, %.3f", a, b)
	}
}

// A label nobody has read makes strength say less, and nothing fails without one.
func TestWithoutALabel(t *testing.T) {
	for _, class := range []string{"car", "motorcycle", "mower", "hybrid", "electric", "classic"} {
		c := told([]string{"slow_crank"}, looked(), rest(12.6), load(9.0))
		known := opinionOf(c).Present(WornOut)
		c.Battery.Rating = reading.Rating{}
		c.Vehicle.Class = class
		if class == "classic" {
			c.Vehicle.SystemVolts = 6
		}
		op := opinionOf(c)
		if op.Present(WornOut) > known+0.05 && class == "car" {
			t.Errorf("without a label surer: %.2f, with one %.2f", op.Present(WornOut), known)
		}
		if len(op.Suspects) == 0 {
			t.Errorf("%s: nobody suspected", class)
		}
	}
}

// Probabilities are worded from each figure on, and never more precisely.
func TestWordsOfLikelihood(t *testing.T) {
	for _, c := range []struct {
		p    float64
		want string
	}{{1, "almost surely"}, {0.9, "almost surely"}, {0.899, "likely"}, {0.6, "likely"}, {0.599, "possible"}, {0.25, "possible"},
		{0.249, "less likely"}, {0.06, "less likely"}, {0.059, "hardly"}, {0, "hardly"}} {
		if got := wordOf(c.p); got != c.want {
			t.Errorf("%g: %s, want %s", c.p, got, c.want)
		}
	}
}

// What speaks against a suspect says what it would have shown.
func TestReasons(t *testing.T) {
	op := opinionOf(told([]string{"slow_crank"}, looked(), rest(12.62), load(10.6), drop("live", 1.2), drop("earth", 0.1)))
	find := func(f Fault) Suspect {
		for _, s := range op.Suspects {
			if s.Fault == f.Code() {
				return s
			}
		}
		t.Fatalf("%s is not told", f.Code())
		return Suspect{}
	}
	cable := find(BadCable)
	if len(cable.For) < 2 || cable.For[0].String() != "Complaint: Turns slowly" {
		t.Errorf("for the cable: %v", cable.For)
	}
	op = opinionOf(told([]string{"slow_crank"}, looked(), rest(12.62), load(10.15)))
	worn := find(WornOut)
	if len(worn.Against) == 0 {
		t.Fatalf("%+v", worn)
	}
	if s := opinionOf(told([]string{"slow_crank"}, looked(), rest(12.62))).Suspects[0]; s.Fault != "worn_out" ||
		s.Moves.String() != "A load test would move it." {
		t.Errorf("%s: %s", s.Fault, s.Moves)
	}
	// By hand: 325 A through a battery at about half its label ends near 9.5 V.
	would, ok := modelOf(told([]string{"slow_crank"}, looked(), rest(12.62), load(10.15))).would(WornOut, 2)
	if !ok || would.Value < 8.3 || would.Value > 9.8 {
		t.Errorf("worn out would show %v", would)
	}
}

// From this likelihood a fault is told, and from this weight a reading speaks.
func TestLeastTold(t *testing.T) {
	op := opinionOf(told([]string{"slow_crank"}, looked(), rest(12.62), load(10.6)))
	m := modelOf(told([]string{"slow_crank"}, looked(), rest(12.62), load(10.6)))
	bel := m.weigh(allReadings)
	for f := None; f < faultCount; f++ {
		is := slices.ContainsFunc(op.Suspects, func(s Suspect) bool { return s.Fault == f.Code() })
		if is != (m.present(&bel, f) >= 0.01) {
			t.Errorf("%s at %.4f: told %t", f.Code(), m.present(&bel, f), is)
		}
	}
}

// Codes are those of the open format, in its order.
func TestFaultsOfTheFormat(t *testing.T) {
	want := []string{
		"none",
		"discharged",
		"worn_out",
		"shorted_cell",
		"open_or_high_resistance",
		"low_acid",
		"frozen",
		"dirty_contacts",
		"bad_cable",
		"undercharging",
		"overcharging",
		"drain",
		"starter_draw",
		"short_trip_habit",
		"immobiliser_or_fuel",
	}
	if got := Faults().Codes(); !slices.Equal(got, want) {
		t.Errorf("%v", got)
	}
	for i, code := range want {
		if f, ok := FaultOf(code); !ok || int(f) != i || f.Code() != code {
			t.Errorf("%s: %d %t", code, f, ok)
		}
	}
	if _, ok := FaultOf("gremlins"); ok {
		t.Error("there are no gremlins")
	}
}

// A pair of faults is one that can be: one inside the battery, no cause beside what it
// causes.
func TestPairs(t *testing.T) {
	for _, c := range []struct {
		a, b Fault
		want bool
	}{{WornOut, Undercharging, true}, {WornOut, ShortedCell, false}, {Discharged, Drain, false}, {Discharged, WornOut, true},
		{Undercharging, Overcharging, false}, {None, Drain, false}, {Drain, Drain, false}, {DirtyContacts, BadCable, true}} {
		if together(c.a, c.b) != c.want || together(c.b, c.a) != c.want {
			t.Errorf("%s with %s: want %t", c.a.Code(), c.b.Code(), c.want)
		}
	}
	if s := SetOf(WornOut, Drain); !s.Has(Drain) || s.Has(None) || !SetOf().Has(None) || len(s.Faults()) != 2 ||
		SetOf().Faults()[0] != None {
		t.Error("sets")
	}
}

// A week of short drives speaks for short trips, one that is fed against them; each
// figure it turns at from both sides.
func TestShortWeeks(t *testing.T) {
	week := func(trips, minutes, long float64) reading.Reading {
		return reading.Of(station.Week, reading.Fields{"trips": trips, "minutes": minutes, "long_minutes": long})
	}
	for _, c := range []struct {
		r    reading.Reading
		want bool
	}{{week(5, 19, 0), true}, {week(5, 20, 0), false}, {week(5, 10, 29), true}, {week(5, 10, 30), false},
		{week(10, 14.9, 0), true}, {week(10, 15, 0), false}} {
		if seldomFilled(c.r) != c.want {
			t.Errorf("%v: want %t", c.r, c.want)
		}
	}
	present := func(rs ...reading.Reading) float64 {
		return opinionOf(
			told([]string{"slow_crank"}, append([]reading.Reading{looked(), rest(12.1)}, rs...)...),
		).Present(ShortTrips)
	}
	if short, without, fed := present(week(8, 5, 0)), present(), present(week(10, 40, 0)); short <= without || without <= fed {
		t.Errorf("short trips: %.3f with such weeks, %.3f unasked, %.3f with long drives", short, without, fed)
	}
}

// What is on the clock is used: a rest that runs costs the rest voltage nothing, and what
// would end it is worth less meanwhile.
func TestOnTheClock(t *testing.T) {
	c := told([]string{"slow_crank"}, looked(), full())
	now := time.Date(2026, 11, 25, 10, 0, 0, 0, time.UTC)
	c.AsOf = &now
	tests := func(ends *time.Time) map[string]Test {
		b := station.Put(c, readingtest.Labels)
		b.RestEnds = ends
		out := map[string]Test{}
		for _, x := range Of(b).Tests {
			if x.After == "" {
				out[x.Code] = x
			}
		}
		return out
	}
	soon, over := now.Add(20*time.Minute), now
	without, resting, done := tests(nil), tests(&soon), tests(&over)
	rest := resting[station.RestVoltage]
	if !rest.Clock || rest.Wait != 20 || rest.Worth() != rest.Bits/max(rest.Work, 1) {
		t.Errorf("%+v, worth %g", rest, rest.Worth())
	}
	if x := done[station.RestVoltage]; x.Clock || x.Wait != without[station.RestVoltage].Wait {
		t.Errorf("a rest that is over: %+v", x)
	}
	for _, code := range disturbs {
		x, ok := resting[code]
		if !ok {
			continue
		}
		if x.Breaks != c.Rules.RestMinutes || x.Worth() >= without[code].Worth() {
			t.Errorf("%s ends the rest: %+v, worth %.3f, else %.3f", code, x, x.Worth(), without[code].Worth())
		}
	}
	if x := resting[station.Charging]; x.Code == "" {
		t.Error("nothing that disturbs was offered")
	}
	for _, code := range []string{station.Drain, station.Hydrometer} {
		if x := resting[code]; x.Breaks != 0 || x.Worth() != without[code].Worth() {
			t.Errorf("%s disturbs nothing: %+v", code, x)
		}
	}
}

// What was put right is said to be, since it can still be what brought it in.
func TestMendedIsSaid(t *testing.T) {
	moves := func(rs ...reading.Reading) string {
		for _, s := range opinionOf(told([]string{"slow_crank"}, rs...)).Suspects {
			if s.Fault == "dirty_contacts" {
				return s.Moves.String()
			}
		}
		t.Fatal("no longer suspected")
		return ""
	}
	cleaned := reading.Of(station.Cleaned, reading.Fields{"what": []string{"posts", "clamps"}})
	if got := moves(looked("corrosion_live"), rest(12.6), cleaned, load(10.3)); got != saysMended {
		t.Errorf("cleaned, and %q", got)
	}
	if got := moves(looked("corrosion_live"), rest(12.6)); got == saysMended || got == "" {
		t.Errorf("not cleaned, and %q", got)
	}
	if got := moves(looked("corrosion_live"), rest(12.6), reading.Of(station.Cleaned, reading.Fields{"what": []string{"tray"}})); got == saysMended {
		t.Error("a clean tray puts no contact right")
	}
}

// A strength test of a cold battery is worth doing again warm, from both sides of 5 °C;
// one that was done warm is not, nor is one of a battery that was read both ways.
func TestAgainWarm(t *testing.T) {
	at := func(temps ...float64) (Test, bool) {
		rs := []reading.Reading{looked(), rest(12.62)}
		for _, c := range temps {
			rs = append(rs, load(9.75).With("battery_c", c))
		}
		for _, x := range opinionOf(told([]string{"slow_crank"}, rs...)).Tests {
			if x.Code == station.LoadTest {
				return x, true
			}
		}
		return Test{}, false
	}
	if x, ok := at(4.9); !ok || x.After != "warm" || x.Wait < warmMinutes || x.Bits <= 0 {
		t.Errorf("tested at 4.9 °C: %+v", x)
	}
	for name, temps := range map[string][]float64{"at 5 °C": {5}, "cold, then warm": {-8, 20}, "warm, then cold": {20, -8}} {
		if x, ok := at(temps...); ok {
			t.Errorf("tested %s: %+v", name, x)
		}
	}
	if x, ok := at(); !ok || x.After != "" {
		t.Errorf("not tested: %+v", x)
	}
}
