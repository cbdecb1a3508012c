package main

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"time"

	"github.com/spf13/cobra"

	"jarvo/internal/api"
	"jarvo/internal/app"
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

func (c *commands) serve() *cobra.Command {
	var addr string
	cmd := &cobra.Command{
		Use: "serve", Short: "Run the application",
		RunE: func(cmd *cobra.Command, _ []string) error {
			s, err := store.Open(cmd.Context(), c.file)
			if err != nil {
				return err
			}
			fmt.Fprintf(cmd.OutOrStdout(), "Jarvo is at http://%s, with the book in %s\n", addr, c.file)
			return errors.Join(listen(cmd.Context(), addr, s, api.Options{}), s.Close())
		},
	}
	cmd.Flags().StringVar(&addr, "addr", "127.0.0.1:8787", "where to listen")
	return cmd
}

func (c *commands) demo() *cobra.Command {
	var addr string
	cmd := &cobra.Command{
		Use: "demo", Short: "Run the application on fresh demo data",
		RunE: func(cmd *cobra.Command, _ []string) (err error) {
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
			s, err := store.Open(cmd.Context(), file)
			if err != nil {
				return err
			}
			defer func() { err = errors.Join(err, s.Close()) }()
			begin := time.Now()
			if err := demo.Fill(cmd.Context(), app.New(s, now)); err != nil {
				return fmt.Errorf("making the demo data: %w", err)
			}
			fmt.Fprintf(cmd.OutOrStdout(), "The demo book of %s was written in %.1f s.\nOpen http://%s and sign in as %s with the password: %s\n",
				demo.Company, time.Since(begin).Seconds(), addr, demo.SignIn, demo.Password)
			return listen(cmd.Context(), addr, s, api.Options{DemoSignIn: demo.SignIn, DemoPassword: demo.Password})
		},
	}
	cmd.Flags().StringVar(&addr, "addr", "127.0.0.1:8787", "where to listen")
	return cmd
}

// listen serves until the context ends, then lets what is under way finish.
func listen(ctx context.Context, addr string, s *store.Store, o api.Options) error {
	o.App, o.Sessions, o.Files = app.New(s, now), s.Sessions(), web.Files()
	o.Log = slog.New(slog.NewJSONHandler(os.Stderr, nil))
	slog.SetDefault(o.Log)
	handler, err := api.New(o)
	if err != nil {
		return err
	}
	listener, err := (&net.ListenConfig{}).Listen(ctx, "tcp", addr)
	if err != nil {
		return fmt.Errorf("listening at %s: %w", addr, err)
	}
	server := &http.Server{Handler: handler, ReadHeaderTimeout: headerTime, ReadTimeout: requestTime, WriteTimeout: requestTime}
	server.RegisterOnShutdown(o.App.StopNews)
	failed := make(chan error, 1)
	go func() { failed <- server.Serve(listener) }()
	select {
	case err := <-failed:
		return err
	case <-ctx.Done():
	}
	o.Log.Info("stopping; what is under way is finished first")
	stopping, cancel := context.WithTimeout(context.WithoutCancel(ctx), stopTime)
	defer cancel()
	return server.Shutdown(stopping)
}
