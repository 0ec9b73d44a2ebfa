package fit

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// Ruled is one rule looked at for one battery.
type Ruled struct {
	Rule   string     `json:"rule" enum:"volts,tray,hold_down,terminals,layout,vent,cca,cold,capacity,chemistry,charging,age,tested,pair"`
	OK     bool       `json:"ok"`
	Unsure bool       `json:"unsure,omitempty" doc:"nobody knows enough to say; look before it is lifted in"`
	Text   words.Text `json:"text"`
}

// The rules, in the order they are looked at.
const (
	Volts     = "volts"
	Tray      = "tray"
	HoldDown  = "hold_down"
	Terminals = "terminals"
	Layout    = "layout"
	Vent      = "vent"
	CCA       = "cca"
	Cold      = "cold"
	Capacity  = "capacity"
	Chemistry = "chemistry"
	Charging  = "charging"
	Age       = "age"
	TestedNew = "tested"
	Pair      = "pair"
)

func holds(rule, text string, with ...any) *Ruled {
	return &Ruled{Rule: rule, OK: true, Text: words.Say(text, with...)}
}

func fails(rule, text string, with ...any) *Ruled {
	return &Ruled{Rule: rule, Text: words.Say(text, with...)}
}

func unsure(rule, text string, with ...any) *Ruled {
	return &Ruled{Rule: rule, OK: true, Unsure: true, Text: words.Say(text, with...)}
}

// looked is everything a rule looks at.
type looked struct {
	r    *Request
	n    Needs // with what its group size says
	s    Item  // with what its group size says
	st   state
	pair int // how many others on the shelf are its like

	winters winters
}

// lines are the rules in order. One gives nil where it has nothing to ask.
var lines = []func(*looked) *Ruled{
	voltsLine, trayLine, holdDownLine, terminalsLine, layoutLine, ventLine, ccaLine, coldLine, capacityLine, chemistryLine,
	chargingLine, ageLine, testedLine, pairLine,
}

func voltsLine(l *looked) *Ruled {
	need := l.r.volts()
	if l.s.Volts == need {
		return holds(Volts, "{volts}, as the vehicle has.", "volts", measure.Volts(need, 0))
	}
	return fails(Volts, "{has}, and the vehicle takes {need}.", "has", measure.Volts(l.s.Volts, 0), "need",
		measure.Volts(need, 0))
}

func sizes(mm []float64) string { return fmt.Sprintf("%.0f × %.0f × %.0f mm", mm[0], mm[1], mm[2]) }

// looseMM is from which gap in length or width a battery wants a spacer, and more than
// which no hold-down reaches it safely. House judgement.
const (
	looseMM = 12.0
	slackMM = 60.0
)

var sides = [3]string{"long", "wide", "high"}

func trayLine(l *looked) *Ruled {
	tray, size := l.n.TrayMM, l.s.SizeMM
	switch {
	case size == nil && tray == nil:
		return unsure(Tray, "Neither tray nor battery is measured.")
	case size == nil:
		return unsure(Tray, "Measure it: the tray takes {size}.", "size", sizes(tray))
	case tray == nil:
		return unsure(Tray, "It is {size}. Measure the tray.", "size", sizes(size))
	}
	for i, side := range sides {
		if over := size[i] - tray[i]; over > 0 {
			return fails(Tray, "{over} mm too {side} for the tray.", "over", measure.Plain(math.Ceil(over), 0), "side", side)
		}
	}
	if gap := l.gap(); gap > slackMM {
		return unsure(Tray, "It fits in with {gap} mm to spare: will the hold-down reach it?", "gap", measure.Plain(gap, 0))
	} else if gap > looseMM {
		return holds(Tray, "{size}: it goes in with a spacer of {gap} mm.", "size", sizes(size), "gap", measure.Plain(gap, 0))
	}
	return holds(Tray, "{size}: it sits in the tray.", "size", sizes(size))
}

// gap is how far it can slide, mm; the least there is where nobody has measured.
func (l *looked) gap() float64 {
	if l.n.TrayMM == nil || l.s.SizeMM == nil {
		return 0
	}
	return max(0, l.n.TrayMM[0]-l.s.SizeMM[0], l.n.TrayMM[1]-l.s.SizeMM[1])
}

