// Package messages sends papers to customers: it writes the messages and keeps them, and says what became of each.
package messages

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"net/mail"
	"strings"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/tape"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// Press writes the papers that are attached to messages.
type Press interface {
	// Invoice writes an issued invoice in a format, with its backup where there is one.
	Invoice(ctx context.Context, v billing.InvoiceView, backup []tape.Backup, format string) (File, error)
	Statement(ctx context.Context, of collect.AccountStatement) (File, error)
}

// File is what is attached to a message.
type File struct {
	Name, Media string
	Data        []byte
}

// The kinds of messages.
const (
	ofInvoice   = "invoice"
	ofReminder  = "reminder"
	ofStatement = "statement"
)

// Endings are those of the files that are attached to messages, by their media type.
var Endings = map[string]string{
	"application/pdf": ".pdf", "application/xml": ".xml",
}

// What of an invoice can be attached to a message.
const (
	WithPDF    = "pdf"
	WithBackup = "backup"
	WithEN     = "en16931" // an e-invoice by EN 16931
	WithUBL    = "ubl"     // a plain one
)

// Asked says what a message is to be about: an invoice, or the account of a customer.
type Asked struct {
	Invoice  int64 `query:"invoice"`
	Customer int64 `query:"customer" doc:"whose statement of account"`
}

// Proposal is a message as it is proposed: from the company's text, with its blanks filled.
type Proposal struct {
	InvoiceID  int64       `json:"invoiceId,omitempty"`
	CustomerID int64       `json:"customerId"`
	Customer   string      `json:"customer"`
	What       string      `json:"what"`
	From       string      `json:"from" doc:"blank: the company has no mail address yet"`
	To         string      `json:"to"`
	Subject    string      `json:"subject"`
	Body       string      `json:"body"`
	Open       string      `json:"open,omitempty" format:"decimal" doc:"of a statement: what is open"`
	With       []Enclosure `json:"with" doc:"what can be attached"`
}

// Enclosure is a paper that can be attached to a message.
type Enclosure struct {
	What    string `json:"what" enum:"pdf,backup,en16931,ubl,statement"`
	Name    string `json:"name"`
	Chosen  bool   `json:"chosen"`
	WhyNone string `json:"whyNone,omitempty" doc:"why there is none"`
}

// SentLine is a message about an invoice or a customer, and what became of it.
type SentLine struct {
	ID     int64  `json:"id"`
	What   string `json:"what"`
	To     string `json:"to"`
	Status string `json:"status" enum:"queued,sending,sent,failed,cancelled"`
	At     string `json:"at" format:"date-time" doc:"when it was written, or sent"`
}

// Propose proposes a message.
func Propose(ctx context.Context, b *book.Book, actor book.Actor, press Press, asked Asked) (Proposal, error) {
	var of billing.InvoiceView
	out, err := book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (out Proposal, err error) {
		out.From = senderOf(s.Company)
		var customer store.Customer
		kind := ofStatement
		if asked.Invoice != 0 {
			kind = ofInvoice
			v, err := issued(s, asked.Invoice)
			if err != nil {
				return out, err
			}
			of, out.InvoiceID, out.CustomerID, out.What = v, v.ID, v.CustomerID, nameOf(v)
			if customer, err = payer(s, v.CustomerID); err != nil {
				return out, err
			}
			if out.Subject, out.Body, err = filled(s, textOf(v), invoiceBlanks(s, v)); err != nil {
				return out, err
			}
		} else {
			if customer, err = payer(s, asked.Customer); err != nil {
				return out, err
			}
			of, err := collect.AccountOf(s, customer.ID, 0, 0)
			if err != nil {
				return out, err
			}
			out.CustomerID, out.What, out.Open = customer.ID, "Statement of account", of.Closing
			out.With = []Enclosure{{What: ofStatement, Name: "Statement, PDF", Chosen: true}}
			if out.Subject, out.Body, err = filled(s, ofStatement, statementBlanks(s, of)); err != nil {
				return out, err
			}
		}
		out.Customer = customer.Name
		out.To, err = register.Recipients(s, customer, mailedBy(kind))
		return out, err
	})
	if err == nil && asked.Invoice != 0 {
		out.With, err = enclosures(ctx, of, press)
	}
	return out, err
}

