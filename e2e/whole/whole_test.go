package whole

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"image"
	"image/png"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/at"
	"jarvo/e2e/browser"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/verify"
	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

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
	t.Parallel()
	u := user{at.AnEmptyBook(t)}

	u.openBook()
	u.setUp()
	u.company()
	u.typeTheWeek()
	u.enterThePaper()
	u.Open("/jobs")
	u.Sees("2,258.40", "1,029.12", "54.43 %")
	u.billIt()
	u.Open("/jobs")
	u.Sees("1,229.28", "54.43 %")
	u.Open("/jobs/101")
	u.Must(u.Press("Workings"))
	u.Sees("profit to date", "−727.12", "−302.00")

	differences, err := verify.Run(t.Context(), u.Book.Book, book.Console)
	require.NoError(t, err)
	assert.Empty(t, differences)
	sameAsABundle(t, u.Book.Book)
}

func (u user) openBook() {
	u.Open("/")
	u.Must(u.See(`input[name="companyName"]`), u.Type(
		`input[name="companyName"]`, "Two Hands Marine",
	), u.Type(`input[name="name"]`, "Ada Ridley"),
		u.Type(`input[name="signIn"]`, "ada"), u.Type(`input[name="password"]`, "short"), u.Type(`input[name="code"]`, "WRONG"),
		u.Press("Open the book"))
	u.Sees("this is not the code")
	u.Must(u.Type(`input[name="code"]`, u.Book.Book.OpeningCode()), u.Press("Open the book"))
	u.Sees("Some of it can't be taken as it is")
	u.Must(u.Type(`input[name="password"]`, "slack tide at dawn"), u.Press("Open the book"), u.See(`form[aria-label="New worker"]`))
}

func (u user) setUp() {
	const since = "2026-01-01"
	u.FillIn(
		"New worker", "Name", "Cato Brandl", "Trade", "pile driver", "Crew", "Pile crew", "Wage", "34.20", "From", since, "Burden class",
		"Field",
	)
	u.Must(u.Press("Add worker"))
	u.Must(u.Until(`document.querySelector('[aria-label="Workers"] tbody').innerText.includes('Cato Brandl')`))

	u.Open("/setup?part=burden&add=yes")
	u.Must(u.See(`form[aria-label="New burden component"]`))
	u.FillIn("New burden component", "Burden class", "Field", "Component", "Contributions", "Value", "7.65", "From", since)
	u.Must(u.Press("Add component"))
	u.Sees("36.82") // 34.20 + 2.62 an hour

	u.Open("/setup?part=rates&add=yes")
	u.Must(u.See(`form[aria-label="New rate"]`))
	u.FillIn("New rate", "Trade", "pile driver", "An hour", "96", "From", since)
	u.Must(u.Press("Add rate"))
	u.Sees("144.00")

	u.Open("/setup?part=markups&add=yes")
	u.Must(u.See(`form[aria-label="New markup"]`))
	u.FillIn("New markup", "Markup", "-100", "From", since)
	u.Must(u.Press("Add markup"))
	u.Sees("it must be more than -100 %")
	u.FillIn("New markup", "Markup", "20")
	u.Must(u.Press("Add markup"))
	u.Sees("16.67 %")

	u.Open("/setup?part=customers&add=yes")
	u.Must(u.See(`form[aria-label="New customer"]`))
	u.FillIn("New customer", "Name", "Gannet Point Ferries")
	u.Must(u.Press("Add customer"))
	u.Must(u.Until(`document.querySelector('[aria-label="Customers"] tbody').innerText.includes('Gannet Point')`))

	u.Open("/jobs?add=yes")
	u.Must(u.See(`form[aria-label="New job"]`))
	u.FillIn("New job", "Name", "Ferry landing")
	u.Must(u.Pick("Customer", "gannet"), u.Press("Add job"), u.See(`[aria-label="Jobs"]`))
}

