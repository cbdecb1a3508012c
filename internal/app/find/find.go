// Package find finds records by what they are called: invoices, papers, suppliers, workers, customers, prices, users.
package find

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/register"
	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

// Question is what was typed.
type Question struct {
	Text   string `query:"text" maxLength:"100" doc:"up to four words of a name or a number; more are not looked at"`
	Amount string `query:"amount" maxLength:"30" doc:"the text as an amount, where it can be one: what comes to it is found too"`
}

// Answer is what was found, each kind in turn, the newest first.
type Answer struct {
	Found []Thing `json:"found"`
}

// Thing is a record that was found.
type Thing struct {
	Title  string        `json:"title"`
	Detail string        `json:"detail" doc:"what it is, and whose"`
	Date   string        `json:"date,omitempty" format:"date"`
	Link   register.Link `json:"link"`
}

// kinds are what can be found, in the order in which it is shown, and who may see each.
var kinds = []struct {
	kind  string
	needs book.Permission
}{
	{"invoice", book.Bill},
	{"draft", book.Bill},
	{"cost_document", book.Costs},
	{"supplier", book.Costs},
	{"worker", book.Capture},
	{"customer", book.Setup},
	{"item", book.Setup},
	{"user", book.Setup},
}

const (
	mostOfAKind = 5
	mostWords   = 4
	leastTyped  = 2 // characters; fewer would find all there is
)

// row is a row of the view of what can be found.
type row struct {
	Kind   string
	ID     int64
	Title  string
	Detail string
	Date   *calendar.Date
	Crew   string
}

// Find finds what has all the words that were typed, as far as the actor may see it.
func Find(ctx context.Context, b *book.Book, actor book.Actor, q Question) (Answer, error) {
	return book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (Answer, error) {
		out := Answer{Found: []Thing{}}
		words := patterns(q.Text)
		if words == nil {
			return out, nil
		}
		for _, k := range kinds {
			if !actor.Can(k.needs) {
				continue
			}
			words["kind"], words["crew"] = k.kind, actor.Crew
			rows, err := store.Query[row](s.Tx, found, words)
			if err != nil {
				return out, err
			}
			for _, r := range rows {
				out.Found = append(out.Found, thing(r, actor))
			}
		}
		return out, findAmount(s, actor, q.Amount, &out)
	})
}

// findAmount finds what comes to an amount: invoices by their total, what is due or what is left, papers by what is printed on them or by
// their lines, and payments.
func findAmount(s *book.Session, actor book.Actor, text string, out *Answer) error {
	amount, err := s.ParseAmount(text)
	if text == "" || err != nil || amount <= 0 {
		return nil //nolint:nilerr // what is no amount is found by its words alone
	}
	for _, k := range []struct {
		needs book.Permission
		query string
	}{{book.Bill, invoicesOf}, {book.Costs, papersOf}, {book.Bill, paymentsOf}} {
		if !actor.Can(k.needs) || !actor.Can(book.SeeMoney) {
			continue
		}
		rows, err := store.Query[row](s.Tx, k.query, map[string]any{"amount": amount, "most": mostOfAKind})
		if err != nil {
			return err
		}
		for _, r := range rows {
			t := thing(r, actor)
			if !slices.ContainsFunc(out.Found, func(f Thing) bool { return f.Link == t.Link }) {
				t.Detail = strings.TrimPrefix(t.Detail+", "+s.Money(amount), ", ")
				out.Found = append(out.Found, t)
			}
		}
	}
	return nil
}

func thing(r row, actor book.Actor) Thing {
	t := Thing{Title: r.Title, Detail: r.Detail, Link: register.Link{Kind: r.Kind, ID: fmt.Sprint(r.ID), Crew: r.Crew}}
	if r.Date != nil {
		t.Date = r.Date.String()
	}
	if r.Kind == "user" {
		t.Link.ID = r.Title // their list is narrowed to the name
	}
	if r.Kind == "worker" && !actor.Can(book.SeeMoney) {
		t.Link = register.Link{Kind: "crew", Crew: r.Crew}
	}
	return t
}

// patterns are the words of a text for LIKE, those that are missing matching all; nil where too little was typed.
func patterns(text string) map[string]any {
	words := strings.Fields(strings.NewReplacer("%", " ", "_", " ").Replace(text)) // what LIKE takes for any character is none
	if len(strings.Join(words, "")) < leastTyped {
		return nil
	}
	out := map[string]any{"most": mostOfAKind}
	for i, name := range [mostWords]string{"first", "second", "third", "fourth"} {
		out[name] = "%"
		if i < len(words) {
			out[name] = "%" + words[i] + "%"
		}
	}
	return out
}
