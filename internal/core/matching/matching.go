// Package matching proposes which open invoices a receipt in the bank pays, and says why.
package matching

import (
	"cmp"
	"slices"
	"strings"
	"unicode"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"

	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
)

// Invoice is an open invoice.
type Invoice struct {
	ID, Customer int64
	Number       string
	Order        int64 // its number without a prefix
	Due          calendar.Date
	Balance      money.Amount
}

// Receipt is money that came in, as the bank tells it.
type Receipt struct {
	Amount money.Amount
	Name   string // of who paid
	Text   string
}

// Why is what gave a receipt away.
type Why string

// The reasons of a [Proposal], the plainest first.
const (
	ByNumber Why = "number" // the text names the invoices
	ByAmount Why = "amount" // it is just what is open of one invoice
	ByName   Why = "name"   // who paid is a customer
	Unknown  Why = ""       // nothing gave it away
)

// Part is what of a receipt is set against an invoice.
type Part struct {
	Invoice int64
	Amount  money.Amount
}

// Proposal is whose receipt it is, and what it pays.
type Proposal struct {
	Customer int64 // 0: nobody known
	Why      []Why
	Words    []string // of its text that gave it away
	Parts    []Part
	Over     money.Amount // becomes credit
	Sure     bool         // nothing else could be meant
}

// Book is what receipts are matched with: what is open now.
type Book struct {
	invoices []Invoice
	byNumber map[string]int // by its number in lower case
	byAmount map[money.Amount][]int
	names    []customerName
	byOwner  map[int64][]int
}

type customerName struct {
	id    int64
	words []string
}

// NewBook takes what is open, and what customers are called.
func NewBook(invoices []Invoice, customers map[int64]string) *Book {
	b := &Book{
		invoices: slices.Clone(invoices), byNumber: map[string]int{}, byAmount: map[money.Amount][]int{}, byOwner: map[int64][]int{},
	}
	slices.SortStableFunc(b.invoices, func(x, y Invoice) int { return cmp.Or(cmp.Compare(x.Due, y.Due), cmp.Compare(x.Order, y.Order)) })
	for i, v := range b.invoices {
		b.byNumber[strings.ToLower(v.Number)] = i
		b.byAmount[v.Balance] = append(b.byAmount[v.Balance], i)
		b.byOwner[v.Customer] = append(b.byOwner[v.Customer], i)
	}
	for id, name := range customers {
		if words := significant(name); len(words) > 0 {
			b.names = append(b.names, customerName{id, words})
		}
	}
	slices.SortFunc(b.names, func(x, y customerName) int { return cmp.Compare(x.id, y.id) })
	return b
}

// Propose says what a receipt pays. Where it is sure, what it pays is no longer open for the next one.
func (b *Book) Propose(r Receipt) Proposal {
	p := b.propose(r)
	if p.Sure {
		for _, part := range p.Parts {
			i := slices.IndexFunc(b.invoices, func(v Invoice) bool { return v.ID == part.Invoice })
			b.pay(i, part.Amount)
		}
	}
	return p
}

func (b *Book) pay(i int, amount money.Amount) {
	was := b.invoices[i].Balance
	b.byAmount[was] = slices.DeleteFunc(b.byAmount[was], func(at int) bool { return at == i })
	b.invoices[i].Balance -= amount
	b.byAmount[was-amount] = append(b.byAmount[was-amount], i)
}

func (b *Book) propose(r Receipt) Proposal {
	if r.Amount <= 0 {
		return Proposal{}
	}
	named, words := b.numbersIn(r.Text)
	payer := b.payer(r)
	if len(named) > 0 {
		return b.numbered(r, named, words, payer)
	}
	exact := b.openAt(r.Amount, payer)
	switch {
	case len(exact) == 1 && payer != 0:
		return b.of(r, payer, []Why{ByAmount, ByName}, exact, true)
	case len(exact) == 1:
		return b.of(r, b.invoices[exact[0]].Customer, []Why{ByAmount}, exact, false)
	case payer == 0:
		return Proposal{}
	}
	var all money.Amount
	for _, i := range b.byOwner[payer] {
		all += max(0, b.invoices[i].Balance)
	}
	return b.of(r, payer, []Why{ByName}, b.byOwner[payer], all == r.Amount && all > 0)
}

