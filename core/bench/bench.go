// Package bench puts together what the readings of one battery say: what holds of
// it now. Each reading has been looked at by itself (a Fact, from its station);
// here they meet, in the order they were taken:
//
//	bench.go     what holds, reading by reading
//	ages.go      what a reading still says after days and weeks
//	hazard.go    what forbids working on it, and what ends that
//	freezing.go  the acid against the cold
//	charging.go  what the charges it was given teach
//	load.go      the last load test, and what has changed since
//	strength.go  testers brought to one figure by the battery model
//	why.go       why it went flat, and what must be put right
//	week.go      what a typical week gives it and takes
//	label.go     what the label is worth
//
// A charge makes what was read before it history, a cleaning makes contacts good, a
// rest voltage speaks for the load test beside it. What to do about it is policy,
// in package assess.
package bench

import (
	"slices"
	"time"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/rules"
	"grapnel/core/words"
)

// Labels finds the battery that a label promises: battery.FromLabel, or something
// that remembers its answers.
type Labels func(battery.Chemistry, int, rating.Label) (battery.Battery, battery.Nameplate, error)

// Bench is what holds of a battery once its readings are put together.
type Bench struct {
	Case  reading.Case
	House rules.Rules   // as they hold for this class of vehicle
	SAE   rating.SAECCA // the label's cranking figure, zero amps when it has none
	Now   time.Time     // as of when it is judged, zero when no reading has a time
	// RestEnds is when the rest that runs is over; nil where none does.
	RestEnds *time.Time

	Hazards    []Hazard // that stand, in the order they were found
	Overridden []Hazard // that a lead has lifted
	Looked     bool     // somebody looked whether it is whole, dry, thawed and without smell
	Cleaned    bool     // posts or clamps were cleaned or tightened in this job
	Replaced   string   // the tag of the battery that stands in its place, empty while it is in hand
	Dirty      []int    // readings that found a contact no test can be trusted through
	Faults     []Fault  // outside the battery, not yet put right

	Charge *Charge // the last rest voltage that still counts
	Acid   *Acid   // the last gravity since charging
	Eye    string  // the last colour since charging
	EyeBy  int     // its reading

	Load    *Load // the last load test that counts
	Past    *Load // the last one that no longer does, and why
	PastWhy string
	Fails   int // load tests in effect that sagged
	// HeldBefore: the last sagged though the one before it held, with nothing done to
	// the battery between.
	HeldBefore bool

	Charges []*Charged
	Hung    *Hung     // the charger it hangs on, nil for none
	Full    *Charged  // the last charge that ended full and can have filled it
	Shown   float64   // what this battery rests at when full, 0 until it has shown it
	Flat    *Charge   // the first rest voltage, where it was found low
	FullAt  time.Time // when it was last full

	Findings []Finding

	tests    []*Test // the last of each kind of tester that counts
	loads    []*Load
	unjudged []int
	settled  []string // stations whose question was answered
	// whyMended: what had emptied it was found and put right.
	whyMended bool
	facts     []Fact
	labels    Labels
	memo      *memo
	quiet     bool // no ledger is kept
	read      bool // every reading is in, so that the charge is what it is
	soc       *battery.Band
	modelled  bool
	thawed    bool // it was brought in and thawed; the sheet's cold is no longer its own
	asNew     *battery.Battery
	plate     battery.Nameplate
	strength  *Strength
	fails     *failure
	feeds     func(*Bench) *Fed
	fed       *Fed
}

// Put lays a case and what each of its readings says on the bench. describe
// names a kind of reading, for the ledger.
func Put(c reading.Case, facts []Fact, describe func(kind string) string, labels Labels) *Bench {
	b := &Bench{Case: c, House: c.Rules.For(c.Vehicle.Class), EyeBy: -1, labels: labels, memo: &memo{}}
	return b.put(facts, describe)
}

// Again lays the same case on another bench, as other house rules and the facts
// they give have it: for its verdict alone, without a ledger. What the model has
// said of it already is not asked twice.
func (b *Bench) Again(house rules.Rules, facts []Fact) *Bench {
	other := &Bench{Case: b.Case, House: house, EyeBy: -1, labels: b.labels, memo: b.memo, modelled: b.modelled,
		asNew: b.asNew, plate: b.plate, quiet: true}
	other.Case.Rules = house
	return other.put(facts, func(string) string { return "" })
}

