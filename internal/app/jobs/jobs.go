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
	Labour   string `json:"labour" format:"decimal"`
	Other    string `json:"other" format:"decimal"`
	Cost     string `json:"cost" format:"decimal"`
	Pending  string `json:"pending" format:"decimal" doc:"cost of work not yet approved, never mixed into cost"`
	Billed   string `json:"billed" format:"decimal"`
	Unbilled string `json:"unbilled" format:"decimal"`
	Earned   string `json:"earned" format:"decimal"`
	Profit   string `json:"profit" format:"decimal"`
	Margin   string `json:"margin,omitempty" format:"decimal"`
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

// JobFigures is a job with its sums.
type JobFigures struct {
	Head
	Minutes                money.Minutes
	Labour, Other, Pending money.Amount
	Parts                  []jobPart
	Money                  profit.Job
}

// jobPart is a phase of a job, 0 for what is booked to none.
type jobPart struct {
	profit.Part
	Phase int64
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

// phaseSum is what one query sums for a phase of a job, or for what is booked to no phase.
type phaseSum struct {
	JobID         int64
	PhaseID       int64
	Pending       bool
	Labour        bool
	Minutes       money.Minutes
	Cost          money.Amount
	Billed, Ready money.Amount
}

// phaseSums sums one job, or all (0), over a period.
func phaseSums(s *book.Session, job int64, of calendar.Span) ([]phaseSum, error) {
	booked := bookedSums
	if of != calendar.Always {
		booked = CountedSums
	}
	var sums []phaseSum
	for _, query := range []string{
		"SELECT job_id, phase_id, pending, labour, minutes, cost, ready FROM (" + booked + ")",
		"SELECT job_id, phase_id, billed FROM (" + billedSums + ")",
	} {
		rows, err := store.Query[phaseSum](
			s.Tx, query+" WHERE job_id <> 0 AND (@job = 0 OR job_id = @job)", map[string]any{"job": job, "from": of.From, "to": of.To},
		)
		if err != nil {
			return nil, err
		}
		sums = append(sums, rows...)
	}
	return sums, nil
}

type phaseKey struct{ job, phase int64 }

// Figures computes the money of all jobs, or of one, in the order of their numbers.
func Figures(s *book.Session, job int64, of calendar.Span) ([]*JobFigures, error) {
	heads, err := store.Query[Head](s.Tx, jobHeads, map[string]any{"job": job})
	if err != nil {
		return nil, err
	}
	jobs := make([]*JobFigures, len(heads))
	byID := map[int64]*JobFigures{}
	parts := map[phaseKey]*profit.Part{}
	keys := map[int64][]phaseKey{}
	add := func(k phaseKey, basis string, contract *money.Amount) {
		part := &profit.Part{Basis: billing.Basis(basis)}
		if contract != nil {
			part.Contract = *contract
		}
		parts[k] = part
		keys[k.job] = append(keys[k.job], k)
	}
	for i, h := range heads {
		jobs[i] = &JobFigures{Head: h}
		byID[h.ID] = jobs[i]
		add(phaseKey{h.ID, 0}, h.Basis, h.Contract)
	}
	type phase struct {
		ID, JobID int64
		Basis     string
		Contract  *money.Amount
	}
	phases, err := store.Query[phase](s.Tx, phaseHeads, map[string]any{"job": job})
	if err != nil {
		return nil, err
	}
	for _, p := range phases {
		add(phaseKey{p.JobID, p.ID}, p.Basis, p.Contract)
	}
	sums, err := phaseSums(s, job, of)
	if err != nil {
		return nil, err
	}
	for _, sum := range sums {
		byID[sum.JobID].add(parts[phaseKey{sum.JobID, sum.PhaseID}], sum)
	}
	for _, j := range jobs {
		var all []profit.Part
		for _, k := range keys[j.ID] {
			all = append(all, *parts[k])
			j.Parts = append(j.Parts, jobPart{*parts[k], k.phase})
		}
		if j.Money, err = profit.Of(all); err != nil {
			return nil, err
		}
	}
	return jobs, nil
}

func (j *JobFigures) add(part *profit.Part, sum phaseSum) {
	part.Billed += sum.Billed
	part.Unbilled += sum.Ready
	switch {
	case sum.Pending:
		j.Pending += sum.Cost
		return
	case sum.Labour:
		j.Labour += sum.Cost
		j.Minutes += sum.Minutes
	default:
		j.Other += sum.Cost
	}
	part.Cost += sum.Cost
}

// MoneyOf writes the money of a job (calculation.md section 9).
func MoneyOf(s *book.Session, labour, other, pending money.Amount, j profit.Job) JobMoney {
	m := JobMoney{
		Labour: s.Money(labour), Other: s.Money(other), Cost: s.Money(j.Cost), Pending: s.Money(pending), Billed: s.Money(j.Billed),
		Unbilled: s.Money(j.Unbilled),
		Earned:   s.Money(j.Earned), Profit: s.Money(j.Profit),
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
	var labour, other, pending money.Amount
	var minutes money.Minutes
	for _, j := range jobs {
		list.Jobs = append(list.Jobs, jobRow(s, j, widest))
		labour, other, pending, minutes = labour+j.Labour, other+j.Other, pending+j.Pending, minutes+j.Minutes
		total.Cost += j.Money.Cost
		total.Billed += j.Money.Billed
		total.Unbilled += j.Money.Unbilled
		total.Earned += j.Money.Earned
		total.Profit += j.Money.Profit
	}
	total.Margin, total.HasMargin = money.Share(total.Profit, total.Earned)
	list.Totals, list.Hours = MoneyOf(s, labour, other, pending, total), minutes.Hours()
}

func jobRow(s *book.Session, j *JobFigures, widest money.Amount) JobRow {
	bar := func(a money.Amount) int64 { return int64(max(0, a)) * 1000 / int64(widest) }
	row := JobRow{
		ID: j.ID, Number: j.Number, Name: j.Name, Customer: j.CustomerName, Basis: j.Basis, Status: j.Status, Contract: s.Maybe(j.Contract),
		Hours:    j.Minutes.Hours(),
		JobMoney: MoneyOf(s, j.Labour, j.Other, j.Pending, j.Money),
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
