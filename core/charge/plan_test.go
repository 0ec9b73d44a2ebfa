package charge

import (
	"encoding/json"
	"fmt"
	"math"
	"os"
	"slices"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/words"
)

// request is a request with some of its fields put in.
func request(t testing.TB, batteryFields, start, charger, rest string) Request {
	t.Helper()
	r, err := Decode([]byte(fmt.Sprintf(`{"format":"grapnel.charge_request/1","battery":{%s},"start":{%s},"charger":{%s}%s}`,
		batteryFields, start, charger, rest)))
	must(t, err)
	return r
}

const (
	flooded48 = `"chemistry":"flooded","rating":{"cca":540,"rc_min":75,"ah_20h":48}`
	agm48     = `"chemistry":"agm","rating":{"cca":540,"rc_min":75,"ah_20h":48}`
	smart4    = `"kind":"smart","amps_max":4`
)

func planned(t testing.TB, r Request) Plan {
	t.Helper()
	p, err := r.Plan(words.Voice{})
	must(t, err)
	return p
}

// codes of warnings or refusals.
func codes(all []Warning) []string {
	out := []string{}
	for _, w := range all {
		out = append(out, w.Code)
	}
	return out
}

// The request that stands in the documents: by hand, 36 to 40 Ah are missing, 10 A bring
// three quarters in two and a half hours, and the tail takes to the sixth.
func TestPlanOfTheDocuments(t *testing.T) {
	data, err := os.ReadFile("testdata/request.json")
	must(t, err)
	r, err := Decode(data)
	must(t, err)
	p := planned(t, r)
	if !p.Allowed || len(p.Refusals) > 0 || p.ThumbHours != 7.5 || p.DelayHours != 0 || p.CheckEveryMin != 30 {
		t.Errorf("%+v", p)
	}
	if *p.TestReadyHours < 2.3 || *p.TestReadyHours > 3.2 || *p.FullHours < 5 || *p.FullHours > 7.5 || p.Ah < 34 || p.Ah > 42 {
		t.Errorf("ready %g h, full %g h, %g Ah", *p.TestReadyHours, *p.FullHours, p.Ah)
	}
	if math.Abs(p.Wh/p.Ah-14) > 0.6 || p.PeakC < 22 || p.PeakC > 40 {
		t.Errorf("%g Wh for %g Ah, peak %g °C", p.Wh, p.Ah, p.PeakC)
	}
	// It reads as JSON with the fields of the format.
	out, err := json.Marshal(p)
	must(t, err)
	for _, field := range []string{"hours_to_test_ready", "hours_to_full", "rule_of_thumb_hours", "delay_hours", "ah_delivered",
		"peak_battery_c", "energy_wh", "check_every_min", "warnings", "curve", "connect", "disconnect"} {
		if !strings.Contains(string(out), `"`+field+`":`) {
			t.Errorf("no %s", field)
		}
	}
}

// What cannot be is refused in words, with its place.
func TestRequestsThatCannotBe(t *testing.T) {
	for say, in := range map[string]string{
		"soc_pct":                `"battery":{` + flooded48 + `},"start":{},"charger":{` + smart4 + `}`,
		"soc_pct: 101":           `"battery":{` + flooded48 + `},"start":{"soc_pct":101},"charger":{` + smart4 + `}`,
		"charger.amps_max":       `"battery":{` + flooded48 + `},"start":{"soc_pct":1},"charger":{"kind":"smart"}`,
		"charger.kind":           `"battery":{` + flooded48 + `},"start":{"soc_pct":1},"charger":{"kind":"wizard"}`,
		"charger.amps_start":     `"battery":{` + flooded48 + `},"start":{"soc_pct":1},"charger":{"kind":"taper"}`,
		"charger.ohms":           `"battery":{` + flooded48 + `},"start":{"soc_pct":1},"charger":{"kind":"taper","volts_set":16}`,
		"charger.volts_set":      `"battery":{` + flooded48 + `},"start":{"soc_pct":1},"charger":{"kind":"taper","volts_set":16,"ohms":0.1,"amps_start":9}`,
		"charger.volts_float":    `"battery":{` + flooded48 + `},"start":{"soc_pct":1},"charger":{"kind":"smart","amps_max":4,"volts_absorption":14,"volts_float":15}`,
		"charger.volts_low":      `"battery":{` + flooded48 + `},"start":{"soc_pct":1},"charger":{"kind":"manual","amps":4,"setting":"low_maintenance"}`,
		"charger.amps_max: 0 is": `"battery":{` + flooded48 + `},"start":{"soc_pct":1},"charger":{"kind":"smart","amps_max":0}`,
		"charger.ohms: is not":   `"battery":{` + flooded48 + `},"start":{"soc_pct":1},"charger":{"kind":"smart","amps_max":4,"ohms":1}`,
		"hazards[0]":             `"battery":{` + flooded48 + `},"start":{"soc_pct":1},"charger":{` + smart4 + `},"hazards":["ghost"]`,
		"test_ready_pct":         `"battery":{` + flooded48 + `},"start":{"soc_pct":1},"charger":{` + smart4 + `},"test_ready_pct":20`,
		"battery.volts":          `"battery":{` + flooded48 + `,"volts":24},"start":{"soc_pct":1},"charger":{` + smart4 + `}`,
	} {
		field, _, _ := strings.Cut(say, ":")
		if _, err := Decode([]byte(`{"format":"grapnel.charge_request/1",` + in + `}`)); err == nil || !strings.Contains(err.Error(), field) {
			t.Errorf("%s: %v", say, err)
		}
	}
	r := request(t, `"chemistry":"flooded","rating":{}`, `"soc_pct":20`, smart4, "")
	if _, err := r.Plan(words.Voice{}); err == nil || !strings.Contains(err.Error(), "battery.rating") {
		t.Errorf("a label without a figure: %v", err)
	}
}

