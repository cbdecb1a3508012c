package store

// ID is the id that a column refers to, 0 where it is NULL.
func ID(p *int64) int64 {
	if p == nil {
		return 0
	}
	return *p
}

// Ref is what a column keeps of an id: NULL for 0.
func Ref(id int64) *int64 {
	if id == 0 {
		return nil
	}
	return &id
}

// Same says that two columns hold the same, or are both NULL.
func Same[T comparable](a, b *T) bool { return a == b || a != nil && b != nil && *a == *b }

// Text is what a pointer points at, blank for nil.
func Text(p *string) string {
	if p == nil {
		return ""
	}
	return *p
}
