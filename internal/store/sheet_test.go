package store_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"runtime"
	"runtime/debug"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"

	"epitome/core/stock"
	"epitome/internal/store"
	"epitome/truth/effort"
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
		rows, err := sheet(file(t, "list.csv", data))
		require.NoError(t, err, name)
		assert.Equal(t, [][]string{{"sku", "Größe", "price"}, {"1", "8GB", "12,50"}}, rows, name)
	}
	rows, err := sheet(file(t, "list.csv", []byte("a;b\n\n\n1;2\n")))
	require.NoError(t, err)
	assert.Len(t, rows, 4, "rows keep their numbers")
}

// sheet reads a whole file; cells stand at their row's number.
func sheet(path string) (rows [][]string, err error) {
	err = store.ReadSheet(path, func(r stock.Row) error {
		for len(rows) < r.Number {
			rows = append(rows, nil)
		}
		rows[r.Number-1] = r.Cells
		return nil
	})
	return rows, err
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
	rows, err := sheet(file(t, "list.xlsx", b.Bytes()))
	require.NoError(t, err)
	assert.Equal(t, []string{"1", "8GB 1Rx8 PC4-2400T-SA1-11", "21.4"}, rows[1])
	for _, row := range rows[2:] {
		assert.NotContains(t, row, "20", "nothing is computed")
	}
}

// A workbook's cover says nothing, its sheets are one list, and what is hidden is not for the reader.
func TestEverySheetThatIsShownIsRead(t *testing.T) {
	f := excelize.NewFile()
	add := func(name string, rows ...[]any) {
		_, err := f.NewSheet(name)
		require.NoError(t, err)
		for i, row := range rows {
			require.NoError(t, f.SetSheetRow(name, fmt.Sprintf("A%d", i+1), &row))
		}
	}
	add("Cover", []any{"Quay Parts", "spring"})
	add("DDR4", []any{"no", "text", "price EUR"}, []any{"Q-1", "8GB DDR4-2400 SO-DIMM", 21.4})
	add("DDR5", []any{"text", "price EUR", "no"}, []any{"16GB DDR5-5600 SO-DIMM", 48, "Q-2"},
		[]any{"32GB DDR5-5600 SO-DIMM", 89.9, "Q-3"})
	add("Purchase", []any{"no", "text", "price EUR"}, []any{"Q-1", "8GB DDR4-2400 SO-DIMM", 11})
	require.NoError(t, f.SetSheetVisible("Purchase", false))
	var b bytes.Buffer
	require.NoError(t, f.Write(&b))
	var rows []stock.Row
	require.NoError(t, store.ReadSheet(file(t, "list.xlsx", b.Bytes()), func(r stock.Row) error {
		rows = append(rows, r)
		return nil
	}))
	l, err := stock.Read(slices.Values(rows), stock.Options{})
	require.NoError(t, err)
	var got []string
	for _, x := range l.Usable() {
		got = append(got, fmt.Sprint(x.Place(), " ", x.SKU, " ", x.Price, x.Currency))
	}
	assert.Equal(t, []string{`row 2 of sheet "DDR4" Q-1 21.40EUR`, `row 2 of sheet "DDR5" Q-2 48.00EUR`,
		`row 3 of sheet "DDR5" Q-3 89.90EUR`}, got)
}

func TestWhatIsNoListIsRefused(t *testing.T) {
	for name, data := range map[string][]byte{"list.xlsx": []byte("no workbook"),
		"damaged.xlsx": []byte("PK\x03\x04 and no more"), "list.csv": []byte("a\x00b"), "empty.csv": nil,
		"old.xls": []byte("\xd0\xcf\x11\xe0\xa1")} {
		_, err := sheet(file(t, name, data))
		assert.ErrorIs(t, err, store.ErrSheet, name)
	}
	huge := file(t, "huge.csv", nil)
	require.NoError(t, os.Truncate(huge, 200<<20))
	_, err := sheet(huge)
	require.ErrorIs(t, err, store.ErrSheet)
	assert.Contains(t, err.Error(), "200 MiB; lists of up to 64 are read")
}

func TestNoCellBecomesAFormula(t *testing.T) {
	var b bytes.Buffer
	require.NoError(t, store.WriteCSV(&b, [][]string{{"=1+1", "@x", "8GB", "-5"}}))
	assert.Equal(t, "'=1+1,'@x,8GB,'-5\n", b.String())
}

// problems reads a list and returns its broken rows, by number.
func problems(t *testing.T, data string) (rows, broken []int) {
	t.Helper()
	require.NoError(t, store.ReadSheet(file(t, "list.csv", []byte(data)), func(r stock.Row) error {
		if r.Problem != "" {
			broken = append(broken, r.Number)
		} else {
			rows = append(rows, r.Number)
		}
		return nil
	}))
	return rows, broken
}

func TestABrokenQuoteSpoilsItsOwnLineOnly(t *testing.T) {
	var b strings.Builder
	b.WriteString("sku;text;price\n")
	for n := range 1000 {
		if n == 500 {
			b.WriteString("X;\"8GB DDR4;20\n")
			continue
		}
		fmt.Fprintf(&b, "S%d;\"8GB \"\"DDR4\"\"\";20\n", n)
	}
	rows, broken := problems(t, b.String())
	assert.Len(t, rows, 1000)
	assert.Equal(t, []int{502}, broken)

	rows, broken = problems(t, "a;b;c\n1;\"two\nlines\";3\n4;5;6\n")
	assert.Equal(t, []int{1, 2, 4}, rows, "a cell may break over lines, and rows keep their numbers")
	assert.Empty(t, broken)
	_, broken = problems(t, "a;b;c\n1;\"open;3\n4;\"closed\";6\n")
	assert.Equal(t, []int{2}, broken, "the next line's quotes close nothing of this one")
}

