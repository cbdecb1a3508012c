package billing

import (
	"cmp"
	"maps"
	"slices"

	"jarvo/internal/core/money"
	"jarvo/internal/core/worktime"
)

// Hours are a stretch of working time of one class at one price an hour: the price of the rate card x the factor of the class.
type Hours struct {
	Class   worktime.Class
	Price   money.Rate
	Minutes money.Minutes
}

// ShowsRates says that under a grouping hours can be shown with their rate.
func (g Grouping) ShowsRates() bool { return g != ByCategory && g != OneLine }

// Rounding is what the line is called that makes up for what hours x rate differ from what their sources are charged.
const Rounding = "Rounding"

// Line is one line of an invoice.
type Line struct {
	Job      int64
	Category string
	Text     string
	Minutes  money.Minutes
	Quantity money.Quantity
	Unit     string
	Rate     money.Rate // an hour, where the amount is that x minutes / 60; 0: none is shown
	Amount   money.Amount
	Sources  []int // indexes into what was grouped; a source with hours on several lines is on the first of them

	rank lineRank
}

// lineRank is what the lines of a job and kind are sorted by: the hours of one text stay together.
type lineRank struct {
	group, class, seen int
}

// lineKey is what goes on one line.
type lineKey struct {
	textKey
	class worktime.Class
	price money.Rate
}

type textKey struct {
	job      int64
	category string
	text     string
	apart    int
}

// grouper makes lines of sources.
type grouper struct {
	index map[lineKey]int
	texts map[textKey]int // in the order in which they first came
	lines []Line
	exact map[int64]money.Amount // by job: what the sources on lines with a rate are charged
}

// Group makes invoice lines: a job after the other as they come, its kinds of cost in the order of [Categories], and in them by text. Where
// sources say their hours, and the grouping shows rates, a group is also parted by class and price, and a line shows hours x price; what
// that differs from the sources by is a line [Rounding]. So grouping never changes a total (calculation.md section 8).
func Group(sources []Source, by Grouping, cur money.Currency) ([]Line, error) {
	g := grouper{index: map[lineKey]int{}, texts: map[textKey]int{}, exact: map[int64]money.Amount{}}
	for i, s := range sources {
		key := s.key(by, i)
		if len(s.Hours) == 0 || !by.ShowsRates() {
			l := g.line(lineKey{textKey: key}, s)
			l.Amount += s.Amount
			l.Minutes += s.Minutes
			l.Quantity += s.Quantity
			if l.Unit != s.Unit {
				l.Quantity, l.Unit = 0, ""
			}
			l.Sources = append(l.Sources, i)
			continue
		}
		g.exact[s.Job] += s.Amount
		for n, h := range s.Hours {
			l := g.line(lineKey{key, h.Class, h.Price}, s)
			l.Minutes += h.Minutes
			l.Rate = h.Price
			if n == 0 {
				l.Sources = append(l.Sources, i)
			}
		}
	}
	if err := g.price(cur); err != nil {
		return nil, err
	}
	slices.SortStableFunc(g.lines, func(a, b Line) int {
		return cmp.Or(
			cmp.Compare(jobOrder(sources, a.Job), jobOrder(sources, b.Job)),
			cmp.Compare(slices.Index(Categories, a.Category), slices.Index(Categories, b.Category)),
			cmp.Compare(a.rank.group, b.rank.group), cmp.Compare(a.rank.class, b.rank.class), cmp.Compare(a.rank.seen, b.rank.seen),
		)
	})
	return g.lines, nil
}

// line is the line that something goes on.
func (g *grouper) line(key lineKey, s Source) *Line {
	at, found := g.index[key]
	if !found {
		group, known := g.texts[key.textKey]
		if !known {
			group = len(g.texts)
			g.texts[key.textKey] = group
		}
		at = len(g.lines)
		g.index[key] = at
		l := Line{Job: s.Job, Category: key.category, Text: key.text, Unit: s.Unit, rank: lineRank{group, int(key.class), at}}
		if key.class != worktime.Regular {
			l.Text += ", " + classNames[key.class]
		}
		g.lines = append(g.lines, l)
	}
	return &g.lines[at]
}

var classNames = [worktime.ClassCount]string{worktime.Overtime: "overtime", worktime.Double: "double time"}

// price works out the lines with a rate, and what they differ from their sources by.
func (g *grouper) price(cur money.Currency) error {
	for i := range g.lines {
		l := &g.lines[i]
		if l.Rate == 0 {
			continue
		}
		var err error
		if l.Amount, err = cur.ForTime(l.Rate, money.One, l.Minutes); err != nil {
			return err
		}
		g.exact[l.Job] -= l.Amount
	}
	for _, job := range slices.Sorted(maps.Keys(g.exact)) {
		if rest := g.exact[job]; rest != 0 {
			g.lines = append(g.lines, Line{
				Job: job, Category: Labour, Text: Rounding, Amount: rest, rank: lineRank{group: len(g.texts)},
			})
		}
	}
	return nil
}

func jobOrder(sources []Source, job int64) int {
	return slices.IndexFunc(sources, func(s Source) bool { return s.Job == job })
}

func (s Source) key(by Grouping, i int) textKey {
	k := textKey{job: s.Job, category: s.Category}
	switch {
	case s.Own:
		k.text, k.apart = s.Text, i+1
	case by == OneLine:
		k.category, k.text = "", "Work and materials"
	case by == ByCategory:
		k.text = s.Category
	case s.Category != Labour || by == ByEntry:
		k.text, k.apart = s.Text, i+1
	case by == ByWorker:
		k.text = s.Worker
	case by == ByTrade:
		k.text = cmp.Or(s.Trade, s.Worker)
	case by == ByCostCode:
		k.text = cmp.Or(s.CostCode, "without a cost code")
	case by == ByPhase:
		k.text = cmp.Or(s.Phase, "without a phase")
	case by == ByDay:
		k.text = s.Date.String()
	}
	return k
}
