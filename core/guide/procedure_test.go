package guide_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"unicode/utf8"

	"grapnel/core/battery"
	"grapnel/core/guide"
	"grapnel/core/rules"
	"grapnel/core/words"
	"grapnel/internal/effort"
)

const thisYear = 2026

var usualPlaces = []string{"front", "boot", "seat", "side", "box"}

// everyScene visits every class × earth × terminals × place × school × keep-alive ×
// arrangement × caps × fittings, each with a procedure; of all of them every seventh, which
// hits every way of each with every way of another.
func everyScene(visit func(name, what string, s guide.Scene)) int {
	n, each := 0, effort.Of(419, 7, 1)
	house := rules.Default()
	var all []string
	for _, f := range guide.Fittings().Terms() {
		all = append(all, f.Code)
	}
	for _, d := range guide.Defaults() {
		for _, earth := range []string{"negative", "positive"} {
			for _, terminals := range []string{"top", "side", "stud"} {
				for _, place := range usualPlaces {
					there := guide.Make(guide.Replacing, guide.Scene{Vehicle: d.Vehicle, Battery: d.Battery,
						Rules: house, Site: guide.Site{Place: place}})
					if there.Site.Place != place { // no vehicle of this class has it there
						continue
					}
					for _, keep := range []string{"none", "socket", "leads"} {
						for _, pair := range []string{"single", "parallel", "series"} {
							for i, on := range [][]string{{}, nil, all} {
								for _, school := range []string{"bench", "in_place"} {
									for _, chem := range []battery.Chemistry{battery.Flooded, battery.AGM} {
										s := guide.Scene{Vehicle: d.Vehicle, Battery: d.Battery, Rules: house,
											Year: thisYear}
										s.Vehicle.Earth, s.Vehicle.Arrangement, s.Battery.Terminals = earth, pair, terminals
										s.Battery.Chemistry, s.Battery.Caps = chem, chem.Caps()
										s.Site = guide.Site{Place: place, KeepAlive: keep, On: on, School: school}
										for _, what := range guide.Procedures().Codes() {
											if what != guide.Cleaning && school != "bench" {
												continue
											}
											kept := []string{""}
											if what == guide.Storing || what == guide.Waking {
												if keep != "none" { // nothing hangs on it there
													continue
												}
												kept = []string{"clamp", "switch", "fed", "out"}
											}
											for _, k := range kept {
												s.Site.Keep = k
												if n++; n%each != 0 {
													continue
												}
												visit(fmt.Sprintf("%s %s %s %s %s %s %s fittings %d %s %s", what, d.Class, earth,
													terminals, place, keep, pair, i, school, k), what, s)
											}
										}
									}
								}
							}
						}
					}
				}
			}
		}
	}
	return n
}

// at gives the place of a step; -1 where there is none.
func at(g guide.Guide, code string) int {
	return slices.IndexFunc(g.Steps, func(s guide.Task) bool { return s.Code == code })
}

