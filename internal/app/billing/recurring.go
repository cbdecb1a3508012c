package billing

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// RecurringRow is an invoice that comes again.
type RecurringRow struct {
	ID       int64       `json:"id"`
	Version  int64       `json:"version"`
	Text     string      `json:"text"`
	Customer string      `json:"customer"`
	First    string      `json:"first" format:"date"`
	Every    string      `json:"every" doc:"so many steps"`
	Step     string      `json:"step"`
	Until    string      `json:"until,omitempty" doc:"the last date that it can have; absent: it does not end"`
	Made     int         `json:"made" doc:"occurrences so far"`
	Next     string      `json:"next,omitempty" doc:"the date of the next one; absent: it has ended"`
	Amount   string      `json:"amount" format:"decimal" doc:"of one, before tax"`
	Lines    []TypedLine `json:"lines"`
}

// NewRecurring is an invoice that comes again, as it is typed.
type NewRecurring struct {
	Key     string      `json:"key,omitempty" doc:"of a new one: made by the client, so that a retry makes nothing twice"`
	ID      int64       `json:"id,omitempty" doc:"absent: it is new"`
	Version int64       `json:"version,omitempty" doc:"as it was seen"`
	Text    string      `json:"text"`
	First   string      `json:"first"`
	Every   string      `json:"every"`
	Step    string      `json:"step"`
	Until   string      `json:"until,omitempty"`
	Lines   []TypedLine `json:"lines" minItems:"1" maxItems:"100"`
	Overdue int         `json:"overdue,omitempty" doc:"how many have come due by today, where there are several: as it was said"`
}

type recurringRow struct {
	store.Recurring
	CustomerID int64
	Customer   string
	Amount     money.Amount
}

func recurrence(r store.Recurring) billing.Recurrence {
	return billing.Recurrence{First: r.First, Every: r.Every, Step: r.Step, Until: r.Until}
}

// Recurring lists the invoices that come again.
func Recurring(ctx context.Context, b *book.Book, actor book.Actor) ([]RecurringRow, error) {
	return book.Read(ctx, b, actor, book.Bill, recurringRows)
}

func recurringRows(s *book.Session) ([]RecurringRow, error) {
	rows, err := store.Query[recurringRow](s.Tx, recurringList)
	out := make([]RecurringRow, len(rows))
	for i, r := range rows {
		row := RecurringRow{
			ID: r.ID, Version: r.Version, Text: r.Text, Customer: r.Customer, First: r.First.String(), Every: strconv.Itoa(r.Every),
			Step: r.Step, Until: dateOf(r.Until), Made: r.Made, Amount: s.Money(r.Amount),
		}
		if next := recurrence(r.Recurring).Occurrence(r.Made); r.Until == nil || next <= *r.Until {
			row.Next = next.String()
		}
		if row.Lines, err = recurringLines(s, r.ID); err != nil {
			return nil, err
		}
		out[i] = row
	}
	return out, err
}

func recurringLines(s *book.Session, id int64) ([]TypedLine, error) {
	type row struct {
		store.RecurringLine
		Job string
	}
	rows, err := store.Query[row](s.Tx, linesOfRecurring, id)
	lines := make([]TypedLine, len(rows))
	for i, r := range rows {
		lines[i] = TypedLine{
			Kind: TypedKinds[0], Job: r.Job, Category: r.Category, Text: r.Text, Unit: r.Unit, Amount: s.Money(r.Amount),
		}
		if r.Quantity != 0 {
			lines[i].Quantity = r.Quantity.String()
		}
	}
	return lines, err
}

// SaveRecurring begins an invoice that comes again, or changes one: what it will be from its next occurrence on.
func SaveRecurring(ctx context.Context, b *book.Book, actor book.Actor, in NewRecurring) ([]RecurringRow, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) ([]RecurringRow, error) {
		save := func() (int64, error) { return saveRecurring(s, in) }
		var err error
		if in.ID == 0 {
			_, err = book.Once(s, "recurring", in.Key, in, save)
		} else {
			_, err = save()
		}
		if err != nil {
			return nil, err
		}
		return recurringRows(s)
	})
}

