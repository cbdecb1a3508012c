package api

import (
	"archive/zip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"os"
	"path/filepath"
	"strings"

	"jarvo/internal/app/book"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/refuse"
	"jarvo/internal/bundle"
)

// largestBundle is how large a bundle may be that is sent, in bytes.
const largestBundle = 256 << 20

// takeOut sends a file that write makes in a folder of its own, under a name with today's date. The folder is gone afterwards.
func (s *server) takeOut(
	may func(book.Actor) error, name, media string, write func(*http.Request, book.Actor, string) error,
) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		actor, ok := s.signedIn(w, r)
		if !ok || !s.wrote(w, r, may(actor)) {
			return
		}
		today, err := s.Book.Today(r.Context())
		if !s.wrote(w, r, err) {
			return
		}
		folder, err := os.MkdirTemp("", "jarvo-")
		if !s.wrote(w, r, err) {
			return
		}
		defer func() { _ = os.RemoveAll(folder) }()
		file := filepath.Join(folder, fmt.Sprintf(name, today))
		if !s.wrote(w, r, write(r, actor, file)) {
			return
		}
		w.Header().Set("Content-Type", media)
		w.Header().Set("Content-Disposition", mime.FormatMediaType("attachment", map[string]string{"filename": filepath.Base(file)}))
		http.ServeFile(w, r, file)
	}
}

func mayExchange(actor book.Actor) error { return actor.Need(book.Exchange) }

// backup is a copy of the whole book: with who may sign in, so that only an owner has it.
func (s *server) backup() http.HandlerFunc {
	copied := func(r *http.Request, actor book.Actor, file string) error {
		return s.Book.Backup(r.Context(), actor, file)
	}
	return s.takeOut(book.Actor.NeedOwner, "jarvo-%s.db", "application/vnd.sqlite3", copied)
}

// bundleOut is the book as a bundle.
func (s *server) bundleOut() http.HandlerFunc {
	return s.takeOut(mayExchange, "jarvo-%s.zip", "application/zip", func(r *http.Request, actor book.Actor, file string) error {
		data, err := exchange.Export(r.Context(), s.Book, actor)
		if err != nil {
			return err
		}
		return bundle.Write(file, data, func(scan string) ([]byte, error) { return exchange.ExportScan(r.Context(), s.Book, actor, scan) })
	})
}

// starter is a bundle to be filled in.
func (s *server) starter() http.HandlerFunc {
	return s.takeOut(mayExchange, "jarvo-starter-%s.zip", "application/zip", func(_ *http.Request, _ book.Actor, file string) error {
		folder := strings.TrimSuffix(file, ".zip")
		if err := bundle.WriteTemplate(folder); err != nil {
			return err
		}
		f, err := os.Create(file)
		if err != nil {
			return err
		}
		z := zip.NewWriter(f)
		return errors.Join(z.AddFS(os.DirFS(folder)), z.Close(), f.Close())
	})
}

// bringIn brings in a bundle that is the body of the request: a zip, or one of its files by its name. With try=yes it only says what would
// come in.
func (s *server) bringIn(w http.ResponseWriter, r *http.Request) {
	actor, ok := s.signedIn(w, r)
	if !ok || !s.wrote(w, r, actor.Need(book.Exchange)) { // before the body is read
		return
	}
	folder, err := os.MkdirTemp("", "jarvo-")
	if !s.wrote(w, r, err) {
		return
	}
	defer func() { _ = os.RemoveAll(folder) }()
	s.imports.Store(actor.UserID, exchange.Progress{})
	defer s.imports.Delete(actor.UserID)
	brought, err := s.bringFrom(r, actor, folder)
	var problems bundle.Problems
	if errors.As(err, &problems) {
		err = asRefusal(problems)
	}
	if !s.wrote(w, r, err) {
		return
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(brought)
}

// importProgress is how far the import of the one who asks has come.
func (s *server) importProgress(_ context.Context, actor book.Actor, _ *nothing) (exchange.Progress, error) {
	if err := actor.Need(book.Exchange); err != nil {
		return exchange.Progress{}, err
	}
	found, _ := s.imports.Load(actor.UserID)
	progress, _ := found.(exchange.Progress)
	return progress, nil
}

func (s *server) bringFrom(r *http.Request, actor book.Actor, folder string) ([]exchange.Brought, error) {
	name := filepath.Base(r.URL.Query().Get("name"))
	place, file := filepath.Join(folder, "bundle.zip"), filepath.Join(folder, "bundle.zip")
	if strings.HasSuffix(strings.ToLower(name), ".csv") {
		place = filepath.Join(folder, "bundle")
		file = filepath.Join(place, strings.ToLower(name))
		if err := os.Mkdir(place, 0o700); err != nil {
			return nil, err
		}
	}
	f, err := os.Create(file)
	if err != nil {
		return nil, err
	}
	_, err = io.Copy(f, r.Body)
	if tooLarge := (*http.MaxBytesError)(nil); errors.As(err, &tooLarge) {
		message := fmt.Sprintf("this file is larger than %d MB; bring it in in parts", largestBundle>>20)
		err = &refuse.Error{Kind: refuse.KindInvalid, Message: message}
	}
	if err := errors.Join(err, f.Close()); err != nil {
		return nil, err
	}
	b, err := bundle.Read(place)
	if errors.Is(err, bundle.ErrNoBundle) {
		err = &refuse.Error{Kind: refuse.KindInvalid, Message: "this is no bundle: it is neither a zip nor one of a bundle's CSV files"}
	}
	if err != nil {
		return nil, err
	}
	ctx := exchange.Follow(r.Context(), func(p exchange.Progress) { s.imports.Store(actor.UserID, p) })
	if r.URL.Query().Get("try") == "yes" {
		ctx = book.Watch(ctx, true, func(*book.Session) {})
	}
	brought, err := exchange.Import(ctx, s.Book, actor, b)
	return brought, errors.Join(err, b.Close())
}

// asRefusal says what is wrong with a bundle, place by place.
func asRefusal(problems bundle.Problems) *refuse.Error {
	out := &refuse.Error{Kind: refuse.KindInvalid, Message: "this can't be brought in as it is; nothing of it was"}
	for _, p := range problems {
		at := p.File
		if p.Line > 0 {
			at += fmt.Sprintf(", line %d", p.Line)
		}
		if p.Column != "" {
			at += ", " + p.Column
		}
		out.Fields = append(out.Fields, refuse.FieldError{Path: at, Message: p.Message})
	}
	return out
}
