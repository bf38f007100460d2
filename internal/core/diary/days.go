package diary

import "time"

// later returns the date some days on; "" where it is none.
func later(date string, days int) string {
	d, err := time.Parse(time.DateOnly, date)
	if err != nil {
		return ""
	}
	return d.AddDate(0, 0, days).Format(time.DateOnly)
}