// The order of every procedure for every vehicle: what would hurt somebody, a battery or a
// vehicle where it was otherwise.
func TestOrderHoldsEverywhere(t *testing.T) {
	cautions := map[string]bool{}
	seen := everyScene(func(name, what string, s guide.Scene) {
		g := guide.Make(what, s)
		fail := func(format string, args ...any) { t.Fatalf("%s: %s", name, fmt.Sprintf(format, args...)) }
		if len(g.Steps) == 0 {
			if what != guide.Watering || s.Battery.Opens() {
				fail("no steps: %s", g.Refusal)
			}
			return
		}
		before := func(a, b string) {
			if i, j := at(g, a), at(g, b); i >= 0 && j >= 0 && i >= j {
				fail("%s comes at %d, %s at %d", a, i, b, j)
			}
		}
		// Nothing is taken off that is not put back, nothing put back that is on.
		open := map[string]bool{}
		for _, p := range g.Begins {
			open[p] = true
		}
		codes := map[string]bool{}
		cleaned, watered := 0, 0
		for i, step := range g.Steps {
			if codes[step.Code] {
				fail("%s stands twice", step.Code)
			}
			for _, c := range step.After {
				if !codes[c] {
					fail("%s wants %s, which does not come before", step.Code, c)
				}
			}
			codes[step.Code] = true
			for p := range open {
				if known, _ := guide.PartOf(p); !slices.Contains(step.Draw.Gone,
					p) && !known.Aid || known.Aid && !slices.Contains(step.Draw.Aids, p) {
					fail("step %d, %s: %s is open and not drawn so", i, step.Code, p)
				}
			}
			if len(step.Draw.Gone)+len(step.Draw.Aids) != len(open) {
				fail("%s: drawn %v %v, open %v", step.Code, step.Draw.Gone, step.Draw.Aids, open)
			}
			for _, p := range step.Back {
				if !open[p] {
					fail("%s puts %s back, which is on", step.Code, p)
				}
				delete(open, p)
			}
			for _, p := range step.Off {
				if _, known := guide.PartOf(p); open[p] || !known {
					fail("%s takes %s off, which is off", step.Code, p)
				}
				open[p] = true
			}
			if strings.Contains(step.Do.String(), "oda") && open[guide.Caps] {
				fail("%s: soda while the caps are off", step.Code)
			}
			if r, ok := step.Records(""); ok {
				switch r.Kind {
				case "cleaned":
					cleaned++
				case "put_right":
					watered++
				}
			}
			for _, text := range []words.Text{step.Do, step.Why, step.Look, step.Later} {
				if s := text.String(); strings.ContainsAny(s, "{}") || strings.Contains(s, "  ") || strings.Contains(s, "..") {
					fail("%s: %q", step.Code, s)
				}
			}
			if n := utf8.RuneCountInString(step.Do.String()); n < 8 || n > 36 || step.Why.IsZero() {
				fail("%s: a headline of %d letters, %q", step.Code, n, step.Do)
			}
			for _, c := range step.Cautions {
				if _, ok := guide.CautionOf(c); !ok {
					fail("%s: no caution %s", step.Code, c)
				}
				cautions[c] = true
			}
		}
		if stored := what == guide.Storing; !stored && len(open) > 0 {
			fail("left off at the end: %v", open)
		} else if stored {
			fromHere := guide.Make(guide.Waking, s)
			for _, p := range fromHere.Begins {
				if !open[p] {
					fail("%s is off when it is woken, and was not taken off", p)
				}
				delete(open, p)
			}
			if len(open) > 0 {
				fail("nobody wakes it with %v off", open)
			}
		}
		if want := map[string][2]int{guide.Cleaning: {1, 0}, guide.Watering: {0, 1},
			guide.Replacing: {0, 0}, guide.Storing: {0, 0}, guide.Waking: {0, 0}}[what]; cleaned != want[0] || watered != want[1] {
			fail("cleaned is noted %d times, watered %d times", cleaned, watered)
		}
		if what == guide.Watering {
			before("lid", "caps_off")
			before("caps_off", "cover")
			before("cover", "charge")
			before("charge", "mark")
			before("mark", "caps_tight")
			return
		}
		// Earthed off first and on last; between them the battery moves.
		for _, order := range [][2]string{
			{"earthed_off", "live_off"}, {"live_off", "link_off"}, {"link_off", "loose"}, {"live_off", "loose"}, {"loose",
				"lift"}, {"lift", "in"}, {"in", "held"},
			{"in", "link_on"}, {"held", "live_on"}, {"link_on", "live_on"}, {"live_on", "earthed_on"}, {"earthed_on",
				"turn"}, {"turn", "protect"}, {"lid", "earthed_off"},
			{"caps_tight", "soda"}, {"soda", "rinse"}, {"rinse", "posts"}, {"crust", "soda"}, {"posts", "live_on"}, {"lift",
				"compare"}, {"compare", "swap"}, {"swap", "in"},
			{"keep_alive", "earthed_off"}, {"earthed_on", "keep_alive_off"}, {"notes", "earthed_off"}, {"before",
				"lid"}, {"waste", "after"}, {"new", "earthed_off"}, {"ready", "reach"},
		} {
			before(order[0], order[1])
		}
		if what == guide.Storing || what == guide.Waking {
			for _, order := range [][2]string{{"lid", "caps_off"}, {"caps_on", "charge"}, {"charge", "rest"}, {"rest", "earthed_off"}, {"rest", "switch_off"},
				{"look", "volts"}, {"volts", "charge"}, {"charge", "test"}, {"test", "earthed_on"}, {"test", "in"}, {"test", "crank"}, {"earthed_on", "crank"},
				{"feed_off", "crank"}, {"switch_on", "crank"}, {"free", "crank"}} {
				before(order[0], order[1])
			}
			if g.Site.KeepAlive != guide.NoKeepAlive {
				fail("what is put away is fed meanwhile")
			}
			if s.Vehicle.Electric() && (g.Warnings[0] != "high_voltage" || g.Steps[0].Cautions[0] != "high_voltage") {
				fail("no word of the high voltage")
			}
			if i := at(g, "lift"); i >= 0 != (what == guide.Storing && g.Site.Keep == guide.KeptOut) {
				fail("lifted out: %d", i)
			}
			return
		}
		keep := g.Site.KeepAlive != guide.NoKeepAlive
		if (at(g, "keep_alive") >= 0) != keep || (at(g, "keep_alive_off") >= 0) != keep {
			fail("keep-alive %s: on at %d, off at %d", g.Site.KeepAlive, at(g, "keep_alive"), at(g, "keep_alive_off"))
		}
		if keep != slices.Contains(g.Steps[at(g, "live_off")].Off, guide.Hood) {
			fail("the hood goes on without a keep-alive, or not with it")
		}
		if i := at(g, "dip"); i >= 0 && keep && !strings.Contains(g.Steps[i].Do.String(), "earthed end only") {
			fail("the live end is dipped while it is live")
		}
		// Each is told of the post it is at.
		live, earthed := "The + post", "The − post"
		if s.Vehicle.Earth == "positive" {
			live, earthed = earthed, live
		}
		for code, post := range map[string]string{"earthed_off": earthed, "live_off": live, "live_on": live,
			"earthed_on": earthed} {
			text := g.Steps[at(g, code)].Why.String()
			if !strings.Contains(text, post) && !strings.Contains(text, strings.Replace(post, "post", "side", 1)) {
				fail("%s does not say %q: %s", code, post, text)
			}
		}
		if s.Vehicle.Arrangement == "parallel" != strings.Contains(g.Steps[at(g, "earthed_off")].Do.String(), "Both") {
			fail("%q", g.Steps[at(g, "earthed_off")].Do)
		}
		if (s.Vehicle.Arrangement == "series") != (at(g, "link_off") >= 0) {
			fail("a link of %s", s.Vehicle.Arrangement)
		}
		if out := what == guide.Replacing || s.Site.School == "bench"; out != (at(g, "lift") >= 0) || out != (at(g, "in") >= 0) {
			fail("it is lifted out: %v", at(g, "lift"))
		}
		if i := at(g, "before"); i >= 0 && slices.Contains(g.Steps[i].Enter, "cable_drop") == s.Vehicle.Electric() {
			fail("the drop over its cables while it cranks: %v", g.Steps[i].Enter)
		}
		if s.Vehicle.Electric() && (g.Warnings[0] != "high_voltage" || g.Steps[0].Cautions[0] != "high_voltage") {
			fail("no word of the high voltage")
		}
	})
	if seen < 30000 {
		t.Errorf("%d scenes were looked at", seen)
	}
	for _, c := range []string{"spanner", "hood", "keep_alive", "spark", "lifting", "recycle", "cleaning", "acid",
		"hydrogen", "high_voltage"} {
		if !cautions[c] {
			t.Errorf("caution %s stands at no step", c)
		}
	}
}

