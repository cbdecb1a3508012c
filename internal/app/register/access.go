package register

import (
	"jarvo/internal/core/money"
	"jarvo/internal/store"
)

func DefaultCompany() store.Company {
	weekly := money.Minutes(40 * 60)
	return store.Company{
		ID: 1, Currency: "USD", WeekStart: "monday", OvertimeWeeklyMinutes: &weekly, OvertimeFactor: 15_000, DoubleFactor: 20_000,
		PurchaseTax: "cost", DistanceUnit: "mi", NextInvoiceNumber: 1001, NextJobNumber: 101, TermsDays: 30, UnbilledAlertDays: 14, Version: 1,
	}
}
