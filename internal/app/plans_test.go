package app_test

import (
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"gorm.io/gorm"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/jobs"
	"jarvo/internal/app/scope"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/app/today"
	"jarvo/internal/core/calendar"
	"jarvo/internal/core/pricing"
	"jarvo/internal/specimen"
	"jarvo/internal/store"
)

// asked is a query as it was run.
type asked struct {
	sql  string
	vars []any
}

// What the steps of a plan say: a table that is read from end to end, one that the query makes itself, and an index that it makes.
var (
	scanned  = regexp.MustCompile(`^SCAN (\S+)(?: USING (?:COVERING )?INDEX (\S+))?`)
	ownTable = regexp.MustCompile(`^(?:CO-ROUTINE|MATERIALIZE) (\S+)`)
	ownIndex = regexp.MustCompile(`^SEARCH (\S+) USING AUTOMATIC`)
)

// partial are the indexes that hold no more than what is asked for: to read one of them to its end is what it is for.
var partial = []string{
	"time_entries_ready", "time_entries_waiting", "time_entries_unpriced", "time_entries_no_wage", "time_entries_no_code",
	"cost_lines_ready", "cost_lines_waiting", "cost_lines_unmarked", "cost_lines_no_job", "cost_documents_waiting",
	"cost_documents_void", "history_decisions",
}

// What the tabs show is found by indexes, through the views too: no query reads the entries, the lines, the papers or the history to
// the end, or makes an index of its own for them.
func TestTheTabsAskByIndexes(t *testing.T) {
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "jarvo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	a := book.New(s, apptest.Noon)
	size := specimen.Size{Workers: 4, Jobs: 6, Entries: 120, CostLines: 40, Days: 40}
	apptest.Import(t, a, apptest.WriteBundle(t, specimen.Company(5000, size)))
	var queries []asked
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
		return tx.Callback().Row().After("gorm:row").Register("asked", func(db *gorm.DB) {
			queries = append(queries, asked{db.Statement.SQL.String(), db.Statement.Vars})
		})
	}))
	week := (specimen.Begin + calendar.Date(7)).String()
	for name, ask := range map[string]func() error{
		"today":  func() error { _, err := today.Sheet(ctx, a, book.Console, today.TodayQuery{}); return err },
		"counts": func() error { _, err := new(today.Counter).Counts(ctx, a, book.Console); return err },
		"week": func() error {
			_, err := timesheet.Week(ctx, a, book.Console, timesheet.SheetQuery{Week: week})
			return err
		},
		"crew": func() error {
			_, err := timesheet.Week(ctx, a, book.Console, timesheet.SheetQuery{Week: week, Crew: "A"})
			return err
		},
		"approve": func() error { _, err := approve.Waiting(ctx, a, book.Console, approve.Question{}); return err },
		"decided": func() error { _, err := approve.Decisions(ctx, a, book.Console); return err },
		"bill":    func() error { _, err := billing.Sheet(ctx, a, book.Console, scope.ScopeQuery{}); return err },
		"jobs":    func() error { _, err := jobs.List(ctx, a, book.Console, true); return err },
		"footing": func() error { _, err := scope.FootingOf(ctx, a, book.Console, scope.ScopeQuery{}); return err },
		"documents": func() error {
			_, err := costs.List(ctx, a, book.Console, scope.ScopeQuery{From: week, To: week})
			return err
		},
	} {
		queries = nil
		require.NoError(t, ask())
		require.NotEmpty(t, queries)
		for _, q := range queries {
			assertByIndex(t, name, s, q)
		}
	}
}

func assertByIndex(t *testing.T, name string, s *store.Store, q asked) {
	t.Helper()
	type step struct {
		ID, Parent, Notused int64
		Detail              string
	}
	var plan []step
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error { return tx.Raw("EXPLAIN QUERY PLAN "+q.sql, q.vars...).Scan(&plan).Error }))
	made := map[string]bool{} // of what the query itself makes
	for _, step := range plan {
		if found := ownTable.FindStringSubmatch(step.Detail); found != nil {
			made[found[1]] = true
		}
	}
	for _, step := range plan {
		if found := ownIndex.FindStringSubmatch(step.Detail); found != nil && !made[found[1]] && grows(found[1], q.sql) {
			assert.Fail(t, "it makes an index for itself", "%s: %s\nin %s", name, step.Detail, q.sql)
		}
		found := scanned.FindStringSubmatch(step.Detail)
		if found != nil && !made[found[1]] && grows(found[1], q.sql) && !slices.Contains(partial, found[2]) {
			assert.Fail(t, "it reads a table to the end", "%s: %s\nin %s", name, step.Detail, q.sql)
		}
	}
}

// grows says that a name of a plan stands for a table that grows with the work.
func grows(name, sql string) bool {
	for _, table := range []string{"time_entries", "cost_lines", "cost_documents", "history", "labour_segments", "invoice_sources"} {
		if name == table || strings.Contains(sql, table+" "+name+" ") {
			return true
		}
	}
	return false
}

// The first day that something is ready is asked for each kind of cost by name.
func TestTheBookKnowsTheKindsOfCost(t *testing.T) {
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "jarvo.db"))
	require.NoError(t, err)
	t.Cleanup(func() { require.NoError(t, s.Close()) })
	require.NoError(t, s.Read(ctx, func(tx *store.Tx) error {
		named, err := store.Query[struct{ Category string }](tx, "SELECT category FROM line_categories")
		var categories []string
		for _, n := range named {
			categories = append(categories, n.Category)
		}
		assert.Equal(t, pricing.Categories, categories)
		return err
	}))
}
