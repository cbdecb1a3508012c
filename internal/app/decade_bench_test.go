package app_test

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/scope"
	"jarvo/internal/specimen"
	"jarvo/internal/store"
)

// The large book with ten times its history: 3 000 jobs, 1 500 000 time entries, 600 000 cost lines. Of one nothing is billed; of the other
// all is that can be, but half of the last tenth.
var (
	unbilledDecade = sync.OnceValue(func() string { return decade("unbilled.db") })
	billedDecade   = sync.OnceValue(func() string { return decade("billed.db", billHistory...) })
)

// decade multiplies the large book by SQL: each copy is older by the length of its history, on jobs of its own.
func decade(name string, then ...string) string {
	file := filepath.Join(filepath.Dir(large().file), name)
	data, err := os.ReadFile(large().file)
	if err != nil {
		panic(err)
	}
	if err := os.WriteFile(file, data, 0o600); err != nil {
		panic(err)
	}
	s, err := store.Open(ctx, file)
	if err != nil {
		panic(err)
	}
	defer func() { _ = s.Close() }()
	err = s.Write(ctx, func(tx *store.Tx) error {
		const kept = ` FROM sqlite_schema WHERE type = 'trigger' OR type = 'index' AND sql IS NOT NULL
			AND tbl_name IN ('time_entries', 'cost_lines', 'invoice_sources')`
		var all []string
		for _, query := range []string{"SELECT 'DROP ' || type || ' ' || name" + kept, "SELECT sql" + kept + " ORDER BY type"} {
			statements, err := store.Query[string](tx, query)
			if err != nil {
				return err
			}
			all = append(all, statements...)
		}
		more, err := copies(tx)
		if err != nil {
			return err
		}
		half := len(all) / 2
		for _, statement := range slices.Concat(all[:half], more, then, all[half:], store.AddUp) {
			if err := tx.Exec(statement).Error; err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		panic(err)
	}
	return file
}

// copies are the statements that copy all that is booked, nine times.
func copies(tx *store.Tx) (statements []string, err error) {
	pointing := map[string]string{"job_id": "jobs", "phase_id": "phases", "entry_id": "time_entries", "document_id": "cost_documents"}
	tables := []string{"jobs", "phases", "time_entries", "labour_segments", "cost_documents", "cost_lines"}
	last := map[string]int{}
	for _, table := range tables {
		key := "id"
		if table == "labour_segments" {
			key = "entry_id"
		}
		if last[table], err = store.Value[int](tx, "SELECT max("+key+") FROM "+table); err != nil {
			return nil, err
		}
	}
	for n := 1; n < 10; n++ {
		for _, table := range tables {
			columns, err := store.Query[string](tx, "SELECT name FROM pragma_table_info(?)", table)
			if err != nil {
				return nil, err
			}
			values := make([]string, len(columns))
			for i, c := range columns {
				switch of := pointing[c]; {
				case c == "id":
					values[i] = fmt.Sprintf("id + %d", n*last[table])
				case of != "":
					values[i] = fmt.Sprintf("%s + %d", c, n*last[of])
				case c == "status" && table != "jobs": // what is that old has been approved
					values[i] = "'approved'"
				case c == "date":
					values[i] = fmt.Sprintf("date - %d", n*specimen.Large.Days)
				case c == "ref", c == "number" && table == "jobs", c == "number_order":
					values[i] = fmt.Sprintf("'%d-' || %s", n, c)
				default:
					values[i] = `"` + c + `"`
				}
			}
			statements = append(statements, fmt.Sprintf(`INSERT INTO %[1]s ("%[2]s") SELECT %[3]s FROM %[1]s WHERE "%[5]s" <= %[4]d`, table,
				strings.Join(columns, `", "`), strings.Join(values, ", "), last[table], columns[0]))
		}
	}
	return statements, nil
}

// billHistory bills each job on an invoice of its own, as the triggers would.
var billHistory = []string{
	`INSERT INTO invoices (id, status, customer_id, date, due, grouping, title, subtotal, tax, total, retainage, due_now, currency,
	  company_name, company_address, company_email, customer_name, customer_address, version, number, issued_at)
	  SELECT id, 'issued', customer_id, 20000, 20030, 'trade', 'work', 0, 0, 0, 0, 0, 'USD', '', '', '', '', '', 1, id, 0 FROM jobs
	  WHERE customer_id IS NOT NULL`,
	`INSERT INTO invoice_sources (invoice_id, entry_id, charge, amount) SELECT job_id, id, charge, charge FROM time_entries
	  WHERE status = 'approved' AND charge IS NOT NULL AND (job_id > 300 OR id % 2 = 0)`,
	`INSERT INTO invoice_sources (invoice_id, cost_line_id, charge, amount) SELECT job_id, id, charge, charge FROM cost_lines
	  WHERE status = 'approved' AND charge IS NOT NULL AND (job_id > 300 OR id % 2 = 0)`,
	`UPDATE time_entries SET billed = 1, invoiced = charge, held = 0, invoice_id = job_id
	  WHERE status = 'approved' AND charge IS NOT NULL AND (job_id > 300 OR id % 2 = 0)`,
	`UPDATE cost_lines SET billed = 1, invoiced = charge, held = 0, invoice_id = job_id
	  WHERE status = 'approved' AND charge IS NOT NULL AND (job_id > 300 OR id % 2 = 0)`,
}

func BenchmarkReadyInADecadeUnbilled(b *testing.B) { readyIn(b, unbilledDecade()) }

func BenchmarkReadyInADecadeBilled(b *testing.B) { readyIn(b, billedDecade()) }

// readyIn is the Bill tab of the week of a book.
func readyIn(b *testing.B, file string) {
	s, err := store.Open(ctx, file)
	require.NoError(b, err)
	b.Cleanup(func() { _ = s.Close() })
	a, week := book.New(s, benchClock), scope.ScopeQuery{From: benchToday.String(), To: (benchToday + 6).String()}
	b.Run("jarvo", func(b *testing.B) {
		for b.Loop() {
			_, err := billing.Sheet(ctx, a, book.Console, week)
			require.NoError(b, err)
		}
	})
}
