package store

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	"epitome/core/stock"
)

// Bounds of a text's lines: of one, and of a cell that breaks over several.
const (
	longestLine  = 1 << 20 // bytes
	longestBreak = 40      // lines
)

// separated reads lines of separated values. A quote that is opened and never
// closed spoils its own line and no other: encoding/csv would swallow all that
// follows, and nobody would know.
func separated(f io.ReadSeeker, use func(stock.Row) error) error {
	decode, crOnly, err := survey(f)
	if err != nil {
		return err
	}
	if _, err := f.Seek(0, io.SeekStart); err != nil {
		return unpath(err)
	}
	in := bufio.NewReaderSize(decode(f), 64<<10)
	head, err := in.Peek(48 << 10)
	if err != nil && !errors.Is(err, io.EOF) && !errors.Is(err, bufio.ErrBufferFull) {
		return err
	}
	if crOnly {
		head = bytes.ReplaceAll(head, []byte{'\r'}, []byte{'\n'})
	}
	sep, usual := separator(string(head))
	l := &lines{in: in, crOnly: crOnly}
	for {
		line, err := l.next()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return err
		}
		row := stock.Row{Number: l.number}
		switch {
		case strings.TrimSpace(line) == "":
			continue
		case openQuote(line, sep):
			row = l.mended(row, line, sep, usual)
		default:
			row.Cells = fields(line, sep)
		}
		if err := use(row); err != nil {
			return err
		}
	}
}

// survey reads a text once, to find out its encoding and its line ends.
func survey(f io.Reader) (decode func(io.Reader) io.Reader, crOnly bool, err error) {
	in := bufio.NewReaderSize(f, 64<<10)
	mark, _ := in.Peek(3)
	wide := bytes.HasPrefix(mark, []byte("\xff\xfe")) || bytes.HasPrefix(mark, []byte("\xfe\xff"))
	valid, lf, cr := true, false, false
	var tail []byte // the begin of a character that the next piece continues
	buf := make([]byte, 64<<10)
	for {
		n, err := in.Read(buf)
		piece := append(tail, buf[:n]...)
		tail = nil
		if !wide && bytes.IndexByte(piece, 0) >= 0 {
			return nil, false, errors.New("it is neither text nor an XLSX workbook; save it as CSV or XLSX")
		}
		lf, cr = lf || bytes.IndexByte(piece, '\n') >= 0, cr || bytes.IndexByte(piece, '\r') >= 0
		for len(piece) > 0 && valid {
			r, size := utf8.DecodeRune(piece)
			if r == utf8.RuneError && size == 1 {
				if err == nil && !utf8.FullRune(piece) {
					tail = bytes.Clone(piece)
					break
				}
				valid = false
			}
			piece = piece[size:]
		}
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, false, unpath(err)
		}
	}
	crOnly = cr && !lf
	switch {
	case wide:
		return func(r io.Reader) io.Reader {
			return unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewDecoder().Reader(r)
		}, crOnly, nil
	case valid:
		return func(r io.Reader) io.Reader { return unicode.UTF8BOM.NewDecoder().Reader(r) }, crOnly, nil
	}
	return func(r io.Reader) io.Reader { return charmap.Windows1252.NewDecoder().Reader(r) }, crOnly, nil
}

// lines hands out a text's lines, without their ends.
type lines struct {
	in     *bufio.Reader
	crOnly bool
	number int      // of the line handed out last, from 1
	ahead  []string // looked at already
}

func (l *lines) next() (string, error) {
	line, err := l.peek(0)
	if err != nil {
		return "", err
	}
	l.ahead = l.ahead[1:]
	l.number++
	return line, nil
}

// peek returns the line n places on without handing it out.
func (l *lines) peek(n int) (string, error) {
	for len(l.ahead) <= n {
		line, err := l.read()
		if err != nil {
			return "", err
		}
		l.ahead = append(l.ahead, line)
	}
	return l.ahead[n], nil
}

