package charge

import "grapnel/core/battery"

// Limits are the volts a build is charged at, of six cells at 25 °C, and how hot it
// may get.
type Limits struct {
	AbsorptionLow, AbsorptionUsual, AbsorptionHigh float64
	FloatLow, FloatUsual, FloatHigh                float64
	EqualiseLow, EqualiseHigh                      float64 // 0 where it is never equalised
	KindPart                                       float64 // amps for each Ah that are kind
	FastPart                                       float64 // amps for each Ah that are fast, watched
}

// HotC is the case temperature at which charging stops: 125 °F. Common practice, no
// source.
const HotC = 52.0

// NearFreezingC is the temperature under which a battery is warmed before it is
// charged. House judgement: it takes next to nothing, and a flat one may be ice.
const NearFreezingC = 5.0

// ColdC is the temperature under which a charge is slow enough to say so: it takes
// half of what it takes at 20 °C. By the model.
const ColdC = 10.0

// limits by build. Sources: absorption 14.4 to 14.8 V flooded, 14.4 to 14.7 (14.8)
// sealed calcium and AGM, 14.0 to 14.4 gel; float 13.2 to 13.8 V, gel and AGM 13.5 to
// 13.8; equalising 15.5 to 16 V, flooded alone: makers' charging tables and BCI service
// texts, from memory, ±0.1 V. Rates: at or under 10 % of the ampere-hours is kind;
// common practice, no source.
var limits = map[battery.Chemistry]Limits{
	battery.Flooded:       {14.4, 14.6, 14.8, 13.2, 13.4, 13.6, 15.5, 16.0, 0.10, 0.40},
	battery.FloodedSealed: {14.4, 14.6, 14.8, 13.2, 13.4, 13.7, 0, 0, 0.10, 0.40},
	battery.EFB:           {14.4, 14.6, 14.8, 13.2, 13.5, 13.7, 0, 0, 0.10, 0.40},
	battery.AGM:           {14.4, 14.6, 14.8, 13.4, 13.6, 13.8, 0, 0, 0.10, 0.50},
	battery.Gel:           {14.0, 14.2, 14.4, 13.4, 13.6, 13.8, 0, 0, 0.10, 0.25},
	battery.AGMDeepCycle:  {14.4, 14.6, 14.8, 13.4, 13.6, 13.8, 0, 0, 0.10, 0.40},
}

// LimitsOf gives the limits of a build; an unknown one is read as flooded.
func LimitsOf(c battery.Chemistry) Limits {
	if l, ok := limits[c]; ok {
		return l
	}
	return limits[battery.Flooded]
}
