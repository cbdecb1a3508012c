package exchange

import (
	"slices"

	billed "jarvo/internal/app/billing"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/form"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// creditIn is what a credit note of a bundle credits: a part of work, or a line that was typed on its invoice.
type creditIn struct {
	cell
	work *sourceWork // nil: a typed line
	part int
	line int // of the invoice, where it was typed
	store.Credit
}

// credit reads what a note credits.
func (in *billedIn) credit(c cell) {
	x := creditIn{
		cell: c, part: int(read(c, "part", form.WholeNumber)), line: int(read(c, "line_position", form.WholeNumber)),
		Credit: store.Credit{
			Position: int(read(c, "position", form.SequenceNumber)), Amount: c.amount("amount"), Up: c.amount("up"),
			Again: c.oneOf("becomes", billed.Becomes...) == billed.Becomes[0], Reason: c.Get("reason"),
		},
	}
	if x.line == 0 {
		if x.work = in.workOf(c, c.Get("time_entry"), c.Get("document"), c.Get("line")); x.work == nil {
			return
		}
		if x.Again && x.work.parts[x.part] != 0 { // what is ready again counts as billed no more
			x.work.parts[x.part] -= x.Amount - x.Up
		}
	}
	i := in.under(c)
	switch {
	case i == nil:
	case i.on == "":
		c.wrong("invoice", "invoice %s is no credit note", i.ref)
	case x.Amount == 0:
		c.wrong("amount", "nothing is credited")
	default:
		i.credits = append(i.credits, x)
	}
}

// creditsAddUp adds up what a note credits, under its lines and jobs.
func (i *invoiceIn) creditsAddUp(byPosition map[int]money.Amount, byJob map[int64]money.Amount) (sum money.Amount) {
	for _, x := range i.credits {
		at := slices.IndexFunc(i.lines, func(l store.InvoiceLine) bool { return l.Position == x.Position })
		if at < 0 || x.work != nil && x.work.JobID != i.lines[at].JobID {
			x.wrong("position", "note %s has no line %d of its job", i.ref, x.Position)
			continue
		}
		byPosition[x.Position] += x.Amount
		byJob[i.lines[at].JobID] += x.Amount
		sum += x.Amount
	}
	return sum
}

// findCredited finds the invoice that a note is on.
func (in *billedIn) findCredited(i *invoiceIn) error {
	if i.on == "" {
		return nil
	}
	found, err := store.Query[store.Invoice](in.Tx,
		"SELECT * FROM invoices WHERE status = 'issued' AND credit_of IS NULL AND prefix || number = ?", i.on)
	switch {
	case err != nil:
		return err
	case len(found) == 0 || found[0].CustomerID != i.CustomerID || found[0].Date > i.Date:
		i.wrong("credit_of", "there is no invoice %s of this customer, dated on the note or before it", i.on)
	default:
		i.CreditOf = &found[0].ID
	}
	return i.good(0)
}

// saveCredits saves what a note credits, and gives its shares of jobs and phases.
func (in *billedIn) saveCredits(i *invoiceIn) (parts []drafting.DraftSource, err error) {
	for _, x := range i.credits {
		share := drafting.DraftSource{Amount: -x.Amount}
		x.InvoiceID = i.ID
		if x.work != nil {
			share.JobID, share.PhaseID = x.work.JobID, x.work.PhaseID
			ids, err := store.Query[int64](in.Tx, creditedSource, map[string]any{
				"invoice": *i.CreditOf, "part": x.part, "entry": store.ID(x.work.EntryID), "line": store.ID(x.work.LineID),
			})
			if err != nil || len(ids) == 0 {
				x.wrong("part", "%s is not on invoice %s", x.work.Key, i.on)
				return nil, x.good(0)
			}
			x.SourceID = &ids[0]
		} else {
			type typed struct {
				ID      int64
				PhaseID *int64
			}
			lines, err := store.Query[typed](in.Tx, creditedLine, map[string]any{"invoice": *i.CreditOf, "position": x.line})
			if err != nil || len(lines) == 0 {
				x.wrong("line_position", "line %d of invoice %s was not typed", x.line, i.on)
				return nil, x.good(0)
			}
			at := slices.IndexFunc(i.lines, func(l store.InvoiceLine) bool { return l.Position == x.Position })
			share.JobID, share.PhaseID, share.Category, x.LineID = i.lines[at].JobID, lines[0].PhaseID, i.lines[at].Category, &lines[0].ID
		}
		if _, err := store.Insert(in.Tx, &x.Credit); err != nil {
			return nil, err
		}
		parts = append(parts, share)
	}
	return parts, nil
}
