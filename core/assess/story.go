package assess

import (
	"fmt"
	"slices"
	"strings"

	"grapnel/core/battery"
	"grapnel/core/measure"
	"grapnel/core/rating"
	"grapnel/core/reading"
)

// story is a case read in order: what holds now, and the findings on the way.
type story struct {
	c        reading.Case
	scale    Scale
	findings []Finding

	hazard      string  // plain words for what stops the work; empty when nothing does
	frozen      bool    // the case or the physics says the acid may be ice
	dirty       []int   // readings that found a contact no test can be trusted through
	rest        *restAt // the last rest voltage since charging
	load        *loadAt // the last load test that still counts
	chargedFull int     // the last charge that ended full, -1 when none
	charged     int     // the last charge of any end, -1 when none
	sae         rating.SAECCA
	unjudged    []int // readings kept that no rule here judges
	conductance *taken
	crank       *taken

	modelled bool             // whether asNew has been tried
	asNew    *battery.Battery // the battery the label promises
	doubt    string           // what in the label contradicts itself
	cranks   *cranks          // worked out once
}

// restAt is a rest voltage in its place.
type restAt struct {
	battery.RestCharge
	i       int
	volts   float64
	tempC   float64
	tooHigh bool // no resting battery reads this: surface charge or a charger
	settled bool // rested as long as the house asks, or surface charge removed
}

// loadAt is a load test in its place.
type loadAt struct {
	i      int
	r      reading.Reading
	asked  rating.Load // what the label asks for; zero amps when it cannot say
	limit  float64
	volts  float64
	result outcome
	light  bool // too little load, or too short, for holding to prove much
	fair   bool // charged enough, as far as the rest voltage says
	soc    *battery.Band
}

type outcome int

const (
	held outcome = iota
	between
	sagged
)

// tell reads a case in order. Load tests are judged last, when it is known
// whether a rest voltage taken after one can speak for the charge it had.
func tell(c reading.Case, scale Scale) *story {
	s := &story{c: c, scale: scale, chargedFull: -1, charged: -1}
	s.sae, _ = c.Battery.Rating.Label().ToSAE()
	s.label()
	for i, r := range c.Readings {
		switch r.Kind {
		case reading.Inspection:
			s.inspection(i, r)
		case reading.Eye:
			s.eye(i, r)
		case reading.RestVoltage:
			s.restVoltage(i, r)
		case reading.LoadTest:
			s.loadTest(i, r)
		case reading.Charged:
			s.chargeDone(i, r)
		case reading.Cleaned:
			if slices.Contains(r.What, "posts") || slices.Contains(r.What, "clamps") {
				s.dirty = nil
			}
			s.add(Finding{Code: "cleaned.done", Level: OK, Text: "Cleaned: " + strings.Join(r.What, ", ") + ".", Readings: []int{i},
				Why: "What was read before through dirty contacts is judged as of then.", Source: practice})
		case reading.Conductance:
			s.conductance = s.took(i, r)
			s.unjudged = append(s.unjudged, i)
		case reading.Crank:
			s.crank = s.took(i, r)
			s.unjudged = append(s.unjudged, i)
		default:
			s.unjudged = append(s.unjudged, i)
		}
	}
	s.freezing()
	s.judgeLoad()
	s.kept()
	return s
}

// took notes a reading of strength with the charge known at the time.
func (s *story) took(i int, r reading.Reading) *taken {
	t := &taken{i: i, r: r}
	if s.rest != nil && !s.rest.tooHigh {
		soc := s.rest.Charge
		t.soc = &soc
	}
	return t
}

// kept says which readings are in the case but in no verdict.
func (s *story) kept() {
	if len(s.unjudged) == 0 {
		return
	}
	var names []string
	for _, i := range s.unjudged {
		names = append(names, words(s.c.Readings[i].Kind))
	}
	s.add(Finding{Code: "reading.kept", Level: Note, Readings: s.unjudged,
		Text: "Kept, but no verdict rests on it: " + strings.Join(unique(names), ", ") + ".",
		Why:  "Judged are looks, eye, rest voltage, charging done and load tests. Conductance and cranking are compared with the load test where the charge is known, and hold a verdict back when they contradict it."})
}

func (s *story) add(f Finding) {
	if f.Readings == nil {
		f.Readings = []int{}
	}
	s.findings = append(s.findings, f)
}

// words turns a format word into plain words.
func words(code string) string { return strings.ReplaceAll(code, "_", " ") }

// label notes what weakens everything that rests on the label.
func (s *story) label() {
	r := s.c.Battery.Rating
	if r.Typical {
		s.add(Finding{Code: "rating.typical", Level: Note, Text: "The rating is typical of this class. Read the label before you condemn anything.",
			Why: "The load and the judgement of strength follow the rating; a wrong one gives a wrong answer.", Source: practice})
	}
	if s.sae.From != "" {
		s.add(Finding{Code: "rating.converted", Level: Note, Text: fmt.Sprintf("Taken as %.0f CCA SAE.", s.sae.Amps),
			Rule: "rating.conversion", Why: s.sae.From + ". The standards test for different times to different volts.", Source: conversionSource(r)})
	}
}

func conversionSource(r reading.Rating) string {
	if r.CCA == nil {
		return practice
	}
	if t, err := rating.TestOf(r.Standard); err == nil {
		return t.Source
	}
	return practice
}

// hazards in the case itself, with the words that finish "Stop. The case is …".
var caseHazards = []struct{ found, words string }{
	{"frozen", "It is frozen"},
	{"case_bulged", "The case is bulged"},
	{"case_cracked", "The case is cracked"},
	{"leaking", "It is leaking"},
}

