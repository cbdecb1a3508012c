// Package pricelist keeps the items that are bought again and again, with their dated costs and prices.
package pricelist

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/units"
	"jarvo/internal/store"
)

// PricedItem is an item of the price list with what it costs and sells at on a date.
type PricedItem struct {
	ID          int64  `json:"id"`
	Code        string `json:"code"`
	Description string `json:"description"`
	Category    string `json:"category"`
	Unit        string `json:"unit"`
	Active      bool   `json:"active" doc:"offered while typing"`
	Listed
}

// Listed is what the price list says of an item on a date; blank where it says nothing yet.
type Listed struct {
	UnitCost  string `json:"unitCost,omitempty" format:"decimal" doc:"what a unit usually costs"`
	SellPrice string `json:"sellPrice,omitempty" format:"decimal" doc:"what a unit sells at; absent where it goes by markup"`
	Margin    string `json:"margin,omitempty" format:"decimal" doc:"of the sell price, in percent"`
	BelowCost bool   `json:"belowCost,omitempty" doc:"it sells for less than it costs"`
	Since     string `json:"since,omitempty" format:"date"`
	Paid      bool   `json:"paid,omitempty" doc:"the cost is what was paid last"`
}

// NewItem is an item for the price list, with its first price.
type NewItem struct {
	Key         string `json:"key,omitempty" doc:"made by the client"`
	Code        string `json:"code"`
	Description string `json:"description"`
	Category    string `json:"category"`
	Unit        string `json:"unit,omitempty"`
	NewItemPrice
}

// NewItemPrice is what an item costs and sells at from a date on.
type NewItemPrice struct {
	PriceKey  string `json:"priceKey,omitempty" doc:"made by the client, for a price alone: a retry adds nothing twice"`
	From      string `json:"effectiveFrom" format:"date"`
	UnitCost  string `json:"unitCost"`
	SellPrice string `json:"sellPrice,omitempty" doc:"blank: by markup"`
}

// ItemChange changes what an item is called, or takes it off what is offered.
type ItemChange struct {
	Description string `json:"description"`
	Unit        string `json:"unit"`
	Active      bool   `json:"active"`
}

// ItemRow is an item with its prices.
type ItemRow struct {
	store.Item
	PaidOn   *calendar.Date
	PaidCost *money.Rate
	Prices   []pricing.ListRow `gorm:"-"`
}

// On is the price of a date; false where there is none yet.
func (r ItemRow) On(date calendar.Date) (pricing.Listed, bool) {
	var paid *pricing.Paid
	if r.PaidOn != nil {
		paid = &pricing.Paid{On: *r.PaidOn, Cost: *r.PaidCost}
	}
	return pricing.ListedOn(r.Prices, paid, date)
}

// Items reads items with their prices and what was paid for each last up to a date, on other papers than one; itemID 0
// reads all. Of equipment and mileage nothing is paid: what they cost is the company's own rate.
func Items(s *book.Session, itemID int64, date calendar.Date, documentID int64) ([]ItemRow, error) {
	rows, err := store.Query[ItemRow](s.Tx, pricedItems, date, documentID, itemID)
	if err != nil {
		return nil, err
	}
	prices, err := store.All[store.ItemPrice](s.Tx, "item_id, effective_from", "? IN (0, item_id)", itemID)
	byItem := map[int64][]pricing.ListRow{}
	for _, p := range prices {
		byItem[p.ItemID] = append(byItem[p.ItemID], pricing.ListRow{From: p.EffectiveFrom, Cost: p.UnitCost, Sell: p.SellPrice})
	}
	for i := range rows {
		rows[i].Prices = byItem[rows[i].ID]
	}
	return rows, err
}

// Fitting is an item as a line of a date takes it over.
func Fitting(s *book.Session, row ItemRow, date calendar.Date) Listed {
	l, found := row.On(date)
	if !found {
		return Listed{}
	}
	out := Listed{UnitCost: s.Currency.FormatRate(l.Cost), Since: l.Since.String(), Paid: l.Paid}
	if l.Sell != nil {
		out.SellPrice, out.BelowCost = s.Currency.FormatRate(*l.Sell), *l.Sell < l.Cost
		if margin, ok := money.Share(money.Amount(*l.Sell-l.Cost), money.Amount(*l.Sell)); ok {
			out.Margin = margin.Places2()
		}
	}
	return out
}

