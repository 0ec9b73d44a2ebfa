package api

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"grapnel/internal/localdb/dbtest"
)

// aged is a shop that has had so many jobs, thirty of them open: the same readings on
// each, so that nothing but their number tells shops apart.
type aged struct {
	shop
	caller
	open []string
}

func newAged(b testing.TB, jobs int) aged {
	b.Helper()
	quiet(b)
	out := aged{shop: newBench(b, dbtest.Server(), nil)}
	out.caller = out.as(b, "First technician")
	for i := range 30 {
		id := out.opened()
		for k := range 4 {
			out.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.2+0.01*float64(i)+0.1*float64(k))).
				into(200, nil)
			out.call("POST", "/api/jobs/"+id+"/readings", loadReading(newID(), 9.3+0.02*float64(i)+0.1*float64(k))).into(200, nil)
		}
		out.open = append(out.open, id)
	}
	tx := must2(out.store.DB().BeginTx(context.Background(), nil))
	run := func(query string, args ...any) {
		_, err := tx.Exec(query, args...)
		must(b, err)
	}
	// Ten of the closed ones, spread over all the years, are of one customer who is looked for.
	for i := 30; i < jobs; i++ {
		from, id, find := out.open[i%30], newID(), fmt.Sprintf("k-%04d mower 3 parks", i)
		if (i-30)%((jobs-30)/10) == 0 {
			find = "k-0000 mower 3 hall"
		}
		run(`INSERT INTO job (workshop_id, id, battery_id, vehicle, battery, customer, note, complaint, ambient_c, battery_c,
			rules, fingerprint, opened_at, opened_by, places, entries, touched_at, closed_at, closed_by, find)
			SELECT workshop_id, ?, battery_id, vehicle, battery, customer, note, complaint, ambient_c, battery_c,
			rules, fingerprint, opened_at - INTERVAL ? HOUR, opened_by, places, entries, touched_at - INTERVAL ? HOUR,
			opened_at - INTERVAL ? HOUR, opened_by, ? FROM job WHERE id = ?`, id, i, i, i, find, from)
		run(`INSERT INTO reading (workshop_id, id, job_id, place, seq, kind, body, taken_at, taken_by, saved_at, fingerprint)
			SELECT workshop_id, UUID(), ?, place, seq, kind, body, taken_at, taken_by, saved_at, fingerprint FROM reading WHERE job_id = ?`, id, from)
	}
	must(b, tx.Commit())
	_, err := out.store.DB().Exec("ANALYZE TABLE job, reading")
	must(b, err)
	// What came in is on its way to the disk, and every sheet was looked at before: the
	// day goes on.
	time.Sleep(2 * time.Second)
	for _, id := range out.open {
		out.call("GET", "/api/jobs/"+id, nil).into(200, nil)
	}
	return out
}

// A shop after weeks, after months and after years: none of what is done all day takes
// longer for what was done before.
func BenchmarkYears(b *testing.B) {
	for _, jobs := range []int{60, 600, 6000} {
		var shop aged
		once := sync.OnceFunc(func() { shop = newAged(b, jobs) })
		for _, one := range []struct {
			name string
			do   func(i int)
		}{
			{"sheet", func(i int) { shop.call("GET", "/api/jobs/"+shop.open[i%30], nil).into(200, nil) }},
			{"floor", func(int) { shop.call("GET", "/api/jobs", nil).into(200, nil) }},
			{"search", func(int) { shop.call("GET", "/api/jobs?closed=true&find=hall", nil).into(200, nil) }},
			{"clock", func(int) { shop.call("GET", "/api/clock", nil).into(200, nil) }},
			{"bank", func(int) { shop.call("GET", "/api/bank", nil).into(200, nil) }},
			{"choices", func(int) { shop.call("GET", "/api/choices", nil).into(200, nil) }},
			{"write", func(i int) {
				fix := restReading(newID(), 12.5+0.001*float64(i%100))
				shop.call("POST", "/api/jobs/"+shop.open[i%30]+"/readings", fix).into(200, nil)
			}},
			{"open", func(int) { shop.opened() }},
		} {
			b.Run(fmt.Sprintf("%s/%d", one.name, jobs), func(b *testing.B) {
				once()
				b.ResetTimer()
				for i := range b.N {
					one.do(i)
				}
			})
		}
	}
}

