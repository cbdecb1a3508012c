package post

import (
	"context"
	"errors"
	"log/slog"
	"time"

	"jarvo/internal/app/book"
	"jarvo/internal/app/messages"
)

// Office sends what is queued, one message after the other.
type Office struct {
	Book *book.Book
	Mail Sender
}

// Run sends what is due at once and at each look, until the context ends. What was being sent when it ended last is marked.
func (o *Office) Run(ctx context.Context, looks <-chan time.Time) {
	begun := false
	for {
		if !begun {
			begun = o.begin(ctx)
		}
		if begun {
			if _, err := o.SendDue(ctx); err != nil && ctx.Err() == nil {
				slog.ErrorContext(ctx, "messages could not be sent; it is tried again", "error", err)
			}
		}
		select {
		case <-ctx.Done():
			return
		case <-looks:
		}
	}
}

// begin marks what was being sent when Jarvo stopped; before there is a book there is nothing to send.
func (o *Office) begin(ctx context.Context) bool {
	err := messages.Interrupt(ctx, o.Book)
	if err != nil && !errors.Is(err, book.ErrNoBook) && ctx.Err() == nil {
		slog.ErrorContext(ctx, "messages could not be looked at; it is tried again", "error", err)
	}
	return err == nil
}

// SendDue sends what is due, and returns how many messages it tried.
func (o *Office) SendDue(ctx context.Context) (tried int, err error) {
	for {
		m, err := messages.Next(ctx, o.Book)
		if err != nil || m == nil {
			return tried, err
		}
		tried++
		if err := o.send(ctx, *m); err != nil {
			return tried, err
		}
	}
}

func (o *Office) send(ctx context.Context, m messages.Outgoing) error {
	msg, err := written(m)
	if err != nil { // it won't be written the next time either
		return messages.NotDelivered(ctx, o.Book, m.ID, err.Error(), false)
	}
	err = o.Mail.Send(ctx, msg)
	ctx = context.WithoutCancel(ctx) // what became of it is kept, also where Jarvo is stopped meanwhile
	if err == nil {
		return messages.Delivered(ctx, o.Book, m.ID)
	}
	if refused := (*Refusal)(nil); errors.As(err, &refused) {
		return messages.NotDelivered(ctx, o.Book, m.ID, refused.Why, refused.MayPass)
	}
	return messages.NotDelivered(ctx, o.Book, m.ID, err.Error(), true)
}
