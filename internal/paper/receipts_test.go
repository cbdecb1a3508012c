package paper_test

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"codeberg.org/go-pdf/fpdf"
	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/app/tape"
	"jarvo/internal/paper"
)

// photo is a picture of a receipt.
func photo(t *testing.T, wide, tall int, write func(*bytes.Buffer, image.Image) error) []byte {
	t.Helper()
	picture := image.NewGray(image.Rect(0, 0, wide, tall))
	for x := range wide {
		picture.SetGray(x, x%tall, color.Gray{200})
	}
	var out bytes.Buffer
	require.NoError(t, write(&out, picture))
	return out.Bytes()
}

// drawnTimes is how often a text is drawn by parts of a PDF that its pages refer to.
func drawnTimes(t *testing.T, data []byte, text string) (times int) {
	t.Helper()
	read, err := api.ReadContext(bytes.NewReader(data), nil)
	require.NoError(t, err)
	for _, entry := range read.Table {
		if stream, ok := entry.Object.(types.StreamDict); ok && stream.Type() != nil && *stream.Type() == "XObject" {
			require.NoError(t, stream.Decode())
			times += bytes.Count(stream.Content, []byte(text))
		}
	}
	return times
}

// The receipts' own pages stand behind the backup in the size of the paper: photos of any shape, PDFs of any size, each once and with the
// numbers of its lines. One that can't be read has a page that names it.
func TestReceiptsStandBehindTheBackup(t *testing.T) {
	scan := fpdf.New("L", "mm", "A3", "")
	for _, text := range []string{"first side", "second side"} {
		scan.AddPage()
		scan.SetFont("Helvetica", "", 20)
		scan.Text(100, 100, text)
	}
	var pdf bytes.Buffer
	require.NoError(t, scan.Output(&pdf))
	broken := append([]byte("%PDF-1.7\n"), bytes.Repeat([]byte("junk "), 400)...)
	upright := tape.BackupScan{Name: "a.png", Media: "image/png", SHA256: "a", Data: photo(t, 600, 2400,
		func(b *bytes.Buffer, i image.Image) error { return png.Encode(b, i) })}
	flat := tape.BackupScan{Name: "b.jpg", Media: "image/jpeg", SHA256: "b", Data: photo(t, 2400, 600,
		func(b *bytes.Buffer, i image.Image) error { return jpeg.Encode(b, i, nil) })}
	v := invoice
	v.Subtotal = "160.60"
	backup := []tape.Backup{
		{Date: "2026-11-09", What: "Aldo Renn", Detail: "1195 Finger docks", Time: "10.00", Amount: "100.10", Hours: []tape.BackupHours{
			{Hours: "8.00", Rate: "9.10", Charge: "72.80"}, {Class: "overtime", Hours: "2.00", Rate: "13.65", Charge: "27.30"},
		}},
		{No: 1, Date: "2026-11-09", What: "Cleats", Supplier: "Quay Stores", Number: "A-77", Quantity: "4", Unit: "ea", Price: "5.05",
			Amount: "20.20",
			Scans:  []tape.BackupScan{upright, {Name: "c.pdf", Media: "application/pdf", SHA256: "c", Data: pdf.Bytes()}}},
		{No: 2, Date: "2026-11-10", What: "Rope", Supplier: "Quay Stores", Number: "A-77", Quantity: "1", Amount: "20.30",
			Scans: []tape.BackupScan{upright, flat}},
		{No: 3, Date: "2026-11-11", What: "Oil", Quantity: "1", Amount: "10.00", Scans: []tape.BackupScan{
			{Name: "odd.pdf", Media: "application/pdf", SHA256: "d", Data: broken},
		}},
	}
	for _, size := range []string{"a4", "letter"} {
		v.PaperSize = size
		data, err := paper.InvoicePDF(t.Context(), v, backup)
		require.NoError(t, err)
		pages := pagesOf(t, data)
		require.Len(t, pages, 7, "the invoice, its backup, and five pages of receipts")
		behind := pages[1]
		for _, text := range []string{
			"AldoRenn", "overtime", "13.65", "27.30", "QuayStores,A-77", "5.05", "Hours,10.00100.10", "Receipts50.50",
			"Linesoftheinvoicethatnohoursorreceiptsstandbehind10.00", "Together,thesubtotaloftheinvoice160.60",
		} {
			assert.Contains(t, behind, text)
		}
		assert.Contains(t, pages[2], "InvoiceSG-998,receiptofno.1,2", "one receipt of two lines is there once")
		assert.Contains(t, pages[3], "firstside")
		assert.Equal(t, 1, drawnTimes(t, data, "SG-998, receipt of no. 1)"), "a label that both sides draw")
		assert.Contains(t, pages[4], "secondside")
		assert.Contains(t, pages[5], "receiptofno.2")
		assert.Contains(t, pages[6], "odd.pdfcan'tbeprintedhere")
		dims, err := api.PageDims(bytes.NewReader(data), nil)
		require.NoError(t, err)
		for i, d := range dims {
			assert.InDelta(t, dims[0].Width, d.Width, 1, "page %d", i+1)
			assert.InDelta(t, dims[0].Height, d.Height, 1, "page %d", i+1)
		}
	}
}
