package jump

import (
	"fmt"
	"strings"
	"testing"

	"grapnel/core/reading"
	"grapnel/core/words"
)

// end is one end of a lead.
type end struct {
	lead  string // live or earthed
	flat  bool   // at the flat vehicle
	place string
	on    bool
}

// walk takes the steps one after the other and checks what holds after each of them.
func walk(t *testing.T, label string, kind string, connect, disconnect []Act) {
	t.Helper()
	ends := map[int]*end{}
	var on []int
	for _, s := range connect {
		if s.Clamp == 0 {
			continue
		}
		ends[s.Clamp] = &end{
			lead:  s.Side,
			flat:  s.Place == AtFlatLive || s.Place == AtJumpPost || s.Place == AtMetal || s.Place == AtFlatEarthed,
			place: s.Place,
		}
		on = append(on, s.Clamp)
	}
	want := 4
	if kind != FromVehicle {
		want = 2
	}
	if len(on) != want {
		t.Fatalf("%s: %d clamps", label, len(on))
	}
	safe := func(after string, loose words.Text) {
		t.Helper()
		liveLoose, earthOn, half := false, false, false
		for n, e := range ends {
			other := false
			for m, o := range ends {
				if m != n && o.lead == e.lead && o.on {
					other = true
				}
			}
			if e.lead == "live" && !e.on && other {
				liveLoose = true
			}
			if !e.on && other {
				half = true
			}
			if e.lead == "earthed" && e.on {
				earthOn = true
			}
		}
		if liveLoose && earthOn {
			t.Errorf("%s: after %s a live end is loose while the earthed lead is on", label, after)
		}
		if half && kind == FromVehicle && loose.IsZero() {
			t.Errorf("%s: after %s nobody says where the loose end lies", label, after)
		}
	}
	for _, s := range connect {
		if s.Clamp > 0 {
			ends[s.Clamp].on = true
			safe("on "+s.Do.String(), s.Loose)
		}
	}
	last := ends[on[len(on)-1]]
	if last.lead != "earthed" || !last.flat {
		t.Errorf("%s: the last clamp on is %+v", label, last)
	}
	var off []int
	for _, s := range disconnect {
		if s.Clamp > 0 {
			if len(off) == 0 && (s.Side != "earthed" || s.Place != AtMetal && s.Place != AtFlatEarthed) {
				t.Errorf("%s: the first clamp off is at %s", label, s.Place)
			}
			off = append(off, s.Clamp)
			ends[s.Clamp].on = false
			safe("off "+s.Do.String(), s.Loose)
		}
	}
	for i := range off {
		if off[i] != on[len(on)-1-i] {
			t.Errorf("%s: on %v, off %v", label, on, off)
		}
	}
	for _, s := range append(connect, disconnect...) {
		if said := s.Do.String() + s.Why.String() + s.Loose.String(); strings.ContainsAny(said, "{}") || s.Do.IsZero() {
			t.Errorf("%s: %q", label, said)
		}
	}
}

