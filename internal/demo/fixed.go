package demo

import (
	"fmt"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/collect"
	"jarvo/internal/core/calendar"
)

// values is the schedule of the mooring dolphins, with how far each line had come at the billings so far.
var values = []struct {
	text, amount string
	complete     []string
}{
	{"Mobilise barge and crane", "18400", []string{"100", "100"}},
	{"Bearing piles, 24 of 350 sq", "128000", []string{"25", "60"}},
	{"Pile caps and bracing", "61600", []string{"0", "20"}},
	{"Deck and fenders", "72000", []string{"0", "0"}},
	{"Lights and ladders", "24000", []string{"0", "0"}},
	{"Make good, hand over", "8000", []string{"0", "0"}},
}

// fixedPrices agrees how the fixed prices are billed: the dolphins by a schedule of values, the jetty by instalments.
func (f *filler) fixedPrices() error {
	dolphins, err := billing.ScheduleOf(f.ctx, f.Book, f.owner, "1189")
	if err != nil {
		return err
	}
	schedule := billing.NewSchedule{Version: dolphins.Version}
	for _, v := range values {
		schedule.Lines = append(schedule.Lines, billing.NewScheduleLine{Text: v.text, Amount: v.amount})
	}
	if _, err := billing.SaveSchedule(f.ctx, f.Book, f.owner, "1189", schedule); err != nil {
		return err
	}
	jetty, err := billing.ScheduleOf(f.ctx, f.Book, f.owner, "1184")
	if err != nil {
		return err
	}
	start := f.monday - 7*(weeks-1)
	_, err = billing.SaveInstalments(f.ctx, f.Book, f.owner, "1184", billing.NewInstalments{
		Version: jetty.Version, Instalments: []billing.InstalmentRow{
			{Text: "At the start", By: "percent", Value: "20", Due: start.String()},
			{Text: "Piles driven", By: "percent", Value: "30", Due: (f.monday - 7*3).String()},
			{Text: "Decking laid", By: "amount", Value: "21000"},
			{Text: "Handed over", By: "rest"},
		},
	})
	return err
}

// billValues bills the dolphins by how far they had come at a billing, of which this is the nth.
func (f *filler) billValues(n int, date calendar.Date) error {
	now, err := billing.ScheduleOf(f.ctx, f.Book, f.owner, "1189")
	if err != nil {
		return err
	}
	in := billing.NewProgress{Date: date.String()}
	for i, v := range values {
		if n >= len(v.complete) {
			return nil
		}
		in.Lines = append(in.Lines, billing.ProgressOf{Line: now.Lines[i].ID, Percent: v.complete[n]})
	}
	if now, err = billing.BillProgress(f.ctx, f.Book, f.owner, "1189", in); err != nil {
		return fmt.Errorf("billing the dolphins: %w", err)
	}
	_, err = billing.Issue(f.ctx, f.Book, f.owner, now.DraftID, now.DraftVersion)
	return err
}

// askDeposit asks for a deposit on the boathouse slip at the first billing. It is paid, and nothing of it is applied yet.
func (f *filler) askDeposit(n int, date calendar.Date) error {
	if n > 0 {
		return nil
	}
	asked, err := billing.StartDraft(f.ctx, f.Book, f.owner, billing.NewDraft{
		Key: "demo-deposit", Date: date.String(),
		Lines: []billing.TypedLine{{Kind: "deposit", Job: "1191", Text: "Deposit for materials, as agreed", Amount: "4000"}},
	})
	if err != nil {
		return fmt.Errorf("asking for a deposit: %w", err)
	}
	if asked, err = billing.Issue(f.ctx, f.Book, f.owner, asked.ID, asked.Version); err != nil {
		return err
	}
	_, err = collect.TakePayment(f.ctx, f.Book, f.owner, collect.NewPayment{
		On: []collect.Against{{InvoiceID: asked.ID}}, Amount: asked.Balance, Date: (date + 5).String(),
		Method: "transfer", Reference: "deposit " + asked.Number,
	})
	return err
}
