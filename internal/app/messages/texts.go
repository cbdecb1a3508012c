package messages

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/letter"
	"jarvo/internal/core/locale"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// kindOfText is one of the texts that messages are made from.
type kindOfText struct {
	kind, name string
	blanks     []string
	letter.Text
}

const closing = "\n\nIf something is not right, just answer this message.\n\n{sender}\n{company}\n"

var (
	blanksOfInvoice  = []string{"customer", "number", "date", "due", "amount", "jobs", "order", "company", "sender"}
	blanksOfReminder = []string{"customer", "number", "invoices", "amount", "days", "due", "company", "sender"}
)

// begun are the texts that Jarvo begins with, in the order in which they are shown.
var begun = []kindOfText{
	{"invoice", "Invoice", blanksOfInvoice, letter.Text{
		Subject: "Invoice {number}, {company}",
		Body:    "Dear {customer},\n\ninvoice {number} of {date} is attached. It comes to {amount} and is due on {due}." + closing,
	}},
	{"credit_note", "Credit note", append(blanksOfInvoice, "on"), letter.Text{
		Subject: "Credit note {number}, {company}",
		Body:    "Dear {customer},\n\ncredit note {number} of {date} on invoice {on} is attached. It takes {amount} off what is due." + closing,
	}},
	{"statement", "Statement of account", []string{"customer", "date", "amount", "company", "sender"}, letter.Text{
		Subject: "Statement of account, {date}, {company}",
		Body:    "Dear {customer},\n\nyour statement of account of {date} is attached. {amount} is open." + closing,
	}},
	{"reminder_1", "First reminder, up to 14 days late", blanksOfReminder, letter.Text{
		Subject: "{amount} was due on {due}, invoice {number}",
		Body: "Dear {customer},\n\nwe have not seen {amount} yet:\n\n{invoices}\n\n" +
			"If it is on its way, please take no notice of this. What it is for is attached." + closing,
	}},
	{"reminder_2", "Second reminder, 15 to 30 days late", blanksOfReminder, letter.Text{
		Subject: "Second reminder: {amount}, invoice {number}",
		Body: "Dear {customer},\n\nthis is still open:\n\n{invoices}\n\n" +
			"That is {amount}, due {days} days ago. Please tell us by return on which day you will pay it." + closing,
	}},
	{"reminder_3", "Third reminder, over 30 days late", blanksOfReminder, letter.Text{
		Subject: "Third reminder: {amount} is {days} days overdue",
		Body: "Dear {customer},\n\nthis is more than a month overdue:\n\n{invoices}\n\n" +
			"{amount} is open, the oldest of it for {days} days. Please pay it within seven days, or call us today if you can't." + closing,
	}},
}

// MessageText is a text that messages are made from.
type MessageText struct {
	Kind    string   `json:"kind" enum:"invoice,credit_note,statement,reminder_1,reminder_2,reminder_3"`
	Name    string   `json:"name"`
	Subject string   `json:"subject"`
	Body    string   `json:"body"`
	Blanks  []string `json:"blanks" doc:"what can stand in braces"`
	Own     bool     `json:"own" doc:"it is in the company's words"`
	Version int64    `json:"version"`
}

// Texts are the texts that messages are made from: the company's own, else those that Jarvo begins with.
func Texts(ctx context.Context, b *book.Book, actor book.Actor) ([]MessageText, error) {
	return book.Read(ctx, b, actor, book.Bill, texts)
}

func texts(s *book.Session) ([]MessageText, error) {
	own, err := store.All[store.MessageText](s.Tx, "kind", "1 = 1")
	var out []MessageText
	for _, k := range begun {
		t := MessageText{Kind: k.kind, Name: k.name, Subject: k.Subject, Body: k.Body, Blanks: k.blanks}
		for _, o := range own {
			if o.Kind == k.kind {
				t.Subject, t.Body, t.Own, t.Version = o.Subject, o.Body, true, o.Version
			}
		}
		out = append(out, t)
	}
	return out, err
}

// NewText is a text as it is to be; a blank subject and body are those that Jarvo begins with.
type NewText struct {
	Kind    string `json:"kind"`
	Subject string `json:"subject"`
	Body    string `json:"body"`
	Version int64  `json:"version" doc:"as it was seen"`
}

