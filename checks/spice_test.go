package checks

import (
	"bufio"
	"bytes"
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"

	"grapnel/core/battery"
)

// cellParts is the circuit of one cell, with its values to be filled in: node i is the
// current into it, as volts.
const cellParts = `* wells: charge as volts
Cpore h1 0 {pore} IC={pore0}
Cbulk h2 0 {bulk} IC={bulk0}
Rmix h1 h2 {mix}
Bself1 h1 0 I={self1}*v(h1)
Bself2 h2 0 I={self2}*v(h2)
Fpore 0 h1 Vsense 1
* electromotive force of the acid in the pores (Bode)
Bh h 0 V=max(-0.35, min(1.5, v(h1)))
Bsg sg 0 V={sg0} + {sg1}*v(h)*(0.931 + 0.069*v(h)) - 1
Bw w 0 V=max(1e-3, v(sg)*(1.55006 + v(sg)*(-0.90981 + v(sg)*0.51575)))
Blg lg 0 V=ln(max(1e-3, v(w))/(0.098079*(1-min(0.9, max(1e-3, v(w))))))/2.302585092994046
Be e 0 V=1.9228 + v(lg)*(0.147519 + v(lg)*(0.063552 + v(lg)*(0.073772 + v(lg)*0.033612))) - 0.002 + {lift}
* main branch: from phi through the plates to the electromotive force
Cplates phi m {farads} IC={polar0}
Bs s 0 V={c}*v(h1) + {cc}*v(h2)
Bopen open 0 V=0.5*((v(h1)-{closed})/{open} + sqrt(((v(h1)-{closed})/{open})^2 + 4e-10))
Bcharge ich 0 V={accept}*({taken}*max(0, 1-v(s))*sqrt(max(0, 1-v(s))) + 1e-6)*(1 + (v(x)*{vt}/0.18)^2)
Bx x 0 V=max(-30, min(30, v(phi,m)/{vt}))
Bon on 0 V={i0}*(exp(2*min(20, max(0, v(x))))-1)/(1 + 150*(1 - exp(-2*max(0, v(x)))))
Bmain phi m I=v(on)/(1 + v(on)/max(1e-7,v(ich))) - {i0}*(exp(max(0,-v(x)))-exp(-max(0,-v(x))))/(1 + {i0}*(exp(max(0,-v(x)))-1)/max(1e-7,{limit}*v(open)))
Vsense m e 0
Bgas phi 0 I={gas}*exp(min(20, 11*(v(phi)-2.23) + {warm}))
Br r 0 V={ohms}*(0.30 + 0.70*{acid}*(1 + 1.4*max(0, 1-v(h1))*sqrt(max(0, 1-v(h1)))))
Bdrive 0 phi I=v(i)
`

// cell is one cell driven by a source.
const cell = `one cell of a starting battery
.option reltol={reltol} abstol=1e-7 vntol=1e-6 method=gear maxord=2 itl4=100
` + cellParts + `Bamps i 0 V={drive}
Bpost post 0 V=v(phi) + v(i)*v(r)
.control
set numdgt=10
tran {print} {stop} 0 {print} uic
rusage trantime
{points}
quit
.endc
.end
`

// builds are the laws of a build that the circuit's values follow, written down again.
var builds = map[battery.Chemistry]struct{ sg0, sg1, mix, accept, gas, self float64 }{
	battery.Flooded: {1.120, 0.145, 2.0, 0.36, 0.30e-3, 0.020},
	battery.AGM:     {1.135, 0.175, 1.3, 0.64, 0.05e-3, 0.006},
}

