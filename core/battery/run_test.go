package battery

import (
	"errors"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"grapnel/internal/effort"
	"grapnel/internal/fatal"
)

// stored is the chemical energy and the charge a battery holds, for the
// balances: what the electromotive force would give at every charge, less what
// it takes from warmth, and what stands on the plates.
func stored(b Battery, s State) (joules, coulombs float64) {
	k := b.circuit()
	force := curves[b.Chemistry]
	for i := range k.n {
		g, c := &k.cell[i], s.Cells[i]
		integral := func(h float64) float64 {
			// Simpson over the charge from empty.
			const parts = 400
			sum := 0.0
			for j := range parts + 1 {
				w := 2.0
				if j%2 == 1 {
					w = 4
				}
				if j == 0 || j == parts {
					w = 1
				}
				sum += w * force.volts(h*float64(j)/parts)
			}
			return sum * h / parts / 3
		}
		charge := g.q * (k.c*c.Pore + k.cc*c.Bulk)
		chemical := g.q*(k.c*integral(c.Pore)+k.cc*integral(c.Bulk)) - emfPerC*298.15*charge
		joules += g.count * (chemical + g.farads*c.Polarisation*c.Polarisation/2)
		coulombs += charge
	}
	return joules, coulombs
}

// What goes in through the posts is what is stored, what becomes heat and what
// leaves as gas: over a day's charge, a crank and a month, sound and faulty.
func TestEnergyCloses(t *testing.T) {
	for name, b := range map[string]Battery{"sound": car(t, Flooded), "glass mat": car(t, AGM), "shorted": car(t,
		Flooded).WithCell(Shorted(0.5))} {
		for _, d := range []Duty{
			{Source: Source{Amps: 10, Volts: 15.5}, Ambient: Ambient{Start: 10, PerHour: 0.5}, Seconds: 86400},
			{Source: Source{Amps: -400, Volts: -1000}, Ambient: Ambient{Start: 0}, Seconds: 20},
			{Source: Source{Amps: -0.05}, Ambient: Ambient{Start: 35}, Seconds: 20 * 86400},
		} {
			d.Tolerance = 1e-5
			from := b.Rested(50, 10)
			e0, _ := stored(b, from)
			end, err := b.Run(from, d)
			must(t, err)
			e1, _ := stored(b, end.State)
			gas := 0.0
			k := b.circuit()
			for i := range k.n {
				gas += k.cell[i].count * end.State.Cells[i].GasAh * 3600 * k.gasHeat
			}
			warmed := b.HeatCapacity * (end.State.TempC - from.TempC)
			in := end.State.WhIn * 3600
			left := in - (e1 - e0) - gas - warmed - end.State.JoulesOut
			size := math.Abs(in) + math.Abs(e1-e0) + math.Abs(end.State.JoulesOut)
			if math.Abs(left) > 1e-3*size {
				t.Errorf("%s, %+v: %.4g J of %.4g unaccounted", name, d.Source, left, size)
			}
		}
	}
}

// Charge through the posts is charge stored, gassed or lost by itself; with
// self-discharge and gassing known from a resting twin it closes. Here the
// straight case: one hour at 20 A, where both are small and counted.
func TestChargeCloses(t *testing.T) {
	b := car(t, Flooded)
	from := b.Rested(30, 20)
	_, q0 := stored(b, from)
	end := after(t, b, from, Source{Amps: 20, Volts: 16}, 3600)
	_, q1 := stored(b, end.State)
	own := SelfDischarge(Flooded, 40, 20) / 100 * b.Coulombs / 720
	if left := 3600*end.State.AhIn - (q1 - q0) - 3600*end.State.Cells[0].GasAh; math.Abs(left) > 2*own+1 {
		t.Errorf("%.1f C of %.0f unaccounted; an hour's self-discharge is %.1f", left, 3600*end.State.AhIn, own)
	}
}