// Every hazard refuses, with what to do instead, and nothing is worked out.
func TestHazardsRefuse(t *testing.T) {
	for _, h := range Hazards().Codes() {
		p := planned(t, request(t, flooded48, `"soc_pct":50`, smart4, `,"hazards":["`+h+`"]`))
		if p.Allowed || len(p.Curve) > 0 || p.FullHours != nil || !slices.Equal(codes(p.Refusals), []string{h}) || p.Refusals[0].Text.String() == "" {
			t.Errorf("%s: allowed %v, %v", h, p.Allowed, codes(p.Refusals))
		}
	}
}

// Each limit from both sides. The freezing points are those of the acid (CRC/BCI, from
// memory): at 20 % and 1.149 about −14 °C.
func TestRefusalsFromBothSides(t *testing.T) {
	start := func(soc, temp float64) string { return fmt.Sprintf(`"soc_pct":%g,"battery_c":%g`, soc, temp) }
	_, at := ice(battery.Flooded, 20, 0)
	if at > -11 || at < -17 {
		t.Errorf("20 %% freezes at %.1f °C", at)
	}
	for _, c := range []struct {
		code, battery, start, charger, rest string
		refused                             bool
	}{
		{"may_be_ice", flooded48, start(20, at-0.1), smart4, "", true},
		{"may_be_ice", flooded48, start(20, at+0.1), smart4, "", false},
		{"too_hot", flooded48, start(50, 52), smart4, "", true},
		{"too_hot", flooded48, start(50, 51.5), smart4, "", false},
		{"wrong_volts", `"volts":6,` + flooded48, start(50, 20), `"kind":"smart","amps_max":4,"volts_absorption":14.4`, "", true},
		{"wrong_volts", flooded48, start(50, 20), `"kind":"smart","amps_max":4,"volts_absorption":28.8`, "", true},
		{"wrong_volts", flooded48, start(50, 20), `"kind":"manual","amps":4,"volts_open":19.2`, "", false},
		{"wrong_volts", flooded48, start(50, 20), `"kind":"manual","amps":4,"volts_open":19.3`, "", true},
		{"never_equalise", agm48, start(90, 20), smart4, `,"equalise":true`, true},
		{"never_equalise", flooded48 + `,"caps":"sealed"`, start(90, 20), smart4, `,"equalise":true`, true},
		{"never_equalise", flooded48, start(90, 20), smart4, `,"equalise":true`, false},
		{"equalise_out", flooded48, start(90, 20), smart4, `,"equalise":true,"in_vehicle":true`, true},
		{"equalise_out", flooded48, start(90, 20), smart4, `,"equalise":true,"in_vehicle":false`, false},
	} {
		p := planned(t, request(t, c.battery, c.start, c.charger, c.rest))
		if got := slices.Contains(codes(p.Refusals), c.code); got != c.refused || p.Allowed == (len(p.Refusals) > 0) {
			t.Errorf("%s with %s %s %s: %v", c.code, c.start, c.charger, c.rest, codes(p.Refusals))
		}
	}
}

