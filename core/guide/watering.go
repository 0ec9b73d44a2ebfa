package guide

import (
	"grapnel/core/reading"
	"grapnel/core/words"
)

// water fills the cells: just over the plates before a charge, to the mark after it.
func (b *builder) water() {
	say := words.Say
	b.phase = Safe
	b.add(Task{Code: "ready", Do: say("Goggles on, no flame"),
		Why:      say("Distilled or de-ionised water only, a torch, a filler with a thin spout. Nothing that burns nearby."),
		Cautions: []string{"acid", "hydrogen"}, Draw: Draw{View: "hands"}})
	b.add(Task{Code: "lid", Do: say("Wipe the lid"),
		Why:      say("Before any cap is opened: what lies on it must not fall into a cell."),
		Cautions: []string{"acid"},
		Draw:     Draw{View: "bench", Act: "wipe", On: "lid"}})
	b.phase = Off
	b.add(Task{Code: "caps_off", Do: say("Caps off, laid in order"),
		Why: say("Upside down on a clean rag, one for each cell."), Cautions: []string{"acid"},
		Off:   []string{Caps},
		After: []string{"lid"}, Draw: Draw{View: "cells", Act: "off", On: Caps}})
	b.phase = Work
	b.add(Task{Code: "levels", Do: say("Read every cell’s level"),
		Why:  say("Plates bare, just covered, at the mark, or over it: cell by cell."),
		Look: say("One cell far below the others: is the case cracked there?"), Cautions: []string{"acid"},
		After: []string{"caps_off"}, Enter: []string{"levels"},
		Draw: Draw{View: "cells", Act: "look"}})
	fill := reading.Of("put_right", reading.Fields{"what": []string{"watered"}})
	if !b.Site.Full {
		b.add(Task{Code: "cover", Do: say("Just over the plates"),
			Why:      say("No more before the charge: the acid rises as it charges, and would run over."),
			Cautions: []string{"acid"}, After: []string{"caps_off"}, Draw: Draw{View: "cells", Act: "fill"},
			records: &fill})
		b.add(Task{Code: "caps_on", Do: say("Caps on, tight"), Why: say("They keep sparks out while it gasses."),
			Cautions: []string{"hydrogen"}, Back: []string{Caps},
			Draw: Draw{View: "cells", Act: "on", On: Caps}})
		b.add(Task{Code: "charge", Do: say("Charge it full"),
			Why:      say("Then the water is mixed in, and the level is the true one."),
			Cautions: []string{"hydrogen"},
			After:    []string{"caps_on"}, Charge: true, Draw: Draw{View: "bench", Act: "charge"}})
		b.add(Task{Code: "caps_off_again", Do: say("Wait an hour, caps off again"),
			Why: say("The bubbles are gone then. Wipe the lid before."), Cautions: []string{"acid", "hydrogen"},
			Off: []string{Caps}, After: []string{"charge"}, Draw: Draw{View: "cells", Act: "off", On: Caps}})
	}
	mark := Task{Code: "mark", Do: say("Fill to the mark"),
		Why:      say("To the ring under the filler hole, or 6 mm under it; never to the brim."),
		Cautions: []string{"acid"},
		After:    []string{"caps_off", "caps_off_again"}, Draw: Draw{View: "cells", Act: "mark"}}
	if b.Site.Full {
		mark.records = &fill
	}
	b.add(mark)
	b.phase = On
	b.add(Task{Code: "caps_tight", Do: say("Caps tight, lid dry"),
		Why: say("A wet lid leaks current from post to post."), Cautions: []string{"acid"},
		Back:  []string{Caps},
		Later: say("Water lost again soon is overcharging: look at the charging volts."),
		Draw:  Draw{View: "cells", Act: "on", On: Caps}})
}
