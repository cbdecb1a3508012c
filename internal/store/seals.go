package store

import (
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"gorm.io/gorm"
)

// sealedTables are those whose rows have a seal each: what is typed or decided. Hours, cost lines and all that is worked out are computed
// again in place of it.
var sealedTables = []string{
	"attachments", "bank_formats", "bank_lines", "budgets", "burden_classes", "burdens", "company", "contacts", "cost_codes",
	"cost_documents", "customers", "dismissals", "holds", "holidays", "instalments", "item_prices", "items", "jobs", "labour_rates",
	"let_beyond", "markups", "message_files", "message_invoices", "message_texts", "messages", "payment_allocations", "payments", "phases",
	"rate_cards", "recurring", "recurring_lines", "reimbursed_documents", "reimbursements", "schedule_lines", "suppliers", "tax_codes",
	"tax_components", "trades", "units", "users", "wages", "workdays", "workers", "write_backs", "year_openings",
}

// invoiceParts are the tables that an issued invoice is made of; it has one seal for all of them and its head.
var invoiceParts = []string{
	"applied_deposits", "credits", "invoice_jobs", "invoice_lines", "invoice_parties", "invoice_phases", "invoice_sources", "invoice_taxes",
	"release_parts", "releases", "typed_lines",
}

const invoicesTable = "invoices"

// sealedTable is how the rows of a table are read for their seals.
type sealedTable struct {
	name, columns string // without what is only its contents, of which there is a checksum
	keys          []string
}

// sealer seals records, and describes each of their tables once.
type sealer struct {
	*Tx
	tables map[string]sealedTable
}

func newSealer(tx *Tx) *sealer { return &sealer{tx, map[string]sealedTable{}} }

func (s *sealer) table(name string) (sealedTable, error) {
	if t, known := s.tables[name]; known {
		return t, nil
	}
	t, err := describeTable(s.Tx, name)
	s.tables[name] = t
	return t, err
}

func describeTable(tx *Tx, name string) (t sealedTable, _ error) {
	columns, err := Query[struct {
		Name, Type string
		PK         int
	}](tx, "SELECT name, type, pk FROM pragma_table_info(?) ORDER BY pk, cid", name)
	var read []string
	for _, c := range columns {
		if c.PK > 0 {
			t.keys = append(t.keys, c.Name)
		}
		if c.Type != "BLOB" {
			read = append(read, `"`+c.Name+`"`)
		}
	}
	t.name, t.columns = name, strings.Join(read, ", ")
	if err == nil && len(t.keys) == 0 {
		err = fmt.Errorf("table %s has no key to seal its rows by", name)
	}
	return t, err
}

// key is the SQL that writes the key of a row, of a trigger's row where it is named.
func (t sealedTable) key(row string) string {
	parts := make([]string, len(t.keys))
	for i, k := range t.keys {
		parts[i] = row + `"` + k + `"`
	}
	return "json_array(" + strings.Join(parts, ", ") + ")"
}

// watchSeals has the write connection note which sealed records it changes. The triggers are the connection's own: who writes to the
// file with another program sets none off.
func watchSeals(write *gorm.DB) error {
	seals := newSealer(&Tx{DB: write})
	statements := []string{"CREATE TEMP TABLE changed (kind TEXT NOT NULL, key TEXT NOT NULL, PRIMARY KEY (kind, key)) WITHOUT ROWID"}
	watch := func(table, kind string, key func(row string) string) {
		for _, on := range [][]string{{"INSERT", "NEW."}, {"UPDATE", "NEW.", "OLD."}, {"DELETE", "OLD."}} {
			body := ""
			for _, row := range on[1:] {
				// What the statement outside says of conflicts would override OR IGNORE.
				body += fmt.Sprintf("INSERT INTO changed SELECT '%[1]s', %[2]s WHERE NOT EXISTS "+
					"(SELECT 1 FROM changed WHERE kind = '%[1]s' AND key = %[2]s); ", kind, key(row))
			}
			statements = append(statements, fmt.Sprintf(
				"CREATE TEMP TRIGGER seal_%s_%s AFTER %s ON main.%s BEGIN %sEND", table, strings.ToLower(on[0]), on[0], table, body))
		}
	}
	for _, name := range sealedTables {
		t, err := seals.table(name)
		if err != nil {
			return err
		}
		watch(name, name, t.key)
	}
	watch(invoicesTable, invoicesTable, func(row string) string { return "json_array(" + row + "id)" })
	for _, name := range invoiceParts {
		watch(name, invoicesTable, func(row string) string { return "json_array(" + row + "invoice_id)" })
	}
	for _, s := range statements {
		if err := write.Exec(s).Error; err != nil {
			return err
		}
	}
	return nil
}

