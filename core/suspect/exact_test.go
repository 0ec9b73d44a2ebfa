package suspect

import (
	"math"
	"math/rand/v2"
	"testing"

	"grapnel/core/station"
)

// A world of three faults and two tests, worked by hand. Priors 1/2, 1/4, 1/4.
//
// The first test tells the first fault for certain and nothing of the others: half the
// time the answer is known, half the time a bit is left, so 1.5 − 0.5 = 1 bit.
//
// The second reads "high" with 3/4, 1/4, 1/4: P(high) = 1/2. By Bayes a high leaves
// 3/4, 1/8, 1/8, which is 1.0613 bits, a low 1/4, 3/8, 3/8, which is 1.5613 bits:
// 1.5 − 1.3113 = 0.1887 bits (the capacity of a line that errs once in four).
func TestBitsOfASmallWorld(t *testing.T) {
	world := func(rows ...[]float64) float64 {
		var o outcomes
		for i, row := range rows {
			o.add(remedy(1<<i), []float64{0.5, 0.25, 0.25}[i], row)
		}
		return o.bits()
	}
	for _, c := range []struct {
		name string
		rows [][]float64
		want float64
	}{
		{"tells the first", [][]float64{{1, 0}, {0, 1}, {0, 1}}, 1},
		{"errs once in four", [][]float64{{0.75, 0.25}, {0.25, 0.75}, {0.25, 0.75}}, 0.18872},
		{"tells all three", [][]float64{{1, 0, 0}, {0, 1, 0}, {0, 0, 1}}, 1.5},
		{"tells nothing", [][]float64{{0.3, 0.7}, {0.3, 0.7}, {0.3, 0.7}}, 0},
	} {
		if got := world(c.rows...); math.Abs(got-c.want) > 1e-5 {
			t.Errorf("%s: %.5f bits, by hand %.5f", c.name, got, c.want)
		}
	}
	// Two faults with one remedy: telling them apart is worth nothing.
	var o outcomes
	o.add(doReplace, 0.5, []float64{1, 0})
	o.add(doReplace, 0.5, []float64{0, 1})
	if got := o.bits(); got != 0 {
		t.Errorf("worn out from a bad joint, both replaced: %g bits", got)
	}
}

// Information is never negative and never more than there is to know, over worlds at
// random; an outcome split in two by a coin tells no more.
func TestBitsAreBounded(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for range 2000 {
		n, m := 1+rng.IntN(6), 1+rng.IntN(8)
		var o, split outcomes
		prior := make([]float64, n)
		sum := 0.0
		for i := range prior {
			prior[i] = rng.ExpFloat64()
			sum += prior[i]
		}
		entropy := 0.0
		for i := range prior {
			row, total := make([]float64, m), 0.0
			for x := range row {
				row[x] = rng.ExpFloat64()
				total += row[x]
			}
			twice := make([]float64, 0, m+1)
			for x := range row {
				row[x] /= total
				twice = append(twice, row[x])
			}
			twice = append(twice, 0.4*twice[0])
			twice[0] *= 0.6
			o.add(remedy(1<<i), prior[i]/sum, row)
			split.add(remedy(1<<i), prior[i]/sum, twice)
			entropy -= prior[i] / sum * math.Log2(prior[i]/sum)
		}
		bits := o.bits()
		if bits < 0 || bits > entropy+1e-9 || bits > math.Log2(float64(m))+1e-9 {
			t.Fatalf("%g bits of %g, in %d outcomes", bits, entropy, m)
		}
		if more := split.bits(); math.Abs(more-bits) > 1e-9 {
			t.Fatalf("a coin adds %g bits", more-bits)
		}
	}
}

// The posterior as the sums it stands for, term by term: every hypothesis, every way to
// be inside, every contact and every charge of each stretch, without any of what makes
// it fast.
func TestWeighedByEnumeration(t *testing.T) {
	for _, c := range []*model{
		modelOf(told([]string{"slow_crank"}, looked("film_live"), rest(12.5), load(9.6))),
		modelOf(told([]string{"rapid_click"}, looked(), rest(11.9), full(), rest(12.62), load(9.9), crank(9.9, 190, "slow"))),
	} {
		want := make([]float64, len(c.hyps))
		total := 0.0
		for k, h := range c.hyps {
			p := h.prior
			for _, words := range c.words {
				p *= math.Exp(words[k])
			}
			outside := make([]float64, len(c.hyps))
			c.weighOutside(outside, allReadings)
			p *= math.Exp(outside[k])
			inside := 0.0
			for way, pw := range c.inside[k] {
				for contact, pc := range contactsOf(h.set) {
					world := pw * pc
					for e := range c.stretches {
						st := &c.stretches[e]
						sum := 0.0
						for s := range charges {
							term := chargedLike[st.kind(way, &c.healths[way], h.set)][s]
							if e == 0 && h.set.Has(Frozen) {
								term *= c.ice[s]
							} else if e == 0 {
								term *= 1 - 0.97*c.ice[s]
							}
							for i := range st.tables {
								greedy := 0
								if h.set.Has(StarterDraw) {
									greedy = 1
								}
								term *= st.tables[i].at(contact, greedy)[way][s]
							}
							sum += term
						}
						world *= sum
					}
					inside += world
				}
			}
			want[k] = p * inside
			total += want[k]
		}
		for k, p := range c.weigh(allReadings).post {
			if !(math.Abs(p-want[k]/total) <= 1e-4) {
				t.Errorf("%v: %.6f, by enumeration %.6f", c.hyps[k].set.Faults(), p, want[k]/total)
			}
		}
	}
}