// Each warning from both sides.
func TestWarningsFromBothSides(t *testing.T) {
	start := func(soc, temp float64) string { return fmt.Sprintf(`"soc_pct":%g,"battery_c":%g`, soc, temp) }
	smart := func(amps float64) string { return fmt.Sprintf(`"kind":"smart","amps_max":%g`, amps) }
	for _, c := range []struct {
		code, battery, start, charger, rest string
		warned                              bool
	}{
		{"will_not_start", flooded48, start(0, 20), smart4 + `,"starts_from_volts":11.9`, "", true},
		{"will_not_start", flooded48, start(0, 20), smart4 + `,"starts_from_volts":11.8`, "", false},
		{"will_not_start", flooded48, start(0, 20), smart4, "", false},
		{"will_not_start", flooded48, start(0, 20) + `,"volts":7.9`, smart4, "", true},
		{"will_not_start", flooded48, start(0, 20) + `,"volts":8`, smart4, "", false},
		{"will_not_start", flooded48, start(0, 20) + `,"volts":7.9`, `"kind":"manual","amps":4`, "", false},
		{"will_not_start", `"volts":6,` + flooded48, start(0, 20) + `,"volts":4.1`, smart4, "", false},
		{"will_not_start", `"volts":6,` + flooded48, start(0, 20) + `,"volts":3.9`, smart4, "", true},
		{"warm_first", flooded48, start(60, 4.9), smart4, "", true},
		{"warm_first", flooded48, start(60, 5), smart4, "", false},
		{"cold", flooded48, start(60, 5), smart4, "", true},
		{"cold", flooded48, start(60, 9.9), smart4, "", true},
		{"cold", flooded48, start(60, 10), smart4, "", false},
		{"refuses_first", flooded48, `"soc_pct":5,"flat_days":60`, smart4, "", true},
		{"refuses_first", flooded48, `"soc_pct":5,"flat_days":1`, smart4, "", false},
		{"watch_it", flooded48, start(60, 20), smart(5.2), "", false},
		{"watch_it", flooded48, start(60, 20), smart(5.3), "", true},
		{"watch_it", flooded48, start(60, 20), smart(19.2), "", true},
		{"charger_too_big", flooded48, start(60, 20), smart(19.2), "", false},
		{"charger_too_big", flooded48, start(60, 20), smart(19.3), "", true},
		{"charger_too_small", flooded48, start(60, 20), smart(0.95), "", true},
		{"charger_too_small", flooded48, start(60, 20), smart(0.97), "", false},
		{"volts_too_high", flooded48, start(60, 20), smart4 + `,"volts_absorption":14.86`, "", true},
		{"volts_too_high", flooded48, start(60, 20), smart4 + `,"volts_absorption":14.8`, "", false},
		{"volts_too_low", flooded48, start(60, 20), smart4 + `,"volts_absorption":14.3`, "", true},
		{"volts_too_low", flooded48, start(60, 20), smart4 + `,"volts_absorption":14.4`, "", false},
		{"not_held", agm48, start(60, 20), `"kind":"manual","amps":4`, "", true},
		{"not_held", flooded48, start(60, 20), `"kind":"manual","amps":4`, "", false},
		{"not_held", agm48, start(60, 20), `"kind":"manual","amps":4,"setting":"low_maintenance","volts_low":14.8`, "", false},
		{"trickle", flooded48, start(60, 20), `"kind":"trickle","amps":1`, "", true},
		{"switch_off", flooded48, start(60, 20), `"kind":"manual","amps":4`, "", true},
		{"switch_off", flooded48, start(60, 20), `"kind":"taper","amps_start":20`, "", true},
		{"switch_off", flooded48, start(60, 20), smart4, "", false},
		{"full_too_soon", flooded48, `"soc_pct":5,"flat_days":60`, smart4, "", true},
		{"full_too_soon", flooded48, `"soc_pct":5`, smart4, "", false},
		{"never_full", flooded48, start(20, 20), `"kind":"manual","amps":4,"volts_open":12.3`, "", true},
		{"never_full", flooded48, start(20, 20), smart4, "", false},
		{"equalising", flooded48, start(90, 20), smart4, `,"equalise":true`, true},
		{"own_setting", agm48, start(60, 20), smart4, "", true},
		{"own_setting", flooded48, start(60, 20), smart4, "", false},
		{"take_out", flooded48, start(60, 20), smart4, `,"in_vehicle":true,"take_out":true`, true},
		{"take_out", flooded48, start(60, 20), smart4, `,"in_vehicle":false,"take_out":true`, false},
		{"one_by_one", flooded48, start(60, 20), smart4, `,"vehicle":{"class":"van","arrangement":"parallel"}`, true},
		{"one_by_one", flooded48, start(60, 20), smart4, `,"vehicle":{"class":"van","arrangement":"single"}`, false},
		{"gets_hot", flooded48, start(60, 50), `"kind":"manual","amps":12`, "", true},
		{"gets_hot", flooded48, start(60, 25), smart4, "", false},
	} {
		p := planned(t, request(t, c.battery, c.start, c.charger, c.rest))
		if !p.Allowed {
			t.Fatalf("%s: refused %v", c.code, codes(p.Refusals))
		}
		if got := slices.Contains(codes(p.Warnings), c.code); got != c.warned {
			t.Errorf("%s with %s %s %s: %v", c.code, c.start, c.charger, c.rest, codes(p.Warnings))
		}
		for _, w := range append(p.Warnings, Warning{Text: words.Say(p.Why)}) {
			if text := w.Text.String(); strings.ContainsAny(text, "{}") || text == "" {
				t.Errorf("%s: %q", w.Code, text)
			}
		}
	}
}

