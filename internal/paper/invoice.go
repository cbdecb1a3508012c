// Package paper writes what leaves the book on paper or in an open format: invoices as PDF, UBL, XLSX and CSV, and
// reports as CSV, JSON and XLSX.
package paper

import (
	"bytes"
	"net/http"
	"slices"
	"strings"

	"github.com/johnfercher/maroto/v2"
	"github.com/johnfercher/maroto/v2/pkg/components/col"
	"github.com/johnfercher/maroto/v2/pkg/components/image"
	"github.com/johnfercher/maroto/v2/pkg/components/line"
	"github.com/johnfercher/maroto/v2/pkg/components/page"
	"github.com/johnfercher/maroto/v2/pkg/components/row"
	"github.com/johnfercher/maroto/v2/pkg/components/text"
	"github.com/johnfercher/maroto/v2/pkg/config"
	"github.com/johnfercher/maroto/v2/pkg/consts/align"
	"github.com/johnfercher/maroto/v2/pkg/consts/extension"
	"github.com/johnfercher/maroto/v2/pkg/consts/fontstyle"
	"github.com/johnfercher/maroto/v2/pkg/consts/pagesize"
	"github.com/johnfercher/maroto/v2/pkg/core"
	"github.com/johnfercher/maroto/v2/pkg/core/entity"
	"github.com/johnfercher/maroto/v2/pkg/props"
	"github.com/johnfercher/maroto/v2/pkg/repository"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/tape"
	"jarvo/internal/core/workings"
	"jarvo/internal/face"
)

const (
	faceName = "go"
	body     = 9.0
	rowTall  = 5.5
	partTall = 8.0

	bodyTall    = 3.2 // a line of the body
	longestWord = 34  // characters; a longer word is broken
)

var (
	soft    = &props.Color{Red: 92, Green: 98, Blue: 112}
	rule    = &props.Color{Red: 185, Green: 173, Blue: 148}
	inkLine = &props.Color{Red: 34, Green: 38, Blue: 47}
)

func plain() props.Text {
	return props.Text{Family: faceName, Size: body, Top: 1, Bottom: rowTall - bodyTall - 1}
}

// printed is a text as it can be printed: in the characters of the face, with its long words broken, so that none runs over its column.
func printed(s string) string {
	words := strings.Split(face.Printable(s), " ")
	for i, word := range words {
		var parts []string
		for part := range slices.Chunk([]rune(word), longestWord) {
			parts = append(parts, string(part))
		}
		words[i] = strings.Join(parts, " ")
	}
	return strings.Join(words, " ")
}

func styled(change func(*props.Text)) props.Text {
	p := plain()
	change(&p)
	return p
}

var (
	right = func(p *props.Text) { p.Align = align.Right }
	bold  = func(p *props.Text) { p.Style = fontstyle.Bold }
	quiet = func(p *props.Text) { p.Color = soft }
)

func cell(width int, s string, changes ...func(*props.Text)) core.Col {
	p := plain()
	for _, change := range changes {
		change(&p)
	}
	return text.NewCol(width, printed(s), p)
}

func paperFonts() ([]*entity.CustomFont, error) {
	return repository.New().AddUTF8FontFromBytes(
		faceName, fontstyle.Normal, face.Regular,
	).AddUTF8FontFromBytes(faceName, fontstyle.Bold, face.Bold).Load()
}

// paperOn is a paper in the house's face, with its pages numbered.
func paperOn(fonts []*entity.CustomFont, title, company string) config.Builder {
	return config.NewBuilder().
		WithPageSize(pagesize.A4).WithLeftMargin(12).WithRightMargin(12).WithTopMargin(12).WithBottomMargin(16).
		WithCustomFonts(fonts).WithDefaultFont(&props.Font{Family: faceName, Size: body}).
		WithPageNumber(props.PageNumber{Pattern: "page {current} of {total}", Place: props.RightBottom, Family: faceName, Size: 7, Color: soft}).
		WithTitle(face.Printable(title), true).WithAuthor(face.Printable(company), true).WithCreator("Jarvo", true).WithCompression(true)
}

// InvoicePDF is an invoice as a PDF page or pages, and behind it, where there is any, its backup: the hours and
// receipts that it bills, with how each was charged. A draft says that it is one.
func InvoicePDF(v billing.InvoiceView, backup []tape.Backup) ([]byte, error) {
	fonts, err := paperFonts()
	if err != nil {
		return nil, err
	}
	m := maroto.New(
		paperOn(fonts, titleOf(v)+" "+orDraft(v.Number), v.CompanyName).WithLeftMargin(20).WithRightMargin(20).WithTopMargin(18).Build(),
	)
	head(m, v)
	for _, part := range v.Sections {
		section(m, part)
	}
	totals(m, v)
	if len(backup) > 0 {
		m.AddPages(backupPage(v, backup))
	}
	document, err := m.Generate()
	if err != nil {
		return nil, err
	}
	return document.GetBytes(), nil
}

