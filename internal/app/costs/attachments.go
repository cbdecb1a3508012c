package costs

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"path"
	"strings"
	"unicode"

	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
	"jarvo/internal/scan"
	"jarvo/internal/store"
)

// Attachment is a scan or a photo of a paper.
type Attachment struct {
	ID    int64  `json:"id"`
	Name  string `json:"name"`
	Media string `json:"media" enum:"application/pdf,image/png,image/jpeg"`
	Size  int64  `json:"size" doc:"bytes"`
	At    string `json:"at" format:"date-time"`
	Who   string `json:"who"`
}

// mostScans is how many attachments a paper may have.
const mostScans = 20

// Checksum is the SHA-256 of a scan, by which its contents are kept.
func Checksum(data []byte) string {
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:])
}

// scanName is the name of a file without its folders, on one line.
func scanName(name string) string {
	name = strings.Map(func(r rune) rune {
		if unicode.IsControl(r) {
			return ' '
		}
		return r
	}, name)
	return strings.TrimSpace(path.Base(strings.ReplaceAll(cmp.Or(strings.TrimSpace(name), "scan"), `\`, "/")))
}

// Attach puts a scan or a photo to a document, also to one that is approved. It is judged by what is in it. The same
// file again, as after a lost answer, is the attachment that is there already.
func Attach(ctx context.Context, b *book.Book, actor book.Actor, documentID int64, name string, data []byte) (Attachment, error) {
	_, err := book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (struct{}, error) { return struct{}{}, reach(s, documentID) })
	if err != nil {
		return Attachment{}, err
	}
	media, wrong := scan.Check(ctx, data)
	if err := context.Cause(ctx); err != nil {
		return Attachment{}, err
	}
	return book.Write(ctx, b, actor, book.Capture, func(s *book.Session) (out Attachment, _ error) {
		if err := reach(s, documentID); err != nil {
			return out, err
		}
		c := s.Checks()
		row := store.Attachment{
			DocumentID: documentID, SHA256: Checksum(data), Size: int64(len(data)), AddedAt: s.Book.Now().UnixMilli(), AddedBy: actor.Name,
		}
		row.Name, row.Media = c.Text("file", scanName(name)), media
		if wrong != nil {
			c.Add("file", "%s", wrong)
		}
		there, err := store.All[store.Attachment](s.Tx, "id", "document_id = ?", documentID)
		if err != nil {
			return out, err
		}
		if len(there) >= mostScans {
			c.Add("file", "a paper has at most %d attachments", mostScans)
		}
		if err := c.Err(); err != nil {
			return out, err
		}
		for _, t := range there {
			if t.SHA256 == row.SHA256 {
				out = attachmentView(t)
				return out, nil
			}
		}
		if err := KeepScan(s, &row, data); err != nil {
			return out, err
		}
		out = attachmentView(row)
		return out, s.Record("attached", "cost_document", documentID, nil, map[string]string{"attachment": row.Name})
	})
}

// reach refuses whoever may not see the scans of a paper: those who enter costs see all, a foreman those of the crew's days.
func reach(s *book.Session, documentID int64) error {
	row, found, err := store.One[store.CostDocument](s.Tx, documentID)
	if err == nil && found && row.Crew != "" && (s.Actor.Crew == "" || s.Actor.Crew == row.Crew) {
		return nil
	}
	if not := s.Actor.Need(book.Costs); not != nil {
		return not
	}
	if err != nil || !found {
		return refuse.OrNotFound(err, "document")
	}
	return nil
}

// KeepScan keeps a scan of a document, and its contents once however many documents have them.
func KeepScan(s *book.Session, row *store.Attachment, data []byte) error {
	if err := s.Exec("INSERT INTO scans (sha256, data) VALUES (?, ?) ON CONFLICT DO NOTHING", row.SHA256, data).Error; err != nil {
		return err
	}
	return s.Create(row).Error
}

func attachmentView(r store.Attachment) Attachment {
	return Attachment{ID: r.ID, Name: r.Name, Media: r.Media, Size: r.Size, At: book.TimeText(r.AddedAt), Who: r.AddedBy}
}

// Attachments are the scans and photos of a document.
func Attachments(s *book.Session, documentID int64) ([]Attachment, error) {
	list := []Attachment{}
	rows, err := store.All[store.Attachment](s.Tx, "id", "document_id = ?", documentID)
	for _, r := range rows {
		list = append(list, attachmentView(r))
	}
	return list, err
}

// Scan reads what was attached. Data that is not what its checksum says is an error.
func Scan(ctx context.Context, b *book.Book, actor book.Actor, attachmentID int64) (Attachment, []byte, error) {
	var data []byte
	out, err := book.Read(ctx, b, actor, book.Capture, func(s *book.Session) (out Attachment, err error) {
		row, found, err := store.One[store.Attachment](s.Tx, attachmentID)
		if err == nil {
			err = reach(s, row.DocumentID)
		}
		if err != nil || !found {
			return out, refuse.OrNotFound(err, "attachment")
		}
		data, err = Contents(s, row.SHA256)
		return attachmentView(row), err
	})
	return out, data, err
}

// Contents reads the contents that have a checksum.
func Contents(s *book.Session, sum string) ([]byte, error) {
	found, err := store.Query[struct{ Data []byte }](s.Tx, "SELECT data FROM scans WHERE sha256 = ?", sum)
	if err != nil || len(found) == 0 {
		return nil, refuse.OrNotFound(err, "scan")
	}
	if Checksum(found[0].Data) != sum {
		return nil, refuse.Conflict("this scan is damaged: it is not what was attached")
	}
	return found[0].Data, nil
}

// Detach takes an attachment away from a document that is not approved, and is as it was seen.
func Detach(ctx context.Context, b *book.Book, actor book.Actor, attachmentID, version int64) error {
	return book.Change(ctx, b, actor, book.Costs, func(s *book.Session) error {
		row, found, err := store.One[store.Attachment](s.Tx, attachmentID)
		if err != nil || !found {
			return refuse.OrNotFound(err, "attachment")
		}
		document, err := View(s, row.DocumentID)
		if err != nil {
			return err
		}
		if document.Locked != "" {
			return refuse.Conflict("this attachment stays: the paper is %s", document.Locked)
		}
		if document.Version != version {
			return refuse.Conflict("somebody else has changed this paper; look at it again")
		}
		if err := s.Delete(&row).Error; err != nil {
			return err
		}
		return s.Record("took an attachment away", "cost_document", row.DocumentID, map[string]string{"attachment": row.Name}, nil)
	})
}
