package e2e

import (
	"errors"
	"os"
	"path/filepath"
	"sync"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/e2e/browser"
	"jarvo/internal/app/book"
	"jarvo/internal/demo"
	"jarvo/internal/post"
	"jarvo/internal/store"
)

// demoBook is the file of a demo book, written once for all tests.
var demoBook = sync.OnceValues(func() ([]byte, error) {
	folder, err := os.MkdirTemp("", "jarvo-demo-")
	if err != nil {
		return nil, err
	}
	defer func() { _ = os.RemoveAll(folder) }()
	s, err := store.Open(ctx, filepath.Join(folder, "full.db"))
	if err != nil {
		return nil, err
	}
	copied := filepath.Join(folder, "copy.db")
	a := book.New(s, clock)
	err = demo.Fill(ctx, a)
	if err == nil { // what the demo has written has gone out
		_, err = (&post.Office{Book: a, Mail: post.Standin{Folder: filepath.Join(folder, "mail")}}).SendDue(ctx)
	}
	if err := errors.Join(err, s.Backup(ctx, copied), s.Close()); err != nil {
		return nil, err
	}
	return os.ReadFile(copied)
})

func startDemo(t testing.TB) *browser.Book {
	t.Helper()
	data, err := demoBook()
	require.NoError(t, err)
	running, err := browser.StartOn(ctx, clock, data)
	require.NoError(t, err)
	t.Cleanup(running.Close)
	return running
}

// atTheDemo opens a window at a running demo book and signs somebody in.
func atTheDemo(t testing.TB, signIn, first string) user {
	t.Helper()
	return demoIn(t, 1280, 800, signIn, first)
}

func demoIn(t testing.TB, width, height int, signIn, first string) user {
	t.Helper()
	if alone, test := t.(*testing.T); test {
		alone.Parallel() // on a book of its own
	}
	u := openedAt(t, startDemo(t), width, height)
	u.load("/mark.svg")
	u.must(u.SignIn(signIn, demo.Password))
	u.load("/")
	u.must(u.See(first))
	return u
}

// TestMenusAndPanelsAreAccessible opens what opens over a sheet, and sees the focus go in and come back.
func TestMenusAndPanelsAreAccessible(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.open("/time?crew=Pile+crew&from=2026-11-16")
	u.must(u.See(cell(0, 0)))
	for _, opens := range []string{"#where", ".dates", ".ways + .acts .v-btn", ".who"} {
		u.must(u.Click(opens), u.See(".v-overlay--active"))
		u.accessible("what " + opens + " opens")
		u.must(u.Keys("\x1b"), u.Until(`!document.querySelector('.v-overlay--active')`))
	}
	u.must(u.Click(cell(0, 0)), u.Keys(kb.F1), u.See(`aside[aria-label="Help and keys"]`))
	u.sees("The week", "repeat last week", "Alt G a", "Crew sheet", "Repeat last week brings its lines")
	u.must(u.Type(`[aria-label="Search the help"]`, "mistyped wage"))
	u.sees("Workers and wages")
	u.must(u.Until(`document.activeElement.closest('aside')?.ariaLabel === 'Help and keys'`))
	u.accessible("the keys")
	u.must(u.Keys("\x1b"), u.Until(`!!document.activeElement.closest('[data-line="0"]')`))
	u.must(u.Chord(chromedp.ModifierAlt, "w"), u.See(".tape"))
	u.accessible("the workings of hours")
	u.must(u.tab("j"), u.See(`[aria-label="Jobs"]`), u.Until(`document.activeElement.id === 'sheet'`))
	u.must(u.Click(`[aria-label="Columns of Jobs"]`), u.See(".v-overlay--active"))
	u.accessible("the choice of columns")
}

func TestAForemanTypesHoursAndSeesNoMoney(t *testing.T) {
	u := atTheDemo(t, "greta@brackwater.example", ".tabs")
	tabs, err := browser.Eval[[]string](u.Page, `[...document.querySelectorAll('.tabs a')].map(a => a.innerText.trim())`)
	u.must(err)
	assert.Equal(t, []string{"Today", "Time"}, tabs)
	u.open("/time?crew=Deck+crew&from=2026-11-23")
	u.must(u.See(`[aria-label="Crew sheet"] tfoot`))
	text, err := browser.Eval[string](u.Page, "document.body.innerText")
	u.must(err)
	for _, money := range []string{"Cost", "Charge", "Margin", "Labour", "Workings"} {
		assert.NotContains(t, text, money)
	}
	status, err := browser.Eval[int](u.Page, `fetch('/api/jobs').then(r => r.status)`)
	u.must(err)
	assert.Equal(t, 403, status)
	u.must(u.Click(cell(0, 4)), u.Keys("7-3:30/30\r"))
	u.sees("Saved")
}

func TestTheWorkingsFollowWhatIsTyped(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.open("/time?crew=Pile+crew&from=2026-11-16")
	first := cell(0, 0)
	tape := func(cost string) string { return `document.querySelector('.tape')?.innerText.includes('` + cost + `')` }
	u.must(u.See(first), u.Press("Workings"), u.Click(first), u.Until(tape("544.03"))) // 9 h, one of them over
	u.must(u.Click(first), u.Keys("8\r"), u.Click(first), u.Until(tape("463.08")))
}

// TestTheWeekIsApprovedByKeyboardAlone goes from tab to tab, approves, returns with a reason and opens the keys, without a mouse.
func TestTheWeekIsApprovedByKeyboardAlone(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	u.must(u.Keys(kb.F1), u.See(`[aria-label="Help and keys"]`), u.Keys("\x1b"))
	u.must(u.tab("a"), u.Until("location.pathname === '/approve'"), u.Chord(chromedp.ModifierAlt, "["))
	u.must(u.See(`[aria-label="Waiting for approval"]`))
	waiting := func() string {
		text, err := u.Text(`.ledger-part .tools [role="status"]`)
		u.must(err)
		return text
	}
	before := waiting()
	u.must(u.Keys(kb.ArrowDown), u.Keys("a"))
	u.must(u.Until(`document.querySelector('.ledger-part .tools [role="status"]').innerText !== '` + before + `'`))
	between := waiting()
	u.must(u.Keys("r"), u.See(`input[required]`), u.Keys("Tuesday was in the yard\r"))
	u.must(u.Until(`document.querySelector('.ledger-part .tools [role="status"]').innerText !== '` + between + `'`))
	u.must(u.tab("b"), u.See(`[aria-label="Ready to bill"]`))
}
