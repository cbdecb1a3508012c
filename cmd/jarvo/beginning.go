package main

import (
	"context"
	"fmt"
	"net/http"
	"sync/atomic"

	"jarvo/internal/api"
)

// beginning answers while a book is being filled, with a page that says how far that is, and hands over to the application.
type beginning struct {
	// first makes what the application runs on, and tells how much of it is done, in percent; nil: it is there, in then.
	first func(ctx context.Context, follow func(percent int)) (api.Options, error)
	then  api.Options
	dress func(api.Options) (http.Handler, error)
	ready func() // the application answers; nil: nobody asks

	percent     atomic.Int64
	application atomic.Pointer[http.Handler]
}

// page reloads itself each second.
const page = `<!doctype html><html lang="en"><meta charset="utf-8"><meta http-equiv="refresh" content="1"><title>Jarvo</title>
<style>body{background:#E8E2D4;color:#22262F;font:16px/1.5 sans-serif;display:grid;place-content:center;min-height:90vh;margin:0}
main{background:#FFFDF8;padding:32px 40px;border:1px solid #C9C0AC}h1{margin:0 0 8px;font-size:22px}
progress{width:22rem;accent-color:#2F4575}</style>
<main><h1>Jarvo</h1><p role="status">The demo book is being written: %[1]d %%</p>
<progress max="100" value="%[1]d" aria-label="How much of the demo book is written"></progress></main></html>`

func (b *beginning) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	if then := b.application.Load(); then != nil {
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

// prepare does what comes first, and hands over to the application.
func (b *beginning) prepare(ctx context.Context, server *http.Server) (err error) {
	options := b.then
	if b.first != nil {
		if options, err = b.first(ctx, func(percent int) { b.percent.Store(int64(percent)) }); err != nil {
			return err
		}
	}
	handler, err := b.dress(options)
	if err != nil {
		return err
	}
	server.RegisterOnShutdown(options.Book.StopNews)
	b.application.Store(&handler)
	if b.ready != nil {
		b.ready()
	}
	return nil
}
