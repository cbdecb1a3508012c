package collect_test

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/scope"
)

var ctx = context.Background()

// TestAPaymentIsTakenBack pays an invoice, takes the payment back because the cheque bounced, and pays it again: the list has both, and
// only one of them counts.
func TestAPaymentIsTakenBack(t *testing.T) {
	c := apptest.NewCrew(t)
	_, err := c.Save(c.Edit("8"))
	require.NoError(t, err)
	c.Approve(t)
	draft, err := c.Draft(t)
	require.NoError(t, err)
	issued, err := billing.Issue(ctx, c.Book, c.Owner, draft.ID, draft.Version)
	require.NoError(t, err)
	pay := collect.NewPayment{InvoiceID: issued.ID, Amount: "640", Date: "2026-11-23", Method: "cheque", Reference: "4471"}
	view, err := collect.TakePayment(ctx, c.Book, c.Owner, pay)
	require.NoError(t, err)
	assert.Equal(t, "0.00", view.Balance)
	list := func() collect.PaymentList {
		l, err := collect.Payments(ctx, c.Book, c.Owner, scope.ScopeQuery{})
		require.NoError(t, err)
		return l
	}
	paid := list().Payments[0]
	assert.Equal(t, []string{"cheque", "4471", "1001", "640.00"}, []string{paid.Method, paid.Reference, paid.Invoices[0].Number, list().Total})

	apptest.Refusal(t, collect.TakeBack(ctx, c.Book, c.Owner, paid.ID, collect.Back{}), refuse.KindInvalid, "reason", "is needed")
	require.NoError(t, collect.TakeBack(ctx, c.Book, c.Owner, paid.ID, collect.Back{Reason: "bounced"}))
	err = collect.TakeBack(ctx, c.Book, c.Owner, paid.ID, collect.Back{Reason: "again"})
	apptest.Refusal(t, err, refuse.KindConflict, "", "already: bounced")
	view, err = billing.Invoice(ctx, c.Book, c.Owner, issued.ID)
	require.NoError(t, err)
	assert.Equal(t, "640.00", view.Balance)
	assert.Contains(t, apptest.ReportText(t, c.Book, "aging"), "640.00")
	pay.Amount, pay.Method = "600", "transfer"
	_, err = collect.TakePayment(ctx, c.Book, c.Owner, pay)
	require.NoError(t, err)
	all := list()
	assert.Equal(t, []string{"600.00", "bounced"}, []string{all.Total, all.Payments[1].TakenBack})
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}
