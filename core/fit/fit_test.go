package fit

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/words"
	"grapnel/internal/effort"
)

const today = "2026-11-24"

// ask makes a request of fields as they stand in a document.
func ask(t *testing.T, vehicle, needs, more string, stock ...string) Request {
	t.Helper()
	doc := fmt.Sprintf(`{"format":%q,"vehicle":{%s},"needs":{%s},"today":%q%s,"stock":[%s]}`, RequestFormat, vehicle, needs,
		today, more,
		strings.Join(stock, ","))
	r, err := Decode([]byte(doc))
	if err != nil {
		t.Fatalf("%s\n%s", err, doc)
	}
	return r
}

// item is a battery on the shelf that is ready, but for what is said of it.
func item(tag, fields string) string {
	out := `{"tag":"` + tag + `",` + fields
	if !strings.Contains(fields, `"made"`) {
		out += `,"made":"2026-09"`
	}
	if !strings.Contains(fields, `"tested"`) {
		out += `,"tested":{"rest_volts":13.0}`
	}
	return out + `}`
}

// found gives the rules that a battery does not hold, and those of which not enough is known.
func found(r Ranked) (fails, unsure []string) {
	for _, l := range r.Lines {
		if !l.OK {
			fails = append(fails, l.Rule)
		}
		if l.Unsure {
			unsure = append(unsure, l.Rule)
		}
	}
	return fails, unsure
}

// One shelf for all vehicles of the table.
var shelf = map[string]string{
	"L2 EFB 680":    `"chemistry":"efb","rating":{"cca":680,"ah_20h":65},"group":"L2","vent":"both","hold_down":"base"`,
	"L2 AGM 760":    `"chemistry":"agm","rating":{"cca":760,"ah_20h":70},"group":"L2","vent":"both","hold_down":"base"`,
	"L3 sealed 760": `"chemistry":"flooded_sealed","rating":{"cca":760,"ah_20h":77},"group":"L3","vent":"both","hold_down":"base"`,
	"L3 AGM 800":    `"chemistry":"agm","rating":{"cca":800,"ah_20h":80},"group":"L3","vent":"both","hold_down":"base"`,
	"L5 sealed 850": `"chemistry":"flooded_sealed","rating":{"cca":850,"ah_20h":95},"group":"L5","vent":"both","hold_down":"base"`,
	"LB2 sealed":    `"chemistry":"flooded_sealed","rating":{"cca":600,"ah_20h":60},"group":"LB2","vent":"none","hold_down":"base"`,
	"L1 sealed 440": `"chemistry":"flooded_sealed","rating":{"cca":440,"ah_20h":45},"group":"L1","vent":"none","hold_down":"base"`,
	"24 caps":       `"chemistry":"flooded","rating":{"cca":650,"ah_20h":70},"group":"24","hold_down":"top","vent":"none"`,
	"24F caps":      `"chemistry":"flooded","rating":{"cca":650,"ah_20h":70},"group":"24F","hold_down":"top","vent":"none"`,
	"51R sealed":    `"chemistry":"flooded_sealed","rating":{"cca":450,"ah_20h":45},"group":"51R","hold_down":"top","vent":"none"`,
	"75 side":       `"chemistry":"flooded_sealed","rating":{"cca":650,"ah_20h":60},"group":"75","hold_down":"base","vent":"none"`,
	"U1 stud":       `"chemistry":"flooded","rating":{"cca":300,"ah_20h":28},"group":"U1","hold_down":"top","vent":"none"`,
	"U1R stud":      `"chemistry":"flooded","rating":{"cca":300,"ah_20h":28},"group":"U1R","hold_down":"top","vent":"none"`,
	"bike AGM":      `"chemistry":"agm","rating":{"cca":180,"ah_20h":10},"size_mm":[150,87,105],"positive":"left","terminals":"stud","vent":"none"`,
	"bike flooded":  `"chemistry":"flooded","rating":{"cca":165,"ah_20h":10},"size_mm":[150,87,105],"positive":"left","terminals":"stud","vent":"left"`,
	"6 V":           `"chemistry":"flooded","rating":{"cca":640,"ah_20h":100},"group":"1","hold_down":"top","vent":"none"`,
	"gel 70":        `"chemistry":"gel","rating":{"cca":500,"ah_20h":70},"group":"L3","vent":"both","hold_down":"base"`,
	"31 stud":       `"chemistry":"flooded","rating":{"cca":900,"ah_20h":110},"group":"31","hold_down":"top","vent":"none"`,
	"EN 640":        `"chemistry":"flooded_sealed","rating":{"cca":640,"standard":"EN","ah_20h":64},"group":"L2","vent":"both","hold_down":"base"`,
	"D23L sealed":   `"chemistry":"flooded_sealed","rating":{"cca":600,"ah_20h":60},"group":"D23L","hold_down":"top","vent":"none"`,
}

