package assess

import (
	"grapnel/core/bench"
	"grapnel/core/rules"
)

// Everything the policy says. No rule stands here: a sentence is chosen in
// policy.go and steps.go.

// saying is a verdict in sentences: what to do, the reason, and what the customer
// is told; without one of its own, what the verdict tells.
type saying struct{ headline, because, customer string }

// faultTold is what the customer is told of a fault outside the battery, by its
// code.
var faultTold = map[string]string{
	"drain":           "something drains it while the vehicle stands",
	"undercharging":   "the vehicle does not charge it enough",
	"overcharging":    "the vehicle charges it too hard",
	"starter":         "the starter turns badly",
	"starter_silent":  "the starter does not answer",
	"path_live":       "too much is lost in the cable to the starter",
	"path_earth":      "too much is lost on the way back through engine and body",
	"joint":           "a joint in the cables does not carry",
	"strands_green":   "a cable is corroded inside",
	"earth_strap_bad": "the strap from engine to body is bad",
	"belt_slack":      "the belt that drives the alternator slips",
}

// told is what the customer is told of each verdict.
var told = map[Verdict]string{
	Good:            "Your battery holds and is charged.",
	GoodAfterCharge: "Your battery holds its load; it is charged before you get it back.",
	ChargeAndRetest: "Your battery is too low to be judged yet: it is charged, then tested again.",
	Replace:         "Your battery has come to its end: charging does not bring it back, and it should be replaced.",
	Stop:            "Your battery is not safe: it must not be charged or jump started.",
	LookElsewhere:   "Your battery holds: the fault lies elsewhere, and we are looking for it.",
	MoreReadings:    "We are still testing your battery: nothing is decided yet.",
	Weak:            "Your battery starts your engine today, but it is weak{owner}",
}

