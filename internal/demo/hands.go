package demo

import (
	"context"
	"fmt"
	"time"

	"grapnel/core/assess"
	"grapnel/core/battery"
	"grapnel/core/fit"
	"grapnel/core/guide"
	"grapnel/core/reading"
	"grapnel/internal/store"
)

// shelved is a battery on the shelf.
type shelved struct {
	tag                string
	chem               battery.Chemistry
	cca                float64
	standard           string
	ah                 float64
	group, vent        string
	made               int     // months ago
	volts              float64 // rested; 0 for not tested
	tested             int     // days ago
	positive, terminal string  // where no group says
	size               []float64
}

// What stands on the shelf this morning.
var shelf = []shelved{
	{"S-01", efb, 580, "EN", 65, "L2", "both", 3, 12.76, 2, "", "", nil},
	{"S-02", efb, 720, "EN", 75, "L3", "both", 2, 12.74, 5, "", "", nil},
	{"S-03", agm, 760, "EN", 70, "L2", "both", 6, 12.55, 12, "", "", nil},
	{"S-04", agm, 800, "EN", 80, "L3", "both", 9, 12.98, 20, "", "", nil},
	{"S-05", calcium, 540, "SAE", 60, "L2", "none", 4, 0, 0, "", "", nil},
	{"S-06", calcium, 850, "EN", 95, "L5", "both", 5, 12.78, 8, "", "", nil},
	{"S-07", flooded, 300, "SAE", 28, "U1", "none", 7, 12.66, 9, "", "", nil},
	{"S-08", flooded, 300, "SAE", 28, "U1R", "none", 11, 12.41, 30, "", "", nil},
	{"S-09", agm, 180, "SAE", 10, "", "none", 2, 12.92, 3, "left", "stud", []float64{150, 87, 105}},
	{"S-10", flooded, 420, "SAE", 70, "1", "none", 3, 6.33, 15, "", "", nil},
}

// stock puts the shelf up.
func (f filler) stock(ctx context.Context) error {
	var items []fit.Item
	for _, b := range shelf {
		cca, ah := b.cca, b.ah
		item := fit.Item{Tag: b.tag, Chemistry: b.chem, Group: b.group, Vent: b.vent,
			Made: f.now.AddDate(0, -b.made, 0).Format("2006-01"), Positive: b.positive,
			Terminals: b.terminal, SizeMM: b.size, Rating: reading.Rating{CCA: &cca, Ah20h: &ah}}
		item.Rating.Standard = "SAE"
		if b.standard == "EN" {
			item.Rating.Standard = "EN"
		}
		if b.volts > 0 {
			item.Tested = &fit.Tested{RestVolts: b.volts, On: f.now.AddDate(0, 0, -b.tested).Format(time.DateOnly)}
		}
		if b.volts > 0 && b.volts < 8 {
			item.Volts = 6
		}
		known, err := f.s.OnShelf(ctx, f.ws, b.tag)
		if err == nil && known.Item.Tag == b.tag {
			continue
		}
		items = append(items, item)
	}
	if len(items) == 0 {
		return nil
	}
	return f.s.AddStock(ctx, f.ws, store.Actor{ID: id(people[0].Name)}, items)
}

// cleaning has a corroded battery half way through its guide.
func (f filler) cleaning(ctx context.Context, u unit, until string) error {
	by := people[1].Name
	jobID := id("morning " + u.tag)
	run := store.GuideRun{ID: id("cleaning " + u.tag), JobID: jobID, What: guide.Cleaning,
		Site: guide.Site{Place: guide.AtFront, Positive: "right", On: []string{guide.Washers}}}
	if err := f.s.BeginGuide(ctx, f.ws, store.Actor{ID: id(by)}, run); err != nil {
		return err
	}
	done, err := f.s.GuideEvents(ctx, f.ws, jobID)
	if err != nil || len(done) > 0 {
		return err
	}
	j, err := f.s.Job(ctx, f.ws, jobID)
	if err != nil {
		return err
	}
	g := guide.Make(guide.Cleaning, assess.Scene(j.Case(nil), nil, run.Site, true, f.now))
	for i, step := range g.Steps {
		if step.Code == until {
			break
		}
		e := store.GuideEvent{ID: id(fmt.Sprintf("cleaning %s %d", u.tag, i)), JobID: jobID, RunID: run.ID, ByID: id(by),
			Event: guide.Event{Kind: guide.Ticked, Step: step.Code, Off: step.Off, Back: step.Back, At: ago(f.now, 40-3*i)}}
		if err := f.s.AddGuideEvent(ctx, f.ws, e, i, nil, false); err != nil {
			return err
		}
	}
	return nil
}
