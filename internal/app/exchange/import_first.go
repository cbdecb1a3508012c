package exchange

import (
	"cmp"
	"maps"
	"slices"

	"jarvo/internal/app/costing"
	"jarvo/internal/app/ratebook"
	"jarvo/internal/core/labour"
	"jarvo/internal/core/worktime"
	"jarvo/internal/store"
)

// addCosted costs the work that waits and adds it: the first of a book, so that nothing else rests on it.
func (im *importer) addCosted() error {
	charged, err := ratebook.Charging(im.Session)
	if err != nil {
		return err
	}
	segments, err := im.costEntries(charged)
	if err != nil {
		return err
	}
	if err := im.costLines(charged); err != nil {
		return err
	}
	if err := im.addWork(); err != nil {
		return err
	}
	return store.InsertMany(im.Tx, segments)
}

// costEntries works out what the entries that wait cost and are charged, and returns the segments of those that are split, in the order
// of the entries.
func (im *importer) costEntries(charged map[ratebook.Place]ratebook.ChargedBy) ([]store.LabourSegment, error) {
	workers := map[int64][]int{}
	for i, e := range im.entries {
		workers[e.WorkerID] = append(workers[e.WorkerID], i)
	}
	var segments []store.LabourSegment
	for workerID, places := range workers {
		if err := im.Stopped(); err != nil {
			return nil, err
		}
		worker, _, err := store.One[store.Worker](im.Tx, workerID)
		if err != nil {
			return nil, err
		}
		worktime.Sort(places, func(at int) worktime.Entry { return costing.OrderOf(im.entries[at]) })
		entries := make([]costing.CostedEntry, len(places))
		for i, at := range places {
			e := im.entries[at]
			entries[i] = costing.CostedEntry{
				TimeEntry: e, ChargedBy: charged[ratebook.Place{Job: e.JobID, Phase: store.ID(e.PhaseID)}], TradeID: worker.TradeID,
			}
		}
		costed, err := im.costNew(worker, entries)
		if err != nil {
			return nil, err
		}
		for i, e := range entries {
			e.Total(costed[i])
			im.entries[places[i]] = e.TimeEntry
			segments = append(segments, costing.SegmentRows(e.ID, costed[i])...)
		}
	}
	slices.SortFunc(segments, func(a, b store.LabourSegment) int {
		return cmp.Or(cmp.Compare(a.EntryID, b.EntryID), cmp.Compare(a.Class, b.Class))
	})
	return segments, nil
}

// costNew costs all of a worker's entries, in the order of section 3.
func (im *importer) costNew(worker store.Worker, entries []costing.CostedEntry) ([][]labour.Segment, error) {
	terms, err := ratebook.Terms(im.Session, worker)
	if err != nil {
		return nil, err
	}
	earned, err := costing.Openings(im.Session, worker.ID, entries[0].Date, entries[len(entries)-1].Date)
	if err != nil {
		return nil, err
	}
	return costing.CostWeeks(im.Session, worker, terms, entries, nil, earned)
}

// costLines works out what the lines that wait come to.
func (im *importer) costLines(charged map[ratebook.Place]ratebook.ChargedBy) error {
	byDocument := map[int64][]int{}
	for i, l := range im.lines {
		byDocument[l.DocumentID] = append(byDocument[l.DocumentID], i)
	}
	for documentIDs := range slices.Chunk(slices.Sorted(maps.Keys(byDocument)), costing.DocumentsAtOnce) {
		if err := im.Stopped(); err != nil {
			return err
		}
		documents, err := store.All[store.CostDocument](im.Tx, "id", "id IN ?", documentIDs)
		if err != nil {
			return err
		}
		for _, d := range documents {
			if err := im.costLinesAt(byDocument[d.ID], d, charged); err != nil {
				return err
			}
		}
	}
	return nil
}

func (im *importer) costLinesAt(places []int, document store.CostDocument, charged map[ratebook.Place]ratebook.ChargedBy) error {
	slices.SortFunc(places, func(a, b int) int { return cmp.Compare(im.lines[a].LineOrder, im.lines[b].LineOrder) })
	lines := make([]costing.PricedLine, len(places))
	for i, at := range places {
		lines[i] = costing.PricedLine{
			CostLine: im.lines[at], ChargedBy: charged[ratebook.Place{Job: store.ID(im.lines[at].JobID), Phase: store.ID(im.lines[at].PhaseID)}],
		}
	}
	costed, err := costing.CostLinesOf(im.Session, document, lines)
	if err != nil {
		return err
	}
	for i, at := range places {
		lines[i].Total(document, costed[i])
		im.lines[at] = lines[i].CostLine
	}
	return nil
}