// Forty vehicles and batteries, each worked by hand from the sizes of the groups (BCI, EN
// 50342-2, JIS D 5301, from memory) and what the trade matches; common practice, no source.
var worked = []struct {
	vehicle, needs, battery string
	fails                   string // rules, in the order they are looked at
}{
	{`"class":"car","stop_start":true`, `"cca":640,"ah_20h":60,"chemistry":"efb","group":"L2","hold_down":"base"`,
		"L2 EFB 680", ""},
	{`"class":"car","stop_start":true`, `"cca":640,"ah_20h":60,"chemistry":"efb","group":"L2","hold_down":"base"`,
		"L2 AGM 760", ""},
	{`"class":"car","stop_start":true`, `"cca":640,"ah_20h":60,"chemistry":"efb","group":"L2"`, "L3 sealed 760",
		"tray chemistry"},
	{`"class":"car","stop_start":true`, `"cca":640,"ah_20h":60,"chemistry":"agm","group":"L2"`, "L2 EFB 680", "chemistry"},
	{`"class":"car","stop_start":true`, `"cca":700,"ah_20h":70,"chemistry":"agm","group":"L2"`, "L2 AGM 760", ""},
	{`"class":"car","stop_start":true`, `"cca":640,"group":"L3"`, "L3 sealed 760", "chemistry"},
	{`"class":"car"`, `"cca":600,"ah_20h":60,"chemistry":"flooded_sealed","group":"L2"`, "L2 EFB 680", ""},
	{`"class":"car"`, `"cca":600,"ah_20h":60,"chemistry":"flooded_sealed","group":"LB2"`, "L2 EFB 680", "tray"}, // 15 mm too high
	{`"class":"car"`, `"cca":600,"ah_20h":60,"chemistry":"flooded_sealed","group":"L2"`, "LB2 sealed",
		""}, // lower is no harm
	{`"class":"car"`, `"cca":600,"ah_20h":60,"chemistry":"flooded_sealed","group":"L2","vent_tube":true`, "LB2 sealed", "vent"},
	{`"class":"car"`, `"cca":600,"ah_20h":60,"chemistry":"flooded_sealed","group":"L2"`, "L1 sealed 440", "cca capacity"},
	{`"class":"car"`, `"cca":440,"ah_20h":45,"chemistry":"flooded_sealed","group":"L2"`, "L1 sealed 440", ""},
	{`"class":"car"`, `"cca":600,"chemistry":"flooded","group":"24"`, "24 caps", ""},
	{`"class":"car"`, `"cca":600,"chemistry":"flooded","group":"24"`, "24F caps", "tray layout"}, // 13 mm longer, + on the right
	{`"class":"car"`, `"cca":600,"chemistry":"flooded","group":"24F"`, "24 caps", "layout"},
	{`"class":"car"`, `"cca":400,"chemistry":"flooded_sealed","group":"51"`, "51R sealed", "layout"},
	{`"class":"car"`, `"cca":400,"chemistry":"flooded_sealed","group":"51R"`, "51R sealed", ""},
	{`"class":"car"`, `"cca":400,"chemistry":"flooded_sealed","tray_mm":[240,130,230],"positive":"either","terminals":"top"`, "51R sealed", ""},
	{`"class":"car"`, `"cca":600,"chemistry":"flooded_sealed","group":"75"`, "75 side", ""},
	{`"class":"car"`, `"cca":600,"chemistry":"flooded_sealed","group":"86"`, "75 side", "tray terminals"}, // 179 in 173 wide
	{`"class":"car"`, `"cca":550,"chemistry":"flooded_sealed","group":"35"`, "D23L sealed", "tray"},       // 2 mm longer than 35
	{`"class":"car"`, `"cca":550,"chemistry":"flooded_sealed","tray_mm":[235,175,230],"positive":"right","terminals":"top","hold_down":"base"`,
		"D23L sealed", "hold_down"},
	{`"class":"van","fuel":"diesel"`, `"cca":800,"ah_20h":90,"chemistry":"flooded_sealed","group":"L5"`, "L5 sealed 850", ""},
	{`"class":"van","fuel":"diesel"`, `"cca":800,"ah_20h":90,"chemistry":"flooded_sealed","group":"L3"`, "L5 sealed 850", "tray"},
	{`"class":"van","fuel":"diesel","arrangement":"parallel"`,
		`"cca":800,"ah_20h":90,"chemistry":"flooded_sealed","group":"L5"`, "L5 sealed 850", "pair"},
	{`"class":"hybrid","high_voltage":true`, `"ah_20h":60,"chemistry":"agm","group":"L2","vent_tube":true,"vent":"left"`,
		"L2 AGM 760", ""},
	{`"class":"hybrid","high_voltage":true`, `"ah_20h":60,"chemistry":"agm","group":"L2","vent_tube":true`, "LB2 sealed",
		"vent chemistry"},
	{`"class":"electric","high_voltage":true,"fuel":"none"`, `"ah_20h":70,"chemistry":"agm","group":"L3"`, "L3 AGM 800", ""},
	{`"class":"mower"`, `"cca":230,"chemistry":"flooded","group":"U1"`, "U1 stud", ""},
	{`"class":"mower"`, `"cca":230,"chemistry":"flooded","group":"U1R"`, "U1 stud", "layout"},
	{`"class":"mower"`, `"cca":230,"chemistry":"flooded","group":"U1R"`, "U1R stud", ""},
	{`"class":"mower"`, `"cca":230,"chemistry":"flooded","group":"U1"`, "bike AGM", "cca"},
	{`"class":"motorcycle"`, `"cca":160,"chemistry":"agm","tray_mm":[152,88,106],"positive":"left","terminals":"stud"`,
		"bike AGM", ""},
	{`"class":"motorcycle"`, `"cca":160,"chemistry":"agm","tray_mm":[152,88,106],"positive":"left","terminals":"stud"`,
		"bike flooded", "chemistry"},
	{`"class":"motorcycle"`, `"cca":150,"chemistry":"flooded","tray_mm":[152,88,106],"positive":"left","terminals":"stud","vent":"right"`, "bike flooded", "vent"},
	{`"class":"classic","system_volts":6,"earth":"positive"`,
		`"cca":500,"chemistry":"flooded","group":"1","unregulated":true`, "6 V", ""},
	{`"class":"classic","system_volts":6,"earth":"positive"`, `"cca":300,"chemistry":"flooded"`, "U1 stud", "volts"},
	{`"class":"tractor","fuel":"diesel"`, `"cca":900,"chemistry":"flooded","group":"31","unregulated":true`, "31 stud", ""},
	{`"class":"motorhome","fuel":"diesel"`, `"ah_20h":70,"cca":450,"chemistry":"gel","group":"L3","charging_volts":14.3`,
		"gel 70", ""},
	{`"class":"motorhome","fuel":"diesel"`, `"ah_20h":70,"cca":450,"chemistry":"gel","group":"L3","charging_volts":14.7`,
		"gel 70", "charging"},
	{`"class":"car"`, `"cca":660,"standard":"SAE","chemistry":"flooded_sealed","group":"L2"`, "EN 640",
		""}, // 640 EN is about 678 SAE
	{`"class":"car"`, `"cca":660,"standard":"EN","chemistry":"flooded_sealed","group":"L2"`, "EN 640", "cca"},
}

