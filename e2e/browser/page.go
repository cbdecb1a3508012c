package browser

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"os/exec"
	"strings"
	"time"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/cdproto/storage"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// Page is a window of a headless Chromium, used as a person does: by what is seen and by the keyboard.
type Page struct {
	ctx   context.Context
	stop  func()
	until time.Time // when a wait for what never comes ends; zero: never
	// clickedAt is where it was clicked last, in pixels from the left and the top.
	clickedAt []float64
}

// waiting is the context of a wait.
func (p *Page) waiting() (context.Context, context.CancelFunc) {
	if p.until.IsZero() {
		return context.WithCancel(p.ctx)
	}
	return context.WithDeadline(p.ctx, p.until)
}

// Says is the text of the page, whether or not a wait has ended.
func (p *Page) Says() string {
	text, _ := chromedp.Run(p.ctx, chromedp.Evaluate[string]("document.body.innerText"))
	return text
}

// Chromium is a running browser, in which each page has cookies and a store of its own.
type Chromium struct {
	ctx  context.Context
	stop func()
	free chan *Page // windows that were given back
}

// windows is how many windows are kept for who comes next.
const windows = 4

// Launch starts a Chromium.
func Launch(ctx context.Context) (*Chromium, error) {
	path, err := exec.LookPath("chromium")
	if err != nil {
		return nil, fmt.Errorf("there is no chromium on this machine; make test installs it: %w", err)
	}
	options := append(chromedp.DefaultExecAllocatorOptions[:],
		chromedp.ExecPath(path), chromedp.NoSandbox, chromedp.DisableGPU,
		chromedp.Flag("disable-background-networking", true), chromedp.Flag("disable-component-update", true),
		chromedp.Flag("disable-sync", true),
		chromedp.Flag("disable-quic", true), chromedp.Flag("hide-scrollbars", true), chromedp.Flag("force-color-profile", "srgb"),
		chromedp.Env("LANG=en_US.UTF-8", "LANGUAGE=en_US", "TZ=UTC"),
	)
	allocator, cancelAllocator := chromedp.NewExecAllocator(ctx, options...)
	tab, cancelTab := chromedp.NewContext(allocator)
	c := &Chromium{tab, func() {
		cancelTab()
		cancelAllocator()
	}, make(chan *Page, windows)}
	if err := chromedp.Do(tab); err != nil {
		c.stop()
		return nil, fmt.Errorf("starting %s: %w", path, err)
	}
	return c, nil
}

// Close ends the browser and its pages.
func (c *Chromium) Close() { c.stop() }

// Open gives a window of a size, whose waits end at a time; the zero time is never. It is one that was given back, where there is one.
func (c *Chromium) Open(width, height int, until time.Time) (*Page, error) {
	select {
	case p := <-c.free:
		p.until = until
		return p, p.Resize(width, height)
	default:
		return open(c.ctx, width, height, until, chromedp.WithNewBrowserContext())
	}
}

// GiveBack clears a window for who comes next: nobody is signed in, nothing is stored, and it reads and looks as a new one. A window that
// can't be cleared is closed.
func (c *Chromium) GiveBack(p *Page) {
	_, left := Eval[bool](p, `(addEventListener('beforeunload', (e) => e.stopImmediatePropagation(), true), true)`)
	origin, err := Eval[string](p, `location.origin`)
	if errors.Join(left, err, p.Go("about:blank"), p.Locale("", ""), p.Prefer(""), p.Block(), p.forget(origin)) != nil {
		p.Close()
		return
	}
	select {
	case c.free <- p:
	default:
		p.Close()
	}
}

// forget clears what an origin has stored, and all cookies.
func (p *Page) forget(origin string) error {
	return p.do("forgetting", chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		if _, err := cdp.Call(ctx, t, network.ClearBrowserCookies, cdp.Empty{}); err != nil || !strings.HasPrefix(origin, "http") {
			return err
		}
		_, err := cdp.Call(ctx, t, storage.ClearDataForOrigin, storage.ClearDataForOriginParams{Origin: origin, StorageTypes: "all"})
		return err
	}))
}

func open(ctx context.Context, width, height int, until time.Time, options ...chromedp.ContextOption) (*Page, error) {
	tab, cancel := chromedp.NewContext(ctx, options...)
	if err := chromedp.Do(tab, chromedp.EmulateViewport(int64(width), int64(height))); err != nil {
		cancel()
		return nil, fmt.Errorf("opening a page: %w", err)
	}
	return &Page{ctx: tab, stop: cancel, until: until}, nil
}

// Window opens another window of the same browser, with the same sign-in.
func (p *Page) Window() (*Page, error) {
	return open(p.ctx, 1280, 800, p.until)
}

