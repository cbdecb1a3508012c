// Package rates keeps wages, burdens, labour rates and markups, all of them dated.
package rates

import (
	"cmp"
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/burden"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// WorkerRow is a worker in Setup, with what an hour costs at a date.
type WorkerRow struct {
	ID          int64  `json:"id"`
	Code        string `json:"code"`
	Name        string `json:"name"`
	Trade       string `json:"trade"`
	Crew        string `json:"crew"`
	BurdenClass string `json:"burdenClass"`
	Kind        string `json:"kind"`
	Exempt      bool   `json:"exempt"`
	Wage        string `json:"wage,omitempty" format:"decimal"`
	Since       string `json:"since,omitempty" format:"date"`
	Burdened    string `json:"burdened,omitempty" format:"decimal" doc:"cost of 60 regular minutes with no cap reached"`
	Charge      string `json:"charge,omitempty" format:"decimal" doc:"an hour by the company's card"`
	Margin      string `json:"margin,omitempty" format:"decimal"`
}

// BurdenRow is a component of a class at a date.
type BurdenRow struct {
	ID       int64  `json:"id"`
	Name     string `json:"component"`
	Basis    string `json:"basis"`
	Value    string `json:"value" format:"decimal"`
	Cap      string `json:"annualWageCap,omitempty" format:"decimal"`
	Since    string `json:"since"`
	Regular  string `json:"regular,omitempty" format:"decimal"`
	Overtime string `json:"overtime,omitempty" format:"decimal"`
	Double   string `json:"double,omitempty" format:"decimal"`
}

// BurdenBuild is a worker's wage stacked up to the burdened hour, by pay class.
type BurdenBuild struct {
	Worker  register.Named `json:"worker"`
	Class   string         `json:"burdenClass"`
	Date    string         `json:"date" format:"date"`
	Wage    BurdenRow      `json:"wage"`
	Parts   []BurdenRow    `json:"parts"`
	Total   BurdenRow      `json:"total"`
	Charge  *BurdenRow     `json:"charge,omitempty" doc:"by the company's card"`
	Margins *BurdenRow     `json:"margins,omitempty"`
}

// LabourRateRow is a labour row of a card.
type LabourRateRow struct {
	ID       int64  `json:"id"`
	Card     string `json:"card"`
	Worker   string `json:"worker,omitempty"`
	Trade    string `json:"trade,omitempty"`
	CostCode string `json:"costCode,omitempty"`
	Weight   int    `json:"weight"`
	Method   string `json:"method"`
	Value    string `json:"value" format:"decimal"`
	Overtime string `json:"overtime,omitempty" format:"decimal" doc:"price of an overtime hour"`
	Double   string `json:"double,omitempty" format:"decimal"`
	From     string `json:"effectiveFrom" format:"date"`
}

// MarkupRow is a markup band of a card, with the margin it leaves.
type MarkupRow struct {
	ID       int64  `json:"id"`
	Card     string `json:"card"`
	Category string `json:"category"`
	OverCost string `json:"overCost" format:"decimal"`
	Percent  string `json:"percent" format:"decimal"`
	Margin   string `json:"margin" format:"decimal"`
	From     string `json:"effectiveFrom" format:"date"`
}

// SetupSheet is the Setup tab at a date.
type SetupSheet struct {
	Workers   []WorkerRow     `json:"workers"`
	Labour    []LabourRateRow `json:"labourRates"`
	Markups   []MarkupRow     `json:"markups"`
	Burdens   []ClassRow      `json:"burdens"`
	Build     *BurdenBuild    `json:"build,omitempty"`
	Customers []CustomerRow   `json:"customers"`
	TaxCodes  []TaxRow        `json:"taxCodes"`
}

// ClassRow is a version of a component of a burden class.
type ClassRow struct {
	Class string `json:"burdenClass"`
	BurdenRow
}

// CustomerRow is a customer in Setup.
type CustomerRow struct {
	ID         int64  `json:"id"`
	Code       string `json:"code"`
	Name       string `json:"name"`
	Email      string `json:"email"`
	Address    string `json:"address"`
	Terms      string `json:"terms" doc:"days; blank: the company's"`
	Card       string `json:"card"`
	InvoicePer string `json:"invoicePer"`
	TaxExempt  bool   `json:"taxExempt"`
	Jobs       int64  `json:"jobs"`
}

// TaxRow is a component of a tax code.
type TaxRow struct {
	Code      string `json:"code"`
	Component string `json:"component"`
	Percent   string `json:"percent"`
	AppliesTo string `json:"appliesTo"`
}

// Setup is the Setup tab as of a date, with the burden build-up of one worker (0: the first).
func Setup(ctx context.Context, b *book.Book, actor book.Actor, asOf string, workerID int64) (SetupSheet, error) {
	return book.Read(ctx, b, actor, book.Setup, func(s *book.Session) (SetupSheet, error) {
		out := SetupSheet{
			Workers: []WorkerRow{}, Labour: []LabourRateRow{}, Markups: []MarkupRow{}, Burdens: []ClassRow{}, Customers: []CustomerRow{},
			TaxCodes: []TaxRow{},
		}
		on := s.Today()
		if asOf != "" {
			c := s.Checks()
			on = c.Date("asOf", asOf)
			if err := c.Err(); err != nil {
				return out, err
			}
		}
		if err := setupWorkers(s, &out, on, workerID); err != nil {
			return out, err
		}
		if err := setupCards(s, &out); err != nil {
			return out, err
		}
		err := setupOthers(s, &out)
		return out, err
	})
}

func setupWorkers(s *book.Session, out *SetupSheet, on calendar.Date, buildFor int64) error {
	type row struct {
		store.Worker
		Trade, Class string
	}
	rows, err := store.Query[row](s.Tx, workerRows)
	if err != nil {
		return err
	}
	for _, r := range rows {
		w := WorkerRow{ID: r.ID, Code: r.Code, Name: r.Name, Trade: r.Trade, Crew: r.Crew, BurdenClass: r.Class, Kind: r.Kind, Exempt: r.Exempt}
		build, err := build(s, r.Worker, r.Trade, r.Class, on)
		if err != nil {
			return err
		}
		if build != nil {
			w.Wage, w.Since, w.Burdened = build.Wage.Value, build.Wage.Since, build.Total.Regular
			if build.Charge != nil {
				w.Charge, w.Margin = build.Charge.Regular, build.Margins.Regular
			}
			if buildFor == r.ID || buildFor == 0 && out.Build == nil {
				out.Build = build
			}
		}
		out.Workers = append(out.Workers, w)
	}
	return nil
}

// build stacks a worker's wage up, component by component, for an hour of each pay class.
func build(s *book.Session, w store.Worker, trade, class string, on calendar.Date) (*BurdenBuild, error) {
	terms, err := costing.Terms(s, w)
	if err != nil {
		return nil, err
	}
	pay, wage, paid := terms.Pay(on)
	if !paid {
		return nil, nil
	}
	components := burden.Effective(terms.Components, on)
	b := &BurdenBuild{
		Worker: register.Named{ID: w.ID, Code: w.Code, Name: w.Name, Sub: trade}, Class: class, Date: on.String(), Parts: []BurdenRow{},
	}
	b.Wage = BurdenRow{ID: wage.ID, Name: "Wage", Basis: "hour", Value: s.Currency.FormatRate(wage.Rate), Since: wage.From.String()}
	for _, c := range components {
		b.Parts = append(b.Parts, RowOf(s, c))
	}
	book, err := costing.Rates(s)
	if err != nil {
		return nil, err
	}
	row, _, priced := pricing.FindLabour(book.Chain(costing.ChargedBy{}), pricing.Work{Worker: w.ID, Trade: store.ID(w.TradeID)}, on)
	if priced {
		b.Charge, b.Margins = &BurdenRow{Name: "Charge"}, &BurdenRow{Name: "Margin"}
	}
	for _, k := range worktime.Classes {
		cost, err := pay.Of(worktime.Segment{Class: k, Minutes: 60}, components, burden.Earned{})
		if err != nil {
			return nil, err
		}
		*b.Wage.column(k) = s.Money(cost.Gross)
		for i, part := range cost.Parts {
			*b.Parts[i].column(k) = s.Money(part.Amount)
		}
		total := cost.Total()
		*b.Total.column(k) = s.Money(total)
		if !priced {
			continue
		}
		charge, err := row.Charge(s.Currency, costing.Factors(s), worktime.Segment{Class: k, Minutes: 60}, &total)
		if err != nil {
			return nil, err
		}
		*b.Charge.column(k) = s.Money(*charge)
		if margin, ok := money.Share(*charge-total, *charge); ok {
			*b.Margins.column(k) = margin.Places2()
		}
	}
	return b, nil
}

func (r *BurdenRow) column(c worktime.Class) *string {
	return []*string{&r.Regular, &r.Overtime, &r.Double}[c]
}

// RowOf writes a burden component.
func RowOf(s *book.Session, c burden.Component) BurdenRow {
	row := BurdenRow{ID: c.ID, Name: c.Name, Basis: string(c.Basis), Value: c.Percent.String(), Since: c.From.String(), Cap: s.Maybe(c.Cap)}
	if c.Basis == burden.OnHour {
		row.Value = s.Currency.FormatRate(c.Rate)
	}
	return row
}

func setupCards(s *book.Session, out *SetupSheet) error {
	type labour struct {
		store.LabourRate
		Card, Worker, Trade, CostCode string
	}
	rows, err := store.Query[labour](s.Tx, rateRows)
	if err != nil {
		return err
	}
	for _, r := range rows {
		core := costing.LabourRowOf(r.LabourRate)
		row := LabourRateRow{
			ID: r.ID, Card: r.Card, Worker: r.Worker, Trade: r.Trade, CostCode: r.CostCode, Weight: core.Weight(), Method: r.Method,
			From: r.EffectiveFrom.String(),
		}
		if core.Method == pricing.OnMarkup {
			row.Value = core.Percent.String()
		} else {
			row.Value = s.Currency.FormatRate(core.Rate)
			for class, into := range map[worktime.Class]*string{worktime.Overtime: &row.Overtime, worktime.Double: &row.Double} {
				price, err := core.Charge(s.Currency, costing.Factors(s), worktime.Segment{Class: class, Minutes: 60}, nil)
				if err != nil {
					return err
				}
				*into = s.Money(*price)
			}
		}
		out.Labour = append(out.Labour, row)
	}
	type markup struct {
		store.Markup
		Card string
	}
	markups, err := store.Query[markup](s.Tx, markupRows)
	if err != nil {
		return err
	}
	for _, m := range markups {
		row := MarkupRow{
			ID: m.ID, Card: m.Card, Category: m.Category, OverCost: s.Currency.FormatRate(m.OverCost), Percent: m.Percent.String(),
			From: m.EffectiveFrom.String(),
		}
		if margin, ok := m.Percent.Margin(); ok {
			row.Margin = margin.Places2()
		}
		out.Markups = append(out.Markups, row)
	}
	return nil
}

func setupOthers(s *book.Session, out *SetupSheet) error {
	type class struct {
		store.Burden
		Class string
	}
	classes, err := store.Query[class](s.Tx, burdenRows)
	if err != nil {
		return err
	}
	for _, b := range classes {
		out.Burdens = append(out.Burdens, ClassRow{b.Class, RowOf(s, costing.ComponentOf(b.Burden))})
	}
	out.Customers, err = store.Query[CustomerRow](s.Tx, customerRows)
	if err != nil {
		return err
	}
	type tax struct {
		store.TaxComponent
		Code string
	}
	taxes, err := store.Query[tax](s.Tx, taxRows)
	for _, t := range taxes {
		out.TaxCodes = append(out.TaxCodes, TaxRow{t.Code, t.Component, t.Percent.String(), t.AppliesTo})
	}
	return err
}

// NewWage is a worker's wage from a date on.
type NewWage struct {
	Key      string `json:"key,omitempty" doc:"made by the client: a retry adds nothing twice"`
	WorkerID int64  `json:"workerId"`
	Rate     string `json:"rate"`
	From     string `json:"effectiveFrom" format:"date"`
}

// AddWage adds a dated wage. What came before stays as it was; unbilled work from the date on is costed again.
func AddWage(ctx context.Context, b *book.Book, actor book.Actor, in NewWage) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		_, err := book.Once(s, "wage", in.Key, in, func() (book.Done, error) { return book.Done{}, addWage(s, in) })
		return err
	})
}