func TestWorkedVehicles(t *testing.T) {
	n := 0
	for _, w := range worked {
		n++
		r := ask(t, w.vehicle, w.needs, `,"coldest_c":-12`, item("S-01", shelf[w.battery]))
		got := r.Rank(readingtest.Labels, words.Voice{}).Ranked[0]
		fails, _ := found(got)
		if s := strings.Join(fails, " "); s != w.fails || got.Fits != (w.fails == "") || got.Fails != len(fails) {
			t.Errorf("%s in {%s | %s}: fails %q, by hand %q", w.battery, w.vehicle, w.needs, s, w.fails)
		}
	}
	if n < 40 {
		t.Errorf("%d vehicles are worked; forty are meant", n)
	}
}

// Every limit from both sides: what is asked, and a battery that just holds it and just
// does not.
func TestLimits(t *testing.T) {
	const base = `"chemistry":"flooded","group":"24"`
	tests := []struct {
		name, vehicle, needs, holds, breaks, rule string
		unsure                                    bool // it is not refused, only doubted
	}{
		{"length", ``, `"tray_mm":[260,173,225]`, `"chemistry":"flooded","size_mm":[260,173,225]`,
			`"chemistry":"flooded","size_mm":[261,173,225]`, Tray, false},
		{"width", ``, `"tray_mm":[260,173,225]`, `"chemistry":"flooded","size_mm":[260,173,225]`,
			`"chemistry":"flooded","size_mm":[260,174,225]`, Tray, false},
		{"height", ``, `"tray_mm":[260,173,225]`, `"chemistry":"flooded","size_mm":[260,173,225]`,
			`"chemistry":"flooded","size_mm":[260,173,226]`, Tray, false},
		{"slack", ``, `"tray_mm":[300,173,225]`, `"chemistry":"flooded","size_mm":[240,173,225]`,
			`"chemistry":"flooded","size_mm":[239,173,225]`, Tray, true},
		{"amps", ``, `"cca":650`, base + `,"rating":{"cca":650}`, base + `,"rating":{"cca":649}`, CCA, false},
		{"amps of one standard", ``, `"cca":650,"standard":"DIN"`, base + `,"rating":{"cca":650,"standard":"DIN"}`,
			base + `,"rating":{"cca":649,"standard":"DIN"}`, CCA, false},
		{"amps of another", ``, `"cca":848`, base + `,"rating":{"cca":842.2,"standard":"EN"}`,
			base + `,"rating":{"cca":842.0,"standard":"EN"}`, CCA, true},
		{"ampere-hours", ``, `"ah_20h":60`, base + `,"rating":{"ah_20h":60}`, base + `,"rating":{"ah_20h":59.5}`, Capacity,
			false},
		{"reserve", ``, `"rc_min":100`, base + `,"rating":{"rc_min":100}`, base + `,"rating":{"rc_min":99}`, Capacity, false},
		{"charging", ``, `"charging_volts":14.9`, base, base, Charging, false},
		{"fresh", ``, ``, base + `,"made":"2024-12"`, base + `,"made":"2024-11"`, Age, false},
		{"as new", ``, ``, base + `,"rating":{"cca":650},"tested":{"rest_volts":12.7,"cca":585}`,
			base + `,"rating":{"cca":650},"tested":{"rest_volts":12.7,"cca":584}`, TestedNew, false},
		{"ahead", ``, ``, base + `,"made":"2026-11"`, base + `,"made":"2026-12"`, Age, true},
		{"how long a test speaks", ``, ``, base + `,"tested":{"rest_volts":12.7,"on":"2026-09-25"}`,
			base + `,"tested":{"rest_volts":12.7,"on":"2026-09-24"}`, TestedNew, true},
		{"a test to come", ``, ``, base + `,"tested":{"rest_volts":12.7,"on":"2026-11-24"}`,
			base + `,"tested":{"rest_volts":12.7,"on":"2026-11-25"}`, TestedNew, true},
		{"its own sheet", ``, ``, base + `,"tested":{"rest_volts":12.7,"verdict":"good"}`,
			base + `,"tested":{"rest_volts":12.7,"verdict":"weak"}`, TestedNew, false},
		{"dry", ``, ``, base, base + `,"dry_charged":true`, TestedNew, true},
		{"ledge", ``, `"hold_down":"base"`, base + `,"hold_down":"base"`, base + `,"hold_down":"top"`, HoldDown, false},
		{"ledge unseen", ``, `"hold_down":"base"`, base + `,"hold_down":"base"`, base, HoldDown, true},
		{"port unseen", ``, `"vent_tube":true`, base + `,"vent":"left"`, base, Vent, true},
		{"way round", ``, `"positive":"left"`, base, `"chemistry":"flooded","group":"24F"`, Layout, false},
		{"unregulated", ``, `"unregulated":true,"charging_volts":14.0`, base, `"chemistry":"agm","group":"24"`, Charging, false},
	}
	for _, c := range tests {
		needs := c.needs
		r := ask(t, `"class":"car"`, needs, "", item("holds", c.holds), item("breaks", c.breaks))
		if c.name == "charging" {
			r = ask(t, `"class":"car"`, `"charging_volts":14.9`, "", item("holds", base))
			r2 := ask(t, `"class":"car"`, `"charging_volts":14.91`, "", item("breaks", base))
			if l := line(t, r, "holds", c.rule); !l.OK {
				t.Errorf("%s: %s", c.name, l.Text)
			}
			if l := line(t, r2, "breaks", c.rule); l.OK {
				t.Errorf("%s: %s", c.name, l.Text)
			}
			continue
		}
		if l := line(t, r, "holds", c.rule); !l.OK || l.Unsure {
			t.Errorf("%s, just right: %s", c.name, l.Text)
		}
		switch l := line(t, r, "breaks", c.rule); {
		case c.unsure && (!l.OK || !l.Unsure):
			t.Errorf("%s, just wrong is not doubted: %s", c.name, l.Text)
		case !c.unsure && l.OK:
			t.Errorf("%s, just wrong is let through: %s", c.name, l.Text)
		}
	}
}

