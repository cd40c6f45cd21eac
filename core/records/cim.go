package records

import (
	"bytes"
	"encoding/binary"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
	"unicode/utf16"
	"unicode/utf8"

	"epitome/core/maybe"
	"epitome/core/plain"
)

// A Class is the DMTF CIM class of an object, without its schema prefix.
type Class string

// The classes that are read; objects of others are passed over.
const (
	PhysicalMemory      Class = "PhysicalMemory"
	PhysicalMemoryArray Class = "PhysicalMemoryArray"
	OperatingSystem     Class = "OperatingSystem"
	Processor           Class = "Processor"
	computerSystem      Class = "ComputerSystem" // told apart, and not read
)

// An Object is one management object: a class and its properties.
type Object struct {
	Class      Class
	properties map[string]string // names as DMTF CIM has them
}

// Text returns a property cleaned for showing, empty where it is missing or
// null.
func (o Object) Text(name string) string { return plain.Line(o.properties[name]) }

// Number returns a property that is a whole number.
func (o Object) Number(name string) maybe.Value[uint64] {
	n, err := strconv.ParseUint(strings.TrimSpace(o.properties[name]), 10, 64)
	return maybe.If(n, err == nil)
}

// tellingProperties names a class by what only its objects have, for exports
// that leave the class name out.
var tellingProperties = []struct {
	name  string
	class Class
}{
	{"TotalVisibleMemorySize", OperatingSystem}, {"TotalPhysicalMemory", computerSystem}, {"DNSHostName", computerSystem}, {"MemoryDevices", PhysicalMemoryArray}, {"DeviceLocator", PhysicalMemory},
	{"NumberOfLogicalProcessors", Processor}, {"NumberOfCores", Processor},
}

// ErrCIM: the text is no export of management objects.
var ErrCIM = errors.New("not an export of management objects")

// ParseCIM reads management objects exported by an operating system's shell:
// JSON (one object, or an array that may nest) or CSV with a header, in UTF-8
// or UTF-16 with a byte order mark. Objects of other classes are left out.
// Errors wrap ErrCIM.
func ParseCIM(data []byte) ([]Object, error) {
	if len(data) > maxExport {
		return nil, fmt.Errorf("%w: %d KiB; up to %d are read", ErrCIM, len(data)>>10, maxExport>>10)
	}
	text, err := decodeText(data)
	if err != nil {
		return nil, err
	}
	trimmed := strings.TrimSpace(text)
	if strings.HasPrefix(trimmed, "{") || strings.HasPrefix(trimmed, "[") {
		return cimJSON(trimmed)
	}
	return cimCSV(trimmed)
}

// decodeText takes off a byte order mark and turns UTF-16 into UTF-8.
func decodeText(data []byte) (string, error) {
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
		return string(utf16.Decode(units)), nil
	}
	if !utf8.Valid(data) {
		return "", fmt.Errorf("%w: neither UTF-8 nor UTF-16 with a byte order mark; export it again as UTF-8", ErrCIM)
	}
	return string(data), nil
}

// Bounds of an export: more is none of one machine.
const (
	maxObjects    = 2000
	maxProperties = 500
	deepestNest   = 8
	maxExport     = 4 << 20 // bytes
)

// cimJSON takes the objects out of a text, however the shell nested them. It
// reads word by word: exports carry large descriptions of their own classes,
// which are passed over and never held.
func cimJSON(text string) ([]Object, error) {
	r := cimReader{Decoder: json.NewDecoder(strings.NewReader(text))}
	r.UseNumber()
	for {
		t, err := r.Token()
		if errors.Is(err, io.EOF) {
			return r.objects, nil
		}
		if err == nil {
			err = r.value(t, 0, nil)
		}
		if err != nil {
			return r.objects, fmt.Errorf("%w: JSON at offset %d: %v", ErrCIM, r.InputOffset(), err)
		}
	}
}

type cimReader struct {
	*json.Decoder
	objects []Object
}

// wrappers are names under which shells nest objects.
func wrapper(name string) bool {
	switch bareClass(name) {
	case OperatingSystem, Processor, PhysicalMemoryArray, PhysicalMemory, "value":
		return true
	}
	return false
}

// value reads what begins with a token. owner is the object that it is a
// property of, nil where it stands for itself.
func (r *cimReader) value(t json.Token, depth int, owner *Object) error {
	if _, isScalar := scalar(t); !isScalar && t != nil && depth > deepestNest {
		return r.skip()
	}
	switch t {
	case json.Delim('['):
		for r.More() {
			t, err := r.Token()
			if err == nil {
				err = r.value(t, depth+1, owner)
			}
			if err != nil {
				return err
			}
		}
		_, err := r.Token()
		return err
	case json.Delim('{'):
		return r.object(depth, owner)
	}
	return nil
}

