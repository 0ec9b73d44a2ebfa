package rating

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// Month is a month of a year, the finest a date code tells.
type Month struct {
	Year  int
	Month int // 1 to 12
}

// String writes the month as the open formats do, 2022-03.
func (m Month) String() string { return fmt.Sprintf("%04d-%02d", m.Year, m.Month) }

// After reports whether m is later than n.
func (m Month) After(n Month) bool {
	return m.Year > n.Year || m.Year == n.Year && m.Month > n.Month
}

// MonthsUntil gives the months from m to n, negative when n is earlier.
func (m Month) MonthsUntil(n Month) int { return 12*(n.Year-m.Year) + n.Month - m.Month }

// oldest is the first year a battery in hand can be from.
const oldest = 1950

const letters = "ABCDEFGHJKLM" // months, skipping I, which looks like a one

var monthNames = []string{"JAN", "FEB", "MAR", "APR", "MAY", "JUN", "JUL", "AUG", "SEP", "OCT", "NOV", "DEC"}

var (
	stamped   = regexp.MustCompile(`^([A-HJ-M])[-/ ]?(\d)(?:[-/ ].*|[A-Z0-9]{1,6})?$`) // C2, C2xxxx
	yearFirst = regexp.MustCompile(`^((?:19|20)\d\d)[-/. ]?(\d{1,2})(?:[-/. ]\d{1,2})?$`)
	yearLast  = regexp.MustCompile(`^(?:\d{1,2}[-/. ])??(\d{1,2})[-/. ]((?:19|20)\d\d|\d\d)$`)
	named     = regexp.MustCompile(`^([A-Z]{3})[A-Z]*\.?[-/., ]*((?:19|20)\d\d|'?\d\d)$`)
)

// DateCode reads the date on a battery to a month, as seen in the month now:
//
//   - a letter and a digit: A is January, I is skipped, M is December, and the
//     digit ends the year, so C2 is March 2022 when read in 2026. The newest year
//     that is not in the future is taken;
//   - plain forms: 2022-03, 03/22, 3.2022, 14/03/2022, MAR 22, March 2022.
//
// Common practice, no source. The error says what forms are understood; a date
// in the future or before 1950 is refused, since it is a code of another kind.
func DateCode(code string, now Month) (Month, error) {
	s := strings.ToUpper(strings.Join(strings.Fields(code), " "))
	if m := named.FindStringSubmatch(s); m != nil {
		for i, name := range monthNames {
			if m[1] == name {
				return checked(code, year(strings.TrimPrefix(m[2], "'"), now), i+1, now)
			}
		}
	}
	if m := yearFirst.FindStringSubmatch(s); m != nil {
		return checked(code, year(m[1], now), number(m[2]), now)
	}
	if m := yearLast.FindStringSubmatch(s); m != nil {
		return checked(code, year(m[2], now), number(m[1]), now)
	}
	if m := stamped.FindStringSubmatch(s); m != nil {
		month := strings.Index(letters, m[1]) + 1
		y := now.Year/10*10 + number(m[2])
		if (Month{y, month}).After(now) {
			y -= 10
		}
		return Month{y, month}, nil
	}
	return Month{}, fmt.Errorf(
		"%q is no date code known here: use a letter and a digit (C2), or a month and year (2022-03, 03/22, Mar 2022)",
		code,
	)
}

func number(s string) int {
	n, _ := strconv.Atoi(s) // the pattern lets only digits through
	return n
}

// year reads two digits as the newest year that is not in the future.
func year(s string, now Month) int {
	n := number(s)
	if len(s) == 4 {
		return n
	}
	n += now.Year / 100 * 100
	if n > now.Year {
		n -= 100
	}
	return n
}

func checked(code string, y, m int, now Month) (Month, error) {
	switch at := (Month{y, m}); {
	case m < 1 || m > 12:
		return Month{}, fmt.Errorf("%q: there is no month %d", code, m)
	case at.After(now):
		return Month{}, fmt.Errorf("%q is %s, which is still to come: read it again", code, at)
	case y < oldest:
		return Month{}, fmt.Errorf("%q is %s: batteries in use are newer than %d, so read it again", code, at, oldest)
	default:
		return at, nil
	}
}

// ParseMonth reads a month as the open formats write it, 2022-03.
func ParseMonth(s string) (Month, bool) {
	m := yearFirst.FindStringSubmatch(s)
	if m == nil || number(m[2]) < 1 || number(m[2]) > 12 {
		return Month{}, false
	}
	return Month{number(m[1]), number(m[2])}, true
}
