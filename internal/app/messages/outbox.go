package messages

import (
	"context"
	"net/mail"
	"slices"
	"time"

	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// MessageRow is a message in the outbox.
type MessageRow struct {
	ID         int64  `json:"id"`
	Ref        string `json:"ref"`
	What       string `json:"what"`
	CustomerID int64  `json:"customerId"`
	Customer   string `json:"customer"`
	To         string `json:"to"`
	Usual      string `json:"usual,omitempty" doc:"of one that failed: who gets its kind of mail at the customer"`
	Status     string `json:"status" enum:"queued,sending,sent,failed,cancelled"`
	At         string `json:"at" format:"date-time" doc:"when it was tried last, else written"`
	NextTry    string `json:"nextTry,omitempty" format:"date-time"`
	Tries      int    `json:"tries"`
	Problem    string `json:"problem,omitempty" doc:"what was said at the last try"`
	MadeBy     string `json:"madeBy"`
	Version    int64  `json:"version"`
}

// Outbox is what has been written: what could not be sent, what waits, and what was sent.
type Outbox struct {
	Failed []MessageRow `json:"failed"`
	Queued []MessageRow `json:"queued"`
	Sent   []MessageRow `json:"sent" doc:"the newest first, the last 200 of them"`
	Counts OutboxCounts `json:"counts"`
	// Stopped: this is a copy of a book in which messages were waiting, and the book may have sent them since.
	Stopped bool `json:"stopped,omitempty" doc:"nothing is sent until it is said that what waits may go: the book is a copy"`
}

// OutboxCounts are how many messages there are of each.
type OutboxCounts struct {
	Failed int64 `json:"failed"`
	Queued int64 `json:"queued"`
	Sent   int64 `json:"sent"`
}

// sentShown is how many sent messages are listed.
const sentShown = 200

// Box is the outbox.
func Box(ctx context.Context, b *book.Book, actor book.Actor) (Outbox, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (Outbox, error) {
		out := Outbox{Failed: []MessageRow{}, Queued: []MessageRow{}, Sent: []MessageRow{}}
		open, err := store.Query[foundRow](s.Tx, openMessages)
		if err != nil {
			return out, err
		}
		for _, m := range open {
			if m.Status == store.Failed {
				row := m.row()
				if row.Usual, err = usual(s, m.Message); err != nil {
					return out, err
				}
				out.Failed = append(out.Failed, row)
			} else {
				out.Queued = append(out.Queued, m.row())
			}
		}
		sent, err := store.Query[foundRow](s.Tx, latestSent, sentShown)
		if err != nil {
			return out, err
		}
		for _, m := range sent {
			out.Sent = append(out.Sent, m.row())
		}
		if out.Counts, err = store.Value[OutboxCounts](s.Tx, sums); err != nil {
			return out, err
		}
		out.Stopped, err = stopped(s)
		return out, err
	})
}

// stopped says whether nothing is sent, since the book is a copy.
func stopped(s *book.Session) (bool, error) {
	return store.Value[bool](s.Tx, "SELECT mail_stopped FROM book")
}

// Resumed is what may be sent in a book that is a copy.
type Resumed struct {
	Waiting int64 `json:"waiting" doc:"how many messages wait, as it was seen"`
}

// Resume lets messages go out of a book that is a copy.
func Resume(ctx context.Context, b *book.Book, actor book.Actor, in Resumed) error {
	return book.Change(ctx, b, actor, book.Bill, func(s *book.Session) error {
		counts, err := store.Value[OutboxCounts](s.Tx, sums)
		if err != nil {
			return err
		}
		if is, err := stopped(s); err != nil || !is {
			return err
		}
		if counts.Queued != in.Waiting {
			return refuse.Conflict("now %s to be sent; look at the list again", words.Counted(counts.Queued, "message"))
		}
		if err := s.Run("UPDATE book SET mail_stopped = 0"); err != nil {
			return err
		}
		return s.Record("let messages go out of this copy", "message", 0, nil, in)
	})
}

