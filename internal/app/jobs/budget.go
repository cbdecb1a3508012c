package jobs

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/form"
	"jarvo/internal/app/limits"
	"jarvo/internal/app/register"
	"jarvo/internal/core/billing"
	"jarvo/internal/core/money"
	"jarvo/internal/core/pricing"
	"jarvo/internal/core/profit"
	"jarvo/internal/store"
)

// BudgetCategories are the kinds of cost that a budget is of.
var BudgetCategories = slices.Concat([]string{billing.Labour}, pricing.Categories)

// BudgetRow is what a kind of cost is planned to come to, of a phase and a cost code or of none.
type BudgetRow struct {
	PhaseID    int64  `json:"phaseId,omitempty"`
	Category   string `json:"category"`
	CostCodeID int64  `json:"costCodeId,omitempty"`
	Hours      string `json:"hours,omitempty" doc:"of labour"`
	Cost       string `json:"cost"`
	Forecast   string `json:"forecast,omitempty" doc:"what it is expected to cost at completion, where that is not what follows from the rest"`
}

// BudgetChange is the budget of a job as it is to be.
type BudgetChange struct {
	Version int64       `json:"version" doc:"of the job, as it was seen"`
	Rows    []BudgetRow `json:"rows" maxItems:"1000"`
}

// Plan is what is agreed and planned of a job against what it has cost.
type Plan struct {
	Rows  []BudgetRow `json:"rows" doc:"the budget as it was typed"`
	Kinds []PlanKind  `json:"kinds"`
	Parts []PlanPart  `json:"parts" doc:"the fixed parts of the job"`
	// Limits are how far the job and phases of it may go on time and materials, where that was agreed.
	Limits []PlanLimit `json:"limits"`
}

// PlanKind is a kind of cost of a phase against its plan.
type PlanKind struct {
	Phase      string `json:"phase" doc:"blank: of none"`
	Category   string `json:"category"`
	Budget     string `json:"budget,omitempty" format:"decimal"`
	Cost       string `json:"cost" format:"decimal"`
	Pending    string `json:"pending" format:"decimal"`
	Forecast   string `json:"forecast,omitempty" format:"decimal"`
	Expected   string `json:"expected" format:"decimal" doc:"at completion"`
	Difference string `json:"difference" format:"decimal" doc:"the budget less what is expected"`
	Done       bool   `json:"done,omitempty"`
}

// PlanPart is a fixed part of a job: what was agreed, what it is expected to cost, and what it has earned.
type PlanPart struct {
	Name       string `json:"name"`
	Contract   string `json:"contract,omitempty" format:"decimal" doc:"absent: none is known"`
	Cost       string `json:"cost" format:"decimal"`
	Expected   string `json:"expected,omitempty" format:"decimal" doc:"cost at completion; absent where there is nothing to measure it by"`
	Earned     string `json:"earned" format:"decimal"`
	Provision  string `json:"provision" format:"decimal"`
	Billed     string `json:"billed" format:"decimal"`
	OverBilled string `json:"overBilled" format:"decimal" doc:"below 0: under-billed"`
	Unmeasured bool   `json:"unmeasured,omitempty"`
	Done       string `json:"done,omitempty" doc:"percent, as the cost says: earned of the contract; absent where it is not measured"`
}

// PlanLimit is a limit of time and materials and what of it is used.
type PlanLimit struct {
	Phase  string `json:"phase" doc:"blank: of the job"`
	Agreed string `json:"agreed" format:"decimal"`
	Used   string `json:"used" format:"decimal" doc:"billed and on drafts"`
	Ready  string `json:"ready" format:"decimal"`
	Held   string `json:"held" format:"decimal" doc:"held back by the limit"`
	Near   bool   `json:"near,omitempty" doc:"a fifth or less is left"`
}

// SaveBudget gives a job its budget, in place of what it had.
func SaveBudget(ctx context.Context, b *book.Book, actor book.Actor, number string, in BudgetChange) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		job, err := seen(s, number, in.Version)
		if err != nil {
			return err
		}
		rows, err := in.read(s, job.ID)
		if err != nil {
			return err
		}
		had, err := store.All[store.Budget](s.Tx, "id", "job_id = ?", job.ID)
		if err != nil {
			return err
		}
		if err := s.Run("DELETE FROM budgets WHERE job_id = ?", job.ID); err != nil {
			return err
		}
		for i := range rows {
			if err := s.Create(&rows[i]).Error; err != nil {
				return err
			}
		}
		if err := s.Model(&job).Update("version", job.Version+1).Error; err != nil {
			return err
		}
		return s.Record("budgeted", "job", job.ID, had, rows)
	})
}

