package battery

import "math"

// SelfDischarge gives the charge, in percent of the capacity a month (30 days),
// that a battery loses by itself at soc percent and tempC with nothing
// connected: what its own reactions and gassing take. It doubles for each 10 °C.
func SelfDischarge(c Chemistry, soc, tempC float64) float64 {
	return SelfAt(c, tempC).PerMonth(soc)
}

// Self is what a build loses by itself at one temperature, whatever its charge.
type Self struct {
	own, gas float64
	curve    *curve
}

// SelfAt gives what a build loses by itself at tempC.
func SelfAt(c Chemistry, tempC float64) Self {
	b := of(c)
	const month = 30 * 86400
	warmer := emfPerC * (tempC - 25)
	return Self{
		own:   100 * b.selfPerMonth * math.Pow(arrhenius(tempC), 11),
		gas:   100 * b.gasPerAh * math.Exp(gasPerVolt*(warmer-gasVolts)+gasPerC*(tempC-25)) * month / 3600,
		curve: curveOf(c),
	}
}

// PerMonth gives it in percent of the capacity a month (30 days) at soc percent.
func (s Self) PerMonth(soc float64) float64 {
	return s.own*soc/100 + s.gas*math.Exp(gasPerVolt*s.curve.volts(clamp(soc, 0, 100)/100))
}

// waterGramsPerAh is the water one ampere-hour of gassing splits in one cell:
// 18.015 g/mol over two electrons. Source: Faraday's law.
const waterGramsPerAh = 18.01528 / (2 * faraday) * 3600

// WaterLoss gives the grams of water that a battery has lost in all cells
// together to reach state s: what its gas did not turn back into.
func (b Battery) WaterLoss(s State) float64 {
	grams := 0.0
	for i := range b.Kinds {
		grams += float64(b.Groups[i].Count) * s.Cells[i].GasAh * waterGramsPerAh * (1 - of(b.Chemistry).recombined)
	}
	return grams
}

// WaterLost gives the grams of water that ah ampere-hours of gassing take out of each cell
// of a build: what does not turn back.
func WaterLost(c Chemistry, ah float64) float64 { return ah * waterGramsPerAh * (1 - of(c).recombined) }

// DaysTo gives the days in which a standing drain of milliamps, together with
// self-discharge, takes the battery from state s to soc percent in surroundings
// of tempC; infinite where that takes more than limit days. The errors are those
// of Run.
func (b Battery) DaysTo(s State, soc, milliamps, tempC, limit float64) (float64, error) {
	last, err := b.Run(
		s,
		Duty{Source: Source{Amps: -max(0, milliamps) / 1000}, Ambient: Ambient{Start: tempC}, Seconds: limit * 86400,
			Events: []Event{{Name: "down", When: func(x Sample) float64 { return x.SOC - soc }}}},
	)
	if err != nil {
		return 0, err
	}
	if last.Event == "" {
		return math.Inf(1), nil
	}
	return last.Seconds / 86400, nil
}

// DaysUnder gives the days in which a standing drain of milliamps, together with
// self-discharge, takes a battery of ah ampere-hours (20 h) from one charge to
// another, percent, at tempC: DaysTo without the run, for a plain battery. At most
// ten years; 0 where it is there already.
func DaysUnder(c Chemistry, ah, from, to, milliamps, tempC float64) float64 {
	const most, step = 3650.0, 5.0
	days := 0.0
	for at := from; at > to && days < most; at -= step {
		part := min(step, at-to)
		perDay := 100*max(0, milliamps)/1000*24/ah + SelfDischarge(c, at-part/2, tempC)/30
		days += part / max(perDay, 1e-6)
	}
	return min(days, most)
}

// Hardened gives the hard sulphate, 0 to 1, that a battery free of it has after
// standing for days at soc percent and tempC. Common practice, no source: it hardens
// within weeks of standing flat.
func Hardened(soc, tempC, days float64) float64 {
	w := arrhenius(tempC)
	left := above(1 - soc/100)
	return -math.Expm1(-hardenPerSecond * math.Pow(w, 11) * left * left * max(0, days) * 86400)
}
