package messages

import (
	"context"
	"errors"
	"time"

	"jarvo/internal/app/book"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// postman is who sends, where nobody pressed a button.
var postman = book.Actor{Name: "Jarvo", Role: book.Owner}

// pauses are how long a message waits after each try that failed for a reason which may pass; after the last it has failed.
var pauses = []time.Duration{time.Minute, 5 * time.Minute, 15 * time.Minute, time.Hour}

// mostProblem bounds what is kept of what a server says, in characters.
const mostProblem = 300

// Next claims the message that is due next; nil where none is. From then on it counts as sent, as far as nobody says otherwise: it is never
// put into the mail twice for want of an answer.
func Next(ctx context.Context, b *book.Book) (*Outgoing, error) {
	waits, err := book.Read(ctx, b, postman, book.Bill, func(s *book.Session) (bool, error) { // so that looking holds nobody up
		found, err := store.Query[store.Message](s.Tx, due, s.Book.Now().UnixMilli())
		return len(found) > 0, err
	})
	if err != nil || !waits {
		return nil, err
	}
	return book.Write(ctx, b, postman, book.Bill, func(s *book.Session) (*Outgoing, error) {
		now := s.Book.Now().UnixMilli()
		found, err := store.Query[store.Message](s.Tx, due, now)
		if err != nil || len(found) == 0 {
			return nil, err
		}
		m := found[0]
		m.Status, m.NextTry, m.TriedAt, m.Tries, m.Version = store.Sending, nil, &now, m.Tries+1, m.Version+1
		if err := s.Save(&m).Error; err != nil {
			return nil, err
		}
		out, err := outgoing(s, m.ID)
		return &out, err
	})
}

// Delivered notes that a message was taken by the mail.
func Delivered(ctx context.Context, b *book.Book, messageID int64) error {
	return become(ctx, b, messageID, func(s *book.Session, m *store.Message) error {
		m.Status, m.Problem = store.Sent, ""
		invoices, err := store.All[store.MessageInvoice](s.Tx, "invoice_id", "message_id = ?", m.ID)
		if err != nil {
			return err
		}
		action := map[string]string{ofInvoice: "sent", ofReminder: "sent a reminder"}[m.Kind]
		for _, i := range invoices {
			if err := s.Record(action, "invoice", i.InvoiceID, nil, map[string]string{"to": m.Recipients, "message": m.Ref}); err != nil {
				return err
			}
		}
		return nil
	})
}

// NotDelivered notes why a message was not taken. Where that may pass it is tried again later, and longer and longer apart.
func NotDelivered(ctx context.Context, b *book.Book, messageID int64, problem string, mayPass bool) error {
	return become(ctx, b, messageID, func(s *book.Session, m *store.Message) error {
		m.Problem = words.Within(problem, mostProblem)
		if !mayPass || m.Tries > len(pauses) {
			m.Status = store.Failed
			return nil
		}
		next := s.Book.Now().Add(pauses[m.Tries-1]).UnixMilli()
		m.Status, m.NextTry = store.Queued, &next
		return nil
	})
}

// Interrupted is what is said of a message that was being sent when Jarvo stopped.
const Interrupted = "Jarvo was stopped while this was sent. It may have arrived: ask before you send it again."

// Interrupt marks what was being sent when Jarvo stopped as failed: nobody knows whether it arrived.
func Interrupt(ctx context.Context, b *book.Book) error {
	inHand, err := book.Read(ctx, b, postman, book.Bill, func(s *book.Session) ([]int64, error) {
		return store.Query[int64](s.Tx, "SELECT id FROM messages WHERE status = 'sending' ORDER BY id")
	})
	for _, id := range inHand {
		err = errors.Join(err, NotDelivered(ctx, b, id, Interrupted, false))
	}
	return err
}

// become changes a message that is being sent, in the name of who wrote it.
func become(ctx context.Context, b *book.Book, messageID int64, change func(*book.Session, *store.Message) error) error {
	return book.Change(ctx, b, postman, book.Bill, func(s *book.Session) error {
		m, found, err := store.One[store.Message](s.Tx, messageID)
		if err != nil || !found || m.Status != store.Sending {
			return err
		}
		s.Actor.Name = m.MadeBy
		if err := change(s, &m); err != nil {
			return err
		}
		m.Version++
		if err := s.Save(&m).Error; err != nil {
			return err
		}
		return s.Record(m.Status, "message", m.ID, nil, map[string]string{"to": m.Recipients, "reason": m.Problem})
	})
}
