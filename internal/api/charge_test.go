package api

import (
	"math"
	"testing"
	"time"
)

func readAgo(kind string, minutesAgo float64, fields map[string]any) map[string]any {
	r := map[string]any{"kind": kind, "at": time.Now().UTC().Add(-time.Duration(minutesAgo * float64(time.Minute))).Format(time.RFC3339Nano)}
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
	Thumb float64 `json:"rule_of_thumb_hours"`
}

// A battery hung on a charger waits for its next look, the clock calls then, on every
// device; each look makes its forecast anew; taken off, it is none any more.
func TestOnACharger(t *testing.T) {
	c := technician(t)
	id := newID()
	var s sheetOf
	c.call("POST", "/api/jobs", mower(id)).into(200, &s)
	c.call("POST", "/api/jobs/"+id+"/readings", readAgo("rest_voltage", 70, map[string]any{"volts": 12.24, "minutes_since_charge": 600, "surface_charge": "rested"})).into(200, &s)
	c.call("POST", "/api/jobs/"+id+"/readings", readAgo("inspection", 69, map[string]any{"found": []string{"clean"}})).into(200, &s)
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
		first.Now.Full["best"] < 4 || first.Now.Full["best"] > 12 || first.Follows.Text == "" || first.Thumb <= 0 {
		t.Errorf("%+v", first)
	}
	c.call("POST", "/api/jobs/"+id+"/readings", readAgo("charge_check", 5, map[string]any{"volts": 13.05, "amps": 2.5, "warmth": "cold"})).into(200, &s)
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
		clock.Moments[1].Word != "ready to test" || !clock.Moments[1].At.Equal(second.Ready) || clock.Moments[2].Word != "full" {
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
		list.Jobs[0].Hung.Sign != "ok" || list.Tally[0].Clock != 1 {
		t.Errorf("the floor: %+v", list)
	}
	// A shorted cell is named, and what to do about it said.
	c.call("POST", "/api/jobs/"+id+"/readings", readAgo("charge_check", 1, map[string]any{"volts": 11.0, "amps": 2.5, "warmth": "warm"})).into(200, &s)
	var third chargeOf
	c.call("GET", "/api/jobs/"+id+"/charge", nil).into(200, &third)
	if third.Follows.Code == "sound" || third.Follows.Do == "" {
		t.Errorf("%+v %v", third.Follows, third.Shares)
	}
	if third.Follows.Code == "shorted_cell" {
		c.call("GET", "/api/clock", nil).into(200, &clock)
		if len(clock.Moments) != 1 || clock.Moments[0].Word != "take it off" || !clock.Moments[0].Over {
			t.Errorf("it has to come off, and the clock says %+v", clock)
		}
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