// List lists what is bought and used again and again, with what it costs and sells at on a date; blank is today.
func List(ctx context.Context, b *book.Book, actor book.Actor, on string) ([]PricedItem, error) {
	return book.Read(ctx, b, actor, book.Costs, func(s *book.Session) ([]PricedItem, error) {
		list := []PricedItem{}
		c := s.Checks()
		date := s.Today()
		if on != "" {
			date = c.Date("on", on)
		}
		if err := c.Err(); err != nil {
			return list, err
		}
		rows, err := Items(s, 0, date, 0)
		for _, r := range rows {
			list = append(list, PricedItem{r.ID, r.Code, r.Description, r.Category, r.Unit, r.Active, Fitting(s, r, date)})
		}
		return list, err
	})
}

// Add puts an item on the price list.
func Add(ctx context.Context, b *book.Book, actor book.Actor, in NewItem) (int64, error) {
	return book.Write(ctx, b, actor, book.Setup, func(s *book.Session) (int64, error) {
		return book.Once(s, "item", in.Key, in, func() (int64, error) { return addItem(s, in) })
	})
}

func addItem(s *book.Session, in NewItem) (int64, error) {
	c := s.Checks()
	row := store.Item{
		Code: c.Needed("code", in.Code, "a code"), Description: c.Needed("description", in.Description, "what it is"),
		Category: c.OneOf("category", in.Category, pricing.Categories...),
		Unit:     units.Written(c.Text("unit", in.Unit)), Active: true,
	}
	taken, err := store.All[store.Item](s.Tx, "id", "code = ? COLLATE NOCASE", row.Code)
	if err != nil {
		return 0, err
	}
	if len(taken) > 0 {
		c.Add("code", "%s is on the list already: %s", taken[0].Code, taken[0].Description)
	}
	price := in.read(c)
	if err := c.Err(); err != nil {
		return 0, err
	}
	if err := s.Create(&row).Error; err != nil {
		return 0, err
	}
	price.ItemID = row.ID
	if err := s.Create(&price).Error; err != nil {
		return 0, err
	}
	return row.ID, s.Record("added", "item", row.ID, nil, in)
}

func (in NewItemPrice) read(c *form.Checks) store.ItemPrice {
	p := store.ItemPrice{
		EffectiveFrom: c.Date("effectiveFrom", in.From), UnitCost: form.Parsed(c, "unitCost", in.UnitCost, form.ParseRate),
		SellPrice: form.Optional(c, "sellPrice", in.SellPrice, form.ParseRate),
	}
	form.NotNegative(c, "unitCost", p.UnitCost, "a cost")
	if p.SellPrice != nil {
		form.NotNegative(c, "sellPrice", *p.SellPrice, "a price")
	}
	return p
}

// AddPrice gives an item another cost and price from a date on. What is on papers already stays as it is.
func AddPrice(ctx context.Context, b *book.Book, actor book.Actor, itemID int64, in NewItemPrice) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		_, err := book.Once(
			s, "item_price", in.PriceKey, []any{itemID, in}, func() (book.Done, error) { return book.Done{}, addItemPrice(s, itemID, in) },
		)
		return err
	})
}

func addItemPrice(s *book.Session, itemID int64, in NewItemPrice) error {
	c := s.Checks()
	row := in.read(c)
	row.ItemID = itemID
	if err := c.Err(); err != nil {
		return err
	}
	if _, found, err := store.One[store.Item](s.Tx, itemID); err != nil || !found {
		return refuse.OrNotFound(err, "item")
	}
	taken, err := store.All[store.ItemPrice](s.Tx, "id", "item_id = ? AND effective_from = ?", itemID, row.EffectiveFrom)
	if err != nil {
		return err
	}
	if len(taken) > 0 {
		return refuse.Invalid("effectiveFrom", "it has a price from %s already; choose another date", row.EffectiveFrom)
	}
	if err := s.Create(&row).Error; err != nil {
		return err
	}
	return s.Record("added a price", "item", itemID, nil, in)
}

// Change changes what an item is called and whether it is offered.
func Change(ctx context.Context, b *book.Book, actor book.Actor, itemID int64, in ItemChange) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		c := s.Checks()
		description, unit := c.Needed("description", in.Description, "what it is"), units.Written(c.Text("unit", in.Unit))
		if err := c.Err(); err != nil {
			return err
		}
		row, found, err := store.One[store.Item](s.Tx, itemID)
		if err != nil || !found {
			return refuse.OrNotFound(err, "item")
		}
		had := row
		row.Description, row.Unit, row.Active = description, unit, in.Active
		if err := s.Save(&row).Error; err != nil {
			return err
		}
		return s.Record("changed", "item", itemID, had, row)
	})
}

// MostLines is how many lines a paper has at most.
const MostLines = 1000
