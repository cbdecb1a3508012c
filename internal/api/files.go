package api

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"mime"
	"net/http"
	"strconv"

	"github.com/go-chi/chi/v5"

	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/collect"
	"jarvo/internal/app/company"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/tape"
	"jarvo/internal/app/timesheet"
	"jarvo/internal/core/calendar"
	"jarvo/internal/paper"
	"jarvo/internal/scan"
)

// files are the downloads: papers and tables in open formats.
func (s *server) files(r chi.Router) {
	for name, format := range paper.Invoices {
		r.Get("/api/invoices/{id}/"+name, s.download(format))
	}
	r.Get("/api/reports/{name}", s.report)
	r.Get("/api/customers/{id}/statement", s.accountStatement)
	r.Get("/api/messages/{id}/mail", s.eml)
	r.Get("/api/messages/{id}/files/{position}", s.put)
	r.Get("/api/time/paper", s.crewPaper)
	r.Post("/api/costs/{id}/attachments", s.attach)
	r.Get("/api/attachments/{id}", s.attachment)
	r.Post("/api/company/logo", s.setLogo)
	r.Get("/api/logos/{sum}", s.logo)
	r.Get("/api/book/backup", s.backup())
	r.Get("/api/book/bundle", s.bundleOut())
	r.Get("/api/book/starter", s.starter())
	r.Post("/api/book/bring-in", s.bringIn)
}

// attach takes a scan as the body of the request, and its name from the address.
func (s *server) attach(w http.ResponseWriter, r *http.Request) {
	actor, ok := s.signedIn(w, r)
	if !ok || !s.wrote(w, r, actor.Need(book.Capture)) { // before the body is read
		return
	}
	data, err := io.ReadAll(r.Body)
	if tooLarge := (*http.MaxBytesError)(nil); errors.As(err, &tooLarge) {
		data, err = make([]byte, scan.Largest+1), nil // refused in the same words
	}
	if !s.wrote(w, r, err) {
		return
	}
	documentID, _ := strconv.ParseInt(chi.URLParam(r, "id"), 10, 64)
	made, err := costs.Attach(r.Context(), s.Book, actor, documentID, r.URL.Query().Get("name"), data)
	if !s.wrote(w, r, err) {
		return
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(made)
}

// attachment sends a scan as what it was found to be when it came, in a frame that runs nothing; a PDF is for the
// front end to draw, or to be kept, and is never opened by the browser's own reader.
func (s *server) attachment(w http.ResponseWriter, r *http.Request) {
	actor, ok := s.signedIn(w, r)
	if !ok {
		return
	}
	id, _ := strconv.ParseInt(chi.URLParam(r, "id"), 10, 64)
	scan, data, err := costs.Scan(r.Context(), s.Book, actor, id)
	if !s.wrote(w, r, err) {
		return
	}
	how := "inline"
	if scan.Media == "application/pdf" || r.URL.Query().Get("keep") == "yes" {
		how = "attachment"
	}
	h := w.Header()
	h.Set("Content-Security-Policy", "default-src 'none'; sandbox")
	h.Set("Content-Type", scan.Media)
	h.Set("Content-Disposition", mime.FormatMediaType(how, map[string]string{"filename": scan.Name}))
	_, _ = w.Write(data)
}

// setLogo takes the mark of the company's papers as the body of the request; an empty one takes it away.
func (s *server) setLogo(w http.ResponseWriter, r *http.Request) {
	actor, ok := s.signedIn(w, r)
	if !ok || !s.wrote(w, r, actor.Need(book.Setup)) { // before the body is read
		return
	}
	data, err := io.ReadAll(r.Body)
	if tooLarge := (*http.MaxBytesError)(nil); errors.As(err, &tooLarge) {
		data, err = make([]byte, company.LargestLogo+1), nil // refused in the same words
	}
	if !s.wrote(w, r, err) {
		return
	}
	version, _ := strconv.ParseInt(r.URL.Query().Get("version"), 10, 64)
	if !s.wrote(w, r, company.SetLogo(r.Context(), s.Book, actor, version, data)) {
		return
	}
	w.WriteHeader(http.StatusNoContent)
}

// logo sends a mark of papers. What has its checksum never changes.
func (s *server) logo(w http.ResponseWriter, r *http.Request) {
	actor, ok := s.signedIn(w, r)
	if !ok {
		return
	}
	logo, err := company.Logo(r.Context(), s.Book, actor, chi.URLParam(r, "sum"))
	if !s.wrote(w, r, err) {
		return
	}
	h := w.Header()
	h.Set("Content-Security-Policy", "default-src 'none'; sandbox")
	h.Set("Content-Type", logo.Media)
	_, _ = w.Write(logo.Data)
}

// crewPaper is a crew's week on paper; blank=yes is one to be filled in.
func (s *server) crewPaper(w http.ResponseWriter, r *http.Request) {
	actor, ok := s.signedIn(w, r)
	if !ok {
		return
	}
	q := r.URL.Query()
	blank := q.Get("blank") == "yes"
	sheet, err := timesheet.Paper(
		r.Context(), s.Book, actor, timesheet.SheetQuery{Week: q.Get("week"), Crew: q.Get("crew"), Job: q.Get("job")}, blank,
	)
	if !s.wrote(w, r, err) {
		return
	}
	data, err := paper.CrewPDF(r.Context(), sheet, blank)
	if !s.wrote(w, r, err) {
		return
	}
	w.Header().Set("Content-Type", paper.Invoices["pdf"].Media)
	w.Header().Set("Content-Disposition", fmt.Sprintf("inline; filename=%q", "crew-sheet-"+sheet.Days[0]+".pdf"))
	_, _ = w.Write(data)
}

func (s *server) signedIn(w http.ResponseWriter, r *http.Request) (book.Actor, bool) {
	actor, found, err := s.who(r.Context())
	if err == nil && !found {
		writeProblem(w, &Problem{Title: "Unauthorized", Status: http.StatusUnauthorized, Detail: "sign in first"})
	}
	return actor, s.wrote(w, r, err) && found
}

// wrote answers with a problem where there is an error.
func (s *server) wrote(w http.ResponseWriter, r *http.Request, err error) bool {
	if err == nil {
		return true
	}
	writeProblem(w, problem(r.Context(), err))
	return false
}

func (s *server) download(format paper.Format) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		actor, ok := s.signedIn(w, r)
		if !ok {
			return
		}
		id, _ := strconv.ParseInt(chi.URLParam(r, "id"), 10, 64)
		view, err := billing.Invoice(r.Context(), s.Book, actor, id)
		if !s.wrote(w, r, err) {
			return
		}
		view, err = billing.Marked(r.Context(), s.Book, actor, view)
		if !s.wrote(w, r, err) {
			return
		}
		var backup []tape.Backup
		if r.URL.Query().Get("backup") == "yes" {
			backup, err = tape.BackupOf(r.Context(), s.Book, actor, id)
		}
		if !s.wrote(w, r, err) {
			return
		}
		data, err := format.Write(r.Context(), view, backup)
		if !s.wrote(w, r, err) {
			return
		}
		w.Header().Set("Content-Type", format.Media)
		w.Header().Set("Content-Disposition", fmt.Sprintf("inline; filename=%q", paper.FileName(view)+"."+format.Ending))
		_, _ = w.Write(data)
	}
}