// object reads an object. One of a class that is read is kept, with what is
// nested in it passed over; another may be a wrapper, such as
// {"OperatingSystem": {…}, "PhysicalMemory": […]}, or describe its owner's class.
func (r *cimReader) object(depth int, owner *Object) error {
	o := Object{properties: make(map[string]string)}
	before := len(r.objects)
	for r.More() {
		key, err := r.Token()
		if err != nil {
			return err
		}
		name, _ := key.(string)
		t, err := r.Token()
		if err != nil {
			return err
		}
		text, isScalar := scalar(t)
		switch {
		case isScalar:
			if len(o.properties) < maxProperties {
				o.properties[name] = text
			}
		case t == nil:
		case depth < deepestNest && wrapper(name):
			err = r.value(t, depth+1, nil)
		case name == "CimClass":
			err = r.value(t, depth+1, &o)
		default:
			err = r.skip()
		}
		if err != nil {
			return err
		}
	}
	if _, err := r.Token(); err != nil {
		return err
	}
	if owner != nil {
		if name := o.properties["CimClassName"]; name != "" {
			owner.properties["CimClassName"] = name
		}
		return nil
	}
	if o.classify() {
		if len(r.objects) == maxObjects {
			return fmt.Errorf("more than %d objects", maxObjects)
		}
		r.objects = append(r.objects[:before], o)
	}
	return nil
}

// skip passes over the array or object that has just begun.
func (r *cimReader) skip() error {
	for depth := 1; depth > 0; {
		t, err := r.Token()
		if err != nil {
			return err
		}
		switch t {
		case json.Delim('['), json.Delim('{'):
			depth++
		case json.Delim(']'), json.Delim('}'):
			depth--
		}
	}
	return nil
}

func scalar(t json.Token) (string, bool) {
	switch x := t.(type) {
	case string:
		return x, true
	case json.Number:
		return x.String(), true
	case bool:
		return strconv.FormatBool(x), true
	}
	return "", false
}

// bareClass takes the schema's prefix off a class name.
func bareClass(name string) Class {
	if _, bare, found := strings.Cut(name, "_"); found {
		return Class(bare)
	}
	return Class(name)
}

// classify finds out what the object is: by its class name, else by what only
// its class has.
func (o *Object) classify() bool {
	for _, name := range []string{o.properties["CreationClassName"], o.properties["__CLASS"], o.properties["CimClassName"]} {
		switch c := bareClass(name); c {
		case PhysicalMemory, PhysicalMemoryArray, OperatingSystem, Processor, computerSystem:
			o.Class = c
			return true
		}
	}
	for _, t := range tellingProperties {
		if _, ok := o.properties[t.name]; ok {
			o.Class = t.class
			return true
		}
	}
	return false
}

// cimCSV reads rows under a header; a line "#TYPE …" before it, and a second
// header after a blank line, are what shells write.
func cimCSV(text string) ([]Object, error) {
	var objects []Object
	for _, block := range strings.Split(strings.ReplaceAll(text, "\r\n", "\n"), "\n\n") {
		block = strings.TrimSpace(block)
		if strings.HasPrefix(block, "#TYPE") {
			_, block, _ = strings.Cut(block, "\n")
		}
		if block == "" {
			continue
		}
		r := csv.NewReader(strings.NewReader(block))
		if header, _, _ := strings.Cut(block, "\n"); strings.Count(header, ";") > strings.Count(header, ",") {
			r.Comma = ';'
		}
		r.FieldsPerRecord = -1
		rows, err := r.ReadAll()
		if err != nil {
			return objects, fmt.Errorf("%w: CSV: %v", ErrCIM, err)
		}
		for _, row := range rows[1:] {
			o := Object{properties: make(map[string]string)}
			for i, name := range rows[0] {
				if i < len(row) && row[i] != "" {
					o.properties[name] = row[i]
				}
			}
			if o.classify() {
				objects = append(objects, o)
			}
			if len(objects) > maxObjects {
				return objects[:maxObjects], fmt.Errorf("%w: more than %d objects", ErrCIM, maxObjects)
			}
		}
	}
	if len(objects) == 0 {
		return nil, fmt.Errorf("%w: no object of a class that tells of memory", ErrCIM)
	}
	return objects, nil
}
