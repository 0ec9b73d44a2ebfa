package guide

import (
	"slices"

	"grapnel/core/words"
)

// fastener is how a cable is held, by terminal: what is loosened, and how it comes off.
var fastener = map[string]struct{ name, off, on string }{
	"top": {"clamp", "Slacken its nut and lift it straight off: no hammer, no lever on the lid.",
		"Down to the foot of the post"},
	"side": {"bolt", "Short spanner; the bolt comes out, the eye hangs free.", "Eye flat on the pad, bolt by hand first"},
	"stud": {"lug", "Hold the post, slacken the nut; the lug lifts off.", "Lug flat, nut by hand first"},
}

func (b *builder) fastener() (name, off, on string) {
	f := fastener[b.terminals()]
	return f.name, f.off, f.on
}

// both says a thing of one battery or of two.
func (b *builder) both(one, two string) string {
	if b.parallel() {
		return two
	}
	return one
}

// posts gives what is marked on the live and on the earthed post.
func (b *builder) posts() (live, earthed string) {
	if b.Vehicle.Earth == "positive" {
		return "−", "+"
	}
	return "+", "−"
}

// pair reports whether two stand together.
func (b *builder) pair() bool { return b.parallel() || b.series() }

// where is the picture of the battery where it stands.
func (b *builder) where() string {
	if b.pair() {
		return "pair"
	}
	return "battery"
}

// ready is what comes before everything.
func (b *builder) ready(at string) {
	cautions := []string{"acid", "spanner"}
	do, why := "Gloves, goggles, key away", "Engine and everything off, brake on, the key out of the vehicle’s reach. "
	if b.Vehicle.Electric() {
		do, cautions = "Switched off, key far away", []string{"high_voltage", "acid", "spanner"}
		why = "Not ready to drive, not on charge; wait two minutes for its converter to sleep. "
	}
	if b.unsafe() {
		cautions = append([]string{"leak"}, cautions...)
	}
	b.add(Task{Code: "ready", Do: words.Say(do), Why: words.Say(why + at), Cautions: cautions,
		Draw: Draw{View: "hands"}})
}

// reach opens what the battery is reached through.
func (b *builder) reach() {
	panel := panelWords[b.Site.Place]
	s := Task{Code: "reach", Draw: Draw{View: "vehicle", Act: "open", On: b.Site.Place},
		Off: b.of(Panel), Do: words.Say("{Panel} off", "panel", panel),
		Why: words.Say("Lay it where nobody steps on it, its screws beside it.")}
	latch := b.Site.Place == AtBoot || b.Vehicle.Electric()
	if latch {
		s.Later = words.Say("Boot and one door stay open: their latches are electric.")
	}
	if !b.has(Panel) {
		if !latch {
			return
		}
		s.Do, s.Why, s.Later = words.Say("Boot and a door stay open"), words.Say("Their latches are electric: shut, they stay shut."), words.Text{}
	}
	b.add(s)
}

// keepAlive feeds the vehicle, or writes down what it will forget.
func (b *builder) keepAlive() {
	switch b.Site.KeepAlive {
	case BySocket:
		b.add(Task{Code: "keep_alive", Do: words.Say("Keep-alive into the socket"), Off: []string{KeepAlive},
			Cautions: []string{"keep_alive"},
			Why:      words.Say("The socket has to be live with the key out: its lamp shows it. Fused, of few amps, doors shut, nothing operated."),
			Look:     words.Say("Its lamp glows?"), Draw: Draw{View: "supply", Act: "on", On: BySocket}})
	case ByLeads:
		b.add(Task{Code: "keep_alive", Do: words.Say("Keep-alive on the cables"), Off: []string{KeepAlive},
			Cautions: []string{"keep_alive"},
			Why:      words.Say("Live lead on the live cable’s end, not on the post; the other on bare metal of the body. Fused, of few amps."),
			Look:     words.Say("Its lamp glows?"), Draw: Draw{View: "supply", Act: "on", On: ByLeads}})
	default:
		if b.Forgets() {
			b.add(Task{Code: "notes", Do: words.Say("Write down what it forgets"),
				Why:   words.Say("Radio code, presets, seats. Windows a little down, a door open."),
				Later: words.Say("Set clock, windows, radio and seats again."),
				Draw:  Draw{View: "dash", Act: "look"}})
		}
	}
}

