package collect

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/matching"
	"jarvo/internal/core/money"
	"jarvo/internal/core/postal"
	"jarvo/internal/core/words"
	"jarvo/internal/statement"
	"jarvo/internal/store"
)

// BankColumns say in which column of a bank's table each thing stands, by their heads.
type BankColumns struct {
	Date   string `json:"date"`
	Amount string `json:"amount,omitempty" doc:"or what came in and what went out"`
	In     string `json:"in,omitempty"`
	Out    string `json:"out,omitempty"`
	Name   string `json:"name,omitempty"`
	Text   string `json:"text,omitempty"`
	Ref    string `json:"ref,omitempty"`
	Order  string `json:"order" doc:"how dates are written: the year, the day or the month first"`
}

// BankFile is a statement of the bank: camt.053, or a table whose columns are said the first time that it is read.
type BankFile struct {
	Content []byte       `json:"content" maxLength:"14000000"`
	Columns *BankColumns `json:"columns,omitempty"`
}

// BankRead is what became of a statement. Where its columns are not known yet nothing was read, and they are asked for.
type BankRead struct {
	New   int      `json:"new"`
	Known int      `json:"known" doc:"that were there already"`
	Ask   *BankAsk `json:"ask,omitempty"`
}

// BankAsk asks which column of a table is what.
type BankAsk struct {
	Heads []string    `json:"heads"`
	Rows  [][]string  `json:"rows" doc:"the first of them"`
	Guess BankColumns `json:"guess"`
}

// rowsShown is how many rows of a table are shown where its columns are asked for.
const rowsShown = 4

// linesAtOnce is how many movements are added in one transaction: others save between them.
const linesAtOnce = 500

// ReadStatement reads a statement of the bank. Each line is there once, however often it is read. It is parsed and checked before anything
// is written.
func ReadStatement(ctx context.Context, b *book.Book, actor book.Actor, in BankFile) (out BankRead, _ error) {
	file, err := book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (f bankFile, err error) {
		f.country, f.currency = postal.Assumed(s.Company.Country, s.Company.Currency), s.Currency
		f.formats, err = store.All[store.BankFormat](s.Tx, "head", "1 = 1")
		return f, err
	})
	if err != nil {
		return out, err
	}
	if out.Ask, err = file.read(in); err != nil || out.Ask != nil {
		return out, err
	}
	rows, err := file.rows()
	if err != nil {
		return out, err
	}
	for first := 0; first == 0 || first < len(rows); first += linesAtOnce {
		some := rows[first:min(first+linesAtOnce, len(rows))]
		last := first+linesAtOnce >= len(rows)
		added, err := book.Write(ctx, b, actor, book.Bill, func(s *book.Session) (int, error) {
			added, err := addLines(s, some)
			if err == nil && file.said != nil {
				err = s.Save(file.said).Error
			}
			if err == nil && last {
				err = s.Record("read a statement", "bank", 0, nil, map[string]int{
					"new": out.New + added, "known": out.Known + len(some) - added,
				})
			}
			return added, err
		})
		if err != nil {
			return out, err
		}
		out.New, out.Known = out.New+added, out.Known+len(some)-added
	}
	return out, nil
}

// addLines adds the movements that are not there yet, and says how many.
func addLines(s *book.Session, rows []store.BankLine) (added int, _ error) {
	for i := range rows {
		there, err := store.Value[int64](s.Tx, "SELECT count(*) FROM bank_lines WHERE ref = ?", rows[i].Ref)
		if err != nil {
			return added, err
		}
		if there > 0 {
			continue
		}
		if _, err := store.Insert(s.Tx, &rows[i]); err != nil {
			return added, err
		}
		added++
	}
	return added, nil
}

// bankFile is a statement that is being read, by the settings of the company.
type bankFile struct {
	country  string
	currency money.Currency
	formats  []store.BankFormat
	said     *store.BankFormat // the columns that were said with the file
	lines    []statement.Line
}

