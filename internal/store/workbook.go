package store

import (
	"archive/zip"
	"bufio"
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"path"
	"strconv"
	"strings"

	"epitome/core/stock"
)

// Bounds of a workbook (ECMA-376, SpreadsheetML): an archive can be a thousand
// times smaller than what it unpacks to.
const (
	maxParts    = 5_000     // files in the archive
	maxUnpacked = 256 << 20 // bytes of a sheet
	maxStrings  = 24 << 20  // bytes of the shared strings
	maxToken    = 1 << 20   // bytes of one name, text or tag: it is held whole
	maxMeta     = 4 << 20   // bytes of the parts that say which sheets there are
)

var errUnpacked = errors.New("it unpacks to more than a price list can hold")

// workbook streams the rows of an XLSX workbook's sheets, one after the other; hidden ones only where no other holds
// anything. Formulas are not computed: a cell has the value that was saved.
//
// The reader is our own because the libraries either cost every start of the
// program or can be brought down by a hostile file: it needs a tenth of the
// format, and each part has a bound.
func workbook(f io.ReaderAt, size int64, use func(stock.Row) error) error {
	if n, err := directory(f, size); err != nil {
		return unpath(err)
	} else if n > maxParts {
		return fmt.Errorf("the archive holds %d files; no workbook does", n)
	}
	archive, err := zip.NewReader(f, size)
	if err != nil {
		return fmt.Errorf("the workbook is damaged or locked: %w", err)
	}
	w := book{parts: make(map[string]*zip.File)}
	for _, part := range archive.File {
		w.parts[strings.ToLower(strings.TrimPrefix(part.Name, "/"))] = part
	}
	sheets, err := w.sheets()
	if err != nil {
		return err
	}
	if err := w.readShared(); err != nil {
		return err
	}
	rows := 0
	for _, hidden := range []bool{false, true} {
		for _, sheet := range sheets {
			if sheet.hidden != hidden {
				continue
			}
			err := w.rows(sheet.part, func(r stock.Row) error {
				rows++
				r.Sheet = sheet.name
				return use(r)
			})
			if err != nil {
				return err
			}
		}
		if rows > 0 {
			return nil
		}
	}
	return errors.New("no sheet holds anything")
}

// A sheet is one of a workbook.
type sheet struct {
	part, name string
	hidden     bool
}

// directory counts what may be entries of an archive's directory, before a
// reader makes room for them.
func directory(f io.ReaderAt, size int64) (n int, err error) {
	in := bufio.NewReaderSize(io.NewSectionReader(f, 0, size), 256<<10)
	for {
		piece, err := in.Peek(128 << 10)
		n += bytes.Count(piece, []byte("PK\x01\x02"))
		if err != nil {
			if errors.Is(err, io.EOF) {
				err = nil
			}
			return n, err
		}
		_, _ = in.Discard(len(piece) - 3)
	}
}

type book struct {
	parts  map[string]*zip.File // by lower-case path
	shared []string
}

// errDone ends the walk over a part before its end.
var errDone = errors.New("done")

// walk reads a part's XML and hands each start and end of an element, and the
// text between, to see.
func (w book) walk(name string, limit int64, see func(xml.Token) error) error {
	part := w.parts[strings.ToLower(name)]
	if part == nil {
		return fmt.Errorf("the workbook is damaged: it has no %s", name)
	}
	r, err := part.Open()
	if err != nil {
		return fmt.Errorf("the workbook is damaged: %s: %w", name, err)
	}
	defer r.Close()
	bounded := &io.LimitedReader{R: r, N: limit}
	short := &tokens{from: bufio.NewReaderSize(bounded, 64<<10), most: maxToken}
	d := xml.NewDecoder(short)
	d.Strict = false
	for {
		token, err := d.RawToken()
		short.most = d.InputOffset() + maxToken
		switch {
		case errors.Is(err, errToken):
			return fmt.Errorf("%w: more than %s in one piece (%s)", errUnpacked, bytesText(maxToken), name)
		case bounded.N <= 0:
			return fmt.Errorf("%w (%s)", errUnpacked, name)
		case errors.Is(err, io.EOF):
			return nil
		case err != nil:
			return fmt.Errorf("the workbook is damaged: %s: %w", name, err)
		}
		if err := see(token); err != nil {
			if errors.Is(err, errDone) {
				return nil
			}
			return err
		}
	}
}

// errToken: a piece of XML is longer than anything in a list.
var errToken = errors.New("one piece is too long")

// tokens reads XML byte by byte, as its decoder wants it, up to where the piece at hand must end: the decoder holds a
// piece whole, and an archive of some kilobytes can hold one of gigabytes.
type tokens struct {
	from *bufio.Reader
	at   int64
	most int64
}

