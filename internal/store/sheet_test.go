package store_test

import (
	"bytes"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"epitome/internal/store"
)

func file(t *testing.T, name string, data []byte) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), name)
	require.NoError(t, os.WriteFile(path, data, 0o600))
	return path
}

func TestListsInEveryEncodingAndWithEverySeparator(t *testing.T) {
	for name, data := range map[string][]byte{
		"semicolons":   []byte("sku;Größe;price\n1;8GB;12,50\n"),
		"commas":       []byte("sku,Größe,price\n1,8GB,\"12,50\"\n"),
		"tabs":         []byte("sku\tGröße\tprice\n1\t8GB\t12,50\n"),
		"mark":         []byte("\xef\xbb\xbfsku;Größe;price\n1;8GB;12,50\n"),
		"Windows-1252": []byte("sku;Gr\xf6\xdfe;price\n1;8GB;12,50\n"),
		"UTF-16":       append([]byte("\xff\xfe"), utf16("sku;Größe;price\n1;8GB;12,50\n")...),
	} {
		rows, err := store.ReadSheet(file(t, "list.csv", data))
		require.NoError(t, err, name)
		assert.Equal(t, [][]string{{"sku", "Größe", "price"}, {"1", "8GB", "12,50"}}, rows, name)
	}
	rows, err := store.ReadSheet(file(t, "list.csv", []byte("a;b\n\n\n1;2\n")))
	require.NoError(t, err)
	assert.Len(t, rows, 4, "rows keep their numbers")
}

func utf16(s string) (out []byte) {
	for _, r := range s {
		out = append(out, byte(r), byte(r>>8))
	}
	return out
}

func TestAWorkbookIsReadAndItsFormulasAreNot(t *testing.T) {
	f := excelize.NewFile()
	require.NoError(t, f.SetSheetRow("Sheet1", "A1", &[]any{"sku", "description", "price"}))
	require.NoError(t, f.SetSheetRow("Sheet1", "A2", &[]any{"1", "8GB 1Rx8 PC4-2400T-SA1-11", 21.4}))
	require.NoError(t, f.SetCellFormula("Sheet1", "C3", "10*2"))
	var b bytes.Buffer
	require.NoError(t, f.Write(&b))
	rows, err := store.ReadSheet(file(t, "list.xlsx", b.Bytes()))
	require.NoError(t, err)
	assert.Equal(t, []string{"1", "8GB 1Rx8 PC4-2400T-SA1-11", "21.4"}, rows[1])
	for _, row := range rows[2:] {
		assert.NotContains(t, row, "20", "nothing is computed")
	}
}

func TestWhatIsNoListIsRefused(t *testing.T) {
	for name, data := range map[string][]byte{"list.xlsx": []byte("no workbook"), "damaged.xlsx": []byte("PK\x03\x04 and no more"), "list.csv": []byte("a\x00b"), "empty.csv": nil, "old.xls": []byte("\xd0\xcf\x11\xe0\xa1")} {
		_, err := store.ReadSheet(file(t, name, data))
		assert.ErrorIs(t, err, store.ErrSheet, name)
	}
	huge := file(t, "huge.csv", nil)
	require.NoError(t, os.Truncate(huge, 200<<20))
	_, err := store.ReadSheet(huge)
	require.ErrorIs(t, err, store.ErrSheet)
	assert.Contains(t, err.Error(), "200 MiB; lists of up to 64 are read")
}

func TestNoCellBecomesAFormula(t *testing.T) {
	path := filepath.Join(t.TempDir(), "out.csv")
	require.NoError(t, store.WriteCSV(path, [][]string{{"=1+1", "@x", "8GB", "-5"}}, false))
	data, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, "'=1+1,'@x,8GB,'-5\n", string(data))
}
