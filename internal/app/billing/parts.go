package billing

import (
	"context"
	"fmt"
	"slices"

	"jarvo/internal/app/book"
	"jarvo/internal/app/drafting"
	"jarvo/internal/app/form"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/app/scope"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/money"
	"jarvo/internal/core/words"
	"jarvo/internal/store"
)

// PartOf says how much of some work a draft bills, and what becomes of the rest (calculation.md section 7).
type PartOf struct {
	Kind   string `json:"kind"`
	ID     int64  `json:"id"`
	Way    string `json:"way" doc:"none: it is not on this draft; hold: nor on the next ones, until it is let go"`
	Value  string `json:"value,omitempty" doc:"hours, quantity, percent, amount or rate an hour, by the way"`
	Rest   string `json:"rest,omitempty" doc:"what becomes of what is left; absent: it waits for a later invoice"`
	Down   string `json:"down,omitempty" doc:"how much of what is left is written down; absent: all of it"`
	Reason string `json:"reason,omitempty" doc:"why it is written up or down, or held"`
}

// DraftParts change some of the parts that a draft bills, on the version that was seen.
type DraftParts struct {
	Version  int64    `json:"version" doc:"as it was seen"`
	Parts    []PartOf `json:"parts" minItems:"1" maxItems:"5000"`
	Together string   `json:"together,omitempty" doc:"an amount for all of them, spread over what there is of each; their way is amount"`
}

// The kinds of sources, the ways in which work is not on a draft, and what becomes of what is left.
const (
	hours    = "time_entry"
	line     = "cost_line"
	offDraft = "none"
	onHold   = "hold"
	atRate   = "rate" // an amount: so much an hour
	waits    = "later"
	goesDown = "down"
)

// SourceKinds, PartWays and Rests are the words of a [PartOf].
var (
	SourceKinds = []string{hours, line}
	PartWays    = []string{
		string(billing.TheRest), string(billing.ByHours), string(billing.ByQuantity), string(billing.ByPercent), string(billing.ByAmount),
		atRate, offDraft, onHold,
	}
	Rests = []string{waits, goesDown}
)

// Choose changes how much of some work a draft bills; work of its jobs that is not on it yet comes onto it.
func Choose(ctx context.Context, b *book.Book, actor book.Actor, draftID int64, in DraftParts) (InvoiceView, error) {
	return changeDraft(ctx, b, actor, draftID, in.Version, func(s *book.Session, draft *store.Invoice) error {
		d := &parting{Session: s, draft: *draft, checks: s.Checks()}
		if err := d.load(in.Parts); err != nil {
			return err
		}
		if in.Together != "" {
			if err := d.spread(in); err != nil {
				return err
			}
		}
		for i, p := range in.Parts {
			if err := d.part(fmt.Sprintf("parts[%d].", i), p); err != nil {
				return err
			}
		}
		if err := d.checks.Err(); err != nil {
			return err
		}
		left, err := drafting.LeftOn(s, draftID)
		if err == nil && left == 0 {
			err = errNothingLeft
		}
		return err
	})
}

// parting is a draft while its parts are changed.
type parting struct {
	*book.Session
	draft  store.Invoice
	checks *form.Checks
	on     []drafting.DraftSource // what is on it
	free   []drafting.DraftSource // what could be, once it is asked for
	done   []PartOf               // what was changed so far
}

// load reads the parts that are to be changed.
func (d *parting) load(parts []PartOf) (err error) {
	asks, err := store.Value[int64](d.Tx, asksForDeposit, d.draft.ID)
	if err == nil && asks != 0 {
		err = refuse.Conflict("a deposit is asked for on an invoice of its own; bill the work on another and apply it there")
	}
	if err != nil {
		return err
	}
	of := map[string][]int64{}
	for _, p := range parts {
		of[p.Kind] = append(of[p.Kind], p.ID)
	}
	d.on, err = drafting.Some(d.Session, d.draft, of[hours], of[line])
	return err
}

func isOf(p PartOf) func(drafting.DraftSource) bool {
	return func(src drafting.DraftSource) bool {
		return p.Kind == hours && src.EntryID == p.ID || p.Kind == line && src.CostLineID == p.ID
	}
}

