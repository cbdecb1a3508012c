// Command jarvo runs a contractor's book: the application, and the same work from the command line.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/signal"
	"syscall"

	"github.com/spf13/cobra"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

// The exit codes of every command.
const (
	exitFailed = 1 // the work could not be done
	exitUsage  = 2 // the call was wrong
)

// usageError is a call that was wrong.
type usageError struct{ error }

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	os.Exit(run(ctx, os.Args[1:]))
}

func run(ctx context.Context, args []string) int {
	root := rootCommand()
	root.SetArgs(args)
	err := root.ExecuteContext(ctx)
	if err == nil {
		return 0
	}
	if errors.Is(err, context.Canceled) {
		err = errors.New("stopped; nothing was changed")
	}
	fmt.Fprintln(os.Stderr, refuse.Told(err))
	var usage usageError
	if errors.As(err, &usage) {
		return exitUsage
	}
	return exitFailed
}

type commands struct {
	file string
}

func rootCommand() *cobra.Command {
	c := &commands{}
	root := &cobra.Command{
		Use: "jarvo", Short: "A contractor's book: hours and costs to invoices and profit", SilenceErrors: true, SilenceUsage: true,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) > 0 {
				return usageError{fmt.Errorf("there is no command %q; see jarvo --help", args[0])}
			}
			return nil
		},
		RunE: func(cmd *cobra.Command, _ []string) error { return cmd.Help() },
	}
	root.PersistentFlags().StringVar(&c.file, "db", "jarvo.db", "the file that holds the book")
	root.SetFlagErrorFunc(func(_ *cobra.Command, err error) error { return usageError{err} })
	root.AddCommand(
		c.serve(), c.demo(), c.importBundle(), c.export(), c.template(), c.bill(), c.report(), c.invoice(), c.statement(), c.verify(),
		c.backup(), openAPI(),
	)
	for _, sub := range root.Commands() {
		args := sub.Args
		if args == nil {
			args = cobra.NoArgs
		}
		sub.Args = func(cmd *cobra.Command, given []string) error {
			if err := args(cmd, given); err != nil {
				return usageError{fmt.Errorf("%s: %w; see jarvo %s --help", cmd.Name(), err, cmd.Name())}
			}
			return nil
		}
	}
	return root
}

// changing opens the book, which must be there, brings it up to date, and closes it after f.
func (c *commands) changing(ctx context.Context, f func(*book.Book) error) error {
	s, err := store.OpenExisting(ctx, c.file)
	return with(s, err, func(b *book.Book) error {
		if err := costing.Renew(ctx, b); err != nil {
			return err
		}
		return f(b)
	})
}

// looking opens the book, which must be there and of this version, for a command that changes nothing in it.
func (c *commands) looking(f func(*book.Book) error) error {
	s, err := store.OpenAsIs(c.file)
	return with(s, err, f)
}

func with(s *store.Store, err error, f func(*book.Book) error) error {
	if err != nil {
		return err
	}
	return errors.Join(f(book.New(s, now)), s.Close())
}
