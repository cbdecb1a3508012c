package app

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// Choices are what the fields of every sheet choose from.
type Choices struct {
	Company   CompanyView   `json:"company"`
	Jobs      []JobChoice   `json:"jobs"`
	Customers []Named       `json:"customers"`
	Workers   []Named       `json:"workers"`
	CostCodes []Named       `json:"costCodes"`
	Trades    []Named       `json:"trades"`
	Classes   []Named       `json:"burdenClasses"`
	Cards     []Named       `json:"cards"`
	TaxCodes  []Named       `json:"taxCodes"`
	Crews     []string      `json:"crews"`
	Phases    []PhaseChoice `json:"phases"`
	Recent    Recent        `json:"recent"`
}

// Recent are the places of the hours captured last, the last one first.
type Recent struct {
	Jobs      []int64 `json:"jobs"`
	Phases    []int64 `json:"phases"`
	CostCodes []int64 `json:"costCodes"`
}

// CompanyView is what every sheet needs to know of the company.
type CompanyView struct {
	Name          string `json:"name"`
	Currency      string `json:"currency"`
	Digits        int    `json:"digits" doc:"decimals of the currency's amounts"`
	WeekStart     string `json:"weekStart"`
	Today         string `json:"today" format:"date"`
	DailyLimit    string `json:"dailyLimit,omitempty" format:"decimal" doc:"hours a day after which overtime comes"`
	NextJobNumber string `json:"nextJobNumber"`
	CardID        int64  `json:"cardId,omitempty"`
	PurchaseTax   string `json:"purchaseTax"`
	TimeZone      string `json:"timeZone,omitempty" doc:"IANA name; absent: the server's, until one is chosen"`
	Version       int64  `json:"version" doc:"of the company's settings"`
}

// JobChoice is a job in a list to choose from.
type JobChoice struct {
	ID       int64  `json:"id"`
	Number   string `json:"number"`
	Name     string `json:"name"`
	Customer string `json:"customer"`
	Status   string `json:"status"`
	Basis    string `json:"basis"`
}

// PhaseChoice is a phase in a list to choose from.
type PhaseChoice struct {
	ID    int64  `json:"id"`
	JobID int64  `json:"jobId"`
	Code  string `json:"code"`
	Name  string `json:"name"`
}

// Choices lists what there is to choose from; it holds no money.
func (a *App) Choices(ctx context.Context, actor Actor) (Choices, error) {
	return Read(ctx, a, actor, Capture, func(s *session) (out Choices, err error) {
		out.Company = CompanyView{
			Name: s.company.CompanyName, Currency: s.company.Currency, Digits: s.currency.Digits, WeekStart: s.company.WeekStart, Today: s.today().String(),
			CardID: store.ID(s.company.RateCardID), PurchaseTax: s.company.PurchaseTax, TimeZone: s.company.TimeZone, Version: s.company.Version,
		}
		if s.company.OvertimeDailyMinutes != nil {
			out.Company.DailyLimit = (*s.company.OvertimeDailyMinutes).Short()
		}
		if out.Company.NextJobNumber, err = s.nextJobNumber(); err != nil {
			return out, err
		}
		if out.Jobs, err = store.Query[JobChoice](s.Tx, `SELECT j.id, j.number, j.name, ifnull(c.name, '') AS customer, j.status, j.basis
			FROM jobs j LEFT JOIN customers c ON c.id = j.customer_id ORDER BY j.number_order DESC`); err != nil {
			return out, err
		}
		if out.Phases, err = store.Query[PhaseChoice](s.Tx, "SELECT id, job_id, code, name FROM phases ORDER BY job_id, code"); err != nil {
			return out, err
		}
		if out.Crews, err = s.crews(); err != nil {
			return out, err
		}
		if out.Workers, err = s.members(s.actor.Crew); err != nil {
			return out, err
		}
		for table, into := range map[string]*[]Named{
			"customers": &out.Customers, "cost_codes": &out.CostCodes, "trades": &out.Trades,
		} {
			if *into, err = store.Query[Named](s.Tx, "SELECT id, code, name FROM "+table+" ORDER BY code"); err != nil {
				return out, err
			}
		}
		for table, into := range map[string]*[]Named{"burden_classes": &out.Classes, "rate_cards": &out.Cards, "tax_codes": &out.TaxCodes} {
			if *into, err = store.Query[Named](s.Tx, "SELECT id, code, code AS name FROM "+table+" ORDER BY code"); err != nil {
				return out, err
			}
		}
		out.Recent, err = s.recent()
		return out, err
	})
}

// lastPlaces is how far back the places of hours are looked at to offer the most recent first.
const lastPlaces = 300