// line gives a rule's line of one battery.
func line(t *testing.T, r Request, tag, rule string) Ruled {
	t.Helper()
	for _, one := range r.Rank(readingtest.Labels, words.Voice{}).Ranked {
		if one.Tag != tag {
			continue
		}
		for _, l := range one.Lines {
			if l.Rule == rule {
				return l
			}
		}
	}
	t.Fatalf("%s has no line %s", tag, rule)
	return Ruled{}
}

// What is done to a battery before it is fitted, from both sides of each limit.
func TestReady(t *testing.T) {
	volts := func(soc float64) float64 { return battery.RestVolts(battery.Flooded, 6, soc, 20) }
	tests := []struct {
		tested       string
		charge, test bool
	}{
		{fmt.Sprintf(`{"rest_volts":%.4f}`, volts(90.2)), false, false},
		{fmt.Sprintf(`{"rest_volts":%.4f}`, volts(89.8)), true, false},
		{fmt.Sprintf(`{"rest_volts":%.4f}`, volts(25.2)), true, false},
		{fmt.Sprintf(`{"rest_volts":%.4f}`, volts(24.8)), true, true},
		{fmt.Sprintf(`{"rest_volts":%.4f,"cca":400}`, volts(60.2)), true, false}, // believed, and condemned
		{fmt.Sprintf(`{"rest_volts":%.4f,"cca":400}`, volts(59.8)), true, true},
		{`{"cca":640}`, true, true},
		{`{"rest_volts":12.7,"on":"2025-11-24"}`, true, true},
	}
	for _, c := range tests {
		r := ask(t, `"class":"car"`, ``, "", item("S",
			`"chemistry":"flooded","group":"24","rating":{"cca":650},"tested":`+c.tested))
		got := r.Rank(readingtest.Labels, words.Voice{}).Ranked[0]
		if got.ChargeFirst != c.charge || got.TestFirst != c.test {
			t.Errorf("%s: charge %v, test %v; want %v, %v", c.tested, got.ChargeFirst, got.TestFirst, c.charge, c.test)
		}
	}
	r := ask(t, `"class":"car"`, ``, "", `{"tag":"S","chemistry":"flooded"}`)
	if got := r.Rank(readingtest.Labels, words.Voice{}).Ranked[0]; !got.ChargeFirst || !got.TestFirst {
		t.Errorf("one nobody has tested is fitted as it is: %+v", got)
	}
}