// read reads the rows of a budget; each of its kind, phase and cost code once. Rows that nothing was typed into are left out.
func (in BudgetChange) read(s *book.Session, jobID int64) ([]store.Budget, error) {
	type key struct {
		phase, code int64
		category    string
	}
	c, known := s.Checks(), map[key]bool{}
	rows := make([]store.Budget, 0, len(in.Rows))
	for i, r := range in.Rows {
		if strings.TrimSpace(r.Hours+r.Cost+r.Forecast) == "" {
			continue
		}
		path := fmt.Sprintf("rows[%d].", i)
		row := store.Budget{
			JobID: jobID, PhaseID: store.Ref(r.PhaseID), Category: c.OneOf(path+"category", r.Category, BudgetCategories...),
			CostCodeID: store.Ref(r.CostCodeID), Minutes: form.Optional(c, path+"hours", r.Hours, form.PlannedHours),
			Cost: form.OrZero(c, path+"cost", r.Cost, s.ParseAmount), Forecast: form.Optional(c, path+"forecast", r.Forecast, s.ParseAmount),
			Version: 1,
		}
		form.NotNegative(c, path+"cost", row.Cost, "a budget")
		if row.Forecast != nil {
			form.NotNegative(c, path+"forecast", *row.Forecast, "a forecast")
		}
		if row.Minutes != nil && row.Category != billing.Labour {
			c.Add(path+"hours", "only labour has hours")
		}
		if k := (key{r.PhaseID, r.CostCodeID, r.Category}); known[k] {
			c.Add(path+"category", "this kind of cost of the same phase and code is above already")
		} else {
			known[k] = true
		}
		if err := register.CheckPlace(s, c, path, jobID, r.PhaseID, r.CostCodeID); err != nil {
			return nil, err
		}
		rows = append(rows, row)
	}
	return rows, c.Err()
}

// planOf is what is planned of a job against what it has cost.
func planOf(s *book.Session, j *JobFigures) (Plan, error) {
	out := Plan{Rows: []BudgetRow{}, Kinds: []PlanKind{}, Parts: []PlanPart{}, Limits: []PlanLimit{}}
	rows, err := store.All[store.Budget](s.Tx, "phase_id IS NOT NULL, phase_id, id", "job_id = ?", j.ID)
	if err != nil {
		return out, err
	}
	for _, r := range rows {
		row := BudgetRow{
			PhaseID: store.ID(r.PhaseID), Category: r.Category, CostCodeID: store.ID(r.CostCodeID), Cost: s.Money(r.Cost),
			Forecast: s.Maybe(r.Forecast),
		}
		if r.Minutes != nil {
			row.Hours = r.Minutes.Short()
		}
		out.Rows = append(out.Rows, row)
	}
	names, err := phaseNames(s, j.ID)
	if err != nil {
		return out, err
	}
	for _, p := range j.Parts {
		for _, place := range p.Places {
			for _, k := range place.Kinds {
				out.Kinds = append(out.Kinds, planKind(s, names[place.Phase], k, p.Finished || place.Done))
			}
		}
		if p.Basis != billing.Fixed {
			continue
		}
		part, err := planPart(s, p, len(j.Parts), names)
		if err != nil {
			return out, err
		}
		out.Parts = append(out.Parts, part)
	}
	err = planLimits(s, &out, j.ID, names)
	return out, err
}

// phaseNames are the phases of a job as they are called, by id.
func phaseNames(s *book.Session, jobID int64) (map[int64]string, error) {
	phases, err := store.All[store.Phase](s.Tx, "id", "job_id = ?", jobID)
	names := map[int64]string{}
	for _, p := range phases {
		names[p.ID] = p.Code + " " + p.Name
	}
	return names, err
}

func planKind(s *book.Session, phase string, k profit.Kind, done bool) PlanKind {
	out := PlanKind{
		Phase: phase, Category: k.Category, Cost: s.Money(k.Cost), Pending: s.Money(k.Pending), Forecast: s.Maybe(k.Forecast),
		Expected: s.Money(k.Expected(done)), Difference: s.Money(k.Budget - k.Expected(done)), Done: done,
	}
	if k.Budget != 0 {
		out.Budget = s.Money(k.Budget)
	}
	return out
}

// PartName is what a part of a job is called: a fixed phase with a contract of its own by itself, the rest by its basis; parts is how many
// there are.
func PartName(p profit.Part, parts int, names map[int64]string) string {
	switch {
	case p.Basis == billing.Fixed && len(p.Places) == 1 && p.Places[0].Phase != 0 && p.Places[0].Contract != nil:
		return names[p.Places[0].Phase]
	case parts == 1:
		return "All of it"
	case p.Basis == billing.Fixed:
		return "The rest of the fixed price"
	case p.Basis == billing.TimeAndMaterials:
		return "Time and materials"
	default:
		return "Never billed"
	}
}

func planPart(s *book.Session, p profit.Part, parts int, names map[int64]string) (PlanPart, error) {
	r, err := p.Result()
	out := PlanPart{
		Name: PartName(p, parts, names), Contract: s.Maybe(p.Contract), Cost: s.Money(r.Cost), Earned: s.Money(r.Earned),
		Provision: s.Money(r.Provision), Billed: s.Money(p.Billed), OverBilled: s.Money(p.Billed - r.Earned), Unmeasured: r.Unmeasured,
	}
	if !r.Unmeasured {
		out.Expected = s.Money(r.Expected)
		if p.Contract != nil {
			if done, ok := money.Share(r.Earned, *p.Contract); ok {
				out.Done = done.Places2()
			}
		}
	}
	return out, err
}

func planLimits(s *book.Session, out *Plan, jobID int64, names map[int64]string) error {
	uses, err := limits.Of(s.Tx, jobID)
	for _, u := range uses {
		out.Limits = append(out.Limits, PlanLimit{
			Phase: names[u.PhaseID], Agreed: s.Money(u.Agreed), Used: s.Money(u.Used), Ready: s.Money(u.Ready), Held: s.Money(u.Held),
			Near: u.Near(),
		})
	}
	return err
}
