package main

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"runtime/debug"
	"strings"

	"github.com/spf13/cobra"

	"jarvo/internal/api"
	"jarvo/internal/app/billing"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costing"
	"jarvo/internal/app/exchange"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/reports"
	"jarvo/internal/app/tape"
	"jarvo/internal/app/verify"
	"jarvo/internal/bundle"
	"jarvo/internal/core/calendar"
	"jarvo/internal/demo"
	"jarvo/internal/paper"
	"jarvo/internal/store"
)

// sparing is how much memory an import may have over what it holds, in percent.
const sparing = 50

func (c *commands) importBundle() *cobra.Command {
	var small bool
	cmd := &cobra.Command{
		Use: "import BUNDLE", Short: "Bring a bundle in, creating the book where there is none", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) (err error) {
			debug.SetGCPercent(sparing) // the bundle is held whole while it comes in
			b, err := bundle.Read(args[0])
			if err != nil {
				return err
			}
			b.SmallPercents = b.SmallPercents || small
			_, missing := os.Stat(c.file)
			brought, err := c.bringIn(cmd.Context(), b)
			err = errors.Join(err, b.Close())
			if err != nil && missing != nil { // a book that could not be begun is not left behind
				for _, end := range []string{"", "-wal", "-shm"} {
					_ = os.Remove(c.file + end)
				}
			}
			if err == nil {
				printBrought(cmd.OutOrStdout(), brought)
			}
			return err
		},
	}
	cmd.Flags().BoolVar(&small, "small-percents", false, "percentages below 0.5 are meant as they are, and not as fractions")
	return cmd
}

func (c *commands) bringIn(ctx context.Context, b *bundle.Bundle) ([]exchange.Brought, error) {
	s, err := store.Open(ctx, c.file)
	if err != nil {
		return nil, err
	}
	a := book.New(s, now)
	if err := costing.Renew(ctx, a); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	brought, err := exchange.Import(ctx, a, book.Console, b)
	return brought, errors.Join(err, s.Close())
}

// printBrought writes what came in, a file of the bundle in a line.
func printBrought(w io.Writer, files []exchange.Brought) {
	for _, f := range files {
		fmt.Fprintf(w, "%s\t%d rows, %d of them new\n", f.File, f.Rows, f.New)
	}
}

func (c *commands) export() *cobra.Command {
	return &cobra.Command{
		Use: "export BUNDLE", Short: "Write the book as a bundle: a folder, or a .zip", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return c.looking(func(a *book.Book) error {
				data, err := exchange.Export(cmd.Context(), a, book.Console)
				if err != nil {
					return err
				}
				return bundle.Write(args[0], data, func(file string) ([]byte, error) {
					return exchange.ExportScan(cmd.Context(), a, book.Console, file)
				})
			})
		},
	}
}

func (c *commands) template() *cobra.Command {
	return &cobra.Command{
		Use: "template FOLDER", Short: "Write a bundle to fill in: heads, notes and an example row of each file", Args: cobra.ExactArgs(1),
		RunE: func(_ *cobra.Command, args []string) error { return bundle.WriteTemplate(args[0]) },
	}
}

// dateFlag reads a date; a blank one is none.
func dateFlag(name, text string) (calendar.Date, error) {
	if text == "" {
		return 0, nil
	}
	d, err := calendar.Parse(text)
	if err != nil {
		return 0, usageError{fmt.Errorf("--%s: %w", name, err)}
	}
	return d, nil
}

func (c *commands) bill() *cobra.Command {
	var through, date, job string
	var issue bool
	cmd := &cobra.Command{
		Use: "bill --through DATE", Short: "Make drafts of all that is ready to bill, and issue them with --issue",
		RunE: func(cmd *cobra.Command, _ []string) error {
			to, err := dateFlag("through", through)
			if err != nil {
				return err
			}
			if to == 0 {
				return usageError{errors.New("bill: --through DATE is needed")}
			}
			on, err := dateFlag("date", date)
			if err != nil {
				return err
			}
			if on == 0 {
				on = to
			}
			return c.changing(cmd.Context(), func(a *book.Book) error {
				made, err := billing.Run(cmd.Context(), a, book.Console, to, on, job, issue)
				if err != nil { // all of it has been taken back
					return err
				}
				for _, i := range made {
					fmt.Fprintf(cmd.OutOrStdout(), "%s\t%s\t%s\n", cmp.Or(i.NumberText(), store.Draft), i.CustomerName, i.Title)
				}
				return nil
			})
		},
	}
	cmd.Flags().StringVar(&through, "through", "", "work up to this date, inclusive")
	cmd.Flags().StringVar(&date, "date", "", "the invoices' date; that of --through where absent")
	cmd.Flags().StringVar(&job, "job", "", "only this job")
	cmd.Flags().BoolVar(&issue, "issue", false, "issue what was made")
	return cmd
}