// enclosures are what of an invoice can be attached to a message; an e-invoice of which there is none says why.
func enclosures(ctx context.Context, v billing.InvoiceView, press Press) ([]Enclosure, error) {
	out := []Enclosure{
		{What: WithPDF, Name: nameOf(v) + ", PDF", Chosen: true},
		{What: WithBackup, Name: "Hours and receipts behind it, PDF"},
		{What: WithEN, Name: "E-invoice by EN 16931"},
		{What: WithUBL, Name: "E-invoice, plain UBL"},
	}
	for i := range out[2:] {
		e := &out[2+i]
		if _, err := press.Invoice(ctx, v, nil, e.What); err != nil {
			told, ok := refuse.AsError(err)
			if !ok {
				return nil, err
			}
			e.WhyNone = told.Message
		}
	}
	return out, nil
}

// issued is an issued invoice, the only kind that is sent.
func issued(s *book.Session, invoiceID int64) (billing.InvoiceView, error) {
	v, err := billing.View(s, invoiceID)
	if err == nil && v.Status != store.Issued {
		err = refuse.Invalid("invoiceId", "a draft is not sent; issue it first")
	}
	return v, err
}

func payer(s *book.Session, customerID int64) (store.Customer, error) {
	customer, found, err := store.One[store.Customer](s.Tx, customerID)
	if err != nil || !found {
		return customer, refuse.OrNotFound(err, "customer")
	}
	return customer, nil
}

// senderOf is the company as a mail address; blank where it has none.
func senderOf(co store.Company) string {
	at, err := mail.ParseAddress(co.Email)
	if err != nil {
		return ""
	}
	return form.Mailbox(&mail.Address{Name: co.CompanyName, Address: at.Address})
}

// nameOf is what an invoice is called in a message.
func nameOf(v billing.InvoiceView) string {
	if v.CreditOn != "" {
		return "Credit note " + v.Number
	}
	return "Invoice " + v.Number
}

// NewMessage is a message to be sent.
type NewMessage struct {
	Key        string   `json:"key,omitempty"`
	InvoiceID  int64    `json:"invoiceId,omitempty"`
	CustomerID int64    `json:"customerId,omitempty" doc:"whose statement of account, where it is about no invoice"`
	To         string   `json:"to"`
	Subject    string   `json:"subject"`
	Body       string   `json:"body"`
	Open       string   `json:"open,omitempty" doc:"of a statement: what is open, as it was seen"`
	With       []string `json:"with" doc:"of an invoice: pdf, backup, en16931, ubl"`
	Keeping
}

// Queued is a message that was put into the queue.
type Queued struct {
	ID  int64  `json:"id"`
	Ref string `json:"ref"`
}

// Send puts a message into the queue, from which it is sent at once where nothing is in the way. Its papers are written now, while the
// book is held neither for reading nor for writing.
func Send(ctx context.Context, b *book.Book, actor book.Actor, press Press, in NewMessage) (Queued, error) {
	const kind = "message"
	m := draft{kind: ofInvoice, customerID: in.CustomerID, to: in.To, keep: in.Keeping, subject: in.Subject, body: in.Body}
	sent := false
	queued, err := book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (queued Queued, err error) {
		if queued, sent, err = book.Answered[Queued](s, kind, in.Key, in); err != nil || sent {
			return queued, err
		}
		if in.InvoiceID != 0 {
			return queued, m.about(s, press, in.InvoiceID, in.With...)
		}
		m.kind = ofStatement
		return queued, m.statement(s, press, in.Open)
	})
	if err == nil && !sent {
		err = m.draw(ctx)
	}
	if err != nil || sent {
		return queued, err
	}
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (Queued, error) {
		return book.Once(s, kind, in.Key, in, func() (Queued, error) { return m.queue(s) })
	})
}

