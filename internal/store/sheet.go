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

	"epitome/core/stock"
)

// Bounds of a price list: more is none. They keep the reading of any file
// within seconds and within memory; the message says which one was passed.
const (
	maxSheet   = 64 << 20 // bytes of a CSV file
	maxRows    = 100_000
	maxColumns = 200
	maxCell    = 32 << 10 // bytes
)

// ErrSheet is what every error of ReadSheet wraps.
var ErrSheet = errors.New("price list can't be read")

// ReadSheet reads the rows of a CSV or XLSX file one after the other; of a
// workbook those of all sheets that are shown. A file's encoding, line ends
// and separator are found out. Reading ends where use returns an error, which
// is returned as it is.
func ReadSheet(path string, use func(stock.Row) error) error {
	f, err := open(path)
	if err != nil {
		return fmt.Errorf("%w: %w", ErrSheet, err)
	}
	defer f.Close()
	info, err := f.Stat()
	if err != nil {
		return fmt.Errorf("%w: %s: %w", ErrSheet, path, unpath(err))
	}
	if info.Size() > maxSheet {
		return fmt.Errorf("%w: %s has %d MiB; lists of up to %d are read: split it", ErrSheet, path, info.Size()>>20,
			maxSheet>>20)
	}
	var stopped error
	rows := 0
	err = sheetRows(f, info.Size(), path, func(r stock.Row) error {
		if rows++; rows > maxRows || len(r.Cells) > maxColumns {
			return fmt.Errorf("more than %d rows or %d columns; split it", maxRows, maxColumns)
		}
		for i, cell := range r.Cells {
			if len(cell) > maxCell {
				return fmt.Errorf("row %d, column %d: a cell of %d KiB; cells of up to %d are read", r.Number, i+1, len(cell)>>10,
					maxCell>>10)
			}
		}
		stopped = use(r)
		return stopped
	})
	switch {
	case stopped != nil:
		return stopped
	case err != nil:
		return fmt.Errorf("%w: %s: %w", ErrSheet, path, err)
	case rows == 0:
		return fmt.Errorf("%w: %s: it is empty", ErrSheet, path)
	}
	return nil
}

func sheetRows(f *os.File, size int64, path string, use func(stock.Row) error) error {
	var mark [4]byte
	if n, err := f.ReadAt(mark[:], 0); err != nil && !errors.Is(err, io.EOF) {
		return unpath(err)
	} else if n == 0 {
		return nil
	}
	switch {
	case bytes.Equal(mark[:], []byte("PK\x03\x04")):
		return workbook(f, size, use)
	case strings.EqualFold(filepath.Ext(path), ".xlsx"), bytes.Equal(mark[:], []byte("\xd0\xcf\x11\xe0")):
		return errors.New("it is no XLSX workbook; save it as XLSX or CSV")
	}
	return separated(f, use)
}

// WriteCSV writes rows as CSV. A cell that a spreadsheet would take for a
// formula is written as text.
func WriteCSV(w io.Writer, rows [][]string) error {
	out := csv.NewWriter(w)
	for _, row := range rows {
		safe := make([]string, len(row))
		for i, cell := range row {
			safe[i] = Inert(cell)
		}
		if err := out.Write(safe); err != nil {
			return err
		}
	}
	out.Flush()
	return out.Error()
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
	f, err := open(path)
	if err != nil {
		return "", err
	}
	defer f.Close()
	h := sha256.New()
	if _, err := io.Copy(h, io.LimitReader(f, maxSheet+1)); err != nil {
		return "", fmt.Errorf("%s can't be read: %w", path, unpath(err))
	}
	return hex.EncodeToString(h.Sum(nil)), nil
}
