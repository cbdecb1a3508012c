package history

import (
	"context"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/store"
)

// Trail is how far an hour, a receipt line or an invoice has come: four marks, and the same in words.
type Trail struct {
	Stage    string `json:"stage" enum:"captured,submitted,approved,drafted,billed,paid"`
	Billable bool   `json:"billable"`
	Text     string `json:"text"`
}

var stageTexts = map[string]string{
	"captured":  "captured, not handed in",
	"submitted": "captured and handed in, not approved",
	"approved":  "captured and approved, ready to bill",
	"drafted":   "captured and approved, on a draft invoice",
	"billed":    "billed",
	"paid":      "billed and paid",
}

// TrailOf is the trail of work that is at a stage; work that is not billable has no way to an invoice.
func TrailOf(stage string, billable bool, invoice string) Trail {
	t := Trail{Stage: stage, Billable: billable, Text: stageTexts[stage]}
	if invoice != "" {
		t.Text += " on invoice " + invoice
	}
	if !billable {
		t.Text += ", not billable"
	}
	return t
}

// Void is the trail of a paper that does not count, with the reason.
func Void(reason string) Trail {
	return Trail{Stage: "approved", Text: "approved, then made void: " + reason}
}

// StageOf is the stage of work by its approval status and its invoice.
func StageOf(status string, onInvoice, billed, paid bool) string {
	switch {
	case paid:
		return "paid"
	case billed:
		return "billed"
	case onInvoice:
		return "drafted"
	case status == store.Draft:
		return "captured"
	default:
		return status
	}
}

// TrailStep is a step that brought work to where it is: what was done, by whom, when, and on which invoice.
type TrailStep struct {
	Action  string `json:"action" doc:"captured, handed in, approved, returned, made a draft, issued, sent, sent a reminder, took a payment"`
	Who     string `json:"who"`
	At      string `json:"at" format:"date-time" doc:"the last time, where it was done to many"`
	Reason  string `json:"reason,omitempty"`
	Invoice string `json:"invoice,omitempty"`
}

// TrailQuery asks for the steps of some records of one kind.
type TrailQuery struct {
	Kind string  `query:"kind" required:"true" enum:"time_entry,cost_document,cost_line,invoice"`
	IDs  []int64 `query:"ids" required:"true" maxItems:"400"`
}

// invoicesOf finds the invoices of records, by their kind.
var invoicesOf = map[string]string{
	"time_entry":    "SELECT invoice_id FROM time_entries WHERE invoice_id IS NOT NULL AND id IN ?",
	"cost_document": "SELECT invoice_id FROM cost_lines WHERE invoice_id IS NOT NULL AND document_id IN ?",
	"cost_line":     "SELECT invoice_id FROM cost_lines WHERE invoice_id IS NOT NULL AND id IN ?",
	"invoice":       "SELECT id FROM invoices WHERE id IN ?",
}

// Steps is who brought work to where it is, and when, oldest first: of many records each step once for each person. A
// foreman is told of the own crew's hours alone.
func Steps(ctx context.Context, b *book.Book, actor book.Actor, q TrailQuery) ([]TrailStep, error) {
	need := book.SeeMoney
	if q.Kind == "time_entry" {
		need = book.Capture
	}
	return book.Read(ctx, b, actor, need, func(s *book.Session) (_ []TrailStep, err error) {
		ids := q.IDs
		if q.Kind == "time_entry" && actor.Crew != "" {
			if ids, err = store.Query[int64](s.Tx, entriesOfCrew, ids, actor.Crew); err != nil {
				return nil, err
			}
		}
		kind, subjects := q.Kind, ids
		if kind == "cost_line" { // what is done to a line is done to its paper
			kind = "cost_document"
			if subjects, err = store.Query[int64](s.Tx, "SELECT DISTINCT document_id FROM cost_lines WHERE id IN ?", ids); err != nil {
				return nil, err
			}
		}
		// Beside max() the other columns are those of its row.
		const latest = "SELECT h.action, h.user_name, h.at, h.after, max(h.id) AS last"
		done, err := steps(s, latest+`, '' AS invoice FROM history h WHERE h.kind = ? AND h.subject_id IN ?
			AND h.action IN ('captured', 'handed in', 'approved', 'returned', 'approval taken back', 'return taken back')
			GROUP BY h.action, h.user_name ORDER BY last`, kind, subjects)
		if err != nil {
			return nil, err
		}
		found, err := store.Query[int64](s.Tx, invoicesOf[q.Kind], ids)
		if err != nil {
			return nil, err
		}
		billed, err := steps(s, latest+`, ifnull(i.prefix || i.number, '') AS invoice FROM history h JOIN invoices i ON i.id = h.subject_id
			WHERE h.kind = 'invoice' AND h.subject_id IN ? AND h.action IN ('made a draft', 'issued', 'sent', 'sent a reminder', 'took a payment')
			GROUP BY h.action, h.user_name, i.id ORDER BY last`, found)
		return slices.Concat([]TrailStep{}, done, billed), err
	})
}

func steps(s *book.Session, query string, args ...any) ([]TrailStep, error) {
	type row struct {
		Action, UserName, Invoice string
		At, Last                  int64 // the last is what the steps are sorted by
		After                     *string
	}
	rows, err := store.Query[row](s.Tx, query, args...)
	steps := make([]TrailStep, len(rows))
	for i, r := range rows {
		steps[i] = TrailStep{Action: r.Action, Who: r.UserName, At: book.TimeText(r.At), Reason: Recorded(r.After)["reason"], Invoice: r.Invoice}
	}
	return steps, err
}
