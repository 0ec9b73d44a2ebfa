package clinic

import "slices"

// Right gives the verdicts that would be right for a vehicle as it was when it came in.
func (v *Vehicle) Right() []string {
	if slices.ContainsFunc(v.seen, func(s string) bool {
		return slices.Contains([]string{"case_bulged", "case_cracked", "leaking"}, s)
	}) || v.has("frozen") && v.ice {
		return []string{"stop", "replace"}
	}
	if v.dry && v.Caps != "removable" {
		return []string{"stop", "replace"}
	}
	if v.has("shorted_cell") {
		return []string{"replace", "stop"}
	}
	switch {
	case v.has("low_acid") && v.Caps == "removable":
		return []string{"replace", "weak", "good", "good_after_charge", "look_elsewhere", "stop"} // as it is once it is watered
	case v.loaded21 < 9.4*v.Volts/12:
		return []string{"replace", "stop"}
	case v.loaded21 < 9.7*v.Volts/12:
		return []string{"replace", "weak"}
	case v.pct < 52:
		return []string{"weak", "replace"}
	case v.pct < 65:
		return []string{"weak", "replace", "good", "good_after_charge", "look_elsewhere"} // it passes the published test; nobody can tell
	case v.pct < 75:
		return append(v.sound(), "weak")
	}
	if v.Odd == "loose_plate" {
		return append(v.sound(), "replace", "weak") // a bad battery on a bad day
	}
	return v.sound()
}

// sound are the right verdicts for a battery that holds: what is wrong outside it is
// to be found.
func (v *Vehicle) sound() []string {
	for _, f := range []string{"bad_cable", "starter_draw", "undercharging", "overcharging", "drain"} {
		if v.has(f) && v.tells(f) {
			return []string{"look_elsewhere"}
		}
	}
	return []string{"good", "good_after_charge", "look_elsewhere"}
}

// tells reports whether the customer has cause to complain of a fault, so that whoever
// looks for it has a reason to.
func (v *Vehicle) tells(f string) bool {
	for _, c := range v.Complaint {
		switch c {
		case "dead_silent", "single_click", "rapid_click", "slow_crank", "cranks_no_fire", "dim_lights", "frequent_jumps", "after_standing",
			"cold_only", "warning_lights":
			return true
		}
	}
	return false
}

// Sound and Bad say what everybody agrees on.
func (v *Vehicle) Sound() bool {
	r := v.Right()
	return !slices.Contains(r, "replace") && !slices.Contains(r, "stop")
}

// Bad reports whether it must not go back: nothing but replacing it, or stopping, is
// right.
func (v *Vehicle) Bad() bool {
	return !slices.ContainsFunc(v.Right(), func(r string) bool { return r != "replace" && r != "stop" })
}
