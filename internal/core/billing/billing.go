// Package billing turns work that is ready into invoice lines and totals (calculation.md
// sections 7 and 8).
package billing

import (
	"cmp"
	"errors"
	"slices"

	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
)

// Labour is the category of time; cost lines have categories of their own.
const Labour = "labour"

// Categories are all the kinds of what is billed, in the order in which they are shown.
var Categories = []string{Labour, "material", "equipment", "subcontract", "expense", "mileage", "fixed", "other", Deposit}

// Basis is how a job or a phase of it is billed.
type Basis string

// The billing bases.
const (
	TimeAndMaterials Basis = "tm"
	Fixed            Basis = "fixed"
	Never            Basis = "none"
)

// Bases are the billing bases as they are written.
var Bases = []string{string(TimeAndMaterials), string(Fixed), string(Never)}

// TaxCode is the tax code that a job's work is billed with, of those that may have one in the order in which they decide: the job, its
// customer, the company. A customer who is exempt is billed without (calculation.md section 8).
func TaxCode(exempt bool, codes ...*int64) *int64 {
	if exempt {
		return nil
	}
	return cmp.Or(codes...)
}

// Aged is the column of the aging report that an open amount stands in: 0 where it is not overdue, then 1 to 30 days, 31 to 60, 61 to 90,
// and more (calculation.md section 9).
func Aged(daysLate calendar.Date) int {
	switch {
	case daysLate <= 0:
		return 0
	case daysLate > 90:
		return 4
	default:
		return int(daysLate-1)/30 + 1
	}
}

// Chargeable says that work is billed by what it took: it is billable, and its job or phase is on time and materials.
func Chargeable(billable bool, basis string) bool {
	return billable && Basis(basis) == TimeAndMaterials
}

// Grouping is how much detail the customer sees.
type Grouping string

// The groupings of labour; other costs stay a line each except under ByCategory and OneLine.
const (
	ByEntry    Grouping = "entry"
	ByWorker   Grouping = "worker"
	ByTrade    Grouping = "trade"
	ByCostCode Grouping = "cost_code"
	ByPhase    Grouping = "phase"
	ByDay      Grouping = "day"
	ByCategory Grouping = "category"
	OneLine    Grouping = "one"
)

// Groupings lists every grouping.
var Groupings = []Grouping{ByTrade, ByWorker, ByDay, ByPhase, ByCostCode, ByEntry, ByCategory, OneLine}

// ErrNegative refuses an invoice below 0.
var ErrNegative = errors.New("an invoice can't be below 0; leave the work unbilled, to be set against later work")

// Source is one entry or cost line, or a part of one, that goes on an invoice.
type Source struct {
	Job      int64
	TaxCode  int64 // 0: no tax
	Category string
	Date     calendar.Date
	Amount   money.Amount
	// Quantity and Unit are hours for labour (in 1/1 000 h, exact minutes in Minutes).
	Minutes  money.Minutes
	Quantity money.Quantity
	Unit     string
	// The texts a group may be named by.
	Worker, Trade, CostCode, Phase, Text string
	// Own says that a person typed it on the invoice: it is a line of its own in every grouping.
	Own bool
	// Hours are, where hours and rates are shown, the stretches of time at a price whose sum it is.
	Hours []Hours
}

// TaxKind is what a tax code says of what it is put on.
type TaxKind string

// The kinds of tax codes. Only a standard one has components.
const (
	Standard      TaxKind = "standard"
	ZeroRated     TaxKind = "zero"
	TaxFree       TaxKind = "exempt"
	ReverseCharge TaxKind = "reverse_charge"
)

// TaxSchemes are the kinds of tax that a component can be, by the code list UNCL 5153: of a state or a province, local, on goods and
// services, on value added, another. Blank is the one that is usual in the company's country.
var TaxSchemes = []string{"", "STT", "LOC", "GST", "VAT", "OTH"}

// TaxKinds are the kinds of tax codes as they are written.
var TaxKinds = []TaxKind{Standard, ZeroRated, TaxFree, ReverseCharge}

// TaxComponent is one version of one part of a tax code.
type TaxComponent struct {
	Code      int64
	Name      string
	From      *calendar.Date // nil: always
	Percent   money.Percent
	AppliesTo []string
	// OnRelease says that the tax of what is retained is due once it is released.
	OnRelease bool
}

