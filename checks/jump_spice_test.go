package checks

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"grapnel/core/battery"
	"grapnel/core/engine"
	"grapnel/core/jump"
	"grapnel/core/rating"
)

// jumpList is a whole jump start: node d across the donor's posts, f where the leads are
// clamped to the flat vehicle, n the crankshaft's turns a minute as volts. Vjoin joins the leads,
// Vsw is the key.
const jumpList = `a jump start
.option reltol=1e-5 abstol=1e-6 vntol=1e-6 method=gear maxord=2 itl4=200 cshunt=1e-9
{batteries}
Bmaker 0 d I={most} - ((({most}-v(x))) + sqrt(({most}-v(x))^2 + 0.25))/2
Bx x 0 V=((({set}-v(d))/{yields}) + sqrt((({set}-v(d))/{yields})^2 + 0.25))/2
Bown d 0 I={own}
Vjoin join 0 PWL(0 0 {joined} 1)
Bleads d f I=v(join)*v(d,f)/{leads}
Vsw sw 0 PWL(0 0 {pull} 0 {pulled} 1)
Bload f 0 I=v(sw)*{load}
Bmotor f 0 I=v(sw)*(v(f) - {back}*v(n))/({path} + {windings})
Bspin 0 n I=v(sw)*((v(f) - {back}*v(n))/({path} + {windings}) - {drag}*({dry} + (1-{dry})*v(n)/{full}))
Cspin n 0 {spin} IC=0
.control
set numdgt=10
tran 0.01 {stop} 0 {longest} uic
{points}
quit
.endc
.end
`

// joint is a jump start as it is put to both.
type joint struct {
	name           string
	giver          *battery.Battery
	givesAt, giveC float64
	maker          jump.Maker
	own            float64
	leads          float64 // ohms
	flat           battery.Battery
	flatAt, flatC  float64
	flatOhms       float64
	load           float64
	path           float64
	make           engine.Make
	oilC           float64
	minutes        float64
}

// of gives the battery of a label that does not warm, so that the reference needs no heat.
func of(t testing.TB, c battery.Chemistry, cells int, cca, ah float64) battery.Battery {
	b, _, err := battery.FromLabel(c, cells, rating.Label{CCA: cca, Ah20h: ah})
	must(t, err)
	b.HeatCapacity = 1e15
	return b
}

