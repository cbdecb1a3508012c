// Package paper writes what leaves the book on paper or in an open format: invoices as PDF, UBL, XLSX and CSV, and
// reports as CSV, JSON and XLSX.
package paper

import (
	"bytes"
	"cmp"
	"context"
	"fmt"
	"image/png"
	"net/http"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/tape"
	"jarvo/internal/core/iban"
	"jarvo/internal/core/locale"
	"jarvo/internal/core/postal"
	"jarvo/internal/core/words"
	"jarvo/internal/face"
)

// The columns of the lines of an invoice, from the right edge, in millimetres.
const (
	amountWide   = 28.0
	rateWide     = 24.0
	unitWide     = 14.0
	quantityWide = 24.0
)

// invoicePaper is an invoice while it is drawn.
type invoicePaper struct {
	*sheet
	locale.Locale
	v     billing.InvoiceView
	sum   plainSum // of the lines so far
	lines bool     // it is at its lines, which are carried forward
	job   string   // that it is at
}

// newInvoicePaper is a paper with the head and in the accent of an invoice, as its company's country writes.
func newInvoicePaper(v billing.InvoiceView, title string) *invoicePaper {
	p := &invoicePaper{sheet: newSheet(v.PaperSize, title, v.CompanyName), Locale: locale.Of(v.CompanyCountry, v.Currency), v: v}
	p.inAccent(v.Accent)
	p.dated(v.Date)
	return p
}

// InvoicePDF is an invoice as a PDF page or pages, and behind it, where there is any, its backup: the hours and
// receipts that it bills, with how each was charged. A draft says that it is one.
func InvoicePDF(ctx context.Context, v billing.InvoiceView, backup []tape.Backup) ([]byte, error) {
	return inTurn(ctx, func() ([]byte, error) { return invoicePDF(ctx, v, backup) })
}

func invoicePDF(ctx context.Context, v billing.InvoiceView, backup []tape.Backup) ([]byte, error) {
	p := newInvoicePaper(v, titleOf(v)+" "+orDraft(v.Number))
	p.SetSubject(face.Printable(v.Title), true)
	p.SetFooterFunc(p.foot)
	p.onPage, p.before = p.headAgain, p.carryForward
	p.page()
	p.stampDraft()
	p.head()
	for n, part := range v.Sections {
		p.section(part, n == len(v.Sections)-1)
	}
	p.jobEnds()
	p.lines = false
	p.end()
	if len(backup) == 0 {
		return p.bytes()
	}
	p.backup(backup)
	data, err := p.bytes()
	if err != nil {
		return nil, err
	}
	return withReceipts(ctx, data, p, backup)
}

func (p *invoicePaper) stampDraft() {
	if p.v.Status == "draft" {
		p.stamp("DRAFT")
	}
}

// foot stands at the foot of every page.
func (p *invoicePaper) foot() {
	y := p.tall - marginBottom + 8
	p.rule(marginSide, p.right(), y, 0.15)
	who := joined(cmp.Or(p.v.Payee, p.v.CompanyName), p.v.CompanyAddress, taxNumber(p.v), licence(p.v))
	if broken := p.sheet.lines(who, p.across()-40, typeSmall, quietly); len(broken) > 1 {
		who = broken[0] + " …"
	}
	p.put(marginSide, y+1, p.across()-40, who, typeSmall, quietly, toLeft)
	p.put(p.right()-60, y+1, 56, fmt.Sprintf("%s · page %d of ", cmp.Or(p.v.Number, "draft"), p.PageNo()), typeSmall, quietly, toRight)
	p.put(p.right()-5, y+1, 6, pageCount, typeSmall, quietly, toLeft)
}

// headAgain is the head of each page after the first: what it goes on with, and what it brings forward.
func (p *invoicePaper) headAgain() {
	p.stampDraft()
	what := fmt.Sprintf("%s %s to %s, %s", titleOf(p.v), orDraft(p.v.Number), p.v.CustomerName, p.Day(p.v.Date))
	p.put(marginSide, p.y, p.across(), p.sheet.lines(what, p.across(), typeBody, boldly)[0], typeBody, boldly, toLeft)
	p.y += 8
	if !p.lines {
		return
	}
	p.columns()
	p.put(marginSide, p.y, 100, fmt.Sprintf("Brought forward from page %d", p.PageNo()-1), typeBody, quietly, toLeft)
	p.put(p.right()-amountWide, p.y, amountWide, p.Figure(p.sum.String()), typeBody, quietly, toRight)
	p.y += lineTall + 1
}

