package api

import (
	"context"
	"log/slog"
	"net/http"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"grapnel/core/assess"
	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// charging is a charge as the sheet and the bank show it.
type charging struct {
	assess.OnCharge
	Now    curves  `json:"now" doc:"the forecast by all looks"`
	Before *curves `json:"before,omitempty" doc:"as it was before the last look"`
	// Look is what a look now is expected to show.
	Look expected `json:"look"`
}

// foretold is what of a charge matters to the clock; nothing of none.
func (c *charging) foretold() assess.Foretold {
	if c == nil {
		return assess.Foretold{}
	}
	return c.OnCharge.Foretold()
}

type expected struct {
	Volts charge.Pick `json:"volts"`
	Amps  charge.Pick `json:"amps"`
	SOC   float64     `json:"soc_pct" doc:"its charge now, by the forecast"`
	Low   float64     `json:"soc_low_pct"`
	High  float64     `json:"soc_high_pct"`
}

// curves is one forecast.
type curves struct {
	Ready  *charge.Hours    `json:"ready,omitempty"`
	Full   *charge.Hours    `json:"full,omitempty"`
	Delay  charge.Hours     `json:"delay"`
	Says   *charge.Says     `json:"says,omitempty" doc:"the charger may call it full, before it is"`
	HotAt  *charge.Hours    `json:"hot,omitempty"`
	Ah     float64          `json:"ah"`
	PeakC  float64          `json:"peak_c"`
	Points []charge.Instant `json:"points"`
	Band   []charge.Range   `json:"band"`
}

func viewCurves(f charge.Forecast) curves {
	return curves{
		Ready:  f.Ready,
		Full:   f.Full,
		Delay:  f.Delay,
		Says:   f.Says,
		HotAt:  f.HotAt,
		Ah:     f.Ah,
		PeakC:  f.PeakC,
		Points: f.Curve,
		Band:   f.Band,
	}
}

// charges remembers forecasts, which depend on what was read alone: several devices look
// at one, and each costs some tens of milliseconds.
type charges struct {
	mu    sync.Mutex
	known map[string]charged
}

type charged struct {
	stamp store.Stamp
	known bool // something can be foretold
	charging
}

// mostCharges are remembered.
const mostCharges = 1000

// of gives what is remembered of the charge of a job as it stands.
func (c *charges) of(j store.Job) (charged, bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	one, ok := c.known[j.ID]
	return one, ok && one.stamp == j.Stamp
}

// patientFor is how long a list waits for forecasts that nobody has asked for yet; the
// others come when it is asked for again.
const patientFor = 400 * time.Millisecond

// chargings gives the charges of jobs that hang on chargers, as far as anything can be
// foretold of them; pending is how many there was no time for.
func (s *server) chargings(ctx context.Context, jobs []store.Job) (out map[string]*charging, pending int, err error) {
	out = map[string]*charging{}
	var missing []store.Job
	var ids []string
	for _, j := range jobs {
		if one, ok := s.charges.of(j); !ok {
			missing, ids = append(missing, j), append(ids, j.ID)
		} else if one.known {
			out[j.ID] = &one.charging
		}
	}
	if len(missing) == 0 {
		return out, 0, nil
	}
	logs, err := s.Store.Readings(ctx, who(ctx).WorkshopID, ids...)
	if err != nil {
		return nil, 0, answer(err)
	}
	until := time.Now().Add(patientFor)
	for i, j := range missing {
		if ctx.Err() != nil {
			return nil, 0, answer(ctx.Err())
		}
		if time.Now().After(until) {
			return out, len(missing) - i, nil
		}
		one, known, err := s.charging(j, logs[j.ID])
		if err != nil {
			// One battery that no forecast can be made of must not hide the others.
			slog.WarnContext(ctx, "no forecast of a charge", "job", j.ID, "error", err)
			continue
		}
		if known {
			out[j.ID] = &one
		}
	}
	return out, 0, nil
}

// charging gives the charge of a job's battery; false where it hangs on no charger, or
// nothing can be foretold of it.
func (s *server) charging(j store.Job, log []store.StoredReading) (charging, bool, error) {
	before, ok := s.charges.of(j)
	if ok {
		return before.charging, before.known, nil
	}
	var last *assess.OnCharge
	if before.known {
		last = &before.OnCharge
	}
	o, known, err := assess.OnCharger(s.caseOf(j, log), s.labels.find, last)
	if err != nil {
		return charging{}, false, err
	}
	one := charged{stamp: j.Stamp, known: known}
	if known {
		one.charging = charging{OnCharge: o, Now: viewCurves(o.Now)}
		if o.Before != nil {
			before := viewCurves(*o.Before)
			one.Before = &before
		}
	}
	s.charges.mu.Lock()
	defer s.charges.mu.Unlock()
	if s.charges.known == nil || len(s.charges.known) >= mostCharges {
		s.charges.known = map[string]charged{}
	}
	s.charges.known[j.ID] = one
	return one.charging, known, nil
}

func (s *server) getCharge(ctx context.Context, in *OfJob) (*output[charging], error) {
	j, log, err := s.job(ctx, string(in.ID))
	if err != nil {
		return nil, err
	}
	out, known, err := s.charging(j, log)
	if err != nil {
		return nil, answer(err)
	}
	if !known || j.ClosedAt != nil {
		return nil, typed(
			http.StatusNotFound,
			notCharging,
			"It hangs on no charger, or its label has no figure to forecast from. Hang it on at the station Charge; enter its label at Arrive.",
		)
	}
	out.Look = s.expects(out)
	words.Spoken(&out, voice(who(ctx)))
	return replied(out)
}

// expects gives what a look at a charge now is expected to show.
func (s *server) expects(c charging) expected {
	minute := s.Now().Sub(c.Since).Minutes()
	var out expected
	out.Volts, out.Amps = c.OnCharge.Now.Picks(minute)
	out.SOC = c.OnCharge.Now.At(minute).SOCPct
	out.Low, out.High = c.OnCharge.Now.SOCAt(minute)
	return out
}

type planInput struct {
	OfJob
	Charger   ID          `query:"charger" required:"false" doc:"one of the shop's; or say its kind and amps"`
	Kind      charge.Kind `query:"kind" enum:"smart,taper,manual,maintainer,trickle"`
	Amps      float64     `query:"amps" minimum:"0" maximum:"500" doc:"left out of one of the shop's: by the house's rate"`
	Volts     float64     `query:"volts" minimum:"0" maximum:"40"`
	Rate      string      `query:"rate" enum:"label,tenth,fast" doc:"at what it is charged; the house's when left out"`
	InVehicle bool        `query:"in_vehicle"`
	OnBody    bool        `query:"on_body" doc:"the maker wants the earthed clamp on bare metal"`
}

// plannedCharge is what a charge would do, with what else could be chosen.
type plannedCharge struct {
	charge.Plan
	Amps  float64      `json:"amps" doc:"what the charger is set to"`
	Volts float64      `json:"volts,omitempty" doc:"what it is held to; left out for that of its build"`
	Rates []chargeRate `json:"rates" doc:"at which it can be charged, and the amps that makes"`
	House string       `json:"house_rate"`
}

type chargeRate struct {
	Code string  `json:"code"`
	Word string  `json:"word"`
	Amps float64 `json:"amps"`
}

func (s *server) planCharge(ctx context.Context, in *planInput) (*output[plannedCharge], error) {
	j, log, err := s.job(ctx, string(in.ID))
	if err != nil {
		return nil, err
	}
	u := charge.Unit{Kind: in.Kind, Amps: in.Amps, Volts: in.Volts}
	if in.Charger != "" {
		c, err := s.Store.Charger(ctx, who(ctx).WorkshopID, string(in.Charger))
		if err != nil {
			return nil, answer(err)
		}
		u = c.Unit
	} else if in.Kind == "" || in.Amps <= 0 {
		return nil, huma.Error422UnprocessableEntity("Name one of the shop's chargers, or say its kind and amps.")
	}
	out, known, err := s.planned(ctx, j, log, u, in.Amps, in.Rate, assess.Hang{InVehicle: in.InVehicle, OnBody: in.OnBody})
	if err == nil && !known {
		err = huma.Error422UnprocessableEntity(
			"Its label has no figure to forecast from. Enter its amps or ampere-hours at Arrive.",
		)
	}
	if err != nil {
		return nil, answer(err)
	}
	return replied(out)
}

// planned is the plan of a job's battery on a charger, set to amps, or where they are 0 to
// what a rate makes of it.
func (s *server) planned(
	ctx context.Context, j store.Job, log []store.StoredReading, u charge.Unit, amps float64, rate string, h assess.Hang,
) (plannedCharge, bool, error) {
	c := s.caseOf(j, log)
	rates, house := assess.ChargeRates(c, s.labels.find)
	if rate == "" {
		rate = house
	}
	if amps <= 0 {
		amps = u.At(rates[rate])
	}
	h.Charger = u.Set(j.Battery.Chemistry, int(battery.Cells(c.Volts())), amps)
	plan, known, err := assess.PlanCharge(c, s.labels.find, h, voice(who(ctx)))
	out := plannedCharge{Plan: plan, House: house, Rates: []chargeRate{}}
	out.Amps, out.Volts = h.Charger.Held()
	for _, t := range charge.Rates().Terms() {
		if rates[t.Code] > 0 {
			out.Rates = append(out.Rates, chargeRate{t.Code, t.Word, rates[t.Code]})
		}
	}
	return out, known, err
}
