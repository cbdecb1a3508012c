package paper_test

import (
	"bytes"
	"encoding/csv"
	"encoding/xml"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/tape"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/paper"
	"jarvo/internal/store"
)

var invoice = billing.InvoiceView{
	Status: store.Issued, Number: "SG-998", Date: "2025-03-31", Due: "2025-04-30", Title: "101 Guest dock", Currency: "USD",
	CompanyName:  "Brackwater Dock & Pile",
	CustomerName: "<Heron> & Cove", CustomerAddress: "1 Quay\nHeron",
	Sections: []billing.PaperPart{
		{Title: "Labour", Amount: "40.40", Taxed: billing.Taxed{Kind: "standard", By: []billing.PaperTax{stateTax}}, Lines: []billing.PaperLine{
			{Text: "=pile driver", Quantity: "2.00", Unit: "h", UnitCode: "HUR", Amount: "40.40"},
		}},
		{Title: "Material", Amount: "20.20", Lines: []billing.PaperLine{{Text: "Cleats", Amount: "20.20"}}},
	},
	Subtotal: "60.60", Tax: "2.53", Total: "63.13", Retainage: "2.53", HasRetainage: true, DueNow: "60.60",
	Taxes:     []billing.PaperTax{stateTax},
	Reference: "44-1",
	Seller: store.InvoiceParty{
		Side: store.Seller, Street: "Slip 4", City: "Brackwater", Country: "US", TaxNumber: "47-0000000", Email: "a@b.example",
		Registry: store.Registry{Endpoint: "a@b.example", EndpointScheme: "EM"},
	},
	Buyer: store.InvoiceParty{Side: store.Buyer, Street: "1 Quay", City: "Heron", Country: "US", Email: "h@heron.example"},
}

var stateTax = billing.PaperTax{Label: "State 6.25 % of 40.40", Component: "State", Percent: "6.25", Base: "40.40", Amount: "2.53"}

func TestAnEInvoiceSaysWhatThePaperSays(t *testing.T) {
	data, err := paper.InvoiceUBL(t.Context(), invoice, nil)
	require.NoError(t, err)
	var read struct {
		XMLName  xml.Name
		ID       string   `xml:"ID"`
		Customer string   `xml:"AccountingCustomerParty>Party>PartyName>Name"`
		Payable  string   `xml:"LegalMonetaryTotal>PayableAmount"`
		Tax      string   `xml:"TaxTotal>TaxAmount"`
		Terms    []string `xml:"PaymentTerms>Amount"`
		Lines    []struct {
			Amount   string `xml:"LineExtensionAmount"`
			Quantity struct {
				Unit string `xml:"unitCode,attr"`
			} `xml:"InvoicedQuantity"`
		} `xml:"InvoiceLine"`
	}
	require.NoError(t, xml.Unmarshal(data, &read))
	assert.Equal(t, "urn:oasis:names:specification:ubl:schema:xsd:Invoice-2", read.XMLName.Space)
	assert.Equal(t, []string{"SG-998", "<Heron> & Cove", "63.13", "2.53"}, []string{read.ID, read.Customer, read.Payable, read.Tax})
	assert.Equal(t, []string{"60.60", "2.53"}, read.Terms, "now, and when the retainage is released")
	require.Len(t, read.Lines, 2)
	assert.Equal(t, "HUR", read.Lines[0].Quantity.Unit)
	assert.Equal(t, "20.20", read.Lines[1].Amount)
	assert.NotContains(t, string(data), "<cbc:Telephone>", "what is not known is left out")
}

func TestASpreadsheetHasNumbersAndRunsNoFormula(t *testing.T) {
	report := reports.Report{
		Columns: []string{"ref", "name", "cost", "hours"},
		Rows:    [][]string{{"-1+1", "=HYPERLINK(1)", "-1234.50", ""}, {"T2", "@x", "0.005", "8.00"}},
	}
	var text, workbook bytes.Buffer
	require.NoError(t, paper.ReportCSV(&text, report))
	rows, err := csv.NewReader(&text).ReadAll()
	require.NoError(t, err)
	assert.Equal(
		t, [][]string{{"ref", "name", "cost", "hours"}, {"'-1+1", "'=HYPERLINK(1)", "-1234.50", ""}, {"T2", "'@x", "0.005", "8.00"}}, rows,
	)

	text.Reset()
	require.NoError(t, paper.DownloadCSV(&text, report))
	assert.Equal(t, "\ufeffref,name,cost,hours\r\n'-1+1,'=HYPERLINK(1),-1234.50,\r\nT2,'@x,0.005,8.00\r\n", text.String())
	for _, formula := range []string{"=1", "+1", "-1", "@x", "|x", "%x", "\t=1", "\r=1", "\n=1", "  =1", "\ufeff=1", "＝1", "＋1", "－1", "＠x"} {
		assert.Equal(t, "'"+formula, paper.Defused(formula))
	}
	for _, text := range []string{"", " ", "A = B", "7-3", "'=1"} {
		assert.Equal(t, text, paper.Defused(text))
	}

	require.NoError(t, paper.ReportXLSX(&workbook, report))
	book := opened(t, &workbook)
	shown, err := book.GetRows(sheet)
	require.NoError(t, err)
	assert.Equal(t, []string{"-1+1", "=HYPERLINK(1)", "-1,234.50"}, shown[1])
	kind, err := book.GetCellType(sheet, "C2")
	require.NoError(t, err)
	assert.Contains(t, []excelize.CellType{excelize.CellTypeUnset, excelize.CellTypeNumber}, kind, "a figure is a number")
	formula, err := book.GetCellFormula(sheet, "B2")
	require.NoError(t, err)
	assert.Empty(t, formula)
}

