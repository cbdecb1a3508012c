package api

import (
	"context"
	"net/http"

	"github.com/danielgtaylor/huma/v2"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/tape"
)

// billOperations are the Bill tab.
func (s *server) billOperations(api huma.API) {
	operate(api, http.MethodGet, "/api/bill", "bill", "What is ready, drafts and issued invoices", steady(s, asksOf(s, billing.Sheet)))
	operate(api, http.MethodPost, "/api/bill/drafts", "makeDrafts", "Make drafts of what is ready", takes(s, billing.MakeDrafts))
	operate(api, http.MethodGet, "/api/invoices/{id}", "invoice", "A draft or an issued invoice", steady(s, ofID(s, billing.Invoice)))
	operate(api, http.MethodGet, "/api/invoices/{id}/workings", "invoiceWorkings", "How what is due on an invoice came about",
		ofID(s, tape.OfInvoice))
	operate(api, http.MethodPut, "/api/invoices/{id}/grouping", "regroup", "Choose how much detail the customer sees",
		takesOn(s, billing.Regroup))
	operate(api, http.MethodPut, "/api/invoices/{id}/parts", "chooseParts", "Choose how much of its work a draft bills",
		takesOn(s, billing.Choose))
	operate(api, http.MethodPut, "/api/invoices/{id}/lines", "typeLines", "Change what is typed on a draft",
		takesOn(s, billing.TypeLines))
	operate(api, http.MethodPut, "/api/invoices/{id}/deposits", "applyDeposits", "Apply deposits of the customer to a draft",
		takesOn(s, billing.ApplyDeposits))
	operate(api, http.MethodPut, "/api/invoices/{id}/head", "setHead", "Change the dates and the texts of a draft",
		takesOn(s, billing.SetHead))
	operate(api, http.MethodGet, "/api/jobs/{number}/schedule", "schedule", "How the fixed price of a job is billed",
		ofNumber(s, billing.ScheduleOf), mayConflict)
	operate(api, http.MethodPut, "/api/jobs/{number}/schedule", "saveSchedule", "Change the schedule of values of a job",
		takesAt(s, billing.SaveSchedule))
	operate(api, http.MethodPut, "/api/jobs/{number}/progress", "billProgress", "Bill the fixed price of a job by how far it has come",
		takesAt(s, billing.BillProgress))
	operate(api, http.MethodPut, "/api/jobs/{number}/instalments", "saveInstalments", "Change the instalments of a job",
		takesAt(s, billing.SaveInstalments))
	operate(api, http.MethodPut, "/api/instalments/{id}/reached", "reachInstalment", "Mark a milestone as reached",
		takesOn(s, billing.ReachInstalment))
	operate(api, http.MethodPost, "/api/write-downs/{id}/take-back", "takeWriteDownBack", "Take a write-down back",
		takesOn(s, billing.TakeWriteDownBack))
	operate(api, http.MethodGet, "/api/bill/recurring", "recurring", "Invoices that come again", steady(s, asks(s, billing.Recurring)))
	operate(api, http.MethodPut, "/api/bill/recurring", "saveRecurring", "Begin or change an invoice that comes again",
		takes(s, billing.SaveRecurring))
	operate(api, http.MethodPost, "/api/bill/recurring/make", "makeRecurring", "Make the drafts of those that have come due",
		asks(s, billing.MakeDue))
	operate(api, http.MethodPost, "/api/bill/recurring/{id}/delete", "deleteRecurring", "Delete an invoice that comes again", atVersion(s,
		func(ctx context.Context, b *book.Book, actor book.Actor, id, version int64) (done, error) {
			return done{}, billing.DeleteRecurring(ctx, b, actor, id, version)
		}))
	operate(api, http.MethodPost, "/api/invoices/{id}/move", "moveSources", "Move work from a draft to another of the customer",
		takesOn(s, billing.MoveSources))
	operate(api, http.MethodPost, "/api/invoices/{id}/join", "joinDrafts", "Put what is on other drafts of the customer onto one",
		takesOn(s, billing.JoinDrafts))
	operate(api, http.MethodPost, "/api/bill/release", "releaseRetainage", "Make a draft that releases retainage",
		takes(s, billing.ReleaseRetainage))
	operate(api, http.MethodPost, "/api/bill/draft", "startDraft", "Begin a draft with lines that are typed", takes(s, billing.StartDraft))
	operate(api, http.MethodPost, "/api/holds/let-go", "letGo", "Let the work of a job go that was held for later", does(s, billing.LetGo))
	operate(api, http.MethodGet, "/api/jobs/{number}/held", "heldByLimits", "What limits hold back of a job",
		ofNumber(s, billing.HeldByLimits))
	operate(api, http.MethodPut, "/api/jobs/{number}/held", "letBeyond", "Let work of a job go beyond its limit, or back within it",
		takesAt(s, billing.LetBeyond))
	operate(api, http.MethodPost, "/api/invoices/{id}/drop", "dropDraft", "Drop a draft", atVersion(s,
		func(ctx context.Context, b *book.Book, actor book.Actor, id, version int64) (done, error) {
			return done{}, billing.DropDraft(ctx, b, actor, id, version)
		}))
	operate(api, http.MethodPost, "/api/invoices/{id}/issue", "issue", "Issue a draft", atVersion(s, billing.Issue))
	operate(api, http.MethodGet, "/api/invoices/{id}/credit", "creditable", "What of an issued invoice can be credited",
		ofID(s, billing.CreditableOf))
	operate(api, http.MethodPost, "/api/invoices/{id}/credit", "creditInvoice", "Make a credit note on an issued invoice",
		func(ctx context.Context, actor book.Actor, in *triedOn[billing.NewCredit]) (billing.CreditedInvoice, error) {
			ctx = book.Watch(ctx, in.Try, func(*book.Session) {})
			return billing.CreditInvoice(ctx, s.Book, actor, in.ID, in.Body)
		})
	operate(api, http.MethodGet, "/api/payments", "payments", "Payments received", steady(s, asksOf(s, collect.Payments)))
	operate(api, http.MethodPost, "/api/payments/{id}/take-back", "takePaymentBack", "Take a payment back", doesTo(s, collect.TakeBack))
	operate(api, http.MethodPost, "/api/payments", "takePayment", "Take a payment of a customer",
		func(ctx context.Context, actor book.Actor, in *tried[collect.NewPayment]) (collect.Taken, error) {
			ctx = book.Watch(ctx, in.Try, func(*book.Session) {})
			return collect.TakePayment(ctx, s.Book, actor, in.Body)
		})
	operate(api, http.MethodGet, "/api/payments/open/{id}", "openInvoices", "What a customer owes, and how an amount would be set against it",
		asksOf(s, collect.OpenOf))
	operate(api, http.MethodPost, "/api/refunds", "refund", "Refund credit of a customer", does(s, collect.Refund))
	operate(api, http.MethodPost, "/api/credit", "applyCredit", "Set credit of a customer against an invoice", does(s, collect.ApplyCredit))
	operate(api, http.MethodGet, "/api/bank", "bank", "Receipts in the bank that are not recorded yet", steady(s, asks(s, collect.Bank)))
	operate(api, http.MethodPost, "/api/bank/statement", "readStatement", "Read a statement of the bank", takes(s, collect.ReadStatement))
	operate(api, http.MethodPost, "/api/bank/take", "takeSlips", "Record receipts of the bank as payments", does(s, collect.TakeSlips))
	operate(api, http.MethodPost, "/api/bank/{id}/aside", "setSlipAside", "Set a receipt of the bank aside, or bring it back",
		doesTo(s, collect.SetSlipAside))
}
