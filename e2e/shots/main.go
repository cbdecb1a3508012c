// Command shots takes the pictures of docs/screenshots from the demo book.
package main

import (
	"bytes"
	"context"
	"errors"
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"jarvo/e2e/browser"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/scope"
	"jarvo/internal/demo"
)

// shot is one picture: an address of the demo, what must be on the page, and what is done there first.
type shot struct {
	name, path, see string
	do              func(*browser.Page) error
	dark            bool
	as              string // who looks at it, on a phone; the owner where absent
	asked           bool   // taken only where it is named
}

func showWorkings(p *browser.Page) error {
	return errors.Join(p.Click(`tr[data-line="0"] td[data-day="0"]`), p.Chord(chromedp.ModifierAlt, "w"), p.See(".tape"))
}

func openWorkings(p *browser.Page) error { return errors.Join(p.Press("Workings"), p.See(".tape")) }

func shots(bank *book.Book, week, paper string) []shot {
	return []shot{
		{name: "today", path: "/", see: `[aria-label="Loose ends"]`},
		{name: "today-job", asked: true, path: "/?job=1193", see: `[aria-label="Loose ends"]`},
		{name: "today-settle", asked: true, path: "/", see: `[aria-label="Loose ends"]`, do: func(p *browser.Page) error {
			return errors.Join(p.Press("Fill in"), p.See(".settle"))
		}},
		{name: "time", path: "/time?crew=Pile+crew&from=" + week, see: `[aria-label="Crew sheet"] tfoot`, do: showWorkings},
		{name: "time-dark", path: "/time?crew=Deck+crew&from=" + week, see: `[aria-label="Crew sheet"] tfoot`, dark: true},
		{name: "time-entry", asked: true, path: "/time?crew=Pile+crew&from=" +
			week, see: `[aria-label="Crew sheet"] tfoot`, do: func(p *browser.Page) error {
			return errors.Join(
				p.Click(`tr[data-line="4"] td[data-day="0"]`), p.Keys("7-3:30/30\r"+kb.ArrowUp), p.Chord(chromedp.ModifierAlt, "t"),
				p.Type(`[aria-label="This entry"] .note input`, "crane stood for the tide\r"), p.See(".history li:nth-child(3)"),
				p.See(`form[aria-label="This entry"]`),
			)
		}},
		{name: "time-day", path: "/time?crew=Pile+crew&span=day&from=" +
			week, see: `[aria-label="Day sheet"] tfoot`, do: func(p *browser.Page) error {
			return errors.Join(p.Click(`tr[data-line="0"] td[data-day="0"]`), p.Keys("7\t5:30\t30\r"), p.See(`.left`))
		}},
		{name: "time-import", asked: true, path: "/time?view=import&from=" + week, see: `textarea`, do: func(p *browser.Page) error {
			return errors.Join(
				p.Type(
					"textarea",
					"Name,Job no,Code,Mon,Tue,Wed\nCato Brandl,1187,320,4,4:30,\nBess,1192,210,,,8\nDina Oake,1187,320,7-25,8,\nSomebody "+
						"Else,1187,320,8,8,8\nFitz Harrow,9999,320,8,8,8",
				),
				p.See(`[aria-label="What was read"]`),
			)
		}},
		{name: "time-list", asked: true, path: "/time?crew=Pile+crew&view=list&from=" + week, see: `[aria-label="Entries"] tfoot`},
		{name: "costs", path: "/costs?span=quarter&open=" + paper, see: `[aria-label="Lines"] tfoot`},
		{name: "costs-split", asked: true, path: "/costs?open=new", see: `[aria-label="Lines"] tfoot`, do: func(p *browser.Page) error {
			return errors.Join(p.Click(
				`input[aria-label="Line 1, what"]`,
			), p.Paste("Diesel\t1\tlot\t100.00\r\nShackles\t4\tpcs\t1,250.50\r\nShackles, sent back\t-1\tpcs\t1250.5"),
				p.Click(`button[aria-label="Line 1, phase, code, price, split"]`), p.Press("Split over jobs"))
		}},
		{name: "costs-unsaved", asked: true, path: "/costs?open=new", see: `[aria-label="Lines"] tfoot`, do: func(p *browser.Page) error {
			return errors.Join(
				p.Fill("", "Supplier", "Half Way Stores"), p.Type(`input[aria-label="Line 1, what"]`, "Rope"),
				p.Type(`input[aria-label="Line 1, unit cost"]`, "12"), p.SeeText("1 paper not saved"),
			)
		}},
		{name: "costs-owed", asked: true, path: "/costs?list=owed", see: `[aria-label="Paid back"]`},
		{name: "costs-workings", asked: true, path: "/costs?span=quarter&open=" + paper, see: `[aria-label="Lines"] tfoot`, do: openWorkings},
		{name: "approve", path: "/approve?from=" + week, see: `[aria-label="Waiting for approval"]`},
		{name: "approve-week", asked: true, path: "/approve?from=" + week, see: `[aria-label="Waiting for approval"]`,
			do: func(p *browser.Page) error {
				return errors.Join(p.ClickIn(`[aria-label="Waiting for approval"] tr`, "June", "td:nth-child(2)"), p.SeeText("Compared with"))
			}},
		{name: "trail", asked: true, path: "/jobs/1187", see: `[aria-label="Booked to it"]`, do: func(p *browser.Page) error {
			return errors.Join(
				p.Until(
					`(() => { const all = document.querySelectorAll('[aria-label="Booked to it"] .trail-box');
						const t = [...all].find(t => t.getAttribute('aria-label').startsWith('billed')) ?? all[all.length - 1]; t?.scrollIntoView();
							t?.focus(); return !!t })()`,
				),
				p.See(".trail-told span"),
			)
		}},
		{name: "approve-decided", asked: true, path: "/approve?list=decided", see: `[aria-label="Decided"] tbody tr`},
		{name: "bill-ready", path: "/bill", see: `[aria-label="Ready to bill"]`},
		{name: "bill-draft", path: "/bill?list=drafts", see: `.invoice .due`},
		{name: "bill-issued", path: "/bill?list=issued&span=all", see: `.invoice .due`},
		{name: "jobs", path: "/jobs", see: `[aria-label="Jobs"]`},
		{name: "job", path: "/jobs/1187", see: `[aria-label="Booked to it"]`},
		{name: "job-fixed", asked: true, path: "/jobs/1194", see: `[aria-label="Fixed price"]`},
		{name: "job-budget", asked: true, path: "/jobs/1184?change=budget", see: `form[aria-label="Budget of job 1184"]`},
		{name: "job-workings", asked: true, path: "/jobs/1187", see: `[aria-label="Booked to it"]`, do: openWorkings},
		{name: "bill-parts", asked: true, path: "/bill?list=drafts", see: `.invoice .due`, do: func(p *browser.Page) error {
			row := `[aria-label="What can go on it"] tbody tr[data-row]:nth-child(`
			part := func(n, way, value, rest, why string) error {
				form := "tr.below form"
				errs := []error{p.Click(row + n + `) button.lnk`), p.See(form)}
				label, err := browser.Eval[string](p, "document.querySelector('tr.below form').ariaLabel")
				errs = append(errs, err, p.Fill(label, "Bill", way))
				if value != "" {
					errs = append(errs, p.Fill(label, map[string]string{"hours": "Hours", "amount": "Amount"}[way], value))
				}
				if rest != "" {
					errs = append(errs, p.Fill(label, "What is left", rest))
				}
				return errors.Join(append(errs, p.Fill(label, "Why", why), p.Press("Save"), p.Until("!document.querySelector('"+form+"')"))...)
			}
			return errors.Join(part("2", "hours", "5", "later", ""), part("3", "off", "", "", "bad splice, done again"),
				part("4", "hold", "", "", "is it in the price?"), part("5", "amount", "800", "", "agreed"), p.Click(row+`6) button.lnk`))
		}},
		{name: "bill-typed", asked: true, path: "/bill?list=drafts", see: `.invoice .due`, do: func(p *browser.Page) error {
			return errors.Join(
				p.Press("Add a line"), p.Fill("A line of your own", "Text", "Berth for the barge, three nights"),
				p.Fill("A line of your own", "Quantity", "3"), p.Fill("A line of your own", "Unit", "night"),
				p.Fill("A line of your own", "Amount", "450"), p.Press("Add"), p.SeeText("Berth for the barge"),
				p.Press("Discount"), p.Fill("Discount", "Percent", "5"), p.Press("Add"), p.SeeText("Discounts"),
				p.Press("Dates and texts"), p.Fill("Dates and texts", "Their order number", "SR-2207"),
			)
		}},
		{name: "bill-deposit", asked: true, path: "/bill", see: `[aria-label="Ready to bill"]`, do: func(p *browser.Page) error {
			return errors.Join(p.ClickIn(`[aria-label="Ready to bill"] tr`, "1191", "input"), p.Press("Make 1 draft"), p.See(".deposit"),
				p.Click(".deposit button[aria-expanded]"), p.See(".deposit form"))
		}},
		{name: "bill-limit", asked: true, path: "/jobs/1187?change=job", see: `form[aria-label="Change job 1187"]`, do: func(
			p *browser.Page,
		) error {
			return errors.Join(p.Fill("Change job 1187", "Limit", "150000"), p.Press("Save"), p.SeeText("not to exceed 150,000.00"),
				p.Click(`nav a[href^="/bill"]`), p.See(`[aria-label="Not ready yet"]`),
				p.ClickIn(`[aria-label="Not ready yet"] tr`, "Over the limit", "button"), p.See(".held input"),
				p.Click(".held label:last-child input"))
		}},
		{name: "bill-move", asked: true, path: "/bill?list=drafts", see: `[aria-label="What can go on it"] tbody tr[data-row]`, do: func(
			p *browser.Page,
		) error {
			row := `[aria-label="What can go on it"] tbody tr[data-row]:nth-child(`
			return errors.Join(p.Click(row+`2) input`), p.Click(row+`3) input`), p.Press("Move 2"))
		}},
		{name: "bill-credit", asked: true, path: "/bill?list=issued&span=all", see: `.invoice .due`, do: func(p *browser.Page) error {
			row := `[aria-label="What can be credited"] tbody tr[data-row]`
			return errors.Join(
				p.Press("Credit note"), p.See(row), p.Click(row+` button.lnk`), p.See("tr.below form"),
				p.Keys("100"), p.Press("Credit it"), p.See(`.invoice .due`),
			)
		}},
		{name: "bill-values", asked: true, path: "/bill?list=values&job=1189", see: `[aria-label="Lines of the fixed price"] tfoot`,
			do: func(p *browser.Page) error {
				row := `[aria-label="Lines of the fixed price"] tbody tr[data-row]:nth-child(`
				return errors.Join(
					p.Type(row+`2) input`, "85\r"), p.SeeText("32,000.00"),
					p.Type(row+`3) input[aria-label$=", stored"]`, "6000\r"), p.SeeText("6,000.00"),
				)
			}},
		{name: "bill-instalments", asked: true, path: "/bill?list=values&job=1184", see: `[aria-label="Lines of the fixed price"] tfoot`,
			do: func(p *browser.Page) error { return p.Press("Installments") }},
		{name: "bill-recurring", asked: true, path: "/bill?list=recurring", see: `main`, do: func(p *browser.Page) error {
			return p.Press("New recurring invoice")
		}},
		{name: "bill-workings", asked: true, path: "/bill?list=drafts", see: `.invoice .due`, do: openWorkings},
		{name: "setup-workers", path: "/setup?part=workers", see: `[aria-label="Workers"]`},
		{name: "setup-burden", path: "/setup?part=burden&worker=3", see: `svg.stack`},
		{name: "setup-rates", asked: true, path: "/setup?part=rates", see: `[aria-label="Labor rates"]`},
		{name: "setup-suppliers", asked: true, path: "/setup?part=suppliers", see: `[aria-label="Suppliers"]`, do: func(p *browser.Page) error {
			return errors.Join(p.ClickIn(`[aria-label="Suppliers"] tr`, "Pellmore", "button"), p.SeeText("Is the same as"))
		}},
		{name: "setup-company", asked: true, path: "/setup?part=company", see: `form[aria-label="The company"]`},
		{name: "setup-codes", asked: true, path: "/setup?part=codes", see: `[aria-label="Trades"]`},
		{name: "setup-prices", asked: true, path: "/setup?part=prices", see: `[aria-label="Price list"]`, do: func(p *browser.Page) error {
			return errors.Join(p.Press("Prices"), p.SeeText("Papers entered before"))
		}},
		{name: "page-supplier", asked: true, path: "/page/supplier/1", see: `[aria-label="History"]`},
		{name: "page-customer", asked: true, path: "/page/customer/1", see: `[aria-label="History"]`},
		{name: "page-worker", asked: true, path: "/page/worker/1", see: `[aria-label="History"]`},
		{name: "page-item", asked: true, path: "/page/item/1", see: `[aria-label="History"]`},
		{name: "costs-void", asked: true, path: "/costs?span=all", see: `[aria-label="Papers"] tr`, do: func(p *browser.Page) error {
			const form = "Void this paper"
			return errors.Join(
				p.ClickIn(`[aria-label="Papers"] tr`, "Tolverne", "td"), p.Press("Void paper"), p.See(`form[aria-label="`+form+`"]`),
				p.Fill(form, "Why it is void", "typed twice"), p.SeeText("not billed yet"),
			)
		}},
		{name: "phone-clock", path: "/clock", see: `[aria-label="My week"]`, as: "fitz@brackwater.example"},
		{name: "phone-approve", path: "/approve?from=" + week, see: `.phone-list`, as: "tom@brackwater.example", do: func(p *browser.Page) error {
			return errors.Join(
				p.Until(
					`(() => { const b = [...document.querySelectorAll(".phone-list .who")].find(b => b.innerText.includes("June")); b?.click();
						return !!b })()`,
				),
				p.See(".opened .days"), p.Click(`.phone-list li:nth-child(4) input`),
			)
		}},
		{
			name: "phone-foreman", path: "/time?span=day&from=2026-11-26", see: `[aria-label="The crew's day"]`,
			as: "greta@brackwater.example", do: func(p *browser.Page) error {
				return errors.Join(p.Type(`[aria-label="Hours for all"]`, "7-5:30/30"))
			},
		},
		{
			name: "phone-plant", asked: true, path: "/time?span=day&from=" + week, see: `[aria-label="The crew's day"]`,
			as: "greta@brackwater.example", do: func(p *browser.Page) error {
				return errors.Join(p.Click(".fold"), p.Click(`[aria-label="Add plant"]`), p.Keys("Cr\r"),
					p.Until(`(document.querySelector('.day-log').scrollIntoView(), true)`))
			},
		},
		{name: "phone-today", path: "/?from=" + week, see: `[aria-label="Loose ends"]`, as: demo.SignIn},
		{
			name: "compare", asked: true, path: "/costs?span=all", see: `[aria-label="Papers"] tr`, do: func(p *browser.Page) error {
				return errors.Join(
					p.ClickIn(`[aria-label="Papers"] tr`, "7731", "td"), p.Press("Compare the two"), p.See(`[aria-label="Lines of the paper"]`),
				)
			},
		},
		{name: "find", asked: true, path: "/", see: `[aria-label="Loose ends"]`, do: func(p *browser.Page) error {
			return errors.Join(p.Chord(chromedp.ModifierCtrl, "k"), p.Type(`[aria-label="Find or do"]`, "sable"), p.SeeText("Supplier, "))
		}},
		{name: "keys", asked: true, path: "/time?crew=Pile+crew&from=" + week, see: `tr[data-line="0"]`, do: func(p *browser.Page) error {
			return errors.Join(p.Click(`tr[data-line="0"] td[data-day="0"]`), p.Keys(kb.F1), p.See(`aside[aria-label="Help and keys"]`))
		}},
		{name: "when", asked: true, path: "/costs?span=quarter", see: `[aria-label="Papers"]`, do: func(p *browser.Page) error {
			return errors.Join(p.Click(".dates"), p.See(".v-overlay--active"))
		}},
		{name: "job-change", asked: true, path: "/jobs/1187", see: `[aria-label="Booked to it"]`, do: func(p *browser.Page) error {
			return errors.Join(p.Press("Change job"), p.See(`form[aria-label="Change job 1187"]`))
		}},
		{name: "worker-change", asked: true, path: "/setup?part=workers", see: `[aria-label="Workers"]`, do: func(p *browser.Page) error {
			return errors.Join(p.ClickIn(`[aria-label="Workers"] tr`, "Cato Brandl", "button:last-child"), p.Until(
				`(() => { const f = [...document.querySelectorAll('form[aria-label="Change Cato Brandl"] input[type=checkbox]')][0];
					f?.click(); return !!f })()`), p.SeeText("not billed yet"))
		}},
		{name: "worker-new", asked: true, path: "/setup?part=workers&add=yes", see: `[aria-label="Workers"]`, do: func(p *browser.Page) error {
			return errors.Join(p.Fill("New worker", "Name", "Ola"), p.Fill("New worker", "Trade", "diver"), p.Fill("New worker", "Wage", "5"),
				p.Press("Add worker"), p.ClickIn(`[aria-label="Workers"] tr`, "Ola", ".acts-of button:last-child"))
		}},
		{name: "worker-wages", asked: true, path: "/setup?part=workers", see: `[aria-label="Workers"]`, do: func(p *browser.Page) error {
			return errors.Join(p.ClickIn(`[aria-label="Workers"] tr`, "Cato Brandl", "button"), p.See(`[aria-label="Wages of Cato Brandl"]`),
				p.ClickIn(`[aria-label="Wages of Cato Brandl"] tr`, "Correct", "button"),
				p.Fill("Correct a wage of Cato Brandl", "Wage", "36"), p.SeeText("rests on this wage"))
		}},
		{name: "customer-change", asked: true, path: "/setup?part=customers", see: `[aria-label="Customers"]`, do: func(p *browser.Page) error {
			return errors.Join(p.ClickIn(`[aria-label="Customers"] tr`, "Gannet", "button"), p.See(`form[aria-label="Change Gannet Point Ferries"]`))
		}},
		{name: "setup-taxes", asked: true, path: "/setup?part=codes", see: `[aria-label="Taxes"]`, do: func(p *browser.Page) error {
			return errors.Join(p.Press("New tax code"), p.Press("Add a component, or the next percentage of one"))
		}},
		{name: "bill-payments", asked: true, path: "/bill?list=payments&span=all", see: `[aria-label="Payments"]`,
			do: func(p *browser.Page) error {
				return errors.Join(p.Click(`[aria-label="Payments"] tbody tr:nth-child(2) button.lnk`))
			}},
		{name: "bill-bank", asked: true, path: "/bill?list=bank&span=all", see: `[aria-label="Receipts in the bank"]`,
			do: func(p *browser.Page) error {
				file := filepath.Join(os.TempDir(), "statement.xml")
				var data bytes.Buffer
				return errors.Join(demo.WriteStatement(context.Background(), bank, &data, false), os.WriteFile(file, data.Bytes(), 0o600),
					p.Upload(`input[aria-label="Read a statement"]`, file), p.See(`[aria-label="Sure"]`))
			}},
		{name: "bill-payment", asked: true, path: "/bill?list=payments&span=all", see: `[aria-label="Payments"]`,
			do: func(p *browser.Page) error {
				return errors.Join(p.Press("Record payment"), p.Pick("Customer", "Gannet"),
					p.Type(`form[aria-label="Record payment"] input[name="amount"]`, "30000"), p.See(`[aria-label="Open invoices"]`))
			}},
		{name: "setup-data", asked: true, path: "/setup?part=data", see: `#bring-in`, do: func(p *browser.Page) error {
			file := filepath.Join(os.TempDir(), "wages.csv")
			return errors.Join(os.WriteFile(file, []byte("worker,effective_from,rate\nnobody,2026-13-01,x\n"), 0o600),
				p.Upload(`input[type="file"]`, file), p.See(`[aria-label="What is wrong"]`))
		}},
		{name: "phone-hours", asked: true, path: "/hours?", see: `[aria-label="My week"]`, as: "fitz@brackwater.example"},
		{name: "setup-company", asked: true, path: "/setup?part=company", see: `form[aria-label="The company"]`, do: func(p *browser.Page) error {
			return errors.Join(p.Fill("The company", "Beyond, a day", "7"), p.SeeText("not billed yet"))
		}},
		{name: "page-statement", asked: true, path: "/page/customer/1", see: `[aria-label="History"]`, do: func(p *browser.Page) error {
			return errors.Join(p.Press("Send statement"), p.See(`textarea[name="body"]`))
		}},
		{name: "bill-messages", path: "/bill?list=messages&span=all", see: `[aria-label="The message"] .text`},
		{name: "bill-send", asked: true, path: "/bill?list=issued&span=all", see: `.invoice .due`, do: func(p *browser.Page) error {
			return errors.Join(p.Press("Send"), p.See(`textarea[name="body"]`))
		}},
		{name: "bill-reminder", asked: true, path: "/bill?list=messages&span=all", see: `[aria-label="Reminders"] tbody tr`,
			do: func(p *browser.Page) error {
				return errors.Join(p.Click(`[aria-label="Reminders"] tbody tr[data-row] td:nth-child(3)`),
					p.See(`[aria-label^="Reminder to"] textarea`))
			}},
		{name: "bill-texts", asked: true, path: "/bill?list=messages&span=all", see: `[aria-label="Reminders"]`, do: func(p *browser.Page) error {
			return errors.Join(p.Press("Texts of messages"), p.See(`textarea[name="body"]`))
		}},
		{name: "bill-issued-week", asked: true, path: "/bill?list=issued&from=" + week, see: `main`},
		{name: "setup-people", asked: true, path: "/setup?part=people", see: `[aria-label="Users"]`},
		{name: "costs-scan", asked: true, path: "/costs?span=quarter&open=" + paper, see: `.strip canvas`, do: func(p *browser.Page) error {
			return errors.Join(p.Press("Open large"), p.Until(`document.querySelector(".large canvas")?.height > 600`))
		}},
		{name: "costs-mileage", asked: true, path: "/costs?open=new", see: `[aria-label="Lines"] tfoot`, do: func(p *browser.Page) error {
			return errors.Join(
				p.Click(`.kind select`), p.Keys("m\t"), p.Click(`button[aria-label="Line 1, phase, code, price, split"]`),
				p.Type(`input[aria-label="Line 1, quantity"]`, "120"), p.See(`[aria-label="Lines"] td small, [aria-label="Lines"] tfoot .num`),
			)
		}},
		{name: "setup-prices", asked: true, path: "/setup?part=prices", see: `[aria-label="Price list"]`},
		{name: "setup-markups", asked: true, path: "/setup?part=markups", see: `[aria-label="Markups"]`},
	}
}

