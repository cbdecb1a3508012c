package exchange

import (
	"slices"

	billed "jarvo/internal/app/billing"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/form"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// typed reads what was typed on an invoice: a line, or a discount.
func (in *billedIn) typed(c cell) {
	row := store.TypedLine{
		Position: int(read(c, "position", form.SequenceNumber)), Kind: c.oneOf("kind", billed.TypedKinds...), Category: c.Get("category"),
		Text: c.Get("text"), Quantity: read(c, "quantity", form.ParseQuantity), Unit: c.Get("unit"),
		Percent: read(c, "percent", form.ParsePercent), Amount: c.amount("amount"),
	}
	if row.Kind != drafting.DiscountLine || c.Get("job") != "" {
		row.JobID, row.PhaseID = c.refer("job", "jobs"), c.phaseOf()
	}
	switch {
	case row.Kind != drafting.DiscountLine && row.Percent != 0:
		c.wrong("percent", "only a discount has a percentage")
	case row.Kind == drafting.DiscountLine && (row.Percent < 0 || row.Percent > money.Whole):
		c.wrong("percent", "a discount is at most 100 %%")
	case (row.Kind == drafting.DepositLine) != (row.Category == billing.Deposit):
		c.wrong("category", "a deposit is of the category deposit, and nothing else is")
	case row.Kind == drafting.DepositLine && row.Amount <= 0:
		c.wrong("amount", "a deposit is more than 0")
	case row.Kind == drafting.DepositLine:
	case row.Kind != drafting.DiscountLine || row.Category != "":
		c.oneOf("category", billed.TypedCategories...)
	}
	if row.Kind == drafting.ProgressLine || row.Kind == drafting.InstalmentLine {
		in.ofFixed(c, &row)
	}
	if row.Text == "" {
		c.wrong("text", "say what the customer reads")
	}
	i := in.under(c)
	if i == nil {
		return
	}
	if row.JobID != nil {
		of, err := store.Value[int64](in.Tx, "SELECT ifnull(customer_id, 0) FROM jobs WHERE id = ?", *row.JobID)
		if err != nil || of != i.CustomerID {
			c.wrong("job", "job %s is for another customer than invoice %s", c.Get("job"), i.ref)
		}
	}
	if slices.ContainsFunc(i.typed, func(t store.TypedLine) bool { return t.Position == row.Position }) {
		c.wrong("position", "invoice %s has a typed line %d already", i.ref, row.Position)
	}
	i.typed = append(i.typed, row)
}

// ofFixed reads which line of a schedule, or which instalment, was billed.
func (in *billedIn) ofFixed(c cell, row *store.TypedLine) {
	row.Complete, row.Stored, row.Beyond = readOptional(c, "complete", form.ParsePercent), c.amount("stored"), c.yes("beyond")
	find := func(column, table string) *int64 {
		position := read(c, column, form.WholeNumber)
		if position == 0 {
			return nil
		}
		ids, err := store.Query[int64](in.Tx, "SELECT id FROM "+table+" WHERE job_id = ? AND position = ?", store.ID(row.JobID), position)
		if err != nil || len(ids) == 0 {
			c.wrong(column, "job %s has none at %d", c.Get("job"), position)
			return nil
		}
		return &ids[0]
	}
	row.ScheduleLineID, row.InstalmentID = find("schedule_line", "schedule_lines"), find("instalment", "instalments")
	if row.Kind == drafting.InstalmentLine && row.InstalmentID == nil {
		c.wrong("instalment", "say which instalment it is")
	}
}

// typedAt is where in what was typed a line of an invoice stands: 0 is in none of it.
type typedAt = int

// typedAddsUp checks the lines of an issued invoice that stand for what was typed, and takes them off the sums that work has to come to.
func (i *invoiceIn) typedAddsUp(byPosition map[int]money.Amount, byJob map[int64]money.Amount) (sum money.Amount) {
	left := map[typedAt]money.Amount{}
	for _, t := range i.typed {
		left[t.Position] += t.Amount
	}
	for n, l := range i.lines {
		at := i.typedOf[n]
		if at == 0 {
			continue
		}
		if _, there := left[at]; !there {
			i.wrong("", "line %d of invoice %s stands for a typed line %d that is not there", l.Position, i.ref, at)
		}
		left[at] -= l.Amount
		byPosition[l.Position] -= l.Amount
		byJob[l.JobID] -= l.Amount
		sum += l.Amount
	}
	for at, amount := range left {
		if amount != 0 {
			i.wrong("", "typed line %d of invoice %s is not the sum of its lines", at, i.ref)
		}
	}
	return sum
}

// saveTyped saves what was typed on an invoice, and gives the ids by position.
func (in *billedIn) saveTyped(i *invoiceIn) (map[typedAt]int64, error) {
	ids := map[typedAt]int64{}
	for _, t := range i.typed {
		t.InvoiceID = i.ID
		made, err := store.Insert(in.Tx, &t)
		if err != nil {
			return nil, err
		}
		ids[t.Position] = made
	}
	return ids, nil
}

// typedParts are the lines of an issued invoice that were typed, with their job and phase.
func (i *invoiceIn) typedParts() (parts []drafting.DraftSource) {
	for n, l := range i.lines {
		at := slices.IndexFunc(i.typed, func(t store.TypedLine) bool { return t.Position == i.typedOf[n] })
		if i.typedOf[n] != 0 && at >= 0 {
			parts = append(parts, drafting.DraftSource{
				JobID: l.JobID, PhaseID: i.typed[at].PhaseID, Category: l.Category, Amount: l.Amount,
			})
		}
	}
	return parts
}
