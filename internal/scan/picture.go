package scan

import (
	"bytes"
	"errors"
	"image"
	"image/jpeg"

	"golang.org/x/image/draw"
)

// The photo on paper: 200 points an inch over the longer side of a Letter or A4, which is as fine as a receipt is read.
const (
	finest  = 2300
	quality = 85 // of JPEG, in percent
)

// decoded is a picture, read to its last point.
func decoded(data []byte) (image.Image, error) {
	picture, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, errors.New("this picture breaks off or is damaged; photograph or save it again")
	}
	return picture, nil
}

// printable is a picture as a JPEG, no finer than it is printed.
func printable(data []byte) ([]byte, error) {
	config, _, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || int64(config.Width)*int64(config.Height) > mostPixels {
		return nil, errors.New("this picture is too large")
	}
	picture, err := decoded(data)
	if err != nil {
		return nil, err
	}
	size := picture.Bounds().Size()
	if longer := max(size.X, size.Y); longer > finest {
		size = image.Pt(max(1, size.X*finest/longer), max(1, size.Y*finest/longer))
	}
	page := image.NewRGBA(image.Rectangle{Max: size})
	draw.Draw(page, page.Bounds(), image.White, image.Point{}, draw.Src) // paper shows through what is clear
	if size == picture.Bounds().Size() {
		draw.Draw(page, page.Bounds(), picture, picture.Bounds().Min, draw.Over)
	} else {
		draw.BiLinear.Scale(page, page.Bounds(), picture, picture.Bounds(), draw.Over, nil)
	}
	var out bytes.Buffer
	err = jpeg.Encode(&out, page, &jpeg.Options{Quality: quality})
	return out.Bytes(), err
}
