package battery

import "math"

// The circuit, of one cell, from the posts inwards:
//
//	post ──R0──┬──[ plates: u on C, crossed by I_m(u) ]──[ E(h1,T) ]──┐
//	           ├──[ gassing: I_g(φ,T) ]───────────────────────────────┤
//	           └──[ short: φ/R_s ]────────────────────────────────────┴── next cell
//
// with φ = E + u. It is the third-order circuit of Ceraolo (2000): a main branch
// with a polarisation of its own, a parasitic branch beside it, and a heat
// balance. His resistances R1(DOC) and R2(SOC, I) are here one law of the
// plates' surface with a limiting current each way, as Newman writes it, and
// his capacity law is the kinetic battery model of Manwell and McGowan (1993), two wells.

// Constants of the plates' surface.
const (
	exchangePerCCA = 0.02 // i0: exchange current for each amp of CCA, 25 °C; fitted
	chargeSlower   = 150  // ρ: on charge the exchange falls by 1 + ρ; fitted to published charging curves
	limitPerCCA    = 7.0  // most discharge the full pores could feed, amps per CCA amp; fitted
	// C, farads: polarisation under load builds in under a second, and fades in minutes when full; fitted
	faradsPerCCA = 0.5
	poreEdge     = 1e-5 // softens the end of the pores
	// Part of the pores that cold shuts for each °C under 25; with slower exchange the IEC 0.006 together, from memory
	coldLoss     = 0.004
	hotGain      = 0.15 // the most that warmth opens beyond full
	pushVolts    = 0.18 // v: polarisation that doubles the limit of charge; fitted to published charging curves
	sulphateShut = 9.0  // acceptance falls e-fold for each ninth of hard sulphate; fitted
)

// Constants of gassing. Source: Schiffer et al. 2007 (J. Power Sources 168),
// from memory: I_gas = I0 exp(11/V (U - 2.23 V) + 0.06/K (T - 298 K)).
const (
	gasPerVolt = 11.0
	gasPerC    = 0.06
	gasVolts   = 2.23
	reversedAt = 0.2  // a reversed cell gasses the other way from -0.2 V; from memory
	waterVolts = 1.48 // V: what splitting water takes out of the heat, thermoneutral
)

// Constants of hard sulphate: common practice, no source. It hardens within
// weeks of standing flat, and goes in 8 to 16 hours on the charger under 16 V
// and in up to 4 hours above.
const (
	hardenPerSecond   = 1 / (21 * 86400.0) // flat, at 25 °C
	dissolvePerSecond = 1 / (8 * 3600.0)   // at 2.40 V a cell
	dissolveFrom      = 2.15
	dissolveSpan      = 0.25
)

// stride is the number of state variables of one group of cells, besides the
// temperature they share.
const stride = 4

// Places in the vector that the stepper carries: first what feeds back, then
// sums that only count.
const (
	atTemp = 0
	atCell = 1 // pore, bulk, polar, sulphate of each group
	sums   = 3 // coulombs in, joules in, joules out; then coulombs of gas of each group
	most   = 1 + stride*MaxGroups + sums + MaxGroups
)

type vector [most]float64

// circuit is a battery's parameters as its equations want them.
type circuit struct {
	n    int // groups
	live int // 1 + stride*n: variables that feed back
	all  int // live, sums and gas

	emf     *curve
	cell    [MaxGroups]cellParts
	c, cc   float64 // pore share and the rest
	k       float64 // exchange between wells, 1/s at 25 °C
	self    float64 // self-discharge, 1/s at 25 °C
	gasHeat float64 // volts of gassing that do not become heat
	heat    float64 // J/K
	cooling float64 // W/K
	lid     float64 // S
	strap   float64 // ohms

	source  Source
	ambient Ambient
}

type cellParts struct {
	count  float64
	ohms   float64 // R0
	plate  float64 // i0, 25 °C
	limit  float64 // limiting discharge current of full pores
	accept float64 // limiting charge current of an empty cell, 25 °C
	gas    float64 // I0 of gassing
	farads float64
	q      float64 // coulombs
	short  float64 // S
}

