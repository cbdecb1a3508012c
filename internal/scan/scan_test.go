package scan_test

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"os"
	"strings"
	"syscall"
	"testing"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"jarvo/internal/scan"
)

// document writes a PDF of objects, the first of them its catalog.
func document(objects ...string) []byte {
	var out bytes.Buffer
	out.WriteString("%PDF-1.7\n")
	at := make([]int, len(objects))
	for i, object := range objects {
		at[i] = out.Len()
		fmt.Fprintf(&out, "%d 0 obj\n%s\nendobj\n", i+1, object)
	}
	table := out.Len()
	fmt.Fprintf(&out, "xref\n0 %d\n0000000000 65535 f \n", len(objects)+1)
	for _, offset := range at {
		fmt.Fprintf(&out, "%010d 00000 n \n", offset)
	}
	fmt.Fprintf(&out, "trailer\n<</Size %d /Root 1 0 R>>\nstartxref\n%d\n%%%%EOF\n", len(objects)+1, table)
	return out.Bytes()
}

const (
	catalog = "<</Type/Catalog/Pages 2 0 R>>"
	pages   = "<</Type/Pages/Kids[3 0 R]/Count 1>>"
	page    = "<</Type/Page/Parent 2 0 R/MediaBox[0 0 300 400]/Resources<<>>/Contents 4 0 R>>"
)

func stream(dict string, data []byte) string {
	return fmt.Sprintf("<<%s/Length %d>>\nstream\n%s\nendstream", dict, len(data), data)
}

func deflated(data []byte, times int) []byte {
	for range times {
		var out bytes.Buffer
		w := zlib.NewWriter(&out)
		_, _ = w.Write(data)
		_ = w.Close()
		data = out.Bytes()
	}
	return data
}

// bomb deflates many zero bytes, again and again.
func bomb(megabytes, times int) []byte {
	var out bytes.Buffer
	w := zlib.NewWriter(&out)
	zeros := make([]byte, 1<<20)
	for range megabytes {
		_, _ = w.Write(zeros)
	}
	_ = w.Close()
	return deflated(out.Bytes(), times-1)
}

// drawing is a PNG by hand: of a size that its head claims, and with data that need not fit it.
func drawing(wide, tall int, depth, kind byte, data []byte) []byte {
	out := []byte("\x89PNG\r\n\x1a\n")
	chunk := func(name string, data []byte) {
		out = binary.BigEndian.AppendUint32(out, uint32(len(data)))
		begin := len(out)
		out = append(append(out, name...), data...)
		out = binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(out[begin:]))
	}
	head := binary.BigEndian.AppendUint32(binary.BigEndian.AppendUint32(nil, uint32(wide)), uint32(tall))
	chunk("IHDR", append(head, depth, kind, 0, 0, 0))
	chunk("IDAT", data)
	chunk("IEND", nil)
	return out
}

// photo is a JPEG of a size, of which the markers can be changed.
func photo(t *testing.T, wide, tall int) []byte {
	t.Helper()
	picture := image.NewGray(image.Rect(0, 0, wide, tall))
	for x := range wide {
		picture.SetGray(x, x%tall, color.Gray{200})
	}
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, picture, nil))
	return out.Bytes()
}

