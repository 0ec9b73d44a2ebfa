package charge

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/internal/effort"
)

// hidden is a battery on its charger as it really is, and as a workshop knows it.
type hidden struct {
	known, truth Setup
	offset       float64
	leads        float64
}

// draw makes one, with things wrong that no world of the estimator knows of: the volts
// its charger holds, the ohms of its clamps, the heat it holds and loses, its pores, one
// cell that is a little less than the others.
func draw(t testing.TB, rng *rand.Rand) hidden {
	g := func(spread float64) float64 { return spread * rng.NormFloat64() }
	c := []battery.Chemistry{battery.Flooded, battery.Flooded, battery.FloodedSealed, battery.EFB, battery.AGM}[rng.IntN(5)]
	ah := 20 + 80*rng.Float64()
	b, _, err := battery.FromLabel(c, 6, rating.Label{Ah20h: math.Round(ah)})
	must(t, err)
	temp := 8 + 17*rng.Float64()
	soc := 10 + 55*rng.Float64()
	amps := math.Max(1, math.Round(ah*(0.06+0.14*rng.Float64())))
	charger := SmartAt(amps)
	switch rng.IntN(4) {
	case 0:
		charger = Charger{Kind: Taper, AmpsStart: math.Round(2 * amps), VoltsOpen: 15.5}
	}
	h := hidden{known: Setup{Battery: b, State: b.Rested(soc, temp), Charger: charger, Room: battery.Ambient{Start: temp}, Ready: 75}}
	o := h.known
	d := Usual()
	o.State = b.Rested(clamp(soc+g(4), 2, 95), temp+g(d.TempC))
	o.Battery.Groups[0].Capacity *= math.Exp(g(d.Capacity))
	o.Battery.Acceptance *= math.Exp(g(0.1))
	o.Battery.Gassing *= math.Exp(g(d.Gassing))
	o.Charger = o.Charger.scaled(math.Exp(g(d.Amps)))
	o.Room.Start += g(0.8)
	// Beyond what it knows.
	o.Battery.HeatCapacity *= math.Exp(g(0.15))
	o.Battery.Cooling *= math.Exp(g(0.2))
	o.Battery.PoreShare = clamp(o.Battery.PoreShare*math.Exp(g(0.08)), 0.1, 0.9)
	o.Battery.Ohms *= math.Exp(g(0.2))
	o.Battery = o.Battery.WithCell(battery.Weak(o.Battery.Groups[0].Capacity * (100 - 5*rng.Float64())))
	o.State.Cells[1] = o.State.Cells[0]
	if o.Charger.Kind == Smart {
		o.Charger.Absorption = LimitsOf(c).AbsorptionUsual + g(0.04)
	}
	h.truth, h.offset, h.leads = o, g(0.05), 0.004*rng.Float64()
	return h
}

// look reads the truth as a workshop does: volts to a hundredth with a meter's error,
// amps to a tenth with an ammeter's, and a hand.
func (h hidden) look(t testing.TB, rng *rand.Rand, minutes ...float64) []Check {
	times := make([]float64, len(minutes))
	for i, m := range minutes {
		times[i] = 60 * m
	}
	seen, err := h.truth.at(times, 1e-3)
	must(t, err)
	out := make([]Check, len(minutes))
	for i, x := range seen {
		v := math.Round(100*(x.Volts+h.offset+h.leads*x.Amps+0.015*rng.NormFloat64())) / 100
		a := math.Max(0, math.Round(10*x.Amps*(1+0.03*rng.NormFloat64()))/10)
		w := Cold
		if hand := x.State.TempC + 2*rng.NormFloat64(); hand > hotFromC {
			w = Hot
		} else if hand > warmFromC {
			w = Warm
		}
		out[i] = Check{Minutes: minutes[i], Volts: &v, Amps: &a, Warmth: w}
	}
	return out
}