// cablesOff takes the cables off: the earthed side first and whole.
func (b *builder) cablesOff() {
	name, off, _ := b.fastener()
	livePost, earthPost := b.posts()
	if b.has(Sensor) {
		b.add(Task{Code: "sensor_off", Do: words.Say("Sensor plug off"), Off: []string{Sensor},
			Why:  words.Say("The sensor on the earthed {clamp} breaks when it is levered or turned.", "clamp", name),
			Draw: Draw{View: b.where(), Act: "off", On: Sensor}})
	}
	why := "The {post} post. With earth off, a spanner on the body cannot spark. {Off} Tie it aside."
	if b.parallel() {
		why = "The {post} posts of both, before any live one. {Off} Tie them aside."
	} else if b.series() {
		why = "The {post} post that goes to the body, of whichever of the two has it. {Off} Tie it aside."
	}
	b.add(Task{Code: "earthed_off", Do: words.Say(b.both("Earthed {clamp} off first", "Both earthed {clamp}s off first"),
		"clamp", name),
		Why: words.Say(why, "post", earthPost, "off", off), Cautions: []string{"spanner"},
		Off: []string{Earthed}, After: []string{"keep_alive"},
		Draw: Draw{View: b.where(), Act: "off", On: Earthed}})
	s := Task{Code: "live_off", Do: words.Say(b.both("Live {clamp} off second", "Both live {clamp}s off second"), "clamp", name),
		Cautions: []string{"spanner"},
		Off:      append(b.of(Cover, Washers), Live), After: []string{"earthed_off"},
		Draw: Draw{View: b.where(), Act: "off", On: Live},
		Why:  words.Say("The {post} post. {Off} Tie it aside.", "post", livePost, "off", off),
		Look: words.Say("How the eyes are stacked: the heaviest lies nearest the post. Take a picture.")}
	if b.Site.KeepAlive != NoKeepAlive {
		s.Cautions, s.Off = []string{"hood", "spanner"}, append(s.Off, Hood)
		s.Why = words.Say("The {post} post. {Off} The loose {clamp} is still live: hood over it at once.", "post", livePost,
			"off", off, "clamp", name)
	}
	b.add(s)
	if b.series() {
		b.add(Task{Code: "link_off", Do: words.Say("Link between them off"), Off: []string{Link},
			After: []string{"live_off"}, Cautions: []string{"spanner"},
			Why:  words.Say("Each battery by itself is still live between its posts."),
			Draw: Draw{View: b.where(), Act: "off", On: Link}})
	}
}

// loose takes off what holds it, with more that comes along.
func (b *builder) loose(more ...string) {
	off := b.of(append([]string{VentTube, Elbow, HoldDown, Strap, Sleeve}, more...)...)
	b.add(Task{Code: "loose", Do: words.Say(b.holds() + " off"), Off: off,
		After: []string{"earthed_off", "live_off"},
		Why:   words.Say("Screws into a tin. {Vent}", "vent", b.ventWord()), Cautions: []string{"spanner"},
		Draw: Draw{View: b.where(), Act: "off", On: HoldDown}})
}

// holds names what holds the battery, as a headline.
func (b *builder) holds() string {
	switch {
	case b.has(VentTube):
		return "Hold-down and vent tube"
	case b.has(Strap):
		return "Strap and hold-down"
	}
	return "Hold-down"
}

func (b *builder) ventWord() string {
	if b.has(VentTube) {
		return "The vent tube is pulled at its end, not at the hose."
	}
	return "It must come free without force."
}

// lift takes the battery out.
func (b *builder) lift(to string) {
	cautions := []string{"lifting"}
	if b.unsafe() {
		cautions = []string{"leak", "lifting"}
	}
	do := "Lift it out level"
	if b.pair() {
		do = "Lift both out level"
	}
	b.add(Task{Code: "lift", Do: words.Say(do), Why: words.Say("By its handle, never tipped beyond 45°, " + to),
		Cautions: cautions, Off: []string{Battery},
		After: []string{"loose", "earthed_off", "live_off", "link_off"},
		Draw:  Draw{View: b.where(), Act: "lift", On: Battery}})
	if b.has(Module) {
		b.add(Task{Code: "module_off", Do: words.Say("Module under the tray aside"), Off: []string{Module},
			After: []string{"earthed_off"},
			Why:   words.Say("Nothing wet may reach it. Its plug comes off only if the tray does."),
			Draw:  Draw{View: "tray", Act: "off", On: Module}})
	}
}