// rows are the movements as the book keeps them.
func (f *bankFile) rows() ([]store.BankLine, error) {
	times, rows := map[string]int{}, make([]store.BankLine, len(f.lines))
	for n, l := range f.lines {
		amount, err := f.currency.ParseAmount(l.Amount)
		if err != nil {
			return nil, refuse.Invalid("content", "movement %d: %q is not an amount in %s", n+1, words.Shortened(l.Amount), f.currency.Code)
		}
		if l.Currency != "" && l.Currency != f.currency.Code {
			return nil, refuse.Invalid("content", "movement %d is in %s, and the book is kept in %s", n+1, l.Currency, f.currency.Code)
		}
		said := strings.Join([]string{l.Account, l.Date.String(), l.Amount, l.Name, l.Text, l.Ref}, "\x00")
		times[said]++
		sum := sha256.Sum256(fmt.Appendf(nil, "%s\x00%d", said, times[said]))
		rows[n] = store.BankLine{
			Ref: hex.EncodeToString(sum[:12]), Account: l.Account, Date: l.Date, Amount: amount, Name: words.Within(l.Name, mostText),
			Text: words.Within(l.Text, mostText), BankRef: l.Ref,
		}
	}
	return rows, nil
}

// mostText bounds what is kept of a text of the bank, in characters.
const mostText = 1000

// read reads the movements of a file; where it is a table whose columns are not known it asks for them.
func (f *bankFile) read(in BankFile) (_ *BankAsk, err error) {
	if start := strings.TrimLeft(string(in.Content[:min(len(in.Content), 200)]), "\ufeff \r\n\t"); strings.HasPrefix(start, "<") {
		f.lines, err = statement.Camt(in.Content)
		return nil, refusedFile(err)
	}
	table, err := statement.ReadTable(in.Content)
	if err != nil {
		return nil, refusedFile(err)
	}
	head := strings.Join(table.Head, "\t")
	known := slices.IndexFunc(f.formats, func(k store.BankFormat) bool { return k.Head == head })
	var columns statement.Columns
	switch {
	case in.Columns != nil:
		c := *in.Columns
		columns = statement.Columns(c)
		f.said = &store.BankFormat{
			Head: head, Date: c.Date, Amount: c.Amount, In: c.In, Out: c.Out, Name: c.Name, Text: c.Text, BankRef: c.Ref, DayOrder: c.Order,
		}
		if err := c.check(table.Head); err != nil {
			return nil, err
		}
	case known >= 0:
		k := f.formats[known]
		columns = statement.Columns{
			Date: k.Date, Amount: k.Amount, In: k.In, Out: k.Out, Name: k.Name, Text: k.Text, Ref: k.BankRef, Order: k.DayOrder,
		}
	default:
		return &BankAsk{
			Heads: table.Head, Rows: table.Rows[:min(rowsShown, len(table.Rows))],
			Guess: BankColumns(table.Guess(postal.MonthFirst(f.country))),
		}, nil
	}
	f.lines, err = table.Lines(columns)
	return nil, refusedFile(err)
}

// check refuses columns that a table does not have, or from which no movement can be read.
func (c BankColumns) check(head []string) error {
	checks := &form.Checks{}
	checks.OneOf("columns.order", c.Order, "ymd", "dmy", "mdy")
	for _, named := range []string{c.Date, c.Amount, c.In, c.Out, c.Name, c.Text, c.Ref} {
		if named != "" && !slices.Contains(head, named) {
			checks.Add("columns", "there is no column %q", words.Shortened(named))
		}
	}
	if c.Date == "" || c.Amount == "" && c.In == "" {
		checks.Add("columns", "say in which columns the date and the amount stand")
	}
	return checks.Err()
}

// refusedFile tells a person what is wrong with a file.
func refusedFile(err error) error {
	if err == nil {
		return nil
	}
	return refuse.Invalid("content", "%s", err)
}