// sealChanged renews the seals of what a transaction has changed, at its end.
func sealChanged(tx *Tx) error {
	changed, err := Query[struct{ Kind, Key string }](tx, "SELECT kind, key FROM temp.changed")
	if err != nil || len(changed) == 0 {
		return err
	}
	seals := newSealer(tx)
	for _, c := range changed {
		t, err := seals.table(c.Kind)
		if err != nil {
			return err
		}
		hash, err := seals.of(t, c.Key)
		if err != nil {
			return err
		}
		if hash == "" {
			err = tx.Run("DELETE FROM seals WHERE kind = ? AND key = ?", c.Kind, c.Key)
		} else {
			err = tx.Run("INSERT INTO seals VALUES (?, ?, ?) ON CONFLICT DO UPDATE SET hash = excluded.hash", c.Kind, c.Key, hash)
		}
		if err != nil {
			return err
		}
	}
	return tx.Run("DELETE FROM temp.changed")
}

// of is the hash of a record, blank where there is none or where it has no seal: a draft changes.
func (s *sealer) of(t sealedTable, key string) (string, error) {
	var keys []any
	if err := json.Unmarshal([]byte(key), &keys); err != nil {
		return "", err
	}
	for i, k := range keys {
		if n, is := k.(float64); is {
			keys[i] = int64(n)
		}
	}
	where := strings.Join(t.keys, " = ? AND ") + " = ?"
	if t.name == invoicesTable {
		where += " AND status = 'issued'"
	}
	rows, err := rowsOf(s.Tx, "SELECT "+t.columns+" FROM "+t.name+" WHERE "+where, keys...)
	if err != nil || len(rows) == 0 || t.name != invoicesTable {
		return hashRows(rows), err
	}
	for _, name := range invoiceParts {
		part, err := s.table(name)
		if err != nil {
			return "", err
		}
		more, err := rowsOf(s.Tx, "SELECT "+part.columns+" FROM "+name+" WHERE invoice_id = ? ORDER BY "+strings.Join(part.keys, ", "), keys...)
		if err != nil {
			return "", err
		}
		rows = append(append(rows, []any{name}), more...)
	}
	return hashRows(rows), nil
}

func hashRows(rows [][]any) string {
	if len(rows) == 0 {
		return ""
	}
	return hashOf(rows)
}

// rowsOf reads rows as they stand.
func rowsOf(tx *Tx, query string, args ...any) (out [][]any, err error) {
	rows, err := tx.Statement.ConnPool.QueryContext(tx.Statement.Context, query, args...)
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, rows.Close()) }()
	columns, err := rows.Columns()
	if err != nil {
		return nil, err
	}
	for rows.Next() {
		values, into := make([]sql.RawBytes, len(columns)), make([]any, len(columns))
		for i := range values {
			into[i] = &values[i]
		}
		if err := rows.Scan(into...); err != nil {
			return nil, err
		}
		row := make([]any, len(columns))
		for i, v := range values {
			if v != nil {
				row[i] = string(v)
			}
		}
		out = append(out, row)
	}
	return out, rows.Err()
}

// SealDifference is a record that is not what was written last.
type SealDifference struct{ Kind, Key, What string }

// BrokenSeals holds each sealed record against its seal: one that was altered, taken out or put in by somebody else is found.
func BrokenSeals(tx *Tx) (broken []SealDifference, _ error) {
	sealer := newSealer(tx)
	for _, name := range append(slices.Clone(sealedTables), invoicesTable) {
		t, err := sealer.table(name)
		if err != nil {
			return nil, err
		}
		seals, err := Query[struct{ Key, Hash string }](tx, "SELECT key, hash FROM seals WHERE kind = ? ORDER BY key", name)
		if err != nil {
			return nil, err
		}
		sealed := make(map[string]bool, len(seals))
		for _, s := range seals {
			sealed[s.Key] = true
			hash, err := sealer.of(t, s.Key)
			switch {
			case err != nil:
				return nil, err
			case hash == "":
				broken = append(broken, SealDifference{name, s.Key, "taken out"})
			case hash != s.Hash:
				broken = append(broken, SealDifference{name, s.Key, "altered"})
			}
		}
		keys, err := keysOf(tx, t)
		if err != nil {
			return nil, err
		}
		for _, key := range keys {
			if !sealed[key] {
				broken = append(broken, SealDifference{name, key, "put in"})
			}
		}
	}
	return broken, nil
}

// keysOf are the keys of the records of a table that have a seal.
func keysOf(tx *Tx, t sealedTable) ([]string, error) {
	where := ""
	if t.name == invoicesTable {
		where = " WHERE status = 'issued'"
	}
	return Query[string](tx, "SELECT "+t.key("")+" FROM "+t.name+where)
}

// sealAll seals all records anew: a migration has changed what they are made of.
func sealAll(tx *Tx) error {
	if err := tx.Run("DELETE FROM seals"); err != nil {
		return err
	}
	seals := newSealer(tx)
	for _, name := range append(slices.Clone(sealedTables), invoicesTable) {
		t, err := seals.table(name)
		if err != nil {
			return err
		}
		keys, err := keysOf(tx, t)
		if err != nil {
			return err
		}
		for _, key := range keys {
			hash, err := seals.of(t, key)
			if err != nil {
				return err
			}
			if err := tx.Run("INSERT INTO seals VALUES (?, ?, ?)", name, key, hash); err != nil {
				return err
			}
		}
	}
	return nil
}
