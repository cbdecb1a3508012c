package company

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"image"
	_ "image/jpeg" // a logo can be one
	_ "image/png"  // a logo can be one

	"jarvo/internal/app/book"
	"jarvo/internal/app/refuse"
	"jarvo/internal/store"
)

// LargestLogo is how large a logo may be, in bytes; mostPixels how many points it may be wide or high.
const (
	LargestLogo = 1 << 20
	mostPixels  = 4000
)

// SetLogo puts a mark on the papers that are made from now on: a PNG or a JPEG. No data takes it away; issued invoices keep theirs.
func SetLogo(ctx context.Context, b *book.Book, actor book.Actor, version int64, data []byte) error {
	return book.Change(ctx, b, actor, book.Setup, func(s *book.Session) error {
		if err := asSeen(s, version); err != nil {
			return err
		}
		had := store.Text(s.Company.Logo)
		s.Company.Logo = nil
		if len(data) > 0 {
			sum, err := KeepLogo(s, data)
			if err != nil {
				return refuse.Invalid("logo", "%s", err)
			}
			s.Company.Logo = &sum
		}
		s.Company.Version++
		if err := s.Save(&s.Company).Error; err != nil {
			return err
		}
		return s.Record("changed", "company", 1, map[string]string{"logo": had}, map[string]string{"logo": store.Text(s.Company.Logo)})
	})
}

// KeepLogo keeps a picture in the book and answers its checksum; it is judged by what is in it.
func KeepLogo(s *book.Session, data []byte) (string, error) {
	if len(data) > LargestLogo {
		return "", fmt.Errorf("this picture is larger than %d MB", LargestLogo>>20)
	}
	seen, format, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || format != "png" && format != "jpeg" {
		return "", errors.New("this is no PNG or JPEG")
	}
	if seen.Width > mostPixels || seen.Height > mostPixels {
		return "", fmt.Errorf("this picture is %d by %d points; make it %d at most", seen.Width, seen.Height, mostPixels)
	}
	if _, _, err := image.Decode(bytes.NewReader(data)); err != nil {
		return "", errors.New("this picture can't be read; save it again as a PNG")
	}
	hash := sha256.Sum256(data)
	sum := hex.EncodeToString(hash[:])
	return sum, s.Run("INSERT INTO logos (sha256, media, data) VALUES (?, ?, ?) ON CONFLICT DO NOTHING", sum, "image/"+format, data)
}

// Logo is a logo of the book, by its checksum.
func Logo(ctx context.Context, b *book.Book, actor book.Actor, sum string) (store.Logo, error) {
	return book.Read(ctx, b, actor, book.SeeMoney, func(s *book.Session) (store.Logo, error) {
		found, err := store.All[store.Logo](s.Tx, "sha256", "sha256 = ?", sum)
		if err != nil || len(found) == 0 {
			return store.Logo{}, refuse.OrNotFound(err, "logo")
		}
		return found[0], nil
	})
}
