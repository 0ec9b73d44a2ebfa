package bench

import (
	"slices"

	"grapnel/core/measure"
	"grapnel/core/words"
)

// Hazards by their codes. Those that are found by looking are named after what was
// found.
const (
	HazardBulged  = "case_bulged"
	HazardCracked = "case_cracked"
	HazardLeaking = "leaking"
	HazardFrozen  = "frozen"
	HazardEye     = "eye_clear"
	HazardDry     = "plates_dry"
	HazardGas     = "rotten_egg_smell"
	HazardHot     = "hot"
	HazardIce     = "ice"
)

// HottestC is where a battery is too hot to work on: 125 °F. Common practice, no
// source.
const HottestC = 52.0

func (b *Bench) takeHazards(f *Fact) {
	b.override(f.Lifts)
	b.thawed = b.thawed || f.Thawed
	b.Hazards = slices.DeleteFunc(b.Hazards, func(h Hazard) bool { return slices.Contains(f.Clears, h.Code) })
	if f.Warm != nil && *f.Warm < HottestC {
		b.end(HazardHot)
	}
	if f.Charge != nil && f.Charge.Settled && !f.Charge.Other {
		b.end(HazardHot) // it has rested since, and cooled
	}
	for _, h := range f.Hazards {
		h.Reading = f.Reading
		b.end(h.Code)
		b.Hazards = append(b.Hazards, h)
	}
	if f.Warm != nil && *f.Warm >= HottestC {
		b.end(HazardHot)
		b.Hazards = append(b.Hazards, Hot(f.Reading))
	}
}

func (b *Bench) end(code string) {
	b.Hazards = slices.DeleteFunc(b.Hazards, func(h Hazard) bool { return h.Code == code })
}

// Override lifts the hazards that stop the work, as a lead has decided.
func (b *Bench) override(codes []string) {
	for _, h := range b.Hazards {
		if h.Stops && slices.Contains(codes, h.Code) {
			b.Overridden = append(b.Overridden, h)
		}
	}
	b.Hazards = slices.DeleteFunc(b.Hazards, func(h Hazard) bool { return h.Stops && slices.Contains(codes, h.Code) })
}

// Hot is the hazard of a battery too hot to work on.
func Hot(reading int) Hazard {
	return Hazard{Code: HazardHot, Reading: reading, Name: words.Say(hazardHot), First: "cool"}
}

// hot looks at the temperature on the sheet, which no reading says otherwise.
func (b *Bench) hot() {
	t := b.Case.Conditions.BatteryC
	if t == nil || *t < HottestC || slices.ContainsFunc(b.Hazards, func(h Hazard) bool { return h.Code == HazardHot }) {
		return
	}
	for _, r := range b.Case.Readings {
		if v, ok := r.Number("battery_c"); ok && v < HottestC {
			return
		}
	}
	b.Hazards = append(b.Hazards, Hot(-1))
	b.tell(Finding{
		Code: "safety.hot", Level: Act, Rule: "safety.hot", Source: Practice,
		Text: words.Say(saysHotNow, "temp", measure.Degrees(*t), "most", measure.Degrees(HottestC)), Why: words.Say(whyHotNow),
	})
}

// Stopped gives the hazard that stops all work, the last one found; false when
// none does.
func (b *Bench) Stopped() (Hazard, bool) {
	for _, h := range slices.Backward(b.Hazards) {
		if h.Stops {
			return h, true
		}
	}
	return Hazard{}, false
}

func (b *Bench) stopped() bool {
	_, ok := b.Stopped()
	return ok
}

// Held gives the hazard that has to be dealt with before anything else is done,
// the gravest one; false when none is.
func (b *Bench) Held() (Hazard, bool) {
	for _, code := range []string{HazardGas, HazardHot, HazardIce, HazardDry} {
		for _, h := range b.Hazards {
			if h.Code == code && !h.Stops {
				return h, true
			}
		}
	}
	return Hazard{}, false
}

// Hazardous reports whether anything forbids charging, loading or jumping it.
func (b *Bench) Hazardous() bool { return len(b.Hazards) > 0 }

// Words of hazards.
const (
	hazardHot  = "It is too hot"
	saysHotNow = "{temp}: too hot to charge, load or jump. Let it cool under {most}."
	whyHotNow  = "Heat feeds on charge current until the case gives way. Find out what heated it."
)
