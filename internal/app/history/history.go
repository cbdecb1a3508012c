// Package history tells what was done to a record, and which way it has gone to its invoice.
package history

import (
	"context"
	"encoding/json"
	"strconv"

	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/store"
)

// HistoryLine is one thing that was done to a record.
type HistoryLine struct {
	At      string          `json:"at" format:"date-time"`
	Who     string          `json:"who"`
	Action  string          `json:"action"`
	Reason  string          `json:"reason,omitempty"`
	Changes []HistoryChange `json:"changes,omitempty" doc:"what it altered; after alone where the record was made"`
}

// HistoryChange is one thing that was altered, in words.
type HistoryChange struct {
	What   string `json:"what"`
	Before string `json:"before,omitempty"`
	After  string `json:"after,omitempty"`
}

// told are the parts of a record that its history tells of, in their order. Those marked are only for who sees money.
var told = []struct {
	key, what string
	money     bool
}{
	{"date", "date", false}, {"hours", "hours", false}, {"jobId", "job", false}, {"phaseId", "phase", false},
	{"costCodeId", "cost code", false},
	{"billable", "billable", false}, {"payClass", "pay class", false}, {"rate", "own rate", true}, {"note", "note", false},
	{"status", "status", false},
	{"supplier", "supplier", false}, {"number", "number", false}, {"lines", "lines", false}, {"freight", "freight", true},
	{"tax", "tax", true}, {"total", "total", true},
	{"goods", "goods", true}, {"attachment", "attachment", false},
	{"dueNow", "due now", true}, {"amount", "amount", true},
}

// OfEntry is what was done to a time entry, oldest first, also where it has been taken away since.
func OfEntry(ctx context.Context, b *book.Book, actor book.Actor, entryID int64) ([]HistoryLine, error) {
	return book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (lines []HistoryLine, _ error) {
		if actor.Crew != "" { // what was taken away has no crew any more: it is for who sees all of them
			entry, found, err := store.One[store.TimeEntry](s.Tx, entryID)
			if err != nil || !found {
				return lines, refuse.OrNotFound(err, "entry")
			}
			if _, err := register.OwnEntry(s, entry); err != nil {
				return lines, err
			}
		}
		var err error
		lines, err = History(s, "time_entry", entryID)
		return lines, err
	})
}

// History is what was done to a record, oldest first.
func History(s *book.Session, kind string, subject int64) ([]HistoryLine, error) {
	rows, err := store.All[store.Change](s.Tx, "id", "kind = ? AND subject_id = ?", kind, subject)
	lines := []HistoryLine{}
	for _, row := range rows {
		before, after := Recorded(row.Before), Recorded(row.After)
		line := HistoryLine{At: book.TimeText(row.At), Who: row.UserName, Action: row.Action, Reason: after["reason"]}
		for _, t := range told {
			if before[t.key] == after[t.key] || row.Before == nil && t.key == "status" || t.money && !s.Actor.Can(book.SeeMoney) {
				continue
			}
			change := HistoryChange{What: t.what}
			if change.Before, err = worded(s, t.key, before[t.key]); err != nil {
				return nil, err
			}
			if change.After, err = worded(s, t.key, after[t.key]); err != nil {
				return nil, err
			}
			line.Changes = append(line.Changes, change)
		}
		lines = append(lines, line)
	}
	return lines, err
}

