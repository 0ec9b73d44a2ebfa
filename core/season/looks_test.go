package season

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/reading/readingtest"
)

// A battery that loses otherwise than was thought is known by its looks: where a true one is
// let stand and read every three weeks, the drain comes out within a tenth, the band narrows
// and the true charge lies in it.
func TestLooksAreLearntFrom(t *testing.T) {
	rnd := rand.New(rand.NewPCG(15, 5))
	for _, truth := range []struct{ self, drain float64 }{{1, 1}, {1, 2.2}, {2, 1}, {0.6, 0.5}, {1.5, 3}} {
		r := ask(
			t,
			`"vehicle":{"class":"mower"},"battery":{"chemistry":"flooded","rating":{"cca":300,"ah_20h":28}},"start":{"soc_pct":98},
			"from":"2026-09-01","to":"2027-01-15","place":{"climate":"coast"},"at_hand":["mains"],"way":"connected"`,
		)
		typical := 4.0
		p, err := r.planner(readingtest.Labels)
		if err != nil {
			t.Fatal(err)
		}
		p.s.drain = typical
		// The path of the true battery, and what a meter shows of it.
		k := keeping{clamped: true}
		way := p.s.run(&k, doubted{0, math.Log(truth.self), math.Log(truth.drain)}, 0)
		r.Today = "2026-11-03"
		for day := 21; day <= 63; day += 21 {
			v := battery.RestVolts("flooded", 6, way.soc[day], p.s.days[day].mean) + 0.008*rnd.NormFloat64()
			c := p.s.days[day].mean
			r.Looks = append(r.Looks, Look{Date: p.s.days[day].at.Format("2006-01-02"), RestVolts: &v, BatteryC: &c})
		}
		before := p.judged(Connected, k, p.prior)
		q, err := r.planner(readingtest.Labels)
		if err != nil {
			t.Fatal(err)
		}
		q.s.drain = typical
		learnt := q.s.learn(q.prior, &k, q.looks)
		after := q.judged(Connected, k, learnt)
		last := 90
		if a, b := after.Days[last].SOCHigh-after.Days[last].SOCLow, before.Days[last].SOCHigh-before.Days[last].SOCLow; a >= 0.8*b &&
			b > 5 {
			t.Errorf("%+v: the band is %.1f wide, before %.1f", truth, a, b)
		}
		if d := after.Days[last]; way.soc[last] < d.SOCLow-1.5 || way.soc[last] > d.SOCHigh+1.5 {
			t.Errorf(
				"%+v: on day %d it is at %.1f, thought %.1f to %.1f",
				truth,
				last,
				way.soc[last],
				d.SOCLow,
				d.SOCHigh,
			)
		}
		if off := math.Abs(after.Days[last].SOC - way.soc[last]); off > 6 {
			t.Errorf("%+v: on day %d thought %.1f, true %.1f", truth, last, after.Days[last].SOC, way.soc[last])
		}
	}
}

// A look that shows what was expected changes nothing but the doubt; one that was charged
// begins anew; one that only says so counts from then on.
func TestExpectedLook(t *testing.T) {
	r := example(t)
	base := planOf(t, r).of(t, Disconnected)
	r.Way, r.Today = Disconnected, base.Days[60].Date
	soc := base.Days[60].SOC
	r.Looks = []Look{{Date: r.Today, SOCPct: &soc}}
	p := planOf(t, r)
	w := p.of(t, Disconnected)
	if off := math.Abs(w.SOCEnd.Best - base.SOCEnd.Best); off > 0.8 {
		t.Errorf("an expected look moves the end by %.1f %%", off)
	}
	if w.SOCEnd.High-w.SOCEnd.Low >= base.SOCEnd.High-base.SOCEnd.Low {
		t.Error("an expected look leaves the band as wide")
	}
	if len(p.Before) != len(w.Days) || p.Before[100].SOC != base.Days[100].SOC {
		t.Error("the plan before the looks is not the one without them")
	}
	// A lower one moves it down, a higher one up.
	for _, off := range []float64{-15, 10} {
		at := max(0, min(100, soc+off))
		r.Looks[0].SOCPct = &at
		if end := planOf(t, r).of(t, Disconnected).SOCEnd.Best; (end < w.SOCEnd.Best) != (off < 0) {
			t.Errorf("%g %% off: the end is at %.1f, else %.1f", off, end, w.SOCEnd.Best)
		}
	}
	r.Looks[0] = Look{Date: r.Today, Charged: true}
	full := planOf(t, r).of(t, Disconnected)
	if full.Days[59].SOC != base.Days[59].SOC || full.Days[60].SOC < 99.5 {
		t.Errorf("charged on day 60: %.1f, before %.1f", full.Days[60].SOC, full.Days[59].SOC)
	}
	if p := planOf(t, r); p.Before != nil {
		t.Error("a charge alone tells nothing of what it loses")
	}
}

