package scan

import (
	"bytes"
	"errors"
	"fmt"
	"slices"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"
)

// limited is how PDFs are read.
func limited() *model.Configuration {
	conf := model.NewDefaultConfiguration()
	conf.ValidationMode = model.ValidationRelaxed
	conf.Limits = model.ResourceLimits{
		MaxStreamBytes: Largest, MaxDecodeBytes: mostDecoded, MaxImagePixels: mostPixels, MaxImageBytes: mostDecoded,
		MaxObjectCount: mostObjects, MaxObjectStreamCount: mostObjects, MaxObjectStreamFirst: 1 << 20, MaxXRefEntries: mostObjects,
		MaxRecursionDepth: 60,
	}
	return conf
}

// errBounds is a PDF beyond the bounds.
type errBounds struct{ error }

// opened is a PDF within the bounds.
func opened(data []byte) (*model.Context, error) {
	ctx, err := api.ReadContext(bytes.NewReader(data), limited())
	if err != nil {
		return nil, err
	}
	if len(ctx.Table) > mostObjects {
		return nil, errBounds{fmt.Errorf("this PDF is made of more than %d parts; print it to a new PDF, or photograph the paper", mostObjects)}
	}
	if err := api.ValidateContext(ctx); err != nil {
		return nil, err
	}
	if err := ctx.EnsurePageCount(); err != nil {
		return nil, err
	}
	if ctx.PageCount > mostPages {
		return nil, errBounds{fmt.Errorf("this PDF has %d pages; attach those that belong to the paper, at most %d", ctx.PageCount, mostPages)}
	}
	return ctx, nil
}

// checkPDF refuses a PDF beyond the bounds. One that can't be read within them is let in: the browser may show it, and where it can't be
// printed its name is.
func checkPDF(data []byte) error {
	var beyond errBounds
	if _, err := opened(data); errors.As(err, &beyond) {
		return beyond
	}
	return nil
}

// cleanPages are the pages of a PDF in the size of the paper, each with a label.
func cleanPages(data []byte, size, label string) ([]byte, error) {
	ctx, err := opened(data)
	if err != nil {
		return nil, err
	}
	if err := clean(ctx); err != nil {
		return nil, err
	}
	if err := api.OptimizeContext(ctx); err != nil {
		return nil, err
	}
	form := "A4"
	if size == "letter" {
		form = "Letter"
	}
	to, err := pdfcpu.ParseResizeConfig("form:"+form+", enforce:on", types.POINTS)
	if err != nil {
		return nil, err
	}
	mark, err := api.TextWatermark(label, "font:Helvetica, points:8, scale:1 abs, pos:tl, off:12 -8, rot:0, fillc:#000000, bgcol:#ffffff, "+
		"margins:2", true, false, types.POINTS)
	if err != nil {
		return nil, err
	}
	pages, err := api.PagesForPageSelection(ctx.PageCount, nil, true, true)
	if err != nil {
		return nil, err
	}
	if err := pdfcpu.Resize(ctx, pages, to); err != nil {
		return nil, err
	}
	if err := pdfcpu.AddWatermarks(ctx, pages, mark); err != nil {
		return nil, err
	}
	var out bytes.Buffer
	err = api.WriteContext(ctx, &out)
	return out.Bytes(), err
}

// What a page is made of, where its contents draw from, and what of a drawing leads elsewhere.
var (
	ofCatalog   = []string{"Type", "Version", "Pages"}
	ofPages     = []string{"Type", "Parent", "Kids", "Count", "MediaBox", "CropBox", "Rotate", "Resources"}
	ofPage      = []string{"Type", "Parent", "MediaBox", "CropBox", "Rotate", "Resources", "Contents", "Group", "UserUnit"}
	ofResources = []string{"ColorSpace", "ExtGState", "Font", "Pattern", "ProcSet", "Shading", "XObject"}
	elsewhere   = []string{"Ref", "OPI", "Metadata", "PieceInfo", "AF", "Alternates", "OC", "StructParent", "StructParents"}
)

// clean leaves of a PDF its pages, their contents and resources; scripts, actions, links, forms, files and the rest that it carries can be
// reached no more, and are not written.
func clean(ctx *model.Context) error {
	root, err := ctx.Catalog()
	if err != nil {
		return err
	}
	keepOnly(root, ofCatalog)
	for _, entry := range ctx.Table {
		switch object := entry.Object.(type) {
		case types.StreamDict:
			for _, key := range elsewhere {
				object.Delete(key)
			}
			if err := cleanResources(ctx, object.Dict); err != nil {
				return err
			}
		case types.Dict:
			switch kind := object.Type(); {
			case kind != nil && *kind == "Page":
				keepOnly(object, ofPage)
			case kind != nil && *kind == "Pages":
				keepOnly(object, ofPages)
			}
			if err := cleanResources(ctx, object); err != nil {
				return err
			}
		}
	}
	for n := range ctx.PageCount { // also those that do not say that they are pages
		page, _, _, err := ctx.PageDict(n+1, false)
		if err != nil {
			return err
		}
		keepOnly(page, ofPage)
	}
	ctx.Names, ctx.Outlines, ctx.Info = map[string]*model.Node{}, nil, nil
	return nil
}

func cleanResources(ctx *model.Context, of types.Dict) error {
	there, found := of.Find("Resources")
	if !found {
		return nil
	}
	resources, err := ctx.DereferenceDict(there)
	if err == nil {
		keepOnly(resources, ofResources)
	}
	return err
}

func keepOnly(d types.Dict, keys []string) {
	for key := range d {
		if !slices.Contains(keys, key) {
			delete(d, key)
		}
	}
}