// titleOf is what an invoice is: a credit note, or an invoice.
func titleOf(v billing.InvoiceView) string {
	if v.CreditOn != "" {
		return "Credit note"
	}
	if v.IsDeposit {
		return "Deposit invoice"
	}
	return "Invoice"
}

// less is an amount as it is written with the other sign.
func less(amount string) string {
	if rest, negative := strings.CutPrefix(amount, "-"); negative {
		return rest
	}
	return "-" + amount
}

func orDraft(number string) string {
	if number == "" {
		return "draft, numbered at issue"
	}
	return number
}

// taxNumber is the company's tax number as a paper says it, blank where there is none.
func taxNumber(v billing.InvoiceView) string {
	if v.CompanyTax == "" {
		return ""
	}
	return "Tax number " + v.CompanyTax
}

func head(m core.Maroto, v billing.InvoiceView) {
	if len(v.Mark) > 0 {
		as := extension.Png
		if http.DetectContentType(v.Mark) == "image/jpeg" {
			as = extension.Jpg
		}
		m.AddRow(16, image.NewFromBytesCol(4, v.Mark, as, props.Rect{Percent: 90}))
	}
	m.AddAutoRow(cell(12, v.CompanyName, bold, func(p *props.Text) { p.Size, p.Bottom = 15, 2.5 }))
	m.AddAutoRow(cell(12, joined(v.CompanyAddress, v.CompanyEmail), quiet, func(p *props.Text) { p.Bottom = 1 }))
	m.AddAutoRow(cell(12, taxNumber(v), quiet, func(p *props.Text) { p.Bottom = 5.5 }))
	facts := [][2]string{{titleOf(v), orDraft(v.Number)}, {"Date", v.Date}, {"Due", v.Due}, {"Currency", v.Currency}}
	if v.CreditOn != "" {
		facts[2] = [2]string{"On invoice", v.CreditOn}
	}
	if v.OrderNumber != "" {
		facts = append(facts, [2]string{"Your order", v.OrderNumber})
	}
	to := append([]string{v.CustomerName}, strings.Split(v.CustomerAddress, "\n")...)
	m.AddAutoRow(cell(6, "To", quiet), cell(6, ""))
	for i := range max(len(facts), len(to)) {
		left, fact := "", [2]string{}
		if i < len(to) {
			left = to[i]
		}
		if i < len(facts) {
			fact = facts[i]
		}
		weight := func(*props.Text) {}
		if i == 0 {
			weight = bold
		}
		m.AddAutoRow(cell(6, left, weight), cell(2, fact[0], quiet), cell(4, fact[1]))
	}
	m.AddAutoRow(cell(12, v.Title, func(p *props.Text) { p.Size, p.Top, p.Bottom = 12, 6, 3.5 }))
	typed(m, v.Opening)
	rate := ""
	if v.HasRates() {
		rate = "Rate"
	}
	m.AddAutoRow(cell(5, ""), cell(3, "Quantity", quiet, right), cell(2, rate, quiet, right), cell(2, "Amount", quiet, right))
	m.AddRows(ruled(inkLine))
}

// typed writes what was typed above or below the lines, a paragraph a line.
func typed(m core.Maroto, words string) {
	if words == "" {
		return
	}
	for line := range strings.SplitSeq(words, "\n") {
		m.AddAutoRow(cell(12, line))
	}
	m.AddRow(3)
}

// backupPage goes on over as many sheets as it needs.
func backupPage(v billing.InvoiceView, backup []tape.Backup) core.Page {
	rows := []core.Row{
		row.New().Add(cell(12, "Hours and receipts of invoice "+orDraft(v.Number), bold, func(p *props.Text) { p.Size, p.Bottom = 12, 4.5 })),
		row.New().Add(cell(2, "Date", quiet), cell(8, "What, and how it was charged", quiet), cell(2, "Charge", quiet, right)),
		ruled(inkLine),
	}
	for _, b := range backup {
		rows = append(
			rows, row.New().Add(cell(2, b.Date), cell(8, b.What), cell(2, b.Amount, right)), row.New().Add(cell(2, ""), cell(10, b.Detail, quiet)),
		)
		if b.Charge != nil {
			for _, step := range charged(*b.Charge) {
				rows = append(rows, row.New().Add(cell(2, ""), cell(7, step[0], quiet), cell(1, step[1], quiet, right)))
			}
		}
		rows = append(rows, ruled(rule))
	}
	return page.New().Add(rows...)
}

// charged are the parts of a charge, each with its formula and what it comes to.
func charged(charge workings.Step) [][2]string {
	var parts [][2]string
	for _, leaf := range charge.Leaves() {
		parts = append(parts, [2]string{joined(leaf.Label, leaf.Formula), leaf.Result.Text})
	}
	return parts
}

func joined(parts ...string) string {
	var said []string
	for _, p := range parts {
		if p != "" {
			said = append(said, strings.ReplaceAll(p, "\n", ", "))
		}
	}
	return strings.Join(said, ", ")
}

func ruled(color *props.Color) core.Row {
	return row.New(1).Add(line.NewCol(12, props.Line{Color: color, Thickness: 0.2, SizePercent: 100}))
}

