package messages

import (
	"context"
	"fmt"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/letter"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// Reminder is what a customer would be reminded of, in one message: all that is overdue, in the words that fit the oldest of it.
type Reminder struct {
	CustomerID int64        `json:"customerId"`
	Customer   string       `json:"customer"`
	To         string       `json:"to"`
	Stage      int          `json:"stage" doc:"which of the three reminders, by how late the oldest is"`
	DaysLate   int          `json:"daysLate" doc:"of the oldest"`
	Invoices   []OverdueRow `json:"invoices"`
	Amount     string       `json:"amount" format:"decimal"`
	LastStage  int          `json:"lastStage,omitempty" doc:"of the reminder that went out last"`
	LastAt     string       `json:"lastAt,omitempty" format:"date-time"`
	Proposed   bool         `json:"proposed" doc:"something of it has not been reminded of at this stage"`
	Subject    string       `json:"subject"`
	Body       string       `json:"body"`
}

// OverdueRow is an invoice that is overdue.
type OverdueRow struct {
	ID       int64  `json:"id"`
	Number   string `json:"number"`
	Date     string `json:"date" format:"date"`
	Due      string `json:"due" format:"date"`
	DaysLate int    `json:"daysLate"`
	Left     string `json:"left" format:"decimal"`
}

// ReminderSheet is who can be reminded.
type ReminderSheet struct {
	Reminders []Reminder `json:"reminders" doc:"the latest stage first"`
	Amount    string     `json:"amount" format:"decimal" doc:"of all that is overdue"`
}

// Reminders are what customers would be reminded of today.
func Reminders(ctx context.Context, b *book.Book, actor book.Actor) (ReminderSheet, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (ReminderSheet, error) {
		rs, sum, err := reminders(s, 0)
		slices.SortStableFunc(rs, func(a, b Reminder) int { return b.Stage - a.Stage })
		return ReminderSheet{rs, s.Money(sum)}, err
	})
}

// reminders are those of one customer, or of all of them (0).
func reminders(s *book.Session, customerID int64) (out []Reminder, sum money.Amount, _ error) {
	out = []Reminder{}
	args := map[string]any{"today": s.Today(), "customer": customerID}
	open, err := store.Query[struct {
		ID, CustomerID   int64
		Customer, Number string
		Date, Due        calendar.Date
		Left             money.Amount
	}](s.Tx, overdue, args)
	if err != nil {
		return nil, 0, err
	}
	last, err := store.Query[struct {
		InvoiceID, At int64
		Stage         int
	}](s.Tx, reminded, args)
	if err != nil {
		return nil, 0, err
	}
	of := map[int64]int{} // the place in last, by invoice
	for i, l := range last {
		of[l.InvoiceID] = i
	}
	var amount money.Amount
	for _, o := range open {
		if n := len(out); n == 0 || out[n-1].CustomerID != o.CustomerID {
			late := int(s.Today() - o.Due)
			out = append(out, Reminder{CustomerID: o.CustomerID, Customer: o.Customer, DaysLate: late, Stage: letter.Stage(late)})
			amount = 0
		}
		r := &out[len(out)-1]
		late := int(s.Today() - o.Due)
		r.Invoices = append(r.Invoices, OverdueRow{o.ID, o.Number, o.Date.String(), o.Due.String(), late, s.Money(o.Left)})
		amount += o.Left
		sum += o.Left
		r.Amount = s.Money(amount)
		at, there := of[o.ID]
		if there && (r.LastAt == "" || book.TimeText(last[at].At) > r.LastAt) {
			r.LastStage, r.LastAt = last[at].Stage, book.TimeText(last[at].At)
		}
		r.Proposed = r.Proposed || !there || last[at].Stage < letter.Stage(late)
	}
	for i := range out {
		customer, err := payer(s, out[i].CustomerID)
		if err != nil {
			return nil, 0, err
		}
		if out[i].To, err = register.Recipients(s, customer, register.Reminders); err != nil {
			return nil, 0, err
		}
		if out[i].Subject, out[i].Body, err = filled(s, fmt.Sprintf("reminder_%d", out[i].Stage), reminderBlanks(s, out[i])); err != nil {
			return nil, 0, err
		}
	}
	return out, sum, nil
}

// NewReminder is a reminder to be sent, as it was seen.
type NewReminder struct {
	CustomerID int64  `json:"customerId"`
	To         string `json:"to"`
	Stage      int    `json:"stage"`
	Amount     string `json:"amount" doc:"that is overdue, as it was seen"`
	Subject    string `json:"subject"`
	Body       string `json:"body"`
	Keeping
}

// NewReminders are reminders to be sent in one go.
type NewReminders struct {
	Key       string        `json:"key,omitempty"`
	Reminders []NewReminder `json:"reminders" maxItems:"500"`
}

// Remind puts reminders into the queue, each with its invoices; where what one of them says holds no more, none is.
func Remind(ctx context.Context, b *book.Book, actor book.Actor, press Press, in NewReminders) ([]Queued, error) {
	const kind = "reminders"
	var drafts []draft
	sent := false
	queued, err := book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (queued []Queued, err error) {
		if queued, sent, err = book.Answered[[]Queued](s, kind, in.Key, in); err != nil || sent {
			return queued, err
		}
		for _, n := range in.Reminders {
			m := draft{kind: ofReminder, stage: n.Stage, customerID: n.CustomerID, to: n.To, keep: n.Keeping, subject: n.Subject, body: n.Body}
			rs, _, err := reminders(s, n.CustomerID)
			if err != nil {
				return nil, err
			}
			for _, r := range rs {
				for _, i := range r.Invoices {
					if err := m.about(s, press, i.ID, WithPDF); err != nil {
						return nil, err
					}
				}
			}
			drafts = append(drafts, m)
		}
		return nil, nil
	})
	for i := range drafts {
		if err == nil {
			err = drafts[i].draw(ctx)
		}
	}
	if err != nil || sent {
		return queued, err
	}
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) ([]Queued, error) {
		return book.Once(s, kind, in.Key, in, func() (out []Queued, _ error) {
			if len(drafts) == 0 {
				return nil, refuse.Invalid("reminders", "choose who is reminded")
			}
			for i := range drafts {
				queued, err := drafts[i].remind(s, in.Reminders[i].Amount)
				if err != nil {
					return nil, refuse.Under(fmt.Sprintf("reminders[%d].", i), err)
				}
				out = append(out, queued)
			}
			return out, nil
		})
	})
}

// remind queues a reminder, as long as what it says still holds.
func (m *draft) remind(s *book.Session, amount string) (out Queued, _ error) {
	rs, _, err := reminders(s, m.customerID)
	if err != nil {
		return out, err
	}
	customer, err := payer(s, m.customerID)
	switch {
	case err != nil:
		return out, err
	case len(rs) == 0:
		return out, refuse.Conflict("%s has nothing overdue any more; look at the list again", words.Shortened(customer.Name))
	case rs[0].Amount != amount || rs[0].Stage != m.stage || !slices.EqualFunc(rs[0].Invoices, m.invoices,
		func(r OverdueRow, id int64) bool { return r.ID == id }):
		return out, refuse.Conflict("what %s owes has changed; look at the list again", words.Shortened(customer.Name))
	}
	return m.queue(s)
}
