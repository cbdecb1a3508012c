package costing

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/store"
)

// Renew works out anew what is not billed, where the rules have changed since a book was last used: costs, shares of freight and tax,
// charges, what limits hold back, and drafts. What was billed stays as it was. It does nothing where that has been done.
func Renew(ctx context.Context, b *book.Book) error {
	stale := false
	err := b.Store.Read(ctx, func(tx *store.Tx) (err error) {
		company, _, err := store.One[store.Company](tx, 1)
		stale = company.Recost
		return err
	})
	if err != nil || !stale {
		return err
	}
	return book.Change(ctx, b, book.Console, book.Setup, func(s *book.Session) error {
		step := Begin(s)
		s.Company.Recost = false
		if err := book.InOrder(
			func() error { return step.Hours("1 = 1") },
			func() error { return step.Lines("1 = 1") },
			func() error { return step.DraftsOf("1 = 1") },
			func() error { return s.Model(&s.Company).Update("recost", false).Error },
			step.Run,
		); err != nil {
			return err
		}
		return s.Record("worked out anew, by the rules of this version", "company", 1, nil, nil)
	})
}
