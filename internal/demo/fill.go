package demo

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"

	"jarvo/internal/app/access"
	"jarvo/internal/app/approve"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/company"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/messages"
	"jarvo/internal/app/payback"
	"jarvo/internal/app/people"
	"jarvo/internal/app/pricelist"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/suppliers"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/core/calendar"
	"jarvo/internal/paper"
)

const (
	weeks     = 13
	seed      = 1187
	workdays  = 5
	billEvery = 4 // weeks
)

// filler writes the book as its owner would.
type filler struct {
	*book.Book
	ctx     context.Context
	follow  func(percent int)
	owner   book.Actor
	manager book.Actor // approves
	rand    *rand.Rand
	workers map[string]int64
	codes   map[string]int64
	jobs    map[string]int64
	items   map[string]int64 // by description
	byCrew  map[string][]job
	today   calendar.Date
	monday  calendar.Date // of its week

	billings int // of the dolphins so far
}

// Fill writes the demo book into an empty one.
func Fill(ctx context.Context, a *book.Book) error { return FillFollowed(ctx, a, func(int) {}) }

// FillFollowed is [Fill], and tells how much of it is done, in percent.
func FillFollowed(ctx context.Context, a *book.Book, follow func(percent int)) error {
	owner, err := access.OpenBook(ctx, a, access.NewBook{
		Code:        a.OpeningCode(),
		CompanyName: Company, Currency: "USD", WeekStart: "monday", OvertimeDaily: "8", OvertimeWeekly: "40", OvertimeFactor: "1.5",
		DoubleDaily: "12", DoubleFactor: "2",
		NextInvoiceNumber: "2603", NextJobNumber: "1201", Name: "Ada Ridley", SignIn: SignIn, Password: Password,
	})
	if err != nil {
		return err
	}
	today, err := a.Today(ctx)
	if err != nil {
		return err
	}
	f := &filler{
		Book: a, ctx: ctx, owner: owner, rand: rand.New(rand.NewPCG(seed, seed)), workers: map[string]int64{}, codes: map[string]int64{},
		jobs: map[string]int64{}, items: map[string]int64{}, byCrew: map[string][]job{},
		today: today, monday: today.WeekStart(1),
	}
	f.follow = follow
	for _, step := range []func() error{
		f.itself, f.name, f.setRates, f.hire, f.letIn, f.openJobs, f.plan, f.fixedPrices, f.listPrices, f.work, f.claims,
		f.looseEnds, f.buyFrom, f.collect, f.send,
	} {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

// letIn lets a manager in, a foreman who is kept to a crew, and a worker who clocks.
func (f *filler) letIn() error {
	for _, user := range []access.NewUser{
		{Name: "Tom Bickford", SignIn: "tom@brackwater.example", Role: book.Manager},
		{Name: "Greta Pell", SignIn: "greta@brackwater.example", Role: book.Foreman, Crew: "Deck crew"},
		{Name: "Fitz Harrow", SignIn: "fitz@brackwater.example", Role: book.Worker, WorkerID: f.workers["Fitz Harrow"]},
	} {
		user.Password = Password
		made, err := access.AddUser(f.ctx, f.Book, f.owner, user)
		if err != nil {
			return err
		}
		if user.Role == book.Manager {
			f.manager = book.Actor{UserID: made, Name: user.Name, Role: user.Role}
		}
	}
	return nil
}

// itself is what the company says of itself on its papers.
func (f *filler) itself() error {
	in, err := company.Get(f.ctx, f.Book, f.owner)
	if err != nil {
		return err
	}
	in.Address, in.City, in.Country = "Slip 4, Tannery Quay", "Brackwater", "US"
	in.Email, in.Phone, in.TaxNumber = "accounts@brackwater.example", "555 0144", "47-0000000"
	in.Licence, in.Bank, in.Payee, in.Account, in.BankCode = "MC 20-4471", "Quay Bank, Brackwater",
		"Brackwater Dock & Pile LLC", "2200 4418", "091 000 555"
	in.Accent = "#1e2f55"
	if err := company.Change(f.ctx, f.Book, f.owner, in); err != nil {
		return err
	}
	logo, err := mark()
	if err != nil {
		return err
	}
	return company.SetLogo(f.ctx, f.Book, f.owner, in.Version+1, logo)
}

func (f *filler) longAgo() string { return (f.monday - 7*60).String() }

// name gives the cost codes.
func (f *filler) name() error {
	for _, c := range costCodes {
		made, err := jobs.AddCostCode(f.ctx, f.Book, f.owner, jobs.NewCode{Code: c[0], Name: c[1]})
		if err != nil {
			return err
		}
		f.codes[c[0]] = made
	}
	return nil
}

func (f *filler) setRates() error {
	for _, b := range burdens {
		if err := rates.AddBurden(f.ctx, f.Book, f.owner, rates.NewBurden{
			Class: "Field marine", Name: b.name, From: f.longAgo(), Basis: b.basis, Value: b.value, Cap: b.limit, Code: b.code,
		}); err != nil {
			return err
		}
	}
	for _, p := range demoPeople {
		if price := hourly[p.trade]; price != "" {
			if err := rates.AddLabourRate(
				f.ctx, f.Book, f.owner, rates.NewLabourRate{From: f.longAgo(), Trade: p.trade, Method: "hourly", Value: price},
			); err != nil && p.trade != "pile driver" && p.trade != "carpenter" {
				return err
			}
		}
	}
	for _, m := range []rates.NewMarkup{
		{Category: "material", Percent: "18"}, {Category: "material", OverCost: "500", Percent: "12"}, {Category: "equipment", Percent: "15"},
		{Category: "expense", Percent: "10"},
	} {
		m.From = f.longAgo()
		if err := rates.AddMarkup(f.ctx, f.Book, f.owner, m); err != nil {
			return err
		}
	}
	return nil
}

func (f *filler) hire() error {
	for _, p := range demoPeople {
		in := people.NewWorker{
			Name: p.name, Trade: p.trade, Crew: p.crew, BurdenClass: "Field marine", Wage: p.wage, WageFrom: f.longAgo(),
		}
		if p.name == salaried {
			in.WagePer = "week"
		}
		made, err := people.Add(f.ctx, f.Book, f.owner, in)
		if err != nil {
			return err
		}
		f.workers[p.name] = made
	}
	// Cato's wage rises half way.
	return rates.AddWage(f.ctx, f.Book, f.owner, rates.NewWage{
		WorkerID: f.workers["Cato Brandl"], Rate: "35.00", From: (f.monday - 7*6 + 2).String(),
	})
}

func (f *filler) openJobs() error {
	ids := make([]int64, len(demoCustomers))
	for i, c := range demoCustomers {
		street, city, _ := strings.Cut(c.address, "\n")
		made, err := customers.Add(f.ctx, f.Book, f.owner, customers.NewCustomer{
			Name: c.name, Address: street, City: city, Country: "US", TermsDays: c.terms, Email: c.email, Reference: c.reference,
			Contacts: demoContacts[c.name],
		})
		if err != nil {
			return err
		}
		ids[i] = made
	}
	for _, j := range demoJobs {
		in := jobs.NewJob{
			Number: j.number, Name: j.name, Site: sites[j.number], Basis: j.basis, Contract: j.contract, Retainage: j.retainage, Status: j.status,
			NeedsCode: j.number == "1195", Start: (f.monday - 7*weeks).String(),
		}
		if j.customer >= 0 {
			in.CustomerID = ids[j.customer]
		}
		if j.number == "1187" {
			in.OrderNumber = "GP-0417"
			in.Phases = []jobs.NewPhase{{Code: "A", Name: "Mobilise"}, {Code: "B", Name: "Drive piles"}, {Code: "C", Name: "Caps and deck"}}
		}
		made, err := jobs.Add(f.ctx, f.Book, f.owner, in)
		if err != nil {
			return err
		}
		f.jobs[j.number] = made
		for range j.weight {
			f.byCrew[j.crew] = append(f.byCrew[j.crew], j)
		}
	}
	return nil
}

// plan says what some jobs are to cost.
func (f *filler) plan() error {
	rows := map[string][]jobs.BudgetRow{}
	for _, b := range demoBudgets {
		rows[b.job] = append(rows[b.job], jobs.BudgetRow{Category: b.category, CostCodeID: f.codes[b.code], Cost: b.cost})
	}
	for _, number := range slices.Sorted(maps.Keys(rows)) {
		folder, err := jobs.Folder(f.ctx, f.Book, f.owner, number)
		if err != nil {
			return err
		}
		in := jobs.BudgetChange{Version: folder.Typed.Version, Rows: rows[number]}
		if err := jobs.SaveBudget(f.ctx, f.Book, f.owner, number, in); err != nil {
			return err
		}
	}
	return nil
}

// listPrices puts what is bought and used again and again on the price list; a mile costs more since two weeks.
func (f *filler) listPrices() error {
	list := slices.Clone(demoRates)
	for _, g := range goods {
		if g.code != "" {
			list = append(list, rate{g.code, g.description, g.category, g.unit, fmt.Sprintf("%d.%02d", g.cost/100, g.cost%100), ""})
		}
	}
	for _, r := range list {
		made, err := pricelist.Add(f.ctx, f.Book, f.owner, pricelist.NewItem{
			Code: r.code, Description: r.description, Category: r.category, Unit: r.unit,
			NewItemPrice: pricelist.NewItemPrice{From: f.longAgo(), UnitCost: r.cost, SellPrice: r.sell},
		})
		if err != nil {
			return err
		}
		f.items[r.description] = made
	}
	return pricelist.AddPrice(
		f.ctx, f.Book, f.owner, f.items["Miles, own car or van"], pricelist.NewItemPrice{From: (f.monday - 14).String(), UnitCost: "0.70"},
	)
}

var crews = []string{"Pile crew", "Deck crew", "Dive crew"}

// work books each week's hours and papers, approves all but the last, and bills every four weeks.
func (f *filler) work() error {
	for week := weeks - 1; week >= 0; week-- {
		f.follow(100 * (weeks - 1 - week) / weeks)
		monday := f.monday - calendar.Date(7*week)
		for _, crew := range crews {
			if err := f.crewWeek(crew, monday, week); err != nil {
				return err
			}
		}
		for range 2 + f.rand.IntN(3) {
			if err := f.paper(monday+calendar.Date(f.rand.IntN(workdays)), week > 1); err != nil {
				return err
			}
		}
		if week == 0 || week == 1 || week%billEvery != 2 {
			continue
		}
		if err := f.billWeek(monday, week); err != nil {
			return err
		}
	}
	return nil
}

// billWeek bills what is ready; at the last run some jobs are left to wait, one of them longer than it should.
func (f *filler) billWeek(monday calendar.Date, week int) error {
	billed := []string{""}
	if week >= billEvery {
		if err := errors.Join(f.billValues(f.billings, monday+8), f.askDeposit(f.billings, monday+8)); err != nil {
			return err
		}
		f.billings++
	} else {
		billed = []string{"1179", "1182", "1192", "1196"}
	}
	for _, job := range billed {
		if _, err := billing.Run(f.ctx, f.Book, f.owner, monday+6, monday+8, job, true); err != nil {
			return err
		}
	}
	return nil
}

func (f *filler) crewWeek(crew string, monday calendar.Date, week int) error {
	lastDay := min(workdays-1, int(f.today-monday))
	var edits []timesheet.CellEdit
	for day := 0; day <= lastDay; day++ {
		j := f.byCrew[crew][f.rand.IntN(len(f.byCrew[crew]))]
		code := j.codes[f.rand.IntN(len(j.codes))]
		length := []string{"8", "8", "9", "10", "7-3:30/30", "6:30-5/30"}[f.rand.IntN(6)]
		place := f.codes[code]
		if week == 1 && day == 4 && crew == "Deck crew" { // a loose end: the job asks for a code
			j, place = demoJobs[slices.IndexFunc(demoJobs, func(j job) bool { return j.number == "1195" })], 0
		}
		for _, p := range demoPeople {
			if p.crew != crew || week == 0 && day == 2 && p.name == "Fitz Harrow" || week == 1 && day == 2 && p.name == "June Kettle" {
				continue // a hole
			}
			if week == 1 && p.name == "Kit Marsh" && day < 2 {
				edits = append(edits, timesheet.CellEdit{
					WorkerID: f.workers[p.name], JobID: f.jobs["1200"], PayClass: "leave", Date: (monday + calendar.Date(day)).String(), Text: "8",
				})
				continue
			}
			edits = append(edits, timesheet.CellEdit{
				WorkerID: f.workers[p.name], JobID: f.jobs[j.number], CostCodeID: place, Billable: true, Date: (monday + calendar.Date(day)).String(),
				Text: length,
			})
		}
	}
	if crew == "Pile crew" && week%5 == 3 { // a Saturday in the yard
		edits = append(edits, timesheet.CellEdit{
			WorkerID: f.workers["Fitz Harrow"], JobID: f.jobs["1200"], CostCodeID: f.codes["910"], Billable: false, Date: (monday + 5).String(),
			Text: "6",
		})
	}
	if len(edits) == 0 {
		return nil
	}
	query := timesheet.SheetQuery{Week: monday.String(), Crew: crew}
	sheet, err := timesheet.SaveCells(f.ctx, f.Book, f.owner, query, edits)
	if err != nil {
		return fmt.Errorf("%s, week of %s: %w", crew, monday, err)
	}
	if week == 0 || week == 1 && crew == "Pile crew" {
		return nil // not handed in yet
	}
	if _, err := timesheet.HandIn(f.ctx, f.Book, f.owner, query, timesheet.HandingIn{Mark: sheet.Mark}); err != nil {
		return err
	}
	if week == 1 {
		return nil // waits for approval
	}
	return f.approve(monday, monday+6)
}

func (f *filler) approve(from, to calendar.Date) error {
	weeks := approve.Question{ScopeQuery: scope.ScopeQuery{From: from.String(), To: to.String()}}
	waiting, err := approve.Waiting(f.ctx, f.Book, f.owner, weeks)
	if err != nil {
		return err
	}
	d := approve.Decision{}
	for _, w := range waiting.Weeks {
		d.Entries = append(d.Entries, w.Entries...)
	}
	for _, p := range waiting.Papers {
		d.Documents = append(d.Documents, approve.Seen{ID: p.DocumentID, Version: p.Version})
	}
	if len(d.Entries)+len(d.Documents) == 0 {
		return nil
	}
	_, err = approve.Approve(f.ctx, f.Book, f.manager, d)
	return err
}

func (f *filler) paper(on calendar.Date, approved bool) error {
	if on > f.today {
		return nil
	}
	first := goods[f.rand.IntN(len(goods))]
	document := costs.Document{
		Kind: "supplier_invoice", Supplier: first.supplier, Date: on.String(),
		Number: fmt.Sprintf("%s-%d", initials(first.supplier), 20000+f.rand.IntN(900)),
	}
	for _, g := range goods {
		if g.supplier != first.supplier {
			continue
		}
		j := f.billedJob()
		document.Lines = append(document.Lines, costs.Line{
			Category: g.category, Description: g.description, Quantity: fmt.Sprint(1 + f.rand.IntN(g.most)), Unit: g.unit,
			UnitCost: fmt.Sprintf("%d.%02d", g.cost/100, g.cost%100),
			JobID:    f.jobs[j], Billable: true,
		})
	}
	if first.category == "material" {
		document.Freight = fmt.Sprintf("%d.00", 40+f.rand.IntN(400))
	}
	return f.enter(document, approved)
}

func (f *filler) billedJob() string {
	var open []string
	for _, j := range demoJobs {
		if j.status == "live" && j.weight > 0 && j.crew != "Dive crew" {
			open = append(open, j.number)
		}
	}
	return open[f.rand.IntN(len(open))]
}

func (f *filler) enter(document costs.Document, approved bool) error {
	for i, l := range document.Lines {
		document.Lines[i].ItemID = f.items[l.Description]
	}
	saved, err := costs.Save(f.ctx, f.Book, f.owner, document)
	if err != nil {
		return fmt.Errorf("%s of %s: %w", document.Supplier, document.Date, err)
	}
	if document.Freight != "" { // what comes with a carrier comes with a paper
		paper, err := scan(saved)
		if err != nil {
			return err
		}
		if _, err := costs.Attach(f.ctx, f.Book, f.owner, saved.ID, saved.Number+".pdf", paper); err != nil {
			return err
		}
	}
	handed, err := costs.HandIn(f.ctx, f.Book, f.owner, saved.ID, saved.Version)
	if err != nil || !approved {
		return err
	}
	_, err = approve.Approve(f.ctx, f.Book, f.manager, approve.Decision{Documents: []approve.Seen{{ID: handed.ID, Version: handed.Version}}})
	return err
}

func initials(name string) string {
	letters := []rune{}
	for i, r := range name {
		if i == 0 || name[i-1] == ' ' && r != '&' {
			letters = append(letters, r)
		}
	}
	return string(letters)
}

// claims are what demoPeople laid out: one is paid back, one is owed, and one waits for approval.
func (f *filler) claims() error {
	laidOut := func(weeks int, kind, worker, supplier, number, what, quantity, unit, each string, approved bool) error {
		return f.enter(costs.Document{
			Kind: kind, WorkerID: f.workers[worker], Supplier: supplier, Number: number,
			Date: min(f.today, f.monday-calendar.Date(7*weeks)+2).String(),
			Lines: []costs.Line{{
				Category: cmp.Or(map[string]string{"mileage": "mileage"}[kind], "expense"), Description: what, Quantity: quantity, Unit: unit,
				UnitCost: each, JobID: f.jobs["1187"], Billable: true,
			}},
		}, approved)
	}
	err := errors.Join(
		laidOut(5, "claim", "Aldo Renn", "Gannet Point Ferries", "", "Ferry tickets, crew van", "4", "ea", "18.50", true),
		laidOut(3, "mileage", "Bess Tarrow", "", "", "Miles, own car or van", "212", "mi", "", true),
		laidOut(1, "receipt", "Cato Brandl", "Tolverne Chandlery", "553", "Shackles, 12 mm", "6", "ea", "11.35", true),
		laidOut(0, "claim", "Cato Brandl", "Harbour Car Park", "", "Parking, pile crew", "3", "day", "9.00", false),
	)
	if err != nil {
		return err
	}
	owed, err := payback.List(f.ctx, f.Book, f.owner)
	if err != nil {
		return err
	}
	first := owed.People[0]
	_, err = payback.Pay(f.ctx, f.Book, f.owner, payback.PayBack{
		Key: "demo-first-paid-back", WorkerID: first.WorkerID, DocumentIDs: []int64{first.Papers[0].ID}, Amount: first.Papers[0].Amount,
		Date: min(f.today, f.monday-14).String(),
		Note: "with the wages",
	})
	return err
}

// buyFrom says what is usual of the suppliers.
func (f *filler) buyFrom() error {
	list, err := suppliers.List(f.ctx, f.Book, f.owner)
	if err != nil {
		return err
	}
	for _, s := range list {
		usual, known := map[string]suppliers.NewSupplier{
			"Pellmore Timber & Piling": {Category: "material", TermsDays: "30"}, "Ironholt Fasteners": {Category: "material", TermsDays: "30"},
			"Kestrel Bay Survey": {Category: "subcontract", TermsDays: "14"}, "Sable Bar Decking": {Category: "material", TermsDays: "21"},
		}[s.Name]
		if !known {
			continue
		}
		usual.Name = s.Name
		change := suppliers.SupplierChange{NewSupplier: usual, Version: s.Version, Active: true}
		if err := suppliers.Change(f.ctx, f.Book, f.owner, s.ID, change); err != nil {
			return err
		}
	}
	return nil
}

// looseEnds leaves what could slip: a line without a job, a number entered twice, plant without a paper yet.
func (f *filler) looseEnds() error {
	on := min(f.today, f.monday-3)
	for _, d := range []costs.Document{
		{Kind: "supplier_invoice", Supplier: "Pellmore Timber & Piling", Number: "PM-20418", Freight: "480.00", Tax: "693.70",
			Lines: []costs.Line{
				{
					Category: "material", Description: "Greenheart pile, 350 sq, 14 m", Quantity: "12", Unit: "ea", UnitCost: "612.40",
					JobID: f.jobs["1187"], Billable: true,
				},
				{
					Category: "material", Description: "Pile shoe, cast, 350", Quantity: "12", Unit: "ea", UnitCost: "84.50", JobID: f.jobs["1187"],
					Billable: true,
				},
				{
					Category: "material", Description: "HDPE sleeve, 350", Quantity: "30", Unit: "m", UnitCost: "38.75", JobID: f.jobs["1192"],
					Billable: true,
				},
				{
					Category: "material", Description: "Drift bolt, galv., M24 x 400", Quantity: "160", Unit: "ea", UnitCost: "6.85",
					JobID: f.jobs["1187"], Billable: true,
				},
				{
					Category: "material", Description: "Returned: HDPE sleeve, PM-20377", Quantity: "-8", Unit: "m", UnitCost: "38.75",
					JobID: f.jobs["1192"], Billable: true,
				},
				{Category: "material", Description: "Fender strip, D 150", Quantity: "24", Unit: "m", UnitCost: "52.10", Billable: true},
			}},
		{Kind: "receipt", Supplier: "Sable Bar Marine Fuel", Number: "7731", Lines: []costs.Line{{
			Category: "material", Description: "Diesel, red", Quantity: "540", Unit: "l", UnitCost: "1.33", JobID: f.jobs["1187"], Billable: true,
		}}},
		{Kind: "receipt", Supplier: "Sable Bar Marine Fuel", Number: "7731", Lines: []costs.Line{{
			Category: "material", Description: "Diesel, red", Quantity: "540", Unit: "l", UnitCost: "1.33", JobID: f.jobs["1187"], Billable: true,
		}}},
		{Kind: "plant", Lines: []costs.Line{
			{Category: "equipment", Description: "Barge Mudlark", Quantity: "5", Unit: "day", JobID: f.jobs["1187"], Billable: true},
			{Category: "equipment", Description: "Crawler crane, 60 t", Quantity: "46", Unit: "h", JobID: f.jobs["1187"], Billable: true},
		}},
	} {
		d.Date = on.String()
		if err := f.enter(d, d.Kind == "plant"); err != nil {
			return err
		}
	}
	// A draft that is being looked at.
	ready, err := billing.Sheet(f.ctx, f.Book, f.owner, scope.ScopeQuery{})
	if err != nil {
		return err
	}
	at := slices.IndexFunc(ready.Ready, func(r billing.ReadyRow) bool { return r.Job == "1181" || r.Job == "1195" })
	if at < 0 {
		return nil
	}
	_, err = billing.MakeDrafts(f.ctx, f.Book, f.owner, billing.NewDrafts{
		Jobs: []int64{ready.Ready[at].JobID}, Through: f.today.String(), Date: f.today.String(),
	})
	return err
}

// collect pays most of what is due. The first who pays sends more than that: the rest is credit.
func (f *filler) collect() error {
	sheet, err := billing.Sheet(f.ctx, f.Book, f.owner, scope.ScopeQuery{})
	if err != nil {
		return err
	}
	ahead := false
	for i, invoice := range sheet.Issued {
		due, err := calendar.Parse(invoice.Due)
		if err != nil {
			return err
		}
		if due > f.today+10 || i%5 == 3 || invoice.Trail.Stage == "paid" {
			continue
		}
		payment := collect.NewPayment{
			Amount: invoice.Balance, Date: min(due, f.today).String(), Method: "transfer", Reference: "invoice " + invoice.Number,
			On: []collect.Against{{InvoiceID: invoice.ID}},
		}
		if !ahead {
			whole, cents, _ := strings.Cut(payment.Amount, ".")
			dollars, err := strconv.Atoi(whole)
			if err != nil {
				return err
			}
			ahead, payment.Amount = true, fmt.Sprintf("%d.%s", dollars+85, cents)
		}
		if _, err := collect.TakePayment(f.ctx, f.Book, f.owner, payment); err != nil {
			return err
		}
	}
	return nil
}

// sentOf is how many of the latest invoices have been sent.
const sentOf = 8

// send sends the latest invoices, each to a customer of its own.
func (f *filler) send() error {
	sheet, err := billing.Sheet(f.ctx, f.Book, f.owner, scope.ScopeQuery{})
	if err != nil {
		return err
	}
	sent := map[string]bool{}
	for _, invoice := range sheet.Issued {
		if len(sent) == sentOf || sent[invoice.Customer] {
			continue
		}
		sent[invoice.Customer] = true
		p, err := messages.Propose(f.ctx, f.Book, f.owner, paper.Press{}, messages.Asked{Invoice: invoice.ID})
		if err != nil {
			return err
		}
		if p.To == "" {
			continue
		}
		if _, err := messages.Send(f.ctx, f.Book, f.owner, paper.Press{}, messages.NewMessage{
			InvoiceID: invoice.ID, To: p.To, Subject: p.Subject, Body: p.Body, With: []string{messages.WithPDF},
		}); err != nil {
			return err
		}
	}
	return nil
}
