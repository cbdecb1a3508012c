package billing_test

import (
	"cmp"
	"fmt"
	"math/big"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/reports"
	"jarvo/internal/bundle"
)

// second works the papers of a bundle out once more, from what they bill, credit, release and apply alone: all amounts in cents, by
// sections 8, 11, 12 and 13 of calculation.md. It shares nothing with the program.
type second struct {
	t      testing.TB
	tables map[string][]map[string]string
	papers map[string]*secondPaper // by number
	order  []*secondPaper
}

// secondPaper is an invoice with what is left of it after the notes so far.
type secondPaper struct {
	row      map[string]string
	base     map[[2]string]int64 // by job and category
	held     map[string]int64    // by job
	percent  map[string]*big.Rat // that is retained, by job
	code     map[string]string   // tax code by job
	taxes    []map[string]string // its components, as invoiced
	released map[string][]heldFrom
	due      int64
}

type heldFrom struct {
	paper  *secondPaper
	amount int64
}

// papersAgree compares the papers of a book with a second computation of them.
func papersAgree(t testing.TB, b *book.Book) {
	t.Helper()
	data, err := exchange.Export(ctx, b, book.Console)
	require.NoError(t, err)
	s := &second{t: t, tables: map[string][]map[string]string{}, papers: map[string]*secondPaper{}}
	for _, table := range bundle.Tables {
		for _, values := range data[table.File] {
			row := map[string]string{}
			for i, c := range table.Columns {
				row[c.Name] = values[i]
			}
			s.tables[table.File] = append(s.tables[table.File], row)
		}
	}
	issued := s.where("invoices.csv", "status", "issued")
	slices.SortFunc(issued, func(a, b map[string]string) int { return cmp.Compare(whole(a["number"]), whole(b["number"])) })
	for _, row := range issued {
		s.paper(row)
	}
	s.balances(b)
}

func (s *second) where(file string, cells ...string) (found []map[string]string) {
	for _, row := range s.tables[file] {
		if ok := true; ok {
			for i := 0; i < len(cells); i += 2 {
				ok = ok && row[cells[i]] == cells[i+1]
			}
			if ok {
				found = append(found, row)
			}
		}
	}
	return found
}

func whole(text string) int64 { n, _ := strconv.ParseInt(text, 10, 64); return n }

func cents(text string) int64 {
	v, ok := new(big.Rat).SetString(cmp.Or(text, "0"))
	if !ok {
		panic(text)
	}
	return v.Mul(v, big.NewRat(100, 1)).Num().Int64()
}

// share is a percentage of an amount, half away from zero.
func share(percent *big.Rat, of int64) int64 {
	return nearest(new(big.Rat).Mul(percent, big.NewRat(of, 100)))
}

func nearest(v *big.Rat) int64 {
	half := big.NewRat(1, 2)
	if v.Sign() < 0 {
		return -nearest(new(big.Rat).Neg(v))
	}
	v = new(big.Rat).Add(v, half)
	return new(big.Int).Quo(v.Num(), v.Denom()).Int64()
}

func rational(text string) *big.Rat {
	v, _ := new(big.Rat).SetString(cmp.Or(text, "0"))
	return v
}

// placeOf is the job and the category of a piece of work, or of a line that was typed.
func (s *second) placeOf(row map[string]string, invoice string) [2]string {
	switch {
	case row["time_entry"] != "":
		return [2]string{s.where("time_entries.csv", "ref", row["time_entry"])[0]["job"], "labour"}
	case row["document"] != "":
		l := s.where("cost_lines.csv", "document", row["document"], "line", row["line"])[0]
		return [2]string{l["job"], l["category"]}
	}
	l := s.where("invoice_lines.csv", "invoice", invoice, "position", row["line_position"])[0]
	return [2]string{l["job"], l["category"]}
}

func (p *secondPaper) subtotal(job string) (sum int64) {
	for place, amount := range p.base {
		if place[0] == job && place[1] != "deposit" {
			sum += amount
		}
	}
	return sum
}