// Otherwise is the same bench under house rules that no reading alone is judged by,
// for its verdict alone. Weighed: load tests are weighed anew by them.
func (b *Bench) Otherwise(house rules.Rules, weighed bool) *Bench {
	b.Strength() // once for both
	other := *b
	other.House, other.Case.Rules, other.Findings, other.quiet = house, house, nil, true
	if !weighed {
		return &other
	}
	other.Load, other.Past, other.PastWhy, other.Fails, other.HeldBefore = nil, nil, "", 0, false
	other.loads = make([]*Load, len(b.loads))
	for i, l := range b.loads {
		fresh := *l
		fresh.Result, fresh.Light, fresh.Doubt, fresh.Mute = Silent, false, "", words.Text{}
		other.loads[i] = &fresh
	}
	other.settleLoad()
	if (other.Load == nil) != (b.Load == nil) || b.Load != nil && (other.Load.Reading != b.Load.Reading || other.Load.Result != b.Load.Result) {
		other.strength, other.fails = nil, nil // another test speaks of its strength
	}
	return &other
}

func (b *Bench) put(facts []Fact, describe func(kind string) string) *Bench {
	c := b.Case
	told := 8 // lines of the label, the cold, the load test, what is kept
	for _, f := range facts {
		told += len(f.Findings)
	}
	b.Findings = make([]Finding, 0, told)
	b.SAE, _ = c.Battery.Rating.Label().ToSAE()
	b.Now = asOf(c)
	b.labelFindings()
	b.buildFindings()
	for _, f := range facts {
		b.take(f)
	}
	b.expire()
	b.soc, b.read = b.knownCharge(), true
	b.freezing()
	b.hot()
	b.acidAgainstVolts()
	b.settleLoad()
	b.facts = facts
	b.kept(describe)
	return b
}

// TellLate writes the ledger's lines that hang on what all readings together say.
func (b *Bench) TellLate() {
	for _, f := range b.facts {
		if f.Late != nil {
			b.tell(f.Late(b)...)
		}
	}
}

// RestLeft is how long the rest that runs still takes, minutes; false where none does.
func (b *Bench) RestLeft() (minutes float64, runs bool) {
	if b.RestEnds == nil || !b.RestEnds.After(b.Now) {
		return 0, false
	}
	return b.RestEnds.Sub(b.Now).Minutes(), true
}

// Facts are what the readings say, each by itself. The caller may keep the list, and
// put another fact in a place.
func (b *Bench) Facts() []Fact { return slices.Clone(b.facts) }

// memo remembers what the model has said of a reading at a charge.
type memo struct {
	strengths []remembered
	loads     []weighed
	worn      []worn
	reaches   []reached
}

// worn is the battery that would have ended a load as it ended, at a charge.
type worn struct {
	reading int
	soc     float64
	as      battery.Battery
	ok      bool
}

// Worn gives the battery of this label that would have ended a load test as it
// ended, whatever the house rules; false where none would.
func (b *Bench) Worn(l *Load, made battery.Battery, at battery.Condition, d battery.Discharge) (battery.Battery, bool) {
	for i := range b.memo.worn {
		if w := &b.memo.worn[i]; w.reading == l.Reading && w.soc == at.SOC.Best {
			return w.as, w.ok
		}
	}
	as, ok := made.WornAt(at, d)
	b.memo.worn = append(b.memo.worn, worn{l.Reading, at.SOC.Best, as, ok})
	return as, ok
}

// weighed is a load test as it was weighed under the rules that bear on it.
type weighed struct {
	reading int
	soc     battery.Band
	known   bool
	limit   string
	starter float64
	method  string
	load    Load
}

// weigh weighs a load test, once for a charge and the rules that bear on it.
func (b *Bench) weigh(l *Load) {
	key := weighed{reading: l.Reading, known: l.Charge != nil}
	switch l.Method {
	case rules.ByHalfCCA:
		key.limit = b.House.LoadTestLimit
	case rules.ByStarter:
		key.starter, key.method = b.House.StarterMinVolts, b.House.StrengthMethod
	}
	if l.Charge != nil {
		key.soc = *l.Charge
	}
	for i := range b.memo.loads {
		if w := &b.memo.loads[i]; w.reading == key.reading && w.soc == key.soc && w.known == key.known && w.limit == key.limit &&
			w.starter == key.starter && w.method == key.method {
			l.Band, l.Limit, l.Result, l.Light, l.Doubt, l.Mute = w.load.Band, w.load.Limit, w.load.Result, w.load.Light, w.load.Doubt, w.load.Mute
			return
		}
	}
	l.Weigh(b, l)
	key.load = *l
	b.memo.loads = append(b.memo.loads, key)
}

