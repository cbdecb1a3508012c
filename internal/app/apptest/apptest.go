// Package apptest is the fixture of the tests of the use cases: books, a crew of one, bundles, and what every test asserts.
package apptest

import (
	"context"
	"encoding/csv"
	"errors"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/access"
	"jarvo/internal/app/approve"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/people"
	"jarvo/internal/app/pricelist"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/app/today"
	"jarvo/internal/app/verify"
	"jarvo/internal/bundle"
	"jarvo/internal/store"
)

var ctx = context.Background()

// Week is the week that the crew works in: its Monday.
const Week = "2026-11-16"

// Files is a bundle by the texts of its files, header and all.
type Files map[string]string

// Noon is the moment at which every test runs.
func Noon() time.Time { return time.Date(2026, time.November, 23, 8, 0, 0, 0, time.UTC) }

// emptyBook is the file of an empty book, made once: each test has a copy of its own.
var emptyBook = sync.OnceValues(func() ([]byte, error) {
	folder, err := os.MkdirTemp("", "jarvo-empty-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	file := filepath.Join(folder, "jarvo.db")
	s, err := store.Open(ctx, file)
	if err != nil {
		return nil, err
	}
	if err := s.Close(); err != nil {
		return nil, err
	}
	return os.ReadFile(file)
})

// NewBook opens an empty book.
func NewBook(t testing.TB) *book.Book {
	t.Helper()
	return book.New(NewStore(t), Noon)
}

// NewStore opens the store of an empty book.
func NewStore(t testing.TB) *store.Store {
	t.Helper()
	empty, err := emptyBook()
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "jarvo.db")
	require.NoError(t, os.WriteFile(file, empty, 0o600))
	s, err := store.Open(ctx, file)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	return s
}

// Import brings a bundle into a book.
func Import(t testing.TB, a *book.Book, folder string) {
	t.Helper()
	b, err := bundle.Read(folder)
	require.NoError(t, err)
	_, err = exchange.Import(ctx, a, book.Console, b)
	require.NoError(t, err)
}

// ReportText is a report as CSV.
func ReportText(t testing.TB, a *book.Book, name string) string {
	t.Helper()
	return ReportOf(t, a, name, reports.ReportQuery{})
}

// ReportOf is a report within limits as its CSV.
func ReportOf(t testing.TB, a *book.Book, name string, q reports.ReportQuery) string {
	t.Helper()
	r, err := reports.Make(ctx, a, book.Console, name, q)
	require.NoError(t, err)
	var b strings.Builder
	w := csv.NewWriter(&b)
	require.NoError(t, w.Write(r.Columns))
	require.NoError(t, w.WriteAll(r.Rows))
	return b.String()
}

// Verified asserts that verify finds nothing.
func Verified(t testing.TB, a *book.Book) {
	t.Helper()
	differences, err := verify.Run(ctx, a, book.Console)
	require.NoError(t, err)
	assert.Empty(t, differences)
}

// ErrOf is the error of a call whose answer does not matter.
func ErrOf[T any](_ T, err error) error { return err }

// HandIn hands a sheet in as it stands.
func HandIn(a *book.Book, actor book.Actor, q timesheet.SheetQuery, ahead bool) (timesheet.Sheet, error) {
	seen, err := timesheet.Week(ctx, a, actor, q)
	if err != nil {
		return seen, err
	}
	return timesheet.HandIn(ctx, a, actor, q, timesheet.HandingIn{Mark: seen.Mark, Ahead: ahead})
}

// WriteBundle writes a bundle into a folder of its own.
func WriteBundle(t testing.TB, data bundle.Data) string {
	t.Helper()
	folder := filepath.Join(t.TempDir(), "bundle")
	require.NoError(t, bundle.Write(folder, data, nil))
	return folder
}

