// Package simulation runs a battery through a profile of currents, voltages and
// loads: the open document grapnel.simulation/1, and the series that comes out.
package simulation

import (
	"errors"
	"fmt"
	"math"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/document"
	"grapnel/core/reading"
)

// Format is the value of a simulation's "format" field.
const Format = "grapnel.simulation/1"

// Simulation is a battery, the state it starts in and what is done to it.
type Simulation struct {
	Format  string  `json:"format"`
	Battery Battery `json:"battery"`
	Start   Start   `json:"start"`
	Profile []Step  `json:"profile"`
}

// Battery is a label, an age and faults.
type Battery struct {
	Chemistry   battery.Chemistry `json:"chemistry"`
	Volts       float64           `json:"volts"` // nominal; 12 when left out
	Rating      reading.Rating    `json:"rating"`
	HealthPct   float64           `json:"health_pct"`   // cranking left; 100 when left out
	CapacityPct float64           `json:"capacity_pct"` // capacity left; 100 when left out
	Faults      []Fault           `json:"faults,omitempty"`
}

// Fault is one thing wrong with the battery.
type Fault struct {
	Kind        string  `json:"kind"` // shorted_cell, dry_cell, weak_cell, wet_lid, bad_strap
	Ohms        float64 `json:"ohms,omitempty"`
	WetPct      float64 `json:"wet_pct,omitempty"`
	CapacityPct float64 `json:"capacity_pct,omitempty"`
	Milliamps   float64 `json:"milliamps,omitempty"`
}

// Start is the state the battery has rested in.
type Start struct {
	SOCPct      float64 `json:"soc_pct"`   // 100 when left out
	BatteryC    float64 `json:"battery_c"` // 20 when left out
	SulphatePct float64 `json:"sulphate_pct"`
}

// Step is one stretch of the profile. Amps alone is a current, charge positive.
// Volts is what a charger never lifts the posts above, or a load never pulls them
// under. Ohms alone is a resistor across the posts; beside volts, what stands
// between. Neither is rest.
type Step struct {
	Name         string   `json:"name,omitempty"`
	Amps         *float64 `json:"amps,omitempty"`
	Volts        *float64 `json:"volts,omitempty"`
	Ohms         *float64 `json:"ohms,omitempty"`
	Seconds      float64  `json:"seconds"`
	AmbientC     *float64 `json:"ambient_c,omitempty"`
	VoltsBelow   *float64 `json:"until_volts_below,omitempty"`
	VoltsAbove   *float64 `json:"until_volts_above,omitempty"`
	AmpsBelow    *float64 `json:"until_amps_below,omitempty"` // whatever its direction
	SOCBelow     *float64 `json:"until_soc_below,omitempty"`
	SOCAbove     *float64 `json:"until_soc_above,omitempty"`
	EverySeconds float64  `json:"every_seconds,omitempty"` // between rows; every step of the model when left out
}

var (
	amps  = document.Number(-5000, 5000, "A")
	volts = document.Number(-50, 100, "V")
	part  = document.Number(0, 100, "%")
	temp  = reading.TempShape()
)

// shape is every field of the document with its range.
var shape = document.Object([]string{"format", "battery", "profile"}, map[string]document.Shape{
	"format": document.Words(Format),
	"battery": document.Object([]string{"chemistry", "rating"}, map[string]document.Shape{
		"chemistry": reading.ChemistryShape(), "volts": {Kind: "number", Words: []string{"6", "8", "12"},
			Unit: "V"}, "rating": reading.RatingShape(),
		"health_pct": document.Number(5, 120, "%"), "capacity_pct": document.Number(5, 120, "%"),
		"faults": document.List(
			0,
			5,
			document.Shape{Kind: "variant", By: "kind", What: "fault", Variants: map[string]document.Shape{
				"shorted_cell": document.Object(
					[]string{"ohms"},
					map[string]document.Shape{"ohms": document.Number(0.0005, 1000, "Ω")},
				),
				"dry_cell": document.Object(
					[]string{"wet_pct"},
					map[string]document.Shape{"wet_pct": document.Number(2, 100, "%")},
				),
				"weak_cell": document.Object(
					[]string{"capacity_pct"},
					map[string]document.Shape{"capacity_pct": document.Number(2, 100, "%")},
				),
				"wet_lid": document.Object(
					[]string{"milliamps"},
					map[string]document.Shape{"milliamps": document.Number(0, 1000, "mA")},
				),
				"bad_strap": document.Object(
					[]string{"ohms"},
					map[string]document.Shape{"ohms": document.Number(0, 10, "Ω")},
				),
			}},
		)}),
	"start": document.Object(nil, map[string]document.Shape{"soc_pct": part, "battery_c": temp, "sulphate_pct": part}),
	"profile": document.List(1, 1000, document.Object([]string{"seconds"}, map[string]document.Shape{
		"name": document.Text(80), "amps": amps, "volts": volts, "ohms": document.Number(0, 1e6, "Ω"),
		"seconds": document.Number(0, 3.2e8, "s"), "ambient_c": temp, "every_seconds": document.Number(0, 3.2e8, "s"),
		"until_volts_below": volts, "until_volts_above": volts, "until_amps_below": document.Number(0, 5000,
			"A"), "until_soc_below": part, "until_soc_above": part})),
})

