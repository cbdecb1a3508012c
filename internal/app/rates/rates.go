// Package rates keeps wages, burdens, labour rates and markups, all of them dated.
package rates

import (
	"cmp"
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/burden"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// NewWage is a worker's wage from a date on.
type NewWage struct {
	Key      string `json:"key,omitempty" doc:"made by the client: a retry adds nothing twice"`
	WorkerID int64  `json:"workerId"`
	Rate     string `json:"rate"`
	Per      string `json:"per,omitempty" doc:"hour (where it is blank) or week"`
	From     string `json:"effectiveFrom" format:"date"`
	Version  int64  `json:"version,omitempty" doc:"of the wage that is corrected, as it was seen"`
}

// AddWage adds a dated wage. What came before stays as it was; unbilled work from the date on is costed again.
func AddWage(ctx context.Context, b *book.Book, actor book.Actor, in NewWage) error {
	return wages.add(ctx, b, actor, in.Key, in, func(s *book.Session) (store.Wage, error) { return readWage(s, in, 0) })
}

// ChangeWage corrects a wage, from its date on or from another one.
func ChangeWage(ctx context.Context, b *book.Book, actor book.Actor, wageID int64, in NewWage) error {
	return wages.change(ctx, b, actor, wageID, in.Version, in, func(s *book.Session, had store.Wage) (store.Wage, error) {
		in.WorkerID = had.WorkerID
		return readWage(s, in, wageID)
	})
}

// DeleteWage takes a wage away: the one before it goes on.
func DeleteWage(ctx context.Context, b *book.Book, actor book.Actor, wageID, version int64) error {
	return wages.drop(ctx, b, actor, wageID, version)
}

func readWage(s *book.Session, in NewWage, wageID int64) (store.Wage, error) {
	c := s.Checks()
	row := store.Wage{
		ID: wageID, WorkerID: in.WorkerID, EffectiveFrom: c.Date("effectiveFrom", in.From),
		Per: c.OneOf("per", cmp.Or(in.Per, store.PerHour), store.PerHour, store.PerWeek),
	}
	if row.Per == store.PerWeek {
		row.Rate = form.Parsed(c, "rate", in.Rate, s.WeekRate)
	} else {
		row.Rate = form.Parsed(c, "rate", in.Rate, form.ParseRate)
	}
	form.NotNegative(c, "rate", row.Rate, "a wage")
	if _, found, err := store.One[store.Worker](s.Tx, in.WorkerID); err != nil {
		return row, err
	} else if !found {
		c.Add("workerId", "there is no such worker")
	}
	taken, err := store.All[store.Wage](
		s.Tx, "id", "worker_id = ? AND effective_from = ? AND id <> ?", row.WorkerID, row.EffectiveFrom, wageID,
	)
	if err != nil {
		return row, err
	}
	if len(taken) > 0 {
		c.Add(
			"effectiveFrom", "there is a wage from %s already: %s; correct that one, or choose another date", row.EffectiveFrom,
			s.Currency.FormatRate(taken[0].Rate),
		)
	}
	return row, c.Err()
}

// NewBurden is a component of a burden class from a date on.
type NewBurden struct {
	Key     string `json:"key,omitempty" doc:"made by the client: a retry adds nothing twice"`
	Class   string `json:"burdenClass" doc:"made where there is none"`
	Name    string `json:"component"`
	Code    string `json:"costCode,omitempty" doc:"the work that this is for, by its cost code; blank: any"`
	From    string `json:"effectiveFrom" format:"date"`
	Basis   string `json:"basis" doc:"gross, straight or hour"`
	Value   string `json:"value" doc:"percent, or money an hour; 0 ends the component"`
	Cap     string `json:"annualWageCap,omitempty"`
	Version int64  `json:"version,omitempty" doc:"of the component that is corrected, as it was seen"`
}

// AddBurden adds a dated burden component.
func AddBurden(ctx context.Context, b *book.Book, actor book.Actor, in NewBurden) error {
	return burdens.add(ctx, b, actor, in.Key, in, func(s *book.Session) (store.Burden, error) { return readBurden(s, in, 0) })
}

// ChangeBurden corrects a component as it is from a date on.
func ChangeBurden(ctx context.Context, b *book.Book, actor book.Actor, burdenID int64, in NewBurden) error {
	return burdens.change(ctx, b, actor, burdenID, in.Version, in, func(s *book.Session, _ store.Burden) (store.Burden, error) {
		return readBurden(s, in, burdenID)
	})
}

// DeleteBurden takes a component away as it is from a date on: what it was before goes on.
func DeleteBurden(ctx context.Context, b *book.Book, actor book.Actor, burdenID, version int64) error {
	return burdens.drop(ctx, b, actor, burdenID, version)
}

func readBurden(s *book.Session, in NewBurden, burdenID int64) (store.Burden, error) {
	c := s.Checks()
	row := store.Burden{
		ID: burdenID, Component: c.Needed("component", in.Name, "a name"), EffectiveFrom: c.Date("effectiveFrom", in.From),
		Basis:         c.OneOf("basis", in.Basis, "gross", "straight", "hour"),
		AnnualWageCap: form.Optional(c, "annualWageCap", in.Cap, s.ParseAmount),
	}
	if in.Basis == "hour" {
		row.Value = int64(form.Parsed(c, "value", in.Value, form.ParseRate))
		if row.AnnualWageCap != nil {
			c.Add("annualWageCap", "%s", burden.ErrCapOnHour)
		}
	} else {
		row.Value = int64(form.Parsed(c, "value", in.Value, form.ParsePercent))
	}
	form.NotNegative(c, "value", row.Value, "burden")
	if row.AnnualWageCap != nil {
		form.NotNegative(c, "annualWageCap", *row.AnnualWageCap, "a cap")
	}
	name := c.Needed("burdenClass", in.Class, "a burden class")
	if err := c.Err(); err != nil {
		return row, err
	}
	class, err := register.Reference(s, "burden_classes", name)
	if err != nil {
		return row, err
	}
	row.BurdenClassID = *class
	if row.CostCodeID, err = register.Existing(s, "cost_codes", "costCode", c.Text("costCode", in.Code)); err != nil {
		return row, err
	}
	taken, err := store.All[store.Burden](
		s.Tx, "id", "burden_class_id = ? AND component = ? AND ifnull(cost_code_id, 0) = ? AND effective_from = ? AND id <> ?",
		row.BurdenClassID, row.Component, store.ID(row.CostCodeID), row.EffectiveFrom, burdenID,
	)
	if err == nil && len(taken) > 0 {
		err = refuse.Invalid(
			"effectiveFrom", "%s has a value from %s already; correct that one, or choose another date", row.Component, row.EffectiveFrom,
		)
	}
	return row, err
}

// NewLabourRate is a labour row of a card from a date on.
type NewLabourRate struct {
	Key        string `json:"key,omitempty" doc:"made by the client: a retry adds nothing twice"`
	Card       string `json:"card" doc:"blank: the company's"`
	From       string `json:"effectiveFrom" format:"date"`
	WorkerID   int64  `json:"workerId,omitempty"`
	Trade      string `json:"trade,omitempty" doc:"name of a trade; made where there is none"`
	CostCodeID int64  `json:"costCodeId,omitempty"`
	Method     string `json:"method" doc:"hourly or markup"`
	Value      string `json:"value" doc:"a price an hour, or percent on cost"`
	Overtime   string `json:"overtimeFactor,omitempty"`
	Double     string `json:"doubleFactor,omitempty"`
	Version    int64  `json:"version,omitempty" doc:"of the rate that is corrected, as it was seen"`
}

// AddLabourRate adds a labour row to a card.
func AddLabourRate(ctx context.Context, b *book.Book, actor book.Actor, in NewLabourRate) error {
	return labourRates.add(ctx, b, actor, in.Key, in, func(s *book.Session) (store.LabourRate, error) { return readLabourRate(s, in, 0) })
}

// ChangeLabourRate corrects a labour row of a card.
func ChangeLabourRate(ctx context.Context, b *book.Book, actor book.Actor, rateID int64, in NewLabourRate) error {
	return labourRates.change(ctx, b, actor, rateID, in.Version, in, func(s *book.Session, _ store.LabourRate) (store.LabourRate, error) {
		return readLabourRate(s, in, rateID)
	})
}

// DeleteLabourRate takes a labour row off its card: the next one that fits decides.
func DeleteLabourRate(ctx context.Context, b *book.Book, actor book.Actor, rateID, version int64) error {
	return labourRates.drop(ctx, b, actor, rateID, version)
}

func readLabourRate(s *book.Session, in NewLabourRate, rateID int64) (store.LabourRate, error) {
	c := s.Checks()
	row := store.LabourRate{
		ID: rateID, EffectiveFrom: c.Date("effectiveFrom", in.From), WorkerID: store.Ref(in.WorkerID), CostCodeID: store.Ref(in.CostCodeID),
		Method:         c.OneOf("method", in.Method, "hourly", "markup"),
		OvertimeFactor: form.Optional(c, "overtimeFactor", in.Overtime, form.ParseFactor),
		DoubleFactor:   form.Optional(c, "doubleFactor", in.Double, form.ParseFactor),
	}
	if in.Method == "markup" {
		row.Value = int64(form.Parsed(c, "value", in.Value, form.MarkupPercent))
	} else {
		row.Value = int64(form.Parsed(c, "value", in.Value, form.ParseRate))
		form.NotNegative(c, "value", row.Value, "a price")
	}
	for path, f := range map[string]*money.Factor{"overtimeFactor": row.OvertimeFactor, "doubleFactor": row.DoubleFactor} {
		if f != nil && *f <= 0 {
			c.Add(path, "a factor must be more than 0, such as 1.5")
		}
	}
	card, trade := c.Text("card", in.Card), c.Text("trade", in.Trade)
	err := there(s, c, "workerId", "worker", "workers", row.WorkerID)
	if err == nil {
		err = there(s, c, "costCodeId", "cost code", "cost_codes", row.CostCodeID)
	}
	if err := cmp.Or(err, c.Err()); err != nil {
		return row, err
	}
	if row.TradeID, err = register.Reference(s, "trades", trade); err != nil {
		return row, err
	}
	if row.CardID, err = cardID(s, card); err != nil {
		return row, err
	}
	taken, err := store.All[store.LabourRate](s.Tx, "id", "card_id = ? AND effective_from = ? AND ifnull(worker_id, 0) = ? AND "+
		"ifnull(trade_id, 0) = ? AND ifnull(cost_code_id, 0) = ? AND id <> ?",
		row.CardID, row.EffectiveFrom, in.WorkerID, store.ID(row.TradeID), in.CostCodeID, rateID)
	if err == nil && len(taken) > 0 {
		err = refuse.Invalid(
			"effectiveFrom", "this card has a rate for the same work from %s already; correct that one, or choose another date", row.EffectiveFrom,
		)
	}
	return row, err
}

// there notes where a record that is referred to is not in the book.
func there(s *book.Session, c *form.Checks, path, what, table string, recordID *int64) error {
	if recordID == nil {
		return nil
	}
	found, err := store.Value[int64](s.Tx, "SELECT count(*) FROM "+table+" WHERE id = ?", *recordID)
	if err == nil && found == 0 {
		c.Add(path, "there is no such %s; choose one from the list", what)
	}
	return err
}

// cardID finds a card by name or makes it; a blank name is the company's card.
func cardID(s *book.Session, name string) (int64, error) {
	if name == "" && s.Company.RateCardID != nil {
		return *s.Company.RateCardID, nil
	}
	if name == "" {
		name = "Company"
	}
	card, err := register.Reference(s, "rate_cards", name)
	if err != nil {
		return 0, err
	}
	if s.Company.RateCardID == nil {
		s.Company.RateCardID = card
		return *card, s.Model(&s.Company).Update("rate_card_id", *card).Error
	}
	return *card, nil
}

// NewMarkup is a markup band of a card from a date on.
type NewMarkup struct {
	Key      string `json:"key,omitempty" doc:"made by the client: a retry adds nothing twice"`
	Card     string `json:"card" doc:"blank: the company's"`
	From     string `json:"effectiveFrom" format:"date"`
	Category string `json:"category"`
	OverCost string `json:"overCost,omitempty" doc:"for unit costs from this on"`
	Percent  string `json:"percent"`
	On       string `json:"on,omitempty" doc:"what it is put on: landed (where it is blank), before_tax or goods"`
	Version  int64  `json:"version,omitempty" doc:"of the markup that is corrected, as it was seen"`
}

// AddMarkup adds a markup band to a card.
func AddMarkup(ctx context.Context, b *book.Book, actor book.Actor, in NewMarkup) error {
	return markups.add(ctx, b, actor, in.Key, in, func(s *book.Session) (store.Markup, error) { return readMarkup(s, in, 0) })
}

// ChangeMarkup corrects a markup band of a card.
func ChangeMarkup(ctx context.Context, b *book.Book, actor book.Actor, markupID int64, in NewMarkup) error {
	return markups.change(ctx, b, actor, markupID, in.Version, in, func(s *book.Session, _ store.Markup) (store.Markup, error) {
		return readMarkup(s, in, markupID)
	})
}

// DeleteMarkup takes a markup band off its card: the next one that fits decides.
func DeleteMarkup(ctx context.Context, b *book.Book, actor book.Actor, markupID, version int64) error {
	return markups.drop(ctx, b, actor, markupID, version)
}

func readMarkup(s *book.Session, in NewMarkup, markupID int64) (store.Markup, error) {
	c := s.Checks()
	row := store.Markup{
		ID: markupID, EffectiveFrom: c.Date("effectiveFrom", in.From), Category: c.OneOf("category", in.Category, pricing.Categories...),
		OverCost: form.OrZero(c, "overCost", in.OverCost, form.ParseRate), Percent: form.Parsed(c, "percent", in.Percent, form.MarkupPercent),
		PutOn: c.OneOf("on", cmp.Or(in.On, string(pricing.OnLanded)), words.Texts(pricing.Bases)...),
	}
	form.NotNegative(c, "overCost", row.OverCost, "a unit cost")
	card := c.Text("card", in.Card)
	if err := c.Err(); err != nil {
		return row, err
	}
	var err error
	if row.CardID, err = cardID(s, card); err != nil {
		return row, err
	}
	taken, err := store.All[store.Markup](
		s.Tx, "id", "card_id = ? AND effective_from = ? AND category = ? AND over_cost = ? AND id <> ?", row.CardID, row.EffectiveFrom,
		row.Category, row.OverCost, markupID,
	)
	if err == nil && len(taken) > 0 {
		err = refuse.Invalid(
			"effectiveFrom", "this card has this markup from %s already; correct that one, or choose another date", row.EffectiveFrom,
		)
	}
	return row, err
}
