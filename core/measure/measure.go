// Package measure converts between the units technicians read and the SI units
// everything is computed in.
package measure

import "math"

// Fahrenheit gives °F for a temperature in °C.
func Fahrenheit(celsius float64) float64 { return celsius*9/5 + 32 }

// Celsius gives °C for a temperature in °F.
func Celsius(fahrenheit float64) float64 { return (fahrenheit - 32) * 5 / 9 }

// Force of a pound by definition: 0.45359237 kg at 9.80665 m/s². An inch is
// 0.0254 m.
const (
	newtonsPerPound = 0.45359237 * 9.80665
	metresPerInch   = 0.0254
)

// InchPounds gives in·lb for a torque in N·m.
func InchPounds(newtonMetres float64) float64 {
	return newtonMetres / (newtonsPerPound * metresPerInch)
}

// FootPounds gives ft·lb for a torque in N·m.
func FootPounds(newtonMetres float64) float64 { return InchPounds(newtonMetres) / 12 }

// WireArea gives the copper of an American wire gauge in mm². Gauges above 1/0
// are negative: 0 is 1/0, -1 is 2/0, -3 is 4/0. The diameter is 0.005 in at 36
// and grows by the 39th root of 92 for each gauge down. Source: ASTM B258.
// Gauges from -5 to 40.
func WireArea(gauge int) float64 {
	d := 0.127 * math.Pow(92, float64(36-gauge)/39)
	return math.Pi / 4 * d * d
}

// WireGauge gives the gauge whose copper is nearest to mm2, by ratio; mm2 is
// above 0.
func WireGauge(mm2 float64) int {
	d := math.Sqrt(4 / math.Pi * mm2)
	return int(math.Round(36 - 39*math.Log(d/0.127)/math.Log(92)))
}
