package records

import (
	"bytes"
	"encoding/binary"
	"encoding/csv"
	"fmt"
	"strings"
	"unicode/utf16"
	"unicode/utf8"

	"golang.org/x/text/encoding/charmap"

	"epitome/core/pattern"
)

// decodeText takes off a byte order mark and turns what is no UTF-8 into it: UTF-16
// where the mark says so, else the code page of Western systems, in which every
// byte means something.
func decodeText(data []byte) string {
	var order binary.ByteOrder
	switch {
	case bytes.HasPrefix(data, []byte{0xEF, 0xBB, 0xBF}):
		data = data[3:]
	case bytes.HasPrefix(data, []byte{0xFF, 0xFE}):
		order = binary.LittleEndian
	case bytes.HasPrefix(data, []byte{0xFE, 0xFF}):
		order = binary.BigEndian
	}
	if order != nil {
		units := make([]uint16, 0, len(data)/2)
		for i := 2; i+1 < len(data); i += 2 {
			units = append(units, order.Uint16(data[i:]))
		}
		return string(utf16.Decode(units))
	}
	if !utf8.Valid(data) {
		if text, err := charmap.Windows1252.NewDecoder().Bytes(data); err == nil {
			return string(text)
		}
	}
	return string(data)
}

// told is what was found, or that there was nothing.
func (c *collection) told() ([]Object, []string, error) {
	if len(c.objects) == 0 {
		return nil, c.others, fmt.Errorf("%w: no object of a class that tells of the machine", ErrCIM)
	}
	return c.objects, c.others, nil
}

// listLine is a line of a list, as shells print it: "Capacity  : 8589934592", or
// "Capacity=8589934592".
var listLine = pattern.Of(`^\s*([A-Za-z_][A-Za-z0-9_]*)\s*(?: : ?|:\s|=| :$)(.*)$`)

// isList reports whether a text begins as a list.
func isList(text string) bool {
	first, _, _ := strings.Cut(text, "\n")
	return listLine().MatchString(strings.TrimRight(first, "\r")) && !strings.Contains(first, ",")
}

// cimList reads the lists that shells print: a property a line, objects apart by an
// empty line, long values broken over lines that are indented. An object that
// begins again without an empty line shows by a name that it has already.
func cimList(text string) ([]Object, []string, error) {
	var found collection
	o, last := Object{properties: make(map[string]string)}, ""
	end := func() error {
		_, err := found.add(o)
		o, last = Object{properties: make(map[string]string)}, ""
		return err
	}
	for line := range strings.SplitSeq(strings.ReplaceAll(text, "\r", ""), "\n") {
		if strings.TrimSpace(line) == "" {
			if len(o.properties) > 1 {
				if err := end(); err != nil {
					return found.objects, found.others, err
				}
			}
			continue
		}
		m := listLine().FindStringSubmatch(line)
		switch {
		case m == nil && last != "":
			o.properties[last] += strings.TrimSpace(line)
			continue
		case m == nil:
			continue
		}
		if _, again := o.properties[m[1]]; again {
			if err := end(); err != nil {
				return found.objects, found.others, err
			}
		}
		if value := strings.Trim(strings.TrimSpace(m[2]), "{}"); len(o.properties) < maxProperties {
			if o.properties[m[1]] = value; value != "" {
				last = m[1]
			}
		}
	}
	if err := end(); err != nil {
		return found.objects, found.others, err
	}
	return found.told()
}

// cimCSV reads rows under a header; a line "#TYPE …" before it, and a second
// header after a blank line, are what shells write.
func cimCSV(text string) ([]Object, []string, error) {
	var found collection
	for _, block := range strings.Split(strings.ReplaceAll(text, "\r\n", "\n"), "\n\n") {
		block = strings.TrimSpace(block)
		if strings.HasPrefix(block, "#TYPE") {
			_, block, _ = strings.Cut(block, "\n")
		}
		if block == "" {
			continue
		}
		r := csv.NewReader(strings.NewReader(block))
		header, _, _ := strings.Cut(block, "\n")
		for _, comma := range ";\t" {
			if strings.Count(header, string(comma)) > strings.Count(header, string(r.Comma)) {
				r.Comma = comma
			}
		}
		r.FieldsPerRecord = -1
		rows, err := r.ReadAll()
		if err != nil {
			return found.objects, found.others, fmt.Errorf("%w: CSV: %v", ErrCIM, err)
		}
		for _, row := range rows[1:] {
			o := Object{properties: make(map[string]string)}
			for i, name := range rows[0] {
				if i < len(row) {
					o.properties[name] = row[i]
				}
			}
			if _, err := found.add(o); err != nil {
				return found.objects, found.others, err
			}
		}
	}
	return found.told()
}
