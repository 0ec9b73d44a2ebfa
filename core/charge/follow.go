package charge

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Follows is how a battery on a charger is doing, in a sentence, and what to do now
// where hands are needed.
type Follows struct {
	Code string     `json:"code" enum:"sound,unsure,shorted_cell,sulphated,off,weak_charger,hot,full"`
	Sign string     `json:"sign" enum:"ok,note,act,stop"`
	Text words.Text `json:"text" doc:"what it is"`
	Do   words.Text `json:"do" doc:"what to do now; empty where nothing is"`
}

// More of what a look may show besides the readings an estimate weighs.
const (
	HotNow  = "hot"    // it is too hot to go on
	FullNow = "full"   // it is full
	Unsure  = "unsure" // something does not follow, and it is not sure what

)

// Follow says how a battery is doing by its checks, the last of them, and the forecast
// the estimate makes.
func (e Estimate) Follow(f Forecast, last Check) Follows {
	hours := func(h Hours) measure.Quantity { return measure.Of(h.Best, measure.Hour, 1) }
	switch {
	case last.Warmth == Hot || last.TempC != nil && *last.TempC >= HotC:
		return Follows{HotNow, "stop", words.Say(saysHotNow), words.Say(doHotNow, "limit", measure.Degrees(HotC))}
	case e.Named == Shorted:
		return Follows{Shorted, "stop", words.Say(saysShorted), words.Say(doShorted)}
	case e.Named == Sulphated, e.World == Sound && refuses(f, last):
		return Follows{Sulphated, "note", words.Say(saysSulphated, "hours", hours(f.Delay)), words.Say(doSulphated)}
	case e.Named == Off:
		return Follows{Off, "act", words.Say(saysOff), words.Say(doOff)}
	case e.Named == Weak:
		return Follows{Weak, "act", words.Say(saysWeak), words.Say(doWeak)}
	case e.World != Sound, strays(f.At(last.Minutes), last, e.Setup.Battery):
		return Follows{Unsure, "act", words.Say(saysUnsure), words.Say(doUnsure)}
	case f.Full != nil && last.Minutes/60 >= f.Full.Best:
		return Follows{FullNow, "ok", words.Say(saysFullNow), words.Say(doFullNow)}
	}
	return Follows{Code: Sound, Sign: "ok", Text: words.Say(saysSound)}
}

// strays reports whether a look lies so far from what the forecast has for it that it is no
// slip of a meter. House judgement.
func strays(now Instant, look Check, b battery.Battery) bool {
	if look.Volts != nil && math.Abs(*look.Volts-now.Volts) > strayVolts*float64(b.Cells())/6 {
		return true
	}
	return look.Amps != nil && math.Abs(*look.Amps-now.Amps) > strayAmps+strayPart*now.Amps
}

const (
	strayVolts = 0.4 // of six cells
	strayAmps  = 0.5
	strayPart  = 0.4
)

// refuses reports whether a battery takes next to nothing, as it was expected to for a
// while yet.
func refuses(f Forecast, last Check) bool {
	if last.Amps == nil || last.Minutes >= 60*f.Delay.Best {
		return false
	}
	later := f.At(60*f.Delay.Best + 1).Amps
	return *last.Amps < later/2
}

const (
	saysSound     = "It charges like a sound battery."
	saysFullNow   = "Full by the forecast."
	doFullNow     = "Off at the wall, let it rest, then test."
	saysHotNow    = "Too hot to go on."
	doHotNow      = "Off at the wall now. Under {limit} and cool to the hand before anything else."
	saysShorted   = "Volts stall a cell short while it takes its amps: a shorted cell?"
	doShorted     = "Take it off: it only gets warm. Rest it, read its volts and the cells."
	saysSulphated = "At the charger’s volts, and next to no amps: hard sulphate. About {hours} before it takes current."
	doSulphated   = "Leave it on at low amps, look for current and heat. Clean clamps first."
	saysOff       = "No amps, and the volts of a battery at rest: nothing charges it."
	doOff         = "Clamps tight? Socket live, not switched with the lights? Charger’s fuse?"
	saysWeak      = "Far fewer amps than this charger gives, with volts to spare."
	doWeak        = "Check its setting and its leads, or hang it on another charger."
	saysUnsure    = "It does not follow its forecast, and one look does not say why."
	doUnsure      = "Look again in ten minutes: volts at the posts, amps, its warmth."
)
