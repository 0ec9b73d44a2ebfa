package assess

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/reading/readingtest"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/core/words"
	"grapnel/internal/effort"
)

var num, rest, load = readingtest.Num, readingtest.Rest, readingtest.Load

// car is the car battery of package readingtest, looked at and found whole.
func car(rs ...reading.Reading) reading.Case {
	return readingtest.Car(append(rs, inspected("clean"))...)
}

func charged(ended string) reading.Reading {
	return reading.Of(station.Charged, reading.Fields{"ended": ended})
}
func inspected(found ...string) reading.Reading {
	return reading.Of(station.Inspection, reading.Fields{"found": found})
}

// gauges gives the gauges of every station, in working order.
func gauges(c reading.Case) []bench.Gauge {
	var out []bench.Gauge
	for _, s := range Judge(c, As{Voice: words.Voice{}, Closed: false, Labels: readingtest.Labels}).Stations {
		out = append(out, s.Gauges...)
	}
	return out
}

// loadAdvice is what the load test's station says now.
func loadAdvice(c reading.Case) station.Advice {
	s, _ := station.Of(station.Strength)
	return s.Advise(station.Put(c, readingtest.Labels))
}

// finding gives the finding with a code, failing when there is none.
func finding(t *testing.T, a Assessment, code string) bench.Finding {
	t.Helper()
	for _, f := range a.Findings {
		if f.Code == code {
			return f
		}
	}
	var codes []string
	for _, f := range a.Findings {
		codes = append(codes, f.Code)
	}
	t.Fatalf("no finding %s among %v", code, codes)
	return bench.Finding{}
}

// The verdicts a careful senior technician gives. Common practice, no source,
// apart from the figures, which are those of the BCI tables, from memory.
func TestVerdicts(t *testing.T) {
	for _, c := range []struct {
		name    string
		rs      []reading.Reading
		verdict Verdict
		next    string
	}{
		{"nothing read", nil, MoreReadings, "rest_voltage"},
		{"found half flat", []reading.Reading{rest(12.24)}, ChargeAndRetest, "charge"},
		{"half flat, held all the same", []reading.Reading{rest(12.24), load(9.9)}, ChargeAndRetest, "charge"},
		{"half flat, sagged: not condemned", []reading.Reading{rest(12.24), load(7.0)}, ChargeAndRetest, "charge"},
		{"charged enough", []reading.Reading{rest(12.55)}, MoreReadings, "load_test"},
		{"full and strong", []reading.Reading{rest(12.65), load(10.3)}, Good, "hand_over"},
		{"three quarters and strong", []reading.Reading{rest(12.48), load(10.2)}, GoodAfterCharge, "charge"},
		{"full and weak", []reading.Reading{rest(12.65), load(8.4)}, Replace, "replace"},
		{"just enough, narrow miss", []reading.Reading{rest(12.46), load(9.5)}, ChargeAndRetest, "charge"},
		{"just enough, far short", []reading.Reading{rest(12.46), load(7.5)}, Replace, "replace"},
		{"load test with unknown charge, failed", []reading.Reading{load(8.0)}, MoreReadings, "rest_voltage"},
		{"rest voltage after the load test", []reading.Reading{load(8.0), rest(12.65)}, Replace, "replace"},
		{"flat, charged, strong", []reading.Reading{rest(11.9), load(6.0), charged("full"), rest(12.66), load(10.3)},
			Good, "charging"},
		{"flat, charged, not read since", []reading.Reading{rest(11.9), charged("full")}, MoreReadings, "rest"},
		{"failed, then charged: must be tested again", []reading.Reading{rest(12.2), load(8.0), charged("full"),
			rest(12.65)}, MoreReadings, "load_test"},
		{"charged full, low again overnight, in the vehicle", []reading.Reading{rest(11.9), charged("full"), rest(12.1)},
			ChargeAndRetest, "charge"},
		{"charged full, low again overnight, a cable off", []reading.Reading{rest(11.9), charged("full"),
			rest(12.1).With("disconnected", true)}, Replace, "replace"},
		{"charging stopped early, still low", []reading.Reading{rest(11.9), charged("stopped"), rest(12.1)},
			ChargeAndRetest, "charge"},
		{"off the charger", []reading.Reading{rest(13.4)}, MoreReadings, "rest"},
		{"cracked but strong", []reading.Reading{inspected("case_cracked"), rest(12.65), load(10.2)}, Stop, "replace"},
		{"clear eye", []reading.Reading{reading.Of(station.Eye, reading.Fields{"colour": "clear"}), rest(12.65),
			load(10.2)}, Stop, "replace"},
		{"full, weak, corroded", []reading.Reading{inspected("corrosion_live"), rest(12.65), load(8.4)}, MoreReadings,
			"clean"},
		{"full, weak, cleaned first", []reading.Reading{inspected("corrosion_live"), reading.Of(station.Cleaned,
			reading.Fields{"what": []string{"posts"}}), rest(12.65), load(8.4)}, Replace, "replace"},
		{"fixed load: a battery of this label shows over 11 V", []reading.Reading{rest(12.65), reading.Of(station.LoadTest,
			reading.Fields{"method": station.Fixed10s, "amps": 125, "volts_end": 11.6})}, Good, "hand_over"},
		{"fixed load failed", []reading.Reading{rest(12.65), reading.Of(station.LoadTest,
			reading.Fields{"method": station.Fixed10s, "amps": 125, "seconds": 10, "volts_end": 8.5})}, Replace, "replace"},
		{"fixed load between", []reading.Reading{rest(12.65), reading.Of(station.LoadTest,
			reading.Fields{"method": station.Fixed10s, "amps": 300, "volts_end": 9.7})}, MoreReadings, "load_test"},
		{"starter held", []reading.Reading{rest(12.65), reading.Of(station.LoadTest,
			reading.Fields{"method": station.Starter, "volts_end": 10.4})}, MoreReadings, "load_test"},
		{"read at 5 s", []reading.Reading{rest(12.65), reading.Of(station.LoadTest,
			reading.Fields{"method": station.HalfCCA, "amps": 325, "seconds": 5,
				"volts_end": 9.8})}, MoreReadings, "load_test"},
	} {
		t.Run(c.name, func(t *testing.T) {
			a := Assess(car(c.rs...), readingtest.Labels)
			if a.Verdict != c.verdict {
				t.Fatalf("verdict %s (%s), want %s", a.Verdict, a.Headline, c.verdict)
			}
			if len(a.Next) == 0 || a.Next[0].Test != c.next {
				t.Errorf("next %+v, want %s first", a.Next, c.next)
			}
			if a.Headline.IsZero() || a.Because.IsZero() {
				t.Errorf("headline %q, because %q", a.Headline, a.Because)
			}
		})
	}
}

