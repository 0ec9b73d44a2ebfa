package guide

import "slices"

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
	{"leak", "Cracked or leaking: soda and gloves first, lifted in a tray.",
		"Neutralise what has run out with soda, keep people away, and carry it level in an acid-proof tray. Follow " +
			"the maker’s safety sheet and the local codes for acid and lead; leave the rest to a licensed recycler."},
	{"cleaning", "Wet the crust, never blow it about. Soda outside only, caps tight.",
		"Earthed cable off first. A non-metal scraper into a tray, soda in water wiped on, rinsed and dried; no soda " +
			"into the cells. Change gloves before touching face or car. Follow the makers’ instructions and local codes."},
	{"charging", "The setting for its build, vent tube on, nothing metal across the posts; feel its heat.",
		"Off at the wall, positive to positive, then negative, then power on; off in the reverse order. Cooler " +
			"than a hand can bear, no violent gassing, no smell: else stop. Label rate first. Follow the charger’s and the battery maker’s " +
			"instructions."},
	{"charging_sealed", "AGM and gel: their own setting, never equalised, caps stay shut.",
		"More volts than the maker allows dry it out for good. Follow the battery maker’s charging instructions."},
	{"load_tester", "Rings and tools off, charger off and gas cleared; knob fully off before connecting, two minutes between. Eyes covered.",
		"The pile gets hot, and a little smoke from its paint is normal; arcing at a clamp is not: stop, clean and " +
			"clamp again. Never load a frozen, leaking, bulged or clear-eyed battery. Eyes protected, face away, knob " +
			"back off straight after. Follow the tester maker’s instructions."},
	{"starter_load", "Starter as load: neutral or park, brake on, clear of belts and fan.",
		"Fuel or spark disabled as the vehicle maker says. Fifteen seconds at most, two minutes between."},
	{"cranking", "Neutral or park, brake on, clear of belts and fan. 15 s at most, then two minutes.",
		"Fuel or spark disabled as the vehicle maker says, leads and sleeves away from everything that turns."},
	{"running_engine", "Engine running: fresh air, clear of belts, fan and hot parts.",
		"Carbon monoxide kills in a closed garage: lead the exhaust out. Brake on, neutral or park. Never take a " +
			"cable off while it runs. Follow the vehicle maker’s instructions."},
	{"ammeter", "Highest range first; never crank or open loads through the meter.",
		"Its fuse is for milliamps. A keep-alive or a jumper lead holds the circuit while the meter goes in. Follow " +
			"the meter’s and the vehicle maker’s instructions."},
	{"isolate", "Isolate the 12 V battery before it is loaded; keep-alive before anything comes off.",
		"Car off, key away, service procedure as its maker says. The converter must sleep, or it feeds the load."},
	{"frozen", "It may be frozen: leave it alone until it is thawed and checked.",
		"A frozen battery can burst when charged or cranked. Let it thaw in a ventilated place, look for a split or " +
			"bulged case, and expect to scrap it. The maker’s instructions go first."},
	{"lifting", "Lift it level, by its handle. Rings and watches off.",
		"Earthed cable off first, on last. No tool may bridge the live post and the body. Never tip a battery " +
			"beyond 45°. Follow the vehicle maker’s instructions."},
	{"spanner", "Rings and watch off. Spanner clear of live.",
		"A spanner between the live post and any metal of the body welds itself on in a blink. Wrap its handle. Follow the " +
			"vehicle maker’s instructions."},
	{"hood", "With the keep-alive on, the loose live clamp is live: hood over it.",
		"It feeds the whole vehicle. Touching metal it blows the fuse of the keep-alive at best. Keep it covered until " +
			"it is back on its post; follow the maker’s instructions of both."},
	{"keep_alive", "Fused, few amps. Doors shut, nothing operated, never cranked on it.",
		"It is put on before the earthed cable comes off, and comes off last, when both sides are tight. The vehicle " +
			"maker’s instructions say where, and whether at all."},
	{"spark", "The last contact may spark: air first, face aside.",
		"Gas gathers at a battery. Fan it away, touch once and firmly, tighten at once. Everything in the vehicle is off. " +
			"Follow the vehicle maker’s instructions."},
	{"recycle", "Old batteries are recycled by law: lead and acid.",
		"Tape the posts, keep it upright and hand it to a licensed recycler, as local codes ask."},
	{"high_voltage", "Only the 12 V battery is ours. Orange cables are for licensed people.",
		"Do not open or touch anything of the high-voltage system. Follow the vehicle maker’s instructions before " +
			"connecting anything, and stop where they ask for a qualified person."},
}

// Cautions gives every caution. The caller may keep it.
func Cautions() []Caution { return slices.Clone(cautions) }

// CautionOf gives the caution of a code.
func CautionOf(code string) (Caution, bool) {
	for _, c := range cautions {
		if c.Code == code {
			return c, true
		}
	}
	return Caution{}, false
}
