package guide

import "grapnel/core/measure"

// Torque gives how tight a terminal is made: 10 to 11 N·m on a top post (89 to 100 in·lb),
// about 15 on a side terminal (11 ft·lb). Common practice, no source; the makers' figures go
// first. Of a stud false: a small thread in lead is its maker's alone.
func Torque(terminals string) (measure.Range, bool) {
	switch terminals {
	case "top":
		return measure.Between(10, 11.3, measure.NewtonMetre, 0), true
	case "side":
		return measure.Between(14, 16, measure.NewtonMetre, 0), true
	}
	return measure.Range{}, false
}
