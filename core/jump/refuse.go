package jump

import (
	"slices"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// instead is what to do about a hazard.
var instead = map[string]string{
	"frozen": insteadFrozen, "case_bulged": insteadCase, "case_cracked": insteadCase, "leaking": insteadLeak,
	"clear_eye": insteadEye, "plates_dry": insteadDry, "gassing": insteadGas, "may_be_frozen": insteadMaybe, "hot": insteadHot,
}

// gap is how far the acid is above its freezing point, °C.
func gap(c battery.Chemistry, soc, tempC float64) (above, point float64) {
	point = battery.FreezingPoint(battery.SpecificGravity(c, soc))
	return tempC - point, point
}

// highVoltage reports whether the donor has a high-voltage system.
func (s Source) highVoltage() bool {
	return s.HighVoltage || s.Class == "hybrid" || s.Class == "electric"
}

// refusals gives why it is not jumped, or not so, and what to do instead.
func (r *Request) refusals() []charge.Warning {
	var out []charge.Warning
	add := func(code, text string, with ...any) {
		out = append(out, charge.Warning{Code: code, Text: words.Say(text, with...)})
	}
	f, s := r.Flat, r.Source
	for _, h := range f.Hazards {
		if !slices.ContainsFunc(out, func(w charge.Warning) bool { return w.Code == h }) {
			add(h, instead[h])
		}
	}
	if above, point := gap(f.Battery.Chemistry, f.SOCPct, f.BatteryC); above <= 0 && !slices.Contains(f.Hazards, "frozen") &&
		!slices.Contains(f.Hazards, "may_be_frozen") {
		add(
			"may_be_frozen",
			refuseIce,
			"soc",
			measure.Percents(f.SOCPct),
			"at",
			measure.Degrees(point),
			"now",
			measure.Degrees(f.BatteryC),
		)
	}
	if f.BatteryC >= charge.HotC && !slices.Contains(f.Hazards, "hot") {
		add("too_hot", refuseHot, "now", measure.Degrees(f.BatteryC))
	}
	if s.SystemVolts != f.Vehicle.SystemVolts {
		add(
			"system_volts",
			refuseSystem,
			"source",
			measure.Volts(s.SystemVolts, measure.Exact),
			"flat",
			measure.Volts(f.Vehicle.SystemVolts, measure.Exact),
		)
	}
	if most := mostCellVolts * battery.Cells(f.Vehicle.SystemVolts); s.BoostVolts > most {
		add("boost_volts", refuseBoost, "volts", measure.Volts(s.BoostVolts, 1), "most", measure.Volts(most, 1))
	}
	if s.Kind == FromVehicle && s.highVoltage() && !s.MakerAllows {
		add("high_voltage_donor", refuseDonor)
	}
	return out
}

// ofSource are refusals of what gives alone: another source may do.
var ofSource = []string{"system_volts", "boost_volts", "high_voltage_donor"}

// refuse answers a plan that is refused: the battery, or only what was to give.
func (p *Plan) refuse() {
	p.Answer, p.Then = words.Say(answerNever), words.Say(thenNever)
	if !slices.ContainsFunc(p.Refusals, func(w charge.Warning) bool { return !slices.Contains(ofSource, w.Code) }) {
		p.Answer, p.Then = words.Say(answerNotFrom), words.Say(thenOther)
	}
}

// mostCellVolts is the most a boost may reach, volts a cell: what a vehicle's electronics
// stand. House judgement.
const mostCellVolts = 2.7

// A pack under this charge, percent, is charged before it is relied on, and under this
// temperature warmed. House judgement.
const (
	packFull  = 60.0
	packColdC = 5.0
)

// nearIceC is how far above its freezing point a battery is looked at twice, °C.
const nearIceC = 5.0

// leadsHotC is how much leads may warm in one try: soft covers give way about 50 °C above
// a summer's day. House judgement.
const leadsHotC = 40.0

// cautions gives what to mind, the gravest first.
func (r *Request) cautions(s *scene, p *Plan) []charge.Warning {
	var out []charge.Warning
	add := func(code, text string, with ...any) {
		out = append(out, charge.Warning{Code: code, Text: words.Say(text, with...)})
	}
	f, src := r.Flat, r.Source
	if above, point := gap(f.Battery.Chemistry, f.SOCPct, f.BatteryC); above < nearIceC && f.BatteryC < 0 {
		add("near_ice", mindIce, "at", measure.Degrees(point), "now", measure.Degrees(f.BatteryC))
	}
	add("look", mindLook)
	if s.electric {
		add("high_voltage", mindHigh)
		if f.JumpPost {
			add("wake_post", mindWakePost)
		}
		add("locked", mindLocked)
	}
	if src.Kind == FromVehicle && src.highVoltage() {
		add("high_voltage_donor", mindDonor)
	}
	add("loads_off", mindLoads)
	if src.Kind == FromVehicle {
		add("not_touching", mindTouch)
	}
	if src.Running || f.Vehicle.Class != "electric" {
		text := mindOutdoors
		if r.ClosedGarage {
			text = mindGarage
		}
		add("carbon_monoxide", text)
	}
	if f.Vehicle.Earth == "positive" {
		add("positive_earth", mindPositive)
	}
	if !s.electric {
		add("tries", mindTries, "try", measure.Seconds(p.Tries.Seconds), "rest", measure.Minutes(p.Tries.RestSeconds/60))
	}
	if f.Vehicle.Fuel == "diesel" && !s.electric {
		if f.Engine.NoGlow {
			add("glow", mindNoGlow)
		} else {
			add("glow", mindGlow)
		}
	}
	if f.SmartKey {
		add("smart_key", mindKey)
	}
	if src.Kind == FromPack {
		add("pack_first", mindPack)
		if src.SOCPct < packFull {
			add("pack_flat", mindPackFlat, "soc", measure.Percents(src.SOCPct))
		}
		if src.BatteryC < packColdC {
			add("pack_cold", mindPackCold, "now", measure.Degrees(src.BatteryC))
		}
	}
	if src.Kind == FromCharger {
		add("duty", mindDuty, "on", measure.Seconds(src.OnSeconds), "rest", measure.Seconds(src.RestSeconds))
	}
	if p.Rise > leadsHotC {
		add("leads_hot", mindHotLeads, "rise", measure.Rise(p.Rise))
	}
	if a := f.Vehicle.Arrangement; a == "parallel" {
		add("pair", mindPair)
	}
	return out
}

// Words of refusals and cautions.
const (
	answerNever   = "Not to be jumped."
	thenNever     = "Nothing is connected to it: no leads, no pack, no charger. The makers’ safety sheets and local rules go first."
	answerNotFrom = "Not from this."
	thenOther     = "Nothing of it is connected. Pick another source; the makers’ handbooks and local rules go first."
	insteadFrozen = "Frozen: it can burst. Let it thaw in fresh air, then look for a split or bulged case; most are scrap."
	insteadCase   = "Bulged or cracked: it is not jumped. Soda, gloves, a tray, and fit another battery."
	insteadLeak   = "It leaks: it is not jumped. Neutralise the acid, lift it out level, and fit another battery."
	insteadEye    = "A clear eye is acid below the plates: it is not jumped, charged or tested. Fit another battery."
	insteadDry    = "Dry plates spark under gas: it is not jumped. Where the caps come off, distilled water just over the plates, then a charger."
	insteadGas    = "It gasses: one spark sets it off. Everything off, fresh air, and wait until the smell is gone; then look for the cause."
	insteadMaybe  = "It may be ice: thaw it in fresh air and look at the case before anything else."
	insteadHot    = "Too hot: let it cool, and find out what heated it."
	refuseIce     = "At {soc} it freezes at {at}, and it is at {now}: it may be ice. Thaw it and look at the case before anything else."
	refuseHot     = "It is at {now}: too hot. Let it cool, and find out what heated it."
	refuseSystem  = "{source} on {flat}: never across system volts. Find a source of {flat}."
	refuseBoost   = "{volts} is more than the vehicle’s electronics stand: {most} at most."
	refuseDonor   = "A hybrid or electric vehicle does not give, unless its maker says so: its converter is not made for a starter. Use a pack."

	mindIce      = "It is at {now} and freezes at about {at}: tilt it a little; if nothing moves inside, thaw it first."
	mindLook     = "Frozen, bulged, cracked, leaking or clear-eyed: stop. Eyes and gloves; face away at the last clamp."
	mindHigh     = "Only the 12 V battery is ours. Orange cables: stop, licensed people only."
	mindWakePost = "The post in front opens the boot and wakes the car; it is not for heavy current. If it does not wake, move the leads to the battery itself."
	mindLocked   = "Locked out: the mechanical key first. Lamps left on inside are the common cause."
	mindDonor    = "Its maker lets it give: only at the posts and in the order its handbook says."
	mindLoads    = "All loads off, both. Doors open or keys in the hand."
	mindTouch    = "The vehicles do not touch; brakes on, out of gear. Roadside: traffic first."
	mindGarage   = "A closed garage: carbon monoxide kills. Push it out, or open up and lead the exhaust out, before any engine runs."
	mindOutdoors = "Engines run in the open or with the exhaust led out: carbon monoxide kills."
	mindPositive = "Positive earth: go by live and earthed, never by red and black alone. The vehicles’ metal must not touch at all."
	mindTries    = "Tries of {try} at most, {rest} between: starters and leads get hot."
	mindGlow     = "Wait for the glow lamp to go out before each try."
	mindNoGlow   = "Without glow plugs it needs more speed; no starting spray where any heater is fitted."
	mindKey      = "A flat key or an immobiliser looks alike: hold the key to its place, watch the lamp. If it cranks well and does not fire, it is not the battery."
	mindPack     = "The pack’s own charge first, and its switch off until both clamps are on."
	mindPackFlat = "The pack is at {soc}: charge it before it is relied on."
	mindPackCold = "The pack is at {now}: carry it in the cab, cold takes half of it."
	mindDuty     = "Boost for {on} at most, then {rest} off, or as its plate says."
	mindHotLeads = "The leads warm by {rise} in one try: let them cool between tries, or take thicker ones."
	mindPair     = "Two batteries: a bad one drags the other down. Test each by itself afterwards."
)
