package bench

import (
	"time"

	"grapnel/core/measure"
	"grapnel/core/reading"
	"grapnel/core/words"
)

// How long a reading speaks. A charge changes within days of standing or driving;
// strength, cables and charging within weeks. House judgement.
const (
	ChargeSpeaks = 48 * time.Hour
	TestSpeaks   = 14 * 24 * time.Hour
)

// asOf is when a case is judged: as it says, or at its last reading that has a
// time.
func asOf(c reading.Case) time.Time {
	if c.AsOf != nil {
		return *c.AsOf
	}
	var last time.Time
	for _, r := range c.Readings {
		if r.At != nil && r.At.After(last) {
			last = *r.At
		}
	}
	return last
}

// older reports whether what was taken at a time was longer ago than so; what has
// no time is taken to be of today.
func older(at, now time.Time, than time.Duration) bool {
	return !at.IsZero() && !now.IsZero() && now.Sub(at) > than
}

// ageCharge forgets a charge that has become history by a time, and says so.
func (b *Bench) ageCharge(now time.Time) {
	c := b.Charge
	if c == nil || !older(c.At, now, ChargeSpeaks) {
		return
	}
	b.Charge, b.Acid, b.Eye = nil, nil, ""
	b.tell(Finding{
		Code: "rest_voltage.old", Level: Note, Readings: []int{c.Reading}, Rule: "reading.age", Source: Judged,
		Text: words.Say(saysOldCharge, "volts", measure.Volts(c.Volts, 2), "age", age(c.At, now)),
		Why:  words.Say(whyOldCharge),
	})
}

// expire lets go of what is too old to speak now, and says so.
func (b *Bench) expire() {
	b.ageCharge(b.Now)
	kept := b.tests[:0]
	for _, t := range b.tests {
		if older(t.At, b.Now, TestSpeaks) {
			if t.Kind != loadTestKind {
				b.tell(Finding{
					Code: t.Code + ".old", Level: Note, Readings: []int{t.Reading}, Rule: "reading.age", Source: Judged,
					Text: words.Say(saysOldTest, "what", t.What, "age", age(t.At, b.Now)), Why: words.Say(whyOldTest),
				})
			}
			continue
		}
		kept = append(kept, t)
	}
	b.tests = kept
}

// speaks reports whether a reading is young enough to say anything of a test.
func (b *Bench) speaks(reading int) bool {
	at := b.Case.Readings[reading].At
	return at == nil || !older(*at, b.Now, TestSpeaks)
}

// loadTestKind is the kind of reading whose age package bench tells by itself.
const loadTestKind = "load_test"

func age(at, now time.Time) measure.Quantity { return measure.Minutes(now.Sub(at).Minutes()) }

// Words of age.
const (
	saysOldCharge = "{volts} was read {age} before: that charge is history."
	whyOldCharge  = "It has stood or been driven since. Only what was read after counts."
	saysOldTest   = "The {what} of {age} ago is history."
	whyOldTest    = "A test counts for the battery as it was then. Weeks of standing or driving change it."
)
