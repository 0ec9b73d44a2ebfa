package assess

import (
	"fmt"

	"grapnel/core/battery"
	"grapnel/core/rating"
	"grapnel/core/reading"
	"grapnel/core/rules"
)

// Figures of the other ways to load a battery, 12 V. Common practice, no source.
const (
	fixedFine   = 10.0 // fixed load, 10 s: fine from here
	fixedBad    = 9.0  // and finished below here
	lightLoad   = 0.8  // of the load asked for; less proves little by holding
	narrowVolts = 0.3  // a miss this small can be charge, meter or time
	shortBy     = 1.5  // seconds short of the time asked for that still count
)

func (s *story) loadTest(i int, r reading.Reading) {
	s.load = &loadAt{i: i, r: r, volts: *r.VoltsEnd}
	if s.rest != nil && !s.rest.tooHigh {
		soc := s.rest.Charge
		s.load.soc = &soc
	}
}

// judgeLoad settles the last load test that counts.
func (s *story) judgeLoad() {
	l := s.load
	if l == nil {
		return
	}
	scale := s.c.Volts() / 12
	l.asked, _ = rating.TestLoad(s.c.Battery.Rating.Label())
	// A rest voltage taken after the test speaks for it too, when no charge
	// came between: 15 s of load takes well under 1 % out.
	if l.soc == nil && s.rest != nil && !s.rest.tooHigh && s.charged < l.i {
		soc := s.rest.Charge
		l.soc = &soc
	}
	l.fair = l.soc != nil && l.soc.Best >= s.c.Rules.LoadTestMinSOC
	f := Finding{Readings: []int{l.i}, Source: bciTables}
	switch l.r.Method {
	case reading.Fixed10s:
		l.limit, f.Rule, f.Source = fixedFine*scale, "load_test.fixed", practice
		switch {
		case l.volts >= fixedFine*scale:
			l.result = held
		case l.volts >= fixedBad*scale:
			l.result = between
		default:
			l.result = sagged
		}
	case reading.Starter:
		l.limit, f.Rule, f.Source = s.c.Rules.StarterMinVolts*scale, "load_test.starter_min", practice
		l.result = heldIf(l.volts >= l.limit)
		if other, ok := s.c.Rules.Other(f.Rule); ok {
			f.Other = fmt.Sprintf("%s (%g V): %s", other.Name, other.Number, passWords(l.volts >= other.Number*scale))
		}
	default:
		temp, assumed := s.c.TempC(l.r.BatteryC)
		var from string
		l.limit, from = s.limit(s.c.Rules, temp)
		l.result = heldIf(l.volts >= l.limit)
		f.Rule, f.Why = "load_test.limit", from
		if assumed {
			f.Why += " The battery's own temperature was not measured."
		}
		f.Other = s.otherLimit(temp, l.volts)
	}
	s.weigh(l)
	f.Code, f.Level, f.Text = l.conclusion()
	s.add(f)
	s.weakness(l)
}

func heldIf(ok bool) outcome {
	if ok {
		return held
	}
	return sagged
}

func passWords(ok bool) string {
	if ok {
		return "it holds"
	}
	return "it fails"
}

// limit gives the least volts at the end of the half-CCA load by a set of house
// rules, and in words how it was found.
func (s *story) limit(r rules.Rules, tempC float64) (volts float64, from string) {
	v := s.c.Volts()
	if r.LoadTestLimit == rules.LimitFixed {
		return rating.LoadTestLimit(v, 100), fmt.Sprintf("%.1f V at any temperature, by the house rule.", rating.LoadTestLimit(v, 100))
	}
	volts = rating.LoadTestLimit(v, tempC)
	from = fmt.Sprintf("At %s the published table asks for %.2f V.", s.temp(tempC), volts)
	if tempC < rating.ColdestTabledC {
		from += " That is colder than the table goes: warm it and test again."
	}
	return volts, from
}

func (s *story) otherLimit(tempC, volts float64) string {
	other, ok := s.c.Rules.Other("load_test.limit")
	if !ok {
		return ""
	}
	theirs := s.c.Rules
	theirs.LoadTestLimit = other.Word
	limit, _ := s.limit(theirs, tempC)
	same := ""
	if ours, _ := s.limit(s.c.Rules, tempC); (volts >= limit) == (volts >= ours) {
		same = ", same answer"
	}
	return fmt.Sprintf("%s asks for %.2f V: %s%s", other.Name, limit, passWords(volts >= limit), same)
}

