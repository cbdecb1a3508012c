package paper_test

import (
	"bytes"
	"fmt"
	"os"
	"slices"
	"strings"
	"testing"
	"unicode"

	"github.com/ledongthuc/pdf"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/tape"
	"jarvo/internal/paper"
)

// read is a text as the reader of the tests gives it: without spaces, and of each character beyond Latin 1 the low byte, which tells it
// from what would stand for one that can't be printed.
func read(text string) string {
	var out []rune
	for _, r := range text {
		if low := rune(byte(r)); !unicode.IsSpace(low) {
			out = append(out, low)
		}
	}
	return string(out)
}

// pagesOf is the text of each page of a PDF, as [read] gives it.
func pagesOf(t *testing.T, data []byte) []string {
	t.Helper()
	if folder := os.Getenv("JARVO_PAPERS"); folder != "" { // to be looked at
		require.NoError(t, os.WriteFile(folder+"/"+strings.ReplaceAll(t.Name(), "/", "-")+".pdf", data, 0o600))
	}
	reader, err := pdf.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	pages := make([]string, reader.NumPage())
	for i := range pages {
		text, err := reader.Page(i + 1).GetPlainText(nil)
		require.NoError(t, err)
		pages[i] = read(text)
	}
	return pages
}

// long is an invoice over two jobs with so many lines.
func long(lines int) billing.InvoiceView {
	v := billing.InvoiceView{
		Status: "issued", Number: "2622", Date: "2026-11-24", Due: "2026-12-24", Terms: "30 days, net", Title: "Work in November",
		Currency:    "USD",
		CompanyName: "Brackwater Dock & Pile", CompanyAddress: "Slip 4, Tannery Quay\nBrackwater", CompanyEmail: "accounts@brackwater.example",
		CompanyPhone: "555 0142", CompanyTax: "47-3318206", Licence: "MC 20-4471", Accent: "#1e2f55", PaperSize: "a4", CompanyCountry: "US",
		CustomerName: "Corran Reach Yacht Club", CustomerAddress: "The Treasurer\n2 Reach Walk\nCorran", OrderNumber: "CR-2026-31",
		HowToPay: []billing.PayFact{{What: "Bank", Text: "Quay Bank, Brackwater"}, {What: "Reference", Text: "2622"}},
		Places: []billing.JobPlace{
			{Job: "1195 Finger docks", Site: "Corran Reach, north basin", From: "2026-11-09", Through: "2026-11-22", Amount: "11864.20"},
			{Job: "1193 Fuel berth survey", Site: "Corran Reach, fuel berth", From: "2026-11-16", Through: "2026-11-20", Amount: "8699.08"},
		},
		Subtotal: "20563.28", Tax: "167.59", Total: "20730.87", Retainage: "593.21", HasRetainage: true, DueNow: "20137.66",
		Taxes: []billing.PaperTax{
			{Label: "State sales tax 4.5 % of 2914.60", Amount: "131.16"}, {Label: "Bay district tax 1.25 % of 2914.60", Amount: "36.43"},
			{Label: "Quay levy 0 % of 2914.60", Amount: "0.00"},
		},
		Stands: []billing.StandRow{{Job: "1195 Finger docks", HeldToDate: "3028.71"}},
	}
	for n, place := range v.Places {
		labour := billing.PaperPart{Job: place.Job, Kind: "Labour", Amount: "1000.00"}
		for i := range lines / 2 {
			labour.Lines = append(labour.Lines, billing.PaperLine{
				Text: fmt.Sprintf("Carpenter %d.%d", n+1, i+1), Quantity: "20.00", Unit: "h", Rate: "88.00", Amount: "10.00",
			})
		}
		v.Sections = append(v.Sections, labour)
	}
	return v
}

// A page that goes on says what it is and to whom, and carries the sum of its lines forward; what is due and how to pay stand together.
func TestALongInvoiceGoesOnFromPageToPage(t *testing.T) {
	data, err := paper.InvoicePDF(t.Context(), long(300), nil)
	require.NoError(t, err)
	pages := pagesOf(t, data)
	require.Greater(t, len(pages), 4)
	for i, page := range pages {
		assert.Contains(t, page, fmt.Sprintf("2622·page%dof%d", i+1, len(pages)))
		if i > 0 {
			assert.Contains(t, page, "Invoice2622toCorranReachYachtClub,Nov24,2026")
			assert.Contains(t, page, fmt.Sprintf("Broughtforwardfrompage%d", i))
			assert.Contains(t, pages[i-1], fmt.Sprintf("Carriedforwardtopage%d", i+1))
		}
	}
	last := pages[len(pages)-1]
	for _, said := range []string{
		"DueDec24,2026,USD20,137.66", "Howtopay", "QuayBank,Brackwater", "Retainageheldback−593.21", "Retainedtodate3,028.71",
	} {
		assert.Contains(t, last, read(said))
	}
	assert.Contains(t, pages[0], "LicenseMC20-4471")
	assert.Contains(t, pages[0], "CorranReach,northbasin·Nov9toNov22,2026")
}