func (p *invoicePaper) carryForward() {
	if !p.lines {
		return
	}
	p.rule(marginSide, p.right(), p.y+0.6, 0.15)
	p.put(marginSide, p.y+1, 100, fmt.Sprintf("Carried forward to page %d", p.PageNo()+1), typeBody, quietly, toLeft)
	p.put(p.right()-amountWide, p.y+1, amountWide, p.Figure(p.sum.String()), typeBody, quietly, toRight)
}

// head is who sends it, to whom, and what it is.
func (p *invoicePaper) head() {
	p.sender()
	v, half := p.v, p.across()/2
	p.put(marginSide, p.y, half, joined(v.CompanyName, v.CompanyAddress), typeSmall-1, quietly, toLeft)
	p.rule(marginSide, marginSide+half-14, p.y+lineTall, 0.1)
	y := p.block(marginSide, p.y+lineTall+1, half-14, v.CustomerName, typeBody+1, boldly, toLeft)
	y = p.block(marginSide, y, half-14, v.CustomerAddress, typeBody, plainly, toLeft)
	at := p.y
	for _, fact := range p.facts() {
		p.put(marginSide+half, at, 24, fact[0], typeBody, quietly, toLeft)
		at = p.block(marginSide+half+24, at, half-24, fact[1], typeBody, plainly, toLeft)
	}
	p.y = max(y, at) + 7
	p.inColour(func() {
		p.put(marginSide, p.y, p.across(), titleOf(v)+" "+v.Number, 19, boldly, toLeft)
	})
	p.y += 9
	p.y = p.block(marginSide, p.y, p.across(), v.Title, typeBody+1.5, plainly, toLeft) + 2
	p.typed(v.Opening)
	p.columns()
	p.lines = true
}

// sender is who sends a paper.
func (p *invoicePaper) sender() {
	v, left := p.v, marginSide
	if len(v.Mark) > 0 {
		left += p.mark(left)
	}
	p.inColour(func() { p.put(left, p.y+1, p.right()-left-60, v.CompanyName, 15, boldly, toLeft) })
	sender := strings.Join(given(v.CompanyAddress, v.CompanyPhone, v.CompanyEmail, taxNumber(v), licence(v)), "\n")
	end := p.block(p.right()-60, p.y, 60, sender, typeSmall+0.4, quietly, toRight)
	p.y = max(end, p.y+16) + 8
}

func (p *invoicePaper) inColour(draw func()) {
	if p.v.Accent != "" {
		p.tint = true
		defer func() { p.tint = false }()
	}
	draw()
}

// mark draws the company's picture, and gives how much room it takes.
func (p *invoicePaper) mark(x float64) float64 {
	kind := "PNG"
	if http.DetectContentType(p.v.Mark) == "image/jpeg" {
		kind = "JPG"
	}
	info := p.RegisterImageOptionsReader("mark", fpdf.ImageOptions{ImageType: kind}, bytes.NewReader(p.v.Mark))
	if p.Err() || info.Height() == 0 {
		p.ClearError() // a paper without its picture is a paper
		return 0
	}
	tall := 14.0
	wide := min(tall*info.Width()/info.Height(), 45)
	p.ImageOptions("mark", x, p.y, wide, 0, false, fpdf.ImageOptions{ImageType: kind}, 0, "")
	return wide + 4
}

func (p *invoicePaper) facts() [][2]string {
	v := p.v
	facts := [][2]string{{titleOf(v), orDraft(v.Number)}, {"Date", p.Day(v.Date)}}
	if v.CreditOn != "" {
		facts = append(facts, [2]string{"On invoice", v.CreditOn})
	} else {
		facts = append(facts, [2]string{"Due", p.Day(v.Due)}, [2]string{"Terms", v.Terms})
	}
	if v.OrderNumber != "" {
		facts = append(facts, [2]string{"Your order", v.OrderNumber})
	}
	if spoken := strings.ReplaceAll(v.CustomerCode, "-", " "); spoken != "" && !strings.EqualFold(spoken, v.CustomerName) { // made of the name
		facts = append(facts, [2]string{"Your number", v.CustomerCode})
	}
	from, through := "", ""
	for _, place := range v.Places {
		if from == "" || place.From != "" && place.From < from {
			from = place.From
		}
		through = max(through, place.Through)
	}
	if from != "" {
		facts = append(facts, [2]string{"Period", p.Span(from, through)})
	}
	return facts
}