// PayFirst pays the first issued invoice in part and the second in full.
func PayFirst(t *testing.T, a *book.Book) {
	t.Helper()
	sheet, err := billing.Sheet(ctx, a, book.Console, scope.ScopeQuery{})
	require.NoError(t, err)
	for i, invoice := range sheet.Issued {
		amount := invoice.Balance
		if i == 0 {
			amount = amount[:len(amount)-3]
		}
		if i > 1 || strings.Trim(amount, "0.") == "" {
			continue
		}
		_, err := collect.TakePayment(ctx, a, book.Console, collect.NewPayment{
			On: []collect.Against{{InvoiceID: invoice.ID}}, Amount: amount, Date: "2026-11-20", Note: "by transfer",
		})
		require.NoError(t, err)
	}
}

// Copied is another book with the bundle of a book.
func Copied(t *testing.T, a *book.Book) *book.Book {
	t.Helper()
	other, _ := copied(t, a, 1)
	return other
}

// SameInAnotherBook takes a book out as a bundle and brings it into an empty one, and twice into itself: nothing differs.
func SameInAnotherBook(t *testing.T, a *book.Book) {
	t.Helper()
	other, data := copied(t, a, 2)
	again, err := exchange.Export(ctx, other, book.Console)
	require.NoError(t, err)
	assert.Equal(t, data, again)
}

func copied(t *testing.T, a *book.Book, times int) (*book.Book, bundle.Data) {
	t.Helper()
	data, err := exchange.Export(ctx, a, book.Console)
	require.NoError(t, err)
	name := filepath.Join(t.TempDir(), "book.zip")
	require.NoError(t, bundle.Write(name, data, func(file string) ([]byte, error) { return exchange.ExportScan(ctx, a, book.Console, file) }))
	other := NewBook(t)
	for range times {
		b, err := bundle.Read(name)
		require.NoError(t, err)
		_, err = exchange.Import(ctx, other, book.Console, b)
		require.NoError(t, errors.Join(err, b.Close()))
	}
	return other, data
}

// TextFiles writes files into a folder of their own.
func TextFiles(t *testing.T, texts map[string]string) string {
	t.Helper()
	folder := t.TempDir()
	for name, text := range texts {
		require.NoError(t, os.WriteFile(filepath.Join(folder, name), []byte(text), 0o600))
	}
	return folder
}

// BringInto brings the bundle into a book.
func (f Files) BringInto(t testing.TB, a *book.Book) error {
	t.Helper()
	data := bundle.Data{}
	for _, table := range bundle.Tables {
		lines := strings.Split(strings.TrimSpace(f[table.File]), "\n")
		if f[table.File] == "" {
			continue
		}
		header := strings.Split(lines[0], ",")
		for _, line := range lines[1:] {
			row := make([]string, len(table.Columns))
			for i, cell := range strings.Split(line, ",") {
				for at, c := range table.Columns {
					if c.Name == header[i] {
						row[at] = cell
					}
				}
			}
			data[table.File] = append(data[table.File], row)
		}
	}
	b, err := bundle.Read(WriteBundle(t, data))
	require.NoError(t, err)
	_, err = exchange.Import(ctx, a, book.Console, b)
	return err
}

// Opened opens a new book as it is typed, with the right code.
func Opened(t *testing.T, book access.NewBook) (book.Actor, error) {
	t.Helper()
	a := NewBook(t)
	book.Code = a.OpeningCode()
	return access.OpenBook(ctx, a, book)
}

// Refusal asserts that err is a refusal of a kind with a sentence at a path; a blank path is the sentence itself.
func Refusal(t *testing.T, err error, kind refuse.Kind, path, sentence string) {
	t.Helper()
	e, ok := refuse.AsError(err)
	require.True(t, ok, "%v is not a refusal", err)
	assert.Equal(t, kind, e.Kind)
	if path == "" {
		assert.Contains(t, e.Message, sentence)
		return
	}
	said := map[string]string{}
	for _, f := range e.Fields {
		said[f.Path] = f.Message
	}
	assert.Contains(t, said[path], sentence)
}

// Crew is a book with one worker, customer and job, ready for a week's hours.
type Crew struct {
	*book.Book
	Owner       book.Actor
	Worker, Job int64
}

// NewCrew opens a book with a crew of one.
func NewCrew(t *testing.T) *Crew {
	t.Helper()
	return CrewIn(t, NewBook(t))
}