// A crank complaint about a battery that came in sound and full has another
// cause; the same battery charged by the workshop was the cause itself.
func TestLookElsewhere(t *testing.T) {
	c := car(rest(12.65), load(10.3))
	c.Complaint = []string{"slow_crank"}
	if a := Assess(c, readingtest.Labels); a.Verdict != LookElsewhere {
		t.Errorf("found sound: %s", a.Verdict)
	}
	c.Readings = []reading.Reading{inspected("clean"), charged("full"), rest(12.65), load(10.3)}
	if a := Assess(c, readingtest.Labels); a.Verdict != Good {
		t.Errorf("made sound by charging: %s", a.Verdict)
	}
}

func TestColdLimitAndOtherSchool(t *testing.T) {
	c := car(rest(12.65), load(9.45))
	c.Readings[1] = c.Readings[1].With("battery_c", 5)
	a := Assess(c, readingtest.Labels)
	f := finding(t, a, "load_test.held")
	if !strings.Contains(f.Other.String(), "it fails") || f.Source == "" || f.Rule != "load_test.limit" {
		t.Errorf("at 5 °C 9.45 V passes by the table and the flat school fails it: %+v", f)
	}
	c.Rules.LoadTestLimit = rules.LimitFixed
	f = finding(t, Assess(c, readingtest.Labels), "load_test.failed")
	if !strings.Contains(f.Other.String(), "it holds") {
		t.Errorf("the flat house should hear that the table passes it: %+v", f)
	}
}