// accountStatement is a statement of account of a customer as a PDF.
func (s *server) accountStatement(w http.ResponseWriter, r *http.Request) {
	actor, ok := s.signedIn(w, r)
	if !ok {
		return
	}
	id, _ := strconv.ParseInt(chi.URLParam(r, "id"), 10, 64)
	of, err := collect.StatementOf(r.Context(), s.Book, actor, id, 0, 0)
	if err == nil {
		of.Head, err = billing.Marked(r.Context(), s.Book, actor, of.Head)
	}
	var data []byte
	if err == nil {
		data, err = paper.AccountPDF(r.Context(), of)
	}
	if !s.wrote(w, r, err) {
		return
	}
	w.Header().Set("Content-Type", paper.Invoices["pdf"].Media)
	w.Header().Set("Content-Disposition", fmt.Sprintf("inline; filename=%q", "statement-"+of.Head.CustomerCode+".pdf"))
	_, _ = w.Write(data)
}

func (s *server) report(w http.ResponseWriter, r *http.Request) {
	actor, ok := s.signedIn(w, r)
	if !ok {
		return
	}
	q := reports.ReportQuery{Job: r.URL.Query().Get("job")}
	var err error
	for name, into := range map[string]*calendar.Date{"from": &q.From, "through": &q.Through} {
		if text := r.URL.Query().Get(name); text != "" && err == nil {
			*into, err = calendar.Parse(text)
		}
	}
	if err != nil {
		err = &refuse.Error{Kind: refuse.KindInvalid, Message: err.Error()}
	}
	if !s.wrote(w, r, err) {
		return
	}
	name := chi.URLParam(r, "name")
	report, err := reports.Make(r.Context(), s.Book, actor, name, q)
	if !s.wrote(w, r, err) {
		return
	}
	format := r.URL.Query().Get("format")
	media, known := map[string]string{
		"": paper.Invoices["csv"].Media, "csv": paper.Invoices["csv"].Media, "json": "application/json", "xlsx": paper.Invoices["xlsx"].Media,
	}[format]
	if !known {
		s.wrote(w, r, &refuse.Error{Kind: refuse.KindInvalid, Message: "a report is written as csv, json or xlsx"})
		return
	}
	format = cmp.Or(format, "csv")
	w.Header().Set("Content-Type", media)
	w.Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", name+"."+format))
	write := paper.Writers[format]
	if format == "csv" {
		write = paper.DownloadCSV
	}
	if err := write(w, report); err != nil {
		s.Log.ErrorContext(r.Context(), "writing a report", "request", requestID(r.Context()), "error", err)
	}
}