var (
	isReplaced = saying{
		"Replaced: {with} stands in its place.",
		"What was found of it stays here. The vehicle goes on with {with}.",
		"Your battery had come to its end and has been replaced.",
	}
	stopWork = saying{
		headline: "Stop. {hazard}.",
		because:  "Do not charge, load test or jump start it.",
	}
	airFirst = saying{
		headline: "Stop and air it. It smells of rotten eggs.",
		because:  "It gasses: no clamps, no sparks. Let it cool, and find out why before anything else.",
		customer: "Your battery gives off gas: it is left to air and cool, and we find out why.",
	}
	coolFirst = saying{
		headline: "Let it cool first.",
		because:  "A battery this hot is not charged, loaded or jumped.",
		customer: "Your battery is too hot to work on: it cools first.",
	}
	thawFirst = saying{
		headline: "It may be frozen. Thaw it first.",
		because:  "A frozen battery can burst when it is charged or cranked.",
		customer: "Your battery may be frozen: it has to thaw before anything is done.",
	}
	waterFirst = saying{
		headline: "Water it first: the plates are dry.",
		because:  "Bare plates under gas are not charged, loaded or jumped.",
		customer: "Your battery has run dry: it gets water before anything else.",
	}

	cleanThenRest = saying{
		headline: "Clean the contacts, then take the rest voltage.",
		because:  "A bad contact spoils every reading taken through it.",
	}
	takesNothing = saying{
		headline: "Replace it: it takes no charge.",
		because:  "It refused for as long as a flat battery may, and again.",
	}
	heatsUp = saying{
		headline: "Replace it: it heats up on charge.",
		because:  "It got hot twice: a cell is shorted.",
	}
	refusedOnce = saying{
		headline: "Read its volts, then charge it again, longer.",
		because:  "A battery this flat may take nothing for half a day.",
	}
	restAfterCharge = saying{
		headline: "Rest it, then take the volts.",
		because:  "Straight off the charger every battery looks full.",
	}
	probesFirst = saying{
		headline: "No volts. Probes on bright metal, and read again.",
		because:  "A battery that is merely flat shows some.",
	}
	heldThenRan = saying{
		headline: "It holds its load. Take the rest voltage before it goes back.",
		because:  "How full it is now nobody knows: the engine ran, or it stood, since it was read.",
	}
	restForLoad = saying{
		headline: "Take the rest voltage.",
		because:  "The load test counts once it is known how full the battery is.",
	}
	restFirst = saying{
		headline: "Take the rest voltage first.",
		because:  "A flat battery is not a bad battery: find out how full it is.",
	}
	restAgain = saying{
		headline: "Rest it, then read again.",
		because:  "No rested battery reads this high.",
	}
	sayRest = saying{
		headline: "Has it rested? Say so, or rest it.",
		because:  "With surface charge it reads high: {charge} charged, and a load test may be fair or not.",
	}

	cleanThenCharge = saying{
		headline: "Clean the contacts, then charge it again.",
		because:  "A bad contact refuses a charge as a bad battery does.",
	}
	cellShorted = saying{
		headline: "Replace it: a cell is shorted.",
		because:  "Charged full, it rests where five good cells of six do.",
		customer: "A cell of your battery is shorted: it should be replaced.",
	}
	notHolding = saying{
		headline: "Replace it: it will not hold a charge.",
		because:  "It was charged to full and lost more in this time than anything on it can have taken.",
		customer: "Your battery no longer holds a charge: it should be replaced.",
	}
	sayHowLong = saying{
		headline: "How long since it was full? Say so.",
		because:  "A night on the bench condemns it, a month in the vehicle does not.",
	}
	cableOff = saying{
		headline: "Charge it full and leave a cable off overnight.",
		because:  "Low again after a full charge: the battery, or what hangs on it. A night apart tells.",
	}
	drained = saying{
		headline: "Find what drains it, and charge it.",
		because:  "The time it stood and what hangs on it explain the loss.",
		customer: "Something in your vehicle drains the battery while it stands: we look for it.",
	}
	tookNothing = saying{
		headline: "Charge it again, slowly and longer.",
		because:  "It was called full too soon to have filled up.",
	}
	chargeWatched = saying{
		headline: "Charge it watched, at low amps.",
		because:  "Near 10.5 V one cell may be shorted. Charged, it shows.",
	}
	voltsAgainstAcid = saying{
		headline: "Read volts and acid again. They contradict each other.",
		because:  "Acid this heavy is not in a battery that rests this low: something was on, or the probes had no contact.",
	}
	restTookNone = saying{
		headline: "Let it rest, then read again.",
		because:  "It was called full too soon to have filled up, and shows a charger’s volts.",
	}
	chargeFirst = saying{
		headline: "Charge it, then test again.",
		because:  "{fullness}: too low to judge its strength fairly.",
	}
	cellFails = saying{
		headline: "Replace it: a cell stays low after a full charge.",
		because:  "Its acid is far under that of the others, and charging did not lift it.",
	}

	testerNow = saying{
		headline: "Charged enough. Test its conductance.",
		because:  "The voltage says how full it is, not how strong.",
	}
	loadNow = saying{
		headline: "Charged enough. Load test it.",
		because:  "The voltage says how full it is, not how strong.",
	}
	testAgain = saying{
		headline: "Load test it again.",
		because:  "{past}",
	}
	loadOnceMore = saying{
		headline: "Charged now. Load test it again.",
		because:  "The last load test was taken while it was too flat.",
	}
	heldThenSagged = saying{
		headline: "It held, then it did not. Test it once more.",
		because:  "A bad clamp sags, but no bad battery holds: clamps to bright metal, two minutes of rest.",
	}
	collapsedOnce = saying{
		headline: "Next to nothing left under load. Test it once more.",
		because:  "A clamp that lost its hold reads the same as a broken strap: clamps to bright metal, and watch that they stay.",
	}
	judgesNothing = saying{
		headline: "Load test it at half its CCA.",
		because:  "{mute}",
	}
	loadFully = saying{
		headline: "Load test it at full load.",
		because:  "Holding a light or short load proves little.",
	}
	contradiction = saying{
		headline: "The testers contradict each other. Test it again.",
		because:  "One passes it and the other fails it. {settle}",
	}
	cleanAndTest = saying{
		headline: "Clean the contacts and test again.",
		because:  "The volts may have been lost in a bad contact.",
	}
	labelFirst = saying{
		headline: "Read the label, then judge it.",
		because:  "It looks too weak, by a rating nobody has read or that contradicts itself.",
	}
	tempFirst = saying{
		headline: "Take its temperature, then judge it.",
		because:  "It missed by less than the cold could explain.",
	}
	warmFirst = saying{
		headline: "Warm it, then test again.",
		because:  "In this cold one with most of its label left may miss.",
		customer: "Your battery is too cold to be judged fairly: it is warmed, then tested again.",
	}
	fullThenTest = saying{
		headline: "Charge it full, then test again.",
		because:  "A narrow miss on a battery that may be low is no verdict.",
		customer: "Your battery only just missed its test: it is charged full and tested again.",
	}
	fullThenTester = saying{
		headline: "Charge it full, then test again.",
		because:  "A low figure at part charge is no verdict.",
	}
	loadAsAsked = saying{
		headline: "Load test it again, as the label asks.",
		because:  "Another load or time than asked leaves it between fine and finished.",
	}
	justMisses = saying{
		headline: "Weak: it just misses. {fails}",
		because:  "Full, clean and by its label it misses by no more than a meter may be off. {policy}",
		customer: "Your battery is at the edge of its test{owner}",
	}
	tooWeak = saying{
		headline: "Replace it: charged, and still too weak.",
		because:  "It was charged enough for a fair test and did not hold its load.",
	}
	finishedBy = saying{
		headline: "Replace it: charged, and finished by conductance.",
		because:  "Far under its label at a charge the tester can be believed.",
	}

	cellThenFull = saying{
		headline: "Charge it full, then read the acid again.",
		because:  "One cell is far under the others: a full charge tells whether it stays there.",
		customer: "One cell of your battery looks weak: it is charged full and looked at again.",
	}
	oneCellWeak = saying{
		headline: "Weak: one cell is far under the others. {fails}",
		because:  "It holds its load today, and that cell will go first. {policy}",
		customer: "Your battery holds today, but one of its cells is failing{owner}",
	}
	darkThenFull = saying{
		headline: "Charge it full, then look at the eye again.",
		because:  "A dark eye against fine volts: weak acid under it, or a weak cell.",
		customer: "Your battery may have a weak cell: it is charged full and looked at again.",
	}
	darkStays = saying{
		headline: "Weak: the eye stays dark after a full charge. {fails}",
		because:  "Weak acid or a weak cell under it: it holds today, and that cell will go first. {policy}",
		customer: "Your battery holds today, but the cell under its eye looks weak{owner}",
	}
	labelForWeak = saying{
		headline: "Read the label: it may be weak.",
		because:  "It holds, and cranks far under a rating nobody has read or that contradicts itself.",
	}
	weakNotFull = saying{
		headline: "Weak. Charge it, and tell the customer. {fails}",
		because:  "It holds its load, far under its label. {policy}",
		customer: "Your battery is charged before you get it back, but it is weak{owner}",
	}
	passesWeak = saying{
		headline: "Weak: it holds today. {fails}",
		because:  "It passes its test, far under its label. {policy}",
	}
	soundNotFull = saying{
		headline: "It holds its load. Charge it before it goes back.",
		because:  "It is only not full.",
	}
	foundElsewhere = saying{
		headline: "The battery holds. {fault}.",
		because:  "That was found outside the battery.",
		customer: "Your battery holds, and the fault lies elsewhere: {told}.",
	}
	soundButWhy = saying{
		headline: "It holds, and is charged. Find out why it went flat.",
		because:  "It came in flat, and without a reason it comes back flat.",
		customer: "Your battery was flat, holds and is charged now, and we are looking for what emptied it.",
	}
	soundNoWhy = saying{
		headline: "It holds, and is charged. Nobody knows why it went flat.",
		because:  "Charging and drain are fine: hand it over with that warning.",
		customer: "Your battery was flat, holds and is charged now, and nothing we measured emptied it: please watch whether it happens again.",
	}
	soundUnderfed = saying{
		headline: "It holds, and is charged. Its weeks do not fill it.",
		because:  "Used as it is, it settles at {settles}: it takes more than its drives put back.",
		customer: "Your battery was flat, holds and is charged now, and nothing is broken: used as it is, it takes more than your drives put back.",
	}
	soundShortTrips = saying{
		headline: "It holds, and is charged. Short trips emptied it.",
		because:  "Charging and drain are fine: it never drives long enough to fill up.",
		customer: "Your battery was flat, holds and is charged now: short trips do not fill it again, so give it a long drive each week or a charger now and then.",
	}
	lookElsewhere = saying{
		headline: "The battery holds. Look elsewhere.",
		because:  "It came in charged and holds its load: what the complaint is, is still to be found.",
	}
	nothingFound = saying{
		headline: "The battery holds. Cables and charging too.",
		because:  "What is left: starter, key and immobiliser, fuel and spark.",
		customer: "Your battery, its cables and the charging are fine: starter, key, fuel or spark come next.",
	}
	sound = saying{
		headline: "It holds, and is charged. Back to work.",
		because:  "It passed its test.",
	}
)