func TestLabelCaveats(t *testing.T) {
	c := car(rest(12.6))
	c.Battery.Rating = reading.Rating{CCA: num(640), Standard: rating.EN, Typical: true}
	a := Assess(c, readingtest.Labels)
	finding(t, a, "rating.typical")
	if f := finding(t, a, "rating.converted"); !strings.Contains(f.Why.String(), "approximate") {
		t.Errorf("a converted rating must say it is approximate: %+v", f)
	}
	if en, _ := rating.TestOf(rating.EN); finding(t, a, "rating.converted").Source != en.Source {
		t.Error("a converted figure is by the standard it is converted from")
	}
	if adv := loadAdvice(c); adv.Ways[0].Set.Value == nil || math.Abs(*adv.Ways[0].Set.Value-340) > 2.5 ||
		adv.Ways[0].Set.Note.IsZero() || adv.Level != bench.OK {
		t.Errorf("EN advice: %+v", adv)
	}
	c.Battery.Rating = reading.Rating{RCMin: num(90)}
	if adv := loadAdvice(c); adv.Ways[0].Set.Value != nil || adv.Ways[0].Set.From.IsZero() {
		t.Errorf("no figure to load by: %+v", adv)
	}
}

// Freezing points: CRC and BCI, from memory. A battery near empty (SG 1.12,
// -10 °C) standing at -20 °C is ice; at -8 °C it is at risk; a full one is not.
func TestFreezing(t *testing.T) {
	for _, row := range []struct {
		volts, c float64
		code     string
		verdict  Verdict
	}{
		{11.70, -20, "freeze.frozen", MoreReadings},
		{11.95, -12, "freeze.doubt", MoreReadings},
		{12.10, -13, "freeze.margin", ChargeAndRetest},
	} {
		c := car(rest(row.volts))
		c.Conditions = reading.Conditions{BatteryC: num(row.c)} // the shop's is not needed
		finding(t, Assess(c, readingtest.Labels), row.code)
		c.Conditions = reading.Conditions{AmbientC: num(row.c), BatteryC: num(row.c)}
		a := Assess(c, readingtest.Labels)
		if a.Verdict != row.verdict {
			t.Errorf("%g V at %g °C: %s", row.volts, row.c, a.Verdict)
		}
		if adv := loadAdvice(c); row.code != "freeze.margin" && (adv.Level == bench.OK ||
			!adv.Closed || !slices.Contains(a.Cautions,
			"frozen") || a.Next[0].Test == "charge") {
			t.Errorf("%g V at %g °C: load %q, next %s, cautions %v", row.volts, row.c, adv.Text, a.Next[0].Test,
				a.Cautions)
		}
	}
	c := car(rest(12.62))
	c.Conditions = reading.Conditions{AmbientC: num(-30), BatteryC: num(-30)}
	for _, f := range Assess(c, readingtest.Labels).Findings {
		if strings.HasPrefix(f.Code, "freeze.") {
			t.Errorf("a full battery at -30 °C: %+v", f)
		}
	}
}

// Whatever is read, every finding points at a reading that exists, has a text
// and a known level, the charge band is in order, and no battery whose case is
// a hazard is told to go on.
func TestProperties(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	glances := effort.Of(50, 10, 1) // the suspects cost thirty times as much as the verdict
	for n := range effort.Of(500, 5000, 5000) {
		c := car()
		c.Conditions = reading.Conditions{AmbientC: num(-30 + 70*rng.Float64())}
		c.Battery.Chemistry = battery.Chemistries()[rng.IntN(len(battery.Chemistries()))]
		hazard := false
		for range rng.IntN(7) {
			switch rng.IntN(5) {
			case 0:
				c.Readings = append(c.Readings, rest(10+4*rng.Float64()))
			case 1:
				c.Readings = append(c.Readings, load(5+6*rng.Float64()))
			case 2:
				c.Readings = append(c.Readings, charged([]string{"full", "stopped", "refused", "hot"}[rng.IntN(4)]))
			case 3:
				c.Readings = append(c.Readings, inspected("corrosion_live"))
			case 4:
				if rng.IntN(4) == 0 {
					c.Readings, hazard = append(c.Readings, inspected("leaking")), true
				}
			}
		}
		judge := ByRules
		if n%glances == 0 {
			judge = Glance
		}
		a := judge(c, readingtest.Labels)
		full := n%25 == 0 // the model's figures cost a hundred times as much
		if full {
			a = Assess(c, readingtest.Labels)
		}
		for _, f := range a.Findings {
			if f.Text.IsZero() || f.Code == "" ||
				!slices.Contains([]bench.Level{bench.OK, bench.Note, bench.Act, bench.Stopped}, f.Level) {
				t.Fatalf("%+v", f)
			}
			for _, i := range f.Readings {
				if i < 0 || i >= len(c.Readings) {
					t.Fatalf("%s points at reading %d of %d", f.Code, i, len(c.Readings))
				}
			}
		}
		if b := a.SOC; b != nil && (b.Low > b.Best || b.Best > b.High || b.Low < 0 || b.High > 100) {
			t.Fatalf("band %+v", b)
		}
		if hazard && a.Verdict != Stop {
			t.Fatalf("leaking, yet %s", a.Verdict)
		}
		if e := a.CCAEst; e != nil && !(0 <= e.Low && e.Low <= e.Best && e.Best <= e.High && e.OfRatingPct > 0) {
			t.Fatalf("strength %+v", e)
		}
		if !full {
			continue
		}
		for _, g := range gauges(c) {
			if math.IsNaN(g.Min+g.Max) || g.Min >= g.Max || g.Label.IsZero() {
				t.Fatalf("gauge %+v", g)
			}
		}
	}
}

