package register

import (
	"math"
	"strings"
	"testing"
	"time"

	"grapnel/core/assess"
	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/climate"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/station"
)

var today = time.Date(2026, 9, 7, 9, 0, 0, 0, time.UTC) // a Monday

func ago(months int) time.Time { return today.AddDate(0, -months, 0) }

// upland is the coldest nights of a cold valley.
var upland = climate.Months{-14, -12, -8, -3, 1, 4, 6, 6, 2, -3, -8, -12}

// visit is a job of a 650 CCA car battery made four years ago, some months before today.
func visit(monthsAgo int, rs ...reading.Reading) Visit {
	c := readingtest.Car(rs...)
	c.Vehicle.Fuel = "petrol"
	c.Battery.Made, c.Battery.Fitted = "2022-09", "2022-10"
	at := ago(monthsAgo)
	for i := range c.Readings {
		t := at.Add(time.Duration(i+1) * time.Minute)
		c.Readings[i].At = &t
	}
	closed := at.Add(2 * time.Hour)
	c.AsOf = &closed
	return Visit{Job: "job", Opened: at, Closed: &closed, Case: c}
}

func see(vs ...Visit) []Seen {
	var out []Seen
	for _, v := range vs {
		out = append(out, See(v, readingtest.Labels))
	}
	return out
}

func conducted(cca float64) reading.Reading {
	return reading.Of(station.Conductance, reading.Fields{"cca": cca, "standard": "SAE"})
}

// The same battery, tested half flat and cold or full and warm, comes to one figure.
func TestNormalised(t *testing.T) {
	full := see(visit(2, readingtest.Rest(12.65), readingtest.Load(10.3)))[0].Test
	low := visit(1, readingtest.Rest(12.50), readingtest.Load(9.97))
	cold := 5.0
	low.Case.Conditions.BatteryC = &cold
	half := see(low)[0].Test
	if full == nil || half == nil {
		t.Fatal("no test")
	}
	if math.Abs(full.Pct.Best-half.Pct.Best) > 14 || full.Pct.Low > half.Pct.High || half.Pct.Low > full.Pct.High {
		t.Errorf("full and warm %+v, less and cold %+v", full.Pct, half.Pct)
	}
	if math.Abs(full.CCA.Best/650*100-full.Pct.Best) > 1e-9 {
		t.Errorf("%g CCA are %g %%", full.CCA.Best, full.Pct.Best)
	}
	if got := see(visit(2, readingtest.Rest(12.65)))[0].Test; got != nil {
		t.Errorf("nothing tested its strength, and %+v", got)
	}
}

// Four visits: the line goes through its tests as far as they agree with what batteries
// do, falls all the way, and its band is narrower for each test.
func TestLine(t *testing.T) {
	tests := func(pcts ...float64) (out []Visit) {
		for i, p := range pcts {
			out = append(out, visit(36-12*i, readingtest.Rest(12.65), conducted(6.5*p)))
		}
		return out
	}
	bare := Of(see(visit(36)), &upland, today)
	one := Of(see(tests(95)...), &upland, today)
	four := Of(see(tests(97, 90, 82, 72)...), &upland, today)
	width := func(l Life) float64 { return l.Now.High - l.Now.Low }
	if bare.Tested || !one.Tested || width(bare) <= width(one) || width(one) <= width(four) {
		t.Errorf("untested %+v, one test %+v, four %+v", bare.Now, one.Now, four.Now)
	}
	if four.Now.Best < 70 || four.Now.Best > 79 {
		t.Errorf("97, 90, 82, 72 %%: now %+v", four.Now)
	}
	if fast := Of(see(tests(97, 80, 64, 50)...), &upland, today); fast.Now.Best < 48 || fast.Now.Best > 58 {
		t.Errorf("97, 80, 64, 50 %%: now %+v", fast.Now)
	}
	for _, l := range []Life{bare, one, four} {
		for i, p := range l.Line {
			if !(p.Low <= p.Best && p.Best <= p.High) || i > 0 && p.Best > l.Line[i-1].Best {
				t.Errorf("%s: %+v after %+v", p.At.Format("2006-01"), p.Band, l.Line[max(0, i-1)].Band)
			}
		}
		if last := l.Line[len(l.Line)-1].At; !last.Equal(today.AddDate(0, ahead, 0)) ||
			!l.Line[0].At.Equal(time.Date(2022, 9, 15, 0, 0, 0, 0, time.UTC)) {
			t.Errorf("from %s to %s", l.Line[0].At, last)
		}
		if math.Abs(l.Years-4) > 0.1 {
			t.Errorf("%g years", l.Years)
		}
	}
	// In another order they are the same tests.
	vs := see(tests(97, 90, 82, 72)...)
	vs[0], vs[3] = vs[3], vs[0]
	if other := Of(vs, &upland, today); *other.Now != *four.Now || !other.Tests[0].At.Before(other.Tests[3].At) {
		t.Errorf("%+v in another order, %+v", other.Now, four.Now)
	}
}