// tax is the tax of a component on what is left of a paper.
func (p *secondPaper) tax(of map[string]string) int64 {
	var base, later int64
	byJob := map[string]int64{}
	for place, amount := range p.base {
		if p.code[place[0]] == of["tax_code"] && slices.Contains(strings.Fields(of["applies_to"]), place[1]) {
			base += amount
			byJob[place[0]] += amount
		}
	}
	if of["on_release"] == "yes" {
		for job, amount := range byJob {
			all, held := share(p.percent[job], p.subtotal(job)), p.held[job]
			part := share(p.percent[job], amount)
			switch {
			case all == 0 || held == 0:
				part = 0
			case held != all:
				part = nearest(new(big.Rat).Mul(big.NewRat(part, 1), big.NewRat(held, all)))
			}
			later += part
		}
	}
	percent := rational(of["percent"])
	return share(percent, base) - share(percent, later)
}

func (p *secondPaper) allTax() (sum int64) {
	for _, t := range p.taxes {
		sum += p.tax(t)
	}
	return sum
}

func (s *second) heldOf(job string) (sum int64) {
	for _, p := range s.order {
		sum += p.held[job]
	}
	return sum
}

// paper works one paper out and compares it.
func (s *second) paper(row map[string]string) {
	ref := row["ref"]
	var subtotal, tax, retained, prepaid int64
	switch {
	case row["credit_of"] != "":
		subtotal, tax, retained = s.note(ref, s.papers[row["credit_of"]])
	default:
		p := &secondPaper{
			row: row, base: map[[2]string]int64{}, held: map[string]int64{}, percent: map[string]*big.Rat{}, code: map[string]string{},
			taxes: s.where("invoice_taxes.csv", "invoice", ref, "deposit", ""), released: map[string][]heldFrom{},
		}
		s.papers[ref] = p
		if releases := s.where("releases.csv", "invoice", ref, "from", ""); len(releases) > 0 {
			p.taxes = nil
			tax, retained = s.release(p, releases)
		} else {
			subtotal, tax, retained = s.invoice(ref, p)
		}
		for _, a := range s.where("applied_deposits.csv", "invoice", ref) {
			deposit := s.papers[a["deposit"]]
			before := deposit.allTax()
			for place := range deposit.base {
				deposit.base[place] -= cents(a["amount"])
			}
			tax -= before - deposit.allTax()
			prepaid += cents(a["amount"])
		}
		s.order = append(s.order, p)
		p.due = subtotal + tax - retained - prepaid
	}
	want := []int64{subtotal, tax, retained, subtotal + tax, prepaid, subtotal + tax - retained - prepaid}
	got := make([]int64, 0, len(want))
	for _, column := range []string{"subtotal", "tax", "retainage", "total", "prepaid", "due_now"} {
		got = append(got, cents(row[column]))
	}
	assert.Equal(s.t, want, got, "subtotal, tax, retainage, total, prepaid and due now of paper %s", ref)
	if row["credit_of"] != "" {
		s.papers[row["credit_of"]].due += subtotal + tax - retained
	}
}

func (s *second) invoice(ref string, p *secondPaper) (subtotal, tax, retained int64) {
	for _, src := range s.where("invoice_sources.csv", "invoice", ref) {
		p.base[s.placeOf(src, ref)] += cents(src["amount"])
	}
	for _, l := range s.where("invoice_lines.csv", "invoice", ref) {
		if l["typed_line"] != "0" {
			p.base[[2]string{l["job"], l["category"]}] += cents(l["amount"])
		}
	}
	for _, amount := range p.base {
		subtotal += amount
	}
	for _, j := range s.where("invoice_jobs.csv", "invoice", ref) {
		job := j["job"]
		p.percent[job], p.code[job] = rational(j["retainage_percent"]), j["tax_code"]
		held := share(p.percent[job], p.subtotal(job))
		if held < 0 {
			held = max(held, -max(0, s.heldOf(job)))
		}
		p.held[job] = held
		retained += held
	}
	return subtotal, p.allTax(), retained
}

