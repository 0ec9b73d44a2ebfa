package jump

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/charge"
)

func refused(p Plan, code string) bool {
	for _, w := range p.Refusals {
		if w.Code == code {
			return true
		}
	}
	return false
}

// Every hazard refuses outright, with what to do instead, and nothing of a plan is worked
// out; none of them does not.
func TestHazardsRefuse(t *testing.T) {
	for _, h := range Hazards().Codes() {
		p := planned(t, decoded(t, "flat.hazards", fmt.Sprintf("[%q, %q]", h, h)))
		if p.Allowed || len(p.Refusals) != 1 || p.Refusals[0].Code != h || len(p.Refusals[0].Text.String()) < 40 ||
			p.Starts != "" ||
			len(p.Connect) > 0 ||
			p.After != nil {
			t.Errorf("%s: %+v", h, p)
		}
		if instead[h] == "" {
			t.Errorf("nothing to do about %s", h)
		}
	}
	if p := planned(t, decoded(t)); !p.Allowed || len(p.Refusals) > 0 {
		t.Errorf("%+v", p.Refusals)
	}
}

// A battery that may not be jumped is told from a source that may not give: another source
// helps the second alone, and both say what the flat vehicle is taken to be.
func TestRefusalsAnswer(t *testing.T) {
	bulged := []string{"flat.hazards", `["case_bulged"]`}
	across := []string{"source.system_volts", "24"}
	hybrid := []string{"source.class", `"hybrid"`}
	boost := []string{"source", `{"kind": "charger", "boost_amps": 100, "boost_volts": 20}`}
	ice := []string{"flat.soc_pct", "5", "flat.battery_c", "-30"}
	hot := []string{"flat.battery_c", "60"}
	for want, all := range map[string][][]string{
		answerNever:   {bulged, ice, hot, slices.Concat(bulged, across), slices.Concat(hybrid, hot)},
		answerNotFrom: {across, hybrid, boost, slices.Concat(across, hybrid)},
	} {
		for _, edits := range all {
			p := planned(t, decoded(t, edits...))
			if p.Allowed || p.Answer.String() != want || p.About.String() == "" {
				t.Errorf("%v: %q, %q", edits, p.Answer, p.About)
			}
			if other := strings.Contains(p.Then.String(), "another source"); other != (want == answerNotFrom) {
				t.Errorf("%v: %q", edits, p.Then)
			}
		}
	}
}

// Ice, by calculation, from both sides of the freezing point of its acid; near it, it is
// looked at twice.
func TestIceByItsAcid(t *testing.T) {
	at := battery.FreezingPoint(battery.SpecificGravity(battery.Flooded, 5))
	plan := func(c float64) Plan {
		return planned(t, decoded(t, "flat.soc_pct", "5", "flat.battery_c", fmt.Sprint(c)))
	}
	if p := plan(at - 0.01); p.Allowed || !refused(p, "may_be_frozen") {
		t.Error("ice is jumped")
	}
	if p := plan(at + 0.01); !p.Allowed || !said(p, "near_ice") {
		t.Error("no ice is refused, or nothing is said")
	}
	if p := plan(at + nearIceC - 0.01); !said(p, "near_ice") {
		t.Error("nothing is said near ice")
	}
	if p := plan(at + nearIceC + 0.01); said(p, "near_ice") {
		t.Error("it is said far from ice")
	}
	if p := planned(t, decoded(t, "flat.soc_pct", "5", "flat.battery_c", fmt.Sprint(at-1), "flat.hazards", `["frozen"]`)); len(
		p.Refusals,
	) != 1 {
		t.Errorf("ice that is seen is told twice: %+v", p.Refusals)
	}
}

