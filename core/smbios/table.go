package smbios

import (
	"fmt"
	"strings"

	"epitome/core/octet"
	"epitome/core/plain"
)

// maxStructures bounds the walk. Handles are 16 bits wide, so no table has
// more structures.
const maxStructures = 1 << 16

// headerSize is the length of the header that every structure begins with:
// type, length, handle (DSP0134 clause 6.1.2).
const headerSize = 4

// longestString bounds a string, in characters. Versions to 2.6 allow 64; later
// ones set no limit, and no name of a part comes near this one.
const longestString = 128

// A Structure is one structure of a table: its formatted area and the string
// set that follows it. The bytes are the table's own.
type Structure struct {
	Type   Type
	Handle Handle
	area   octet.Window // the formatted area, header included
	text   string       // the string set without its final two zeros
}

// Offset returns where the structure begins in the table.
func (s Structure) Offset() int { return s.area.At() }

func (s Structure) String() string { return fmt.Sprintf("structure %v (type %d)", s.Handle, s.Type) }

// Text returns the string whose number stands at off, cleaned for showing.
// It is empty where the field is absent, the number is 0, or the set has no
// such string; missing tells the last case, which is damage, from the rest.
func (s Structure) Text(off int) (text string, missing bool) {
	number, ok := s.area.Byte(off)
	if !ok || number == 0 {
		return "", false
	}
	rest := s.text
	for n := byte(1); len(rest) > 0; n++ {
		end := strings.IndexByte(rest, 0)
		if end < 0 {
			end = len(rest)
		}
		if n == number {
			return plain.Clip(plain.Line(rest[:end]), longestString), false
		}
		rest = rest[min(end+1, len(rest)):]
	}
	return "", true
}

// line returns the string at off and forgets whether it was missing.
func (s Structure) line(off int) string {
	text, _ := s.Text(off)
	return text
}

// A Table is a walked structure table.
type Table struct {
	Structures []Structure
	// Notes are oddities that did no harm: a duplicate handle, a table
	// without its end mark, bytes after it.
	Notes []string
}

// ParseTable walks a structure table. The entry point, where there is one,
// tells how many structures to expect; a zero EntryPoint expects none in
// particular. The walk ends at the end-of-table structure, at the end of the
// bytes, or at damage: then err wraps ErrTable and the table holds the
// structures before it.
func ParseTable(image []byte, entry EntryPoint) (Table, error) {
	var t Table
	var err error
	t.Notes, err = walk(image, entry, func(s Structure) { t.Structures = append(t.Structures, s) })
	return t, err
}

// walk visits the structures of a table in order and returns the oddities that
// did no harm.
func walk(image []byte, entry EntryPoint, visit func(Structure)) (notes []string, err error) {
	w := octet.Over(image)
	text := string(image) // one copy that all strings are cut from
	note := func(format string, args ...any) { notes = append(notes, fmt.Sprintf(format, args...)) }
	if entry.Exact() && entry.TableLength > w.Len() {
		note("the entry point announces %d bytes, the table has %d", entry.TableLength, w.Len())
	}
	var once, twice [1 << 16 / 64]uint64 // a bit for each handle there can be
	count, ended := 0, false
	for off := 0; off < w.Len() && count < maxStructures && !ended; {
		s, next, err := structureAt(w, text, off)
		if err != nil {
			return notes, err
		}
		visit(s)
		count, off, ended = count+1, next, s.Type == TypeEnd
		word, bit := s.Handle/64, uint64(1)<<(s.Handle%64)
		if once[word]&bit != 0 && twice[word]&bit == 0 {
			twice[word] |= bit
			note("two structures carry the handle %v", s.Handle)
		}
		once[word] |= bit
		if entry.Structures > 0 && count >= entry.Structures && !entryHasMore(w, text, off) {
			break
		}
	}
	if !ended && count > 0 && entry.Structures == 0 {
		note("the table has no end mark")
	}
	if entry.Structures > 0 && count < entry.Structures {
		note("the entry point announces %d structures, the table has %d", entry.Structures, count)
	}
	return notes, nil
}

// entryHasMore reports whether another whole structure follows the number
// that the entry point announced. Some firmware appends structures without
// counting them, the end mark above all.
func entryHasMore(w octet.Window, text string, off int) bool {
	_, _, err := structureAt(w, text, off)
	return err == nil
}

// structureAt reads the structure at off and returns the offset of the next.
// text is the window's bytes as a string.
func structureAt(w octet.Window, text string, off int) (s Structure, next int, err error) {
	header, ok := w.Slice(off, headerSize)
	if !ok {
		return s, 0, &FormatError{Kind: ErrTable, Offset: off, Where: "structure header",
			Want: "4 bytes", Have: fmt.Sprintf("%d before the end", w.Len()-off)}
	}
	kind, _ := header.Byte(0)
	length, _ := header.Byte(1)
	handle, _ := header.Word(2)
	s.Type, s.Handle = Type(kind), Handle(handle)
	if length < headerSize {
		return s, 0, &FormatError{Kind: ErrTable, Offset: off + 1, Where: s.String() + ", length",
			Want: "4 or more", Have: fmt.Sprint(length)}
	}
	if s.area, ok = w.Slice(off, int(length)); !ok {
		return s, 0, &FormatError{Kind: ErrTable, Offset: off, Where: s.String() + ", formatted area",
			Want: fmt.Sprintf("%d bytes", length), Have: fmt.Sprintf("%d before the end", w.Len()-off)}
	}
	rest := text[off+int(length):]
	end := strings.Index(rest, "\x00\x00")
	if end < 0 {
		if s.Type == TypeEnd {
			// A table cut right behind its end mark has lost nothing.
			return s, w.Len(), nil
		}
		return s, 0, &FormatError{Kind: ErrTable, Offset: off + int(length), Where: s.String() + ", strings",
			Want: "two zero bytes at their end", Have: "the end of the table"}
	}
	s.text = rest[:end]
	return s, off + int(length) + end + 2, nil
}
