package billing

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

// JoinedDraft is a draft that goes onto another, as it was seen.
type JoinedDraft struct {
	ID      int64 `json:"id"`
	Version int64 `json:"version"`
}

// Joining puts drafts of one customer together.
type Joining struct {
	Version int64         `json:"version" doc:"of the draft that stays, as it was seen"`
	Drafts  []JoinedDraft `json:"drafts" minItems:"1" maxItems:"500" doc:"the others: what is on them comes onto it"`
}

// JoinDrafts puts what is on other drafts of the customer onto one, parts, lines and discounts as they were chosen; the others are gone.
func JoinDrafts(ctx context.Context, b *book.Book, actor book.Actor, draftID int64, in Joining) (InvoiceView, error) {
	return changeDraft(ctx, b, actor, draftID, in.Version, func(s *book.Session, draft *store.Invoice) error {
		for _, other := range in.Drafts {
			if other.ID == draftID {
				return refuse.Invalid("drafts", "a draft can't be joined with itself")
			}
			from, err := draftAt(s, other.ID, other.Version)
			if err != nil {
				return err
			}
			if err := moveOnto(s, *draft, from); err != nil {
				return err
			}
		}
		return nil
	})
}

func moveOnto(s *book.Session, draft, from store.Invoice) error {
	if from.CustomerID != draft.CustomerID {
		return refuse.Conflict("only drafts of one customer can be joined")
	}
	args := map[string]any{"to": draft.ID, "from": from.ID}
	for _, check := range []struct{ query, sentence string }{
		{bothBill, "both drafts bill a part of the same work; take it off one of them first"},
		{eitherReleases, "retainage is released on an invoice of its own"},
		{eitherAsks, "a deposit is asked for on an invoice of its own"},
	} {
		n, err := store.Value[int64](s.Tx, check.query, args)
		if err != nil {
			return err
		}
		if n > 0 {
			return refuse.Conflict("%s", check.sentence)
		}
	}
	typed, err := store.Value[int64](s.Tx, lastTyped, draft.ID)
	if err != nil {
		return err
	}
	args["typed"] = typed
	for _, move := range moves {
		if err := s.Exec(move, args).Error; err != nil {
			return err
		}
	}
	if err := s.Exec("DELETE FROM applied_deposits WHERE invoice_id = ?", from.ID).Error; err != nil {
		return err
	}
	if err := drafting.Erase(s, from.ID); err != nil {
		return err
	}
	return s.Record("joined with another draft", "invoice", from.ID, map[string]string{"total": s.Money(from.Total)}, nil)
}
