package guide

import (
	"slices"

	"grapnel/core/words"
)

// How a stored battery is kept.
const (
	KeptClamp  = "clamp"  // its earthed clamp is off
	KeptSwitch = "switch" // a switch parts it
	KeptFed    = "fed"    // it stays connected, and something feeds it or nothing does
	KeptOut    = "out"    // it is out, on a shelf
)

var keptWays = words.ListOf(
	words.Term{Code: KeptClamp, Word: "Earthed clamp off"},
	words.Term{Code: KeptSwitch, Word: "Switch off"},
	words.Term{Code: KeptFed, Word: "Stays connected"},
	words.Term{Code: KeptOut, Word: "Out, on a shelf"},
)

// usualKeep is how a vehicle is usually kept: one that forgets, or stays locked, connected.
func (s *Scene) usualKeep() string {
	if s.Vehicle.Electric() || s.Forgets() {
		return KeptFed
	}
	return KeptClamp
}

// wheeled reports whether it stands on tyres.
func (b *builder) wheeled() bool { return b.Vehicle.Class != "boat" }

// store puts a vehicle away: its battery full, clean and where nothing takes from it.
func (b *builder) store() {
	say := words.Say
	b.phase = Safe
	b.ready("A charger, water, rag and grease, its tag.")
	b.phase = Work
	b.add(
		Task{
			Code:     "lid",
			Do:       say("Wipe the lid"),
			Why:      say("Damp and dirt on it leak current all season."),
			Cautions: []string{"acid"},
			Draw:     Draw{View: b.where(), Act: "wipe", On: "lid"},
		},
	)
	if b.Battery.Opens() {
		b.add(
			Task{
				Code: "caps_off",
				Do:   say("Caps off, laid in order"),
				Why:  say("Upside down on a clean rag, one for each cell."),
				Cautions: []string{
					"acid",
				},
				Off:   []string{Caps},
				After: []string{"lid"},
				Draw:  Draw{View: "cells", Act: "off", On: Caps},
			},
		)
		b.add(
			Task{
				Code: "levels",
				Do:   say("Read every cell’s level"),
				Why:  say("Low ones get water first, with their own guide: plates that stand bare are lost."),
				Look: say(
					"One cell far below the others: is the case cracked there?",
				),
				Cautions: []string{"acid"},
				After:    []string{"caps_off"},
				Enter:    []string{"levels"},
				Draw:     Draw{View: "cells", Act: "look"},
			},
		)
		b.add(
			Task{
				Code:     "caps_on",
				Do:       say("Caps on, tight"),
				Why:      say("They keep sparks out while it gasses."),
				Cautions: []string{"hydrogen"},
				Back:     []string{Caps},
				Draw:     Draw{View: "cells", Act: "on", On: Caps},
			},
		)
	}
	b.add(
		Task{
			Code: "leak",
			Do:   say("Lid leakage"),
			Why:  say("One lead on a post, the other over lid and seams: next to nothing, or wipe again with soda."),
			Cautions: []string{
				"acid",
			},
			Enter: []string{"lid_leakage"},
			After: []string{"lid"},
			Draw:  Draw{View: b.where(), Act: "measure", On: "lid"},
		},
	)
	b.add(
		Task{
			Code: "charge",
			Do:   say("Charge it full"),
			Why:  say("Full acid freezes far below any winter, and sulphate has nothing to harden."),
			Cautions: []string{
				"hydrogen",
			},
			Charge: true,
			After:  []string{"caps_on"},
			Draw:   Draw{View: "bench", Act: "charge"},
		},
	)
	b.add(
		Task{
			Code:  "rest",
			Do:    say("An hour’s rest, then its volts"),
			Why:   say("From here its season is reckoned."),
			Enter: []string{"rest_voltage"},
			After: []string{"charge"},
			Draw:  Draw{View: b.where(), Act: "measure"},
		},
	)
	b.phase = Off
	switch b.Site.Keep {
	case KeptClamp:
		b.reach()
		b.keepAlive()
		b.earthedOff()
		b.add(
			Task{
				Code:  "skim",
				Do:    say("A skim of grease on the post"),
				Why:   say("Bare lead in damp air grows a crust by spring."),
				After: []string{"earthed_off"},
				Draw:  Draw{View: b.where(), Act: "grease", On: Earthed},
			},
		)
		b.shut()
	case KeptSwitch:
		b.keepAlive()
		b.add(
			Task{
				Code: "switch_off",
				Do:   say("Turn the switch off"),
				Why:  say("One with a fused bypass still feeds clock and alarm: that is its drain."),
				Draw: Draw{View: "switch", Act: "off"},
			},
		)
	case KeptOut:
		b.reach()
		b.keepAlive()
		b.cablesOff()
		b.loose()
		b.lift("onto its shelf.")
		b.add(
			Task{
				Code:     "shelf",
				Do:       say("Shelf: dry, free of frost"),
				Why:      say("Off engine and machines: no shaking. Wood or concrete, it is all the same to it."),
				Cautions: []string{"lifting"},
				After:    []string{"lift"},
				Draw:     Draw{View: "bench", Act: "lower"},
			},
		)
		b.add(
			Task{
				Code:  "skim",
				Do:    say("Grease the clamps, tie them aside"),
				Why:   say("They lie open all winter, and must not touch each other or the body."),
				After: []string{"live_off"},
				Draw:  Draw{View: b.where(), Act: "tie", On: Live},
			},
		)
		b.shut()
	default:
		b.add(
			Task{
				Code: "feed",
				Do:   say("What feeds it, on"),
				Why: say(
					"A maintainer of the right amps and build, its lead dry, past the door seal. By the socket: live with the key out, fuse above its amps.",
				),
				Look: say(
					"Its lamp shows volts, not charge. Look again in ten minutes.",
				),
				Cautions: b.feedCautions(),
				Draw:     Draw{View: "supply", Act: "on", On: BySocket},
			},
		)
	}
	b.phase = On
	if b.wheeled() {
		b.add(
			Task{
				Code: "tyres",
				Do:   say("Tyres up to their mark"),
				Why:  say("They lose air and grow a flat spot: half a turn of the wheels at every look."),
				Draw: Draw{View: "standing", Act: "look", On: "tyres"},
			},
		)
		b.add(
			Task{
				Code: "brake",
				Do:   say("Brake off, wheels chocked"),
				Why:  say("On level ground: shoes and discs grow together in the damp. On a slope, leave it on."),
				Draw: Draw{View: "standing", Act: "look", On: "brake"},
			},
		)
	}
	b.add(
		Task{
			Code: "damp",
			Do:   say("Dry and aired, mice kept out"),
			Why:  say("Windows a finger open under a roof, air inlets and exhaust stopped with gauze, nothing edible."),
			Later: say(
				"Gauze out of inlets and exhaust before the engine runs.",
			),
			Draw: Draw{View: "standing", Act: "look", On: "damp"},
		},
	)
	b.phase = Prove
	b.add(
		Task{
			Code: "tag",
			Do:   say("Hang its tag"),
			Why:  say("What is off, since when, the next look and the volts it should show then. Season prints it."),
			Draw: Draw{View: "standing", Act: "look", On: "tag"},
		},
	)
}