// A battery that held for years and is suddenly far under its line is where its last test
// has it; one that is a little under is between the two. From both sides of 2.5 deviates.
func TestSuddenly(t *testing.T) {
	held := func(last float64) trend {
		var tests []Test
		for i, p := range []float64{92, 90, 88, last} {
			tests = append(tests, Test{At: ago(36 - 12*i), Pct: battery.Band{Best: p}})
		}
		return trendOf(tests, ago(40), true, today)
	}
	by := weighed(
		[]Test{
			{At: ago(36), Pct: battery.Band{Best: 92}},
			{At: ago(24), Pct: battery.Band{Best: 90}},
			{At: ago(12), Pct: battery.Band{Best: 88}},
		},
		ago(40),
		true,
		today,
		0,
	).at(today)
	far := func(deviates float64) float64 {
		last := by.best
		for range 50 {
			last = by.best - deviates*math.Sqrt(sq(by.sigma)+ofTest(Test{Pct: battery.Band{Best: last}}))
		}
		return last
	}
	near, sudden := far(2.45), far(2.55)
	if over := held(near).at(today).best - near; over < 2.5 {
		t.Errorf("at %.1f %%, 2.45 deviates under its line of %.1f, the line is at %.1f", near, by.best, near+over)
	}
	if over := held(sudden).at(today).best - sudden; over > 2.5 {
		t.Errorf("at %.1f %%, 2.55 deviates under its line of %.1f, the line is at %.1f", sudden, by.best, sudden+over)
	}
	if dead := held(34).at(today); dead.best > 38 {
		t.Errorf("34 %%, and the line is at %.1f", dead.best)
	}
}

// By hand. Untested at 48 months, g is 48·1.4 = 67.2: 102 − 0.4·67.2 = 75.1 %. One test
// of 75.1 % there leaves it where it is.
func TestTrendByHand(t *testing.T) {
	born := ago(48)
	bare := trendOf(nil, born, true, today)
	if p := bare.at(today); math.Abs(p.best-75.1) > 0.2 || math.Abs(p.sigma-math.Sqrt(49+sq(0.22*67.2)+25)) > 0.3 {
		t.Errorf("%+v", p)
	}
	same := trendOf([]Test{{At: today, Pct: battery.Band{Best: bare.at(today).best}}}, born, true, today)
	if math.Abs(same.at(today).best-bare.at(today).best) > 1e-6 || same.at(today).sigma >= bare.at(today).sigma {
		t.Errorf("%+v, without %+v", same.at(today), bare.at(today))
	}
	// Prior variance 49 + 218.6 = 267.6 against (0.04·65.1)² + 1.5² = 9.0 of a test: it takes
	// 97 % of what a test says otherwise.
	ten := trendOf([]Test{{At: today, Pct: battery.Band{Best: bare.at(today).best - 10}}}, born, true, today)
	if moved := bare.at(today).best - ten.at(today).best; math.Abs(moved-10*267.6/276.6) > 0.15 {
		t.Errorf("10 %% less moves it by %.2f", moved)
	}
	// A battery never gets better by itself.
	rising := trendOf(
		[]Test{{At: ago(24), Pct: battery.Band{Best: 70}}, {At: today, Pct: battery.Band{Best: 99}}},
		ago(30),
		true,
		today,
	)
	if rising.rate < slowestRate || rising.at(today.AddDate(1, 0, 0)).best > rising.at(today).best {
		t.Errorf("rises: %+v", rising)
	}
}