// Slip is a receipt in the bank that is not recorded yet, with what it is proposed to pay.
type Slip struct {
	ID       int64    `json:"id"`
	Date     string   `json:"date" format:"date"`
	Amount   string   `json:"amount" format:"decimal"`
	Name     string   `json:"name,omitempty"`
	Text     string   `json:"text,omitempty"`
	Words    []string `json:"words,omitempty" doc:"of its text, that gave it away"`
	Customer string   `json:"customer,omitempty" doc:"whose it is proposed to be"`
	// CustomerID and On are what is sent back where the proposal is right.
	CustomerID int64     `json:"customerId,omitempty"`
	On         []Against `json:"on,omitempty"`
	Numbers    []string  `json:"numbers,omitempty" doc:"of these invoices"`
	Why        string    `json:"why" doc:"in words; of one that is set aside its reason"`
	Over       string    `json:"over,omitempty" format:"decimal" doc:"what would become credit"`
	Stays      string    `json:"stays,omitempty" format:"decimal" doc:"what would stay open of these invoices"`
	PaymentID  int64     `json:"paymentId,omitempty" doc:"a payment that was recorded before the bank told of it"`
	Sure       bool      `json:"sure"`
}

// BankSheet is what the bank tells: the receipts that are not recorded yet, and what has become of the others.
type BankSheet struct {
	Slips    []Slip `json:"slips" doc:"the oldest first"`
	SetAside []Slip `json:"setAside" doc:"the latest first, each with its reason; the sums count older ones too"`
	Sure     int    `json:"sure"`
	SureSum  string `json:"sureSum" format:"decimal"`
	Open     string `json:"open" format:"decimal" doc:"of all slips"`
	Lines    int64  `json:"lines" doc:"of all statements"`
	In       string `json:"in" format:"decimal" doc:"that came in"`
	Out      string `json:"out" format:"decimal" doc:"that went out"`
	Recorded string `json:"recorded" format:"decimal"`
	Aside    string `json:"aside" format:"decimal"`
}

// Bank lists the receipts that are not recorded yet, and proposes what each pays.
func Bank(ctx context.Context, b *book.Book, actor book.Actor) (BankSheet, error) {
	return book.Read(ctx, b, actor, book.Bill, func(s *book.Session) (out BankSheet, _ error) {
		out.Slips = []Slip{}
		sums, err := store.Value[struct {
			Lines                    int64
			CameIn, WentOut          money.Amount
			Recorded, Aside, Waiting money.Amount
		}](s.Tx, bankSums)
		if err != nil {
			return out, err
		}
		out.Lines, out.In, out.Out, out.Recorded = sums.Lines, s.Money(sums.CameIn), s.Money(sums.WentOut), s.Money(sums.Recorded)
		out.Aside, out.Open = s.Money(sums.Aside), s.Money(sums.Waiting)
		slips, err := slipsOf(s)
		if err != nil {
			return out, err
		}
		if out.SetAside, err = slipsAside(s); err != nil {
			return out, err
		}
		var sure money.Amount
		for _, slip := range slips {
			if slip.Sure {
				out.Sure++
				sure += slip.amount
			}
			out.Slips = append(out.Slips, slip.Slip)
		}
		out.SureSum = s.Money(sure)
		return out, nil
	})
}

// asideShown is how many of the receipts that are set aside are listed.
const asideShown = 100

func slipsAside(s *book.Session) ([]Slip, error) {
	lines, err := store.Query[store.BankLine](s.Tx, latestAside, asideShown)
	out := make([]Slip, len(lines))
	for i, l := range lines {
		out[i] = Slip{ID: l.ID, Date: l.Date.String(), Amount: s.Money(l.Amount), Name: l.Name, Text: l.Text, Why: l.Aside}
	}
	return out, err
}

type openSlip struct {
	Slip
	amount money.Amount
}

