package jump

import (
	"errors"
	"math"
	"os"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/document"
	"grapnel/core/energy"
	"grapnel/core/words"
)

func reach(t testing.TB, b battery.Battery, soc float64) float64 {
	t.Helper()
	h, err := charge.SmartAt(fillPart*b.Ah20h).Reach(b, soc, charge.FullPct, fillC)
	if err != nil {
		t.Fatal(err)
	}
	return h
}

// What is left out takes what is usual.
func TestRequestDefaults(t *testing.T) {
	r := decoded(t, "leads", "null", "flat.battery_c", "-3")
	if r.Leads.MM2 != 25 || r.Leads.Metres != 3 || *r.Leads.ClampMilliohms != usualClamp || r.Leads.Metal != Copper ||
		r.ClampOn != OnBody {
		t.Errorf("%+v", r.Leads)
	}
	if r.Source.BatteryC != -3 || r.Source.SOCPct != 95 || r.Source.RPM != IdleRPM || r.DriveMinutes != 15 ||
		r.DrainMA != energy.UsualOf("car").DrainMilliamps {
		t.Errorf("%+v", r.Source)
	}
	if l := r.leads(); l.Clamps != 4 {
		t.Errorf("%+v", l)
	}
	pack := decoded(t, "source", aPack, "leads", "null")
	if l := pack.leads(); l.Clamps != 2 || l.MM2 != packMM2 || l.Metres != packMetres {
		t.Errorf("%+v", l)
	}
	boost := decoded(t, "source", `{"kind": "charger", "boost_amps": 100}`, "leads", "null", "flat.vehicle.system_volts", "6")
	if boost.Source.BoostVolts != 7.5 || boost.leads().MM2 != chargerMM2 || boost.Source.OnSeconds != boostOn {
		t.Errorf("%+v", boost.Source)
	}
	if v := decoded(t, "flat.vehicle.system_volts", "24"); v.Source.SystemVolts != 24 {
		t.Errorf("%+v", v.Source)
	}
	if own := decoded(t, "source.battery_c", "7").Source.BatteryC; own != 7 {
		t.Errorf("%g °C", own)
	}
}

// Bad input is refused with the place and what to do.
func TestRequestRefusesNonsense(t *testing.T) {
	for _, c := range []struct{ at, says string }{
		{"flat.soc_pct", "101"}, {"flat.soc_pct", "-1"}, {"flat.battery_c", "200"}, {"flat.engine.litres",
			"0"}, {"flat.engine.cylinders", "0"},
		{"leads.mm2", "0"}, {"leads.metres", "100"}, {"leads.metal", `"silver"`}, {"clamp_on",
			`"fuel_line"`}, {"source.kind", `"solar"`},
		{"flat.hazards", `["rust"]`}, {"source.rpm", "9000"}, {"flat.colour", `"red"`}, {"flat.vehicle.class",
			`"tank"`}, {"flat.battery.rating", `{"cca": 1}`},
	} {
		_, err := Decode(edited(t, c.at, c.says))
		var wrong document.Problems
		leaf := c.at[strings.LastIndex(c.at, ".")+1:]
		if !errors.As(err, &wrong) || !strings.Contains(wrong[0].Path, leaf) && !strings.Contains(wrong[0].Message, leaf) {
			t.Errorf("%s %s: %v", c.at, c.says, err)
		}
	}
	if _, err := Decode(edited(t, "source", `{"kind": "pack"}`)); err == nil ||
		!strings.Contains(err.Error(), "source.peak_amps") {
		t.Errorf("%v", err)
	}
	for _, r := range []Request{decoded(t, "flat.battery.rating", "{}"), decoded(t, "source.battery.rating", "{}")} {
		_, err := r.Plan(nil, words.Voice{})
		if err == nil || !strings.Contains(err.Error(), ".battery.rating") {
			t.Errorf("%v", err)
		}
	}
}

