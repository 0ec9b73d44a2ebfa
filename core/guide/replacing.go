package guide

import "grapnel/core/words"

// replace takes the old battery out and puts the right new one in.
func (b *builder) replace() {
	say := words.Say
	name, _, _ := b.fastener()
	b.phase = Safe
	b.ready("The new one beside it, tested and charged.")
	fresh := Task{Code: "new", Do: say("The new one: tested, charged"),
		Why:      say("A new battery may be old, flat or bad. Its volts and its strength first, then the spanner."),
		Enter:    []string{"fit"},
		Cautions: []string{"hydrogen"}, Draw: Draw{View: "compare", Act: "measure"}}
	if b.pair() {
		fresh.Do, fresh.Why = say("Two new ones, alike"), say("Same label, same age, both tested and charged: an old one drags its new twin down.")
	}
	b.add(fresh)
	b.reach()
	b.keepAlive()
	b.phase = Off
	b.cablesOff()
	b.loose(Plug)
	b.lift("into a tray on the bench.")
	b.phase = Work
	b.add(Task{Code: "tray", Do: say("Look under it, clean the tray"),
		Why: say("Soda, rinse, dry. Nothing sharp under the new one."), Cautions: []string{"cleaning"},
		Look:  say("Acid there has a cause: tipping, overcharging, a crack."),
		After: []string{"lift"}, Draw: Draw{View: "tray", Act: "soda"}})
	b.ends(name)
	b.add(Task{Code: "compare", Do: say("Old and new, side by side"),
		Why:  say("Length, width, height; + on the same side; same terminals, same ledge, same vent."),
		Look: say("Caps off the new one’s posts; its vent not plugged at both ends."),
		Draw: Draw{View: "compare", Act: "look"}})
	moves := "Handle and labels stay with the old one."
	if moved := b.of(Elbow, Plug); len(moved) > 0 {
		moves = "From the old one to the new, on the same side: gas goes out by the tube, and nowhere else."
	}
	b.add(Task{Code: "swap", Do: say(b.swaps()), Why: say(moves), Back: b.of(Elbow, Plug),
		After: []string{"lift"}, Draw: Draw{View: "vents", Act: "move", On: Elbow}})
	b.phase = On
	b.lower("New one in, + on the {side}", "By its handle, level, turned as the old one stood.")
	b.cablesOn()
	b.protect()
	b.shut()
	b.phase = Prove
	b.reset()
	b.add(Task{Code: "old", Do: say("Label the old one, tape its posts"),
		Why:      say("Upright in the rack for the recycler, its core on the sheet. Lead and acid go by law."),
		Cautions: []string{"recycle"}, Draw: Draw{View: "old"},
		Choices: []Choice{{Code: "returned", Word: "Core returned"}, {Code: "recycler", Word: "Kept for the recycler"},
			{Code: "owner", Word: "Owner keeps it"}}})
}

// swaps is the headline of what goes from the old battery to the new.
func (b *builder) swaps() string {
	switch {
	case b.has(Elbow) && b.has(Plug):
		return "Elbow and plug to the new one"
	case b.has(Elbow):
		return "Vent elbow to the new one"
	case b.has(Plug):
		return "Vent plug to the new one"
	}
	return "What was on the old one, on the new"
}
