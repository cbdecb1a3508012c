package company

import (
	"context"
	"regexp"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/register"
	"jarvo/internal/core/units"
	"jarvo/internal/store"
)

// Unit is a unit of measure of the company's own, as it is typed.
type Unit struct {
	Key     string `json:"key,omitempty" doc:"made by the client for a new one: a retry adds nothing twice"`
	Name    string `json:"name" doc:"as it is written on a paper"`
	Code    string `json:"code" doc:"of the UN's recommendation 20, for e-invoices"`
	Version int64  `json:"version,omitempty" doc:"as it was seen"`
}

// AddUnit adds a unit.
func AddUnit(ctx context.Context, b *book.Book, actor book.Actor, in Unit) (int64, error) {
	return book.Write(ctx, b, actor, book.Setup, func(s *book.Session) (int64, error) {
		return book.Once(s, "unit", in.Key, in, func() (int64, error) {
			row, err := in.read(s, store.Unit{Version: 1})
			if err != nil {
				return 0, err
			}
			if err := s.Create(&row).Error; err != nil {
				return 0, err
			}
			return row.ID, s.Record("added", "unit", row.ID, nil, in)
		})
	})
}

// ChangeUnit changes a unit. What is on papers stays as it was typed.
func ChangeUnit(ctx context.Context, b *book.Book, actor book.Actor, unitID int64, in Unit) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seenUnit(s, unitID, in.Version)
		if err != nil {
			return err
		}
		row, err := in.read(s, had)
		if err != nil {
			return err
		}
		row.Version++
		if err := s.Save(&row).Error; err != nil {
			return err
		}
		return s.Record("changed", "unit", unitID, had, row)
	})
}

// DeleteUnit takes a unit off what is offered. What is on papers stays as it was typed.
func DeleteUnit(ctx context.Context, b *book.Book, actor book.Actor, unitID, version int64) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seenUnit(s, unitID, version)
		if err != nil {
			return err
		}
		if err := s.Delete(&had).Error; err != nil {
			return err
		}
		return s.Record("deleted", "unit", unitID, had, nil)
	})
}

// UnitCode is how a code of recommendation 20 is written.
var UnitCode = regexp.MustCompile(`^[A-Z0-9]{2,3}$`)

// read reads what is typed over a unit.
func (in Unit) read(s *book.Session, row store.Unit) (store.Unit, error) {
	c := s.Checks()
	row.Name, row.Code = c.Needed("name", in.Name, "a name"), strings.ToUpper(c.Text("code", in.Code))
	if !UnitCode.MatchString(row.Code) {
		c.Add("code", "a code of recommendation 20 is two or three letters or figures, such as BX for a box")
	}
	if known, there := units.Find(row.Name); there {
		c.Add("name", "this is there already, as %s: %s", known.Name, known.What)
	}
	same, err := store.All[store.Unit](s.Tx, "id", "name = ? COLLATE NOCASE AND id <> ?", row.Name, row.ID)
	if err != nil {
		return row, err
	}
	if len(same) > 0 {
		c.Add("name", "there is a unit of this name already")
	}
	return row, c.Err()
}

func seenUnit(s *book.Session, unitID, version int64) (store.Unit, error) {
	return register.Seen(s, unitID, version, "unit", func(u store.Unit) int64 { return u.Version })
}
