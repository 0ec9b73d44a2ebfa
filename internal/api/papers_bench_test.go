package api

import (
	"io"
	"sync/atomic"
	"testing"

	"grapnel/internal/localdb/dbtest"
)

// A report from the request to the file: the sheet judged, drawn, tagged, with a picture on it.
func BenchmarkReport(b *testing.B) {
	quiet(b)
	shop := newBench(b, dbtest.Server(), nil)
	c := shop.as(b, "First technician")
	job := c.full(shop.as(b, "First lead"))
	for b.Loop() {
		if r := c.call("GET", "/api/jobs/"+job+"/report?zone=Europe/Vienna", nil); r.status != 200 {
			b.Fatal(r.status)
		}
	}
}

// One search through six thousand jobs: by a name, by a word of the ledger that ten have, and by
// one that all have.
func BenchmarkFind(b *testing.B) {
	shop := newAged(b, 6000)
	_, err := shop.store.DB().Exec(`REPLACE INTO found (workshop_id, job_id, text, touched_at, made_at)
		SELECT workshop_id, id, CONCAT(REPEAT('12.24 v rested 10 h at 21 c is 48 to 55 % charged. the contacts are in order. ', 18),
		IF(find LIKE '%hall%', 'a wedge from the drawer', 'nothing more')), touched_at, UTC_TIMESTAMP(6) FROM job`)
	must(b, err)
	for name, find := range map[string]string{"name": "hall", "rare": "wedge%20drawer", "common": "rested%20contacts", "none": "zebra"} {
		b.Run(name, func(b *testing.B) {
			shop.call("GET", "/api/jobs?find="+find, nil).into(200, nil) // what has come is read once
			b.ResetTimer()
			for range b.N {
				shop.call("GET", "/api/jobs?find="+find, nil).into(200, nil)
			}
		})
	}
}

// A backup of forty thousand readings while somebody works: how long it takes, and how many
// readings are saved meanwhile.
func BenchmarkBackup(b *testing.B) {
	shop := newAged(b, 5000) // of eight readings each
	var n int
	must(b, shop.store.DB().QueryRow(`SELECT COUNT(*) FROM reading`).Scan(&n))
	if n < 40_000 {
		b.Fatalf("%d readings", n)
	}
	var stop atomic.Bool
	var wrote atomic.Int64
	done := make(chan struct{})
	go func() {
		defer close(done)
		for i := 0; !stop.Load(); i++ {
			r := shop.call("POST", "/api/jobs/"+shop.open[i%30]+"/readings", restReading(newID(), 12.5))
			if r.status == 200 {
				wrote.Add(1)
			}
		}
	}()
	for b.Loop() {
		if _, err := shop.store.Backup(b.Context(), io.Discard); err != nil {
			b.Fatal(err)
		}
	}
	stop.Store(true)
	<-done
	b.ReportMetric(float64(wrote.Load())/b.Elapsed().Seconds(), "readings/s")
}