// draft is a message on its way into the queue.
type draft struct {
	kind       string
	stage      int
	customerID int64
	to         string
	keep       Keeping
	subject    string
	body       string
	invoices   []int64
	papers     []drawing // to be attached
	files      []File
}

// Keeping is whether the addresses of a message are kept for its customer, and in place of which.
type Keeping struct {
	Keep bool   `json:"keep,omitempty" doc:"keep these addresses for the customer"`
	Over string `json:"keepOver,omitempty" doc:"with keep: who got this kind of mail before, as it was seen"`
}

// drawing writes a paper of what was read.
type drawing func(context.Context) (File, error)

// draw writes the papers, and attaches them.
func (m *draft) draw(ctx context.Context) error {
	for _, paper := range m.papers {
		file, err := paper(ctx)
		if err != nil {
			return err
		}
		m.files = append(m.files, file)
	}
	return nil
}

// about attaches papers of an invoice.
func (m *draft) about(s *book.Session, press Press, invoiceID int64, with ...string) error {
	v, err := issued(s, invoiceID)
	if err != nil {
		return err
	}
	if v, err = billing.WithMark(s, v); err != nil {
		return err
	}
	m.customerID, m.invoices = v.CustomerID, append(m.invoices, v.ID)
	for _, what := range with {
		switch what {
		case WithPDF, WithEN, WithUBL:
			m.papers = append(m.papers, func(ctx context.Context) (File, error) { return press.Invoice(ctx, v, nil, what) })
		case WithBackup:
			backup, err := tape.Behind(s, invoiceID)
			if err != nil {
				return err
			}
			m.papers = append(m.papers, func(ctx context.Context) (File, error) {
				file, err := press.Invoice(ctx, v, backup, WithPDF)
				file.Name = strings.TrimSuffix(file.Name, ".pdf") + "-with-backup.pdf"
				return file, err
			})
		default:
			return refuse.Invalid("with", "%q can't be attached to a message", words.Shortened(what))
		}
	}
	return nil
}

// statement attaches the customer's statement of account, as long as what is open is what was seen.
func (m *draft) statement(s *book.Session, press Press, open string) error {
	of, err := collect.AccountOf(s, m.customerID, 0, 0)
	if err != nil {
		return err
	}
	if of.Closing != open {
		return refuse.Conflict("what %s owes has changed since this was written; look at it again", words.Shortened(of.Head.CustomerName))
	}
	if of.Head, err = billing.WithMark(s, of.Head); err != nil {
		return err
	}
	m.papers = append(m.papers, func(ctx context.Context) (File, error) { return press.Statement(ctx, of) })
	return nil
}

const (
	mostBody    = 10_000 // characters
	mostSubject = 200
)

// Largest bounds what is attached to a message together: few mailboxes take more.
const Largest = 20 << 20