// Source: ngspice 39 (Debian), transient analysis of the same circuits: two batteries of
// cells drawn as capacitors, resistors and controlled sources, the alternator or boost, the
// leads, the starter with the engine's inertia as a capacitor. Volts and turns within 1 %,
// currents within 1 % of the starter's.
func TestJumpCircuitsAgainstSpice(t *testing.T) {
	car, small, big := of(t, battery.Flooded, 6, 540, 60), of(t, battery.Flooded, 6, 300, 28), of(t, battery.Flooded, 6, 850, 95)
	mat, packed, old := of(t, battery.AGM, 6, 700, 70), of(t, battery.AGM, 6, 240, 20), car.Aged(100, 2.2)
	six, pair, row := of(t, battery.Flooded, 3, 640, 100), big.Times(2), of(t, battery.Flooded, 6, 720, 88).Chain(2)
	petrol, diesel := engine.Make{Fuel: "petrol", Litres: 1.6, Volts: 12}, engine.Make{Fuel: "diesel", Litres: 2.2, Volts: 12}
	idle, revved := jump.Alternator(90, jump.IdleRPM, 10, 14.2), jump.Alternator(90, jump.RaisedRPM, 10, 14.4)
	leads := func(mm2, metres, clampMilliohms float64) float64 {
		return jump.Leads{MM2: mm2, Metres: metres, ClampOhms: clampMilliohms / 1000, Clamps: 4}.Ohms()
	}
	apart := math.Inf(1)
	for _, c := range []joint{
		{"two cars, donor off", &car, 90, 10, jump.Maker{}, 0, leads(16, 3, 1), car, 20, 10, 0, 8, 2.2e-3, petrol, 10, 0},
		{"donor idling", &car, 90, 10, idle, 0, leads(16, 3, 1), car, 20, 10, 0, 8, 2.2e-3, petrol, 10, 0},
		{"donor revved", &car, 90, 10, revved, 0, leads(16, 3, 1), car, 20, 10, 0, 8, 2.2e-3, petrol, 10, 0},
		{"on the engine's metal", &car, 90, 10, idle, 0, leads(16, 3, 1), car, 20, 10, 1.1e-3, 8, 1.1e-3, petrol, 10, 0},
		{"thin leads", &car, 90, 10, idle, 0, leads(6, 3, 1), car, 10, 10, 0, 8, 2.2e-3, petrol, 10, 0},
		{"a bad clamp", &car, 90, 10, idle, 0, leads(25, 3, 1) + 8e-3, car, 10, 10, 0, 8, 2.2e-3, petrol, 10, 0},
		{"long leads", &mat, 95, 0, revved, 0, leads(25, 6, 0.5), car, 30, -5, 0, 8, 2.2e-3, petrol, -5, 0},
		{"five minutes first", &car, 90, 10, revved, 0, leads(16, 3, 1), car, 10, 10, 0, 8, 2.2e-3, petrol, 10, 5},
		{"ten minutes on idle", &car, 90, 10, idle, 0, leads(16, 3, 1), car, 30, 10, 0, 8, 2.2e-3, petrol, 10, 10},
		{"ten minutes in the cold", &mat, 95, 0, revved, 0, leads(25, 3, 1), big, 25, -10, 0, 12, 1.2e-3, diesel, -10, 10},
		{"three minutes, engine off", &car, 80, 5, jump.Maker{}, 5, leads(16, 3, 1), car, 20, 5, 0, 8, 2.2e-3, petrol, 5, 3},
		{"diesel at once", &mat, 95, 0, revved, 0, leads(50, 3, 0.5), big, 30, -5, 0, 12, 1.2e-3, diesel, 0, 0},
		{"a pair gives", &pair, 95, 0, revved, 0, leads(35, 3, 0.5), big, 20, -10, 0, 12, 1.2e-3, diesel, -10, 0},
		{"a pair takes", &pair, 95, 0, revved, 0, leads(35, 3, 0.5), pair, 15, -5, 0, 12, 1.2e-3, diesel, -5, 2},
		{"a pack", &packed, 100, 15, jump.Maker{}, 0, leads(16, 0.6, 0.5), car, 20, 5, 0, 8, 2.2e-3, petrol, 5, 0},
		{"a small pack on a diesel", &packed, 100, 5, jump.Maker{}, 0, leads(16, 0.6, 0.5), big, 40, 5, 0, 12, 1.2e-3,
			diesel, 10, 0},
		{"boost alone", nil, 0, 0, jump.Boost(150, 15), 0, leads(16, 1.5, 1), car, 35, 5, 0, 8, 2.2e-3, petrol, 5, 0},
		{"boost after three minutes", nil, 0, 0, jump.Boost(100, 15), 0, leads(16, 1.5, 1), car, 25, 5, 0, 8, 2.2e-3,
			petrol, 5, 3},
		{"an old donor", &old, 85, 5, revved, 0, leads(25, 3, 1), small, 20, 5, 0, 3, 2.5e-3,
			engine.Make{Fuel: "petrol", Litres: 0.5, Volts: 12}, 5, 0},
		{"its own, nothing joined", nil, 0, 0, jump.Maker{Volts: 14, Amps: 1, Ohms: 0.01}, 0, apart, car, 80, 10, 0, 8,
			2.2e-3, petrol, 10, 0},
		{"six volts", &six, 90, 10, jump.Maker{}, 0, leads(35, 2, 0.5), six, 40, 10, 0, 4, 0.8e-3,
			engine.Make{Fuel: "petrol", Litres: 1.2, Volts: 6}, 10, 0},
		{"twenty-four volts", &row, 90, 0, jump.Alternator(80, 1500, 10, 28.4), 0, leads(35, 4, 0.5), row, 25, 0, 0, 8,
			2.4e-3, engine.Make{Fuel: "diesel", Litres: 7, Volts: 24}, 0, 4},
		{"a frosty morning", &mat, 95, -10, revved, 0, leads(25, 3, 1), car, 60, -15, 0, 8, 2.2e-3, petrol, -15, 0},
		{"warm, half charged", &car, 95, 20, idle, 0, leads(10, 2.5, 1), car, 50, 20, 0, 8, 2.2e-3, petrol, 20, 1},
	} {
		t.Run(c.name, func(t *testing.T) { c.check(t) })
	}
}

