// Package face holds the typeface that papers are printed in, and knows which characters it has.
package face

import (
	"slices"
	"strings"
	"sync"
	"unicode"

	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/sfnt"
	"golang.org/x/text/unicode/norm"
)

// Regular and Bold are the font files.
var (
	Regular = goregular.TTF
	Bold    = gobold.TTF
)

// substitute stands for a character that the face does not have. A paper with it is printed all the same: no text stops a paper.
const substitute = '?'

// inNeither knows of each character that was asked for whether one of the two fonts lacks it.
var inNeither = sync.OnceValue(func() func(rune) bool {
	regular, err := sfnt.Parse(Regular)
	if err != nil {
		panic("the regular font can't be read: " + err.Error()) // it is in the binary
	}
	bold, err := sfnt.Parse(Bold)
	if err != nil {
		panic("the bold font can't be read: " + err.Error())
	}
	var mu sync.Mutex
	var buffer sfnt.Buffer
	known := map[rune]bool{}
	return func(r rune) bool {
		mu.Lock()
		defer mu.Unlock()
		lacks, asked := known[r]
		if !asked {
			for _, font := range []*sfnt.Font{regular, bold} {
				glyph, err := font.GlyphIndex(&buffer, r)
				lacks = lacks || err != nil || glyph == 0
			}
			known[r] = lacks
		}
		return lacks
	}
})

// unseen are characters that print nothing and are left out: they join, direct or vary others.
func unseen(r rune) bool {
	return r == '\u200d' || unicode.Is(unicode.Cf, r) || unicode.Is(unicode.Variation_Selector, r) || unicode.IsControl(r) && r != '\n'
}

// lacks says that the face has no sign for a character; beyond U+FFFF a PDF of ours has none at all.
func lacks(r rune) bool { return r > 0xFFFF || inNeither()(r) }

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
