package battery

import "math"

// derive gives slope at y and its derivative by every live variable: the same
// equations as slope, term for term, kept honest by a test against differences
// of slope itself.
func (k *circuit) derive(y, dy *vector, jac *[most][1 + stride*MaxGroups]float64, t float64) {
	temp := y[atTemp]
	kelvin := temp + zeroC
	warmer := stepEnergy / gasConstant / (kelvin * kelvin) // d ln w / dT
	law := k.laws(temp)
	acid, moves, taken, doubling, mix, self := law.acid, law.moves, law.taken, law.doubling, law.mix, law.self
	vt, closed, lift := law.vt, law.closed, law.lift

	var e1, slope1, phiOf, ohmsOf, byCharge, bySulphate [MaxGroups]float64
	phi, ohms, ohmsT, phiT := 0.0, k.strap, 0.0, 0.0
	for i := range k.n {
		g := &k.cell[i]
		v := y[atCell+stride*i:]
		e1[i], slope1[i] = k.emf.at(v[0])
		e1[i] += lift
		phiOf[i] = e1[i] + v[2]
		filled := 1 + emptyRise*hollow(v[0])
		crusted := 1 + sulphateOhms*v[3]
		ohmsOf[i] = g.ohms * (metalShare + (1-metalShare)*acid*filled) * crusted
		byCharge[i] = -g.ohms * (1 - metalShare) * acid * emptyRise * 1.5 * math.Sqrt(above(1-v[0])) * crusted
		bySulphate[i] = ohmsOf[i] / crusted * sulphateOhms
		phi += g.count * phiOf[i]
		phiT += g.count * emfPerC
		ohms += g.count * ohmsOf[i]
		ohmsT -= g.count * 3 * warmer * g.ohms * (1 - metalShare) * acid * filled * crusted
	}
	outer, inner, volts, steep := k.posts(phi, ohms)

	// What the posts answer to the volts and ohms inside.
	share := 1 / (1 + ohms*k.lid)
	r := ohms * share
	openR := -phi * k.lid * share * share
	outerPhi, outerR := -steep*share, -steep*openR
	if steep > 0 {
		outerR -= outer / (r + k.source.Ohms) * share * share
	}
	voltsPhi := share + r*outerPhi
	voltsR := openR + share*share*outer + r*outerR
	innerPhi, innerR := outerPhi-k.lid*voltsPhi, outerR-k.lid*voltsR

	for i := range k.all {
		row := &jac[i]
		for j := range k.live {
			row[j] = 0
		}
	}

	heat := inner * inner * k.strap
	heatI := 2 * inner * k.strap // derivative by the inner current
	heatRow := &jac[atTemp]
	for i := range k.n {
		g := &k.cell[i]
		at := atCell + stride*i
		h1, h2, u, z := y[at], y[at+1], y[at+2], y[at+3]
		s := k.c*h1 + k.cc*h2
		left := above(1 - s)

		m := g.mainSlopes(h1, u, z, left, moves, warmer, vt, closed, kelvin)
		up, down := g.gassing(phiOf[i], temp)
		gas, gasPhi, gasT := up-down, gasPerVolt*(up+down), gasPerC*(up-down)
		both, bothPhi, bothT := up+down, gasPerVolt*(up-down), gasPerC*(up+down)
		leak := gasPhi + g.short // derivative of everything beside the main branch by φ
		into := inner - gas - g.short*phiOf[i]
		flow := mix * k.c * k.cc * (h1 - h2) * g.q
		flowH := mix * k.c * k.cc * g.q

		dy[at] = (into-flow)/(k.c*g.q) - self*h1
		dy[at+1] = flow/(k.cc*g.q) - self*h2
		dy[at+2] = (into - m.amps) / g.farads
		over := above((phiOf[i] - dissolveFrom) / dissolveSpan)
		hard, gone := hardenPerSecond*doubling*left, dissolvePerSecond*taken*over
		dy[at+3] = hard*(1-z)*left - gone*z*over
		dy[k.live+sums+i] = both

		// Derivatives of what flows into the main branch, but for the part through
		// the common current, which is added for all cells at once below.
		intoH, intoU, intoT := -leak*slope1[i], -leak, -leak*emfPerC-gasT
		row := &jac[at]
		row[at] += (intoH-flowH)/(k.c*g.q) - self
		row[at+1] += flowH / (k.c * g.q)
		row[at+2] += intoU / (k.c * g.q)
		row[atTemp] += (intoT-4*warmer*flow)/(k.c*g.q) - 11*warmer*self*h1
		row = &jac[at+1]
		row[at] += flowH / (k.cc * g.q)
		row[at+1] += -flowH/(k.cc*g.q) - self
		row[atTemp] += 4*warmer*flow/(k.cc*g.q) - 11*warmer*self*h2
		row = &jac[at+2]
		row[at] += (intoH - m.pore + k.c*m.left) / g.farads
		row[at+1] += k.cc * m.left / g.farads
		row[at+2] += (intoU - m.polar) / g.farads
		row[at+3] += -m.sulphate / g.farads
		row[atTemp] += (intoT - m.temp) / g.farads
		row = &jac[at+3]
		row[at] += -2*hard*(1-z)*k.c - 2*gone*z*slope1[i]/dissolveSpan
		row[at+1] += -2 * hard * (1 - z) * k.cc
		row[at+2] += -2 * gone * z / dissolveSpan
		row[at+3] += -hard*left - gone*over
		row[atTemp] += 11*warmer*hard*(1-z)*left - 8*warmer*gone*z*over - 2*gone*z*emfPerC/dissolveSpan
		row = &jac[k.live+sums+i]
		row[at] += bothPhi * slope1[i]
		row[at+2] += bothPhi
		row[atTemp] += bothPhi*emfPerC + bothT

		e2, slope2 := k.emf.at(h2)
		e2 += lift
		cold1, cold2 := e1[i]-emfPerC*kelvin, e2-emfPerC*kelvin // do not change with temperature
		heat += g.count * (inner*inner*ohmsOf[i] + u*m.amps + emfPerC*kelvin*into + flow*(e1[i]-e2) +
			gas*phiOf[i] - both*k.gasHeat + g.short*phiOf[i]*phiOf[i] + self*g.q*(k.c*h1*cold1+k.cc*h2*cold2))
		heatI += g.count * (2*inner*ohmsOf[i] + emfPerC*kelvin)
		ofPhi := gasPhi*phiOf[i] + gas - bothPhi*k.gasHeat + 2*g.short*phiOf[i]
		heatRow[at] += g.count * (inner*inner*byCharge[i] + u*(m.pore-k.c*m.left) + emfPerC*kelvin*intoH +
			flowH*(e1[i]-e2) + flow*slope1[i] + ofPhi*slope1[i] + self*g.q*k.c*(cold1+h1*slope1[i]))
		heatRow[at+1] += g.count * (-u*k.cc*m.left -
			flowH*(e1[i]-e2) - flow*slope2 + self*g.q*k.cc*(cold2+h2*slope2))
		heatRow[at+2] += g.count * (m.amps + u*m.polar + emfPerC*kelvin*intoU + ofPhi)
		heatRow[at+3] += g.count * (inner*inner*bySulphate[i] + u*m.sulphate)
		heatRow[atTemp] += g.count * (u*m.temp + emfPerC*into + emfPerC*kelvin*intoT + 4*warmer*flow*(e1[i]-e2) +
			ofPhi*emfPerC + gasT*phiOf[i] - bothT*k.gasHeat + 11*warmer*self*g.q*(k.c*h1*cold1+k.cc*h2*cold2))
	}
	heatRow[atTemp] += inner * inner * ohmsT
	out := k.cooling * (temp - k.ambient.at(t))
	dy[k.live], dy[k.live+1], dy[k.live+2] = outer, outer*volts, out
	jac[k.live+2][atTemp] = k.cooling

	// The common current carries every variable into every cell.
	through := func(x int, phiX, ohmsX float64) {
		innerX := innerPhi*phiX + innerR*ohmsX
		outerX := outerPhi*phiX + outerR*ohmsX
		for i := range k.n {
			g := &k.cell[i]
			at := atCell + stride*i
			jac[at][x] += innerX / (k.c * g.q)
			jac[at+2][x] += innerX / g.farads
		}
		heatRow[x] += heatI * innerX
		jac[k.live][x] += outerX
		jac[k.live+1][x] += outerX*volts + outer*(voltsPhi*phiX+voltsR*ohmsX)
	}
	through(atTemp, phiT, ohmsT)
	for i := range k.n {
		n := k.cell[i].count
		at := atCell + stride*i
		through(at, n*slope1[i], n*byCharge[i])
		through(at+2, n, 0)
		through(at+3, 0, n*bySulphate[i])
	}

	heatRow[atTemp] -= k.cooling
	dy[atTemp] = (heat - out) / k.heat
	for j := range k.live {
		heatRow[j] /= k.heat
	}
}

