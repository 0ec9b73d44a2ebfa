package api

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"grapnel/internal/localdb/dbtest"
)

// Chargers are added, changed and retired, each once however often it is sent; a name is
// one charger's, and given again once it is retired; what is wrong is named. Another
// workshop has chargers of its own.
func TestChargers(t *testing.T) {
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	if got := c.bank(); len(got.Chargers) != 0 || got.Waiting == nil {
		t.Fatalf("%+v", got)
	}
	ten := c.charger(
		unitNamed("10", "smart", 10, "rates", []float64{10, 2, 6, 2}, "volts", 14.8, "volts_low", 14.4, "where", "  rail "),
	)
	two := map[string]any{"id": newID(), "unit": unitNamed("2", "taper", 10, "volts", 17)}
	for range 3 {
		c.call("POST", "/api/bank/chargers", two).into(200, nil)
	}
	got := c.bank()
	if len(got.Chargers) != 2 || got.Chargers[0].Unit["name"] != "2" || fmt.Sprint(got.Chargers[1].Unit["rates"]) != "[2 6 10]" ||
		got.Chargers[1].Unit["where"] != "rail" {
		t.Errorf("%+v", got.Chargers)
	}
	two["unit"] = unitNamed("3", "taper", 10)
	c.call("POST", "/api/bank/chargers", two).into(409, nil)
	for what, bad := range map[string]struct {
		unit   map[string]any
		status int
		field  string
	}{
		"no name":         {unitNamed(" ", "smart", 4), 422, "name"},
		"no such kind":    {unitNamed("9", "magic", 4), 422, "kind"},
		"no amps":         {unitNamed("9", "smart", 0), 422, "amps"},
		"far too many":    {unitNamed("9", "smart", 501), 422, "amps"},
		"volts of a cell": {unitNamed("9", "smart", 4, "volts", 2.4), 422, "volts"},
		"volts of a wall": {unitNamed("9", "smart", 4, "volts", 230), 422, "volts"},
		"more by switch":  {unitNamed("9", "manual", 4, "rates", []float64{5}), 422, "rates[0]"},
		"13 rates":        {unitNamed("9", "manual", 40, "rates", []float64{1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13}), 422, "rates"},
		"a long name":     {unitNamed(strings.Repeat("9", 21), "smart", 4), 422, "name"},
		"another field":   {unitNamed("9", "smart", 4, "watts", 7), 422, "watts"},
		"a name in use":   {unitNamed("10", "smart", 4), 409, ""},
	} {
		r := c.call("POST", "/api/bank/chargers", map[string]any{"id": newID(), "unit": bad.unit})
		var p problemAnswer
		r.into(bad.status, &p)
		named := func(e struct {
			Location string `json:"location"`
			Message  string `json:"message"`
		}) bool {
			return strings.HasSuffix(e.Location, bad.field)
		}
		if bad.field != "" && !slices.ContainsFunc(p.Errors, named) && !strings.Contains(p.Detail, "kind") {
			t.Errorf("%s: %s", what, r.body)
		}
	}
	change := map[string]any{"version": 1, "unit": unitNamed("ten", "smart", 10)}
	for range 2 {
		c.call("PUT", "/api/bank/chargers/"+ten, change).into(200, nil)
	}
	change["unit"] = unitNamed("eleven", "smart", 10)
	c.call("PUT", "/api/bank/chargers/"+ten, change).into(409, nil)
	other := b.as(t, "Second technician")
	if got := other.bank(); len(got.Chargers) != 0 {
		t.Errorf("another workshop's: %+v", got)
	}
	other.call("PUT", "/api/bank/chargers/"+ten, map[string]any{"version": 2, "unit": unitNamed("x", "smart", 10)}).into(404, nil)
	// Retired, its name is given again, and it comes back only under another.
	c.call(
		"PUT",
		"/api/bank/chargers/"+ten,
		map[string]any{"version": 2, "unit": unitNamed("ten", "smart", 10), "retired": true},
	).into(
		200,
		nil,
	)
	again := c.charger(unitNamed("TEN", "smart", 4))
	c.call("PUT", "/api/bank/chargers/"+ten, map[string]any{"version": 3, "unit": unitNamed("ten", "smart", 10)}).into(409, nil)
	c.call(
		"PUT",
		"/api/bank/chargers/"+ten,
		map[string]any{"version": 3, "unit": unitNamed("old ten", "smart", 10)},
	).into(
		200,
		nil,
	)
	if got := c.bank(); len(got.Chargers) != 3 || again == "" {
		t.Errorf("%+v", got.Chargers)
	}
	// What was changed stands in the history.
	var h struct {
		Changes []struct{ What, About string }
	}
	b.as(t, "First lead").call("GET", "/api/history?only=changes", nil).into(200, &h)
	var whats []string
	for _, one := range h.Changes {
		if strings.HasPrefix(one.What, "charger") {
			whats = append(whats, one.What+" "+one.About)
		}
	}
	if got := strings.Join(whats, ", "); got != "charger_changed old ten, charger_added TEN, charger_retired ten, charger_changed ten, charger_added 2, charger_added 10" {
		t.Errorf("history: %s", got)
	}
}

// A workshop has so many chargers and no more.
func TestMostChargers(t *testing.T) {
	c := technician(t)
	var last string
	for i := range 200 {
		last = c.charger(unitNamed(fmt.Sprint(i), "smart", 4))
	}
	more := map[string]any{"id": newID(), "unit": unitNamed("200", "smart", 4)}
	c.call("POST", "/api/bank/chargers", more).into(409, nil)
	// One that is retired makes room; it is not taken back where that is gone.
	change := func(version int, retired bool, status int) {
		t.Helper()
		c.call(
			"PUT",
			"/api/bank/chargers/"+last,
			map[string]any{"version": version, "unit": unitNamed("199", "smart", 4), "retired": retired},
		).into(
			status,
			nil,
		)
	}
	change(1, true, 200)
	change(2, false, 200)
	change(3, true, 200)
	c.call("POST", "/api/bank/chargers", more).into(200, nil)
	change(4, false, 409)
}