// The coldest start: a battery passes at the temperature from which it fails and not a
// degree below, the engine known or by the maker's figure.
func TestColdest(t *testing.T) {
	const small = `"chemistry":"flooded_sealed","group":"L2","rating":{"cca":500,"ah_20h":55}`
	for _, engine := range []string{`,"engine":{"litres":2.0}`, `,"engine":{"draw_amps":260,"draw_c":20}`, ``} {
		needs, vehicle := `"cca":480`, `"class":"van","fuel":"diesel"`
		r := ask(t, vehicle, needs, engine+`,"coldest_c":-10`, item("S", small))
		e, _, ok := r.engine()
		if !ok {
			t.Fatal("no engine")
		}
		amps, ok := winters{}.of(r.stateOf(r.Stock[0].fill(), readingtest.Labels))
		if !ok {
			t.Fatal("it cranks nothing")
		}
		below := e.FailsBelow(amps).Best
		if below < -44 || below > 25 {
			t.Fatalf("%s: fails below %.1f: nothing to look at", engine, below)
		}
		for _, c := range []struct {
			at float64
			ok bool
		}{{below + 0.02, true}, {below - 0.02, false}} {
			r.ColdestC = &c.at
			if l := line(t, r, "S", Cold); l.OK != c.ok {
				t.Errorf("%s at %.2f °C: %v, %s", engine, c.at, l.OK, l.Text)
			}
		}
	}
	// Two side by side turn it together.
	one := ask(t, `"class":"van","fuel":"diesel"`, ``, `,"engine":{"litres":6.6},"coldest_c":-20`, item("S", small))
	two := ask(t, `"class":"van","fuel":"diesel","arrangement":"parallel"`, ``, `,"engine":{"litres":6.6},"coldest_c":-20`,
		item("S", small))
	a, _, _ := one.engine()
	b, _, _ := two.engine()
	if b.Amps.Best*2 != a.Amps.Best {
		t.Errorf("one turns %v A, each of two %v A", a.Amps.Best, b.Amps.Best)
	}
	// A vehicle without a 12 V starter asks for no cold start.
	r := ask(t, `"class":"electric"`, `"cca":300`, `,"coldest_c":-40`, item("S", small))
	if l := r.Rank(readingtest.Labels, words.Voice{}).Ranked[0].Lines; slices.ContainsFunc(l,
		func(l Ruled) bool { return l.Rule == Cold }) {
		t.Error("an electric car is asked for a cold start")
	}
}