// What happened to it stands in its order; one that was condemned has ended, unless it
// comes back all the same.
func TestEvents(t *testing.T) {
	bad := visit(
		1,
		readingtest.Rest(12.65),
		reading.Of(station.LoadTest, reading.Fields{"method": station.HalfCCA, "amps": 325, "seconds": 15, "volts_end": 7.0}),
		reading.Of(station.Inspection, reading.Fields{"found": []string{"clean"}}),
	)
	stood := visit(
		20,
		readingtest.Rest(12.2).With("minutes_since_charge", longStood),
		reading.Of(station.Charged, reading.Fields{"ended": "full", "hours": 9}),
		readingtest.Rest(12.64).With("minutes_since_charge", longStood-1),
	)
	life := Of(see(bad, stood), &upland, today)
	var codes []string
	for i, e := range life.Events {
		codes = append(codes, e.Code)
		if i > 0 && e.At.Before(life.Events[i-1].At) {
			t.Errorf("%s before %s", life.Events[i-1].Code, e.Code)
		}
	}
	if got, want := len(codes), 7; got != want || codes[0] != "made" || codes[1] != "fitted" || codes[3] != "stood" ||
		codes[4] != "charge" ||
		codes[6] != "ended" {
		t.Errorf("%v", codes)
	}
	if life.Ended == nil || life.Fails != nil || life.Now != nil || life.Says.String() != saysLifeEnded ||
		!life.Line[len(life.Line)-1].At.Equal(*life.Ended) {
		t.Errorf("ended %v, %s", life.Ended, life.Says)
	}
	back := Of(see(bad, visit(0, readingtest.Rest(12.65))), &upland, today)
	if back.Ended != nil || back.Now == nil {
		t.Errorf("it came back, and ended %v", back.Ended)
	}
	open := bad
	open.Closed = nil
	if life := Of(see(open), &upland, today); life.Ended != nil {
		t.Error("it has not been handed over, and has ended")
	}
	if seen := see(bad)[0]; seen.Verdict != assess.Replace {
		t.Errorf("%s", seen.Verdict)
	}
}

// What cannot be told is said, and why.
func TestUntold(t *testing.T) {
	for want, change := range map[string]func(*Visit){
		saysNoEngine: func(v *Visit) { v.Case.Vehicle.Fuel = "none" },
		saysNoLabel:  func(v *Visit) { v.Case.Battery.Rating = reading.Rating{} },
	} {
		v := visit(2, readingtest.Rest(12.65), conducted(600))
		change(&v)
		if l := Of(see(v), &upland, today); l.Says.String() != want || l.Fails != nil {
			t.Errorf("%s, want %s", l.Says, want)
		}
	}
	v := visit(2, readingtest.Rest(12.65), conducted(600))
	if l := Of(see(v), nil, today); l.Says.String() != saysNoLows || l.Fails != nil || l.Now == nil {
		t.Errorf("without the cold: %s", l.Says)
	}
	if l := Of(nil, &upland, today); l.Says.String() != saysNoVisit {
		t.Errorf("%s", l.Says)
	}
	young := visit(2, readingtest.Rest(12.65), conducted(600))
	young.Case.Battery.Made = ""
	if l := Of(see(young), &upland, today); math.Abs(l.Years-47.0/12) > 0.1 {
		t.Errorf("by its fitting %g years", l.Years)
	}
	young.Case.Battery.Fitted = ""
	if l := Of(see(young), &upland, today); l.Years != 0 || !l.Line[0].At.Equal(l.Tests[0].At) {
		t.Errorf("of unknown age: %g years, from %s", l.Years, l.Line[0].At)
	}
}

// The order of the autumn: what fails soonest, what does not, what has ended.
func TestByFailing(t *testing.T) {
	week := func(m int) Life {
		at := today.AddDate(0, m, 0)
		return Life{Fails: &Failing{Week: &at}}
	}
	ended := Life{Ended: &today}
	for _, c := range []struct {
		a, b Life
		want int
	}{{Life{Fails: &Failing{Margin: 2}}, Life{Fails: &Failing{Margin: 3}}, -1}, {week(1), week(2), -1}, {week(2), week(1), 1}, {week(3), Life{Fails: &Failing{}}, -1}, {Life{}, ended, -1}, {ended, week(1), 1}, {ended, ended, 0}} {
		if got := ByFailing(c.a, c.b); got != c.want {
			t.Errorf("%+v against %+v: %d", c.a, c.b, got)
		}
	}
}

