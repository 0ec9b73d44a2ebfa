package season

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/climate"
	"grapnel/core/reading/readingtest"
	"grapnel/core/rules"
	"grapnel/core/words"
	"grapnel/internal/effort"
)

// ask makes a request of fields as they stand in a document.
func ask(t testing.TB, fields string) Request {
	t.Helper()
	r, err := Decode([]byte(`{"format":"` + RequestFormat + `",` + fields + `}`))
	if err != nil {
		t.Fatalf("%s\n%s", err, fields)
	}
	return r
}

func planOf(t testing.TB, r Request) Season {
	t.Helper()
	if wrong := r.Check(); wrong != nil {
		t.Fatal(wrong)
	}
	p, err := r.Make(readingtest.Labels, words.Voice{})
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func (p Season) of(t testing.TB, way string) WayOfKeeping {
	t.Helper()
	i := slices.IndexFunc(p.Ways, func(w WayOfKeeping) bool { return w.Way == way })
	if i < 0 {
		t.Fatalf("no way %s", way)
	}
	return p.Ways[i]
}

// steady is a place where all months are alike.
func steady(mean, low float64) Place {
	var p Place
	for range 12 {
		p.Mean, p.Low = append(p.Mean, mean), append(p.Low, low)
	}
	return p
}

func car(t testing.TB, place Place, drain, soc float64, more string) Request {
	r := ask(
		t,
		`"vehicle":{"class":"car","fuel":"petrol"},"battery":{"chemistry":"flooded_sealed","rating":{"cca":540,"ah_20h":60}},
		"start":{"soc_pct":100},"from":"2026-11-01","to":"2027-04-01","place":{"climate":"inland"}`+more,
	)
	r.Place, r.DrainMA, r.Start.SOCPct = place, &drain, soc
	return r
}

// 30 mA is 22 Ah a month: 0.03 A × 24 h × 30 = 21.6 Ah, arithmetic. At −40 °C a battery loses
// next to nothing by itself, so that the drain is all there is.
func TestThirtyMilliamps(t *testing.T) {
	r := car(t, steady(-40, -45), 30, 100, "")
	w := planOf(t, r).of(t, Connected)
	ah := (100 - w.Days[30].SOC) / 100 * heldAh(t, r)
	if math.Abs(ah-21.6) > 0.3 {
		t.Errorf("%.2f Ah in 30 days, by hand 21.6", ah)
	}
	if off := planOf(t, r).of(t, Disconnected); 100-off.Days[30].SOC > 0.2 {
		t.Errorf("disconnected at −40 °C it lost %.2f %%", 100-off.Days[30].SOC)
	}
	// Two in parallel share it.
	r.Vehicle.Arrangement = "parallel"
	if half := planOf(t, r).of(t, Connected); math.Abs((100-half.Days[30].SOC)/(100-w.Days[30].SOC)-0.5) > 0.01 {
		t.Errorf("of two in parallel one lost %.2f %%, alone %.2f", 100-half.Days[30].SOC, 100-w.Days[30].SOC)
	}
}

// heldAh is what the battery of a request really holds.
func heldAh(t testing.TB, r Request) float64 {
	t.Helper()
	p, err := r.planner(readingtest.Labels)
	if err != nil {
		t.Fatal(err)
	}
	return p.s.ah
}

// Facts of the trade; common practice, no source.
func TestTrade(t *testing.T) {
	// A car left two months even at 0 °C may not start.
	two := planOf(t, car(t, steady(0, -5), 30, 90, "")).of(t, Connected)
	if day := daysTo(two, two.NoStartOn); day < 40 || day > 70 {
		t.Errorf("at 0 °C with 30 mA it starts for %d days, practice says about two months", day)
	}
	// Lots: every 30 days, with a usual drain.
	lot := planOf(t, car(t, steady(15, 5), 20, 100, `,"at_hand":["mains"]`))
	if by := daysTo(lot.of(t, Connected), lot.of(t, Connected).ChargeBy); by < 14 || by > 40 {
		t.Errorf("on a lot it is charged after %d days, practice says 30", by)
	}
	if n := lot.of(t, ChargeEvery).EveryDays; n != 14 && n != 21 && n != 30 {
		t.Errorf("on a lot it is charged every %d days", n)
	}
	// Powersports off the vehicle: every three months, and an AGM has more than enough then.
	bike := ask(t, `"vehicle":{"class":"motorcycle"},"battery":{"chemistry":"agm","rating":{"cca":180,"ah_20h":10}},
		"start":{"soc_pct":100},"from":"2026-10-01","to":"2027-04-01","place":{"climate":"inland"},"at_hand":["indoors"],"indoors_c":20`)
	in := planOf(t, bike).of(t, TakenIn)
	if soc := in.Days[90].SOC; soc < 90 || soc > 98 {
		t.Errorf("after three months indoors %.0f %%", soc)
	}
	if in.Needs[1].Code != "look" || daysTo(in, in.Needs[1].Date) != 90 {
		t.Errorf("first look: %+v", in.Needs[1])
	}
	// An electric car's 12 V: a top-up night every two to three weeks, asleep at 15 mA or so.
	ev := ask(
		t,
		`"vehicle":{"class":"electric"},"battery":{"chemistry":"agm","rating":{"cca":380,"ah_20h":45}},"start":{"soc_pct":100},
		"from":"2026-11-01","to":"2027-02-01","place":{"climate":"coast"},"drain_ma":20,"at_hand":["mains"]`,
	)
	if n := planOf(t, ev).of(t, ChargeEvery).EveryDays; n != 14 && n != 21 {
		t.Errorf("an electric car is charged every %d days", n)
	}
	// A mower left connected in an inland winter freezes or is near it; its clamp off it does not.
	p := planOf(t, example(t))
	if c := p.of(t, Connected); c.Sign != "stop" || c.FreezesFrom == "" {
		t.Errorf("left connected: %s %s", c.Sign, c.Says)
	}
	if p.Chosen != Disconnected || p.of(t, Disconnected).Sign != "holds" {
		t.Errorf("chosen %s", p.Chosen)
	}
}

func daysTo(w WayOfKeeping, on string) int {
	return slices.IndexFunc(w.Days, func(d Day) bool { return d.Date == on })
}

// The freezing points of a standing battery are those of the table of its acid: CRC Handbook
// and BCI, from memory, ±3 °C; under empty they rise to that of water.
func TestFreezesByAcid(t *testing.T) {
	s := standing{chem: battery.Flooded}
	for soc, want := range map[float64]float64{100: -57, 75: -37, 50: -27, 25: -16, 0: -10} {
		if got := s.freezes(soc); math.Abs(got-want) > 3 {
			t.Errorf("%g %%: freezes at %.0f °C, table %g", soc, got, want)
		}
	}
	last := -100.0
	for soc := 100.0; soc >= emptied; soc-- {
		got := s.freezes(soc)
		if got < last {
			t.Fatalf("at %g %% the freezing point falls", soc)
		}
		last = got
	}
	if last < -1.5 || last > 0 {
		t.Errorf("emptied it freezes at %.1f °C, water at 0", last)
	}
}

var anyClimate = []string{"upland", "inland", "coast", "continental", "hot"}

// anything makes a request of chance.
func anything(t testing.TB, rnd *rand.Rand) Request {
	classes := []string{
		"car",
		"van",
		"motorcycle",
		"atv",
		"mower",
		"tractor",
		"hybrid",
		"electric",
		"classic",
		"boat",
		"motorhome",
	}
	chems := []string{"flooded", "flooded_sealed", "efb", "agm", "gel"}
	ah := 10 + 100*rnd.Float64()
	r := ask(
		t,
		fmt.Sprintf(
			`"vehicle":{"class":%q},"battery":{"chemistry":%q,"rating":{"cca":%.0f,"ah_20h":%.0f}},"start":{"soc_pct":%.0f,"health_pct":%.0f},
		"from":"2026-%02d-01","to":"2027-%02d-15","place":{"climate":%q},"at_hand":["mains","live_socket","solar","indoors","switch"],
		"solar":{"watts":%.0f,"latitude_deg":%.0f},"drain_ma":%.0f`,
			classes[rnd.IntN(len(classes))],
			chems[rnd.IntN(len(chems))],
			8*ah+30,
			ah,
			50+50*rnd.Float64(),
			60+40*rnd.Float64(),
			7+rnd.IntN(6),
			1+rnd.IntN(7),
			anyClimate[rnd.IntN(len(anyClimate))],
			2+40*rnd.Float64(),
			-60+120*rnd.Float64(),
			60*rnd.Float64(),
		),
	)
	return r
}

// What a plan says of itself holds together, whatever is asked.
func TestPlansHoldTogether(t *testing.T) {
	rnd := rand.New(rand.NewPCG(15, 1))
	for range effort.Of(12, 60, 60) {
		r := anything(t, rnd)
		p := planOf(t, r)
		seen := map[string]bool{}
		for i, w := range p.Ways {
			seen[w.Way] = true
			least, leastLow := math.Inf(1), math.Inf(1)
			freezes, may := "", ""
			for _, d := range w.Days {
				if d.SOCLow > d.SOC || d.SOC > d.SOCHigh || d.SOCLow < 0 || d.SOCHigh > 100 {
					t.Fatalf("%s %s: %+v", w.Way, d.Date, d)
				}
				if d.Strong > d.Freezes || d.Freezes > d.Weak || d.Weak > 0 || d.Strong < -71 {
					t.Fatalf("%s %s: %+v", w.Way, d.Date, d)
				}
				least, leastLow = min(least, d.Low-d.Freezes), min(leastLow, d.Low-d.Weak)
				if freezes == "" && d.Low <= d.Freezes {
					freezes = d.Date
				}
				if may == "" && d.Low <= d.Weak {
					may = d.Date
				}
			}
			if math.Abs(least-w.Margin) > 0.011 || math.Abs(leastLow-w.MarginLow) > 0.011 || freezes != w.FreezesOn ||
				may != w.FreezesFrom {
				t.Errorf(
					"%s: margin %.2f and %.2f, days say %.2f and %.2f; freezes %q %q, days say %q %q",
					w.Way,
					w.Margin,
					w.MarginLow,
					least,
					leastLow,
					w.FreezesOn,
					w.FreezesFrom,
					freezes,
					may,
				)
			}
			if w.Way == TakenIn && w.Days[0].Low != usualIndoorsC {
				t.Errorf("indoors it is %g °C", w.Days[0].Low)
			}
			if (w.Sign == "holds") != (w.ChargeBy == "" && w.FreezesFrom == "" && w.NoStartOn == "" && w.SOCMin.Low > 0) &&
				w.Way != Maintained {
				t.Errorf("%s: %s, charge by %q, %+v", w.Way, w.Sign, w.ChargeBy, w.SOCMin)
			}
			if stop := w.FreezesFrom != "" || w.NoStartOn != "" || w.SOCMin.Low <= 0; w.Way != Maintained &&
				stop != (w.Sign == "stop") {
				t.Errorf("%s: %s, may freeze %q, no start %q, %+v", w.Way, w.Sign, w.FreezesFrom, w.NoStartOn, w.SOCMin)
			}
			if i > 0 {
				order := map[string]int{"holds": 0, "act": 1, "stop": 2}
				if before := p.Ways[i-1]; order[before.Sign] > order[w.Sign] ||
					before.Sign == w.Sign && w.Sign != "stop" && before.total() > w.total() {
					t.Errorf("%s stands before %s", before.Way, w.Way)
				}
			}
			for k, n := range w.Needs {
				if k > 0 && n.Date < w.Needs[k-1].Date || n.Date < r.From || n.Date > r.To {
					t.Errorf("%s: %+v out of order", w.Way, n)
				}
			}
			if text := w.Says.String() + w.Cost.String() + p.Why.String() + p.Folk.Says.String(); strings.ContainsAny(
				text,
				"{}",
			) ||
				strings.Contains(text, "NaN") {
				t.Errorf("%s: %s", w.Way, text)
			}
		}
		for _, way := range []string{Connected, Disconnected, ChargeEvery, Maintained, BySun, TakenIn} {
			if !seen[way] {
				t.Errorf("no way %s", way)
			}
		}
		if p.Chosen != p.Ways[0].Way {
			t.Errorf("chosen %s, first %s", p.Chosen, p.Ways[0].Way)
		}
		if _, err := json.Marshal(p); err != nil {
			t.Error(err)
		}
	}
}

// Colder stores hold charge longer, and freeze sooner.
func TestColderStores(t *testing.T) {
	rnd := rand.New(rand.NewPCG(15, 2))
	for range effort.Of(8, 40, 40) {
		r := anything(t, rnd)
		o, _ := climate.Named(r.Place.Climate)
		at := func(colder float64) WayOfKeeping {
			q := r
			q.Place = Place{}
			for i := range o.Mean {
				q.Place.Mean, q.Place.Low = append(q.Place.Mean, o.Mean[i]-colder), append(q.Place.Low, o.Low[i]-colder)
			}
			return planOf(t, q).of(t, Disconnected)
		}
		warm, cold := at(0), at(8)
		if cold.SOCEnd.Best < warm.SOCEnd.Best || cold.SOCEnd.Low < warm.SOCEnd.Low {
			t.Errorf("8 °C colder %.2f %% are left, else %.2f", cold.SOCEnd.Best, warm.SOCEnd.Best)
		}
		if cold.Margin >= warm.Margin || cold.FreezesOn == "" && warm.FreezesOn != "" {
			t.Errorf("8 °C colder %.1f °C are to spare, else %.1f", cold.Margin, warm.Margin)
		}
	}
}

// More drain never helps, a longer season neither; a bigger battery and a bigger panel never
// hurt.
func TestMoreDrainNeverHelps(t *testing.T) {
	rnd := rand.New(rand.NewPCG(15, 3))
	for range effort.Of(6, 30, 30) {
		r := anything(t, rnd)
		base := planOf(t, r)
		worse, bigger, panel := r, r, r
		more := *r.DrainMA + 5 + 20*rnd.Float64()
		worse.DrainMA = &more
		ah, cca := *r.Battery.Rating.Ah20h*1.3, *r.Battery.Rating.CCA*1.3
		bigger.Battery.Rating.Ah20h, bigger.Battery.Rating.CCA = &ah, &cca
		panel.Solar = &Solar{r.Solar.Watts * 1.5, r.Solar.LatitudeDeg}
		for _, way := range []string{Connected, Disconnected, BySun} {
			a, b := base.of(t, way), planOf(t, worse).of(t, way)
			if b.SOCMin.Best > a.SOCMin.Best+0.01 || b.SOCEnd.Low > a.SOCEnd.Low+0.5 || b.Margin > a.Margin+0.01 {
				t.Errorf("%s: more drain leaves %+v, else %+v", way, b.SOCMin, a.SOCMin)
			}
		}
		if a, b := base.of(t, Connected), planOf(t, bigger).of(t, Connected); b.SOCMin.Best < a.SOCMin.Best-0.6 {
			t.Errorf("a bigger battery leaves %.1f %%, else %.1f", b.SOCMin.Best, a.SOCMin.Best)
		}
		if a, b := base.of(t, BySun), planOf(t, panel).of(t, BySun); b.SOCMin.Best < a.SOCMin.Best-0.01 {
			t.Errorf("a bigger panel leaves %.1f %%, else %.1f", b.SOCMin.Best, a.SOCMin.Best)
		}
	}
}

// A maintainer within its limits never lets a battery fall: at the best estimate its charge
// only rises, and where it stops it begins again at a fifth lost, seen
// once a day.
func TestMaintainerHolds(t *testing.T) {
	rnd := rand.New(rand.NewPCG(15, 4))
	for range effort.Of(12, 60, 60) {
		r := anything(t, rnd)
		a := planOf(t, r).Amps
		if a.Min >= a.Max {
			continue
		}
		amps := a.Min + (a.Max-a.Min)*rnd.Float64()
		r.Maintainer = &Maintainer{Kind: KindMaintainer, Amps: max(a.Min, amps)}
		w := planOf(t, r).of(t, Maintained)
		for i, d := range w.Days {
			if i > 0 && d.SOC < w.Days[i-1].SOC-1e-9 {
				t.Fatalf("%g A of %g to %g: %s falls to %.2f", amps, a.Min, a.Max, d.Date, d.SOC)
			}
			if low := min(floats, w.Days[0].SOCLow); d.SOCLow < low-4 {
				t.Fatalf("%g A of %g to %g: %s stands at %.2f at the low end", amps, a.Min, a.Max, d.Date, d.SOCLow)
			}
		}
		// Far under the least it does fall.
		r.Maintainer.Amps = a.Min / 10
		if w := planOf(t, r); r.Start.SOCPct > 90 && w.of(t, Maintained).SOCEnd.Best >= 100 && *r.DrainMA > 20 {
			t.Errorf("%g A of at least %g keep it full", a.Min/10, a.Min)
		}
	}
}

// House rules turn a way to act from both sides: a hundredth under what it comes to it holds,
// a hundredth over it does not.
func TestHouseRules(t *testing.T) {
	r := example(t)
	base := planOf(t, r).of(t, Disconnected)
	for _, c := range []struct {
		margin, least float64
		sign          string
	}{
		{5, base.SOCMin.Low - 0.02, "holds"}, {5, base.SOCMin.Low + 0.02, "act"},
		{base.MarginLow - 0.02, 50, "holds"}, {base.MarginLow + 0.02, 50, "act"},
	} {
		r.Rules.StoreMarginC, r.Rules.StoreMinSOC = c.margin, c.least
		w := planOf(t, r).of(t, Disconnected)
		if w.Sign != c.sign || (w.ChargeBy == "") != (c.sign == "holds") {
			t.Errorf("margin %.2f, least %.2f: %s, by %q", c.margin, c.least, w.Sign, w.ChargeBy)
		}
	}
	if d := rules.Default(); d.StoreMarginC != 5 || d.StoreMinSOC != 75 {
		t.Errorf("defaults: %g °C, %g %%", d.StoreMarginC, d.StoreMinSOC)
	}
}

// Nothing at hand, or a switch, or something to be ready for, changes what is chosen and why.
func TestChosen(t *testing.T) {
	for _, c := range []struct {
		about, fields, chosen, why string
	}{
		{"three weeks, little drain: nothing", `"vehicle":{"class":"tractor"},"battery":{"chemistry":"flooded","rating":{"cca":720,"ah_20h":88}},"start":{"soc_pct":100},
			"from":"2026-06-01","to":"2026-06-21","place":{"climate":"coast"},"drain_ma":5,"at_hand":["mains"]`, Connected, "Nothing has to be done"},
		{"a reserve ambulance", `"vehicle":{"class":"van","fuel":"diesel"},"battery":{"chemistry":"agm","rating":{"cca":850,"ah_20h":95}},"start":{"soc_pct":100},
			"from":"2026-11-01","to":"2027-02-01","place":{"climate":"upland"},"drain_ma":60,"ready_any_day":true,"at_hand":["mains"]`, Maintained, "Left connected"},
		{"the same, and nobody waits for it", `"vehicle":{"class":"van","fuel":"diesel","made_year":1995},"battery":{"chemistry":"agm","rating":{"cca":850,"ah_20h":95}},"start":{"soc_pct":100},
			"from":"2026-11-01","to":"2027-02-01","place":{"climate":"upland"},"drain_ma":60,"at_hand":["mains"]`, Disconnected, "One spanner"},
		{"an electric car stays locked without", `"vehicle":{"class":"electric"},"battery":{"chemistry":"agm","rating":{"cca":380,"ah_20h":45}},"start":{"soc_pct":100},
			"from":"2026-11-01","to":"2027-02-01","place":{"climate":"coast"},"drain_ma":25,"at_hand":["mains"]`, Maintained, "Left connected"},
		{"nothing keeps a flat one", `"vehicle":{"class":"mower"},"battery":{"chemistry":"flooded","rating":{"cca":300,"ah_20h":28}},"start":{"soc_pct":15},
			"from":"2026-11-01","to":"2027-02-01","place":{"climate":"continental"},"drain_ma":8,"at_hand":["nothing"]`, Disconnected, "Nothing at hand keeps it"},
	} {
		p := planOf(t, ask(t, c.fields))
		if p.Chosen != c.chosen || !strings.Contains(p.Why.String(), c.why) {
			t.Errorf("%s: %s. %s", c.about, p.Chosen, p.Why)
		}
	}
	// A switch is turned, a clamp is unscrewed.
	r := example(t)
	if w := planOf(t, r).of(t, Disconnected); w.Name != nameSwitch || w.Minutes != 2*switchMinutes+lookMinutes {
		t.Errorf("%s: %g min", w.Name, w.Minutes)
	}
	r.AtHand = []string{Nothing}
	if w := planOf(t, r).of(t, Disconnected); w.Minutes != 2*clampMinutes+lookMinutes ||
		w.Needs[0].Do.String() != doClampOff {
		t.Errorf("%s: %g min, %s", w.Name, w.Minutes, w.Needs[0].Do)
	}
}

// Driving: on the road or not, how often and how long.
func TestDrives(t *testing.T) {
	r := car(t, steady(5, 0), 15, 95, "")
	w := planOf(t, r).of(t, DriveEvery)
	if w.Sign != "holds" || w.DriveMin > longDrive || w.Needs[0].Code != "drive" ||
		daysTo(w, w.Needs[0].Date) != w.EveryDays {
		t.Errorf("%s, %s: %+v", w.Name, w.Says, w.Needs[0])
	}
	no := false
	r.MayDrive = &no
	if i := slices.IndexFunc(planOf(t, r).Ways, func(w WayOfKeeping) bool { return w.Way == DriveEvery }); i >= 0 {
		t.Error("it drives though it may not")
	}
	mower := example(t)
	if i := slices.IndexFunc(planOf(t, mower).Ways, func(w WayOfKeeping) bool { return w.Way == DriveEvery }); i >= 0 {
		t.Error("a mower goes for a drive")
	}
	// A drive never takes charge away, a longer one gives more, and none fills it up.
	b, _, err := battery.FromLabel(battery.AGM, 6, r.Battery.Rating.Label())
	if err != nil {
		t.Fatal(err)
	}
	d := drivesOf(b, "car", 0, 12)
	for soc := 0.0; soc <= 100; soc += 7 {
		last := soc
		for m := 0.0; m <= 300; m += 15 {
			got := d.to(soc, m)
			if got < last-1e-9 || got > max(soc, driveTo) {
				t.Fatalf("from %g %% after %g min: %.1f, before %.1f", soc, m, got, last)
			}
			last = got
		}
	}
	if got := (drives{}).to(50, 100); got != 50 {
		t.Errorf("a drive nobody could follow gives %g %%", got)
	}
}