// recordedBefore is a payment that no line of the bank is recorded as.
type recordedBefore struct {
	ID, CustomerID int64
	Customer       string
	Date           calendar.Date
	Amount         money.Amount
}

// The days that a payment may have been recorded before or after the bank tells of it.
const (
	daysBefore = 10
	daysAfter  = 3
)

func slipsOf(s *book.Session) ([]openSlip, error) {
	lines, err := store.All[store.BankLine](s.Tx, "date, id", "payment_id IS NULL AND aside = '' AND amount > 0")
	if err != nil || len(lines) == 0 {
		return nil, err
	}
	invoices, err := store.Query[matching.Invoice](s.Tx, matchable)
	if err != nil {
		return nil, err
	}
	names, err := store.Query[struct {
		ID   int64
		Name string
	}](s.Tx, "SELECT id, name FROM customers")
	if err != nil {
		return nil, err
	}
	called := map[int64]string{}
	for _, n := range names {
		called[n.ID] = n.Name
	}
	before, err := store.Query[recordedBefore](s.Tx, notInBank, map[string]any{"from": lines[0].Date - daysBefore})
	if err != nil {
		return nil, err
	}
	open, of := matching.NewBook(invoices, called), map[int64]matching.Invoice{}
	for _, i := range invoices {
		of[i.ID] = i
	}
	out := make([]openSlip, 0, len(lines))
	for _, l := range lines {
		slip := openSlip{Slip{ID: l.ID, Date: l.Date.String(), Amount: s.Money(l.Amount), Name: l.Name, Text: l.Text}, l.Amount}
		at := slices.IndexFunc(before, func(p recordedBefore) bool {
			return p.Amount == l.Amount && p.Date >= l.Date-daysBefore && p.Date <= l.Date+daysAfter
		})
		if at >= 0 {
			p := before[at]
			before = slices.Delete(before, at, at+1)
			slip.PaymentID, slip.CustomerID, slip.Customer = p.ID, p.CustomerID, p.Customer
			slip.Why = "recorded on " + p.Date.String() + " already, with this amount"
			out = append(out, slip)
			continue
		}
		slip.propose(s, open.Propose(matching.Receipt{Amount: l.Amount, Name: l.Name, Text: l.Text}), of, called)
		out = append(out, slip)
	}
	return out, nil
}

// propose says what a receipt pays, and why, in words.
func (l *openSlip) propose(s *book.Session, p matching.Proposal, of map[int64]matching.Invoice, called map[int64]string) {
	l.Why = "nothing in it says whose it is"
	if p.Customer == 0 {
		return
	}
	l.CustomerID, l.Customer, l.Sure, l.Words = p.Customer, called[p.Customer], p.Sure, p.Words
	l.On = []Against{}
	var stays money.Amount
	for _, part := range p.Parts {
		l.On = append(l.On, Against{InvoiceID: part.Invoice, Amount: s.Money(part.Amount)})
		l.Numbers = append(l.Numbers, of[part.Invoice].Number)
		stays += of[part.Invoice].Balance - part.Amount
	}
	if p.Over != 0 {
		l.Over = s.Money(p.Over)
	}
	if stays > 0 {
		l.Stays = s.Money(stays)
	}
	var why []string
	for _, w := range p.Why {
		why = append(why, map[matching.Why]string{
			matching.ByNumber: "the text names " + words.Listed(l.Numbers), matching.ByAmount: "the amount is what is open",
			matching.ByName: "the name",
		}[w])
	}
	l.Why = strings.Join(why, ", ")
}

// TakingSlips records receipts as they are proposed, or as is said of each.
type TakingSlips struct {
	Key   string      `json:"key,omitempty"`
	Slips []TakenSlip `json:"slips" minItems:"1" maxItems:"5000"`
}

// TakenSlip records one receipt: as a payment of a customer, or as the payment that was recorded before.
type TakenSlip struct {
	ID         int64     `json:"id"`
	CustomerID int64     `json:"customerId,omitempty"`
	On         []Against `json:"on,omitempty" doc:"absent: the oldest due date first"`
	PaymentID  int64     `json:"paymentId,omitempty"`
}

