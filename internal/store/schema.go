package store

import (
	"context"
	"errors"
	"fmt"
	"sync"
)

// SchemaDifference is a table, an index or a trigger that is not as the migrations make it.
type SchemaDifference struct{ What, Stored, Wanted string }

type schemaPart struct{ Type, Name, SQL string }

const schemaParts = "SELECT type, name, sql FROM sqlite_schema WHERE sql IS NOT NULL AND name NOT LIKE 'sqlite_%' ORDER BY type, name"

// wantedSchema is the schema of a new book, as the migrations of this program make it; worked out once.
var wantedSchema = sync.OnceValues(func() (wanted []schemaPart, err error) {
	fresh, err := connect(":memory:", "_foreign_keys=off", 1)
	if err != nil {
		return nil, err
	}
	defer func() { err = errors.Join(err, closeDB(fresh)) }()
	provider, _, err := migrationsOf(fresh)
	if err != nil {
		return nil, err
	}
	if _, err := provider.Up(context.Background()); err != nil {
		return nil, err
	}
	return Query[schemaPart](&Tx{DB: fresh}, schemaParts)
})

// SchemaDifferences holds the schema of a book against that of a new one: a guard that was taken out is seen.
func SchemaDifferences(tx *Tx) (found []SchemaDifference, err error) {
	wanted, err := wantedSchema()
	if err != nil {
		return nil, err
	}
	stored, err := Query[schemaPart](tx, schemaParts)
	if err != nil {
		return nil, err
	}
	sql := map[string]string{}
	for _, s := range stored {
		sql[s.Type+" "+s.Name] = s.SQL
	}
	for _, w := range wanted {
		what := w.Type + " " + w.Name
		if had, there := sql[what]; !there || had != w.SQL {
			found = append(found, SchemaDifference{"the " + what, statedSQL(had, there), w.SQL})
		}
		delete(sql, what)
	}
	for what := range sql {
		found = append(found, SchemaDifference{"the " + what, "there", "not there"})
	}
	return found, nil
}

func statedSQL(sql string, there bool) string {
	if !there {
		return "missing"
	}
	return fmt.Sprintf("altered: %s", sql)
}