// lower puts a battery in, and what holds it, with more that came off along.
func (b *builder) lower(do, why string, with ...string) {
	if b.has(Module) {
		b.add(Task{Code: "module_on", Do: words.Say("Module back, plugged in"), Back: []string{Module},
			Why:  words.Say("Dry, its plug home until it clicks."),
			Draw: Draw{View: "tray", Act: "on", On: Module}})
	}
	b.add(Task{Code: "in", Do: words.Say(do, "side", b.Site.Positive), Why: words.Say(why),
		Cautions: []string{"lifting"}, Back: []string{Battery},
		Look:  words.Say("+ on the {side}, seen from the front; no cable under it.", "side", b.Site.Positive),
		After: []string{"lift"},
		Draw:  Draw{View: b.where(), Act: "lower", On: Battery}})
	b.add(Task{Code: "held", Do: words.Say(b.holds() + " on"),
		Back: b.of(append([]string{VentTube, HoldDown, Strap, Sleeve}, with...)...), After: []string{"in"},
		Why:  words.Say("It must not move by hand. {Vent}", "vent", b.ventOnWord()),
		Draw: Draw{View: b.where(), Act: "on", On: HoldDown}})
}

func (b *builder) ventOnWord() string {
	if b.has(VentTube) {
		return "Elbow home, the hose without a kink, its end outside."
	}
	return "Snug, not strained: a case bends."
}

// cablesOn puts the cables on: the live side first and whole, the earthed last.
func (b *builder) cablesOn() {
	name, _, on := b.fastener()
	livePost, earthPost := b.posts()
	torque, ok := Torque(b.terminals())
	tight := words.Say("Snug, not strained: its maker’s figure.")
	if ok {
		tight = words.Say("Snug, not strained: {torque}.", "torque", torque)
	}
	if b.series() {
		b.add(Task{Code: "link_on", Do: words.Say("Link between them on"), Back: []string{Link},
			Cautions: []string{"spanner"}, After: []string{"in"}, Why: tight,
			Draw: Draw{View: b.where(), Act: "on", On: Link}})
	}
	live := Task{Code: "live_on", Do: words.Say(b.both("Live {clamp} on first", "Both live {clamp}s on first"), "clamp", name),
		Cautions: []string{"spanner"}, Back: []string{Live},
		Why:   words.Say("The {post} post. {On}. {tight}", "post", livePost, "on", on, "tight", tight),
		After: []string{"in", "link_on"},
		Look:  words.Say("Eyes in their old order, the heaviest nearest the post."),
		Draw:  Draw{View: b.where(), Act: "on", On: Live}}
	if b.has(Washers) {
		live.Back = append([]string{Washers}, live.Back...)
		live.Why = words.Say("Felt washers over both posts first. The {post} post. {On}. {tight}", "post", livePost, "on",
			on, "tight", tight)
	}
	if b.terminals() == "side" {
		live.Why = words.Say("A skim of grease on the rubber first. The {post} side. {On}. {tight}", "post", livePost, "on",
			on, "tight", tight)
		live.Look = words.Say("An added eye wants a longer bolt and a spacer. The terminal touches no metal of the box.")
	}
	if b.Site.KeepAlive != NoKeepAlive {
		live.Back, live.Cautions = append(live.Back, Hood), []string{"hood", "spanner"}
	}
	b.add(live)
	b.add(Task{Code: "earthed_on", Do: words.Say(b.both("Earthed {clamp} on last", "Both earthed {clamp}s on last"),
		"clamp", name),
		Cautions: []string{"spark"}, Back: []string{Earthed},
		Why: words.Say("The {post} post. One firm touch, then tight: no on and off. {tight}", "post", earthPost, "tight",
			tight),
		After: []string{"live_on", "link_on"},
		Draw:  Draw{View: b.where(), Act: "on", On: Earthed}})
	if b.has(Sensor) {
		b.add(Task{Code: "sensor_on", Do: words.Say("Sensor plug on"), Back: []string{Sensor},
			Why: words.Say("Until it clicks."), After: []string{"earthed_on"},
			Draw: Draw{View: b.where(), Act: "on", On: Sensor}})
	}
	b.add(Task{Code: "turn", Do: words.Say("Try to turn each by hand"),
		Why:   words.Say("None may move, on either side. One that does is not tight, or not down."),
		After: []string{"earthed_on"},
		Draw:  Draw{View: b.where(), Act: "turn", On: Live}})
	if b.Site.KeepAlive != NoKeepAlive {
		b.add(Task{Code: "keep_alive_off", Do: words.Say("Keep-alive off, last"), Back: []string{KeepAlive},
			After: []string{"earthed_on"}, Why: words.Say("Only now: both sides are tight."),
			Draw: Draw{View: "supply", Act: "off", On: b.Site.KeepAlive}})
	}
}

