package costs

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

// Voiding makes a paper void.
type Voiding struct {
	Version int64  `json:"version" doc:"of the paper, as it was seen"`
	Reason  string `json:"reason"`
}

// Void makes an approved paper void: it stays to be read, with the reason, and costs and charges nothing any more. Its number can be
// entered again. It can't be undone. A paper that is on an invoice, also on a draft, or that was reimbursed is refused.
func Void(ctx context.Context, b *book.Book, actor book.Actor, documentID int64, in Voiding) error {
	return book.Change(ctx, b, actor, book.Approve, func(s *book.Session) error {
		row, found, err := store.One[store.CostDocument](s.Tx, documentID)
		if err != nil || !found {
			return refuse.OrNotFound(err, "document")
		}
		if row.Version != in.Version {
			return refuse.Conflict("somebody else has changed this paper since you opened it; look at it again")
		}
		was, err := View(s, documentID)
		if err != nil {
			return err
		}
		switch {
		case row.Void != "":
			return refuse.Conflict("this paper is void already: %s", row.Void)
		case row.Status != store.Approved:
			return refuse.Conflict("this paper is not approved yet: change it, or delete it")
		case was.OnInvoice:
			return refuse.Conflict("some of this paper is on an invoice, so it can't be void; drop the draft first, or credit the invoice")
		case was.PaidBack != "":
			return refuse.Conflict("this paper has been reimbursed; undo the reimbursement first")
		}
		c := s.Checks()
		reason := c.Needed("reason", in.Reason, "why it is void")
		if err := c.Err(); err != nil {
			return err
		}
		if err := s.Exec("UPDATE cost_documents SET void = ?, version = version + 1 WHERE id = ?", reason, documentID).Error; err != nil {
			return err
		}
		if err := s.Record("voided", "cost_document", documentID, was.recorded(), map[string]string{"reason": reason}); err != nil {
			return err
		}
		return costing.Document(s, documentID)
	})
}