func (l *lines) read() (string, error) {
	end := byte('\n')
	if l.crOnly {
		end = '\r'
	}
	var whole []byte
	for {
		piece, err := l.in.ReadSlice(end)
		whole = append(whole, piece...)
		if len(whole) > longestLine {
			return "", fmt.Errorf("line %d is longer than %d MiB; no list's is", l.number+len(l.ahead)+1, longestLine>>20)
		}
		switch {
		case errors.Is(err, bufio.ErrBufferFull):
			continue
		case errors.Is(err, io.EOF) && len(whole) > 0, err == nil:
			return strings.TrimRight(string(whole), "\r\n"), nil
		}
		return "", err
	}
}

// mended deals with a line whose quote stays open. Where the next lines close
// it, none of them is a row of its own, and together they have the usual number
// of cells, it is one row whose cell breaks over several lines. Else the line is
// broken, and the next one is read for itself.
func (l *lines) mended(row stock.Row, line string, sep rune, usual int) stock.Row {
	joined := line
	for n := range longestBreak {
		more, err := l.peek(n)
		if err != nil || len(fields(more, sep)) >= usual && usual > 1 {
			break
		}
		if joined += "\n" + more; openQuote(joined, sep) {
			continue
		}
		cells := fields(joined, sep)
		if usual > 0 && len(cells) != usual {
			break
		}
		for range n + 1 {
			_, _ = l.next()
		}
		row.Cells = cells
		return row
	}
	row.Problem = "a quote that is never closed: " + shortened(line)
	return row
}

// shortened is the begin of a line, for a message.
func shortened(line string) string {
	const most = 60
	if runes := []rune(line); len(runes) > most {
		return string(runes[:most]) + "…"
	}
	return line
}

// fields takes a record apart. Quotes where none belong are letters.
func fields(line string, sep rune) []string {
	if !strings.Contains(line, `"`) {
		return strings.Split(line, string(sep))
	}
	r := csv.NewReader(strings.NewReader(line))
	r.Comma, r.FieldsPerRecord, r.LazyQuotes = sep, -1, true
	cells, err := r.Read()
	if err != nil {
		return strings.Split(line, string(sep))
	}
	return cells
}

// openQuote reports whether a quoted cell begins in a record and does not end.
func openQuote(line string, sep rune) bool {
	for line != "" {
		if line[0] != '"' {
			_, rest, found := strings.Cut(line, string(sep))
			if !found {
				return false
			}
			line = rest
			continue
		}
		rest, closed := closing(line[1:], sep)
		if !closed {
			return true
		}
		line = rest
	}
	return false
}

// closing returns what stands behind the quoted cell whose text begins here.
func closing(text string, sep rune) (rest string, closed bool) {
	for {
		at := strings.IndexByte(text, '"')
		if at < 0 {
			return "", false
		}
		text = text[at+1:]
		switch {
		case text == "":
			return "", true
		case text[0] == '"':
			text = text[1:] // a quote written twice is a letter
		case strings.HasPrefix(text, string(sep)):
			return text[len(string(sep)):], true
		}
	}
}

// unquoted is what of a line stands outside of quotes, whatever parts its cells.
func unquoted(line string) string {
	if !strings.Contains(line, `"`) {
		return line
	}
	var b strings.Builder
	for i, part := range strings.Split(line, `"`) {
		if i%2 == 0 {
			b.WriteString(part)
		}
	}
	return b.String()
}

// separator is the sign that stands most evenly in the first lines, outside of
// quotes; usual is how many cells a line mostly has with it.
func separator(text string) (best rune, usual int) {
	best, most := ',', 0
	for _, sep := range []rune{';', '\t', ',', '|'} {
		counts := make(map[int]int)
		n := 0
		for line := range strings.Lines(text) {
			if n++; n > 40 {
				break
			}
			if c := strings.Count(unquoted(line), string(sep)); c > 0 {
				counts[c] += c
			}
		}
		for cells, score := range counts {
			if score > most || score == most && sep == best && cells+1 < usual {
				best, most, usual = sep, score, cells+1
			}
		}
	}
	return best, usual
}