// columns are the heads over the lines.
func (p *invoicePaper) columns() {
	p.put(p.right()-amountWide, p.y, amountWide, "Amount, "+p.v.Currency, typeSmall, quietly, toRight)
	if p.v.HasRates() {
		p.put(p.right()-amountWide-rateWide, p.y, rateWide, "Rate", typeSmall, quietly, toRight)
	}
	p.put(p.quantityAt(), p.y, quantityWide, "Quantity", typeSmall, quietly, toRight)
	p.y += lineTall
	p.rule(marginSide, p.right(), p.y, 0.3)
	p.y++
}

// quantityAt is where the column of quantities begins.
func (p *invoicePaper) quantityAt() float64 {
	at := p.right() - amountWide - unitWide - quantityWide
	if p.v.HasRates() {
		at -= rateWide
	}
	return at
}

// typed writes what was typed above or below the lines.
func (p *invoicePaper) typed(words string) {
	if words == "" {
		return
	}
	for _, line := range p.sheet.lines(words, p.across(), typeBody, plainly) {
		p.need(lineTall)
		p.put(marginSide, p.y, p.across(), line, typeBody, plainly, toLeft)
		p.y += lineTall
	}
	p.y += 2.5
}

// section is the lines of a kind, under the head of their job where there are several or it says where it is.
func (p *invoicePaper) section(part billing.PaperPart, last bool) {
	v := p.v
	if part.Job != p.job {
		p.jobEnds()
		p.job = part.Job
		p.jobBegins()
	}
	title := part.Kind
	if title == "" {
		title = part.Title
	}
	p.need(3 * lineTall)
	p.y += 1.2
	p.put(marginSide, p.y, p.quantityAt()-marginSide, title, typeBody, boldly, toLeft)
	p.put(p.right()-amountWide, p.y, amountWide, p.Figure(part.Amount), typeBody, boldly, toRight)
	p.y += lineTall
	for n, l := range part.Lines {
		text := p.sheet.lines(l.Text, p.quantityAt()-marginSide-2, typeBody, plainly)
		tall := float64(len(text))*lineTall + lineTall // and what is carried forward
		if last && n == len(part.Lines)-1 {
			tall += p.endTall() // what is due never stands on a page alone
		}
		p.need(min(tall, p.bottom()-marginTop-30))
		for i, line := range text {
			p.put(marginSide, p.y+float64(i)*lineTall, p.quantityAt()-marginSide, line, typeBody, plainly, toLeft)
		}
		p.put(p.quantityAt(), p.y, quantityWide, p.Figure(l.Quantity), typeBody, plainly, toRight)
		p.put(p.quantityAt()+quantityWide+1, p.y, unitWide, l.Unit, typeBody, plainly, toLeft)
		if v.HasRates() {
			p.put(p.right()-amountWide-rateWide, p.y, rateWide, p.Figure(l.Rate), typeBody, plainly, toRight)
		}
		p.put(p.right()-amountWide, p.y, amountWide, p.Figure(l.Amount), typeBody, plainly, toRight)
		p.y += float64(len(text)) * lineTall
		p.sum.add(l.Amount)
	}
}

func (p *invoicePaper) place() (of billing.JobPlace) {
	for _, place := range p.v.Places {
		if place.Job == p.job {
			return place
		}
	}
	return of
}

func (p *invoicePaper) jobBegins() {
	place := p.place()
	if len(p.v.Places) < 2 && place.Site == "" {
		return
	}
	p.need(5 * lineTall)
	p.y += 2
	said := given(place.Site)
	if place.Order != "" && place.Order != p.v.OrderNumber {
		said = append(said, "your order "+place.Order)
	}
	if place.From != "" && len(p.v.Places) > 1 {
		said = append(said, p.Span(place.From, place.Through))
	}
	p.put(marginSide, p.y, p.across(), p.job, typeBody+1, boldly, toLeft)
	p.put(marginSide+p.GetStringWidth(face.Printable(p.job))+3, p.y, p.across(), strings.Join(said, " · "), typeSmall+0.5, quietly, toLeft)
	p.y += lineTall + 0.6
	p.rule(marginSide, p.right(), p.y, 0.1)
}

// jobEnds foots a job, where there are several.
func (p *invoicePaper) jobEnds() {
	if p.job == "" || len(p.v.Places) < 2 {
		return
	}
	p.need(lineTall + 2)
	p.rule(p.right()-amountWide, p.right(), p.y+0.3, 0.1)
	p.put(marginSide, p.y+0.6, p.across()-amountWide, p.job, typeBody, boldly, toLeft)
	p.put(p.right()-amountWide, p.y+0.6, amountWide, p.Figure(p.place().Amount), typeBody, boldly, toRight)
	p.y += lineTall + 1.6
}

