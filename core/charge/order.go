package charge

import (
	"grapnel/core/guide"
	"grapnel/core/words"
)

// Move is one step of connecting or disconnecting a charger: what the hand does, and
// where it goes in a picture.
type Move struct {
	Do    words.Text `json:"do"`
	Place string     `json:"place" enum:"wall,plus,minus,body,switch" doc:"where the hand is: at the wall, a post, bare metal, the charger"`
	Side  string     `json:"side,omitempty" enum:"live,earthed" doc:"of a post or of the body"`
}

// Order gives the steps of connecting a charger to a battery, and of taking it off, for
// a vehicle earthed on a side; in the vehicle or out of it; onBody where the maker asks
// for the earthed clamp on bare metal instead of the post. Common practice, no source:
// off at the wall, positive, negative, type, power; off at the wall first, negative,
// positive. What matters is that the last clamp on, and the first off, is the earthed
// one where the battery is in a vehicle: the spark is at it.
func Order(earth string, inVehicle, onBody bool, sealed bool) (connect, disconnect []Move) {
	plus, minus := guide.Posts(earth)
	live, earthed := plus, minus
	if plus.Role == "earthed" && inVehicle {
		live, earthed = minus, plus
	}
	clamp := func(s guide.Side, off bool) Move {
		place, do := "plus", doClamp
		if s.Post == "−" {
			place = "minus"
		}
		if off {
			do = doUnclamp
		}
		if !inVehicle {
			return Move{Do: words.Say(do, "lead", s.Lead, "post", s.Post, "which", ""), Place: place}
		}
		if onBody && s.Role == "earthed" {
			place = "body"
			if do = doBody; off {
				do = doOffBody
			}
		}
		return Move{Do: words.Say(do, "lead", s.Lead, "post", s.Post, "which", words.Say(whichPost, "role", s.Role)), Place: place, Side: s.Role}
	}
	setting := doSettingFlooded
	if sealed {
		setting = doSettingSealed
	}
	connect = []Move{
		{Do: words.Say(doWallOff), Place: "wall"}, clamp(live, false), clamp(earthed, false),
		{Do: words.Say(setting), Place: "switch"}, {Do: words.Say(doPowerOn), Place: "wall"},
	}
	return connect, []Move{{Do: words.Say(doWallOffFirst), Place: "wall"}, clamp(earthed, true), clamp(live, true)}
}

const (
	doWallOff        = "Charger off at the wall"
	doWallOffFirst   = "Off at the wall first; let the gas clear"
	doClamp          = "{Lead} clamp to {post}{which}"
	doUnclamp        = "{Lead} clamp off {post}{which}"
	whichPost        = ", the {role} post"
	doBody           = "{Lead} clamp to bare metal of the body, away from battery, belt and fuel"
	doOffBody        = "{Lead} clamp off the body"
	doSettingFlooded = "Choose volts, setting and amps"
	doSettingSealed  = "Choose volts, the AGM or gel setting, and amps"
	doPowerOn        = "Power on, then look at volts and amps"
)
