package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/netip"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/spf13/cobra"

	"jarvo/internal/api"
	"jarvo/internal/app/access"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/demo"
	"jarvo/internal/store"
	"jarvo/web"
)

const (
	stopTime    = 10 * time.Second
	headerTime  = 10 * time.Second
	requestTime = time.Minute
)

// now is the clock: the machine's, in its own zone.
func now() time.Time { return time.Now() }

// place is where and how the application is reached.
type place struct {
	addr, proxy string
	hosts       []string
	cert, key   string // files, for TLS
}

func (p *place) flags(cmd *cobra.Command) {
	cmd.Flags().StringVar(&p.addr, "addr", "127.0.0.1:8787", "where to listen")
	cmd.Flags().StringSliceVar(&p.hosts, "host", nil, "a name that the server is reached by, beside localhost and addresses")
	cmd.Flags().StringVar(&p.cert, "tls-cert", "", "a file with the certificate: https in place of http")
	cmd.Flags().StringVar(&p.key, "tls-key", "", "a file with its key")
	cmd.Flags().StringVar(&p.proxy, "trust-proxy", "", "the address of a proxy that says from where requests come")
}

func (p *place) check() error {
	if (p.cert == "") != (p.key == "") {
		return usageError{errors.New("--tls-cert and --tls-key belong together")}
	}
	if p.proxy != "" {
		if _, err := netip.ParseAddr(p.proxy); err != nil {
			return usageError{fmt.Errorf("--trust-proxy is an address such as 10.0.0.2, not %q", p.proxy)}
		}
	}
	for i, host := range p.hosts {
		p.hosts[i] = strings.ToLower(host)
	}
	if host, _, err := net.SplitHostPort(p.addr); err == nil && host != "" {
		p.hosts = append(p.hosts, strings.ToLower(host))
	}
	return nil
}

// url is the address of the application; where the port was left to the system it is known once that is listened at.
func (p *place) url(at net.Addr) string {
	addr, scheme := p.addr, "http://"
	if strings.HasSuffix(addr, ":0") {
		addr = at.String()
	}
	if p.cert != "" {
		scheme = "https://"
	}
	return scheme + addr
}

func (c *commands) serve() *cobra.Command {
	var at place
	var copies nightly
	var mail mailing
	cmd := &cobra.Command{
		Use: "serve", Short: "Run the application",
		RunE: func(cmd *cobra.Command, _ []string) (err error) {
			if err := at.check(); err != nil {
				return err
			}
			if copies.keep < 1 {
				return usageError{errors.New("--keep is at least 1")}
			}
			sender, mailServer, err := mail.sender(c.file)
			if err != nil {
				return err
			}
			s, err := store.Open(cmd.Context(), c.file)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, s.Close()) }()
			release, err := s.Alone()
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, release()) }()
			damage, err := s.Damage(cmd.Context())
			if err != nil || len(damage) > 0 {
				return errors.Join(
					fmt.Errorf("%s is damaged: keep the file, and go on from the last backup", c.file), err, errors.New(strings.Join(damage, "\n")),
				)
			}
			a := book.New(s, now)
			if err := costing.Renew(cmd.Context(), a); err != nil {
				return err
			}
			state, err := access.State(cmd.Context(), a)
			if err != nil {
				return err
			}
			if copies.folder != "" {
				defer beside(cmd.Context(), a, lookEvery, copies.run)()
			}
			defer beside(cmd.Context(), a, lookEvery, recur)()
			defer beside(cmd.Context(), a, queueEvery, sending(sender))()
			options := api.Options{Book: a, Sessions: s.Sessions(), MailServer: mailServer}
			return at.listen(cmd.Context(), &beginning{then: options}, func(url string) {
				fmt.Fprintf(cmd.OutOrStdout(), "Jarvo is at %s, with the book in %s\n", url, c.file)
				if !state.Opened {
					fmt.Fprintf(cmd.OutOrStdout(), "The book is opened there with this code: %s\n", a.OpeningCode())
				}
			})
		},
	}
	at.flags(cmd)
	mail.flags(cmd)
	cmd.Flags().StringVar(&copies.folder, "backups", "", "a folder that gets a copy of the book each day")
	cmd.Flags().IntVar(&copies.keep, "keep", 30, "how many of these copies are kept")
	return cmd
}

