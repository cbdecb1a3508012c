// Package jobs shows what jobs cost, were billed and earn, and adds jobs and cost codes.
package jobs

import (
	"context"
	"slices"
	"strconv"

	"jarvo/internal/app/book"
	"jarvo/internal/app/history"
	"jarvo/internal/app/register"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/profit"
	"jarvo/internal/store"
)

// JobRow is a job with its money.
type JobRow struct {
	ID       int64  `json:"id"`
	Number   string `json:"number"`
	Name     string `json:"name"`
	Customer string `json:"customer"`
	Basis    string `json:"basis"`
	Status   string `json:"status"`
	Contract string `json:"contract,omitempty" format:"decimal"`
	Hours    string `json:"hours" format:"decimal"`
	JobMoney
	Oldest  string `json:"oldest,omitempty" format:"date"`
	AgeDays int64  `json:"ageDays,omitempty"`
	Late    bool   `json:"late,omitempty"`
	// Shares of the widest bar in 1/1000, for drawing.
	CostBar   int64 `json:"costBar"`
	BilledBar int64 `json:"billedBar"`
	EarnedBar int64 `json:"earnedBar"`
}

// JobMoney is the figures of calculation.md section 9.
type JobMoney struct {
	Labour    string `json:"labour" format:"decimal"`
	Other     string `json:"other" format:"decimal"`
	Cost      string `json:"cost" format:"decimal"`
	Pending   string `json:"pending" format:"decimal" doc:"cost of work not yet approved, never mixed into cost"`
	Billed    string `json:"billed" format:"decimal"`
	Drafted   string `json:"drafted" format:"decimal" doc:"on drafts"`
	Unbilled  string `json:"unbilled" format:"decimal" doc:"ready to bill"`
	Held      string `json:"held" format:"decimal" doc:"held back by a limit; not earned"`
	Earned    string `json:"earned" format:"decimal"`
	Provision string `json:"provision" format:"decimal" doc:"0 or below: the part of a loss foreseen that has not come yet"`
	Profit    string `json:"profit" format:"decimal"`
	Margin    string `json:"margin,omitempty" format:"decimal"`
	// Unmeasured says that a fixed price has neither a budget nor a forecast to measure it by, so that there is no margin.
	Unmeasured bool `json:"unmeasured,omitempty"`
}

// JobList is the Jobs tab.
type JobList struct {
	Jobs   []JobRow   `json:"jobs"`
	Totals JobMoney   `json:"totals"`
	Hours  string     `json:"hours" format:"decimal"`
	Scale  []ScaleTic `json:"scale"`
	Closed int        `json:"closed" doc:"closed jobs that are not shown"`
}

// ScaleTic is a mark on the common scale of the bars.
type ScaleTic struct {
	At   int64  `json:"at" doc:"share of the widest bar in 1/1000"`
	Text string `json:"text"`
}

// Head is a job with its customer, and the dates of its oldest work that is ready to bill.
type Head struct {
	store.Job
	CustomerCode string
	CustomerName string
	OldestHours  *calendar.Date // ready to bill
	OldestLine   *calendar.Date
}

// oldest is the date of the oldest work that is ready to bill, 0 where there is none.
func (h Head) oldest() calendar.Date {
	switch {
	case h.OldestHours == nil && h.OldestLine == nil:
		return 0
	case h.OldestHours == nil:
		return *h.OldestLine
	case h.OldestLine == nil:
		return *h.OldestHours
	default:
		return min(*h.OldestHours, *h.OldestLine)
	}
}

// MoneyOf writes the money of a job (calculation.md section 9).
func MoneyOf(s *book.Session, labour, other money.Amount, j profit.Job) JobMoney {
	m := JobMoney{
		Labour: s.Money(labour), Other: s.Money(other), Cost: s.Money(j.Cost), Pending: s.Money(j.Pending), Billed: s.Money(j.Billed),
		Drafted: s.Money(j.Drafted), Unbilled: s.Money(j.Unbilled), Held: s.Money(j.Held), Earned: s.Money(j.Earned),
		Provision: s.Money(j.Provision), Profit: s.Money(j.Profit), Unmeasured: j.Unmeasured,
	}
	if j.HasMargin {
		m.Margin = j.Margin.Places2()
	}
	return m
}

