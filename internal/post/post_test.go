package post_test

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/emersion/go-smtp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	gomail "github.com/wneessen/go-mail"

	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/customers"
	"jarvo/internal/app/history"
	"jarvo/internal/app/messages"
	"jarvo/internal/app/pages"
	"jarvo/internal/app/rates"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/verify"
	"jarvo/internal/paper"
	"jarvo/internal/post"
	"jarvo/internal/store"
)

var ctx = context.Background()

// office is a book with issued invoices, a clock that can be set, and a mail server.
type office struct {
	*book.Book
	t       *testing.T
	now     time.Time
	server  *mailServer
	post    *post.Office
	keys    int
	invoice billing.InvoiceView
}

func newOffice(t *testing.T) *office {
	t.Helper()
	b := apptest.NewBook(t)
	require.NoError(t, apptest.Files{
		"settings.csv": "key,value\nnext_invoice_number,1001\ncompany_name,Dock & Söhne\nemail,books@dock.example\ncountry,US\n",
		"customers.csv": "code,name,email,terms_days\nHERON,Heron Cove Marina,Ana Ruíz <ana@heron.example>; pay@heron.example,30\n" +
			"SKIFF,Skiff Row,,10\n",
		"jobs.csv": "number,customer,name\n101,HERON,Dock\n201,SKIFF,Shed\n",
	}.BringInto(t, b))
	o := &office{Book: b, t: t, now: apptest.Noon(), server: newMailServer(t)}
	b.Now = func() time.Time { return o.now }
	mail, err := post.ParseServer("smtp://"+o.server.address, "")
	require.NoError(t, err)
	o.post = &post.Office{Book: b, Mail: mail}
	o.invoice = o.issue("2026-11-10", "101", "412.50")
	return o
}

func (o *office) issue(day, job, amount string) billing.InvoiceView {
	o.t.Helper()
	o.keys++
	v, err := billing.StartDraft(ctx, o.Book, book.Console, billing.NewDraft{
		Key: fmt.Sprintf("office-%06d", o.keys), Date: day,
		Lines: []billing.TypedLine{{Kind: "line", Job: job, Category: "other", Text: "Work", Amount: amount}},
	})
	require.NoError(o.t, err)
	v, err = billing.Issue(ctx, o.Book, book.Console, v.ID, v.Version)
	require.NoError(o.t, err)
	return v
}

// written is the message that is proposed for the invoice, changed.
func (o *office) written(change func(*messages.NewMessage)) messages.NewMessage {
	o.t.Helper()
	p, err := messages.Propose(ctx, o.Book, book.Console, paper.Press{}, messages.Asked{Invoice: o.invoice.ID})
	require.NoError(o.t, err)
	o.keys++
	in := messages.NewMessage{
		Key: fmt.Sprintf("message-%06d", o.keys), InvoiceID: o.invoice.ID, To: p.To, Subject: p.Subject, Body: p.Body,
		With: []string{messages.WithPDF},
	}
	if change != nil {
		change(&in)
	}
	return in
}

func (o *office) send(in messages.NewMessage) (messages.Queued, error) {
	return messages.Send(ctx, o.Book, book.Console, paper.Press{}, in)
}

func (o *office) sendDue() int {
	o.t.Helper()
	n, err := o.post.SendDue(ctx)
	require.NoError(o.t, err)
	return n
}

func (o *office) box() messages.Outbox {
	o.t.Helper()
	box, err := messages.Box(ctx, o.Book, book.Console)
	require.NoError(o.t, err)
	return box
}