// values are those of one healthy cell of a battery in a state, at a steady temperature.
func values(b battery.Battery, s battery.State, tempC float64) map[string]float64 {
	kelvin := tempC + 273.15
	arrhenius := func(joules float64) float64 { return math.Exp(joules / 8.314462618 * (1/298.15 - 1/kelvin)) }
	ah, c, q, of := b.Coulombs/3600, b.PoreShare, b.Coulombs, builds[b.Chemistry]
	taken, moves, closed := arrhenius(38400), arrhenius(19200), max(-0.15, 0.004*(25-tempC))
	self := of.self / (30 * 86400) * arrhenius(52800)
	return map[string]float64{
		"pore": c * q, "pore0": s.Cells[0].Pore, "bulk": (1 - c) * q, "bulk0": s.Cells[0].Bulk,
		"mix": 1 / (of.mix / 3600 * moves * c * (1 - c) * q), "self1": self * c * q, "self2": self * (1 - c) * q,
		"sg0": of.sg0, "sg1": of.sg1, "lift": 0.00023 * (tempC - 25), "farads": 0.5 * b.PlateAmps, "polar0": s.Cells[0].Polarisation,
		"c": c, "cc": 1 - c, "closed": closed, "open": 1 - closed, "accept": of.accept * ah, "taken": taken,
		"vt": 2 * 8.314462618 * kelvin / 96485.33212, "i0": 0.02 * b.PlateAmps * taken / b.Groups[0].Resistance, "limit": 7 * b.PlateAmps * moves,
		"gas": of.gas * ah, "warm": 0.06 * (tempC - 25), "ohms": b.Ohms * b.Groups[0].Resistance, "acid": arrhenius(-14400),
	}
}

// filled puts values into a netlist.
func filled(list string, values map[string]float64) string {
	var fill []string
	for name, v := range values {
		fill = append(fill, "{"+name+"}", strconv.FormatFloat(v, 'g', 12, 64))
	}
	return strings.NewReplacer(fill...).Replace(list)
}

// netlist writes one cell of a healthy flooded battery as a circuit: the two
// wells are capacitors that hold charge 1 at full, the exchange between them a
// resistor, the plates a capacitor crossed by a controlled current, gassing a
// controlled current beside it all. Temperature and hard sulphate stand still.
// Signs: current into the cell is positive.
func netlist(b battery.Battery, s battery.State, d battery.Duty, tempC, reltol, stop float64, points string) string {
	cells := float64(b.Cells())
	drive := fmt.Sprintf("%.12g", d.Source.Amps)
	if d.Source.Amps > 0 {
		// The corner at the source's own volts is round, 0.2 mV wide.
		over := fmt.Sprintf("(%.12g - v(phi))", d.Source.Volts/cells)
		drive = fmt.Sprintf("min(%.12g, 0.5*(%s + sqrt(%s^2 + %.12g))/(v(r) + %.12g))", d.Source.Amps, over, over,
			math.Pow(2e-4/cells, 2), d.Source.Ohms/cells)
	}
	all := values(b, s, tempC)
	all["reltol"], all["print"], all["stop"] = reltol, stop/100, stop
	return strings.NewReplacer("{drive}", drive, "{points}", points).Replace(filled(cell, all))
}

// spice runs a netlist and gives what was measured, by name, and the time the
// transient itself took.
func spice(t testing.TB, list string) (map[string]float64, float64) {
	t.Helper()
	program := need(t, "ngspice", "ngspice")
	file := filepath.Join(t.TempDir(), "cell.cir")
	must(t, os.WriteFile(file, []byte(list), 0o600))
	cmd := exec.Command(program, "-b", file)
	out, _ := cmd.CombinedOutput() // it exits with 1 after quit in batch mode
	got, seconds := map[string]float64{}, math.NaN()
	lines := bufio.NewScanner(bytes.NewReader(out))
	for lines.Scan() {
		f := strings.Fields(strings.ReplaceAll(lines.Text(), "=", " "))
		if len(f) >= 2 {
			if v, err := strconv.ParseFloat(f[1], 64); err == nil {
				got[f[0]] = v
			}
		}
		if strings.Contains(lines.Text(), "analysis time") {
			if v, err := strconv.ParseFloat(f[len(f)-1], 64); err == nil {
				seconds = v
			}
		}
	}
	if len(got) == 0 {
		t.Fatalf("ngspice says:\n%s", out)
	}
	return got, seconds
}

