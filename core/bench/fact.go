package bench

import (
	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/words"
)

// Fact is what one reading says of the battery as it was when it was taken,
// looked at alone. A station fills in what its readings can tell; the bench puts
// the facts together.
type Fact struct {
	Reading  int       // position in the case
	Findings []Finding // what stands in the ledger whatever else is read

	Hazard words.Text // finishes "Stop. …"; zero when the work may go on
	Ice    bool       // seen frozen

	Dirty  *Finding // a contact no reading can be trusted through; told unless a hazard stands
	Cleans bool     // contacts were made good

	Charge  *Charge  // how full it was
	Load    *Load    // a load test
	Test    *Test    // how strong it was, by any tester
	Charged *Charged // it was charged

	Unjudged bool // kept, but no verdict rests on it
}

// Charge is how full a rest voltage says the battery was.
type Charge struct {
	battery.RestCharge
	Reading int
	Volts   float64
	TempC   float64
	TooHigh bool // no resting battery reads this: surface charge or a charger
	Settled bool // rested as long as the house asks, or surface charge removed
	Unsaid  bool // nobody said how it rested, nor how long
}

// Outcome is how a load test ended.
type Outcome int

// The outcomes of a load test.
const (
	Held Outcome = iota
	Between
	Sagged
)

// Load is a load test by its own limits, and what the bench adds to it: the
// charge it was taken at.
type Load struct {
	Reading int
	Method  string
	Amps    float64 // 0 when not read
	Seconds float64 // 0 when not noted
	Volts   float64 // at the end
	// LabelLoad is what the label says to load it with; zero amps when it cannot say.
	LabelLoad rating.Load
	Limit     float64
	Result    Outcome
	Light     bool // too little load, or too short, for holding to prove much

	Charge *battery.Band // percent, nil when nobody knows
	Fair   bool          // charged enough for a fair test, by the house rule

	// Conclude gives the ledger's lines once charge and contacts are known.
	Conclude func(*Bench) []Finding
}

// Test is a reading of strength: what any tester showed, to be put through the
// model.
type Test struct {
	Reading  int
	Kind     string
	Rank     int           // order among the kinds of tester
	Charge   *battery.Band // percent at the time, nil when nobody knows
	BatteryC *float64      // the tester's own, nil when not taken

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
	Ended string // full, stopped, refused or hot
}