// A pair from both sides of each figure.
func TestPair(t *testing.T) {
	life := func(pct, years float64) Life {
		return Life{Now: &battery.Band{Best: pct}, Tested: true, Years: years}
	}
	for _, c := range []struct {
		a, b Life
		want bench.Level
	}{{life(90, 3), life(82.1, 3), bench.OK}, {life(90, 3), life(82, 3), bench.Note}, {life(75, 3), life(89.9, 3), bench.Note},
		{life(75, 3), life(90, 3), bench.Act}, {life(90, 3), life(88, 2.1), bench.OK}, {life(90, 3), life(88, 2), bench.Note},
		{life(90, 3), life(88, 0), bench.OK}, {life(90, 3), Life{Now: &battery.Band{Best: 20}}, bench.Note}, {Life{}, life(90, 1), bench.Note}} {
		if got, back := Pair(c.a, c.b), Pair(c.b, c.a); got.Level != c.want || back.Level != got.Level ||
			back.Text.String() != got.Text.String() {
			t.Errorf("%v and %v: %+v, want %s", c.a.Now, c.b.Now, got, c.want)
		}
	}
}

// A tester that reads apart from the rest is named, from both sides of each figure.
func TestTesters(t *testing.T) {
	read := func(n int, a, b, c float64) (out []Seen) {
		for i := range n {
			k := 1 + 0.02*float64(i%3-1)
			out = append(out, Seen{Evidence: []Evidence{{"A", 600 * k * a}, {"B", 600 / k * b}, {"", 600 * c}}})
		}
		return out
	}
	level := func(all []Tester, name string) bench.Level {
		for _, x := range all {
			if x.Name == name {
				return x.Level
			}
		}
		return "absent"
	}
	for name, c := range map[string]struct {
		seen []Seen
		want bench.Level
	}{
		"far, few":       {read(4, 1.15, 1, 1), bench.Note},
		"far, enough":    {read(6, 1.15, 1, 1), bench.Act},
		"not far enough": {read(60, 1.055, 1, 1), bench.OK},
		"far enough":     {read(60, 1.065, 1, 1), bench.Act},
		"low":            {read(6, 0.85, 1, 1), bench.Act},
	} {
		if got := level(Testers(c.seen), "A"); got != c.want {
			t.Errorf("%s: %s, want %s; %+v", name, got, c.want, Testers(c.seen))
		}
	}
	if all := Testers(read(6, 1.15, 1, 1)); all[0].Name != "A" || len(all) != 2 || all[0].Readings != 6 || all[0].OffPct < 13 ||
		all[0].OffPct > 15 {
		t.Errorf("%+v", all)
	}
	// Of two alone nobody can tell which is off; with a third one can.
	two := func(third bool) (out []Seen) {
		for range 8 {
			all := []Evidence{{"A", 690}, {"B", 600}}
			if third {
				all = append(all, Evidence{"C", 600})
			}
			out = append(out, Seen{Evidence: all})
		}
		return out
	}
	if all := Testers(two(false)); len(all) != 2 || all[0].Against == "" || all[0].Level != bench.Act ||
		all[1].Level != bench.Act ||
		!strings.Contains(all[0].Text.String(), "a third tester") {
		t.Errorf("two: %+v", all)
	}
	if all := Testers(two(true)); len(all) != 3 || all[0].Name != "A" || all[0].Against != "" ||
		!strings.Contains(all[0].Text.String(), "above the others") {
		t.Errorf("three: %+v", all)
	}
	if all := Testers([]Seen{{Evidence: []Evidence{{"A", 500}, {"A", 600}}}, {Evidence: []Evidence{{"B", 500}}}}); len(all) != 0 {
		t.Errorf("nothing to compare, and %+v", all)
	}
}

// A visit judged for the register: a load test and a rest voltage.
func BenchmarkSee(b *testing.B) {
	v := visit(2, readingtest.Rest(12.65), readingtest.Load(10.3))
	for b.Loop() {
		See(v, readingtest.Labels)
	}
}

// A life of four visits that have been judged.
func BenchmarkLife(b *testing.B) {
	var vs []Visit
	for i, p := range []float64{97, 90, 82, 65} {
		vs = append(vs, visit(36-12*i, readingtest.Rest(12.65), conducted(6.5*p)))
	}
	seen := see(vs...)
	for b.Loop() {
		Of(seen, &upland, today)
	}
}