func addWage(s *book.Session, in NewWage) error {
	c := s.Checks()
	row := store.Wage{
		WorkerID: in.WorkerID, Rate: form.Parsed(c, "rate", in.Rate, form.ParseRate), EffectiveFrom: c.Date("effectiveFrom", in.From),
	}
	form.NotNegative(c, "rate", row.Rate, "a wage")
	if _, found, err := store.One[store.Worker](s.Tx, in.WorkerID); err != nil {
		return err
	} else if !found {
		c.Add("workerId", "there is no such worker")
	}
	taken, err := store.All[store.Wage](s.Tx, "id", "worker_id = ? AND effective_from = ?", row.WorkerID, row.EffectiveFrom)
	if err != nil {
		return err
	}
	if len(taken) > 0 {
		c.Add(
			"effectiveFrom", "there is a wage from %s already: %s; choose a later date", row.EffectiveFrom, s.Currency.FormatRate(taken[0].Rate),
		)
	}
	if err := c.Err(); err != nil {
		return err
	}
	if err := s.Create(&row).Error; err != nil {
		return err
	}
	step := costing.Begin(s)
	if err := step.Hours("e.worker_id = ? AND e.date >= ?", row.WorkerID, row.EffectiveFrom); err != nil {
		return err
	}
	if err := step.Run(); err != nil {
		return err
	}
	return s.Record("added", "wage", row.ID, nil, in)
}

