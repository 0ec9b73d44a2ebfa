package battery

import (
	"math"

	"grapnel/core/rating"
)

// Outlook is what a technician would ask of one battery as it stands.
type Outlook struct {
	RestVolts       float64  `json:"rest_volts"`
	SG              *float64 `json:"specific_gravity,omitempty"` // only of acid that can be drawn
	FreezesC        float64  `json:"freezes_c"`
	Frozen          bool     `json:"frozen"`
	Milliohms       float64  `json:"milliohms"`
	CCANow          float64  `json:"cca_of_condition"`   // rated as it is, but full
	CrankNow        float64  `json:"cranking_amps_now"`  // 30 s to 1.2 V a cell, at this charge and temperature
	HalfCCAAmps     float64  `json:"half_cca_amps"`      // half the label's CCA
	HalfCCAVolts    float64  `json:"half_cca_end_volts"` // after 15 s; 0 when it cannot give those amps
	LimitVolts      float64  `json:"half_cca_limit_volts"`
	Ah              float64  `json:"ah_to_empty"` // at the 20 h rate, from this charge
	SelfPctMonth    float64  `json:"self_discharge_pct_month"`
	DrainMilliamps  float64  `json:"drain_milliamps"`
	DaysToHalf      *float64 `json:"days_to_50,omitempty"`       // absent when already below, or not in two years
	DaysToNoStart   *float64 `json:"days_to_no_start,omitempty"` // until it cranks less than half its CCA
	FastChargeAmps  float64  `json:"fast_charge_amps"`           // taken after two minutes
	FastChargeVolts float64  `json:"fast_charge_volts"`          // at 2.4 V a cell
}

// mostDrainDays is how far ahead a drain is followed.
const mostDrainDays = 730

// fastCellVolts is where a fast charger holds a cell: 14.4 V on 12 V, common
// practice, no source.
const fastCellVolts = 2.4

// Outlook gives what to expect of the battery, rested at soc percent with its
// acid and surroundings at tempC, under a standing drain of milliamps. Its "no
// start" is cranking less than half the label's CCA for 30 s.
func (b Battery) Outlook(soc, tempC, milliamps float64) (Outlook, error) {
	cells := float64(b.Cells())
	sg := SpecificGravity(b.Chemistry, soc)
	rated, err := b.ColdCrankingAmps()
	if err != nil {
		return Outlook{}, err
	}
	cranks, err := b.CrankingAmps(soc, tempC, 30, b.volts12(rating.SAETest().EndVolts))
	if err != nil {
		return Outlook{}, err
	}
	halfEnds, err := b.EndVolts(soc, tempC, b.CCA/2, rating.LoadSeconds)
	if err != nil {
		return Outlook{}, err
	}
	o := Outlook{
		RestVolts: RestVolts(b.Chemistry, cells, soc, tempC), FreezesC: FreezingPoint(sg),
		Milliohms: 1000 * b.Resistance(soc, tempC), CCANow: rated, CrankNow: cranks,
		HalfCCAAmps: b.CCA / 2, LimitVolts: rating.LoadTestLimit(2*cells, tempC),
		SelfPctMonth:   SelfDischarge(b.Chemistry, soc, tempC),
		DrainMilliamps: milliamps, FastChargeVolts: fastCellVolts * cells,
	}
	// Below nothing at all, the load could not have been drawn.
	o.HalfCCAVolts = max(0, halfEnds)
	o.Frozen = tempC < o.FreezesC
	if b.Chemistry.Liquid() {
		o.SG = &sg
	}
	s := b.Rested(soc, tempC)
	around := Ambient{Start: tempC}
	flat, err := b.Run(s, Duty{Source: Source{Amps: -b.Ah20h / 20}, Ambient: around, Seconds: 100 * 3600,
		Events: []Event{{Name: "empty", When: func(x Sample) float64 { return x.Volts - emptyCellVolts*cells }}}})
	if err != nil {
		return Outlook{}, err
	}
	o.Ah = max(0, -flat.State.AhIn)
	fast, err := b.Run(
		s,
		Duty{Source: Source{Amps: 5 * b.Ah20h, Volts: o.FastChargeVolts}, Ambient: around, Seconds: 120},
	)
	if err != nil {
		return Outlook{}, err
	}
	o.FastChargeAmps = fast.Amps
	days := func(to float64) (*float64, error) {
		if to >= soc {
			return nil, nil
		}
		d, err := b.DaysTo(s, to, milliamps, tempC, mostDrainDays)
		if err != nil || math.IsInf(d, 1) {
			return nil, err
		}
		return &d, nil
	}
	if o.DaysToHalf, err = days(50); err != nil {
		return Outlook{}, err
	}
	if least, ever := b.ChargeToCrank(tempC, b.CCA/2); ever {
		o.DaysToNoStart, err = days(least)
	}
	return o, err
}
