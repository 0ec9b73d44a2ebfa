package season

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"grapnel/core/battery"
	"grapnel/core/words"
)

const roundDay = "2026-11-26"

func on(day int) string { return date(roundDay).AddDate(0, 0, day).Format(time.DateOnly) }

// spots makes a lot of chance, in the order the vehicles came.
func spots(rnd *rand.Rand, n int) []Spot {
	out := make([]Spot, n)
	for i := range out {
		soc := 40 + 60*rnd.Float64()
		out[i] = Spot{
			ID:        fmt.Sprint(i),
			Tag:       fmt.Sprintf("L-%03d", i),
			Row:       string(rune('A' + rnd.IntN(8))),
			Bay:       1 + rnd.IntN(60),
			Tested:    rnd.IntN(8) > 0,
			Chemistry: battery.AGM,
			Volts:     12,
			Ah:        60,
			CCA:       600,
			SOC:       battery.Band{Low: soc - 5, Best: soc, High: soc + 5},
		}
		if rnd.IntN(3) == 0 {
			out[i].Promised = on(rnd.IntN(12))
		}
		if rnd.IntN(2) == 0 {
			out[i].ChargeBy = on(rnd.IntN(20) - 3)
		}
		if rnd.IntN(6) == 0 {
			out[i].StopOn = on(1 + rnd.IntN(20))
		}
		if rnd.IntN(2) == 0 {
			out[i].LookOn = on(rnd.IntN(30) - 2)
		}
	}
	return out
}

// late gives by how many days the latest is late, and all together, if charged in an order.
func late(dues []int, chargers int) (most, sum int) {
	for i, due := range dues {
		l := max(0, i/chargers-due)
		most, sum = max(most, l), sum+l
	}
	return most, sum
}

// Never later than first come first served, for the latest and in sum; and for lots small
// enough to try every order, never later than any (Jackson 1955).
func TestNeverLaterThanFirstCome(t *testing.T) {
	rnd := rand.New(rand.NewPCG(16, 1))
	for try := range 400 {
		n := 1 + rnd.IntN(40)
		if try < 100 {
			n = 1 + rnd.IntN(6)
		}
		l := Lot{Today: roundDay, Spots: spots(rnd, n), Chargers: 1 + rnd.IntN(4)}
		day := func(s string) int { return int(date(s).Sub(date(roundDay)).Hours() / 24) }
		var came, soon []int
		for i := range l.Spots {
			if due, _ := l.Spots[i].chargeDue(day); due <= ahead {
				came = append(came, due)
			}
		}
		r := l.Plan(words.Voice{})
		for _, s := range append(slices.Clone(r.Stops), r.Later...) {
			if s.Do == DoCharge {
				soon = append(soon, 0)
				if s.Late != max(0, day(s.Night)-s.charge) {
					t.Fatalf("%+v is late by %d", s, s.Late)
				}
			}
		}
		if len(soon) != len(came) {
			t.Fatalf("%d wait, %d are charged", len(came), len(soon))
		}
		ours := slices.Clone(came)
		slices.Sort(ours)
		most, sum := late(ours, l.Chargers)
		if r.LateMax != most {
			t.Fatalf("the latest is late by %d, by hand %d", r.LateMax, most)
		}
		fmost, fsum := late(came, l.Chargers)
		if most > fmost || sum > fsum {
			t.Fatalf("late by %d, %d in sum; first come first served by %d, %d", most, sum, fmost, fsum)
		}
		if n <= 6 {
			permute(came, func(p []int) {
				if m, s := late(p, l.Chargers); m < most || s < sum {
					t.Fatalf("%v is late by %d, %d in sum: better than %d, %d", p, m, s, most, sum)
				}
			})
		}
	}
}

func permute(a []int, visit func([]int)) {
	var rec func(int)
	rec = func(i int) {
		if i == len(a) {
			visit(a)
			return
		}
		for j := i; j < len(a); j++ {
			a[i], a[j] = a[j], a[i]
			rec(i + 1)
			a[i], a[j] = a[j], a[i]
		}
	}
	rec(0)
}

// One walks row by row, each row from the end that makes the way the shortest of all there
// are; over many lots that is far less than in the order they are due.
func TestWalk(t *testing.T) {
	rnd := rand.New(rand.NewPCG(16, 2))
	way := func(stops []Stop) float64 {
		sum := minutesOf(stops)
		for _, s := range stops {
			sum -= s.minutes
		}
		return sum
	}
	walked, asDue := 0.0, 0.0
	for range 100 {
		l := Lot{Today: roundDay, Spots: spots(rnd, 30), Chargers: 5}
		r := l.Plan(words.Voice{})
		byRow := map[string][]Stop{}
		var rows []string
		for i, s := range r.Stops {
			if i > 0 && s.Row != r.Stops[i-1].Row && byRow[s.Row] != nil {
				t.Fatalf("row %s is walked twice", s.Row)
			}
			if byRow[s.Row] == nil {
				rows = append(rows, s.Row)
			}
			byRow[s.Row] = append(byRow[s.Row], s)
		}
		if !slices.IsSortedFunc(rows, natural) {
			t.Fatalf("rows %v", rows)
		}
		best := way(r.Stops)
		for turns := range 1 << len(rows) {
			var other []Stop
			for i, row := range rows {
				some := slices.Clone(byRow[row])
				if turns>>i&1 == 1 {
					slices.Reverse(some)
				}
				other = append(other, some...)
			}
			if way(other) < best-1e-9 {
				t.Fatalf("%.2f min as walked, another way %.2f", best, way(other))
			}
		}
		due := slices.Clone(r.Stops)
		slices.SortStableFunc(due, func(a, b Stop) int { return a.due - b.due })
		walked, asDue = walked+best, asDue+way(due)
	}
	if walked > 0.65*asDue {
		t.Errorf("%.0f min as walked, %.0f as due", walked, asDue)
	}
	for _, c := range [][2]string{{"A2", "A10"}, {"A", "B"}, {"a9", "B1"}, {"2", "11"}, {"", "A"}} {
		if natural(c[0], c[1]) >= 0 || natural(c[1], c[0]) <= 0 {
			t.Errorf("%s does not come before %s", c[0], c[1])
		}
	}
}