// After two half-hour checks the forecast of full is within 15 % in nine of ten, no sound
// battery is accused by its third check, and each check leaves less open.
func TestChecksFindTheForecast(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	all, near, accused, narrower := 0, 0, 0, 0
	n := effort.Of(8, 60, 200)
	for range n {
		h := draw(t, rng)
		truth, err := h.truth.run(1e-3, nil)
		must(t, err)
		checks := h.look(t, rng, 30, 60, 90)
		two, err := h.known.Estimate(Usual(), checks[:2])
		must(t, err)
		three, err := h.known.Estimate(Usual(), checks)
		must(t, err)
		if two.Named != "" || three.Named != "" {
			accused++
			t.Logf("accused: %v %v", two.Shares, three.Shares)
		}
		if math.IsInf(truth.full, 1) {
			continue
		}
		after, err := two.Setup.run(bandTolerance, nil)
		must(t, err)
		all++
		if math.Abs(after.full/truth.full-1) < 0.15 {
			near++
		}
		if all%10 == 0 {
			before, after := forecast(t, h.known).Full, fullOf(t, three)
			if before.High != nil && after.High != nil && *after.High-after.Low < *before.High-before.Low {
				narrower++
			}
		}
	}
	if all < n*95/100 || float64(near) < effort.Of(0.8, 0.9, 0.9)*float64(all) || accused > 1 || narrower < all/10-2 {
		t.Errorf("%d of %d within 15 %%, %d accused, %d of %d narrower", near, all, accused, narrower, all/10)
	}
	t.Logf("%d of %d within 15 %%, %d accused", near, all, accused)
}

func fullOf(t testing.TB, e Estimate) *Hours {
	t.Helper()
	f, err := e.Forecast()
	must(t, err)
	if f.Full == nil {
		t.Fatal("it never fills")
	}
	return f.Full
}

// shorted has a cell shorted through some milliohms, and most of its charge gone.
func (h hidden) shorted(rng *rand.Rand) hidden {
	o := &h.truth
	o.Battery.Groups[1].ShortSiemens = 1 / (0.003 * math.Pow(20, rng.Float64()))
	left := 0.6 * rng.Float64()
	o.State.Cells[1].Pore *= left
	o.State.Cells[1].Bulk *= left
	return h
}

// sulphated stood flat for weeks.
func (h hidden) sulphated(rng *rand.Rand) hidden {
	h.truth.State = h.truth.Battery.Rested(2+12*rng.Float64(), h.truth.State.TempC)
	h.known.State = h.known.Battery.Rested(clamp(h.truth.Battery.SOC(h.truth.State)+4*rng.NormFloat64(), 0, 100), h.known.State.TempC)
	for i := range 2 {
		h.truth.State.Cells[i].Sulphate = 0.4 + 0.5*rng.Float64()
	}
	return h
}

func (h hidden) off(*rand.Rand) hidden {
	h.truth.Charger = h.truth.Charger.scaled(1e-9)
	return h
}

func (h hidden) weak(rng *rand.Rand) hidden {
	h.truth.Charger = h.truth.Charger.scaled(0.15 + 0.3*rng.Float64())
	return h
}

// A battery, or a charger, that does not follow is named by the third check in nine of
// ten, and never called another name.
func TestChecksNameFaults(t *testing.T) {
	for name, f := range map[string]func(hidden, *rand.Rand) hidden{Shorted: hidden.shorted, Sulphated: hidden.sulphated, Off: hidden.off,
		Weak: hidden.weak} {
		t.Run(name, func(t *testing.T) {
			rng := rand.New(rand.NewPCG(3, 2))
			n := effort.Of(4, 20, 50)
			named := 0
			for range n {
				h := f(draw(t, rng), rng)
				checks := h.look(t, rng, 30, 60, 90)
				for k := 1; k <= 3; k++ {
					e, err := h.known.Estimate(Usual(), checks[:k])
					must(t, err)
					if e.Named != "" && e.Named != name {
						t.Errorf("%s is called %s: %v", name, e.Named, e.Shares)
					}
					if e.Named == name {
						named++
						break
					}
				}
			}
			if named < n*9/10 {
				t.Errorf("%d of %d named", named, n)
			}
		})
	}
}

// Without a check the estimate is what was thought before.
func TestNoChecks(t *testing.T) {
	s := hung(made(t, battery.Flooded), 30, 20, SmartAt(6))
	e, err := s.Estimate(Usual(), nil)
	must(t, err)
	if e.World != Sound || e.Named != "" || math.Abs(e.Shares[Sound]-0.9) > 0.01 {
		t.Errorf("%+v", e.Shares)
	}
	a, b := hours(t, forecast(t, s).Full), fullOf(t, e).Best
	if math.Abs(a/b-1) > 0.05 {
		t.Errorf("full after %.2f h without checks, %.2f by none", a, b)
	}
}

