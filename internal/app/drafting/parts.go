package drafting

import (
	"fmt"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// Chosen is how much of some work a draft bills, as it was chosen, and what becomes of the rest.
type Chosen struct {
	Way     billing.Way
	Typed   int64 // minutes, 1/1 000 of a unit, 1/10 000 of a percent, or an amount, by the way
	Runs    string
	Up      money.Amount // of the amount: beyond what was left
	Down    money.Amount // of what it leaves: written down
	AllDown bool         // all that it leaves is, whatever it comes to
	Reason  string
}

// Kept is what the book keeps of a part.
type Kept struct {
	Charge, Amount money.Amount // of the work; of that, what is billed
	Chosen
}

// otherPart is another live part of the same work.
type otherPart struct {
	Part    int
	Way     billing.Way
	Typed   int64
	Runs    string
	Amount  money.Amount
	OnDraft bool
}

// WorkOf is what there is to bill of the work of a source, beside what the source itself bills of it. A draft that takes all that is left
// follows what other drafts choose, so that is free to them.
func WorkOf(s *book.Session, src DraftSource) (billing.Work, error) {
	w := billing.Work{
		Charge: src.Charge, Quantity: src.Quantity, Held: src.Held, Left: src.Left + src.Amount - src.Up + src.Down,
	}
	var err error
	if src.EntryID != 0 {
		if w.Segments, err = store.Query[billing.Segment](s.Tx, segmentsToBill, src.EntryID); err != nil {
			return w, err
		}
	}
	others, err := store.Query[otherPart](s.Tx, otherParts, map[string]any{
		"entry": src.EntryID, "line": src.CostLineID, "source": src.SourceID,
	})
	for _, o := range others {
		share := w.Share(o.Way, o.Typed)
		w.Shared += share
		if o.OnDraft && o.Way == billing.TheRest && src.Way != billing.TheRest {
			w.Left += o.Amount
			continue // nor does it hold any minutes
		}
		if o.Part < src.Part {
			w.Before += share
		}
		w.Runs = append(w.Runs, readRuns(o.Runs)...)
	}
	return w, err
}

// choose sets what a source bills of its work in the way that was chosen, as the work is now; what can't be had any more in that way takes
// all that is left.
func (d *DraftSource) choose(w billing.Work) (err error) {
	part, err := w.Take(d.Way, d.Typed)
	if err != nil {
		d.Way, d.Typed = billing.TheRest, 0
		if part, err = w.Take(billing.TheRest, 0); err != nil {
			return err
		}
	}
	d.take(w, part)
	return nil
}

// take sets a part of the work, and what is written down of the rest.
func (d *DraftSource) take(w billing.Work, part billing.Part) {
	d.Amount, d.Up, d.Runs = part.Amount, part.Up, writeRuns(part.Runs)
	rest := w.Rest(part) - w.Held
	switch {
	case d.AllDown:
		d.Down = rest
	case rest == 0 || rest > 0 != (d.Down > 0):
		d.Down = 0
	case rest > 0:
		d.Down = min(d.Down, rest)
	default:
		d.Down = max(d.Down, rest)
	}
	switch d.Way {
	case billing.ByHours:
		d.Minutes = part.Minutes()
	case billing.ByQuantity:
		d.Quantity = money.Quantity(d.Typed)
	case billing.TheRest:
		d.Minutes = part.Minutes()
		if d.Others > 0 && d.Quantity != 0 { // it is kept how much of the quantity this is
			d.Quantity = w.RestOfQuantity()
			d.Typed = int64(d.Quantity)
		}
	default:
		d.Minutes, d.Quantity = part.Minutes(), 0
	}
}

// follow sets what a draft bills of its work, as the charge of that is now.
func (d *DraftSource) follow(s *book.Session) error {
	left := d.Left + d.Amount - d.Up + d.Down // without what this draft holds
	if d.Way == billing.AsFits {
		if d.Amount != left && (left > 0) == (d.Amount > 0) && max(d.Amount, -d.Amount) < max(left, -left) {
			d.Minutes, d.Quantity = 0, 0
			return nil
		}
		d.Way = billing.TheRest
	}
	if d.Way == billing.TheRest && d.Others == 0 && !d.AllDown {
		d.Amount = left
		return nil
	}
	w, err := WorkOf(s, *d)
	if err != nil {
		return err
	}
	return d.choose(w)
}

// Sharers are the other drafts that bill parts of the work that is on a draft.
func Sharers(s *book.Session, draftID int64) ([]int64, error) {
	return store.Query[int64](s.Tx, sharers, map[string]any{"invoice": draftID})
}

// RefreshDrafts brings drafts up to date, those that share work with others once more when these have followed.
func RefreshDrafts(s *book.Session, drafts []int64) error {
	for _, id := range drafts {
		if err := RefreshDraft(s, id); err != nil {
			return err
		}
	}
	for _, id := range drafts {
		shared, err := Sharers(s, id)
		if err != nil {
			return err
		}
		if len(shared) == 0 {
			continue
		}
		if err := RefreshDraft(s, id); err != nil {
			return err
		}
	}
	return nil
}

// AreRuns says that a text is minutes as they are kept.
func AreRuns(text string) bool { return writeRuns(readRuns(text)) == text }

// readRuns reads minutes as they are kept: "0-200 480-510".
func readRuns(text string) []billing.Run {
	var runs []billing.Run
	for field := range strings.FieldsSeq(text) {
		var r billing.Run
		if _, err := fmt.Sscanf(field, "%d-%d", &r.From, &r.To); err == nil {
			runs = append(runs, r)
		}
	}
	return runs
}

func writeRuns(runs []billing.Run) string {
	texts := make([]string, len(runs))
	for i, r := range runs {
		texts[i] = fmt.Sprintf("%d-%d", r.From, r.To)
	}
	return strings.Join(texts, " ")
}

// ToBill is what there is to bill of the work of a part: what is left of it beside others, as it stood before it followed its work.
func (d DraftSource) ToBill() money.Amount { return d.Left + d.Was.Amount - d.Was.Up + d.Was.Down }
