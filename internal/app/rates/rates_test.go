package rates_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/access"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/people"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/timesheet"
)

func TestEveryWrongFieldOfSetupGetsItsSentence(t *testing.T) {
	c := apptest.NewCrew(t)
	worker := people.NewWorker{Name: "New", Wage: "30", WageFrom: "2026-01-01"}
	job := jobs.NewJob{Name: "Quay", Basis: "none"}
	rate := rates.NewLabourRate{From: "2026-05-01", Method: "hourly", Value: "80"}
	burden := rates.NewBurden{Class: "Field", Name: "Health", From: "2026-05-01", Basis: "hour", Value: "5"}
	opening := access.NewBook{
		Currency: "usd", WeekStart: "someday", OvertimeDaily: "25:00", OvertimeWeekly: "169", OvertimeFactor: "0.9", DoubleFactor: "two",
		NextInvoiceNumber: "0", NextJobNumber: "1.5", Password: "short",
	}
	letIn := func(in access.NewUser) func() error {
		return func() error { _, err := access.AddUser(ctx, c.Book, c.Owner, in); return err }
	}
	for _, bad := range []struct {
		do             func() error
		path, sentence string
	}{
		{func() error { w := worker; w.Name = " "; _, err := people.Add(ctx, c.Book, c.Owner, w); return err }, "name", "is needed"},
		{func() error { w := worker; w.Wage = "-1"; _, err := people.Add(ctx, c.Book, c.Owner, w); return err }, "wage", "can't be below 0"},
		{
			func() error { w := worker; w.WageFrom = ""; _, err := people.Add(ctx, c.Book, c.Owner, w); return err }, "wageFrom",
			"a date is needed",
		},
		{func() error { w := worker; w.Kind = "robot"; _, err := people.Add(ctx, c.Book, c.Owner, w); return err }, "kind", "is not one of"},
		{func() error {
			_, err := customers.Add(ctx, c.Book, c.Owner, customers.NewCustomer{Name: "C", TermsDays: "soon"})
			return err
		}, "termsDays", "whole number of days"},
		{func() error {
			_, err := customers.Add(ctx, c.Book, c.Owner, customers.NewCustomer{Name: "C", TaxCode: "NOWHERE"})
			return err
		}, "taxCode", "there is no"},
		{func() error { j := job; j.Basis = "tm"; _, err := jobs.Add(ctx, c.Book, c.Owner, j); return err }, "customerId", "choose the customer"},
		{
			func() error { j := job; j.CustomerID = 99; _, err := jobs.Add(ctx, c.Book, c.Owner, j); return err }, "customerId",
			"there is no such customer",
		},
		{
			func() error { j := job; j.Number = "101"; _, err := jobs.Add(ctx, c.Book, c.Owner, j); return err }, "number",
			"is there already: Landing",
		},
		{
			func() error { j := job; j.Retainage = "101"; _, err := jobs.Add(ctx, c.Book, c.Owner, j); return err }, "retainage",
			"between 0 and 100",
		},
		{func() error { j := job; j.Contract = "-5"; _, err := jobs.Add(ctx, c.Book, c.Owner, j); return err }, "contract", "can't be below 0"},
		{func() error {
			j := job
			j.Phases = []jobs.NewPhase{{Name: "x"}}
			_, err := jobs.Add(ctx, c.Book, c.Owner, j)
			return err
		}, "phases[0].code", "is needed"},
		{func() error { r := rate; r.Value = "x"; return rates.AddLabourRate(ctx, c.Book, c.Owner, r) }, "value", "is not a number"},
		{func() error { r := rate; r.Value = "-1"; return rates.AddLabourRate(ctx, c.Book, c.Owner, r) }, "value", "can't be below 0"},
		{func() error {
			r := rate
			r.Method = "markup"
			r.Value = "-100"
			return rates.AddLabourRate(ctx, c.Book, c.Owner, r)
		}, "value", "more than -100 %"},
		{func() error { r := rate; r.Overtime = "0"; return rates.AddLabourRate(ctx, c.Book, c.Owner, r) }, "overtimeFactor", "more than 0"},
		{func() error {
			r := rate
			r.Trade, r.From = "driver", "2026-01-01"
			return rates.AddLabourRate(ctx, c.Book, c.Owner, r)
		}, "effectiveFrom", "correct that one"},
		{func() error { b := burden; b.Basis = "net"; return rates.AddBurden(ctx, c.Book, c.Owner, b) }, "basis", "is not one of"},
		{func() error { b := burden; b.Class = ""; return rates.AddBurden(ctx, c.Book, c.Owner, b) }, "burdenClass", "is needed"},
		{func() error { b := burden; b.Value = "-5"; return rates.AddBurden(ctx, c.Book, c.Owner, b) }, "value", "can't be below 0"},
		{func() error {
			return rates.AddWage(ctx, c.Book, c.Owner, rates.NewWage{WorkerID: 99, Rate: "1", From: "2026-01-01"})
		}, "workerId", "there is no such worker"},
		{func() error {
			return rates.AddWage(ctx, c.Book, c.Owner, rates.NewWage{WorkerID: c.Worker, Rate: "1", From: "2026-01-01"})
		}, "effectiveFrom", "there is a wage from 2026-01-01 already: 30.00"},
		{func() error {
			_, err := jobs.AddCostCode(ctx, c.Book, c.Owner, jobs.NewCode{Code: "", Name: "x"})
			return err
		}, "code", "is needed"},
		{letIn(access.NewUser{Name: "Eve", SignIn: "eve", Password: "short", Role: book.Manager}), "password", "of at least 12"},
		{letIn(access.NewUser{Name: "Eve", SignIn: "eve", Password: "long enough words", Role: "king"}), "role", "there is no role"},
		{
			letIn(access.NewUser{Name: "Eve", SignIn: "eve", Password: "long enough words", Role: book.Worker}), "workerId",
			"whose hours do they clock",
		},
		{
			letIn(access.NewUser{Name: "Eve", SignIn: "eve", Password: "long enough words", Role: book.Manager, Crew: "Pile"}), "crew",
			"only a foreman",
		},
		{
			letIn(access.NewUser{Name: "Eve", SignIn: "ADA", Password: "long enough words", Role: book.Manager}), "signIn",
			"signs in with this already",
		},
		{func() error { _, err := apptest.Opened(t, opening); return err }, "companyName", "is needed"},
		{func() error { _, err := apptest.Opened(t, opening); return err }, "currency", "not a currency code"},
		{func() error { _, err := apptest.Opened(t, opening); return err }, "weekStart", "is not one of"},
		{func() error { _, err := apptest.Opened(t, opening); return err }, "overtimeWeekly", "between 0 and 168"},
		{func() error { _, err := apptest.Opened(t, opening); return err }, "overtimeFactor", "can't pay less than the hour itself"},
		{func() error { _, err := apptest.Opened(t, opening); return err }, "nextInvoiceNumber", "whole number above 0"},
		{func() error { _, err := apptest.Opened(t, opening); return err }, "password", "of at least 12"},
	} {
		apptest.Refusal(t, bad.do(), refuse.KindInvalid, bad.path, bad.sentence)
	}
	setup, err := rates.Setup(ctx, c.Book, c.Owner, "2026-11-23", 0, 0)
	require.NoError(t, err)
	assert.Len(t, setup.Workers, 1)
	assert.Len(t, setup.Customers, 1)
	assert.Len(t, setup.Labour, 1)
}

