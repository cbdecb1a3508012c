package main

import (
	"context"
	"fmt"
	"net/http"
	"sync/atomic"
)

// beginning answers while a book is being filled, with a page that says how far that is, and hands over to the application.
type beginning struct {
	percent atomic.Int64
	then    atomic.Pointer[http.Handler]
}

// page looks again by itself. It is drawn as the first page of the application is.
const page = `<!doctype html><html lang="en"><meta charset="utf-8"><meta http-equiv="refresh" content="1"><title>Jarvo</title>
<style>body{background:#E8E2D4;color:#22262F;font:16px/1.5 sans-serif;display:grid;place-content:center;min-height:90vh;margin:0}
main{background:#FFFDF8;padding:32px 40px;border:1px solid #C9C0AC}h1{margin:0 0 8px;font-size:22px}progress{width:22rem;accent-color:#2F4575}</style>
<main><h1>Jarvo</h1><p role="status">The demo book is being written: %[1]d %%</p>
<progress max="100" value="%[1]d" aria-label="How much of the demo book is written"></progress></main></html>`

func (b *beginning) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	if then := b.then.Load(); then != nil {
		(*then).ServeHTTP(w, r)
		return
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	w.Header().Set("Cache-Control", "no-store")
	w.Header().Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors 'none'")
	w.Header().Set("Retry-After", "1")
	if r.URL.Path != "/" {
		w.WriteHeader(http.StatusServiceUnavailable)
	}
	_, _ = fmt.Fprintf(w, page, b.percent.Load())
}

// prepare runs what has to be done first, beside the page, and hands over to the application; its error is sent to failed.
func (b *beginning) prepare(ctx context.Context, first func(context.Context, func(int)) error, then http.Handler, failed chan<- error) {
	if err := first(ctx, func(percent int) { b.percent.Store(int64(percent)) }); err != nil {
		failed <- err
		return
	}
	b.then.Store(&then)
}