// company says who the company is: a country and a logo that are none first, then as they stand on the invoice.
func (u user) company() {
	folder := u.T.TempDir()
	none, mark := filepath.Join(folder, "none.png"), filepath.Join(folder, "mark.png")
	var picture bytes.Buffer
	u.Must(png.Encode(&picture, image.NewGray(image.Rect(0, 0, 120, 60))))
	u.Must(os.WriteFile(none, []byte("a picture? no"), 0o600), os.WriteFile(mark, picture.Bytes(), 0o600))
	u.Open("/setup?part=company")
	u.Must(u.See(`form[aria-label="The company"]`))
	u.FillIn(
		"The company", "Street", "Slip 9\nRope Walk", "ZIP code", "04999", "City", "Sable Bar", "State", "ME", "Tax number", "47-1",
		"An invoice is due after", "soon",
	)
	u.Must(u.Press("Save"))
	u.Sees("type a whole number of days")
	u.FillIn("The company", "An invoice is due after", "21")
	u.Must(u.Upload(`input[aria-label="Logo, a PNG or JPEG"]`, none))
	u.Sees("this is no PNG or JPEG")
	u.Must(u.Upload(`input[aria-label="Logo, a PNG or JPEG"]`, mark), u.See(`.logo img`)) // what is typed stays meanwhile
	u.Must(u.Press("Save"), u.Until(`(() => { const asked = new XMLHttpRequest(); asked.open('GET', '/api/company', false); asked.send();
		const { taxNumber, termsDays } = JSON.parse(asked.responseText); return taxNumber === '47-1' && termsDays === '21' })()`))
	u.Must(u.Until(`!document.querySelector('form[aria-label="The company"] .v-btn--loading')`))
}

func (u user) typeTheWeek() {
	u.Open("/time?crew=Pile+crew")
	u.Must(u.See(`[aria-label="Add a line"]`), u.Pick("Worker", "cato"), u.Pick("Job", "101"), u.Press("Add line"), u.See(`tr[data-line="0"]`))
	u.Must(u.Click(at.Cell(0, 0)), u.Keys("7-25\r"))
	u.Sees("there is no hour 25")
	u.Must(u.Click(at.Cell(0, 0)), u.Keys("6:30-5:30/30"))
	u.Sees("2.5 over")
	u.Must(u.Keys("\r"))
	u.Sees("432.59", "1,128.00")
	u.Must(u.Click(at.Cell(0, 1)), u.Keys("8\r"))
	u.Sees("727.12", "1,896.00", "+768.00")
	u.Must(u.Press("Hand in"))
	u.approve("Cato Brandl")
}

// approve approves the first of what waits, with one key.
func (u user) approve(who string) {
	u.Open("/approve")
	u.Sees(who)
	u.Must(u.Keys(kb.ArrowDown), u.Keys("a"))
	u.Sees("Nothing to approve here")
}

func (u user) enterThePaper() {
	u.Open("/costs?open=new")
	u.Must(u.See(`[aria-label="Lines"]`))
	u.FillIn("", "Supplier", "Pellmore Timber", "Invoice no.", "PM-1", "Freight", "30", "Tax", "12")
	for i, line := range [][3]string{{"Pile", "10", "12.50"}, {"Shoe", "4", "30.25"}, {"Bolt", "2", "7"}} {
		n := string(rune('1' + i))
		u.Must(u.Type(`input[aria-label="Line `+n+`, what"]`, line[0]), u.Type(`input[aria-label="Line `+n+`, quantity"]`, line[1]),
			u.Type(`input[aria-label="Line `+n+`, unit cost"]`, line[2]), u.Pick("Line "+n+", job", "ferry"))
	}
	u.Sees("145.19", "140.54", "16.27", "302.00", "174.23", "168.65", "19.52", "362.40")
	u.Must(u.Press("Hand in"))
	u.Sees("Saved")
	u.Must(u.Press("Workings"))
	u.Sees("10 × 12.50", "30.00 × 125.00 / 260.00", "20 % of 145.19") // of the first line
	u.approve("Pellmore Timber")
}