func scene(class string, change func(*guide.Scene)) guide.Scene {
	for _, d := range guide.Defaults() {
		if d.Class == class {
			s := guide.Scene{Vehicle: d.Vehicle, Battery: d.Battery, Rules: rules.Default(), Year: thisYear}
			if change != nil {
				change(&s)
			}
			return s
		}
	}
	panic(class)
}

func codesOf(g guide.Guide) string {
	var out []string
	for _, s := range g.Steps {
		out = append(out, s.Code)
	}
	return strings.Join(out, " ")
}

// Some procedures whole, as they are done by hand. Common practice, no source.
func TestOrderByHand(t *testing.T) {
	for _, c := range []struct {
		name, what string
		s          guide.Scene
		want       string
	}{
		{"a tractor, bench", guide.Cleaning, scene("tractor", nil),
			"ready before lid earthed_off live_off loose lift crust caps_tight soda dip rinse posts ends judge tray in held live_on earthed_on turn protect waste after"},
		{"a mower in place", guide.Cleaning, scene("mower", func(s *guide.Scene) { s.Site.School = "in_place" }),
			"ready before reach lid earthed_off live_off crust caps_tight soda dip rinse posts ends judge live_on earthed_on turn protect shut waste after"},
		{"only the lid", guide.Cleaning, scene("car", func(s *guide.Scene) { s.Site.Scope = "lid" }),
			"ready before lid caps_tight soda rinse waste after"},
		{"a stop-start car", guide.Replacing, scene("car", func(s *guide.Scene) { s.Vehicle.StopStart = true }),
			"ready new keep_alive sensor_off earthed_off live_off loose lift tray ends judge compare swap in held live_on earthed_on sensor_on turn keep_alive_off protect reset old"},
		{"a hybrid", guide.Replacing, scene("hybrid", nil),
			"ready new reach keep_alive earthed_off live_off loose lift tray ends judge compare swap in held live_on earthed_on turn keep_alive_off protect shut old"},
		{"a car without keep-alive", guide.Replacing, scene("car", func(s *guide.Scene) { s.Site.KeepAlive = "none" }),
			"ready new notes earthed_off live_off loose lift tray ends judge compare swap in held live_on earthed_on turn protect reset old"},
		{"a mower is put away", guide.Storing, scene("mower", nil),
			"ready lid caps_off levels caps_on leak charge rest reach earthed_off skim shut tyres brake damp tag"},
		{"a mower is woken", guide.Waking, scene("mower", nil),
			"ready look volts charge test reach earthed_on turn shut free crank drain"},
		{"a motorcycle’s onto the shelf", guide.Storing, scene("motorcycle", func(s *guide.Scene) { s.Site.Keep = "out" }),
			"ready lid leak charge rest reach earthed_off live_off loose lift shelf skim shut tyres brake damp tag"},
		{"and in again", guide.Waking, scene("motorcycle", func(s *guide.Scene) { s.Site.Keep = "out" }),
			"ready look volts charge test reach in held live_on earthed_on turn protect shut free crank drain"},
		{"a young car stays connected", guide.Storing, scene("car", nil), "ready lid leak charge rest feed tyres brake damp tag"},
		{"a boat with a switch", guide.Storing, scene("boat", func(s *guide.Scene) { s.Site.Keep = "switch" }),
			"ready lid caps_off levels caps_on leak charge rest switch_off damp tag"},
		{"an electric car is woken", guide.Waking, scene("electric", nil), "ready look volts charge test feed_off free crank drain"},
		{"an old tractor, water", guide.Watering, scene("tractor", nil),
			"ready lid caps_off levels cover caps_on charge caps_off_again mark caps_tight"},
		{"water after a charge", guide.Watering, scene("tractor", func(s *guide.Scene) { s.Site.Full = true }),
			"ready lid caps_off levels mark caps_tight"},
	} {
		if got := codesOf(guide.Make(c.what, c.s)); got != c.want {
			t.Errorf("%s:\n%s, by hand\n%s", c.name, got, c.want)
		}
	}
}

