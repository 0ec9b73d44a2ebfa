package guide

// Caution is one hazard at a step: a line to see there, and the rest a tap away.
// Every one defers to the maker's instructions, local codes and licensed people.
type Caution struct {
	Code string `json:"code"`
	Line string `json:"line"`
	More string `json:"more"`
}

// cautions explains every caution an assessment can name. Common practice, no
// source; the maker's instructions and local codes go first.
var cautions = []Caution{
	{"hydrogen", "Charging gives off hydrogen: fresh air, no flame, no sparks, no smoking.",
		"Ventilate before and while charging. Switch the charger off at the wall before you touch a clamp. Follow " +
			"the charger’s and the battery maker’s instructions and the local codes for charging rooms."},
	{"acid", "Acid: gloves and eye protection.",
		"Acid on skin: rinse with water, for a long time. In the eyes: flush with water and get medical help at " +
			"once. Neutralise spills with soda, and keep soda out of the cells. Follow the maker’s safety sheet."},
	{"load_tester", "Load tester: knob fully off before connecting, back off straight after. Eyes covered.",
		"The pile gets hot, and a little smoke from its paint is normal; arcing at a clamp is not: stop, clean and " +
			"clamp again. Never load a frozen, leaking, bulged or clear-eyed battery. Eyes protected, face away. " +
			"Follow the tester maker’s instructions."},
	{"frozen", "It may be frozen: leave it alone until it is thawed and checked.",
		"A frozen battery can burst when charged or cranked. Let it thaw in a ventilated place, look for a split or " +
			"bulged case, and expect to scrap it."},
	{"lifting", "Lift it level, by its handle. Rings and watches off.",
		"Earthed cable off first, on last. No tool may bridge the live post and the body. Never tip a battery " +
			"beyond 45°."},
	{"recycle", "Old batteries are recycled by law: lead and acid.",
		"Tape the posts, keep it upright and hand it to a licensed recycler."},
	{"high_voltage", "Only the 12 V battery is ours. Orange cables are for licensed people.",
		"Do not open or touch anything of the high-voltage system. Follow the vehicle maker’s instructions before " +
			"connecting anything, and stop where they ask for a qualified person."},
}

// CautionOf gives the caution of a code.
func CautionOf(code string) (Caution, bool) {
	for _, c := range cautions {
		if c.Code == code {
			return c, true
		}
	}
	return Caution{}, false
}
