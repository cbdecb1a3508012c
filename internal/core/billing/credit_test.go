package billing_test

import (
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
)

// state is the tax of 6.25 % on labour and material of both jobs of the worked history.
func state(bases map[int64]money.Amount) []billing.InvoicedTax {
	return []billing.InvoicedTax{{
		Component: billing.TaxComponent{Percent: 62_500, AppliesTo: []string{"labour", "material"}}, Bases: bases,
	}}
}

func TestTwoPartialCreditNotes(t *testing.T) {
	t.Parallel()
	invoice := billing.Invoiced{
		Jobs: []billing.InvoicedJob{
			{Job: 101, Subtotal: 453_40, Percent: 100_000, Held: 45_34, HeldOfJob: 45_34},
			{Job: 102, Subtotal: 210_45, Percent: 50_000, Held: 10_52, HeldOfJob: 10_52},
		},
		Taxes: state(map[int64]money.Amount{101: 453_40, 102: 210_45}),
	}
	first, err := invoice.Credit([]billing.Source{{Job: 101, Category: "labour", Amount: 100_00}})
	require.NoError(t, err)
	assert.Equal(t, []money.Amount{100_00, 6_25, 10_00, 96_25}, []money.Amount{first.Subtotal, first.Tax, first.Retainage, first.DueNow})

	invoice.Jobs[0] = billing.InvoicedJob{Job: 101, Subtotal: 353_40, Percent: 100_000, Held: 35_34, HeldOfJob: 35_34}
	invoice.Taxes = state(map[int64]money.Amount{101: 353_40, 102: 210_45})
	second, err := invoice.Credit([]billing.Source{{Job: 102, Category: "material", Amount: 110_45}})
	require.NoError(t, err)
	assert.Equal(t, []money.Amount{110_45, 6_90, 5_52, 111_83}, []money.Amount{second.Subtotal, second.Tax, second.Retainage, second.DueNow})
}

func TestWhatACreditNoteRefuses(t *testing.T) {
	t.Parallel()
	invoice := billing.Invoiced{Jobs: []billing.InvoicedJob{{Job: 1, Subtotal: 100}, {Job: 2, Subtotal: -40}}}
	_, err := invoice.Credit([]billing.Source{{Job: 2, Amount: -40}})
	require.ErrorIs(t, err, billing.ErrNothingCredited)
	_, err = invoice.Credit([]billing.Source{{Job: 1, Amount: 100}})
	require.ErrorIs(t, err, billing.ErrBeyondInvoice, "60 is left of the invoice")
	_, err = billing.CreditOf(-5, 100, 0, true)
	require.ErrorIs(t, err, billing.ErrOtherSign)
	_, err = billing.CreditOf(101, 100, 0, true)
	require.ErrorIs(t, err, billing.ErrBeyondInvoice)
}

func TestWhatWasWrittenUpIsCreditedFirst(t *testing.T) {
	t.Parallel()
	c, err := billing.CreditOf(50, 450, 5, true)
	require.NoError(t, err)
	assert.Equal(t, []money.Amount{45, 5}, []money.Amount{c.Ready(), c.Written()})
	c, err = billing.CreditOf(50, 450, 5, false)
	require.NoError(t, err)
	assert.Equal(t, []money.Amount{0, 50}, []money.Amount{c.Ready(), c.Written()})
}

// However an invoice is credited, the notes together give back what it charged.
func TestNotesGiveBackExactlyWhatWasCharged(t *testing.T) {
	t.Parallel()
	rapid.Check(t, func(t *rapid.T) {
		late := rapid.Bool().Draw(t, "tax on release")
		invoice := billing.Invoiced{Taxes: state(map[int64]money.Amount{})}
		invoice.Taxes[0].Component.OnRelease = late
		var sources []billing.Source
		retainage := map[int64]billing.Retainage{}
		for job := int64(1); job <= 2; job++ {
			amount := money.Amount(rapid.Int64Range(100, 1_000_000).Draw(t, "amount"))
			percent := money.Percent(rapid.Int64Range(0, 200_000).Draw(t, "percent"))
			sources = append(sources, billing.Source{Job: job, TaxCode: 1, Category: "labour", Amount: amount})
			retainage[job] = billing.Retainage{Percent: percent}
			held, err := percent.Of(amount)
			require.NoError(t, err)
			invoice.Jobs = append(invoice.Jobs, billing.InvoicedJob{Job: job, Subtotal: amount, Percent: percent, Held: held, HeldOfJob: held})
			invoice.Taxes[0].Bases[job] = amount
		}
		component := invoice.Taxes[0].Component
		component.Code = 1
		charged, err := billing.Add(sources, []billing.TaxComponent{component}, retainage)
		require.NoError(t, err)
		var given [3]money.Amount
		for len(invoice.Jobs) > 0 && invoice.Jobs[0].Subtotal+invoice.Jobs[1].Subtotal > 0 {
			var credited []billing.Source
			for _, j := range invoice.Jobs {
				if part := money.Amount(rapid.Int64Range(0, int64(j.Subtotal)).Draw(t, "part")); part > 0 {
					credited = append(credited, billing.Source{Job: j.Job, Category: "labour", Amount: part})
				}
			}
			note, err := invoice.Credit(credited)
			if errors.Is(err, billing.ErrNothingCredited) || errors.Is(err, billing.ErrRaisesBalance) {
				credited = nil // all that is left of a cent is retained: it is credited with the rest
				for _, j := range invoice.Jobs {
					credited = append(credited, billing.Source{Job: j.Job, Category: "labour", Amount: j.Subtotal})
				}
				note, err = invoice.Credit(credited)
			}
			require.NoError(t, err)
			given[0], given[1], given[2] = given[0]+note.Subtotal, given[1]+note.Tax, given[2]+note.Retainage
			for _, s := range note.Jobs {
				j := &invoice.Jobs[s.Job-1]
				j.Subtotal, j.Held, j.HeldOfJob = j.Subtotal-s.Subtotal, j.Held-s.Retainage, j.HeldOfJob-s.Retainage
			}
			for _, c := range credited {
				invoice.Taxes[0].Bases[c.Job] -= c.Amount
			}
		}
		assert.Equal(t, [3]money.Amount{charged.Subtotal, charged.Tax, charged.Retainage}, given)
	})
}