// Resize gives the window another size.
func (p *Page) Resize(width, height int) error {
	return p.do("resizing", chromedp.EmulateViewport(int64(width), int64(height)))
}

// Locale has the window write and read figures and dates as another country does, and be in another time zone.
func (p *Page) Locale(locale, zone string) error {
	return p.do("choosing "+locale, chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, emulation.SetLocaleOverride, emulation.SetLocaleOverrideParams{Locale: locale})
		if err != nil {
			return err
		}
		_, err = cdp.Call(ctx, t, emulation.SetTimezoneOverride, emulation.SetTimezoneOverrideParams{TimezoneID: zone})
		return err
	}))
}

// Prefer has the system of the window be light or dark.
func (p *Page) Prefer(look string) error {
	return p.do("turning "+look, chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		_, err := cdp.Call(ctx, t, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{
			Features: []*emulation.MediaFeature{{Name: "prefers-color-scheme", Value: look}},
		})
		return err
	}))
}

// Block has addresses that match a pattern, with * for anything, not answer; none has all answer again.
func (p *Page) Block(patterns ...string) error {
	blocked := make([]*network.BlockPattern, len(patterns))
	for i, pattern := range patterns {
		blocked[i] = &network.BlockPattern{URLPattern: pattern, Block: true}
	}
	return p.do("blocking", chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		if _, err := cdp.Call(ctx, t, network.Enable, network.EnableParams{}); err != nil {
			return err
		}
		_, err := cdp.Call(ctx, t, network.SetBlockedURLs, network.SetBlockedURLsParams{URLPatterns: blocked})
		return err
	}))
}

// SignIn signs somebody in at an address, in place of who is.
func (p *Page) SignIn(url, signIn, password string) error {
	said, err := json.Marshal(map[string]string{"signIn": signIn, "password": password})
	if err != nil {
		return err
	}
	ctx, cancel := p.waiting()
	defer cancel()
	asked, err := http.NewRequestWithContext(ctx, http.MethodPost, url+"/api/session", bytes.NewReader(said))
	if err != nil {
		return err
	}
	asked.Header.Set("Content-Type", "application/json")
	answer, err := http.DefaultClient.Do(asked)
	if err != nil {
		return fmt.Errorf("signing %s in: %w", signIn, err)
	}
	defer func() { _ = answer.Body.Close() }()
	if answer.StatusCode >= http.StatusBadRequest {
		return fmt.Errorf("signing %s in: %s", signIn, answer.Status)
	}
	return p.do("signing "+signIn+" in", chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		for _, cookie := range answer.Cookies() {
			_, err := cdp.Call(ctx, t, network.SetCookie, network.SetCookieParams{
				Name: cookie.Name, Value: cookie.Value, URL: url, HTTPOnly: &cookie.HttpOnly, SameSite: network.CookieSameSiteLax,
			})
			if err != nil {
				return err
			}
		}
		return nil
	}))
}

// Close ends the window.
func (p *Page) Close() { p.stop() }

func (p *Page) do(what string, steps ...chromedp.Action[chromedp.Void]) error {
	ctx, cancel := p.waiting()
	defer cancel()
	if err := chromedp.Do(ctx, steps...); err != nil {
		return fmt.Errorf("%s: %w", what, err)
	}
	return nil
}

// Go opens an address.
func (p *Page) Go(url string) error { return p.do("opening "+url, chromedp.Navigate(url)) }

// Visit goes to a path of the application that is open, as its own links do; where it is there already, or none is open, the address is
// opened anew. What was typed is discarded.
func (p *Page) Visit(url, path string) error {
	gone, err := Eval[bool](p, fmt.Sprintf(`(async (url, path) => {
		const router = document.querySelector('#app')?.__vue_app__?.config.globalProperties.$router
		if (location.origin !== url || !router || router.currentRoute.value.fullPath === router.resolve(path).fullPath) return false
		if (router.currentRoute.value.meta.open) return false
		let gone = false
		const going = router.push(path).then((failed) => { gone = true; return !failed })
		const discard = () => {
			const buttons = document.querySelectorAll('[role="alertdialog"] button')
			if (buttons.length) buttons[1].click()
			if (!gone) requestAnimationFrame(discard)
		}
		discard()
		if (!(await going)) return false
		await new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)))
		return true
	})(%q, %q)`, url, path))
	if err == nil && gone {
		return nil
	}
	return p.Go(url + path)
}

// See waits until an element that a CSS selector finds is visible.
func (p *Page) See(css string) error {
	return p.do("waiting to see "+css, chromedp.WaitVisible(chromedp.CSS(css)))
}

