// Package reading holds what a technician tells Grapnel about one battery: the
// vehicle, the label, the conditions, the complaint and the readings, in the
// words of the open format grapnel.case/1.
//
// What a kind of reading may carry is described by its station (package station);
// package casefile is the only way in for foreign data.
package reading

import (
	"cmp"
	"encoding/json"
	"time"

	"grapnel/core/battery"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// CaseFormat is the value of a case's "format" field.
const CaseFormat = "grapnel.case/1"

// Case is one battery's story so far.
type Case struct {
	Format     string      `json:"format"`
	Vehicle    Vehicle     `json:"vehicle"`
	Battery    Battery     `json:"battery"`
	Conditions Conditions  `json:"conditions"`
	Complaint  []string    `json:"complaint,omitempty"`
	Readings   []Reading   `json:"readings"`
	Rules      rules.Rules `json:"rules"`
	AsOf       *time.Time  `json:"as_of,omitempty"` // when it is judged; at its last reading when left out
}

// Vehicle is what the battery serves.
type Vehicle struct {
	Class       string  `json:"class"`
	Name        string  `json:"name,omitempty"` // what the workshop calls it
	Fuel        string  `json:"fuel,omitempty"`
	SystemVolts float64 `json:"system_volts,omitempty"` // nominal volts of the vehicle; 12 when left out
	Earth       string  `json:"earth,omitempty"`        // which post is bonded to the body; negative when left out
	StopStart   bool    `json:"stop_start,omitempty"`
	HighVoltage bool    `json:"high_voltage,omitempty"`
	MadeYear    int     `json:"made_year,omitempty"`
	Arrangement string  `json:"arrangement,omitempty"`
}

// Battery is the battery on the bench and its label.
type Battery struct {
	Tag       string            `json:"tag,omitempty"` // the shop's own tag
	Chemistry battery.Chemistry `json:"chemistry"`
	Caps      string            `json:"caps,omitempty"`
	Eye       bool              `json:"eye,omitempty"`
	Terminals string            `json:"terminals,omitempty"`
	Rating    Rating            `json:"rating"`
	Made      string            `json:"made,omitempty"`   // year and month, 2022-03
	Fitted    string            `json:"fitted,omitempty"` // year and month, 2022-06
}

// Rating is the label's figures; left out means not printed.
type Rating struct {
	CCA      *float64        `json:"cca,omitempty"`      // cold cranking amps by the standard
	Standard rating.Standard `json:"standard,omitempty"` // SAE when left out
	RCMin    *float64        `json:"rc_min,omitempty"`   // reserve capacity, minutes
	Ah20h    *float64        `json:"ah_20h,omitempty"`   // ampere-hours at the 20 h rate
	CA       *float64        `json:"ca,omitempty"`       // cranking amps at 0 °C
	// amps it may be charged with, where they are printed
	ChargeAmps *float64 `json:"charge_amps,omitempty"`
	// true when these are typical of the class and nobody has read the label
	Typical bool `json:"typical,omitempty"`
}

// Label is what a battery is by its label, the figures that are printed on it, made for a
// battery of so many volts: build, cranking amps and capacity first.
func (b Battery) Label(volts float64) []words.Text {
	out := []words.Text{words.Say(words.Capital(battery.ChemistryWords().Said(string(b.Chemistry))))}
	printed := func(v *float64, template string, pairs ...any) {
		if v != nil {
			out = append(out, words.Say(template, append(pairs, "it", measure.Plain(*v, measure.Exact))...))
		}
	}
	printed(b.Rating.CCA, "{it} CCA {standard}", "standard", string(cmp.Or(b.Rating.Standard, rating.SAE)))
	printed(b.Rating.CA, "{it} CA")
	printed(b.Rating.Ah20h, "{it} Ah")
	printed(b.Rating.RCMin, "{it} min reserve")
	if volts != 12 {
		printed(&volts, "{it} V")
	}
	if b.Rating.Typical {
		out = append(out, words.Say("typical, label not read"))
	}
	if b.Made != "" {
		made := b.Made
		if at, err := time.Parse("2006-01", made); err == nil {
			made = at.Format("January 2006")
		}
		out = append(out, words.Say("made {when}", "when", made))
	}
	return out
}

// Label gives the figures as package rating takes them, zero for not printed.
func (r Rating) Label() rating.Label {
	or := func(p *float64) float64 {
		if p == nil {
			return 0
		}
		return *p
	}
	return rating.Label{CCA: or(r.CCA), Standard: r.Standard, RCMin: or(r.RCMin), Ah20h: or(r.Ah20h), CA: or(r.CA)}
}

// UnmarshalJSON reads a vehicle as the open format has it, its name as it is kept.
func (v *Vehicle) UnmarshalJSON(data []byte) error {
	type written Vehicle // what is left out stays as it was
	if err := json.Unmarshal(data, (*written)(v)); err != nil {
		return err
	}
	v.Name = words.Clean(v.Name)
	return nil
}

// UnmarshalJSON reads a battery as the open format has it, its tag as it is kept.
func (b *Battery) UnmarshalJSON(data []byte) error {
	type written Battery
	if err := json.Unmarshal(data, (*written)(b)); err != nil {
		return err
	}
	b.Tag = words.Clean(b.Tag)
	return nil
}

// Conditions is the temperature around and in the battery.
type Conditions struct {
	AmbientC *float64 `json:"ambient_c,omitempty"`
	BatteryC *float64 `json:"battery_c,omitempty"` // of the acid, which lags the shop by hours
}

// Volts gives the nominal volts of the one battery the case is about: the
// system's, or half of it where two stand in series.
func (c Case) Volts() float64 {
	v := c.Vehicle.SystemVolts
	if v == 0 {
		v = 12
	}
	if c.Vehicle.Arrangement == "series" {
		return v / 2
	}
	return v
}

// Opens reports whether the caps come off, so that acid can be drawn and water filled.
func (b Battery) Opens() bool {
	caps := b.Caps
	if caps == "" {
		caps = b.Chemistry.Caps()
	}
	return caps == "removable"
}

// Electric reports whether the vehicle has a high-voltage system, so that only
// the 12 V battery is ours.
func (v Vehicle) Electric() bool {
	return v.HighVoltage || v.Class == "hybrid" || v.Class == "electric"
}

// SameLabel reports whether two labels are of one battery as far as a label can
// say.
func (b Battery) SameLabel(other Battery) bool {
	return b.Chemistry == other.Chemistry && b.Rating.Label() == other.Rating.Label() && b.Made == other.Made
}

// assumedC is the temperature of a battery nobody has measured.
const assumedC = 20.0

// TempC gives the battery's temperature for a reading that may carry its own,
// and whether it had to be assumed. The shop's temperature stands in for the
// battery's before anything is made up.
func (c Case) TempC(own *float64) (tempC float64, assumed bool) {
	switch {
	case own != nil:
		return *own, false
	case c.Conditions.BatteryC != nil:
		return *c.Conditions.BatteryC, false
	case c.Conditions.AmbientC != nil:
		return *c.Conditions.AmbientC, true
	}
	return assumedC, true
}
