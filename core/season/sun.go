package season

import "math"

// Sunlight, by the formulas printed in Duffie and Beckman, Solar Engineering of Thermal
// Processes, and in FAO Irrigation and Drainage Paper 56; from memory, and checked
// against an ephemeris.

// solarConstant is what reaches the top of the air, W/m² (Kopp and Lean 2011, from memory).
const solarConstant = 1361.0

// declination is how far north of the equator the sun stands on a day of the year from 1,
// radians: Spencer's series (1971), within 0.0006 rad of the ephemeris.
func declination(day int) float64 {
	g := 2 * math.Pi * float64(day-1) / 365
	return 0.006918 - 0.399912*math.Cos(g) + 0.070257*math.Sin(g) - 0.006758*math.Cos(2*g) + 0.000907*math.Sin(2*g) -
		0.002697*math.Cos(3*g) + 0.00148*math.Sin(3*g)
}

// sunset is the hour angle of the setting sun, radians: 0 in polar night, π in polar day.
func sunset(latitude, declination float64) float64 {
	return math.Acos(max(-1, min(1, -math.Tan(latitude)*math.Tan(declination))))
}

// DayHours gives the hours between sunrise and sunset on a day of the year from 1 at a
// latitude, degrees north: those of the sun's middle without the bending of the air, which
// adds about a quarter of an hour in middle latitudes.
func DayHours(latitudeDeg float64, day int) float64 {
	return 24 / math.Pi * sunset(latitudeDeg*math.Pi/180, declination(day))
}

// AboveAir gives the light that falls in a day on a level square metre above the air,
// kWh/m².
func AboveAir(latitudeDeg float64, day int) float64 {
	lat, dec := latitudeDeg*math.Pi/180, declination(day)
	w := sunset(lat, dec)
	near := 1 + 0.033*math.Cos(2*math.Pi*float64(day)/365) // the earth is nearest in January
	return 24 / math.Pi * solarConstant / 1000 * near *
		(math.Cos(lat)*math.Cos(dec)*math.Sin(w) + w*math.Sin(lat)*math.Sin(dec))
}

// Part of the light above the air that comes through a winter's clouds to a level panel:
// published clearness maps give 0.25 to 0.45 in middle latitudes, from memory; the low end
// is a dull month with a dirty panel.
var clearness = struct{ low, best, high float64 }{0.18, 0.30, 0.42}

// A panel of so many watts is made for 18 V and gives its amps at any volts of a 12 V
// battery; a regulator and dirt take a tenth. Common practice, no source.
const panelVolts, panelPart = 18.0, 0.9

// panelAh gives the ampere-hours a day that a level panel of so many watts puts into a
// 12 V battery, with so much of the light coming through.
func panelAh(watts, latitudeDeg float64, day int, clear float64) float64 {
	return watts / panelVolts * panelPart * clear * AboveAir(latitudeDeg, day)
}

// WattsFor gives the panel that makes so many ampere-hours a day in the darkest month of
// the year, in its usual dull weather; infinite where the sun does not rise in it.
func WattsFor(ahPerDay, latitudeDeg float64) float64 {
	least := math.Inf(1)
	for day := 15; day <= 365; day += 30 {
		sum := 0.0
		for d := -15; d < 15; d++ {
			sum += panelAh(1, latitudeDeg, day+d, (clearness.low+clearness.best)/2)
		}
		least = min(least, sum/30)
	}
	if least <= 1e-9 {
		return math.Inf(1)
	}
	return ahPerDay / least
}