// TakeSlips records receipts of the bank as payments, all or none of them.
func TakeSlips(ctx context.Context, b *book.Book, actor book.Actor, in TakingSlips) error {
	return book.Change(ctx, b, actor, book.Bill, func(s *book.Session) error {
		_, err := book.Once(s, "slips", in.Key, in, func() (book.Done, error) {
			for i, t := range in.Slips {
				if err := takeSlip(s, t); err != nil {
					return book.Done{}, refuse.Under(fmt.Sprintf("slips[%d].", i), err)
				}
			}
			return book.Done{}, nil
		})
		return err
	})
}

func takeSlip(s *book.Session, t TakenSlip) error {
	line, err := openLine(s, t.ID)
	if err != nil {
		return err
	}
	if t.PaymentID != 0 {
		return recordLine(s, line.ID, t.PaymentID)
	}
	_, err = takePayment(s, NewPayment{
		CustomerID: t.CustomerID, Amount: s.Money(line.Amount), Date: line.Date.String(), Method: "transfer",
		Reference: words.Within(line.Text, mostReference), BankLineID: line.ID, On: t.On,
	})
	return err
}

// mostReference bounds the reference of a payment that the bank told of, in characters.
const mostReference = 140

// openLine is a receipt that is neither recorded nor set aside.
func openLine(s *book.Session, lineID int64) (store.BankLine, error) {
	line, found, err := store.One[store.BankLine](s.Tx, lineID)
	switch {
	case err != nil || !found:
		err = refuse.OrNotFound(err, "receipt")
	case line.PaymentID != nil:
		err = refuse.Conflict("this receipt of %s has been recorded already", line.Date)
	case line.Aside != "":
		err = refuse.Conflict("this receipt of %s was set aside: %s", line.Date, line.Aside)
	}
	return line, err
}

// recordLine says as which payment a receipt is recorded.
func recordLine(s *book.Session, lineID, paymentID int64) error {
	line, err := openLine(s, lineID)
	if err != nil {
		return err
	}
	return refuse.Guarded(s.Exec("UPDATE bank_lines SET payment_id = ? WHERE id = ?", paymentID, line.ID).Error)
}

// SetSlipAside sets a receipt aside that pays no invoice, such as interest, or brings it back; a blank reason brings it back.
func SetSlipAside(ctx context.Context, b *book.Book, actor book.Actor, lineID int64, in SlipAside) error {
	return book.Change(ctx, b, actor, book.Bill, func(s *book.Session) error {
		line, found, err := store.One[store.BankLine](s.Tx, lineID)
		switch {
		case err != nil || !found:
			return refuse.OrNotFound(err, "receipt")
		case line.PaymentID != nil:
			return refuse.Conflict("this receipt of %s has been recorded already", line.Date)
		case line.Aside != in.Was:
			return refuse.Conflict("somebody else has set this receipt aside, or brought it back; look at it again")
		}
		c := s.Checks()
		reason := c.Text("reason", in.Reason)
		if !in.Back {
			reason = c.Needed("reason", in.Reason, "a reason")
		}
		if err := c.Err(); err != nil {
			return err
		}
		if in.Back {
			reason = ""
		}
		if err := s.Exec("UPDATE bank_lines SET aside = ? WHERE id = ?", reason, lineID).Error; err != nil {
			return err
		}
		return s.Record("set aside", "bank", lineID, map[string]string{"aside": line.Aside}, map[string]string{"aside": reason})
	})
}

// SlipAside says why a receipt is set aside, or that it is brought back.
type SlipAside struct {
	Reason string `json:"reason,omitempty"`
	Back   bool   `json:"back,omitempty"`
	Was    string `json:"was" doc:"the reason that it was set aside with, as it was seen; blank: none"`
}
