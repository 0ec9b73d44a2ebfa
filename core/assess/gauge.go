package assess

import (
	"fmt"

	"grapnel/core/battery"
	"grapnel/core/reading"
)

// Gauge is one figure on a scale with the limits that matter: what the
// dipstick draws.
type Gauge struct {
	Quantity string        `json:"quantity" enum:"rest_volts,charge,load_volts,cranking"`
	Unit     string        `json:"unit"`
	Digits   int           `json:"digits" doc:"decimals the figure deserves"`
	Min      float64       `json:"min"`
	Max      float64       `json:"max"`
	Step     float64       `json:"step" doc:"between scale marks"`
	Band     *battery.Band `json:"band,omitempty" doc:"absent before a reading"`
	Level    Level         `json:"level" enum:"ok,note,act,stop"`
	Label    string        `json:"label"`
	Notches  []Notch       `json:"notches"`
}

// Notch is a limit on a gauge. Ghost notches belong to the school the house did
// not choose.
type Notch struct {
	At    float64 `json:"at"`
	Word  string  `json:"word"`
	Ghost bool    `json:"ghost"`
}

// Gauges gives the figures of a case for the dipsticks: rest volts, charge, volts
// under load and cranking strength, in that order, each also before it has been
// read.
func Gauges(c reading.Case) []Gauge { return tell(c, Celsius).gauges() }

func (s *story) gauges() []Gauge {
	return []Gauge{s.restGauge(), s.chargeGauge(), s.loadGauge(), s.strengthGauge()}
}

func (s *story) restGauge() Gauge {
	k := s.c.Volts() / 12
	temp, _ := s.c.TempC(nil)
	volts := func(soc float64) float64 {
		return battery.RestVolts(s.c.Battery.Chemistry, battery.Cells(s.c.Volts()), soc, temp)
	}
	g := Gauge{Quantity: "rest_volts", Unit: "V", Digits: 2, Min: 11.6 * k, Max: 13.2 * k, Step: 0.1 * k, Level: Note, Label: "not read yet"}
	least := s.c.Rules.LoadTestMinSOC
	g.Notches = append(g.Notches, Notch{At: volts(least), Word: fmt.Sprintf("test from %.2f", volts(least))})
	if other, ok := s.c.Rules.Other("load_test.min_soc"); ok {
		g.Notches = append(g.Notches, Notch{At: volts(other.Number), Word: other.Name, Ghost: true})
	}
	g.Notches = append(g.Notches, Notch{At: volts(100), Word: fmt.Sprintf("full %.2f", volts(100))})
	if s.rest != nil {
		v, u := s.rest.volts, s.rest.ErrorVolts
		g.Band = &battery.Band{Low: v - u - s.rest.SurfaceVolts, Best: v, High: v + u}
		g.Label = fmt.Sprintf("%.2f V", v)
		g.Level = s.restLevel()
	}
	return g
}

func (s *story) restLevel() Level {
	if s.rest.tooHigh || s.rest.Charge.Best < s.c.Rules.LoadTestMinSOC {
		return Act
	}
	return OK
}

func (s *story) chargeGauge() Gauge {
	least := s.c.Rules.LoadTestMinSOC
	g := Gauge{Quantity: "charge", Unit: "%", Min: 0, Max: 100, Step: 5, Level: Note, Label: "not known yet",
		Notches: []Notch{{At: least, Word: fmt.Sprintf("fair test from %.0f %%", least)}}}
	if other, ok := s.c.Rules.Other("load_test.min_soc"); ok {
		g.Notches = append(g.Notches, Notch{At: other.Number, Word: fmt.Sprintf("%s %.0f %%", other.Name, other.Number), Ghost: true})
	}
	if s.rest == nil {
		return g
	}
	if s.rest.tooHigh {
		g.Label, g.Level = "too high to be a rest voltage", Act
		return g
	}
	b := s.rest.Charge.Rounded()
	g.Band, g.Level = &b, s.restLevel()
	g.Label = fmt.Sprintf("%.0f %% charged, %.0f to %.0f", b.Best, b.Low, b.High)
	return g
}

func (s *story) loadGauge() Gauge {
	k := s.c.Volts() / 12
	temp, _ := s.c.TempC(nil)
	limit, _ := s.limit(s.c.Rules, temp)
	g := Gauge{Quantity: "load_volts", Unit: "V", Digits: 2, Min: 7 * k, Max: 12 * k, Step: 0.5 * k, Level: Note, Label: "not tested yet"}
	if s.load != nil {
		limit = s.load.limit
		v := s.load.volts
		e := battery.MeterError(v)
		g.Band = &battery.Band{Low: v - e, Best: v, High: v + e}
		g.Label = fmt.Sprintf("%.2f V at the end", v)
		_, g.Level, _ = s.load.conclusion()
	}
	g.Notches = append(g.Notches, Notch{At: limit, Word: fmt.Sprintf("holds from %.2f", limit)})
	if fresh, ok := s.newVolts(); ok {
		g.Notches = append(g.Notches, Notch{At: fresh, Word: fmt.Sprintf("new %.1f", fresh)})
	}
	if other, ok := s.c.Rules.Other("load_test.limit"); ok && (s.load == nil || s.load.r.Method == reading.HalfCCA) {
		theirs := s.c.Rules
		theirs.LoadTestLimit = other.Word
		if at, _ := s.limit(theirs, temp); at != limit {
			g.Notches = append(g.Notches, Notch{At: at, Word: other.Name, Ghost: true})
		}
	}
	return g
}
