package demo

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"time"

	"github.com/google/uuid"

	"grapnel/core/battery"
	"grapnel/core/climate"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/register"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/internal/passphrase"
	"grapnel/internal/store"
)

// upland is the coldest nights of the valley, by month, °C.
var upland = climate.Months{-14, -12, -8, -3, 1, 4, 6, 6, 2, -3, -8, -12}

// space makes the demo's ids the same at every fill, so that a fill cut short
// can be done again.
var space = uuid.MustParse("6e4d2c4e-0a52-5b7e-9d1f-2f6a4a1f0c11")

func id(name string) string { return uuid.NewSHA1(space, []byte(name)).String() }

// Fill puts the demo workshop into a database unless it is there already. It may
// be repeated, also after it was cut short.
func Fill(ctx context.Context, s *store.Store, now time.Time) error {
	now = now.UTC().Truncate(time.Minute)
	f := filler{s: s, ws: id("workshop"), now: now}
	if ws, err := s.Workshop(ctx, f.ws); err == nil && ws.RulesVersion > 1 {
		return nil // the lead's change of the house rules comes last
	} else if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	first := rules.Default()
	first.WeakPolicy, first.DrainMax = rules.WeakWatch, 30
	if err := s.AddWorkshop(ctx, store.Workshop{ID: f.ws, Name: Name, TagPrefix: "K", Rules: first}); err != nil {
		return err
	}
	technicians := people[:len(people)-1]
	for _, p := range technicians {
		if err := f.person(ctx, p); err != nil {
			return err
		}
	}
	byTag := map[string]unit{}
	for i, u := range units {
		byTag[u.tag] = u
		if err := f.history(ctx, u, uint64(i)); err != nil {
			return err
		}
	}
	for i, m := range mornings {
		if err := f.morning(ctx, byTag[m.tag], m, technicians[i%len(technicians)].Name); err != nil {
			return err
		}
	}
	if err := f.stock(ctx); err != nil {
		return err
	}
	if err := f.cleaning(ctx, byTag["K-0114"], "soda"); err != nil {
		return err
	}
	if err := f.bank(ctx, byTag); err != nil {
		return err
	}
	for tag, twin := range map[string]string{"K-0098": "K-0099", "K-0090": "K-0091"} {
		if err := s.SetTwin(ctx, f.ws, store.Actor{ID: id(technicians[0].Name)}, tag, twin); err != nil {
			return err
		}
	}
	lead := people[len(people)-1]
	if err := f.person(ctx, lead); err != nil {
		return err
	}
	if err := s.SetClimate(ctx, f.ws, store.Actor{ID: id(lead.Name)}, upland, &uplandMean); err != nil {
		return err
	}
	if err := f.stands(ctx, lead.Name); err != nil {
		return err
	}
	if err := f.papers(ctx, byTag, lead.Name); err != nil {
		return err
	}
	return s.SetRules(ctx, f.ws, id(lead.Name), rules.Default(), 1)
}

type filler struct {
	s   *store.Store
	ws  string
	now time.Time
}

func (f filler) person(ctx context.Context, p SignIn) error {
	err := f.s.AddPerson(
		ctx,
		store.Actor{},
		store.Person{
			ID:         id(p.Name),
			WorkshopID: f.ws,
			Name:       p.Name,
			Role:       p.Role,
			Passphrase: passphrase.Hash(p.Passphrase),
		},
	)
	if errors.Is(err, store.ErrTaken) {
		return nil
	}
	return err
}

func (f filler) job(u unit) store.Job {
	volts := u.volts
	if volts == 0 {
		volts = 12
	}
	cca, ah := u.cca, u.ah
	return store.Job{
		Vehicle: reading.Vehicle{
			Class:       u.class,
			Name:        u.vehicle,
			Fuel:        u.fuel,
			SystemVolts: volts,
			Earth:       u.earth,
			Arrangement: u.arrangement,
			HighVoltage: reading.Vehicle{Class: u.class}.Electric(),
			StopStart:   u.chem == efb,
		},
		Battery: reading.Battery{
			Tag:       u.tag,
			Chemistry: u.chem,
			Caps:      u.chem.Caps(),
			Rating:    reading.Rating{CCA: &cca, Standard: u.standard, Ah20h: &ah},
			Made:      f.now.AddDate(0, -u.made, 0).Format("2006-01"),
		},
		Customer: u.customer, Rules: rules.Default(),
	}
}

func (f filler) add(
	ctx context.Context,
	j store.Job,
	name, by string,
	opened time.Time,
	rs []store.StoredReading,
) (string, error) {
	j.ID, j.OpenedByID, j.OpenedAt = id(name), id(by), opened
	for i := range rs {
		rs[i].ID, rs[i].ByID = id(fmt.Sprintf("%s reading %d", name, i)), id(by)
	}
	err := f.s.AddJob(ctx, f.ws, j, rs)
	return j.ID, err
}

