package book

import (
	"time"

	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

func WeekStart(company store.Company) time.Weekday {
	first, err := calendar.ParseWeekday(company.WeekStart)
	if err != nil {
		return time.Monday
	}
	return first
}