// However many lines there are, at least one stands on the page with what is due.
func TestWhatIsDueNeverStandsOnAPageAlone(t *testing.T) {
	for lines := 40; lines < 140; lines += 2 {
		data, err := paper.InvoicePDF(t.Context(), long(lines), nil)
		require.NoError(t, err)
		pages := pagesOf(t, data)
		last := pages[len(pages)-1]
		assert.Contains(t, last, fmt.Sprintf("Carpenter2.%d", lines/2), "%d lines", lines)
		assert.Contains(t, last, "20,137.66")
		assert.Contains(t, last, "Howtopay")
	}
}

func TestAnInvoiceOfThousandsWithItsBackup(t *testing.T) {
	backup := make([]tape.Backup, 2000)
	for i := range backup {
		backup[i] = tape.Backup{
			Date: "2026-11-09", What: fmt.Sprintf("Aldo Renn, 8 h, %d", i), Detail: "1195 Finger docks · carpenter", Amount: "704.00",
		}
	}
	data, err := paper.InvoicePDF(t.Context(), long(2000), backup)
	require.NoError(t, err)
	assert.Less(t, len(data), 1<<20)
	pages := pagesOf(t, data)
	assert.True(t, slices.ContainsFunc(pages, func(page string) bool { return strings.HasPrefix(page, "Hoursandreceiptsofinvoice2622") }))
	assert.Contains(t, strings.Join(pages[len(pages)-2:], ""), "AldoRenn,8h,1999")
	assert.Contains(t, pages[len(pages)-1], "Together,thesubtotaloftheinvoice20,563.28")
}

// A statement of account goes on from page to page, and ends with what is owed, how old it is, and how to pay.
func TestAStatementOfAccountOfManyEntries(t *testing.T) {
	of := collect.AccountStatement{
		Head: long(2), From: "2026-09-01", Through: "2026-11-24", Opening: "1000.00", Closing: "-20.50", Retained: "593.21", Credit: "20.50",
		Ages: [5]string{"0.00", "0.00", "0.00", "0.00", "0.00"},
	}
	for i := range 90 {
		of.Lines = append(of.Lines, collect.StatementLine{
			Date: "2026-10-01", What: fmt.Sprintf("Invoice %d", i), Due: "2026-10-31", Charge: "10.00", Balance: "1010.00",
		})
	}
	data, err := paper.AccountPDF(t.Context(), of)
	require.NoError(t, err)
	pages := pagesOf(t, data)
	require.Len(t, pages, 3)
	assert.Contains(t, pages[2], read("Invoice 89"), "what is owed never stands on a page alone")
	assert.Contains(t, pages[1], read("Statement of account of Corran Reach Yacht Club, Nov 24, 2026"))
	for _, said := range []string{"In credit on Nov 24, 2026, USD 20.50", "Retained, and not due yet 593.21", "How to pay", "page 3 of 3"} {
		assert.Contains(t, pages[2], read(said))
	}
}

// What accountants type is printed: accents, Vietnamese, Greek, Cyrillic, signs of currencies; long names break.
func TestEveryScriptThatThereIsAFontForIsPrinted(t *testing.T) {
	for name, text := range map[string]string{
		"viet": "Công ty Đóng tàu Hải Phòng", "greek": "Λιμάνι Πειραιά", "cyrillic": "Порт Балтийск, їжак", "money": "₹ ₺ ₽ ₫ € £",
		"latin": "Łódź, Žižkov, Ærø, Çeşme, Őr",
	} {
		t.Run(name, func(t *testing.T) {
			v := long(2)
			v.CustomerName, v.CompanyCountry = text, "DE"
			data, err := paper.InvoicePDF(t.Context(), v, nil)
			require.NoError(t, err)
			pages := pagesOf(t, data)
			assert.Contains(t, pages[0], read(text))
			assert.Contains(t, pages[0], "20.137,66", "as it is written there")
			assert.Contains(t, pages[0], "Due24Dec2026")
		})
	}
	v := long(2)
	v.Status, v.Number = "draft", ""
	v.CustomerName, v.Title = strings.Repeat("The Very Long Harbour Company ", 6), strings.Repeat("Piles ", 40)
	v.Sections[0].Lines[0].Text = strings.Repeat("Bearing piles, driven ", 12)
	v.DueNow, v.Sections[0].Lines[0].Amount = "-20.00", "-10.00"
	data, err := paper.InvoicePDF(t.Context(), v, nil)
	require.NoError(t, err)
	assert.Contains(t, pagesOf(t, data)[0], "DRAFT")
}

// In euros, to an IBAN, a bank reads what to pay from a code; elsewhere there is none.
func TestACodeToPayByWhereThereIsAStandard(t *testing.T) {
	v := long(2)
	plain, err := paper.InvoicePDF(t.Context(), v, nil)
	require.NoError(t, err)
	assert.NotContains(t, string(plain), "/Subtype /Image")
	v.Currency, v.Account, v.BankCode, v.Payee = "EUR", "DE89 3704 0044 0532 0130 00", "COBADEFFXXX", "Brackwater Dock & Pile"
	coded, err := paper.InvoicePDF(t.Context(), v, nil)
	require.NoError(t, err)
	assert.Contains(t, string(coded), "/Subtype /Image")
}