// CrewIn opens a book with a crew of one.
func CrewIn(t *testing.T, a *book.Book) *Crew {
	t.Helper()
	owner, err := access.OpenBook(ctx, a, access.NewBook{
		Code:        a.OpeningCode(),
		CompanyName: "Two Hands", Currency: "USD", WeekStart: "monday", OvertimeDaily: "8", OvertimeWeekly: "40", OvertimeFactor: "1.5",
		DoubleFactor:      "2",
		NextInvoiceNumber: "1001", NextJobNumber: "101", Name: "Ada", SignIn: "ada", Password: "a few words here",
	})
	require.NoError(t, err)
	c := &Crew{Book: a, Owner: owner}
	require.NoError(t, rates.AddBurden(ctx, a, owner, rates.NewBurden{
		Class: "Field", Name: "Contributions", From: "2026-01-01", Basis: "gross", Value: "10",
	}))
	c.Worker, err = people.Add(ctx, a, owner, people.NewWorker{
		Name: "Cato Brandl", Trade: "driver", Crew: "Pile", BurdenClass: "Field", Wage: "30", WageFrom: "2026-01-01",
	})
	require.NoError(t, err)
	customer, err := customers.Add(ctx, a, owner, customers.NewCustomer{Name: "Ferry"})
	require.NoError(t, err)
	c.Job, err = jobs.Add(ctx, a, owner, jobs.NewJob{Name: "Landing", CustomerID: customer, Basis: "tm"})
	require.NoError(t, err)
	require.NoError(t, rates.AddLabourRate(ctx, a, owner, rates.NewLabourRate{
		From: "2026-01-01", Trade: "driver", Method: "hourly", Value: "80",
	}))
	require.NoError(t, rates.AddMarkup(ctx, a, owner, rates.NewMarkup{From: "2026-01-01", Category: "material", Percent: "20"}))
	return c
}

// Edit is hours of the worker on the Monday, as they are typed.
func (c *Crew) Edit(text string) timesheet.CellEdit {
	return timesheet.CellEdit{Key: "key-of-" + text + "-hours", WorkerID: c.Worker, JobID: c.Job, Billable: true, Date: Week, Text: text}
}

// Save saves hours in the crew sheet of the week.
func (c *Crew) Save(edits ...timesheet.CellEdit) (timesheet.Sheet, error) {
	return timesheet.SaveCells(ctx, c.Book, c.Owner, timesheet.SheetQuery{Week: Week, Crew: "Pile"}, edits)
}

// Approve hands the week in and approves it.
func (c *Crew) Approve(t *testing.T) {
	t.Helper()
	_, err := HandIn(c.Book, c.Owner, timesheet.SheetQuery{Week: Week, Crew: "Pile"}, false)
	require.NoError(t, err)
	waiting, err := approve.Waiting(ctx, c.Book, c.Owner, approve.Question{})
	require.NoError(t, err)
	require.NoError(t, ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Entries: waiting.Weeks[0].Entries})))
}

// Papers are documents at the versions that they have now.
func (c *Crew) Papers(t *testing.T, ids ...int64) []approve.Seen {
	t.Helper()
	seen := make([]approve.Seen, len(ids))
	for i, id := range ids {
		d, err := costs.Get(ctx, c.Book, c.Owner, id)
		require.NoError(t, err)
		seen[i] = approve.Seen{ID: id, Version: d.Version}
	}
	return seen
}

// Hours are entries at the versions that they have now.
func (c *Crew) Hours(t *testing.T, entries ...approve.Seen) []approve.Seen {
	t.Helper()
	list, err := timesheet.Entries(ctx, c.Book, c.Owner, timesheet.ListQuery{})
	require.NoError(t, err)
	seen := slices.Clone(entries)
	for i, e := range entries {
		at := slices.IndexFunc(list.Entries, func(r timesheet.EntryRow) bool { return r.ID == e.ID })
		require.GreaterOrEqual(t, at, 0, "entry %d", e.ID)
		seen[i].Version = list.Entries[at].Version
	}
	return seen
}

