package register

import (
	"strings"

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

// LikeSupplier is a supplier whose name begins as a name does, blank where there is none: what may have been meant by a new name.
func LikeSupplier(s *book.Session, name string) (string, error) {
	begin := []rune(strings.TrimSpace(name))
	if len(begin) < 4 {
		return "", nil
	}
	found, err := store.Query[string](s.Tx, suppliersLike, string(begin[:4]))
	if err != nil || len(found) == 0 {
		return "", err
	}
	return found[0], nil
}

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
