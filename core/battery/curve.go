package battery

import "math"

// curve is a cell's electromotive force over its charge as a power series: the
// equations ask for it dozens of times a step, and the series answers within
// 0.01 mV of the formula at a fraction of its cost.
type curve struct {
	c           [curveTerms]float64 // of powers of x, which runs from -1 to 1
	empty, full float64             // volts at charge 0 and 1
}

// The charge a curve covers, from deeply discharged pores to pores on charge;
// beyond it the curve goes on as a straight line.
const (
	curveTerms = 8
	curveFrom  = -0.35
	curveTo    = 1.50
	curveHalf  = (curveTo - curveFrom) / 2
	curveMid   = (curveTo + curveFrom) / 2
)

// curves holds the series of each chemistry.
var curves = func() map[Chemistry]*curve {
	m := map[Chemistry]*curve{}
	for c, b := range builds {
		m[c] = b.emfCurve()
	}
	return m
}()

// curveOf gives the series of a chemistry; an unknown one is read as flooded.
func curveOf(c Chemistry) *curve {
	if k, ok := curves[c]; ok {
		return k
	}
	return curves[Flooded]
}

// emfCurve fits the series at the Chebyshev points of its range.
func (b *build) emfCurve() *curve {
	var k curve
	// Chebyshev polynomials in powers of x, each from the two before it.
	var t [curveTerms][curveTerms]float64
	t[0][0], t[1][1] = 1, 1
	for j := 2; j < curveTerms; j++ {
		for i := range curveTerms {
			t[j][i] = -t[j-2][i]
			if i > 0 {
				t[j][i] += 2 * t[j-1][i-1]
			}
		}
	}
	for j := range curveTerms {
		sum := 0.0
		for i := range curveTerms {
			angle := math.Pi * (float64(i) + 0.5) / curveTerms
			sum += b.emf(curveMid+curveHalf*math.Cos(angle)) * math.Cos(float64(j)*angle)
		}
		weight := 2.0 / curveTerms
		if j == 0 {
			weight /= 2
		}
		for i := range curveTerms {
			k.c[i] += weight * sum * t[j][i]
		}
	}
	k.empty, k.full = k.volts(0), k.volts(1)
	return &k
}

// volts gives the series at charge s.
func (k *curve) volts(s float64) float64 {
	if s < curveFrom || s > curveTo {
		v, _ := k.at(s)
		return v
	}
	c := &k.c
	x := (s - curveMid) * (1 / curveHalf)
	return c[0] + x*(c[1]+x*(c[2]+x*(c[3]+x*(c[4]+x*(c[5]+x*(c[6]+x*c[7]))))))
}

// at gives the series and its slope at charge s.
func (k *curve) at(s float64) (volts, slope float64) {
	in := clamp(s, curveFrom, curveTo)
	x := (in - curveMid) * (1 / curveHalf)
	v, d := k.c[curveTerms-1], 0.0
	for i := curveTerms - 2; i >= 0; i-- {
		d = d*x + v
		v = v*x + k.c[i]
	}
	slope = d / curveHalf
	return v + slope*(s-in), slope
}