// A stricter need never makes a battery fit.
func TestStricterNeverFits(t *testing.T) {
	type change struct {
		name string
		do   func(*Request)
	}
	stricter := []change{
		{"more amps", func(r *Request) { r.Needs.CCA = 1.2*r.Needs.CCA + 50 }},
		{"more ampere-hours", func(r *Request) { r.Needs.Ah20h += 20 }},
		{"more reserve", func(r *Request) { r.Needs.RCMin += 40 }},
		{"a shorter tray", func(r *Request) { r.Needs = r.Needs.fill(); r.Needs.TrayMM = smaller(r.Needs.TrayMM, 0) }},
		{"a narrower tray", func(r *Request) { r.Needs = r.Needs.fill(); r.Needs.TrayMM = smaller(r.Needs.TrayMM, 1) }},
		{"a lower tray", func(r *Request) { r.Needs = r.Needs.fill(); r.Needs.TrayMM = smaller(r.Needs.TrayMM, 2) }},
		{"a ledge", func(r *Request) { r.Needs.HoldDown = ByFoot }},
		{"a vent tube", func(r *Request) { r.Needs.VentTube = true }},
		{"a vent side", func(r *Request) {
			if r.Needs.Vent == "" || r.Needs.Vent == Either {
				r.Needs.Vent = Left
			}
		}},
		{"stop and start", func(r *Request) { r.Vehicle.StopStart = true }},
		{"more volts from the vehicle", func(r *Request) { r.Needs.ChargingV = max(14, r.Needs.ChargingV) + 0.6 }},
		{"nothing that limits them", func(r *Request) { r.Needs.Unregulated = true }},
		{"a colder place", func(r *Request) {
			c := -30.0
			r.ColdestC = &c
		}},
		{"two of them", func(r *Request) {
			if r.Vehicle.Arrangement == "" {
				r.Vehicle.Arrangement = "parallel"
			}
		}},
	}
	better := map[battery.Chemistry]battery.Chemistry{battery.Flooded: battery.EFB, battery.FloodedSealed: battery.EFB,
		battery.EFB: battery.AGM}
	stricter = append(stricter, change{"a better build", func(r *Request) {
		if c, ok := better[r.Needs.Chemistry]; ok {
			r.Needs.Chemistry = c
		}
	}})
	var all []string
	for name, fields := range shelf {
		all = append(all, item(name, fields))
	}
	slices.Sort(all)
	flipped := 0
	apart := effort.Of(8, 1, 1)
	for i, w := range worked {
		if i%apart != 0 {
			continue
		}
		more := ""
		if i%6 == 0 { // what a battery cranks in the cold is worked out anew every time
			more = `,"coldest_c":-12`
		}
		r := ask(t, w.vehicle, w.needs, more, all...)
		before := fits(r)
		for _, c := range stricter {
			s := ask(t, w.vehicle, w.needs, more, all...)
			c.do(&s)
			for tag, ok := range fits(s) {
				if ok && !before[tag] {
					t.Errorf("%s | %s: with %s %s fits, and did not before", w.vehicle, w.needs, c.name, tag)
				}
				if !ok && before[tag] {
					flipped++
				}
			}
		}
	}
	if flipped < 200/apart {
		t.Errorf("stricter needs turned %d away: hardly anything was looked at", flipped)
	}
}

