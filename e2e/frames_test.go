package e2e

import (
	"context"
	"fmt"
	"log/slog"
	"testing"
	"time"

	"github.com/chromedp/chromedp"

	"grapnel/core/battery"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/internal/stage"
	"grapnel/internal/store"
)

// hundred puts a hundred batteries in hand of a workshop of their own, of which thirty
// charge, ten rest and ten wait for parts.
func hundred(t testing.TB, ws store.Workshop, by store.Person) {
	t.Helper()
	ctx, s, now := context.Background(), theatre.Store, time.Now().UTC()
	cca, ah, warm := 300.0, 28.0, 18.0
	taken := func(minutes int, r reading.Reading) store.StoredReading {
		at := now.Add(-time.Duration(minutes) * time.Minute)
		return store.StoredReading{Entry: reading.Entry{ID: newID(), Reading: r}, At: at, ByID: by.ID}
	}
	for i := range 100 {
		j := store.Job{ID: newID(), Vehicle: reading.Vehicle{Class: "mower", Name: fmt.Sprintf("Mower %d", i), SystemVolts: 12},
			Battery: reading.Battery{
				Tag:       fmt.Sprintf("K-%04d", 2000+i),
				Chemistry: battery.Flooded,
				Rating:    reading.Rating{CCA: &cca, Ah20h: &ah, Standard: "SAE"},
			},
			Rules: rules.Default(), OpenedByID: by.ID, OpenedAt: now.Add(-time.Duration(200+i) * time.Minute), Conditions: reading.Conditions{AmbientC: &warm, BatteryC: &warm}}
		rs := []store.StoredReading{
			taken(
				190,
				reading.Of(
					station.RestVoltage,
					reading.Fields{
						"volts":                12.0 + 0.004*float64(i),
						"minutes_since_charge": 900.0,
						"surface_charge":       string(battery.Rested),
					},
				),
			),
			taken(188, reading.Of(station.Inspection, reading.Fields{"found": []string{"clean"}})),
		}
		if i < 30 {
			rs = append(
				rs,
				taken(
					100+i,
					reading.Of(
						station.OnCharger,
						reading.Fields{"charger": fmt.Sprint(i + 1), "charger_kind": "smart", "amps": 2.0},
					),
				),
				taken(20+i/3, reading.Of(station.ChargeCheck, reading.Fields{"volts": 13.2, "amps": 2.0, "warmth": "cold"})),
			)
		}
		must(t, s.AddJob(ctx, ws.ID, j, rs))
		if i >= 80 {
			kind, minutes := "rest", 90
			if i >= 90 {
				kind, minutes = "parts", 600
			}
			must(
				t,
				s.AddRest(
					ctx,
					ws.ID,
					store.Rest{ID: newID(), JobID: j.ID, Kind: kind, ByID: by.ID, StartsAt: now.Add(-40 * time.Minute),
						EndsAt: now.Add(time.Duration(minutes-40) * time.Minute)},
				),
			)
		}
	}
}

// scrolled scrolls a page up and down for three seconds, and gives how long each frame
// took, ms.
const scrolled = `
	const frames = [];
	const end = performance.now() + 3000;
	const most = document.documentElement.scrollHeight - innerHeight;
	let last = await new Promise(requestAnimationFrame), down = 1;
	while (performance.now() < end) {
		scrollBy(0, 40 * down);
		if (scrollY >= most - 1) down = -1;
		if (scrollY <= 0) down = 1;
		const now = await new Promise(requestAnimationFrame);
		frames.push(now - last);
		last = now;
	}
	frames.sort((a, b) => a - b);
	return { Frames: frames.length, Half: frames[frames.length >> 1], Most: frames[Math.floor(frames.length * 0.99)] };`

// A floor with a hundred batteries, thirty of them charging, is drawn and scrolled.
func BenchmarkFloorFrames(b *testing.B) {
	slog.SetLogLoggerLevel(slog.LevelError)
	ws := store.Workshop{ID: newID(), Name: "W " + newID(), TagPrefix: "K", Rules: rules.Default()}
	must(b, theatre.Store.AddWorkshop(context.Background(), ws))
	me := newPerson(b, ws.ID, "", "C")
	hundred(b, ws, me)
	for name, screen := range map[string]stage.Screen{"desktop": stage.Desktop, "phone": stage.Phone} {
		b.Run(name, func(b *testing.B) {
			var got struct{ Frames, Half, Most float64 }
			for range b.N {
				t := open(b, screen)
				t.signInWith(me.Name, phrase)
				t.do(
					stage.Until(`document.querySelectorAll("main ul li").length === 100`, nil),
					chromedp.Sleep(5*time.Second),
					fetched(scrolled, &got),
				)
			}
			b.ReportMetric(got.Frames/3, "frames/s")
			b.ReportMetric(got.Most, "frame-ms")
		})
	}
}
