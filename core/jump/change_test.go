package jump

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"
)

// made is a request with a change carried out.
func made(t *testing.T, edits []string, c Remedy) Plan {
	t.Helper()
	value := fmt.Sprint(c.Value)
	by := map[string][]string{
		changeStart: {
			"source.running",
			"true",
			"source.rpm",
			value,
		}, changeRevs: {"source.rpm", value}, changeClean: {"leads.clamp_milliohms", "0.3"},
		changeBody: {
			"clamp_on",
			`"body"`,
		}, changeShorter: {"leads.metres", value}, changeThicker: {"leads.mm2", value, "leads.metal", `"copper"`},
		changeBoth: {
			"leads.mm2",
			value,
			"leads.metal",
			`"copper"`,
		}, changePack: {"source.cca", value, "source.peak_amps", "null"},
		changePair: {"source.arrangement", `"parallel"`}, changeWarm: {"flat.engine.oil_c", value}, changeMinutes: nil,
	}
	return planned(t, decoded(t, append(slices.Clone(edits), by[c.Code]...)...))
}

// Whatever is offered does, once it is made: over many requests that fail, of every kind
// of source; every kind of change is offered somewhere, the least effort first, and never
// more than a few.
func TestChangesDoWhatTheySay(t *testing.T) {
	offered := map[string]bool{}
	base := [][]string{
		{"flat.soc_pct", "10", "flat.battery_c", "-5"},
		{"flat.soc_pct", "10", "source.running", "false", "leads.mm2", "16"},
		{"flat.soc_pct", "10", "leads.mm2", "10", "flat.vehicle.fuel", petrol, "flat.engine.litres", "3"},
		{"flat.soc_pct", "8", "leads.clamp_milliohms", "3", "flat.engine.litres", "1.9"},
		{"flat.soc_pct", "8", "leads.metal", `"clad_aluminium"`, "leads.mm2", "16", "flat.engine.litres", "1.6"},
		{"flat.soc_pct", "8", "clamp_on", `"post"`, "leads.clamp_milliohms", "0.3", "leads.mm2", "35", "source.rpm", "2000"},
		{
			"flat.soc_pct",
			"10",
			"flat.battery_c",
			"-8",
			"leads.mm2",
			"70",
			"leads.clamp_milliohms",
			"0.3",
			"leads.metres",
			"1.5",
			"source.rpm",
			"2000",
			"source.battery.rating",
			`{"cca": 350, "ah_20h": 38}`,
		},
		{"source", `{"kind": "pack", "cca": 120}`, "flat.soc_pct", "12"},
		{
			"source",
			`{"kind": "pack", "cca": 240, "soc_pct": 70}`,
			"flat.soc_pct",
			"12",
			"flat.engine.litres",
			"3",
			"flat.battery_c",
			"-5",
		},
		{
			"source",
			`{"kind": "charger", "boost_amps": 60}`,
			"flat.soc_pct",
			"12",
			"flat.engine.litres",
			"3",
			"flat.battery_c",
			"-5",
		},
		{
			"flat.vehicle.class",
			`"hybrid"`,
			"source",
			`{"kind": "pack", "cca": 40, "soc_pct": 50}`,
			"flat.soc_pct",
			"1",
			"flat.battery_c",
			"0",
		},
	}
	for i := range 12 {
		base = append(
			base,
			[]string{
				"flat.soc_pct",
				fmt.Sprint(5 + 2*i),
				"flat.battery_c",
				fmt.Sprint(-6 + i),
				"leads.mm2",
				[]string{"10", "16", "25"}[i%3],
				"leads.metres",
				[]string{"3", "5"}[i%2],
				"clamp_on",
				[]string{`"post"`, `"body"`}[i%2],
				"source.soc_pct",
				"80",
			},
		)
	}
	for _, edits := range base {
		p := planned(t, decoded(t, edits...))
		if p.Starts == Yes && len(p.Changes) > 0 || len(p.Changes) > mostChanges {
			t.Errorf("%v: %d changes to %s", edits, len(p.Changes), p.Starts)
		}
		for _, c := range p.Changes {
			offered[c.Code] = true
			if strings.ContainsAny(c.Do.String()+c.Note.String(), "{}") {
				t.Errorf("%s: %s %s", c.Code, c.Do, c.Note)
			}
			q := made(t, edits, c)
			// As near as the few steps of a search are.
			near := 0.94 * q.Reached.Needs
			reached := q.Reached.Best
			if c.Minutes > 0 {
				reached = 0
				for _, m := range q.Curve {
					if m.Minute <= c.Minutes {
						reached = max(reached, m.Best)
					}
				}
				if q.Later != nil && *q.MinutesFirst <= c.Minutes+1 {
					reached = max(reached, q.Later.Reached)
				}
			}
			if reached < near {
				t.Errorf("%v: %s (%g, %g min) reaches %g of %g", edits, c.Code, c.Value, c.Minutes, reached, q.Reached.Needs)
			}
		}
	}
	for _, code := range changeCodes {
		if !offered[code] {
			t.Errorf("%s is never offered", code)
		}
	}
}

// Where the maker wants the post, the metal is not offered.
func TestMakersPostStands(t *testing.T) {
	edits := []string{
		"flat.soc_pct",
		"8",
		"clamp_on",
		`"post"`,
		"leads.clamp_milliohms",
		"0.3",
		"leads.mm2",
		"35",
		"source.rpm",
		"2000",
		"maker_says_post",
		"true",
	}
	for _, c := range planned(t, decoded(t, edits...)).Changes {
		if c.Code == changeBody {
			t.Error("it is offered")
		}
	}
}

// A second battery is offered to a donor that has one, not to one that has two already:
// each donor here is as strong as the others.
func TestPairIsOfferedToOne(t *testing.T) {
	var single Plan
	for _, c := range []struct {
		arrangement, rating string
		want                bool
	}{
		{"null", `{"cca": 260}`, true}, {`"single"`, `{"cca": 260}`, true},
		{`"series"`, `{"cca": 260}`, false}, {`"parallel"`, `{"cca": 130}`, false},
	} {
		p := planned(t, decoded(t, "flat.soc_pct", "10", "flat.battery_c", "-5", "leads.mm2", "70", "flat.engine.litres", "3",
			"leads.clamp_milliohms", "0.3", "leads.metres", "1.5", "source.rpm", "2000", "source.alternator_amps", "20",
			"source.battery.rating", c.rating, "source.arrangement", c.arrangement))
		if c.arrangement == "null" {
			single = p
		}
		if p.Starts != No || math.Abs(*p.CrankRPM-*single.CrankRPM) > 2 {
			t.Errorf("%s: %s, at %g turns, a single one at %g", c.arrangement, p.Starts, *p.CrankRPM, *single.CrankRPM)
		}
		if got := slices.ContainsFunc(p.Changes, func(r Remedy) bool { return r.Code == changePair }); got != c.want {
			t.Errorf("%s: offered %v, %+v", c.arrangement, got, p.Changes)
		}
	}
}
