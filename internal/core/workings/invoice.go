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
	// Of hours that are shown with their rate; Rounds is what such lines are rounded by.
	Minutes money.Minutes
	Rate    money.Rate
	Rounds  bool
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

// rated are the lines that show hours and rate, with what they are rounded by: together they come to what their work is charged.
func (s Show) rated(lines []Billed) Step {
	var work []Work
	var said []string
	for _, l := range lines {
		work = append(work, l.Work...)
		text := fmt.Sprintf("%s %s h x %s", l.Text, l.Minutes.Hours(), s.Currency.FormatRate(l.Rate))
		if l.Rounds {
			text = "rounding " + s.Currency.Format(l.Amount)
		}
		said = append(said, text)
	}
	step := s.Sum("Hours x rate", s.works(work))
	step.Formula = strings.Join(said, "; ")
	return step
}

func (s Show) works(all []Work) []Step {
	work := make([]Step, len(all))
	for n, of := range all {
		work[n] = Step{Label: of.Text, Operands: []Operand{{"charge", s.Amount(of.Charge), &all[n].From}}, Result: s.Amount(of.Amount)}
		if of.Amount != of.Charge {
			work[n].Formula = s.part(of)
		}
	}
	return work
}

// billed is one line of an invoice.
func (s Show) billed(l Billed) Step {
	work := s.works(l.Work)
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
	var lines []Step
	var rated []Billed
	for _, l := range i.Lines {
		if l.Rate != 0 || l.Rounds {
			rated = append(rated, l)
			continue
		}
		lines = append(lines, s.billed(l))
	}
	if len(rated) > 0 {
		lines = append([]Step{s.rated(rated)}, lines...)
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
