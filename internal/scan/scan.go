// Package scan judges what was scanned or photographed, and makes pages of it that are safe to send on.
//
// Such files come from anywhere. Each is read in a child process of the same binary, within bounds of time and memory, so that a file that
// is made to hurt ends the child and nothing else. Its functions are safe for concurrent use; more than two at once wait for
// their turn.
package scan

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	_ "image/jpeg" // receipts are photos too
	_ "image/png"
)

// The bounds of a scan.
const (
	Largest     = 10 << 20 // bytes
	mostPixels  = 25_000_000
	mostPages   = 300
	mostObjects = 50_000   // of a PDF
	mostDecoded = 64 << 20 // bytes of one of its streams
)

// Endings are the kinds of file that a scan may be, and what their names end in.
var Endings = map[string]string{"application/pdf": ".pdf", "image/png": ".png", "image/jpeg": ".jpg"}

// ErrTooMuch is a file that took more time or memory than any scan needs.
var ErrTooMuch = errors.New("this file takes too much time or memory to read; scan or photograph the paper again")

// Check is [Reader.Check] for one scan.
func Check(ctx context.Context, data []byte) (media string, err error) {
	var r Reader
	defer r.Close()
	return r.Check(ctx, data)
}

// Check says what kind of file a scan is by its contents, whatever its name says. Its errors are sentences for a person: it is neither a
// picture nor a PDF, it breaks off, or it is beyond the bounds.
func (r *Reader) Check(ctx context.Context, data []byte) (media string, err error) {
	switch {
	case len(data) == 0:
		return "", errors.New("this file is empty")
	case len(data) > Largest:
		return "", fmt.Errorf("this file is larger than %d MB; scan it in grey or at fewer points", Largest>>20)
	}
	if bytes.HasPrefix(data, []byte("%PDF-")) {
		media = "application/pdf"
		if !bytes.Contains(data[max(0, len(data)-2048):], []byte("%%EOF")) {
			return "", errors.New("this PDF breaks off before its end; save it again")
		}
	} else {
		picture, kind, err := image.DecodeConfig(bytes.NewReader(data))
		switch {
		case err != nil:
			return "", errors.New("this is no PDF, PNG or JPEG, whatever its name says; scan or photograph the paper again")
		case int64(picture.Width)*int64(picture.Height) > mostPixels:
			return "", fmt.Errorf("this picture has %d by %d points; make it smaller first", picture.Width, picture.Height)
		}
		media = "image/" + kind
	}
	_, err = r.do(ctx, task{Do: toCheck, Media: media, Data: data})
	return media, err
}

// Page is a scan that is to be put behind an invoice.
type Page struct {
	Media string
	Data  []byte
	Label string // printed at the head of its pages
}

// Made is what became of a scan: a PDF in the size of the paper with the label on each page, or a JPEG of a photo without it.
type Made struct {
	Data []byte
	Err  error // the scan can't be put there
}

// Pages makes each scan fit to be sent on: the pages of a PDF in the size of the paper (a4 or letter), with their contents and nothing else
// that the file carries (scripts, files, links, forms); a photo at most as fine as a printer prints it. It fails as a whole only where
// the context ends.
func Pages(ctx context.Context, scans []Page, size string) ([]Made, error) {
	var r Reader
	defer r.Close()
	out := make([]Made, len(scans))
	for i, s := range scans {
		out[i].Data, out[i].Err = r.do(ctx, task{Do: toMake, Media: s.Media, Data: s.Data, Label: s.Label, Size: size})
		if err := context.Cause(ctx); err != nil {
			return nil, err
		}
	}
	return out, nil
}
