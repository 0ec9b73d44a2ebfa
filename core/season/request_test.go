package season

import (
	"strings"
	"testing"

	"grapnel/core/reading/readingtest"
	"grapnel/core/words"
)

// What is wrong is told with its place, and what to do.
func TestBadRequests(t *testing.T) {
	const fine = `"vehicle":{"class":"mower"},"battery":{"chemistry":"flooded"},"start":{"soc_pct":100},"from":"2026-10-15","to":"2027-04-01","place":{"climate":"inland"}`
	if _, err := Decode([]byte(`{"format":"` + RequestFormat + `",` + fine + `}`)); err != nil {
		t.Fatal(err)
	}
	twelve := func(v string) string { return "[" + strings.TrimSuffix(strings.Repeat(v+",", 12), ",") + "]" }
	for _, c := range []struct{ old, new, says string }{
		{`"to":"2027-04-01"`, `"to":"2026-10-15"`, "to: 2026-10-15 is not after"},
		{`"to":"2027-04-01"`, `"to":"2028-12-22"`, ""}, // 800 days
		{`"to":"2027-04-01"`, `"to":"2028-12-23"`, "to: 801 days are more"},
		{`"to":"2027-04-01"`, `"to":"1 April"`, "to:"},
		{`"soc_pct":100`, `"soc_pct":101`, "start.soc_pct"},
		{`"place":{"climate":"inland"}`, `"place":{}`, "place: say its monthly_mean_c"},
		{`"place":{"climate":"inland"}`, `"place":{"climate":"moon"}`, "place.climate"},
		{`"place":{"climate":"inland"}`, `"place":{"monthly_mean_c":` + twelve("5") + `}`, "monthly_low_c"},
		{`"place":{"climate":"inland"}`, `"place":{"monthly_low_c":` + twelve("5") + `}`, "monthly_mean_c"},
		{`"place":{"climate":"inland"}`, `"place":{"monthly_mean_c":` + twelve("5") + `,"monthly_low_c":` + twelve("5") + `}`, ""},
		{`"place":{"climate":"inland"}`, `"place":{"monthly_mean_c":` + twelve("5") + `,"monthly_low_c":` + twelve("5.1") + `}`, "monthly_low_c[0]: 5.1 °C is warmer"},
		{`"place":{"climate":"inland"}`, `"place":{"monthly_mean_c":[1,2],"monthly_low_c":` + twelve("0") + `}`, "12 to 12"},
		{`"place":{"climate":"inland"}`, `"place":{"climate":"inland","monthly_mean_c":` + twelve("5") + `}`, "not both"},
		{`"place":{"climate":"inland"}`, `"place":{"climate":"inland","days":[{"date":"2026-12-01","low_c":-5},{"date":"2026-12-01","low_c":-6}]}`, "days[1].date"},
		{`"place":{"climate":"inland"}`, `"place":{"climate":"inland","days":[{"date":"2026-12-01","low_c":-5,"mean_c":-6}]}`, "days[0].low_c"},
		{`}}`, `}},"at_hand":["nothing","mains"]`, "at_hand: nothing is at hand, and mains"},
		{`}}`, `}},"at_hand":["solar"]`, "solar: a panel is at hand"},
		{`}}`, `}},"at_hand":["a tree"]`, "at_hand[0]"},
		{`}}`, `}},"way":"maintainer"`, "way: "},
		{`}}`, `}},"looks":[{"date":"2026-11-01","rest_volts":12.5}]`, "way: is needed"},
		{`}}`, `}},"way":"connected","looks":[{"date":"2026-11-01"}]`, "looks[0]: says nothing"},
		{`}}`, `}},"way":"connected","looks":[{"date":"2026-11-01","rest_volts":12.5,"soc_pct":70}]`, "not both"},
		{`}}`, `}},"way":"connected","looks":[{"date":"2026-10-14","rest_volts":12.5}]`, "is outside 2026-10-15"},
		{`}}`, `}},"way":"connected","looks":[{"date":"2026-11-02","charged":true},{"date":"2026-11-01","charged":true}]`, "looks stand in order"},
		{`}}`, `}},"way":"connected","looks":[{"date":"2026-11-02","rest_volts":16.3}]`, "16.3 V is outside"},
		{`}}`, `}},"way":"connected","looks":[{"date":"2026-11-02","rest_volts":16.2}]`, ""},
		{`}}`, `}},"drain_ma":-1`, "drain_ma"},
		{`}}`, `}},"maintainer":{"kind":"big","amps":1}`, "maintainer.kind"},
		{`}}`, `}},"colour":"red"`, "colour: unknown field"},
	} {
		doc := `{"format":"` + RequestFormat + `",` + fine + `}`
		if c.old == `}}` {
			doc = strings.TrimSuffix(doc, "}") + strings.TrimPrefix(c.new, "}}") + "}"
		} else {
			doc = strings.Replace(doc, c.old, c.new, 1)
		}
		r, err := Decode([]byte(doc))
		if err == nil {
			_, err = r.Make(readingtest.Labels, words.Voice{})
		}
		if (err == nil) != (c.says == "") || err != nil && !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v", c.new, err)
		}
	}
}

// Whatever is read is planned or refused in words, and never breaks.
func FuzzRequest(f *testing.F) {
	f.Add(
		[]byte(
			`{"format":"grapnel.season_request/1","vehicle":{"class":"hybrid"},"battery":{"chemistry":"gel","rating":{"ah_20h":1}},"start":{"soc_pct":0},
		"from":"2026-10-15","to":"2027-04-01","place":{"climate":"continental","days":[{"date":"2026-12-01","low_c":-60}]},"at_hand":["solar","mains"],
		"solar":{"watts":2000,"latitude_deg":90},"way":"solar","looks":[{"date":"2026-11-02","rest_volts":0}],"drain_ma":20000}`,
		),
	)
	f.Add(
		[]byte(
			`{"format":"grapnel.season_request/1","vehicle":{"class":"classic","system_volts":6,"arrangement":"series"},"battery":{"chemistry":"flooded"},
		"start":{"soc_pct":50,"health_pct":5,"spread_pct":50},"from":"2024-02-29","to":"2025-03-01","place":{"climate":"hot"},"at_hand":["indoors"],"indoors_c":40}`,
		),
	)
	f.Fuzz(func(t *testing.T, data []byte) {
		r, err := Decode(data)
		if err != nil {
			return
		}
		p, err := r.Make(readingtest.Labels, words.Voice{})
		if err != nil {
			return
		}
		for _, w := range p.Ways {
			for _, d := range w.Days {
				if !(d.SOC >= 0 && d.SOC <= 100 && d.Freezes <= 0 && d.Freezes > -80) {
					t.Fatalf("%s: %+v", w.Way, d)
				}
			}
		}
	})
}
