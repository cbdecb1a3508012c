// Package paper writes invoices as the customer gets them: PDF and CSV.
package paper

import (
	"bytes"
	"encoding/csv"
	"strings"

	"github.com/johnfercher/maroto/v2"
	"github.com/johnfercher/maroto/v2/pkg/components/col"
	"github.com/johnfercher/maroto/v2/pkg/components/line"
	"github.com/johnfercher/maroto/v2/pkg/components/row"
	"github.com/johnfercher/maroto/v2/pkg/components/text"
	"github.com/johnfercher/maroto/v2/pkg/config"
	"github.com/johnfercher/maroto/v2/pkg/consts/align"
	"github.com/johnfercher/maroto/v2/pkg/consts/fontstyle"
	"github.com/johnfercher/maroto/v2/pkg/consts/pagesize"
	"github.com/johnfercher/maroto/v2/pkg/core"
	"github.com/johnfercher/maroto/v2/pkg/props"
	"github.com/johnfercher/maroto/v2/pkg/repository"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"

	"jarvo/internal/app"
)

const (
	face     = "go"
	body     = 9.0
	rowTall  = 5.5
	partTall = 8.0
)

var (
	soft    = &props.Color{Red: 92, Green: 98, Blue: 112}
	rule    = &props.Color{Red: 185, Green: 173, Blue: 148}
	inkLine = &props.Color{Red: 34, Green: 38, Blue: 47}
)

func plain() props.Text { return props.Text{Family: face, Size: body, Top: 1} }

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
	return text.NewCol(width, s, p)
}

// InvoicePDF is an invoice as a PDF page or pages. A draft says that it is one.
func InvoicePDF(v app.InvoiceView) ([]byte, error) {
	fonts, err := repository.New().AddUTF8FontFromBytes(face, fontstyle.Normal, goregular.TTF).AddUTF8FontFromBytes(face, fontstyle.Bold, gobold.TTF).Load()
	if err != nil {
		return nil, err
	}
	m := maroto.New(config.NewBuilder().
		WithPageSize(pagesize.A4).WithLeftMargin(20).WithRightMargin(20).WithTopMargin(18).WithBottomMargin(16).
		WithCustomFonts(fonts).WithDefaultFont(&props.Font{Family: face, Size: body}).
		WithPageNumber(props.PageNumber{Pattern: "page {current} of {total}", Place: props.RightBottom, Family: face, Size: 7, Color: soft}).
		WithTitle("Invoice "+orDraft(v.Number), true).WithAuthor(v.CompanyName, true).WithCreator("Jarvo", true).Build())
	head(m, v)
	for _, part := range v.Sections {
		section(m, part)
	}
	totals(m, v)
	document, err := m.Generate()
	if err != nil {
		return nil, err
	}
	return document.GetBytes(), nil
}

func orDraft(number string) string {
	if number == "" {
		return "draft, numbered at issue"
	}
	return number
}

func head(m core.Maroto, v app.InvoiceView) {
	m.AddRow(9, text.NewCol(12, v.CompanyName, styled(func(p *props.Text) { p.Size, p.Style = 15, fontstyle.Bold })))
	m.AddRow(10, cell(12, joined(v.CompanyAddress, v.CompanyEmail), quiet))
	facts := [][2]string{{"Invoice", orDraft(v.Number)}, {"Date", v.Date}, {"Due", v.Due}, {"Currency", v.Currency}}
	to := append([]string{v.CustomerName}, strings.Split(v.CustomerAddress, "\n")...)
	m.AddRow(rowTall, cell(6, "To", quiet), cell(6, ""))
	for i := range max(len(facts), len(to)) {
		left, fact := "", [2]string{}
		if i < len(to) {
			left = to[i]
		}
		if i < len(facts) {
			fact = facts[i]
		}
		leftStyle := plain
		if i == 0 {
			leftStyle = func() props.Text { return styled(bold) }
		}
		m.AddRow(rowTall, text.NewCol(6, left, leftStyle()), cell(2, fact[0], quiet), cell(4, fact[1]))
	}
	m.AddRow(14, text.NewCol(12, v.Title, styled(func(p *props.Text) { p.Size, p.Top = 12, 6 })))
	m.AddRow(rowTall, cell(7, ""), cell(3, "Quantity", quiet, right), cell(2, "Amount", quiet, right))
	m.AddRows(ruled(inkLine))
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

func section(m core.Maroto, part app.PaperPart) {
	m.AddRow(partTall, text.NewCol(10, part.Title, styled(func(p *props.Text) { p.Style, p.Top = fontstyle.Bold, 3 })),
		text.NewCol(2, part.Amount, styled(func(p *props.Text) { p.Style, p.Top, p.Align = fontstyle.Bold, 3, align.Right })))
	m.AddRows(ruled(rule))
	for _, l := range part.Lines {
		m.AddRow(rowTall, cell(7, l.Text), cell(2, l.Quantity, right), cell(1, " "+l.Unit), cell(2, l.Amount, right))
	}
}

func totals(m core.Maroto, v app.InvoiceView) {
	sum := func(label, amount string, changes ...func(*props.Text)) {
		m.AddRow(rowTall, cell(4, ""), cell(6, label, changes...), cell(2, amount, append(changes, right)...))
	}
	m.AddRow(4)
	m.AddRows(ruled(inkLine))
	sum("Subtotal", v.Subtotal)
	for _, t := range v.Taxes {
		sum(t.Label, t.Amount)
	}
	if v.HasRetainage {
		sum("Total", v.Total)
		sum("Retainage held back", "-"+v.Retainage)
	}
	m.AddRows(row.New(1).Add(col.New(4), line.NewCol(8, props.Line{Color: inkLine, Thickness: 0.2, SizePercent: 100})))
	sum("Due now, "+v.Currency, v.DueNow, bold)
}

// InvoiceCSV is the lines of an invoice, for a spreadsheet.
func InvoiceCSV(v app.InvoiceView) ([]byte, error) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	records := [][]string{{"invoice", "section", "text", "quantity", "unit", "amount"}}
	for _, part := range v.Sections {
		for _, l := range part.Lines {
			records = append(records, []string{v.Number, part.Title, Defused(l.Text), l.Quantity, l.Unit, l.Amount})
		}
	}
	for _, t := range v.Taxes {
		records = append(records, []string{v.Number, "Tax", Defused(t.Label), "", "", t.Amount})
	}
	if v.HasRetainage {
		records = append(records, []string{v.Number, "Retainage", "held back", "", "", "-" + v.Retainage})
	}
	records = append(records, []string{v.Number, "Due now", v.Currency, "", "", v.DueNow})
	err := w.WriteAll(records)
	return b.Bytes(), err
}

// Defused keeps a text from being run as a formula by the spreadsheet that opens it.
func Defused(s string) string {
	if s != "" && strings.ContainsRune("=+-@\t\r", rune(s[0])) {
		return "'" + s
	}
	return s
}
