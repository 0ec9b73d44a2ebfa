package battery

// Terminal is what a battery is to the circuit outside at one moment: a source of
// Volts behind Ohms, so that V = Volts + Ohms·I for I amps into it. It holds for
// a moment only: the polarisation of the plates, which is in Volts, follows the
// current within a second.
type Terminal struct {
	Volts float64 // at the posts with nothing flowing
	Ohms  float64 // 0 or more
}

// Terminal gives the volts and ohms at the posts of the battery in state s: for
// circuits of several batteries, leads and machines. As a Source of these volts
// and ohms one battery can charge another; steps of such a circuit should be no
// longer than a second.
func (b Battery) Terminal(s State) Terminal {
	p := stepper{circuit: b.circuit()}
	p.load(s)
	phi, ohms := p.inside()
	share := 1 / (1 + ohms*p.lid)
	return Terminal{Volts: phi * share, Ohms: ohms * share}
}

// inside adds up what the cells and the strap are between the posts, without a
// leaking lid.
func (p *stepper) inside() (phi, ohms float64) {
	acid := acidFactor(p.y[atTemp])
	ohms = p.strap
	for i := range p.n {
		g := &p.cell[i]
		v := p.y[atCell+stride*i:]
		phi += g.count * (p.emf.volts(v[0]) + emfPerC*(p.y[atTemp]-25) + v[2])
		ohms += g.count * g.ohms * ohmsFactor(v[0], v[3], acid)
	}
	return phi, ohms
}