// The method has the order it is said to have: halving the tolerance's root
// shrinks the error, and the error at the default is far under 0.1 %.
func TestStepperConverges(t *testing.T) {
	b := car(t, Flooded)
	d := Duty{Source: Source{Amps: 8, Volts: 14.2}, Ambient: Ambient{Start: 15}, Seconds: 3 * 3600}
	run := func(tol float64) (Sample, int) {
		d.Tolerance = tol
		n := 0
		d.Visit = func(Sample) error { n++; return nil }
		s, err := b.Run(b.Rested(20, 15), d)
		must(t, err)
		return s, n
	}
	best, _ := run(1e-10)
	wrong := func(s Sample) float64 {
		return math.Abs(s.Volts-best.Volts) + math.Abs(s.State.Cells[0].Pore-best.State.Cells[0].Pore)
	}
	loose, few := run(1e-3)
	tight, many := run(1e-7)
	if wrong(tight) > wrong(loose)/20 && wrong(tight) > 1e-8 || many <= few {
		t.Errorf("error %.2g in %d steps at 1e-3, %.2g in %d at 1e-7", wrong(loose), few, wrong(tight), many)
	}
	if s, _ := run(0); wrong(s) > 1e-3 {
		t.Errorf("error %.2g at the default tolerance", wrong(s))
	}

	// One step of a fixed size on a smooth stretch: order 4 makes the error of a
	// step fall by about 2⁵ when it is halved.
	one := func(h float64, parts int) vector {
		p := stepper{circuit: b.circuit()}
		p.source, p.ambient = Source{Amps: 8, Volts: 20}, Ambient{Start: 15, PerHour: 2}
		s := b.Rested(40, 15)
		s.Cells[0].Pore, s.Cells[0].Polarisation = 0.5, 0.15 // away from the corner of the law at rest
		p.load(s)
		for range parts {
			p.prepare(&p.y, p.t)
			p.try(h/float64(parts), 1)
			p.y = p.next
			p.t += h / float64(parts)
		}
		return p.y
	}
	exact := one(4, 256)
	gap := func(v vector) float64 { return math.Abs(v[atCell+2] - exact[atCell+2]) }
	if a, b := gap(one(4, 4)), gap(one(4, 8)); a/b < 11 {
		t.Errorf("halving the step shrinks the error only %.1f times (%.3g to %.3g)", a/b, a, b)
	}
}

// A mark is where a step ends, and changes nothing else; the steps after it are as long
// as before it.
func TestMarks(t *testing.T) {
	b := car(t, Flooded)
	d := Duty{Source: Source{Amps: 6, Volts: 14.4}, Ambient: Ambient{Start: 20}, Seconds: 20 * 3600}
	plain, steps := Sample{}, 0
	d.Visit = func(Sample) error { steps++; return nil }
	plain, err := b.Run(b.Rested(20, 20), d)
	must(t, err)
	marked := 0
	d.Marks = []float64{0, 1800, 3600, 3600, 7200, 19 * 3600, 20 * 3600, 30 * 3600}
	var seen []float64
	d.Visit = func(x Sample) error {
		marked++
		for _, m := range d.Marks {
			if x.Seconds == m && (len(seen) == 0 || seen[len(seen)-1] != m) {
				seen = append(seen, m)
			}
		}
		return nil
	}
	end, err := b.Run(b.Rested(20, 20), d)
	must(t, err)
	if len(seen) != 6 || math.Abs(end.SOC-plain.SOC) > 0.02 {
		t.Errorf("marks %v seen, %.3f %% for %.3f", seen, end.SOC, plain.SOC)
	}
	d.Marks, marked = nil, 0
	for m := 600.0; m < d.Seconds; m += 600 {
		d.Marks = append(d.Marks, m, m+1e-3) // the second leaves no room for a step
	}
	_, err = b.Run(b.Rested(20, 20), d)
	must(t, err)
	if marked > steps+len(d.Marks)+10 {
		t.Errorf("%d steps with %d marks, %d without", marked, len(d.Marks), steps)
	}
}

