package battery

import "math"

// curve is a cell's electromotive force over its charge as a Chebyshev series:
// the equations ask for it dozens of times a step, and the series answers
// within 0.01 mV of the formula at a fraction of its cost.
type curve [curveTerms]float64

// The charge a curve covers, from deeply discharged pores to pores on charge;
// beyond it the curve goes on as a straight line.
const (
	curveTerms = 8
	curveFrom  = -0.35
	curveTo    = 1.50
)

// curves holds the series of each chemistry.
var curves = func() map[Chemistry]curve {
	m := map[Chemistry]curve{}
	for c, b := range builds {
		m[c] = b.emfCurve()
	}
	return m
}()

// emfCurve fits the series at the Chebyshev points of its range.
func (b build) emfCurve() curve {
	var at, c curve
	for k := range at {
		x := math.Cos(math.Pi * (float64(k) + 0.5) / curveTerms)
		at[k] = b.emf(curveFrom + (curveTo-curveFrom)*(x+1)/2)
	}
	for j := range c {
		for k := range at {
			c[j] += 2.0 / curveTerms * at[k] * math.Cos(math.Pi*float64(j)*(float64(k)+0.5)/curveTerms)
		}
	}
	c[0] /= 2
	return c
}

// at gives the series and its slope at charge s.
func (c *curve) at(s float64) (volts, slope float64) {
	const half = (curveTo - curveFrom) / 2
	in := clamp(s, curveFrom, curveTo)
	x := (in-curveFrom)/half - 1
	// Clenshaw's sum, and its derivative beside it.
	var b1, b2, d1, d2 float64
	for k := curveTerms - 1; k > 0; k-- {
		b0 := c[k] + 2*x*b1 - b2
		d0 := 2*b1 + 2*x*d1 - d2
		b1, b2, d1, d2 = b0, b1, d0, d1
	}
	slope = (b1 + x*d1 - d2) / half
	return c[0] + x*b1 - b2 + slope*(s-in), slope
}
