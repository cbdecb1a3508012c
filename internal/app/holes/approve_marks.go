package holes

import (
	"jarvo/internal/core/calendar"
)

// Day is a worker's day.
type Day struct {
	WorkerID int64
	Date     calendar.Date
}