// An invoice goes out with its PDF, its e-invoice and what is behind it, and is read by the customer as it was written; pressed twice it
// goes out once.
func TestAnInvoiceIsSentAndReadAsItWasWritten(t *testing.T) {
	o := newOffice(t)
	in := o.written(func(m *messages.NewMessage) {
		m.Body += "\n.\nÜber 1,000 £ – Ωμέγα, đồng\n"
		m.With = []string{messages.WithPDF, messages.WithBackup, messages.WithUBL}
	})
	assert.Contains(t, in.Body, "invoice 1001 of Nov 10, 2026 is attached. It comes to 412.50 USD and is due on Dec 10, 2026.")
	first, err := o.send(in)
	require.NoError(t, err)
	again, err := o.send(in)
	require.NoError(t, err)
	assert.Equal(t, first, again)
	assert.Equal(t, 1, o.sendDue())
	assert.Equal(t, 0, o.sendDue())

	require.Len(t, o.server.taken(), 1)
	got := o.server.taken()[0]
	assert.Equal(t, "books@dock.example", got.from)
	assert.Equal(t, []string{"ana@heron.example", "pay@heron.example"}, got.to)
	read, err := post.Read([]byte(got.data))
	require.NoError(t, err)
	assert.Equal(t, "Dock & Söhne <books@dock.example>", read.From)
	assert.Equal(t, "Ana Ruíz <ana@heron.example>, pay@heron.example", read.To)
	assert.Equal(t, "Invoice 1001, Dock & Söhne", read.Subject)
	assert.Equal(t, strings.TrimSpace(in.Body), strings.TrimSpace(read.Text))
	var names []string
	for _, f := range read.Files {
		names = append(names, f.Name+" "+f.Media)
	}
	assert.Equal(t, []string{
		"invoice-1001.pdf application/pdf", "invoice-1001-with-backup.pdf application/pdf", "invoice-1001.xml application/xml",
	}, names)
	assert.Equal(t, "%PDF-", string(read.Files[0].Data[:5]))
	assert.Contains(t, string(read.Files[2].Data), "<cbc:ID>1001</cbc:ID>")

	steps, err := history.Steps(ctx, o.Book, book.Console, history.TrailQuery{Kind: "invoice", IDs: []int64{o.invoice.ID}})
	require.NoError(t, err)
	assert.Equal(t, "sent", steps[len(steps)-1].Action)
	box := o.box()
	assert.Equal(t, messages.OutboxCounts{Sent: 1}, box.Counts)
	assert.Equal(t, "Invoice 1001", box.Sent[0].What)
	apptest.Verified(t, o.Book)
	apptest.SameInAnotherBook(t, o.Book)
}

// A server that is busy is tried again, later and later, and a message that it takes then has gone out once.
func TestABusyServerIsTriedAgainAndTheMessageGoesOutOnce(t *testing.T) {
	o := newOffice(t)
	o.server.refuse(451, 451, 451)
	one := func(m *messages.NewMessage) { m.To = "ana@heron.example" }
	_, err := o.send(o.written(one))
	require.NoError(t, err)
	for _, pause := range []time.Duration{time.Minute, 5 * time.Minute, 15 * time.Minute} {
		assert.Equal(t, 1, o.sendDue())
		waiting := o.box().Queued[0]
		assert.Equal(t, `451 "4.0.0 not now, not here"`, waiting.Problem)
		assert.Equal(t, book.TimeText(o.now.Add(pause).UnixMilli()), waiting.NextTry)
		o.now = o.now.Add(pause - time.Second)
		assert.Equal(t, 0, o.sendDue(), "not before its time")
		o.now = o.now.Add(time.Second)
	}
	assert.Equal(t, 1, o.sendDue())
	assert.Len(t, o.server.taken(), 1)
	assert.Equal(t, messages.OutboxCounts{Sent: 1}, o.box().Counts)

	o.server.refuse(451, 451, 451, 451, 451)
	_, err = o.send(o.written(one))
	require.NoError(t, err)
	for range 5 {
		assert.Equal(t, 1, o.sendDue())
		o.now = o.now.Add(2 * time.Hour)
	}
	assert.Equal(t, 0, o.sendDue(), "it is not tried for ever")
	assert.Equal(t, 5, o.box().Failed[0].Tries)
}