// EffectiveTaxes are the components that hold on the date of an invoice: of each the latest version on or before it. They stay in the
// order in which the components first come.
func EffectiveTaxes(rows []TaxComponent, on calendar.Date) []TaxComponent {
	type key struct {
		code int64
		name string
	}
	at := map[key]int{}
	var in []TaxComponent
	for _, r := range rows {
		if r.From != nil && *r.From > on {
			continue
		}
		k := key{r.Code, r.Name}
		i, found := at[k]
		switch {
		case !found:
			at[k] = len(in)
			in = append(in, r)
		case in[i].From == nil || r.From != nil && *r.From > *in[i].From:
			in[i] = r
		}
	}
	return in
}

// Tax is what one component comes to on an invoice.
type Tax struct {
	Component TaxComponent
	Base, Tax money.Amount
}

// Taxes works each component out once, on the sum of the amounts it applies to; components that
// apply to nothing here are left out. The components are those of [EffectiveTaxes] on the invoice's date.
func Taxes(sources []Source, components []TaxComponent, retainage map[int64]Retainage) ([]Tax, error) {
	var taxes []Tax
	for _, c := range components {
		base, jobs, touched := money.Amount(0), map[int64]money.Amount{}, false
		for _, s := range sources {
			if s.TaxCode == c.Code && slices.Contains(c.AppliesTo, s.Category) {
				base += s.Amount
				jobs[s.Job] += s.Amount
				touched = true
			}
		}
		if !touched {
			continue
		}
		amount, err := c.Percent.Of(base)
		if err != nil {
			return nil, err
		}
		if c.OnRelease {
			later, err := c.later(jobs, retainage)
			if err != nil {
				return nil, err
			}
			amount -= later
		}
		taxes = append(taxes, Tax{c, base, amount})
	}
	return taxes, nil
}

// later is the tax of what is retained: percent of each job's share of its base (calculation.md section 12).
func (c TaxComponent) later(jobs map[int64]money.Amount, retainage map[int64]Retainage) (money.Amount, error) {
	var held money.Amount
	for job, base := range jobs {
		part, err := retainage[job].Percent.Of(base)
		if err != nil {
			return 0, err
		}
		held += part
	}
	return c.Percent.Of(held)
}

// Retainage is what a customer holds back of a job: so much of what is billed, and what is held of it already.
type Retainage struct {
	Percent money.Percent
	Held    money.Amount
}

// Of is the retainage on a job's share of an invoice. On a share below 0 it gives back at most what is held.
func (r Retainage) Of(subtotal money.Amount) (money.Amount, error) {
	held, err := r.Percent.Of(subtotal)
	return max(held, min(0, -r.Held)), err
}

// JobShare is one job's part of an invoice.
type JobShare struct {
	Job              int64
	Subtotal         money.Amount
	RetainagePercent money.Percent
	Retainage        money.Amount
}

// Totals are the sums under an invoice.
type Totals struct {
	Subtotal, Tax, Total, Retainage, DueNow money.Amount
	Taxes                                   []Tax
	Jobs                                    []JobShare
}

// Add totals an invoice: subtotal of the sources, tax, and each job's retainage on its subtotal.
// Below 0 it is ErrNegative.
func Add(sources []Source, components []TaxComponent, retainage map[int64]Retainage) (Totals, error) {
	var t Totals
	var err error
	for _, s := range sources {
		i := slices.IndexFunc(t.Jobs, func(j JobShare) bool { return j.Job == s.Job })
		if i < 0 {
			i = len(t.Jobs)
			t.Jobs = append(t.Jobs, JobShare{Job: s.Job, RetainagePercent: retainage[s.Job].Percent})
		}
		t.Jobs[i].Subtotal += s.Amount
		if t.Subtotal, err = money.Sum(t.Subtotal, s.Amount); err != nil {
			return t, err
		}
	}
	if t.Taxes, err = Taxes(sources, components, retainage); err != nil {
		return t, err
	}
	for _, tax := range t.Taxes {
		t.Tax += tax.Tax
	}
	for i := range t.Jobs {
		j := &t.Jobs[i]
		if j.Retainage, err = retainage[j.Job].Of(j.Subtotal); err != nil {
			return t, err
		}
		t.Retainage += j.Retainage
	}
	t.Total = t.Subtotal + t.Tax
	t.DueNow = t.Total - t.Retainage
	if t.Total < 0 || t.DueNow < 0 || t.Subtotal < 0 {
		return t, ErrNegative
	}
	return t, nil
}
