package store

import (
	"fmt"
	"reflect"
	"slices"
	"strings"

	"gorm.io/gorm"
)

// rowsAtOnce is how many rows a statement adds or changes: more is no quicker. Fewer go one by one, so that there are only two texts of a
// statement to prepare.
const rowsAtOnce = 64

// inChunks runs many for each full chunk of rows and one for each row that is left over.
func inChunks[R any](rows []R, many func([]R) error, one func(R) error) error {
	for chunk := range slices.Chunk(rows, rowsAtOnce) {
		if len(chunk) == rowsAtOnce {
			if err := many(chunk); err != nil {
				return err
			}
			continue
		}
		for _, row := range chunk {
			if err := one(row); err != nil {
				return err
			}
		}
	}
	return nil
}

func marks(n int) string { return "(?" + strings.Repeat(", ?", n-1) + ")" }

// InsertMany adds rows as they are, also their ids, many in a statement.
func InsertMany[R any](tx *Tx, rows []R) error {
	parsed := &gorm.Statement{DB: tx.DB}
	if err := parsed.Parse(new(R)); err != nil {
		return err
	}
	fields := writable(parsed.Schema)
	names := make([]string, len(fields))
	for i, f := range fields {
		names[i] = f.DBName
	}
	insert := "INSERT INTO " + parsed.Schema.Table + " (" + strings.Join(names, ", ") + ") VALUES " + marks(len(names))
	insertMany := insert + strings.Repeat(", "+marks(len(names)), rowsAtOnce-1)
	add := func(rows []R, statement string) error {
		values := make([]any, 0, len(rows)*len(fields))
		for i := range rows {
			at := reflect.ValueOf(&rows[i]).Elem()
			for _, f := range fields {
				value, _ := f.ValueOf(tx.Statement.Context, at)
				values = append(values, value)
			}
		}
		return tx.Run(statement, values...)
	}
	return inChunks(rows, func(chunk []R) error { return add(chunk, insertMany) }, func(row R) error { return add([]R{row}, insert) })
}

// UpdateMany sets columns of rows that keys find, many in a statement. Each row holds the values of the columns and then of the keys.
func UpdateMany(tx *Tx, table string, columns, keys []string, rows [][]any) error {
	var one, many, where, whereMany []string
	for i, c := range columns {
		one, many = append(one, c+" = ?"), append(many, fmt.Sprintf("%s = v.column%d", c, i+1))
	}
	for i, k := range keys {
		where, whereMany = append(where, k+" = ?"), append(whereMany, fmt.Sprintf("%s.%s = v.column%d", table, k, len(columns)+i+1))
	}
	row := marks(len(columns) + len(keys))
	updateMany := "UPDATE " + table + " SET " + strings.Join(many, ", ") + " FROM (VALUES " + row + strings.Repeat(", "+row, rowsAtOnce-1) +
		") v WHERE " + strings.Join(whereMany, " AND ")
	update := "UPDATE " + table + " SET " + strings.Join(one, ", ") + " WHERE " + strings.Join(where, " AND ")
	return inChunks(rows,
		func(chunk [][]any) error { return tx.Run(updateMany, slices.Concat(chunk...)...) },
		func(row []any) error { return tx.Run(update, row...) })
}

// NextID is the id that the next row of a table is given. What it gives out is only sure in a transaction that writes.
func NextID(tx *Tx, table string) (int64, error) {
	last, err := Query[int64](tx, `SELECT max(ifnull((SELECT seq FROM sqlite_sequence
		WHERE name = ?), 0), ifnull((SELECT max(id) FROM `+table+"), 0)) + 1", table)
	if err != nil {
		return 0, err
	}
	return last[0], nil
}