// An address that is refused is put right, kept for the customer, and tried again; somebody who saw the message before is refused.
func TestAnAddressIsPutRightAndTriedAgain(t *testing.T) {
	o := newOffice(t)
	o.server.refuse(550)
	_, err := o.send(o.written(func(m *messages.NewMessage) { m.To = "anna@heron.example" }))
	require.NoError(t, err)
	o.sendDue()
	failed := o.box().Failed[0]
	assert.Contains(t, failed.Problem, `550 "5.0.0 not now, not here"`)
	o.now = o.now.Add(24 * time.Hour)
	assert.Equal(t, 0, o.sendDue(), "what was refused for good waits for a person")
	right := messages.Again{
		To: "Ana <ana@heron.example>", Keeping: messages.Keeping{Keep: true, Over: failed.Usual}, Version: failed.Version,
	}
	err = messages.TryAgain(ctx, o.Book, book.Console, failed.ID, messages.Again{To: "ana at heron", Version: failed.Version})
	apptest.Refusal(t, err, refuse.KindInvalid, "to", `"ana at heron" is not a mail address, such as name@firm.example`)
	require.NoError(t, messages.TryAgain(ctx, o.Book, book.Console, failed.ID, right))
	err = messages.TryAgain(ctx, o.Book, book.Console, failed.ID, right)
	apptest.Refusal(t, err, refuse.KindConflict, "", "")
	assert.Equal(t, 1, o.sendDue())
	assert.Equal(t, []string{"ana@heron.example"}, o.server.taken()[0].to)
	p, err := messages.Propose(ctx, o.Book, book.Console, paper.Press{}, messages.Asked{Invoice: o.invoice.ID})
	require.NoError(t, err)
	assert.Equal(t, "Ana <ana@heron.example>", p.To)
	sent := o.box().Sent[0]
	err = messages.Cancel(ctx, o.Book, book.Console, sent.ID, sent.Version)
	apptest.Refusal(t, err, refuse.KindConflict, "", "this message is sent")
	err = o.Store.Write(ctx, func(tx *store.Tx) error {
		return refuse.Guarded(tx.Run("UPDATE messages SET body = 'other' WHERE id = ?", sent.ID))
	})
	require.ErrorContains(t, err, "a message stays as it was written")
}

// What may have arrived is never sent again by itself: when Jarvo was stopped in the middle, or no answer came to the message.
func TestWhatMayHaveArrivedIsNotSentAgainByItself(t *testing.T) {
	o := newOffice(t)
	_, err := o.send(o.written(nil))
	require.NoError(t, err)
	claimed, err := messages.Next(ctx, o.Book)
	require.NoError(t, err)
	require.NotNil(t, claimed)
	assert.Equal(t, 0, o.sendDue(), "it is in hand")
	looks := make(chan time.Time)
	run, stop := context.WithCancel(ctx)
	done := make(chan struct{})
	go func() { defer close(done); o.post.Run(run, looks) }() // as after a start
	looks <- time.Time{}
	stop()
	<-done
	assert.Empty(t, o.server.taken())
	assert.Equal(t, messages.Interrupted, o.box().Failed[0].Problem)
	assert.Equal(t, "failed", lastDone(t, o, "message", claimed.ID))

	o.server.hangUp()
	_, err = o.send(o.written(nil))
	require.NoError(t, err)
	o.sendDue()
	o.now = o.now.Add(24 * time.Hour)
	assert.Equal(t, 0, o.sendDue())
	assert.Contains(t, o.box().Failed[1].Problem, "It may have arrived")
}

func TestWhatCanNotBeSentIsSaidBesideItsField(t *testing.T) {
	o := newOffice(t)
	for _, c := range []struct {
		change  func(*messages.NewMessage)
		path    string
		message string
	}{
		{func(m *messages.NewMessage) { m.To = "" }, "to", "type who gets it"},
		{func(m *messages.NewMessage) { m.To = "ana@heron.example, pay@" }, "to", `"pay@" is not a mail address, such as name@firm.example`},
		{func(m *messages.NewMessage) { m.To = "ana@heron" }, "to", `"ana@heron" has no domain, such as firm.example`},
		{func(m *messages.NewMessage) { m.Subject = "two\nlines" }, "subject", "type a subject, of one line"},
		{func(m *messages.NewMessage) { m.With = []string{"payroll"} }, "with", `"payroll" can't be attached to a message`},
	} {
		_, err := o.send(o.written(c.change))
		apptest.Refusal(t, err, refuse.KindInvalid, c.path, c.message)
	}
	draft, err := billing.StartDraft(ctx, o.Book, book.Console, billing.NewDraft{
		Key: "office-draft", Date: "2026-11-10",
		Lines: []billing.TypedLine{{Kind: "line", Job: "101", Category: "other", Text: "W", Amount: "1"}},
	})
	require.NoError(t, err)
	_, err = o.send(messages.NewMessage{InvoiceID: draft.ID, To: "a@b.example", Subject: "x"})
	apptest.Refusal(t, err, refuse.KindInvalid, "invoiceId", "a draft is not sent; issue it first")
	manager := book.Actor{Name: "Tom", Role: book.Manager}
	_, err = messages.Box(ctx, o.Book, manager)
	apptest.Refusal(t, err, refuse.KindForbidden, "", "")
	assert.Equal(t, messages.OutboxCounts{}, o.box().Counts)
}

