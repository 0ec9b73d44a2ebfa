package words

import "time"

// Date says a day of the open formats, 2027-01-15, as people write it: 15 January 2027.
// What is no such day is said as it is.
func Date(on string) string {
	day, err := time.Parse(time.DateOnly, on)
	if err != nil {
		return on
	}
	return day.Format("2 January 2006")
}