// Draft makes a draft of what is ready.
func (c *Crew) Draft(t *testing.T) (billing.InvoiceView, error) {
	t.Helper()
	drafts, err := billing.MakeDrafts(ctx, c.Book, c.Owner, billing.NewDrafts{Jobs: []int64{c.Job}, Through: "2026-11-22", Date: "2026-11-23"})
	if err != nil {
		return billing.InvoiceView{}, err
	}
	return billing.Invoice(ctx, c.Book, c.Owner, drafts[0].ID)
}

// Waiting is what waits for approval.
func (c *Crew) Waiting(t *testing.T) approve.ApproveSheet {
	t.Helper()
	sheet, err := approve.Waiting(ctx, c.Book, c.Owner, approve.Question{})
	require.NoError(t, err)
	return sheet
}

// Paper enters a paper and hands it in.
func (c *Crew) Paper(t *testing.T, number string, lines ...costs.Line) costs.Document {
	t.Helper()
	d, err := costs.Save(ctx, c.Book, c.Owner, costs.Document{
		Key: "a-key-for-" + number, Kind: "supplier_invoice", Supplier: "Bellhaven", Date: Week, Number: number, Lines: lines,
	})
	require.NoError(t, err)
	handed, err := costs.HandIn(ctx, c.Book, c.Owner, d.ID, d.Version)
	require.NoError(t, err)
	return handed
}

// Board is a line of timber for the job.
func (c *Crew) Board() costs.Line {
	return costs.Line{Category: "material", Description: "Boards", Quantity: "10", UnitCost: "20", JobID: c.Job, Billable: true}
}

// Hire adds a worker of the same crew and trade.
func (c *Crew) Hire(t *testing.T, name string) int64 {
	t.Helper()
	made, err := people.Add(ctx, c.Book, c.Owner, people.NewWorker{
		Name: name, Trade: "driver", Crew: "Pile", BurdenClass: "Field", Wage: "30", WageFrom: "2026-01-01",
	})
	require.NoError(t, err)
	return made
}

// Changes is an edit of the entry in a cell that was seen.
func (c *Crew) Changes(cell timesheet.Cell, typed string) timesheet.CellEdit {
	e := c.Edit(typed)
	e.Key, e.EntryID, e.Version = "", cell.EntryID, cell.Version
	return e
}

// LooseEnds are the loose ends by kind.
func (c *Crew) LooseEnds(t *testing.T) map[string]string {
	t.Helper()
	sheet, err := today.Sheet(ctx, c.Book, c.Owner, today.TodayQuery{Week: Week})
	require.NoError(t, err)
	counts, err := new(today.Counter).Counts(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	assert.EqualValues(t, len(sheet.LooseEnds), counts.Loose, "the foot of the window counts what Today lists")
	found := map[string]string{}
	for _, end := range sheet.LooseEnds {
		found[end.Kind] = end.AtStake
	}
	return found
}

// CrewDay books the same hours for workers on a day.
func (c *Crew) CrewDay(t *testing.T, day, hours string, workers ...int64) {
	t.Helper()
	for _, worker := range workers {
		edit := c.Edit(hours)
		edit.Key, edit.WorkerID, edit.Date = "", worker, day
		_, err := c.Save(edit)
		require.NoError(t, err)
	}
}

// Item puts something on the price list from the first of the year.
func (c *Crew) Item(t *testing.T, code, category, cost, sell string) int64 {
	t.Helper()
	made, err := pricelist.Add(ctx, c.Book, c.Owner, pricelist.NewItem{
		Code: code, Description: "The " + code, Category: category, Unit: "ea",
		NewItemPrice: pricelist.NewItemPrice{From: "2026-01-01", UnitCost: cost, SellPrice: sell},
	})
	require.NoError(t, err)
	return made
}

// Buy enters a paper of one line.
func (c *Crew) Buy(t *testing.T, date string, line costs.Line) costs.Document {
	t.Helper()
	line.JobID, line.Billable = c.Job, true
	d, err := costs.Save(ctx, c.Book, c.Owner, costs.Document{Kind: "receipt", Supplier: "Northquay", Date: date, Lines: []costs.Line{line}})
	require.NoError(t, err)
	d, err = costs.HandIn(ctx, c.Book, c.Owner, d.ID, d.Version)
	require.NoError(t, err)
	return d
}