// Schema gives the JSON Schema of the document.
func Schema() map[string]any { return document.Schema(Format, shape) }

// Decode reads a document; see document.Decode for what its error lists.
func Decode(data []byte) (Simulation, error) {
	s := Simulation{
		Battery: Battery{Volts: 12, HealthPct: 100, CapacityPct: 100},
		Start:   Start{SOCPct: 100, BatteryC: 20},
	}
	if err := document.Decode(data, Format, shape, &s); err != nil {
		return Simulation{}, err
	}
	var wrong document.Problems
	for i, p := range s.Profile {
		at := fmt.Sprintf("profile[%d]", i)
		if p.Volts != nil && p.Amps == nil {
			wrong = append(
				wrong,
				document.Problem{
					Path:    at + ".amps",
					Message: "is needed beside volts: the most the charger gives (above 0) or the load draws (below 0)",
				},
			)
		}
		if p.Amps != nil && *p.Amps > 0 && p.Volts == nil {
			wrong = append(
				wrong,
				document.Problem{
					Path:    at + ".volts",
					Message: "is needed for a charger: the volts it never goes above",
				},
			)
		}
		if p.Ohms != nil && p.Amps == nil && *p.Ohms == 0 {
			wrong = append(
				wrong,
				document.Problem{
					Path:    at + ".ohms",
					Message: "0 Ω across the posts is a dead short; use 0.001 or more",
				},
			)
		}
	}
	if len(wrong) > 0 {
		return Simulation{}, wrong.Few()
	}
	return s, nil
}

// source is what a step puts at the posts.
func (p Step) source() battery.Source {
	var s battery.Source
	if p.Ohms != nil {
		s.Ohms = *p.Ohms
	}
	switch {
	case p.Amps == nil && p.Ohms != nil:
		s.Amps = math.Inf(-1)
	case p.Amps != nil:
		s.Amps = *p.Amps
	}
	if p.Volts != nil {
		s.Volts = *p.Volts
	}
	return s
}

// events are the ends a step has but for its time, gone seconds into it; begun
// tells that a charge has flowed, so that the end of it counts.
func (p Step) events(gone float64, begun bool) []battery.Event {
	var ends []battery.Event
	add := func(name string, limit *float64, f func(s battery.Sample, limit float64) float64) {
		if limit != nil {
			ends = append(ends, battery.Event{Name: name, When: func(s battery.Sample) float64 { return f(s, *limit) }})
		}
	}
	add("volts_below", p.VoltsBelow, func(s battery.Sample, x float64) float64 { return s.Volts - x })
	add("volts_above", p.VoltsAbove, func(s battery.Sample, x float64) float64 { return x - s.Volts })
	add("amps_below", p.AmpsBelow, func(s battery.Sample, x float64) float64 { return math.Abs(s.Amps) - x })
	if p.AmpsBelow != nil && !begun {
		ends[len(ends)-1].Arm = func(s battery.Sample) float64 {
			s.Seconds += gone
			return p.begun(s)
		}
	}
	add("soc_below", p.SOCBelow, func(s battery.Sample, x float64) float64 { return s.SOC - x })
	add("soc_above", p.SOCAbove, func(s battery.Sample, x float64) float64 { return x - s.SOC })
	return ends
}

