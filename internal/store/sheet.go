package store

import (
	"bytes"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"unicode/utf8"

	"github.com/xuri/excelize/v2"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
)

// Bounds of a price list: more is none.
const (
	maxSheet   = 64 << 20  // bytes of the file
	maxUnpack  = 512 << 20 // bytes of a spreadsheet's unpacked parts
	maxRows    = 500_000
	maxColumns = 200
)

// ErrSheet is what every error of ReadSheet wraps.
var ErrSheet = errors.New("price list can't be read")

// ReadSheet reads the rows of a CSV or XLSX file; of a workbook the first
// sheet that holds anything. A file's encoding and separator are found out.
func ReadSheet(path string) ([][]string, error) {
	info, err := os.Stat(path)
	if err != nil {
		return nil, fmt.Errorf("%w: %s: %w", ErrSheet, path, unpath(err))
	}
	if info.IsDir() {
		return nil, fmt.Errorf("%w: %s is a folder; name the file", ErrSheet, path)
	}
	if info.Size() > maxSheet {
		return nil, fmt.Errorf("%w: %s has %d MiB; lists of up to %d are read: split it", ErrSheet, path, info.Size()>>20, maxSheet>>20)
	}
	data, err := os.ReadFile(path)
	if err != nil {
		return nil, fmt.Errorf("%w: %s: %w", ErrSheet, path, unpath(err))
	}
	var rows [][]string
	if bytes.HasPrefix(data, []byte("PK\x03\x04")) {
		rows, err = workbook(data)
	} else if strings.EqualFold(filepath.Ext(path), ".xlsx") || bytes.HasPrefix(data, []byte("\xd0\xcf\x11\xe0")) {
		err = errors.New("it is no XLSX workbook; save it as XLSX or CSV")
	} else {
		rows, err = separated(data)
	}
	if err != nil {
		return nil, fmt.Errorf("%w: %s: %w", ErrSheet, path, err)
	}
	return rows, nil
}

func workbook(data []byte) ([][]string, error) {
	f, err := excelize.OpenReader(bytes.NewReader(data), excelize.Options{UnzipSizeLimit: maxUnpack, UnzipXMLSizeLimit: 64 << 20, RawCellValue: true})
	if err != nil {
		return nil, fmt.Errorf("the workbook is damaged, locked, or larger than it may be: %w", err)
	}
	defer f.Close()
	for _, name := range f.GetSheetList() {
		rows, err := sheetRows(f, name)
		if err != nil {
			return nil, err
		}
		if len(rows) > 0 {
			return rows, nil
		}
	}
	return nil, errors.New("no sheet holds anything")
}

func sheetRows(f *excelize.File, name string) (out [][]string, err error) {
	rows, err := f.Rows(name)
	if err != nil {
		return nil, fmt.Errorf("sheet %q: %w", name, err)
	}
	defer rows.Close()
	for rows.Next() {
		cells, err := rows.Columns()
		if err != nil {
			return nil, fmt.Errorf("sheet %q, row %d: %w", name, len(out)+1, err)
		}
		if len(out) == maxRows || len(cells) > maxColumns {
			return nil, fmt.Errorf("sheet %q: more than %d rows or %d columns", name, maxRows, maxColumns)
		}
		out = append(out, cells)
	}
	return out, rows.Error()
}

// separated reads lines of separated values.
func separated(data []byte) ([][]string, error) {
	text, err := decoded(data)
	if err != nil {
		return nil, err
	}
	r := csv.NewReader(bytes.NewReader(text))
	r.Comma, r.FieldsPerRecord, r.LazyQuotes = separator(text), -1, true
	var rows [][]string
	for {
		row, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, err
		}
		if len(rows) == maxRows || len(row) > maxColumns {
			return nil, fmt.Errorf("more than %d rows or %d columns", maxRows, maxColumns)
		}
		line, _ := r.FieldPos(0)
		for len(rows) < line-1 && len(rows) < maxRows {
			rows = append(rows, nil) // blank lines count, so that rows keep their numbers
		}
		rows = append(rows, row)
	}
	if len(rows) == 0 {
		return nil, errors.New("the file is empty")
	}
	return rows, nil
}

// decoded brings text to UTF-8: from UTF-16 where its mark stands first, from
// Windows-1252 where it is not UTF-8.
func decoded(data []byte) ([]byte, error) {
	switch {
	case bytes.HasPrefix(data, []byte("\xff\xfe")), bytes.HasPrefix(data, []byte("\xfe\xff")):
		return unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewDecoder().Bytes(data)
	case bytes.IndexByte(data, 0) >= 0:
		return nil, errors.New("it is neither text nor an XLSX workbook; save it as CSV or XLSX")
	case utf8.Valid(data):
		return bytes.TrimPrefix(data, []byte("\xef\xbb\xbf")), nil
	}
	return charmap.Windows1252.NewDecoder().Bytes(data)
}

// separator is the sign that stands most evenly in the first lines.
func separator(text []byte) rune {
	best, most := ',', 0
	for _, sep := range []rune{';', '\t', ',', '|'} {
		counts := make(map[int]int)
		n := 0
		for line := range bytes.Lines(text) {
			if n++; n > 40 {
				break
			}
			if c := strings.Count(string(line), string(sep)); c > 0 {
				counts[c] += c
			}
		}
		for _, score := range counts {
			if score > most {
				best, most = sep, score
			}
		}
	}
	return best
}

// WriteCSV writes rows as CSV. A cell that a spreadsheet would take for a
// formula is written as text.
func WriteCSV(path string, rows [][]string, replace bool) error {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	for _, row := range rows {
		safe := make([]string, len(row))
		for i, cell := range row {
			safe[i] = Inert(cell)
		}
		if err := w.Write(safe); err != nil {
			return err
		}
	}
	w.Flush()
	return Write(path, b.Bytes(), replace)
}

// Inert keeps a spreadsheet from taking a cell for a formula.
func Inert(cell string) string {
	if cell != "" && strings.ContainsRune("=+-@\t\r", rune(cell[0])) {
		return "'" + cell
	}
	return cell
}

// Sum is the SHA-256 of a file, in hexadecimal.
func Sum(path string) (string, error) {
	f, err := os.Open(path)
	if err != nil {
		return "", fmt.Errorf("%s can't be read: %w", path, unpath(err))
	}
	defer f.Close()
	h := sha256.New()
	if _, err := io.Copy(h, io.LimitReader(f, maxSheet+1)); err != nil {
		return "", fmt.Errorf("%s can't be read: %w", path, unpath(err))
	}
	return hex.EncodeToString(h.Sum(nil)), nil
}
