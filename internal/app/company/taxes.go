package company

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/form"
	"jarvo/internal/app/register"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// TaxCode is a tax code with its components, as it is typed.
type TaxCode struct {
	Key        string    `json:"key,omitempty" doc:"made by the client for a new one: a retry adds nothing twice"`
	Code       string    `json:"code"`
	Kind       string    `json:"kind,omitempty" doc:"standard (where it is blank), zero, exempt or reverse_charge; only a standard one has components"`
	Note       string    `json:"note,omitempty" doc:"printed on invoices"`
	OnRelease  bool      `json:"onRelease,omitempty" doc:"the tax on what is retained is due when that is released"`
	Components []TaxPart `json:"components" maxItems:"60"`
	Version    int64     `json:"version,omitempty" doc:"as it was seen"`
}

// TaxPart is a component of a tax code from a date on.
type TaxPart struct {
	Component string   `json:"component" doc:"as it stands on invoices"`
	From      string   `json:"effectiveFrom,omitempty" doc:"blank: always"`
	Percent   string   `json:"percent"`
	AppliesTo []string `json:"appliesTo" doc:"kinds of cost"`
	Scheme    string   `json:"scheme,omitempty" doc:"by UNCL 5153: STT, LOC, GST, VAT or OTH; blank: that of the country"`
}

// When the tax on what is retained is due.
const (
	withInvoice = "with_invoice"
	onRelease   = "on_release"
)

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
	row.Code, row.Note = c.Needed("code", in.Code, "a code"), c.Text("note", in.Note)
	row.Kind = c.OneOf("kind", cmp.Or(in.Kind, string(billing.Standard)), words.Texts(billing.TaxKinds)...)
	row.RetainageTax = withInvoice
	if in.OnRelease {
		row.RetainageTax = onRelease
	}
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
	switch standard := cmp.Or(in.Kind, string(billing.Standard)) == string(billing.Standard); {
	case standard && len(in.Components) == 0:
		c.Add("components", "a tax code has at least one component")
	case !standard && len(in.Components) > 0:
		c.Add("components", "only a standard tax code has components; remove these, or choose another kind")
	}
	parts := make([]store.TaxComponent, len(in.Components))
	type version struct {
		component string
		from      calendar.Date
	}
	known := map[version]bool{}
	for i, p := range in.Components {
		path := fmt.Sprintf("components[%d].", i)
		row := store.TaxComponent{
			Component: c.Needed(path+"component", p.Component, "a name"), Percent: form.Parsed(c, path+"percent", p.Percent, form.ParsePercent),
		}
		form.NotNegative(c, path+"percent", row.Percent, "a tax")
		v := version{component: row.Component}
		if p.From != "" {
			v.from = c.Date(path+"effectiveFrom", p.From)
			row.EffectiveFrom = &v.from
		}
		if known[v] {
			c.Add(path+"component", "there is a component %s from the same date above", row.Component)
		}
		known[v] = true
		if len(p.AppliesTo) == 0 {
			c.Add(path+"appliesTo", "choose what it is on")
		}
		for _, category := range p.AppliesTo {
			c.OneOf(path+"appliesTo", category, billing.Categories...)
		}
		kinds := slices.DeleteFunc(slices.Clone(billing.Categories), func(k string) bool { return !slices.Contains(p.AppliesTo, k) })
		row.AppliesTo = strings.Join(kinds, " ")
		if p.Scheme != "" {
			row.Scheme = c.OneOf(path+"scheme", p.Scheme, billing.TaxSchemes...)
		}
		parts[i] = row
	}
	return parts
}
