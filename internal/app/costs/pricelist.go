package costs

import (
	"cmp"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/pricelist"
	"jarvo/internal/core/calendar"
)

// byList fills in what a line leaves to the price list: what it is, its unit, and what the list has on the date of the paper.
// A sell price is taken where the line has neither a price nor a markup of its own.
func byList(s *book.Session, c *form.Checks, path string, l Line, date calendar.Date) (Line, error) {
	rows, err := pricelist.Items(s, l.ItemID, date, 0)
	if err != nil {
		return l, err
	}
	if len(rows) == 0 {
		c.Add(path+"itemId", "this is not on the price list any more; choose it again")
		return l, nil
	}
	item := rows[0]
	l.Description, l.Unit = cmp.Or(strings.TrimSpace(l.Description), item.Description), cmp.Or(l.Unit, item.Unit)
	listed := pricelist.Fitting(s, item, date)
	if strings.TrimSpace(l.UnitCost) == "" {
		if l.UnitCost = listed.UnitCost; l.UnitCost == "" {
			c.Add(path+"unitCost", "%s has no price on %s yet; type what a unit costs", item.Code, date)
			l.UnitCost = "0" // said already
		}
	}
	if strings.TrimSpace(l.SellPrice) == "" && strings.TrimSpace(l.Markup) == "" {
		l.SellPrice = listed.SellPrice
	}
	return l, nil
}
