package bench

import (
	"grapnel/core/measure"
	"grapnel/core/words"
)

// Why a load test is history.
const (
	PastCleaned = "cleaned"
	PastCharged = "charged"
	PastOld     = "old"
)

// settleLoad says of the load tests what depends on other readings: which still
// count, and what the last of them says.
func (b *Bench) settleLoad() {
	for _, l := range b.loads {
		l.Charge = b.chargeFor(l.Reading, l.Charge)
		l.Fair = l.Charge != nil && l.Charge.Best >= b.House.LoadTestMinSOC
		b.weigh(l)
		why := b.history(l)
		if why != "" {
			b.Past, b.PastWhy, b.Load = l, why, nil
			if why == PastCleaned && l.Fair && l.Result == Sagged {
				b.Fails++ // a failure on clean posts then confirms it
			}
			continue
		}
		b.HeldBefore = b.Load != nil && b.Load.Fair && b.Load.Result == Held && !b.Load.ChargedSince && !b.Load.CleanedSince &&
			l.Fair && l.Result == Sagged
		b.Load = l
		if l.Fair && l.Result == Sagged {
			b.Fails++
		} else if l.Result == Held {
			b.Fails = 0
		}
	}
	switch {
	case b.quiet:
	case b.Load != nil:
		b.tell(b.Load.Conclude(b, b.Load)...)
	case b.Past != nil:
		b.tellPast()
	}
}

// history says why a load test no longer counts; empty while it does. What holds
// after a cleaning or a charge still holds; what failed may have failed for what
// has been put right since.
func (b *Bench) history(l *Load) string {
	switch {
	case older(l.At, b.Now, TestSpeaks):
		return PastOld
	case l.CleanedSince && l.Result != Held:
		return PastCleaned
	case l.ChargedSince && (!l.Fair || l.Result == Near || l.Result == Silent || l.Result == Held && l.Light):
		return PastCharged
	}
	return ""
}

func (b *Bench) tellPast() {
	l := b.Past
	f := Finding{
		Code: "load_test.history", Level: Note, Readings: []int{l.Reading}, Rule: "reading.age", Source: Judged,
		Why: words.Say(whyPast),
	}
	switch volts := measure.Volts(l.Volts, 2); b.PastWhy {
	case PastOld:
		f.Text = words.Say(saysPastOld, "volts", volts, "age", age(l.At, b.Now))
	case PastCleaned:
		f.Text = words.Say(saysPastCleaned, "volts", volts)
	default:
		f.Text = words.Say(saysPastCharged, "volts", volts)
	}
	b.tell(f)
}

// Words of history.
const (
	saysPastOld     = "{volts} under load, {age} ago: history. Test it again."
	saysPastCleaned = "{volts} under load was read before the contacts were cleaned: history. Test it again."
	saysPastCharged = "{volts} under load was read before it was charged: history. Test it again."
	whyPast         = "A test counts for the battery as it was then; what changed since decides what it still says."
)
