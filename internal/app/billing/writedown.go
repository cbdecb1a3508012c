package billing

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// TakingBack takes some of a write-down back.
type TakingBack struct {
	Key    string `json:"key" doc:"made by the client, so that a retry makes nothing twice"`
	Amount string `json:"amount,omitempty" doc:"absent: all that is left of it"`
	Note   string `json:"note,omitempty"`
}

// TakeWriteDownBack takes back what an issued invoice wrote down of some work, or some of it: it is ready to bill again, at the charge it
// has (calculation.md section 7). What a credit note allowed can't be.
func TakeWriteDownBack(ctx context.Context, b *book.Book, actor book.Actor, sourceID int64, in TakingBack) (InvoiceView, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (InvoiceView, error) {
		return book.Once(s, "write-down", in.Key, in, func() (view InvoiceView, _ error) {
			type writtenDown struct {
				InvoiceID int64
				Left      money.Amount
			}
			rows, err := store.Query[writtenDown](s.Tx, writtenDownOf, sourceID)
			if err != nil || len(rows) == 0 {
				return view, refuse.OrNotFound(err, "write-down")
			}
			c := s.Checks()
			row := store.WriteBack{SourceID: sourceID, Date: s.Today(), Amount: rows[0].Left, Note: c.Text("note", in.Note)}
			if in.Amount != "" {
				row.Amount = form.Parsed(c, "amount", in.Amount, s.ParseAmount)
			}
			if left := rows[0].Left; row.Amount == 0 || (row.Amount > 0) != (left > 0) || max(row.Amount, -row.Amount) > max(left, -left) {
				c.Add("amount", "%s of it is written down", s.Money(left))
			}
			if err := c.Err(); err != nil {
				return view, err
			}
			if err := s.Create(&row).Error; err != nil {
				return view, err
			}
			if err := s.Record("took a write-down back", "invoice", rows[0].InvoiceID, nil, map[string]string{
				"amount": s.Money(row.Amount), "note": row.Note,
			}); err != nil {
				return view, err
			}
			if err := refreshOthers(s, rows[0].InvoiceID, nil); err != nil {
				return view, err
			}
			return View(s, rows[0].InvoiceID)
		})
	})
}
