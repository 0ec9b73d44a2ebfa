package charge

import (
	"math"
	"slices"

	"grapnel/core/battery"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Warning is something to mind, or a refusal.
type Warning struct {
	Code string     `json:"code"`
	Text words.Text `json:"text"`
}

// Case is what is around a charge besides battery and charger: what forbids it, and
// where it happens.
type Case struct {
	Hazards     []string // of a battery that must not be charged; see Hazards
	InVehicle   bool
	TakeOut     bool // the house charges this class out of the vehicle
	Equalise    bool // equalising is asked for
	Sealed      bool // its caps do not come off
	Arrangement string
	Earth       string // side of the vehicle's body
	OnBody      bool   // the maker wants the earthed clamp on bare metal
}

// hazards are what keeps a battery from being charged at all.
var hazards = words.ListOf(
	words.Term{Code: "frozen", Word: "Frozen"},
	words.Term{Code: "case_bulged", Word: "Case bulged"},
	words.Term{Code: "case_cracked", Word: "Case cracked"},
	words.Term{Code: "leaking", Word: "Leaking"},
	words.Term{Code: "clear_eye", Word: "Eye clear or yellow"},
	words.Term{Code: "plates_dry", Word: "Plates dry"},
	words.Term{Code: "hot", Word: "Got hot on charge"})

// Hazards gives what keeps a battery from being charged.
func Hazards() words.List { return hazards }

// instead is what to do about a hazard.
var instead = map[string]string{
	"frozen": insteadFrozen, "case_bulged": insteadCase, "case_cracked": insteadCase, "leaking": insteadLeak,
	"clear_eye": insteadEye, "plates_dry": insteadDry, "hot": insteadHot,
}

// Refusals gives why a battery is not charged, or not so, and what to do instead.
func (s Setup) Refusals(c Case) []Warning {
	var out []Warning
	add := func(code, text string, with ...any) { out = append(out, Warning{code, words.Say(text, with...)}) }
	for _, h := range c.Hazards {
		if text, ok := instead[h]; ok {
			add(h, text)
		}
	}
	soc := s.Battery.SOC(s.State)
	if frozen, at := ice(s.Battery.Chemistry, soc, s.State.TempC); frozen && !slices.Contains(c.Hazards, "frozen") {
		add("may_be_ice", refuseIce, "soc", measure.Percents(soc), "at", measure.Degrees(at), "now", measure.Degrees(s.State.TempC))
	}
	if s.State.TempC >= HotC {
		add("too_hot", refuseHot, "now", measure.Degrees(s.State.TempC), "limit", measure.Degrees(HotC))
	}
	cells := float64(s.Battery.Cells())
	if v := s.highest(); v > wrongSystem*cells {
		add("wrong_volts", refuseVolts, "volts", measure.Volts(v, 1), "nominal", measure.Volts(2*cells, 0))
	}
	if c.Equalise {
		switch {
		case s.Battery.Chemistry != battery.Flooded || c.Sealed:
			add("never_equalise", refuseEqualise)
		case c.InVehicle:
			add("equalise_out", refuseEqualiseIn)
		}
	}
	return out
}

// wrongSystem is the volts a cell no charger of the right system reaches: a 12 V charger
// on 6 V has twice that.
const wrongSystem = 3.2

// highest is the volts the charger lifts a battery to at most.
func (s Setup) highest() float64 {
	most := 0.0
	for _, g := range s.Charger.stages(s.Battery) {
		most = max(most, g.source.Volts)
	}
	return most
}

// Warnings gives what to mind about a charge that is not refused.
func (s Setup) Warnings(c Case, f Forecast) []Warning {
	var out []Warning
	add := func(code, text string, with ...any) { out = append(out, Warning{code, words.Say(text, with...)}) }
	b, temp, l := s.Battery, s.State.TempC, LimitsOf(s.Battery.Chemistry)
	k := float64(b.Cells()) / 6
	amps, ah := s.Charger.nominal(b), b.Ah20h

	shows := s.Shows
	if shows == 0 {
		shows = b.Terminal(s.State).Volts
	}
	if from := s.Charger.starts(b); shows < from {
		add("will_not_start", warnStart, "shows", measure.Volts(shows, 1), "from", measure.Volts(from, 1))
	}
	switch {
	case temp < NearFreezingC:
		add("warm_first", warnFreezing, "now", measure.Degrees(temp))
	case temp < ColdC:
		add("cold", warnCold, "now", measure.Degrees(temp))
	}
	if f.Delayed() {
		text := warnDelayLow
		if s.across() >= refusedHighVolts*k {
			text = warnDelayHigh
		}
		add("refuses_first", text, "hours", measure.Of(f.Delay.Best, measure.Hour, 0), "high", measure.Volts(refusedHighVolts*k, 0))
	}
	if f.HotAt != nil {
		add("gets_hot", warnHot, "limit", measure.Degrees(HotC), "hours", measure.Of(f.HotAt.Best, measure.Hour, 1))
	}
	switch {
	case amps > l.FastPart*ah*(1+1e-9):
		add("charger_too_big", warnTooBig, "amps", measure.Of(amps, measure.Amp, measure.Exact), "most", measure.Of(RateAmps(RateTenth, b.Chemistry, ah, 0), measure.Amp, measure.Exact))
	case amps > l.KindPart*ah*(1+overKind):
		add("watch_it", warnWatch, "amps", measure.Of(amps, measure.Amp, measure.Exact), "kind", measure.Of(RateAmps(RateTenth, b.Chemistry, ah, 0), measure.Amp, measure.Exact))
	case amps < tooSmallPart*ah:
		add("charger_too_small", warnTooSmall, "amps", measure.Of(amps, measure.Amp, measure.Exact), "ah", measure.Of(ah, measure.AmpHour, 0))
	}
	high := s.highest()
	switch {
	case s.Charger.Stops() && high > l.AbsorptionHigh*k+voltsSlack:
		add("volts_too_high", warnVoltsHigh, "volts", measure.Volts(high, 1), "most", measure.Volts(l.AbsorptionHigh*k, 1))
	case s.Charger.Stops() && high < l.AbsorptionLow*k-voltsSlack:
		add("volts_too_low", warnVoltsLow, "volts", measure.Volts(high, 1), "least", measure.Volts(l.AbsorptionLow*k, 1))
	case !s.Charger.Stops() && !b.Chemistry.Liquid() && high > l.AbsorptionHigh*k+voltsSlack:
		add("not_held", warnNotHeld, "most", measure.Volts(l.AbsorptionHigh*k, 1))
	}
	if !s.Charger.Stops() {
		switch {
		case s.Charger.Kind == Trickle:
			add("trickle", warnTrickle)
		case f.Full != nil:
			add("switch_off", warnSwitchOff, "hours", measure.Of(f.Full.Best, measure.Hour, 1))
		}
	}
	if f.Says != nil {
		add("full_too_soon", warnSays, "hours", measure.Of(f.Says.Hours, measure.Hour, 1), "soc", measure.Percents(f.Says.SOCPct))
	}
	if f.Full == nil && f.HotAt == nil {
		add("never_full", warnNever)
	}
	if c.Equalise {
		add("equalising", warnEqualise, "low", measure.Volts(l.EqualiseLow*k, 1), "high", measure.Volts(l.EqualiseHigh*k, 1))
	} else if !b.Chemistry.Liquid() {
		add("own_setting", warnOwnSetting)
	}
	if c.InVehicle && c.TakeOut {
		add("take_out", warnTakeOut)
	}
	if c.Arrangement == "parallel" || c.Arrangement == "series" {
		add("one_by_one", warnOneByOne)
	}
	return out
}

// refusedHighVolts is the volts across a refusing battery of six cells from which the
// wait is up to 4 hours, and under which it is 8 to 16. Common practice, no source.
const refusedHighVolts = 16.0

// across is the volts a refusing battery shows on this charger after some minutes.
func (s Setup) across() float64 {
	g := s.Charger.stages(s.Battery)[0]
	x, err := s.Battery.Run(s.State, battery.Duty{Source: g.source, Ambient: s.Room, Seconds: 2 * settleSeconds, Tolerance: bandTolerance})
	if err != nil {
		return math.NaN()
	}
	return x.Volts
}

// House judgement: how far over a tenth of its ampere-hours is still a tenth, what is
// too little to fill it in two days, and how far volts may lie outside a maker's.
const (
	overKind     = 0.10
	tooSmallPart = 0.02
	voltsSlack   = 0.05
)

const (
	insteadFrozen = "It is frozen: do not charge it. Let it thaw in fresh air, then look for a split case; most are scrap."
	insteadCase   = "Bulged or cracked: do not charge it. Soda, gloves, a tray, and to the recycler."
	insteadLeak   = "It leaks: do not charge it. Neutralise the acid, carry it level in a tray, to the recycler."
	insteadEye    = "A clear eye is low acid: do not charge, test or jump it. Replace it."
	insteadDry    = "Dry plates: do not charge it. Where the caps come off, distilled water just over the plates first."
	insteadHot    = "It got hot on charge: leave it off. Let it cool, then find out why before anything else."

	refuseIce        = "At {soc} it freezes at {at}, and it is at {now}: it may be ice. Thaw it and look before any charge."
	refuseHot        = "It is at {now} already, the limit is {limit}: let it cool first."
	refuseVolts      = "{volts} is the wrong charger for a {nominal} battery."
	refuseEqualise   = "Never equalise this build: it cannot be topped up again, and dries out for good."
	refuseEqualiseIn = "Equalise only with the battery disconnected from the vehicle: its electronics do not stand the volts."

	warnStart      = "It shows {shows}, and this charger starts from {from}: wake it with a good battery in parallel, by the charger’s own instructions."
	warnFreezing   = "At {now} it takes next to nothing: warm it first."
	warnCold       = "At {now} it takes slowly: a warm shop saves hours."
	warnDelayHigh  = "Flat for long: about {hours} before it takes current. {high} or more across it: up to 4 h is usual. That wait is not charging time."
	warnDelayLow   = "Flat for long: about {hours} before it takes current. Under {high} across it: 8 to 16 h is usual. That wait is not charging time."
	warnHot        = "It reaches {limit} after about {hours}: fewer amps."
	warnTooBig     = "{amps} is too much for this battery: {most} or less."
	warnWatch      = "{amps} is more than a tenth of its Ah: only with somebody beside it. {kind} can be left."
	warnTooSmall   = "{amps} is little for {ah}: it keeps it full, it hardly fills it."
	warnVoltsHigh  = "{volts} is over the {most} its build stands."
	warnVoltsLow   = "{volts} is under the {least} it needs to fill."
	warnNotHeld    = "Nothing holds this charger to the {most} its build stands: volts watched, off by hand."
	warnTrickle    = "A trickle charger never stops: it boils a full battery dry. Off by hand."
	warnSwitchOff  = "This charger does not stop: off by hand after about {hours}."
	warnSays       = "The charger may call it full after {hours}, at about {soc}: too soon."
	warnNever      = "It does not get full on this charger within ten days."
	warnEqualise   = "Equalising, {low} to {high}: caps off, fresh air, gassing and level watched, vehicle disconnected."
	warnOwnSetting = "The AGM or gel setting, never equalised, caps shut."
	warnTakeOut    = "This house charges this class out of the vehicle, on a clear bench."
	warnOneByOne   = "Two batteries: disconnect them and charge each by itself."
)
