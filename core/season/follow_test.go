package season

import (
	"strings"
	"testing"

	"grapnel/core/climate"
	"grapnel/core/reading/readingtest"
	"grapnel/core/words"
)

func followed(t *testing.T, r Request) Followed {
	t.Helper()
	if wrong := r.Check(); wrong != nil {
		t.Fatal(wrong)
	}
	f, err := r.Follow(readingtest.Labels, words.Voice{})
	if err != nil {
		t.Fatal(err)
	}
	if strings.ContainsAny(f.Says.String(), "{}") {
		t.Errorf("%s", f.Says)
	}
	return f
}

// The next thing to be done: to come, today, or missed, and moved up.
func TestNextNeed(t *testing.T) {
	r := example(t)
	r.Way = Disconnected // looked at every 90 days: on 13 January
	for _, c := range []struct {
		today, sign, says string
		late              int
	}{
		{"2026-11-24", "holds", "Rest volts: 12.52 V or more, 13 Jan", 0},
		{"2027-01-12", "holds", "13 Jan", 0}, {"2027-01-13", "holds", "Rest volts: 12.52 V or more today", 0},
		{"2027-01-14", "act", "Missed by 1 day: rest volts", 1}, {"2027-01-20", "act", "Missed by 7 days", 7},
	} {
		r.Today = c.today
		f := followed(t, r)
		if f.Sign != c.sign || f.Late != c.late || !strings.Contains(f.Says.String(), c.says) {
			t.Errorf("%s: %s %s, %d", c.today, f.Sign, f.Says, f.Late)
		}
	}
	// Done, it comes again after as many days; near the end no more.
	v := 12.6
	r.Looks = []Look{{Date: "2027-01-20", RestVolts: &v}}
	if f := followed(t, r); f.Late != 0 || f.Next.Code != "wake" || f.Next.Date != r.To {
		t.Errorf("looked at: %s, %+v", f.Says, f.Next)
	}
	r.Way, r.Looks, r.Today = Connected, nil, "2026-10-20"
	if f := followed(t, r); f.Sign != "act" || f.Next == nil || f.Next.Code != "charge" || f.Next.Date != f.By ||
		f.Stop == "" {
		t.Errorf("connected, in time: %s %s %+v", f.Sign, f.Says, f.Next)
	}
	r.Today = "2027-02-01"
	if f := followed(t, r); f.Sign != "stop" || f.Late == 0 {
		t.Errorf("connected, too late: %s %s", f.Sign, f.Says)
	}
	r.Looks = []Look{{Date: "2027-01-31", Charged: true}}
	if f := followed(t, r); f.Sign == "stop" || f.Late != 0 || f.State.SOC.Best < 98 {
		t.Errorf("charged meanwhile: %s %s", f.Sign, f.Says)
	}
	for _, way := range Ways().Codes() {
		r := example(t)
		r.Way, r.Solar = way, &Solar{20, 52}
		f := followed(t, r)
		if len(f.Shape.Low) != len(f.Shape.Freezes) || len(f.Shape.Low) != 43 {
			t.Errorf("%s: a shape of %d", way, len(f.Shape.Low))
		}
	}
}

// A frost is called when a known night comes nearer to the line than the margin, and from the
// line on it is a stop; nights that are past call nobody.
func TestFrost(t *testing.T) {
	r := example(t)
	r.Way, r.Today = Connected, "2026-12-10"
	f := followed(t, r)
	line := f.State.Freezes
	night := func(on string, low float64) Followed {
		q := r
		q.Place.Days = []climate.Weather{{Date: on, LowC: low}}
		return followed(t, q)
	}
	for _, c := range []struct {
		low        float64
		near, sure bool
	}{
		{line + 5.3, false, false}, {line + 4.4, true, false}, {line + 0.7, true, false}, {line - 0.7, true, true}, {line - 10, true, true},
	} {
		got := night("2026-12-10", c.low)
		if (got.Frost != nil) != c.near || c.near && got.Frost.Sure != c.sure || (got.Sign == "stop") != c.sure {
			t.Errorf("%.1f °C over the line at %.1f: %+v, %s", c.low-line, line, got.Frost, got.Sign)
		}
	}
	if got := night("2026-12-09", line-10); got.Frost != nil {
		t.Errorf("a night that is past calls: %+v", got.Frost)
	}
	// Of several the first that is too cold, before one that is only near.
	q := r
	q.Place.Days = []climate.Weather{
		{Date: "2026-12-12", LowC: line - 8},
		{Date: "2026-12-11", LowC: line + 3},
		{Date: "2026-12-13", LowC: line - 9},
	}
	if f := followed(t, q); f.Frost == nil || f.Frost.On != "2026-12-12" {
		t.Errorf("%+v", f.Frost)
	}
	// On a shelf indoors the night outside is no matter.
	q.Way, q.AtHand = TakenIn, []string{Indoors}
	if f := followed(t, q); f.Frost != nil {
		t.Errorf("indoors: %+v", f.Frost)
	}
}