// NewBurden is a component of a burden class from a date on.
type NewBurden struct {
	Key   string `json:"key,omitempty" doc:"made by the client: a retry adds nothing twice"`
	Class string `json:"burdenClass" doc:"made where there is none"`
	Name  string `json:"component"`
	From  string `json:"effectiveFrom" format:"date"`
	Basis string `json:"basis" doc:"gross, straight or hour"`
	Value string `json:"value" doc:"percent, or money an hour; 0 ends the component"`
	Cap   string `json:"annualWageCap,omitempty"`
}

// AddBurden adds a dated burden component.
func AddBurden(ctx context.Context, b *book.Book, actor book.Actor, in NewBurden) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		_, err := book.Once(s, "burden", in.Key, in, func() (book.Done, error) { return book.Done{}, addBurden(s, in) })
		return err
	})
}

func addBurden(s *book.Session, in NewBurden) error {
	c := s.Checks()
	row := store.Burden{
		Component: c.Needed("component", in.Name, "a name"), EffectiveFrom: c.Date("effectiveFrom", in.From),
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
		return err
	}
	class, err := register.Reference(s, "burden_classes", name)
	if err != nil {
		return err
	}
	row.BurdenClassID = *class
	taken, err := store.All[store.Burden](
		s.Tx, "id", "burden_class_id = ? AND component = ? AND effective_from = ?", row.BurdenClassID, row.Component, row.EffectiveFrom,
	)
	if err != nil {
		return err
	}
	if len(taken) > 0 {
		return refuse.Invalid("effectiveFrom", "%s has a value from %s already; choose a later date", row.Component, row.EffectiveFrom)
	}
	if err := s.Create(&row).Error; err != nil {
		return err
	}
	book.Forget[*costing.RateBook](s)
	step := costing.Begin(s)
	if err := step.Hours("w.burden_class_id = ? AND e.date >= ?", row.BurdenClassID, row.EffectiveFrom); err != nil {
		return err
	}
	if err := step.Run(); err != nil {
		return err
	}
	return s.Record("added", "burden", row.ID, nil, in)
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
}