// One run in pieces is the same as one run whole, and nothing remembers.
func TestRunsCompose(t *testing.T) {
	b := wreck(t)
	d := Duty{Source: Source{Amps: 6, Volts: 14.8}, Ambient: Ambient{Start: 12}, Seconds: 7200, Tolerance: 1e-7}
	whole, err := b.Run(b.Rested(40, 5), d)
	must(t, err)
	d.Seconds = 3600
	half, _ := b.Run(b.Rested(40, 5), d)
	rest, _ := b.Run(half.State, d)
	if math.Abs(rest.Volts-whole.Volts) > 1e-4 || math.Abs(rest.State.AhIn-whole.State.AhIn) > 1e-4 {
		t.Errorf("whole %.5f V %.5f Ah, in halves %.5f V %.5f Ah", whole.Volts, whole.State.AhIn, rest.Volts,
			rest.State.AhIn)
	}
	if again, _ := b.Run(half.State, d); again != rest {
		t.Error("the same run came out differently")
	}
}

// sane fails when a sample is nowhere a battery can be.
func sane(t testing.TB, b Battery, src Source, x Sample) {
	t.Helper()
	bad := math.IsNaN(x.Volts+x.Amps+x.SOC+x.GasAmps+x.State.AhIn+x.State.WhIn+x.State.JoulesOut) ||
		math.IsInf(x.Volts+x.Amps, 0) || !inside(x.SOC, -40, 130) || !inside(x.State.TempC, -61, boilsC+1) ||
		x.GasAmps < 0
	for i := range b.Kinds {
		c := x.State.Cells[i]
		bad = bad || !inside(c.Pore, -0.6, 2.5) || !inside(c.Bulk, -0.6, 2.5) || !inside(c.Sulphate, -0.01, 1.01) ||
			math.Abs(c.Polarisation) > 1000
	}
	switch {
	case src.Amps > 0:
		bad = bad || x.Amps < 0 || x.Amps > src.Amps*(1+1e-9)
	case src.Amps < 0:
		bad = bad || x.Amps > 0 || x.Amps < src.Amps*(1+1e-9)
	default:
		bad = bad || x.Amps != 0
	}
	if bad {
		t.Fatalf("%+v gives %+v", src, x)
	}
}

// Whatever is done to whatever battery, nothing leaves its physical range.
func TestNothingLeavesItsRange(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 12))
	batteries := []Battery{car(t, Flooded), car(t, AGM), wreck(t), car(t, Gel).WithCell(Shorted(0.001)),
		car(t, EFB).Aged(20, 6)}
	boiled := 0
	for i := range effort.Of(100, 600, 600) {
		b := batteries[i%len(batteries)]
		s := b.Rested(100*rng.Float64(), -35+85*rng.Float64())
		for range 3 {
			src := randomSource(rng)
			seconds := math.Pow(10, 6.5*rng.Float64())
			if src.Amps > 50 || src.Amps < -50 {
				seconds = min(seconds, 600)
			}
			last, err := b.Run(s, Duty{Source: src, Ambient: Ambient{Start: s.TempC}, Seconds: seconds,
				Visit: func(x Sample) error { sane(t, b, src, x); return nil }})
			if errors.Is(err, ErrBoils) {
				boiled++
				break
			}
			if err != nil {
				t.Fatalf("%+v for %g s from %+v: %v", src, seconds, s, err)
			}
			s = last.State
		}
	}
	if boiled == 0 || boiled > 60 {
		t.Errorf("%d of 600 boiled: some shorted ones should, and few others", boiled)
	}
}