// find is where a piece of work is on the draft or, below 0 there, among what could be on it.
func (d *parting) find(p PartOf) (on, free int, err error) {
	if on = slices.IndexFunc(d.on, isOf(p)); on >= 0 {
		return on, -1, nil
	}
	if d.free == nil {
		jobs, err := store.Query[int64](d.Tx, jobsOnInvoice, d.draft.ID)
		if err != nil {
			return 0, 0, err
		}
		if d.free, err = drafting.Offered(d.Session, jobs); err != nil {
			return 0, 0, err
		}
	}
	return -1, slices.IndexFunc(d.free, isOf(p)), err
}

// spread gives each part its share of an amount for all of them, by what there is to bill of each.
func (d *parting) spread(in DraftParts) error {
	amount := form.Parsed(d.checks, "together", in.Together, d.checks.Currency.ParseAmount)
	weights := make([]int64, len(in.Parts))
	for i, p := range in.Parts {
		on, free, err := d.find(p)
		if err != nil {
			return err
		}
		switch {
		case p.Way != string(billing.ByAmount):
			d.checks.Add(fmt.Sprintf("parts[%d].way", i), "an amount for all of them is billed of each as an amount")
		case on >= 0:
			weights[i] = int64(d.on[on].ToBill())
		case free >= 0:
			weights[i] = int64(d.free[free].Left)
		}
	}
	for i, share := range money.Spread(amount, weights) {
		in.Parts[i].Value = d.Money(share)
	}
	return nil
}

// part changes one part of the draft.
func (d *parting) part(path string, p PartOf) error {
	c := d.checks
	c.OneOf(path+"way", p.Way, PartWays...)
	c.OneOf(path+"rest", orWaits(p.Rest), Rests...)
	reason := c.Text(path+"reason", p.Reason)
	if slices.ContainsFunc(d.done, func(q PartOf) bool { return q.Kind == p.Kind && q.ID == p.ID }) {
		c.Add(path+"id", "this is changed above already")
		return nil
	}
	d.done = append(d.done, p)
	at, free, err := d.find(p)
	if err != nil {
		return err
	}
	if at < 0 && free < 0 {
		c.Add(path+"way", "this is not ready to bill any more; somebody else may have billed it")
		return nil
	}
	if p.Way == offDraft || p.Way == onHold {
		return d.takeOff(p, at, reason)
	}
	if at < 0 {
		if err := d.putOn(d.free[free]); err != nil {
			return err
		}
		at = len(d.on) - 1
	}
	return d.choose(path, p, d.on[at], reason)
}

func orWaits(rest string) string {
	if rest == "" {
		return waits
	}
	return rest
}

// takeOff takes work off the draft; held, no bill run takes it until it is let go.
func (d *parting) takeOff(p PartOf, at int, note string) error {
	if at >= 0 {
		if err := d.Exec("DELETE FROM invoice_sources WHERE id = ?", d.on[at].SourceID).Error; err != nil {
			return err
		}
	}
	if err := d.Exec("DELETE FROM holds WHERE "+columnOf(p.Kind)+" = ?", p.ID).Error; err != nil || p.Way != onHold {
		return err
	}
	hold := store.Hold{Note: note, HeldBy: d.Actor.Name, HeldAt: d.Book.Now().UnixMilli()}
	if p.Kind == hours {
		hold.EntryID = &p.ID
	} else {
		hold.CostLineID = &p.ID
	}
	return d.Create(&hold).Error
}

func columnOf(kind string) string {
	if kind == hours {
		return "entry_id"
	}
	return "cost_line_id"
}

func (d *parting) putOn(src drafting.DraftSource) error {
	row := store.InvoiceSource{
		InvoiceID: d.draft.ID, EntryID: store.Ref(src.EntryID), CostLineID: store.Ref(src.CostLineID), Part: src.Part,
		Way: string(billing.TheRest), Charge: src.Charge, Amount: src.Amount,
	}
	if err := d.Create(&row).Error; err != nil {
		return err
	}
	src.SourceID = row.ID
	src.Left -= src.Amount
	d.on = append(d.on, src)
	return nil
}

