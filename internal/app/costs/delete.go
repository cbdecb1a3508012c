package costs

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

// Delete deletes a paper that is not approved, such as one that was entered twice. Its history keeps what it was.
func Delete(ctx context.Context, b *book.Book, actor book.Actor, documentID, version int64) error {
	return book.Change(ctx, b, actor, book.Costs, func(s *book.Session) error {
		row, found, err := store.One[store.CostDocument](s.Tx, documentID)
		if err != nil || !found {
			return refuse.OrNotFound(err, "document")
		}
		if row.Version != version {
			return refuse.Conflict("somebody else has changed this paper since you opened it; look at it again before you delete it")
		}
		was, err := View(s, documentID)
		if err != nil {
			return err
		}
		if was.Locked != "" {
			return refuse.Conflict("this paper can't be deleted: %s", was.Locked)
		}
		for _, of := range []any{&store.Attachment{}, &store.CostLine{}} {
			if err := s.Where("document_id = ?", documentID).Delete(of).Error; err != nil {
				return err
			}
		}
		if err := s.Delete(&row).Error; err != nil {
			return err
		}
		return s.Record("deleted", "cost_document", documentID, was.recorded(), nil)
	})
}
