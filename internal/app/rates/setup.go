package rates

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/ratebook"
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
	ID          int64     `json:"id"`
	Code        string    `json:"code"`
	Name        string    `json:"name"`
	Trade       string    `json:"trade"`
	Crew        string    `json:"crew"`
	BurdenClass string    `json:"burdenClass"`
	Kind        string    `json:"kind"`
	Exempt      bool      `json:"exempt"`
	Active      bool      `json:"active"`
	Version     int64     `json:"version"`
	Wages       []WageRow `json:"wages" doc:"the latest first"`
	Wage        string    `json:"wage,omitempty" format:"decimal" doc:"an hour, or a week where Per says so"`
	Per         string    `json:"per,omitempty" doc:"hour or week"`
	Since       string    `json:"since,omitempty" format:"date"`
	NoWageSince string    `json:"noWageSince,omitempty" format:"date" doc:"the first day of hours without a wage"`
	Burdened    string    `json:"burdened,omitempty" format:"decimal" doc:"cost of 60 regular minutes with no cap reached"`
	Charge      string    `json:"charge,omitempty" format:"decimal" doc:"an hour by the company's card"`
	Margin      string    `json:"margin,omitempty" format:"decimal"`
}

// WageRow is a wage from a date on.
type WageRow struct {
	ID      int64  `json:"id"`
	Version int64  `json:"version"`
	Rate    string `json:"rate" format:"decimal"`
	Per     string `json:"per" doc:"hour or week"`
	From    string `json:"effectiveFrom" format:"date"`
}

// BurdenRow is a component of a class at a date.
type BurdenRow struct {
	ID       int64  `json:"id"`
	Version  int64  `json:"version,omitempty"`
	Name     string `json:"component"`
	CostCode string `json:"costCode,omitempty" doc:"the work that it is for; absent: any"`
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
	Code    string         `json:"costCode,omitempty" doc:"the work that it is for; absent: any that has no rows of its own"`
	Weekly  string         `json:"weekly,omitempty" format:"decimal" doc:"a week's pay, of which the wage is a 40th"`
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
	// What it is corrected by.
	Version        int64  `json:"version"`
	WorkerID       int64  `json:"workerId,omitempty"`
	CostCodeID     int64  `json:"costCodeId,omitempty"`
	OvertimeFactor string `json:"overtimeFactor,omitempty" format:"decimal"`
	DoubleFactor   string `json:"doubleFactor,omitempty" format:"decimal"`
}

// MarkupRow is a markup band of a card, with the margin it leaves.
type MarkupRow struct {
	ID       int64  `json:"id"`
	Card     string `json:"card"`
	Category string `json:"category"`
	OverCost string `json:"overCost" format:"decimal"`
	Percent  string `json:"percent" format:"decimal"`
	Margin   string `json:"margin" format:"decimal"`
	On       string `json:"on" doc:"what it is put on: landed, before_tax or goods"`
	From     string `json:"effectiveFrom" format:"date"`
	Version  int64  `json:"version"`
}

// SetupSheet is the Setup tab at a date.
type SetupSheet struct {
	Workers   []WorkerRow     `json:"workers"`
	Labour    []LabourRateRow `json:"labourRates"`
	Markups   []MarkupRow     `json:"markups"`
	Burdens   []ClassRow      `json:"burdens"`
	Build     *BurdenBuild    `json:"build,omitempty"`
	Customers []CustomerRow   `json:"customers"`
	CostCodes []CodeRow       `json:"costCodes"`
	Trades    []TradeRow      `json:"trades"`
	Units     []UnitRow       `json:"units" doc:"of the company's own"`
	TaxCodes  []TaxRow        `json:"taxCodes"`

	NoRateSince string `json:"noRateSince,omitempty" format:"date" doc:"the first day of hours without a rate"`
}

// UnitRow is a unit of measure of the company's own in Setup.
type UnitRow struct {
	ID      int64  `json:"id"`
	Name    string `json:"name"`
	Code    string `json:"code"`
	Version int64  `json:"version"`
}