// total is a row of what an invoice comes to; thick is under and over what is due.
type total struct {
	label, amount string
	weight        weight
	due           bool
}

func (p *invoicePaper) totals() (rows []total) {
	v := p.v
	add := func(label, amount string, w weight) {
		rows = append(rows, total{label: label, amount: p.Figure(amount), weight: w})
	}
	if !v.Release {
		add("Subtotal", v.Subtotal, boldly)
	}
	for _, t := range v.Taxes {
		label := t.Label
		if t.Base != "" {
			label = strings.Replace(label, " of "+t.Base, " of "+p.Figure(t.Base), 1)
		}
		add(label, t.Amount, plainly)
	}
	if (v.HasRetainage || v.Prepaid != "") && !v.Release {
		add("Total", v.Total, plainly)
	}
	if v.HasRetainage && !v.Release {
		label := "Retainage held back"
		if v.CreditOn != "" {
			label = "Retainage no longer held"
		}
		add(label, less(v.Retainage), plainly)
	}
	for _, d := range v.Applied() {
		add("Prepaid by deposit "+d.Number, less(d.Here), plainly)
	}
	due := "Due " + p.Day(v.Due)
	if v.CreditOn != "" {
		due = "Credited to " + v.CreditOn
	}
	return append(rows, total{label: due + ", " + v.Currency, amount: p.Figure(v.DueNow), weight: boldly, due: true})
}

// endTall is how tall what an invoice comes to is, and how it is paid.
func (p *invoicePaper) endTall() float64 {
	tall := 12.0
	for _, r := range p.totals() {
		tall += float64(len(p.sheet.lines(r.label, p.labelWide(), typeBody, r.weight)))*lineTall + 1
	}
	return tall + float64(max(len(p.v.HowToPay), 4*len(p.v.Stands))+3)*lineTall
}

// labelWide is how wide what stands before a total may be.
func (p *invoicePaper) labelWide() float64 { return p.right() - p.wide/2 - amountWide }

// end is what an invoice comes to and how it is paid: together on the last page.
func (p *invoicePaper) end() {
	rows := p.totals()
	left, wide := p.wide/2, p.labelWide()
	p.lines = true
	p.need(min(p.endTall(), p.bottom()-marginTop-30))
	p.lines = false
	p.y += 4
	for _, r := range rows {
		size := typeBody
		if r.due {
			size = typeBody + 2.5
			p.y++
			p.rule(left, p.right(), p.y, 0.3)
			p.y++
		}
		broken := p.sheet.lines(r.label, wide, typeBody, r.weight)
		for n, line := range broken {
			p.put(left, p.y, wide+amountWide, line, size, r.weight, toLeft)
			if n == len(broken)-1 {
				p.put(p.right()-amountWide, p.y, amountWide, r.amount, size, r.weight, toRight)
			}
			p.y += lineTall
		}
		if r.due {
			p.y++
			p.rule(left, p.right(), p.y, 0.2)
			p.rule(left, p.right(), p.y+0.7, 0.2)
		}
	}
	p.y += 8
	top := p.y
	p.howToPay()
	end := p.y
	p.y = top
	p.stands(left + 10)
	p.y = max(p.y, end) + 3
	p.typed(p.v.Closing)
	for _, note := range p.v.TaxNotes {
		p.typed(note)
	}
}

// howToPay says to which account and with which reference; where the currency has a standard for it, also as a code that a bank reads.
func (p *invoicePaper) howToPay() {
	if len(p.v.HowToPay) == 0 {
		return
	}
	p.put(marginSide, p.y, 60, "How to pay", typeBody+0.5, boldly, toLeft)
	p.y += lineTall + 1
	wide := p.wide/2 - marginSide - 22
	if code := p.payCode(); code != nil {
		p.RegisterImageOptionsReader("code", fpdf.ImageOptions{ImageType: "PNG"}, bytes.NewReader(code))
		p.ImageOptions("code", p.wide/2-26, p.y, 24, 24, false, fpdf.ImageOptions{ImageType: "PNG"}, 0, "")
		wide -= 26
	}
	for _, fact := range p.v.HowToPay {
		p.put(marginSide, p.y, 22, fact.What, typeBody, quietly, toLeft)
		p.y = p.block(marginSide+22, p.y, wide, fact.Text, typeBody, plainly, toLeft)
	}
}

