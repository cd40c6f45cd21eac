package store_test

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"epitome/core/stock"
	"epitome/internal/store"
)

// FuzzReadSheet reads any file as a price list: rows come in order, none is
// beyond its bounds, and each line of a text is a row or part of one.
func FuzzReadSheet(f *testing.F) {
	f.Add([]byte("sku;text;price\n1;\"8GB; \"\"DDR4\"\"\";20\n2;\"open;30\n3;x;1\n"))
	f.Add([]byte("a,b\r1,2\r"))
	f.Add(append([]byte("\xff\xfe"), utf16("a;b\n1;2\n")...))
	f.Add([]byte("PK\x03\x04"))
	f.Add([]byte("Gr\xf6\xdfe|1\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		path := filepath.Join(t.TempDir(), "list.csv")
		require.NoError(t, os.WriteFile(path, data, 0o600))
		last := 0
		_ = store.ReadSheet(path, func(r stock.Row) error {
			require.Greater(t, r.Number, last)
			require.Equal(t, r.Problem == "", len(r.Cells) > 0)
			require.LessOrEqual(t, len(r.Cells), 200)
			last = r.Number
			return nil
		})
	})
}

// FuzzWorkbook reads any two parts as a workbook's sheet and texts.
func FuzzWorkbook(f *testing.F) {
	f.Add(`<sheetData><row r="2"><c r="B2" t="s"><v>0</v></c></row></sheetData>`, `<sst><si><t>x</t></si></sst>`)
	f.Add(`<sheetData><row r="9999999999"><c r="ZZZZZZZZZZ1"><v>1</v></c></row></sheetData>`, ``)
	f.Fuzz(func(t *testing.T, sheet, texts string) {
		path := filepath.Join(t.TempDir(), "list.xlsx")
		require.NoError(t, os.WriteFile(path,
			archive(t, map[string]string{"xl/worksheets/s.xml": sheet, "xl/sharedStrings.xml": texts}), 0o600))
		last := 0
		_ = store.ReadSheet(path, func(r stock.Row) error {
			require.Greater(t, r.Number, last)
			require.LessOrEqual(t, len(r.Cells), 200)
			last = r.Number
			return nil
		})
	})
}

// FuzzSettings reads any text as settings; what is accepted is within its words.
func FuzzSettings(f *testing.F) {
	f.Add([]byte("heading: [Harbour Workshop]\ncurrency: EUR\npaper: A4\nprice_lists: [a.csv]\n"))
	f.Add([]byte("paper: &a [*a]\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		path := filepath.Join(t.TempDir(), "settings.yaml")
		require.NoError(t, os.WriteFile(path, data, 0o600))
		if s, err := store.ReadSettings(path); err == nil {
			require.Contains(t, []string{"", "A4", "a4", "letter", "LETTER", "Letter"}, s.Paper[:min(len(s.Paper), 6)], "%q",
				s.Paper)
		}
	})
}
