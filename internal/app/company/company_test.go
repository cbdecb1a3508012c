package company_test

import (
	"bytes"
	"context"
	"image"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/company"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/refuse"
)

var ctx = context.Background()

func settings(t *testing.T, c *apptest.Crew) company.Settings {
	t.Helper()
	s, err := company.Get(ctx, c.Book, c.Owner)
	require.NoError(t, err)
	return s
}

// TestTheRulesOfOvertimeAreChanged tries another daily limit and a holiday, and makes them: what was said is what is altered.
func TestTheRulesOfOvertimeAreChanged(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("10"))
	require.NoError(t, err)
	in := settings(t, c)
	in.OvertimeDaily = "10"
	var tried, done costing.Altered
	require.NoError(t, company.Change(book.Watch(ctx, true, func(s *book.Session) { tried = costing.AlteredIn(s) }), c.Book, c.Owner, in))
	assert.Equal(t, costing.Altered{
		Entries: 1, From: apptest.Week, Through: apptest.Week, CostWas: "363.00", Cost: "330.00", ChargeWas: "880.00", Charge: "800.00",
		ByWorker: []costing.AlteredHours{
			{Worker: "Cato Brandl", Hours: "10.00", Cost: "-33.00", Charge: "-80.00"},
			{Worker: "1 worker", Hours: "10.00", Cost: "-33.00", Charge: "-80.00"},
		},
	}, tried)
	assert.Equal(t, "8", settings(t, c).OvertimeDaily)
	require.NoError(t, company.Change(book.Watch(ctx, false, func(s *book.Session) { done = costing.AlteredIn(s) }), c.Book, c.Owner, in))
	assert.Equal(t, tried, done)
	apptest.Refusal(t, company.Change(ctx, c.Book, c.Owner, in), refuse.KindConflict, "", "somebody else has changed the company's settings")

	in = settings(t, c)
	in.Holidays = []company.Holiday{{Date: apptest.Week, Name: "Quay day"}}
	require.NoError(t, company.Change(book.Watch(ctx, false, func(s *book.Session) { done = costing.AlteredIn(s) }), c.Book, c.Owner, in))
	assert.Equal(t, "660.00", done.Cost, "all of a holiday is double")
	in = settings(t, c)
	in.Holidays = append(in.Holidays, in.Holidays[0])
	apptest.Refusal(t, company.Change(ctx, c.Book, c.Owner, in), refuse.KindInvalid, "holidays[1].date", "a holiday already")
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

// TestNumbersHaveNoGaps lets the next invoice be any before the first one, and only the next one after it.
func TestNumbersHaveNoGaps(t *testing.T) {
	c := apptest.NewCrew(t)
	in := settings(t, c)
	in.NextInvoiceNumber, in.InvoicePrefix, in.TaxNumber, in.Name = "500", "A-", "47-3318206", "Two Hands LLC"
	require.NoError(t, company.Change(ctx, c.Book, c.Owner, in))
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	draft, err := c.Draft(t)
	require.NoError(t, err)
	issued, err := billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	require.NoError(t, err)
	assert.Equal(t, []string{"A-500", "Two Hands LLC"}, []string{issued.Number, issued.CompanyName})
	in = settings(t, c)
	in.NextInvoiceNumber = "600"
	apptest.Refusal(t, company.Change(ctx, c.Book, c.Owner, in), refuse.KindInvalid, "nextInvoiceNumber", "after 500 comes 501")
	in.NextInvoiceNumber, in.InvoicePrefix = "501", "B-"
	apptest.Refusal(t, company.Change(ctx, c.Book, c.Owner, in), refuse.KindInvalid, "invoicePrefix", "so it stays")
	apptest.SameInAnotherBook(t, c.Book)
}