// feedCautions are those of leaving something on it.
func (b *builder) feedCautions() []string {
	if b.Vehicle.Electric() {
		return []string{"high_voltage", "hydrogen"}
	}
	return []string{"hydrogen"}
}

// earthedOff takes the earthed side off alone.
func (b *builder) earthedOff() {
	name, off, _ := b.fastener()
	_, earthPost := b.posts()
	if b.has(Sensor) {
		b.add(Task{Code: "sensor_off", Do: words.Say("Sensor plug off"), Off: []string{Sensor},
			Why:  words.Say("The sensor on the earthed {clamp} breaks when it is levered or turned.", "clamp", name),
			Draw: Draw{View: b.where(), Act: "off", On: Sensor}})
	}
	b.add(
		Task{
			Code:     "earthed_off",
			Do:       words.Say(b.both("Earthed {clamp} off", "Both earthed {clamp}s off"), "clamp", name),
			Off:      []string{Earthed},
			Cautions: []string{"spanner"},
			Draw:     Draw{View: b.where(), Act: "off", On: Earthed},
			Why: words.Say(
				"The {post} post. {Off} Tied aside, where it cannot spring back.",
				"post",
				earthPost,
				"off",
				off,
			),
		},
	)
}

// left gives what a vehicle that was put away so stands without.
func (s Scene) left() []string {
	g := Make(Storing, s)
	var open []string
	for _, t := range g.Steps {
		open = opened(open, t.Off, t.Back)
	}
	return open
}

