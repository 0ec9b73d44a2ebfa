package demo

import (
	"context"
	"fmt"
	"time"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
	"grapnel/internal/store"
)

// chargers of the shop, along its rail.
var chargers = []charge.Unit{
	{Name: "1", Where: "rail, by the door", Kind: charge.Smart, Amps: 4, Rates: []float64{1, 4}},
	{Name: "2", Where: "rail", Kind: charge.Smart, Amps: 10, Rates: []float64{2, 6, 10}},
	{Name: "3", Where: "rail", Kind: charge.Taper, Amps: 10, Volts: 17, VoltsLow: 14.8},
	{Name: "4", Where: "rail", Kind: charge.Smart, Amps: 10, Rates: []float64{2, 10}, Volts: 14.8, VoltsLow: 14.4},
	{Name: "5", Where: "store room", Kind: charge.Maintainer, Amps: 1, VoltsFloat: 13.4},
	{Name: "6", Where: "rail, by the window", Kind: charge.Manual, Amps: 6, Rates: []float64{1, 3, 6}, Volts: 17},
}

// onCharge is a battery that hangs on a charger this morning.
type onCharge struct {
	tag     string
	opened  int // minutes ago
	note    string
	from    float64 // what it rested at, volts
	stood   float64 // minutes since it was charged or driven, then
	c       float64 // of battery and shop
	charger int     // its place on the rail
	amps    float64 // what that is set to
	hung    int     // minutes ago
	looks   []int   // minutes ago
	// What it is really: its charge, its capacity and its hard sulphate. Those who look
	// read it off.
	soc, capacity, hard float64
	// or what was read instead.
	read []reading.Fields
}

var charging = []onCharge{
	{tag: "K-0123", opened: 230, note: "slow after the weekend", from: 12.12, stood: 3000, c: 4, charger: 2, amps: 10, hung: 190,
		looks: []int{157, 126, 93, 60, 5}, soc: 38, capacity: 88},
	{tag: "K-0143", opened: 260, note: "for the spring", from: 12.12, stood: 40000, c: 12, charger: 1, amps: 2, hung: 205,
		looks: []int{172, 130, 88, 47, 7}, soc: 38, capacity: 92},
	{tag: "K-0144", opened: 130, note: "will not hold", from: 10.42, stood: 9000, c: 12, charger: 3, amps: 2, hung: 75,
		looks: []int{42, 6}, read: []reading.Fields{{"volts": 10.7, "amps": 2.0, "warmth": charge.Cold}, {"volts": 10.8, "amps": 2.0, "warmth": charge.Warm}}},
	{tag: "K-0140", opened: 150, note: "forgotten in the shed", from: 9.3, stood: 260000, c: 9, charger: 5, amps: 1, hung: 95,
		looks: []int{60, 9}, read: []reading.Fields{{"volts": 16.3, "amps": 0.0, "warmth": charge.Cold}, {"volts": 16.4, "amps": 0.1, "warmth": charge.Cold}}},
	{tag: "K-0128", opened: 3 * 1440, note: "kept ready", from: 12.55, stood: 2000, c: 12, charger: 4, amps: 1, hung: 3*1440 - 60,
		looks: []int{2880, 1440, 12}, read: []reading.Fields{{"volts": 13.4, "amps": 0.2, "warmth": charge.Cold}, {"volts": 13.4, "amps": 0.1, "warmth": charge.Cold},
			{"volts": 13.4, "amps": 0.1, "warmth": charge.Cold}}},
}

// promises are when batteries are promised back, hours from now.
var promises = map[string]float64{"K-0142": 26, "K-0133": 30, "K-0123": 20, "K-0118": 10, "K-0107": 23}

// bank hangs the shop's chargers on their rail, and this morning's batteries on them.
func (f filler) bank(ctx context.Context, byTag map[string]unit) error {
	by := people[1].Name
	for _, u := range chargers {
		if err := f.s.AddCharger(ctx, f.ws, store.Actor{ID: id(by)}, store.Charger{ID: id("charger " + u.Name), Unit: u}); err != nil {
			return err
		}
	}
	for _, m := range charging {
		rs, err := f.looks(m, byTag[m.tag])
		if err != nil {
			return fmt.Errorf("%s on its charger: %w", m.tag, err)
		}
		j := f.job(byTag[m.tag])
		j.Note = m.note
		j.Conditions = reading.Conditions{AmbientC: num(max(m.c, 12)), BatteryC: num(m.c)}
		if _, err := f.add(ctx, f.promised(j), "morning "+m.tag, by, ago(f.now, m.opened), rs); err != nil {
			return err
		}
	}
	return nil
}

// looks gives what was read of a battery that hangs on a charger.
func (f filler) looks(m onCharge, u unit) ([]store.StoredReading, error) {
	unit := chargers[m.charger]
	set := unit.Set(u.chem, 6, m.amps)
	amps, volts := set.Held()
	hung := reading.Fields{"charger": unit.Name, "charger_kind": string(unit.Kind), "amps": amps, "place": rules.ChargeOnBench}
	if volts > 0 {
		hung["volts"] = volts
	}
	rs := []store.StoredReading{
		taking(rested(m.from, m.stood), ago(f.now, m.opened-8)),
		taking(looked("clean"), ago(f.now, m.opened-6)),
		taking(reading.Of(station.OnCharger, hung), ago(f.now, m.hung)),
	}
	read := m.read
	if read == nil {
		label := f.job(u).Battery.Rating.Label()
		made, _, err := battery.FromLabel(u.chem, 6, label)
		if err != nil {
			return nil, err
		}
		made = made.WornTo(2*m.capacity - 100).WithCapacity(m.capacity)
		s := charge.Setup{Battery: made, State: made.Rested(m.soc, m.c), Charger: set, Room: battery.Ambient{Start: max(m.c, 12)}, Ready: 75}.Hard(m.hard)
		really, err := s.Forecast(charge.Doubt{})
		if err != nil {
			return nil, err
		}
		for _, look := range m.looks {
			at := really.At(float64(m.hung - look))
			read = append(read, reading.Fields{"volts": round(at.Volts, 1), "amps": round(at.Amps, 1), "warmth": charge.Cold})
		}
	}
	for i, look := range m.looks {
		rs = append(rs, taking(reading.Of(station.ChargeCheck, read[i]), ago(f.now, look)))
	}
	return rs, nil
}

// promised adds to a job when it is promised back.
func (f filler) promised(j store.Job) store.Job {
	if hours, ok := promises[j.Battery.Tag]; ok {
		at := f.now.Add(time.Duration(hours * float64(time.Hour))).Truncate(30 * time.Minute)
		j.Promised, j.Source = &at, "morning "+j.Battery.Tag // a fill begun again promises another time
	}
	return j
}
