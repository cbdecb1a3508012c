package app

import (
	"cmp"
	"context"
	"strings"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
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

type itemRow struct {
	store.Item
	PaidOn   *calendar.Date
	PaidCost *money.Rate
	Prices   []pricing.ListRow `gorm:"-"`
}

func (r itemRow) on(date calendar.Date) (pricing.Listed, bool) {
	var paid *pricing.Paid
	if r.PaidOn != nil {
		paid = &pricing.Paid{On: *r.PaidOn, Cost: *r.PaidCost}
	}
	return pricing.ListedOn(r.Prices, paid, date)
}

// items reads items with their prices and what was paid for each last up to a date, on other papers than one; itemID 0
// reads all. Of equipment and mileage nothing is paid: what they cost is the company's own rate.
func (s *session) items(itemID int64, date calendar.Date, documentID int64) ([]itemRow, error) {
	rows, err := store.Query[itemRow](s.Tx, `SELECT i.*, l.date AS paid_on, l.unit_cost AS paid_cost FROM items i LEFT JOIN cost_lines l ON i.category NOT IN ('equipment', 'mileage') AND l.id = (
		SELECT p.id FROM cost_lines p WHERE p.item_id = i.id AND p.status = 'approved' AND p.quantity > 0 AND p.date <= ? AND p.document_id <> ? ORDER BY p.date DESC, p.id DESC LIMIT 1)
		WHERE ? IN (0, i.id) ORDER BY i.category, i.code`, date, documentID, itemID)
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

func (s *session) listed(row itemRow, date calendar.Date) Listed {
	l, found := row.on(date)
	if !found {
		return Listed{}
	}
	out := Listed{UnitCost: s.currency.FormatRate(l.Cost), Since: l.Since.String(), Paid: l.Paid}
	if l.Sell != nil {
		out.SellPrice, out.BelowCost = s.currency.FormatRate(*l.Sell), *l.Sell < l.Cost
		if margin, ok := money.Share(money.Amount(*l.Sell-l.Cost), money.Amount(*l.Sell)); ok {
			out.Margin = margin.Places2()
		}
	}
	return out
}

// PriceList lists what is bought and used again and again, with what it costs and sells at on a date; blank is today.
func (a *App) PriceList(ctx context.Context, actor Actor, on string) ([]PricedItem, error) {
	return Read(ctx, a, actor, Costs, func(s *session) ([]PricedItem, error) {
		list := []PricedItem{}
		c := s.checks()
		date := s.today()
		if on != "" {
			date = c.date("on", on)
		}
		if err := c.err(); err != nil {
			return list, err
		}
		rows, err := s.items(0, date, 0)
		for _, r := range rows {
			list = append(list, PricedItem{r.ID, r.Code, r.Description, r.Category, r.Unit, r.Active, s.listed(r, date)})
		}
		return list, err
	})
}

// AddItem puts an item on the price list.
func (a *App) AddItem(ctx context.Context, actor Actor, in NewItem) (int64, error) {
	return Write(ctx, a, actor, Setup, func(s *session) (int64, error) {
		return once(s, "item", in.Key, in, func() (int64, error) { return s.addItem(in) })
	})
}

func (s *session) addItem(in NewItem) (int64, error) {
	c := s.checks()
	row := store.Item{
		Code: c.needed("code", in.Code, "a code"), Description: c.needed("description", in.Description, "what it is"), Category: c.oneOf("category", in.Category, pricing.Categories...),
		Unit: c.text("unit", in.Unit), Active: true,
	}
	taken, err := store.All[store.Item](s.Tx, "id", "code = ? COLLATE NOCASE", row.Code)
	if err != nil {
		return 0, err
	}
	if len(taken) > 0 {
		c.add("code", "%s is on the list already: %s", taken[0].Code, taken[0].Description)
	}
	price := in.read(c)
	if err := c.err(); err != nil {
		return 0, err
	}
	if err := s.Create(&row).Error; err != nil {
		return 0, err
	}
	price.ItemID = row.ID
	if err := s.Create(&price).Error; err != nil {
		return 0, err
	}
	return row.ID, s.record("added", "item", row.ID, nil, in)
}

func (in NewItemPrice) read(c *checks) store.ItemPrice {
	p := store.ItemPrice{
		EffectiveFrom: c.date("effectiveFrom", in.From), UnitCost: parsed(c, "unitCost", in.UnitCost, parseRate), SellPrice: optional(c, "sellPrice", in.SellPrice, parseRate),
	}
	notNegative(c, "unitCost", p.UnitCost, "a cost")
	if p.SellPrice != nil {
		notNegative(c, "sellPrice", *p.SellPrice, "a price")
	}
	return p
}

// AddItemPrice gives an item another cost and price from a date on. What is on papers already stays as it is.
func (a *App) AddItemPrice(ctx context.Context, actor Actor, itemID int64, in NewItemPrice) error {
	return Change(ctx, a, actor, Setup, func(s *session) error {
		_, err := once(s, "item_price", in.PriceKey, []any{itemID, in}, func() (done, error) { return done{}, s.addItemPrice(itemID, in) })
		return err
	})
}

func (s *session) addItemPrice(itemID int64, in NewItemPrice) error {
	c := s.checks()
	row := in.read(c)
	row.ItemID = itemID
	if err := c.err(); err != nil {
		return err
	}
	if _, found, err := store.One[store.Item](s.Tx, itemID); err != nil || !found {
		return orNotFound(err, "item")
	}
	taken, err := store.All[store.ItemPrice](s.Tx, "id", "item_id = ? AND effective_from = ?", itemID, row.EffectiveFrom)
	if err != nil {
		return err
	}
	if len(taken) > 0 {
		return invalid("effectiveFrom", "it has a price from %s already; choose another date", row.EffectiveFrom)
	}
	if err := s.Create(&row).Error; err != nil {
		return err
	}
	return s.record("added a price", "item", itemID, nil, in)
}

// ChangeItem changes what an item is called and whether it is offered.
func (a *App) ChangeItem(ctx context.Context, actor Actor, itemID int64, in ItemChange) error {
	return Change(ctx, a, actor, Setup, func(s *session) error {
		c := s.checks()
		description, unit := c.needed("description", in.Description, "what it is"), c.text("unit", in.Unit)
		if err := c.err(); err != nil {
			return err
		}
		row, found, err := store.One[store.Item](s.Tx, itemID)
		if err != nil || !found {
			return orNotFound(err, "item")
		}
		had := row
		row.Description, row.Unit, row.Active = description, unit, in.Active
		if err := s.Save(&row).Error; err != nil {
			return err
		}
		return s.record("changed", "item", itemID, had, row)
	})
}

// byList fills in what a line leaves to the price list: what it is, its unit, and what the list has on the date of the paper.
// A sell price is taken where the line has neither a price nor a markup of its own.
func (s *session) byList(c *checks, path string, l Line, date calendar.Date) (Line, error) {
	rows, err := s.items(l.ItemID, date, 0)
	if err != nil {
		return l, err
	}
	if len(rows) == 0 {
		c.add(path+"itemId", "this is not on the price list any more; choose it again")
		return l, nil
	}
	item := rows[0]
	l.Description, l.Unit = cmp.Or(strings.TrimSpace(l.Description), item.Description), cmp.Or(l.Unit, item.Unit)
	listed := s.listed(item, date)
	if strings.TrimSpace(l.UnitCost) == "" {
		if l.UnitCost = listed.UnitCost; l.UnitCost == "" {
			c.add(path+"unitCost", "%s has no price on %s yet; type what a unit costs", item.Code, date)
			l.UnitCost = "0" // said already
		}
	}
	if strings.TrimSpace(l.SellPrice) == "" && strings.TrimSpace(l.Markup) == "" {
		l.SellPrice = listed.SellPrice
	}
	return l, nil
}