func holdDownLine(l *looked) *Ruled {
	switch {
	case l.n.HoldDown == "":
		return nil
	case l.n.HoldDown == ByTop: // a bar over the top holds any
		return holds(HoldDown, "The bar over the top holds it.")
	case l.s.HoldDown == "":
		return unsure(HoldDown, "Look at its foot: the tray holds it by a ledge there.")
	case l.s.HoldDown == ByFoot:
		return holds(HoldDown, "The ledge at its foot is there.")
	}
	return fails(HoldDown, "It has no ledge at its foot, and the tray holds it by one.")
}

func terminalsLine(l *looked) *Ruled {
	v := reading.Vocabularies()["terminals"]
	switch {
	case l.n.Terminals == "":
		return unsure(Terminals, "Look at the vehicle's terminals: top posts, side or studs.")
	case l.s.Terminals == "":
		return unsure(Terminals, "Look at its terminals: the cables want {need}.", "need", v.Said(l.n.Terminals))
	case l.n.Terminals == l.s.Terminals:
		return holds(Terminals, "{Has}, as the cables have.", "has", v.Said(l.s.Terminals))
	}
	return fails(Terminals, "{Has}, and the cables want {need}.", "has", v.Said(l.s.Terminals), "need", v.Said(l.n.Terminals))
}

func layoutLine(l *looked) *Ruled {
	switch {
	case l.n.Positive == Either:
		return holds(Layout, "The cables reach either way round.")
	case l.n.Positive == "":
		return unsure(Layout, "Look on which side the + stands in the vehicle.")
	case l.s.Positive == "":
		return unsure(Layout, "Look at it: the + has to stand on the {side}, seen from the front.", "side", l.n.Positive)
	case l.n.Positive == l.s.Positive:
		return holds(Layout, "+ on the {side}, as in the vehicle.", "side", l.s.Positive)
	}
	return fails(Layout, "Its + stands on the {has}, the vehicle's on the {need}: cables too short, or crossed.", "has",
		l.s.Positive, "need", l.n.Positive)
}

func ventLine(l *looked) *Ruled {
	side := l.n.Vent == Left || l.n.Vent == Right
	switch {
	case !side && !l.n.VentTube:
		return nil
	case l.s.Vent == "":
		return unsure(Vent, "Look for its vent port: the vehicle has a tube to hang on it.")
	case l.s.Vent == None:
		return fails(Vent, "It has no vent port, and the vehicle leads the gas out by a tube.")
	case !side || l.s.Vent == Both || l.s.Vent == l.n.Vent:
		return holds(Vent, "Its vent is where the tube hangs.")
	}
	return fails(Vent, "It vents on the {has}, and the tube hangs on the {need}.", "has", l.s.Vent, "need", l.n.Vent)
}

func ccaLine(l *looked) *Ruled {
	need, ok := (rating.Label{CCA: l.n.CCA, Standard: l.n.Standard}).ToSAE()
	if !ok {
		return unsure(CCA, "The maker's cranking amps are not known.")
	}
	has, off := l.st.sae, l.st.saeSpread
	if has == 0 {
		if !l.st.known {
			return unsure(CCA, "Its label has no figure: read it.")
		}
		has, off = l.st.plate.CCA.Value, l.st.plate.CCA.Spread
	}
	std := cmp.Or(l.n.Standard, rating.SAE)
	with := []any{"has", ampsSaid(has, rating.SAE), "need", ampsSaid(need.Amps, rating.SAE)}
	// What both were converted by drops out where they are of one standard.
	if l.s.Rating.CCA != nil && cmp.Or(l.s.Rating.Standard, rating.SAE) == std {
		off = 0
		with = []any{"has", ampsSaid(*l.s.Rating.CCA, std), "need", ampsSaid(l.n.CCA, std)}
	} else {
		off = math.Hypot(off, need.Spread)
	}
	switch {
	case has < need.Amps:
		return fails(CCA, "{has}, and the maker asks for {need}.", with...)
	case has*(1-off) < need.Amps:
		return unsure(CCA, "{has} by conversion, which is only about right; the maker asks for {need}.", with...)
	}
	return holds(CCA, "{has}; the maker asks for {need}.", with...)
}

