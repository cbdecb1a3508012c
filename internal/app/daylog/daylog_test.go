package daylog_test

import (
	"bytes"
	"context"
	"image"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/approve"
	"jarvo/internal/app/apptest"
	"jarvo/internal/app/book"
	"jarvo/internal/app/costs"
	"jarvo/internal/app/daylog"
	"jarvo/internal/app/refuse"
)

var ctx = context.Background()

func picture(t *testing.T) []byte {
	t.Helper()
	var data bytes.Buffer
	require.NoError(t, png.Encode(&data, image.NewGray(image.Rect(0, 0, 8, 8))))
	return data.Bytes()
}

// TestAForemanNotesPlantAndPictures notes a crane for a job: the office finds it as a plant log with our own rate, and what the office
// makes of it stays when the foreman types more.
func TestAForemanNotesPlantAndPictures(t *testing.T) {
	c := apptest.NewCrew(t)
	crane, rope := c.Item(t, "CRANE", "equipment", "96", "125"), c.Item(t, "ROPE", "material", "2", "")
	greta := book.Actor{UserID: c.Owner.UserID, Name: "Greta", Role: book.Foreman, Crew: "Pile"}
	day := daylog.Question{Date: apptest.Week}
	log, err := daylog.Of(ctx, c.Book, greta, day)
	require.NoError(t, err)
	assert.Equal(t, []daylog.Item{{ID: crane, Description: "The CRANE", Unit: "ea"}}, log.Items, "no %d: it is no plant", rope)

	in := daylog.Entry{
		Key: "key-of-the-day", Date: apptest.Week, Note: "tide late", Plant: []daylog.Plant{{ItemID: crane, JobID: c.Job, Quantity: "6"}},
	}
	for range 2 { // sent again, as after a lost answer
		log, err = daylog.Save(ctx, c.Book, greta, in)
		require.NoError(t, err)
	}
	_, err = costs.Attach(ctx, c.Book, greta, log.DocumentID, "slip.png", picture(t))
	require.NoError(t, err)
	d, err := costs.Get(ctx, c.Book, c.Owner, log.DocumentID)
	require.NoError(t, err)
	assert.Equal(t, []string{"plant", "Pile", "submitted", "576.00", "750.00"}, []string{d.Kind, d.Crew, d.Status, d.Landed, d.Charge})
	assert.Len(t, d.Attachments, 1)

	d.Lines[0].UnitCost = "100"
	d.Lines = append(d.Lines, costs.Line{Category: "equipment", Description: "Low loader", Quantity: "1", UnitCost: "300", JobID: c.Job})
	d, err = costs.Save(ctx, c.Book, c.Owner, d)
	require.NoError(t, err)
	in.Key, in.Version, in.Plant[0].Quantity = "key-of-the-next", log.Version, "7"
	_, err = daylog.Save(ctx, c.Book, greta, in)
	apptest.Refusal(t, err, refuse.KindConflict, "", "somebody else has changed this day")
	in.Version = d.Version
	in.Plant = append(in.Plant, daylog.Plant{ItemID: crane, JobID: c.Job, Quantity: "lots"})
	_, err = daylog.Save(ctx, c.Book, greta, in)
	apptest.Refusal(t, err, refuse.KindInvalid, "lines[1].quantity", "not a")
	in.Plant = in.Plant[:1]
	log, err = daylog.Save(ctx, c.Book, greta, in)
	require.NoError(t, err)
	assert.Len(t, log.Pictures, 1)
	d, err = costs.Get(ctx, c.Book, c.Owner, log.DocumentID)
	require.NoError(t, err)
	assert.Equal(t, "1000.00", d.Landed, "seven at 100, and the low loader")

	require.NoError(t, apptest.ErrOf(approve.Approve(ctx, c.Book, c.Owner, approve.Decision{Documents: c.Papers(t, d.ID)})))
	log, err = daylog.Of(ctx, c.Book, greta, day)
	require.NoError(t, err)
	assert.Contains(t, log.Locked, "approved")
	in.Key, in.Version = "key-of-the-last", log.Version
	_, err = daylog.Save(ctx, c.Book, greta, in)
	apptest.Refusal(t, err, refuse.KindConflict, "", "can't be changed")
	apptest.Verified(t, c.Book)
	apptest.SameInAnotherBook(t, c.Book)
}

func TestACrewsDayIsItsForemans(t *testing.T) {
	c := apptest.NewCrew(t)
	greta := book.Actor{UserID: c.Owner.UserID, Name: "Greta", Role: book.Foreman, Crew: "Pile"}
	log, err := daylog.Save(ctx, c.Book, greta, daylog.Entry{Date: apptest.Week, Note: "no work, storm"})
	require.NoError(t, err)
	made, err := costs.Attach(ctx, c.Book, greta, log.DocumentID, "storm.png", picture(t))
	require.NoError(t, err)
	d, err := costs.Get(ctx, c.Book, c.Owner, log.DocumentID)
	require.NoError(t, err)
	assert.Equal(t, "draft", d.Status, "without plant nothing waits for approval")

	other := book.Actor{UserID: c.Owner.UserID, Name: "Tom", Role: book.Foreman, Crew: "Deck"}
	_, err = daylog.Of(ctx, c.Book, other, daylog.Question{Date: apptest.Week, Crew: "Pile"})
	apptest.Refusal(t, err, refuse.KindForbidden, "", "Deck only")
	_, _, err = costs.Scan(ctx, c.Book, other, made.ID)
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = costs.Attach(ctx, c.Book, other, log.DocumentID, "mine.png", picture(t))
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
	paper := c.Paper(t, "B-1", c.Board())
	_, err = costs.Attach(ctx, c.Book, greta, paper.ID, "not-hers.png", picture(t))
	apptest.Refusal(t, err, refuse.KindForbidden, "", "not allowed")
	_, err = daylog.Of(ctx, c.Book, c.Owner, daylog.Question{Date: apptest.Week})
	apptest.Refusal(t, err, refuse.KindInvalid, "crew", "choose the crew")
	apptest.SameInAnotherBook(t, c.Book)
}