// Whatever stops the work leaves no step; what ends a battery is still taken out, in a tray.
func TestHazardsStop(t *testing.T) {
	for _, h := range []string{"frozen", "ice", "rotten_egg_smell", "hot", "case_bulged", "case_cracked", "leaking",
		"eye_clear", "plates_dry", "one_nobody_knows"} {
		for _, what := range guide.Procedures().Codes() {
			s := scene("tractor", func(s *guide.Scene) { s.Hazards = []guide.Hazard{{Code: h, Name: words.Say("It is so")}} })
			g := guide.Make(what, s)
			ends := slices.Contains([]string{"case_bulged", "case_cracked", "leaking", "eye_clear"}, h)
			goes := what == guide.Replacing && (ends || h == "plates_dry") || what == guide.Watering && h == "plates_dry"
			if goes != (len(g.Steps) > 0) || goes != g.Refusal.IsZero() || !goes && !slices.Equal(g.Hazards, []string{h}) {
				t.Errorf("%s with %s: %d steps, %q", what, h, len(g.Steps), g.Refusal)
			}
			if first := map[bool]string{true: guide.Replacing}[ends]; !goes && h != "plates_dry" && g.Instead != first ||
				h == "plates_dry" && !goes && g.Instead != guide.Watering {
				t.Errorf("%s with %s: %q instead", what, h, g.Instead)
			}
			if len(g.Steps) > 0 && what == guide.Replacing {
				leak := g.Steps[0].Cautions[0] == "leak" && g.Steps[at(g, "lift")].Cautions[0] == "leak"
				if leak != (ends && h != "eye_clear") {
					t.Errorf("%s: taken out as a leaking one: %v", h, leak)
				}
			}
		}
	}
	sealed := scene("car", nil)
	if g := guide.Make(guide.Watering, sealed); len(g.Steps) > 0 || !strings.Contains(g.Refusal.String(),
		"caps do not come off") {
		t.Errorf("water for a sealed one: %q", g.Refusal)
	}
}