// Two batteries side by side or in a row are the bank they make.
func TestBanks(t *testing.T) {
	scene := func(edits ...string) scene {
		s, err := decodedScene(t, edits...)
		if err != nil {
			t.Fatal(err)
		}
		return s
	}
	one, pair := scene(), scene("flat.vehicle.arrangement", `"parallel"`)
	if pair.flat.CCA != 2*one.flat.CCA || pair.flat.Cells() != 6 {
		t.Errorf("%g CCA", pair.flat.CCA)
	}
	row := scene("flat.vehicle.system_volts", "24", "flat.vehicle.arrangement", `"series"`)
	if row.flat.Cells() != 12 || row.flat.CCA != one.flat.CCA {
		t.Errorf("%d cells of %g CCA", row.flat.Cells(), row.flat.CCA)
	}
	if s := scene("source.arrangement", `"parallel"`); s.giver.CCA != 2*one.giver.CCA {
		t.Errorf("%g CCA gives", s.giver.CCA)
	}
	if s := scene("flat.health_pct", "60"); s.flat.Groups[0].Resistance <= 1.2 {
		t.Errorf("%+v", s.flat.Groups[0])
	}
}

// The engine is what was seen, else its size, else what its label is usual for; the cables
// as they were measured, else usual, longer from the boot.
func TestEngineAndCables(t *testing.T) {
	for _, c := range []struct {
		amps, spread float64
		edits        []string
	}{
		{233, 0.15, nil},
		{300 / 1.55, 0.10, []string{"flat.engine.draw_amps", "300", "flat.engine.draw_c", "0"}},
		{0.34 * 800, 0.08 / 0.34, []string{"flat.engine", "{}"}},
		{0.34 * 800, 0.08 / 0.34, []string{"flat.engine", "{}", "flat.vehicle.arrangement", `"parallel"`}},
	} {
		s, err := decodedScene(t, c.edits...)
		if err != nil || math.Abs(s.starter.Amps-c.amps) > 0.01*c.amps || math.Abs(s.spread-c.spread) > 0.01 {
			t.Errorf("%v: %g A ± %g (%v)", c.edits, s.starter.Amps, s.spread, err)
		}
	}
	s, _ := decodedScene(t)
	usual := cableVolts / 233
	if math.Abs(s.live-usual) > 1e-6 || math.Abs(s.earthed-usual) > 1e-6 || s.toPost != 0 {
		t.Errorf("%g and %g", s.live, s.earthed)
	}
	s, _ = decodedScene(t, "flat.cables", `{"live_milliohms": 3, "earth_milliohms": 0}`)
	if s.live != 0.003 || s.earthed != 0 {
		t.Errorf("%g and %g", s.live, s.earthed)
	}
	boot, _ := decodedScene(t, "flat.battery_place", `"boot"`)
	post, _ := decodedScene(t, "flat.battery_place", `"boot"`, "flat.jump_post", "true")
	if long := bootVolts / 233; math.Abs(boot.live-usual-long) > 1e-6 || boot.toPost != 0 || math.Abs(post.toPost-long) > 1e-6 ||
		post.live != s.live && math.Abs(post.live-usual) > 1e-6 {
		t.Errorf("%g, %g and %g", boot.live, post.live, post.toPost)
	}
	// On the engine's metal the battery's own earthed cable is in its branch alone.
	onPost := s
	onPost.onBody, onPost.earthed, s.earthed = false, 0.002, 0.002
	k := s.circuit(0)
	if k.FlatOhms != 0.002 || k.Path != 0.003 {
		t.Errorf("%+v", k)
	}
	if k = onPost.circuit(0); k.FlatOhms != 0 || k.Path != 0.005 {
		t.Errorf("%+v", k)
	}
}

// The examples of the documents are what the command reads.
func TestTestdata(t *testing.T) {
	files, err := os.ReadDir("testdata")
	if err != nil || len(files) == 0 {
		t.Fatal(err)
	}
	for _, f := range files {
		if p := planned(t, request(t, strings.TrimSuffix(f.Name(), ".json"))); p.Format != PlanFormat {
			t.Errorf("%s: %+v", f.Name(), p)
		}
	}
}
