package api

import (
	"encoding/json"
	"math"
	"strings"
	"testing"
	"time"
)

func readAgo(kind string, minutesAgo float64, fields map[string]any) map[string]any {
	r := map[string]any{
		"kind": kind,
		"at":   time.Now().UTC().Add(-time.Duration(minutesAgo * float64(time.Minute))).Format(time.RFC3339Nano),
	}
	for k, v := range fields {
		r[k] = v
	}
	return map[string]any{"id": newID(), "reading": r}
}

// chargeOf is what the tests look at of a charge.
type chargeOf struct {
	Charger string    `json:"charger"`
	Check   time.Time `json:"check_at"`
	Ready   time.Time `json:"ready_at"`
	Follows struct {
		Code string `json:"code"`
		Text string `json:"text"`
		Do   string `json:"do"`
	} `json:"follows"`
	Shares map[string]float64 `json:"shares"`
	Now    struct {
		Full   map[string]float64 `json:"full"`
		Points []map[string]any   `json:"points"`
		Band   []map[string]any   `json:"band"`
	} `json:"now"`
	Before *struct {
		Points []map[string]any `json:"points"`
	} `json:"before"`
	Thumb string `json:"rule_of_thumb"`
}

// A battery hung on a charger waits for its next look, the clock calls then, on every
// device; each look makes its forecast anew; taken off, it is none any more.
func TestOnACharger(t *testing.T) {
	c := technician(t)
	id := newID()
	var s sheetOf
	c.call("POST", "/api/jobs", mower(id)).into(200, &s)
	c.call(
		"POST",
		"/api/jobs/"+id+"/readings",
		readAgo("rest_voltage", 70, map[string]any{"volts": 12.24, "minutes_since_charge": 600, "surface_charge": "rested"}),
	).into(
		200,
		&s,
	)
	c.call(
		"POST",
		"/api/jobs/"+id+"/readings",
		readAgo("inspection", 69, map[string]any{"found": []string{"clean"}}),
	).into(
		200,
		&s,
	)
	c.call("GET", "/api/jobs/"+id+"/charge", nil).into(404, nil)

	hang := readAgo("on_charger", 40, map[string]any{"charger": "3", "charger_kind": "smart", "amps": 2.5})
	s = sheetOf{}
	c.call("POST", "/api/jobs/"+id+"/readings", hang).into(200, &s)
	if s.Wait.For != "hands" {
		t.Errorf("ten minutes after its look was due it waits for %s", s.Wait.For)
	}
	var first, second chargeOf
	c.call("GET", "/api/jobs/"+id+"/charge", nil).into(200, &first)
	if first.Charger != "3" || first.Before != nil || len(first.Now.Points) != len(first.Now.Band) || len(first.Now.Points) < 50 ||
		first.Now.Full["best"] < 4 || first.Now.Full["best"] > 12 || first.Follows.Text == "" ||
		!strings.HasPrefix(first.Thumb, "The rule of thumb says ") {
		t.Errorf("%+v", first)
	}
	c.call(
		"POST",
		"/api/jobs/"+id+"/readings",
		readAgo("charge_check", 5, map[string]any{"volts": 13.05, "amps": 2.5, "warmth": "cold"}),
	).into(
		200,
		&s,
	)
	if s.Wait.For != "charge" {
		t.Errorf("after a look it waits for %s", s.Wait.For)
	}
	c.call("GET", "/api/jobs/"+id+"/charge", nil).into(200, &second)
	if second.Before == nil || second.Follows.Code != "sound" || math.Abs(time.Until(second.Check).Minutes()-25) > 1 {
		t.Errorf("%+v", second)
	}
	var clock struct {
		Moments []struct {
			JobID   string    `json:"job_id"`
			Word    string    `json:"word"`
			Station string    `json:"station"`
			Over    bool      `json:"over"`
			At      time.Time `json:"at"`
		} `json:"moments"`
	}
	c.call("GET", "/api/clock", nil).into(200, &clock)
	if len(clock.Moments) != 3 || clock.Moments[0].Over || clock.Moments[0].Station != "charge" || clock.Moments[0].Word != "check charge" || !clock.Moments[0].At.Equal(second.Check) ||
		clock.Moments[1].Word != "ready to test" || !clock.Moments[1].At.Equal(second.Ready) ||
		clock.Moments[2].Word != "full" {
		t.Errorf("the clock: %+v", clock)
	}
	var list struct {
		Jobs []struct {
			Wait struct{ At time.Time }
			Hung struct {
				Charger string
				Since   time.Time
				Ready   time.Time `json:"ready_at"`
				Sign    string
			}
		} `json:"jobs"`
		Tally []struct{ Hands, Clock int } `json:"tally"`
	}
	c.call("GET", "/api/jobs?wait=clock", nil).into(200, &list)
	if len(list.Jobs) != 1 || !list.Jobs[0].Wait.At.Equal(second.Check) || list.Jobs[0].Hung.Charger != "3" || !list.Jobs[0].Hung.Ready.Equal(second.Ready) ||
		list.Jobs[0].Hung.Sign != "ok" ||
		list.Tally[0].Clock != 1 {
		t.Errorf("the floor: %+v", list)
	}
	// What one look does not explain is not accused, and what to do about it said.
	c.call(
		"POST",
		"/api/jobs/"+id+"/readings",
		readAgo("charge_check", 1, map[string]any{"volts": 11.0, "amps": 2.5, "warmth": "warm"}),
	).into(
		200,
		&s,
	)
	var third chargeOf
	c.call("GET", "/api/jobs/"+id+"/charge", nil).into(200, &third)
	if third.Follows.Code != "unsure" || third.Follows.Do == "" {
		t.Errorf("%+v %v", third.Follows, third.Shares)
	}
	// Of another workshop it is nobody's business.
	technician(t).call("GET", "/api/jobs/"+id+"/charge", nil).into(404, nil)
	c.call("POST", "/api/jobs/"+id+"/readings", readAgo("charged", 0, map[string]any{"ended": "stopped"})).into(200, &s)
	c.call("GET", "/api/jobs/"+id+"/charge", nil).into(404, nil)
	clock.Moments = nil
	c.call("GET", "/api/clock", nil).into(200, &clock)
	if len(clock.Moments) != 0 {
		t.Errorf("taken off: %+v", clock)
	}
}