// A better end voltage never gives a worse verdict, all else equal.
func TestStrongerIsNeverWorse(t *testing.T) {
	rank := map[Verdict]int{Replace: 0, ChargeAndRetest: 1, MoreReadings: 1, Weak: 2, GoodAfterCharge: 3, Good: 4,
		LookElsewhere: 4}
	judge := effort.Of(ByRules, ByRules, Glance)
	for v := 11.8; v < 12.8; v += effort.Of(0.2, 0.04, 0.04) {
		last := -1
		for end := 6.0; end < 11; end += 0.05 {
			got := rank[judge(car(rest(v), load(end)), readingtest.Labels).Verdict]
			if got < last {
				t.Fatalf("rest %.2f V: verdict worsens at %.2f V under load", v, end)
			}
			last = got
		}
	}
}

// A full case with every line of its ledger, its label's battery known.
func BenchmarkJudged(b *testing.B) {
	c := full()
	for b.Loop() {
		assess(station.Put(c, readingtest.Labels))
	}
}

// The same with what other schools would have said.
func BenchmarkAssess(b *testing.B) {
	c := full()
	for b.Loop() {
		ByRules(c, readingtest.Labels)
	}
}

// The same with the label's battery to be found.
func BenchmarkAssessNewLabel(b *testing.B) {
	c := full()
	for b.Loop() {
		ByRules(c, nil)
	}
}

// The same with suspects and the tests worth doing next.
func BenchmarkSuspected(b *testing.B) {
	c := full()
	for b.Loop() {
		Assess(c, readingtest.Labels)
	}
}

// full is a case with every station taken.
func full() reading.Case {
	c := car(rest(12.1), load(8.2), charged("full"), rest(12.62), load(9.9), conductance(520),
		reading.Of(station.Hydrometer, reading.Fields{"cells_sg": []float64{1.26, 1.265, 1.26, 1.26, 1.255, 1.26}, "acid_c": 21}),
		reading.Of(station.LidLeakage, reading.Fields{"volts": 0.05}),
		reading.Of(station.Crank, reading.Fields{"volts_min": 10.4, "amps": 160, "turned": "normal", "drop_live_volts": 0.2,
			"drop_earth_volts": 0.1}),
		reading.Of(station.Charging, reading.Fields{"volts": 14.2, "speed": "raised", "loads": "on"}),
		reading.Of(station.Drain, reading.Fields{"milliamps": 28, "minutes_asleep": 40}))
	c.Complaint = []string{"slow_crank", "short_trips"}
	return c
}

// The words follow the reader's scale; the figures do not change.
func TestFahrenheit(t *testing.T) {
	c := car(rest(12.65), load(9.7))
	a, f := Assess(c, readingtest.Labels), Judge(c, As{Voice: words.Voice{Temperature: words.Fahrenheit}, Closed: false, Labels: readingtest.Labels}).Assessment
	if !strings.Contains(finding(t, a, "rest_voltage.charge").Text.String(), "21 °C") ||
		!strings.Contains(finding(t, f, "rest_voltage.charge").Text.String(), "70 °F") {
		t.Errorf("%+v", f.Findings)
	}
	if *a.SOC != *f.SOC || a.Verdict != f.Verdict {
		t.Error("the scale of the words changed the judgement")
	}
}
