package paper

import (
	"strconv"
	"strings"

	"jarvo/internal/app/tape"
	"jarvo/internal/core/workings"
)

// The columns at the right of a backup, in millimetres.
const (
	backupDay  = 20.0
	backupWide = 22.0
)

// backup is the hours and receipts behind an invoice, over as many pages as it needs; their sums meet what the invoice bills of work.
func (p *invoicePaper) backup(backup []tape.Backup) {
	again := p.headAgain
	p.onPage = again
	p.page()
	p.stampDraft()
	p.put(marginSide, p.y, p.across(), "Hours and receipts of "+strings.ToLower(titleOf(p.v))+" "+orDraft(p.v.Number), 12, boldly, toLeft)
	p.y += 9
	var time, hours, bought, all plainSum
	for i, b := range backup {
		costs := b.No > 0
		if i == 0 || costs != (backup[i-1].No > 0) {
			if i > 0 {
				p.backupSum("Hours, "+p.Figure(time.String()), &hours)
			}
			columns := func() { p.backupColumns(costs) }
			p.onPage = func() { again(); columns() }
			p.need(4 * lineTall)
			columns()
		}
		all.add(b.Amount)
		if costs {
			bought.add(b.Amount)
			p.receipt(b)
		} else {
			hours.add(b.Amount)
			time.add(b.Time)
			p.hours(b)
		}
	}
	p.onPage = again
	if backup[len(backup)-1].No > 0 {
		p.backupSum("Receipts", &bought)
	} else {
		p.backupSum("Hours, "+p.Figure(time.String()), &hours)
	}
	var rest plainSum
	rest.add(p.v.Subtotal)
	rest.add(less(all.String()))
	if rest.value.Sign() != 0 && p.v.Subtotal != "" {
		p.backupSum("Lines of the invoice that no hours or receipts stand behind", &rest)
		all.add(rest.String())
	}
	p.backupSum("Together, the subtotal of the invoice", &all)
}

// backupColumns are the heads of hours or of receipts.
func (p *invoicePaper) backupColumns(costs bool) {
	put := func(x, wide float64, text string, a aligned) { p.put(x, p.y, wide, text, typeSmall, quietly, a) }
	heads := []string{"Hours", "Rate", "Charge"}
	if costs {
		put(marginSide, 10, "No.", toLeft)
		put(marginSide+10, backupDay, "Date", toLeft)
		put(marginSide+10+backupDay, 80, "What was bought, from whom, their number", toLeft)
		heads = []string{"Quantity", "Price", "Charge"}
	} else {
		put(marginSide, backupDay, "Date", toLeft)
		put(marginSide+backupDay, 80, "Who, on what, class of hours", toLeft)
	}
	for i, head := range heads {
		put(p.right()-float64(len(heads)-i)*backupWide, backupWide, head, toRight)
	}
	p.y += lineTall
	p.rule(marginSide, p.right(), p.y, 0.3)
	p.y++
}

// backupRow writes the figures of a row at the right.
func (p *invoicePaper) backupRow(figures ...string) {
	for i, text := range figures {
		p.put(p.right()-float64(len(figures)-i)*backupWide, p.y, backupWide, text, typeBody, plainly, toRight)
	}
}

// hours is an entry: who worked when on what, with a row for each class of hours.
func (p *invoicePaper) hours(b tape.Backup) {
	wide := p.across() - backupDay - 3*backupWide - 2
	rows := b.Hours
	if len(rows) == 0 {
		rows = []tape.BackupHours{{Hours: b.Time, Charge: b.Amount}}
	}
	steps := charged(b.Charge)
	p.need(float64(len(rows)+2+len(steps))*lineTall + 1.5)
	p.put(marginSide, p.y, backupDay, p.Day(b.Date), typeBody, plainly, toLeft)
	for i, row := range rows {
		who := row.Class
		if i == 0 {
			who = joined(b.What, row.Class)
		}
		p.backupRow(p.Figure(row.Hours), p.Figure(row.Rate), p.Figure(row.Charge))
		p.y = max(p.y+lineTall, p.block(marginSide+backupDay, p.y, wide, who, typeBody, plainly, toLeft))
	}
	p.y = p.block(marginSide+backupDay, p.y, wide, b.Detail, typeSmall, quietly, toLeft)
	p.steps(steps)
}

// receipt is a cost line: what was bought from whom, with the number that its receipt has too.
func (p *invoicePaper) receipt(b tape.Backup) {
	wide := p.across() - 10 - backupDay - 3*backupWide - 2
	detail := joined(b.Supplier, b.Number, b.Detail)
	steps := charged(b.Charge)
	tall := len(p.sheet.lines(b.What, wide, typeBody, plainly)) + len(p.sheet.lines(detail, wide, typeSmall, quietly))
	p.need(float64(tall+len(steps))*lineTall + 1.5)
	p.put(marginSide, p.y, 10, strconv.Itoa(b.No), typeBody, plainly, toLeft)
	p.put(marginSide+10, p.y, backupDay, p.Day(b.Date), typeBody, plainly, toLeft)
	p.backupRow(strings.TrimSpace(p.Figure(b.Quantity)+" "+b.Unit), p.Figure(b.Price), p.Figure(b.Amount))
	p.y = p.block(marginSide+10+backupDay, p.y, wide, b.What, typeBody, plainly, toLeft)
	p.y = p.block(marginSide+10+backupDay, p.y, wide, detail, typeSmall, quietly, toLeft)
	p.steps(steps)
}

// steps is how a charge came about, for whom the book is open, and the rule under a row.
func (p *invoicePaper) steps(steps [][2]string) {
	for _, step := range steps {
		p.put(marginSide+backupDay, p.y, p.across()-backupDay-2*backupWide, step[0], typeSmall, quietly, toLeft)
		p.put(p.right()-2*backupWide, p.y, backupWide-2, step[1], typeSmall, quietly, toRight)
		p.y += lineTall * typeSmall / typeBody
	}
	p.rule(marginSide, p.right(), p.y+0.3, 0.05)
	p.y += 1.2
}

// backupSum is a sum of the backup.
func (p *invoicePaper) backupSum(what string, sum *plainSum) {
	p.need(2 * lineTall)
	p.put(marginSide, p.y, p.across()-backupWide, what, typeBody, boldly, toLeft)
	p.put(p.right()-backupWide, p.y, backupWide, p.Figure(sum.in(p.v.Subtotal)), typeBody, boldly, toRight)
	p.y += lineTall
	p.rule(marginSide, p.right(), p.y+0.3, 0.3)
	p.y += 3
}

// charged are the parts of a charge, each with its formula and what it comes to.
func charged(charge *workings.Step) (parts [][2]string) {
	if charge == nil {
		return nil
	}
	for _, leaf := range charge.Leaves() {
		parts = append(parts, [2]string{joined(leaf.Label, leaf.Formula), leaf.Result.Text})
	}
	return parts
}
