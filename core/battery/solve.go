package battery

// falling finds where f, which falls and is flo > 0 at lo, crosses zero, within
// tol of f, by false position with the Illinois correction. hi is a first guess
// from above; it is moved outwards while f is still positive there.
func falling(lo, hi, flo, tol float64, f func(float64) float64) float64 {
	// Where a battery collapses f falls off a cliff; cut off, it misleads less.
	cliff := -flo
	fhi := max(f(hi), cliff)
	for range 20 {
		if fhi <= 0 {
			break
		}
		lo, flo = hi, fhi
		hi *= 2
		fhi = max(f(hi), cliff)
	}
	side := 0
	at := hi
	for range 60 {
		at = (lo*fhi - hi*flo) / (fhi - flo)
		v := max(f(at), cliff)
		switch {
		case v > -tol && v < tol || hi-lo < 1e-7*hi:
			return at
		case v > 0:
			lo, flo = at, v
			if side == 1 {
				fhi /= 2
			}
			side = 1
		default:
			hi, fhi = at, v
			if side == -1 {
				flo /= 2
			}
			side = -1
		}
	}
	return at
}
