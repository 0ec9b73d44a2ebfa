package rating

import (
	"slices"
	"strings"
	"testing"
)

// Common practice, no source: the letter is the month from A for January,
// skipping I, and the digit ends the year.
func TestDateCode(t *testing.T) {
	now := Month{2026, 11}
	for code, want := range map[string]string{
		"A6": "2026-01", "C2": "2022-03", "c2": "2022-03", "H5": "2025-08", "J5": "2025-09", "M9": "2019-12", "L6": "2016-12",
		"K6": "2026-10", "M6": "2016-12", "C-2": "2022-03", "C2 1047": "2022-03", "C20417": "2022-03",
		"2022-03": "2022-03", "2022/3": "2022-03", "03/22": "2022-03", "3.2022": "2022-03", "03-2022": "2022-03", "14/03/2022": "2022-03",
		"2022-03-14": "2022-03", "202203": "2022-03", "Mar 2022": "2022-03", "MAR 22": "2022-03", "march '22": "2022-03", "11/98": "1998-11", "  Sept. 2021 ": "2021-09",
	} {
		if code == "L6" {
			want = "2016-11" // L is November: still this month's, so not in the future
			if got, err := DateCode(code, Month{2026, 10}); err != nil || got.String() != want {
				t.Errorf("%q in October 2026: %v (%v), want %s", code, got, err, want)
			}
			continue
		}
		got, err := DateCode(code, now)
		if err != nil || got.String() != want {
			t.Errorf("%q: %v (%v), want %s", code, got, err, want)
		}
	}
	for code, say := range map[string]string{
		"": "no date code", "I4": "no date code", "N4": "no date code", "battery": "no date code", "2022-13": "no month 13", "00/22": "no month 0",
		"2027-01": "still to come", "12/2026": "still to come", "1949-05": "newer than", "Mxx 22": "no date code",
	} {
		if got, err := DateCode(code, now); err == nil || !strings.Contains(err.Error(), say) {
			t.Errorf("%q: %v (%v), want an error with %q", code, got, err, say)
		}
	}
}

// Every letter and digit gives a month that is not in the future and less than
// ten years ago.
func TestStampedCodesAreOfTheLastTenYears(t *testing.T) {
	for _, now := range []Month{{2026, 1}, {2026, 11}, {2030, 12}, {2029, 6}} {
		for i, letter := range letters {
			for digit := '0'; digit <= '9'; digit++ {
				m, err := DateCode(string([]rune{letter, digit}), now)
				if age := m.MonthsUntil(now); err != nil || age < 0 || age >= 120 || m.Month != i+1 ||
					m.Year%10 != int(digit-'0') {
					t.Fatalf("%c%c in %s: %s (%v)", letter, digit, now, m, err)
				}
			}
		}
	}
}

// Whatever is stamped on a battery, the answer is an error or a real month.
func FuzzDateCode(f *testing.F) {
	f.Add("C2")
	f.Add("31/12/99")
	f.Fuzz(func(t *testing.T, code string) {
		now := Month{2026, 11}
		m, err := DateCode(code, now)
		if err == nil && (m.Month < 1 || m.Month > 12 || m.After(now) || m.Year < oldest) {
			t.Errorf("%q: %v", code, m)
		}
	})
}

// Source: BCI group size table, from memory: 24 is 260 × 173 × 225 mm, 35 is 25
// with its posts the other way round, 48 is the European L3.
func TestGroupSizes(t *testing.T) {
	g, ok := FindGroupSize("24")
	if !ok || g.Length != 260 || g.Width != 173 || g.Height != 225 {
		t.Errorf("24: %+v", g)
	}
	a, _ := FindGroupSize("25")
	b, _ := FindGroupSize("35")
	if a.Length != b.Length || a.Width != b.Width || a.Height != b.Height || a.Positive == b.Positive {
		t.Errorf("25 %+v and 35 %+v are mirror images", a, b)
	}
	l3, ok := FindGroupSize(" l3 ")
	if !ok || l3.Name != "48" || l3.Length != 278 || l3.Height != 190 {
		t.Errorf("L3: %+v", l3) // EN 50342-2, from memory: 278 × 175 × 190 mm
	}
	for height, fits := range map[float64]bool{190: true, 189: false} {
		if got := slices.Contains(Fitting(12, 278, 175, height), l3); got != fits {
			t.Errorf("L3 in a tray %g mm high: %t", height, got)
		}
	}
	for _, name := range []string{"", "nothing"} {
		if g, ok := FindGroupSize(name); ok {
			t.Errorf("%q: %+v", name, g)
		}
	}
	seen := map[string]bool{}
	for _, g := range groupSizes {
		if seen[g.Name] || g.Length < g.Width || g.Length < 150 || g.Height > 320 || g.Positive == "" ||
			g.Terminal == "" {
			t.Errorf("%+v", g)
		}
		seen[g.Name] = true
		if twin, ok := FindGroupSize(g.Name + "R"); ok && twin.Positive == g.Positive {
			t.Errorf("%s and %s have the positive on the same side", g.Name, twin.Name)
		}
	}
}

// A bigger tray never takes fewer batteries, and what fits is no bigger than it.
func TestFittingGrowsWithTheTray(t *testing.T) {
	last := 0
	for side := 100.0; side < 450; side += 10 {
		fit := Fitting(12, side, side*0.7, side*0.9)
		if len(fit) < last {
			t.Fatalf("a tray of %g mm takes %d, a smaller one took %d", side, len(fit), last)
		}
		last = len(fit)
		for i, g := range fit {
			if g.Length > side || i > 0 && g.room() > fit[i-1].room() {
				t.Fatalf("%+v in a tray of %g mm, after %+v", g, side, fit[max(0, i-1)])
			}
		}
	}
	if last < 30 {
		t.Errorf("only %d sizes fit the biggest tray", last)
	}
}