// Customers are reminded of all that is overdue in one message each, in the words that fit the oldest of it, and of nothing twice.
func TestRemindersGoOutInOneGo(t *testing.T) {
	o := newOffice(t)
	late := o.issue("2026-11-12", "201", "99.00") // due after ten days
	later := o.issue("2026-11-13", "101", "60")
	o.now = time.Date(2026, 12, 20, 9, 0, 0, 0, time.UTC)
	sheet, err := messages.Reminders(ctx, o.Book, book.Console)
	require.NoError(t, err)
	require.Len(t, sheet.Reminders, 2)
	skiff, heron := sheet.Reminders[0], sheet.Reminders[1]
	assert.Equal(t, []any{2, 28, "99.00", true, ""}, []any{skiff.Stage, skiff.DaysLate, skiff.Amount, skiff.Proposed, skiff.To})
	assert.Equal(t, []any{1, 10, "472.50", true}, []any{heron.Stage, heron.DaysLate, heron.Amount, heron.Proposed})
	assert.Equal(t, "472.50 USD was due on Dec 10, 2026, invoice 1001 and 1003", heron.Subject)
	assert.Contains(t, heron.Body, "Invoice 1001 of Nov 10, 2026, due Dec 10, 2026: 412.50 USD\n"+
		"Invoice 1003 of Nov 13, 2026, due Dec 13, 2026: 60.00")

	asSeen := func(key string, rs ...messages.Reminder) messages.NewReminders {
		in := messages.NewReminders{Key: key}
		for _, r := range rs {
			in.Reminders = append(in.Reminders, messages.NewReminder{
				CustomerID: r.CustomerID, To: r.To, Stage: r.Stage, Amount: r.Amount, Subject: r.Subject, Body: r.Body,
			})
		}
		return in
	}
	remind := func(in messages.NewReminders) ([]messages.Queued, error) {
		return messages.Remind(ctx, o.Book, book.Console, paper.Press{}, in)
	}
	_, err = remind(asSeen("remind-000001", heron, skiff))
	apptest.Refusal(t, err, refuse.KindInvalid, "reminders[1].to", "type who gets it")
	assert.Equal(t, messages.OutboxCounts{}, o.box().Counts, "none went out")
	skiff.To = "row@skiff.example"
	in := asSeen("remind-000002", heron, skiff)
	for range 2 { // a retry makes nothing twice
		queued, err := remind(in)
		require.NoError(t, err)
		assert.Len(t, queued, 2)
	}
	assert.Equal(t, 2, o.sendDue())
	read, err := post.Read([]byte(o.server.taken()[0].data))
	require.NoError(t, err)
	assert.Len(t, read.Files, 2, "the papers of both invoices")

	sheet, err = messages.Reminders(ctx, o.Book, book.Console)
	require.NoError(t, err)
	assert.False(t, sheet.Reminders[0].Proposed || sheet.Reminders[1].Proposed)
	assert.Equal(t, 1, sheet.Reminders[1].LastStage)
	o.now = o.now.Add(10 * 24 * time.Hour)
	sheet, err = messages.Reminders(ctx, o.Book, book.Console)
	require.NoError(t, err)
	assert.True(t, sheet.Reminders[1].Proposed, "the next stage is due")
	seen := sheet.Reminders[1]
	_, err = collect.TakePayment(ctx, o.Book, book.Console, collect.NewPayment{
		Key: "payment-000001", Amount: "60", Date: "2026-12-30", On: []collect.Against{{InvoiceID: later.ID}},
	})
	require.NoError(t, err)
	queued, err := remind(in)
	require.NoError(t, err, "sent once more for want of an answer, whatever has changed since")
	assert.Len(t, queued, 2)
	_, err = remind(asSeen("remind-000003", seen))
	apptest.Refusal(t, err, refuse.KindConflict, "", "what Heron Cove Marina owes has changed; look at the list again")
	steps, err := history.Steps(ctx, o.Book, book.Console, history.TrailQuery{Kind: "invoice", IDs: []int64{late.ID}})
	require.NoError(t, err)
	assert.Equal(t, "sent a reminder", steps[len(steps)-1].Action)
	apptest.SameInAnotherBook(t, o.Book)
}