func (s *session) recent() (Recent, error) {
	type place struct {
		JobID               int64
		PhaseID, CostCodeID *int64
	}
	out := Recent{Jobs: []int64{}, Phases: []int64{}, CostCodes: []int64{}}
	places, err := store.Query[place](s.Tx, "SELECT job_id, phase_id, cost_code_id FROM time_entries ORDER BY id DESC LIMIT ?", lastPlaces)
	add := func(list *[]int64, recordID int64) {
		if recordID != 0 && !slices.Contains(*list, recordID) {
			*list = append(*list, recordID)
		}
	}
	for _, p := range places {
		add(&out.Jobs, p.JobID)
		add(&out.Phases, store.ID(p.PhaseID))
		add(&out.CostCodes, store.ID(p.CostCodeID))
	}
	return out, err
}

func (s *session) nextJobNumber() (string, error) {
	for n := s.company.NextJobNumber; ; n++ {
		number := fmt.Sprint(n)
		taken, err := store.Query[int64](s.Tx, "SELECT count(*) FROM jobs WHERE number = ?", number)
		if err != nil || taken[0] == 0 {
			return number, err
		}
	}
}

// code makes a code of a name that is not taken: "Cato Brandl" becomes "cato-brandl".
func (s *session) code(table, name string) (string, error) {
	words := strings.FieldsFunc(strings.ToLower(name), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
	base := strings.Join(words, "-")
	if base == "" {
		base = table
	}
	code := base
	for n := 2; ; n++ {
		taken, err := store.Query[int64](s.Tx, "SELECT count(*) FROM "+table+" WHERE code = ?", code)
		if err != nil || taken[0] == 0 {
			return code, err
		}
		code = fmt.Sprintf("%s-%d", base, n)
	}
}

// named finds the row with a name or code, and makes it where there is none; a blank name is no row.
func (s *session) named(table, name string) (*int64, error) {
	name = strings.TrimSpace(name)
	if name == "" {
		return nil, nil
	}
	hasName := table == "trades" || table == "cost_codes"
	query := "SELECT id FROM " + table + " WHERE code = ?"
	args := []any{name}
	if hasName {
		query, args = query+" OR name = ? COLLATE NOCASE", append(args, name)
	}
	ids, err := store.Query[int64](s.Tx, query+" ORDER BY id", args...)
	if err != nil {
		return nil, err
	}
	if len(ids) > 0 {
		return &ids[0], nil
	}
	code := name
	if hasName {
		if code, err = s.code(table, name); err != nil {
			return nil, err
		}
		err = s.Exec("INSERT INTO "+table+" (code, name) VALUES (?, ?)", code, name).Error
	} else {
		err = s.Exec("INSERT INTO "+table+" (code) VALUES (?)", code).Error
	}
	if err != nil {
		return nil, err
	}
	ids, err = store.Query[int64](s.Tx, "SELECT last_insert_rowid()")
	if err != nil {
		return nil, err
	}
	return &ids[0], s.record("added", table, ids[0], nil, map[string]string{"name": name})
}

// NewWorker is a worker with a first wage.
type NewWorker struct {
	Key         string `json:"key,omitempty"`
	Name        string `json:"name"`
	Trade       string `json:"trade" doc:"name of a trade; made where there is none"`
	Crew        string `json:"crew"`
	BurdenClass string `json:"burdenClass" doc:"name of a burden class; made where there is none, blank for none"`
	Kind        string `json:"kind" doc:"employee or hired"`
	Exempt      bool   `json:"exempt"`
	Wage        string `json:"wage" doc:"an hour"`
	WageFrom    string `json:"wageFrom" format:"date"`
}

// AddWorker adds a worker with a wage from a date on.
func (a *App) AddWorker(ctx context.Context, actor Actor, in NewWorker) (int64, error) {
	return Write(ctx, a, actor, Setup, func(s *session) (int64, error) {
		return once(s, "worker", in.Key, in, func() (int64, error) { return s.addWorker(in) })
	})
}

func (s *session) addWorker(in NewWorker) (int64, error) {
	c := s.checks()
	w := store.Worker{Name: c.needed("name", in.Name, "a name"), Crew: c.text("crew", in.Crew), Exempt: in.Exempt, Active: true, Version: 1, Kind: "employee"}
	if in.Kind != "" {
		w.Kind = c.oneOf("kind", in.Kind, "employee", "hired")
	}
	wage := optional(c, "wage", in.Wage, parseRate)
	var from calendar.Date
	if wage != nil {
		notNegative(c, "wage", *wage, "a wage")
		from = c.date("wageFrom", in.WageFrom)
	}
	trade, class := c.text("trade", in.Trade), c.text("burdenClass", in.BurdenClass)
	if err := c.err(); err != nil {
		return 0, err
	}
	var err error
	if w.TradeID, err = s.named("trades", trade); err != nil {
		return 0, err
	}
	if w.BurdenClassID, err = s.named("burden_classes", class); err != nil {
		return 0, err
	}
	if w.Code, err = s.code("workers", w.Name); err != nil {
		return 0, err
	}
	if err := s.Create(&w).Error; err != nil {
		return 0, err
	}
	if wage != nil {
		if err := s.Create(&store.Wage{WorkerID: w.ID, EffectiveFrom: from, Rate: *wage}).Error; err != nil {
			return 0, err
		}
	}
	return w.ID, s.record("added", "worker", w.ID, nil, map[string]string{"name": w.Name, "wage": in.Wage, "from": in.WageFrom})
}

// NewCustomer is who pays.
type NewCustomer struct {
	Key        string `json:"key,omitempty"`
	Name       string `json:"name"`
	Email      string `json:"email,omitempty"`
	Address    string `json:"address,omitempty"`
	TermsDays  string `json:"termsDays,omitempty" doc:"blank: the company's"`
	TaxExempt  bool   `json:"taxExempt,omitempty"`
	TaxCode    string `json:"taxCode,omitempty" doc:"name of a tax code that is there; blank: the company's"`
	InvoicePer string `json:"invoicePer,omitempty" doc:"job or customer"`
	Card       string `json:"card,omitempty" doc:"name of a rate card; made where there is none"`
}

// AddCustomer adds a customer.
func (a *App) AddCustomer(ctx context.Context, actor Actor, in NewCustomer) (int64, error) {
	return Write(ctx, a, actor, Setup, func(s *session) (int64, error) {
		return once(s, "customer", in.Key, in, func() (int64, error) { return s.addCustomer(in) })
	})
}

func (s *session) addCustomer(in NewCustomer) (int64, error) {
	c := s.checks()
	row := store.Customer{
		Name: c.needed("name", in.Name, "a name"), Email: c.text("email", in.Email), Address: c.text("address", in.Address), TaxExempt: in.TaxExempt, InvoicePer: "job", Version: 1,
		TermsDays: optional(c, "termsDays", in.TermsDays, wholeDays),
	}
	if in.InvoicePer != "" {
		row.InvoicePer = c.oneOf("invoicePer", in.InvoicePer, "job", "customer")
	}
	card := c.text("card", in.Card)
	if err := c.err(); err != nil {
		return 0, err
	}
	var err error
	if row.RateCardID, err = s.named("rate_cards", card); err != nil {
		return 0, err
	}
	if row.TaxCodeID, err = s.existing("tax_codes", "taxCode", in.TaxCode); err != nil {
		return 0, err
	}
	if row.Code, err = s.code("customers", row.Name); err != nil {
		return 0, err
	}
	if err := s.Create(&row).Error; err != nil {
		return 0, err
	}
	return row.ID, s.record("added", "customer", row.ID, nil, map[string]string{"name": row.Name})
}

func wholeDays(s string) (int64, error) {
	q, err := parseQuantity(s)
	if err != nil || q < 0 || q%1000 != 0 {
		return 0, &Error{Message: "type a whole number of days"}
	}
	return int64(q) / 1000, nil
}

// existing finds the row with a code; a blank code is none.
func (s *session) existing(table, path, code string) (*int64, error) {
	if strings.TrimSpace(code) == "" {
		return nil, nil
	}
	ids, err := store.Query[int64](s.Tx, "SELECT id FROM "+table+" WHERE code = ?", strings.TrimSpace(code))
	if err != nil {
		return nil, err
	}
	if len(ids) == 0 {
		return nil, invalid(path, "there is no %q", code)
	}
	return &ids[0], nil
}

// NewJob is a job for a customer.
type NewJob struct {
	Key        string     `json:"key,omitempty"`
	Number     string     `json:"number" doc:"blank: the next of the company's own"`
	CustomerID int64      `json:"customerId,omitempty" doc:"absent where the basis is none"`
	Name       string     `json:"name"`
	Type       string     `json:"type,omitempty"`
	Status     string     `json:"status,omitempty" doc:"live where absent"`
	Basis      string     `json:"basis" doc:"tm, fixed or none"`
	Contract   string     `json:"contract,omitempty"`
	Retainage  string     `json:"retainage,omitempty" doc:"percent"`
	Site       string     `json:"site,omitempty"`
	Start      string     `json:"start,omitempty"`
	Card       string     `json:"card,omitempty" doc:"name of a rate card; made where there is none"`
	TaxCode    string     `json:"taxCode,omitempty"`
	NeedsCode  bool       `json:"needsCostCode,omitempty" doc:"its hours are to have a cost code"`
	Phases     []NewPhase `json:"phases,omitempty" maxItems:"200"`
}

// NewPhase is a part of a job.
type NewPhase struct {
	Code string `json:"code"`
	Name string `json:"name"`
}

// AddJob opens a job.
func (a *App) AddJob(ctx context.Context, actor Actor, in NewJob) (int64, error) {
	return Write(ctx, a, actor, Setup, func(s *session) (int64, error) {
		return once(s, "job", in.Key, in, func() (int64, error) { return s.addJob(in) })
	})
}

func (s *session) addJob(in NewJob) (int64, error) {
	c := s.checks()
	row := store.Job{
		Number: c.text("number", in.Number), CustomerID: store.Ref(in.CustomerID), Name: c.needed("name", in.Name, "a name"), Type: c.text("type", in.Type), Status: "live",
		Basis: c.oneOf("basis", in.Basis, "tm", "fixed", "none"), Contract: optional(c, "contract", in.Contract, s.parseAmount),
		Retainage: orZero(c, "retainage", in.Retainage, parsePercent), Site: c.text("site", in.Site), Start: optional(c, "start", in.Start, calendar.Parse), NeedsCostCode: in.NeedsCode, Version: 1,
	}
	if in.Status != "" {
		row.Status = c.oneOf("status", in.Status, "quoting", "live", "paused", "finished", "closed")
	}
	if row.Contract != nil {
		notNegative(c, "contract", *row.Contract, "a contract")
	}
	if row.Retainage < 0 || row.Retainage > money.Whole {
		c.add("retainage", "retainage is between 0 and 100 %%")
	}
	in.Card = c.text("card", in.Card)
	if err := s.checkJob(c, &row); err != nil {
		return 0, err
	}
	if err := c.err(); err != nil {
		return 0, err
	}
	return s.createJob(row, in)
}

func (s *session) checkJob(c *checks, row *store.Job) error {
	if row.CustomerID == nil && row.Basis != "none" {
		c.add("customerId", "whose job is it? choose the customer")
	}
	if row.CustomerID != nil {
		if _, found, err := store.One[store.Customer](s.Tx, *row.CustomerID); err != nil {
			return err
		} else if !found {
			c.add("customerId", "there is no such customer")
		}
	}
	if row.Number == "" {
		number, err := s.nextJobNumber()
		row.Number = number
		return err
	}
	taken, err := store.All[store.Job](s.Tx, "id", "number = ?", row.Number)
	if err == nil && len(taken) > 0 {
		c.add("number", "job %s is there already: %s", row.Number, taken[0].Name)
	}
	return err
}

func (s *session) createJob(row store.Job, in NewJob) (int64, error) {
	var err error
	row.NumberOrder = words.SortKey(row.Number)
	if row.RateCardID, err = s.named("rate_cards", in.Card); err != nil {
		return 0, err
	}
	if row.TaxCodeID, err = s.existing("tax_codes", "taxCode", in.TaxCode); err != nil {
		return 0, err
	}
	if err := s.Create(&row).Error; err != nil {
		return 0, err
	}
	if row.Number == fmt.Sprint(s.company.NextJobNumber) {
		if err := s.Model(&s.company).Update("next_job_number", s.company.NextJobNumber+1).Error; err != nil {
			return 0, err
		}
	}
	c := s.checks()
	for i, p := range in.Phases {
		path := fmt.Sprintf("phases[%d].", i)
		phase := store.Phase{JobID: row.ID, Code: c.needed(path+"code", p.Code, "a code"), Name: c.text(path+"name", p.Name)}
		if err := c.err(); err != nil {
			return 0, err
		}
		if err := s.Create(&phase).Error; err != nil {
			return 0, err
		}
	}
	return row.ID, s.record("opened", "job", row.ID, nil, map[string]string{"number": row.Number, "name": row.Name})
}

// NewCode is a cost code.
type NewCode struct {
	Key  string `json:"key,omitempty"`
	Code string `json:"code"`
	Name string `json:"name"`
}

// AddCostCode adds a cost code.
func (a *App) AddCostCode(ctx context.Context, actor Actor, in NewCode) (int64, error) {
	return Write(ctx, a, actor, Setup, func(s *session) (int64, error) {
		return once(s, "cost_code", in.Key, in, func() (int64, error) { return s.addCostCode(in) })
	})
}

func (s *session) addCostCode(in NewCode) (int64, error) {
	row := store.CostCode{}
	c := s.checks()
	row.Code, row.Name = c.needed("code", in.Code, "a code"), c.needed("name", in.Name, "a name")
	taken, err := store.All[store.CostCode](s.Tx, "id", "code = ?", row.Code)
	if err != nil {
		return 0, err
	}
	if len(taken) > 0 {
		c.add("code", "cost code %s is there already: %s", row.Code, taken[0].Name)
	}
	if err := c.err(); err != nil {
		return 0, err
	}
	if err := s.Create(&row).Error; err != nil {
		return 0, err
	}
	return row.ID, s.record("added", "cost_code", row.ID, nil, in)
}
