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

	// unkept keeps what became of the message that was sent last, where the book could not take it then; nil where it has.
	unkept func(context.Context) error
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

// SendDue sends what is due, and returns how many messages it tried. The next message waits until the book has what became of the last.
func (o *Office) SendDue(ctx context.Context) (tried int, err error) {
	for {
		if o.unkept != nil {
			if err := o.unkept(context.WithoutCancel(ctx)); err != nil { // kept also where Jarvo is stopped meanwhile
				return tried, err
			}
			o.unkept = nil
		}
		m, err := messages.Next(ctx, o.Book)
		if err != nil || m == nil {
			return tried, err
		}
		tried++
		o.unkept = o.send(ctx, *m)
	}
}

// send sends a message, and returns how what became of it is kept.
func (o *Office) send(ctx context.Context, m messages.Outgoing) func(context.Context) error {
	failed := func(why string, mayPass bool) func(context.Context) error {
		return func(ctx context.Context) error { return messages.NotDelivered(ctx, o.Book, m.ID, why, mayPass) }
	}
	msg, err := written(m)
	if err != nil { // it won't be written the next time either
		return failed(err.Error(), false)
	}
	err = o.Mail.Send(ctx, msg)
	if err == nil {
		return func(ctx context.Context) error { return messages.Delivered(ctx, o.Book, m.ID) }
	}
	if refused := (*Refusal)(nil); errors.As(err, &refused) {
		return failed(refused.Why, refused.MayPass)
	}
	return failed(err.Error(), true)
}