// probes asks for volts at the posts, current and pores at a moment.
func probes(at ...float64) string {
	var b strings.Builder
	for i, x := range at {
		fmt.Fprintf(&b, "meas tran mv%[1]d find v(post) at=%.12[2]g\nmeas tran mi%[1]d find v(i) at=%.12[2]g\n"+
			"meas tran mp%[1]d find v(h1) at=%.12[2]g\n", i, x)
	}
	return b.String()
}

// isothermal is a battery that does not warm, so that only its circuit is at
// work.
func isothermal(t testing.TB) battery.Battery {
	b := car(t, battery.Flooded)
	b.HeatCapacity = 1e15
	return b
}

// Source: ngspice 39 (Debian), transient analysis of the same circuit drawn as
// capacitors, resistors and controlled sources. Volts within 0.1 %, current
// within 0.1 % of the source's, pores within 0.001.
func TestCircuitAgainstSpice(t *testing.T) {
	b := isothermal(t)
	for _, r := range []struct {
		name string
		soc  float64
		temp float64
		src  battery.Source
		at   []float64
	}{
		{"half the CCA for 15 s", 90, 21, battery.Source{Amps: -270, Volts: -1000}, []float64{0.5, 5, 15}},
		{"a crank in the cold", 100, -18, battery.Source{Amps: -540, Volts: -1000}, []float64{1, 10, 30}},
		{"constant current, then constant volts", 40, 20, battery.Source{Amps: 10, Volts: 14.4, Ohms: 0.002},
			[]float64{3600, 9000, 4 * 3600}},
		{"the 20 h rate", 100, 25, battery.Source{Amps: -2.4, Volts: -1000}, []float64{3600, 10 * 3600, 19 * 3600}},
	} {
		t.Run(r.name, func(t *testing.T) {
			d := battery.Duty{Source: r.src, Ambient: battery.Ambient{Start: r.temp}}
			from := b.Rested(r.soc, r.temp)
			stop := r.at[len(r.at)-1]
			ref, _ := spice(t, netlist(b, from, d, r.temp, 1e-6, stop*1.001, probes(r.at...)))
			for i, at := range r.at {
				d.Seconds = at
				got, err := b.Run(from, d)
				must(t, err)
				for _, c := range []struct {
					what string
					got  float64
					name string
					n    float64
					size float64
				}{
					{"volts", got.Volts, fmt.Sprintf("mv%d", i), 6, got.Volts},
					{"amps", got.Amps, fmt.Sprintf("mi%d", i), 1, math.Abs(r.src.Amps)},
					{"pores", got.State.Cells[0].Pore, fmt.Sprintf("mp%d", i), 1, 1},
				} {
					want, ok := ref[c.name]
					if !ok || math.Abs(c.got-want*c.n) > 1e-3*c.size {
						t.Errorf("after %g s: %s %.6g, ngspice %.6g (%v)", at, c.what, c.got, want*c.n, ok)
					}
				}
			}
		})
	}
}

// The isothermal day's charge: the transient alone, as ngspice times it.
func BenchmarkDayChargeSpice(b *testing.B) {
	bat := isothermal(b)
	d := battery.Duty{Source: battery.Source{Amps: 10, Volts: 14.6}, Ambient: battery.Ambient{Start: 20}, Seconds: 86400}
	list := netlist(bat, bat.Rested(20, 20), d, 20, battery.DefaultTolerance, 86400, probes(80000))
	best := math.Inf(1)
	for b.Loop() {
		if _, s := spice(b, list); s > 0 {
			best = min(best, s)
		}
	}
	b.ReportMetric(best*1e9, "solve-ns")
}

// The stepper on the very same circuit.
func BenchmarkDayChargeIsothermal(b *testing.B) {
	bat := isothermal(b)
	d := battery.Duty{Source: battery.Source{Amps: 10, Volts: 14.6}, Ambient: battery.Ambient{Start: 20}, Seconds: 86400}
	from := bat.Rested(20, 20)
	b.ReportAllocs()
	for b.Loop() {
		if _, err := bat.Run(from, d); err != nil {
			b.Fatal(err)
		}
	}
}