// toldOfRecords are the parts of a record of Setup that its history tells of, in their order, and the tables that they refer to.
var toldOfRecords = []struct{ key, what, table string }{
	{"Name", "name", ""}, {"Description", "description", ""}, {"Code", "code", ""}, {"TradeID", "trade", "trades"}, {"Crew", "crew", ""},
	{"BurdenClassID", "burden class", "burden_classes"}, {"Exempt", "exempt from overtime", ""}, {"Kind", "kind", ""},
	{"Category", "kind of cost", ""}, {"CostCodeID", "cost code", "cost_codes"}, {"Unit", "unit", ""}, {"Address", "address", ""},
	{"PostCode", "post code", ""}, {"City", "city", ""}, {"Region", "state or region", ""}, {"Country", "country", ""},
	{"TaxNumber", "tax number", ""}, {"Reference", "their reference", ""}, {"Registration", "number in the register", ""},
	{"Endpoint", "e-invoices", ""}, {"EndpointScheme", "kind of that address", ""}, {"OpenBook", "open book", ""},
	{"People", "people", ""}, {"Email", "general e-mail", ""}, {"Phone", "phone", ""}, {"TermsDays", "terms in days", ""},
	{"RateCardID", "rate card", "rate_cards"},
	{"TaxCodeID", "tax code", "tax_codes"}, {"TaxExempt", "exempt from tax", ""}, {"InvoicePer", "an invoice per", ""},
	{"Active", "offered", ""}, {"effectiveFrom", "from", ""}, {"unitCost", "costs", ""}, {"sellPrice", "sells at", ""},
}

// OfRecord is what was done to a record of Setup, oldest first.
func OfRecord(s *book.Session, kind string, subject int64) ([]HistoryLine, error) {
	rows, err := store.All[store.Change](s.Tx, "id", "kind = ? AND subject_id = ?", kind, subject)
	lines := []HistoryLine{}
	for _, row := range rows {
		before, after := kept(row.Before), kept(row.After)
		line := HistoryLine{At: book.TimeText(row.At), Who: row.UserName, Action: row.Action, Reason: after["reason"]}
		for _, t := range toldOfRecords {
			was, is := before[t.key], after[t.key]
			if was == is || row.Before == nil && t.key == "Active" || row.After == nil {
				continue
			}
			change := HistoryChange{What: t.what, Before: was, After: is}
			if t.table != "" {
				if change.Before, err = codeOf(s, t.table, was); err != nil {
					return nil, err
				}
				if change.After, err = codeOf(s, t.table, is); err != nil {
					return nil, err
				}
			}
			line.Changes = append(line.Changes, change)
		}
		lines = append(lines, line)
	}
	return lines, err
}

// codeOf is the code of a record that is referred to; the id itself where it is gone.
func codeOf(s *book.Session, table, recordID string) (string, error) {
	if recordID == "" {
		return "", nil
	}
	codes, err := store.Query[string](s.Tx, "SELECT code FROM "+table+" WHERE id = ?", recordID)
	if err != nil || len(codes) == 0 {
		return recordID, err
	}
	return codes[0], nil
}

// kept reads a kept state, whatever the kinds of its values, as texts.
func kept(text *string) map[string]string {
	texts := map[string]string{}
	var all map[string]any
	if text == nil || json.Unmarshal([]byte(*text), &all) != nil {
		return texts
	}
	for key, value := range all {
		switch v := value.(type) {
		case string:
			texts[key] = v
		case bool:
			texts[key] = map[bool]string{true: "yes", false: "no"}[v]
		case float64:
			texts[key] = strconv.FormatFloat(v, 'f', -1, 64)
		}
	}
	return texts
}

// worded writes a kept value as people read it: what refers to a record by its number and name.
func worded(s *book.Session, key, value string) (string, error) {
	table := map[string]string{"jobId": "jobs", "phaseId": "phases", "costCodeId": "cost_codes"}[key]
	if table == "" || value == "" {
		return value, nil
	}
	code := "code"
	if table == "jobs" {
		code = "number"
	}
	names, err := store.Query[string](s.Tx, "SELECT "+code+" || ' ' || name FROM "+table+" WHERE id = ?", value)
	if err != nil || len(names) == 0 {
		return value, err
	}
	return names[0], nil
}

// Recorded reads the texts of a kept state; whatever else it holds is passed over.
func Recorded(text *string) map[string]string {
	recorded := map[string]string{}
	if text == nil {
		return recorded
	}
	var all map[string]any
	if json.Unmarshal([]byte(*text), &all) != nil {
		return recorded
	}
	for key, value := range all {
		if text, ok := value.(string); ok {
			recorded[key] = text
		}
	}
	return recorded
}