// By hand: 2 V less than foretold on a charger that gives its amps is a cell less; the
// charger's volts at once and a tenth of its amps is sulphate; no amps and rest volts is
// nothing connected; a third of its amps is a weak charger.
func TestSignsOfFaults(t *testing.T) {
	s := hung(made(t, battery.Flooded), 40, 20, SmartAt(5))
	at := func(minutes, volts, amps float64) Check { return Check{Minutes: minutes, Volts: &volts, Amps: &amps} }
	for want, checks := range map[string][]Check{
		Shorted:   {at(30, 10.9, 5), at(60, 11.0, 5)},
		Sulphated: {at(30, 14.6, 0.2), at(60, 14.6, 0.2)},
		Off:       {at(30, 12.15, 0), at(60, 12.14, 0)},
		Weak:      {at(30, 12.75, 1.6), at(60, 12.78, 1.6)},
		"":        {at(30, 13.05, 5), at(60, 13.1, 5)},
	} {
		e, err := s.Estimate(Usual(), checks)
		must(t, err)
		if e.Named != want {
			t.Errorf("%q named %q: %v", want, e.Named, e.Shares)
		}
	}
	// One slip of the finger accuses nobody: 12.02 for 13.02 between two good looks.
	e, err := s.Estimate(Usual(), []Check{at(30, 13.02, 5), at(60, 12.07, 5), at(90, 13.12, 5)})
	must(t, err)
	if e.Named != "" {
		t.Errorf("a slip named %s: %v", e.Named, e.Shares)
	}
}

// Each sign has its sentence and what to do now; heat goes before everything.
func TestFollow(t *testing.T) {
	s := hung(made(t, battery.Flooded), 40, 20, SmartAt(5))
	at := func(minutes, volts, amps float64, warmth string) Check {
		return Check{Minutes: minutes, Volts: &volts, Amps: &amps, Warmth: warmth}
	}
	hot := HotC
	for _, c := range []struct {
		code, sign string
		checks     []Check
	}{
		{Sound, "ok", []Check{at(30, 13.02, 5, Cold)}},
		{Shorted, "stop", []Check{at(30, 10.9, 5, Warm), at(60, 11.0, 5, Warm)}},
		{HotNow, "stop", []Check{at(30, 10.9, 5, Warm), at(60, 11.0, 5, Hot)}},
		{HotNow, "stop", []Check{{Minutes: 30, TempC: &hot}}},
		{Sulphated, "note", []Check{at(30, 14.6, 0.2, Cold), at(60, 14.6, 0.2, Cold)}},
		{Off, "act", []Check{at(30, 12.15, 0, Cold)}},
		{Weak, "act", []Check{at(30, 12.75, 1.6, Cold), at(60, 12.78, 1.6, Cold)}},
		{FullNow, "ok", []Check{at(600, 14.6, 0.4, Cold)}},
	} {
		e, err := s.Estimate(Usual(), c.checks)
		must(t, err)
		f, err := e.Forecast()
		must(t, err)
		got := e.Follow(f, c.checks[len(c.checks)-1])
		if got.Code != c.code || got.Sign != c.sign || got.Text.IsZero() || strings.ContainsAny(got.Text.String()+got.Do.String(), "{}") ||
			got.Do.IsZero() != (c.code == Sound) {
			t.Errorf("%s: %s %s “%s” “%s” %v", c.code, got.Code, got.Sign, got.Text, got.Do, e.Shares)
		}
	}
	cooler := HotC - 0.1
	e, err := s.Estimate(Usual(), []Check{{Minutes: 30, TempC: &cooler}})
	must(t, err)
	if got := e.Follow(Forecast{}, Check{Minutes: 30, TempC: &cooler}); got.Code == HotNow {
		t.Error("a tenth under the limit is too hot")
	}
	// Suspected, not sure.
	e.World, e.Named = Shorted, ""
	if got := e.Follow(Forecast{}, at(30, 12, 5, Cold)); got.Code != Unsure || got.Sign != "act" {
		t.Errorf("a suspicion: %+v", got)
	}
}