func (r foundRow) row() MessageRow {
	row := MessageRow{
		ID: r.ID, Ref: r.Ref, What: r.what(), CustomerID: r.CustomerID, Customer: r.Customer, To: r.Recipients, Status: r.Status,
		At: book.TimeText(r.at()), Tries: r.Tries, Problem: r.Problem, MadeBy: r.MadeBy, Version: r.Version,
	}
	if r.NextTry != nil {
		row.NextTry = book.TimeText(*r.NextTry)
	}
	return row
}

// Outgoing is a message as it is put into the mail.
type Outgoing struct {
	MessageRow
	Sender  string
	Subject string
	Body    string
	Written time.Time
	Files   []File
}

// Recipients are the addresses that it goes to, each as mail has it.
func (m Outgoing) Recipients() ([]*mail.Address, error) { return mail.ParseAddressList(m.To) }

// Message is a message with all that is attached.
func Message(ctx context.Context, b *book.Book, actor book.Actor, messageID int64) (Outgoing, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (Outgoing, error) { return outgoing(s, messageID) })
}

func outgoing(s *book.Session, messageID int64) (out Outgoing, _ error) {
	found, err := store.Query[foundRow](s.Tx, oneMessage, messageID)
	if err != nil || len(found) == 0 {
		return out, refuse.OrNotFound(err, "message")
	}
	m := found[0]
	out = Outgoing{MessageRow: m.row(), Sender: m.Sender, Subject: m.Subject, Body: m.Body, Written: time.UnixMilli(m.MadeAt)}
	files, err := store.All[store.MessageFile](s.Tx, "position", "message_id = ?", messageID)
	for _, f := range files {
		out.Files = append(out.Files, File{f.Name, f.Media, f.Data})
	}
	return out, err
}

// Again is who a message is tried again with.
type Again struct {
	To      string `json:"to"`
	Version int64  `json:"version" doc:"as it was seen"`
	Keeping
}

// TryAgain puts a message that failed, or that waits, into the queue to be sent at once, to an address put right.
func TryAgain(ctx context.Context, b *book.Book, actor book.Actor, messageID int64, in Again) error {
	return book.Change(ctx, b, actor, book.Bill, func(s *book.Session) error {
		m, err := seen(s, messageID, in.Version, store.Failed, store.Queued)
		if err != nil {
			return err
		}
		c := s.Checks()
		to := recipients(c, in.To)
		if err := c.Err(); err != nil {
			return err
		}
		had, now := m, s.Book.Now().UnixMilli()
		m.Recipients, m.Status, m.NextTry, m.Version = to, store.Queued, &now, m.Version+1
		if had.Status == store.Failed {
			m.Tries = 0
		}
		if err := s.Save(&m).Error; err != nil {
			return err
		}
		if err := in.keep(s, m); err != nil {
			return err
		}
		return s.Record("tried again", "message", m.ID, map[string]string{"to": had.Recipients}, map[string]string{"to": m.Recipients})
	})
}

// Cancel takes a message out of the queue.
func Cancel(ctx context.Context, b *book.Book, actor book.Actor, messageID, version int64) error {
	return book.Change(ctx, b, actor, book.Bill, func(s *book.Session) error {
		m, err := seen(s, messageID, version, store.Failed, store.Queued)
		if err != nil {
			return err
		}
		m.Status, m.NextTry, m.Version = store.Cancelled, nil, m.Version+1
		if err := s.Save(&m).Error; err != nil {
			return err
		}
		return s.Record("cancelled", "message", m.ID, nil, nil)
	})
}

// seen is a message as it was seen, which has one of some statuses.
func seen(s *book.Session, messageID, version int64, statuses ...string) (store.Message, error) {
	m, err := register.Seen(s, messageID, version, "message", func(m store.Message) int64 { return m.Version })
	if err == nil && !slices.Contains(statuses, m.Status) {
		err = refuse.Conflict("this message is %s", m.Status)
	}
	return m, err
}
