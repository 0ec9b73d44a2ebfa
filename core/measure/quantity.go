package measure

// Unit is what a figure is counted in, as it is written beside the figure.
type Unit string

// The units of figures that are said to people. Everything is computed and kept
// in these; DegreeC is spoken in °F to those who read °F.
const (
	Volt        Unit = "V"
	Amp         Unit = "A"
	Milliamp    Unit = "mA"
	AmpHour     Unit = "Ah"
	Cranking    Unit = "CCA"
	Percent     Unit = "%"
	DegreeC     Unit = "°C"
	Warmer      Unit = "°C more" // a difference of temperatures
	Second      Unit = "s"
	Minute      Unit = "min"
	Hour        Unit = "h"
	Span        Unit = "span" // minutes, said in minutes, hours or days as they come
	NewtonMetre Unit = "N·m"
	Turns       Unit = "rpm"
	None        Unit = ""
)

// Exact as Digits writes a figure with the decimals it has.
const Exact = -1

// Quantity is a figure with its unit and the decimals it deserves.
type Quantity struct {
	Value  float64
	Unit   Unit
	Digits int // decimals, or Exact
}

// Of gives a quantity.
func Of(value float64, unit Unit, digits int) Quantity { return Quantity{value, unit, digits} }

// Volts gives volts with so many decimals.
func Volts(v float64, digits int) Quantity { return Of(v, Volt, digits) }

// Amps gives whole amps.
func Amps(a float64) Quantity { return Of(a, Amp, 0) }

// Percents gives whole percents.
func Percents(p float64) Quantity { return Of(p, Percent, 0) }

// Degrees gives a temperature in °C, to whole degrees.
func Degrees(celsius float64) Quantity { return Of(celsius, DegreeC, 0) }

// Rise gives a difference of temperatures in °C, to whole degrees.
func Rise(celsius float64) Quantity { return Of(celsius, Warmer, 0) }

// Seconds gives whole seconds.
func Seconds(s float64) Quantity { return Of(s, Second, 0) }

// Minutes gives minutes, to be said as people say a span.
func Minutes(m float64) Quantity { return Of(m, Span, 0) }

// Plain gives a figure without its unit.
func Plain(v float64, digits int) Quantity { return Of(v, None, digits) }

// Range is a figure between two, both of one unit.
type Range struct{ Low, High Quantity }

// Between gives a range of so many decimals.
func Between(low, high float64, unit Unit, digits int) Range {
	return Range{Of(low, unit, digits), Of(high, unit, digits)}
}
