// Package e2e uses the application as its users do, in a real browser.
package e2e

import (
	"bytes"
	"context"
	"encoding/base64"
	"errors"
	"fmt"
	"image"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/verify"
	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

var ctx = context.Background()

func clock() time.Time { return time.Date(2026, time.November, 25, 9, 0, 0, 0, time.UTC) }

// user is somebody at the browser; every step must work.
type user struct {
	*browser.Page
	t    testing.TB
	url  string
	book *browser.Book
}

func (u user) must(errs ...error) {
	u.t.Helper()
	for _, err := range errs {
		if err != nil {
			require.NoError(u.t, err, "the page says:\n%s", u.Says())
		}
	}
}

// open goes to a path within the application, load opens its address anew.
func (u user) open(path string) { u.t.Helper(); u.must(u.Visit(u.url, path)) }
func (u user) load(path string) { u.t.Helper(); u.must(u.Go(u.url + path)) }

// tab goes to the tab of a letter by the keyboard.
func (u user) tab(letter string) error {
	return errors.Join(u.Chord(chromedp.ModifierAlt, "g"), u.Keys(letter))
}

func (u user) fill(form string, fields ...string) {
	u.t.Helper()
	for i := 0; i < len(fields); i += 2 {
		u.must(u.Fill(form, fields[i], fields[i+1]))
	}
}

func (u user) sees(texts ...string) {
	u.t.Helper()
	for _, text := range texts {
		u.must(u.SeeText(text))
	}
}

// TestOneCrewsWeekBecomesAnInvoiceAndAProfit does the whole job in the browser, on an empty company. Worked out by hand:
//
//	Monday, 6:30 to 17:30 less 30 min: 10.5 h, 8 regular and 2.5 overtime at 34.20 an hour.
//	  gross 8 x 34.20 = 273.60 and 2.5 x 34.20 x 1.5 = 128.25; contributions 7.65 %: 20.93 and 9.81; cost 432.59
//	  charge 8 x 96 = 768.00 and 2.5 x 96 x 1.5 = 360.00: 1 128.00
//	Tuesday, 8 h: cost 273.60 + 20.93 = 294.53, charge 768.00. Together 18.5 h, cost 727.12, charge 1 896.00.
//	Paper: 10 x 12.50 = 125.00, 4 x 30.25 = 121.00, 2 x 7.00 = 14.00: 260.00; freight 30.00 is 14.42, 13.96, 1.62; tax 12.00 is
//	  5.77, 5.58, 0.65; landed 145.19, 140.54, 16.27: 302.00; with 20 %: 174.23, 168.65, 19.52: 362.40.
//	Invoice 1 896.00 + 362.40 = 2 258.40. Job: cost 727.12 + 302.00 = 1 029.12, profit 1 229.28, margin 54.43 %.
func TestOneCrewsWeekBecomesAnInvoiceAndAProfit(t *testing.T) {
	running, err := browser.Start(ctx, clock)
	require.NoError(t, err)
	t.Cleanup(running.Close)
	u := openedAt(t, running, 1280, 800)

	u.openBook()
	u.setUp()
	u.company()
	u.typeTheWeek()
	u.enterThePaper()
	u.open("/jobs")
	u.sees("2,258.40", "1,029.12", "54.43 %")
	u.billIt()
	u.open("/jobs")
	u.sees("1,229.28", "54.43 %")
	u.open("/jobs/101")
	u.must(u.Press("Workings"))
	u.sees("profit to date", "−727.12", "−302.00")

	differences, err := verify.Run(ctx, running.Book, book.Console)
	require.NoError(t, err)
	assert.Empty(t, differences)
	sameAsABundle(t, running.Book)
}

func (u user) openBook() {
	u.open("/")
	u.must(u.See(`input[name="companyName"]`), u.Type(
		`input[name="companyName"]`, "Two Hands Marine",
	), u.Type(`input[name="name"]`, "Ada Ridley"),
		u.Type(`input[name="signIn"]`, "ada"), u.Type(`input[name="password"]`, "short"), u.Type(`input[name="code"]`, "WRONG"),
		u.Press("Open the book"))
	u.sees("this is not the code")
	u.must(u.Type(`input[name="code"]`, u.book.Book.OpeningCode()), u.Press("Open the book"))
	u.sees("Some of it can't be taken as it is")
	u.must(u.Type(`input[name="password"]`, "slack tide at dawn"), u.Press("Open the book"), u.See(`form[aria-label="New worker"]`))
}

func (u user) setUp() {
	const since = "2026-01-01"
	u.fill(
		"New worker", "Name", "Cato Brandl", "Trade", "pile driver", "Crew", "Pile crew", "Wage", "34.20", "From", since, "Burden class",
		"Field",
	)
	u.must(u.Press("Add worker"))
	u.must(u.Until(`document.querySelector('[aria-label="Workers"] tbody').innerText.includes('Cato Brandl')`))

	u.open("/setup?part=burden&add=yes")
	u.must(u.See(`form[aria-label="New burden component"]`))
	u.fill("New burden component", "Burden class", "Field", "Component", "Contributions", "Value", "7.65", "From", since)
	u.must(u.Press("Add component"))
	u.sees("36.82") // 34.20 + 2.62 an hour

	u.open("/setup?part=rates&add=yes")
	u.must(u.See(`form[aria-label="New rate"]`))
	u.fill("New rate", "Trade", "pile driver", "An hour", "96", "From", since)
	u.must(u.Press("Add rate"))
	u.sees("144.00")

	u.open("/setup?part=markups&add=yes")
	u.must(u.See(`form[aria-label="New markup"]`))
	u.fill("New markup", "Markup", "-100", "From", since)
	u.must(u.Press("Add markup"))
	u.sees("it must be more than -100 %")
	u.fill("New markup", "Markup", "20")
	u.must(u.Press("Add markup"))
	u.sees("16.67 %")

	u.open("/setup?part=customers&add=yes")
	u.must(u.See(`form[aria-label="New customer"]`))
	u.fill("New customer", "Name", "Gannet Point Ferries")
	u.must(u.Press("Add customer"))
	u.must(u.Until(`document.querySelector('[aria-label="Customers"] tbody').innerText.includes('Gannet Point')`))

	u.open("/jobs?add=yes")
	u.must(u.See(`form[aria-label="New job"]`))
	u.fill("New job", "Name", "Ferry landing")
	u.must(u.Pick("Customer", "gannet"), u.Press("Add job"), u.See(`[aria-label="Jobs"]`))
}

// cell is the place of a day on a line of the crew sheet.
func cell(line, day int) string {
	return fmt.Sprintf(`tr[data-line="%d"] td[data-day="%d"]`, line, day)
}

// company says who the company is: a country and a logo that are none first, then as they stand on the invoice.
func (u user) company() {
	folder := u.t.TempDir()
	none, mark := filepath.Join(folder, "none.png"), filepath.Join(folder, "mark.png")
	var picture bytes.Buffer
	u.must(png.Encode(&picture, image.NewGray(image.Rect(0, 0, 120, 60))))
	u.must(os.WriteFile(none, []byte("a picture? no"), 0o600), os.WriteFile(mark, picture.Bytes(), 0o600))
	u.open("/setup?part=company")
	u.must(u.See(`form[aria-label="The company"]`))
	u.fill(
		"The company", "Street", "Slip 9\nRope Walk", "Post code", "04999", "City", "Sable Bar", "State or region", "ME", "Tax number", "47-1",
		"An invoice is due after", "soon",
	)
	u.must(u.Press("Save"))
	u.sees("type a whole number of days")
	u.fill("The company", "An invoice is due after", "21")
	u.must(u.Upload(`input[aria-label="Logo, a PNG or JPEG"]`, none))
	u.sees("this is no PNG or JPEG")
	u.must(u.Upload(`input[aria-label="Logo, a PNG or JPEG"]`, mark), u.See(`.logo img`)) // what is typed stays meanwhile
	u.must(u.Press("Save"), u.Until(`(() => { const asked = new XMLHttpRequest(); asked.open('GET', '/api/company', false); asked.send();
		const { taxNumber, termsDays } = JSON.parse(asked.responseText); return taxNumber === '47-1' && termsDays === '21' })()`))
	u.must(u.Until(`!document.querySelector('form[aria-label="The company"] .v-btn--loading')`))
}

func (u user) typeTheWeek() {
	u.open("/time?crew=Pile+crew")
	u.must(u.See(`[aria-label="Add a line"]`), u.Pick("Worker", "cato"), u.Pick("Job", "101"), u.Press("Add line"), u.See(`tr[data-line="0"]`))
	u.must(u.Click(cell(0, 0)), u.Keys("7-25\r"))
	u.sees("there is no hour 25")
	u.must(u.Click(cell(0, 0)), u.Keys("6:30-5:30/30"))
	u.sees("2.5 over")
	u.must(u.Keys("\r"))
	u.sees("432.59", "1,128.00")
	u.must(u.Click(cell(0, 1)), u.Keys("8\r"))
	u.sees("727.12", "1,896.00", "+768.00")
	u.must(u.Press("Hand in"))
	u.approve("Cato Brandl")
}

// approve approves the first of what waits, with one key.
func (u user) approve(who string) {
	u.open("/approve")
	u.sees(who)
	u.must(u.Keys(kb.ArrowDown), u.Keys("a"))
	u.sees("Nothing to approve here")
}

func (u user) enterThePaper() {
	u.open("/costs?open=new")
	u.must(u.See(`[aria-label="Lines"]`))
	u.fill("", "Supplier", "Pellmore Timber", "Invoice no.", "PM-1", "Freight", "30", "Tax", "12")
	for i, line := range [][3]string{{"Pile", "10", "12.50"}, {"Shoe", "4", "30.25"}, {"Bolt", "2", "7"}} {
		n := string(rune('1' + i))
		u.must(u.Type(`input[aria-label="Line `+n+`, what"]`, line[0]), u.Type(`input[aria-label="Line `+n+`, quantity"]`, line[1]),
			u.Type(`input[aria-label="Line `+n+`, unit cost"]`, line[2]), u.Pick("Line "+n+", job", "ferry"))
	}
	u.sees("145.19", "140.54", "16.27", "302.00", "174.23", "168.65", "19.52", "362.40")
	u.must(u.Press("Hand in"))
	u.sees("Saved")
	u.must(u.Press("Workings"))
	u.sees("10 × 12.50", "30.00 × 125.00 / 260.00", "20 % of 145.19") // of the first line
	u.approve("Pellmore Timber")
}

func (u user) billIt() {
	other, err := u.Window()
	u.must(err)
	defer other.Close()
	second := u
	second.Page = other
	for _, window := range []user{u, second} {
		window.open("/bill")
		window.sees("1,896.00", "362.40", "2,258.40")
		window.must(window.Press("Choose all"))
	}
	u.must(u.Press("Make 1 draft"), u.See(".invoice .due"))
	second.sees("Nothing is ready to bill") // it is told at once that somebody else has made the draft

	u.sees("numbered at issue", "2,258.40")
	u.must(u.Press("Issue invoice"), u.Press("Issue invoice"))
	u.sees("it can no longer be changed", "1001")
	due, err := u.Text(`[data-total="due"]`)
	u.must(err)
	assert.Equal(u.t, "2,258.40", due)
	u.must(u.Press("Workings"))
	u.sees("2026-11-23 Cato Brandl, 10.5 h", "2026-11-24 Cato Brandl, 8 h")
	u.must(u.Press("Save as"), u.SeeText("E-invoice, plain UBL"))
	u.pdfSays("PDF with the hours and receipts behind it", "Cato Brandl", "overtime", "144.00", "360.00", "174.23",
		"Together, the subtotal of the invoice")
	u.pdfSays("PDF", "Two Hands Marine", "Slip 9", "04999 Sable Bar", "Tax number 47-1")
	u.pdfSays("PDF", "Gannet Point Ferries", "1001", "pile driver, overtime",
		"16.00", "96.00", "2.50", "144.00", "1,536.00", "360.00", "174.23", "362.40", "2,258.40")
}

// pdfSays downloads what a link of the open invoice gives and reads its text.
func (u user) pdfSays(link string, texts ...string) {
	encoded, err := browser.Eval[string](u.Page, fmt.Sprintf(`fetch([...document.querySelectorAll('a')].find(a => a.innerText === %q).href)
		.then(r => r.arrayBuffer())
		.then(b => btoa([...new Uint8Array(b)].map(c => String.fromCharCode(c)).join('')))`, link))
	u.must(err)
	data, err := base64.StdEncoding.DecodeString(encoded)
	u.must(err)
	file := filepath.Join(u.t.TempDir(), "invoice.pdf")
	u.must(os.WriteFile(file, data, 0o600))
	said, err := exec.CommandContext(ctx, "pdftotext", "-layout", file, "-").Output()
	u.must(err)
	for _, text := range texts {
		assert.Contains(u.t, string(said), text)
	}
}

// sameAsABundle takes what was typed out as a bundle and brings it into an empty book: the same cents.
func sameAsABundle(t *testing.T, typed *book.Book) {
	t.Helper()
	data, err := exchange.Export(ctx, typed, book.Console)
	require.NoError(t, err)
	folder := filepath.Join(t.TempDir(), "bundle")
	require.NoError(t, bundle.Write(folder, data, func(scan string) ([]byte, error) {
		return exchange.ExportScan(ctx, typed, book.Console, scan)
	}))
	b, err := bundle.Read(folder)
	require.NoError(t, err)
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "imported.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	imported := book.New(s, clock)
	_, err = exchange.Import(ctx, imported, book.Console, b)
	require.NoError(t, err)
	through := calendar.On(2026, time.November, 29)
	_, err = billing.Run(ctx, imported, book.Console, through, calendar.On(2026, time.November, 25), "", true)
	require.NoError(t, err)
	for _, name := range []string{"labour", "costs", "job-profit"} {
		want, err := reports.Make(ctx, typed, book.Console, name, reports.ReportQuery{})
		require.NoError(t, err)
		got, err := reports.Make(ctx, imported, book.Console, name, reports.ReportQuery{})
		require.NoError(t, err)
		assert.Equal(t, want, got, name)
	}
}