// A shorted cell has to come off: charge, clock, floor and sheet say so alike.
func TestHasToComeOff(t *testing.T) {
	c := technician(t)
	id := c.flat("K-0001", 12.1, 0)
	var s sheetOf
	c.call(
		"POST",
		"/api/jobs/"+id+"/readings",
		readAgo("on_charger", 70, map[string]any{"charger": "3", "charger_kind": "smart", "amps": 2.5}),
	).into(
		200,
		nil,
	)
	for ago, volts := range map[float64]float64{40: 10.95, 5: 11} {
		c.call(
			"POST",
			"/api/jobs/"+id+"/readings",
			readAgo("charge_check", ago, map[string]any{"volts": volts, "amps": 2.5, "warmth": "warm"}),
		).into(
			200,
			nil,
		)
	}
	var charge chargeOf
	c.call("GET", "/api/jobs/"+id+"/charge", nil).into(200, &charge)
	if charge.Follows.Code != "shorted_cell" || charge.Follows.Do == "" || charge.Thumb != "" {
		t.Errorf("%+v %v, %q", charge.Follows, charge.Shares, charge.Thumb)
	}
	var clock struct {
		Moments []struct {
			Word string
			Over bool
		}
	}
	c.call("GET", "/api/clock", nil).into(200, &clock)
	if len(clock.Moments) != 1 || clock.Moments[0].Word != "take it off" || !clock.Moments[0].Over {
		t.Errorf("the clock says %+v", clock)
	}
	var list struct {
		Jobs []struct{ Wait struct{ Word string } }
	}
	c.call("GET", "/api/jobs?wait=hands", nil).into(200, &list)
	c.call("GET", "/api/jobs/"+id, nil).into(200, &s)
	if len(list.Jobs) != 1 || list.Jobs[0].Wait.Word != "Take it off now" || s.Wait.Word != "Take it off now" {
		t.Errorf("the floor says %+v, its sheet %+v", list.Jobs, s.Wait)
	}
}

// Before it hangs anywhere: what the charge would do on a charger of the shop or any
// other, at each rate, and what forbids it.
func TestPlanOfACharge(t *testing.T) {
	c := technician(t)
	one := c.charger(unitNamed("1", "smart", 10, "rates", []float64{2, 6, 10}))
	job := c.flat("K-0001", 12.1, 0)
	type planOf struct {
		Allowed  bool
		Amps     float64
		Full     float64 `json:"hours_to_full"`
		House    string  `json:"house_rate"`
		Rates    []struct{ Code string }
		Connect  []struct{ Place, Side string }
		Refusals []struct{ Code, Text string }
		Warnings []struct{ Code string }
		Curve    []map[string]float64
	}
	plan := func(query string, status int) (p planOf) {
		t.Helper()
		r := c.call("GET", "/api/jobs/"+job+"/charge/plan?"+query, nil)
		if r.into(status, nil); status == 200 {
			must(t, json.Unmarshal(r.body, &p))
		}
		return p
	}
	p := plan("charger="+one, 200)
	if !p.Allowed || p.Amps != 2 || p.House != "tenth" || len(p.Rates) != 2 || len(p.Connect) != 5 || len(p.Curve) < 50 ||
		p.Full <= 0 {
		t.Errorf("%+v", p)
	}
	fast := plan("charger="+one+"&rate=fast", 200)
	six := plan("charger="+one+"&amps=6", 200)
	own := plan("kind=manual&amps=6&in_vehicle=true", 200)
	if fast.Amps != 2 && fast.Amps != 6 || six.Amps != 6 || six.Full >= p.Full || own.Connect[1].Side != "live" ||
		own.Connect[2].Side != "earthed" {
		t.Errorf("fast %g A, six %g A in %g h, two in %g h, %+v", fast.Amps, six.Amps, six.Full, p.Full, own.Connect)
	}
	for _, query := range []string{"", "kind=manual", "amps=6", "kind=magic&amps=6", "kind=smart&amps=501", "charger=" + one + "&rate=warp"} {
		plan(query, 422)
	}
	plan("charger="+newID(), 404)
	c.call(
		"POST",
		"/api/jobs/"+job+"/readings",
		map[string]any{"id": newID(), "reading": map[string]any{"kind": "inspection", "found": []string{"case_bulged"}}},
	).into(
		200,
		nil,
	)
	if p := plan("charger="+one, 200); p.Allowed || p.Refusals[0].Code != "case_bulged" || len(p.Curve) != 0 {
		t.Errorf("%+v", p)
	}
	bare := newID()
	m := mower(bare)
	m["battery"] = map[string]any{"chemistry": "flooded", "rating": map[string]any{}}
	c.call("POST", "/api/jobs", m).into(200, nil)
	job = bare
	plan("kind=smart&amps=4", 422)
}