// crafted are files that are made to hurt, by name. There are more of them, and larger ones, in the long form.
func crafted(t *testing.T, long bool) map[string][]byte {
	t.Helper()
	megabytes := 300
	if long {
		megabytes = 9_000
	}
	kids := "[" + strings.Repeat("3 0 R ", 5_000) + "]"
	files := map[string][]byte{
		"an object of a high number": []byte("%PDF-1.4\n2147483647 0 obj\n" + catalog +
			"\nendobj\nxref\n2147483647 1\n0000000009 00000 n \ntrailer\n" +
			"<</Size 2147483647/Root 2147483647 0 R>>\nstartxref\n75\n%%EOF\n"),
		"a table of a large size": []byte("%PDF-1.5\n1 0 obj\n" + stream("/Type/XRef/Size 2000000000/W[1 2 1]/Index[0 2000000000]/Root 1 0 R",
			nil) +
			"\nendobj\nstartxref\n9\n%%EOF\n"),
		"the same page many times": document(catalog, "<</Type/Pages/Kids"+kids+"/Count 5000>>", page, stream("", []byte("0 0 m 9 9 l S"))),
		"a page of one content many times": document(catalog, pages,
			"<</Type/Page/Parent 2 0 R/MediaBox[0 0 300 400]/Resources<<>>/Contents["+strings.Repeat("4 0 R ", 40_000)+"]>>",
			stream("/Filter/FlateDecode", bomb(16, 1))),
		"a content within itself": document(catalog, pages, page, stream("/Filter[/FlateDecode/FlateDecode/FlateDecode]", bomb(megabytes, 3))),
		"a large content":         document(catalog, pages, page, stream("/Filter/FlateDecode", bomb(min(megabytes, 8_000), 1))),
		"a stretched content": document(catalog, pages, page,
			stream("/Filter/FlateDecode/DecodeParms<</Predictor 12/Columns 2147483647/Colors 32/BitsPerComponent 16>>", bomb(8, 1))),
		"runs": document(catalog, pages, page, stream("/Filter[/FlateDecode/RunLengthDecode]",
			deflated(bytes.Repeat([]byte{129, 'q'}, 8<<20), 1))),
		"pages that are their own kids": document(catalog, "<</Type/Pages/Kids[2 0 R 3 0 R]/Count 2>>", page, stream("", nil)),
		"pages that grow": document(catalog, "<</Type/Pages/Kids[3 0 R 3 0 R 3 0 R 3 0 R]/Count 4000000>>",
			"<</Type/Pages/Kids[4 0 R 4 0 R 4 0 R 4 0 R]/Count 1000000>>", "<</Type/Pages/Kids[5 0 R 5 0 R 5 0 R 5 0 R]/Count 250000>>",
			"<</Type/Pages/Kids[2 0 R 3 0 R 4 0 R]/Count 60000>>"),
		"deep arrays": document("<</Type/Catalog/Pages 2 0 R/X "+strings.Repeat("[", 400_000)+strings.Repeat("]", 400_000)+">>", pages,
			page, stream("", nil)),
		"deep dictionaries": document("<</Type/Catalog/Pages 2 0 R/X "+strings.Repeat("<</A ", 200_000)+"1"+strings.Repeat(">>", 200_000)+">>",
			pages, page, stream("", nil)),
		"a form within itself": document(catalog, pages,
			"<</Type/Page/Parent 2 0 R/MediaBox[0 0 300 400]/Resources<</XObject<</F 5 0 R>>>>/Contents 4 0 R>>", stream("", []byte("/F Do")),
			stream("/Type/XObject/Subtype/Form/BBox[0 0 9 9]/Resources<</XObject<</F 5 0 R>>>>", []byte("/F Do /F Do"))),
		"resources that are their own": document(catalog, pages,
			"<</Type/Page/Parent 2 0 R/MediaBox[0 0 300 400]/Resources 5 0 R/Contents 4 0 R>>", stream("", nil),
			"<</XObject 5 0 R/Font 5 0 R/F 5 0 R>>"),
		"a page as wide as the world": document(catalog, pages,
			"<</Type/Page/Parent 2 0 R/MediaBox[-1e38 -1e38 1e38 1e38]/Resources<<>>/Contents 4 0 R>>", stream("", nil)),
		"a page of no size": document(catalog, pages, "<</Type/Page/Parent 2 0 R/MediaBox[0 0 0 0]/Resources<<>>/Contents 4 0 R>>",
			stream("", nil)),
		"a table before itself": []byte("%PDF-1.4\nxref\n0 1\n0000000000 65535 f \ntrailer\n" +
			"<</Size 1/Prev 9/Root 1 0 R>>\nstartxref\n9\n%%EOF\n"),
		"an endless length":        document(catalog, pages, page, "<</Length 99999999999>>\nstream\nq\nendstream"),
		"a length that is its own": document(catalog, pages, page, "<</Length 4 0 R>>\nstream\nq\nendstream"),
		"objects in an object": document(catalog, pages, page, stream("/Type/ObjStm/N 2000000000/First 2000000000/Filter/FlateDecode",
			bomb(200, 1))),
		"many objects": document(append([]string{catalog, pages, page, stream("", nil)}, make([]string, 60_000)...)...),
		"junk":         append([]byte("%PDF-1.7\n"), append(bytes.Repeat([]byte("junk << [ ( "), 400_000), "%%EOF"...)...),
		"names that turn": document("<</Type/Catalog/Pages 2 0 R/Names<</EmbeddedFiles 5 0 R/JavaScript 5 0 R>>/Outlines 5 0 R>>",
			pages, page, stream("", nil), "<</Kids[5 0 R 5 0 R]/First 5 0 R/Next 5 0 R/Last 5 0 R/Title(x)/Parent 5 0 R>>"),
		"a large PNG":         drawing(9_000, 9_000, 8, 6, bomb(megabytes, 1)),
		"a PNG with too much": drawing(4_900, 4_900, 16, 6, bomb(megabytes, 1)),
		"a PNG that is wide":  drawing(2_000_000_000, 2_000_000_000, 16, 6, bomb(1, 1)),
		"a PNG of one line":   drawing(24_000_000, 1, 16, 6, bomb(200, 1)),
		"a wide JPEG": bytes.Replace(photo(t, 600, 400), []byte{0xff, 0xc0, 0, 11, 8, 1, 0x90, 2, 0x58}, []byte{0xff, 0xc0, 0, 11,
			8, 0xff, 0xff, 0xff, 0xff}, 1),
		"a JPEG of many scans": manyScans(5_000),
	}
	if !long {
		for _, slow := range []string{"names that turn", "runs", "a PNG with too much", "a page of one content many times",
			"objects in an object"} {
			delete(files, slow)
		}
		return files
	}
	for n := 2; n <= 24; n++ { // one content, deflated more and more often
		filters := strings.Repeat("/FlateDecode", n)
		files[fmt.Sprintf("a content deflated %d times", n)] = document(catalog, pages, page, stream("/Filter["+filters+"]", bomb(1_000, n)))
	}
	return files
}