// note works a credit note out, on an invoice or on a release.
func (s *second) note(ref string, on *secondPaper) (subtotal, tax, retained int64) {
	if releases := s.where("releases.csv", "invoice", ref, "from", ""); len(releases) > 0 {
		return s.heldAgain(on, releases)
	}
	before := on.allTax()
	was := map[string]int64{}
	for job := range on.percent {
		was[job] = on.subtotal(job)
	}
	for _, c := range s.where("credits.csv", "invoice", ref) {
		on.base[s.placeOf(c, on.row["ref"])] -= cents(c["amount"])
		subtotal -= cents(c["amount"])
	}
	for job, percent := range on.percent {
		back := share(percent, was[job]) - share(percent, on.subtotal(job))
		if back > 0 {
			back = min(back, max(0, min(on.held[job], s.heldOf(job))))
		}
		on.held[job] -= back
		retained -= back
	}
	return subtotal, on.allTax() - before, retained
}

// release takes what is released of each job from those below 0 first, then from the oldest.
func (s *second) release(p *secondPaper, releases []map[string]string) (tax, retained int64) {
	oldest := slices.Clone(s.order)
	slices.SortFunc(oldest, func(a, b *secondPaper) int {
		return cmp.Or(cmp.Compare(a.row["date"], b.row["date"]), cmp.Compare(whole(a.row["number"]), whole(b.row["number"])))
	})
	before := map[*secondPaper]int64{}
	for _, o := range oldest {
		before[o] = o.allTax()
	}
	for _, r := range releases {
		job, left := r["job"], cents(r["amount"])
		retained -= left
		take := func(o *secondPaper, amount int64) {
			if amount != 0 {
				p.released[job] = append(p.released[job], heldFrom{o, amount})
				o.held[job] -= amount
				left -= amount
			}
		}
		for _, o := range oldest {
			take(o, min(0, o.held[job]))
		}
		for _, o := range oldest {
			take(o, max(0, min(left, o.held[job])))
		}
		assert.Zero(s.t, left, "what is released of job %s is held", job)
	}
	for _, o := range oldest {
		tax += o.allTax() - before[o]
	}
	return tax, retained
}

func (s *second) heldAgain(on *secondPaper, releases []map[string]string) (subtotal, tax, retained int64) {
	before := map[*secondPaper]int64{}
	for _, o := range s.order {
		before[o] = o.allTax()
	}
	for _, r := range releases {
		job, left := r["job"], -cents(r["amount"])
		retained += left
		from := on.released[job]
		var all int64
		for _, f := range from {
			all += f.amount
		}
		slices.SortFunc(from, func(a, b heldFrom) int {
			return cmp.Or(cmp.Compare(b.paper.row["date"], a.paper.row["date"]),
				cmp.Compare(whole(b.paper.row["number"]), whole(a.paper.row["number"])))
		})
		whole := left == all
		for i, f := range from {
			amount := max(0, min(left, f.amount))
			if whole {
				amount = f.amount
			}
			from[i].amount -= amount
			f.paper.held[job] += amount
			left -= amount
		}
	}
	for _, o := range s.order {
		tax += o.allTax() - before[o]
	}
	return 0, tax, retained
}

// balances compares what is owed of each invoice, and what each job was billed.
func (s *second) balances(b *book.Book) {
	s.t.Helper()
	owed, billed := map[string]int64{}, map[string]int64{}
	for ref, p := range s.papers {
		owed[ref] = p.due
	}
	for _, a := range s.where("payment_allocations.csv") {
		owed[a["invoice"]] -= cents(a["amount"])
	}
	for _, p := range s.order {
		for job := range p.percent {
			billed[job] += p.subtotal(job)
		}
	}
	invoices := report(s.t, b, "invoices")
	for _, row := range invoices.Rows {
		at := func(column string) string { return row[slices.Index(invoices.Columns, column)] }
		assert.Equal(s.t, owed[at("number")], cents(at("balance")), "balance of %s", at("number"))
	}
	jobs := report(s.t, b, "job-profit")
	for _, row := range jobs.Rows {
		at := func(column string) string { return row[slices.Index(jobs.Columns, column)] }
		assert.Equal(s.t, billed[at("job")], cents(at("billed")), fmt.Sprintf("billed of job %s", at("job")))
	}
}

func report(t testing.TB, b *book.Book, name string) reports.Report {
	t.Helper()
	r, err := reports.Make(ctx, b, book.Console, name, reports.ReportQuery{})
	require.NoError(t, err)
	return r
}
