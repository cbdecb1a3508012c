package exchange

import (
	"jarvo/internal/app/form"
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
