package jump

import (
	"grapnel/core/battery"
	"grapnel/core/engine"
)

// scene is a request made into batteries and machines, before anything is joined.
type scene struct {
	flat       battery.Battery
	soc, flatC float64
	doubt      float64 // how far soc may be off, one standard deviation, percent
	giver      *battery.Battery
	giverSOC   float64
	giverC     float64
	charging   Maker // while it charges through the leads
	cranking   Maker // while the engine is cranked
	own        float64
	leads      Leads
	onBody     bool
	live       float64 // ohms
	earthed    float64
	toPost     float64
	starter    engine.Starter
	spread     float64 // ± part the engine may drag more or less
	oilC       float64
	load       float64 // amps while it cranks
	needed     float64 // turns a minute
	electric   bool

	near, byItself guess // the last try looked at, on the source and without
}

// What cannot be switched off while it cranks, amps of 12 V: ignition, pumps, an engine's
// computer; a diesel's glow plugs have gone out by then. And what a hybrid's or an
// electric vehicle's modules take while it wakes. Common practice, no source.
const (
	crankLoad = 8.0
	wakeAmps  = 30.0
)

// wakeVolts is what a hybrid's or an electric vehicle's 12 V side has to hold for its
// converter to be switched on, of 12. House judgement.
const wakeVolts = 11.0

// scene makes one of a request.
func (r *Request) scene(labels Labels) (scene, error) {
	f := r.Flat
	flat, err := f.Battery.bank("flat.battery", labels, f.Vehicle.SystemVolts, f.Vehicle.Arrangement, f.HealthPct)
	if err != nil {
		return scene{}, err
	}
	giver, err := r.Source.giver(labels)
	if err != nil {
		return scene{}, err
	}
	s := scene{flat: flat, soc: f.SOCPct, flatC: f.BatteryC, doubt: f.SpreadPct, giver: giver, giverSOC: r.Source.SOCPct,
		giverC: r.Source.BatteryC, leads: r.leads(), onBody: r.clampOn() == OnBody, oilC: f.oilC(), electric: f.Vehicle.Electric()}
	s.cranking, s.own = r.Source.maker()
	s.charging = s.cranking
	if r.Source.Kind == FromCharger { // its plate's duty
		s.charging.Amps *= r.Source.OnSeconds / (r.Source.OnSeconds + r.Source.RestSeconds)
		s.charging.Ohms *= s.cranking.Amps / s.charging.Amps
	}
	if s.electric {
		s.load = wakeAmps * 12 / f.Vehicle.SystemVolts
		return s, nil
	}
	e := f.engine(flat)
	s.starter, s.spread = f.make().Starter(e.Amps.Best), (e.Amps.High-e.Amps.Low)/2/e.Amps.Best
	s.live, s.earthed, s.toPost = f.cables(e.Amps.Best)
	s.needed, s.load = s.starter.Fires(s.oilC), crankLoad*12/f.Vehicle.SystemVolts
	return s, nil
}

// lean is to which side what nobody knows falls: 0 as expected, 1 better, −1 worse.
type lean float64

// How far what nobody measured may be off, and how much of it at once: where all of it
// leans to one side, seven tenths of each. House judgement.
const (
	together    = 0.7
	giverDoubt  = 5.0 // percent of charge
	clampDoubt  = 0.4 // part
	acceptDoubt = 0.5 // part of what a battery accepts
)

// circuit joins the scene, leaning to a side.
func (s *scene) circuit(l lean) *Circuit {
	off := together * float64(l)
	flat := s.flat
	flat.Acceptance *= 1 + acceptDoubt*off
	leads := s.leads
	leads.ClampOhms *= 1 - clampDoubt*off
	k := &Circuit{Maker: s.charging, GiverLoad: s.own, Leads: leads.Ohms(), FlatOhms: s.toPost, FlatLoad: s.load,
		Path: s.live + s.earthed, Starter: s.starter, OilC: s.oilC}
	if s.onBody {
		k.FlatOhms, k.Path = s.toPost+s.earthed, s.live
	}
	if off != 0 {
		k.Starter = k.Starter.Stiffer(1 - s.spread*off)
	}
	k.Flat = flat.Join(flat.Rested(within(s.soc+s.doubt*off), s.flatC), s.flatC)
	if s.giver != nil {
		k.Giver = s.giver.Join(s.giver.Rested(within(s.giverSOC+giverDoubt*off), s.giverC), s.giverC)
	}
	return k
}

func within(soc float64) float64 { return min(100, max(0, soc)) }

// tried is what a try comes to: turns a minute, or the volts that a vehicle without a
// starter is to wake with.
func (s *scene) tried(k *Circuit, fine bool) Moment {
	k.Maker = s.cranking
	if fine {
		return k.Crank(TrySeconds)
	}
	return k.crankQuick(&s.near)
}

// reaches is what counts of a try, and what it has to reach.
func (s *scene) reaches(m Moment) float64 {
	if s.electric {
		return m.FlatVolts
	}
	return m.RPM
}

func (s *scene) goal() float64 {
	if s.electric {
		return wakeVolts * float64(s.flat.Cells()) / 6
	}
	return s.needed
}

// goalVolts is what the starter's terminals have to show for the goal to be held.
func (s *scene) goalVolts() float64 {
	if s.electric {
		return s.goal()
	}
	return s.starter.Holds(s.needed, s.oilC)
}

// marks are the minutes of charging through the leads after which a try is looked at.
var marks = [...]float64{0, 1, 2, 4, 6, 8, 10, 15, 20}

// rough are the places in marks where what nobody knows is looked at.
var rough = [...]int{0, 5, 8}

// over gives what a try reaches after minutes of charging, at some of the marks; visit,
// where given, sees the circuit at each before it is tried.
func (s *scene) over(l lean, at []int, visit func(*Circuit)) []float64 {
	k := s.circuit(l)
	out := make([]float64, len(at))
	last, step := 0.0, onCurve.first
	for i, j := range at {
		if gap := marks[j] - last; gap > 0 {
			_, step = k.goOn(60*gap, onCurve, step)
			last = marks[j]
		}
		if visit != nil {
			visit(k)
		}
		out[i] = s.reaches(s.tried(k.Fork(), false))
	}
	return out
}

var all = []int{0, 1, 2, 3, 4, 5, 6, 7, 8}

// spreadOver puts a curve known at rough places on all marks: its difference to the best one
// changes in proportion.
func spreadOver(best, known []float64) []float64 {
	out := make([]float64, len(best))
	for r := 0; r+1 < len(rough); r++ {
		a, b := rough[r], rough[r+1]
		da, db := known[r]-best[a], known[r+1]-best[b]
		for j := a; j <= b; j++ {
			out[j] = best[j] + da + (db-da)*(marks[j]-marks[a])/(marks[b]-marks[a])
		}
	}
	return out
}

// crosses gives the minutes after which a curve reaches a goal; false where it does not
// within the last of the marks.
func crosses(curve []float64, goal float64) (float64, bool) {
	for i, v := range curve {
		if v < goal {
			continue
		}
		if i == 0 {
			return 0, true
		}
		return marks[i-1] + (marks[i]-marks[i-1])*(goal-curve[i-1])/(v-curve[i-1]), true
	}
	return 0, false
}