// A step that would hurt is not done before what makes it safe, and what makes it safe not
// undone after.
func TestBeforeAndAfter(t *testing.T) {
	g := guide.Make(guide.Cleaning, scene("car", nil))
	for step, first := range map[string]string{"live_off": "earthed_off", "soda": "caps_tight", "earthed_off": "keep_alive",
		"earthed_on": "live_on", "keep_alive_off": "earthed_on",
		"lift": "loose", "live_on": "in", "protect": "earthed_on"} {
		s, _ := g.Step(step)
		if got := g.Before(s, g.After(nil)); !slices.ContainsFunc(got, func(b guide.Task) bool { return b.Code == first }) {
			t.Errorf("%s may be done before %s", step, first)
		}
		if got := g.Before(s, g.After([]guide.Event{{Kind: guide.Skipped, Step: first}})); !slices.ContainsFunc(got,
			func(b guide.Task) bool { return b.Code == first }) {
			t.Errorf("%s may be done when %s was skipped", step, first)
		}
		var done []guide.Event
		for _, b := range g.Before(s, g.After(nil)) {
			done = append(done, guide.Event{Kind: guide.Ticked, Step: b.Code})
		}
		if got := g.Before(s, g.After(done)); len(got) > 0 {
			t.Errorf("%s still wants %s", step, got[0].Code)
		}
		f, _ := g.Step(first)
		if got := g.Needing(f, g.After(append(done, guide.Event{Kind: guide.Ticked,
			Step: step}))); !slices.ContainsFunc(got, func(n guide.Task) bool { return n.Code == step }) {
			t.Errorf("%s may be undone after %s", first, step)
		}
	}
	// One after the other in order is always possible.
	everyScene(func(name, what string, s guide.Scene) {
		if s.Vehicle.Class != "car" && s.Vehicle.Class != "tractor" {
			return
		}
		g := guide.Make(what, s)
		var events []guide.Event
		for _, step := range g.Steps {
			p := g.After(events)
			if p.Now != step.Code {
				t.Fatalf("%s: %s is next, not %s", name, p.Now, step.Code)
			}
			if b := g.Before(step, p); len(b) > 0 {
				t.Fatalf("%s: %s wants %s", name, step.Code, b[0].Code)
			}
			events = append(events, guide.Event{Kind: guide.Ticked, Step: step.Code, Off: step.Off, Back: step.Back})
		}
		p, open := g.After(events), guide.Open(events)
		left := 0 // what is put away stands without some of it
		if what == guide.Storing {
			left = len(guide.Make(guide.Waking, s).Begins)
		}
		if p.Now != "" || len(open) != left {
			t.Fatalf("%s: %q is left, %v open", name, p.Now, open)
		}
	})
}