func (c joint) check(t *testing.T) {
	e, _ := engine.BySize(c.make)
	starter := c.make.Starter(e.Amps.Best)
	pull := c.minutes*60 + 0.002
	ends := []float64{1, 3}
	ref, _ := spice(t, c.netlist(starter, pull, ends))

	k := jump.Circuit{
		Maker:     c.maker,
		GiverLoad: c.own,
		Leads:     c.leads,
		Flat:      c.flat.Join(c.flat.Rested(c.flatAt, c.flatC), c.flatC),
		FlatOhms:  c.flatOhms,
		FlatLoad:  c.load,
		Path:      c.path,
		Starter:   starter,
		OilC:      c.oilC,
	}
	if c.giver != nil {
		k.Giver = c.giver.Join(c.giver.Rested(c.givesAt, c.giveC), c.giveC)
	}
	compare := func(label string, i int, m jump.Moment, size float64) {
		t.Helper()
		for _, x := range []struct {
			what      string
			got, size float64
			name      string
		}{
			{"donor volts", m.GiverVolts, m.GiverVolts, "md"}, {"volts at the clamps", m.FlatVolts, m.FlatVolts, "mf"},
			{"amps in the leads", m.LeadAmps, size, "ml"}, {"amps of the starter", m.StarterAmps, size, "ms"}, {"turns",
				m.RPM, max(m.RPM, 20), "mn"},
		} {
			if math.IsInf(c.leads, 1) && (x.name == "md" || x.name == "ml") {
				continue
			}
			want, ok := ref[fmt.Sprintf("%s%d", x.name, i)]
			if !ok || math.Abs(x.got-want) > 0.01*x.size {
				t.Errorf("%s: %s %.4g, ngspice %.4g (%t)", label, x.what, x.got, want, ok)
			}
		}
	}
	if c.minutes > 0 {
		m := k.Charge(c.minutes * 60)
		compare("charged", 0, m, max(10, m.LeadAmps))
	}
	for i, s := range ends {
		m := k.Fork().Crank(s)
		compare(fmt.Sprintf("%g s into the try", s), i+1, m, m.StarterAmps)
	}
}

// netlist writes the circuit; every battery is one cell, with its volts times their number.
func (c joint) netlist(s engine.Starter, pull float64, ends []float64) string {
	var parts strings.Builder
	add := func(name, node string, b battery.Battery, soc, tempC float64) {
		all := values(b, b.Rested(soc, tempC), tempC)
		all["cells"] = float64(b.Cells())
		body := filled(cellParts+"Hin i 0 Vport 1\nVport p q 0\nBposts q 0 V={cells}*(v(phi) + v(i)*v(r))\n", all)
		fmt.Fprintf(&parts, ".subckt %s p\n%s.ends\nX%s %s %s\n", name, body, name, node, name)
	}
	flatNode := "f"
	if c.flatOhms > 0 {
		flatNode = "own"
		fmt.Fprintf(&parts, "Rown f own %.12g\n", c.flatOhms)
	}
	add("flat", flatNode, c.flat, c.flatAt, c.flatC)
	if c.giver != nil {
		add("giver", "d", *c.giver, c.givesAt, c.giveC)
	} else {
		parts.WriteString("Rhold d 0 1e6\n")
	}
	var points strings.Builder
	probe := func(i int, at float64) {
		fmt.Fprintf(
			&points,
			"meas tran md%[1]d find v(d) at=%.9[2]g\nmeas tran mf%[1]d find v(f) at=%.9[2]g\nmeas tran mn%[1]d find v(n) at=%.9[2]g\n",
			i,
			at,
		)
		fmt.Fprintf(
			&points,
			"let li = (v(d)-v(f))/%.12[3]g\nmeas tran ml%[1]d find li at=%.9[2]g\nlet si = (v(f)-%.12[4]g*v(n))/%.12[5]g\nmeas tran ms%[1]d find si at=%.9[2]g\n",
			i,
			at,
			min(c.leads, 1e9),
			s.Back,
			c.path+s.Ohms,
		)
	}
	probe(0, pull-0.0005)
	if c.minutes > 0 {
		// Before the key is turned the starter draws nothing.
		points.Reset()
		fmt.Fprintf(
			&points,
			"meas tran md0 find v(d) at=%[1]g\nmeas tran mf0 find v(f) at=%[1]g\nmeas tran mn0 find v(n) at=%[1]g\nlet li = (v(d)-v(f))/%.12[2]g\nmeas tran ml0 find li at=%[1]g\nlet none = 0*v(d)\nmeas tran ms0 find none at=%[1]g\n",
			c.minutes*60,
			min(c.leads, 1e9),
		)
	}
	for i, at := range ends {
		probe(i+1, pull+at)
	}
	list := jumpList
	if c.maker.Amps == 0 {
		list = strings.Replace(strings.Replace(list, "Bmaker", "*Bmaker", 1), "Bx x", "*Bx x", 1)
	}
	list = strings.NewReplacer("{batteries}", strings.TrimSpace(parts.String()), "{points}", points.String()).Replace(list)
	return filled(list, map[string]float64{
		"most": c.maker.Amps, "set": c.maker.Volts, "yields": c.maker.Ohms, "own": c.own, "leads": min(c.leads,
			1e9), "pull": pull, "pulled": pull + 0.002,
		"load": c.load, "back": s.Back, "path": c.path, "windings": s.Ohms, "drag": s.Amps * engine.Need(c.oilC), "dry": s.Drag(0, 27) / s.Amps,
		"full": s.RPM, "spin": s.Spin, "stop": pull + 3.1, "joined": 0.0005, "longest": 0.02 + c.minutes*0.05,
	})
}
