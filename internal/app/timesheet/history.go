package timesheet

import (
	"strconv"

	"jarvo/internal/app/book"
	"jarvo/internal/store"
)

// EntrySaid is a time entry as its history keeps it.
func EntrySaid(s *book.Session, e store.TimeEntry) map[string]string {
	said := map[string]string{"date": e.Date.String(), "hours": ReadingOf(e).String(), "status": e.Status, "jobId": strconv.FormatInt(e.JobID, 10), "billable": "yes"}
	if !e.Billable {
		said["billable"] = "no"
	}
	for key, ref := range map[string]*int64{"phaseId": e.PhaseID, "costCodeId": e.CostCodeID} {
		if ref != nil {
			said[key] = strconv.FormatInt(*ref, 10)
		}
	}
	if e.PayClass != "auto" {
		said["payClass"] = string(e.PayClass)
	}
	if e.Rate != nil {
		said["rate"] = s.Currency.FormatRate(*e.Rate)
	}
	if e.Note != "" {
		said["note"] = e.Note
	}
	return said
}