// payCode is the code of the European Payments Council for a transfer in euros (EPC069-12), as a PNG; nil where there is no standard.
func (p *invoicePaper) payCode() []byte {
	v := p.v
	if v.Currency != "EUR" || !iban.Is(v.Account) || v.Number == "" || strings.HasPrefix(v.DueNow, "-") || strings.Trim(v.DueNow, "0.") == "" {
		return nil
	}
	text := strings.Join([]string{
		"BCD", "002", "1", "SCT", strings.ReplaceAll(v.BankCode, " ", ""), shortened(v.Payee, 70), strings.ReplaceAll(v.Account, " ", ""),
		"EUR" + v.DueNow, "", "", shortened(v.Number, 140),
	}, "\n")
	code, err := qr.Encode(text, qr.M, qr.Unicode)
	if err != nil {
		return nil
	}
	if code, err = barcode.Scale(code, 240, 240); err != nil {
		return nil
	}
	var out bytes.Buffer
	if png.Encode(&out, code) != nil {
		return nil
	}
	return out.Bytes()
}

func shortened(text string, most int) string {
	if runes := []rune(text); len(runes) > most {
		return string(runes[:most])
	}
	return text
}

// stands says where the contract of each job stands, and what is held of it.
func (p *invoicePaper) stands(x float64) {
	for _, s := range p.v.Stands {
		p.put(x, p.y, p.right()-x, s.Job, typeBody, boldly, toLeft)
		p.y += lineTall
		for _, row := range [][2]string{
			{"Contract", s.Contract}, {"Billed to date", s.BilledToDate}, {"Left", s.Left}, {"Retained to date", s.HeldToDate},
		} {
			if row[1] == "" {
				continue
			}
			p.put(x, p.y, 40, row[0], typeBody, quietly, toLeft)
			p.put(p.right()-amountWide, p.y, amountWide, p.Figure(row[1]), typeBody, plainly, toRight)
			p.y += lineTall
		}
		p.y++
	}
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

func licence(v billing.InvoiceView) string {
	if v.Licence == "" {
		return ""
	}
	return words.SpellingOf(postal.Assumed(v.CompanyCountry, v.Currency)).Of("Licence ") + v.Licence
}

// given are the texts that are not blank.
func given(texts ...string) (out []string) {
	for _, t := range texts {
		if t != "" {
			out = append(out, t)
		}
	}
	return out
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

// Invoices write an invoice by the name of its format.
var Invoices = map[string]Format{
	"pdf": {"application/pdf", "pdf", InvoicePDF}, "csv": {"text/csv; charset=utf-8", "csv", InvoiceCSV},
	"ubl":     {"application/xml", "xml", InvoiceUBL},
	"en16931": {"application/xml", "en16931.xml", InvoiceEN},
	"xlsx":    {"application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", "xlsx", InvoiceXLSX},
}

// Format is how an invoice is written: its media type, the ending of its file, and the writer.
type Format struct {
	Media, Ending string
	Write         func(context.Context, billing.InvoiceView, []tape.Backup) ([]byte, error)
}

var invoiceColumns = []string{"invoice", "date", "due", "customer", "job", "section", "text", "quantity", "unit", "rate", "amount"}

// invoiceRows are the lines of an invoice with tax, retainage and what is due, for a spreadsheet.
func invoiceRows(v billing.InvoiceView) reports.Report {
	r := reports.Report{Name: "Invoice " + orDraft(v.Number), Columns: invoiceColumns}
	due := v.Due
	if v.CreditOn != "" {
		due = "" // of a credit note nothing is
	}
	add := func(job, section, text, quantity, unit, rate, amount string) {
		r.Rows = append(r.Rows, []string{v.Number, v.Date, due, v.CustomerName, job, section, text, quantity, unit, rate, amount})
	}
	sum := func(section, text, amount string) { add("", section, text, "", "", "", amount) }
	for _, part := range v.Sections {
		for _, l := range part.Lines {
			add(part.Job, part.Kind, l.Text, l.Quantity, l.Unit, l.Rate, l.Amount)
		}
	}
	sum("Subtotal", v.Currency, v.Subtotal)
	for _, t := range v.Taxes {
		sum("Tax", t.Label, t.Amount)
	}
	for _, note := range v.TaxNotes {
		sum("Tax", note, "")
	}
	sum("Total", v.Currency, v.Total)
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
func InvoiceCSV(_ context.Context, v billing.InvoiceView, _ []tape.Backup) ([]byte, error) {
	var b bytes.Buffer
	err := DownloadCSV(&b, invoiceRows(v))
	return b.Bytes(), err
}

// InvoiceXLSX is an invoice as a workbook.
func InvoiceXLSX(_ context.Context, v billing.InvoiceView, _ []tape.Backup) ([]byte, error) {
	var b bytes.Buffer
	err := ReportXLSX(&b, invoiceRows(v))
	return b.Bytes(), err
}
