package book

// OpeningCode is what opens a new book. Whoever started the server is told.
func (a *Book) OpeningCode() string { return a.Code }