// ReadByte implements io.ByteReader.
func (t *tokens) ReadByte() (byte, error) {
	if t.at >= t.most {
		return 0, errToken
	}
	b, err := t.from.ReadByte()
	if err == nil {
		t.at++
	}
	return b, err
}

// Read implements io.Reader; the decoder reads bytes alone.
func (t *tokens) Read(p []byte) (int, error) {
	if len(p) == 0 {
		return 0, nil
	}
	b, err := t.ReadByte()
	if err != nil {
		return 0, err
	}
	p[0] = b
	return 1, nil
}

func attribute(e xml.StartElement, name string) string {
	for _, a := range e.Attr {
		if a.Name.Local == name {
			return a.Value
		}
	}
	return ""
}

// sheets lists the sheets in the workbook's order.
func (w book) sheets() (all []sheet, err error) {
	targets := make(map[string]string)
	err = w.walk("xl/_rels/workbook.xml.rels", maxMeta, func(t xml.Token) error {
		if e, ok := t.(xml.StartElement); ok && e.Name.Local == "Relationship" {
			to := attribute(e, "Target")
			if !strings.HasPrefix(to, "/") {
				to = path.Join("xl", to)
			}
			targets[attribute(e, "Id")] = strings.TrimPrefix(to, "/")
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	err = w.walk("xl/workbook.xml", maxMeta, func(t xml.Token) error {
		if e, ok := t.(xml.StartElement); ok && e.Name.Local == "sheet" {
			if to := targets[attribute(e, "id")]; to != "" {
				all = append(all, sheet{part: to, name: attribute(e, "name"), hidden: strings.Contains(
					strings.ToLower(attribute(e, "state")), "hidden")})
			}
		}
		return nil
	})
	return all, err
}

// readShared reads the texts that cells point to. A workbook may have none.
func (w *book) readShared() error {
	const name = "xl/sharedStrings.xml"
	if w.parts[strings.ToLower(name)] == nil {
		return nil
	}
	var text strings.Builder
	take := false
	return w.walk(name, maxStrings, func(t xml.Token) error {
		switch e := t.(type) {
		case xml.StartElement:
			take = e.Name.Local == "t"
			if e.Name.Local == "rPh" { // how a word is pronounced: no part of it
				take = false
			}
		case xml.CharData:
			if take {
				text.Write(e)
			}
		case xml.EndElement:
			take = false
			if e.Name.Local == "si" {
				if len(w.shared) == maxRows*4 {
					return errUnpacked
				}
				w.shared = append(w.shared, text.String())
				text.Reset()
			}
		}
		return nil
	})
}

// rows streams a sheet's rows.
func (w book) rows(name string, use func(stock.Row) error) error {
	var row stock.Row
	var kind string
	var text strings.Builder
	column, take := 0, false
	return w.walk(name, maxUnpacked, func(t xml.Token) error {
		switch e := t.(type) {
		case xml.StartElement:
			switch e.Name.Local {
			case "row":
				next := row.Number + 1
				if n, err := strconv.Atoi(attribute(e, "r")); err == nil && n >= next {
					next = n
				}
				row, column = stock.Row{Number: next}, 0
			case "c":
				column++
				if at, ok := columnOf(attribute(e, "r")); ok {
					column = at
				}
				kind = attribute(e, "t")
				text.Reset()
			case "v", "t":
				take = true
			}
		case xml.CharData:
			if take {
				text.Write(e)
			}
		case xml.EndElement:
			switch e.Name.Local {
			case "v", "t":
				take = false
			case "c":
				if row.Number == 0 || column == 0 {
					return nil // a cell that stands in no row, or that never began
				}
				return w.put(&row, column, kind, text.String())
			case "row":
				if len(row.Cells) > 0 {
					return use(row)
				}
			case "sheetData":
				return errDone
			}
		}
		return nil
	})
}

// put sets a row's cell.
func (w book) put(row *stock.Row, column int, kind, text string) error {
	if kind == "s" {
		n, err := strconv.Atoi(strings.TrimSpace(text))
		if err != nil || n < 0 || n >= len(w.shared) {
			return fmt.Errorf("the workbook is damaged: row %d points to a text that is not there", row.Number)
		}
		text = w.shared[n]
	}
	if text == "" {
		return nil
	}
	if column > maxColumns {
		return fmt.Errorf("row %d has more than %d columns", row.Number, maxColumns)
	}
	for len(row.Cells) < column {
		row.Cells = append(row.Cells, "")
	}
	row.Cells[column-1] = text
	return nil
}

// columnOf reads the letters of a cell's reference, "AB12": 28.
func columnOf(reference string) (n int, ok bool) {
	for _, r := range reference {
		if r < 'A' || r > 'Z' {
			break
		}
		if n = n*26 + int(r-'A') + 1; n > 1<<20 {
			return 0, false
		}
	}
	return n, n > 0
}
