// Package statement reads what a bank writes: camt.053 of any version, and tables whose columns are said once. It also writes such files,
// as the stand-in of a bank.
package statement

import (
	"encoding/xml"
	"errors"
	"fmt"
	"strings"

	"jarvo/internal/core/calendar"
)

// Line is one movement on an account. Its amount is a plain decimal, below 0 where money went out.
type Line struct {
	Account  string
	Date     calendar.Date
	Amount   string
	Currency string // blank: not said
	Name     string // of the other side
	Text     string
	Ref      string // the bank's own
}

// The refusals of a statement.
var (
	ErrNotStatement = errors.New("this is neither a camt.053 statement nor a table with a date and an amount")
	ErrEmpty        = errors.New("there is no movement in this statement")
)

// Names are matched by their local part, so that any version of the message is read.
type camtDocument struct {
	Statements []struct {
		Account struct {
			IBAN  string `xml:"Id>IBAN"`
			Other string `xml:"Id>Othr>Id"`
		} `xml:"Acct"`
		Entries []camtEntry `xml:"Ntry"`
	} `xml:"BkToCstmrStmt>Stmt"`
}

type camtAmount struct {
	Value    string `xml:",chardata"`
	Currency string `xml:"Ccy,attr"`
}

type camtEntry struct {
	Amount    camtAmount `xml:"Amt"`
	Indicator string     `xml:"CdtDbtInd"`
	Reversal  string     `xml:"RvslInd"`
	Status    struct {
		Text string `xml:",chardata"`
		Code string `xml:"Cd"`
	} `xml:"Sts"`
	Booked       camtDate     `xml:"BookgDt"`
	Valued       camtDate     `xml:"ValDt"`
	Ref          string       `xml:"AcctSvcrRef"`
	EntryRef     string       `xml:"NtryRef"`
	Info         string       `xml:"AddtlNtryInf"`
	Transactions []camtDetail `xml:"NtryDtls>TxDtls"`
}

type camtDate struct {
	Date     string `xml:"Dt"`
	DateTime string `xml:"DtTm"`
}

type camtDetail struct {
	Ref         string     `xml:"Refs>AcctSvcrRef"`
	EndToEnd    string     `xml:"Refs>EndToEndId"`
	Amount      camtAmount `xml:"Amt"`
	OldAmount   camtAmount `xml:"AmtDtls>TxAmt>Amt"`
	Debtor      string     `xml:"RltdPties>Dbtr>Nm"`
	DebtorParty string     `xml:"RltdPties>Dbtr>Pty>Nm"`
	Creditor    string     `xml:"RltdPties>Cdtr>Nm"`
	CreditParty string     `xml:"RltdPties>Cdtr>Pty>Nm"`
	Free        []string   `xml:"RmtInf>Ustrd"`
	Structured  []string   `xml:"RmtInf>Strd>CdtrRefInf>Ref"`
	Info        string     `xml:"AddtlTxInf"`
}

// Camt reads a camt.053 statement. What the bank has not booked yet is left out; a batch is read by its single transactions.
func Camt(data []byte) ([]Line, error) {
	var doc camtDocument
	if err := xml.Unmarshal(data, &doc); err != nil {
		return nil, fmt.Errorf("%w (%w)", ErrNotStatement, err)
	}
	if len(doc.Statements) == 0 {
		return nil, ErrNotStatement
	}
	var lines []Line
	for _, s := range doc.Statements {
		account := first(s.Account.IBAN, s.Account.Other)
		for _, e := range s.Entries {
			if status := strings.TrimSpace(e.Status.Code + e.Status.Text); status != "" && status != "BOOK" {
				continue
			}
			read, err := e.lines(account)
			if err != nil {
				return nil, err
			}
			lines = append(lines, read...)
		}
	}
	if len(lines) == 0 {
		return nil, ErrEmpty
	}
	return lines, nil
}

func (e camtEntry) lines(account string) ([]Line, error) {
	day, err := e.day()
	if err != nil {
		return nil, err
	}
	out := (e.Indicator == "DBIT") != (strings.TrimSpace(e.Reversal) == "true")
	whole := Line{
		Account: account, Date: day, Amount: signed(e.Amount.Value, out), Currency: e.Amount.Currency, Text: clean(e.Info),
		Ref: first(e.Ref, e.EntryRef),
	}
	if len(e.Transactions) == 0 {
		return []Line{whole}, nil
	}
	var lines []Line
	for _, t := range e.Transactions {
		l := whole
		amount := t.Amount
		if amount.Value == "" {
			amount = t.OldAmount
		}
		if amount.Value != "" && len(e.Transactions) > 1 {
			l.Amount, l.Currency = signed(amount.Value, out), amount.Currency
		} else if len(e.Transactions) > 1 {
			return []Line{whole}, nil // a batch that does not say what each comes to
		}
		l.Name = clean(first(t.Debtor, t.DebtorParty))
		if out {
			l.Name = clean(first(t.Creditor, t.CreditParty))
		}
		ref := t.EndToEnd
		if ref == "NOTPROVIDED" {
			ref = ""
		}
		l.Text = clean(strings.Join(append(append([]string{ref}, t.Structured...), append(t.Free, t.Info, e.Info)...), " "))
		l.Ref = first(t.Ref, l.Ref)
		lines = append(lines, l)
	}
	return lines, nil
}

func (e camtEntry) day() (calendar.Date, error) {
	text := first(e.Booked.Date, e.Booked.DateTime, e.Valued.Date, e.Valued.DateTime)
	if len(text) > 10 {
		text = text[:10]
	}
	day, err := calendar.Parse(text)
	if err != nil {
		return 0, fmt.Errorf("a movement of %s has no date that can be read: %w", e.Amount.Value, err)
	}
	return day, nil
}

func signed(amount string, out bool) string {
	amount = strings.TrimSpace(amount)
	if out {
		return "-" + amount
	}
	return amount
}

func first(texts ...string) string {
	for _, t := range texts {
		if t = strings.TrimSpace(t); t != "" {
			return t
		}
	}
	return ""
}

// clean is a text in one line, with single spaces.
func clean(text string) string { return strings.Join(strings.Fields(text), " ") }