const sheet = "Jarvo"

func opened(t *testing.T, workbook io.Reader) *excelize.File {
	t.Helper()
	book, err := excelize.OpenReader(workbook)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, book.Close()) })
	return book
}

func TestAWorkbookIsReadyToWorkWith(t *testing.T) {
	var workbook bytes.Buffer
	report := reports.Report{Name: "invoices", Columns: []string{"number", "date", "cost", "margin"}, Rows: [][]string{
		{"SG-1", "2026-11-16", "1234.50", "10.00"}, {"SG-2", "2026-11-17", "-0.01", "20.00"}, {"SG-3", "", "", ""},
	}}
	require.NoError(t, paper.ReportXLSX(&workbook, report))
	book := opened(t, &workbook)
	raw, err := book.GetRows(sheet, excelize.Options{RawCellValue: true})
	require.NoError(t, err)
	assert.Equal(t, "46342", raw[1][1], "a date is a day's number")
	shown, err := book.GetRows(sheet)
	require.NoError(t, err)
	assert.Equal(t, []string{"SG-1", "2026-11-16", "1,234.50", "10.00"}, shown[1])
	assert.Equal(t, []string{"", "", "1,234.49"}, shown[4], "what can be added up has a sum")
	sum, err := book.GetCellFormula(sheet, "C5")
	require.NoError(t, err)
	assert.Equal(t, "SUBTOTAL(109,C2:C4)", sum, "of the rows that a filter leaves")
	panes, err := book.GetPanes(sheet)
	require.NoError(t, err)
	assert.True(t, panes.Freeze)
	tables, err := book.GetTables(sheet)
	require.NoError(t, err)
	require.Len(t, tables, 1)
	assert.Equal(t, "A1:D4", tables[0].Range)
	style, err := book.GetCellStyle(sheet, "A1")
	require.NoError(t, err)
	head, err := book.GetStyle(style)
	require.NoError(t, err)
	assert.True(t, head.Font.Bold)
	width, err := book.GetColWidth(sheet, "B")
	require.NoError(t, err)
	assert.InDelta(t, 13, width, 1)
	props, err := book.GetDocProps()
	require.NoError(t, err)
	assert.Equal(t, []string{"Jarvo", "invoices"}, []string{props.Creator, props.Title})
	application, err := book.GetAppProps()
	require.NoError(t, err)
	assert.Equal(t, "Jarvo", application.Application)
}

func TestEveryFormatOfAnInvoice(t *testing.T) {
	begins := map[string]string{"pdf": "%PDF", "csv": "\ufeffinvoice,date,due,customer", "ubl": "<?xml", "en16931": "<?xml", "xlsx": "PK"}
	assert.Len(t, paper.Invoices, len(begins))
	for name, format := range paper.Invoices {
		data, err := format.Write(t.Context(), invoice, []tape.Backup{{Date: "2025-03-10", What: "Cleats", Detail: "101", Amount: "20.20"}})
		require.NoError(t, err, name)
		assert.Equal(t, begins[name], string(data[:len(begins[name])]), name)
	}
}

// TestAnInvoiceCarriesTheMark prints an invoice with the company's mark as either kind of picture, and one that is none as it would be
// without.
func TestAnInvoiceCarriesTheMark(t *testing.T) {
	plain, err := paper.InvoicePDF(t.Context(), invoice, nil)
	require.NoError(t, err)
	picture := image.NewRGBA(image.Rect(0, 0, 300, 100))
	for i := range picture.Pix {
		picture.Pix[i] = byte(i * i)
	}
	var asPNG, asJPEG bytes.Buffer
	require.NoError(t, png.Encode(&asPNG, picture))
	require.NoError(t, jpeg.Encode(&asJPEG, picture, nil))
	for _, mark := range [][]byte{asPNG.Bytes(), asJPEG.Bytes()} {
		marked := invoice
		marked.Mark, marked.CompanyTax = mark, "47-3318206"
		data, err := paper.InvoicePDF(t.Context(), marked, nil)
		require.NoError(t, err)
		assert.Contains(t, string(data), "/Subtype /Image")
		assert.Greater(t, len(data), len(plain))
	}
	assert.NotContains(t, string(plain), "/Subtype /Image")
}