func TestTextsAreInTheCompanysWords(t *testing.T) {
	o := newOffice(t)
	save := func(kind, subject, body string, version int64) error {
		_, err := messages.SaveText(ctx, o.Book, book.Console, messages.NewText{Kind: kind, Subject: subject, Body: body, Version: version})
		return err
	}
	apptest.Refusal(t, save("invoice", "Bill {nummer}", "Hello", 0), refuse.KindInvalid, "subject",
		"{nummer} can't be filled; there are {customer}, {number}, {date}, {due}, {amount}, {jobs}, {order}, {company}, {sender}")
	apptest.Refusal(t, save("invoice", "Bill", "", 0), refuse.KindInvalid, "body",
		"this is needed; leave both blank for the text that Jarvo begins with")
	require.NoError(t, save("invoice", "Bill {number}", "{amount} for {jobs}, please.", 0))
	apptest.Refusal(t, save("invoice", "Bill", "late", 0), refuse.KindConflict, "", "")
	in := o.written(nil)
	assert.Equal(t, []string{"Bill 1001", "412.50 USD for 101 Dock, please."}, []string{in.Subject, in.Body})
	apptest.SameInAnotherBook(t, o.Book)
	require.NoError(t, save("invoice", "", "", 1))
	assert.Equal(t, "Invoice 1001, Dock & Söhne", o.written(nil).Subject)
}

// A statement of account is sent as it stands when it is sent.
func TestAStatementOfAccountIsSent(t *testing.T) {
	o := newOffice(t)
	p, err := messages.Propose(ctx, o.Book, book.Console, paper.Press{}, messages.Asked{Customer: o.invoice.CustomerID})
	require.NoError(t, err)
	assert.Contains(t, p.Body, "your statement of account of Nov 23, 2026 is attached. 412.50 USD is open.")
	in := messages.NewMessage{
		Key: "statement-000001", CustomerID: p.CustomerID, To: p.To, Subject: p.Subject, Body: p.Body, Open: p.Open,
	}
	first, err := o.send(in)
	require.NoError(t, err)
	assert.Equal(t, 1, o.sendDue())
	_, err = collect.TakePayment(ctx, o.Book, book.Console, collect.NewPayment{
		Key: "payment-000001", Amount: "12.50", Date: "2026-11-20", On: []collect.Against{{InvoiceID: o.invoice.ID}},
	})
	require.NoError(t, err)
	again, err := o.send(in)
	require.NoError(t, err, "sent once more for want of an answer, whatever has changed since")
	assert.Equal(t, first, again)
	in.Key = "statement-000002"
	_, err = o.send(in)
	apptest.Refusal(t, err, refuse.KindConflict, "", "what Heron Cove Marina owes has changed since this was written; look at it again")
	read, err := post.Read([]byte(o.server.taken()[0].data))
	require.NoError(t, err)
	assert.Equal(t, "statement-HERON.pdf", read.Files[0].Name)
	about, err := messages.About(ctx, o.Book, book.Console, messages.Asked{Customer: p.CustomerID})
	require.NoError(t, err)
	assert.Len(t, about, 1)
}