// List is the Jobs tab: every job with its money, closed ones when asked.
func List(ctx context.Context, b *book.Book, actor book.Actor, closed bool) (JobList, error) {
	return book.Read(ctx, b, actor, book.SeeMoney, func(s *book.Session) (JobList, error) {
		list := JobList{Jobs: []JobRow{}}
		all, err := Figures(s, 0, calendar.Always)
		if err != nil {
			return list, err
		}
		var shown []*JobFigures
		widest := money.Amount(1)
		for _, j := range all {
			if j.Status == store.Closed && !closed {
				list.Closed++
				continue
			}
			shown = append(shown, j)
			widest = max(widest, j.Money.Cost, j.Money.Earned)
		}
		widest, list.Scale = scale(s, widest)
		listJobs(s, &list, shown, widest)
		return list, nil
	})
}

func listJobs(s *book.Session, list *JobList, jobs []*JobFigures, widest money.Amount) {
	var total profit.Job
	var labour, other money.Amount
	var minutes money.Minutes
	for _, j := range jobs {
		list.Jobs = append(list.Jobs, jobRow(s, j, widest))
		labour, other, minutes = labour+j.Labour, other+j.Other, minutes+j.Minutes
		total.Sum(j.Money)
	}
	list.Totals, list.Hours = MoneyOf(s, labour, other, total), minutes.Hours()
}

func jobRow(s *book.Session, j *JobFigures, widest money.Amount) JobRow {
	bar := func(a money.Amount) int64 { return int64(max(0, a)) * 1000 / int64(widest) }
	row := JobRow{
		ID: j.ID, Number: j.Number, Name: j.Name, Customer: j.CustomerName, Basis: j.Basis, Status: j.Status, Contract: s.Maybe(j.Contract),
		Hours:    j.Minutes.Hours(),
		JobMoney: MoneyOf(s, j.Labour, j.Other, j.Money),
		CostBar:  bar(j.Money.Cost), BilledBar: bar(j.Money.Billed), EarnedBar: bar(j.Money.Earned),
	}
	if oldest := j.oldest(); oldest != 0 {
		row.Oldest, row.AgeDays = oldest.String(), int64(s.Today()-oldest)
		row.Late = row.AgeDays > s.Company.UnbilledAlertDays
	}
	return row
}

// scale picks round marks for the common scale of the bars, and the amount at its end.
func scale(s *book.Session, widest money.Amount) (money.Amount, []ScaleTic) {
	step := money.Amount(100)
	for grow := 0; step*6 < widest; grow++ {
		if grow%3 == 1 {
			step = step * 5 / 2 // 2, 5, 10, 20, 50 and on
		} else {
			step *= 2
		}
	}
	end := (widest + step - 1) / step * step
	var tics []ScaleTic
	for at := step; at <= end; at += step {
		tics = append(tics, ScaleTic{int64(at * 1000 / end), shortMoney(s, at)})
	}
	return end, tics
}

// shortMoney writes a round amount for a scale: 100 k, 2 M, 500.
func shortMoney(s *book.Session, a money.Amount) string {
	unit := int64(1)
	for range s.Currency.Digits {
		unit *= 10
	}
	n := int64(a) / unit
	switch {
	case n >= 1_000_000 && n%100_000 == 0:
		return strconv.FormatFloat(float64(n)/1_000_000, 'f', -1, 64) + " M"
	case n >= 1000 && n%100 == 0:
		return strconv.FormatFloat(float64(n)/1000, 'f', -1, 64) + " k"
	default:
		return strconv.FormatInt(n, 10)
	}
}

// JobFolder is one job: what it is, its money as an equation, and everything booked to it.
type JobFolder struct {
	JobRow
	Type      string       `json:"type"`
	Site      string       `json:"site"`
	Start     string       `json:"start,omitempty" format:"date"`
	Retainage string       `json:"retainage" format:"decimal"`
	Typed     JobChange    `json:"typed" doc:"what is typed of it, to be changed"`
	Kinds     []JobKind    `json:"kinds"`
	Plan      Plan         `json:"plan" doc:"budget, fixed parts and limits"`
	Booked    []JobBooking `json:"booked"`
	More      int64        `json:"more" doc:"bookings that are not listed"`
}