func saveRecurring(s *book.Session, in NewRecurring) (int64, error) {
	c := s.Checks()
	row := store.Recurring{Version: 1}
	if in.ID != 0 {
		had, err := register.Seen(s, in.ID, in.Version, "recurring invoice", func(r store.Recurring) int64 { return r.Version })
		if err != nil {
			return 0, err
		}
		row = had
		row.Version++
	}
	row.Text, row.First = c.Needed("text", in.Text, "what it is for"), c.Date("first", in.First)
	row.Every, row.Step = int(form.Parsed(c, "every", in.Every, form.SequenceNumber)), c.OneOf("step", in.Step, billing.Steps...)
	row.Until = form.Optional(c, "until", in.Until, calendar.Parse)
	if row.Until != nil && *row.Until < row.First {
		c.Add("until", "it can't end before it begins")
	}
	if row.Every > 1000 {
		c.Add("every", "at most 1000")
	}
	lines, err := readRecurringLines(s, c, in.Lines)
	if err == nil {
		err = c.Err()
	}
	if err != nil {
		return 0, err
	}
	if in.ID == 0 {
		err = book.Add(s, "recurring", "R", &row, &row.ID, &row.Ref)
	} else {
		err = s.Save(&row).Error
	}
	if err != nil {
		return 0, err
	}
	if err := s.Exec("DELETE FROM recurring_lines WHERE recurring_id = ?", row.ID).Error; err != nil {
		return 0, err
	}
	for i := range lines {
		lines[i].RecurringID, lines[i].Position = row.ID, i+1
	}
	if err := s.Create(&lines).Error; err != nil {
		return 0, err
	}
	if err := in.overdue(s, row); err != nil {
		return 0, err
	}
	return row.ID, s.Record("saved", "recurring", row.ID, nil, row)
}

// overdue refuses to make drafts of the past that nobody saw coming.
func (in NewRecurring) overdue(s *book.Session, row store.Recurring) error {
	due := recurrence(row).Due(row.Made, s.Today())
	switch {
	case len(due) > mostAtOnce:
		return refuse.Invalid("first", "by today this has come due %d times, and at most %d are made at once; begin it later",
			len(due), mostAtOnce)
	case len(due) > 1 && len(due) != in.Overdue:
		return &refuse.Error{
			Kind: refuse.KindConflict, Current: len(due),
			Message: fmt.Sprintf("by today this has come due %d times: saving it makes %d drafts, of %s to %s",
				len(due), len(due), due[0], due[len(due)-1]),
		}
	}
	return nil
}

func readRecurringLines(s *book.Session, c *form.Checks, in []TypedLine) ([]store.RecurringLine, error) {
	if len(in) == 0 {
		return nil, refuse.Invalid("lines", "type a line first")
	}
	var customer store.Invoice
	lines := make([]store.RecurringLine, len(in))
	for i, l := range in {
		l.Kind = TypedKinds[0]
		if i == 0 {
			job, err := register.JobByNumber(s, l.Job)
			if err != nil && !refuse.IsNotFound(err) {
				return nil, err
			}
			if err != nil || job.CustomerID == nil {
				c.Add("lines[0].job", "choose a job that has a customer")
				return lines, nil
			}
			customer.CustomerID = *job.CustomerID
			named, _, err := store.One[store.Customer](s.Tx, customer.CustomerID)
			if err != nil {
				return nil, err
			}
			customer.CustomerName = named.Name
		}
		row, err := typedRow(s, c, fmt.Sprintf("lines[%d].", i), customer, l)
		if err != nil {
			return nil, err
		}
		lines[i] = store.RecurringLine{
			JobID: store.ID(row.JobID), Category: row.Category, Text: row.Text, Quantity: row.Quantity, Unit: row.Unit, Amount: row.Amount,
		}
	}
	return lines, nil
}