// SeeText waits until the page's visible text holds a text.
func (p *Page) SeeText(text string) error {
	return p.Until(fmt.Sprintf("document.body.innerText.includes(%q)", text))
}

// Until waits until a script is true.
func (p *Page) Until(script string) error {
	ctx, cancel := p.waiting()
	defer cancel()
	for {
		_, err := chromedp.Run(ctx, chromedp.Poll[bool](script, chromedp.WithPollingInterval(50*time.Millisecond),
			chromedp.WithPollingTimeout(0)))
		switch {
		case err == nil:
			return nil
		case ctx.Err() == nil && becameAnother(err):
			continue // the page has just become another one: it is looked at there
		}
		return fmt.Errorf("waiting until %s: %w", script, err)
	}
}

// Click clicks the element that a CSS selector finds.
func (p *Page) Click(css string) error {
	return p.click(css, fmt.Sprintf("[...document.querySelectorAll(%q)]", css))
}

// Press clicks the button or link with a text.
func (p *Page) Press(text string) error {
	return p.click(text, fmt.Sprintf(
		"[...document.querySelectorAll('button, a')].filter(e => e.textContent.replace(/\\s+/g, ' ').trim() === %q)", text,
	))
}

// ClickAgain is the second click of a double click, where the last one was.
func (p *Page) ClickAgain() error {
	return p.do("clicking again", chromedp.MouseClickXY(p.clickedAt[0], p.clickedAt[1], chromedp.ClickCount(2)))
}

// PressIn clicks the button or link with a text in the element that a CSS selector finds.
func (p *Page) PressIn(css, text string) error {
	return p.click(text, fmt.Sprintf(
		"[...document.querySelectorAll(%q)].flatMap(e => [...e.querySelectorAll('button, a')]).filter(e => e.textContent.trim() === %q)",
		css, text,
	))
}

// ClickIn clicks what a CSS selector finds in the row that has a text, of the rows that another finds.
func (p *Page) ClickIn(rows, text, css string) error {
	return p.click(css+" of "+text, fmt.Sprintf(
		"[...document.querySelectorAll(%q)].filter(r => r.innerText.includes(%q)).flatMap(r => [...r.querySelectorAll(%q)])", rows, text, css,
	))
}

// click waits until one of the elements that a script lists can be clicked where it stands, uncovered, enabled and at rest for two
// frames, and clicks there. Nothing is asked of it afterwards: a click often takes away what was clicked.
func (p *Page) click(what, elements string) error {
	ctx, cancel := p.waiting()
	defer cancel()
	at, err := here[[]float64](ctx, `(async () => {
		const frame = () => new Promise((drawn) => requestAnimationFrame(drawn))
		const place = () => {
			for (const e of `+elements+`) {
				if (e.disabled) continue
				e.scrollIntoView({ block: 'nearest' })
				const r = e.getBoundingClientRect(), x = r.x + r.width / 2, y = r.y + r.height / 2
				if (r.width && e.contains(document.elementFromPoint(x, y))) return [x, y]
			}
		}
		for (;;) {
			const at = place()
			await frame()
			await frame()
			if (at && place()?.join() === at.join()) return at
			if (!at) await new Promise((later) => setTimeout(later, 30))
		}
	})()`)
	if err == nil {
		_, err = chromedp.Run(ctx, chromedp.MouseClickXY(at[0], at[1]))
		p.clickedAt = at
	}
	if err != nil {
		return fmt.Errorf("clicking %s: %w", what, err)
	}
	return nil
}

// here runs a script that waits, again where the page becomes another one meanwhile.
func here[T any](ctx context.Context, script string) (T, error) {
	for {
		value, err := chromedp.Run(ctx, chromedp.Evaluate[T](script, chromedp.EvalAwaitPromise))
		if err == nil || ctx.Err() != nil || !becameAnother(err) {
			return value, err
		}
	}
}

// becameAnother says that a page was left while something was asked of it.
func becameAnother(err error) bool {
	for _, said := range []string{"context with specified id", "navigated or closed", "context was destroyed", "Promise was collected"} {
		if strings.Contains(err.Error(), said) {
			return true
		}
	}
	return false
}

// FocusIn is [Page.ClickIn], but puts the focus there.
func (p *Page) FocusIn(rows, text, css string) error {
	return p.Until(fmt.Sprintf(`(() => { const r = [...document.querySelectorAll(%q)].find(r => r.innerText.includes(%q));
		r?.querySelector(%q)?.focus(); return !!r })()`, rows, text, css))
}

// Type types into the field that a CSS selector finds, in place of what is there.
func (p *Page) Type(css, text string) error {
	return errors.Join(p.Click(css), p.Chord(chromedp.ModifierCtrl, "a"), p.Keys(text))
}