// JobKind is a kind of cost of a job.
type JobKind struct {
	Category string `json:"category"`
	Actual   string `json:"actual" format:"decimal"`
	Pending  string `json:"pending" format:"decimal"`
	Charge   string `json:"charge" format:"decimal"`
}

// JobBooking is hours or a cost line that are booked to a job.
type JobBooking struct {
	Kind   string        `json:"kind" enum:"time_entry,cost_line"`
	ID     int64         `json:"id"`
	Date   string        `json:"date" format:"date"`
	What   string        `json:"what"`
	Detail string        `json:"detail"`
	Cost   string        `json:"cost" format:"decimal"`
	Charge string        `json:"charge,omitempty" format:"decimal"`
	Trail  history.Trail `json:"trail"`
}

const mostBookings = 200

// Folder opens a job.
func Folder(ctx context.Context, b *book.Book, actor book.Actor, number string) (JobFolder, error) {
	return book.Read(ctx, b, actor, book.SeeMoney, func(s *book.Session) (JobFolder, error) {
		out := JobFolder{Kinds: []JobKind{}, Booked: []JobBooking{}}
		job, err := register.JobByNumber(s, number)
		if err != nil {
			return out, err
		}
		figures, err := Figures(s, job.ID, calendar.Always)
		if err != nil {
			return out, err
		}
		j := figures[0]
		out.JobRow = jobRow(s, j, max(1, j.Money.Cost, j.Money.Earned))
		out.Type, out.Site, out.Retainage = job.Type, job.Site, job.Retainage.String()
		if job.Start != nil {
			out.Start = job.Start.String()
		}
		if out.Typed, err = typedOf(s, job); err != nil {
			return out, err
		}
		kinds, err := KindSums(s, job.ID)
		if err != nil {
			return out, err
		}
		for _, k := range kinds {
			out.Kinds = append(out.Kinds, JobKind{k.Category, s.Money(k.Actual), s.Money(k.Pending), s.Money(k.Charge)})
		}
		if out.Plan, err = planOf(s, j); err != nil {
			return out, err
		}
		err = bookings(s, &out, job.ID)
		return out, err
	})
}

type jobKind struct {
	Category                string
	Actual, Pending, Charge money.Amount
}

// KindSums sums each kind of cost of a job, in the order in which they are shown.
func KindSums(s *book.Session, jobID int64) ([]jobKind, error) {
	kinds, err := store.Query[jobKind](s.Tx, kindTotals, map[string]any{"job": jobID})
	slices.SortFunc(kinds, func(a, b jobKind) int {
		return slices.Index(billing.Categories, a.Category) - slices.Index(billing.Categories, b.Category)
	})
	return kinds, err
}

func bookings(s *book.Session, out *JobFolder, jobID int64) error {
	type row struct {
		Kind, What, Detail, Status, Invoice string
		ID                                  int64
		Date                                calendar.Date
		Minutes                             money.Minutes
		Cost, Charge                        *money.Amount
		Billable, Billed, OnInvoice, Paid   bool
	}
	const query = bookedRows
	rows, err := store.Query[row](s.Tx, query+" ORDER BY date DESC, id DESC LIMIT @most", map[string]any{"job": jobID, "most": mostBookings})
	if err != nil {
		return err
	}
	count, err := store.Value[int64](s.Tx, bookedCount, map[string]any{"job": jobID})
	if err != nil {
		return err
	}
	out.More = count - int64(len(rows))
	for _, r := range rows {
		b := JobBooking{
			Kind: r.Kind, ID: r.ID, Date: r.Date.String(), What: r.What, Detail: r.Detail, Cost: s.Maybe(r.Cost), Charge: s.Maybe(r.Charge),
		}
		if r.Minutes > 0 {
			b.What += ", " + r.Minutes.Short() + " h"
		}
		b.Trail = history.TrailOf(history.StageOf(r.Status, r.OnInvoice, r.Billed, r.Paid), r.Billable, r.Invoice)
		out.Booked = append(out.Booked, b)
	}
	return nil
}
