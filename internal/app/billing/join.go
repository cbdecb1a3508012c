package billing

import (
	"context"
	"fmt"

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

// canShare refuses to put what is on two drafts together where one of them has to stand alone.
func canShare(s *book.Session, args map[string]any) error {
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
	return nil
}

func moveOnto(s *book.Session, draft, from store.Invoice) error {
	if from.CustomerID != draft.CustomerID {
		return refuse.Conflict("only drafts of one customer can be joined")
	}
	args := map[string]any{"to": draft.ID, "from": from.ID}
	if err := canShare(s, args); err != nil {
		return err
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

// Moving moves work from a draft to another of the customer, parts as they were chosen.
type Moving struct {
	Version int64        `json:"version" doc:"of the draft that it is on, as it was seen"`
	To      *JoinedDraft `json:"to,omitempty" doc:"the draft that it goes onto; absent: a new one"`
	Sources []WorkRef    `json:"sources" minItems:"1" maxItems:"5000"`
}

// Moved are both drafts.
type Moved struct {
	From InvoiceView `json:"from"`
	To   InvoiceView `json:"to"`
}

// MoveSources moves work to another draft of the customer or onto one of its own.
func MoveSources(ctx context.Context, b *book.Book, actor book.Actor, draftID int64, in Moving) (Moved, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (out Moved, err error) {
		var to store.Invoice
		out.From, err = changed(s, draftID, in.Version, func(s *book.Session, draft *store.Invoice) error {
			if to, err = destination(s, *draft, in.To); err != nil {
				return err
			}
			return moveSources(s, draft.ID, to.ID, in.Sources)
		})
		if err != nil {
			return out, err
		}
		to.Version++
		if err := layOut(s, &to); err != nil {
			return out, err
		}
		if err := s.Record("changed a draft", "invoice", to.ID, nil, map[string]string{"total": s.Money(to.Total)}); err != nil {
			return out, err
		}
		if err := refreshOthers(s, to.ID, nil); err != nil {
			return out, err
		}
		out.To, err = WithOffered(s, to.ID)
		return out, err
	})
}

// destination is the draft that work is moved onto: one of the same customer, or a new one of the same date and detail.
func destination(s *book.Session, draft store.Invoice, seen *JoinedDraft) (store.Invoice, error) {
	if seen == nil {
		made, err := newDraft(s, draft.CustomerID, draft.Date)
		made.Grouping, made.ShowRates = draft.Grouping, draft.ShowRates
		return made, err
	}
	if seen.ID == draft.ID {
		return store.Invoice{}, refuse.Invalid("to", "this is on that draft already")
	}
	to, err := draftAt(s, seen.ID, seen.Version)
	if err == nil && to.CustomerID != draft.CustomerID {
		err = refuse.Conflict("that draft is for another customer")
	}
	return to, err
}

func moveSources(s *book.Session, from, to int64, sources []WorkRef) error {
	for i, src := range sources {
		query, known := moveOf[src.Kind]
		if !known {
			return refuse.Invalid(fmt.Sprintf("sources[%d].kind", i), "%q is no work", src.Kind)
		}
		args := map[string]any{"from": from, "to": to, "id": src.ID}
		for n, statement := range query {
			done := s.Exec(statement, args)
			if done.Error != nil {
				return done.Error
			}
			if n == 0 && done.RowsAffected == 0 {
				return refuse.Conflict("some of this is not on the draft any more; look at it again")
			}
		}
	}
	if err := canShare(s, map[string]any{"from": from, "to": to}); err != nil {
		return err
	}
	twice, err := store.Value[int64](s.Tx, billsTwice, to)
	if err == nil && twice > 0 {
		err = refuse.Conflict("that draft bills a part of the same work already; remove it there first")
	}
	if err != nil {
		return err
	}
	left, err := drafting.LeftOn(s, from)
	if err == nil && left == 0 {
		err = refuse.Conflict("nothing would be left on this draft; join the two instead")
	}
	return err
}