func section(m core.Maroto, part billing.PaperPart) {
	heading := func(p *props.Text) { p.Top, p.Bottom = 3, partTall-bodyTall-3 }
	m.AddAutoRow(cell(10, part.Title, bold, heading), cell(2, part.Amount, bold, right, heading))
	m.AddRows(ruled(rule))
	for _, l := range part.Lines {
		m.AddAutoRow(cell(5, l.Text), cell(2, l.Quantity, right), cell(1, " "+l.Unit), cell(2, l.Rate, right), cell(2, l.Amount, right))
	}
}

func totals(m core.Maroto, v billing.InvoiceView) {
	sum := func(label, amount string, changes ...func(*props.Text)) {
		m.AddAutoRow(cell(4, ""), cell(6, label, changes...), cell(2, amount, append(changes, right)...))
	}
	m.AddRow(4)
	m.AddRows(ruled(inkLine))
	if !v.Release {
		sum("Subtotal", v.Subtotal)
	}
	for _, t := range v.Taxes {
		sum(t.Label, t.Amount)
	}
	if (v.HasRetainage || v.Prepaid != "") && !v.Release {
		sum("Total", v.Total)
	}
	if v.HasRetainage && !v.Release {
		sum("Retainage held back", less(v.Retainage))
	}
	for _, d := range v.Applied() {
		sum("Prepaid by deposit "+d.Number, less(d.Here))
	}
	m.AddRows(row.New(1).Add(col.New(4), line.NewCol(8, props.Line{Color: inkLine, Thickness: 0.2, SizePercent: 100})))
	due := "Due now"
	if v.CreditOn != "" {
		due = "Credited to " + v.CreditOn
	}
	sum(due+", "+v.Currency, v.DueNow, bold)
	for _, s := range v.Stands {
		stands(m, s)
	}
	typed(m, v.Closing)
	for _, note := range v.TaxNotes {
		m.AddAutoRow(cell(12, note, func(p *props.Text) { p.Top = 3 }))
	}
}

// stands says where a job stands with the invoice.
func stands(m core.Maroto, s billing.StandRow) {
	var parts []string
	if s.Contract != "" {
		parts = append(parts, "contract "+s.Contract, "billed to date "+s.BilledToDate, "left "+s.Left)
	}
	if s.HeldToDate != "" {
		parts = append(parts, "retained to date "+s.HeldToDate)
	}
	m.AddAutoRow(cell(12, s.Job+": "+strings.Join(parts, ", "), func(p *props.Text) { p.Top = 3 }))
}

// Invoices write an invoice by the name of its format.
var Invoices = map[string]Format{
	"pdf": {"application/pdf", "pdf", InvoicePDF}, "csv": {"text/csv; charset=utf-8", "csv", InvoiceCSV},
	"ubl":  {"application/xml", "xml", InvoiceUBL},
	"xlsx": {"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "xlsx", InvoiceXLSX},
}

// Format is how an invoice is written: its media type, the ending of its file, and the writer.
type Format struct {
	Media, Ending string
	Write         func(billing.InvoiceView, []tape.Backup) ([]byte, error)
}

var invoiceColumns = []string{"invoice", "section", "text", "quantity", "unit", "rate", "amount"}

// invoiceRows are the lines of an invoice with tax, retainage and what is due, for a spreadsheet.
func invoiceRows(v billing.InvoiceView) reports.Report {
	r := reports.Report{Name: "Invoice " + orDraft(v.Number), Columns: invoiceColumns}
	add := func(section, text, quantity, unit, rate, amount string) {
		r.Rows = append(r.Rows, []string{v.Number, section, text, quantity, unit, rate, amount})
	}
	sum := func(section, text, amount string) { add(section, text, "", "", "", amount) }
	for _, part := range v.Sections {
		for _, l := range part.Lines {
			add(part.Title, l.Text, l.Quantity, l.Unit, l.Rate, l.Amount)
		}
	}
	for _, t := range v.Taxes {
		sum("Tax", t.Label, t.Amount)
	}
	for _, note := range v.TaxNotes {
		sum("Tax", note, "")
	}
	if v.HasRetainage {
		sum("Retainage", "held back", "-"+v.Retainage)
	}
	for _, d := range v.Applied() {
		sum("Prepaid", "deposit "+d.Number, "-"+d.Here)
	}
	sum("Due now", v.Currency, v.DueNow)
	return r
}

// InvoiceCSV is an invoice as a table.
func InvoiceCSV(v billing.InvoiceView, _ []tape.Backup) ([]byte, error) {
	var b bytes.Buffer
	err := DownloadCSV(&b, invoiceRows(v))
	return b.Bytes(), err
}

// InvoiceXLSX is an invoice as a workbook.
func InvoiceXLSX(v billing.InvoiceView, _ []tape.Backup) ([]byte, error) {
	var b bytes.Buffer
	err := ReportXLSX(&b, invoiceRows(v))
	return b.Bytes(), err
}
