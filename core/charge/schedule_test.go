package charge

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"grapnel/internal/effort"
)

// randomBank is some batteries and chargers: some not warm yet, some promised, some that
// must not hang everywhere.
func randomBank(rng *rand.Rand, batteries, places int) ([]Waiting, []Place) {
	var all []Waiting
	size := make([]float64, places)
	for p := range size {
		size[p] = 2 + 18*rng.Float64()
	}
	for range batteries {
		w := Waiting{Due: never, After: 15}
		if rng.IntN(3) == 0 {
			w.From = 300 * rng.Float64()
		}
		if rng.IntN(4) > 0 {
			w.Due = 1800 * rng.Float64()
		}
		ah := 10 + 80*rng.Float64()
		for p := range size {
			m := 60 * ah / size[p]
			if rng.IntN(6) == 0 {
				m = never
			}
			w.Takes = append(w.Takes, m)
		}
		all = append(all, w)
	}
	var out []Place
	for range places {
		p := Place{}
		if rng.IntN(2) == 0 {
			p.Free = 400 * rng.Float64()
		}
		out = append(out, p)
	}
	return all, out
}

// compared tells whether a plan is better than another: promises, lateness, then the sum
// of the minutes at which each is off.
func compared(all []Waiting, a, b BankPlan) int {
	sum := func(p BankPlan) (s float64) {
		for _, h := range p.Hangs {
			s += h.To
		}
		return s
	}
	return cmp.Or(cmp.Compare(b.Kept, a.Kept), near(a.Late, b.Late), near(sum(a), sum(b)))
}

// valid fails on a plan that cannot be done.
func valid(t *testing.T, all []Waiting, places []Place, p BankPlan) {
	t.Helper()
	seen := map[int]bool{}
	free := make([]float64, len(places))
	for i := range places {
		free[i] = places[i].Free
	}
	for _, h := range p.Hangs {
		w := all[h.Battery]
		if seen[h.Battery] || h.From < free[h.Place]-1e-9 || h.From < w.From-1e-9 || math.Abs(h.To-h.From-w.Takes[h.Place]) > 1e-9 ||
			math.Abs(h.Late-max(0, h.To+w.After-w.Due)) > 1e-6 {
			t.Fatalf("%+v of %+v, charger free from %g", h, w, free[h.Place])
		}
		seen[h.Battery] = true
		free[h.Place] = h.To
	}
	for _, i := range p.Left {
		if seen[i] || !math.IsInf(least(all[i].Takes), 1) {
			t.Fatalf("battery %d is left", i)
		}
		seen[i] = true
	}
	if len(seen) != len(all) {
		t.Fatalf("%d of %d batteries in the plan", len(seen), len(all))
	}
}

// Over thousands of banks a proposal is never worse than first come, first served, and
// most are better.
func TestScheduleAgainstFirstCome(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 9))
	better, all := 0, 0
	for range effort.Of(500, 3000, 3000) {
		waiting, places := randomBank(rng, 1+rng.IntN(14), 1+rng.IntN(5))
		p, first := Schedule(waiting, places), FirstCome(waiting, places)
		valid(t, waiting, places, p)
		valid(t, waiting, places, first)
		switch c := compared(waiting, p, first); {
		case c > 0:
			t.Fatalf("%d kept and %.0f min late, first come %d and %.0f", p.Kept, p.Late, first.Kept, first.Late)
		case c < 0:
			better++
		}
		all++
	}
	if better < all/2 {
		t.Errorf("better in %d of %d", better, all)
	}
}

