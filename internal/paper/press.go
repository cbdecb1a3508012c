package paper

import (
	"context"
	"strconv"
	"strings"
	"unicode"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/messages"
	"jarvo/internal/app/tape"
)

// turns holds a token for each paper that is being drawn: what takes long leaves room for all else.
var turns = make(chan struct{}, 2)

// inTurn draws a paper when it is its turn, unless whoever asked for it has given up by then.
func inTurn(ctx context.Context, draw func() ([]byte, error)) ([]byte, error) {
	select {
	case turns <- struct{}{}:
		defer func() { <-turns }()
		return draw()
	case <-ctx.Done():
		return nil, context.Cause(ctx)
	}
}

// Press writes the papers that are attached to messages.
type Press struct{}

// Invoice writes an invoice in a format of [Invoices].
func (Press) Invoice(ctx context.Context, v billing.InvoiceView, backup []tape.Backup, format string) (messages.File, error) {
	f := Invoices[format]
	data, err := f.Write(ctx, v, backup)
	return messages.File{Name: FileName(v) + "." + f.Ending, Media: f.Media, Data: data}, err
}

// Statement writes a statement of account.
func (Press) Statement(ctx context.Context, of collect.AccountStatement) (messages.File, error) {
	data, err := AccountPDF(ctx, of)
	return messages.File{Name: "statement-" + safe(of.Head.CustomerCode) + ".pdf", Media: Invoices["pdf"].Media, Data: data}, err
}

// FileName is what the file of an invoice is called, without its ending.
func FileName(v billing.InvoiceView) string {
	switch {
	case v.Number == "":
		return "draft-" + strconv.FormatInt(v.ID, 10)
	case v.CreditOn != "":
		return "credit-note-" + safe(v.Number)
	}
	return "invoice-" + safe(v.Number)
}

// safe is a text with nothing in it that a file's name may not hold anywhere.
func safe(s string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) || r == '-' || r == '_' || r == '.' {
			return r
		}
		return '-'
	}, s)
}