func main() {
	out := flag.String("out", "docs/screenshots", "the folder to write to")
	only := flag.String("only", "", "names, separated by commas; those of docs/screenshots where absent")
	width := flag.Int("width", 1280, "of the window")
	height := flag.Int("height", 800, "of the window")
	dark := flag.Bool("dark", false, "all of them in the dark")
	flag.Parse()
	c := &camera{out: *out, only: *only, width: *width, height: *height, dark: *dark}
	if err := c.run(context.Background()); err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

type camera struct {
	out, only     string
	width, height int
	dark          bool
	page          *browser.Page
}

func (c *camera) run(ctx context.Context) error {
	if err := os.MkdirAll(c.out, 0o755); err != nil {
		return err
	}
	empty, err := browser.Start(ctx, time.Now)
	if err != nil {
		return err
	}
	defer empty.Close()
	book, err := browser.Start(ctx, time.Now)
	if err != nil {
		return err
	}
	defer book.Close()
	if err := demo.Fill(ctx, book.Book); err != nil {
		return err
	}
	chromium, err := browser.Launch(ctx)
	if err != nil {
		return err
	}
	defer chromium.Close()
	if c.page, err = chromium.Open(c.width, c.height, time.Time{}); err != nil {
		return err
	}
	if err := c.take(empty.URL, shot{name: "first-start", path: "/", see: `input[name="companyName"]`}); err != nil {
		return err
	}
	if err := c.take(book.URL, shot{name: "sign-in", asked: true, path: "/", see: `input[name="password"]`}); err != nil {
		return err
	}
	p := c.page
	if err := errors.Join(
		p.Go(book.URL+"/"), p.Type(`input[name="name"]`, demo.SignIn), p.Type(`input[name="password"]`, demo.Password+"\r"),
		p.See(`[aria-label="Loose ends"]`),
	); err != nil {
		return err
	}
	today, err := book.Book.Today(ctx)
	if err != nil {
		return err
	}
	week := today.WeekStart(time.Monday) - 7
	for _, s := range shots(book.Book, week.String(), paperWithoutJob(ctx, book.Book)) {
		if err := c.take(book.URL, s); err != nil {
			return err
		}
	}
	return nil
}

func (c *camera) take(url string, s shot) error {
	if c.only == "" && s.asked || c.only != "" && !strings.Contains(","+c.only+",", ","+s.name+",") {
		return nil
	}
	look := "light"
	if s.dark || c.dark {
		look = "dark"
	}
	if err := c.page.Go(url + "/healthz"); err != nil {
		return err
	}
	if _, err := browser.Eval[bool](c.page, fmt.Sprintf("localStorage.setItem('jarvo-look', '%s'); true", look)); err != nil {
		return err
	}
	if s.as != "" {
		if err := errors.Join(c.page.SignIn(url, s.as, demo.Password), c.page.Resize(390, 844)); err != nil {
			return err
		}
		defer func() {
			_ = errors.Join(c.page.SignIn(url, demo.SignIn, demo.Password), c.page.Resize(c.width, c.height))
		}()
	}
	if err := errors.Join(c.page.Go(url+s.path), c.page.See(s.see)); err != nil {
		return fmt.Errorf("%s: %w", s.name, err)
	}
	if s.do != nil {
		if err := s.do(c.page); err != nil {
			return fmt.Errorf("%s: %w", s.name, err)
		}
	}
	picture, err := c.page.Picture()
	if err != nil {
		return fmt.Errorf("%s: %w", s.name, err)
	}
	return os.WriteFile(filepath.Join(c.out, s.name+".png"), picture, 0o644)
}

// paperWithoutJob is the document of the demo with a line that has no job.
func paperWithoutJob(ctx context.Context, a *book.Book) string {
	list, err := costs.List(ctx, a, book.Console, scope.ScopeQuery{})
	if err != nil {
		return ""
	}
	for _, d := range list.Documents {
		if d.NoJob > 0 {
			return fmt.Sprint(d.ID)
		}
	}
	return ""
}