// A charger leaves absorption by rules of its own: one that holds it for hours, and one
// that floats early, accuse no battery.
func TestChargersHaveTheirOwnMind(t *testing.T) {
	s := hung(made(t, battery.Flooded), 60, 20, SmartAt(5))
	at := func(minutes, volts, amps float64) Check { return Check{Minutes: minutes, Volts: &volts, Amps: &amps} }
	for name, checks := range map[string][]Check{
		"holds": {at(300, 14.6, 1.1), at(600, 14.6, 0.4), at(900, 14.59, 0.25)},
		"early": {at(60, 13.3, 5), at(180, 14.6, 3.5), at(300, 13.42, 0.5), at(420, 13.4, 0.3)},
		"late":  {at(180, 14.6, 3.4), at(600, 14.6, 0.4), at(720, 13.4, 0.15)},
	} {
		for k := effort.Of(len(checks), 1, 1); k <= len(checks); k++ {
			e, err := s.Estimate(Usual(), checks[:k])
			must(t, err)
			if e.World != Sound {
				t.Errorf("%s, %d checks: %v", name, k, e.Shares)
			}
		}
	}
	if m := s.minded([]Check{at(60, 13.4, 5)}); m.Floats != 0 || m.Held != 0 {
		t.Errorf("13.4 V on the way up is no float: %+v", m)
	}
	taper := s
	taper.Charger = Charger{Kind: Taper, AmpsStart: 10}
	if m := taper.minded([]Check{at(60, 13.4, 0.1)}); m.Floats != 0 {
		t.Error("a taper charger floats")
	}
}

// What is not sure is not said: between a sound battery and a shorted one lie looks that
// leave it open.
func TestSuspicionIsNotAName(t *testing.T) {
	s := hung(made(t, battery.Flooded), 40, 20, SmartAt(5))
	open, named := 0, 0
	for volts := 12.2; volts < 12.6; volts += effort.Of(0.05, 0.02, 0.01) {
		amps, first := 5.0, volts-0.02
		e, err := s.Estimate(Usual(), []Check{{Minutes: 30, Volts: &first, Amps: &amps}, {Minutes: 60, Volts: &volts, Amps: &amps}})
		must(t, err)
		share := e.Shares[e.World]
		switch {
		case e.World != Sound && share < 0.97:
			if open++; e.Named != "" {
				t.Errorf("%.2f V is named %s at %.2f", volts, e.Named, share)
			}
		case e.World != Sound:
			if named++; e.Named == "" {
				t.Errorf("%.2f V is not named at %.3f", volts, share)
			}
		}
	}
	if open == 0 || named == 0 {
		t.Errorf("%d looks open, %d named", open, named)
	}
	// That volts stall nobody sees from one look, unless it lies a whole cell short.
	for volts, want := range map[float64]string{11.24: Shorted, 11.26: ""} {
		amps := 5.0
		e, err := s.Estimate(Usual(), []Check{{Minutes: 30, Volts: &volts, Amps: &amps}})
		must(t, err)
		if e.World != Shorted || e.Named != want {
			t.Errorf("one look at %.2f V: %s, named %q", volts, e.World, e.Named)
		}
	}
}

// A charge that was misread, by three times what it usually lies off, accuses nobody: after
// a few looks the forecast follows the battery.
func TestMisreadCharge(t *testing.T) {
	for _, c := range []struct{ thought, really float64 }{{26, 42}, {60, 42}, {35, 60}, {50, 30}, {25, 55}, {70, 40}, {20, 55}, {60, 25}}[:effort.Of(2, 8, 8)] {
		b := made(t, battery.Flooded)
		known := hung(b, c.thought, 15, SmartAt(4))
		truth := hung(b, c.really, 15, SmartAt(4))
		ends, err := truth.run(1e-3, nil)
		must(t, err)
		times := []float64{1800, 3600, 5400, 7200}
		seen, err := truth.at(times, 1e-3)
		must(t, err)
		var checks []Check
		for i, x := range seen {
			volts, amps := math.Round(10*x.Volts)/10, math.Round(10*x.Amps)/10
			checks = append(checks, Check{Minutes: times[i] / 60, Volts: &volts, Amps: &amps, Warmth: Cold})
			e, err := known.Estimate(Usual(), checks)
			must(t, err)
			if e.Named != "" {
				t.Errorf("thought %g %%, really %g: %s is named after %d looks: %v", c.thought, c.really, e.Named, i+1, e.Shares)
			}
			if f := fullOf(t, e); i == len(times)-1 && math.Abs(f.Best/(ends.full/3600)-1) > 0.2 {
				t.Errorf("thought %g %%, really %g: full after %.1f h, really %.1f", c.thought, c.really, f.Best, ends.full/3600)
			}
		}
	}
}

