package store

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"math"
)

// Record adds a row to the history, with its id and the hash that chains it to the row before.
func Record(tx *Tx, c *Change) error {
	last, err := Query[Change](tx, "SELECT * FROM history ORDER BY id DESC LIMIT 1")
	if err != nil {
		return err
	}
	before := ""
	c.ID = 1
	if len(last) > 0 {
		c.ID, before = last[0].ID+1, last[0].Hash
	}
	c.Hash = c.chained(before)
	if _, err = Insert(tx, c); err != nil {
		return err
	}
	return tx.Run("UPDATE book SET history_rows = history_rows + 1, history_hash = ?", c.Hash)
}

// HistoryEnd is how many rows the history has, and the hash of the last.
type HistoryEnd struct {
	Rows int64
	Hash string
}

func (e HistoryEnd) String() string { return fmt.Sprintf("%d rows, the last %.16s", e.Rows, e.Hash) }

// HistoryEnds are where the history ends, and where it ended when it was written last.
func HistoryEnds(tx *Tx) (is, was HistoryEnd, err error) {
	if is, err = Value[HistoryEnd](tx, `SELECT count(*) AS rows,
		ifnull((SELECT hash FROM history ORDER BY id DESC LIMIT 1), '') AS hash FROM history`); err == nil {
		was, err = Value[HistoryEnd](tx, "SELECT history_rows AS rows, history_hash AS hash FROM book")
	}
	return is, was, err
}

// HistoryAt is the hash of the history's row of a place, counted from 1; blank where there is none.
func HistoryAt(tx *Tx, place int64) (string, error) {
	return Value[string](tx, "SELECT ifnull((SELECT hash FROM history ORDER BY id LIMIT 1 OFFSET ?), '')", place-1)
}

// chained is the hash of a row and of the hash before it: a row that is altered, taken out or put in later tears the chain.
func (c Change) chained(before string) string {
	return hashOf(before, c.ID, c.At, c.UserID, c.UserName, c.Action, c.Kind, c.SubjectID, c.Before, c.After, c.Decision)
}

// TornHistory returns the ids of the rows of the history whose hash is not that of the row and of the one before.
func TornHistory(tx *Tx) ([]int64, error) {
	var torn []int64
	hash, last := "", int64(math.MinInt64)
	for {
		changes, err := All[Change](tx, "id LIMIT 5000", "id > ?", last)
		if err != nil || len(changes) == 0 {
			return torn, err
		}
		for _, c := range changes {
			if c.Hash != c.chained(hash) {
				torn = append(torn, c.ID)
			}
			hash, last = c.Hash, c.ID
		}
	}
}

// Sealed is a hash of the head of an invoice: what the customer was told.
func (i Invoice) Sealed() string {
	told := []any{
		i.Status, i.Number, i.Prefix, i.CustomerID, i.Date, i.Due, i.Title, i.Subtotal, i.Tax, i.Total, i.Retainage, i.DueNow, i.Currency,
		i.CompanyName, i.CompanyAddress, i.CompanyEmail, i.CustomerName, i.CustomerAddress, i.IssuedAt,
	}
	if i.CompanyTaxNumber != "" || i.CompanyLogo != nil { // earlier invoices have neither, and keep their seals
		told = append(told, i.CompanyTaxNumber, Text(i.CompanyLogo))
	}
	if i.TaxNotes != "" {
		told = append(told, i.TaxNotes)
	}
	if i.OrderNumber != "" || i.Opening != "" || i.Closing != "" {
		told = append(told, "typed", i.OrderNumber, i.Opening, i.Closing)
	}
	if i.CreditOf != nil {
		told = append(told, "credit", *i.CreditOf)
	}
	if i.Prepaid != 0 {
		told = append(told, "prepaid", i.Prepaid)
	}
	if i.CompanyPhone != "" || i.CompanyCountry != "" || i.Remittance != (Remittance{}) {
		told = append(told, "remittance", i.CompanyPhone, i.CompanyCountry, i.Remittance)
	}
	return hashOf(told...)
}

// hashOf is the SHA-256 of some values, written so that no two lists of values are written alike.
func hashOf(values ...any) string {
	text, err := json.Marshal(values)
	if err != nil {
		panic("hashing what is no JSON: " + err.Error()) // numbers and texts always are
	}
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:])
}