// begun falls to zero once a small current is the end of a charge; a load's always is.
func (p Step) begun(s battery.Sample) float64 {
	if p.Amps == nil || *p.Amps <= 0 {
		return 0
	}
	return charge.Begun(s, *p.AmpsBelow)
}

// battery makes the battery with its age and its faults.
func (s Simulation) battery() (battery.Battery, error) {
	b, _, err := battery.FromLabel(s.Battery.Chemistry, int(battery.Cells(s.Battery.Volts)), s.Battery.Rating.Label())
	if err != nil {
		return b, document.Problems{{Path: "battery.rating", Message: err.Error()}}
	}
	if b, err = b.Worn(s.Battery.HealthPct); err != nil {
		return b, err
	}
	b = b.WithCapacity(s.Battery.CapacityPct)
	for _, f := range s.Battery.Faults {
		switch f.Kind {
		case "shorted_cell":
			b = b.WithCell(battery.Shorted(f.Ohms))
		case "dry_cell":
			b = b.WithCell(battery.Dry(f.WetPct / 100))
		case "weak_cell":
			b = b.WithCell(battery.Weak(f.CapacityPct))
		case "wet_lid":
			b = b.Leaking(f.Milliamps)
		case "bad_strap":
			b.StrapOhms = f.Ohms
		}
	}
	return b, nil
}

// Row is one line of the series that comes out.
type Row struct {
	Step    int // from 1
	Name    string
	Seconds float64 // since the profile began
	battery.Sample
}

// Run runs the whole profile and gives each row as it comes. An error of row ends
// it; one of the model says in which step.
func (s Simulation) Run(row func(Row) error) error {
	b, err := s.battery()
	if err != nil {
		return err
	}
	state := b.Rested(s.Start.SOCPct, s.Start.BatteryC)
	for i := range b.Kinds {
		state.Cells[i].Sulphate = s.Start.SulphatePct / 100
	}
	began := 0.0
	for i, p := range s.Profile {
		around := battery.Ambient{Start: s.Start.BatteryC}
		if p.AmbientC != nil {
			around.Start = *p.AmbientC
		}
		var failed error
		lastAt := math.Inf(-1)
		show := func(x battery.Sample) error {
			if x.Seconds <= lastAt && x.Event == "" {
				return nil
			}
			failed = row(Row{i + 1, p.Name, began + x.Seconds, x})
			lastAt = x.Seconds
			return failed
		}
		last, err := p.run(b, state, around, show)
		if failed != nil {
			return failed
		}
		if err != nil && !errors.Is(err, battery.ErrBoils) {
			return document.Problems{{Path: fmt.Sprintf("profile[%d]", i), Message: err.Error()}}
		}
		if last.Seconds > lastAt {
			if err := show(last); err != nil {
				return err
			}
		}
		if err != nil {
			return fmt.Errorf("profile[%d]: %w: a real charger must be stopped long before", i, err)
		}
		state, began = last.State, began+last.Seconds
	}
	return nil
}

// run carries one step on, in pieces of every_seconds where rows are asked for
// at fixed times: the model's own steps do not stop there.
func (p Step) run(
	b battery.Battery,
	s battery.State,
	around battery.Ambient,
	show func(battery.Sample) error,
) (battery.Sample, error) {
	d := battery.Duty{Source: p.source(), Ambient: around, Seconds: p.Seconds}
	if p.EverySeconds <= 0 {
		d.Events, d.Visit = p.events(0, false), show
		return b.Run(s, d)
	}
	now, err := b.Run(s, battery.Duty{Source: d.Source, Ambient: around})
	if err == nil {
		err = show(now)
	}
	gone, begun := 0.0, false
	for err == nil {
		d.Seconds = min(p.EverySeconds, p.Seconds-gone)
		d.Events = p.events(gone, begun)
		now, err = b.Run(s, d)
		gone += now.Seconds
		now.Seconds = gone
		if err != nil || gone >= p.Seconds || now.Event != "" {
			break
		}
		begun = begun || p.AmpsBelow != nil && p.begun(now) <= 0
		err = show(now)
		s = now.State
	}
	return now, err
}
