package book

import (
	"context"
	"fmt"
	"slices"
	"sync"

	"jarvo/internal/app/refuse"
)

// News says that something was changed, so that whoever looks at it can look again. It holds nothing of what was changed.
type News struct {
	Kind   string `json:"kind" doc:"what was changed: time_entry, cost_document, invoice, worker…"`
	Who    string `json:"who"`
	Window string `json:"window,omitempty" doc:"the window it was changed from"`
	Worker int64  `json:"worker,omitempty" doc:"whose hours they are; absent: anybody's"`
	crew   string // of that worker
}

// forEverybody are the kinds that also a foreman kept to a crew is told of, without who did it.
var forEverybody = []string{"cost_code", "cost_codes", "job", "trades"}

// toldTo is the news as an actor may hear it; false where it is not for them.
func (n News) toldTo(actor Actor) (News, bool) {
	switch {
	case actor.Crew == "" || n.crew == actor.Crew:
		return n, true
	case n.Worker == 0 && slices.Contains(forEverybody, n.Kind):
		n.Who, n.Window = "", ""
		return n, true
	}
	return News{}, false
}

// mostWindows is how many windows of a user are told of news.
const mostWindows = 8

// newsroom hands news to those who listen. What a listener has not fetched yet is kept once, however often it happens.
type newsroom struct {
	mu        sync.Mutex
	listeners map[*listener]bool
	closed    bool
}

type listener struct {
	actor   Actor
	waiting []News
	over    bool          // the user's sessions are
	ready   chan struct{} // holds a token while there is news; closed when there will be none
}

// Listener fetches news.
type Listener struct {
	room *newsroom
	*listener
}

// Listen begins to collect news for an actor; Stop ends it.
func (a *Book) Listen(actor Actor) (*Listener, error) {
	if err := actor.Need(Capture); err != nil {
		return nil, err
	}
	l := &Listener{&a.news, &listener{actor: actor, ready: make(chan struct{}, 1)}}
	a.news.mu.Lock()
	defer a.news.mu.Unlock()
	windows := 0
	for other := range a.news.listeners {
		if other.actor.UserID == actor.UserID {
			windows++
		}
	}
	if windows >= mostWindows {
		return nil, &refuse.Error{Kind: refuse.KindTooMany, Message: fmt.Sprintf(
			"you have Jarvo open in %d windows already; this one does not follow what others change until you close another", windows,
		)}
	}
	if a.news.closed {
		close(l.ready)
		return l, nil
	}
	if a.news.listeners == nil {
		a.news.listeners = map[*listener]bool{}
	}
	a.news.listeners[l.listener] = true
	return l, nil
}

// Next waits for news and returns all there is; false when there will be no more.
func (l *Listener) Next(ctx context.Context) ([]News, bool) {
	select {
	case <-ctx.Done():
		return nil, false
	case _, open := <-l.ready:
		l.room.mu.Lock()
		defer l.room.mu.Unlock()
		news := l.waiting
		l.waiting = nil
		return news, open && !l.over
	}
}

// Stop ends the listening.
func (l *Listener) Stop() {
	l.room.mu.Lock()
	defer l.room.mu.Unlock()
	delete(l.room.listeners, l.listener)
}

// StopNews ends all listening: the application is about to stop.
func (a *Book) StopNews() {
	a.news.mu.Lock()
	defer a.news.mu.Unlock()
	a.news.closed = true
	for l := range a.news.listeners {
		close(l.ready)
	}
	a.news.listeners = nil
}

// EndNews ends the listening of a user whose sessions are over.
func (a *Book) EndNews(userID int64) {
	r := &a.news
	r.mu.Lock()
	defer r.mu.Unlock()
	for l := range r.listeners {
		if l.actor.UserID == userID {
			l.over, l.waiting = true, nil
			close(l.ready)
			delete(r.listeners, l)
		}
	}
}

func (r *newsroom) tell(news []News) {
	r.mu.Lock()
	defer r.mu.Unlock()
	for l := range r.listeners {
		for _, n := range news {
			if n, ok := n.toldTo(l.actor); ok && !slices.Contains(l.waiting, n) {
				l.waiting = append(l.waiting, n)
			}
		}
		if len(l.waiting) == 0 {
			continue
		}
		select {
		case l.ready <- struct{}{}:
		default:
		}
	}
}