// For every class, earth of both, school, place of battery, source and hand: the earthed
// clamp of the flat vehicle is last on and first off, off is the exact reverse of on, no
// live end is ever loose while an earthed one is on, whoever holds a loose end is named,
// and both ends of a lead are on the same mark.
func TestOrderHoldsEverywhere(t *testing.T) {
	n := 0
	for _, class := range reading.Classes().Codes() {
		for _, earth := range []string{"negative", "positive"} {
			for _, donor := range []string{"negative", "positive"} {
				for _, school := range []string{OnBody, OnPost} {
					for _, place := range []string{"front", "boot"} {
						for i := range 16 {
							post, helper, maker, running := i&1 > 0, i&2 > 0, i&4 > 0, i&8 > 0
							for _, kind := range []string{FromVehicle, FromPack, FromCharger} {
								r := Request{ClampOn: school, MakerPost: maker, Helper: helper}
								r.Flat.Vehicle = reading.Vehicle{Class: class, Earth: earth, SystemVolts: 12}
								r.Flat.Place, r.Flat.JumpPost = place, post
								r.Source = Source{Kind: kind, Earth: donor, Running: running, RPM: 750, OnSeconds: 5}
								s := scene{onBody: r.clampOn() == OnBody}
								connect, disconnect := r.order(&s)
								label := fmt.Sprintf("%s %s/%s %s %s %04b %s", class, earth, donor, school, place, i, kind)
								walk(t, label, kind, connect, disconnect)
								live, earthed := "+", "−"
								if earth == "positive" {
									live, earthed = "−", "+"
								}
								first, last := Act{}, Act{}
								for _, s := range connect {
									if s.Clamp == 1 {
										first = s
									}
									if s.Clamp > 0 {
										last = s
									}
									if s.Clamp > 0 &&
										(s.Side == "live" && s.Post != live || s.Side == "earthed" && s.Post != earthed) {
										t.Errorf("%s: clamp %d at %s is %s", label, s.Clamp, s.Post, s.Side)
									}
								}
								if post != (first.Place == AtJumpPost) {
									t.Errorf("%s: first at %s", label, first.Place)
								}
								if (last.Place == AtFlatEarthed) != (maker || school == OnPost) {
									t.Errorf("%s: last at %s", label, last.Place)
								}
								n++
							}
						}
					}
				}
			}
		}
	}
	if n != len(reading.Classes().Codes())*2*2*2*2*16*3 {
		t.Errorf("only %d", n)
	}
}

// By hand, negative earth, two cars: red to the flat +, red to the donor's +, black to the
// donor's −, black to the engine; with positive earth the live lead is the black one.
func TestOrderByHand(t *testing.T) {
	said := func(r Request) string {
		var out []string
		connect, _ := r.order(&scene{onBody: r.clampOn() == OnBody})
		for _, s := range connect {
			out = append(out, s.Lead+s.Post+" "+s.Place)
		}
		return strings.Join(out, ", ")
	}
	r := Request{ClampOn: OnBody}
	r.Flat.Vehicle.Earth, r.Source.Kind = "negative", FromVehicle
	if got := said(r); got != "red+ flat_live, red+ donor_same, black− donor_other, black− metal" {
		t.Error(got)
	}
	r.Flat.Vehicle.Earth, r.Source.Earth = "positive", "positive"
	if got := said(r); got != "black− flat_live, black− donor_same, red+ donor_other, red+ metal" {
		t.Error(got)
	}
	r.Source.Kind, r.ClampOn = FromPack, OnPost
	if got := said(r); got != " switch, black− flat_live, red+ flat_earthed,  switch" {
		t.Error(got)
	}
	r.Source.Kind = FromCharger
	if got := said(r); got != " wall, black− flat_live, red+ flat_earthed,  wall" {
		t.Error(got)
	}
	// Why it is the post: the house's rule, or the maker's.
	connect, _ := r.order(&scene{})
	if why := connect[2].Why.String(); !strings.Contains(why, "house") {
		t.Error(why)
	}
	r.MakerPost = true
	if connect, _ = r.order(&scene{}); !strings.Contains(connect[2].Why.String(), "maker") {
		t.Error(connect[2].Why)
	}
	for _, one := range unoffered() {
		if one.Habit.IsZero() || len(one.Why.String()) < 40 {
			t.Errorf("%s: %s", one.Habit, one.Why)
		}
	}
	// Earthed on different sides, marks decide and no side of the donor's is named.
	mixed := Request{ClampOn: OnBody}
	mixed.Flat.Vehicle.Earth, mixed.Source = "positive", Source{Kind: FromVehicle}
	connect, _ = mixed.order(&scene{onBody: true})
	if do := connect[1].Do.String(); !strings.Contains(do, "same mark") || strings.Contains(do, "live post") {
		t.Error(do)
	}
}
