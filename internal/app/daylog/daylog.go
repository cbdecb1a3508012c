// Package daylog is what a foreman notes of a crew's day beside its hours: the plant that was used, a note and pictures. It is kept as a
// paper, the crew's plant log of the day, and shows no money.
package daylog

import (
	"context"

	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/pricelist"
	"jarvo/internal/app/refuse"
	"jarvo/internal/app/register"
	"jarvo/internal/core/calendar"
	"jarvo/internal/store"
)

// Log is what is noted of a crew's day.
type Log struct {
	Entry
	DocumentID int64              `json:"documentId,omitempty" doc:"the paper that pictures are attached to; absent until there is one"`
	Pictures   []costs.Attachment `json:"pictures"`
	Items      []Item             `json:"items" doc:"plant that can be chosen: equipment of the price list that has a rate on this day"`
	Locked     string             `json:"locked,omitempty" doc:"why it can't be changed"`
}

// Entry is what is typed of a crew's day.
type Entry struct {
	Key     string  `json:"key,omitempty" doc:"made by the client: a retry saves nothing twice"`
	Date    string  `json:"date" format:"date"`
	Crew    string  `json:"crew"`
	Version int64   `json:"version" doc:"as it was seen; 0 where there was nothing yet"`
	Note    string  `json:"note"`
	Plant   []Plant `json:"plant"`
}

// Plant is how much of an item was used for a job.
type Plant struct {
	ItemID   int64  `json:"itemId"`
	JobID    int64  `json:"jobId"`
	Quantity string `json:"quantity" doc:"in the unit of the item"`
}

// Item is plant that can be chosen.
type Item struct {
	ID          int64  `json:"id"`
	Description string `json:"description"`
	Unit        string `json:"unit"`
}

// Question asks for a crew's day.
type Question struct {
	Date string `query:"date"`
	Crew string `query:"crew" doc:"a foreman's is their own"`
}

// Of is what is noted of a crew's day so far.
func Of(ctx context.Context, b *book.Book, actor book.Actor, q Question) (Log, error) {
	return book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (Log, error) {
		crew, date, err := dayOf(s, q.Crew, q.Date)
		if err != nil {
			return Log{}, err
		}
		return view(s, crew, date)
	})
}

// Save notes plant and words for a crew's day. With plant it waits for approval; what the office has added to the paper stays.
func Save(ctx context.Context, b *book.Book, actor book.Actor, in Entry) (Log, error) {
	return book.Write(ctx, b, actor, book.Capture, func(s *book.Session) (Log, error) {
		return book.Once(s, "day_log", in.Key, in, func() (Log, error) { return save(s, in) })
	})
}

func dayOf(s *book.Session, crew, date string) (string, calendar.Date, error) {
	c := s.Checks()
	day := c.Date("date", date)
	if err := c.Err(); err != nil {
		return "", 0, err
	}
	crew, err := register.OwnCrew(s, crew)
	if err == nil && crew == "" {
		err = refuse.Invalid("crew", "choose the crew whose day it is")
	}
	return crew, day, err
}

// paperOf finds the paper of a crew's day; one without an id where there is none yet.
func paperOf(s *book.Session, crew string, date calendar.Date) (costs.Document, error) {
	found, err := store.Query[int64](s.Tx, "SELECT id FROM cost_documents WHERE crew = ? AND date = ?", crew, date)
	if err != nil || len(found) == 0 {
		return costs.Document{Kind: costs.PlantLog, Crew: crew, Date: date.String()}, err
	}
	return costs.View(s, found[0])
}

func view(s *book.Session, crew string, date calendar.Date) (Log, error) {
	log := Log{Entry: Entry{Date: date.String(), Crew: crew, Plant: []Plant{}}, Pictures: []costs.Attachment{}, Items: []Item{}}
	paper, err := paperOf(s, crew, date)
	if err != nil {
		return log, err
	}
	log.DocumentID, log.Version, log.Note, log.Locked = paper.ID, paper.Version, paper.Note, paper.Locked
	log.Pictures = append(log.Pictures, paper.Attachments...)
	for _, l := range paper.Lines {
		if l.ItemID != 0 {
			log.Plant = append(log.Plant, Plant{ItemID: l.ItemID, JobID: l.JobID, Quantity: l.Quantity})
		}
	}
	items, err := pricelist.Items(s, 0, date, paper.ID)
	for _, i := range items {
		_, priced := i.On(date)
		if i.Category == "equipment" && i.Active && priced {
			log.Items = append(log.Items, Item{ID: i.ID, Description: i.Description, Unit: i.Unit})
		}
	}
	return log, err
}

func save(s *book.Session, in Entry) (Log, error) {
	crew, date, err := dayOf(s, in.Crew, in.Date)
	if err != nil {
		return Log{}, err
	}
	paper, err := paperOf(s, crew, date)
	if err != nil {
		return Log{}, err
	}
	if paper.Version != in.Version {
		now, err := view(s, crew, date)
		if err != nil {
			return Log{}, err
		}
		return Log{}, &refuse.Error{
			Kind: refuse.KindConflict, Message: "somebody else has changed this day since you opened it; here it is as it stands now", Current: now,
		}
	}
	paper.Note, paper.Lines = in.Note, linesOf(paper.Lines, in.Plant)
	saved, err := costs.Put(s, paper)
	if err != nil {
		return Log{}, err
	}
	if len(saved.Lines) > 0 {
		if err := costs.SetDocumentStatus(s, saved.ID, store.Submitted, "handed in", ""); err != nil {
			return Log{}, err
		}
	}
	return view(s, crew, date)
}

// linesOf are the lines of a paper for plant: what was there keeps what the office made of it, and what is no plant stays. Plant comes
// first, in its order, so that what is wrong with a line is said of the row it was typed in.
func linesOf(had []costs.Line, plant []Plant) []costs.Line {
	var lines, others []costs.Line
	known := map[Plant][]costs.Line{}
	for _, l := range had {
		if l.ItemID == 0 {
			others = append(others, l)
			continue
		}
		of := Plant{ItemID: l.ItemID, JobID: l.JobID}
		known[of] = append(known[of], l)
	}
	for _, p := range plant {
		of := Plant{ItemID: p.ItemID, JobID: p.JobID}
		line := costs.Line{Category: "equipment", ItemID: p.ItemID, JobID: p.JobID, Billable: true}
		if there := known[of]; len(there) > 0 {
			line, known[of] = there[0], there[1:]
		}
		line.Quantity = p.Quantity
		lines = append(lines, line)
	}
	return append(lines, others...)
}