func (c *commands) report() *cobra.Command {
	var format, job, from, through string
	cmd := &cobra.Command{
		Use: "report NAME", Short: "Write a report: " + strings.Join(reports.Names(), ", "), Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			write, known := paper.Writers[format]
			if !known {
				return usageError{fmt.Errorf("--format is csv, json or xlsx, not %q", format)}
			}
			q := reports.ReportQuery{Job: job}
			var err error
			if q.From, err = dateFlag("from", from); err != nil {
				return err
			}
			if q.Through, err = dateFlag("through", through); err != nil {
				return err
			}
			return c.looking(func(a *book.Book) error {
				r, err := reports.Make(cmd.Context(), a, book.Console, args[0], q)
				if e, ok := refuse.AsError(err); ok && e.Kind == refuse.KindInvalid {
					return usageError{err}
				}
				if err != nil {
					return err
				}
				return write(cmd.OutOrStdout(), r)
			})
		},
	}
	cmd.Flags().StringVar(&format, "format", "csv", "csv, json or xlsx")
	cmd.Flags().StringVar(&job, "job", "", "only this job")
	cmd.Flags().StringVar(&from, "from", "", "from this date")
	cmd.Flags().StringVar(&through, "through", "", "up to this date, inclusive")
	return cmd
}

func (c *commands) invoice() *cobra.Command {
	var format, out string
	var backup bool
	cmd := &cobra.Command{
		Use: "invoice NUMBER --out FILE", Short: "Write an issued invoice as a paper or an open format", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			as, known := paper.Invoices[format]
			if !known {
				return usageError{fmt.Errorf("--format is pdf, ubl, en16931, csv or xlsx, not %q", format)}
			}
			if out == "" {
				return usageError{errors.New("invoice: --out FILE is needed")}
			}
			return c.looking(func(a *book.Book) error {
				view, err := billing.InvoiceByNumber(cmd.Context(), a, book.Console, args[0])
				if err != nil {
					return err
				}
				if view, err = billing.Marked(cmd.Context(), a, book.Console, view); err != nil {
					return err
				}
				var behind []tape.Backup
				if backup {
					if behind, err = tape.BackupOf(cmd.Context(), a, book.Console, view.ID); err != nil {
						return err
					}
				}
				data, err := as.Write(cmd.Context(), view, behind)
				if err != nil {
					return err
				}
				return os.WriteFile(out, data, 0o600)
			})
		},
	}
	cmd.Flags().StringVar(&format, "format", "pdf", "pdf, ubl, en16931, csv or xlsx")
	cmd.Flags().BoolVar(&backup, "backup", false, "with a pdf: the hours and receipts behind it, and how each was charged")
	cmd.Flags().StringVar(&out, "out", "", "the file to write")
	return cmd
}

func (c *commands) statement() *cobra.Command {
	var format, out string
	cmd := &cobra.Command{
		Use: "statement --out FILE", Short: "Write a statement as a bank would, its stand-in, in which the open invoices are paid",
		RunE: func(cmd *cobra.Command, _ []string) error {
			if format != "camt053" && format != "csv" {
				return usageError{fmt.Errorf("--format is camt053 or csv, not %q", format)}
			}
			if out == "" {
				return usageError{errors.New("statement: --out FILE is needed")}
			}
			return c.looking(func(a *book.Book) error {
				var file bytes.Buffer
				if err := demo.WriteStatement(cmd.Context(), a, &file, format == "csv"); err != nil {
					return err
				}
				return os.WriteFile(out, file.Bytes(), 0o600)
			})
		},
	}
	cmd.Flags().StringVar(&format, "format", "camt053", "camt053 or csv")
	cmd.Flags().StringVar(&out, "out", "", "the file to write")
	return cmd
}

func (c *commands) verify() *cobra.Command {
	var against string
	cmd := &cobra.Command{
		Use: "verify", Short: "Compute everything again and print what differs from what is stored",
		RunE: func(cmd *cobra.Command, _ []string) error {
			var backup store.HistoryEnd
			if against != "" {
				of := commands{file: against}
				if err := of.looking(func(a *book.Book) (err error) {
					backup, err = verify.HistoryEnd(cmd.Context(), a, book.Console)
					return err
				}); err != nil {
					return err
				}
			}
			return c.looking(func(a *book.Book) error {
				differences, err := verify.Run(cmd.Context(), a, book.Console)
				if err != nil {
					return err
				}
				more, err := verify.Against(cmd.Context(), a, book.Console, backup)
				if err != nil {
					return err
				}
				differences = append(differences, more...)
				end, err := verify.HistoryEnd(cmd.Context(), a, book.Console)
				if err != nil {
					return err
				}
				fmt.Fprintln(cmd.ErrOrStderr(), "the history has", end)
				for _, d := range differences {
					fmt.Fprintln(cmd.OutOrStdout(), d)
				}
				if len(differences) > 0 {
					return fmt.Errorf("%d stored figures differ from what was computed", len(differences))
				}
				fmt.Fprintln(cmd.ErrOrStderr(), "every stored figure agrees")
				return nil
			})
		},
	}
	cmd.Flags().StringVar(&against, "against", "", "a backup: the history of the book has to begin with the backup's")
	return cmd
}

func (c *commands) backup() *cobra.Command {
	return &cobra.Command{
		Use: "backup FILE", Short: "Write a consistent copy of the book, also while the server runs", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			return c.looking(func(a *book.Book) error { return a.Backup(cmd.Context(), book.Console, args[0]) })
		},
	}
}

func openAPI() *cobra.Command {
	return &cobra.Command{
		Use: "openapi", Short: "Write the description of the HTTP interface", Hidden: true,
		RunE: func(cmd *cobra.Command, _ []string) error {
			description, err := api.Describe()
			if err != nil {
				return err
			}
			_, err = cmd.OutOrStdout().Write(append(description, '\n'))
			return err
		},
	}
}