// What is done at each, from both sides of each limit.
func TestStops(t *testing.T) {
	at := func(change func(*Spot)) Spot {
		s := Spot{
			ID:        "1",
			Tag:       "L-001",
			Row:       "A",
			Bay:       3,
			Tested:    true,
			Chemistry: battery.AGM,
			Volts:     12,
			Ah:        60,
			CCA:       600,
			SOC:       battery.Band{Low: 85, Best: 88, High: 92},
		}
		change(&s)
		return s
	}
	for _, c := range []struct {
		about string
		spot  Spot
		do    string
	}{
		{"fine", at(func(*Spot) {}), ""},
		{"just come", at(func(s *Spot) { s.Tested, s.Arrived = false, on(0) }), DoTest},
		{"low in a week", at(func(s *Spot) { s.ChargeBy = on(7) }), DoCharge},
		{"low in eight days", at(func(s *Spot) { s.ChargeBy = on(8) }), ""},
		{"ice in eight days", at(func(s *Spot) { s.StopOn = on(8) }), DoCharge},
		{"ice in nine days", at(func(s *Spot) { s.StopOn = on(9) }), ""},
		{"promised in a week, not full", at(func(s *Spot) { s.Promised = on(8) }), DoCharge},
		{"promised in a week, full", at(func(s *Spot) { s.Promised, s.SOC.Low = on(7), promisedSOC }), ""},
		{"promised later", at(func(s *Spot) { s.Promised = on(9) }), ""},
		{"a look in a week", at(func(s *Spot) { s.LookOn = on(7) }), DoLook},
		{"a look in eight days", at(func(s *Spot) { s.LookOn = on(8) }), ""},
		{"a look that was missed", at(func(s *Spot) { s.LookOn = on(-9) }), DoLook},
	} {
		r := Lot{Today: roundDay, Spots: []Spot{c.spot}, Chargers: 1}.Plan(words.Voice{})
		got := ""
		if len(r.Stops) > 0 {
			got = r.Stops[0].Do
		}
		if got != c.do {
			t.Errorf("%s: %q, want %q", c.about, got, c.do)
		}
	}
}

// A spare stands in where a charge would come too late, the smallest that does, once.
func TestSpares(t *testing.T) {
	spot := func(tag string) Spot {
		return Spot{
			ID:        tag,
			Tag:       tag,
			Row:       "A",
			Tested:    true,
			Chemistry: battery.AGM,
			Volts:     12,
			Ah:        60,
			CCA:       600,
			SOC:       battery.Band{Low: 40, Best: 50, High: 55},
			ChargeBy:  on(0),
		}
	}
	l := Lot{Today: roundDay, Chargers: 1, Spots: []Spot{spot("L-1"), spot("L-2"), spot("L-3")}, Spares: []Spare{
		{
			"P-big",
			battery.AGM,
			12,
			80,
			800,
		}, {"P-fits", battery.AGM, 12, 60, 600}, {"P-weak", battery.AGM, 12, 60, 500}, {"P-gel", battery.Gel, 12, 60, 600},
		{"P-six", battery.AGM, 6, 60, 600}, {"P-small", battery.AGM, 12, 50, 600}}}
	r := l.Plan(words.Voice{})
	got := map[string]string{}
	for _, s := range append(slices.Clone(r.Stops), r.Later...) {
		got[s.ID] = s.Do + " " + s.Spare
	}
	if got["L-1"] != "charge " || got["L-2"] != "swap P-fits" || got["L-3"] != "swap P-big" {
		t.Errorf("%v", got)
	}
	for amps, stands := range map[float64]bool{510: true, 509: false} {
		if got := (Spare{"P", battery.AGM, 12, 60, amps}).stands(&l.Spots[0]); got != stands {
			t.Errorf("%g A of 600 stand in: %v", amps, got)
		}
	}
}

// A round takes what there is time for, the soonest due first, and one at least.
func TestRoundIsWalkable(t *testing.T) {
	rnd := rand.New(rand.NewPCG(16, 3))
	l := Lot{Today: roundDay, Spots: spots(rnd, 300), Chargers: 100, Minutes: 60}
	r := l.Plan(words.Voice{})
	if r.Minutes > 75 || len(r.Stops) == 0 || len(r.Later) == 0 {
		t.Fatalf("%d stops in %.0f min, %d later", len(r.Stops), r.Minutes, len(r.Later))
	}
	l.Minutes = 1
	if r := l.Plan(words.Voice{}); len(r.Stops) != 1 {
		t.Errorf("in a minute %d stops", len(r.Stops))
	}
	empty := Lot{Today: roundDay}.Plan(words.Voice{})
	if len(empty.Stops) != 0 || empty.Stops == nil || empty.Later == nil {
		t.Errorf("of nothing: %+v", empty)
	}
}

// Five hundred vehicles in one round.
func BenchmarkRound(b *testing.B) {
	l := Lot{Today: roundDay, Spots: spots(rand.New(rand.NewPCG(16, 4)), 500), Chargers: 12, Minutes: 120,
		Spares: []Spare{{"P-1", battery.AGM, 12, 60, 600}, {"P-2", battery.AGM, 12, 70, 700}}}
	for b.Loop() {
		l.Plan(words.Voice{})
	}
}