// What is off is known from what was done, through ticks, mistakes and hands.
func TestOpen(t *testing.T) {
	tick := func(off, back string) guide.Event {
		return guide.Event{Kind: guide.Ticked, Off: strings.Fields(off), Back: strings.Fields(back)}
	}
	undo := func(off, back string) guide.Event {
		return guide.Event{Kind: guide.Unticked, Off: strings.Fields(off), Back: strings.Fields(back)}
	}
	for _, c := range []struct {
		events []guide.Event
		want   string
	}{
		{nil, ""},
		{[]guide.Event{tick("earthed", "")}, "earthed"},
		{[]guide.Event{tick("earthed", ""), tick("cover live", "")}, "earthed cover live"},
		{[]guide.Event{tick("earthed", ""), tick("cover live", ""), tick("", "live")}, "earthed cover"},
		{[]guide.Event{tick("earthed", ""), undo("earthed", "")}, ""},
		{[]guide.Event{tick("earthed", ""), tick("", "earthed"), undo("", "earthed")}, "earthed"},
		{[]guide.Event{tick("elbow", ""), {Kind: guide.Skipped, Step: "swap"}}, "elbow"},
		{[]guide.Event{tick("elbow", ""), {Kind: guide.PutBack, Back: []string{"elbow"}}}, ""},
		{[]guide.Event{{Kind: guide.TookOff, Off: []string{"sleeve"}}}, "sleeve"},
		{[]guide.Event{tick("elbow", ""), tick("elbow", "")}, "elbow"},
	} {
		if got := strings.Join(guide.Open(c.events), " "); got != c.want {
			t.Errorf("%+v: open %q, want %q", c.events, got, c.want)
		}
	}
	g := guide.Make(guide.Watering, scene("tractor", nil))
	p := g.After([]guide.Event{{Kind: guide.Ticked, Step: "ready"}, {Kind: guide.Skipped, Step: "lid"},
		{Kind: guide.Ticked, Step: "caps_off"}, {Kind: guide.Unticked, Step: "ready"}})
	if _, ready := p.Done["ready"]; ready || p.Now != "ready" || len(p.Done) != 2 {
		t.Errorf("%+v", p)
	}
}

// What is fed while its battery is off: road vehicles of the last dozen years, and those of
// which nobody knows the year; from both sides of it, and by the house's rule.
func TestKeepAliveByAge(t *testing.T) {
	for _, c := range []struct {
		class string
		year  int
		rule  string
		want  string
	}{
		{"car", 0, rules.KeepAliveByAge, "socket"}, {"car", thisYear - 11, rules.KeepAliveByAge, "socket"}, {"car",
			thisYear - 12, rules.KeepAliveByAge, "none"},
		{"car", thisYear - 12, rules.KeepAliveAlways, "socket"}, {"mower", 0, rules.KeepAliveByAge, "none"}, {"mower", 0,
			rules.KeepAliveAlways, "socket"},
		{"classic", thisYear, rules.KeepAliveAlways, "none"}, // 6 V: there is no such supply
		{"tractor", thisYear, rules.KeepAliveByAge, "none"}, {"hybrid", 0, rules.KeepAliveByAge, "socket"},
	} {
		s := scene(c.class, func(s *guide.Scene) { s.Vehicle.MadeYear, s.Rules.KeepAlive = c.year, c.rule })
		if got := guide.Make(guide.Replacing, s).Site.KeepAlive; got != c.want {
			t.Errorf("%s of %d by %s: %s, want %s", c.class, c.year, c.rule, got, c.want)
		}
	}
	if got := guide.Make(guide.Cleaning, scene("car", func(s *guide.Scene) {
		s.Site.Scope, s.Site.KeepAlive = "lid",
			"socket"
	})); got.Site.KeepAlive != "none" {
		t.Error("a keep-alive for a wiped lid")
	}
}

