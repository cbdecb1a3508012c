// Package pricelist keeps the items that are bought again and again, with their dated costs and prices.
package pricelist

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
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
	Version     int64  `json:"version"`
	Listed
	Prices []PriceRow `json:"prices" doc:"all, the newest first"`
}

// PriceRow is a dated price of an item.
type PriceRow struct {
	ID        int64  `json:"id"`
	Version   int64  `json:"version"`
	From      string `json:"effectiveFrom" format:"date"`
	UnitCost  string `json:"unitCost" format:"decimal"`
	SellPrice string `json:"sellPrice,omitempty" format:"decimal"`
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
	Version     int64  `json:"version" doc:"as it was seen"`
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
		if err != nil {
			return list, err
		}
		prices, err := store.All[store.ItemPrice](s.Tx, "item_id, effective_from DESC")
		byItem := map[int64][]PriceRow{}
		for _, p := range prices {
			typed := typedOf(s, p)
			byItem[p.ItemID] = append(byItem[p.ItemID], PriceRow{p.ID, p.Version, typed.From, typed.UnitCost, typed.SellPrice})
		}
		for _, r := range rows {
			list = append(list, PricedItem{
				r.ID, r.Code, r.Description, r.Category, r.Unit, r.Active, r.Version, Fitting(s, r, date), byItem[r.ID],
			})
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
		Unit:     units.Written(c.Text("unit", in.Unit)), Active: true, Version: 1,
	}
	taken, err := store.All[store.Item](s.Tx, "id", "code = ? COLLATE NOCASE", row.Code)
	if err != nil {
		return 0, err
	}
	if len(taken) > 0 {
		c.Add("code", "%s is on the list already: %s", taken[0].Code, taken[0].Description)
	}
	price := in.read(c)
	price.Version = 1
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

// priceOf reads what is typed over a price of an item.
func (in NewItemPrice) priceOf(s *book.Session, had store.ItemPrice) (store.ItemPrice, error) {
	c := s.Checks()
	row := in.read(c)
	row.ID, row.ItemID, row.Version = had.ID, had.ItemID, had.Version+1
	if err := c.Err(); err != nil {
		return row, err
	}
	taken, err := store.All[store.ItemPrice](
		s.Tx, "id", "item_id = ? AND effective_from = ? AND id <> ?", row.ItemID, row.EffectiveFrom, row.ID,
	)
	if err == nil && len(taken) > 0 {
		err = refuse.Invalid("effectiveFrom", "it has a price from %s already; choose another date", row.EffectiveFrom)
	}
	return row, err
}

// PriceChange corrects a price.
type PriceChange struct {
	NewItemPrice
	Version int64 `json:"version" doc:"as it was seen"`
}

// ChangePrice corrects a price of the list. What is on papers already stays as it is: a paper takes the price over when it is typed.
func ChangePrice(ctx context.Context, b *book.Book, actor book.Actor, priceID int64, in PriceChange) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seenPrice(s, priceID, in.Version)
		if err != nil {
			return err
		}
		row, err := in.priceOf(s, had)
		if err != nil {
			return err
		}
		if err := s.Save(&row).Error; err != nil {
			return err
		}
		return s.Record("corrected a price", "item", row.ItemID, typedOf(s, had), typedOf(s, row))
	})
}

// DeletePrice takes a price off the list again, but for the only one that an item has.
func DeletePrice(ctx context.Context, b *book.Book, actor book.Actor, priceID, version int64) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seenPrice(s, priceID, version)
		if err != nil {
			return err
		}
		left, err := store.Value[int64](s.Tx, "SELECT count(*) FROM item_prices WHERE item_id = ?", had.ItemID)
		if err != nil {
			return err
		}
		if left == 1 {
			return refuse.Conflict("this is the only price of the item; correct it, or retire the item")
		}
		if err := s.Delete(&had).Error; err != nil {
			return err
		}
		return s.Record("deleted a price", "item", had.ItemID, typedOf(s, had), nil)
	})
}

func seenPrice(s *book.Session, priceID, version int64) (store.ItemPrice, error) {
	return register.Seen(s, priceID, version, "price", func(p store.ItemPrice) int64 { return p.Version })
}

// typedOf is a price as it is typed, for the history.
func typedOf(s *book.Session, p store.ItemPrice) NewItemPrice {
	typed := NewItemPrice{From: p.EffectiveFrom.String(), UnitCost: s.Currency.FormatRate(p.UnitCost)}
	if p.SellPrice != nil {
		typed.SellPrice = s.Currency.FormatRate(*p.SellPrice)
	}
	return typed
}

func addItemPrice(s *book.Session, itemID int64, in NewItemPrice) error {
	if _, found, err := store.One[store.Item](s.Tx, itemID); err != nil || !found {
		return refuse.OrNotFound(err, "item")
	}
	row, err := in.priceOf(s, store.ItemPrice{ItemID: itemID})
	if err != nil {
		return err
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
		had, err := seen(s, itemID, in.Version)
		if err != nil {
			return err
		}
		row := had
		row.Description, row.Unit, row.Active, row.Version = description, unit, in.Active, had.Version+1
		if err := s.Save(&row).Error; err != nil {
			return err
		}
		return s.Record("changed", "item", itemID, had, row)
	})
}

// Delete deletes an item that is on no paper, with its prices.
func Delete(ctx context.Context, b *book.Book, actor book.Actor, itemID, version int64) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seen(s, itemID, version)
		if err != nil {
			return err
		}
		if err := register.Delete(s, "items", itemID, "item", "retire it instead", [2]string{"item_prices", "item_id"}); err != nil {
			return err
		}
		return s.Record("deleted", "item", itemID, had, nil)
	})
}

func seen(s *book.Session, itemID, version int64) (store.Item, error) {
	return register.Seen(s, itemID, version, "item", func(i store.Item) int64 { return i.Version })
}

// MostLines is how many lines a paper has at most.
const MostLines = 1000