// Each kind of mail goes to the people who get it, and what nobody gets to the customer's own address; whoever a message is sent to from
// now on is kept as one of them.
func TestEachKindOfMailGoesToItsPeople(t *testing.T) {
	o := newOffice(t)
	setup, err := rates.Setup(ctx, o.Book, book.Console, "", 0, 0)
	require.NoError(t, err)
	at := slices.IndexFunc(setup.Customers, func(c rates.CustomerRow) bool { return c.Code == "HERON" })
	heron := setup.Customers[at]
	change := customers.CustomerChange{Version: heron.Version, Active: true, NewCustomer: customers.NewCustomer{
		Name: heron.Name, Email: heron.Email, InvoicePer: "job", TermsDays: heron.Terms, Contacts: []register.Contact{
			{Name: "Ana Ruíz", Role: "works manager", Email: "ana@heron.example", Reminders: true},
			{Email: "Desk <pay@heron", Invoices: true}, {Email: "ANA@heron.example"}, {},
		},
	}}
	err = customers.Change(ctx, o.Book, book.Console, heron.ID, change)
	apptest.Refusal(t, err, refuse.KindInvalid, "contacts[1].email", "is not a mail address")
	apptest.Refusal(t, err, refuse.KindInvalid, "contacts[2].email", "this address is above already")
	change.Contacts = append(change.Contacts[:1], register.Contact{Email: "Desk <pay@heron.example>", Invoices: true})
	require.NoError(t, customers.Change(ctx, o.Book, book.Console, heron.ID, change))

	to := func(asked messages.Asked) string {
		p, err := messages.Propose(ctx, o.Book, book.Console, paper.Press{}, asked)
		require.NoError(t, err)
		return p.To
	}
	assert.Equal(t, "Desk <pay@heron.example>", to(messages.Asked{Invoice: o.invoice.ID}))
	assert.Equal(t, "Ana Ruíz <ana@heron.example>, pay@heron.example", to(messages.Asked{Customer: heron.ID}), "statements are nobody's")
	o.now = time.Date(2026, 12, 20, 9, 0, 0, 0, time.UTC)
	sheet, err := messages.Reminders(ctx, o.Book, book.Console)
	require.NoError(t, err)
	assert.Equal(t, "Ana Ruíz <ana@heron.example>", sheet.Reminders[0].To)

	keep := func(over string) func(*messages.NewMessage) {
		return func(m *messages.NewMessage) {
			m.To, m.Keeping = "ana@heron.example; Kai <kai@heron.example>", messages.Keeping{Keep: true, Over: over}
		}
	}
	_, err = o.send(o.written(keep("Ana Ruíz <ana@heron.example>")))
	apptest.Refusal(t, err, refuse.KindConflict, "", "it is Desk <pay@heron.example> now")
	_, err = o.send(o.written(keep("Desk <pay@heron.example>")))
	require.NoError(t, err)
	assert.Equal(t, "Ana Ruíz <ana@heron.example>, Kai <kai@heron.example>", to(messages.Asked{Invoice: o.invoice.ID}))
	err = customers.Change(ctx, o.Book, book.Console, heron.ID, change)
	apptest.Refusal(t, err, refuse.KindConflict, "", "somebody else has changed this customer")
	page, err := pages.Of(ctx, o.Book, book.Console, pages.Asked{Kind: "customer", ID: heron.ID})
	require.NoError(t, err)
	assert.Contains(t, page.Facts, pages.Fact{What: "works manager", Text: "Ana Ruíz\nana@heron.example\ngets invoices, reminders"})
	assert.Contains(t, page.Facts, pages.Fact{What: "person", Text: "Desk\npay@heron.example\ngets nothing by itself"})
	assert.True(t, slices.ContainsFunc(page.Rows, func(r pages.Row) bool {
		return r.Link.Kind == "message" && r.Title == "Message, waiting" && r.Date == "2026-12-20"
	}), "the message stands among what is newest of the customer")
	page, err = pages.Of(ctx, o.Book, book.Actor{UserID: 7, Name: "Tom", Role: book.Manager}, pages.Asked{Kind: "customer", ID: heron.ID})
	require.NoError(t, err)
	assert.False(t, slices.ContainsFunc(page.Rows, func(r pages.Row) bool { return r.Link.Kind == "message" }), "who does not bill sees none")
	apptest.SameInAnotherBook(t, o.Book)
}

// Where no server is set up messages are files, which mail programs open.
func TestTheStandinKeepsFiles(t *testing.T) {
	o := newOffice(t)
	folder := filepath.Join(t.TempDir(), "mail")
	o.post.Mail = post.Standin{Folder: folder}
	_, err := o.send(o.written(nil))
	require.NoError(t, err)
	_, err = o.send(o.written(func(m *messages.NewMessage) { m.To = "ana@heron.invalid" }))
	require.NoError(t, err)
	assert.Equal(t, 2, o.sendDue())
	assert.Equal(t, "550 there is no such domain: ana@heron.invalid", o.box().Failed[0].Problem)
	files, err := filepath.Glob(filepath.Join(folder, "*.eml"))
	require.NoError(t, err)
	require.Len(t, files, 1)
	kept, err := os.ReadFile(files[0])
	require.NoError(t, err)
	m, err := messages.Message(ctx, o.Book, book.Console, o.box().Sent[0].ID)
	require.NoError(t, err)
	eml, err := post.EML(m)
	require.NoError(t, err)
	assert.Equal(t, string(kept), string(eml), "the file is the message that the outbox shows")
}

// What was attached to a message is held against what was sent.
func TestWhatWasSentCanNotBeAlteredUnseen(t *testing.T) {
	o := newOffice(t)
	_, err := o.send(o.written(nil))
	require.NoError(t, err)
	apptest.Verified(t, o.Book)
	require.NoError(t, o.Store.Write(ctx, func(tx *store.Tx) error {
		return errors.Join(tx.Run("DROP TRIGGER message_files_fixed"), tx.Run("UPDATE message_files SET data = x'00'"))
	}))
	differences, err := verify.Run(ctx, o.Book, book.Console)
	require.NoError(t, err)
	var said []string
	for _, d := range differences {
		said = append(said, d.What)
	}
	assert.Contains(t, said, "invoice-1001.pdf of message M1")
}