func smaller(mm []float64, i int) []float64 {
	if mm == nil {
		return []float64{200, 150, 180}
	}
	out := slices.Clone(mm)
	out[i] -= 30
	return out
}

func fits(r Request) map[string]bool {
	out := map[string]bool{}
	for _, one := range r.Rank(readingtest.Labels, words.Voice{}).Ranked {
		out[one.Tag] = one.Fits
	}
	return out
}

// The first is never the one with the biggest number, and says why.
func TestOrder(t *testing.T) {
	const l2 = `"chemistry":"efb","group":"L2","rating":{"cca":680,"ah_20h":65}`
	tests := []struct {
		first, second, why string
	}{
		{l2, l2 + `,"rating":{"cca":800,"ah_20h":65}`,
			"as strong as was asked for"}, // 680 is 6 %, 800 is 25 % over 640
		{l2 + `,"made":"2026-06"`, l2 + `,"made":"2026-07"`, "stood longest"},                            // first in, first out
		{l2, `"chemistry":"agm","group":"L2","rating":{"cca":680,"ah_20h":65}`, "its build is the one"},  // as the maker asks
		{l2, `"chemistry":"efb","group":"L1","rating":{"cca":680,"ah_20h":65}`, "without a spacer"},      // 35 mm shorter
		{l2, l2 + `,"tested":{"rest_volts":12.5}`, "it is ready"},                                        // no charge before
		{l2 + `,"tested":{"rest_volts":12.5}`, l2 + `,"tested":{"rest_volts":11.9}`, "nothing about it"}, // stood flat
		{l2, `"chemistry":"efb","size_mm":[242,175,190],"terminals":"top","rating":{"cca":680,"ah_20h":65}`,
			"nothing about it has to be guessed"},
		{l2, l2 + `,"rating":{"cca":700,"ah_20h":65}`, "nearest to what was asked for"},
		{l2, l2, "the next is just as good"},
		{l2, l2 + `,"rating":{"cca":600,"ah_20h":65}`, "the only one that fits"},
	}
	for _, c := range tests {
		r := ask(t, `"class":"car"`, `"cca":640,"ah_20h":60,"chemistry":"efb","group":"L2"`, "", item("B", c.second),
			item("A", c.first))
		if c.first == c.second {
			r = ask(t, `"class":"car"`, `"cca":640,"ah_20h":60,"chemistry":"efb","group":"L2"`, "", item("A", c.first),
				item("B", c.second))
		}
		got := r.Rank(readingtest.Labels, words.Voice{})
		if got.Ranked[0].Tag != "A" || !strings.Contains(got.Why.String(), c.why) {
			t.Errorf("%s before %s: %s first, %q; want %q", c.first, c.second, got.Ranked[0].Tag, got.Why, c.why)
		}
	}
	r := ask(t, `"class":"car"`, `"cca":900,"group":"L2"`, "", item("far",
		`"chemistry":"flooded","group":"L3","rating":{"cca":400}`),
		item("near", `"chemistry":"flooded","group":"L2","rating":{"cca":800}`))
	if got := r.Rank(readingtest.Labels, words.Voice{}); got.Ranked[0].Tag != "near" || !strings.Contains(got.Why.String(),
		"near comes nearest") {
		t.Errorf("nothing fits: %s, %q", got.Ranked[0].Tag, got.Why)
	}
	r = ask(t, `"class":"car"`, ``, "")
	if got := r.Rank(readingtest.Labels, words.Voice{}); got.Why.String() != "Nothing is on the shelf." || got.Ranked == nil {
		t.Errorf("an empty shelf: %+v", got)
	}
}

// Just over a quarter more amps is more than was asked for, just under is not.
func TestExcess(t *testing.T) {
	const efb = `"chemistry":"efb","group":"L2","rating":{"cca":%g,"ah_20h":65},"made":"2026-0%d"`
	for _, c := range []struct {
		amps  float64
		first string
	}{{799, "older"}, {801, "B"}} {
		r := ask(t, `"class":"car"`, `"cca":640,"chemistry":"efb","group":"L2"`, "", item("older", fmt.Sprintf(efb, c.amps, 5)),
			item("B", fmt.Sprintf(efb, 641.0, 7)))
		if got := r.Rank(readingtest.Labels, words.Voice{}).Ranked[0].Tag; got != c.first {
			t.Errorf("%g A against 640: %s first", c.amps, got)
		}
	}
}