// The other refusals, from both sides.
func TestRefusals(t *testing.T) {
	for _, c := range []struct {
		code   string
		refuse bool
		edits  []string
	}{
		{"too_hot", true, []string{"flat.battery_c", fmt.Sprint(charge.HotC)}},
		{"too_hot", false, []string{"flat.battery_c", fmt.Sprint(charge.HotC - 0.1)}},
		{"system_volts", true, []string{"source.system_volts", "24"}},
		{"system_volts", true, []string{"flat.vehicle.system_volts", "6", "source.system_volts", "12"}},
		{"system_volts", false, []string{"source.system_volts", "12"}},
		{"system_volts", false, []string{"flat.vehicle.system_volts", "24"}},
		{"boost_volts", true, []string{"source", `{"kind": "charger", "boost_amps": 100, "boost_volts": 16.3}`}},
		{"boost_volts", false, []string{"source", `{"kind": "charger", "boost_amps": 100, "boost_volts": 16.2}`}},
		{"boost_volts", true, []string{"source", `{"kind": "charger", "boost_amps": 100, "boost_volts": 12}`,
			"flat.vehicle.system_volts", "6"}},
		{"high_voltage_donor", true, []string{"source.class", `"hybrid"`}},
		{"high_voltage_donor", true, []string{"source.class", `"electric"`}},
		{"high_voltage_donor", true, []string{"source.high_voltage", "true"}},
		{"high_voltage_donor", false, []string{"source.class", `"hybrid"`, "source.maker_allows", "true"}},
		{"high_voltage_donor", false, []string{"source.class", `"van"`}},
	} {
		p := planned(t, decoded(t, c.edits...))
		if refused(p, c.code) != c.refuse || p.Allowed == c.refuse {
			t.Errorf("%s %v: %+v", c.code, c.edits, p.Refusals)
		}
	}
}

// What is minded, and where it is not.
func TestCautions(t *testing.T) {
	for _, c := range []struct {
		code   string
		minded bool
		edits  []string
	}{
		{"look", true, nil},
		{"not_touching", true, nil},
		{"not_touching", false, []string{"source", aPack}},
		{"positive_earth", true, []string{"flat.vehicle.earth", `"positive"`}},
		{"positive_earth", false, nil},
		{"glow", true, nil},
		{"glow", false, []string{"flat.vehicle.fuel", petrol}},
		{"smart_key", true, []string{"flat.smart_key", "true"}},
		{"smart_key", false, nil},
		{"pack_first", true, []string{"source", aPack}},
		{"pack_first", false, nil},
		{"pack_flat", true, []string{"source", `{"kind": "pack", "cca": 300, "soc_pct": 59.9}`}},
		{"pack_flat", false, []string{"source", `{"kind": "pack", "cca": 300, "soc_pct": 60}`}},
		{"pack_cold", true, []string{"source", `{"kind": "pack", "cca": 300, "battery_c": 4.9}`}},
		{"pack_cold", false, []string{"source", `{"kind": "pack", "cca": 300, "battery_c": 5}`}},
		{"duty", true, []string{"source", `{"kind": "charger", "boost_amps": 100}`}},
		{"duty", false, nil},
		{"pair", true, []string{"flat.vehicle.arrangement", `"parallel"`}},
		{"pair", false, nil},
		{"high_voltage_donor", true, []string{"source.class", `"hybrid"`, "source.maker_allows", "true"}},
		{"high_voltage_donor", false, nil},
		{"carbon_monoxide", true, nil},
		{"carbon_monoxide", false, []string{"flat.vehicle.class", `"electric"`, "flat.vehicle.fuel", `"none"`, "source", aPack}},
		{"leads_hot", true, []string{"leads.mm2", "6", "flat.soc_pct", "10"}},
		{"leads_hot", false, []string{"leads.mm2", "50"}},
	} {
		if got := said(planned(t, decoded(t, c.edits...)), c.code); got != c.minded {
			t.Errorf("%s %v: %t", c.code, c.edits, got)
		}
	}
	text := func(code string, edits ...string) string {
		for _, w := range planned(t, decoded(t, edits...)).Cautions {
			if w.Code == code {
				return w.Text.String()
			}
		}
		return ""
	}
	if open, shut := text("carbon_monoxide"), text("carbon_monoxide", "closed_garage", "true"); !strings.Contains(
		shut,
		"closed garage",
	) ||
		strings.Contains(open, "closed") {
		t.Errorf("%s; %s", open, shut)
	}
	if bare := text("glow", "flat.engine.no_glow", "true"); !strings.Contains(bare, "Without glow plugs") {
		t.Error(bare)
	}
	if duty := text("duty", "source", `{"kind": "charger", "boost_amps": 100, "boost_on_s": 3, "boost_rest_s": 240}`); !strings.Contains(
		duty,
		"3 s",
	) ||
		!strings.Contains(duty, "240 s") {
		t.Error(duty)
	}
}

// The leads' warmth is told from where covers give way, from both sides.
func TestLeadsGetHot(t *testing.T) {
	p := Plan{Rise: leadsHotC, Tries: Tries{10, 120}}
	r := decoded(t)
	tell := func(p Plan) bool {
		p.Cautions = r.cautions(&scene{}, &p)
		return said(p, "leads_hot")
	}
	if tell(p) {
		t.Error("told at the limit")
	}
	if p.Rise += 0.1; !tell(p) {
		t.Error("not told over it")
	}
}
