package guide

import (
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// clean makes lid and contacts good.
func (b *builder) clean() {
	say := words.Say
	lid := b.Site.Scope == LidOnly
	bench := b.Site.School == rules.CleanOnBench && !lid
	b.phase = Safe
	b.ready("Soda in water, clean water, rags, a tray beneath at hand.")
	before := Task{Code: "before", Do: say("Read it as it is"),
		Why:   say("Lid and rest volts, and the drop over both cables if it turns: against these the work is proven."),
		Enter: []string{"lid_leakage", "rest_voltage", "cable_drop"},
		Draw:  Draw{View: b.where(), Act: "measure", On: "lid"}}
	if b.Vehicle.Electric() { // no starter of 12 V draws through its cables
		before.Why, before.Enter = say("Lid and rest volts: against these the work is proven."), []string{"lid_leakage",
			"rest_voltage"}
	}
	if lid {
		before.Why, before.Enter = say("One probe on a post, the other over the lid and the cap seams: the highest."), []string{"lid_leakage"}
	}
	b.add(before)
	b.reach()
	if !lid {
		b.keepAlive()
	}
	at := b.where()
	b.add(Task{Code: "lid", Do: say("Wipe the lid"),
		Why: say("Damp, before any cap or clamp moves. Nothing is blown about."), Cautions: []string{"acid"},
		Draw: Draw{View: at, Act: "wipe", On: "lid"}})
	if !lid {
		b.phase = Off
		b.cablesOff()
		if bench {
			b.loose()
			b.lift("into a catch tray on the bench.")
			at = "bench"
		}
	}
	b.phase = Work
	if !lid {
		b.add(Task{Code: "crust", Do: say("Wet the crust, scrape it off"),
			Why:      say("Plastic or wood, into the tray. Never dry, never blown: the dust burns eyes and lungs."),
			Cautions: []string{"cleaning", "acid"},
			After:    []string{"live_off"}, Draw: Draw{View: at, Act: "scrape", On: Live}})
	}
	tight := Task{Code: "caps_tight", Do: say("Caps tight, vents covered"),
		Why: say("No soda may get into a cell: it kills it."), Draw: Draw{View: "vents", Act: "close"}}
	if !b.Battery.Opens() {
		tight.Do, tight.Why = say("Vents covered"), say("A strip of tape over each: no soda may get in.")
	}
	b.add(tight)
	b.add(Task{Code: "soda", Do: say("Soda water, wiped on"),
		Why:      say("A spoonful in a cup, by cloth or brush, never poured. Again until nothing fizzes: then no acid is left."),
		Cautions: []string{"cleaning", "acid"},
		After:    []string{"caps_tight"}, Draw: Draw{View: at, Act: "soda", On: "lid"}})
	if !lid {
		dip := Task{Code: "dip", Do: say("Dip the loose ends"),
			Why:      say("Clamps, bolts and hold-down into the cup until the fizz stops, then into clean water."),
			Cautions: []string{"cleaning"},
			After:    []string{"earthed_off", "live_off"}, Draw: Draw{View: "cable", Act: "dip", On: Earthed}}
		if b.Site.KeepAlive != NoKeepAlive {
			dip.Do, dip.Cautions = say("Dip the earthed end only"), []string{"hood", "cleaning"}
			dip.Why = say("The live one is live: a damp cloth round it, touching nothing else, and the hood again.")
		}
		b.add(dip)
	}
	rinse := Task{Code: "rinse", Do: say("Rinse, then dry"),
		Why:      say("A little clean water on a rag, then a dry one, until the lid squeaks."),
		Cautions: []string{"acid"}, After: []string{"soda"},
		Draw: Draw{View: at, Act: "rinse", On: "lid"}}
	b.add(rinse)
	what := []string{"lid"}
	if !lid {
		b.bright(at)
		if bench {
			b.add(Task{Code: "tray", Do: say("Tray and hold-down too"),
				Why: say("Soda, rinse, dry. Paint what is bare."), Cautions: []string{"cleaning"},
				Look:  say("Acid there has a cause: tipping, overcharging, a crack."),
				After: []string{"lift"}, Draw: Draw{View: "tray", Act: "soda"}})
		}
		b.phase = On
		if bench {
			b.lower("Back in, + on the {side}", "By its handle, level, flat on the tray.", Elbow)
		}
		b.cablesOn()
		what = []string{"posts", "clamps", "lid"}
		if bench {
			what = append(what, "tray")
		}
		b.protect()
	}
	b.phase = On
	b.shut()
	cleaned := reading.Of("cleaned", reading.Fields{"what": what})
	b.add(Task{Code: "waste", Do: say("Tidy up, then gloves off"),
		Why:      say("Brushes rinsed, runoff and rags caught and disposed of by law. New gloves before you touch face or car."),
		Cautions: []string{"acid"},
		Draw:     Draw{View: "waste"}, records: &cleaned})
	b.phase = Prove
	b.add(Task{Code: "after", Do: say("Read it again"), Why: before.Why, Enter: before.Enter,
		After: []string{"waste", "earthed_on"}, Draw: Draw{View: b.where(), Act: "measure", On: "lid"}})
	if !lid {
		b.reset()
	}
}

// bright brings the contacts to bright metal, and judges the cables.
func (b *builder) bright(at string) {
	say := words.Say
	name, _, _ := b.fastener()
	posts := Task{Code: "posts", Do: say("Posts bright all round"),
		Why: say("Brush or emery, the far side too. No steel wool."), After: []string{"live_off"},
		Draw: Draw{View: at, Act: "brush", On: Live}}
	switch b.terminals() {
	case "side":
		posts.Do, posts.Why = say("Pads bright, threads clean"), say("The lead pad carries the current, not the thread. An oxidised bolt is replaced.")
	case "stud":
		posts.Do, posts.Why = say("Studs and faces bright"), say("The face carries the current, not the thread. Pitted nuts and screws are replaced.")
	}
	b.add(posts)
	b.ends(name)
}

// ends brings the cables' ends to bright metal and judges them.
func (b *builder) ends(name string) {
	say := words.Say
	ends := Task{Code: "ends", Do: say("Cable ends bright, both"),
		Why:   say("Inside of each {clamp}; then the far ends: earth at body and engine off, bright, tight; the live one at starter or fuse box looked at.", "clamp", name),
		After: []string{"earthed_off", "live_off"}, Draw: Draw{View: "cable", Act: "brush", On: Earthed}}
	if b.Site.KeepAlive != NoKeepAlive {
		ends.Cautions = []string{"hood"}
	}
	b.add(ends)
	mended := reading.Of("put_right", reading.Fields{"what": []string{"cable"}})
	green := reading.Of("inspection", reading.Fields{"found": []string{"strands_green"}})
	eaten := reading.Of("inspection", reading.Fields{"found": []string{"clamp_eaten"}})
	judge := Task{Code: "judge", Do: say("Judge both cables"),
		Why: say("Thin, cracked or eaten {clamp}: a new end. Green in the strands: a new cable, it cannot be saved.",
			"clamp", name),
		Look: say("Bend it near the end: does it crackle, is it thick under the cover?"),
		Draw: Draw{View: "cable", Act: "look", On: Live},
		Choices: []Choice{{Code: "sound", Word: "Both sound"},
			{Code: "renewed", Word: "Renewed now", Says: say("End or cable, crimped; no bolt-on ends on a vehicle with a computer."), records: &mended},
			{Code: "end_later", Word: "End wants renewing", Says: say("A bolt-on end only gets it home."), records: &eaten},
			{Code: "cable_later", Word: "Cable wants renewing",
				Says: say("Green strands: it goes on the sheet, and the verdict waits for it."), records: &green}}}
	b.add(judge)
}