func TestSetupShowsWhatAnHourCostsAndIsChargedAtADate(t *testing.T) {
	c := apptest.NewCrew(t)
	require.NoError(t, rates.AddWage(ctx, c.Book, c.Owner, rates.NewWage{WorkerID: c.Worker, Rate: "33", From: "2026-11-20"}))
	for date, want := range map[string][]string{
		"2025-12-31": {"", "", "", ""}, "2026-11-19": {"30.00", "33.00", "80.00", "58.75"}, "2026-11-20": {"33.00", "36.30", "80.00", "54.63"},
	} {
		setup, err := rates.Setup(ctx, c.Book, c.Owner, date, 0, 0)
		require.NoError(t, err)
		w := setup.Workers[0]
		assert.Equal(t, want, []string{w.Wage, w.Burdened, w.Charge, w.Margin}, date)
	}
	setup, err := rates.Setup(ctx, c.Book, c.Owner, "2026-11-20", c.Worker, 0)
	require.NoError(t, err)
	assert.Equal(t, []string{"36.30", "54.45", "72.60"}, []string{
		setup.Build.Total.Regular, setup.Build.Total.Overtime, setup.Build.Total.Double,
	})
	assert.Equal(t, "16.67", setup.Markups[0].Margin, "20 % on cost is 16.67 % of the price")
}

