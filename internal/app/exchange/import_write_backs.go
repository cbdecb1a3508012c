package exchange

import (
	"jarvo/internal/app/form"
	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

// writeBackIn is what was taken back of what an invoice of a bundle had written down.
type writeBackIn struct {
	cell
	work *sourceWork
	part int
	store.WriteBack
}

func (in *billedIn) writeBack(c cell) {
	b := writeBackIn{
		cell: c, part: int(read(c, "part", form.SequenceNumber)), work: in.workOf(c, c.Get("time_entry"), c.Get("document"), c.Get("line")),
		WriteBack: store.WriteBack{Date: read(c, "date", calendar.Parse), Amount: c.amount("amount"), Note: c.Get("note")},
	}
	i := in.under(c)
	if i == nil || b.work == nil {
		return
	}
	if b.Amount == 0 {
		c.wrong("amount", "nothing is taken back")
	}
	b.work.parts[b.part] -= b.Amount // it is ready again
	i.backs = append(i.backs, b)
}

// saveWriteBacks saves what was taken back of an invoice, before what bills it once more.
func (in *billedIn) saveWriteBacks(i *invoiceIn) error {
	for _, b := range i.backs {
		ids, err := store.Query[int64](in.Tx, creditedSource, map[string]any{
			"invoice": i.ID, "part": b.part, "entry": store.ID(b.work.EntryID), "line": store.ID(b.work.LineID),
		})
		if err != nil {
			return err
		}
		if len(ids) == 0 {
			b.wrong("part", "%s is not on invoice %s", b.work.Key, i.ref)
			return b.good(0)
		}
		b.SourceID = ids[0]
		if _, err := store.Insert(in.Tx, &b.WriteBack); err != nil {
			return err
		}
	}
	return nil
}
