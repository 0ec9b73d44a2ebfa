package guide

import (
	"slices"

	"grapnel/core/words"
)

// waits are the hazards that are dealt with before any hand goes on the battery, and what is
// done first. Common practice, no source.
var waits = map[string]string{
	"frozen":           "It is frozen: leave it alone until it is thawed and looked at.",
	"ice":              "It may be frozen: let it thaw, then look at the case.",
	"rotten_egg_smell": "It is gassing: charger off, fresh air, no spark. Come back when the smell is gone.",
	"hot":              "It is too hot to touch: charger off, let it cool.",
}

// finished are the hazards that end a battery: it is only taken out, in gloves and a tray.
var finished = map[string]string{
	"case_bulged":  "The case is bulged: nothing is cleaned or filled. Replace it.",
	"case_cracked": "The case is cracked: nothing is cleaned or filled. Replace it.",
	"leaking":      "It leaks: nothing is cleaned or filled. Replace it.",
	"eye_clear":    "Its eye is clear, the acid is below the plates: replace it.",
}

const (
	dryFirst   = "The plates are dry: water first, then the rest."
	notOpens   = "Its caps do not come off: no water goes in. Low acid in a sealed battery is its end."
	otherFirst = "{hazard}: put that right first."
)

// refuse gives why a procedure is not begun, or not gone on with, and the hazards or other
// reasons it hangs on; none where nothing speaks against it.
func (s *Scene) refuse(what string) (words.Text, []string) {
	for _, h := range s.Hazards {
		text, wait := waits[h.Code]
		if over, ok := finished[h.Code]; ok && what != Replacing {
			text, wait = over, true
		}
		if h.Code == "plates_dry" && (what == Cleaning || keeps(what)) {
			text, wait = dryFirst, true
		}
		if _, known := finished[h.Code]; !wait && !known && h.Code != "plates_dry" { // one nobody has thought of here
			text, wait = otherFirst, true
		}
		if wait {
			return words.Say(text, "hazard", h.Name), []string{h.Code}
		}
	}
	if what == Watering && !s.Battery.Opens() {
		return words.Say(notOpens), []string{"sealed"}
	}
	return words.Text{}, nil
}

// instead gives the guide that comes before one that is refused; empty where none does.
func instead(what, because string) string {
	if _, over := finished[because]; over {
		return Replacing
	}
	if because == "plates_dry" && (what == Cleaning || keeps(what)) {
		return Watering
	}
	return ""
}

// unsafe reports whether the battery itself is a danger to who lifts it out.
func (s *Scene) unsafe() bool {
	return slices.ContainsFunc(s.Hazards, func(h Hazard) bool { _, ok := finished[h.Code]; return ok && h.Code != "eye_clear" })
}