// Why the rule of thumb and the model differ is what does differ.
func TestWhyTheyDiffer(t *testing.T) {
	for _, c := range []struct{ start, charger, say string }{
		{`"soc_pct":60`, `"kind":"smart","amps_max":5`, "begins at 60 %"},
		{`"soc_pct":5,"flat_days":60`, `"kind":"smart","amps_max":25`, "takes no current"},
		{`"soc_pct":5,"battery_c":0`, `"kind":"smart","amps_max":25`, "cold"},
		{`"soc_pct":5`, `"kind":"smart","amps_max":40`, "goes in slowly"},
		{`"soc_pct":5,"battery_c":2`, `"kind":"taper","amps_start":30,"volts_open":14.6`, "tapers"},
		{`"soc_pct":5`, `"kind":"manual","amps":4`, "more than came out"},
		{`"soc_pct":20`, `"kind":"manual","amps":4,"volts_open":12.3`, "never fills"},
	} {
		if p := planned(t, request(t, flooded48, c.start, c.charger, "")); !strings.Contains(p.Why, c.say) {
			t.Errorf("%s %s: %s", c.start, c.charger, p.Why)
		}
	}
}

// Order of connection. Common practice, no source: off at the wall; positive, then
// negative; power on last; off in the reverse order. In a vehicle the live side goes on
// first and the earthed side last, so on a positive earth they change places; where the
// maker asks for the body, the earthed clamp goes there.
func TestOrder(t *testing.T) {
	place := func(steps []Move) string {
		var out []string
		for _, s := range steps {
			out = append(out, strings.TrimSpace(s.Place+" "+s.Side))
		}
		return strings.Join(out, ", ")
	}
	for _, c := range []struct {
		earth           string
		inVehicle, body bool
		on, off         string
	}{
		{"negative", false, false, "wall, plus, minus, switch, wall", "wall, minus, plus"},
		{"positive", false, false, "wall, plus, minus, switch, wall", "wall, minus, plus"},
		{"negative", true, false, "wall, plus live, minus earthed, switch, wall", "wall, minus earthed, plus live"},
		{"", true, false, "wall, plus live, minus earthed, switch, wall", "wall, minus earthed, plus live"},
		{"positive", true, false, "wall, minus live, plus earthed, switch, wall", "wall, plus earthed, minus live"},
		{"negative", true, true, "wall, plus live, body earthed, switch, wall", "wall, body earthed, plus live"},
		{"positive", true, true, "wall, minus live, body earthed, switch, wall", "wall, body earthed, minus live"},
		{"negative", false, true, "wall, plus, minus, switch, wall", "wall, minus, plus"},
	} {
		on, off := Order(c.earth, c.inVehicle, c.body, false)
		if place(on) != c.on || place(off) != c.off {
			t.Errorf("%+v: on %s; off %s", c, place(on), place(off))
		}
	}
	on, off := Order("negative", true, true, true)
	if on[1].Do.String() != "Red clamp to +, the live post" || on[2].Do.String() != "Black clamp to bare metal of the body, away from battery, belt and fuel" ||
		off[1].Do.String() != "Black clamp off the body" || off[2].Do.String() != "Red clamp off +, the live post" {
		t.Errorf("%v; %v", on, off)
	}
	if !strings.Contains(on[3].Do.String(), "AGM or gel") {
		t.Errorf("a sealed one: %s", on[3].Do)
	}
}

