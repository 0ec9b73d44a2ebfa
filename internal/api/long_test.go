package api

import (
	"fmt"
	"strings"
	"testing"

	"grapnel/core/reading"
	"grapnel/internal/localdb/dbtest"
	"grapnel/internal/store"
)

// long is a job with so many readings, put there without the way over HTTP.
func (b shop) long(t testing.TB, c caller, n int) (id string, last string) {
	t.Helper()
	id = c.opened()
	p, err := b.store.PersonNamed(t.Context(), "First technician")
	must(t, err)
	for i := range n {
		last = newID()
		must(t, b.store.AddReading(t.Context(), p.WorkshopID, store.StoredReading{JobID: id, ByID: p.ID,
			Entry: reading.Entry{
				ID:      last,
				Reading: reading.Of("rest_voltage", reading.Fields{"volts": 12 + 0.0005*float64(i)}),
			}}))
	}
	return id, last
}

// A job with more readings than anybody takes can be changed, taken out and brought back;
// it is full at a thousand, and says so, and corrections go on.
func TestLongJob(t *testing.T) {
	quiet(t)
	b := newBench(t, dbtest.Server(), nil)
	c := b.as(t, "First technician")
	id, last := b.long(t, c, store.MostReadings-1)
	change := mower("")
	delete(change, "id")
	change["version"], change["note"] = 1, "changed"
	c.call("PUT", "/api/jobs/"+id, change).into(200, nil)
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.6)).into(200, nil)
	var p problemAnswer
	r := c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.6))
	r.into(409, &p)
	if !strings.Contains(p.Detail, "1000 readings") || !strings.Contains(string(r.body), many) {
		t.Errorf("the next one: %s", r.body)
	}
	fix := restReading(newID(), 12.61)
	fix["replaces"] = last
	c.call("POST", "/api/jobs/"+id+"/readings", fix).into(200, nil)
	file := c.call("GET", "/api/jobs/"+id+"/case", nil)
	var s sheetOf
	c.call("POST", fmt.Sprintf("/api/cases?battery=same&id=%s", newID()), string(file.body)).into(200, &s)
	if len(s.InEffect) != store.MostReadings {
		t.Errorf("brought back with %d readings", len(s.InEffect))
	}
}

// A correction of a job of ten readings, and of one with hundreds of corrections.
func BenchmarkCorrection(b *testing.B) {
	for _, n := range []int{10, 765} {
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			quiet(b)
			shop := newBench(b, dbtest.Server(), nil)
			c := shop.as(b, "First technician")
			id, last := shop.long(b, c, 10)
			fix := func(i int) {
				r := restReading(newID(), 12.4+0.0001*float64(i%1000))
				r["replaces"] = last
				last = r["id"].(string)
				c.call("POST", "/api/jobs/"+id+"/readings", r).into(200, nil)
			}
			for i := range n - 10 {
				fix(i)
			}
			b.ResetTimer()
			for i := range b.N {
				fix(i)
			}
		})
	}
}