// weigh decides whether holding the volts proves anything: a light or short
// load is easy to hold.
func (s *story) weigh(l *loadAt) {
	asked := l.asked.Amps
	if asked > 0 && l.r.Method != reading.Starter && l.r.Amps != nil && *l.r.Amps < lightLoad*asked {
		l.light = true
	}
	if l.r.Method == reading.HalfCCA && l.r.Seconds != nil && *l.r.Seconds < rating.LoadSeconds-shortBy {
		l.light = true
	}
}

func (l *loadAt) conclusion() (code string, level Level, text string) {
	at := fmt.Sprintf("%.2f V at the end", l.volts)
	if l.r.Amps != nil {
		at += fmt.Sprintf(" of %.0f A", *l.r.Amps)
	}
	switch {
	case l.soc == nil:
		return "load_test.charge_unknown", Act, at + ": kept, but nobody knows how full it was. Take a rest voltage."
	case !l.fair && l.result == held:
		return "load_test.held_while_low", Note, at + ": a good sign, though it was too flat for a fair test."
	case !l.fair:
		return "load_test.not_fair", Act, at + ": kept, but not a fair test. It was too flat to judge."
	case l.result == held && l.light:
		return "load_test.light", Note, at + ": it held, but the load was too small or too short to prove much."
	case l.result == held:
		return "load_test.held", OK, fmt.Sprintf("%s, %.2f V asked for: it holds.", at, l.limit)
	case l.result == between:
		return "load_test.between", Note, at + ": neither fine nor finished by this method."
	}
	return "load_test.failed", Act, fmt.Sprintf("%s, %.2f V asked for: it fails.", at, l.limit)
}

// weakness adds what makes the test prove more or less than it seems to.
func (s *story) weakness(l *loadAt) {
	if l.r.Method != reading.Starter && l.r.Amps != nil && l.asked.Amps > 0 {
		if part := *l.r.Amps / l.asked.Amps; part < 0.95 || part > 1.05 {
			s.add(Finding{Code: "load_test.load_differs", Level: Note, Readings: []int{l.i}, Rule: "load_test.half_cca", Source: bciTables,
				Text: fmt.Sprintf("%.0f A is %.0f %% of the %.0f A this label asks for.", *l.r.Amps, 100*part, l.asked.Amps),
				Why:  "With less load, holding proves less and failing proves more; with more load, the reverse."})
		}
	}
	if l.r.Method == reading.HalfCCA && l.r.Seconds != nil && (*l.r.Seconds < rating.LoadSeconds-shortBy || *l.r.Seconds > rating.LoadSeconds+shortBy) {
		s.add(Finding{Code: "load_test.time_differs", Level: Note, Readings: []int{l.i}, Rule: "load_test.seconds", Source: "SAE J537 practice, from memory",
			Text: fmt.Sprintf("Read at %.0f s; the test is read at the %dth second.", *l.r.Seconds, rating.LoadSeconds),
			Why:  "The volts fall for as long as the load is on."})
	}
	if l.result == sagged && len(s.dirty) > 0 {
		s.add(Finding{Code: "load_test.dirty_contacts", Level: Act, Readings: append([]int{l.i}, s.dirty...), Rule: "contacts.clean_first", Source: practice,
			Text: "The contacts were bad: the volts may have been lost there.", Why: "Clean and tighten, then test again before condemning it."})
	}
}

// narrowMiss reports whether a failure is too small to condemn a battery whose
// charge may really have been under the house minimum.
func (s *story) narrowMiss(l *loadAt) bool {
	return l.soc.Low < s.c.Rules.LoadTestMinSOC && l.volts > l.limit-narrowVolts*s.c.Volts()/12
}

// socBefore is the charge band that a load test now would be judged with.
func (s *story) socBefore() *battery.Band {
	if s.rest == nil || s.rest.tooHigh {
		return nil
	}
	return &s.rest.Charge
}
