package exchange

import (
	billed "jarvo/internal/app/billing"
	"jarvo/internal/app/form"
	"jarvo/internal/app/register"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// scheduleLine brings a line of a schedule of values in, in the place of the one that stands at its position.
func (im *importer) scheduleLine(c cell) error {
	before := im.faults
	row := map[string]any{
		"job": store.ID(c.refer("job", "jobs")), "position": read(c, "position", form.SequenceNumber), "text": c.Get("text"),
		"phase": c.phaseOf(), "amount": c.amount("amount"), "rest": c.yes("rest"),
	}
	if c.Get("text") == "" {
		c.wrong("text", "say what is done")
	}
	if err := c.good(before); err != nil {
		return err
	}
	return im.Exec(keepScheduleLine, row).Error
}

// instalment brings an instalment in, in the place of the one that stands at its position.
func (im *importer) instalment(c cell) error {
	before := im.faults
	amount, percent, rest := c.amount("amount"), read(c, "percent", form.ParsePercent), c.yes("rest")
	ways := 0
	for _, way := range []bool{amount != 0, percent != 0, rest} {
		if way {
			ways++
		}
	}
	if ways != 1 || percent < 0 || percent > money.Whole {
		c.wrong("amount", "an instalment is an amount, a percentage up to 100 or the rest")
	}
	if c.Get("text") == "" {
		c.wrong("text", "say what it is for")
	}
	row := map[string]any{
		"job": store.ID(c.refer("job", "jobs")), "position": read(c, "position", form.SequenceNumber), "text": c.Get("text"),
		"amount": amount, "percent": percent, "rest": rest, "due": readOptional(c, "due", calendar.Parse),
		"reached": readOptional(c, "reached", calendar.Parse),
	}
	if err := c.good(before); err != nil {
		return err
	}
	return im.Exec(keepInstalment, row).Error
}

// instalmentsHold tells of jobs whose instalments can't be billed, once all phases are there, and of all that is wrong so far.
func (im *importer) instalmentsHold() error {
	astray, err := register.InstalmentsAstray(im.Session, 0)
	if err != nil {
		return err
	}
	for _, why := range astray {
		im.problems.Add("instalments.csv", 0, "job", "%s", why)
	}
	return im.problems.Err()
}

// recurring brings an invoice that comes again in, in the place of the one with its reference.
func (im *importer) recurring(c cell) error {
	before := im.faults
	row := map[string]any{
		"ref": c.Get("ref"), "text": c.Get("text"), "first": read(c, "first", calendar.Parse), "every": read(c, "every", form.SequenceNumber),
		"step": c.oneOf("step", billing.Steps...), "until": readOptional(c, "until", calendar.Parse),
		"made": read(c, "made", form.WholeNumber),
	}
	if c.Get("text") == "" {
		c.wrong("text", "say what it is for")
	}
	if err := c.good(before); err != nil {
		return err
	}
	return im.Exec(keepRecurring, row).Error
}

// recurringLine brings a line of one in.
func (im *importer) recurringLine(c cell) error {
	before := im.faults
	row := map[string]any{
		"recurring": c.Get("recurring"), "position": read(c, "position", form.SequenceNumber), "job": store.ID(c.refer("job", "jobs")),
		"category": c.oneOf("category", billed.TypedCategories...), "text": c.Get("text"), "quantity": read(c, "quantity", form.ParseQuantity),
		"unit": c.Get("unit"), "amount": c.amount("amount"),
	}
	if c.Get("text") == "" {
		c.wrong("text", "say what the customer reads")
	}
	if err := c.good(before); err != nil {
		return err
	}
	kept := im.Exec(keepRecurringLine, row)
	if kept.Error == nil && kept.RowsAffected == 0 {
		c.wrong("recurring", "there is no recurring invoice %q", c.Get("recurring"))
	}
	return kept.Error
}