// protect keeps the contacts bright, and closes.
func (b *builder) protect() {
	s := Task{Code: "protect", After: []string{"earthed_on"}, Back: b.of(Cover)}
	switch {
	case b.terminals() == "side": // its grease is on the rubber already
		s.Do, s.Why, s.Draw = words.Say("Caps over the bolts"), words.Say("The rubber is greased; nothing more goes on a side terminal."), Draw{View: b.where(), Act: "on", On: Cover}
	case b.Site.Protect == "grease":
		s.Do, s.Why = words.Say("A skim of grease over both"), words.Say("Dielectric grease over the tight joint, never between.")
		s.Draw = Draw{View: b.where(), Act: "grease", On: Live}
	default:
		s.Do, s.Why = words.Say("Spray both, after tightening"), words.Say("Over the tight joint, never between; keep it off belt and exhaust.")
		s.Draw = Draw{View: b.where(), Act: "spray", On: Live}
	}
	if b.has(Cover) && b.terminals() != "side" {
		s.Why = words.Join(" ", []words.Text{s.Why, words.Say("Then the cap over the live post.")})
	}
	if b.terminals() == "side" && !b.has(Cover) {
		return
	}
	b.add(s)
}

// shut puts back what the battery is reached through.
func (b *builder) shut() {
	if b.has(Panel) {
		b.add(Task{Code: "shut", Do: words.Say("{Panel} back", "panel", panelWords[b.Site.Place]),
			Back: []string{Panel}, Why: words.Say("Nothing pinched under it; every screw out of the tin."),
			Draw: Draw{View: "vehicle", Act: "close", On: b.Site.Place}})
	}
}

// forgot reports whether the vehicle was left without power, and forgets what it knew.
func (s Scene) forgot() bool { return s.Forgets() && s.Site.KeepAlive == NoKeepAlive }

// Forgotten gives what has to be set again on a vehicle after a guide, by the codes of what
// is handed over: nothing where it was kept alive, or never knew anything.
func (s Scene) Forgotten(what string) []string {
	s.usual(what)
	var out []string
	if s.forgot() && (what == Replacing || what == Cleaning || what == Waking) {
		out = append(out, "clock", "radio_code", "windows", "seats", "idle", "readiness")
	}
	if what == Replacing && s.Site.Monitor == "yes" {
		out = append(out, "battery_monitor")
	}
	return out
}

// reset gives back what the vehicle has forgotten.
func (b *builder) reset() {
	var all []words.Text
	tell := b.Site.Monitor == "yes" && slices.ContainsFunc(b.steps, func(s Task) bool { return s.Code == "swap" })
	if tell {
		all = append(all, words.Say("tell its monitor of the new battery (make, amps, build)"))
	}
	lost := b.forgot()
	if lost {
		all = append(all, words.Say("clock"), words.Say("windows (hold each up and down)"), words.Say("radio code"),
			words.Say("seats"))
	}
	if len(all) == 0 {
		return
	}
	s := Task{Code: "reset", Do: words.Say("Set it up again"),
		Why: words.Say("Its maker’s way: {all}.", "all", all), Draw: Draw{View: "dash", Act: "on"}}
	if tell && !lost {
		s.Do = words.Say("Tell it of the new battery")
	}
	if lost {
		s.Later = words.Say("It idles roughly until it has learnt again: idle warm some minutes, then a drive. Its readiness monitors are empty, and an emissions test fails until they have run.")
	}
	b.add(s)
}
