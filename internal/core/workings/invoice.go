package workings

import (
	"fmt"
	"strings"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
)

// Billed is a line of an invoice with the work that it stands for; none stands behind what was typed.
type Billed struct {
	Text   string
	Amount money.Amount
	Work   []Work
	Note   string // how it came about, where no work stands behind it
	// Of hours that are shown with their rate.
	Minutes money.Minutes
	Rate    money.Rate
}

// Work is an entry or a cost line on an invoice, all of it or a part, as it was chosen (calculation.md section 7).
type Work struct {
	Text           string
	From           Record
	Charge, Amount money.Amount
	Way            billing.Way
	Typed          int64        // minutes, 1/1 000 of a unit, 1/10 000 of a percent, or an amount, by the way
	Up, Down       money.Amount // of the amount beyond what was left; of what it leaves, written down
	Reason         string
}

// part says which part of the charge of some work is billed, and what of it is written up or down.
func (s Show) part(w Work) string {
	charge := s.Currency.Format(w.Charge)
	text := fmt.Sprintf("of the charge of %s ", charge)
	switch w.Way {
	case billing.ByHours:
		text = fmt.Sprintf("%s h %s", money.Minutes(w.Typed).Short(), text)
	case billing.ByQuantity:
		text = fmt.Sprintf("a quantity of %s %s", money.Quantity(w.Typed), text)
	case billing.ByPercent:
		text = fmt.Sprintf("%s %% %s", money.Percent(w.Typed), text)
	case billing.ByAmount:
		text = "an amount " + text
	case billing.AsFits:
		text = "what fits within the limit " + text
	case billing.TheRest:
		text = "what was left " + text
	}
	text = strings.TrimSpace(text)
	if w.Up != 0 {
		text += fmt.Sprintf(", %s written up", s.Currency.Format(w.Up))
	}
	if w.Down != 0 {
		text += fmt.Sprintf(", %s written down", s.Currency.Format(w.Down))
	}
	if w.Reason != "" {
		text += ": " + w.Reason
	}
	return text
}

// billed is one line of an invoice. Where it shows hours and rate it is their product, and what its work is charged stands beside that.
func (s Show) billed(l Billed) Step {
	if l.Rate != 0 {
		step := Step{
			Label: l.Text, Formula: l.Minutes.Hours() + " h x " + s.Currency.FormatRate(l.Rate), Result: s.Amount(l.Amount),
			Operands: []Operand{{"hours", s.Time(l.Minutes), nil}, {"rate", s.Rate(l.Rate), nil}},
		}
		for n, w := range l.Work {
			step.Operands = append(step.Operands, Operand{w.Text, s.Amount(w.Amount), &l.Work[n].From})
		}
		return step
	}
	work := make([]Step, len(l.Work))
	for n, of := range l.Work {
		work[n] = Step{Label: of.Text, Operands: []Operand{{"charge", s.Amount(of.Charge), &l.Work[n].From}}, Result: s.Amount(of.Amount)}
		if of.Amount != of.Charge {
			work[n].Formula = s.part(of)
		}
	}
	switch len(work) {
	case 0:
		return Step{Label: l.Text, Formula: l.Note, Result: s.Amount(l.Amount)}
	case 1:
		return work[0] // a line that stands for one thing is that thing
	}
	return s.Sum(l.Text, work)
}

// taxed says how a tax came about: below 0 it was charged on a deposit, and is deducted.
func (s Show) taxed(t billing.Tax) string {
	if t.Base < 0 {
		return fmt.Sprintf("deducted: charged on %s of a deposit", s.Currency.Format(-t.Base))
	}
	return fmt.Sprintf("%s %% of %s", t.Component.Percent, s.Currency.Format(t.Base))
}

// Retained is what the customer holds back of one job.
type Retained struct {
	Job       Record
	Share     money.Amount
	Percent   money.Percent
	Retainage money.Amount
}

// Invoice is what the sum at the foot of an invoice rests on (calculation.md section 8).
type Invoice struct {
	Lines    []Billed
	Taxes    []billing.Tax
	TaxFrom  []Record // of each tax
	Retained []Retained
	Prepaid  []Prepaid
}

// Prepaid is what of a deposit is applied to an invoice.
type Prepaid struct {
	Deposit Record
	Amount  money.Amount
}

// OfInvoice shows how what is due came about: the lines with what they stand for, tax, and what is held back.
func (s Show) OfInvoice(i Invoice) Step {
	lines := make([]Step, len(i.Lines))
	for n, l := range i.Lines {
		lines[n] = s.billed(l)
	}
	steps := []Step{s.Sum("Subtotal", lines)}
	var taxes []Step
	for n, t := range i.Taxes {
		taxes = append(taxes, Step{
			Label: t.Component.Name, Formula: s.taxed(t), Result: s.Amount(t.Tax),
			Operands: []Operand{{"taxed", s.Amount(t.Base), nil}, {"percent", s.Percent(t.Component.Percent), &i.TaxFrom[n]}},
		})
	}
	if len(taxes) > 0 {
		steps = append(steps, s.Sum("Tax", taxes))
	}
	var held []Step
	for n, r := range i.Retained {
		if r.Percent == 0 {
			continue
		}
		held = append(held, Step{
			Label: r.Job.Text, Formula: fmt.Sprintf("%s %% of %s, held back", r.Percent, s.Currency.Format(r.Share)), Result: s.Amount(-r.Retainage),
			Operands: []Operand{{"share of the subtotal", s.Amount(r.Share), nil}, {"retainage", s.Percent(r.Percent), &i.Retained[n].Job}},
		})
	}
	if len(held) > 0 {
		steps = append(steps, s.Sum("Retainage", held))
	}
	var prepaid []Step
	for n, p := range i.Prepaid {
		prepaid = append(prepaid, Step{
			Label: "Deposit " + p.Deposit.Text, Formula: "applied", Result: s.Amount(-p.Amount),
			Operands: []Operand{{"of the deposit", s.Amount(p.Amount), &i.Prepaid[n].Deposit}},
		})
	}
	if len(prepaid) > 0 {
		steps = append(steps, s.Sum("Prepaid", prepaid))
	}
	return s.Sum("Due now", steps)
}
