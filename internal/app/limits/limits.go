// Package limits works out what the agreed limits of time and materials hold back (calculation.md section 7).
package limits

import (
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// Source is an entry or a cost line; the other is 0.
type Source struct{ EntryID, CostLineID int64 }

// Use is a limit, of a job or of a phase (0: of the job), with what of it is used, billed and on drafts, and what has become of the rest.
type Use struct {
	JobID, PhaseID                     int64
	Agreed, Used, Ready, Held, Waiting money.Amount
}

// Limit is the limit as the rules take it.
func (u Use) Limit() billing.Limit { return billing.Limit{Agreed: u.Agreed, Used: u.Used} }

// Near says that a fifth of the limit or less is left, once all is billed that is ready or held back.
func (u Use) Near() bool { return u.Limit().Near(u.Ready + u.Held) }

// Of are the limits of a job, or of all jobs (0).
func Of(tx *store.Tx, job int64) ([]Use, error) {
	return store.Query[Use](tx, "SELECT * FROM limit_use WHERE @job IN (0, job_id) ORDER BY job_id, phase_id", map[string]any{"job": job})
}

// waiting is work of a job with a limit that has a charge, or that was held back.
type waiting struct {
	Source
	LimitPhase *int64 // of the limit that it counts toward; nil: none
	Date       calendar.Date
	Left, Held money.Amount
	LetGo      bool // beyond the limit
	Counts     bool // it is approved, has a charge, and is not all on an invoice
}

// Settle works out anew what limits hold back of the jobs where something that they rest on has changed. It is run at the end of each
// transaction.
func Settle(tx *store.Tx) error {
	stale, err := store.Query[int64](tx, "SELECT job_id FROM limits_stale ORDER BY job_id")
	if err != nil || len(stale) == 0 {
		return err
	}
	for _, job := range stale {
		if err := settle(tx, job); err != nil {
			return err
		}
	}
	return tx.Run("DELETE FROM limits_stale")
}

func settle(tx *store.Tx, job int64) error {
	work, fits, err := fit(tx, job, calendar.Always.To)
	if err != nil {
		return err
	}
	var hours, lines [][]any
	for _, w := range work {
		held := money.Amount(0)
		if fits, limited := fits[w.Source]; limited {
			held = w.Left - fits
		}
		switch {
		case held == w.Held:
		case w.EntryID != 0:
			hours = append(hours, []any{held, w.EntryID})
		default:
			lines = append(lines, []any{held, w.CostLineID})
		}
	}
	if err := store.UpdateMany(tx, "time_entries", []string{"held"}, []string{"id"}, hours); err != nil {
		return err
	}
	return store.UpdateMany(tx, "cost_lines", []string{"held"}, []string{"id"}, lines)
}

// Through is what can be billed, up to a date, of the work of a job that counts toward a limit. Work that is not there counts toward none.
func Through(tx *store.Tx, job int64, through calendar.Date) (map[Source]money.Amount, error) {
	_, fits, err := fit(tx, job, through)
	return fits, err
}

// fit gives the work of a job that waits, and what of each piece that counts toward a limit, and is dated up to a day, still fits.
func fit(tx *store.Tx, job int64, through calendar.Date) ([]waiting, map[Source]money.Amount, error) {
	work, err := store.Query[waiting](tx, inOrder, map[string]any{"job": job})
	if err != nil {
		return nil, nil, err
	}
	limits, err := Of(tx, job)
	if err != nil {
		return nil, nil, err
	}
	fits := map[Source]money.Amount{}
	for _, l := range limits {
		var counted []Source
		var left []billing.Waiting
		for _, w := range work {
			if w.Counts && w.Date <= through && w.LimitPhase != nil && *w.LimitPhase == l.PhaseID {
				counted, left = append(counted, w.Source), append(left, billing.Waiting{Left: w.Left, LetGo: w.LetGo})
			}
		}
		for i, f := range l.Limit().Fit(left) {
			fits[counted[i]] = f
		}
	}
	return work, fits, nil
}

// Held is work of a job that a limit holds back, all or some of it, or that was let go beyond it and waits.
type Held struct {
	Source
	Date         calendar.Date
	Text, Detail string
	Minutes      money.Minutes
	Quantity     money.Quantity
	Unit         string
	Left, Held   money.Amount
	LetGo        bool
	Note         string // why it was let go
}

// HeldOf is the work of a job that its limits hold back, the oldest first, with what was let go beyond them; the first 500 of it.
func HeldOf(tx *store.Tx, job int64) ([]Held, error) {
	return store.Query[Held](tx, heldOf, map[string]any{"job": job})
}
