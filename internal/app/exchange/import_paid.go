package exchange

import (
	"cmp"
	"fmt"

	"jarvo/internal/app/costs"
	"jarvo/internal/app/looseends"
	"jarvo/internal/app/payback"
	"jarvo/internal/app/register"
	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// paidRow is a paper of the bundle that was paid back, and by which payment.
type paidRow struct {
	row      bundle.Row
	document int64
	ref      string
	date     calendar.Date
	note     string
}

// reimbursement reads a paper that was paid back; the payment itself is made when the papers have been added up.
func (im *importer) reimbursement(c cell) error {
	before := im.faults
	row := paidRow{
		row: c.Row, document: store.ID(c.refer("document", "cost_documents")), ref: c.Get("ref"), date: read(c, "date", calendar.Parse),
		note: c.Get("note"),
	}
	if err := c.good(before); err != nil {
		return err
	}
	im.paid = append(im.paid, row)
	return nil
}

// dismissal takes a loose end that was set aside.
func (im *importer) dismissal(c cell) error {
	before := im.faults
	if _, found := looseends.KindOf(c.Get("kind")); !found {
		c.wrong("kind", "%q is not a loose end that can be set aside", c.Get("kind"))
	}
	at := im.Book.Now().UnixMilli()
	if c.Get("at") != "" {
		at = read(c, "at", moment)
	}
	if err := c.good(before); err != nil {
		return err
	}
	return im.Exec(keepDismissal,
		c.Get("kind"), c.Get("subject"), c.Get("reason"), at, c.Get("who")).Error
}

// marks keep work off drafts, where it is not on one by now, or let it go beyond its limit.
func (im *importer) marks() error {
	for _, m := range marks {
		for _, row := range im.bundle.Rows(m.file) {
			c := cell{im, row}
			at := im.Book.Now().UnixMilli()
			if c.Get("at") != "" {
				at = read(c, "at", moment)
			}
			done := im.Exec(fmt.Sprintf(keepMark, m.table, m.at, m.who), map[string]any{
				"entry": c.Get("time_entry"), "document": c.Get("document"), "line": c.Get("line"), "note": c.Get("note"), "at": at,
				"who": c.Get("who"),
			})
			if done.Error != nil {
				return done.Error
			}
			if done.RowsAffected == 0 {
				c.wrong("", "there is no such time entry or cost line")
			}
		}
	}
	return im.problems.Err()
}

// attachment takes the scan of a paper; one that the paper has already stays as it is.
func (im *importer) attachment(c cell) error {
	before := im.faults
	row := store.Attachment{
		DocumentID: store.ID(c.refer("document", "cost_documents")), Name: cmp.Or(c.Get("name"), c.Get("file")), AddedBy: c.Get("added_by"),
		AddedAt: im.Book.Now().UnixMilli(),
	}
	if at := c.Get("added_at"); at != "" {
		row.AddedAt = read(c, "added_at", moment)
	}
	data, err := im.bundle.Scan(c.Get("file"))
	if err == nil {
		row.Media, err = im.scans.Check(im.AskedBy(), data)
	}
	if err != nil {
		c.wrong("file", "%s", err)
	}
	if err := c.good(before); err != nil {
		return err
	}
	row.SHA256, row.Size = costs.Checksum(data), int64(len(data))
	there, err := store.All[store.Attachment](im.Tx, "id", "document_id = ? AND sha256 = ?", row.DocumentID, row.SHA256)
	if err != nil || len(there) > 0 {
		return err
	}
	return costs.KeepScan(im.Session, &row, data)
}

// payBacks makes the payments of the bundle that the book has not. One that it has stays as it is.
func (im *importer) payBacks() error {
	had, err := store.Query[register.Named](im.Tx, paidBack)
	if err != nil {
		return err
	}
	known := map[int64]string{}
	for _, h := range had {
		known[h.ID] = h.Code
	}
	payments := map[string]*store.Reimbursement{}
	for _, p := range im.paid {
		c := cell{im, p.row}
		if ref, paid := known[p.document]; paid {
			if ref != p.ref {
				c.wrong("document", "this was paid back by %s already", ref)
			}
			continue
		}
		if err := im.payBackRow(c, p, payments); err != nil {
			return err
		}
	}
	return im.problems.Err()
}

func (im *importer) payBackRow(c cell, p paidRow, payments map[string]*store.Reimbursement) error {
	papers, err := store.Query[payback.OwedRow](im.Tx, payback.OwedPapers+" AND d.id = ? GROUP BY d.id", p.document)
	if err != nil {
		return err
	}
	switch {
	case len(papers) == 0:
		c.wrong("document", "nobody is to be paid back for this; it has no worker")
		return nil
	case papers[0].Status != store.Approved:
		c.wrong("document", "only what is approved is paid back")
		return nil
	}
	payment := payments[p.ref]
	if payment == nil {
		taken, err := store.All[store.Reimbursement](im.Tx, "id", "ref = ?", p.ref)
		if err != nil {
			return err
		}
		if len(taken) > 0 {
			c.wrong("ref", "%s is a payment of other papers already", p.ref)
			return nil
		}
		payment = &store.Reimbursement{
			Ref: p.ref, WorkerID: papers[0].WorkerID, Date: p.date, Note: p.note, Amount: 1,
		} // its amount comes with its papers
		payments[p.ref] = payment
		if err := im.Create(payment).Error; err != nil {
			return err
		}
		payment.Amount = 0
	}
	if payment.WorkerID != papers[0].WorkerID || payment.Date != p.date {
		c.wrong("ref", "a payment is to one worker, on one day")
		return nil
	}
	payment.Amount += papers[0].Amount
	if payment.Amount > money.Amount(0) {
		if err := im.Exec("UPDATE reimbursements SET amount = ? WHERE id = ?", payment.Amount, payment.ID).Error; err != nil {
			return err
		}
	}
	if err := im.Exec(`INSERT INTO reimbursed_documents (document_id, reimbursement_id)
		VALUES (?, ?)`, p.document, payment.ID).Error; err != nil {
		return fmt.Errorf("paying %s back: %w", p.ref, err)
	}
	return nil
}