func (b Battery) circuit() circuit {
	row := of(b.Chemistry)
	k := circuit{
		n: b.Kinds, emf: curveOf(b.Chemistry), c: b.PoreShare, cc: 1 - b.PoreShare,
		k: row.exchangePerHour / 3600, self: row.selfPerMonth / (30 * 86400),
		gasHeat: waterVolts * (1 - row.recombined), heat: b.HeatCapacity, cooling: b.Cooling, lid: b.LidSiemens, strap: b.StrapOhms,
	}
	k.live = 1 + stride*k.n
	k.all = k.live + sums + k.n
	for i := range k.n {
		g := b.Groups[i]
		area := g.Wet * b.PlateAmps
		ah := g.Wet * g.Capacity * b.Coulombs / 3600
		k.cell[i] = cellParts{
			count: float64(g.Count), ohms: b.Ohms * g.Resistance / g.Wet,
			plate: exchangePerCCA * area / g.Resistance, limit: limitPerCCA * area, farads: faradsPerCCA * area,
			accept: row.acceptPerHour * ah * b.Acceptance, gas: row.gasPerAh * ah * b.Gassing, q: 3600 * ah, short: g.ShortSiemens,
		}
	}
	return k
}

// Source is what stands at the posts: charge counts positive.
//
// Amps above zero is a charger that gives up to Amps and never lifts the posts
// above Volts; below zero a load that draws up to Amps and never pulls them
// under Volts; zero is rest. Ohms stands between Volts and the posts: leads, or
// the slope of a taper charger. Infinite Amps with Volts 0 is a plain resistor of
// Ohms.
type Source struct {
	Amps  float64
	Volts float64
	Ohms  float64
}

// Ambient is the temperature around the battery: Start °C at the beginning of a
// run, changing by PerHour.
type Ambient struct {
	Start   float64
	PerHour float64
}

func (a Ambient) at(seconds float64) float64 { return a.Start + a.PerHour*seconds/3600 }

// softVolts rounds the corner at a source's own volts, where a charger or a load
// lets go. Held to a sharp corner, a battery that comes to rest on it makes the
// stepper fall from one side to the other for ever.
const softVolts = 2e-4

// current is what flows through the posts of a battery that shows volts when
// nothing flows and has ohms inside, and how steeply it answers to volts, in
// siemens; 0 where the source is held by its amps.
func (s Source) current(volts, ohms float64) (amps, steep float64) {
	if s.Amps == 0 {
		return 0, 0
	}
	sign := math.Copysign(1, s.Amps)
	x := sign * (s.Volts - volts)
	root := math.Sqrt(x*x + softVolts*softVolts)
	over := 0.5 * (root + math.Abs(x))
	if x < 0 {
		over = 0.25 * softVolts * softVolts / over
	}
	amps = over / (ohms + s.Ohms)
	if amps >= sign*s.Amps {
		return s.Amps, 0
	}
	return sign * amps, amps / root
}

// posts solves the outside of the circuit: current through the posts, through
// the cells (a leaking lid takes the difference), and volts at the posts.
func (k *circuit) posts(phi, ohms float64) (outer, inner, volts, steep float64) {
	share := 1 / (1 + ohms*k.lid)
	open, r := phi*share, ohms*share
	outer, steep = k.source.current(open, r)
	volts = open + r*outer
	return outer, outer - k.lid*volts, volts, steep
}

// laws are what temperature alone settles.
type laws struct {
	acid     float64 // the acid's resistance against 25 °C
	moves    float64 // movement of the acid
	taken    float64 // the plates' reaction, and acceptance
	doubling float64 // self-discharge, hardening
	mix      float64 // exchange between the wells, 1/s
	self     float64 // self-discharge, 1/s
	vt       float64 // 2RT/F, V
	closed   float64 // κ: part of the pores shut
	lift     float64 // electromotive force over that at 25 °C, V
}

func (k *circuit) laws(temp float64) laws {
	w := arrhenius(temp)
	moves := w * w * w * w
	taken := moves * moves
	doubling := taken * w * w * w
	return laws{
		acid: 1 / (w * w * w), moves: moves, taken: taken, doubling: doubling, mix: k.k * moves, self: k.self * doubling,
		vt: surfaceVolts(temp), closed: max(-hotGain, coldLoss*(25-temp)), lift: emfPerC * (temp - 25),
	}
}