// A charger without regulation that refuses to reach its plate's volts accuses nobody: a
// flat battery that takes nothing yet is at whatever that charger reaches. What takes its
// amps says nothing of it, and a taper charger's volts are in its amps.
func TestUnregulatedVolts(t *testing.T) {
	b := made(t, battery.Flooded)
	flat := hung(b, 3, 15, Charger{Kind: Manual, Amps: 3, VoltsOpen: 17})
	at := func(volts, amps float64) Check { return Check{Minutes: 40, Volts: &volts, Amps: &amps} }
	for volts, hard := range map[float64]float64{15.7: 0.35, 16.3: 0.35, 16.9: 0.6} {
		e, err := flat.Hard(hard).Estimate(Usual(), []Check{at(volts, 0.1)})
		must(t, err)
		if e.World != Sound && e.World != Sulphated {
			t.Errorf("at %g V without amps: %v", volts, e.Shares)
		}
		f, err := e.Forecast()
		must(t, err)
		if follows := e.Follow(f, at(volts, 0.1)); follows.Code != Sulphated {
			t.Errorf("at %g V without amps: %+v", volts, follows)
		}
	}
	for _, c := range []struct {
		kind        Kind
		volts, amps float64
		open        float64
	}{{Manual, 15.61, 1.4, 15.61}, {Manual, 15.59, 1.4, 17}, {Manual, 16, 1.5, 17}, {Manual, 16, 1.49, 16}, {Trickle, 16, 0.1, 16}, {Taper, 16, 0.1, 17}} {
		m := hung(b, 50, 15, Charger{Kind: c.kind, Amps: 3, AmpsStart: 3, VoltsOpen: 17}).minded([]Check{at(c.volts, c.amps)})
		if m.Charger.VoltsOpen != c.open {
			t.Errorf("%s at %g V and %g A reaches %g V, want %g", c.kind, c.volts, c.amps, m.Charger.VoltsOpen, c.open)
		}
	}
	low := hung(b, 50, 15, Charger{Kind: Manual, Amps: 3, Setting: LowMaintenance, VoltsLow: 17.2}).minded([]Check{at(16, 0.1)})
	if low.Charger.VoltsLow != 16 {
		t.Errorf("%+v", low.Charger)
	}
}

// Late in a charge, at the charger's volts, the amps tell what a battery takes.
func TestAmpsTellAcceptance(t *testing.T) {
	s := hung(made(t, battery.Flooded), 40, 20, SmartAt(8))
	for _, part := range []float64{0.75, 1.3} {
		truth := s
		truth.Battery.Acceptance *= part
		times := []float64{3 * 3600, 3.5 * 3600, 4 * 3600}
		seen, err := truth.at(times, 1e-3)
		must(t, err)
		var checks []Check
		for i, x := range seen {
			checks = append(checks, Check{Minutes: times[i] / 60, Volts: &x.Volts, Amps: &x.Amps})
		}
		e, err := s.Estimate(Usual(), checks)
		must(t, err)
		if got := e.Setup.Battery.Acceptance; math.Log(got)/math.Log(part) < 0.3 || math.Log(got)/math.Log(part) > 1.2 {
			t.Errorf("it takes %.2f of the usual, found %.2f", part, got)
		}
	}
}

