package api

import (
	"context"
	"net/http"
	"sync"

	"grapnel/core/assess"
	"grapnel/core/charge"
	"grapnel/core/words"
	"grapnel/internal/store"
)

// charging is a charge as the sheet and the bank show it.
type charging struct {
	assess.OnCharge
	Now    curves  `json:"now" doc:"the forecast by all looks"`
	Before *curves `json:"before,omitempty" doc:"as it was before the last look"`
	Thumb  float64 `json:"rule_of_thumb_hours"`
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
	return curves{Ready: f.Ready, Full: f.Full, Delay: f.Delay, Says: f.Says, HotAt: f.HotAt, Ah: f.Ah, PeakC: f.PeakC, Points: f.Curve, Band: f.Band}
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

// charging gives the charge of a job's battery; false where it hangs on no charger, or
// nothing can be foretold of it.
func (s *server) charging(j store.Job, log []store.StoredReading) (charging, bool, error) {
	s.charges.mu.Lock()
	one, ok := s.charges.known[j.ID]
	s.charges.mu.Unlock()
	if ok && one.stamp == j.Stamp {
		return one.charging, one.known, nil
	}
	o, known, err := assess.OnCharger(s.caseOf(j, log), s.labels.find)
	if err != nil {
		return charging{}, false, err
	}
	one = charged{stamp: j.Stamp, known: known}
	if known {
		one.charging = charging{OnCharge: o, Now: viewCurves(o.Now), Thumb: o.Thumb}
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
		return nil, typed(http.StatusNotFound, notCharging, "It hangs on no charger, or its label has no figure to forecast from. Hang it on at the station Charge; enter its label at Arrive.")
	}
	words.Spoken(&out, voice(who(ctx)))
	return replied(out)
}