func (c *commands) demo() *cobra.Command {
	var at place
	var mail mailing
	cmd := &cobra.Command{
		Use: "demo", Short: "Run the application on fresh demo data",
		RunE: func(cmd *cobra.Command, _ []string) (err error) {
			if err := at.check(); err != nil {
				return err
			}
			file := c.file
			if !cmd.Flags().Changed("db") {
				folder, err := os.MkdirTemp("", "jarvo-demo-")
				if err != nil {
					return err
				}
				defer func() { _ = os.RemoveAll(folder) }()
				file = filepath.Join(folder, "demo.db")
			} else if _, err := os.Stat(file); err == nil {
				return usageError{fmt.Errorf("%s is there already; the demo begins with a new file", file)}
			}
			sender, mailServer, err := mail.sender(file)
			if err != nil {
				return err
			}
			end := func() error { return nil }
			defer func() { err = errors.Join(err, end()) }()
			begin := time.Now()
			written := func() {
				fmt.Fprintf(cmd.OutOrStdout(), "The demo book was written in %.1f s.\n", time.Since(begin).Seconds())
			}
			return at.listen(cmd.Context(), &beginning{ready: written, first: func(ctx context.Context, follow func(int)) (o api.Options,
				err error) {
				s, err := store.Open(ctx, file)
				if err != nil {
					return o, err
				}
				end = s.Close
				release, err := s.Alone()
				if err != nil {
					return o, err
				}
				end = func() error { return errors.Join(release(), s.Close()) }
				a := book.New(s, now)
				if err := demo.FillFollowed(ctx, a, follow); err != nil {
					return o, fmt.Errorf("making the demo data: %w", err)
				}
				stop := beside(ctx, a, queueEvery, sending(sender))
				end = func() error { stop(); return errors.Join(release(), s.Close()) }
				return api.Options{
					Book: a, Sessions: s.Sessions(), MailServer: mailServer, DemoSignIn: demo.SignIn, DemoPassword: demo.Password,
				}, nil
			}}, func(url string) {
				fmt.Fprintf(cmd.OutOrStdout(), "Open %s and sign in to %s as %s with the password: %s\n",
					url, demo.Company, demo.SignIn, demo.Password)
			})
		},
	}
	at.flags(cmd)
	return cmd
}

// listen serves until the context ends, then lets what is under way finish. It tells the address once it can be reached there.
func (p *place) listen(ctx context.Context, b *beginning, tell func(url string)) error {
	log := slog.New(slog.NewJSONHandler(os.Stderr, nil))
	slog.SetDefault(log)
	b.dress = func(o api.Options) (http.Handler, error) {
		o.Files, o.Hosts, o.TrustProxy, o.Encrypted, o.Log = web.Files(), p.hosts, p.proxy, p.cert != "", log
		return api.New(o)
	}
	listener, err := (&net.ListenConfig{}).Listen(ctx, "tcp", p.addr)
	if err != nil {
		return fmt.Errorf("listening at %s: %w", p.addr, err)
	}
	server := &http.Server{Handler: b, ReadHeaderTimeout: headerTime, ReadTimeout: requestTime, WriteTimeout: requestTime}
	failed := make(chan error, 2)
	if b.first == nil {
		if err := b.prepare(ctx, server); err != nil {
			return errors.Join(err, listener.Close())
		}
	} else {
		done := make(chan struct{})
		go func() {
			defer close(done)
			if err := b.prepare(ctx, server); err != nil {
				failed <- err
			}
		}()
		defer func() { <-done }()
	}
	tell(p.url(listener.Addr()))
	go func() {
		if p.cert != "" {
			failed <- server.ServeTLS(listener, p.cert, p.key)
			return
		}
		failed <- server.Serve(listener)
	}()
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	log.Info("stopping; what is under way is finished first")
	stopping, cancel := context.WithTimeout(context.WithoutCancel(ctx), stopTime)
	defer cancel()
	return server.Shutdown(stopping)
}