// manyScans is a progressive JPEG that says a little about each of its points again and again.
func manyScans(times int) []byte {
	out := []byte{0xff, 0xd8, 0xff, 0xc2, 0, 11, 8, 0x13, 0x88, 0x13, 0x88, 1, 1, 0x11, 0}
	out = append(out, 0xff, 0xdb, 0, 67, 0)
	out = append(out, bytes.Repeat([]byte{1}, 64)...)
	out = append(out, 0xff, 0xc4, 0, 20, 0x10, 1)
	out = append(append(out, make([]byte, 15)...), 0xe0) // nothing of the next 16,384 blocks
	for range times {
		out = append(out, 0xff, 0xda, 0, 8, 1, 1, 0, 1, 63, 0)
		out = append(out, make([]byte, 60)...)
	}
	return append(out, 0xff, 0xd9)
}

// A file that is made to hurt is refused as it comes in or, where it was let in, has no pages: within the time and memory of a child, which
// bounds what any of them takes, and without harm to the file read after it.
func TestCraftedFilesHurtNobody(t *testing.T) {
	whole := document(catalog, pages, page, stream("", []byte("0 0 m 9 9 l S")))
	refused := map[string]bool{}
	long := os.Getenv("CRAFTED") != ""
	for name, data := range crafted(t, long) {
		media, err := scan.Check(t.Context(), data)
		refused[name] = err != nil
		if err != nil && !long {
			continue
		}
		if err != nil { // as if it had come in before there were bounds
			media = "application/pdf"
			if bytes.HasPrefix(data, []byte("\x89PNG")) {
				media = "image/png"
			} else if bytes.HasPrefix(data, []byte{0xff, 0xd8}) {
				media = "image/jpeg"
			}
		}
		made, err := scan.Pages(t.Context(), []scan.Page{{Media: media, Data: data, Label: "1"}, {Media: "application/pdf", Data: whole,
			Label: "2"}}, "a4")
		require.NoError(t, err, name)
		require.NoError(t, made[1].Err, "the file after %s", name)
		t.Logf("%s: %d bytes, refused %t, pages: %v", name, len(data), refused[name], made[0].Err)
	}
	for _, name := range []string{
		"the same page many times", "many objects", "a large PNG", "a PNG that is wide", "a wide JPEG", "a JPEG of many scans",
	} {
		assert.True(t, refused[name], name)
	}
	var children syscall.Rusage
	require.NoError(t, syscall.Getrusage(syscall.RUSAGE_CHILDREN, &children))
	assert.Less(t, children.Maxrss, int64(600<<10), "kB that the largest child took")
}

