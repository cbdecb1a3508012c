package drafting

import (
	"jarvo/internal/app/book"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

// layDeposits sets what is applied of deposits against what a draft asks for: each at most what is open of it and not on another draft,
// and with its tax at most what is due. What nothing is left for is taken off.
func layDeposits(s *book.Session, draft *store.Invoice) error {
	type applied struct {
		DepositID    int64
		Amount, Open money.Amount
	}
	rows, err := store.Query[applied](s.Tx, appliedOn, draft.ID)
	if err != nil {
		return err
	}
	draft.Prepaid = 0
	position, err := store.Value[int](s.Tx, "SELECT ifnull(max(position), 0) FROM invoice_taxes WHERE invoice_id = ?", draft.ID)
	for _, r := range rows {
		left, taxes, err := Left(s, r.DepositID)
		if err != nil {
			return err
		}
		on, err := left.Apply(min(r.Amount, r.Open), draft.DueNow)
		if err != nil {
			return err
		}
		if on.Amount != r.Amount {
			if err := ApplyDeposit(s, draft.ID, r.DepositID, on.Amount); err != nil {
				return err
			}
		}
		for _, t := range on.Taxes {
			position++
			was := taxes[t.Component.Code]
			if err := s.Create(&store.InvoiceTax{
				InvoiceID: draft.ID, Position: position, TaxCode: was.TaxCode, Component: was.Component, Percent: was.Percent, Base: -t.Base,
				Amount: -t.Tax, AppliesTo: was.AppliesTo, DepositID: store.Ref(r.DepositID),
			}).Error; err != nil {
				return err
			}
		}
		draft.Prepaid += on.Amount
		draft.Tax -= on.Tax
		draft.Total -= on.Tax
		draft.DueNow -= on.Amount + on.Tax
	}
	return err
}

// ApplyDeposit sets how much of a deposit is applied to a draft; 0 is none.
func ApplyDeposit(s *book.Session, draftID, depositID int64, amount money.Amount) error {
	err := s.Exec("DELETE FROM applied_deposits WHERE invoice_id = ? AND deposit_id = ?", draftID, depositID).Error
	if err != nil || amount == 0 {
		return err
	}
	return s.Create(&store.AppliedDeposit{InvoiceID: draftID, DepositID: depositID, Amount: amount}).Error
}

// AtMost is what an amount of a deposit comes to on a draft where so much is due: no more than what is open and, with its tax, than what is
// due.
func AtMost(s *book.Session, depositID int64, amount, due money.Amount) (billing.Applied, error) {
	left, _, err := Left(s, depositID)
	if err != nil {
		return billing.Applied{}, err
	}
	return left.Apply(amount, due)
}

// IsDeposit says that what is billed is a deposit, on which nothing is retained and which is neither billed nor earned.
func (d DraftSource) IsDeposit() bool { return d.Category == billing.Deposit }
