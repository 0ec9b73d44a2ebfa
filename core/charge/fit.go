package charge

import "math"

// most is the most things that are fitted at once.
const most = 10

// fitted is what a fit settled on: how far each thing lies from what was thought of it
// before, in standard deviations of that; how they hang together; and how well it all
// goes with what was read.
type fitted struct {
	n     int
	theta [most]float64
	// Lower triangle of the precision, so that what is left open is its inverse.
	chol [most][most]float64
	cost float64 // half the sum of squares, with what was thought before
}

// fit moves things until the gaps are least, by Gauss and Newton with the damping of
// Levenberg and Marquardt. gaps gives how far readings lie from what theta foretells, in
// standard deviations; a theta it cannot foretell from gives false. A fit that lies over a
// cost that is worth anything, and hardly comes nearer to it, is given up where it is.
func fit(start []float64, worth float64, gaps func(theta []float64) ([]float64, bool)) (fitted, bool) {
	f := fitted{n: len(start)}
	copy(f.theta[:], start)
	theta := f.theta[:f.n]
	r, ok := gaps(theta)
	if !ok {
		return f, false
	}
	f.cost = cost(theta, r)
	damp := 1e-3
	jac := make([][]float64, f.n)
	for k := range fitSteps {
		for j := range theta {
			moved := f.theta
			moved[j] += fitProbe
			up, ok := gaps(moved[:f.n])
			if !ok {
				return f, false
			}
			col := make([]float64, len(r))
			for i := range r {
				col[i] = (up[i] - r[i]) / fitProbe
			}
			jac[j] = col
		}
		var a [most][most]float64
		var g [most]float64
		for i := range f.n {
			g[i] = -theta[i] - weighed(jac[i], r, r)
			for j := range i + 1 {
				a[i][j] = weighed(jac[i], jac[j], r)
			}
			a[i][i]++
		}
		f.chol = triangle(a, f.n, 0)
		better := false
		for range 6 {
			step := backward(triangle(a, f.n, damp), f.n, g)
			next := f.theta
			for j := range f.n {
				next[j] += clamp(step[j], -fitLeap, fitLeap)
			}
			if rr, ok := gaps(next[:f.n]); ok {
				if c := cost(next[:f.n], rr); c < f.cost {
					gain := f.cost - c
					f.theta, r, f.cost, better = next, rr, c, gain > fitGain && (k < fitTries || gain > (c-worth)/fitMore)
					damp /= 8
					break
				}
			}
			damp *= 8
		}
		if !better {
			break
		}
	}
	return f, true
}

// How a fit goes about it: at most so many steps, how far each thing is moved to see
// what it does and at most at once, in standard deviations, and the gain under which it
// stops.
const (
	fitSteps = 7
	fitProbe = 0.2
	fitLeap  = 2.0
	fitGain  = 0.02
	fitTries = 1   // a step that is never given up
	fitMore  = 3.0 // steps like the last that would have to bring it there
)

func cost(theta, r []float64) float64 { return 0.5 * (dot(theta, theta) + softened(r)) }

// softened is the sum of squares, but that beyond three standard deviations a reading
// pulls no harder: one slip of the finger is not the whole truth.
func softened(r []float64) float64 {
	sum := 0.0
	for _, v := range r {
		if v = math.Abs(v); v > slip {
			v = math.Sqrt(2*slip*v - slip*slip)
		}
		sum += v * v
	}
	return sum
}

// slip is where a reading is more likely a slip than an error of the meter, in standard
// deviations; Huber's loss.
const slip = 4.0

// weighed is the product of two columns, each row with the pull its gap has.
func weighed(a, b, gaps []float64) float64 {
	sum := 0.0
	for i := range a {
		w := 1.0
		if v := math.Abs(gaps[i]); v > slip {
			w = slip / v
		}
		sum += w * a[i] * b[i]
	}
	return sum
}

func dot(a, b []float64) float64 {
	sum := 0.0
	for i := range a {
		sum += a[i] * b[i]
	}
	return sum
}

// triangle is Cholesky's lower triangle of a positive matrix with more on its diagonal.
func triangle(a [most][most]float64, n int, more float64) (l [most][most]float64) {
	for i := range n {
		for j := range i + 1 {
			sum := a[i][j]
			if i == j {
				sum *= 1 + more
			}
			for k := range j {
				sum -= l[i][k] * l[j][k]
			}
			if i == j {
				l[i][i] = math.Sqrt(max(sum, 1e-12))
			} else {
				l[i][j] = sum / l[j][j]
			}
		}
	}
	return l
}

// backward solves L Lᵀ x = g.
func backward(l [most][most]float64, n int, g [most]float64) (x [most]float64) {
	for i := range n {
		sum := g[i]
		for k := range i {
			sum -= l[i][k] * x[k]
		}
		x[i] = sum / l[i][i]
	}
	for i := n - 1; i >= 0; i-- {
		sum := x[i]
		for k := i + 1; k < n; k++ {
			sum -= l[k][i] * x[k]
		}
		x[i] = sum / l[i][i]
	}
	return x
}

// open gives the directions in which what is left open lies: columns of a root of the
// inverse of the precision, L⁻ᵀ.
func (f fitted) open() [][most]float64 {
	out := make([][most]float64, f.n)
	for j := range f.n {
		// Lᵀ x = e_j
		var x [most]float64
		for i := j; i >= 0; i-- {
			sum := 0.0
			if i == j {
				sum = 1
			}
			for k := i + 1; k <= j; k++ {
				sum -= f.chol[k][i] * x[k]
			}
			x[i] = sum / f.chol[i][i]
		}
		out[j] = x
	}
	return out
}

// evidence is the logarithm of how well the whole of what was thought before foretold
// the readings, by Laplace, but for what all fits of the same readings share.
func (f fitted) evidence() float64 {
	half := 0.0
	for i := range f.n {
		half += math.Log(f.chol[i][i])
	}
	return -f.cost - half
}
