package api

import (
	"encoding/csv"
	"fmt"
	"net/http"
	"strconv"

	"github.com/go-chi/chi/v5"

	"jarvo/internal/app"
	"jarvo/internal/core/calendar"
	"jarvo/internal/paper"
)

// files are the downloads: papers and tables in open formats.
func (s *server) files(r chi.Router) {
	r.Get("/api/invoices/{id}/pdf", s.download("application/pdf", "pdf", paper.InvoicePDF))
	r.Get("/api/invoices/{id}/csv", s.download("text/csv; charset=utf-8", "csv", paper.InvoiceCSV))
	r.Get("/api/reports/{name}", s.report)
}

func (s *server) signedIn(w http.ResponseWriter, r *http.Request) (app.Actor, bool) {
	actor, found, err := s.App.User(r.Context(), s.sessions.GetInt64(r.Context(), userInSession))
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

func (s *server) download(mime, ending string, make func(app.InvoiceView) ([]byte, error)) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		actor, ok := s.signedIn(w, r)
		if !ok {
			return
		}
		id, _ := strconv.ParseInt(chi.URLParam(r, "id"), 10, 64)
		view, err := s.App.Invoice(r.Context(), actor, id)
		if !s.wrote(w, r, err) {
			return
		}
		data, err := make(view)
		if !s.wrote(w, r, err) {
			return
		}
		name := "invoice-" + view.Number
		if view.Number == "" {
			name = "draft-" + strconv.FormatInt(id, 10)
		}
		w.Header().Set("Content-Type", mime)
		w.Header().Set("Content-Disposition", fmt.Sprintf("inline; filename=%q", name+"."+ending))
		_, _ = w.Write(data)
	}
}

func (s *server) report(w http.ResponseWriter, r *http.Request) {
	actor, ok := s.signedIn(w, r)
	if !ok {
		return
	}
	q := app.ReportQuery{Job: r.URL.Query().Get("job")}
	var err error
	for name, into := range map[string]*calendar.Date{"from": &q.From, "through": &q.Through} {
		if text := r.URL.Query().Get(name); text != "" && err == nil {
			*into, err = calendar.Parse(text)
		}
	}
	if err != nil {
		err = &app.Error{Kind: app.KindInvalid, Message: err.Error()}
	}
	if !s.wrote(w, r, err) {
		return
	}
	name := chi.URLParam(r, "name")
	report, err := s.App.Report(r.Context(), actor, name, q)
	if !s.wrote(w, r, err) {
		return
	}
	w.Header().Set("Content-Type", "text/csv; charset=utf-8")
	w.Header().Set("Content-Disposition", fmt.Sprintf("attachment; filename=%q", name+".csv"))
	out := csv.NewWriter(w)
	_ = out.Write(report.Columns)
	for _, row := range report.Rows {
		cells := make([]string, len(row))
		for i, c := range row {
			cells[i] = c
			if _, err := strconv.ParseFloat(c, 64); err != nil {
				cells[i] = paper.Defused(c)
			}
		}
		_ = out.Write(cells)
	}
	out.Flush()
}
