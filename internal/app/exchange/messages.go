package exchange

import (
	"fmt"
	"net/mail"
	"path"
	"slices"
	"strconv"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/messages"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// waited is what is said of a message that waited to be sent when it was taken out.
const waited = "This waited to be sent when it was taken out of its book. Send it again where it has not gone out there."

// messages takes out what was sent to customers, and the company's texts.
func (x *exporter) messages() error {
	type message struct {
		store.Message
		Customer string
	}
	rows, err := store.Query[message](x.Tx, messageRows)
	if err != nil {
		return err
	}
	for _, m := range rows {
		tried := ""
		if m.TriedAt != nil {
			tried = book.TimeText(*m.TriedAt)
		}
		if m.Status == store.Queued || m.Status == store.Sending {
			m.Status, m.Problem = store.Failed, waited
		}
		x.add("messages.csv", m.Ref, m.Kind, strconv.Itoa(m.Stage), m.Customer, m.Sender, m.Recipients, m.Subject, m.Body, m.Status,
			strconv.Itoa(m.Tries), tried, m.Problem, book.TimeText(m.MadeAt), m.MadeBy)
	}
	about, err := store.Query[struct{ Message, Invoice string }](x.Tx, messageInvoiceRows)
	if err != nil {
		return err
	}
	for _, a := range about {
		x.add("message_invoices.csv", a.Message, a.Invoice)
	}
	files, err := store.Query[struct {
		Message, Name, Media, Sum string
		Position                  int
	}](x.Tx, messageFileRows)
	if err != nil {
		return err
	}
	for _, f := range files {
		x.add("message_files.csv", f.Message, strconv.Itoa(f.Position), f.Name, f.Sum+messages.Endings[f.Media])
	}
	texts, err := store.All[store.MessageText](x.Tx, "kind", "1 = 1")
	for _, t := range texts {
		x.add("message_texts.csv", t.Kind, t.Subject, t.Body)
	}
	return err
}

// messagesIn brings in messages that the book has not; one that it has stays as it is there.
func (im *importer) messagesIn() error {
	made := map[string]int64{}
	had, err := store.Query[string](im.Tx, "SELECT ref FROM messages")
	if err != nil {
		return err
	}
	for _, row := range im.bundle.Rows("messages.csv") {
		c := cell{im, row}
		if slices.Contains(had, c.Get("ref")) {
			continue
		}
		id, err := im.message(c)
		if err != nil {
			return err
		}
		made[c.Get("ref")] = id
	}
	for _, row := range im.bundle.Rows("message_invoices.csv") {
		c := cell{im, row}
		id, found := made[c.Get("message")]
		if !found || id == 0 {
			continue
		}
		ids, err := store.Query[int64](im.Tx, issuedOfMessage, id, c.Get("invoice"))
		if err != nil {
			return err
		}
		if len(ids) == 0 {
			c.wrong("invoice", "the customer of message %s has no invoice %s", c.Get("message"), c.Get("invoice"))
			continue
		}
		if err := im.Create(&store.MessageInvoice{MessageID: id, InvoiceID: ids[0]}).Error; err != nil {
			return err
		}
	}
	for _, row := range im.bundle.Rows("message_files.csv") {
		c := cell{im, row}
		id, found := made[c.Get("message")]
		if !found || id == 0 {
			continue
		}
		data, err := im.bundle.Scan(c.Get("file"))
		if err == nil && len(data) > messages.Largest {
			err = fmt.Errorf("this file is larger than %d MB", messages.Largest>>20)
		}
		if err != nil {
			c.wrong("file", "%s", err)
			continue
		}
		media := ""
		for m, ending := range messages.Endings {
			if ending == strings.ToLower(path.Ext(c.Get("file"))) {
				media = m
			}
		}
		if media == "" {
			c.wrong("file", "this is neither a PDF nor XML")
			continue
		}
		f := messages.File{Name: c.Get("name"), Media: media, Data: data}
		if err := messages.Keep(im.Session, id, read(c, "position", strconv.Atoi), f); err != nil {
			return err
		}
	}
	for _, row := range im.bundle.Rows("message_texts.csv") {
		c := cell{im, row}
		text := store.MessageText{Kind: c.Get("kind"), Subject: c.Get("subject"), Body: c.Get("body"), Version: 1}
		if why := messages.Unfit(text.Kind, text.Subject, text.Body); why != "" {
			c.wrong("body", "%s", why)
			continue
		}
		if err := im.Save(&text).Error; err != nil {
			return err
		}
	}
	return nil
}

// message brings a message in; its id is 0 where something is wrong with it.
func (im *importer) message(c cell) (int64, error) {
	before := im.faults
	m := store.Message{
		Ref: c.Get("ref"), Kind: c.oneOf("kind", "invoice", "reminder", "statement"), Stage: read(c, "stage", strconv.Atoi),
		CustomerID: store.ID(c.refer("customer", "customers")), Sender: c.Get("sender"), Recipients: c.Get("recipients"),
		Subject: c.Get("subject"), Body: c.Get("body"), Status: c.oneOf("status", store.Sent, store.Failed, store.Cancelled),
		Tries: read(c, "tries", strconv.Atoi), Problem: c.Get("problem"), MadeAt: read(c, "made_at", moment), MadeBy: c.Get("made_by"),
		Version: 1,
	}
	if at := c.Get("tried_at"); at != "" {
		tried := read(c, "tried_at", moment)
		m.TriedAt = &tried
	}
	for column, text := range map[string]string{"sender": m.Sender, "recipients": m.Recipients} {
		if _, err := mail.ParseAddressList(text); err != nil {
			c.wrong(column, "%q are no mail addresses", words.Shortened(text))
		}
	}
	if strings.ContainsAny(m.Subject, "\r\n") {
		c.wrong("subject", "a subject is one line")
	}
	if (m.Kind == "reminder") != (m.Stage >= 1 && m.Stage <= 3) {
		c.wrong("stage", "a reminder is the 1st, 2nd or 3rd, and nothing else has a stage")
	}
	if c.good(before) != nil {
		return 0, nil
	}
	if err := im.Create(&m).Error; err != nil {
		return 0, err
	}
	return m.ID, nil
}
