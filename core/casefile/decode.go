// Package casefile reads, checks and describes grapnel.case/1 documents: the only
// way in for foreign data. It refuses what it does not know and what cannot
// physically be, and says where.
package casefile

import (
	"encoding/json"
	"fmt"
	"strconv"
	"strings"

	"grapnel/core/battery"
	"grapnel/core/document"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/station"
)

// Decode reads a grapnel.case/1 document. On anything wrong it gives a document.Problems
// error that lists all of it: broken JSON with line and column, unknown fields
// with their path, figures out of physical range with the range.
func Decode(data []byte) (reading.Case, error) {
	// A case that says nothing of the vehicle is about a 12 V car.
	c := reading.Case{Rules: rules.Default(), Vehicle: reading.Vehicle{Class: "car"}}
	if err := document.Decode(data, reading.CaseFormat, shape, &c); err != nil {
		return reading.Case{}, err
	}
	return c, Check(c)
}

// Check reports what is wrong with a case whose fields are each in range but do
// not fit together: volts that this battery cannot show, a battery of no known
// voltage. A nil error means it can be assessed.
func Check(c reading.Case) error {
	var p document.Problems
	v := c.Volts()
	if v != 6 && v != 8 && v != 12 {
		p = append(p, document.Problem{Path: "vehicle.system_volts", Message: fmt.Sprintf(
			"%g V with arrangement %q makes a battery of %g V; batteries of 6, 8 and 12 V are known. Two 12 V "+
				"batteries for 24 V are arrangement \"series\"",
			c.Vehicle.SystemVolts,
			c.Vehicle.Arrangement,
			v,
		)})
		return p
	}
	for i, r := range c.Readings {
		for _, one := range CheckReading(c, r) {
			one.Path = fmt.Sprintf("readings[%d].%s", i, one.Path)
			p = append(p, one)
		}
		if len(p) > document.Most {
			break
		}
	}
	if len(p) > 0 {
		return p.Few()
	}
	return nil
}

// Validate checks a case that was put together in the program the same way
// Decode checks a document: every field and range, then how they fit.
func Validate(c reading.Case) error {
	if c.Readings == nil {
		c.Readings = []reading.Reading{}
	}
	raw, err := json.Marshal(c)
	if err != nil {
		return document.Problems{{Path: "", Message: err.Error()}}
	}
	_, err = Decode(raw)
	return err
}

// mostVoltsPart is the most a battery can show across its posts, as a part of
// its nominal volts: 16.2 V on 12 V, a charger equalising.
const mostVoltsPart = 1.35

// mostChargingPart is the most an alternator gives whose regulator has failed: 20 V
// on 12 V.
const mostChargingPart = 20.0 / 12

// CheckReading reports what is wrong with one reading on this battery; paths
// are relative to the reading.
func CheckReading(c reading.Case, r reading.Reading) document.Problems {
	raw, err := json.Marshal(r)
	if err != nil {
		return []document.Problem{{Path: "", Message: err.Error()}}
	}
	tree, err := document.Parse(raw, reading.CaseFormat)
	if err != nil {
		return []document.Problem{{Path: "", Message: err.Error()}}
	}
	found := document.Check(tree, readingShape)
	k, _ := station.KindOf(r.Kind)
	for _, f := range k.Fields {
		v, ok := r.Number(f.Name)
		if !ok || !f.Posts || found.Has(f.Name) {
			continue
		}
		if m := wrongVolts(c, v, r.Kind); m != "" {
			found = append(found, document.Problem{Path: f.Name, Message: m})
		}
	}
	if n, cells := len(r.Numbers("cells_sg")), int(battery.Cells(c.Volts())); n > cells {
		found = append(found, document.Problem{Path: "cells_sg", Message: fmt.Sprintf(
			"%d figures for a battery of %d cells. Leave out what is no cell of it", n, cells)})
	}
	if driven := r.Or("trips", 0)*r.Or("minutes", 0) + r.Or("long_minutes", 0); r.Kind == station.Week && driven > weekMinutes {
		found = append(found, document.Problem{Path: "trips", Message: fmt.Sprintf(
			"%g trips of %g min and what is driven besides are %.0f h: a week has %d. Enter the trips of one week, and the minutes of one trip",
			r.Or("trips", 0),
			r.Or("minutes", 0),
			driven/60,
			weekMinutes/60,
		)})
	}
	return found
}

const weekMinutes = 7 * 24 * 60

// wrongVolts says what is wrong with volts across the posts; empty when nothing.
func wrongVolts(c reading.Case, v float64, kind string) string {
	most := mostVoltsPart * c.Volts()
	if kind == station.Charging {
		most = mostChargingPart * c.Volts()
	}
	switch {
	case v < 0:
		earthed := ""
		if c.Vehicle.Earth == "positive" {
			earthed = ", the earthed one on this vehicle"
		}
		return fmt.Sprintf(
			"%s V: the meter leads are swapped. Put the red probe on the + post%s, the black one on the − post, and "+
				"read again",
			minus(v),
			earthed,
		)
	case v > most && kind == station.Charging:
		return fmt.Sprintf(
			"%g V is outside 0 to %.1f V for a %g V battery. Check the meter's range and enter the volts again",
			v,
			most,
			c.Volts(),
		)
	case v > most:
		hint := ""
		if tenth := v / 10; tenth <= most && tenth > 0.8*c.Volts() {
			hint = fmt.Sprintf(" Did the meter show %.2f?", tenth)
		}
		return fmt.Sprintf(
			"%g V is outside 0 to %.1f V for a %g V battery.%s Check the decimal point and enter it again",
			v,
			most,
			c.Volts(),
			hint,
		)
	}
	return ""
}

func minus(v float64) string {
	return strings.Replace(strconv.FormatFloat(v, 'f', -1, 64), "-", "−", 1)
}