// every goes through every order of batteries over every place: all cuts of all orders.
func every(all []Waiting, places []Place, see func(BankPlan)) {
	var fits []int
	for i, w := range all {
		if !math.IsInf(least(w.Takes), 1) {
			fits = append(fits, i)
		}
	}
	rows := make([][]int, len(places))
	var put func(k int)
	put = func(k int) {
		if k == len(fits) {
			var order []int
			chosen := make([]int, len(all))
			for p, row := range rows {
				order = append(order, row...)
				for _, i := range row {
					chosen[i] = p
				}
			}
			see(Ordered(all, places, order, chosen))
			return
		}
		for p := range rows {
			if math.IsInf(all[fits[k]].Takes[p], 1) {
				continue
			}
			for j := 0; j <= len(rows[p]); j++ {
				was := rows[p]
				rows[p] = slices.Insert(slices.Clone(was), j, fits[k])
				put(k + 1)
				rows[p] = was
			}
		}
	}
	put(0)
}

// Small banks are as good as the best of all orders; larger ones, in all of a few
// hundred, as good or nearly.
func TestScheduleAgainstBruteForce(t *testing.T) {
	rng := rand.New(rand.NewPCG(2, 9))
	for range effort.Of(8, 60, 60) {
		waiting, places := randomBank(rng, 1+rng.IntN(5), 1+rng.IntN(3))
		p := Schedule(waiting, places)
		every(waiting, places, func(other BankPlan) {
			if compared(waiting, other, p) < 0 {
				t.Fatalf("%+v is better than %+v", other, p)
			}
		})
	}
	// Beyond what is tried exactly: seven batteries on two chargers, against all orders.
	missed := 0
	for range 12 {
		waiting, places := randomBank(rng, 7, 2)
		p := Schedule(waiting, places)
		best := p
		every(waiting, places, func(other BankPlan) {
			if compared(waiting, other, best) < 0 {
				best = other
			}
		})
		if best.Kept > p.Kept+1 {
			t.Errorf("%d promises kept, %d could be", p.Kept, best.Kept)
		}
		if compared(waiting, best, p) < 0 {
			missed++
		}
	}
	if missed > 4 {
		t.Errorf("%d of 12 were not the best", missed)
	}
}

// By hand: one charger, two batteries of three hours. The one promised for noon goes
// first though it came second, and both promises are kept.
func TestScheduleByHand(t *testing.T) {
	waiting := []Waiting{{Due: 480, Takes: []float64{180}}, {Due: 200, Takes: []float64{180}}}
	p := Schedule(waiting, []Place{{}})
	if p.Kept != 2 || p.Late != 0 || p.Hangs[0].Battery != 1 || p.Hangs[1].From != 180 || p.Done != 360 {
		t.Errorf("%+v", p)
	}
	if first := FirstCome(waiting, []Place{{}}); first.Kept != 1 || first.Late != 160 {
		t.Errorf("first come: %+v", first)
	}
	// One that is cold till later lets another go before it, on a charger that is free at
	// 60; the work after the charge counts for the promise.
	waiting = []Waiting{{From: 300, Due: 540, After: 60, Takes: []float64{180}}, {Due: never, Takes: []float64{200}}}
	p = Schedule(waiting, []Place{{Free: 60}})
	if p.Kept != 1 || p.Hangs[0].Battery != 1 || p.Hangs[1].From != 300 || p.Hangs[1].To != 480 || p.Hangs[1].Late != 0 {
		t.Errorf("%+v", p)
	}
	// A minute less and it is late by a minute.
	waiting[0].Due = 539
	if p := Schedule(waiting, []Place{{Free: 60}}); p.Kept != 0 || p.Late != 1 {
		t.Errorf("%+v", p)
	}
	if p := Schedule(nil, nil); len(p.Hangs) != 0 || len(p.Left) != 0 {
		t.Errorf("nothing: %+v", p)
	}
	if p := Schedule([]Waiting{{Due: 5, Takes: nil}}, nil); len(p.Left) != 1 {
		t.Errorf("no charger: %+v", p)
	}
}

func BenchmarkSchedule(b *testing.B) {
	waiting, places := randomBank(rand.New(rand.NewPCG(4, 4)), 100, 20)
	for b.Loop() {
		Schedule(waiting, places)
	}
}