// Each part's chances and each distribution of charge, health and contact sum to 1.
func TestDistributionsSumToOne(t *testing.T) {
	m := modelOf(told([]string{"slow_crank"}, looked(), rest(12.5)))
	one := func(what string, row []float64) {
		sum := 0.0
		for _, p := range row {
			if p < 0 {
				t.Errorf("%s: %g", what, p)
			}
			sum += p
		}
		if math.Abs(sum-1) > 1e-9 {
			t.Errorf("%s sums to %g", what, sum)
		}
	}
	for name, p := range map[string]part{"starter": m.parts.starter, "live": m.parts.live, "earth": m.parts.earth,
		"charging": m.parts.charging, "drain": m.parts.drain} {
		for _, class := range p.classes {
			one(name, class)
		}
	}
	priors := make([]float64, 0, len(m.hyps))
	for k, h := range m.hyps {
		priors = append(priors, h.prior)
		one("inside", m.inside[k][:])
		dirt := contactsOf(h.set)
		one("contacts", dirt[:])
		ways := 0.0
		for _, w := range cableWays(h.set) {
			ways += w.share
		}
		one("cables", []float64{ways})
	}
	one("priors", priors)
	for k := range chargedLike {
		one("charge", chargedLike[k][:])
	}
}

// The tests on offer: what cannot be done now, or would mislead, is not on it.
func TestWhatIsOffered(t *testing.T) {
	codes := func(op Opinion) map[string]Test {
		out := map[string]Test{}
		for _, x := range op.Tests {
			out[x.Code] = x
		}
		return out
	}
	slow := []string{"slow_crank"}
	for _, c := range []struct {
		name string
		op   Opinion
		yes  []string
		no   []string
	}{
		{"nothing read", opinionOf(told(slow)), []string{station.RestVoltage, station.Hydrometer}, []string{station.LoadTest}},
		{"charge known", opinionOf(told(slow, looked(), rest(12.6))), []string{station.LoadTest, station.CableDrop}, []string{station.RestVoltage}},
		{"load tested", opinionOf(told(slow, looked(), rest(12.6), load(10.2))), []string{station.CableDrop}, []string{station.LoadTest}},
		{"stands and goes flat", opinionOf(told([]string{"after_standing", "frequent_jumps"}, looked(), rest(11.9), full(), rest(12.6).With("minutes_since_charge", 60),
			load(10.4), drain(15), charging(14.2))), []string{RestApart}, nil},
		{"stood a night apart", opinionOf(told([]string{"after_standing", "frequent_jumps"}, looked(), rest(11.9), full(), rest(12.6), load(10.4), drain(15),
			charging(14.2), rest(12.6).With("minutes_since_charge", 720))), nil, []string{RestApart}},
		{"charging read", opinionOf(told(slow, looked(), rest(12.6), charging(14.2))), nil, []string{station.Charging}},
		{"drain read asleep", opinionOf(told(slow, looked(), rest(12.6), drain(20))), nil, []string{station.Drain}},
		{"a hazard", opinionOf(told(slow, looked("case_bulged"), rest(12.6))), nil, []string{station.LoadTest, station.CableDrop, station.Charging}},
		{"turns no more", opinionOf(told(slow, looked(), rest(12.6), crank(12.4, 0, "no"))), nil, []string{station.Charging}},
	} {
		on := codes(c.op)
		for _, code := range c.yes {
			if _, ok := on[code]; !ok {
				t.Errorf("%s: no %s on offer", c.name, code)
			}
		}
		for _, code := range c.no {
			if x, ok := on[code]; ok && x.After == "" {
				t.Errorf("%s: %s on offer", c.name, code)
			}
		}
	}
	flat := codes(opinionOf(told(slow, looked(), rest(12.1))))
	if x := flat[station.LoadTest]; x.After != "charge" || x.Wait < 60 || x.Work != 5+5+2 { // load, charge, rest volts
		t.Errorf("a flat one is loaded once it is charged: %+v", x)
	}
	dirty := codes(opinionOf(told(slow, looked("loose_clamp"), rest(12.6))))
	if x := dirty[station.LoadTest]; x.After != "clean" || x.Work < 20 {
		t.Errorf("a loose one is loaded once it is clean: %+v", x)
	}
	glass := told(slow, looked(), rest(12.6))
	glass.Battery.Chemistry, glass.Battery.Caps = "agm", "sealed"
	if _, ok := codes(opinionOf(glass))[station.Hydrometer]; ok {
		t.Error("nobody draws acid out of glass mat")
	}
}