// wake brings a vehicle back: looked at, tested and charged before anything is cranked.
func (b *builder) wake() {
	say := words.Say
	b.phase = Safe
	b.ready("Nothing is cranked before it is tested.")
	b.add(
		Task{
			Code: "look",
			Do:   say("Look before you touch"),
			Why:  say("Mice in the air filter, gnawed cables, a wet floor, fuel, a case that has bulged."),
			Look: say(
				"Bulged or split: it was frozen. Stop, and say so at Look.",
			),
			Cautions: []string{"frozen"},
			Draw:     Draw{View: "standing", Act: "look", On: "look"},
		},
	)
	b.phase = Work
	b.add(
		Task{
			Code:  "volts",
			Do:    say("Rest volts, before anything"),
			Why:   say("What it held is known only now: after a charge nobody can tell."),
			Look:  say("Far under its plan, something drew on it: find the drain before it goes."),
			Enter: []string{"rest_voltage"},
			After: []string{"look"},
			Draw:  Draw{View: "bench", Act: "measure"},
		},
	)
	b.add(
		Task{
			Code: "charge",
			Do:   say("Charge it full"),
			Why:  say("Volts held and its build’s setting; a cold battery warms first."),
			Cautions: []string{
				"hydrogen",
			},
			Charge: true,
			After:  []string{"volts"},
			Draw:   Draw{View: "bench", Act: "charge"},
		},
	)
	b.add(
		Task{
			Code: "test",
			Do:   say("Test it before the first crank"),
			Why: say(
				"Its strength on its sheet, rested and full: a winter can end an old one, and now there is time.",
			),
			Cautions: []string{"load_tester"},
			After:    []string{"charge"},
			Draw:     Draw{View: "bench", Act: "measure"},
		},
	)
	b.phase = On
	switch b.Site.Keep {
	case KeptClamp:
		b.reach()
		b.earthedOn()
		b.shut()
	case KeptSwitch:
		b.add(
			Task{
				Code:  "switch_on",
				Do:    say("Turn the switch on"),
				Why:   say("Everything in the vehicle off first."),
				After: []string{"test"},
				Draw:  Draw{View: "switch", Act: "on"},
			},
		)
	case KeptOut:
		b.reach()
		b.lower("In again, + on the {side}", "By its handle, level, turned as it stood.", Elbow)
		b.cablesOn()
		b.protect()
		b.shut()
	default:
		b.add(
			Task{
				Code:  "feed_off",
				Do:    say("What fed it, off"),
				Why:   say("Off at the wall first. Lead rolled up, dry, for next time."),
				After: []string{"test"},
				Draw:  Draw{View: "supply", Act: "off", On: BySocket},
			},
		)
	}
	if b.Site.Keep != KeptFed {
		b.reset()
	}
	b.phase = Prove
	if b.wheeled() {
		b.add(
			Task{
				Code: "free",
				Do:   say("Chocks away, brakes free, tyres up"),
				Why: say(
					"A brake that grew fast is freed by hand, not by driving off. Gauze out of inlets and exhaust.",
				),
				Draw: Draw{View: "standing", Act: "look", On: "free"},
			},
		)
	}
	if !b.Vehicle.Electric() {
		b.add(
			Task{
				Code:     "crank",
				Do:       say("First crank, door open"),
				Why:      say("Ten seconds, then two minutes. Oil and fuel looked at before."),
				Cautions: []string{"running_engine", "cranking"},
				After:    []string{"test", "earthed_on"},
				Draw:     Draw{View: "dash", Act: "on"},
			},
		)
	} else {
		b.add(Task{Code: "crank", Do: say("Switch it on, wait for its lamp"), Why: say("Ready, its converter awake: 13 V and more on the 12 V battery."), Cautions: []string{"high_voltage"},
			After: []string{"test", "earthed_on"}, Draw: Draw{View: "dash", Act: "on"}})
	}
	b.add(
		Task{
			Code: "drain",
			Do:   say("Settled, what does it draw?"),
			Why:  say("Only where it fell faster than its plan: asleep, the ammeter in the earthed side."),
			Cautions: []string{
				"ammeter",
			},
			Enter: []string{"drain"},
			Draw:  Draw{View: "cable", Act: "measure", On: Earthed},
		},
	)
}

// earthedOn puts the earthed side on alone.
func (b *builder) earthedOn() {
	name, _, on := b.fastener()
	_, earthPost := b.posts()
	torque, ok := Torque(b.terminals())
	tight := words.Say("Snug, not strained: its maker’s figure.")
	if ok {
		tight = words.Say("Snug, not strained: {torque}.", "torque", torque)
	}
	b.add(
		Task{
			Code:     "earthed_on",
			Do:       words.Say(b.both("Earthed {clamp} on", "Both earthed {clamp}s on"), "clamp", name),
			Back:     []string{Earthed},
			Cautions: []string{"spark"},
			After:    []string{"test"},
			Draw:     Draw{View: b.where(), Act: "on", On: Earthed},
			Why: words.Say(
				"The {post} post, its grease wiped off. {On}. One firm touch, then tight. {tight}",
				"post",
				earthPost,
				"on",
				on,
				"tight",
				tight,
			),
		},
	)
	if b.has(Sensor) {
		b.add(
			Task{
				Code:  "sensor_on",
				Do:    words.Say("Sensor plug on"),
				Back:  []string{Sensor},
				Why:   words.Say("Until it clicks."),
				After: []string{"earthed_on"},
				Draw:  Draw{View: b.where(), Act: "on", On: Sensor},
			},
		)
	}
	b.add(
		Task{
			Code:  "turn",
			Do:    words.Say("Try to turn each by hand"),
			Why:   words.Say("None may move, on either side. One that does is not tight, or not down."),
			After: []string{"earthed_on"},
			Draw:  Draw{View: b.where(), Act: "turn", On: Live},
		},
	)
}

// keeps reports whether a procedure is one of the season's.
func keeps(what string) bool { return slices.Contains([]string{Storing, Waking}, what) }