// choose sets how much of the work of a source the draft bills.
func (d *parting) choose(path string, p PartOf, src drafting.DraftSource, reason string) error {
	c := d.checks
	if p.Way == atRate {
		if err := d.rated(path, &p, src); err != nil || len(c.Fields) > 0 {
			return err
		}
	}
	typed := d.typed(path+"value", billing.Way(p.Way), p.Value)
	if len(c.Fields) > 0 {
		return nil
	}
	src.Way = billing.Way(p.Way)
	w, err := drafting.WorkOf(d.Session, src)
	if err != nil {
		return err
	}
	part, err := w.Take(src.Way, typed)
	if err != nil {
		c.Add(path+"value", "%s", err)
		return nil
	}
	chosen := drafting.Chosen{Way: src.Way, Typed: typed, Up: part.Up, Reason: reason}
	if rest := w.Rest(part); p.Rest == goesDown && rest != 0 {
		chosen.AllDown, chosen.Down = p.Down == "", rest
		if p.Down != "" {
			chosen.Down = form.Parsed(c, path+"down", p.Down, c.Currency.ParseAmount)
			if chosen.Down != 0 && (chosen.Down > 0) != (rest > 0) || max(chosen.Down, -chosen.Down) > max(rest, -rest) {
				c.Add(path+"down", "only %s of it is left", d.Money(rest))
			}
		}
		if w.Held != 0 {
			c.Add(path+"rest", "%s", billing.ErrHeld)
		}
	}
	if (chosen.Up != 0 || chosen.Down != 0) && reason == "" {
		c.Add(path+"reason", "say why it is written up or down")
	}
	if len(c.Fields) > 0 {
		return nil
	}
	return d.Exec(drafting.KeepChosen, map[string]any{
		"id": src.SourceID, "way": chosen.Way, "typed": chosen.Typed, "amount": part.Amount, "up": chosen.Up, "down": chosen.Down,
		"all": chosen.AllDown, "reason": chosen.Reason,
	}).Error
}

// rated makes an amount of a rate an hour for all the time of an entry.
func (d *parting) rated(path string, p *PartOf, src drafting.DraftSource) error {
	c := d.checks
	rate := form.Parsed(c, path+"value", p.Value, form.ParseRate)
	if src.EntryID == 0 || src.ToBill() != src.Charge {
		c.Add(path+"value", "a rate is typed for hours of which nothing is billed or written down elsewhere; type an amount")
		return nil
	}
	minutes, err := store.Value[money.Minutes](d.Tx, "SELECT minutes FROM time_entries WHERE id = ?", src.EntryID)
	if err != nil {
		return err
	}
	amount, err := c.Currency.ForTime(rate, money.One, minutes)
	p.Way, p.Value = string(billing.ByAmount), d.Money(amount)
	return err
}

// typed reads how much was typed, in the unit of the way.
func (d *parting) typed(path string, way billing.Way, text string) int64 {
	c := d.checks
	switch way {
	case billing.ByHours:
		return int64(form.Parsed(c, path, text, form.PlannedHours))
	case billing.ByQuantity:
		return int64(form.Parsed(c, path, text, form.ParseQuantity))
	case billing.ByPercent:
		return int64(form.Parsed(c, path, text, form.ParsePercent))
	case billing.ByAmount:
		return int64(form.Parsed(c, path, text, c.Currency.ParseAmount))
	case billing.TheRest, billing.AsFits:
	}
	return 0
}

// OfferedSource is work of a draft's jobs that is ready to bill and not on it.
type OfferedSource struct {
	PaperSource
	Held bool   `json:"held" doc:"no bill run takes it until it is let go"`
	Note string `json:"note,omitempty" doc:"why it is held"`
}

// mostOffered is how much work is offered for a draft at most, the oldest first.
const mostOffered = 300

