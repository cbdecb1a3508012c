package exchange

import (
	"strconv"

	"jarvo/internal/app/receivable"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// paidInvoice is an issued invoice on which payments of the bundle are set.
type paidInvoice struct {
	ID, CustomerID int64
	Date           calendar.Date
	Ref            string
	Left, Paid     money.Amount
	last           *cell // the last row that sets something against it
}

// paidIn is a new payment or refund of the bundle, with what of it is set against invoices so far.
type paidIn struct {
	store.Payment
	set map[int64]money.Amount
	sum money.Amount
}

// payments brings payments in after the invoices that they settle, and what is set against them.
func (in *billedIn) payments() error {
	made := map[string]*paidIn{}
	for _, row := range in.bundle.Rows("payments.csv") {
		if c := (cell{in.importer, row}); !in.same(c) {
			if err := in.payment(c, made); err != nil {
				return err
			}
		}
	}
	rows, err := store.Query[paidInvoice](in.Tx, openInvoices)
	if err != nil {
		return err
	}
	invoices := map[string]*paidInvoice{}
	for i := range rows {
		invoices[rows[i].Ref] = &rows[i]
	}
	for _, row := range in.bundle.Rows("payment_allocations.csv") {
		if c := (cell{in.importer, row}); !in.same(c) {
			if err := in.allocate(c, made, invoices[c.Get("invoice")]); err != nil {
				return err
			}
		}
	}
	for i := range rows {
		if r := &rows[i]; r.last != nil && r.Left < 0 {
			r.last.wrong("amount", "%s more is set against invoice %s than is due", in.Money(-r.Left), r.Ref)
		}
	}
	if err := in.bankLines(made); err != nil || len(in.problems) > 0 {
		return err
	}
	return in.settled()
}

// bankLines brings in what the bank told, and as which of the new payments it was recorded.
func (in *billedIn) bankLines(made map[string]*paidIn) error {
	for _, row := range in.bundle.Rows("bank_lines.csv") {
		c, before := cell{in.importer, row}, in.faults
		if in.same(c) {
			continue
		}
		l := store.BankLine{
			Ref: c.Get("ref"), Account: c.Get("account"), Date: read(c, "date", calendar.Parse), Amount: c.amount("amount"),
			Name: c.Get("name"), Text: c.Get("text"), BankRef: c.Get("bank_ref"), Aside: c.Get("aside"),
		}
		if ref := c.Get("payment"); ref != "" {
			p := made[ref]
			switch {
			case p == nil:
				c.wrong("payment", "there is no new payment %q", ref)
			case p.Kind != store.Received || p.TakenBack != nil || p.Amount != l.Amount || l.Aside != "":
				c.wrong("payment", "payment %s is not of this amount, or does not stand", ref)
			default:
				l.PaymentID = &p.ID
			}
		}
		if c.good(before) != nil {
			continue
		}
		if err := in.Create(&l).Error; err != nil {
			return err
		}
	}
	return nil
}

func (in *billedIn) payment(c cell, made map[string]*paidIn) error {
	before := in.faults
	p := store.Payment{
		Ref: c.Get("ref"), Kind: c.oneOf("kind", store.Received, store.Refund), CustomerID: store.ID(c.refer("customer", "customers")),
		Date: read(c, "date", calendar.Parse), Amount: c.amount("amount"), Note: c.Get("note"), Method: c.Get("method"),
		Reference: c.Get("reference"),
	}
	if reason := c.Get("taken_back"); reason != "" {
		p.TakenBack, p.TakenBackOn = &reason, &p.Date
		if c.Get("taken_back_on") != "" {
			day := read(c, "taken_back_on", calendar.Parse)
			p.TakenBackOn = &day
		}
	}
	if p.Amount <= 0 {
		c.wrong("amount", "a payment is more than 0")
	}
	if p.TakenBackOn != nil && *p.TakenBackOn < p.Date {
		c.wrong("taken_back_on", "it was taken back before it was made")
	}
	if c.good(before) != nil {
		return nil
	}
	if err := in.Create(&p).Error; err != nil {
		return err
	}
	made[p.Ref] = &paidIn{Payment: p, set: map[int64]money.Amount{}}
	return nil
}

// allocate sets a part of a new payment, or of the customer's credit, against an issued invoice, or lifts it again. What was taken back and
// says nothing of being lifted is lifted at once.
func (in *billedIn) allocate(c cell, made map[string]*paidIn, i *paidInvoice) error {
	before, amount, p := in.faults, c.amount("amount"), made[c.Get("payment")]
	if n, err := strconv.ParseInt(c.Get("entry"), 10, 64); err != nil || n < 1 {
		c.wrong("entry", "%q is not a number from 1", c.Get("entry"))
	}
	var day calendar.Date
	if c.Get("date") != "" {
		day = read(c, "date", calendar.Parse)
	}
	credit := c.Get("payment") == ""
	switch {
	case p == nil && !credit:
		c.wrong("payment", "there is no new payment %q", c.Get("payment"))
	case i == nil:
		c.wrong("invoice", "there is no issued invoice %q", c.Get("invoice"))
	case amount == 0:
		c.wrong("amount", "what is set against an invoice is not 0")
	case day != 0 && day < i.Date:
		c.wrong("date", "invoice %s is of %s", i.Ref, i.Date)
	case credit:
	case p.Kind != store.Received:
		c.wrong("payment", "%s is a refund, so nothing of it is set against an invoice", p.Ref)
	case p.CustomerID != i.CustomerID:
		c.wrong("invoice", "payment %s is from another customer than invoice %s", p.Ref, i.Ref)
	case p.sum+amount > p.Amount:
		c.wrong("amount", "this is more than what is left of payment %s", p.Ref)
	case p.set[i.ID]+amount < 0:
		c.wrong("amount", "this is more than what of payment %s is set against invoice %s", p.Ref, i.Ref)
	}
	if c.good(before) != nil {
		return nil
	}
	var id *int64
	if i.last = &c; p != nil {
		id, day = &p.ID, max(day, p.Date)
	}
	day = max(day, i.Date)
	amounts := []money.Amount{amount}
	if p != nil && p.TakenBack != nil && !in.lifted(c) {
		amounts = append(amounts, -amount)
	}
	for n, a := range amounts {
		if n > 0 {
			day = max(day, *p.TakenBackOn)
		}
		if err := receivable.Against(in.Session, id, i.ID, day, a); err != nil {
			return err
		}
		i.Left -= a
		if p != nil {
			p.set[i.ID] += a
			p.sum += a
		}
	}
	return nil
}

// lifted says that the bundle itself lifts what of a payment is set against an invoice.
func (in *billedIn) lifted(c cell) bool {
	var sum money.Amount
	for _, row := range in.bundle.Rows("payment_allocations.csv") {
		if row.Get("payment") != c.Get("payment") || row.Get("invoice") != c.Get("invoice") {
			continue
		}
		amount, err := in.ParseAmount(row.Get("amount"))
		if err != nil {
			return false // it is told at its own row, and nothing comes in
		}
		sum += amount
	}
	return sum == 0
}

// settled frees what was credited beyond what was due, where the bundle does not say so, and sees that no customer was refunded more than
// they had.
func (in *billedIn) settled() error {
	type over struct {
		ID   int64
		Left money.Amount
		Date calendar.Date
	}
	credited, err := store.Query[over](in.Tx, creditedOver)
	if err != nil {
		return err
	}
	for _, o := range credited {
		if err := receivable.Against(in.Session, nil, o.ID, o.Date, o.Left); err != nil {
			return err
		}
	}
	type debt struct {
		Code string
		Over money.Amount
	}
	debts, err := store.Query[debt](in.Tx, overdrawn)
	for _, d := range debts {
		in.problems.Add("payments.csv", 0, "amount", "%s would have been refunded %s more than they had", d.Code, in.Money(d.Over))
	}
	return err
}
