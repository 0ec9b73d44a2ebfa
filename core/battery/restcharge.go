package battery

import (
	"math"

	"grapnel/core/words"
)

// Band is a figure with its uncertainty: the least and the most it can
// reasonably be, and the best single figure between them.
type Band struct {
	Low  float64 `json:"low"`
	Best float64 `json:"best"`
	High float64 `json:"high"`
}

// Rounded gives the band in whole units, widened outwards, so that rounding
// never claims more than was known.
func (b Band) Rounded() Band {
	// A minus nought is added up to nought.
	return Band{math.Floor(b.Low+1e-9) + 0, math.Round(b.Best) + 0, math.Ceil(b.High-1e-9) + 0}
}

// SurfaceCharge says what was done about the charge that sits on the plates'
// surface after charging or driving and makes the voltage read high.
type SurfaceCharge string

// The ways practitioners remove surface charge.
const (
	Rested      SurfaceCharge = "rested"          // left alone
	Headlights2 SurfaceCharge = "headlights_2min" // headlights on for two minutes
	HighBeam5   SurfaceCharge = "high_beam_5min"  // high beams on for four to five minutes, then a wait
	Load15      SurfaceCharge = "load_15s"        // a load tester for 15 s, then a wait
	NotRemoved  SurfaceCharge = "none"
)

// SurfaceWords gives the vocabulary of dealing with surface charge.
func SurfaceWords() words.List { return surfaceWords }

var surfaceWords = words.ListOf(
	words.Term{Code: string(Rested), Word: "Rested"},
	words.Term{Code: string(Headlights2), Word: "Lights 2 min", Said: "after 2 min of headlights"},
	words.Term{Code: string(HighBeam5), Word: "High beam 5 min", Said: "after 5 min of high beam"},
	words.Term{Code: string(Load15), Word: "15 s load", Said: "after a 15 s load"},
	words.Term{Code: string(NotRemoved), Word: "Not removed", Said: "surface charge not removed"},
)

// Removed reports whether something was done to take the surface charge off.
func (s SurfaceCharge) Removed() bool { return s == Headlights2 || s == HighBeam5 || s == Load15 }

// restedMinutes is what "rested" promises when nobody says how long.
const restedMinutes = 60.0

// Surface charge, volts of six cells, as the model itself leaves it (see
// TestSurfaceChargeIsTheModels): what stays in the pores after an hour's quick
// charge or a half hour's drive, and evens out with the bulk at the exchange
// rate of the chemistry and the temperature.
const (
	surfaceAtStart = 0.34
	recoveryAfter  = 0.035 // right after a load, or nobody knows, the voltage has not climbed back yet
)

// Glass mat and gel keep a small tail of surface charge for about a day, which
// the model's two wells do not have: volts of six cells, and the minutes in which
// it falls to a third. Common practice, no source.
const (
	tailVolts   = 0.06
	tailMinutes = 480.0
)

// leftAfter is what each school of removing leaves of a drive's surface charge:
// a load strips the plates at once, but not what has gone into the pores.
var leftAfter = map[SurfaceCharge]struct{ liquid, absorbed float64 }{
	Headlights2: {0.12, 0.16}, HighBeam5: {0.09, 0.13}, Load15: {0.10, 0.14},
}

// MeterError is the limit of error, in volts, of a good handheld meter on its
// 20 V range: a quarter percent and one digit. Common practice, no source.
func MeterError(volts float64) float64 { return 0.0025*math.Abs(volts) + 0.01 }

// UnknownTempC is how far, in °C, a battery may be from a temperature that was
// assumed instead of measured. Common practice, no source.
const UnknownTempC = 10.0

// Rest is one voltage taken across the posts of a battery with nothing
// connected to it.
type Rest struct {
	Volts              float64
	TempC              float64
	TempAssumed        bool          // nobody measured TempC
	Surface            SurfaceCharge // empty counts as not removed
	MinutesSinceCharge float64       // since charging or driving; negative when unknown
	// Full is what this very battery showed, rested after a full charge, volts at
	// TempC; 0 when it has not shown it yet.
	Full float64
}

// RestCharge is what a resting voltage says about charge.
type RestCharge struct {
	Charge       Band    // percent
	SurfaceVolts float64 // the most that surface charge may still add to the reading
	ErrorVolts   float64 // ± volts of meter, curve and temperature together
}

// ChargeFromRest reads the charge of a battery of the given number of cells
// from a resting voltage, as a band.
//
// Independent errors (meter, spread of the curve, unmeasured temperature) are
// added in quadrature. Surface charge only ever makes a reading too high, so it
// lowers the low end by all it may still be and the best figure by half. Which of
// the two families of rest tables a glass mat or gel battery follows is not known
// until it has been seen full, so its band holds both.
func ChargeFromRest(c Chemistry, cells float64, r Rest) RestCharge {
	scale := cells / 6
	temp := 0.0
	if r.TempAssumed {
		temp = cells * emfPerC * UnknownTempC
	}
	u := math.Sqrt(sq(MeterError(r.Volts)) + sq(scale*of(c).spreadVolts) + sq(temp))
	surface := scale * SurfaceLeft(c, r)
	up := u
	if r.Surface.Removed() || r.Surface == "" {
		up += scale * recoveryAfter
	}
	family, shift := scale*of(c).family, 0.0
	if r.Full > 0 {
		top := RestVolts(c, cells, 100, r.TempC)
		shift, family = clamp(r.Full-top, -family, family), 0
	}
	at := func(v float64) float64 { return ChargeAtRest(c, cells, v-shift, r.TempC) }
	return RestCharge{
		Charge: Band{
			Low:  at(r.Volts - u - surface - family),
			Best: at(r.Volts - surface/2),
			High: at(r.Volts + up + family),
		},
		SurfaceVolts: surface,
		ErrorVolts:   u,
	}
}

// SurfaceLeft is the most surface charge, in volts of six cells, that a reading may
// still carry after what was done about it.
func SurfaceLeft(c Chemistry, r Rest) float64 {
	minutes := r.MinutesSinceCharge
	if minutes < 0 {
		minutes = 0
		if r.Surface == Rested {
			minutes = restedMinutes
		}
	}
	left := surfaceAtStart * math.Exp(-minutes/FadeMinutes(c, r.TempC))
	if !c.Liquid() {
		left += tailVolts * math.Exp(-minutes/tailMinutes)
	}
	if most, ok := leftAfter[r.Surface]; ok {
		if c.Liquid() {
			return min(left, most.liquid)
		}
		return min(left, most.absorbed)
	}
	return left
}

// FadeMinutes gives the time in which what is left of surface charge falls to a
// third (1/e) by itself: half an hour in a warm flooded battery, longer in glass
// mat and gel, and longer in the cold.
func FadeMinutes(c Chemistry, tempC float64) float64 {
	w := arrhenius(tempC)
	return 60 / (of(c).exchangePerHour * w * w * w * w)
}

// RestSpread is how far healthy batteries of a build differ at rest, volts of six
// cells, one standard deviation: half of what is taken as the limit.
func (c Chemistry) RestSpread() float64 { return of(c).spreadVolts / 2 }

// RestFamily is how far the two families of rest tables of a build lie either side of
// its curve, volts of six cells; 0 where there is but one.
func (c Chemistry) RestFamily() float64 { return of(c).family }