// pastWords say why the last load test is history.
var pastWords = map[string]string{
	bench.PastCleaned: "The last one was taken before the contacts were cleaned.",
	bench.PastCharged: "The last one was taken before it was charged.",
	bench.PastOld:     "The last one is weeks old: it counts for the battery as it was then.",
}

// What is said, done and meant by each school about a weak battery that starts its
// engine today.
var (
	policyWords = map[string]string{
		rules.WeakTell:  "Told and printed, without pressure.",
		rules.WeakOffer: "A new one before the cold is offered, without pressure.",
		rules.WeakWatch: "It is tested again before the cold.",
	}
	policyOwner = map[string]string{
		rules.WeakTell:  "watch it, or have it replaced before the cold.",
		rules.WeakOffer: "a new one before the cold would be wise, and it is yours to decide.",
		rules.WeakWatch: "have it tested again before the cold.",
	}
	policyDo = map[string]string{
		rules.WeakTell:  doTell,
		rules.WeakOffer: doOffer,
		rules.WeakWatch: doWatch,
	}
	policyWhy = map[string]string{
		rules.WeakTell:  whyTell,
		rules.WeakOffer: whyOffer,
		rules.WeakWatch: whyWatch,
	}
)

const (
	fullnessFlat   = "Flat"
	fullnessNearly = "Nearly flat"
	fullnessHalf   = "About half charged"
	fullnessPart   = "Part charged"

	ownerInCold  = ", and colder than about {temp} it may fail: {does}"
	ownerAnyCold = ": {does}"
	failsUnknown = "Watch it."
	failsNowhere = "It turns its engine in any cold."
	failsFrom    = "It may not turn this engine from about {temp}."

	doLook        = "Look: whole, dry, not frozen, no smell?"
	doAir         = "Air the place and let it be"
	doCool        = "Let it cool"
	doThaw        = "Let it thaw, then look at the case"
	doWarm        = "Let it warm up"
	doWater       = "Water it to just over the plates"
	doSayRest     = "Say how it rested"
	doSayTime     = "Say how long since it was charged"
	doRestVolts   = "Take the rest voltage"
	doLoadTest    = "Load test it"
	doConductance = "Test its conductance"
	doReadLabel   = "Read the label"
	doTemperature = "Take the battery’s temperature"
	doCharge      = "Charge it"
	doRest        = "Let it rest"
	doRestApart   = "Leave a cable off overnight, then read it"
	doAcid        = "Read the acid, cell by cell"
	doEye         = "Look at the eye again"
	doClean       = "Clean the contacts"
	doPutRight    = "Put right in passing"
	doMend        = "Mend it"
	doTell        = "Tell the customer"
	doOffer       = "Offer a new one"
	doWatch       = "Book a test before the cold"
	doReplace     = "Replace it"
	doReplaceBoth = "Replace both of the pair"
	doHandOver    = "Hand it over"
	doCables      = "Measure the cables while cranking"
	doCharging    = "Check the charging volts"
	doDrain       = "Measure the drain"
	doWeek        = "Work out its week"

	whyUnsafe        = "It is not safe to work on."
	whyLookAgain     = "Whole, dry, not frozen, no smell: then the work goes on."
	whyLookFirst     = "One question before any charge or load."
	whyAir           = "The gas burns and poisons."
	whyCool          = "Until a hand can lie on it."
	whyThaw          = "Then look for a split or bulged case before anything else."
	whyWarm          = "The acid follows the shop by 6 to 8 hours."
	whyWater         = "Distilled water, and to the mark only after it is charged."
	whyEye           = "Tap it, rock it, shade it."
	whyDirtyRest     = "Readings through a bad contact cannot be trusted."
	whyNoContact     = "A bad contact misleads every charger and tester."
	whyNothingRead   = "No contact, a blown link or a blown meter lead reads the same as a dead battery."
	whyNowFull       = "It is handed over full."
	whyRestFirst     = "Gives its charge; nothing else can be judged before."
	whyRest          = "Surface charge must fade first."
	whySayRest       = "One tap narrows its charge."
	whySayTime       = "It decides what the loss means."
	whyApart         = "What it loses apart, it loses by itself."
	whyRestAgain     = "Gives its charge."
	whyBeyond        = "Charging cannot bring it back."
	whyBoth          = "One bad one drags the other down."
	whyLoad          = "Shows whether it can still deliver."
	whyLabelFirst    = "Enter the CCA, CA or Ah from the label first: the load follows it."
	whyReadLabel     = "Nothing is condemned by a figure that is typical or cannot be."
	whyTemperature   = "The limit follows it, and it lags the shop by hours."
	whyAcid          = "A cell that stays low is failing."
	whyMisleads      = "A bad contact misleads one tester and not the other."
	whyOnceFull      = "Ready once it is full."
	whyCables        = "Bad cables and clamps turn an engine slowly too."
	whyRunning       = "It runs now: its volts at once say whether it is being fed, before anybody switches it off."
	whyCharging      = "Shows whether the alternator keeps up."
	whyDrain         = "Shows what takes its charge while it stands."
	whyNothingMore   = "Nothing more to do on the battery."
	whyBatteryHolds  = "The battery is not the fault."
	whyAcidDenies    = "Everything off, doors shut, probes on the posts themselves."
	whyAcidAgain     = "With its temperature: cold acid reads heavy."
	whyOnlyIdle      = "At idle it is low, which says nothing yet: raise the revs and load it."
	whyAwake         = "It was read before all was asleep, which says nothing yet."
	whyWeek          = "Nothing measured emptied it: perhaps its drives never fill it."
	whyFeed          = "Say what would keep it charged."
	whyWarn          = "Say that the reason is not found, and write it down."
	saysPassesThough = "It passes, though the first suspect is itself: {name}."
	saysGoesThough   = "It goes, though the first suspect lies outside it: {name}."
	whyAgainst       = "Likelihoods order the tests. A battery is cleared or condemned by a reading and a limit."
	whyMaybeContacts = "Before it goes: a bad contact inside a clamp that looks fine would fail it too."
	whyConfirms      = "A failure is one once it is repeated on clean posts."
	whyLooksWeak     = "A bad contact looks like a weak battery."
	whyDirtyGoes     = "It goes back with good contacts."
	whyPutRight      = "Before it goes back."
	whyMend          = "That is what the complaint comes from, or what brings it back."
	whyTell          = "In words and on paper: what it still does, and from which cold it may fail."
	whyOffer         = "Before the cold, with the price, without pressure."
	whyWatch         = "It starts today."
	whyChargeRate    = "At a tenth of its ampere-hours. One that stood flat for long takes longer."
	doChargeCheck    = "Look at its charge"
	whyOnCharger     = "It hangs on a charger. Volts, amps and its warmth every half hour."
	whyChargeAmps    = "{amps} at {temp}, {rate}. One that stood flat for long takes longer."
	saysTenth        = "a tenth of its Ah"
	saysLabel        = "as its label says"
	saysFast         = "fast, somebody beside it"
	whyChargeSlowly  = "At low amps, for hours: watch whether current shows. Clean clamps first."
	whyChargeAgain   = "Up to 4 h at 16 V and over, 8 to 16 h under 16 V, before current shows. Watch its heat."
	whyChargeWatched = "At low amps. Stop if it gets hot, gasses or smells."

	saysNotHolding  = "Charged to full and low again: it no longer holds a charge."
	whyReplacedGoes = "The old one is labelled and goes to the recycler."
	whyNotHolding   = "Its own loss and what hung on it in that time leave a sound battery far fuller."
	saysShorted     = "Charged to full, it rests at about 10.5 V: one cell is shorted."
	whyShorted      = "Five cells of about 2.1 V make 10.5 V."
	saysChargeFirst = "Under {least}: charge it before it goes back."
	whyChargeFirst  = "A part charged battery comes back in three days."
	schoolHandBack  = "{name} ({figure}): hand it back as it is"
	saysNarrow      = "It missed by {missed}, {charge} charged."
	whyNarrow       = "A miss this small can be charge alone. Full, it has no excuse."
	saysShortTrips  = "It came in {charge} charged, and does short trips only."
	whyShortTrips   = "A start takes minutes of driving to put back, more in the cold; charging and drain were found fine."
	saysNoWhy       = "It came in {charge} charged, and nothing found says why."
	whyNoWhy        = "A flat battery without a reason comes back. Lights, drain, short trips or the charging?"

	waitRest      = "Resting, then take the volts"
	waitRestOver  = "Rest over: take the volts"
	waitDone      = "Handed over"
	waitLook      = "Look at its charge"
	waitCharging  = "On charger {charger}"
	waitOnCharge  = "On charge"
	waitKept      = "Kept on charger {charger}"
	waitWarm      = "Warming up"
	waitWarmOver  = "Warm enough: go on"
	waitParts     = "Waiting for parts"
	waitPartsOver = "Parts are due"
	waitJump      = "Charging through jump leads"
	waitJumpOver  = "Try it on the leads"
	waitOff       = "Take it off now"
	waitReady     = "Ready to test"
	waitFull      = "Full: take it off"

	sumHanded = "Handed over: {headline}"

	momentResting = "rest ends"
	momentRested  = "rest over"

	momentCharging = "check charge"
	momentLook     = "check due"
	momentWarming  = "warm enough"
	momentWarm     = "is warm enough"
	momentParts    = "parts due"
	momentPartsDue = "parts are due"
	momentJump     = "try it"
	momentJumpDue  = "try it now"
	momentReady    = "ready to test"
	momentIsReady  = "is ready to test"
	momentOff      = "take it off"
	momentFull     = "full"
	momentIsFull   = "is full"
)
