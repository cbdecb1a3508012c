package paper

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	_ "image/jpeg" // receipts are photos too
	_ "image/png"
	"io"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"

	"jarvo/internal/app/tape"
)

func init() { api.DisableConfigDir() }

// scanned is a scan with the numbers of the lines that it stands behind.
type scanned struct {
	tape.BackupScan
	label string
}

// withReceipts puts the receipts' own pages behind an invoice: photos and the pages of PDFs, as large as its paper, each with the numbers
// of its lines. A scan that can't be put there is named on a page of its own.
func withReceipts(data []byte, p *invoicePaper, backup []tape.Backup) ([]byte, error) {
	parts := []io.ReadSeeker{bytes.NewReader(data)}
	for _, s := range scansOf(backup, p.v.Number) {
		pages, err := s.pages(p.v.PaperSize)
		if err != nil {
			pages, err = s.named(p.v.PaperSize)
		}
		if err != nil {
			return nil, fmt.Errorf("putting %s behind invoice %s: %w", s.Name, p.v.Number, err)
		}
		parts = append(parts, bytes.NewReader(pages))
	}
	if len(parts) == 1 {
		return data, nil
	}
	var out bytes.Buffer
	err := api.MergeRaw(parts, &out, false, nil)
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

// pages are those of a scan, in the size of the paper.
func (s *scanned) pages(size string) (data []byte, err error) {
	defer func() { // a PDF from anywhere may be anything
		if trouble := recover(); trouble != nil {
			err = fmt.Errorf("reading it: %v", trouble)
		}
	}()
	if s.Media == "application/pdf" {
		return s.resized(size)
	}
	picture, _, err := image.DecodeConfig(bytes.NewReader(s.Data))
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
	options := fpdf.ImageOptions{ImageType: strings.TrimPrefix(s.Media, "image/")}
	page.RegisterImageOptionsReader(s.SHA256, options, bytes.NewReader(s.Data))
	page.ImageOptions(s.SHA256, marginSide, marginTop+2*lineTall, wide, 0, false, options, 0, "")
	return page.bytes()
}

// resized are the pages of a PDF in the size of the paper, each with its label.
func (s *scanned) resized(size string) ([]byte, error) {
	form := "A4"
	if size == "letter" {
		form = "Letter"
	}
	to, err := pdfcpu.ParseResizeConfig("form:"+form+", enforce:on", types.POINTS)
	if err != nil {
		return nil, err
	}
	label, err := api.TextWatermark(s.label, "font:Helvetica, points:8, scale:1 abs, pos:tl, off:12 -8, rot:0, fillc:#000000, bgcol:#ffffff, "+
		"margins:2", true, false, types.POINTS)
	if err != nil {
		return nil, err
	}
	var sized, out bytes.Buffer
	err = errors.Join(
		api.Resize(bytes.NewReader(s.Data), &sized, nil, to, nil),
		api.AddWatermarks(bytes.NewReader(sized.Bytes()), &out, nil, label, nil),
	)
	return out.Bytes(), err
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