// AddLabourRate adds a labour row to a card.
func AddLabourRate(ctx context.Context, b *book.Book, actor book.Actor, in NewLabourRate) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		_, err := book.Once(s, "labour_rate", in.Key, in, func() (book.Done, error) { return book.Done{}, addLabourRate(s, in) })
		return err
	})
}

func addLabourRate(s *book.Session, in NewLabourRate) error {
	c := s.Checks()
	row := store.LabourRate{
		EffectiveFrom: c.Date("effectiveFrom", in.From), WorkerID: store.Ref(in.WorkerID), CostCodeID: store.Ref(in.CostCodeID),
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
		return err
	}
	if row.TradeID, err = register.Reference(s, "trades", trade); err != nil {
		return err
	}
	if row.CardID, err = cardID(s, card); err != nil {
		return err
	}
	taken, err := store.All[store.LabourRate](s.Tx, "id", "card_id = ? AND effective_from = ? AND ifnull(worker_id, 0) = ? AND "+
		"ifnull(trade_id, 0) = ? AND ifnull(cost_code_id, 0) = ?",
		row.CardID, row.EffectiveFrom, in.WorkerID, store.ID(row.TradeID), in.CostCodeID)
	if err != nil {
		return err
	}
	if len(taken) > 0 {
		return refuse.Invalid("effectiveFrom", "this card has a rate for the same work from %s already; choose a later date", row.EffectiveFrom)
	}
	if err := s.Create(&row).Error; err != nil {
		return err
	}
	step := costing.Begin(s)
	if err := step.Hours(
		"e.date >= ? AND (? = 0 OR e.worker_id = ?) AND (? = 0 OR w.trade_id = ?)", row.EffectiveFrom, in.WorkerID, in.WorkerID,
		store.ID(row.TradeID), store.ID(row.TradeID),
	); err != nil {
		return err
	}
	if err := step.Run(); err != nil {
		return err
	}
	return s.Record("added", "labour_rate", row.ID, nil, in)
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
}