type remembered struct {
	reading int
	at      battery.Condition
	found   battery.Strength
	ok      bool
}

// measure puts a test through the model, once for a charge.
func (m *memo) measure(t *Test, made battery.Battery, at battery.Condition) (battery.Strength, bool) {
	for _, r := range m.strengths {
		if r.reading == t.Reading && r.at == at {
			return r.found, r.ok
		}
	}
	found, ok := t.Measure(made, at)
	m.strengths = append(m.strengths, remembered{t.Reading, at, found, ok})
	return found, ok
}

// take adds one fact to what holds. The fact itself is not written on, since other
// house rules may have it again.
func (b *Bench) take(f Fact) {
	if r := b.Case.Readings[f.Reading]; r.At != nil {
		f.At = *r.At
	}
	b.ageCharge(f.At)
	b.takeHazards(&f)
	b.Looked = b.Looked || f.Looked
	if f.Replaced != "" {
		b.Replaced = f.Replaced
	}
	if f.Cleans {
		b.Dirty, b.Cleaned = nil, true
		for _, l := range b.loads {
			l.CleanedSince = true
		}
		for _, t := range b.tests {
			t.CleanedSince = true
		}
	}
	b.takeFaults(&f)
	if f.Charge != nil {
		b.takeCharge(&f)
	}
	if f.Acid != nil {
		a := *f.Acid
		a.Reading = f.Reading
		b.Acid = &a
	}
	if f.Eye != "" {
		b.Eye, b.EyeBy = f.Eye, f.Reading
	}
	if f.Load != nil {
		l := *f.Load
		l.Reading, l.At, l.Charge, l.DirtyThen = f.Reading, f.At, b.knownCharge(), slices.Clone(b.Dirty)
		b.loads = append(b.loads, &l)
	}
	if f.Test != nil {
		t := *f.Test
		t.Reading, t.At, t.Charge = f.Reading, f.At, b.knownCharge()
		b.tests = slices.DeleteFunc(b.tests, func(old *Test) bool { return old.Kind == t.Kind })
		b.tests = append(b.tests, &t)
	}
	if f.Charged != nil {
		b.takeCharged(&f)
	}
	b.takeHung(&f)
	if f.Ran {
		b.Charge, b.Acid, b.Eye = nil, nil, ""
	}
	if f.Feeds != nil {
		b.feeds, b.fed = f.Feeds, nil
	}
	if f.Unjudged {
		b.unjudged = append(b.unjudged, f.Reading)
	}
	b.tell(f.Findings...)
	// Nobody is sent to clean a battery that must not be worked on.
	if f.Dirty != nil && !b.stopped() {
		b.Dirty = append(b.Dirty, f.Reading)
		b.tell(*f.Dirty)
	}
}

func (b *Bench) takeCharge(f *Fact) {
	one := *f.Charge
	c := &one
	c.Reading, c.At = f.Reading, f.At
	if b.Shown > 0 && !c.Other {
		c.Rest.Full = b.Shown
		c.RestCharge = battery.ChargeFromRest(b.Case.Battery.Chemistry, battery.Cells(b.Case.Volts()), c.Rest)
	}
	if b.filled(c) {
		// Its volts may be those of a full one, and it was just filled: what they leave open
		// is its build.
		soc := &c.RestCharge.Charge
		soc.Best = max(soc.Best, min(soc.High, LeastOfFull))
	}
	b.Charge = c
	if b.Flat == nil && len(b.Charges) == 0 && c.Known() && c.RestCharge.Charge.Best < foundFlat {
		b.Flat = c
	}
	b.showsFull(c)
}

// foundFlat is the charge, percent, under which a battery that comes in was found
// flat: an engine that starts it leaves more. Common practice, no source.
const foundFlat = 65

// knownCharge is the charge a test taken now is judged with, nil when nobody
// knows it.
func (b *Bench) knownCharge() *battery.Band {
	if b.read {
		return b.soc
	}
	var soc battery.Band
	switch {
	case b.Charge != nil && b.Charge.Known():
		soc = b.Charge.RestCharge.Charge
		if b.Acid != nil && b.Acid.Mixed {
			soc = b.together(soc, b.Acid.Charge)
		}
	case b.Charge == nil && b.Acid != nil && b.Acid.Mixed:
		soc = b.Acid.Charge
	default:
		return nil
	}
	return &soc
}