// TestATaxCodeIsTypedAndChanged puts a tax on drafts, changes it, and leaves what is issued as it is.
func TestATaxCodeIsTypedAndChanged(t *testing.T) {
	c := apptest.NewCrew(t)
	made, err := company.AddTaxCode(ctx, c.Book, c.Owner, company.TaxCode{Code: "HARBOR", Components: []company.TaxPart{
		{Component: "State", Percent: "6", AppliesTo: []string{"material", "labour"}},
		{Component: "Harbor", Percent: "1.5", AppliesTo: []string{"labour"}},
	}})
	require.NoError(t, err)
	in := settings(t, c)
	in.TaxCode = "HARBOR"
	require.NoError(t, company.Change(ctx, c.Book, c.Owner, in))
	_, err = c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	draft, err := c.Draft(t)
	require.NoError(t, err)
	assert.Equal(t, "688.00", draft.DueNow, "640, 6 % and 1.5 %")
	change := company.TaxCode{Code: "HARBOR", Version: 1, Components: []company.TaxPart{
		{Component: "State", Percent: "7", AppliesTo: []string{"labour"}},
	}}
	require.NoError(t, company.ChangeTaxCode(ctx, c.Book, c.Owner, made, change))
	draft, err = billing.Invoice(ctx, c.Book, c.Owner, draft.ID)
	require.NoError(t, err)
	assert.Equal(t, "684.80", draft.DueNow)
	_, err = billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	require.NoError(t, err)
	change.Version, change.Components[0].Percent = 2, "9"
	require.NoError(t, company.ChangeTaxCode(ctx, c.Book, c.Owner, made, change))
	issued, err := billing.Invoice(ctx, c.Book, c.Owner, draft.ID)
	require.NoError(t, err)
	assert.Equal(t, "684.80", issued.DueNow)
	apptest.Refusal(t, company.DeleteTaxCode(ctx, c.Book, c.Owner, made, 3), refuse.KindConflict, "", "in use")
	change.Version, change.Components = 3, nil
	apptest.Refusal(t, company.ChangeTaxCode(ctx, c.Book, c.Owner, made, change), refuse.KindInvalid, "components", "at least one component")
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

// picture is a PNG of a size.
func picture(t *testing.T, width, height int) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, image.NewGray(image.Rect(0, 0, width, height))))
	return b.Bytes()
}

// TestTheCompanyStandsOnItsPapers gives the company an address in parts, a tax number and a mark: an invoice that is issued has them, and
// keeps them when they change.
func TestTheCompanyStandsOnItsPapers(t *testing.T) {
	c := apptest.NewCrew(t)
	in := settings(t, c)
	in.Address, in.City, in.Region, in.PostCode, in.Country = "Slip 4", "Brackwater", "ME", "04530", "us"
	in.TaxNumber = "47-3318206"
	require.NoError(t, company.Change(ctx, c.Book, c.Owner, in))
	in = settings(t, c)
	assert.Equal(t, []string{"US", "Slip 4\nBrackwater, ME 04530"}, []string{in.Country, in.Printed})
	for said, data := range map[string][]byte{
		"no PNG or JPEG": []byte("GIF89a\x01\x00"), "larger than 1 MB": make([]byte, company.LargestLogo+1),
		"make it 4000 at most": picture(t, 4001, 1), "can't be read": picture(t, 9, 9)[:60],
	} {
		apptest.Refusal(t, company.SetLogo(ctx, c.Book, c.Owner, in.Version, data), refuse.KindInvalid, "logo", said)
	}
	mark := picture(t, 40, 20)
	require.NoError(t, company.SetLogo(ctx, c.Book, c.Owner, in.Version, mark))
	apptest.Refusal(t, company.SetLogo(ctx, c.Book, c.Owner, in.Version, nil), refuse.KindConflict, "", "somebody else has changed")

	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	draft, err := c.Draft(t)
	require.NoError(t, err)
	issued, err := billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	require.NoError(t, err)
	require.NoError(t, company.SetLogo(ctx, c.Book, c.Owner, settings(t, c).Version, nil))
	in = settings(t, c)
	in.TaxNumber, in.City = "another", "Elsewhere"
	require.NoError(t, company.Change(ctx, c.Book, c.Owner, in))
	issued, err = billing.Invoice(ctx, c.Book, c.Owner, issued.ID)
	require.NoError(t, err)
	assert.Equal(t, []string{"47-3318206", "Slip 4\nBrackwater, ME 04530"}, []string{issued.CompanyTax, issued.CompanyAddress})
	issued, err = billing.Marked(ctx, c.Book, c.Owner, issued)
	require.NoError(t, err)
	assert.Equal(t, mark, issued.Mark)
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

// TestLimitsAreTheCompanys dates hours as far ahead as the company lets them be, and no further.
func TestLimitsAreTheCompanys(t *testing.T) {
	c := apptest.NewCrew(t)
	in := settings(t, c)
	in.DaysAhead, in.MissingDays, in.Country = "400", "0", "Germany"
	err := company.Change(ctx, c.Book, c.Owner, in)
	apptest.Refusal(t, err, refuse.KindInvalid, "daysAhead", "type 0 to 366 days")
	apptest.Refusal(t, err, refuse.KindInvalid, "missingDays", "type 1 to 92 days")
	apptest.Refusal(t, err, refuse.KindInvalid, "country", "two letters")
	in = settings(t, c)
	in.DaysAhead = "2"
	require.NoError(t, company.Change(ctx, c.Book, c.Owner, in))
	edit := c.Edit("8")
	today, err := c.Today(ctx)
	require.NoError(t, err)
	edit.Date = (today + 2).String()
	_, err = c.Save(edit)
	require.NoError(t, err)
	edit = c.Edit("8")
	edit.Key, edit.Date = "", (today + 3).String()
	_, err = c.Save(edit)
	apptest.Refusal(t, err, refuse.KindInvalid, "edits[0].date", "more than 2 days ahead")
	apptest.SameInAnotherBook(t, c.Book)
}
