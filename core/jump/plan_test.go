package jump

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/words"
	"grapnel/internal/effort"
)

var labels = known()

func planned(t testing.TB, r Request) Plan {
	t.Helper()
	p, err := r.Plan(labels, words.Voice{})
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// decoded reads a request that differs from the diesel's in some places: pairs of a path
// with dots and a JSON value.
func decoded(t testing.TB, pairs ...string) Request {
	t.Helper()
	r, err := Decode(edited(t, pairs...))
	if err != nil {
		t.Fatalf("%v: %v", pairs, err)
	}
	return r
}

func edited(t testing.TB, pairs ...string) []byte {
	t.Helper()
	var doc map[string]any
	data, _ := json.Marshal(map[string]any{
		"format": RequestFormat,
		"flat": map[string]any{
			"vehicle": map[string]any{"class": "car", "fuel": "diesel"},
			"battery": map[string]any{"chemistry": "flooded",
				"rating": map[string]any{
					"cca":    800,
					"ah_20h": 90,
				}},
			"soc_pct":   20,
			"battery_c": 0,
			"engine":    map[string]any{"litres": 2.2},
		},
		"source": map[string]any{
			"kind":            "vehicle",
			"battery":         map[string]any{"chemistry": "agm", "rating": map[string]any{"cca": 700, "ah_20h": 70}},
			"running":         true,
			"alternator_amps": 90,
		},
		"leads": map[string]any{"mm2": 25, "metres": 3}})
	if err := json.Unmarshal(data, &doc); err != nil {
		t.Fatal(err)
	}
	for i := 0; i < len(pairs); i += 2 {
		at := doc
		path := strings.Split(pairs[i], ".")
		for _, p := range path[:len(path)-1] {
			next, ok := at[p].(map[string]any)
			if !ok {
				next = map[string]any{}
				at[p] = next
			}
			at = next
		}
		var v any
		if err := json.Unmarshal([]byte(pairs[i+1]), &v); err != nil {
			t.Fatal(err)
		}
		if at[path[len(path)-1]] = v; v == nil {
			delete(at, path[len(path)-1])
		}
	}
	out, _ := json.Marshal(doc)
	return out
}

const (
	aCar   = `{"kind": "vehicle", "battery": {"chemistry": "flooded", "rating": {"cca": 540, "ah_20h": 60}}, "running": true}`
	aPack  = `{"kind": "pack", "peak_amps": 600}`
	petrol = `"petrol"`
)

// A plan agrees with itself: volts lost along the way add up to what is missing at the
// starter, the curve begins with what a try reaches now, the band holds the best, and a
// plan is written as its schema has it.
func TestPlanAgreesWithItself(t *testing.T) {
	for _, c := range [][]string{
		{},
		{"flat.soc_pct", "3"},
		{"clamp_on", `"post"`},
		{"source", aPack},
		{"source", `{"kind": "charger", "boost_amps": 120}`},
		{"source", aCar, "flat.engine.litres", "1.2", "flat.vehicle.fuel", petrol},
		{"flat.battery_place", `"boot"`},
		{"flat.vehicle.arrangement", `"parallel"`},
		{"flat.vehicle.class", `"hybrid"`},
	} {
		p := planned(t, decoded(t, c...))
		lost := 0.0
		for _, l := range p.Losses {
			lost += l.Volts
			if l.Volts < 0 || l.Milliohms <= 0 {
				t.Errorf("%v: %+v", c, l)
			}
		}
		if p.Wake == nil {
			if f := p.Now; math.Abs(f.SourceRest-lost-f.StarterVolts) > 0.05 || *p.StarterVolts != f.StarterVolts ||
				*p.CrankRPM != f.Reached {
				t.Errorf("%v: %.2f V less %.2f V is not %.2f V", c, f.SourceRest, lost, f.StarterVolts)
			}
		} else if p.StarterVolts != nil || p.CrankRPM != nil || p.Reached.Unit != "V" {
			t.Errorf("%v: a starter on %+v", c, p.Wake)
		}
		for _, m := range p.Curve {
			if !(m.Low <= m.Best && m.Best <= m.High) {
				t.Errorf("%v: %+v", c, m)
			}
		}
		if math.Abs(p.Curve[0].Best-p.Reached.Best) > 0.6 || p.Reached.Low > p.Reached.Best || p.Reached.High < p.Reached.Best {
			t.Errorf("%v: %+v and %+v", c, p.Curve[0], p.Reached)
		}
		switch r := p.Reached; p.Starts {
		case Yes:
			if r.Low < r.Needs-1 || *p.MinutesFirst != 0 || len(p.Changes) > 0 || p.Later != nil {
				t.Errorf("%v: yes, with %+v", c, r)
			}
		case No:
			if r.High >= r.Needs+1 {
				t.Errorf("%v: no, with %+v", c, r)
			}
		default:
			if r.Low >= r.Needs+1 || r.High < r.Needs-1 {
				t.Errorf("%v: perhaps, with %+v", c, r)
			}
		}
		if m := p.MinutesFirst; m != nil && *m > 0 && (p.Later == nil || p.Later.Reached < p.Reached.Needs-1) {
			t.Errorf("%v: after %g minutes %+v", c, *m, p.Later)
		}
		data, err := json.Marshal(p)
		if err != nil {
			t.Fatal(err)
		}
		tree, err := document.Parse(data, PlanFormat)
		if wrong := document.Check(tree, PlanShape()); err != nil || len(wrong) > 0 {
			t.Errorf("%v: %v", c, wrong)
		}
		if strings.ContainsAny(
			strings.NewReplacer(`":{`, "", `[{`, "", `},{`, "", `}]`, "", `}`, "", `{"`, "").Replace(string(data)),
			"{}",
		) {
			t.Errorf("%v: a place is not filled in %s", c, data)
		}
	}
}

// A diesel in the cold that does not turn at once, and does after minutes on the leads: by
// then its battery has taken some and gives it back. Common practice, no source: the second
// try works where the first fails.
func TestSecondTryWorks(t *testing.T) {
	p := planned(t, request(t, "diesel"))
	if p.Starts != No || p.MinutesFirst == nil || *p.MinutesFirst < 3 || p.Minutes.Low > *p.MinutesFirst {
		t.Fatalf("%s, %+v", p.Starts, p.Minutes)
	}
	if p.Later.FlatAmps > -50 || p.Now.FlatAmps < p.Later.FlatAmps || p.Later.LeadAmps >= p.Now.LeadAmps {
		t.Errorf("now %+v, later %+v", p.Now, p.Later)
	}
	if p.Answer.String() != "Not yet." || !strings.Contains(p.Then.String(), fmt.Sprintf("%.0f min", *p.MinutesFirst)) ||
		!strings.Contains(p.Why.String(), "second try") {
		t.Errorf("%s %s %s", p.Answer, p.Then, p.Why)
	}
	codes := []string{}
	for _, c := range p.Changes {
		codes = append(codes, c.Code)
		if c.Reached < p.Reached.Needs-3 {
			t.Errorf("%s reaches %g of %g", c.Code, c.Reached, p.Reached.Needs)
		}
	}
	if len(codes) < 2 || codes[0] != changeMinutes {
		t.Errorf("%v", codes)
	}
}

// A small pack turns a small petrol engine, but not a large cold diesel. Common practice,
// no source.
func TestSmallPack(t *testing.T) {
	small := planned(
		t,
		decoded(
			t,
			"source",
			aPack,
			"flat.vehicle.fuel",
			petrol,
			"flat.engine.litres",
			"1.2",
			"flat.battery.rating",
			`{"cca": 440, "ah_20h": 45}`,
		),
	)
	large := planned(t, decoded(t, "source", aPack, "flat.engine.litres", "3", "flat.battery_c", "-8", "source.soc_pct", "90"))
	if small.Starts != Yes || large.Starts != No {
		t.Errorf("the small engine %s (%+v), the large one %s (%+v)", small.Starts, small.Reached, large.Starts, large.Reached)
	}
	// Cold and half empty, it is less of a pack.
	tired := planned(
		t,
		decoded(
			t,
			"source",
			`{"kind": "pack", "peak_amps": 600, "soc_pct": 40, "battery_c": -15}`,
			"flat.vehicle.fuel",
			petrol,
			"flat.engine.litres",
			"1.2",
		),
	)
	fresh := planned(
		t,
		decoded(
			t,
			"source",
			`{"kind": "pack", "peak_amps": 600, "soc_pct": 100, "battery_c": 20}`,
			"flat.vehicle.fuel",
			petrol,
			"flat.engine.litres",
			"1.2",
		),
	)
	if tired.Reached.Best >= fresh.Reached.Best {
		t.Errorf("tired %g, fresh %g", tired.Reached.Best, fresh.Reached.Best)
	}
	if !said(tired, "pack_flat") || !said(tired, "pack_cold") || said(fresh, "pack_flat") || said(fresh, "pack_cold") {
		t.Errorf("%v; %v", tired.Cautions, fresh.Cautions)
	}
}

func said(p Plan, code string) bool {
	for _, c := range p.Cautions {
		if c.Code == code {
			return true
		}
	}
	return false
}

// Hybrids and electric vehicles have no starter on the 12 V side: they are woken, and
// a hazard stops them like any other.
func TestWake(t *testing.T) {
	for _, class := range []string{"hybrid", "electric"} {
		p := planned(
			t,
			decoded(
				t,
				"flat.vehicle.class",
				fmt.Sprintf("%q", class),
				"source",
				aPack,
				"flat.battery.rating",
				`{"cca": 325, "ah_20h": 45}`,
				"flat.jump_post",
				"true",
				"flat.battery_place",
				`"boot"`,
			),
		)
		if p.Wake == nil || p.Wake.Volts < p.Wake.Needs || p.Starts != Yes || p.CrankRPM != nil {
			t.Errorf("%s: %+v", class, p)
		}
		for _, code := range []string{"high_voltage", "wake_post", "locked"} {
			if !said(p, code) {
				t.Errorf("%s: nothing said of %s", class, code)
			}
		}
		if said(p, "tries") || p.After.Say[0].Code != "awake" {
			t.Errorf("%s: %v", class, p.After.Say)
		}
	}
	if p := planned(t, decoded(t)); said(p, "high_voltage") || said(p, "wake_post") {
		t.Error("a diesel has no high voltage")
	}
}

// More metres, thinner leads, worse clamps, more cold and less charge never make a plan
// better, and a better source never worse, over hundreds of requests.
func TestPlanNeverRewardsTheWorse(t *testing.T) {
	rng := rand.New(rand.NewPCG(21, 22))
	pick := func(all ...string) string { return all[rng.IntN(len(all))] }
	for range effort.Of(12, 60, 120) {
		base := []string{
			"flat.vehicle.fuel",
			pick(`"diesel"`, petrol),
			"flat.engine.litres",
			pick("1.2", "2.2", "3"),
			"flat.soc_pct",
			pick("5", "20", "40"),
			"flat.battery_c",
			pick("-5", "5", "20"),
			"leads.mm2",
			pick("10", "16", "25"),
			"leads.metres",
			pick("2", "3", "5"),
			"leads.clamp_milliohms",
			pick("0.3", "1", "2"),
			"source.running",
			pick("true", "false"),
			"source.soc_pct",
			pick("70", "90", "100"),
			"clamp_on",
			pick(`"body"`, `"post"`),
		}
		with := func(more ...string) float64 {
			return planned(t, decoded(t, append(slices.Clone(base), more...)...)).Reached.Best
		}
		as := with()
		if as == 0 {
			continue
		}
		for _, worse := range [][]string{{"leads.metres", "8"}, {"leads.mm2", "6"}, {"leads.clamp_milliohms", "5"},
			{"leads.metal", `"clad_aluminium"`},
			{"source.soc_pct", "40"}, {"source.health_pct", "50"}, {"flat.engine.litres", "4"}} {
			if got := with(worse...); got > as+1 {
				t.Errorf("%v and %v reach %g instead of %g", base, worse, got, as)
			}
		}
		for _, better := range [][]string{{"source.battery.rating", `{"cca": 950, "ah_20h": 100}`},
			{"source.running", "true", "source.rpm", "2500", "source.alternator_amps", "140"}, {"leads.mm2",
				"95"}, {"source.arrangement", `"parallel"`}} {
			if got := with(better...); got < as-1 {
				t.Errorf("%v and %v reach %g instead of %g", base, better, got, as)
			}
		}
	}
}

// Each answer with its words.
func TestAnswers(t *testing.T) {
	for _, c := range []struct {
		starts, answer, then string
		edits                []string
	}{
		{Yes, "Yes.", "It turns at", []string{"flat.vehicle.fuel", petrol, "flat.engine.litres", "1.6", "flat.battery_c", "15"}},
		{No, "Not yet.", "Charge it through the leads", []string{"flat.soc_pct", "5", "flat.battery_c", "-9",
			"leads.clamp_milliohms", "1.5", "source.rpm", "2000"}},
		{No, "No.", "Not like this: ", []string{"source", `{"kind": "pack", "cca": 150}`, "flat.engine.litres", "3",
			"flat.soc_pct", "12"}},
		{No, "No.", "Nothing at hand", []string{"source", `{"kind": "pack", "cca": 60}`, "flat.engine.litres", "9",
			"flat.soc_pct", "5", "flat.battery_c", "-9"}},
	} {
		p := planned(t, decoded(t, c.edits...))
		if p.Starts != c.starts || p.Answer.String() != c.answer || !strings.HasPrefix(p.Then.String(), c.then) {
			t.Errorf("%v: %s, %s %s (%+v)", c.edits, p.Starts, p.Answer, p.Then, p.Reached)
		}
	}
}

// Every class of vehicle gets a plan that says something, in °F too.
func TestEveryClassHasAPlan(t *testing.T) {
	for _, class := range reading.Classes().Codes() {
		r := decoded(t, "flat.vehicle.class", fmt.Sprintf("%q", class), "flat.engine", "{}")
		p, err := r.Plan(labels, words.Voice{Temperature: words.Fahrenheit})
		if err != nil || !p.Allowed || p.Answer.IsZero() || len(p.Connect) < 4 {
			t.Errorf("%s: %v %+v", class, err, p)
		}
		data, _ := json.Marshal(p)
		if strings.Contains(string(data), "°C") {
			t.Errorf("%s speaks in °C: %s", class, data)
		}
	}
}

// What is promised after minutes holds when it is looked at closely, over many flat
// batteries: a search in few steps alone promises too much for some of them.
func TestMinutesHold(t *testing.T) {
	seen := 0
	for soc := 3; soc <= 15; soc += effort.Of(6, 2, 2) {
		for temp := -9; temp <= 1; temp += 2 {
			for _, litres := range []string{"1.6", "2.2", "3"} {
				for _, mm2 := range []string{"10", "16", "25"} {
					p := planned(
						t,
						decoded(
							t,
							"flat.soc_pct",
							fmt.Sprint(soc),
							"flat.battery_c",
							fmt.Sprint(temp),
							"flat.engine.litres",
							litres,
							"leads.mm2",
							mm2,
						),
					)
					if !p.Allowed || p.MinutesFirst == nil || *p.MinutesFirst == 0 || *p.MinutesFirst >= marks[len(marks)-1] {
						continue
					}
					seen++
					if p.Later.Reached < p.Reached.Needs-1 {
						t.Errorf(
							"%d %%, %d °C, %s l, %s mm²: after %g min it reaches %g of %g",
							soc,
							temp,
							litres,
							mm2,
							*p.MinutesFirst,
							p.Later.Reached,
							p.Reached.Needs,
						)
					}
					if m := p.Minutes; m.Low > m.Best || m.High != nil && *m.High < m.Best {
						t.Errorf("%+v", m)
					}
				}
			}
		}
	}
	if seen < 60 {
		t.Errorf("only %d", seen)
	}
}

// Whatever the document allows is planned with finite figures, however odd: a plan that
// cannot be written down would be an answer that never comes.
func TestOddRequestsGetPlans(t *testing.T) {
	rng := rand.New(rand.NewPCG(31, 32))
	pick := func(all ...string) string { return all[rng.IntN(len(all))] }
	for n := range effort.Of(60, 250, 500) {
		volts := pick("6", "8", "12", "24")
		edits := []string{
			"flat.vehicle.system_volts", volts, "flat.vehicle.class", pick(`"car"`, `"hybrid"`, `"mower"`, `"classic"`,
				`"electric"`),
			"flat.vehicle.fuel", pick(`"petrol"`, `"diesel"`, `"none"`), "flat.vehicle.arrangement", pick(`"single"`,
				`"parallel"`, `"series"`),
			"flat.soc_pct", pick("0", "0.5", "30", "100"), "flat.battery_c", pick("-5", "0", "20",
				"51"), "flat.health_pct", pick("5", "60", "120"),
			"flat.battery.rating", pick(`{"cca": 40, "ah_20h": 3}`, `{"cca": 3000, "ah_20h": 600}`, `{"cca": 540}`,
				`{"rc_min": 60}`),
			"flat.engine", pick(`{}`, `{"litres": 0.05}`, `{"litres": 30, "cylinders": 16}`,
				`{"draw_amps": 3000, "draw_c": -50}`, `{"oil_c": -50}`),
			"flat.alternator_amps", pick("0", "1", "500"), "leads.mm2", pick("1", "25", "240"), "leads.metres", pick("0.2",
				"3", "20"),
			"leads.clamp_milliohms", pick("0", "1", "100"), "clamp_on", pick(`"body"`, `"post"`), "drain_ma", pick("0",
				"30", "5000"), "drive_minutes", pick("1", "600"),
		}
		switch rng.IntN(3) {
		case 0:
			edits = append(edits, "source", fmt.Sprintf(`{"kind": "charger", "boost_amps": %s, "boost_volts": %s}`,
				pick("5", "1000"), pick("5", "13", "16")))
		case 1:
			edits = append(edits, "source", fmt.Sprintf(`{"kind": "pack", "cca": %s, "soc_pct": %s, "battery_c": %s}`,
				pick("20", "2000"), pick("0", "100"), pick("-50", "60")))
		default:
			edits = append(edits, "source.soc_pct", pick("0", "100"), "source.rpm", pick("0", "4000"),
				"source.alternator_amps", pick("0", "500"),
				"source.running", pick("true", "false"), "source.health_pct", pick("5", "120"))
		}
		p, err := decoded(t, edits...).Plan(labels, words.Voice{})
		if err != nil {
			t.Fatalf("%d %v: %v", n, edits, err)
		}
		if data, err := json.Marshal(p); err != nil {
			t.Fatalf("%d %v: %v", n, edits, err)
		} else if tree, _ := document.Parse(data, PlanFormat); len(document.Check(tree, PlanShape())) > 0 {
			t.Fatalf("%d %v: %v", n, edits, document.Check(tree, PlanShape()))
		}
	}
}
