package register

import (
	"strings"

	"github.com/agnivade/levenshtein"

	"jarvo/internal/app/book"
	"jarvo/internal/store"
)

// FindSupplier finds a supplier by name: as it is written, or else whatever its capitals are.
func FindSupplier(s *book.Session, name string) (store.Supplier, bool, error) {
	found, err := store.Query[store.Supplier](s.Tx, supplierNamed, map[string]any{"name": strings.TrimSpace(name)})
	if err != nil || len(found) == 0 {
		return store.Supplier{}, false, err
	}
	return found[0], true, nil
}

// mostSlips is how many letters of a name may be mistyped so that another one is asked about.
const mostSlips = 3

// LikeSupplier is the supplier whose name is nearly a name, blank where there is none: what may have been meant by a new name. One
// begins as the other, or few letters differ.
func LikeSupplier(s *book.Session, name string) (string, error) {
	typed := strings.ToLower(strings.TrimSpace(name))
	names, err := store.Query[string](s.Tx, "SELECT name FROM suppliers WHERE active = 1 ORDER BY name")
	like, fewest := "", mostSlips+1
	for _, n := range names {
		slips := levenshtein.ComputeDistance(typed, strings.ToLower(n))
		if short := len(typed) >= leastBegun && strings.HasPrefix(strings.ToLower(n), typed); short {
			slips = 0
		}
		if slips < fewest && slips < len(typed)/2 {
			like, fewest = n, slips
		}
	}
	return like, err
}

// leastBegun is from how many letters on the beginning of a name is taken for it.
const leastBegun = 4

// Supplier finds a supplier by name, or makes one; nil for a blank name.
func Supplier(s *book.Session, name string) (*int64, error) {
	if name = strings.TrimSpace(name); name == "" {
		return nil, nil
	}
	row, found, err := FindSupplier(s, name)
	if err != nil || found {
		return &row.ID, err
	}
	row = store.Supplier{Name: name, Active: true, Version: 1}
	if err := s.Create(&row).Error; err != nil {
		return nil, err
	}
	return &row.ID, s.Record("added", "supplier", row.ID, nil, map[string]string{"name": name})
}
