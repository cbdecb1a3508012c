package paper_test

import (
	"bytes"
	"encoding/csv"
	"encoding/xml"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"jarvo/internal/app"
	"jarvo/internal/paper"
)

var invoice = app.InvoiceView{
	Number: "SG-998", Date: "2025-03-31", Due: "2025-04-30", Title: "101 Guest dock", Currency: "USD", CompanyName: "Brackwater Dock & Pile", CustomerName: "<Heron> & Cove", CustomerAddress: "1 Quay\nHeron",
	Sections: []app.PaperPart{{Title: "Labour", Amount: "40.40", Lines: []app.PaperLine{{Text: "=pile driver", Quantity: "2.00", Unit: "h", Amount: "40.40"}}}, {Title: "Material", Amount: "20.20", Lines: []app.PaperLine{{Text: "Cleats", Amount: "20.20"}}}},
	Subtotal: "60.60", Tax: "2.53", Total: "63.13", Retainage: "2.53", HasRetainage: true, DueNow: "60.60", Taxes: []app.PaperTax{{Label: "State 6.25 % of 40.40", Component: "State", Percent: "6.25", Base: "40.40", Amount: "2.53"}},
}

func TestAnEInvoiceSaysWhatThePaperSays(t *testing.T) {
	data, err := paper.InvoiceUBL(invoice, nil)
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
	assert.NotContains(t, string(data), "<cac:Contact>", "what is not known is left out")
}

func TestASpreadsheetHasNumbersAndRunsNoFormula(t *testing.T) {
	report := app.Report{Columns: []string{"ref", "name", "cost", "hours"}, Rows: [][]string{{"-1+1", "=HYPERLINK(1)", "-1234.50", ""}, {"T2", "@x", "0.005", "8.00"}}}
	var text, workbook bytes.Buffer
	require.NoError(t, paper.ReportCSV(&text, report))
	rows, err := csv.NewReader(&text).ReadAll()
	require.NoError(t, err)
	assert.Equal(t, [][]string{{"ref", "name", "cost", "hours"}, {"'-1+1", "'=HYPERLINK(1)", "-1234.50", ""}, {"T2", "'@x", "0.005", "8.00"}}, rows)

	require.NoError(t, paper.ReportXLSX(&workbook, report))
	book, err := excelize.OpenReader(&workbook)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, book.Close()) })
	sheet := book.GetSheetList()[0]
	shown, err := book.GetRows(sheet)
	require.NoError(t, err)
	assert.Equal(t, []string{"-1+1", "=HYPERLINK(1)", "-1234.50"}, shown[1])
	kind, err := book.GetCellType(sheet, "C2")
	require.NoError(t, err)
	assert.Contains(t, []excelize.CellType{excelize.CellTypeUnset, excelize.CellTypeNumber}, kind, "a figure is a number")
	formula, err := book.GetCellFormula(sheet, "B2")
	require.NoError(t, err)
	assert.Empty(t, formula)
}

func TestEveryFormatOfAnInvoice(t *testing.T) {
	begins := map[string]string{"pdf": "%PDF", "csv": "invoice,section", "ubl": "<?xml", "xlsx": "PK"}
	assert.Len(t, paper.Invoices, len(begins))
	for name, format := range paper.Invoices {
		data, err := format.Write(invoice, []app.Backup{{Date: "2025-03-10", What: "Cleats", Detail: "101", Amount: "20.20"}})
		require.NoError(t, err, name)
		assert.Equal(t, begins[name], string(data[:len(begins[name])]), name)
	}
}

func TestACrewSheetIsPrintedFilledAndBlank(t *testing.T) {
	p := app.CrewPaper{Company: "Brackwater Dock & Pile", Crew: "Pile crew", Days: []string{"2026-11-16", "2026-11-17", "2026-11-18", "2026-11-19", "2026-11-20", "2026-11-21", "2026-11-22"}, Notes: []string{"2026-11-16 Aldo Renn: tide"}}
	for range 40 {
		p.Lines = append(p.Lines, app.CrewPaperLine{Worker: "Aldo Renn", Place: "1187 Ferry landing, Drive piles, 320 Drive piles", Hours: []string{"10", "10", "10.5", "8", "", "", "", "38.5"}})
	}
	p.Hours = []string{"10", "10", "10.5", "8", "", "", "", "38.5"}
	for _, blank := range []bool{false, true} {
		data, err := paper.CrewPDF(p, blank)
		require.NoError(t, err)
		assert.Equal(t, "%PDF", string(data[:4]))
	}
}
