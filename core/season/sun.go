package season

import (
	"math"
	"time"
)

// Where the sun stands: the low precision formula of the Astronomical Almanac, good to 0.01°
// from 1950 to 2050. Light and hours: as printed in Duffie and Beckman, Solar Engineering of
// Thermal Processes. Both from memory, and checked against an ephemeris.

// solarConstant is what reaches the top of the air, W/m² (Kopp and Lean 2011, from memory).
const solarConstant = 1361.0

// j2000 is noon of 1 January 2000.
var j2000 = time.Date(2000, 1, 1, 12, 0, 0, 0, time.UTC)

// sun gives how far north of the equator the sun stands at noon of a day, radians, and how
// far away, in mean distances.
func sun(day time.Time) (declination, distance float64) {
	const deg = math.Pi / 180
	noon := time.Date(day.Year(), day.Month(), day.Day(), 12, 0, 0, 0, time.UTC)
	n := noon.Sub(j2000).Hours() / 24
	g := (357.528 + 0.9856003*n) * deg // mean anomaly
	ecliptic := (280.460 + 0.9856474*n + 1.915*math.Sin(g) + 0.020*math.Sin(2*g)) * deg
	tilt := (23.439 - 0.0000004*n) * deg
	return math.Asin(math.Sin(tilt) * math.Sin(ecliptic)), 1.00014 - 0.01671*math.Cos(g) - 0.00014*math.Cos(2*g)
}

// sunset is the hour angle of the setting sun, radians: 0 in polar night, π in polar day.
func sunset(latitude, declination float64) float64 {
	return math.Acos(max(-1, min(1, -math.Tan(latitude)*math.Tan(declination))))
}

// DayHours gives the hours between sunrise and sunset of a day at a latitude, degrees north:
// those of the sun's middle without the bending of the air, which adds about a quarter of an
// hour in middle latitudes.
func DayHours(latitudeDeg float64, day time.Time) float64 {
	declination, _ := sun(day)
	return 24 / math.Pi * sunset(latitudeDeg*math.Pi/180, declination)
}

// AboveAir gives the light that falls in a day on a level square metre above the air,
// kWh/m².
func AboveAir(latitudeDeg float64, day time.Time) float64 {
	lat := latitudeDeg * math.Pi / 180
	dec, distance := sun(day)
	w := sunset(lat, dec)
	return max(0, 24/math.Pi*solarConstant/1000/(distance*distance)*
		(math.Cos(lat)*math.Cos(dec)*math.Sin(w)+w*math.Sin(lat)*math.Sin(dec)))
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
func panelAh(watts, latitudeDeg float64, day time.Time, clear float64) float64 {
	return watts / panelVolts * panelPart * clear * AboveAir(latitudeDeg, day)
}

// WattsFor gives the panel that makes so many ampere-hours a day in the darkest month of
// the year, in its usual dull weather; infinite where the sun does not rise in it.
func WattsFor(ahPerDay, latitudeDeg float64) float64 {
	least := math.Inf(1)
	const year = 2026 // any: they differ by less than a watt in a hundred
	for month := time.January; month <= time.December; month++ {
		sum, days := 0.0, 0
		for day := time.Date(year, month, 1, 0, 0, 0, 0, time.UTC); day.Month() == month; day = day.AddDate(0, 0, 1) {
			sum += panelAh(1, latitudeDeg, day, (clearness.low+clearness.best)/2)
			days++
		}
		least = min(least, sum/float64(days))
	}
	if least <= 1e-9 {
		return math.Inf(1)
	}
	return ahPerDay / least
}