// lastDone is what the history says was done last to a record.
func lastDone(t *testing.T, o *office, kind string, id int64) (action string) {
	t.Helper()
	require.NoError(t, o.Store.Read(ctx, func(tx *store.Tx) error {
		rows, err := store.All[store.Change](tx, "id", "kind = ? AND subject_id = ?", kind, id)
		action = rows[len(rows)-1].Action
		return err
	}))
	return action
}

// A bundle brings in no message that could be neither shown nor sent again.
func TestABundlesMessagesHaveAddresses(t *testing.T) {
	head := "ref,kind,customer,sender,recipients,subject,status,made_at\n"
	for column, row := range map[string]string{
		"sender":     "M1,invoice,HERON,nobody,ana@heron.example,Hi,sent,2026-11-01T08:00:00Z\n",
		"recipients": "M1,invoice,HERON,books@dock.example,ana at heron,Hi,sent,2026-11-01T08:00:00Z\n",
	} {
		err := apptest.Files{"customers.csv": "code,name\nHERON,Heron\n", "messages.csv": head + row}.BringInto(t, apptest.NewBook(t))
		require.ErrorContains(t, err, "are no mail addresses", column)
	}
}

// An address may have nearly anything before its @, in quotes.
func TestAQuotedAddressIsWrittenTo(t *testing.T) {
	o := newOffice(t)
	_, err := o.send(o.written(func(m *messages.NewMessage) { m.To = `"Ana, desk" <"ana at the desk"@heron.example>` }))
	require.NoError(t, err)
	assert.Equal(t, 1, o.sendDue())
	require.Len(t, o.server.taken(), 1, o.box().Failed)
	assert.Equal(t, []string{"ana at the desk@heron.example"}, o.server.taken()[0].to)
	assert.Equal(t, `"Ana, desk" <"ana at the desk"@heron.example>`, o.box().Sent[0].To)
}

// What was waiting when a book was copied is not sent by the copy, until a person has seen what waits and says so.
func TestACopySendsNothingByItself(t *testing.T) {
	o := newOffice(t)
	_, err := o.send(o.written(nil))
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "copy.db")
	require.NoError(t, o.Backup(ctx, book.Console, file))
	assert.Equal(t, 1, o.sendDue())
	s, err := store.Open(ctx, file)
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	restored := book.New(s, func() time.Time { return o.now })
	mail := &sender{also: func() error { return nil }}
	branch := &post.Office{Book: restored, Mail: mail}
	sends := func() int {
		n, err := branch.SendDue(ctx)
		require.NoError(t, err)
		return n
	}
	assert.Zero(t, sends())
	box, err := messages.Box(ctx, restored, book.Console)
	require.NoError(t, err)
	assert.True(t, box.Stopped)
	err = messages.Resume(ctx, restored, book.Console, messages.Resumed{Waiting: 2})
	apptest.Refusal(t, err, refuse.KindConflict, "", "now 1 message to be sent")
	require.NoError(t, messages.Resume(ctx, restored, book.Console, messages.Resumed{Waiting: 1}))
	assert.Equal(t, 1, sends())
	assert.False(t, o.box().Stopped)
}

// sender takes messages and does something beside.
type sender struct {
	took int
	also func() error
}

func (s *sender) Send(context.Context, *gomail.Msg) error {
	s.took++
	return s.also()
}

// Where the book can't be written when the mail has answered, what became of the message is kept once it can, and the message is not sent
// twice.
func TestAnAnswerThatTheBookCouldNotTakeIsKeptLater(t *testing.T) {
	o := newOffice(t)
	_, err := o.send(o.written(nil))
	require.NoError(t, err)
	run := func(statement string) error {
		return o.Store.Write(ctx, func(tx *store.Tx) error { return tx.Run(statement) })
	}
	mail := &sender{also: func() error {
		return run("CREATE TRIGGER not_now BEFORE UPDATE ON messages BEGIN SELECT RAISE(ABORT, 'not now'); END")
	}}
	o.post.Mail = mail
	for range 2 {
		_, err = o.post.SendDue(ctx)
		require.Error(t, err)
	}
	require.NoError(t, run("DROP TRIGGER not_now"))
	assert.Zero(t, o.sendDue())
	assert.Equal(t, 1, mail.took)
	assert.Len(t, o.box().Sent, 1)
}

