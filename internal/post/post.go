// Package post puts messages into the mail: it writes them as mail has them (RFC 5322, MIME), hands them to a server by SMTP or, where none
// is set up, keeps them in a folder as a stand-in, and reads them as whoever gets them would.
package post

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"net/mail"
	"strings"

	"github.com/jhillyerd/enmime/v2"
	gomail "github.com/wneessen/go-mail"

	"jarvo/internal/app/form"
	"jarvo/internal/app/messages"
)

// Sender takes a message to where it goes.
type Sender interface {
	// Send is nil once the message was taken, a [Refusal] where it was not.
	Send(ctx context.Context, m *gomail.Msg) error
}

// Refusal is why a message was not taken.
type Refusal struct {
	Why     string
	MayPass bool // it is worth trying again
}

func (r *Refusal) Error() string { return r.Why }

// written is a message as mail has it. The same message is always written the same.
func written(m messages.Outgoing) (*gomail.Msg, error) {
	from, err := mail.ParseAddress(m.Sender)
	if err != nil {
		return nil, fmt.Errorf("the sender of message %s: %w", m.Ref, err)
	}
	to, err := m.Recipients()
	if err != nil {
		return nil, fmt.Errorf("who gets message %s: %w", m.Ref, err)
	}
	id := fmt.Sprintf("%s.%d", m.Ref, m.Written.UnixMilli())
	msg := gomail.NewMsg(gomail.WithBoundary("part-"+id), gomail.WithNoDefaultUserAgent())
	msg.FromMailAddress(from)
	msg.ToMailAddress(to...)
	msg.Subject(m.Subject)
	msg.SetDateWithValue(m.Written.UTC())
	msg.SetMessageIDWithValue(id + from.Address[strings.LastIndexByte(from.Address, '@'):])
	msg.SetBodyString(gomail.TypeTextPlain, strings.ReplaceAll(m.Body, "\r\n", "\n"))
	for _, f := range m.Files {
		if err := msg.AttachReader(f.Name, bytes.NewReader(f.Data), gomail.WithFileContentType(gomail.ContentType(f.Media))); err != nil {
			return nil, fmt.Errorf("putting %s to message %s: %w", f.Name, m.Ref, err)
		}
	}
	return msg, nil
}

// EML is a message as a file that mail programs open.
func EML(m messages.Outgoing) ([]byte, error) {
	msg, err := written(m)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	_, err = msg.WriteTo(&out)
	return out.Bytes(), err
}

// Letter is a message as whoever gets it reads it.
type Letter struct {
	From    string `json:"from"`
	To      string `json:"to"`
	Subject string `json:"subject"`
	Date    string `json:"date"`
	Text    string `json:"text"`
	Files   []Put  `json:"files"`
}

// Put is what is attached to a letter.
type Put struct {
	Name  string `json:"name"`
	Media string `json:"media"`
	Bytes int    `json:"bytes"`
	Data  []byte `json:"-"`
}

// Read reads a message out of the mail.
func Read(eml []byte) (Letter, error) {
	envelope, err := enmime.ReadEnvelope(bytes.NewReader(eml))
	if err != nil {
		return Letter{}, err
	}
	if len(envelope.Errors) > 0 {
		return Letter{}, errors.New(envelope.Errors[0].Detail)
	}
	out := Letter{
		From: mailboxes(envelope, "From"), To: mailboxes(envelope, "To"), Subject: envelope.GetHeader("Subject"),
		Date: envelope.GetHeader("Date"),
		Text: strings.ReplaceAll(envelope.Text, "\r\n", "\n"), Files: []Put{},
	}
	for _, part := range envelope.Attachments {
		out.Files = append(out.Files, Put{part.FileName, part.ContentType, len(part.Content), part.Content})
	}
	return out, nil
}

// mailboxes are the addresses of a header, as people type them.
func mailboxes(envelope *enmime.Envelope, header string) string {
	list, err := envelope.AddressList(header)
	if err != nil {
		return envelope.GetHeader(header)
	}
	texts := make([]string, len(list))
	for i, at := range list {
		texts[i] = form.Mailbox(at)
	}
	return strings.Join(texts, ", ")
}

// As reads a message as whoever gets it would.
func As(m messages.Outgoing) (Letter, error) {
	eml, err := EML(m)
	if err != nil {
		return Letter{}, err
	}
	return Read(eml)
}
