// Package face holds the typeface that papers are printed in, and knows which characters it has.
package face

import (
	"slices"
	"strings"
	"sync"
	"unicode"

	"github.com/go-fonts/dejavu/dejavusans"
	"github.com/go-fonts/dejavu/dejavusansbold"
	"github.com/go-fonts/liberation/liberationsansbold"
	"github.com/go-fonts/liberation/liberationsansregular"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/text/unicode/norm"
)

// Regular and Bold are the font files. Other and OtherBold have signs that these lack, such as some currencies'.
var (
	Regular   = liberationsansregular.TTF
	Bold      = liberationsansbold.TTF
	Other     = dejavusans.TTF
	OtherBold = dejavusansbold.TTF
)

// substitute stands for a character that the face does not have. A paper with it is printed all the same: no text stops a paper.
const substitute = '?'

// has knows of each character that was asked for whether both weights of a font have it.
func has(files ...[]byte) func(rune) bool {
	return sync.OnceValue(func() func(rune) bool {
		var fonts []*sfnt.Font
		for _, file := range files {
			font, err := sfnt.Parse(file)
			if err != nil {
				panic("a font can't be read: " + err.Error()) // it is in the binary
			}
			fonts = append(fonts, font)
		}
		var mu sync.Mutex
		var buffer sfnt.Buffer
		known := map[rune]bool{}
		return func(r rune) bool {
			mu.Lock()
			defer mu.Unlock()
			there, asked := known[r]
			if !asked {
				there = true
				for _, font := range fonts {
					glyph, err := font.GlyphIndex(&buffer, r)
					there = there && err == nil && glyph != 0
				}
				known[r] = there
			}
			return there
		}
	})()
}

var (
	inMain  = sync.OnceValue(func() func(rune) bool { return has(Regular, Bold) })
	inOther = sync.OnceValue(func() func(rune) bool { return has(Other, OtherBold) })
)

// unseen are characters that print nothing and are left out: they join, direct or vary others.
func unseen(r rune) bool {
	return r == '\u200d' || unicode.Is(unicode.Cf, r) || unicode.Is(unicode.Variation_Selector, r) || unicode.IsControl(r) && r != '\n'
}

// lacks says that neither font has a sign for a character; beyond U+FFFF a PDF of ours has none at all.
func lacks(r rune) bool { return r > 0xFFFF || !inMain()(r) && !inOther()(r) }

// NeedsOther says that a text has signs that only the other font has.
func NeedsOther(text string) bool {
	return strings.ContainsFunc(text, func(r rune) bool { return r != '\n' && r <= 0xFFFF && !inMain()(r) && inOther()(r) })
}

// Missing are the characters of a text that the face does not have, each once, in their order.
func Missing(text string) []rune {
	var missing []rune
	for _, r := range norm.NFC.String(text) {
		if r != '\n' && !unseen(r) && lacks(r) && !slices.Contains(missing, r) {
			missing = append(missing, r)
		}
	}
	return missing
}

// Printable is a text as the face prints it: composed, without what prints nothing, and with a substitute for each character it lacks.
func Printable(text string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r == '\t':
			return ' '
		case unseen(r):
			return -1
		case r != '\n' && lacks(r):
			return substitute
		}
		return r
	}, norm.NFC.String(text))
}
