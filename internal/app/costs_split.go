package app

import (
	"context"
	"fmt"

	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/store"
)

// SplitLine is a cost line that is spread over jobs: equally, by percent, or by amounts that are given.
type SplitLine struct {
	Date  string      `json:"date" format:"date" doc:"of the document, for the markup"`
	Line  Line        `json:"line"`
	How   string      `json:"how" enum:"equally,percent,amount"`
	Parts []SplitPart `json:"parts"`
}

// SplitPart is one share of a line.
type SplitPart struct {
	JobID      int64  `json:"jobId,omitempty"`
	PhaseID    int64  `json:"phaseId,omitempty"`
	CostCodeID int64  `json:"costCodeId,omitempty"`
	Share      string `json:"share,omitempty" doc:"percent or amount; absent where it is split equally"`
}

// SplitCostLine spreads a line over jobs, each share a line of its own. Their bases add up to that of the line, to the minor unit
// (calculation.md section 1, spreading); nothing is saved. The markup stays what the whole line has, since a band goes by the
// cost a unit, and a share is one unit. Errors are at parts[i].share.
func (a *App) SplitCostLine(ctx context.Context, actor Actor, in SplitLine) ([]Line, error) {
	return Read(ctx, a, actor, Costs, func(s *session) ([]Line, error) {
		lines := []Line{}
		c := s.checks()
		date := c.date("date", in.Date)
		whole, err := s.readLine(c, "line.", in.Line, date)
		if err != nil {
			return lines, err
		}
		if len(in.Parts) < 2 {
			c.add("parts", "a line is split over two jobs or more")
		}
		if err := c.err(); err != nil {
			return lines, err
		}
		base, err := s.currency.ForQuantity(whole.Quantity, whole.UnitCost)
		if err != nil {
			return lines, invalid("line.quantity", "%s", err)
		}
		shares := s.shares(c, in, base)
		if err := c.err(); err != nil {
			return lines, err
		}
		price, err := s.splitPrice(whole, shares)
		if err != nil {
			return lines, err
		}
		markup, err := s.markupOf(whole, store.CostDocument{Date: date})
		if err != nil {
			return lines, err
		}
		sign := money.Amount(1)
		if whole.Quantity < 0 { // a return stays one
			sign = -1
		}
		for i, part := range in.Parts {
			line := in.Line
			line.ID, line.ItemID, line.Quantity, line.Unit, line.UnitCost = 0, 0, "1", "share", s.money(shares[i]*sign)
			if sign < 0 {
				line.Quantity = "-1"
			}
			line.Description = fmt.Sprintf("%s (%d of %d)", whole.Description, i+1, len(in.Parts))
			line.JobID, line.PhaseID, line.CostCodeID = part.JobID, part.PhaseID, part.CostCodeID
			if price != nil {
				line.SellPrice = s.money(price[i] * sign)
			} else if line.Markup == "" && markup != nil {
				line.Markup = markup.String()
			}
			lines = append(lines, line)
		}
		return lines, nil
	})
}

// shares are the amounts of the parts; they add up to the whole.
func (s *session) shares(c *checks, in SplitLine, whole money.Amount) []money.Amount {
	weights := make([]int64, len(in.Parts))
	var given money.Amount
	var percent money.Percent
	for i, part := range in.Parts {
		path := fmt.Sprintf("parts[%d].share", i)
		switch in.How {
		case "percent":
			p := parsed(c, path, part.Share, parsePercent)
			notNegative(c, path, p, "a share")
			percent, weights[i] = percent+p, int64(p)
		case "amount":
			amount := parsed(c, path, part.Share, s.parseAmount)
			given, weights[i] = given+amount, int64(amount)
		default:
			weights[i] = 1
		}
	}
	last := fmt.Sprintf("parts[%d].share", len(in.Parts)-1)
	switch {
	case len(c.fields) > 0:
	case in.How == "percent" && percent != money.Whole:
		c.add(last, "the shares are %s %% together; they must be 100 %%", percent)
	case in.How == "amount" && given != whole:
		c.add(last, "the shares are %s together; the line is %s, so %s is left", s.money(given), s.money(whole), s.money(whole-given))
	case in.How == "amount":
		amounts := make([]money.Amount, len(weights))
		for i, w := range weights {
			amounts[i] = money.Amount(w)
		}
		return amounts
	}
	if len(c.fields) > 0 {
		return nil
	}
	return money.Spread(whole, weights)
}

// splitPrice spreads what a line with a sell price of its own is charged over the shares of its cost; nil where it has none.
func (s *session) splitPrice(whole store.CostLine, shares []money.Amount) ([]money.Amount, error) {
	if whole.SellPrice == nil {
		return nil, nil
	}
	charge, err := s.currency.ForQuantity(whole.Quantity, *whole.SellPrice)
	if err != nil {
		return nil, invalid("line.sellPrice", "%s", err)
	}
	weights := make([]int64, len(shares))
	for i, share := range shares {
		weights[i] = max(int64(share), -int64(share))
	}
	return money.Spread(charge, weights), nil
}

// markupOf is the markup that the cards have for a line; nil where none has.
func (s *session) markupOf(l store.CostLine, d store.CostDocument) (*money.Percent, error) {
	priced, err := s.price(l)
	if err != nil {
		return nil, err
	}
	book, err := s.rates()
	if err != nil {
		return nil, err
	}
	row, _, found := pricing.FindMarkup(book.chain(priced.ChargedBy), l.Category, d.Date, l.UnitCost)
	if !found {
		return nil, nil
	}
	return &row.Percent, nil
}

// Habit is what is usually bought from a supplier.
type Habit struct {
	Category   string `json:"category,omitempty"`
	CostCodeID int64  `json:"costCodeId,omitempty"`
}

// lastLines is how far back a supplier's habit is looked for.
const lastLines = 50

// SupplierHabit is the kind of cost and the cost code that a supplier's last lines mostly have.
func (a *App) SupplierHabit(ctx context.Context, actor Actor, supplier string) (Habit, error) {
	return Read(ctx, a, actor, Costs, func(s *session) (habit Habit, _ error) {
		habits, err := store.Query[Habit](s.Tx, `SELECT category, ifnull(cost_code_id, 0) AS cost_code_id FROM (
			SELECT l.category, l.cost_code_id FROM cost_documents d JOIN cost_lines l ON l.document_id = d.id WHERE d.supplier = ? ORDER BY l.id DESC LIMIT ?)
			GROUP BY category, cost_code_id ORDER BY count(*) DESC LIMIT 1`, supplier, lastLines)
		if len(habits) > 0 {
			habit = habits[0]
		}
		return habit, err
	})
}
