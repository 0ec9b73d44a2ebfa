package assess

import (
	"cmp"
	"math"
	"slices"
	"time"

	"grapnel/core/charge"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Bank is the chargers of a shop as they are taken, and the batteries that wait for one.
type Bank struct {
	Now      time.Time
	Chargers []BankCharger
	Waiting  []BankWaiting // in the order they came
	// Order is somebody's own order of what waits; nil for the one that is proposed.
	Order []Chosen
}

// BankCharger is a charger, and when it is free: zero for now, or once what hangs on it is
// full.
type BankCharger struct {
	Unit charge.Unit
	Free time.Time
	Held string // tag of what hangs on it
	// Never says that nobody knows when it is free: what hangs there is never full.
	Never bool
}

// BankWaiting is a battery that waits for a charger.
type BankWaiting struct {
	Key      string // tells it from the others: its job
	Tag      string
	Need     ForCharge
	From     time.Time // until then it rests or warms; zero for now
	Warming  bool
	Promised *time.Time
	After    float64 // minutes of work between its charge and its promise
	// Minutes is how long it hangs on each charger; see ForCharge.Minutes.
	Minutes []float64
}

// Chosen is a battery in somebody's own order, and the charger that was chosen for it.
type Chosen struct {
	Key     string
	Charger int // its place among the chargers, charge.Free for none
}

// BankRow is a battery that waits, with where and when it is to be hung.
type BankRow struct {
	Waiting  int        // its place among those that wait
	Charger  int        // its place among the chargers; charge.Free where none suits
	From, To time.Time  // when it is hung on, and full
	Late     float64    // minutes after its promise
	Takes    float64    // minutes on the charger
	Why      words.Text // why there and then
	Chosen   bool       // its charger was chosen by somebody
}

// BankOrder is what is hung where and when.
type BankOrder struct {
	Rows           []BankRow // in the order they are hung; those no charger suits last
	Promises, Kept int
	FirstCome      int // promises kept by a shop that hangs them as they came
	Best           int // promises kept by the order proposed
	BestLate, Late float64
	Own            bool // the order is somebody's own
}

// Planned gives what is hung where and when: the order proposed, or somebody's own, in
// which what has come since stands at its end.
func (b Bank) Planned() BankOrder {
	all := make([]charge.Waiting, len(b.Waiting))
	out := BankOrder{}
	minutes := func(t time.Time) float64 { return max(0, t.Sub(b.Now).Minutes()) }
	for i, w := range b.Waiting {
		all[i] = charge.Waiting{Due: math.Inf(1), After: w.After, Takes: slices.Clone(w.Minutes)}
		for p, c := range b.Chargers {
			if c.Never {
				all[i].Takes[p] = math.Inf(1)
			}
		}
		if !w.From.IsZero() {
			all[i].From = minutes(w.From)
		}
		if w.Promised != nil {
			all[i].Due = w.Promised.Sub(b.Now).Minutes()
			out.Promises++
		}
	}
	places := make([]charge.Place, len(b.Chargers))
	for i, c := range b.Chargers {
		if !c.Free.IsZero() {
			places[i].Free = minutes(c.Free)
		}
	}
	best := charge.Schedule(all, places)
	out.FirstCome, out.Best, out.BestLate = charge.FirstCome(all, places).Kept, best.Kept, best.Late
	plan := best
	order, chosen := b.own(best)
	if b.Order != nil {
		out.Own = true
		plan = charge.Ordered(all, places, order, chosen)
	}
	out.Kept, out.Late = plan.Kept, plan.Late
	at := func(m float64) time.Time { return b.Now.Add(span(m)) }
	for k, h := range plan.Hangs {
		row := BankRow{Waiting: h.Battery, Charger: h.Place, From: at(h.From), To: at(h.To), Late: h.Late, Takes: h.To - h.From, Chosen: chosen[h.Battery] != charge.Free}
		row.Why = b.why(all, places, plan, k, row.Chosen, out.Own)
		out.Rows = append(out.Rows, row)
	}
	if out.Own {
		// As somebody put them, not as they are hung.
		slices.SortStableFunc(out.Rows, func(x, y BankRow) int {
			return cmp.Compare(slices.Index(order, x.Waiting), slices.Index(order, y.Waiting))
		})
	}
	for _, i := range plan.Left {
		out.Rows = append(out.Rows, BankRow{Waiting: i, Charger: charge.Free, Why: words.Say(b.unfit(i))})
	}
	return out
}

// own gives somebody's order of what waits, in which what has come since follows as it is
// proposed, and of each battery the charger chosen for it.
func (b Bank) own(best charge.BankPlan) (order, chosen []int) {
	chosen = slices.Repeat([]int{charge.Free}, len(b.Waiting))
	for _, c := range b.Order {
		i := slices.IndexFunc(b.Waiting, func(w BankWaiting) bool { return w.Key == c.Key })
		if i < 0 || slices.Contains(order, i) {
			continue
		}
		order = append(order, i)
		if c.Charger >= 0 && c.Charger < len(b.Chargers) && !math.IsInf(b.Waiting[i].Minutes[c.Charger], 1) {
			chosen[i] = c.Charger
		}
	}
	for _, h := range best.Hangs {
		if !slices.Contains(order, h.Battery) {
			order = append(order, h.Battery)
		}
	}
	return order, chosen
}

// why says in a sentence why a battery is hung where it is.
func (b Bank) why(all []charge.Waiting, places []charge.Place, plan charge.BankPlan, k int, chosen, own bool) words.Text {
	h := plan.Hangs[k]
	w := all[h.Battery]
	suits := 0
	for _, m := range w.Takes {
		if !math.IsInf(m, 1) {
			suits++
		}
	}
	spare := w.Due - w.After - h.To
	switch {
	case h.Late > 0 && own:
		return words.Say(whyLateOwn, "late", measure.Minutes(math.Round(h.Late)))
	case h.Late > 0:
		return words.Say(whyLate, "late", measure.Minutes(math.Round(h.Late)))
	case chosen:
		return words.Say(whyChosen)
	case !math.IsInf(w.Due, 1):
		return words.Say(whyPromise, "spare", measure.Minutes(math.Floor(spare/5)*5))
	case w.From > places[h.Place].Free && b.Waiting[h.Battery].Warming:
		return words.Say(whyWarms)
	case w.From > places[h.Place].Free:
		return words.Say(whyRests)
	case suits == 1:
		return words.Say(whyOnly)
	case own:
		return words.Say(whyOwn)
	}
	return words.Say(whySoonest)
}

// unfit says why no charger suits a battery.
func (b Bank) unfit(i int) string {
	if len(b.Chargers) == 0 {
		return whyNone
	}
	small := true
	for p, c := range b.Chargers {
		if c.Never && !math.IsInf(b.Waiting[i].Minutes[p], 1) {
			return whyNever
		}
		s := b.Waiting[i].Need.Setup
		s.Charger = b.Waiting[i].Need.On(c.Unit)
		small = small && s.Unfit() == charge.UnfitSmall
	}
	if small {
		return whyAllSmall
	}
	return whyUnfit
}

const (
	whyPromise  = "Its promise is kept with {spare} to spare."
	whyLate     = "{late} late, at best."
	whyLateOwn  = "{late} late in this order."
	whyChosen   = "Put there by hand."
	whyWarms    = "Cold: it warms up first."
	whyRests    = "It rests first."
	whyOnly     = "The only charger that suits it."
	whyOwn      = "In your order."
	whySoonest  = "Nothing promised: full there soonest."
	whyNever    = "What would suit it is taken, and nobody knows for how long."
	whyNone     = "There is no charger yet."
	whyAllSmall = "Every charger here is too small for it."
	whyUnfit    = "No charger here suits its build and size."
)
