package register

import "time"

// comebackDays is for how long after it went a battery or vehicle that is back is a
// comeback. House judgement: most that were not mended are back within days, and one that
// fails at the next cold is still within it.
const comebackDays = 90

// Comeback gives how many whole days after it was handed over a job opened, and whether that
// makes it a comeback: what was done then did not hold, or something else has come.
func Comeback(closed, opened time.Time) (days int, is bool) {
	d := opened.Sub(closed)
	if d < 0 {
		return 0, false
	}
	days = int(d.Hours() / 24)
	return days, days <= comebackDays
}