func TestANewRateChangesOnlyWhatIsNotBilledFromItsDateOn(t *testing.T) {
	c := apptest.NewCrew(t)
	tuesday := c.Edit("8")
	tuesday.Date, tuesday.Key = "2026-11-17", "key-of-tuesdays-hours"
	_, err := c.Save(c.Edit("8"), tuesday)
	require.NoError(t, err)
	require.NoError(t, rates.AddLabourRate(ctx, c.Book, c.Owner, rates.NewLabourRate{
		From: "2026-11-17", Trade: "driver", Method: "hourly", Value: "90",
	}))
	sheet, err := timesheet.Week(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: week})
	require.NoError(t, err)
	assert.Equal(t, "1360.00", sheet.Charge, "640 and 720")
	require.NoError(t, rates.AddLabourRate(ctx, c.Book, c.Owner, rates.NewLabourRate{
		From: "2026-11-17", WorkerID: c.Worker, Method: "markup", Value: "100",
	}))
	sheet, err = timesheet.Week(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: week})
	require.NoError(t, err)
	assert.Equal(t, "1168.00", sheet.Charge, "640 and twice 264: the worker's row weighs more than the trade's")
	require.NoError(t, rates.AddBurden(ctx, c.Book, c.Owner, rates.NewBurden{
		Class: "Field", Name: "Contributions", From: "2026-11-17", Basis: "gross", Value: "0",
	}))
	sheet, err = timesheet.Week(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: week})
	require.NoError(t, err)
	assert.Equal(
		t, []string{"504.00", "1120.00"}, []string{sheet.Cost, sheet.Charge}, "a component whose value is 0 is over, and cost-plus follows",
	)
	apptest.Verified(t, c.Book)
}

// What no contractor reaches is refused where it is typed, so that no sum of the book is ever too large; and what is not there can't be
// referred to.
func TestFiguresHaveBoundsAndReferencesAreThere(t *testing.T) {
	c := apptest.NewCrew(t)
	from := "2026-10-01"
	for _, bad := range []struct {
		err            error
		path, sentence string
	}{
		{
			rates.AddWage(ctx, c.Book, c.Owner, rates.NewWage{WorkerID: c.Worker, Rate: "999999999", From: from}), "rate",
			"is more than 10,000,000",
		},
		{
			rates.AddLabourRate(ctx, c.Book, c.Owner, rates.NewLabourRate{Card: " ", Method: "hourly", Value: "999999999", From: from}), "value",
			"is more than 10,000,000",
		},
		{
			rates.AddLabourRate(ctx, c.Book, c.Owner, rates.NewLabourRate{Method: "hourly", Value: "1", From: from, WorkerID: 99}), "workerId",
			"there is no such worker",
		},
		{
			rates.AddLabourRate(ctx, c.Book, c.Owner, rates.NewLabourRate{Method: "hourly", Value: "1", From: from, CostCodeID: 99}), "costCodeId",
			"there is no such cost code",
		},
		{
			rates.AddLabourRate(ctx, c.Book, c.Owner, rates.NewLabourRate{Method: "hourly", Value: "1", From: from, Card: "a\x00b"}), "card",
			"characters that are not text",
		},
		{
			rates.AddBurden(ctx, c.Book, c.Owner, rates.NewBurden{Class: "Field", Name: "Cover", From: from, Basis: "gross", Value: "1", Cap: "-1"}),
			"annualWageCap", "can't be below 0",
		},
		{
			rates.AddBurden(ctx, c.Book, c.Owner, rates.NewBurden{Class: "Field", Name: "Cover", From: from, Basis: "gross", Value: "10001"}),
			"value", "is more than 10,000 %",
		},
		{
			rates.AddMarkup(ctx, c.Book, c.Owner, rates.NewMarkup{Category: "material", Percent: "99999", From: from}), "percent",
			"is more than 10,000 %",
		},
	} {
		apptest.Refusal(t, bad.err, refuse.KindInvalid, bad.path, bad.sentence)
	}
	require.NoError(
		t, rates.AddLabourRate(ctx, c.Book, c.Owner, rates.NewLabourRate{Card: " ", Method: "hourly", Value: "50", From: from}),
		"a blank card is the company's",
	)
	line := c.Board()
	line.Quantity, line.UnitCost = "100000", "1000000"
	_, err := costs.Save(ctx, c.Book, c.Owner, costs.Document{Kind: "receipt", Date: week, Lines: []costs.Line{line}})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines", "line 1: this comes to more than can be kept")
	_, err = costs.Save(ctx, c.Book, c.Owner, costs.Document{Kind: "receipt", Date: week, Lines: make([]costs.Line, 3000)})
	apptest.Refusal(t, err, refuse.KindInvalid, "lines", "at most 1000 lines; 3000 were sent")
	_, err = people.Add(ctx, c.Book, c.Owner, people.NewWorker{Name: strings.Repeat("x", 100_000)})
	apptest.Refusal(t, err, refuse.KindInvalid, "name", "longer than 500 characters")
	_, err = customers.Add(ctx, c.Book, c.Owner, customers.NewCustomer{Name: "A\x00B"})
	apptest.Refusal(t, err, refuse.KindInvalid, "name", "characters that are not text")
	_, err = jobs.List(ctx, c.Book, c.Owner, true)
	require.NoError(t, err)
	_, err = rates.Setup(ctx, c.Book, c.Owner, "", 0, 0)
	require.NoError(t, err)
}
