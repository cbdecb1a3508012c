package e2e

import (
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"

	"jarvo/internal/demo"
)

// TestEverySheetIsPrintedAndExported prints each sheet and takes it out as a table: the sheet and its Footing, nothing of the window.
func TestEverySheetIsPrintedAndExported(t *testing.T) {
	u := atTheDemo(t, demo.SignIn, `[aria-label="Loose ends"]`)
	for _, sheet := range sheets {
		u.open(sheet[0])
		u.must(u.See(sheet[1]))
		name, rows := u.exported(func() error { return u.Click(`[aria-label="Export what is shown"]`) })
		assert.NotEmpty(t, name, sheet[0])
		assert.Greater(t, len(rows), 1, "%s exports no rows", sheet[0])

		data, err := u.Print()
		u.must(err)
		file := filepath.Join(t.TempDir(), "sheet.pdf")
		u.must(os.WriteFile(file, data, 0o600))
		text, err := exec.CommandContext(ctx, "pdftotext", "-layout", file, "-").Output()
		u.must(err)
		assert.NotContains(t, string(text), "Find or do", sheet[0])
		assert.NotContains(t, string(text), "Ada R.", sheet[0])
		assert.Greater(t, len(text), 200, "%s is printed blank", sheet[0])
	}
}