// What is fed hides what it loses: a look stands from then on, and a plug pulled is seen.
func TestFedLooks(t *testing.T) {
	r := example(t)
	r.Way, r.Today = Maintained, "2026-12-15"
	low := 70.0
	r.Looks = []Look{{Date: r.Today, SOCPct: &low}}
	w := planOf(t, r).of(t, Maintained)
	day := daysTo(w, r.Today)
	if w.Days[day-1].SOC != 100 || w.Days[day].SOC != 70 || w.Days[day+1].SOC < 70 || w.Days[day+30].SOC != 100 {
		t.Errorf("before %.1f, after %.1f, a month on %.1f", w.Days[day-1].SOC, w.Days[day+1].SOC, w.Days[day+30].SOC)
	}
	drove := car(t, steady(5, 0), 15, 80, `,"way":"drive_every","today":"2026-11-20"`)
	drove.Looks = []Look{{Date: "2026-11-08", DriveMin: 60}}
	a := planOf(t, drove).of(t, DriveEvery)
	if a.Days[7].SOC <= a.Days[6].SOC {
		t.Errorf("driven on the 8th: %.2f, the day before %.2f", a.Days[7].SOC, a.Days[6].SOC)
	}
	// A drive that was missed is not counted: until today it only falls, and today it is due.
	for i := 7; i < 18; i++ {
		if a.Days[i+1].SOC > a.Days[i].SOC {
			t.Errorf("%s: it rises though nobody drove it", a.Days[i+1].Date)
		}
	}
	if a.Needs[0].Date < "2026-11-15" {
		t.Errorf("next drive: %+v", a.Needs[0])
	}
}

// Looks in any number and of any kind never break a plan.
func TestStrangeLooks(t *testing.T) {
	rnd := rand.New(rand.NewPCG(15, 6))
	for range 40 {
		r := anything(t, rnd)
		r.Way = []string{Connected, Disconnected, ChargeEvery, Maintained, BySun, TakenIn}[rnd.IntN(6)]
		from := date(r.From)
		for day := 0; day < 30; day += rnd.IntN(9) {
			v := 15.9 * rnd.Float64() * float64(r.volts()) / 12
			r.Looks = append(
				r.Looks,
				Look{Date: from.AddDate(0, 0, day).Format("2006-01-02"), RestVolts: &v, Charged: rnd.IntN(3) == 0},
			)
			if on := r.Looks[len(r.Looks)-1].Date; on >= r.To || len(r.Looks) > 20 {
				break
			}
		}
		r.Today = from.AddDate(0, 0, 31).Format("2006-01-02")
		p := planOf(t, r)
		for _, w := range p.Ways {
			for _, d := range w.Days {
				if !(d.SOCLow >= 0 && d.SOCLow <= d.SOC && d.SOC <= d.SOCHigh && d.SOCHigh <= 100) {
					t.Fatalf("%s: %+v of %s", w.Way, d, fmt.Sprint(r.Looks))
				}
			}
		}
		if p.Drain.Milliamps.Best < 0 || math.IsNaN(p.Drain.SelfMonth.High) || math.IsInf(p.Drain.SelfMonth.High, 0) {
			t.Fatalf("%+v", p.Drain)
		}
	}
}