// WithOffered shows an invoice and, beside a draft, what else could go on it.
func WithOffered(s *book.Session, invoiceID int64) (InvoiceView, error) {
	view, err := View(s, invoiceID)
	if err != nil || view.Status != store.Draft || view.IsDeposit {
		return view, err
	}
	on, err := store.Query[int64](s.Tx, jobsOnInvoice, invoiceID)
	if err != nil {
		return view, err
	}
	free, err := drafting.Offered(s, on)
	free = slices.DeleteFunc(free, func(src drafting.DraftSource) bool { // the rest of what is on it is chosen there
		return slices.ContainsFunc(view.Sources, func(p PaperSource) bool { return isOf(PartOf{Kind: p.Kind, ID: p.ID})(src) })
	})
	slices.SortStableFunc(free, func(a, b drafting.DraftSource) int { return int(a.Date - b.Date) })
	view.Offered = []OfferedSource{}
	for i, src := range free {
		if i == mostOffered {
			view.More = len(free) - mostOffered
			break
		}
		view.Offered = append(view.Offered, OfferedSource{PaperSource: paperSource(s, src), Held: src.OnHold, Note: src.HoldNote})
	}
	return view, err
}

// chosen says how the part of a draft was chosen, and what becomes of the rest.
func (p *PaperSource) chosen(s *book.Session, src drafting.DraftSource) {
	p.Way, p.Reason, p.AllDown = string(src.Way), src.Reason, src.AllDown
	switch src.Way {
	case billing.ByHours:
		p.Value = money.Minutes(src.Typed).Hours()
	case billing.ByQuantity:
		p.Value = money.Quantity(src.Typed).String()
	case billing.ByPercent:
		p.Value = money.Percent(src.Typed).String()
	case billing.ByAmount:
		p.Value = s.Money(money.Amount(src.Typed))
	case billing.TheRest, billing.AsFits:
	}
	toBill := src.ToBill()
	p.ToBill = s.Money(toBill)
	p.Later, p.Up, p.Down = orBlank(s, toBill+src.Up-src.Amount-src.Down), orBlank(s, src.Up), orBlank(s, src.Down)
}

func orBlank(s *book.Session, a money.Amount) string {
	if a == 0 {
		return ""
	}
	return s.Money(a)
}

// LettingGo names the job whose held work is to be billed again.
type LettingGo struct {
	JobID   int64  `json:"jobId"`
	Through string `json:"through,omitempty" doc:"up to which date it was shown; absent: all of it"`
	Amount  string `json:"amount" doc:"of what is held, as it was seen"`
}

// LetGo lets the work of a job go that was held for later, as it was seen: the next bill run takes it.
func LetGo(ctx context.Context, b *book.Book, actor book.Actor, in LettingGo) error {
	return book.Change(ctx, b, actor, book.Bill, func(s *book.Session) error {
		c := s.Checks()
		through := calendar.Always.To
		if in.Through != "" {
			through = c.Date("through", in.Through)
		}
		if err := c.Err(); err != nil {
			return err
		}
		held, err := store.Query[jobOnHold](s.Tx, heldJobs, map[string]any{"job": in.JobID, "through": through})
		if err != nil || len(held) == 0 { // sent once more for want of an answer it does no more
			return err
		}
		if s.Money(held[0].Left) != in.Amount {
			return refuse.Conflict("what is held of this job has changed; look at it again")
		}
		if err := s.Exec("DELETE FROM holds WHERE id IN (SELECT hold_id FROM held_work WHERE job_id = ? AND date <= ?)", in.JobID, through).
			Error; err != nil {
			return err
		}
		return s.Record("let go what was held", "job", in.JobID, nil, map[string]int64{"sources": held[0].N})
	})
}

// jobOnHold is a job of which work is held.
type jobOnHold struct {
	JobID        int64
	Number, Name string
	N            int64
	Note         string
	Left         money.Amount
}

// heldForLater are the jobs of which work is held, and why.
func heldForLater(s *book.Session, sc scope.Scope) ([]NotReadyRow, error) {
	jobs, err := store.Query[jobOnHold](s.Tx, heldJobs, map[string]any{"job": sc.Job, "through": sc.End()})
	rows := make([]NotReadyRow, len(jobs))
	for i, h := range jobs {
		rows[i] = NotReadyRow{
			Reason: "On hold", What: h.Number + " " + h.Name, Detail: words.Counted(h.N, "source"),
			Amount: s.Money(h.Left), Step: "Let it go", Link: register.Link{Kind: "job", ID: h.Number}, HeldOf: h.JobID,
		}
		if h.Note != "" {
			rows[i].Detail += ": " + h.Note
		}
	}
	return rows, err
}
