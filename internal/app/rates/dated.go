package rates

import (
	"context"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

// dated is a kind of dated row. Each is added, corrected and taken away in one way: what rests on it and is not billed is costed again,
// and a row that billed work rests on stays as it is.
type dated[R any] struct {
	kind    string // in the history
	what    string // in a sentence
	id      func(*R) *int64
	version func(*R) *int64
	rests   func(*book.Session, R) (bool, error)
	// marks tells the costing step what may rest on a row.
	marks func(*costing.Step, R) error
}

var (
	wages = dated[store.Wage]{
		kind: "wage", what: "this wage", rests: costing.RestsOnWage,
		id: func(r *store.Wage) *int64 { return &r.ID }, version: func(r *store.Wage) *int64 { return &r.Version },
		marks: func(t *costing.Step, r store.Wage) error {
			return t.Hours("e.worker_id = ? AND e.date >= ?", r.WorkerID, r.EffectiveFrom)
		},
	}
	burdens = dated[store.Burden]{
		kind: "burden", what: "this component", rests: costing.RestsOnBurden,
		id: func(r *store.Burden) *int64 { return &r.ID }, version: func(r *store.Burden) *int64 { return &r.Version },
		marks: func(t *costing.Step, r store.Burden) error {
			return t.Hours("w.burden_class_id = ? AND e.date >= ?", r.BurdenClassID, r.EffectiveFrom)
		},
	}
	labourRates = dated[store.LabourRate]{
		kind: "labour_rate", what: "this rate", rests: costing.RestsOnRate,
		id: func(r *store.LabourRate) *int64 { return &r.ID }, version: func(r *store.LabourRate) *int64 { return &r.Version },
		marks: func(t *costing.Step, r store.LabourRate) error {
			worker, trade := store.ID(r.WorkerID), store.ID(r.TradeID)
			return t.PricedHours("e.date >= ? AND (? = 0 OR e.worker_id = ?) AND (? = 0 OR w.trade_id = ?)",
				r.EffectiveFrom, worker, worker, trade, trade)
		},
	}
	markups = dated[store.Markup]{
		kind: "markup", what: "this markup", rests: costing.RestsOnMarkup,
		id: func(r *store.Markup) *int64 { return &r.ID }, version: func(r *store.Markup) *int64 { return &r.Version },
		marks: func(t *costing.Step, r store.Markup) error {
			return t.PricedLines("l.date >= ? AND l.category = ?", r.EffectiveFrom, r.Category)
		},
	}
)

// add adds the row that is read, once for a key.
func (d dated[R]) add(
	ctx context.Context, b *book.Book, actor book.Actor, key string, in any, read func(*book.Session) (R, error),
) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		_, err := book.Once(s, d.kind, key, in, func() (book.Done, error) {
			row, err := read(s)
			if err != nil {
				return book.Done{}, err
			}
			*d.version(&row) = 1
			if err := s.Create(&row).Error; err != nil {
				return book.Done{}, err
			}
			if err := d.cost(s, row); err != nil {
				return book.Done{}, err
			}
			return book.Done{}, s.Record("added", d.kind, *d.id(&row), nil, in)
		})
		return err
	})
}

// change corrects a row, on the version that was seen.
func (d dated[R]) change(
	ctx context.Context, b *book.Book, actor book.Actor, rowID, version int64, in any, read func(*book.Session, R) (R, error),
) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := d.free(s, rowID, version)
		if err != nil {
			return err
		}
		row, err := read(s, had)
		if err != nil {
			return err
		}
		*d.version(&row) = version + 1
		if err := s.Save(&row).Error; err != nil {
			return err
		}
		if err := d.cost(s, had, row); err != nil {
			return err
		}
		return s.Record("corrected", d.kind, rowID, had, in)
	})
}

// drop takes a row away, on the version that was seen.
func (d dated[R]) drop(ctx context.Context, b *book.Book, actor book.Actor, rowID, version int64) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := d.free(s, rowID, version)
		if err != nil {
			return err
		}
		if err := s.Delete(&had).Error; err != nil {
			return err
		}
		if err := d.cost(s, had); err != nil {
			return err
		}
		return s.Record("deleted", d.kind, rowID, had, nil)
	})
}

// free is a row that can be corrected: it is as it was seen, and no billed work rests on it.
func (d dated[R]) free(s *book.Session, rowID, version int64) (had R, _ error) {
	had, found, err := store.One[R](s.Tx, rowID)
	if err != nil || !found {
		return had, refuse.OrNotFound(err, strings.TrimPrefix(d.what, "this "))
	}
	if *d.version(&had) != version {
		return had, refuse.Conflict("somebody else has changed %s since you opened it; look at it again", d.what)
	}
	rests, err := d.rests(s, had)
	if err == nil && rests {
		err = refuse.Conflict("billed work rests on %s, so it stays; add another one with a later date", d.what)
	}
	return had, err
}

// cost costs what may rest on some rows again.
func (d dated[R]) cost(s *book.Session, rows ...R) error {
	book.Forget[*ratebook.Book](s)
	step := costing.Begin(s)
	for _, row := range rows {
		if err := d.marks(step, row); err != nil {
			return err
		}
	}
	return step.Run()
}