func ampsSaid(amps float64, s rating.Standard) string { return fmt.Sprintf("%.0f A %s", amps, s) }

func coldLine(l *looked) *Ruled {
	e, sure, ok := l.r.engine()
	if l.r.ColdestC == nil || !ok || !l.st.known {
		return nil
	}
	amps, ok := l.winters.of(l.st)
	if !ok {
		return unsure(Cold, "Its label's figures do not go together: read it again.")
	}
	coldest := *l.r.ColdestC
	below := e.FailsBelow(amps)
	with := []any{"coldest", measure.Degrees(coldest), "below", measure.Degrees(below.Best)}
	switch {
	case below.Best > coldest:
		return fails(Cold, "Not quite full it stops turning this engine below {below}; it gets {coldest} here.", with...)
	case below.High > coldest && sure:
		return unsure(Cold, "Not quite full it should just turn this engine at {coldest}.", with...)
	}
	return holds(Cold, "Not quite full it still turns this engine at {coldest}.", with...)
}

func capacityLine(l *looked) *Ruled {
	type figure struct{ need, has, off float64 }
	of := func(need float64, printed *float64, f battery.Figure) figure {
		if printed != nil {
			return figure{need, *printed, 0}
		}
		return figure{need, f.Value, f.Spread}
	}
	var f figure
	unit, digits := measure.AmpHour, 0
	switch {
	case l.n.Ah20h == 0 && l.n.RCMin == 0:
		return nil
	case !l.st.known:
		return unsure(Capacity, "Its label has no figure: read it.")
	case l.n.Ah20h > 0 && (l.s.Rating.Ah20h != nil || l.n.RCMin == 0):
		f = of(l.n.Ah20h, l.s.Rating.Ah20h, l.st.plate.Ah20h)
	default:
		f, unit = of(l.n.RCMin, l.s.Rating.RCMin, l.st.plate.RCMin), measure.Minute
	}
	with := []any{"has", measure.Of(f.has, unit, digits), "need", measure.Of(f.need, unit, digits)}
	switch {
	case f.has < f.need:
		return fails(Capacity, "{has}, and the maker asks for {need}.", with...)
	case f.has*(1-f.off) < f.need:
		return unsure(Capacity, "About {has} by its label; the maker asks for {need}.", with...)
	}
	return holds(Capacity, "{has}; the maker asks for {need}.", with...)
}

// serves are the builds that may stand in place of one that is asked for, the one itself
// first. Common practice, no source: nothing less than what a stop-start system asks for,
// and gel only where gel was.
var serves = map[battery.Chemistry][]battery.Chemistry{
	battery.Flooded:       {battery.Flooded, battery.FloodedSealed, battery.EFB, battery.AGM},
	battery.FloodedSealed: {battery.FloodedSealed, battery.Flooded, battery.EFB, battery.AGM},
	battery.EFB:           {battery.EFB, battery.AGM},
	battery.AGM:           {battery.AGM},
	battery.Gel:           {battery.Gel},
	battery.AGMDeepCycle:  {battery.AGMDeepCycle},
}

// asked gives the build that is asked for: by the maker, or at least by stop-start; false
// where nothing is.
func (l *looked) asked() (battery.Chemistry, bool) {
	c := l.n.Chemistry
	if l.r.Vehicle.StopStart && (c == "" || c == battery.Flooded || c == battery.FloodedSealed) {
		return battery.EFB, true
	}
	return c, c != ""
}

func chemistryLine(l *looked) *Ruled {
	w := battery.ChemistryWords()
	need, ok := l.asked()
	has := l.s.Chemistry
	with := []any{"has", w.Said(string(has)), "need", w.Said(string(need))}
	switch {
	case !ok:
		return unsure(Chemistry, "{Has}. Look what build stood there.", with...)
	case has == need:
		return holds(Chemistry, "{Has}, as the maker asks.", with...)
	case slices.Contains(serves[need], has):
		return holds(Chemistry, "{Has} may stand in place of {need}.", with...)
	case l.r.Vehicle.StopStart && has.Liquid() && has != battery.EFB:
		return fails(Chemistry, "{Has} wears out in months under stop and start: it takes {need} or better.", with...)
	}
	return fails(Chemistry, "{Has}, and the vehicle charges and uses {need}.", with...)
}

