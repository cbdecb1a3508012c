package paper

import (
	"bytes"
	"context"
	"fmt"
	"image"
	_ "image/jpeg" // as photos are printed
	"io"

	"codeberg.org/go-pdf/fpdf"
	"github.com/pdfcpu/pdfcpu/pkg/api"

	"jarvo/internal/app/tape"
	"jarvo/internal/scan"
)

// scanned is a scan with the numbers of the lines that it stands behind.
type scanned struct {
	tape.BackupScan
	label string
}

// withReceipts puts the receipts' own pages behind an invoice: photos and the pages of PDFs, as large as its paper, each with the numbers
// of its lines. A scan that can't be put there is named on a page of its own.
func withReceipts(ctx context.Context, data []byte, p *invoicePaper, backup []tape.Backup) ([]byte, error) {
	scans := scansOf(backup, p.v.Number)
	if len(scans) == 0 {
		return data, nil
	}
	asked := make([]scan.Page, len(scans))
	for i, s := range scans {
		asked[i] = scan.Page{Media: s.Media, Data: s.Data, Label: s.label}
	}
	made, err := scan.Pages(ctx, asked, p.v.PaperSize)
	if err != nil {
		return nil, err
	}
	parts := []io.ReadSeeker{bytes.NewReader(data)}
	for i, s := range scans {
		pages := made[i].Data
		switch {
		case made[i].Err != nil:
			pages, err = s.named(p.v.PaperSize)
		case s.Media != "application/pdf":
			pages, err = s.photo(p.v.PaperSize, made[i].Data)
		}
		if err != nil {
			return nil, fmt.Errorf("putting %s behind invoice %s: %w", s.Name, p.v.Number, err)
		}
		parts = append(parts, bytes.NewReader(pages))
	}
	var out bytes.Buffer
	err = api.MergeRaw(parts, &out, false, nil)
	return out.Bytes(), err
}

// scansOf are the scans behind lines, each once, in the order of the lines.
func scansOf(backup []tape.Backup, number string) (scans []*scanned) {
	bySum := map[string]*scanned{}
	for _, b := range backup {
		for _, f := range b.Scans {
			if had := bySum[f.SHA256]; had != nil {
				had.label += fmt.Sprintf(", %d", b.No)
				continue
			}
			s := &scanned{f, fmt.Sprintf("Invoice %s, receipt of no. %d", orDraft(number), b.No)}
			bySum[f.SHA256], scans = s, append(scans, s)
		}
	}
	return scans
}

// photo is the page of a photo, a JPEG by now.
func (s *scanned) photo(size string, data []byte) ([]byte, error) {
	picture, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil {
		return nil, err
	}
	page := newSheet(size, s.label, "")
	page.AddPage()
	page.put(marginSide, marginTop, page.across(), s.label, typeSmall, quietly, toLeft)
	wide, tall := page.across(), page.tall-2*marginTop-2*lineTall
	if by := float64(picture.Height) / float64(picture.Width); wide*by > tall {
		wide = tall / by
	}
	options := fpdf.ImageOptions{ImageType: "jpeg"}
	page.RegisterImageOptionsReader(s.SHA256, options, bytes.NewReader(data))
	page.ImageOptions(s.SHA256, marginSide, marginTop+2*lineTall, wide, 0, false, options, 0, "")
	return page.bytes()
}

// named is a page that names a scan in its place.
func (s *scanned) named(size string) ([]byte, error) {
	page := newSheet(size, s.label, "")
	page.AddPage()
	page.put(marginSide, marginTop, page.across(), s.label, typeSmall, quietly, toLeft)
	text := s.Name + " can't be printed here. It is kept as a file: ask for it."
	page.block(marginSide, marginTop+3*lineTall, page.across(), text, typeBody, plainly, toLeft)
	return page.bytes()
}