// The floor and the clock of a shop with two hundred jobs in hand, thirty of them resting.
func BenchmarkFloor200(b *testing.B) {
	shop := newAged(b, 30)
	for len(shop.open) < 200 {
		id := shop.opened()
		shop.call("POST", "/api/jobs/"+id+"/readings", restReading(newID(), 12.3)).into(200, nil)
		shop.open = append(shop.open, id)
	}
	for _, id := range shop.open[:30] {
		shop.call("POST", "/api/jobs/"+id+"/rests", map[string]any{"id": newID(), "minutes": 60}).into(200, nil)
	}
	for name, path := range map[string]string{"floor": "/api/jobs", "clock": "/api/clock"} {
		shop.call("GET", path, nil).into(200, nil)
		b.Run(name, func(b *testing.B) {
			for range b.N {
				shop.call("GET", path, nil).into(200, nil)
			}
		})
	}
}

// A sheet as it is served, its judgement known, beside the bare queries it stands on and
// the encoding of what it answers.
func BenchmarkSheetAlone(b *testing.B) {
	shop := newAged(b, 600)
	id := shop.open[0]
	p, err := shop.store.PersonNamed(context.Background(), "First technician")
	must(b, err)
	own := &server{Config: Config{Store: shop.store, Now: time.Now}, live: newLive(shop.store)}
	own.metrics = own.newMetrics(nil)
	sheet, err := own.sheet(context.WithValue(context.Background(), personKey{}, signed{Person: p}), id)
	must(b, err)
	b.Run("served", func(b *testing.B) {
		r := httptest.NewRequest("GET", "/api/jobs/"+id, nil)
		r.AddCookie(&http.Cookie{Name: "grapnel", Value: shop.token("grapnel")})
		for range b.N {
			w := httptest.NewRecorder()
			shop.Config.Handler.ServeHTTP(w, r)
			if w.Code != 200 {
				b.Fatal(w.Code)
			}
		}
	})
	b.Run("bare", func(b *testing.B) {
		var ws string
		must(b, shop.store.DB().QueryRow(`SELECT workshop_id FROM job WHERE id = ?`, id).Scan(&ws))
		read := func(query string, args ...any) {
			rows, err := shop.store.DB().Query(query, args...)
			must(b, err)
			names, err := rows.Columns()
			must(b, err)
			into := make([]any, len(names))
			for i := range into {
				into[i] = new(sql.RawBytes)
			}
			for rows.Next() {
				must(b, rows.Scan(into...))
			}
			must(b, errors.Join(rows.Err(), rows.Close()))
		}
		token := make([]byte, 32)
		for range b.N {
			read(
				`SELECT s.*, p.*, w.name FROM session s JOIN person p ON p.id = s.person_id JOIN workshop w ON w.id = p.workshop_id WHERE s.token = ?`,
				token,
			)
			read(
				`SELECT j.*, o.name FROM job j JOIN person o ON o.workshop_id = j.workshop_id AND o.id = j.opened_by WHERE j.workshop_id = ? AND j.id = ?`,
				ws,
				id,
			)
			read(
				`SELECT STRAIGHT_JOIN r.*, p.name FROM reading r FORCE INDEX (reading_log) JOIN person p ON p.workshop_id = r.workshop_id AND p.id = r.taken_by
				WHERE r.workshop_id = ? AND r.job_id = ? ORDER BY r.seq`,
				ws,
				id,
			)
			read(`SELECT * FROM rest WHERE workshop_id = ? AND job_id = ? AND ended_at IS NULL`, ws, id)
			must(b, json.NewEncoder(io.Discard).Encode(&sheet.Body))
		}
	})
}

// Fifty people open sheets one after the other.
func BenchmarkSheets(b *testing.B) {
	shop := newAged(b, 60)
	b.ResetTimer()
	var next atomic.Int64
	var done sync.WaitGroup
	for range 50 {
		c := shop.caller
		done.Go(func() {
			for i := next.Add(1); i <= int64(b.N); i = next.Add(1) {
				c.call("GET", "/api/jobs/"+shop.open[i%30], nil).into(200, nil)
			}
		})
	}
	done.Wait()
	b.ReportMetric(float64(b.N)/b.Elapsed().Seconds(), "sheets/s")
}