// TradeRow is a trade in Setup.
type TradeRow struct {
	ID      int64  `json:"id"`
	Code    string `json:"code"`
	Name    string `json:"name"`
	Workers int64  `json:"workers"`
	Active  bool   `json:"active"`
	Version int64  `json:"version"`
}

// CodeRow is a cost code in Setup.
type CodeRow struct {
	ID      int64  `json:"id"`
	Code    string `json:"code"`
	Name    string `json:"name"`
	Active  bool   `json:"active"`
	Version int64  `json:"version"`
}

// ClassRow is a version of a component of a burden class.
type ClassRow struct {
	Class string `json:"burdenClass"`
	BurdenRow
}

// customersOf are the customers with their contacts.
func customersOf(s *book.Session) ([]CustomerRow, error) {
	rows, err := store.Query[CustomerRow](s.Tx, customerRows)
	if err != nil {
		return nil, err
	}
	contacts, err := register.AllContacts(s)
	for i := range rows {
		rows[i].Contacts = append([]register.Contact{}, contacts[rows[i].ID]...)
	}
	return rows, err
}

// CustomerRow is a customer in Setup.
type CustomerRow struct {
	ID        int64              `json:"id"`
	Code      string             `json:"code"`
	Name      string             `json:"name"`
	Email     string             `json:"email"`
	Address   string             `json:"address"`
	PostCode  string             `json:"postCode"`
	City      string             `json:"city"`
	Region    string             `json:"region"`
	Country   string             `json:"country"`
	TaxNumber string             `json:"taxNumber"`
	Reference string             `json:"reference"`
	Phone     string             `json:"phone"`
	OpenBook  bool               `json:"openBook"`
	Contacts  []register.Contact `json:"contacts" gorm:"-"`

	Registration   string `json:"registration"`
	Endpoint       string `json:"endpoint"`
	EndpointScheme string `json:"endpointScheme"`

	TaxCode    string `json:"taxCode"`
	Active     bool   `json:"active"`
	Version    int64  `json:"version"`
	Terms      string `json:"terms" doc:"days; blank: the company's"`
	Card       string `json:"card"`
	InvoicePer string `json:"invoicePer"`
	TaxExempt  bool   `json:"taxExempt"`
	Jobs       int64  `json:"jobs"`
}

// TaxRow is a component of a tax code.
type TaxRow struct {
	CodeID    int64  `json:"codeId"`
	Version   int64  `json:"version" doc:"of the code"`
	Code      string `json:"code"`
	Kind      string `json:"kind"`
	Note      string `json:"note,omitempty"`
	OnRelease bool   `json:"onRelease,omitempty"`
	Component string `json:"component" doc:"blank where the code has none"`
	From      string `json:"effectiveFrom,omitempty" format:"date" doc:"absent: always"`
	Percent   string `json:"percent"`
	AppliesTo string `json:"appliesTo"`
	Scheme    string `json:"scheme,omitempty"`
}

// Setup is the Setup tab as of a date, with the burden build-up of one worker (0: the first), for the work of a cost code (0: any).
func Setup(ctx context.Context, b *book.Book, actor book.Actor, asOf string, workerID, costCodeID int64) (SetupSheet, error) {
	return book.Read(ctx, b, actor, book.Setup, func(s *book.Session) (SetupSheet, error) {
		out := SetupSheet{
			Workers: []WorkerRow{}, Labour: []LabourRateRow{}, Markups: []MarkupRow{}, Burdens: []ClassRow{}, Customers: []CustomerRow{},
			CostCodes: []CodeRow{}, Trades: []TradeRow{}, Units: []UnitRow{}, TaxCodes: []TaxRow{},
		}
		on := s.Today()
		if asOf != "" {
			c := s.Checks()
			on = c.Date("asOf", asOf)
			if err := c.Err(); err != nil {
				return out, err
			}
		}
		if err := setupWorkers(s, &out, on, workerID, costCodeID); err != nil {
			return out, err
		}
		if err := setupCards(s, &out); err != nil {
			return out, err
		}
		since, err := store.Value[calendar.Date](s.Tx, noRateSince)
		if err != nil {
			return out, err
		}
		if since != 0 {
			out.NoRateSince = since.String()
		}
		return out, setupOthers(s, &out)
	})
}