// DeleteRecurring deletes an invoice that comes again; what it has made stays.
func DeleteRecurring(ctx context.Context, b *book.Book, actor book.Actor, id, version int64) error {
	return book.Change(ctx, b, actor, book.Bill, func(s *book.Session) error {
		had, err := register.Seen(s, id, version, "recurring invoice", func(r store.Recurring) int64 { return r.Version })
		if err != nil {
			return err
		}
		if err := s.Delete(&store.Recurring{}, id).Error; err != nil {
			return err
		}
		return s.Record("deleted", "recurring", id, had, nil)
	})
}

// MakeRecurring makes a draft of each occurrence that has come by a day and was not made yet, and says how many. One that can't be made
// stops no other.
func MakeRecurring(ctx context.Context, b *book.Book, actor book.Actor, day calendar.Date) (made int, _ error) {
	rows, err := book.Read(ctx, b, actor, book.Bill, func(s *book.Session) ([]recurringRow, error) { return dueBy(s, day) })
	for _, r := range rows {
		for {
			drafts, failed := book.Write(ctx, b, actor, book.Bill, func(s *book.Session) ([]int64, error) {
				return makeRecurring(s, day, r.ID, mostAtOnce)
			})
			made += len(drafts)
			err = errors.Join(err, failed)
			if len(drafts) < mostAtOnce {
				break
			}
		}
	}
	return made, err
}

// mostAtOnce is how many drafts of a recurring invoice are made in one transaction, and how many may have come due when it is begun.
const mostAtOnce = 24

// dueBy are the recurring invoices of which an occurrence has come by a day and was not made yet.
func dueBy(s *book.Session, day calendar.Date) ([]recurringRow, error) {
	rows, err := store.Query[recurringRow](s.Tx, recurringList)
	return slices.DeleteFunc(rows, func(r recurringRow) bool { return len(recurrence(r.Recurring).Due(r.Made, day)) == 0 }), err
}

// makeRecurring makes what is due of one, or of all (0), at most so many of each, and gives the drafts.
func makeRecurring(s *book.Session, day calendar.Date, only int64, most int) (made []int64, _ error) {
	rows, err := dueBy(s, day)
	if err != nil {
		return nil, err
	}
	for _, r := range rows {
		if only != 0 && r.ID != only {
			continue
		}
		due := recurrence(r.Recurring).Due(r.Made, day)
		for _, date := range due[:min(most, len(due))] {
			draft, err := occurrence(s, r, date)
			if err != nil {
				return nil, fmt.Errorf("%s of %s: %w", r.Text, date, err)
			}
			if err := s.Exec("UPDATE recurring SET made = made + 1 WHERE id = ?", r.ID).Error; err != nil {
				return nil, err
			}
			made = append(made, draft)
		}
	}
	return made, nil
}

func occurrence(s *book.Session, r recurringRow, date calendar.Date) (int64, error) {
	draft, err := newDraft(s, r.CustomerID, date)
	if err != nil {
		return 0, err
	}
	lines, err := recurringLines(s, r.ID)
	if err != nil {
		return 0, err
	}
	if err := typeLines(s, draft, lines); err != nil {
		return 0, err
	}
	if err := layOut(s, &draft); err != nil {
		return 0, err
	}
	return draft.ID, madeDraft(s, draft)
}

// MakeDue makes the drafts of the recurring invoices that have come due by today.
func MakeDue(ctx context.Context, b *book.Book, actor book.Actor) ([]RecurringRow, error) {
	today, err := b.Today(ctx)
	if err != nil {
		return nil, err
	}
	if _, err := MakeRecurring(ctx, b, actor, today); err != nil {
		return nil, err
	}
	return Recurring(ctx, b, actor)
}
