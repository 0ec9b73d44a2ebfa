package bench

import (
	"time"

	"grapnel/core/battery"
	"grapnel/core/charge"
	"grapnel/core/rating"
	"grapnel/core/words"
)

// Fact is what one reading says of the battery as it was when it was taken,
// looked at alone. A station fills in what its readings can tell; the bench puts
// the facts together.
type Fact struct {
	Reading  int       // position in the case
	At       time.Time // zero when nobody noted it
	Findings []Finding // what stands in the ledger whatever else is read

	Hazards []Hazard // what forbids working on it
	Clears  []string // hazards that are over with this reading, by their codes
	Lifts   []string // hazards that a lead has lifted
	Thawed  bool     // it was thawed since the cold was read
	Looked  bool     // somebody looked whether it is whole, dry, thawed and without smell
	Dirty   *Finding // a contact no reading can be trusted through; told unless a hazard stands
	Cleans  bool     // contacts were made good
	Mends   []string // what was put right, or is not there any more: codes of faults
	Hands   bool     // it was put right by hand, which says what the fault had been
	Settles string   // the station whose question it answers: charging, drain, crank; empty where it does not
	Faults  []Fault  // what must be put right before it goes, or explains the complaint

	Charge  *Charge  // how full it was
	Acid    *Acid    // gravity of the acid
	Eye     string   // colour of the built-in hydrometer
	Load    *Load    // a load test
	Test    *Test    // how strong it was, by any tester
	Charged *Charged // it was charged
	Hung    *Hung    // it was hung on a charger
	Look    *Look    // somebody looked at it there
	// Replaced is the tag of the battery that stands in its place now.
	Replaced string
	Ran      bool     // an engine ran since: how full it is now nobody knows
	Warm     *float64 // °C of the battery at the time, measured

	Unjudged bool // kept, but no verdict rests on it

	// Feeds works out what the week that was told comes to; nil from it where it cannot.
	Feeds func(*Bench) *Fed

	// Late gives lines that hang on what all readings together say.
	Late func(*Bench) []Finding
}

// Hazard is why a battery must not be worked on as usual.
type Hazard struct {
	Code    string
	Reading int        // -1 where no reading says so
	Name    words.Text // finishes "Stop. …"
	// First is what has to be done before anything else: an act of package assess.
	First string
	// Stops everything until a lead overrides it; else the work waits for First.
	Stops bool
}

// Fault is something found outside the battery's own strength, in the order it
// matters.
type Fault struct {
	Code    string
	Reading int
	Name    words.Text // as an order: "Mend the earthed path"
	// Explains: it explains a complaint or a flat battery, and is looked at before the
	// battery goes back. Else it is put right in passing.
	Explains bool
	Why      bool // it answers why a battery went flat
	Found    bool // of a drain: the branch is known
	Vague    bool // it points the way; one that was measured there stands before it
}

// Known reports whether the volts say how full it is.
func (c *Charge) Known() bool { return !c.TooHigh && !c.Nothing }

// Charge is how full a rest voltage says the battery was.
type Charge struct {
	battery.RestCharge
	Reading int
	At      time.Time
	Rest    battery.Rest // as it was read
	Volts   float64
	TempC   float64
	TooHigh bool // no resting battery reads this: surface charge or a charger
	Nothing bool // next to no volts at all, for the first time: perhaps no contact
	Settled bool // rested as long as the house asks, or surface charge removed
	Unsaid  bool // nobody said how it rested, nor how long
	Apart   bool // its cable was off since it was charged
	Other   bool // read off something else than rest volts
}

// Acid is what a hydrometer said.
type Acid struct {
	Reading int
	Cells   []float64 // specific gravity at 26.7 °C
	Lowest  int       // position of the weakest cell
	Spread  float64
	Charge  battery.Band // percent, of the mean
	Level   string
	Mixed   bool // nothing was watered or charged just before, which leaves weak acid on top
}

// Outcome is how a test ended by its own limits.
type Outcome int

// The outcomes of a test.
const (
	Silent Outcome = iota // it says nothing: a figure is missing
	Held
	Near // under its limit by less than the reading may be off
	Sagged
)

// Load is a load test by its own limits, and what the bench adds to it: the
// charge it was taken at, and what has changed since.
type Load struct {
	Reading int
	At      time.Time
	Method  string
	Amps    float64 // 0 when not read
	Seconds float64 // 0 when not noted
	Volts   float64 // at the end
	// LabelLoad is what the label says to load it with; zero amps when it cannot say.
	LabelLoad   rating.Load
	TempC       float64
	TempAssumed bool

	Charge *battery.Band // percent, nil when nobody knows
	Fair   bool          // charged enough for a fair test, by the house rule

	// Weighed, once charge and label are known. Band is the volts as a fair test of
	// this label would have shown them, with all that is not known of it.
	Band   battery.Band
	Limit  float64
	Result Outcome
	Light  bool   // too little load, or too short, for holding to prove much
	Doubt  string // what makes a miss uncertain; see the doubts
	Mute   words.Text

	// What was so, and has changed since.
	DirtyThen    []int
	CleanedSince bool
	ChargedSince bool

	// Weigh fills in the above, and Conclude gives the ledger's lines.
	Weigh    func(*Bench, *Load)
	Conclude func(*Bench, *Load) []Finding
}

// Doubts about a miss, in the order they are settled.
const (
	DoubtLabel  = "label"
	DoubtTemp   = "temperature"
	DoubtCold   = "cold"
	DoubtCharge = "charge"
	DoubtLoad   = "load"
	DoubtMeter  = "meter"
)

// Test is a reading of strength: what any tester showed, to be put through the
// model.
type Test struct {
	Reading  int
	At       time.Time
	Kind     string
	Rank     int           // order among the kinds of tester
	Charge   *battery.Band // percent at the time, nil when nobody knows
	BatteryC *float64      // the tester's own, nil when not taken
	// Own is part of the label, percent, by the tester's own word; 0 when it has none.
	Own          float64
	CleanedSince bool
	ChargedSince bool
	// Measure gives what the tester really measured of a battery of this label;
	// false when the reading says nothing of strength by itself.
	Measure func(b battery.Battery, at battery.Condition) (battery.Strength, bool)
	// What names the tester, and Demand what it demanded of the battery, at a charge;
	// both for the ledger.
	What   string
	Demand func(charge words.Text) words.Text
	Code   string
}

// Charged is a charge that was given.
type Charged struct {
	Reading int
	At      time.Time
	Ended   string  // full, stopped, refused or hot
	Hours   float64 // 0 when not noted
	Amps    float64 // the most the charger gave, 0 when not noted
	// Missing is the ampere-hours that were missing at least when it began, 0 when
	// nobody knows.
	Missing float64
	Nearly  bool // it was nearly full before
}

// Hung is a battery on a charger.
type Hung struct {
	Reading int
	At      time.Time // zero where nobody noted it
	Charger string    // as the shop calls it
	Kind    charge.Kind
	Amps    float64 // what it is set to, or gives at most
	Volts   float64 // what it holds it at, 0 for as the build asks
	Looks   []Look
}

// Look is one look at it there: what was not read is nil.
type Look struct {
	At     time.Time
	Volts  *float64
	Amps   *float64
	CaseC  *float64
	Warmth string // to the hand; see package charge
}

// GassingViolent is gassing that stops a charge.
const GassingViolent = "violent"

// Ends of a charge.
const (
	EndedFull    = "full"
	EndedStopped = "stopped"
	EndedRefused = "refused"
	EndedHot     = "hot"
)
