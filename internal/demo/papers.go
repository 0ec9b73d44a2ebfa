package demo

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"time"

	"golang.org/x/image/draw"
	"golang.org/x/image/font"
	"golang.org/x/image/font/basicfont"
	"golang.org/x/image/math/fixed"

	"grapnel/core/cost"
	"grapnel/core/reading"
	"grapnel/core/station"
	"grapnel/internal/photo"
	"grapnel/internal/store"
)

// prices of the demo workshop, invented.
var prices = cost.Prices{Currency: "€", TaxPct: 20, Included: true, Cents: map[string]int{cost.Test: 1800, cost.Charge: 2200, cost.Clean: 2600,
	cost.Cable: 6400, cost.Battery: 12900, cost.Fitting: 2800, cost.Core: 1200}}

func proof(complaint string) reading.Reading {
	r := reading.Of(station.Proven, reading.Fields{"restart": station.AtOnce, "warning_lights": "none"})
	if complaint != "" {
		r = r.With("complaint", complaint)
	}
	return r
}

// papers gives jobs what hangs on them beside their readings: a price list, an estimate that
// was accepted, notes, a picture of a label; a job that went well, and one that came back.
func (f filler) papers(ctx context.Context, byTag map[string]unit, lead string) error {
	if err := f.s.SetPrices(ctx, f.ws, store.Actor{ID: id(lead)}, prices, 1); err != nil {
		return err
	}
	engine := id("morning K-0102")
	if err := f.estimate(ctx, engine, people[0].Name, "Anselm, ski club", ago(f.now, 220), cost.Test, cost.Charge, cost.Clean); err != nil {
		return err
	}
	for i, text := range []string{"Keys at the counter. He wants it back before the lift opens on Saturday.",
		"Hold-down was missing its wedge: one from the drawer put in."} {
		if err := f.s.AddNote(ctx, f.ws, store.Note{ID: id(fmt.Sprint("note ", i)), JobID: engine, Text: text, Shown: i == 1, ByID: id(people[i].Name), At: ago(f.now, 240-180*i)}); err != nil {
			return err
		}
	}
	made, err := photo.Make(ctx, labelPicture("FLOODED  12 V", "720 CCA   88 Ah", "K-0102"))
	if err != nil {
		return err
	}
	if err := f.s.AddPhoto(ctx, f.ws, store.Photo{ID: id("photo label"), JobID: engine, What: "label", Caption: "Label, cleaned", Shown: true,
		Width: made.Width, Height: made.Height, ByID: id(people[0].Name)}, store.Image{JPEG: made.JPEG, Small: made.Small, Source: []byte("label")}); err != nil {
		return err
	}
	if err := f.wentWell(ctx, byTag["K-0120"]); err != nil {
		return err
	}
	return f.cameBack(ctx, byTag["K-0132"])
}

func (f filler) estimate(ctx context.Context, job, by, name string, at time.Time, codes ...string) error {
	e := cost.Estimate{Currency: prices.Currency, TaxPct: prices.TaxPct, Included: prices.Included}
	for _, c := range codes {
		e.Lines = append(e.Lines, cost.EstimateLine{Code: c, Text: cost.Items().Word(c), Count: 1, Cents: prices.Cents[c]})
	}
	one := store.Estimate{ID: id("estimate " + job), JobID: job, Doc: e, ByID: id(by), MadeAt: at}
	if err := f.s.AddEstimate(ctx, f.ws, one); err != nil {
		return err
	}
	return f.s.AnswerEstimate(ctx, f.ws, job, one.ID, store.Answer{ID: id("answer " + job), Accepted: true, Name: name, ByID: id(by), At: at.Add(9 * time.Minute)})
}

// earlier is a job of some days ago that was handed over.
func (f filler) earlier(ctx context.Context, u unit, days int, note string, complaint []string, rs ...reading.Reading) (string, error) {
	opened := f.now.AddDate(0, 0, -days).Add(-7 * time.Hour)
	j := f.job(u)
	j.Note, j.Complaint = note, complaint
	j.Conditions = reading.Conditions{AmbientC: num(15), BatteryC: num(15)}
	stored := make([]store.StoredReading, len(rs))
	for i, r := range rs {
		stored[i] = taking(r, opened.Add(time.Duration(10+40*i)*time.Minute))
	}
	job, err := f.add(ctx, j, fmt.Sprintf("%s %d days ago", u.tag, days), people[1].Name, opened, stored)
	if err != nil {
		return "", err
	}
	return job, f.s.CloseJob(ctx, f.ws, store.Actor{ID: id(people[0].Name)}, job, store.Closing{At: opened.Add(7 * time.Hour)})
}

// wentWell is a job with everything from arrival to papers.
func (f filler) wentWell(ctx context.Context, u unit) error {
	job, err := f.earlier(ctx, u, 1, "lights left on in the loading bay", []string{"lights_left_on", "dead_silent"},
		looked("corrosion_earth"), cleaned("posts", "clamps"), rested(11.95, 800), full(4.5, 0.8), rested(12.78, 120), loaded(360, 10.5, 15),
		running(14.3, "raised", "off"), drawn(24, 50), proof(station.Gone),
		reading.Of(station.Handover, reading.Fields{"reset_done": []string{"clock"}, "reset_left": []string{"radio_code", "windows"},
			"next_check": f.now.AddDate(0, 10, 0).Format(time.DateOnly)}))
	if err != nil {
		return err
	}
	return f.estimate(ctx, job, people[1].Name, "Berta, valley post", f.now.AddDate(0, 0, -1).Add(-5*time.Hour), cost.Test, cost.Charge, cost.Clean)
}

// cameBack is what was done about a car that is in hand again.
func (f filler) cameBack(ctx context.Context, u unit) error {
	_, err := f.earlier(ctx, u, 14, "would not start after the weekend", []string{"after_standing"},
		rested(12.02, 900), full(3.5, 0.8), rested(12.84, 180), loaded(405, 10.6, 15), proof(station.NotTried),
		reading.Of(station.Handover, reading.Fields{"next_check": f.now.AddDate(0, 0, -7).Format(time.DateOnly)}))
	return err
}

// labelPicture is a picture of an invented label.
func labelPicture(lines ...string) []byte {
	small := image.NewRGBA(image.Rect(0, 0, 150, 90))
	draw.Draw(small, small.Bounds(), image.NewUniform(color.RGBA{52, 60, 64, 255}), image.Point{}, draw.Src)
	draw.Draw(small, image.Rect(8, 8, 142, 82), image.NewUniform(color.RGBA{232, 226, 208, 255}), image.Point{}, draw.Src)
	for i, text := range lines {
		d := font.Drawer{Dst: small, Src: image.NewUniform(color.RGBA{30, 34, 38, 255}), Face: basicfont.Face7x13, Dot: fixed.P(18, 28+20*i)}
		d.DrawString(text)
	}
	large := image.NewRGBA(image.Rect(0, 0, 1200, 720))
	draw.CatmullRom.Scale(large, large.Bounds(), small, small.Bounds(), draw.Src, nil)
	var out bytes.Buffer
	if err := jpeg.Encode(&out, large, nil); err != nil {
		panic(err) // it is drawn here
	}
	return out.Bytes()
}