func (u user) billIt() {
	other, err := u.Window()
	u.Must(err)
	defer other.Close()
	second := u
	second.Page = other
	for _, window := range []user{u, second} {
		window.Open("/bill")
		window.Sees("1,896.00", "362.40", "2,258.40")
		window.Must(window.Press("Choose all"))
	}
	u.Must(u.Press("Make 1 draft"), u.See(".invoice .due"))
	second.Sees("Nothing is ready to bill") // it is told at once that somebody else has made the draft

	u.Sees("numbered at issue", "2,258.40")
	u.Must(u.Press("Issue invoice"), u.Press("Issue invoice"))
	u.Sees("it can no longer be changed", "1001")
	due, err := u.Text(`[data-total="due"]`)
	u.Must(err)
	assert.Equal(u.T, "2,258.40", due)
	u.Must(u.Press("Workings"))
	u.Sees("2026-11-23 Cato Brandl, 10.5 h", "2026-11-24 Cato Brandl, 8 h")
	u.Must(u.Press("Save as"), u.SeeText("E-invoice, plain UBL"))
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
	u.Must(err)
	data, err := base64.StdEncoding.DecodeString(encoded)
	u.Must(err)
	said := u.PDF(data)
	for _, text := range texts {
		assert.Contains(u.T, said, text)
	}
}

// sameAsABundle takes what was typed out as a bundle and brings it into an empty book: the same cents.
func sameAsABundle(t *testing.T, typed *book.Book) {
	t.Helper()
	data, err := exchange.Export(t.Context(), typed, book.Console)
	require.NoError(t, err)
	folder := filepath.Join(t.TempDir(), "bundle")
	require.NoError(t, bundle.Write(folder, data, func(scan string) ([]byte, error) {
		return exchange.ExportScan(t.Context(), typed, book.Console, scan)
	}))
	b, err := bundle.Read(folder)
	require.NoError(t, err)
	s, err := store.Open(t.Context(), filepath.Join(t.TempDir(), "imported.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	imported := book.New(s, at.Clock)
	_, err = exchange.Import(t.Context(), imported, book.Console, b)
	require.NoError(t, err)
	through := calendar.On(2026, time.November, 29)
	_, err = billing.Run(t.Context(), imported, book.Console, through, calendar.On(2026, time.November, 25), "", true)
	require.NoError(t, err)
	for _, name := range []string{"labour", "costs", "job-profit"} {
		want, err := reports.Make(t.Context(), typed, book.Console, name, reports.ReportQuery{})
		require.NoError(t, err)
		got, err := reports.Make(t.Context(), imported, book.Console, name, reports.ReportQuery{})
		require.NoError(t, err)
		assert.Equal(t, want, got, name)
	}
}

// TestABundleIsBroughtInWithAPreview chooses a file with a mistake, is told where, and brings the mended one in once it has seen what would
// come in.
func TestABundleIsBroughtInWithAPreview(t *testing.T) {
	u := atTheDemo(t)
	file := filepath.Join(t.TempDir(), "cost_codes.csv")
	put := func(text string) {
		u.Must(os.WriteFile(file, []byte(text), 0o600), u.Upload(`input[type="file"]`, file))
	}
	u.Open("/setup?part=data")
	put("code,title\n610,Dredge\n")
	u.Must(u.See(`[aria-label="What is wrong"]`))
	u.Sees("this can't be brought in as it is; nothing of it was")
	u.Accessible("what is wrong with a bundle")
	put("code,name\n610,Dredge\n320,Drive piles\n")
	u.Must(u.See(`[aria-label="What would come in"]`))
	codes := func() int {
		s, err := rates.Setup(t.Context(), u.Book.Book, book.Console, "", 0, 0)
		require.NoError(t, err)
		return len(s.CostCodes)
	}
	before := codes()
	u.Must(u.Press("Bring it in"))
	u.Sees("2 rows of cost_codes.csv brought in, 1 of them new.")
	assert.Equal(t, before+1, codes())
}