// Of a receipt only what is seen on its pages goes on to a customer.
func TestOnlyPagesAreSentOn(t *testing.T) {
	data := document(
		"<</Type/Catalog/Pages 2 0 R/OpenAction 6 0 R/Names<</EmbeddedFiles<</Names[(a)7 0 R]>>/JavaScript<</Names[(j)6 0 R]>>>>"+
			"/AcroForm<</Fields[9 0 R]>>/Metadata 10 0 R>>", pages,
		"<</Type/Page/Parent 2 0 R/MediaBox[0 0 300 400]/Contents 4 0 R/Annots[5 0 R 9 0 R]/AA<</O 6 0 R>>"+
			"/Resources<</Font<</A<</Type/Font/Subtype/Type1/BaseFont/Helvetica>>>>/Properties<</P 7 0 R>>>>>>",
		stream("", []byte("BT /A 12 Tf 20 20 Td (seen on it) Tj ET")),
		"<</Type/Annot/Subtype/Link/Rect[0 0 9 9]/A<</S/URI/URI(http://bad.example)>>>>", "<</S/JavaScript/JS(app.alert\\(1\\))>>",
		"<</Type/Filespec/F(bad.exe)/EF<</F 8 0 R>>>>", stream("/Type/EmbeddedFile", []byte("MZ bad")),
		"<</Type/Annot/Subtype/Widget/FT/Tx/DA(/A 9 Tf)/T(a)/Rect[0 0 9 9]/V(typed)>>", stream("/Type/Metadata/Subtype/XML", []byte("<who/>")),
	)
	made, err := scan.Pages(t.Context(), []scan.Page{{Media: "application/pdf", Data: data, Label: "receipt of no. 1"}}, "letter")
	require.NoError(t, err)
	require.NoError(t, made[0].Err)
	read, err := api.ReadContext(bytes.NewReader(made[0].Data), nil)
	require.NoError(t, err)
	var all strings.Builder
	for _, entry := range read.Table {
		if entry.Object != nil {
			all.WriteString(entry.Object.String())
		}
	}
	for _, gone := range []string{"URI", "JavaScript", "EmbeddedFile", "Filespec", "Widget", "Metadata", "OpenAction", "Annots"} {
		assert.NotContains(t, all.String(), gone)
	}
	assert.Contains(t, all.String(), "Helvetica")
	dims, err := api.PageDims(bytes.NewReader(made[0].Data), nil)
	require.NoError(t, err)
	assert.InDelta(t, 792, dims[0].Height, 1)
}

func TestAPhotoIsAsFineAsItIsPrinted(t *testing.T) {
	var blank bytes.Buffer
	require.NoError(t, png.Encode(&blank, image.NewNRGBA(image.Rect(0, 0, 3, 2))))
	made, err := scan.Pages(t.Context(), []scan.Page{
		{Media: "image/jpeg", Data: photo(t, 4_600, 1_000)}, {Media: "image/png", Data: blank.Bytes()}, {Media: "image/png",
			Data: blank.Bytes()[:40]},
	}, "a4")
	require.NoError(t, err)
	for i, size := range []image.Point{{2_300, 500}, {3, 2}} {
		require.NoError(t, made[i].Err)
		picture, err := jpeg.Decode(bytes.NewReader(made[i].Data))
		require.NoError(t, err)
		assert.Equal(t, size, picture.Bounds().Size())
	}
	picture, err := jpeg.Decode(bytes.NewReader(made[1].Data))
	require.NoError(t, err)
	r, _, _, _ := picture.At(1, 1).RGBA()
	assert.Greater(t, r, uint32(0xf000), "what is clear is the white of the paper")
	assert.ErrorContains(t, made[2].Err, "breaks off")
}
