package approve

import (
	"cmp"
	"context"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/history"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// Decided is a week or a paper that was approved or returned: by whom, when, and why.
type Decided struct {
	At       string `json:"at" format:"date-time"`
	Who      string `json:"who"`
	Approved bool   `json:"approved"`
	Reason   string `json:"reason,omitempty"`
	Title    string `json:"title"`
	Detail   string `json:"detail"`
	Week     string `json:"week,omitempty" format:"date"`
	Hours    string `json:"hours,omitempty" format:"decimal"`
	Cost     string `json:"cost" format:"decimal"`
	Now      string `json:"now" enum:"draft,submitted,approved,on an invoice,void" doc:"how far it is by now"`
	Entries  []Seen `json:"entries" doc:"of a week, those that can still be returned"`
	Document *Seen  `json:"document,omitempty"`
	Again    bool   `json:"again,omitempty" doc:"the paper was decided on again since, further up in the list"`
	Decision int64  `json:"decision" doc:"the same for all that was decided at once"`
}

const (
	lastDecisions = 2000 // of entries and papers, that are looked through
	mostDecided   = 100  // weeks and papers
)

// decidedRow is one thing that was decided: an entry or a paper.
type decidedRow struct {
	ID, At           int64
	Decision         int64
	Version          int64
	UserName, Action string
	After            *string
	EntryID          *int64
	WorkerID         *int64
	DocumentID       *int64
	Worker, Crew     string
	Supplier, Number string
	Kind, Status     string
	Void             string
	Date             calendar.Date
	Minutes          money.Minutes
	Cost             money.Amount
	OnInvoice        bool
}

// decidedGroup is what one row of the list stands for: what was decided at once of a worker's week, or of a paper.
type decidedGroup struct {
	decision int64
	worker   int64
	week     calendar.Date
	document int64
}

// decided begins the row of the list that stands for a group.
func (r decidedRow) decided(of decidedGroup) Decided {
	d := Decided{
		At: book.TimeText(r.At), Who: r.UserName, Approved: r.Action == "approved", Reason: history.Recorded(r.After)["reason"],
		Entries: []Seen{}, Now: r.Status, Decision: r.Decision, Title: r.Worker, Detail: r.Crew,
	}
	if r.EntryID != nil {
		d.Week = of.week.String()
		return d
	}
	d.Document = &Seen{*r.DocumentID, r.Version}
	d.Title, d.Detail = cmp.Or(r.Supplier, r.Worker, costs.KindNames[r.Kind]), cmp.Or(r.Number, costs.KindNames[r.Kind])
	return d
}

// Decisions lists what was decided last, newest first, a worker's week or a paper in a row.
func Decisions(ctx context.Context, a *book.Book, actor book.Actor) ([]Decided, error) {
	return book.Read(ctx, a, actor, book.Approve, func(s *book.Session) ([]Decided, error) {
		list := []Decided{}
		rows, err := store.Query[decidedRow](s.Tx, decidedRows, lastDecisions)
		if err != nil {
			return list, err
		}
		sums := map[decidedGroup]*timesheet.LineSums{}
		type record struct{ entry, document int64 }
		seen := map[record]bool{}
		var order []decidedGroup
		rowOf := map[decidedGroup]Decided{}
		for _, r := range rows {
			key := decidedGroup{decision: r.Decision, document: store.ID(r.DocumentID)}
			if r.EntryID != nil {
				key.worker, key.week = *r.WorkerID, r.Date.WeekStart(book.WeekStart(s.Company))
			}
			d, there := rowOf[key]
			if !there {
				if len(order) == mostDecided {
					break
				}
				order, sums[key] = append(order, key), &timesheet.LineSums{}
				d = r.decided(key)
			}
			sums[key].Minutes += r.Minutes
			sums[key].Cost += r.Cost
			this := record{store.ID(r.EntryID), store.ID(r.DocumentID)}
			again := seen[this]
			seen[this] = true
			switch {
			case r.OnInvoice:
				d.Now = "on an invoice"
			case r.Void != "":
				d.Now = "void"
			case r.EntryID != nil && r.Status == store.Approved && !again:
				d.Entries = append(d.Entries, Seen{*r.EntryID, r.Version})
			case r.DocumentID != nil:
				d.Again = again
			}
			rowOf[key] = d
		}
		for _, key := range order {
			d := rowOf[key]
			d.Cost = s.Money(sums[key].Cost)
			if d.Week != "" {
				d.Hours = sums[key].Minutes.Hours()
			}
			slices.SortFunc(d.Entries, func(a, b Seen) int { return cmp.Compare(a.ID, b.ID) })
			list = append(list, d)
		}
		return list, nil
	})
}
