package api

import (
	"context"
	"errors"
	"log/slog"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/validation"

	"jarvo/internal/app/refuse"
)

// Problem is an error as RFC 9457 describes it, with a path to each wrong field.
type Problem struct {
	Title   string         `json:"title"`
	Status  int            `json:"status"`
	Detail  string         `json:"detail" doc:"a sentence for the person"`
	Errors  []ProblemField `json:"errors,omitempty"`
	Current any            `json:"current,omitempty" doc:"what stands in the book now, where an edit was stale"`
}

// ProblemField is what is wrong with one field.
type ProblemField struct {
	Path    string `json:"path"`
	Message string `json:"message"`
}

func (p *Problem) Error() string { return p.Detail }

// GetStatus is the HTTP status.
func (p *Problem) GetStatus() int { return p.Status }

// ContentType is that of RFC 9457.
func (p *Problem) ContentType(string) string { return "application/problem+json" }

var statusOf = map[refuse.Kind]int{
	refuse.KindInvalid: http.StatusUnprocessableEntity, refuse.KindNotFound: http.StatusNotFound, refuse.KindConflict: http.StatusConflict,
	refuse.KindForbidden: http.StatusForbidden, refuse.KindUnauthorized: http.StatusUnauthorized,
	refuse.KindTooMany: http.StatusTooManyRequests, refuse.KindUnavailable: http.StatusServiceUnavailable,
	refuse.KindFull: http.StatusInsufficientStorage,
}

func init() {
	// What huma says of a field is said as the book says it.
	validation.MsgExpectedRFC3339Date = "type a date, such as 2026-11-18"
	validation.MsgExpectedRFC3339DateTime = "this is no moment, such as 2026-11-18T07:30:00Z"
	validation.MsgExpectedRequiredProperty = "%s is missing"
	validation.MsgUnexpectedProperty = "there is no such field"
	validation.MsgExpectedOneOf = "choose one of \"%s\""
	validation.MsgExpectedBoolean = "this is yes or no"
	validation.MsgExpectedNumber = "type a number"
	validation.MsgExpectedInteger = "type a whole number"
	validation.MsgExpectedString = "this is a text"
	validation.MsgExpectedArray = "this is a list"
	validation.MsgExpectedObject = "this has fields of its own"
	validation.MsgExpectedMinimumNumber = "at least %v"
	validation.MsgExpectedExclusiveMinimumNumber = "more than %v"
	validation.MsgExpectedMaximumNumber = "at most %v"
	validation.MsgExpectedExclusiveMaximumNumber = "less than %v"
	validation.MsgExpectedMinLength = "at least %d letters"
	validation.MsgExpectedMaxLength = "at most %d letters"
	validation.MsgExpectedMatchPattern = "this is not written as %s"
	validation.MsgExpectedBePattern = "this is not %s"
	validation.MsgExpectedMinItems = "at least %d of them"
	validation.MsgExpectedMaxItems = "at most %d at once"
	// huma's own refusals (a body that is not JSON, a missing field) take the same shape.
	huma.NewError = func(status int, message string, errs ...error) huma.StatusError {
		p := &Problem{Title: http.StatusText(status), Status: status, Detail: message}
		if message == "validation failed" {
			p.Detail = "some of it can't be taken as it is"
		}
		for _, err := range errs {
			var detail *huma.ErrorDetail
			if errors.As(err, &detail) {
				p.Errors = append(p.Errors, ProblemField{strings.TrimPrefix(detail.Location, "body."), detail.Message})
			}
		}
		return p
	}
}

// problem maps an error of a use case to HTTP; this is the one place that does.
func problem(ctx context.Context, err error) *Problem {
	e, ok := refuse.AsError(err)
	if !ok {
		if errors.Is(err, context.Canceled) {
			return &Problem{Title: "Canceled", Status: 499, Detail: "the request was given up"}
		}
		slog.ErrorContext(ctx, "a use case failed", "request", requestID(ctx), "error", err)
		return &Problem{
			Title: "Internal error", Status: http.StatusInternalServerError,
			Detail: "something went wrong on our side; nothing was changed. Its number is " + requestID(ctx),
		}
	}
	if e.Cause != nil {
		slog.ErrorContext(ctx, "the book can't be read or written", "request", requestID(ctx), "error", e.Cause)
	}
	p := &Problem{Title: http.StatusText(statusOf[e.Kind]), Status: statusOf[e.Kind], Detail: e.Message, Current: e.Current}
	for _, f := range e.Fields {
		p.Errors = append(p.Errors, ProblemField{f.Path, f.Message})
	}
	return p
}