func (f filler) morning(ctx context.Context, u unit, m morning, by string) error {
	j := f.job(u)
	j.Note, j.Complaint = m.note, m.complaint
	j.Conditions = reading.Conditions{AmbientC: num(m.ambientC), BatteryC: num(m.batteryC)}
	var rs []store.StoredReading
	for _, t := range m.readings {
		rs = append(rs, taking(t.r, ago(f.now, t.ago)))
	}
	jobID, err := f.add(ctx, f.promised(j), "morning "+m.tag, by, ago(f.now, m.opened), rs)
	if err != nil || m.rest[1] == 0 {
		return err
	}
	start := ago(f.now, m.rest[0])
	return f.s.AddRest(
		ctx,
		f.ws,
		store.Rest{
			ID:       id("rest " + m.tag),
			JobID:    jobID,
			Kind:     m.stay,
			ByID:     id(by),
			StartsAt: start,
			EndsAt:   start.Add(time.Duration(m.rest[1]) * time.Minute),
		},
	)
}

// history gives a battery its jobs of the past two years: a check or a charge
// every few months, a little weaker each time.
func (f filler) history(ctx context.Context, u unit, seed uint64) error {
	rng := rand.New(rand.NewPCG(seed, 1950))
	j := f.job(u)
	part := j.Case(nil).Volts() / 12
	load, err := rating.TestLoad(j.Battery.Rating.Label())
	if err != nil {
		return err
	}
	visit := 0
	for months := min(24, u.made-1); months > 0; months -= 4 + rng.IntN(5) {
		visit++
		opened := f.now.AddDate(0, -months, -rng.IntN(20)).Add(-time.Duration(rng.IntN(300)) * time.Minute)
		temp := 4 + 16*rng.Float64()
		j.Conditions = reading.Conditions{AmbientC: num(round(temp, 1)), BatteryC: num(round(temp, 1))}
		soc := 55 + 40*rng.Float64()
		rest := battery.RestVolts(u.chem, part*6, soc, temp)
		age := float64(u.made - months)
		end := (10.5 - 0.012*age + 0.2*(rng.Float64()-0.5) - 0.012*max(0, 20-temp)) * part
		at := func(minutes int) time.Time { return opened.Add(time.Duration(minutes) * time.Minute) }
		rs := []store.StoredReading{taking(rested(round(rest, 2), 600), at(10))}
		if soc < 75 {
			top := battery.RestVolts(u.chem, part*6, 97, temp)
			rs = append(rs, taking(full(round(3+5*rng.Float64(), 1), 0.5), at(420)),
				taking(rested(round(top, 2), 90), at(510)))
		}
		rs = append(rs, taking(loaded(load.Amps, round(end, 2), round(temp, 1)), at(520)))
		if visit == 1 && seed%4 == 0 {
			rs[len(rs)-1].Reading.Instrument = "Pile 1"
			rs = append(rs, clipped(j, rs, at(525))...)
		}
		name := fmt.Sprintf("%s visit %d", u.tag, visit)
		jobID, err := f.add(ctx, j, name, people[visit%2].Name, opened, rs)
		if err != nil {
			return err
		}
		if err := f.s.CloseJob(ctx, f.ws, store.Actor{ID: id(people[0].Name)}, jobID, store.Closing{At: at(540)}); err != nil {
			return err
		}
	}
	return nil
}

// clipped is the same battery read with a second tester, which reads a tenth too high.
func clipped(j store.Job, rs []store.StoredReading, at time.Time) []store.StoredReading {
	c := j.Case(nil)
	for _, r := range rs {
		taken := r.At
		r.Reading.At = &taken
		c.Readings = append(c.Readings, r.Reading)
	}
	seen := register.See(register.Visit{Opened: at, Case: c}, battery.FromLabel)
	if seen.Test == nil {
		return nil
	}
	r := reading.Of(station.Conductance, reading.Fields{"cca": round(1.1*seen.Test.CCA.Best, 0), "standard": "SAE"})
	r.Instrument = "Clip tester 2"
	return []store.StoredReading{taking(r, at)}
}

func round(v float64, digits int) float64 {
	p := 1.0
	for range digits {
		p *= 10
	}
	return float64(int(v*p+0.5*sign(v))) / p
}

func sign(v float64) float64 {
	if v < 0 {
		return -1
	}
	return 1
}

func taking(r reading.Reading, at time.Time) store.StoredReading {
	return store.StoredReading{Entry: reading.Entry{Reading: r}, At: at}
}
