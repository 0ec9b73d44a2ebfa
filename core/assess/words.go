package assess

// Everything the policy says. No rule stands here: a sentence is chosen in
// policy.go and steps.go.

// saying is a verdict in two sentences: what to do, and the reason.
type saying struct{ headline, because string }

var (
	stopWork = saying{
		"Stop. {hazard}.",
		"Do not charge, load test or jump start it. Replace it."}
	thawFirst = saying{
		"It may be frozen. Thaw it first.",
		"A frozen battery can burst when it is charged or cranked."}
	cleanThenRest = saying{
		"Clean the contacts, then take the rest voltage.",
		"A bad contact spoils every reading taken through it."}
	restAfterCharge = saying{
		"Rest it, then take the volts.",
		"Straight off the charger every battery looks full."}
	restForLoad = saying{
		"Take the rest voltage.",
		"The load test counts once it is known how full the battery is."}
	restFirst = saying{
		"Take the rest voltage first.",
		"A flat battery is not a bad battery: find out how full it is."}
	restAgain = saying{
		"Rest it, then read again.",
		"No rested battery reads this high."}
	sayRest = saying{
		"Has it rested? Say so, or rest it.",
		"With surface charge it reads high: {charge} charged, and a load test may be fair or not."}
	notHolding = saying{
		"Replace it: it will not hold a charge.",
		"It was charged to full and rests low again."}
	chargeFirst = saying{
		"Charge it, then test again.",
		"{fullness}: too low to judge its strength fairly."}
	loadNow = saying{
		"Charged enough. Load test it.",
		"The voltage says how full it is, not how strong."}
	loadOnceMore = saying{
		"Charged now. Load test it again.",
		"The last load test was taken while it was too flat."}
	loadFully = saying{
		"Load test it at full load.",
		"Holding a light or short load proves little."}
	contradiction = saying{
		"The testers contradict each other. Test it again.",
		"No one battery gives these readings. {settle}"}
	soundNotFull = saying{
		"It holds its load. Charge it before it goes back.",
		"It is only not full."}
	lookElsewhere = saying{
		"The battery holds. Look elsewhere.",
		"It came in charged and holds its load, so the complaint has another cause."}
	sound = saying{
		"It holds, and is charged. Back to work.",
		"It passed its load test with charge to spare."}
	cleanAndTest = saying{
		"Clean the contacts and test again.",
		"The volts may have been lost in a bad contact."}
	loadAtHalf = saying{
		"Load test it at half its CCA.",
		"The fixed load left it between fine and finished."}
	fullThenTest = saying{
		"Charge it full, then test again.",
		"A narrow miss on a battery that may be low is no verdict."}
	tooWeak = saying{
		"Replace it: charged, and still too weak.",
		"It was charged enough for a fair test and did not hold its load."}
)

const (
	fullnessFlat   = "Flat"
	fullnessNearly = "Nearly flat"
	fullnessHalf   = "About half charged"
	fullnessPart   = "Part charged"

	doSayRest   = "Say how it rested"
	doRestVolts = "Take the rest voltage"
	doLoadTest  = "Load test it"
	doCharge    = "Charge it"
	doRest      = "Let it rest"
	doClean     = "Clean the contacts"
	doReplace   = "Replace it"
	doHandOver  = "Hand it over"
	doThaw      = "Let it thaw, then look at the case"
	doCables    = "Measure the cables while cranking"
	doCharging  = "Check the charging volts"

	whyUnsafe      = "It is not safe to work on."
	whyThaw        = "Then look for a split or bulged case before anything else."
	whyDirtyRest   = "Readings through a bad contact cannot be trusted."
	whyRestFirst   = "Gives its charge; nothing else can be judged before."
	whyRest        = "Surface charge must fade first."
	whySayRest     = "One tap narrows its charge."
	whyRestAgain   = "Gives its charge."
	whyBeyond      = "Charging cannot bring it back."
	whyLoad        = "Shows whether it can still deliver."
	whyLabelFirst  = "Enter the CCA, CA or Ah from the label first: the load follows it."
	whyMisleads    = "A bad contact misleads one tester and not the other."
	whyOnceFull    = "Ready once it is full."
	whyCables      = "Bad cables and clamps turn an engine slowly too."
	whyCharging    = "Shows whether the alternator keeps up."
	whyNothingMore = "Nothing more to find in the battery."
	whyLooksWeak   = "A bad contact looks like a weak battery."
	whyChargeRate  = "At a tenth of its ampere-hours. Cold or long flat batteries take longer."

	saysNotHolding  = "Charged to full and still low: it no longer holds a charge."
	whyNotHolding   = "A sound battery rests near its full voltage after a full charge."
	saysChargeFirst = "Under {least}: charge it before it goes back."
	whyChargeFirst  = "A part charged battery comes back in three days."
	schoolHandBack  = "{name} ({figure}): hand it back as it is"
	saysNarrow      = "It missed by {missed}, and it may have been under {least}."
	whyNarrow       = "A miss this small can be charge alone. Full, it has no excuse."

	waitRest     = "Resting, then take the volts"
	waitRestOver = "Rest over: take the volts"
	waitDone     = "Handed over"

	askCharged    = "Has it been charged?"
	sumHanded     = "Handed over: {headline}"
	momentResting = "rest ends"
	momentRested  = "rest over"
)