// SaveText keeps a text in the company's words.
func SaveText(ctx context.Context, b *book.Book, actor book.Actor, in NewText) ([]MessageText, error) {
	return book.Write(ctx, b, actor, book.Bill, func(s *book.Session) ([]MessageText, error) {
		at := slices.IndexFunc(begun, func(k kindOfText) bool { return k.kind == in.Kind })
		if at < 0 {
			return nil, refuse.NotFound("text")
		}
		rows, err := store.All[store.MessageText](s.Tx, "kind", "kind = ?", in.Kind)
		if err != nil {
			return nil, err
		}
		var had store.MessageText
		if len(rows) > 0 {
			had = rows[0]
		}
		if had.Version != in.Version {
			return nil, refuse.Conflict("somebody else has changed this text since you opened it; look at it again")
		}
		c := s.Checks()
		now := store.MessageText{
			Kind: in.Kind, Subject: c.Within("subject", in.Subject, mostSubject), Body: c.Within("body", in.Body, mostBody),
			Version: had.Version + 1,
		}
		if now.Subject == "" && now.Body == "" {
			return taken(s, had)
		}
		for path, why := range map[string]string{"subject": unfit(begun[at], now.Subject, true), "body": unfit(begun[at], now.Body, false)} {
			if why != "" {
				c.Add(path, "%s", why)
			}
		}
		if err := c.Err(); err != nil {
			return nil, err
		}
		if err := s.Save(&now).Error; err != nil {
			return nil, err
		}
		if err := s.Record("changed", "message_text", int64(at), had, now); err != nil {
			return nil, err
		}
		return texts(s)
	})
}

// unfit is why a text can't be a subject or a body of its kind; blank where it can.
func unfit(kind kindOfText, text string, subject bool) string {
	if text == "" {
		return "this is needed; leave both blank for the text that Jarvo begins with"
	}
	if subject && strings.ContainsAny(text, "\r\n") {
		return "a subject is one line"
	}
	for _, name := range letter.Unknown(text, kind.blanks) {
		return fmt.Sprintf("{%s} can't be filled; there are {%s}", words.Shortened(name), strings.Join(kind.blanks, "}, {"))
	}
	return ""
}

// Unfit is why a subject and a body can't be the text of a kind; blank where they can.
func Unfit(kind, subject, body string) string {
	for _, k := range begun {
		if k.kind == kind {
			return cmp.Or(unfit(k, subject, true), unfit(k, body, false))
		}
	}
	return fmt.Sprintf("there is no text of the kind %q", words.Shortened(kind))
}

// taken takes the company's own words away.
func taken(s *book.Session, had store.MessageText) ([]MessageText, error) {
	if err := s.Run("DELETE FROM message_texts WHERE kind = ?", had.Kind); err != nil {
		return nil, err
	}
	if err := s.Record("deleted", "message_text", 0, had, nil); err != nil {
		return nil, err
	}
	return texts(s)
}

// filled is a text with its blanks filled.
func filled(s *book.Session, kind string, values map[string]string) (subject, body string, err error) {
	all, err := texts(s)
	for _, t := range all {
		if t.Kind == kind {
			return letter.Fill(t.Subject, values), letter.Fill(t.Body, values), err
		}
	}
	return "", "", errors.Join(err, errors.New("there is no text for "+kind))
}

// textOf is which text an invoice is sent with.
func textOf(v billing.InvoiceView) string {
	if v.CreditOn != "" {
		return "credit_note"
	}
	return ofInvoice
}

// writer writes figures and dates of the company for a message.
type writer struct {
	locale.Locale
	currency string
}

func writerOf(co store.Company) writer {
	return writer{locale.Of(co.Country, co.Currency), co.Currency}
}

func (w writer) money(plain string) string { return w.Figure(plain) + " " + w.currency }

func senderBlanks(s *book.Session, customer string) map[string]string {
	return map[string]string{"customer": customer, "company": s.Company.CompanyName, "sender": s.Actor.Name}
}

func invoiceBlanks(s *book.Session, v billing.InvoiceView) map[string]string {
	w := writerOf(s.Company)
	var jobs []string
	for _, p := range v.Places {
		jobs = append(jobs, p.Job)
	}
	values := senderBlanks(s, v.CustomerName)
	maps.Copy(values, map[string]string{
		"number": v.Number, "date": w.Day(v.Date), "due": w.Day(v.Due), "amount": w.money(v.DueNow), "jobs": words.Listed(jobs),
		"order": v.OrderNumber, "on": v.CreditOn,
	})
	return values
}

func statementBlanks(s *book.Session, of collect.AccountStatement) map[string]string {
	w := writerOf(s.Company)
	values := senderBlanks(s, of.Head.CustomerName)
	maps.Copy(values, map[string]string{"date": w.Day(of.Through), "amount": w.money(of.Closing)})
	return values
}

// reminderBlanks are of one reminder: its invoices a line each, what is open of them together, and how late the oldest is.
func reminderBlanks(s *book.Session, r Reminder) map[string]string {
	w := writerOf(s.Company)
	var numbers, lines []string
	for _, i := range r.Invoices {
		numbers = append(numbers, i.Number)
		lines = append(lines, "Invoice "+i.Number+" of "+w.Day(i.Date)+", due "+w.Day(i.Due)+": "+w.money(i.Left))
	}
	values := senderBlanks(s, r.Customer)
	maps.Copy(values, map[string]string{
		"number": words.Listed(numbers), "invoices": strings.Join(lines, "\n"), "amount": w.money(r.Amount),
		"days": strconv.Itoa(r.DaysLate), "due": w.Day(r.Invoices[0].Due),
	})
	return values
}