// together is the charge by volts and acid: where both can be true; where they
// cannot, everything between them, since one of the two misleads.
func (b *Bench) together(volts, acid battery.Band) battery.Band {
	low, high := max(volts.Low, acid.Low), min(volts.High, acid.High)
	if low > high {
		return battery.Band{Low: min(volts.Low, acid.Low), Best: min(volts.Best, acid.Best), High: max(volts.High, acid.High)}
	}
	wide, narrow := volts.High-volts.Low, acid.High-acid.Low
	best := volts.Best
	if wide+narrow > 0 {
		best = (volts.Best*narrow + acid.Best*wide) / (wide + narrow)
	}
	return battery.Band{Low: low, Best: min(max(best, low), high), High: high}
}

// Apart gives the charge by volts and by acid where they cannot both be true; false
// where they can, or one of them is missing.
func (b *Bench) Apart() (volts, acid battery.Band, apart bool) {
	if b.Charge == nil || !b.Charge.Known() || b.Acid == nil || !b.Acid.Mixed {
		return volts, acid, false
	}
	volts, acid = b.Charge.RestCharge.Charge, b.Acid.Charge
	return volts, acid, volts.Low > acid.High || acid.Low > volts.High
}

// RestTwice reports whether the rest volts were taken more than once at the charge
// there is now.
func (b *Bench) RestTwice() bool { return b.repeated(restKind) }

const restKind = "rest_voltage"

// acidAgainstVolts tells where the two ways to a charge cannot both be right.
func (b *Bench) acidAgainstVolts() {
	volts, acid, apart := b.Apart()
	if !apart {
		return
	}
	why := whyAcidLow
	if acid.Low > volts.High {
		why = whyAcidHigh
	}
	b.tell(Finding{
		Code: "charge.disagree", Level: Note, Readings: []int{b.Charge.Reading, b.Acid.Reading}, Rule: "charge.together",
		Source: Practice, Text: words.Say(saysApartCharge, "volts", SpellCharge(volts), "acid",
			SpellCharge(acid)), Why: words.Say(why),
	})
}

// SOC is the charge now, percent; nil when nobody knows it.
func (b *Bench) SOC() *battery.Band { return b.knownCharge() }

// ChargesRead are all charges, percent, that a house rule may be held against: of now
// and of each load test, the ends of their bands too.
func (b *Bench) ChargesRead() []float64 {
	var out []float64
	add := func(soc *battery.Band) {
		if soc != nil {
			out = append(out, soc.Low, soc.Best, soc.High)
		}
	}
	add(b.SOC())
	for _, l := range b.loads {
		add(l.Charge)
	}
	for _, t := range b.tests {
		add(b.ChargeOf(t))
	}
	return out
}

// chargeFor is the charge a test was taken at. A rest voltage taken after the
// test speaks for it too, when no charge came between: 15 s of load takes well
// under 1 % out.
func (b *Bench) chargeFor(reading int, known *battery.Band) *battery.Band {
	if known == nil && (len(b.Charges) == 0 || b.Charges[len(b.Charges)-1].Reading < reading) {
		return b.knownCharge()
	}
	return known
}

// kept says which readings are in the case but in no verdict.
func (b *Bench) kept(describe func(string) string) {
	if len(b.unjudged) == 0 {
		return
	}
	var names []string
	var said []words.Text
	for _, i := range b.unjudged {
		if name := describe(b.Case.Readings[i].Kind); !slices.Contains(names, name) {
			names, said = append(names, name), append(said, words.Say(name))
		}
	}
	b.tell(Finding{
		Code:     "reading.kept",
		Level:    Note,
		Readings: b.unjudged,
		Text:     words.Say(saysKept, "kinds", said),
		Why:      words.Say(whyKept),
	})
}

func (b *Bench) tell(fs ...Finding) {
	if b.quiet {
		return
	}
	for _, f := range fs {
		if f.Readings == nil {
			f.Readings = []int{}
		}
		b.Findings = append(b.Findings, f)
	}
}

// Tell adds to the ledger what a verdict adds to what the readings say.
func (b *Bench) Tell(f Finding) { b.tell(f) }

// Words of what holds.
const (
	saysApartCharge = "Volts say {volts} charged, the acid {acid}: one of the two misleads."
	whyAcidHigh     = "Something switched on or a poor contact pulls the volts down; cold acid reads heavy."
	whyAcidLow      = "Weak acid lies on top after water or a charge, and surface charge raises the volts. The lower one counts."
	saysKept        = "Kept, but no verdict rests on it: {kinds}."
	whyKept         = "It stays in the history and in the case file."
)
