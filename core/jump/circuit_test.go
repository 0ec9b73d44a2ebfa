package jump

import (
	"math"
	"math/rand/v2"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/engine"
	"grapnel/core/rating"
	"grapnel/internal/effort"
)

// anyCircuit joins batteries, leads and an engine as they come.
func anyCircuit(rng *rand.Rand) *Circuit {
	between := func(lo, hi float64) float64 { return lo + (hi-lo)*rng.Float64() }
	cold := between(-20, 25)
	diesel := rng.IntN(2) == 0
	m := engine.Make{Fuel: "petrol", Litres: between(0.3, 3), Volts: 12}
	if diesel {
		m = engine.Make{Fuel: "diesel", Litres: between(1.4, 4), Volts: 12}
	}
	e, _ := engine.BySize(m)
	giver, flat := anyBattery(rng), anyBattery(rng)
	l := Leads{MM2: leadSizes[rng.IntN(len(leadSizes))], Metres: between(1, 5), ClampOhms: between(0.0002, 0.003), Clamps: 4}
	k := &Circuit{Leads: l.Ohms(), Flat: flat.Join(flat.Rested(between(5, 60), cold), cold), FlatLoad: 8, OilC: cold,
		Starter: m.Starter(e.Amps.Best), Path: 0.24 / e.Amps.Best}
	switch rng.IntN(4) {
	case 0:
		k.Maker = Boost(between(40, 250), 15)
	case 1:
		k.Maker = Alternator(between(60, 140), between(700, 2500), 10, between(13.8, 14.8))
		fallthrough
	default:
		k.Giver = giver.Join(giver.Rested(between(60, 100), cold+5), cold+5)
	}
	return k
}

// stock are batteries to take from.
var stock = func() []battery.Battery {
	var out []battery.Battery
	for _, c := range []battery.Chemistry{battery.Flooded, battery.FloodedSealed, battery.EFB, battery.AGM, battery.Gel} {
		for _, l := range []rating.Label{{CCA: 300, Ah20h: 28}, {CCA: 540, Ah20h: 60}, {CCA: 850, Ah20h: 95}} {
			b, _, err := battery.FromLabel(c, 6, l)
			if err != nil {
				panic(err)
			}
			out = append(out, b)
		}
	}
	return out
}()

func anyBattery(rng *rand.Rand) battery.Battery { return stock[rng.IntN(len(stock))] }

// By Kirchhoff: at every moment, what flows into both ends of the leads adds up, no part
// gains volts, and nothing turns backwards.
func TestCurrentsAddUp(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	for range 400 {
		k := anyCircuit(rng)
		if rng.IntN(2) == 0 {
			k.Charge(60 * (1 + 10*rng.Float64()))
		}
		k.turn(true)
		for _, h := range []float64{0.03, 0.1, 0.3, 1, 1.5} {
			m := k.Step(h)
			if d := m.GiverAmps + m.MakerAmps - m.LeadAmps; math.Abs(d) > settledAmps {
				t.Fatalf("%+v: %g A vanish at the donor", m, d)
			}
			if d := m.LeadAmps - m.FlatAmps - m.StarterAmps - 8; math.Abs(d) > settledAmps {
				t.Fatalf("%+v: %g A vanish at the flat one", m, d)
			}
			if math.Abs(m.GiverVolts-m.FlatVolts-m.LeadAmps*k.Leads) > 1e-9 ||
				math.Abs(m.FlatVolts-m.StarterVolts-m.StarterAmps*k.Path) > 1e-9 {
				t.Fatalf("%+v: Ohm", m)
			}
			if m.RPM < 0 || m.StarterAmps < 0 || m.StarterVolts < 0 || m.StarterVolts > 15 {
				t.Fatalf("%+v", m)
			}
		}
	}
}