// More charge rests higher and cranks longer, warmth cranks harder, and a
// charger with more volts never gives less, all else equal.
func TestMonotonic(t *testing.T) {
	for _, c := range Chemistries() {
		b := car(t, c)
		lastV, lastCrank := 0.0, -1e9
		for soc := 0.0; soc <= 100; soc += 5 {
			v, crank := RestVolts(c, 6, soc, 20), fatal.Of(b.EndVolts(soc, 0, 300, 10))
			if v <= lastV || crank < lastCrank {
				t.Errorf("%s at %g %%: rests at %.3f after %.3f, cranks at %.2f after %.2f", c, soc, v, lastV, crank,
					lastCrank)
			}
			lastV, lastCrank = v, crank
			if r := b.Resistance(soc, 25); soc < 100 && r <= b.Resistance(soc+5, 25) {
				t.Errorf("%s: fuller has more resistance at %g %%", c, soc)
			}
		}
		last := 0.0
		for temp := -40.0; temp <= 50; temp += 5 {
			amps := fatal.Of(b.CrankingAmps(100, temp, 10, 7.2))
			if amps <= last {
				t.Errorf("%s: %.0f A at %g °C, colder %.0f", c, amps, temp, last)
			}
			last = amps
		}
		last = 0
		for volts := 13.0; volts <= 16; volts += 0.25 {
			got := after(t, b, b.Rested(40, 20), Source{Amps: 500, Volts: volts}, 3600).State.AhIn
			if got < last {
				t.Errorf("%s: %.2f Ah in an hour at %g V, less at less", c, got, volts)
			}
			last = got
		}
	}
}

// What cannot be is refused in words that name it.
func TestImpossibleDuties(t *testing.T) {
	b := car(t, Flooded)
	ok := b.Rested(50, 20)
	for say, d := range map[string]Duty{
		"not a number":   {Source: Source{Amps: math.NaN()}, Ambient: Ambient{Start: 20}, Seconds: 1},
		"the source has": {Source: Source{Amps: 1, Volts: 1e6}, Ambient: Ambient{Start: 20}, Seconds: 1},
		"ohms":           {Source: Source{Amps: 1, Volts: 14, Ohms: -1}, Ambient: Ambient{Start: 20}, Seconds: 1},
		"100 years":      {Ambient: Ambient{Start: 20}, Seconds: math.Inf(1)},
		"°C":             {Ambient: Ambient{Start: 500}, Seconds: 1},
		"surroundings":   {Ambient: Ambient{Start: 20, PerHour: 100}, Seconds: 86400},
	} {
		if got, err := b.Run(ok, d); err == nil || !strings.Contains(err.Error(), say) || got.State != ok {
			t.Errorf("%q: %v, state kept %v", say, err, got.State == ok)
		}
	}
	if _, err := (Battery{}).Run(State{}, Duty{}); err == nil {
		t.Error("a battery without cells ran")
	}
}

// Any duty that is accepted ends without leaving what numbers and batteries can
// be.
func FuzzRun(f *testing.F) {
	f.Add(10.0, 14.6, 0.0, 20.0, 20.0, 3600.0, uint8(0))
	f.Add(-540.0, 0.0, 0.0, 100.0, -18.0, 30.0, uint8(3))
	f.Add(-1e9, 0.0, 0.5, 80.0, 40.0, 1e7, uint8(2))
	batteries := []Battery{car(f, Flooded), car(f, AGM), wreck(f), car(f, Gel).WithCell(Shorted(0.001))}
	f.Fuzz(func(t *testing.T, amps, volts, ohms, soc, temp, seconds float64, which uint8) {
		if !inside(soc, 0, 100) || !inside(temp, -50, 60) || !(math.Abs(amps) < 3000) || !inside(volts, -100, 100) ||
			!inside(seconds, 0, 1e8) {
			return
		}
		b := batteries[int(which)%len(batteries)]
		src := Source{Amps: amps, Volts: volts, Ohms: ohms}
		if _, err := b.Run(b.Rested(soc, temp), Duty{Source: src, Ambient: Ambient{Start: temp}, Seconds: seconds,
			Visit: func(x Sample) error { sane(t, b, src, x); return nil }}); err != nil && !errors.Is(err, ErrBoils) &&
			!strings.Contains(err.Error(), "ohms") {
			t.Errorf("%v", err)
		}
	})
}
