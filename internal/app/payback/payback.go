// Package payback pays workers back what they paid for themselves.
package payback

import (
	"cmp"
	"context"
	"fmt"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// Owed is what people laid out for the company and are to be paid back.
type Owed struct {
	People []OwedTo  `json:"people"`
	Total  string    `json:"total" format:"decimal" doc:"approved and not paid back"`
	Paid   []PaidRow `json:"paid" doc:"the payments made last"`
}

// OwedTo is what one person is owed.
type OwedTo struct {
	WorkerID int64       `json:"workerId"`
	Worker   string      `json:"worker"`
	Owed     string      `json:"owed" format:"decimal" doc:"approved and not paid back"`
	Waiting  string      `json:"waiting,omitempty" format:"decimal" doc:"not approved yet"`
	AgeDays  int64       `json:"ageDays" doc:"of the oldest approved paper"`
	Papers   []OwedPaper `json:"papers"`
}

// OwedPaper is a claim, a receipt or a mileage log that somebody laid out.
type OwedPaper struct {
	ID     int64  `json:"id"`
	Title  string `json:"title"`
	Date   string `json:"date" format:"date"`
	Amount string `json:"amount" format:"decimal" doc:"lines, freight and tax"`
	Ready  bool   `json:"ready" doc:"approved: it can be paid back"`
}

// PaidRow is a payment to a person.
type PaidRow struct {
	ID     int64  `json:"id"`
	Worker string `json:"worker"`
	Date   string `json:"date" format:"date"`
	Amount string `json:"amount" format:"decimal"`
	Papers int64  `json:"papers"`
	Note   string `json:"note,omitempty"`
}

// PayBack pays papers of one person back.
type PayBack struct {
	Key         string  `json:"key" doc:"made by the client: a retry pays nothing twice"`
	WorkerID    int64   `json:"workerId"`
	DocumentIDs []int64 `json:"documentIds" maxItems:"1000"`
	Amount      string  `json:"amount" doc:"together, as it was seen"`
	Date        string  `json:"date" format:"date"`
	Note        string  `json:"note,omitempty"`
}

const mostPaid = 30

// OwedRow is a paper that somebody paid out of their own pocket.
type OwedRow struct {
	ID         int64
	WorkerID   int64
	WorkerName string
	Kind       string
	Supplier   string
	Number     string
	Date       calendar.Date
	Status     string
	Amount     money.Amount
}

// List lists whom the company owes what they laid out.
func List(ctx context.Context, b *book.Book, actor book.Actor) (Owed, error) {
	return book.Read(ctx, b, actor, book.Costs, func(s *book.Session) (Owed, error) { return owed(s) })
}

func owed(s *book.Session) (Owed, error) {
	out := Owed{People: []OwedTo{}, Paid: []PaidRow{}}
	rows, err := store.Query[OwedRow](s.Tx, OwedPapers+" GROUP BY d.id ORDER BY w.name, w.id, d.date, d.id")
	if err != nil {
		return out, err
	}
	var total, owed, waiting money.Amount
	for i, r := range rows {
		if i == 0 || rows[i-1].WorkerID != r.WorkerID {
			owed, waiting = 0, 0
			out.People = append(out.People, OwedTo{WorkerID: r.WorkerID, Worker: r.WorkerName})
		}
		to := &out.People[len(out.People)-1]
		ready := r.Status == store.Approved
		if ready {
			owed, total = owed+r.Amount, total+r.Amount
			to.AgeDays = max(to.AgeDays, int64(s.Today()-r.Date))
		} else {
			waiting += r.Amount
			to.Waiting = s.Money(waiting)
		}
		to.Owed = s.Money(owed)
		title := cmp.Or(r.Supplier, costs.KindNames[r.Kind])
		if r.Number != "" {
			title += " " + r.Number
		}
		to.Papers = append(to.Papers, OwedPaper{ID: r.ID, Title: title, Date: r.Date.String(), Amount: s.Money(r.Amount), Ready: ready})
	}
	out.Total = s.Money(total)
	type paid struct {
		store.Reimbursement
		Worker string
		Papers int64
	}
	payments, err := store.Query[paid](s.Tx, paidRows, mostPaid)
	for _, p := range payments {
		out.Paid = append(out.Paid, PaidRow{p.ID, p.Worker, p.Date.String(), s.Money(p.Amount), p.Papers, p.Note})
	}
	return out, err
}

// Pay books that a person was paid back for approved papers, each as a whole.
func Pay(ctx context.Context, b *book.Book, actor book.Actor, in PayBack) (Owed, error) {
	return book.Write(ctx, b, actor, book.Costs, func(s *book.Session) (out Owed, _ error) {
		if _, err := book.Once(s, "reimbursement", in.Key, in, func() (int64, error) { return payBack(s, in) }); err != nil {
			return out, err
		}
		var err error
		out, err = owed(s)
		return out, err
	})
}

func payBack(s *book.Session, in PayBack) (int64, error) {
	c := s.Checks()
	row := store.Reimbursement{
		WorkerID: in.WorkerID, Date: c.Date("date", in.Date), Note: c.Text("note", in.Note),
	}
	if len(in.DocumentIDs) == 0 {
		c.Add("documentIds", "choose what is reimbursed first")
	}
	if row.Date > s.Today() {
		c.Add("date", "%s has not come yet", row.Date)
	}
	if err := c.Err(); err != nil {
		return 0, err
	}
	papers, err := store.Query[OwedRow](s.Tx, OwedPapers+` AND d.worker_id = ? AND d.id IN ? AND d.status = 'approved'
		GROUP BY d.id`, row.WorkerID, in.DocumentIDs)
	if err != nil {
		return 0, err
	}
	if len(papers) != len(in.DocumentIDs) {
		return 0, refuse.Conflict("some of this has been reimbursed already, or is not approved any more; look again")
	}
	for _, p := range papers {
		row.Amount += p.Amount
	}
	if seen := s.Money(row.Amount); seen != in.Amount {
		return 0, refuse.Conflict("together this is %s now, and not %s; look at it again", seen, words.Shortened(in.Amount))
	}
	if row.Amount <= 0 {
		return 0, refuse.Invalid("documentIds", "together this is %s; there is nothing to pay back", s.Money(row.Amount))
	}
	if err := book.Add(s, "reimbursements", "R", &row, &row.ID, &row.Ref); err != nil {
		return 0, err
	}
	for _, p := range papers {
		if err := s.Exec("INSERT INTO reimbursed_documents (document_id, reimbursement_id) VALUES (?, ?)", p.ID, row.ID).Error; err != nil {
			return 0, err
		}
		if err := s.Record(
			"paid back", "cost_document", p.ID, nil, map[string]string{"date": row.Date.String(), "amount": s.Money(p.Amount)},
		); err != nil {
			return 0, err
		}
	}
	return row.ID, s.Record(
		"paid back", "reimbursement", row.ID, nil,
		map[string]string{"amount": s.Money(row.Amount), "number": fmt.Sprintf("%d papers", len(papers))},
	)
}

// Undo takes a payment to a person away that was not made after all: its papers are owed again.
func Undo(ctx context.Context, b *book.Book, actor book.Actor, reimbursementID int64) (Owed, error) {
	return book.Write(ctx, b, actor, book.Costs, func(s *book.Session) (out Owed, _ error) {
		row, found, err := store.One[store.Reimbursement](s.Tx, reimbursementID)
		if err != nil || !found {
			return out, refuse.OrNotFound(err, "payment")
		}
		if err := s.Exec("DELETE FROM reimbursements WHERE id = ?", row.ID).Error; err != nil {
			return out, err
		}
		if err := s.Record(
			"took away", "reimbursement", row.ID, map[string]string{"amount": s.Money(row.Amount), "date": row.Date.String()}, nil,
		); err != nil {
			return out, err
		}
		out, err = owed(s)
		return out, err
	})
}
