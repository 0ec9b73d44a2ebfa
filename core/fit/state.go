package fit

import (
	"grapnel/core/battery"
	"grapnel/core/bench"
	"grapnel/core/rating"
	"grapnel/core/reading"
)

// What a battery on the shelf has to be, to be sold as new. House judgement, except where
// it says otherwise.
const (
	readySOC     = 90.0 // percent: less is charged before it is fitted
	stoodFlatSOC = 25.0 // percent: it has stood flat, and its plates may have taken harm
	asNewPct     = 90.0 // of the label, found by a tester on a full one: less is not as new
	testDays     = 60.0 // for which a test on the shelf speaks
	freshMonths  = 6    // since it was made; common practice, no source
	oldMonths    = 24   // from then on it is no longer sold as new
)

// state is what is known of a battery on the shelf.
type state struct {
	months    int // since it was made
	dated     bool
	ahead     bool // made after today: the code was misread
	tested    bool // and the test still speaks
	soc       float64
	foundPct  float64 // of its label, 0 where no tester was on it
	strongSOC bool    // full enough for the tester's figure to be believed
	sae       float64 // cold cranking amps of its label, SAE; 0 for none
	saeSpread float64
	plate     battery.Nameplate
	battery   battery.Battery
	known     bool // its label has a figure
}

// winterSOC is how full a battery in daily use stands on the coldest morning, percent. At
// 80 % it is neither after a long drive nor neglected. House judgement.
const winterSOC = 80.0

// believeSOC is from which charge a tester's figure is believed; common practice, no
// source: most testers take the charge out themselves, and badly when it is low.
const believeSOC = 60.0

// stateOf says what is known of an item.
func (r *Request) stateOf(s Item, labels bench.Labels) state {
	var st state
	if m, ok := rating.ParseMonth(s.Made); ok {
		st.dated, st.months = true, m.MonthsUntil(r.month())
		st.ahead = m.After(r.month())
	}
	cells := battery.Cells(s.Volts)
	if t := s.Tested; t != nil && t.RestVolts > 0 {
		days, dated := r.since(t.On)
		st.tested = !dated || days <= testDays && days >= 0
		at := 20.0
		if t.BatteryC != nil {
			at = *t.BatteryC
		}
		st.soc = battery.ChargeAtRest(s.Chemistry, cells, t.RestVolts, at)
	}
	label := s.Rating.Label()
	if sae, ok := label.ToSAE(); ok {
		st.sae, st.saeSpread = sae.Amps, sae.Spread
	}
	b, plate, err := labels(s.Chemistry, int(cells), label)
	if err != nil {
		return st
	}
	st.known, st.plate, st.battery = true, plate, b
	if t := s.Tested; t != nil && t.CCA > 0 && st.sae > 0 {
		if found, ok := (rating.Label{CCA: t.CCA, Standard: t.Standard}).ToSAE(); ok {
			st.foundPct = 100 * found.Amps / st.sae
		}
		st.strongSOC = t.RestVolts > 0 && st.soc >= believeSOC
	}
	return st
}

// winters remembers what batteries crank at −18 °C, as full as they stand in winter: a
// shelf holds many of one label.
type winters map[battery.Battery]float64

// of gives the amps as a band; false where the model finds none.
func (w winters) of(st state) (battery.Band, bool) {
	amps, known := w[st.battery]
	if !known {
		cold := rating.SAETest()
		var err error
		if amps, err = st.battery.CrankingAmps(winterSOC, cold.TempC, cold.Seconds,
			cold.EndVolts*float64(st.battery.Cells())/6); err != nil {
			amps = 0
		}
		w[st.battery] = amps
	}
	off := st.plate.CCA.Spread
	return battery.Band{Low: amps * (1 - off), Best: amps, High: amps * (1 + off)}, amps > 0
}

// charge reports whether it is charged before it is fitted, and test whether it is tested:
// nobody has, or long ago, or what was found does not let it be trusted.
func (st state) charge() bool { return !st.tested || st.soc < readySOC }

func (st state) test(s Item) bool {
	return !st.tested || s.DryCharge || st.soc < stoodFlatSOC || st.foundPct > 0 && !st.strongSOC
}

// Shelved is how a battery stands on the shelf.
type Shelved struct {
	SOC                    *float64 // percent, nil where nobody has read it lately
	Months                 *int     // since it was made, nil where nobody knows
	ChargeFirst, TestFirst bool
}

// Kept says how a battery stands on the shelf on a day, written as 2026-11-24.
func Kept(s Item, today string, labels bench.Labels) Shelved {
	r := Request{Today: today}
	s = s.fill()
	st := r.stateOf(s, labels)
	out := Shelved{ChargeFirst: st.charge(), TestFirst: st.test(s)}
	if st.tested {
		out.SOC = &st.soc
	}
	if st.dated && !st.ahead {
		out.Months = &st.months
	}
	return out
}

// Whole gives the battery with what its group size says of it.
func (s Item) Whole() Item { return s.fill() }

// smallAh is under what a battery with studs is of a motorcycle's size. House judgement.
const smallAh = 22.0

// Serves gives the vehicle that a battery on the shelf is tested as: of the class that its
// kind most often serves.
func (s Item) Serves() reading.Vehicle {
	v := reading.Vehicle{Class: "car", Name: "On the shelf", SystemVolts: s.fill().Volts, Earth: "negative",
		Arrangement: "single", Fuel: "petrol"}
	switch {
	case v.SystemVolts < 12:
		v.Class = "classic"
	case s.fill().Terminals == string(rating.Stud) && s.Rating.Ah20h != nil && *s.Rating.Ah20h < smallAh:
		v.Class = "motorcycle"
	case s.fill().Terminals == string(rating.Stud):
		v.Class = "mower"
	}
	return v
}
