package pricing

import (
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
)

// ListRow is one version of what an item of the price list costs a unit and sells at.
type ListRow struct {
	From calendar.Date
	Cost money.Rate
	Sell *money.Rate // nil: charged by markup
}

// Paid is what was paid for a unit of an item, last.
type Paid struct {
	On   calendar.Date
	Cost money.Rate
}

// Listed is what an item costs and sells at on a date.
type Listed struct {
	Cost  money.Rate
	Sell  *money.Rate
	Since calendar.Date
	Paid  bool // the cost is what was paid last, and not a row of the list
}

// ListedOn finds what an item costs and sells at on a date (calculation.md section 6, the price list): of its rows the
// latest on or before it; the cost is what was paid last where that is no older than the row. The sell price is always
// the row's. Found is false where there is neither a row nor a payment on or before the date.
func ListedOn(rows []ListRow, paid *Paid, on calendar.Date) (listed Listed, found bool) {
	for _, r := range rows {
		if r.From <= on && (!found || r.From > listed.Since) {
			listed, found = Listed{Cost: r.Cost, Sell: r.Sell, Since: r.From}, true
		}
	}
	if paid != nil && paid.On <= on && (!found || paid.On >= listed.Since) {
		listed.Cost, listed.Since, listed.Paid, found = paid.Cost, paid.On, true, true
	}
	return listed, found
}
