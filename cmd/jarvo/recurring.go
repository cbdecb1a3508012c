package main

import (
	"context"
	"errors"
	"log/slog"
	"time"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
)

// recur makes the drafts of recurring invoices that have come due, at once and at each look, until the context ends. What fails is told in
// the log, and tried again at the next look.
func recur(ctx context.Context, b *book.Book, looks <-chan time.Time) {
	for {
		if made, err := recurOnce(ctx, b); err != nil && ctx.Err() == nil {
			slog.ErrorContext(ctx, "recurring invoices could not be made; it is tried again", "error", err)
		} else if made > 0 {
			slog.InfoContext(ctx, "recurring invoices", "drafts", made)
		}
		select {
		case <-ctx.Done():
			return
		case <-looks:
		}
	}
}

func recurOnce(ctx context.Context, b *book.Book) (int, error) {
	today, err := b.Today(ctx)
	if err != nil {
		return 0, err
	}
	made, err := billing.MakeRecurring(ctx, b, book.Console, today)
	if errors.Is(err, book.ErrNoBook) { // it is not opened yet
		return 0, nil
	}
	return made, err
}