func TestSeparatorsInsideQuotesAndOldLineEnds(t *testing.T) {
	rows, err := sheet(file(t, "list.csv",
		[]byte("sku,text,price\n1,\"8GB; DDR4; 260 pin; new\",20\n2,\"4GB; DDR3; 204 pin; new\",10\n")))
	require.NoError(t, err)
	assert.Equal(t, []string{"1", "8GB; DDR4; 260 pin; new", "20"}, rows[1])
	rows, err = sheet(file(t, "list.csv", []byte("sku;text;price\r1;8GB;20\r2;4GB;10\r")))
	require.NoError(t, err)
	assert.Equal(t, []string{"2", "4GB", "10"}, rows[2])
	rows, err = sheet(file(t, "list.csv", []byte(`sku;text;price`+"\n"+`1;3.5" bay;20`+"\n"+`2;4GB;10`+"\n")))
	require.NoError(t, err)
	assert.Equal(t, []string{"1", `3.5" bay`, "20"}, rows[1], "a quote inside a cell is a letter")
}

func TestSheetsHaveBounds(t *testing.T) {
	for says, data := range map[string]string{
		"a cell of 40 KiB":  "a;b\n1;" + strings.Repeat("x", 40<<10) + "\n",
		"longer than 1 MiB": "a;b\n" + strings.Repeat("x", 2<<20) + "\n",
		"200 columns":       strings.Repeat("a;", 300) + "\n",
		"100000 rows":       strings.Repeat("a;b\n", 100_001),
	} {
		_, err := sheet(file(t, "list.csv", []byte(data)))
		require.ErrorIs(t, err, store.ErrSheet, says)
		assert.ErrorContains(t, err, says)
	}
}

// archive packs the parts of a workbook.
func archive(t *testing.T, parts map[string]string) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range map[string]string{
		"xl/workbook.xml":            `<workbook><sheets><sheet name="a" r:id="r1"/></sheets></workbook>`,
		"xl/_rels/workbook.xml.rels": `<Relationships><Relationship Id="r1" Target="worksheets/s.xml"/></Relationships>`,
	} {
		if _, own := parts[name]; !own {
			parts[name] = text
		}
	}
	for name, text := range parts {
		w, err := z.Create(name)
		require.NoError(t, err)
		_, err = w.Write([]byte(text))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return b.Bytes()
}

func TestHostileWorkbooksAreRefusedAndOddOnesRead(t *testing.T) {
	effort.NotShort(t)
	cell := `<c r="A1"><v>1</v></c>`
	for says, parts := range map[string]map[string]string{
		"200 columns": {"xl/worksheets/s.xml": `<sheetData><row r="1">` +
			strings.Repeat(`<c><v>1</v></c>`, 300) + `</row>`},
		"points to a text that is": {"xl/worksheets/s.xml": `<sheetData><row><c t="s"><v>-7</v></c></row>`},
		"has no xl/worksheets":     {},
		"damaged":                  {"xl/worksheets/s.xml": `<sheetData><row><c <`},
		"no sheet holds anything":  {"xl/worksheets/s.xml": `<sheetData></sheetData>`},
		"unpacks to more": {"xl/worksheets/s.xml": `<sheetData><row>` + cell + `</row></sheetData>`,
			"xl/sharedStrings.xml": `<sst count="9999999999"><si><t>` + strings.Repeat("x", 50<<20) + `</t></si>`},
	} {
		_, err := sheet(file(t, "list.xlsx", archive(t, parts)))
		require.ErrorIs(t, err, store.ErrSheet, says)
		assert.ErrorContains(t, err, says)
	}
	// Whatever an archive unpacks to, it is refused in little memory.
	for what, parts := range map[string]map[string]string{
		"one text": {"xl/worksheets/s.xml": `<sheetData><row><c><v>` + strings.Repeat("x", 80<<20)},
		"one tag":  {"xl/worksheets/s.xml": `<sheetData><row><c r="` + strings.Repeat("x", 80<<20)},
		"one shared text": {"xl/sharedStrings.xml": `<sst><si><t>` + strings.Repeat("x", 80<<20),
			"xl/worksheets/s.xml": cell},
		"many texts": {"xl/sharedStrings.xml": `<sst>` + strings.Repeat(`<si><t>0123456789</t></si>`, 2<<20),
			"xl/worksheets/s.xml": cell},
		"one comment": {"xl/worksheets/s.xml": `<!--` + strings.Repeat("x", 80<<20)},
	} {
		if what != "one text" && !effort.Full() {
			continue // the others are found in the same way
		}
		path := file(t, "list.xlsx", archive(t, parts))
		runtime.GC()
		debug.FreeOSMemory()
		var before, after runtime.MemStats
		runtime.ReadMemStats(&before)
		_, err := sheet(path)
		runtime.ReadMemStats(&after)
		require.ErrorIs(t, err, store.ErrSheet, what)
		assert.Less(t, after.TotalAlloc-before.TotalAlloc, uint64(128<<20), what)
	}
	rows, err := sheet(file(t, "list.xlsx", archive(t, map[string]string{
		"xl/sharedStrings.xml": `<sst><si><r><t>rich </t></r><r><t>text</t></r></si></sst>`,
		"xl/worksheets/s.xml": `<sheetData><row r="2"><c r="B2" t="s"><v>0</v></c><c r="C2" t="inlineStr"><is><t>in ` +
			`line</t></is></c></row></sheetData>`,
	})))
	require.NoError(t, err)
	assert.Equal(t, [][]string{nil, {"", "rich text", "in line"}}, rows)
}