// The directions of what is left open make up the inverse of the precision: by hand, of
// [[4, 2], [2, 3]] that is [[3, −2], [−2, 4]]/8.
func TestWhatIsLeftOpen(t *testing.T) {
	var a [most][most]float64
	a[0][0], a[1][0], a[1][1] = 4, 2, 3
	f := fitted{n: 2, chol: triangle(a, 2, 0)}
	var sum [2][2]float64
	for _, x := range f.open() {
		for i := range 2 {
			for j := range 2 {
				sum[i][j] += x[i] * x[j]
			}
		}
	}
	for i, row := range [2][2]float64{{3. / 8, -2. / 8}, {-2. / 8, 4. / 8}} {
		for j, want := range row {
			if math.Abs(sum[i][j]-want) > 1e-12 {
				t.Errorf("%d, %d: %g, by hand %g", i, j, sum[i][j], want)
			}
		}
	}
	if x := backward(f.chol, 2, [most]float64{8, 8}); math.Abs(x[0]-1) > 1e-12 || math.Abs(x[1]-2) > 1e-12 {
		t.Errorf("%v, by hand 1 and 2", x[:2])
	}
}

// The hand is a thermometer of three marks: each counts against what is foretold only on
// its wrong side.
func TestWarmthToTheHand(t *testing.T) {
	gap := func(word string, temp float64) float64 {
		out := Check{Warmth: word}.gaps(nil, battery.Sample{State: battery.State{TempC: temp}}, 0)
		return out[0]
	}
	for _, c := range []struct {
		word string
		temp float64
		sign float64
	}{{Cold, 29.9, 0}, {Cold, 30.1, 1}, {Warm, 29.9, -1}, {Warm, 30.1, 0}, {Warm, 47.9, 0}, {Warm, 48.1, 1}, {Hot, 47.9, -1}, {Hot, 48.1, 0}} {
		if g := gap(c.word, c.temp); math.Signbit(g) != (c.sign < 0) && g != 0 || (g == 0) != (c.sign == 0) {
			t.Errorf("%s at %g °C: %g", c.word, c.temp, g)
		}
	}
	if out := (Check{}).gaps(nil, battery.Sample{}, 0); len(out) != 0 {
		t.Errorf("a look at nothing says %v", out)
	}
}

func BenchmarkEstimate(b *testing.B) {
	rng := rand.New(rand.NewPCG(1, 2))
	h := draw(b, rng)
	for _, n := range []int{2, 8} {
		var minutes []float64
		for i := range n {
			minutes = append(minutes, float64(30*(i+1)))
		}
		checks := h.look(b, rng, minutes...)
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			for b.Loop() {
				e, err := h.known.Estimate(Usual(), checks)
				must(b, err)
				_, err = e.Forecast()
				must(b, err)
			}
		})
	}
}

// A look that lies far from its forecast is told of, whatever is thought of the battery;
// from both sides of what is no slip any more.
func TestStrays(t *testing.T) {
	b := made(t, battery.Flooded)
	now := Instant{Volts: 13.4, Amps: 5}
	for _, c := range []struct {
		volts, amps float64
		far         bool
	}{{13.4, 5, false}, {13.79, 5, false}, {13.81, 5, true}, {13.01, 5, false}, {12.99, 5, true}, {13.4, 7.4, false}, {13.4, 7.6, true}, {13.4, 2.6, false}, {13.4, 2.4, true}} {
		if got := strays(now, Check{Volts: &c.volts, Amps: &c.amps}, b); got != c.far {
			t.Errorf("%g V, %g A: %t", c.volts, c.amps, got)
		}
	}
	if strays(now, Check{Warmth: Cold}, b) {
		t.Error("a hand alone strays")
	}
	s := hung(b, 40, 20, SmartAt(5))
	good, odd, amps := 13.0, 11.0, 5.0
	looks := []Check{{Minutes: 30, Volts: &good, Amps: &amps}, {Minutes: 60, Volts: &odd, Amps: &amps}}
	e, err := s.Estimate(Usual(), looks)
	must(t, err)
	f, err := e.Forecast()
	must(t, err)
	if got := e.Follow(f, looks[1]); got.Code == Sound || got.Do.IsZero() {
		t.Errorf("two volts lost between two looks: %+v %v", got, e.Shares)
	}
	if e, err = s.Estimate(Usual(), looks[:1]); e.World != Sound {
		t.Fatal(e.Shares, err)
	}
	f, err = e.Forecast()
	must(t, err)
	if good, odd := e.Follow(f, looks[0]), e.Follow(f, looks[1]); good.Code != Sound || odd.Code != Unsure {
		t.Errorf("%+v, %+v", good, odd)
	}
}
