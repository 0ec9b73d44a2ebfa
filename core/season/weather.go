package season

import (
	"time"

	"grapnel/core/climate"
)

// weather is one day where a battery stands.
type weather struct {
	at    time.Time
	mean  float64 // of the day, °C
	low   float64 // of its coldest night, °C
	known bool    // somebody saw or forecast it
}

// dayMean is how far under its mean the night of a known day lies at most for its mean to be
// guessed from the night, °C. House judgement.
const dayMean = 5.0

// weatherOf gives every day from the first to the last.
func (r *Request) weatherOf() []weather {
	o := r.Place.climate()
	known := map[string]climate.Weather{}
	for _, d := range r.Place.Days {
		known[d.Date] = d
	}
	from, to := date(r.From), date(r.To)
	out := make([]weather, 0, int(to.Sub(from).Hours()/24)+1)
	for day := from; !day.After(to); day = day.AddDate(0, 0, 1) {
		noon := day.Add(12 * time.Hour)
		w := weather{at: day, mean: o.Mean.At(noon), low: o.Low.At(noon)}
		if len(known) > 0 {
			if d, ok := known[day.Format(time.DateOnly)]; ok {
				w.low, w.known = d.LowC, true
				w.mean = d.LowC + dayMean
				if d.MeanC != nil {
					w.mean = *d.MeanC
				}
			}
		}
		out = append(out, w)
	}
	return out
}
