package season

import (
	"math"

	"grapnel/core/battery"
	"grapnel/core/energy"
)

// doubted are the three things of a standing battery that nobody knows for sure: its charge
// as it was put away, in percent, and the factors on its self-discharge and on its drain, as
// their logarithms.
type doubted [3]float64

const (
	ofStart = iota
	ofSelf
	ofDrain
)

// sure is how many standard deviations the ends of a band lie away: nine times in ten the
// truth is between them.
const sure = 1.645

// How far the figures of a battery nobody has watched lie off, as a factor within which
// they are nine times in ten. Self-discharge: published figures differ so much with age and
// build (Linden, from memory). A drain that was measured wakes now and then; a typical one
// is a guess. House judgement.
const (
	selfFactor     = 2.0
	measuredFactor = 1.25
	typicalFactor  = 2.0
)

// emptied is the charge, percent, under which there is no acid left to thin.
const emptied = -85.0

// standing is one battery that stands.
type standing struct {
	chem  battery.Chemistry
	cells float64
	ah    float64 // it really holds
	drain float64 // mA, with everything asleep
	start float64 // percent
	days  []weather
	self  []battery.Self // of each day
}

// loses gives what it loses in a day at a charge and a temperature, percent, to itself and
// to the drain.
func (s *standing) loses(soc, meanC float64, clamped bool, d doubted) (self, drain float64) {
	l := s.lossesOf(clamped, d)
	return l.of(battery.SelfAt(s.chem, meanC), soc)
}

// losses are what a battery loses as it is thought to.
type losses struct{ factor, drain float64 }

func (s *standing) lossesOf(clamped bool, d doubted) losses {
	l := losses{factor: math.Exp(d[ofSelf]) / 30}
	if clamped {
		l.drain = s.drain / 1000 * 24 / s.ah * 100 * math.Exp(d[ofDrain])
	}
	return l
}

func (l losses) of(at battery.Self, soc float64) (self, drain float64) {
	return l.factor * at.PerMonth(max(0, soc)), l.drain
}

// usualDrain is what a class draws asleep where nobody measured it, mA.
func (r *Request) usualDrain() float64 { return energy.UsualOf(r.Vehicle.Class).DrainMilliamps }

// keeping is a way of keeping it, as it works day by day.
type keeping struct {
	clamped bool
	tempC   *float64 // where it stands somewhere else than the vehicle
	// full fills it up on the morning of a day; nil for never.
	full func(day int) bool
	// gives is the charge, percent, that it gets in a day at a charge; nil for nothing. The
	// luck is −1 at the low end of the band, 0, or 1.
	gives func(day int, soc, luck float64) float64
	looks []seen
	// hides says that what it is fed hides what it loses, so that the charge a look read
	// stands from then on.
	hides bool
	// drive is what a drive of so many minutes makes of a charge; nil where none was.
	drive func(soc, minutes float64) float64
}

// since is the day since which nothing has been done or read that sets its charge anew.
func (k *keeping) since() int {
	since := 0
	for _, l := range k.looks {
		if l.charged || k.hides && l.known {
			since = l.day
		}
	}
	return since
}

// path is the charge on the morning of each day, with what was lost since it was last
// full: what the doubts move it by.
type path struct {
	soc         []float64
	after       []float64 // what was done on that day, once it was
	self, drain []float64
}

// run lets it stand through the season.
func (s *standing) run(k *keeping, d doubted, luck float64) path {
	n := len(s.days)
	p := path{make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n)}
	soc := min(100, max(0, s.start+d[ofStart]))
	self, drain := 0.0, 0.0
	look := 0
	l := s.lossesOf(k.clamped, d)
	var room battery.Self
	if k.tempC != nil {
		room = battery.SelfAt(s.chem, *k.tempC)
	}
	for i := range s.days {
		if k.full != nil && k.full(i) {
			soc, self, drain = 100, 0, 0
		}
		p.soc[i], p.self[i], p.drain[i] = soc, self, drain
		for look < len(k.looks) && k.looks[look].day <= i {
			l := k.looks[look]
			switch {
			case l.charged:
				soc, self, drain = 100, 0, 0
			case l.drove > 0 && k.drive != nil:
				soc = k.drive(soc, l.drove)
			case l.known && k.hides:
				soc = max(0, min(100, l.soc+luck*sure*l.spread))
			}
			look++
		}
		p.after[i] = soc
		at := room
		if k.tempC == nil {
			at = s.self[i]
		}
		// The middle of the day's fall stands for the day.
		a, b := l.of(at, soc)
		gain := 0.0
		if k.gives != nil {
			gain = k.gives(i, soc, luck)
		}
		a, b = l.of(at, soc+(gain-a-b)/2)
		soc = max(emptied, min(100, soc+gain-a-b))
		self, drain = self+a, drain+b
		if soc >= 100 {
			self, drain = 0, 0
		}
	}
	return p
}

// moves gives by how much a doubt moves the charge of a day: percent for each unit.
func (p path) moves(day int, full bool) [3]float64 {
	g := [3]float64{1, -p.self[day], -p.drain[day]}
	if full {
		g[ofStart] = 0
	}
	return g
}

// freezes is the freezing point of its acid at a charge, °C.
func (s *standing) freezes(soc float64) float64 {
	return battery.FreezingPoint(battery.GravityDown(s.chem, soc))
}

// starts is the least charge, percent, at which a battery turns the engine, by temperature.
type starts struct{ least [17]float64 } // from −50 to 30 °C in steps of five

const coldestStart, startStep = -50.0, 5.0

// wakes is the least charge at which a hybrid's or electric car's 12 V battery still wakes
// it, percent. House judgement: near 12 V its computers begin to give up.
const wakes = 20.0

// never is a charge that no battery has.
const never = 200.0

func startsOf(b battery.Battery, amps func(tempC float64) float64) starts {
	var s starts
	for i := range s.least {
		t := coldestStart + startStep*float64(i)
		s.least[i] = never
		if soc, ever := b.ChargeToCrank(t, amps(t)); ever {
			s.least[i] = soc
		}
	}
	return s
}

func (s starts) at(tempC float64) float64 {
	x := min(float64(len(s.least)-1), max(0, (tempC-coldestStart)/startStep))
	i := min(int(x), len(s.least)-2)
	return s.least[i] + (x-float64(i))*(s.least[i+1]-s.least[i])
}