var contactFaults = []string{"corrosion_live", "corrosion_earth", "loose_clamp", "clamp_not_seated"}

func (s *story) inspection(i int, r reading.Reading) {
	for _, h := range caseHazards {
		if !slices.Contains(r.Found, h.found) {
			continue
		}
		s.hazard = h.words
		s.frozen = s.frozen || h.found == "frozen"
		s.add(Finding{Code: "inspection." + h.found, Level: Stopped, Text: h.words + ". Do not charge, load or jump it: replace it.", Readings: []int{i},
			Rule: "safety.case", Why: "Charging or cranking it can burst it or spray acid.", Source: practice})
	}
	var faults []string
	for _, f := range contactFaults {
		if slices.Contains(r.Found, f) {
			faults = append(faults, words(f))
		}
	}
	// Nobody is sent to clean a battery that must not be worked on.
	if len(faults) > 0 && s.hazard == "" {
		s.dirty = append(s.dirty, i)
		s.add(Finding{Code: "contacts.clean_first", Level: Act, Text: "Clean and tighten first: " + strings.Join(faults, ", ") + ".", Readings: []int{i},
			Rule: "contacts.clean_first", Why: "A bad contact spoils every reading taken through it.", Source: practice})
	}
}

func (s *story) eye(i int, r reading.Reading) {
	switch r.Colour {
	case "clear", "yellow":
		s.hazard = "The eye is " + r.Colour
		s.add(Finding{Code: "eye.clear", Level: Stopped, Text: "The eye is " + r.Colour + ": acid below the eye. Do not charge, load or jump it: replace it.", Readings: []int{i},
			Rule: "safety.eye", Why: "Low acid leaves gas space over bare plates; a spark inside can burst it. Shade the case and rock it gently if unsure.", Source: practice})
	case "dark":
		s.add(Finding{Code: "eye.dark", Level: Act, Text: "The eye is dark: under about 65 %.", Readings: []int{i}, Rule: "eye.colour",
			Why: "It shows one cell only.", Source: practice})
	default:
		s.add(Finding{Code: "eye.green", Level: OK, Text: "The eye is green: about 65 % or more.", Readings: []int{i}, Rule: "eye.colour",
			Why: "It shows one cell only.", Source: practice})
	}
}

// chargeDone starts a new chapter: what the rest voltage said is history, and a
// load test stands only if it was held.
func (s *story) chargeDone(i int, r reading.Reading) {
	s.charged = i
	s.rest = nil
	if s.load != nil && s.load.result != held {
		s.load = nil
	}
	text := "Charged: " + r.Ended + "."
	level := OK
	switch r.Ended {
	case "full":
		s.chargedFull = i
		text = "Charged to full."
	case "stopped":
		text = "Charging was stopped before the end."
	case "refused":
		level, text = Act, "It refused the charge."
	case "hot":
		level, text = Act, "Charging was stopped because it got hot."
	}
	s.add(Finding{Code: "charged." + r.Ended, Level: level, Text: text, Readings: []int{i},
		Why: "Readings from before are judged as of then.", Source: practice})
}

// freezeMarginC is how near to freezing is too near.
const freezeMarginC = 5.0

// freezing compares the acid's freezing point with the cold the battery is in.
func (s *story) freezing() {
	if s.rest == nil || s.rest.tooHigh || s.c.Conditions.AmbientC == nil && s.c.Conditions.BatteryC == nil {
		return
	}
	point := func(soc float64) float64 {
		return battery.FreezingPoint(battery.SpecificGravity(s.c.Battery.Chemistry, soc))
	}
	weak, strong := point(s.rest.Charge.Low), point(s.rest.Charge.High)
	in := s.rest.tempC
	f := Finding{Readings: []int{s.rest.i}, Rule: "freeze.acid", Source: "CRC Handbook and BCI service tables, from memory",
		Why: fmt.Sprintf("Acid this weak freezes between %s and %s.", s.temp(strong), s.temp(weak))}
	switch {
	case in < strong && s.c.Battery.Chemistry.Liquid():
		s.frozen, s.hazard = true, "It is colder than its acid can stand"
		f.Code, f.Level = "freeze.frozen", Stopped
		f.Text = fmt.Sprintf("At %s this acid is ice. Do not charge, load or jump it: thaw it, check the case, and expect to replace it.", s.temp(in))
	case in < weak:
		s.frozen = true
		f.Code, f.Level, f.Text = "freeze.doubt", Act, "It may be frozen. Thaw it and look at the case before you charge it."
	default:
		if s.c.Conditions.AmbientC != nil {
			in = min(in, *s.c.Conditions.AmbientC)
		}
		if in > weak+freezeMarginC {
			return
		}
		f.Code, f.Level = "freeze.margin", Act
		f.Text = fmt.Sprintf("It can freeze from %s, and it stands at %s. Charge it before it stands out in the cold.", s.temp(weak), s.temp(in))
	}
	s.add(f)
}

// Scale is the temperature scale of the words; figures are always °C.
type Scale string

// The temperature scales.
const (
	Celsius    Scale = "C"
	Fahrenheit Scale = "F"
)

// temp writes a temperature in the story's scale, with a true minus sign.
func (s *story) temp(c float64) string {
	if s.scale == Fahrenheit {
		c = measure.Fahrenheit(c)
	}
	unit := Celsius
	if s.scale == Fahrenheit {
		unit = Fahrenheit
	}
	return strings.Replace(fmt.Sprintf("%.0f °%s", c, unit), "-", "−", 1)
}