// wire is a server on this machine that says what it is told to whoever connects.
func wire(t *testing.T, says func(net.Conn)) *post.Server {
	t.Helper()
	l, err := (&net.ListenConfig{}).Listen(ctx, "tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = l.Close() })
	go func() {
		for conn, err := l.Accept(); err == nil; conn, err = l.Accept() {
			says(conn)
			_ = conn.Close()
		}
	}()
	server, err := post.ParseServer("smtp://"+l.Addr().String(), "")
	require.NoError(t, err)
	return server
}

func TestAServerThatSaysWithoutEndIsHeardNoFurther(t *testing.T) {
	o := newOffice(t)
	_, err := o.send(o.written(nil))
	require.NoError(t, err)
	said := make(chan int, 1)
	o.post.Mail = wire(t, func(c net.Conn) {
		n := 0
		for {
			written, err := c.Write(bytes.Repeat([]byte("220-and another thing\r\n"), 1000))
			if n += written; err != nil || n > 256<<20 {
				said <- n
				return
			}
		}
	})
	assert.Equal(t, 1, o.sendDue())
	assert.Contains(t, o.box().Queued[0].Problem, "says more than a mail server has to say")
	assert.Less(t, <-said, 64<<20, "bytes, with what the buffers of the system hold")
}

// Jarvo does not wait for a server that says nothing when it is stopped; the message is sent when it runs again.
func TestAConversationEndsWhenJarvoIsStopped(t *testing.T) {
	o := newOffice(t)
	_, err := o.send(o.written(nil))
	require.NoError(t, err)
	stopping, stop := context.WithCancel(ctx)
	o.post.Mail = wire(t, func(c net.Conn) {
		stop()
		_, _ = io.Copy(io.Discard, c)
	})
	_, err = o.post.SendDue(stopping)
	require.ErrorIs(t, err, context.Canceled)
	assert.Len(t, o.box().Queued, 1)
}

func TestAMailServersAddressIsRead(t *testing.T) {
	for _, wrong := range []string{"mail.example", "http://mail.example", "smtp://", "smtp://mail.example:nought"} {
		_, err := post.ParseServer(wrong, "")
		require.Error(t, err, wrong)
	}
	s, err := post.ParseServer("smtps://ada@mail.example", "secret")
	require.NoError(t, err)
	assert.Equal(t, "mail.example", s.Name)
}

// mailServer is a mail server on this machine. It answers the next messages with the codes that it is told.
type mailServer struct {
	address string
	mu      sync.Mutex
	codes   []int
	hang    bool
	got     []letter
}

type letter struct {
	from string
	to   []string
	data string
}

func newMailServer(t *testing.T) *mailServer {
	t.Helper()
	m := &mailServer{}
	s := smtp.NewServer(smtp.BackendFunc(func(c *smtp.Conn) (smtp.Session, error) { return &visit{m: m, conn: c}, nil }))
	s.Domain = "mail.example"
	l, err := (&net.ListenConfig{}).Listen(ctx, "tcp", "127.0.0.1:0")
	require.NoError(t, err)
	m.address = l.Addr().String()
	go func() { _ = s.Serve(l) }()
	t.Cleanup(func() { _ = s.Close() })
	return m
}

func (m *mailServer) refuse(codes ...int) {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.codes = codes
}

func (m *mailServer) hangUp() {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.hang = true
}

func (m *mailServer) taken() []letter {
	m.mu.Lock()
	defer m.mu.Unlock()
	return m.got
}

// visit is one connection to the server.
type visit struct {
	m    *mailServer
	conn *smtp.Conn
	letter
}

func (v *visit) Mail(from string, _ *smtp.MailOptions) error {
	v.letter = letter{from: from}
	return nil
}

func (v *visit) Rcpt(to string, _ *smtp.RcptOptions) error {
	v.m.mu.Lock()
	defer v.m.mu.Unlock()
	if len(v.m.codes) > 0 {
		code := v.m.codes[0]
		v.m.codes = v.m.codes[1:]
		return &smtp.SMTPError{Code: code, Message: "not now, not here"}
	}
	v.to = append(v.to, to)
	return nil
}

func (v *visit) Data(r io.Reader) error {
	data, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	v.m.mu.Lock()
	defer v.m.mu.Unlock()
	if v.m.hang {
		return v.conn.Conn().Close()
	}
	v.data = string(data)
	v.m.got = append(v.m.got, v.letter)
	return nil
}

func (v *visit) Reset()        {}
func (v *visit) Logout() error { return nil }
