package battery

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"
)

// follow puts a battery across volts behind ohms in stretches that grow by a part, up to a
// most.
func follow(j *Joined, volts, ohms, long, grow, most float64) (amps float64) {
	at, step := 0.0, 0.01
	for at < long {
		h := min(step, most, long-at)
		amps, _ = j.Takes(volts, ohms, h)
		j.Go(h)
		at += h
		step *= 1 + grow
	}
	return amps
}

// Volts behind ohms, in stretches, end where Run ends, on charge and under load, cold and
// warm, with every fault. In fine stretches volts at the posts are within 0.1 %, charge
// within 0.1 % and warmth within a tenth of a degree; in those a circuit takes, half a
// second for a try and half a minute on charge, volts within half a percent and charge
// within 0.3 %. It is asked as far as the battery holds 8 V: below that it is finished
// within the second.
func TestJoinedFollowsRun(t *testing.T) {
	asked := 0
	for name, b := range map[string]Battery{"sound": car(t, Flooded), "glass mat": car(t, AGM), "wreck": wreck(t),
		"dirty lid": car(t, Flooded).Leaking(40)} {
		for _, soc := range []float64{5, 40, 95} {
			for _, temp := range []float64{-18, 0, 25} {
				for _, c := range []struct{ volts, ohms float64 }{{0, 0.025}, {0, 0.08}, {0, 0.6}, {11.8, 0.02},
					{14.4, 0.01}, {14.4, 0.1}, {40, 3}} {
					long, most := 10.0, 0.5
					if c.volts > 0 || c.ohms > 0.1 {
						long, most = 900, 30
					}
					from := b.Rested(soc, temp)
					sign := 1.0
					if c.volts < 12 {
						sign = -1
					}
					want, err := b.Run(
						from,
						Duty{
							Source:  Source{Amps: math.Inf(int(sign)), Volts: c.volts, Ohms: c.ohms},
							Ambient: Ambient{Start: temp},
							Seconds: long,
						},
					)
					if err != nil || want.Volts < 8 || want.Volts > 17 || sign*want.Amps < 0.1 {
						continue
					}
					asked++
					for _, s := range []struct {
						grow, most, volts, soc, temp float64
					}{{0.02, most / 10, 1e-3, 0.1, 0.1}, {0.5, most, 5e-3, 0.3, 0.4}} {
						j := b.Join(from, temp)
						amps := follow(j, c.volts, c.ohms, long, s.grow, s.most)
						label := fmt.Sprintf("%s, %g %%, %g °C, %g V behind %g Ω, %g s", name, soc, temp, c.volts, c.ohms, s.most)
						near(t, label+": volts", c.volts-amps*c.ohms, want.Volts, s.volts*want.Volts)
						near(t, label+": charge", j.SOC(), want.SOC, s.soc)
						near(t, label+": °C", j.TempC(), want.State.TempC, s.temp)
					}
				}
			}
		}
	}
	if asked < 150 {
		t.Errorf("only %d were asked", asked)
	}
}

// What it answers to another volt is what it says, within a tenth: it only has to lead a
// search. On every side, and in stretches of all lengths.
func TestJoinedAnswersItsSiemens(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	for _, b := range []Battery{car(t, Flooded), car(t, Gel), wreck(t)} {
		for range 2000 {
			j := b.Join(b.Rested(15+85*rng.Float64(), -30+60*rng.Float64()), 10)
			volts, ohms, dt := 8+7*rng.Float64(), 0.01*rng.Float64(), math.Pow(10, -2+4*rng.Float64())
			amps, siemens := j.Fork().Takes(volts, ohms, dt)
			if math.Abs(amps) < 1 || amps < 0 && dt > 10 || amps*dt > 0.02*b.Coulombs {
				continue
			}
			up, _ := j.Fork().Takes(volts+0.01, ohms, dt)
			down, _ := j.Fork().Takes(volts-0.01, ohms, dt)
			if by := (up - down) / 0.02; math.Abs(by-siemens) > 0.1*by+0.5 {
				t.Fatalf("%g V behind %g Ω for %g s: %g S, by difference %g (%g A)", volts, ohms, dt, siemens, by, amps)
			}
			if up < down {
				t.Fatalf("more volts give fewer amps, %g and %g", down, up)
			}
		}
	}
}

// Two alike side by side are one of twice the size, two in a row one of twice the volts:
// half the current through each, and the sum of their volts.
func TestTimesAndChain(t *testing.T) {
	b := wreck(t)
	from := b.Rested(70, 5)
	one := b.Join(from, 5)
	pair, row := b.Times(2), b.Chain(2)
	two, chain := pair.Join(pair.Rested(70, 5), 5), row.Join(row.Rested(70, 5), 5)
	for range 20 {
		a, _ := one.Takes(10.5, 0.002, 0.5)
		one.Go(0.5)
		p, _ := two.Takes(10.5, 0.001, 0.5)
		two.Go(0.5)
		c, _ := chain.Takes(21, 0.004, 0.5)
		chain.Go(0.5)
		near(t, "side by side", p, 2*a, 0.02)
		near(t, "in a row", c, a, 0.01)
	}
	near(t, "°C", two.TempC(), one.TempC(), 1e-3)
	near(t, "°C in a row", chain.TempC(), one.TempC(), 1e-3)
	if pair.CCA != 2*b.CCA || row.Cells() != 2*b.Cells() {
		t.Errorf("%g CCA, %d cells", pair.CCA, row.Cells())
	}
	near(t, "leak", pair.LidSiemens, 2*b.LidSiemens, 1e-12)
	near(t, "leak in a row", row.LidSiemens, b.LidSiemens/2, 1e-12)
}

// One goes on, the other stands where it was; and its state is what Run goes on from.
func TestForkAndState(t *testing.T) {
	b := car(t, Flooded)
	j := b.Join(b.Rested(60, 10), 10)
	other := j.Fork()
	near(t, "open", j.Open(), RestVolts(Flooded, 6, 60, 10), 1e-3)
	amps, _ := j.Takes(11, 0, 5)
	j.Go(5)
	if amps >= 0 || other.SOC() != 60 || j.SOC() >= 60 || other.Ah() != 0 || math.Abs(j.Ah()-5*amps/3600) > 1e-9 {
		t.Errorf("%g and %g %%, %g and %g Ah", j.SOC(), other.SOC(), j.Ah(), other.Ah())
	}
	near(t, "its own charge", b.SOC(j.State()), j.SOC(), 1e-9)
	if s := j.State(); s.TempC != j.TempC() || s.Cells[0].Polarisation >= 0 {
		t.Errorf("%+v", s)
	}
}

func BenchmarkJoinedStep(b *testing.B) {
	bat := car(b, Flooded)
	j := bat.Join(bat.Rested(80, 0), 0)
	for b.Loop() {
		j.Fork().Takes(10.5, 0, 0.3)
	}
}
