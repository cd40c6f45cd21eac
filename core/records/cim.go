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

func cimJSON(text string) ([]Object, error) {
	d := json.NewDecoder(strings.NewReader(text))
	d.UseNumber()
	var objects []Object
	for {
		var value any
		err := d.Decode(&value)
		if errors.Is(err, io.EOF) {
			return objects, nil
		}
		if err != nil {
			return objects, fmt.Errorf("%w: JSON at offset %d: %v", ErrCIM, d.InputOffset(), err)
		}
		objects = collect(objects, value, 0)
	}
}

// collect takes the objects out of a value, however the shell nested them.
func collect(objects []Object, value any, depth int) []Object {
	const deepest = 8
	if depth > deepest {
		return objects
	}
	switch v := value.(type) {
	case []any:
		for _, item := range v {
			objects = collect(objects, item, depth+1)
		}
	case map[string]any:
		o := Object{properties: make(map[string]string, len(v))}
		for name, property := range v {
			if s, ok := scalar(property); ok {
				o.properties[name] = s
			}
		}
		if o.classify(v) {
			return append(objects, o)
		}
		// A wrapper such as {"OperatingSystem": {…}, "PhysicalMemory": […]}.
		for _, class := range []Class{OperatingSystem, Processor, PhysicalMemoryArray, PhysicalMemory} {
			for _, prefix := range []string{"", "CIM_", "Win32_"} {
				if inner, ok := v[prefix+string(class)]; ok {
					objects = collect(objects, inner, depth+1)
				}
			}
		}
		if inner, ok := v["value"]; ok {
			objects = collect(objects, inner, depth+1)
		}
	}
	return objects
}

func scalar(v any) (string, bool) {
	switch x := v.(type) {
	case string:
		return x, true
	case json.Number:
		return x.String(), true
	case bool:
		return strconv.FormatBool(x), true
	}
	return "", false
}

// classify finds out what the object is: by its class name, else by what only
// its class has.
func (o *Object) classify(raw map[string]any) bool {
	names := []string{o.properties["CreationClassName"], o.properties["__CLASS"], o.properties["CimClassName"]}
	if nested, ok := raw["CimClass"].(map[string]any); ok {
		if name, ok := nested["CimClassName"].(string); ok {
			names = append(names, name)
		}
	}
	for _, name := range names {
		_, bare, found := strings.Cut(name, "_")
		if !found {
			bare = name
		}
		switch c := Class(bare); c {
		case PhysicalMemory, PhysicalMemoryArray, OperatingSystem, Processor:
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
			if o.classify(nil) {
				objects = append(objects, o)
			}
		}
	}
	if len(objects) == 0 {
		return nil, fmt.Errorf("%w: no object of a class that tells of memory", ErrCIM)
	}
	return objects, nil
}