// crewWeek is a crew's week with so many lines, of workers with two each.
func crewWeek(lines int) timesheet.CrewPaper {
	p := timesheet.CrewPaper{
		Company: "Brackwater Dock & Pile", Country: "US", PaperSize: "letter", Crew: "Pile crew",
		Days:  []string{"2026-11-16", "2026-11-17", "2026-11-18", "2026-11-19", "2026-11-20", "2026-11-21", "2026-11-22"},
		Notes: []timesheet.CrewNote{{Date: "2026-11-16", Worker: "Aldo Renn", Text: "tide"}},
	}
	for i := range lines {
		p.Lines = append(p.Lines, timesheet.CrewPaperLine{
			Worker: fmt.Sprintf("Aldo Renn %d", i/2), Place: "1187 Ferry landing, Drive piles, 320 Drive piles, from the barge at high water",
			Hours: []string{"10", "10", "10.5", "8", "", "", "", "38.5"},
		})
	}
	p.Hours = []string{"10", "10", "10.5", "8", "", "", "", "38.5"}
	return p
}

// Each page of a crew sheet has the days over its columns, and the last hours, their sum and who signs for them stand together; a blank
// one has its front and its back, and no page with nothing on it.
func TestACrewSheetIsSignedWhereItsHoursAre(t *testing.T) {
	for lines := 1; lines < 45; lines++ {
		data, err := paper.CrewPDF(t.Context(), crewWeek(lines), false)
		require.NoError(t, err)
		pages := pagesOf(t, data)
		for n, page := range pages {
			assert.Contains(t, page, "WorkerJob,phase,costcodeMon16Tue17", "page %d of %d lines", n+1, lines)
			assert.Contains(t, page, fmt.Sprintf("page%dof%d", n+1, len(pages)))
			assert.Contains(t, page, "AldoRenn", "page %d of %d lines", n+1, lines)
		}
		last := pages[len(pages)-1]
		assert.Regexp(t, `38\.5Hours.*Signed,foreman`, last)
	}
	crew := crewWeek(12)
	for i := range crew.Lines {
		crew.Lines[i].Place = "1187 Ferry landing"
	}
	blank, err := paper.CrewPDF(t.Context(), crew, true)
	require.NoError(t, err)
	pages := pagesOf(t, blank)
	require.Len(t, pages, 2)
	assert.Contains(t, pages[0], "Signed,foreman")
	assert.Contains(t, pages[1], "Materialsandplant")
	again, err := paper.CrewPDF(t.Context(), crew, true)
	require.NoError(t, err)
	assert.Equal(t, blank, again, "the same paper is the same bytes")
}

// Letters that only the other font has are drawn with it: its shapes of them are in the file.
func TestACrewSheetHasTheLettersOfTheOtherFont(t *testing.T) {
	of := func(worker string) int {
		data, err := paper.CrewPDF(t.Context(), timesheet.CrewPaper{Lines: []timesheet.CrewPaperLine{{Worker: worker, Hours: []string{"8"}}}},
			false)
		require.NoError(t, err)
		return len(data)
	}
	assert.Greater(t, of("ანა ბერიძე"), of("???")+1000)
}

// No text stops a paper: what the face lacks has a substitute, what is long wraps, and a long word is broken.
func TestNoTextStopsAPaper(t *testing.T) {
	for _, text := range []string{
		"🛥️ slip", "東京", "a\u0000b", "\ufffd", strings.Repeat("Verylongname", 40), strings.Repeat("word ", 400), "\u202eright to left",
	} {
		v := invoice
		v.CompanyName, v.CompanyAddress, v.CustomerName, v.CustomerAddress, v.Title, v.Number = text, text, text, text+"\n"+text, text, text
		v.Sections = []billing.PaperPart{{
			Title: text, Amount: "1.00", Lines: []billing.PaperLine{{Text: text, Quantity: "1", Unit: text, Amount: "1.00"}},
		}}
		v.Taxes = []billing.PaperTax{{Label: text, Component: text, Amount: "0.10"}}
		for name, format := range paper.Invoices {
			if name == "en16931" {
				continue // its taxes are not those of its lines, which is refused
			}
			data, err := format.Write(t.Context(), v, []tape.Backup{{Date: "2025-03-10", What: text, Detail: text, Amount: "20.20"}})
			require.NoError(t, err, "%s of %q", name, text)
			assert.Less(t, len(data), 1<<20)
		}
		crew := timesheet.CrewPaper{
			Company: text, Crew: text, Job: text, Days: []string{"2026-11-16"},
			Notes: []timesheet.CrewNote{{Date: "2026-11-16", Worker: text, Text: text}},
			Lines: []timesheet.CrewPaperLine{{Worker: text, Place: text, Hours: []string{"8", "8"}}}, Hours: []string{"8", "8"},
		}
		_, err := paper.CrewPDF(t.Context(), crew, false)
		require.NoError(t, err, "%q", text)
	}
}
