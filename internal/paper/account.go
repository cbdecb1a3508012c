package paper

import (
	"cmp"
	"context"
	"fmt"
	"strings"

	"jarvo/internal/app/collect"
)

// The columns of a statement of account, from the right edge, in millimetres.
const (
	balanceWide = 30.0
	paidWide    = 28.0
	chargeWide  = 28.0
	dueWide     = 26.0
	dateWide    = 26.0
	summaryTall = 60.0
)

// accountPaper is a statement of account while it is drawn.
type accountPaper struct {
	*invoicePaper
	of collect.AccountStatement
}

// AccountPDF is a statement of account as a PDF.
func AccountPDF(ctx context.Context, of collect.AccountStatement) ([]byte, error) {
	return inTurn(ctx, func() ([]byte, error) { return accountPDF(of) })
}

func accountPDF(of collect.AccountStatement) ([]byte, error) {
	v := of.Head
	title := "Statement of account " + v.CustomerName
	p := &accountPaper{newInvoicePaper(v, title), of}
	p.dated(of.Through)
	p.SetFooterFunc(p.foot)
	p.onPage = p.again
	p.page()
	p.sender()
	half := p.across() / 2
	y := p.block(marginSide, p.y, half-14, v.CustomerName, typeBody+1, boldly, toLeft)
	y = p.block(marginSide, y, half-14, v.CustomerAddress, typeBody, plainly, toLeft)
	at := p.y
	for _, fact := range [][2]string{{"Statement", p.Day(of.Through)}, {"Period", p.Span(of.From, of.Through)}, {"Currency", v.Currency}} {
		p.put(marginSide+half, at, 24, fact[0], typeBody, quietly, toLeft)
		p.put(marginSide+half+24, at, half-24, fact[1], typeBody, plainly, toLeft)
		at += lineTall
	}
	p.y = max(y, at) + 7
	p.inColour(func() { p.put(marginSide, p.y, p.across(), "Statement of account", 19, boldly, toLeft) })
	p.y += 11
	p.entries()
	p.summary()
	p.howToPay()
	return p.bytes()
}

// foot stands at the foot of every page.
func (p *accountPaper) foot() {
	y := p.tall - marginBottom + 8
	p.rule(marginSide, p.right(), y, 0.15)
	who := joined(cmp.Or(p.v.Payee, p.v.CompanyName), p.v.CompanyAddress, taxNumber(p.v))
	p.put(marginSide, y+1, p.across()-40, p.lines(who, p.across()-40, typeSmall, quietly)[0], typeSmall, quietly, toLeft)
	p.put(p.right()-60, y+1, 56, fmt.Sprintf("page %d of ", p.PageNo()), typeSmall, quietly, toRight)
	p.put(p.right()-5, y+1, 6, pageCount, typeSmall, quietly, toLeft)
}

func (p *accountPaper) lines(text string, wide, size float64, w weight) []string {
	return p.sheet.lines(text, wide, size, w)
}

func (p *accountPaper) again() {
	what := "Statement of account of " + p.v.CustomerName + ", " + p.Day(p.of.Through)
	p.put(marginSide, p.y, p.across(), p.lines(what, p.across(), typeBody, boldly)[0], typeBody, boldly, toLeft)
	p.y += 8
	p.heads()
}

// columns are where the columns begin, and how wide they are: date, what, due, charged, paid, balance.
func (p *accountPaper) columns() (x, wide [6]float64) {
	wide = [6]float64{dateWide, 0, dueWide, chargeWide, paidWide, balanceWide}
	wide[1] = p.across() - dateWide - dueWide - chargeWide - paidWide - balanceWide
	at := marginSide
	for i, w := range wide {
		x[i] = at
		at += w
	}
	return x, wide
}

func (p *accountPaper) heads() {
	x, wide := p.columns()
	for i, head := range []string{"Date", "What", "Due", "Charged", "Paid, credited", "Balance"} {
		a := toLeft
		if i > 2 {
			a = toRight
		}
		p.put(x[i], p.y, wide[i], head, typeSmall, quietly, a)
	}
	p.y += lineTall
	p.rule(marginSide, p.right(), p.y, 0.3)
	p.y++
}

func (p *accountPaper) entries() {
	p.heads()
	x, wide := p.columns()
	p.put(x[0], p.y, wide[0]+wide[1], "Brought forward", typeBody, quietly, toLeft)
	p.put(x[5], p.y, wide[5], p.Figure(p.of.Opening), typeBody, plainly, toRight)
	p.y += lineTall
	for n, l := range p.of.Lines {
		what := p.lines(l.What, wide[1]-2, typeBody, plainly)
		tall := float64(len(what)) * lineTall
		if n == len(p.of.Lines)-1 {
			tall += summaryTall // what is owed never stands on a page alone
		}
		p.need(tall)
		due := ""
		if l.Due != "" {
			due = p.Day(l.Due)
		}
		p.put(x[0], p.y, wide[0], p.Day(l.Date), typeBody, plainly, toLeft)
		p.put(x[2], p.y, wide[2], due, typeBody, plainly, toLeft)
		for i, amount := range []string{l.Charge, l.Paid, l.Balance} {
			p.put(x[3+i], p.y, wide[3+i], p.Figure(amount), typeBody, plainly, toRight)
		}
		p.y = p.block(x[1], p.y, wide[1]-2, strings.Join(what, "\n"), typeBody, plainly, toLeft)
	}
}

// summary is what is owed, how old it is, and what stands beside it.
func (p *accountPaper) summary() {
	p.need(summaryTall)
	p.y += 3
	left := p.wide / 2
	p.rule(left, p.right(), p.y, 0.3)
	p.y++
	owed, label := p.of.Closing, "Owed on "
	if strings.HasPrefix(owed, "-") {
		owed, label = less(owed), "In credit on "
	}
	p.put(left, p.y, p.right()-left-balanceWide, label+p.Day(p.of.Through)+", "+p.v.Currency, typeBody+2.5, boldly, toLeft)
	p.put(p.right()-balanceWide, p.y, balanceWide, p.Figure(owed), typeBody+2.5, boldly, toRight)
	p.y += lineTall + 1
	p.rule(left, p.right(), p.y, 0.2)
	p.rule(left, p.right(), p.y+0.7, 0.2)
	p.y += 8
	wide := p.across() / float64(len(p.of.Ages))
	for i, amount := range p.of.Ages {
		x := marginSide + float64(i)*wide
		p.put(x, p.y, wide, collect.Ages[i], typeSmall, quietly, toRight)
		p.put(x, p.y+lineTall, wide, p.Figure(amount), typeBody, plainly, toRight)
	}
	p.y += 2*lineTall + 3
	for _, beside := range [][2]string{{"Credit, not set against an invoice yet", p.of.Credit}, {"Retained, and not due yet", p.of.Retained}} {
		if strings.Trim(beside[1], "0.") == "" {
			continue
		}
		p.put(marginSide, p.y, 100, beside[0], typeBody, quietly, toLeft)
		p.put(p.right()-balanceWide, p.y, balanceWide, p.Figure(beside[1]), typeBody, plainly, toRight)
		p.y += lineTall
	}
	p.y += 6
}