// slope gives how everything changes at y, t seconds into the run.
func (k *circuit) slope(y, dy *vector, t float64) {
	temp := y[atTemp]
	at := k.laws(temp)

	// First pass: what each cell shows, so that the current is known.
	var e1, phiOf, ohmsOf [MaxGroups]float64
	phi, ohms := 0.0, k.strap
	for i := range k.n {
		g := &k.cell[i]
		v := y[atCell+stride*i:]
		h1, u := v[0], v[2]
		e1[i] = k.emf.volts(h1) + at.lift
		phiOf[i] = e1[i] + u
		ohmsOf[i] = g.ohms * ohmsFactor(h1, v[3], at.acid)
		phi += g.count * phiOf[i]
		ohms += g.count * ohmsOf[i]
	}
	outer, inner, volts, _ := k.posts(phi, ohms)

	heat := inner * inner * k.strap
	for i := range k.n {
		g := &k.cell[i]
		v := y[atCell+stride*i:]
		d := dy[atCell+stride*i:]
		h1, h2, u, z := v[0], v[1], v[2], v[3]
		s := k.c*h1 + k.cc*h2
		left := above(1 - s)

		main := g.main(h1, u, z, left, at.moves, at.vt, at.closed)
		up, down := g.gassing(phiOf[i], temp)
		shorted := g.short * phiOf[i]
		into := inner - (up - down) - shorted

		flow := at.mix * k.c * k.cc * (h1 - h2) * g.q // coulombs a second from pores to bulk
		d[0] = (into-flow)/(k.c*g.q) - at.self*h1
		d[1] = flow/(k.cc*g.q) - at.self*h2
		d[2] = (into - main) / g.farads
		over := above((phiOf[i] - dissolveFrom) / dissolveSpan)
		d[3] = hardenPerSecond*at.doubling*(1-z)*left*left - dissolvePerSecond*at.taken*z*over*over

		e2 := k.emf.volts(h2) + at.lift
		kelvin := temp + zeroC
		heat += g.count * (inner*inner*ohmsOf[i] + u*main + emfPerC*kelvin*into + flow*(e1[i]-e2) +
			(up-down)*phiOf[i] - (up+down)*k.gasHeat + shorted*phiOf[i] +
			at.self*g.q*(k.c*h1*(e1[i]-emfPerC*kelvin)+k.cc*h2*(e2-emfPerC*kelvin)))
		dy[k.live+sums+i] = up + down
	}
	out := k.cooling * (temp - k.ambient.at(t))
	dy[atTemp] = (heat - out) / k.heat
	dy[k.live] = outer
	dy[k.live+1] = outer * volts
	dy[k.live+2] = out
}

// main is the current of the plates' own reaction at polarisation u, the lesser
// of what the surface and what the acid's paths let through, in series:
//
//	I_m = N L/(N + L)
//
//	charge     N = i0 (e²−1)/(1 + ρ(1−e⁻²))    L = accept·w⁸·(1−s)^1.5·exp(−9z)·(1 + (u/v)²)
//	discharge  N = i0 (e−1/e)                  L = limit·w⁴·X, on e−1 alone
//
// with e = exp(|u|/(2RT/F)). Both ways begin alike, with i0; on charge the lead
// ions that sulphate gives up soon run short, so that the exchange falls by 1 + ρ
// and the volts rise by RT/F for each e-fold of current: about 0.11 V a cell at
// kind rates. L is what is left to charge, cold and hard sulphate let through, and
// volts push up; on discharge what empty pores take to nothing.
func (g *cellParts) main(h1, u, z, left, moves, vt, closed float64) float64 {
	taken := moves * moves
	i0 := g.plate * taken
	if u > 0 {
		n, _ := surfaceOnCharge(u, vt)
		n *= i0
		charge := g.accept * (taken*left*math.Sqrt(left)*math.Exp(-sulphateShut*z) + leastAccept) * (1 + sq(u/pushVolts))
		return n * charge / (n + charge)
	}
	down := math.Exp(clamp(-u/vt, 0, 60))
	open := (h1 - closed) / (1 - closed)
	open = 0.5 * (open + math.Sqrt(open*open+4*poreEdge*poreEdge))
	return i0 * (1/down - down) / (1 + i0*(down-1)/(g.limit*moves*open))
}

// surfaceOnCharge is the current of the surface alone in parts of i0 at u > 0,
// and its derivative by u.
func surfaceOnCharge(u, vt float64) (n, slope float64) {
	y := math.Exp(clamp(2*u/vt, 0, 60))
	den := 1 + chargeSlower*(1-1/y)
	n = (y - 1) / den
	return n, (y - n*chargeSlower/y) / den * 2 / vt
}

// leastAccept keeps the division in main finite when a cell is full: a
// millionth of an empty cell's acceptance.
const leastAccept = 1e-6

// gassing is the current that makes gas in a cell showing phi volts, and the
// current the other way in a cell driven backwards.
func (g *cellParts) gassing(phi, temp float64) (up, down float64) {
	warm := gasPerC * (temp - 25)
	up = g.gas * math.Exp(clamp(gasPerVolt*(phi-gasVolts)+warm, -60, 60))
	down = 0
	if phi < 0.5 {
		down = g.gas * math.Exp(clamp(-gasPerVolt*(phi+reversedAt)+warm, -60, 60))
	}
	return up, down
}