// Keys types where the focus is; the keys that write nothing are runes of the package kb.
func (p *Page) Keys(keys string) error { return p.Chord(0, keys) }

// Chord types while modifiers are held.
func (p *Page) Chord(held chromedp.Modifier, keys string) error {
	return p.do(fmt.Sprintf("typing %q", keys), chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		for _, key := range keys {
			for _, event := range strokes(key) {
				event.Modifiers |= int64(held)
				if held&^chromedp.ModifierShift != 0 {
					event.Text = ""
				}
				if _, err := cdp.Call(ctx, t, input.DispatchKeyEvent, event); err != nil {
					return err
				}
			}
		}
		return nil
	}))
}

// strokes are the events of a key. What it writes goes with its going down, as at a keyboard: where the page takes the key for
// itself nothing is written.
func strokes(key rune) []input.DispatchKeyEventParams {
	var events []input.DispatchKeyEventParams
	for _, event := range kb.Encode(key) {
		if event.Type == kb.KeyChar {
			events[0].Text, events[0].UnmodifiedText = event.Text, event.UnmodifiedText
			continue
		}
		events = append(events, *event)
	}
	return events
}

// Paste puts a text on the clipboard of the element in focus, as Ctrl V does.
func (p *Page) Paste(text string) error {
	_, err := Eval[bool](p, fmt.Sprintf(`(() => { const data = new DataTransfer(); data.setData('text/plain', %q);
		return document.activeElement.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true,
			cancelable: true })) || true })()`, text))
	return err
}

// Upload chooses files in the file field that a CSS selector finds.
func (p *Page) Upload(css string, files ...string) error {
	return p.do("choosing a file", chromedp.SetUploadFiles(chromedp.CSS(css), files))
}

// Fill types into the field of a form that has a label, or chooses what it names.
func (p *Page) Fill(form, label, text string) error {
	find := fmt.Sprintf(
		`[...document.querySelectorAll('form[aria-label="%s"] label, .head-fields label')].find(
		l => l.innerText.trim().startsWith(%q)).control`,
		form, label,
	)
	if err := p.Until("!!" + strings.Replace(find, ").control", ")?.control", 1)); err != nil {
		return fmt.Errorf("finding the field %s: %w", label, err)
	}
	kind, err := Eval[string](p, fmt.Sprintf(
		`(() => { const f = %s; f.focus(); if (f.select) f.select(); return f.tagName + f.type })()`, find,
	))
	if err != nil {
		return fmt.Errorf("finding the field %s: %w", label, err)
	}
	if kind != "SELECTselect-one" {
		return p.Keys(text)
	}
	_, err = Eval[bool](p, fmt.Sprintf(
		`(() => { const f = %s; f.value = %q; for (const e of ['input', 'change']) f.dispatchEvent(new Event(e, { bubbles: true }));
			return true })()`,
		find, text,
	))
	return err
}

// Pick chooses a record by typing part of its name into the field with a label.
func (p *Page) Pick(label, part string) error {
	field := fmt.Sprintf(`input[aria-label="%s"]`, label)
	return errors.Join(p.Click(field), p.Keys(part), p.See(".v-overlay--active .v-list-item"), p.Keys("\r"),
		p.Until(`!document.querySelector('.v-overlay--active .v-list-item')`))
}

// Text is the visible text of the element that a CSS selector finds.
func (p *Page) Text(css string) (string, error) {
	ctx, cancel := p.waiting()
	defer cancel()
	return chromedp.Run(ctx, chromedp.Text(chromedp.CSS(css)))
}

// Eval runs a script, awaiting what it promises, and returns its value.
func Eval[T any](p *Page, script string) (T, error) {
	ctx, cancel := p.waiting()
	defer cancel()
	value, err := chromedp.Run(ctx, chromedp.Evaluate[T](script, chromedp.EvalAwaitPromise))
	if err != nil {
		return value, fmt.Errorf("running %s: %w", script, err)
	}
	return value, nil
}

// Picture is the window as a PNG, once its fonts and figures have settled.
func (p *Page) Picture() ([]byte, error) {
	if _, err := Eval[bool](p, "document.fonts.ready.then(() => new Promise(done => setTimeout(() => done(true), 300)))"); err != nil {
		return nil, err
	}
	return chromedp.Run(p.ctx, chromedp.CaptureScreenshot())
}

// Print is the page as it comes out of a printer, as a PDF.
func (p *Page) Print() (pdf []byte, err error) {
	return pdf, p.do("printing", chromedp.Func(func(ctx context.Context, t *chromedp.Target) error {
		printed, err := cdp.Call(ctx, t, page.PrintToPDF, page.PrintToPDFParams{})
		pdf = printed.Data
		return err
	}))
}