// Steps of a try and of a charge are short enough: a tenth as long, they change what comes
// of it by a percent or so; the few steps of a search by less than eight, which is why what
// is said of it is looked at in fine ones again.
func TestStepsAreShortEnough(t *testing.T) {
	rng := rand.New(rand.NewPCG(7, 8))
	short := func(s steps) steps { return steps{s.first / 10, 1 + (s.grows-1)/10, s.most / 10} }
	for range 60 {
		k := anyCircuit(rng)
		a, b := k.Fork(), k.Fork()
		a.run(600, onCharge)
		b.run(600, short(onCharge))
		if math.Abs(a.Flat.Ah()-b.Flat.Ah()) > 0.015*math.Abs(b.Flat.Ah())+0.01 {
			t.Errorf("charged: %g Ah, in shorter steps %g", a.Flat.Ah(), b.Flat.Ah())
		}
		c := k.Fork()
		c.run(600, onCurve)
		if math.Abs(c.Flat.Ah()-b.Flat.Ah()) > 0.05*math.Abs(b.Flat.Ah())+0.02 {
			t.Errorf("charged in few steps: %g Ah, in shorter ones %g", c.Flat.Ah(), b.Flat.Ah())
		}
		fine, finer := b.Fork(), b.Fork()
		finer.turn(true)
		want := finer.run(TrySeconds, short(tryFine))
		if got := fine.Crank(TrySeconds); math.Abs(got.RPM-want.RPM) > 0.01*want.RPM+1.5 {
			t.Errorf("cranked: %g turns, in shorter steps %g", got.RPM, want.RPM)
		}
		if got := b.crankQuick(&guess{}); want.RPM > 60 && math.Abs(got.RPM-want.RPM) > 0.08*want.RPM+2 {
			t.Errorf("cranked in few steps: %g turns, in shorter ones %g", got.RPM, want.RPM)
		}
	}
}

// A guess from another circuit changes where the search begins, not where it ends. Of one
// whose volts collapse it says nothing.
func TestGuessChangesNothing(t *testing.T) {
	rng := rand.New(rand.NewPCG(9, 10))
	var near guess
	for range 200 {
		k := anyCircuit(rng)
		fresh := k.Fork().crankQuick(&guess{})
		if got := k.crankQuick(&near); fresh.FlatVolts > 6 && math.Abs(got.RPM-fresh.RPM) > 0.003*fresh.RPM+0.05 ||
			fresh.FlatVolts > 6 && math.Abs(got.StarterAmps-fresh.StarterAmps) > 0.01*fresh.StarterAmps+0.2 {
			t.Fatalf("%+v after another, %+v afresh", got, fresh)
		}
	}
}

// The key, the fork and what is joined: charging turns nothing, one branch of time leaves
// the other alone, and a vehicle by itself cranks on its own battery.
func TestCircuitByItself(t *testing.T) {
	k := someCircuit(t)
	other := k.Fork()
	if m := k.Charge(60); m.RPM != 0 || m.StarterAmps != 0 || m.FlatAmps <= 0 || m.StarterVolts != m.FlatVolts {
		t.Errorf("%+v", m)
	}
	if other.Flat.Ah() != 0 || k.Flat.Ah() <= 0 || other.Giver.Ah() != 0 {
		t.Errorf("%g and %g Ah", other.Flat.Ah(), k.Flat.Ah())
	}
	b := stock[1]
	alone := &Circuit{
		Leads:    math.Inf(1),
		Flat:     b.Join(b.Rested(90, 15), 15),
		FlatLoad: 8,
		Path:     0.002,
		OilC:     15,
		Starter:  k.Starter,
	}
	m := alone.Crank(3)
	if math.Abs(m.StarterAmps+8+m.FlatAmps) > settledAmps || m.RPM < 150 || m.LeadAmps != 0 {
		t.Errorf("%+v", m)
	}
	if m := alone.Charge(10); math.Abs(m.FlatAmps) > settledAmps {
		t.Errorf("nothing gives %+v", m)
	}
}

// More metres, less copper, worse clamps and more cold never help; a better source never
// hurts: over thousands of circuits.
func TestNothingWorseHelps(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 12))
	turns := func(k *Circuit) float64 { return k.Crank(TrySeconds).RPM }
	const slack = 1 // turns a minute, of the search
	for n := range effort.Of(200, 1500, 3000) {
		k := anyCircuit(rng)
		as := turns(k.Fork())
		worse := k.Fork()
		worse.Leads *= 1.3
		better := k.Fork()
		better.Leads *= 0.5
		stiff := k.Fork()
		stiff.OilC -= 8
		if got := turns(worse); got > as+slack {
			t.Fatalf("%d: longer leads turn it at %g instead of %g", n, got, as)
		}
		if got := turns(better); got < as-slack {
			t.Fatalf("%d: twice the copper turns it at %g instead of %g", n, got, as)
		}
		if got := turns(stiff); got > as+slack {
			t.Fatalf("%d: in the cold it turns at %g instead of %g", n, got, as)
		}
		more := k.Fork()
		if more.Maker.Amps > 0 {
			more.Maker.Amps *= 1.5
			more.Maker.Ohms /= 1.5
		} else {
			more.Maker = Alternator(90, IdleRPM, 10, 14.2)
		}
		if got := turns(more); got < as-slack {
			t.Fatalf("%d: a better source turns it at %g instead of %g", n, got, as)
		}
	}
}
