package costs

import (
	"cmp"
	"context"
	"fmt"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
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

// Split spreads a line over jobs, each share a line of its own. Their bases add up to that of the line, to the minor unit
// (calculation.md section 1, spreading); nothing is saved. The markup stays what the whole line has, since a band goes by the
// cost a unit, and a share is one unit. Errors are at parts[i].share.
func Split(ctx context.Context, b *book.Book, actor book.Actor, in SplitLine) ([]Line, error) {
	return book.Read(ctx, b, actor, book.Costs, func(s *book.Session) ([]Line, error) {
		lines := []Line{}
		c := s.Checks()
		date := c.Date("date", in.Date)
		whole, err := readLine(s, c, "line.", in.Line, date)
		if err != nil {
			return lines, err
		}
		if len(in.Parts) < 2 {
			c.Add("parts", "a line is split over two jobs or more")
		}
		if err := c.Err(); err != nil {
			return lines, err
		}
		base, err := s.Currency.ForQuantity(whole.Quantity, whole.UnitCost)
		if err != nil {
			return lines, refuse.Invalid("line.quantity", "%s", err)
		}
		shares := shares(s, c, in, base)
		if err := c.Err(); err != nil {
			return lines, err
		}
		price, err := splitPrice(s, whole, shares)
		if err != nil {
			return lines, err
		}
		markup, err := markupOf(s, whole, store.CostDocument{Date: date})
		if err != nil {
			return lines, err
		}
		sign := money.Amount(1)
		if whole.Quantity < 0 { // a return stays one
			sign = -1
		}
		for i, part := range in.Parts {
			line := in.Line
			line.ID, line.ItemID, line.Quantity, line.Unit, line.UnitCost = 0, 0, "1", "share", s.Money(shares[i]*sign)
			if sign < 0 {
				line.Quantity = "-1"
			}
			line.Description = fmt.Sprintf("%s (%d of %d)", whole.Description, i+1, len(in.Parts))
			line.JobID, line.PhaseID, line.CostCodeID = part.JobID, part.PhaseID, part.CostCodeID
			if price != nil {
				line.SellPrice = s.Money(price[i] * sign)
			} else if line.Markup == "" && markup != nil {
				line.Markup = markup.String()
			}
			lines = append(lines, line)
		}
		return lines, nil
	})
}

// shares are the amounts of the parts; they add up to the whole.
func shares(s *book.Session, c *form.Checks, in SplitLine, whole money.Amount) []money.Amount {
	weights := make([]int64, len(in.Parts))
	var given money.Amount
	var percent money.Percent
	for i, part := range in.Parts {
		path := fmt.Sprintf("parts[%d].share", i)
		switch in.How {
		case "percent":
			p := form.Parsed(c, path, part.Share, form.ParsePercent)
			form.NotNegative(c, path, p, "a share")
			percent, weights[i] = percent+p, int64(p)
		case "amount":
			amount := form.Parsed(c, path, part.Share, s.ParseAmount)
			given, weights[i] = given+amount, int64(amount)
		default:
			weights[i] = 1
		}
	}
	last := fmt.Sprintf("parts[%d].share", len(in.Parts)-1)
	switch {
	case len(c.Fields) > 0:
	case in.How == "percent" && percent != money.Whole:
		c.Add(last, "the shares are %s %% together; they must be 100 %%", percent)
	case in.How == "amount" && given != whole:
		c.Add(last, "the shares are %s together; the line is %s, so %s is left", s.Money(given), s.Money(whole), s.Money(whole-given))
	case in.How == "amount":
		amounts := make([]money.Amount, len(weights))
		for i, w := range weights {
			amounts[i] = money.Amount(w)
		}
		return amounts
	}
	if len(c.Fields) > 0 {
		return nil
	}
	return money.Spread(whole, weights)
}

// splitPrice spreads what a line with a sell price of its own is charged over the shares of its cost; nil where it has none.
func splitPrice(s *book.Session, whole store.CostLine, shares []money.Amount) ([]money.Amount, error) {
	if whole.SellPrice == nil {
		return nil, nil
	}
	charge, err := s.Currency.ForQuantity(whole.Quantity, *whole.SellPrice)
	if err != nil {
		return nil, refuse.Invalid("line.sellPrice", "%s", err)
	}
	weights := make([]int64, len(shares))
	for i, share := range shares {
		weights[i] = max(int64(share), -int64(share))
	}
	return money.Spread(charge, weights), nil
}

// markupOf is the markup that the cards have for a line; nil where none has.
func markupOf(s *book.Session, l store.CostLine, d store.CostDocument) (*money.Percent, error) {
	priced, err := price(s, l)
	if err != nil {
		return nil, err
	}
	book, err := ratebook.Of(s)
	if err != nil {
		return nil, err
	}
	row, _, found := pricing.FindMarkup(book.Chain(priced.ChargedBy), l.Category, d.Date, l.UnitCost)
	if !found || row.On != pricing.OnLanded && row.On != "" { // a markup of a line's own is on all that it costs
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

// HabitOf is the kind of cost and the cost code that are usual for a supplier: those of its record, or else what its last lines mostly
// have.
func HabitOf(ctx context.Context, b *book.Book, actor book.Actor, supplier string) (Habit, error) {
	return book.Read(ctx, b, actor, book.Costs, func(s *book.Session) (habit Habit, _ error) {
		row, found, err := register.FindSupplier(s, supplier)
		if err != nil || !found {
			return habit, err
		}
		habits, err := store.Query[Habit](s.Tx, habits, row.ID, lastLines)
		if len(habits) > 0 {
			habit = habits[0]
		}
		habit.Category = cmp.Or(row.Category, habit.Category)
		if row.CostCodeID != nil {
			habit.CostCodeID = *row.CostCodeID
		}
		return habit, err
	})
}