// queue checks a message and puts it into the queue.
func (m *draft) queue(s *book.Session) (out Queued, _ error) {
	c := s.Checks()
	sender := senderOf(s.Company)
	if sender == "" {
		c.Add("from", "the company has no mail address; type it in Setup, Company")
	}
	to := recipients(c, m.to)
	subject := c.Within("subject", m.subject, mostSubject)
	if subject == "" || strings.ContainsAny(subject, "\r\n") {
		c.Add("subject", "type a subject, of one line")
	}
	body := c.Within("body", m.body, mostBody)
	size := 0
	for _, f := range m.files {
		size += len(f.Data)
	}
	if size > Largest {
		c.Add("with", "together these are %d MB, and few mailboxes take more than 20; leave the backup out", size>>20)
	}
	if err := c.Err(); err != nil {
		return out, err
	}
	now := s.Book.Now().UnixMilli()
	row := store.Message{
		Kind: m.kind, Stage: m.stage, CustomerID: m.customerID, Sender: sender, Recipients: to, Subject: subject, Body: body,
		Status: store.Queued, NextTry: &now, MadeAt: now, MadeBy: s.Actor.Name, Version: 1,
	}
	if err := book.Add(s, "messages", "M", &row, &row.ID, &row.Ref); err != nil {
		return out, err
	}
	for _, id := range m.invoices {
		if err := s.Create(&store.MessageInvoice{MessageID: row.ID, InvoiceID: id}).Error; err != nil {
			return out, err
		}
	}
	for i, f := range m.files {
		if err := Keep(s, row.ID, i+1, f); err != nil {
			return out, err
		}
	}
	if err := m.keep.keep(s, row); err != nil {
		return out, err
	}
	return Queued{row.ID, row.Ref}, s.Record("wrote a message", "message", row.ID, nil, map[string]string{
		"to": row.Recipients, "subject": row.Subject,
	})
}

// recipients reads who gets a message.
func recipients(c *form.Checks, to string) string {
	if strings.TrimSpace(to) == "" {
		c.Add("to", "type who gets it")
	}
	return strings.Join(form.Addresses(c, "to", to), ", ")
}

// Keep keeps what is attached to a message at a position.
func Keep(s *book.Session, messageID int64, position int, f File) error {
	sum := sha256.Sum256(f.Data)
	return s.Create(&store.MessageFile{
		MessageID: messageID, Position: position, Name: f.Name, Media: f.Media, SHA256: hex.EncodeToString(sum[:]), Data: f.Data,
	}).Error
}

// mailedBy is what a message of a kind is for those who get it.
func mailedBy(kind string) register.Mailed {
	return map[string]register.Mailed{ofInvoice: register.Invoices, ofReminder: register.Reminders, ofStatement: register.Statements}[kind]
}

// keep has messages such as this one go to the same people from now on, where that is asked.
func (k Keeping) keep(s *book.Session, m store.Message) error {
	if !k.Keep {
		return nil
	}
	customer, err := payer(s, m.CustomerID)
	if err != nil {
		return err
	}
	return register.KeepRecipients(s, customer, mailedBy(m.Kind), m.Recipients, k.Over)
}

// usual is who gets a message's kind of mail at its customer.
func usual(s *book.Session, m store.Message) (string, error) {
	customer, err := payer(s, m.CustomerID)
	if err != nil {
		return "", err
	}
	return register.Recipients(s, customer, mailedBy(m.Kind))
}

// About are the messages about an invoice, or the statements that went to a customer, the newest first.
func About(ctx context.Context, b *book.Book, actor book.Actor, asked Asked) ([]SentLine, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) ([]SentLine, error) {
		rows, err := store.Query[foundRow](s.Tx, messagesAbout, map[string]any{"invoice": asked.Invoice, "customer": asked.Customer})
		lines := []SentLine{}
		for _, r := range rows {
			lines = append(lines, SentLine{ID: r.ID, What: r.what(), To: r.Recipients, Status: r.Status, At: book.TimeText(r.at())})
		}
		return lines, err
	})
}

// foundRow is a message with what it is about.
type foundRow struct {
	store.Message
	Customer string
	Numbers  string // of its invoices
	Notes    int    // and how many of them are credit notes
}

// what a message is, in words.
func (r foundRow) what() string {
	switch r.Kind {
	case ofStatement:
		return "Statement of account"
	case ofReminder:
		return fmt.Sprintf("%s reminder, %s", []string{"First", "Second", "Third"}[r.Stage-1], r.Numbers)
	}
	if r.Notes > 0 {
		return "Credit note " + r.Numbers
	}
	return "Invoice " + r.Numbers
}

// at is when a message was tried last, else written.
func (r foundRow) at() int64 {
	if r.TriedAt != nil {
		return *r.TriedAt
	}
	return r.MadeAt
}
