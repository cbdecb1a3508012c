package exchange

import "context"

// Progress is how far an import has come.
type Progress struct {
	File string `json:"file" doc:"whose rows are read; blank once all are, and costs are worked out"`
	Rows int    `json:"rows" doc:"read so far, of all files"`
	Of   int    `json:"of" doc:"rows in all; 0: none is under way, or it is still being sent"`
}

type following struct{}

// Follow has told hear now and then how far an import that is run with the context has come.
func Follow(ctx context.Context, told func(Progress)) context.Context {
	return context.WithValue(ctx, following{}, told)
}

// toldEvery is after how many rows an import tells how far it has come.
const toldEvery = 1000

// tell tells who follows an import how far it has come.
func (im *importer) tell(file string) {
	if im.follows != nil {
		im.follows(Progress{file, im.read, im.total})
	}
}
