// Package suppliers keeps who things are bought from: adds, changes and retires suppliers, and merges doubles.
package suppliers

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/form"
	"jarvo/internal/app/register"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/pricing"
	"jarvo/internal/store"
)

// NewSupplier is who things are bought from.
type NewSupplier struct {
	Key       string `json:"key,omitempty"`
	Name      string `json:"name"`
	Category  string `json:"category,omitempty" doc:"of what is usually bought; blank: as it was lately"`
	CostCode  string `json:"costCode,omitempty" doc:"code of a cost code that is usual; blank: as it was lately"`
	TermsDays string `json:"termsDays,omitempty" doc:"days after its date that an invoice is due; blank: not known"`
}

// SupplierChange is a supplier as it is to be.
type SupplierChange struct {
	NewSupplier
	Version int64 `json:"version" doc:"as it was seen"`
	Active  bool  `json:"active" doc:"offered; a retired one stays on its papers"`
}

// SupplierRow is a supplier in a list.
type SupplierRow struct {
	ID        int64  `json:"id"`
	Name      string `json:"name"`
	Category  string `json:"category,omitempty"`
	CostCode  string `json:"costCode,omitempty" doc:"its code"`
	TermsDays string `json:"termsDays,omitempty"`
	Active    bool   `json:"active"`
	Version   int64  `json:"version"`
	Papers    int64  `json:"papers"`
	Last      string `json:"last,omitempty" format:"date" doc:"of its last paper"`
}

// List lists the suppliers by name, with what they have.
func List(ctx context.Context, b *book.Book, actor book.Actor) ([]SupplierRow, error) {
	return book.Read(ctx, b, actor, book.Costs, func(s *book.Session) ([]SupplierRow, error) {
		list := []SupplierRow{}
		type row struct {
			store.Supplier
			CostCode string
			Papers   int64
			Last     *calendar.Date
		}
		rows, err := store.Query[row](s.Tx, supplierRows)
		for _, r := range rows {
			out := SupplierRow{
				ID: r.ID, Name: r.Name, Category: r.Category, CostCode: r.CostCode, TermsDays: form.Days(r.TermsDays), Active: r.Active,
				Version: r.Version, Papers: r.Papers,
			}
			if r.Last != nil {
				out.Last = r.Last.String()
			}
			list = append(list, out)
		}
		return list, err
	})
}

// Add adds a supplier.
func Add(ctx context.Context, b *book.Book, actor book.Actor, in NewSupplier) (int64, error) {
	return book.Write(ctx, b, actor, book.Setup, func(s *book.Session) (int64, error) {
		return book.Once(s, "supplier", in.Key, in, func() (int64, error) {
			row, err := in.read(s, store.Supplier{Active: true, Version: 1})
			if err != nil {
				return 0, err
			}
			if err := s.Create(&row).Error; err != nil {
				return 0, err
			}
			return row.ID, s.Record("added", "supplier", row.ID, nil, in)
		})
	})
}

// read reads what is typed over a supplier.
func (in NewSupplier) read(s *book.Session, row store.Supplier) (store.Supplier, error) {
	c := s.Checks()
	row.Name = c.Needed("name", in.Name, "a name")
	row.Category = in.Category
	if in.Category != "" {
		row.Category = c.OneOf("category", in.Category, pricing.Categories...)
	}
	row.TermsDays = form.Optional(c, "termsDays", in.TermsDays, form.WholeDays)
	same, found, err := register.FindSupplier(s, row.Name)
	if err != nil {
		return row, err
	}
	if found && same.ID != row.ID {
		c.Add("name", "there is a supplier of this name already; merge them where they are one")
	}
	if err := c.Err(); err != nil {
		return row, err
	}
	row.CostCodeID, err = register.Existing(s, "cost_codes", "costCode", in.CostCode)
	return row, err
}

// Change changes a supplier. A new name is on all of its papers; what was billed keeps the words that it was billed with.
func Change(ctx context.Context, b *book.Book, actor book.Actor, supplierID int64, in SupplierChange) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seen(s, supplierID, in.Version)
		if err != nil {
			return err
		}
		now, err := in.read(s, had)
		if err != nil {
			return err
		}
		now.Active, now.Version = in.Active, had.Version+1
		if err := s.Save(&now).Error; err != nil {
			return err
		}
		if now.Name != had.Name {
			if err := renamed(s, supplierID, had.Name, now.Name); err != nil {
				return err
			}
		}
		return s.Record("changed", "supplier", supplierID, had, now)
	})
}

// renamed moves what goes by a supplier's name: loose ends that were set aside, and drafts that name it.
func renamed(s *book.Session, supplierID int64, from, to string) error {
	if err := moveAside(s, supplierID, from, to); err != nil {
		return err
	}
	step := costing.Begin(s)
	if err := step.DraftsOf(draftsNaming, supplierID); err != nil {
		return err
	}
	return step.Run()
}

func moveAside(s *book.Session, supplierID int64, from, to string) error {
	return s.Exec(moveSetAside, map[string]any{"supplier": supplierID, "from": from, "to": to}).Error
}

// MergeInto makes two suppliers one: the papers of the one that goes are the other's. It can't be undone.
func MergeInto(ctx context.Context, b *book.Book, actor book.Actor, supplierID int64, in register.Merge) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		from, into, err := register.ToMerge(s, supplierID, in, seen)
		if err != nil {
			return err
		}
		if err := moveAside(s, supplierID, from.Name, into.Name); err != nil {
			return err
		}
		if err := s.Run(movePapers, into.ID, from.ID); err != nil {
			return err
		}
		if err := s.Delete(&from).Error; err != nil {
			return err
		}
		step := costing.Begin(s)
		if err := step.DraftsOf(draftsNaming, into.ID); err != nil {
			return err
		}
		if err := step.Run(); err != nil {
			return err
		}
		if err := s.Record("merged into "+into.Name, "supplier", from.ID, from, nil); err != nil {
			return err
		}
		return s.Record("took over the papers of "+from.Name, "supplier", into.ID, nil, nil)
	})
}

// Delete deletes a supplier that has no paper.
func Delete(ctx context.Context, b *book.Book, actor book.Actor, supplierID, version int64) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seen(s, supplierID, version)
		if err != nil {
			return err
		}
		if err := register.Delete(s, "suppliers", supplierID, "supplier", "retire it, or merge it into another"); err != nil {
			return err
		}
		return s.Record("deleted", "supplier", supplierID, had, nil)
	})
}

func seen(s *book.Session, supplierID, version int64) (store.Supplier, error) {
	return register.Seen(s, supplierID, version, "supplier", func(r store.Supplier) int64 { return r.Version })
}
