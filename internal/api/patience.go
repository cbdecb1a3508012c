package api

import (
	"io"
	"net/http"
	"time"
)

// The time that a connection has for the next piece of a request or an answer. A large file on a slow line goes on for as long as it moves.
const (
	pieceTime = time.Minute
	piece     = 64 << 10 // bytes of an answer
)

// patient gives each piece of what is sent and answered a time of its own, and what is worked out as long as it takes.
func patient(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		line := http.NewResponseController(w)
		if r.Body == nil || r.Body == http.NoBody {
			_ = line.SetReadDeadline(time.Time{}) // where a connection has no deadlines, as in a test, nothing is cut off either
		} else {
			r.Body = &patientBody{r.Body, line}
		}
		next.ServeHTTP(&patientWriter{w, line}, r)
	})
}

type patientBody struct {
	io.ReadCloser
	line *http.ResponseController
}

func (b *patientBody) Read(p []byte) (int, error) {
	_ = b.line.SetReadDeadline(time.Now().Add(pieceTime))
	n, err := b.ReadCloser.Read(p)
	if err != nil { // nothing more is read while the answer is worked out
		_ = b.line.SetReadDeadline(time.Time{})
	}
	return n, err
}

type patientWriter struct {
	http.ResponseWriter
	line *http.ResponseController
}

func (w *patientWriter) Write(p []byte) (written int, err error) {
	for {
		_ = w.line.SetWriteDeadline(time.Now().Add(pieceTime))
		n, err := w.ResponseWriter.Write(p[:min(piece, len(p))])
		if written, p = written+n, p[n:]; err != nil || len(p) == 0 {
			return written, err
		}
	}
}

// Flush sends what was written.
func (w *patientWriter) Flush() { _ = w.line.Flush() }

// Unwrap is the writer within.
func (w *patientWriter) Unwrap() http.ResponseWriter { return w.ResponseWriter }
