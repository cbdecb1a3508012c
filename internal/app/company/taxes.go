package company

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/form"
	"jarvo/internal/app/register"
	"jarvo/internal/core/billing"
	"jarvo/internal/store"
)

// TaxCode is a tax code with its components, as it is typed.
type TaxCode struct {
	Key        string    `json:"key,omitempty" doc:"made by the client for a new one: a retry adds nothing twice"`
	Code       string    `json:"code"`
	Components []TaxPart `json:"components" maxItems:"20"`
	Version    int64     `json:"version,omitempty" doc:"as it was seen"`
}

// TaxPart is a component of a tax code.
type TaxPart struct {
	Component string   `json:"component" doc:"as it stands on invoices"`
	Percent   string   `json:"percent"`
	AppliesTo []string `json:"appliesTo" doc:"kinds of cost"`
}

// AddTaxCode adds a tax code.
func AddTaxCode(ctx context.Context, b *book.Book, actor book.Actor, in TaxCode) (int64, error) {
	return book.Write(ctx, b, actor, book.Setup, func(s *book.Session) (int64, error) {
		return book.Once(s, "tax_code", in.Key, in, func() (int64, error) {
			row := store.TaxCode{Version: 1}
			err := in.save(s, &row, "added", nil)
			return row.ID, err
		})
	})
}

// ChangeTaxCode changes a tax code and its components: drafts are laid out again, issued invoices stay.
func ChangeTaxCode(ctx context.Context, b *book.Book, actor book.Actor, codeID int64, in TaxCode) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seenTax(s, codeID, in.Version)
		if err != nil {
			return err
		}
		row := had
		row.Version++
		return in.save(s, &row, "changed", had)
	})
}

// DeleteTaxCode deletes a tax code that no job, no customer and not the company has.
func DeleteTaxCode(ctx context.Context, b *book.Book, actor book.Actor, codeID, version int64) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seenTax(s, codeID, version)
		if err != nil {
			return err
		}
		if err := register.Delete(
			s, "tax_codes", codeID, "tax code", "give those that have it another one first", [2]string{"tax_components", "tax_code_id"},
		); err != nil {
			return err
		}
		return s.Record("deleted", "tax_code", codeID, had, nil)
	})
}

func seenTax(s *book.Session, codeID, version int64) (store.TaxCode, error) {
	return register.Seen(s, codeID, version, "tax code", func(c store.TaxCode) int64 { return c.Version })
}

// save saves a tax code with what is typed of it.
func (in TaxCode) save(s *book.Session, row *store.TaxCode, action string, had any) error {
	c := s.Checks()
	row.Code = c.Needed("code", in.Code, "a code")
	taken, err := store.All[store.TaxCode](s.Tx, "id", "code = ? AND id <> ?", row.Code, row.ID)
	if err != nil {
		return err
	}
	if len(taken) > 0 {
		c.Add("code", "there is a tax code %s already", row.Code)
	}
	parts := in.read(c)
	if err := c.Err(); err != nil {
		return err
	}
	if err := s.Save(row).Error; err != nil {
		return err
	}
	if err := s.Run("DELETE FROM tax_components WHERE tax_code_id = ?", row.ID); err != nil {
		return err
	}
	for i := range parts {
		parts[i].TaxCodeID = row.ID
		if err := s.Create(&parts[i]).Error; err != nil {
			return err
		}
	}
	step := costing.Begin(s)
	if err := step.DraftsOf("1 = 1"); err != nil {
		return err
	}
	if err := step.Run(); err != nil {
		return err
	}
	return s.Record(action, "tax_code", row.ID, had, in)
}

func (in TaxCode) read(c *form.Checks) []store.TaxComponent {
	if len(in.Components) == 0 {
		c.Add("components", "a tax code has at least one component")
	}
	parts := make([]store.TaxComponent, len(in.Components))
	known := map[string]bool{}
	for i, p := range in.Components {
		path := fmt.Sprintf("components[%d].", i)
		row := store.TaxComponent{
			Component: c.Needed(path+"component", p.Component, "a name"), Percent: form.Parsed(c, path+"percent", p.Percent, form.ParsePercent),
		}
		form.NotNegative(c, path+"percent", row.Percent, "a tax")
		if known[row.Component] {
			c.Add(path+"component", "there is a component %s above", row.Component)
		}
		known[row.Component] = true
		if len(p.AppliesTo) == 0 {
			c.Add(path+"appliesTo", "choose what it is on")
		}
		for _, category := range p.AppliesTo {
			c.OneOf(path+"appliesTo", category, billing.Categories...)
		}
		kinds := slices.DeleteFunc(slices.Clone(billing.Categories), func(k string) bool { return !slices.Contains(p.AppliesTo, k) })
		row.AppliesTo = strings.Join(kinds, " ")
		parts[i] = row
	}
	return parts
}