// chargingSlack is how far a charging system may hold over what its build is charged with,
// volts of twelve: regulators and meters differ. House judgement.
const chargingSlack = 0.1

func chargingLine(l *looked) *Ruled {
	absorbed := !l.s.Chemistry.Liquid()
	if l.n.Unregulated && absorbed {
		return fails(Charging, "Nothing limits this vehicle's volts, and {build} dries out above its own.",
			"build", battery.ChemistryWords().Said(string(l.s.Chemistry)))
	}
	if l.n.ChargingV == 0 {
		return nil
	}
	k := cmp.Or(l.r.Vehicle.SystemVolts, 12) / 12
	most := charge.LimitsOf(l.s.Chemistry).AbsorptionHigh * k
	with := []any{"volts", measure.Volts(l.n.ChargingV, 1), "most", measure.Volts(most, 1)}
	if l.n.ChargingV > most+chargingSlack*k {
		return fails(Charging, "The vehicle holds {volts}, and its build takes {most} at most.", with...)
	}
	return holds(Charging, "The vehicle holds {volts}; its build takes up to {most}.", with...)
}

func ageLine(l *looked) *Ruled {
	with := []any{"months", measure.Plain(float64(l.st.months), 0)}
	switch {
	case !l.st.dated:
		return unsure(Age, "No date on it: it may have stood for years.")
	case l.st.ahead:
		return unsure(Age, "Its date is still to come: read it again.")
	case l.st.months >= oldMonths:
		return fails(Age, "Made {months} months ago: no longer sold as new.", with...)
	case l.st.months >= freshMonths:
		return holds(Age, "Made {months} months ago: it has stood, so its test counts.", with...)
	case l.st.months == 0:
		return holds(Age, "Made this month.")
	}
	return holds(Age, "Made {months} months ago: fresh.", with...)
}

// condemned are verdicts after which none is sold as new.
var condemned = []string{"replace", "weak", "stop"}

func testedLine(l *looked) *Ruled {
	t := l.s.Tested
	with := []any{"soc", measure.Percents(l.st.soc), "pct", measure.Percents(l.st.foundPct)}
	switch {
	case t != nil && slices.Contains(condemned, t.Verdict):
		return fails(TestedNew, "Its own sheet came to a bad end: not as new.")
	case l.s.DryCharge:
		return unsure(TestedNew, "Dry until it is sold: fill it, charge it, then test it.")
	case t == nil || t.RestVolts == 0:
		return unsure(TestedNew, "Nobody has tested it: test it before it is fitted.")
	case !l.st.tested:
		return unsure(TestedNew, "Its last test is too long ago: test it before it is fitted.")
	case l.st.foundPct > 0 && l.st.strongSOC && l.st.foundPct < asNewPct:
		return fails(TestedNew, "The tester found {pct} of its label: not as new.", with...)
	case l.st.soc < stoodFlatSOC:
		return unsure(TestedNew, "It has stood flat, at {soc}: charge it, rest it, then test it.", with...)
	case l.st.foundPct > 0 && !l.st.strongSOC:
		return unsure(TestedNew, "At {soc} a tester's figure says little: charge it, then test it.", with...)
	case l.st.soc < readySOC:
		return holds(TestedNew, "At {soc}: charge it before it is fitted.", with...)
	}
	return holds(TestedNew, "At {soc}, ready.", with...)
}

// pairMonths is how far apart in age two batteries that share a load may be. House
// judgement: the weaker one drags the other down.
const pairMonths = 6

func pairLine(l *looked) *Ruled {
	if a := l.r.Vehicle.Arrangement; a != "parallel" && a != "series" {
		return nil
	}
	if l.pair > 0 {
		return holds(Pair, "Both are replaced, and there is another like it.")
	}
	return fails(Pair, "Both are replaced, and there is no other like it.")
}