// Two that share a load are alike, and not far apart in age.
func TestPairs(t *testing.T) {
	const one = `"chemistry":"flooded","group":"31","rating":{"cca":900},"made":"%s"`
	for _, c := range []struct {
		made string
		ok   bool
	}{{"2026-03", true}, {"2026-02", false}} { // six months from 2026-09, and seven
		for _, arrangement := range []string{"parallel", "series"} {
			volts := map[string]int{"parallel": 12, "series": 24}[arrangement]
			r := ask(t, fmt.Sprintf(`"class":"tractor","arrangement":%q,"system_volts":%d`, arrangement, volts),
				`"cca":800,"group":"31"`, "",
				item("A", fmt.Sprintf(one, "2026-09")), item("B", fmt.Sprintf(one, c.made)))
			if l := line(t, r, "A", Pair); l.OK != c.ok {
				t.Errorf("%s, %s: %s", arrangement, c.made, l.Text)
			}
		}
	}
}

// Sizes of groups and boxes against their published figures: BCI, EN 50342-2, JIS D 5301,
// from memory, ±4 mm.
func TestSizesThatGoIn(t *testing.T) {
	tests := []struct {
		needs string
		has   []string
		not   []string
	}{
		{`"group":"L3"`, []string{"L2", "L3", "LB3"}, []string{"L4", "L5", "94R", "65"}},
		{`"tray_mm":[265,175,230],"positive":"left","terminals":"top"`, []string{"24", "34", "25", "86"},
			[]string{"24F", "34R", "78", "27", "35"}},
		{`"tray_mm":[200,135,190],"positive":"right","terminals":"stud"`, []string{"U1R"}, []string{"U1"}},
		{`"tray_mm":[235,175,230],"positive":"right","terminals":"top"`, []string{"35", "D23L"}, []string{"25", "D23R"}},
		{``, nil, []string{"L2"}},
	}
	for _, c := range tests {
		r := ask(t, `"class":"car"`, c.needs, "")
		got := r.Rank(readingtest.Labels, words.Voice{}).Sizes
		for _, s := range c.has {
			if !slices.Contains(got, s) {
				t.Errorf("{%s}: %s is left out of %v", c.needs, s, got)
			}
		}
		for _, s := range c.not {
			if slices.Contains(got, s) {
				t.Errorf("{%s}: %s is among %v", c.needs, s, got)
			}
		}
	}
}

// What a battery on the shelf is tested as, from both sides of its size.
func TestServes(t *testing.T) {
	for fields, class := range map[string]string{
		`"chemistry":"agm","terminals":"top"`: "car", `"chemistry":"flooded","volts":6`: "classic", `"chemistry":"flooded","group":"1"`: "classic",
		`"chemistry":"agm","terminals":"stud","rating":{"ah_20h":21}`: "motorcycle", `"chemistry":"agm","terminals":"stud","rating":{"ah_20h":22}`: "mower",
		`"chemistry":"flooded","group":"U1"`: "mower",
	} {
		s, err := DecodeItem([]byte(`{"tag":"a",` + fields + `}`))
		if err != nil {
			t.Fatal(err)
		}
		if v := s.Serves(); v.Class != class || v.SystemVolts == 0 {
			t.Errorf("%s is tested as %+v, want %s", fields, v, class)
		}
	}
}

func TestNeedsOfALabel(t *testing.T) {
	n := NeedsOf(rating.Label{CCA: 540, Standard: rating.EN, Ah20h: 60, RCMin: 100}, battery.EFB, "top")
	if n.CCA != 540 || n.Standard != rating.EN || n.Ah20h != 60 || n.RCMin != 100 || n.Chemistry != battery.EFB || n.Terminals != "top" {
		t.Errorf("%+v", n)
	}
}

func TestWordsOfTheShelf(t *testing.T) {
	shape := ItemShape()
	for field, l := range Vocabularies() {
		if !slices.Equal(shape.Fields[field].Words, l.Codes()) {
			t.Errorf("%s: %v in the document, %v to choose from", field, shape.Fields[field].Words, l.Codes())
		}
	}
	if !slices.Equal(shape.Fields["terminals"].Words, reading.Vocabularies()["terminals"].Codes()) {
		t.Error("terminals of the shelf are not those of a battery")
	}
}