// Common practice, no source: a tenth is 4 to 5 A for 48 Ah and up to 6 A for 60 Ah; the
// printed rate wins where it is asked for and printed.
func TestRates(t *testing.T) {
	for _, c := range []struct {
		rate        string
		ah, printed float64
		lo, hi      float64
	}{
		{RateTenth, 48, 0, 4, 5}, {RateTenth, 60, 0, 6, 6}, {RateTenth, 4, 0, 0.4, 0.5}, {RateTenth, 145, 0, 14, 14.5},
		{RateLabel, 60, 3.5, 3.5, 3.5}, {RateLabel, 60, 0, 6, 6}, {RateTenth, 60, 3.5, 6, 6}, {RateFast, 60, 0, 10, 20}, {RateFast, 60, 3.5, 10, 20},
	} {
		if got := RateAmps(c.rate, battery.Flooded, c.ah, c.printed); got < c.lo || got > c.hi {
			t.Errorf("%s of %g Ah: %g A, want %g to %g", c.rate, c.ah, got, c.lo, c.hi)
		}
	}
	if gel, agm := RateAmps(RateFast, battery.Gel, 60, 0), RateAmps(RateFast, battery.AGM, 60, 0); gel >= agm {
		t.Errorf("fast gel %g A, AGM %g A", gel, agm)
	}
}

// Published ranges, from memory, ±0.1 V: absorption 14.4 to 14.8 V flooded, sealed and
// AGM, 14.0 to 14.4 gel; float 13.2 to 13.8 V; equalising 15.5 to 16 V, flooded alone.
func TestLimits(t *testing.T) {
	for _, c := range battery.Chemistries() {
		l := LimitsOf(c)
		lo, hi := 14.3, 14.9
		if c == battery.Gel {
			lo, hi = 13.9, 14.5
		}
		if l.AbsorptionLow < lo || l.AbsorptionHigh > hi || l.AbsorptionLow >= l.AbsorptionUsual || l.AbsorptionUsual >= l.AbsorptionHigh {
			t.Errorf("%s: absorption %+v", c, l)
		}
		if l.FloatLow < 13.1 || l.FloatHigh > 13.9 || l.FloatLow >= l.FloatUsual || l.FloatUsual >= l.FloatHigh {
			t.Errorf("%s: float %+v", c, l)
		}
		if equalised := l.EqualiseLow > 0; equalised != (c == battery.Flooded) || equalised && (l.EqualiseLow < 15.4 || l.EqualiseHigh > 16.2) {
			t.Errorf("%s: equalise %+v", c, l)
		}
	}
	if LimitsOf("unknown") != LimitsOf(battery.Flooded) {
		t.Error("an unknown build is no flooded one")
	}
}

// Figures are said in the reader's scale.
func TestPlanInFahrenheit(t *testing.T) {
	r := request(t, flooded48, `"soc_pct":60,"battery_c":0`, smart4, "")
	p, err := r.Plan(words.Voice{Temperature: words.Fahrenheit})
	must(t, err)
	if text := p.Warnings[0].Text.String(); !strings.Contains(text, "32 °F") {
		t.Errorf("%s", text)
	}
}

// Whatever the decoder accepts is planned, or refused in words.
func FuzzPlan(f *testing.F) {
	f.Add([]byte(`{"format":"grapnel.charge_request/1","battery":{` + flooded48 + `},"start":{"soc_pct":5},"charger":{` + smart4 + `}}`))
	f.Add([]byte(`{"format":"grapnel.charge_request/1","battery":{` + agm48 + `},"start":{"soc_pct":5,"flat_days":90,"battery_c":-20},"charger":{"kind":"taper","volts_set":40,"ohms":0.001}}`))
	f.Fuzz(func(t *testing.T, data []byte) {
		r, err := Decode(data)
		if err != nil {
			return
		}
		p, err := r.Plan(words.Voice{})
		if err != nil {
			if err.Error() == "" {
				t.Error("an error without words")
			}
			return
		}
		if _, err := json.Marshal(p); err != nil {
			t.Error(err)
		}
		if p.Allowed && (len(p.Curve) == 0 || len(p.Curve) > 500) {
			t.Errorf("%d points", len(p.Curve))
		}
	})
}