// Worth is bits for each minute of work; waiting counts a little, a night hardly more.
func TestWorth(t *testing.T) {
	for _, c := range []struct {
		test Test
		want float64
	}{
		{Test{Bits: 1, Work: 5}, 0.2},
		{Test{Bits: 1, Work: 5, Wait: 50}, 1 / 6.0},   // 50 min at 0.02
		{Test{Bits: 1, Work: 3, Wait: 720}, 1 / 5.52}, // 60 at 0.02, 660 at 0.002
		{Test{Bits: 0.5, Work: 0.2}, 0.5},             // nothing takes less than a minute
	} {
		if got := c.test.Worth(); math.Abs(got-c.want) > 1e-9 {
			t.Errorf("%+v: %.4f, by hand %.4f", c.test, got, c.want)
		}
	}
}

// The part of a normal distribution under z deviates, to 1 in 100 of the tables.
// Source: tables of the normal distribution.
func TestUnder(t *testing.T) {
	for z, want := range map[float64]float64{0: 0.5, 1: 0.8413, -1: 0.1587, 2: 0.9772, -2: 0.0228, 3: 0.99865, -6: 0, 6: 1} {
		if got := under(z); math.Abs(got-want) > 0.002 {
			t.Errorf("under %g: %.4f, want %.4f", z, got, want)
		}
	}
	var out [stepsRead]float64
	scaleOf(10, 12).spread(11, 0.1, out[:])
	sum := 0.0
	for _, p := range out {
		sum += p
	}
	if math.Abs(sum-1) > 1e-9 || out[6]+out[7] < 0.8 {
		t.Errorf("%.3f", out)
	}
}

// A fault brings what it brings: alone, as its row says; beside another, each by itself.
// By hand: 0.3 and 0.4 over a base of 0.1 are 1 − 0.9·(0.7/0.9)·(0.6/0.9) = 0.5333.
func TestChances(t *testing.T) {
	c := chances{base: 0.1}
	c.with[Drain], c.with[WornOut], c.with[Frozen] = 0.3, 0.4, 0.05
	for _, x := range []struct {
		set  Set
		want float64
	}{{SetOf(), 0.1}, {SetOf(Drain), 0.3}, {SetOf(WornOut), 0.4}, {SetOf(Drain, WornOut), 1 - 0.9*(0.7/0.9)*(0.6/0.9)}, {SetOf(Frozen), 0.1}} {
		if got := c.of(x.set); math.Abs(got-x.want) > 1e-12 {
			t.Errorf("%v: %.4f, by hand %.4f", x.set.Faults(), got, x.want)
		}
	}
}

// A figure is as likely as a normal distribution has it, and far out it is a slip, which
// can be anything and excludes nothing. The normal density at 0 is 0.39894.
func TestDensity(t *testing.T) {
	if got, want := density(10, 10, 0.1, 12), (1-slips)*3.9894+slips/12; math.Abs(got-want) > 1e-3 {
		t.Errorf("at its best %.4f, want %.4f", got, want)
	}
	for _, v := range []float64{10.71, 12, -5} { // 7 deviates and more
		if got := density(v, 10, 0.1, 12); got != slips/12 {
			t.Errorf("%g V: %g, want %g", v, got, slips/12)
		}
	}
	if near := density(10.69, 10, 0.1, 12); near <= slips/12 {
		t.Errorf("6.9 deviates out: %g", near)
	}
	// One reading that contradicts all others is a slip; it does not take over.
	c := told(nil, looked(), rest(12.65), load(10.6), load(10.6), charging(14.3), drain(15), drop("live", 9), drop("live", 0.1), drop("earth", 0.1))
	if p := opinionOf(c).Present(None); math.IsNaN(p) || p <= 0 {
		t.Errorf("%g", p)
	}
}
