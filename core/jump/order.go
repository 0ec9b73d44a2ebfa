package jump

import (
	"slices"

	"grapnel/core/guide"
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Act is one step of connecting or of taking off. Clamps are numbered as they go on, and
// keep their number when they come off.
type Act struct {
	Clamp int        `json:"clamp,omitempty" doc:"its number; left out where no clamp is moved"`
	Do    words.Text `json:"do"`
	Why   words.Text `json:"why,omitzero"`
	Loose words.Text `json:"loose,omitzero" doc:"where the loose end lies meanwhile"`
	Place string     `json:"place" enum:"flat_live,flat_earthed,jump_post,metal,donor_same,donor_other,switch,key,wall"`
	Side  string     `json:"side,omitempty" enum:"live,earthed" doc:"of the flat vehicle"`
	Post  string     `json:"post,omitempty" enum:"+,−" doc:"what is marked on the post"`
	Lead  string     `json:"lead,omitempty" enum:"red,black"`
}

// Places of a step. Donor posts are named by the flat vehicle's side that they are joined
// to: the same mark on both ends of a lead.
const (
	AtFlatLive    = "flat_live"
	AtFlatEarthed = "flat_earthed"
	AtJumpPost    = "jump_post"
	AtMetal       = "metal"
	AtDonorSame   = "donor_same"  // the donor's post with the mark of the flat one's live post
	AtDonorOther  = "donor_other" // and with that of its earthed post
	AtSwitch      = "switch"      // of a pack
	AtKey         = "key"         // of an engine
	AtWall        = "wall"        // of a charger
)

// clampOn is where the earthed clamp goes last: where the maker wants it, else by the
// house's rule.
func (r *Request) clampOn() string {
	if r.MakerPost {
		return OnPost
	}
	return r.ClampOn
}

// order gives the steps of connecting and of taking off, exactly in reverse: the live side
// first and whole, the earthed clamp of the flat vehicle last on and first off. Common
// practice, no source.
func (r *Request) order(s *scene) (connect, disconnect []Act) {
	plus, minus := guide.Posts(r.Flat.Vehicle.Earth)
	live, earthed := plus, minus
	if plus.Role == "earthed" {
		live, earthed = minus, plus
	}
	kind := r.Source.Kind
	at := func(n int, side guide.Side, place string, do, why, loose string) Act {
		out := Act{Clamp: n, Place: place, Side: side.Role, Post: side.Post, Lead: side.Lead,
			Do: words.Say(do, "lead", side.Lead, "post", side.Post, "role", side.Role)}
		if why != "" {
			out.Why = words.Say(why, "role", side.Role)
		}
		if loose != "" {
			out.Loose = words.Say(loose)
		}
		return out
	}
	first, firstDo := AtFlatLive, doFlatLive
	if r.Flat.JumpPost {
		first, firstDo = AtJumpPost, doJumpPost
	}
	last, lastDo, lastWhy := AtMetal, doMetal, whyMetal
	if s.onBody {
		switch {
		case r.Flat.Vehicle.Electric():
			lastDo = doMetalMarked
		case r.Flat.JumpPost && r.Flat.Place == "boot":
			lastDo = doMetalFront
		}
	} else {
		last, lastDo, lastWhy = AtFlatEarthed, doPostLast, whyPost
		if r.MakerPost {
			lastWhy = whyMakerPost
		}
	}
	var clamps []Act
	if kind == FromVehicle {
		looseLive, looseEarthed := looseAlone, looseEarthAlone
		if r.Helper {
			looseLive, looseEarthed = looseHelper, looseEarthHelper
		}
		same, other := doDonorLive, doDonorEarthed
		if r.mixed() {
			same, other = doDonorSame, doDonorOther
		}
		clamps = []Act{
			at(1, live, first, firstDo, "", looseLive),
			at(2, live, AtDonorSame, same, "", ""),
			at(3, earthed, AtDonorOther, other, "", looseEarthed),
			at(4, earthed, last, lastDo, lastWhy, ""),
		}
	} else {
		loose := loosePack
		if kind == FromCharger {
			loose = looseCharger
		}
		clamps = []Act{at(1, live, first, firstDo, "", loose), at(2, earthed, last, lastDo, lastWhy, "")}
	}
	off := slices.Clone(clamps)
	slices.Reverse(off)
	for i := range off {
		off[i].Do = words.Say(offWords[off[i].Place], "lead", off[i].Lead, "post", off[i].Post, "role", off[i].Side)
		off[i].Why, off[i].Loose = words.Text{}, words.Text{}
		// While one end is still on, the other lies where it lay before.
		if i+1 < len(off) && off[i+1].Side == off[i].Side && kind == FromVehicle {
			off[i].Loose = clamps[len(clamps)-2-i].Loose
		}
	}
	act := func(place, do string, with ...any) Act { return Act{Place: place, Do: words.Say(do, with...)} }
	then := doPackOn
	if r.Flat.Vehicle.Electric() {
		then = doPackOnWake
	}
	switch kind {
	case FromPack:
		connect = append(append([]Act{act(AtSwitch, doPackOff)}, clamps...), act(AtSwitch, then))
		disconnect = append(append([]Act{act(AtSwitch, doPackOffAgain)}, off...), act(AtSwitch, doPackAway))
	case FromCharger:
		connect = append(append([]Act{act(AtWall, doWallOff)}, clamps...), act(AtWall, doBoostOn,
			"on", measure.Seconds(r.Source.OnSeconds)))
		disconnect = append([]Act{act(AtWall, doWallOffFirst)}, off...)
	default:
		connect = clamps
		if r.Source.Running {
			connect = append(slices.Clone(clamps), act(AtKey, doStartDonor, "rpm", measure.Plain(r.Source.RPM, 0)))
		}
		disconnect = append(off, act(AtKey, doCovers))
	}
	return connect, disconnect
}

// mixed reports whether the two vehicles are earthed on different sides.
func (r *Request) mixed() bool {
	side := func(earth string) string {
		if earth == "" {
			return "negative"
		}
		return earth
	}
	return r.Source.Kind == FromVehicle && side(r.Source.Earth) != side(r.Flat.Vehicle.Earth)
}

// Unoffered is an order or a habit heard in the trade that is not offered.
type Unoffered struct {
	Habit words.Text `json:"habit"`
	Why   words.Text `json:"why"`
}

// unoffered gives what is heard and not offered here, with the reason.
func unoffered() []Unoffered {
	out := make([]Unoffered, len(heard))
	for i, h := range heard {
		out[i] = Unoffered{words.Say(h[0]), words.Say(h[1])}
	}
	return out
}

var heard = [][2]string{
	{
		"The earthed lead before the live one",
		"From then on every touch of the live clamp on metal is a short through both batteries.",
	},
	{"The live clamp last", "Its spark is at the battery, where the gas is, and all metal around it is the other pole."},
	{
		"Earthed clamp on the frame by the battery, a fuel line or painted metal",
		"Gas, petrol or no contact: bare metal of the engine, an arm’s length away.",
	},
	{"The donor at full revs", "Its alternator is at nine tenths from 2000; more only frightens its electronics."},
	{"Taking the flat battery’s cable off while it runs", "The alternator loses what holds it: its volts leap, and modules die."},
}

var offWords = map[string]string{
	AtMetal: offMetal, AtFlatEarthed: offPost, AtDonorOther: offDonor, AtDonorSame: offDonor, AtFlatLive: offPost, AtJumpPost: offJumpPost,
}

// Words of the order.
const (
	doFlatLive     = "{Lead} clamp to the flat battery’s {post}, its {role} post"
	doJumpPost     = "{Lead} clamp to the jump post marked {post}, cover back"
	doDonorLive    = "Its other end to the donor’s {post}, its {role} post"
	doDonorEarthed = "{Lead} lead to the donor’s {post}, its {role} post"
	doDonorSame    = "Its other end to the donor’s {post}: same mark to same mark, the donor is earthed the other way"
	doDonorOther   = "{Lead} lead to the donor’s {post}"
	doMetal        = "Last, bare metal of the engine, an arm away from battery, belt and fuel: {lead} clamp"
	doMetalFront   = "Last, bare metal of the engine in front, away from belt and fuel: {lead} clamp"
	doMetalMarked  = "Last, the earth point its maker marks, or bare metal of the body away from battery and orange cables: {lead} clamp"
	doPostLast     = "Last, the flat battery’s {post}, its {role} post: {lead} clamp"
	whyMetal       = "The last contact sparks, and gas collects at the battery."
	whyPost        = "The house’s rule. The last contact sparks: blow the gas away first, face aside."
	whyMakerPost   = "Its maker asks for the post. The last contact sparks: fan the gas away first, face aside."

	looseAlone       = "Its other end lies on dry rubber or wood, touching no metal."
	looseHelper      = "The helper holds its other end by the grip, away from all metal."
	looseEarthAlone  = "Its other end hangs clear of the live clamps."
	looseEarthHelper = "The helper holds its other end away from the live clamps."
	loosePack        = "The other clamp stays in its holder."
	looseCharger     = "The other clamp lies apart, touching nothing."

	offMetal    = "{Lead} clamp off the bare metal"
	offPost     = "{Lead} clamp off the flat battery’s {post}"
	offDonor    = "{Lead} clamp off the donor’s {post}"
	offJumpPost = "{Lead} clamp off the jump post"

	doPackOff      = "Pack switched off, its clamps in their holders"
	doPackOn       = "Pack on, then try"
	doPackOnWake   = "Pack on, then switch the vehicle on"
	doPackOffAgain = "Pack off first"
	doPackAway     = "Clamps back in their holders, caps and covers back on"
	doWallOff      = "Charger off at the wall, set to its boost"
	doWallOffFirst = "Off at the wall first"
	doBoostOn      = "On at the wall; try within {on}"
	doStartDonor   = "Start the donor, {rpm} turns a minute"
	doCovers       = "Clamps never touch each other. Caps, covers and insulators back on"
)
