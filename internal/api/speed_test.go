package api

import (
	"fmt"
	"log/slog"
	"testing"

	"grapnel/internal/localdb/dbtest"
)

// quiet keeps the log of requests out of the figures.
func quiet(b testing.TB) {
	was := slog.Default()
	slog.SetDefault(slog.New(slog.DiscardHandler))
	b.Cleanup(func() { slog.SetDefault(was) })
}

// A reading on a job with ten of them, saved and answered with the whole sheet: verdict,
// ledger, suspects and the tests worth doing next.
func BenchmarkReadingAnswered(b *testing.B) {
	quiet(b)
	c := technician(b)
	id := c.opened()
	for i := range 5 {
		c.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.4+0.05*float64(i))).into(200, nil)
		c.call("POST", "/api/jobs/"+id+"/readings", loadReading(newID(), 9.7+0.1*float64(i))).into(200, nil)
	}
	last := newID()
	c.call("POST", "/api/jobs/"+id+"/readings", restReading(last, 12.6)).into(200, nil)
	b.ResetTimer()
	for i := range b.N {
		fix := restReading(newID(), 12.5+0.001*float64(i%100))
		fix["replaces"] = last
		last = fix["id"].(string)
		c.call("POST", "/api/jobs/"+id+"/readings", fix).into(200, nil)
	}
}

// The register of a shop and of one with ten times as many batteries, each job of which
// has been judged before.
func BenchmarkRegister(b *testing.B) {
	for _, n := range []int{30, 300} {
		b.Run(fmt.Sprint(n), func(b *testing.B) {
			quiet(b)
			shop := newBench(b, dbtest.Server(), nil)
			c, lead := shop.as(b, "First technician"), shop.as(b, "First lead")
			lead.call("PUT", "/api/climate", map[string]any{"lows": coldest}).into(200, nil)
			for i := range n {
				c.tested(fmt.Sprintf("K-%04d", i+1), "Parks", 9.2+0.004*float64(i%300))
			}
			c.call("GET", "/api/register", nil).into(200, nil)
			b.ResetTimer()
			for range b.N {
				c.call("GET", "/api/register", nil).into(200, nil)
			}
		})
	}
}
