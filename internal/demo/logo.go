package demo

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"math"
)

// mark is the company's logo: three piles under a beam, in the water.
func mark() ([]byte, error) {
	const width, height = 160, 120
	ink := color.NRGBA{R: 0x1E, G: 0x2F, B: 0x55, A: 0xFF}
	picture := image.NewNRGBA(image.Rect(0, 0, width, height))
	box := func(left, top, right, bottom int) {
		draw.Draw(picture, image.Rect(left, top, right, bottom), image.NewUniform(ink), image.Point{}, draw.Src)
	}
	box(10, 30, 150, 42)
	for _, at := range []int{24, 72, 120} {
		box(at, 10, at+16, 84)
	}
	for x := 4; x < width-4; x++ {
		y := 98 + int(math.Round(6*math.Sin(float64(x)/9)))
		box(x, y, x+1, y+7)
	}
	var out bytes.Buffer
	err := png.Encode(&out, picture)
	return out.Bytes(), err
}