// What is asked is what can be answered, and answers nobody gave are usual ones.
func TestAsks(t *testing.T) {
	everyScene(func(name, what string, s guide.Scene) {
		if s.Vehicle.Earth != "negative" || s.Vehicle.Arrangement != "single" {
			return
		}
		g := guide.Make(what, s)
		for _, a := range g.Asks {
			var codes []string
			for _, o := range a.Options {
				codes = append(codes, o.Code)
			}
			for _, c := range a.Chosen {
				if !slices.Contains(codes, c) {
					t.Fatalf("%s: %s is %q, none of %v", name, a.Field, c, codes)
				}
			}
			if !a.Several && len(a.Chosen) != 1 {
				t.Fatalf("%s: %s is %v", name, a.Field, a.Chosen)
			}
		}
	})
	with := func(class string, stop bool) guide.Site {
		return guide.Make(guide.Replacing, scene(class, func(s *guide.Scene) { s.Vehicle.StopStart = stop })).Site
	}
	if car := with("car", true); !slices.Contains(car.On, guide.Sensor) || car.Monitor != "yes" || car.Place != "front" {
		t.Errorf("a stop-start car: %+v", car)
	}
	if car := with("car", false); slices.Contains(car.On, guide.Sensor) || car.Monitor != "no" {
		t.Errorf("a plain car: %+v", car)
	}
	if taxi := with("hybrid", false); taxi.Place != "boot" || !slices.Contains(taxi.On,
		guide.Elbow) || !slices.Contains(taxi.On, guide.Plug) || !slices.Contains(taxi.On, guide.Panel) {
		t.Errorf("a hybrid: %+v", taxi)
	}
	if bike := with("motorcycle", false); !slices.Contains(bike.On, guide.Strap) || slices.Contains(bike.On, guide.VentTube) {
		t.Errorf("a motorcycle: %+v", bike)
	}
}

// The vent elbow of a hybrid is on the shelf from the vent tube on until it sits on the new
// battery; a plug alike.
func TestElbowIsRemembered(t *testing.T) {
	g := guide.Make(guide.Replacing, scene("hybrid", nil))
	for i, s := range g.Steps {
		gone := slices.Contains(s.Draw.Gone, guide.Elbow) && slices.Contains(s.Draw.Gone, guide.Plug)
		if want := i > at(g, "loose") && i <= at(g, "swap"); gone != want {
			t.Errorf("%s: elbow and plug off %v, want %v", s.Code, gone, want)
		}
	}
	if s, _ := g.Step("swap"); s.Do.String() != "Elbow and plug to the new one" {
		t.Errorf("%q", s.Do)
	}
}

// Tightened as the trade has it: 10 to 11 N·m on a top post, about 15 on a side terminal,
// and by nobody's guess on a stud.
func TestTorqueIsSaid(t *testing.T) {
	for terminals, says := range map[string]string{"top": "10 to 11 N·m", "side": "14 to 16 N·m", "stud": "its maker’s figure"} {
		s := scene("car", func(s *guide.Scene) { s.Battery.Terminals = terminals })
		g := guide.Make(guide.Cleaning, s)
		for _, code := range []string{"live_on", "earthed_on"} {
			if got := g.Steps[at(g, code)].Why.String(); !strings.Contains(got, says) {
				t.Errorf("%s on %s: %q", code, terminals, got)
			}
		}
	}
	g := guide.Make(guide.Cleaning, scene("car", nil))
	words.Spoken(&g, words.Voice{Torque: words.InchPounds})
	if got := g.Steps[at(g, "live_on")].Why.String(); !strings.Contains(got, "89 to 100 in·lb") {
		t.Errorf("%q", got)
	}
}

// A choice puts into the log what was found.
func TestChoicesRecord(t *testing.T) {
	g := guide.Make(guide.Cleaning, scene("car", nil))
	judge := g.Steps[at(g, "judge")]
	for choice, want := range map[string]string{"sound": "", "renewed": "put_right", "end_later": "inspection",
		"cable_later": "inspection", "": ""} {
		r, ok := judge.Records(choice)
		if ok != (want != "") || r.Kind != want {
			t.Errorf("%q: %s, %v", choice, r.Kind, ok)
		}
	}
	lid := guide.Make(guide.Cleaning, scene("car", func(s *guide.Scene) { s.Site.Scope = "lid" }))
	waste := lid.Steps[at(lid, "waste")]
	if r, ok := waste.Records(""); !ok || !slices.Equal(r.Words("what"), []string{"lid"}) {
		t.Errorf("the lid alone: %v", r)
	}
}
