// Package reading holds what a technician tells Grapnel about one battery: the
// vehicle, the label, the conditions, the complaint and the readings, in the
// words of the open format grapnel.case/1.
//
// Decode is the only way in for foreign data. It refuses what it does not know
// and what cannot physically be, and says where.
package reading

import (
	"time"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/rules"
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
}

// Vehicle is what the battery serves.
type Vehicle struct {
	Class       string  `json:"class" enum:"car,van,motorcycle,atv,mower,tractor,hybrid,electric,classic,boat,motorhome"`
	Name        string  `json:"name,omitempty" doc:"what the workshop calls it"`
	Fuel        string  `json:"fuel,omitempty" enum:"petrol,diesel,none"`
	SystemVolts float64 `json:"system_volts,omitempty" enum:"6,8,12,24" doc:"nominal volts of the vehicle; 12 when left out"`
	Earth       string  `json:"earth,omitempty" enum:"negative,positive" doc:"which post is bonded to the body; negative when left out"`
	StopStart   bool    `json:"stop_start,omitempty"`
	HighVoltage bool    `json:"high_voltage,omitempty"`
	MadeYear    int     `json:"made_year,omitempty"`
	Arrangement string  `json:"arrangement,omitempty" enum:"single,parallel,series"`
}

// Battery is the battery on the bench and its label.
type Battery struct {
	Tag       string            `json:"tag,omitempty" doc:"the shop's own tag"`
	Chemistry battery.Chemistry `json:"chemistry" enum:"flooded,flooded_sealed,efb,agm,gel,agm_deep_cycle"`
	Caps      string            `json:"caps,omitempty" enum:"removable,sealed"`
	Eye       bool              `json:"eye,omitempty"`
	Terminals string            `json:"terminals,omitempty" enum:"top,side,stud"`
	Rating    Rating            `json:"rating"`
	Made      string            `json:"made,omitempty" doc:"year and month, 2022-03"`
	Fitted    string            `json:"fitted,omitempty" doc:"year and month, 2022-06"`
}

// Rating is the label's figures; left out means not printed.
type Rating struct {
	CCA      *float64        `json:"cca,omitempty" doc:"cold cranking amps by the standard"`
	Standard rating.Standard `json:"standard,omitempty" enum:"SAE,EN,DIN,IEC,JIS" doc:"SAE when left out"`
	RCMin    *float64        `json:"rc_min,omitempty" doc:"reserve capacity, minutes"`
	Ah20h    *float64        `json:"ah_20h,omitempty" doc:"ampere-hours at the 20 h rate"`
	CA       *float64        `json:"ca,omitempty" doc:"cranking amps at 0 °C"`
	Typical  bool            `json:"typical,omitempty" doc:"true when these are typical of the class and nobody has read the label"`
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

// Conditions is the temperature around and in the battery.
type Conditions struct {
	AmbientC *float64 `json:"ambient_c,omitempty"`
	BatteryC *float64 `json:"battery_c,omitempty" doc:"of the acid, which lags the shop by hours"`
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

// Reading is one thing measured, seen or done. Kind says which of the other
// fields it carries; see Kinds.
type Reading struct {
	Kind       string     `json:"kind" enum:"inspection,lid_leakage,rest_voltage,hydrometer,eye,load_test,conductance,crank,cable_drop,charging,drain,jump_result,charged,cleaned"`
	At         *time.Time `json:"at,omitempty" doc:"when it was taken"`
	By         string     `json:"by,omitempty" doc:"who took it"`
	Instrument string     `json:"instrument,omitempty"`

	Found              []string              `json:"found,omitempty"`
	Volts              *float64              `json:"volts,omitempty"`
	MinutesSinceCharge *float64              `json:"minutes_since_charge,omitempty" doc:"since charging or driving"`
	SurfaceCharge      battery.SurfaceCharge `json:"surface_charge,omitempty" enum:"rested,headlights_2min,high_beam_5min,load_15s,none"`
	CellsSG            []float64             `json:"cells_sg,omitempty"`
	AcidC              *float64              `json:"acid_c,omitempty"`
	Level              string                `json:"level,omitempty"`
	Colour             string                `json:"colour,omitempty"`
	Method             string                `json:"method,omitempty"`
	Amps               *float64              `json:"amps,omitempty"`
	Seconds            *float64              `json:"seconds,omitempty"`
	VoltsEnd           *float64              `json:"volts_end,omitempty"`
	BatteryC           *float64              `json:"battery_c,omitempty"`
	CCA                *float64              `json:"cca,omitempty"`
	Standard           rating.Standard       `json:"standard,omitempty"`
	VoltsMin           *float64              `json:"volts_min,omitempty"`
	Turned             string                `json:"turned,omitempty"`
	Path               string                `json:"path,omitempty"`
	Speed              string                `json:"speed,omitempty"`
	Loads              string                `json:"loads,omitempty"`
	Milliamps          *float64              `json:"milliamps,omitempty"`
	MinutesAsleep      *float64              `json:"minutes_asleep,omitempty"`
	Started            *bool                 `json:"started,omitempty"`
	Hours              *float64              `json:"hours,omitempty"`
	AmpsEnd            *float64              `json:"amps_end,omitempty"`
	Ended              string                `json:"ended,omitempty"`
	What               []string              `json:"what,omitempty"`
}

// Kinds of reading.
const (
	Inspection  = "inspection"
	LidLeakage  = "lid_leakage"
	RestVoltage = "rest_voltage"
	Hydrometer  = "hydrometer"
	Eye         = "eye"
	LoadTest    = "load_test"
	Conductance = "conductance"
	Crank       = "crank"
	CableDrop   = "cable_drop"
	Charging    = "charging"
	Drain       = "drain"
	JumpResult  = "jump_result"
	Charged     = "charged"
	Cleaned     = "cleaned"
)

// Load test methods.
const (
	HalfCCA  = "half_cca"
	Fixed10s = "fixed_10s"
	Starter  = "starter"
)
