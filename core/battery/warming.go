package battery

import "math"

// Warming gives the hours in which a battery that nothing is done with comes from one
// temperature to another in a room, all °C; within a degree of the room counts as the
// room's. It is +Inf where the room never brings it there. Newton's law of cooling, with
// the battery's own heat capacity and cooling.
func (b Battery) Warming(fromC, toC, roomC float64) float64 {
	gap, left := roomC-fromC, roomC-toC
	switch {
	case fromC == toC:
		return 0
	case math.Abs(left) < 1:
		if left = math.Copysign(1, gap); math.Abs(gap) <= 1 {
			return 0
		}
	case gap*left < 0 || math.Abs(left) >= math.Abs(gap):
		return math.Inf(1)
	}
	return b.HeatCapacity / b.Cooling * math.Log(gap/left) / 3600
}