// AddMarkup adds a markup band to a card.
func AddMarkup(ctx context.Context, b *book.Book, actor book.Actor, in NewMarkup) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		_, err := book.Once(s, "markup", in.Key, in, func() (book.Done, error) { return book.Done{}, addMarkup(s, in) })
		return err
	})
}

func addMarkup(s *book.Session, in NewMarkup) error {
	c := s.Checks()
	row := store.Markup{
		EffectiveFrom: c.Date("effectiveFrom", in.From), Category: c.OneOf("category", in.Category, pricing.Categories...),
		OverCost: form.OrZero(c, "overCost", in.OverCost, form.ParseRate), Percent: form.Parsed(c, "percent", in.Percent, form.MarkupPercent),
	}
	form.NotNegative(c, "overCost", row.OverCost, "a unit cost")
	card := c.Text("card", in.Card)
	if err := c.Err(); err != nil {
		return err
	}
	var err error
	if row.CardID, err = cardID(s, card); err != nil {
		return err
	}
	taken, err := store.All[store.Markup](
		s.Tx, "id", "card_id = ? AND effective_from = ? AND category = ? AND over_cost = ?", row.CardID, row.EffectiveFrom, row.Category,
		row.OverCost,
	)
	if err != nil {
		return err
	}
	if len(taken) > 0 {
		return refuse.Invalid("effectiveFrom", "this card has this markup from %s already; choose a later date", row.EffectiveFrom)
	}
	if err := s.Create(&row).Error; err != nil {
		return err
	}
	step := costing.Begin(s)
	if err := step.Lines("l.date >= ? AND l.category = ?", row.EffectiveFrom, row.Category); err != nil {
		return err
	}
	if err := step.Run(); err != nil {
		return err
	}
	return s.Record("added", "markup", row.ID, nil, in)
}
