package people

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/register"
	"jarvo/internal/store"
)

// TradeChange is a trade as it is to be.
type TradeChange struct {
	Name    string `json:"name"`
	Active  bool   `json:"active" doc:"offered; a retired one stays with its workers and rates"`
	Version int64  `json:"version" doc:"as it was seen"`
}

// ChangeTrade changes what a trade is called, on drafts too and not on what was issued, or retires it.
func ChangeTrade(ctx context.Context, b *book.Book, actor book.Actor, tradeID int64, in TradeChange) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seenTrade(s, tradeID, in.Version)
		if err != nil {
			return err
		}
		c := s.Checks()
		now := had
		now.Name, now.Active, now.Version = c.Needed("name", in.Name, "a name"), in.Active, had.Version+1
		taken, err := store.All[store.Trade](s.Tx, "id", "name = ? COLLATE NOCASE AND id <> ?", now.Name, tradeID)
		if err != nil {
			return err
		}
		if len(taken) > 0 {
			c.Add("name", "there is a trade of this name already")
		}
		if err := c.Err(); err != nil {
			return err
		}
		if err := s.Save(&now).Error; err != nil {
			return err
		}
		step := costing.Begin(s)
		if err := step.DraftsOfHours("w.trade_id = ?", tradeID); err != nil {
			return err
		}
		if err := step.Run(); err != nil {
			return err
		}
		return s.Record("changed", "trade", tradeID, had, now)
	})
}

// DeleteTrade deletes a trade that no worker and no rate has.
func DeleteTrade(ctx context.Context, b *book.Book, actor book.Actor, tradeID, version int64) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		had, err := seenTrade(s, tradeID, version)
		if err != nil {
			return err
		}
		if err := register.Delete(s, "trades", tradeID, "trade", "retire it instead"); err != nil {
			return err
		}
		return s.Record("deleted", "trade", tradeID, had, nil)
	})
}

func seenTrade(s *book.Session, tradeID, version int64) (store.Trade, error) {
	return register.Seen(s, tradeID, version, "trade", func(t store.Trade) int64 { return t.Version })
}