// mainSlopes is the current of the plates' own reaction and its derivatives.
type mainSlopes struct{ amps, pore, left, polar, sulphate, temp float64 }

// mainSlopes repeats main with its derivatives; left counts as its own variable.
func (g *cellParts) mainSlopes(h1, u, z, left, moves, warmer, vt, closed, kelvin float64) mainSlopes {
	taken := moves * moves
	i0 := g.plate * taken
	if u > 0 {
		n, nU := surfaceOnCharge(u, vt)
		n, nU = i0*n, i0*nU
		rest := taken * left * math.Sqrt(left)
		if z != 0 {
			rest *= math.Exp(-sulphateShut * z)
		}
		push := 1 + sq(u/pushVolts)
		charge := g.accept * (rest + leastAccept) * push
		free, held := charge/(n+charge), n/(n+charge)
		amps := n * free
		byCharge := held * amps             // by ln charge
		part := rest / (rest + leastAccept) // how much of charge follows its laws
		m := mainSlopes{amps: amps}
		m.polar = free*free*nU + byCharge*2*u/(pushVolts*pushVolts*push)
		if left > 0 {
			m.left = byCharge * part * 1.5 / left
		}
		if warmer == 0 { // nobody asks how it answers to warmth
			return m
		}
		m.sulphate = -byCharge * part * sulphateShut
		m.temp = free*free*(8*warmer*n-u/kelvin*nU) + byCharge*part*8*warmer
		return m
	}
	raw := (h1 - closed) / (1 - closed)
	root := math.Sqrt(raw*raw + 4*poreEdge*poreEdge)
	open := 0.5 * (raw + root)
	byRaw := 0.5 * (1 + raw/root)
	limit := g.limit * moves * open
	down := math.Exp(clamp(-u/vt, 0, 60))
	up := 1 / down
	onDischarge := i0 * (down - 1) / limit
	den := 1 + onDischarge
	amps := i0 * (up - down) / den
	byDen := -amps / den
	byLimit := -byDen * onDischarge // by ln limit
	shut := 0.0                     // of raw, by temperature
	if closed > -hotGain {
		shut = coldLoss * (1 - h1) / sq(1-closed)
	}
	m := mainSlopes{amps: amps}
	m.polar = i0*(up+down)/vt/den - byDen*i0*down/vt/limit
	m.pore = byLimit * byRaw / (1 - closed) / open
	m.temp = 8*warmer*amps - u/kelvin*m.polar + byDen*8*warmer*onDischarge + byLimit*(4*warmer+byRaw*shut/open)
	return m
}