func setupWorkers(s *book.Session, out *SetupSheet, on calendar.Date, buildFor, costCodeID int64) error {
	type row struct {
		store.Worker
		Trade, Class string
		NoWageSince  *calendar.Date
	}
	rows, err := store.Query[row](s.Tx, workerRows)
	if err != nil {
		return err
	}
	wages, err := store.All[store.Wage](s.Tx, "worker_id, effective_from DESC")
	if err != nil {
		return err
	}
	of := map[int64][]WageRow{}
	for _, w := range wages {
		of[w.WorkerID] = append(of[w.WorkerID], WageRow{
			w.ID, w.Version, wageText(s, w.Rate, w.Per == store.PerWeek), w.Per, w.EffectiveFrom.String(),
		})
	}
	for _, r := range rows {
		w := WorkerRow{
			ID: r.ID, Code: r.Code, Name: r.Name, Trade: r.Trade, Crew: r.Crew, BurdenClass: r.Class, Kind: r.Kind, Exempt: r.Exempt,
			Active: r.Active, Version: r.Version, Wages: append([]WageRow{}, of[r.ID]...),
		}
		if r.NoWageSince != nil {
			w.NoWageSince = r.NoWageSince.String()
		}
		build, err := build(s, r.Worker, r.Trade, r.Class, on, costCodeID)
		if err != nil {
			return err
		}
		if build != nil {
			w.Wage, w.Per, w.Since, w.Burdened = build.Wage.Value, store.PerHour, build.Wage.Since, build.Total.Regular
			if build.Weekly != "" {
				w.Wage, w.Per = build.Weekly, store.PerWeek
			}
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
func build(s *book.Session, w store.Worker, trade, class string, on calendar.Date, costCodeID int64) (*BurdenBuild, error) {
	terms, err := ratebook.Terms(s, w)
	if err != nil {
		return nil, err
	}
	pay, wage, paid := terms.Pay(on)
	if !paid {
		return nil, nil
	}
	components := burden.Effective(terms.Components, costCodeID, on)
	b := &BurdenBuild{
		Worker: register.Named{ID: w.ID, Code: w.Code, Name: w.Name, Sub: trade}, Class: class, Date: on.String(), Parts: []BurdenRow{},
	}
	b.Wage = BurdenRow{ID: wage.ID, Name: "Wage", Basis: "hour", Value: s.Currency.FormatRate(pay.Wage), Since: wage.From.String()}
	if wage.ByWeek {
		b.Weekly = wageText(s, wage.Rate, true)
	}
	codes, err := costCodes(s)
	if err != nil {
		return nil, err
	}
	b.Code = codes[costCodeID]
	for _, c := range components {
		b.Parts = append(b.Parts, RowOf(s, c, codes))
	}
	book, err := ratebook.Of(s)
	if err != nil {
		return nil, err
	}
	work := pricing.Work{Worker: w.ID, Trade: store.ID(w.TradeID), CostCode: costCodeID}
	row, _, priced := pricing.FindLabour(book.Chain(ratebook.ChargedBy{}), work, on)
	if priced {
		b.Charge, b.Margins = &BurdenRow{Name: "Charge"}, &BurdenRow{Name: "Margin"}
	}
	for _, k := range []worktime.Class{worktime.Regular, worktime.Overtime, worktime.Double} {
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
		charge, err := row.Charge(s.Currency, ratebook.Factors(s), worktime.Segment{Class: k, Minutes: 60}, &total)
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

// costCodes are the codes of the cost codes, by id.
func costCodes(s *book.Session) (map[int64]string, error) {
	rows, err := store.All[store.CostCode](s.Tx, "id")
	codes := make(map[int64]string, len(rows))
	for _, r := range rows {
		codes[r.ID] = r.Code
	}
	return codes, err
}

// wageText writes a wage: a rate an hour, or an amount a week.
func wageText(s *book.Session, rate money.Rate, byWeek bool) string {
	if amount, err := s.Currency.ForQuantity(1_000, rate); byWeek && err == nil {
		return s.Money(amount)
	}
	return s.Currency.FormatRate(rate)
}

// RowOf writes a burden component; codes are the codes of the cost codes.
func RowOf(s *book.Session, c burden.Component, codes map[int64]string) BurdenRow {
	row := BurdenRow{
		ID: c.ID, Name: c.Name, CostCode: codes[c.CostCode], Basis: string(c.Basis), Value: c.Percent.String(), Since: c.From.String(),
		Cap: s.Maybe(c.Cap),
	}
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
		core := ratebook.LabourRowOf(r.LabourRate)
		row := LabourRateRow{
			ID: r.ID, Card: r.Card, Worker: r.Worker, Trade: r.Trade, CostCode: r.CostCode, Weight: core.Weight(), Method: r.Method,
			From: r.EffectiveFrom.String(), Version: r.Version, WorkerID: store.ID(r.WorkerID), CostCodeID: store.ID(r.CostCodeID),
			OvertimeFactor: factor(r.OvertimeFactor), DoubleFactor: factor(r.DoubleFactor),
		}
		if core.Method == pricing.OnMarkup {
			row.Value = core.Percent.String()
		} else {
			row.Value = s.Currency.FormatRate(core.Rate)
			for class, into := range map[worktime.Class]*string{worktime.Overtime: &row.Overtime, worktime.Double: &row.Double} {
				price, err := core.Charge(s.Currency, ratebook.Factors(s), worktime.Segment{Class: class, Minutes: 60}, nil)
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
			From: m.EffectiveFrom.String(), Version: m.Version, On: m.PutOn,
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
	codes, err := costCodes(s)
	if err != nil {
		return err
	}
	for _, b := range classes {
		row := RowOf(s, ratebook.ComponentOf(b.Burden), codes)
		row.Version = b.Version
		out.Burdens = append(out.Burdens, ClassRow{b.Class, row})
	}
	if out.Customers, err = customersOf(s); err != nil {
		return err
	}
	if out.Units, err = store.Query[UnitRow](s.Tx, "SELECT id, name, code, version FROM units ORDER BY name"); err != nil {
		return err
	}
	if out.Trades, err = store.Query[TradeRow](s.Tx, tradeRows); err != nil {
		return err
	}
	if out.CostCodes, err = store.Query[CodeRow](s.Tx, "SELECT id, code, name, active, version FROM cost_codes ORDER BY code"); err != nil {
		return err
	}
	type tax struct {
		store.TaxCode
		Component     *string
		EffectiveFrom *calendar.Date
		Percent       *money.Percent
		AppliesTo     *string
		Scheme        *string
	}
	taxes, err := store.Query[tax](s.Tx, taxRows)
	for _, t := range taxes {
		row := TaxRow{
			CodeID: t.ID, Version: t.Version, Code: t.Code, Kind: t.Kind, Note: t.Note, OnRelease: t.RetainageTax == "on_release",
			Component: store.Text(t.Component), AppliesTo: store.Text(t.AppliesTo), Scheme: store.Text(t.Scheme),
		}
		if t.EffectiveFrom != nil {
			row.From = t.EffectiveFrom.String()
		}
		if t.Percent != nil {
			row.Percent = t.Percent.String()
		}
		out.TaxCodes = append(out.TaxCodes, row)
	}
	return err
}

func factor(f *money.Factor) string {
	if f == nil {
		return ""
	}
	return f.String()
}
