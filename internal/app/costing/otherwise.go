package costing

import (
	"encoding/json"

	"jarvo/internal/app/book"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/core/burden"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// otherwise notes what locked work would be charged today, where that is not what it was charged (calculation.md section 10).
type otherwise struct {
	seen map[string][]int64 // locked work by its column, also what is charged as it was
	rows []store.ChargedOtherwise
}

// hours works the locked ones of a worker's entries out as if they were not locked.
func (o *otherwise) hours(s *book.Session, terms labour.Terms, entries []CostedEntry, earned map[int]burden.Earned) error {
	locked := 0
	for _, e := range entries {
		if e.Billed {
			locked++
		}
	}
	if locked == 0 {
		return nil
	}
	book, err := ratebook.Of(s)
	if err != nil {
		return err
	}
	inputs := make([]labour.Entry, len(entries))
	for i, e := range entries {
		e.Billed = false
		inputs[i] = e.Input(book, nil)
	}
	costed, err := terms.Cost(inputs, earned)
	if err != nil {
		return nil //nolint:nilerr // what can't be worked out is told of work that is not locked
	}
	for i, e := range entries {
		if e.Billed {
			o.note("entry_id", store.ChargedOtherwise{EntryID: &entries[i].ID}, e.Charge, labour.Total(costed[i]).Charge)
		}
	}
	return nil
}

func (o *otherwise) line(had, now PricedLine) {
	o.note("cost_line_id", store.ChargedOtherwise{CostLineID: &now.ID}, had.Charge, now.Charge)
}

func (o *otherwise) note(column string, row store.ChargedOtherwise, was, now *money.Amount) {
	if o.seen == nil {
		o.seen = map[string][]int64{}
	}
	o.seen[column] = append(o.seen[column], store.ID(row.EntryID)+store.ID(row.CostLineID))
	if was != nil && now != nil && *was != *now {
		row.Charge = *now
		o.rows = append(o.rows, row)
	}
}

func (o *otherwise) save(tx *store.Tx) error {
	for column, ids := range o.seen {
		list, err := json.Marshal(ids)
		if err != nil {
			return err
		}
		if err := tx.Run("DELETE FROM charged_otherwise WHERE "+column+" IN (SELECT value FROM json_each(?))", string(list)); err != nil {
			return err
		}
	}
	return store.InsertMany(tx, o.rows)
}
