// Package refuse holds the refusals that a person can act on: a kind, a sentence, and what is wrong field by field.
package refuse

import (
	"errors"
	"fmt"
	"strings"

	"jarvo/internal/store"
)

// Kind says what sort of refusal an [Error] is.
type Kind int

// The kinds of refusal.
const (
	KindInvalid Kind = iota
	KindNotFound
	KindConflict
	KindForbidden
	KindUnauthorized
	KindTooMany     // tries or windows; it may be done again later
	KindUnavailable // the book can't be read or written at the moment
	KindFull        // the disk is full
)

// FieldError is what is wrong with one field, in a sentence for the person who filled it in.
type FieldError struct {
	Path    string // as in the request: edits[2].text
	Message string
}

// Error is a refusal that the person can act on.
type Error struct {
	Kind    Kind
	Message string
	Fields  []FieldError
	// Current is what stands in the book now, where the refusal is a stale edit.
	Current any
	// Cause is for the log.
	Cause error
}

// Unwrap is the error that led to the refusal, where there is one.
func (e *Error) Unwrap() error { return e.Cause }

func (e *Error) Error() string {
	if len(e.Fields) == 0 {
		return e.Message
	}
	parts := make([]string, 0, len(e.Fields))
	for _, f := range e.Fields {
		parts = append(parts, f.Path+": "+f.Message)
	}
	return e.Message + ": " + strings.Join(parts, "; ")
}

// NotFound says that there is no such thing.
func NotFound(what string) *Error {
	return &Error{Kind: KindNotFound, Message: "there is no such " + what}
}

// Conflict says that something is in the way of what was asked.
func Conflict(format string, args ...any) *Error {
	return &Error{Kind: KindConflict, Message: fmt.Sprintf(format, args...)}
}

// Refused says what is wrong with some fields.
func Refused(fields ...FieldError) *Error {
	return &Error{Kind: KindInvalid, Message: "Some of it can't be taken as it is", Fields: fields}
}

// Invalid says what is wrong with one field.
func Invalid(path, format string, args ...any) *Error {
	return Refused(FieldError{path, fmt.Sprintf(format, args...)})
}

// Under puts what is said of fields under a path, such as that of a row; any other error stays as it is.
func Under(path string, err error) error {
	told, is := AsError(err)
	if !is || len(told.Fields) == 0 {
		return err
	}
	under := *told
	under.Fields = make([]FieldError, len(told.Fields))
	for i, f := range told.Fields {
		under.Fields[i] = FieldError{path + f.Path, f.Message}
	}
	return &under
}

// Guarded turns a refusal of the database into a conflict, and what keeps the book from working into a sentence.
func Guarded(err error) error {
	if reason, ok := store.IsGuard(err); ok {
		return Conflict("%s", reason)
	}
	if trouble, ok := store.IsTrouble(err); ok {
		kind := KindUnavailable
		if trouble.Full {
			kind = KindFull
		}
		return &Error{Kind: kind, Message: trouble.Sentence, Cause: err}
	}
	return err
}

// Told is an error of the database as a person is told it.
func Told(err error) error { return Guarded(err) }

// AsError finds the refusal in err.
func AsError(err error) (*Error, bool) {
	var e *Error
	ok := errors.As(err, &e)
	return e, ok
}

// IsNotFound says whether err is that there is no such thing, and nothing worse.
func IsNotFound(err error) bool {
	told, is := AsError(err)
	return is && told.Kind == KindNotFound
}

// OrNotFound is an error where there is one, else that there is no such thing.
func OrNotFound(err error, what string) error {
	if err != nil {
		return err
	}
	return NotFound(what)
}
