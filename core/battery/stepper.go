package battery

import "math"

// The stepper is RODAS, a Rosenbrock method of order 4 with an embedded error
// estimate of order 3, L-stable and stiffly accurate. Source: Hairer and Wanner,
// Solving Ordinary Differential Equations II, the coefficients of their RODAS
// code. It takes steps of milliseconds while a starter is pulled and of days on
// a shelf, because the stiff polarisation of the plates does not hold it back.
const rosGamma = 0.25

var (
	rosA = [6][5]float64{
		{},
		{1.544},
		{0.9466785280815826, 0.2557011698983284},
		{3.314825187068521, 2.896124015972201, 0.9986419139977817},
		{1.221224509226641, 6.019134481288629, 12.53708332932087, -0.6878860361058950},
	}
	rosC = [6][5]float64{
		{},
		{-5.6688},
		{-2.430093356833875, -0.2063599157091915},
		{-0.1073529058151375, -9.594562251023355, -20.47028614809616},
		{7.496443313967647, -10.24680431464352, -33.99990352819905, 11.70890893206160},
		{8.083246795921522, -7.981132988064893, -31.52159432874371, 16.31930543123136, -6.058818238834054},
	}
	rosT = [6]float64{0, 0.386, 0.21, 0.63, 1, 1}
	rosD = [6]float64{0.25, -0.1043, 0.1035, -0.0362, 0, 0}
)

// stepper holds what one run works in.
type stepper struct {
	circuit
	y, next vector
	t       float64

	f   vector                              // slope at y
	was vector                              // slope at y once f is that at next
	jac [most][1 + stride*MaxGroups]float64 // of every slope by every live variable
	lu  [1 + stride*MaxGroups][1 + stride*MaxGroups]float64
	row [1 + stride*MaxGroups]int
	inv [1 + stride*MaxGroups]float64
	ks  [6]vector
	tmp vector
}

// prepare takes the slope and its derivatives at a place; needed once for each
// place the stepper stands at, however many step sizes are tried from there.
func (p *stepper) prepare(at *vector, t float64) { p.derive(at, &p.f, &p.jac, t) }

// scale is the size of a live variable, against which its error is weighed.
func scale(i int) float64 {
	if i == atTemp {
		return 30
	}
	return [stride]float64{1, 1, 0.2, 0.2}[(i-atCell)%stride]
}

// astray reports whether the prepared place is none the battery could have got
// to in h seconds. A long step over the moment the pores run dry sees neither in
// its slopes nor in its error that the plates can no longer carry the current;
// there the slope of the polarisation says so, because nothing answers it.
func (p *stepper) astray(h float64) bool {
	for i := atCell + 2; i < p.live; i += stride {
		if math.Abs(p.f[i]) > strayVolts*(1/h+math.Abs(p.jac[i][i])) {
			return true
		}
	}
	return false
}

// strayVolts is how far from its balance the polarisation may be after a step.
const strayVolts = 0.15

// try steps from y to next over h seconds and gives the error against tol.
func (p *stepper) try(h, tol float64) float64 {
	n := p.live
	p.factor(1 / (h * rosGamma))
	drift := p.cooling / p.heat * p.ambient.PerHour / 3600 // of the temperature's slope with time
	y := p.y
	over := 1 / h
	for s := range 6 {
		if s > 0 {
			if s < 5 {
				a := &rosA[s]
				for i := range n {
					sum := p.y[i]
					for j := range s {
						sum += a[j] * p.ks[j][i]
					}
					y[i] = sum
				}
			} else {
				for i := range n {
					y[i] += p.ks[4][i]
				}
			}
			p.slope(&y, &p.tmp, p.t+rosT[s]*h)
		} else {
			p.tmp = p.f
		}
		k := &p.ks[s]
		if s > 0 {
			c := &rosC[s]
			for i := range p.all {
				sum := 0.0
				for j := range s {
					sum += c[j] * p.ks[j][i]
				}
				p.tmp[i] += sum * over
			}
		}
		p.tmp[atTemp] += h * rosD[s] * drift
		p.tmp[p.live+2] -= h * rosD[s] * drift * p.heat
		p.solve(&p.tmp, k)
		for i := n; i < p.all; i++ {
			sum := p.tmp[i]
			for j, v := range p.jac[i][:n] {
				sum += v * k[j]
			}
			k[i] = sum * h * rosGamma
		}
	}
	// y holds stage 6; the sums were not carried in it.
	for i := n; i < p.all; i++ {
		y[i] = p.y[i] + rosA[4][0]*p.ks[0][i] + rosA[4][1]*p.ks[1][i] + rosA[4][2]*p.ks[2][i] + rosA[4][3]*p.ks[3][i] + p.ks[4][i]
	}
	worst := 0.0
	for i := range p.all {
		p.next[i] = y[i] + p.ks[5][i]
		if i < n {
			e := math.Abs(p.ks[5][i]) / (tol * scale(i))
			if e > worst || e != e {
				worst = e
			}
		}
	}
	return worst
}

// factor splits d·I − J into triangles, with the largest pivot of each column.
func (p *stepper) factor(d float64) {
	n := p.live
	for i := range n {
		for j := range n {
			p.lu[i][j] = -p.jac[i][j]
		}
		p.lu[i][i] += d
		p.row[i] = i
	}
	for c := range n {
		best := c
		for i := c + 1; i < n; i++ {
			if math.Abs(p.lu[i][c]) > math.Abs(p.lu[best][c]) {
				best = i
			}
		}
		if best != c {
			p.lu[c], p.lu[best] = p.lu[best], p.lu[c]
			p.row[c], p.row[best] = p.row[best], p.row[c]
		}
		inv := 1 / p.lu[c][c]
		p.inv[c] = inv
		top := p.lu[c][:n]
		for i := c + 1; i < n; i++ {
			row := p.lu[i][:n]
			f := row[c] * inv
			row[c] = f
			if f == 0 {
				continue
			}
			for j := c + 1; j < len(row); j++ {
				row[j] -= f * top[j]
			}
		}
	}
}

// solve gives x of (d·I − J) x = b.
func (p *stepper) solve(b, x *vector) {
	n := p.live
	for i := range n {
		sum := b[p.row[i]]
		row := p.lu[i][:i]
		for j, v := range row {
			sum -= v * x[j]
		}
		x[i] = sum
	}
	for i := n - 1; i >= 0; i-- {
		sum := x[i]
		row := p.lu[i][:n]
		for j := i + 1; j < len(row); j++ {
			sum -= row[j] * x[j]
		}
		x[i] = sum * p.inv[i]
	}
}