// numbered sets a receipt against the invoices that its text names. It is sure where it pays just these, of one customer.
func (b *Book) numbered(r Receipt, named []int, words []string, payer int64) Proposal {
	customer := b.invoices[named[0]].Customer
	named = slices.DeleteFunc(named, func(i int) bool { return b.invoices[i].Customer != customer })
	var due money.Amount
	for _, i := range named {
		due += max(0, b.invoices[i].Balance)
	}
	why := []Why{ByNumber}
	if due == r.Amount && len(named) == 1 {
		why = append(why, ByAmount)
	}
	if payer == customer {
		why = append(why, ByName)
	}
	p := b.of(r, customer, why, named, due == r.Amount && (payer == customer || payer == 0))
	p.Words = words
	return p
}

// of sets a receipt against some invoices of a customer, the oldest due date first.
func (b *Book) of(r Receipt, customer int64, why []Why, invoices []int, sure bool) Proposal {
	open := make([]billing.Open, len(invoices))
	for n, i := range invoices {
		open[n] = billing.Open{Due: b.invoices[i].Due, Number: b.invoices[i].Order, Balance: b.invoices[i].Balance}
	}
	parts, over := billing.Allocate(r.Amount, open)
	p := Proposal{Customer: customer, Why: why, Over: over, Sure: sure && over == 0}
	for n, amount := range parts {
		if amount != 0 {
			p.Parts = append(p.Parts, Part{b.invoices[invoices[n]].ID, amount})
		}
	}
	return p
}

func (b *Book) openAt(amount money.Amount, payer int64) (found []int) {
	for _, i := range b.byAmount[amount] {
		if payer == 0 || b.invoices[i].Customer == payer {
			found = append(found, i)
		}
	}
	return found
}

// numbersIn are the open invoices whose numbers a text has as words of their own, and those words.
func (b *Book) numbersIn(text string) (found []int, words []string) {
	for _, word := range strings.FieldsFunc(text, func(r rune) bool {
		return !unicode.IsLetter(r) && !unicode.IsDigit(r) && r != '-'
	}) {
		if i, is := b.byNumber[strings.ToLower(strings.Trim(word, "-"))]; is && !slices.Contains(found, i) && b.invoices[i].Balance > 0 {
			found, words = append(found, i), append(words, word)
		}
	}
	return found, words
}

// payer is the one customer whose name is in what the bank says; 0 where there is none, or more than one.
func (b *Book) payer(r Receipt) (id int64) {
	said := map[string]bool{}
	for _, word := range plainWords(r.Name + " " + r.Text) {
		said[word] = true
	}
	most := 0
	for _, c := range b.names {
		if slices.ContainsFunc(c.words, func(w string) bool { return !said[w] }) {
			continue
		}
		switch {
		case len(c.words) > most:
			id, most = c.id, len(c.words)
		case len(c.words) == most:
			id = 0 // two are meant as well
		}
	}
	return id
}

// common are words that many companies have in their names.
var common = []string{"the", "and", "of", "for", "inc", "llc", "ltd", "gmbh", "co", "corp", "company", "limited", "sa", "ag", "bv", "plc"}

// significant are the words of a name that tell it from others.
func significant(name string) []string {
	return slices.DeleteFunc(plainWords(name), func(w string) bool { return slices.Contains(common, w) || len([]rune(w)) < 2 })
}

// plainWords are the words of a text in lower case, without accents.
func plainWords(text string) []string {
	bare, _, err := transform.String(transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC), text)
	if err != nil {
		bare = text
	}
	return strings.FieldsFunc(strings.ToLower(bare), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
}
