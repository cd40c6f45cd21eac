package records

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"epitome/core/maybe"
	"epitome/core/pattern"
	"epitome/core/plain"
)

// A Class is the DMTF CIM class of an object, without its schema prefix.
type Class string

// The classes that are read; objects of others are passed over.
const (
	ComputerSystem        Class = "ComputerSystem"
	ComputerSystemProduct Class = "ComputerSystemProduct"
	BaseBoard             Class = "BaseBoard"
	SystemEnclosure       Class = "SystemEnclosure"
	BIOS                  Class = "BIOS"
	OperatingSystem       Class = "OperatingSystem"
	Processor             Class = "Processor"
	PhysicalMemoryArray   Class = "PhysicalMemoryArray"
	PhysicalMemory        Class = "PhysicalMemory"
)

type classRow struct {
	class           Class
	tells, harmless []string
}

// classes is the one table of them: by which property an object is told that does
// not name its class, in the order in which they are tried, since real objects
// carry each other's properties; and which of them may leave the shop.
var classes = []classRow{
	{OperatingSystem, []string{"TotalVisibleMemorySize", "OSArchitecture"},
		[]string{"Caption", "OSArchitecture", "TotalVisibleMemorySize", "FreePhysicalMemory", "TotalVirtualMemorySize",
			"FreeVirtualMemory", "Version", "BuildNumber"}},
	{ComputerSystem, []string{"TotalPhysicalMemory", "DNSHostName", "PCSystemType"},
		[]string{"Manufacturer", "Model", "PCSystemType", "TotalPhysicalMemory"}},
	{PhysicalMemoryArray, []string{"MemoryDevices", "MaxCapacity", "MaxCapacityEx"},
		[]string{"MemoryDevices", "MaxCapacity", "MaxCapacityEx", "Use", "Location", "MemoryErrorCorrection"}},
	{PhysicalMemory, []string{"DeviceLocator", "SMBIOSMemoryType"},
		[]string{"BankLabel", "Capacity", "ConfiguredClockSpeed", "ConfiguredVoltage", "DataWidth", "DeviceLocator",
			"FormFactor",
			"Manufacturer", "MemoryType", "PartNumber", "SMBIOSMemoryType", "SerialNumber", "Speed", "TotalWidth", "TypeDetail",
			"MinVoltage", "MaxVoltage", "Attributes"}},
	{Processor, []string{"NumberOfLogicalProcessors", "NumberOfCores", "ProcessorId"},
		[]string{"Name", "ProcessorId", "Description", "NumberOfCores", "NumberOfLogicalProcessors", "AddressWidth",
			"DataWidth"}},
	{SystemEnclosure, []string{"ChassisTypes"}, []string{"ChassisTypes"}},
	{BIOS, []string{"SMBIOSBIOSVersion", "BIOSVersion"}, []string{"SMBIOSBIOSVersion", "ReleaseDate"}},
	{ComputerSystemProduct, []string{"IdentifyingNumber", "SKUNumber"}, []string{"Vendor", "Name"}},
	{BaseBoard, []string{"HostingBoard", "Product"}, []string{"Manufacturer", "Product"}},
}

// An Object is one management object: a class and its properties.
type Object struct {
	Class      Class
	properties map[string]string // names as DMTF CIM has them
}

// Carries reports whether the object has a property of the name, be it blank.
func (o Object) Carries(name string) bool {
	_, has := o.properties[name]
	return has
}

// Text returns a property cleaned for showing, empty where it is missing or
// null.
func (o Object) Text(name string) string { return plain.Line(o.properties[name]) }

// Number returns a property that is a whole number.
func (o Object) Number(name string) maybe.Value[uint64] {
	n, err := strconv.ParseUint(strings.TrimSpace(o.properties[name]), 10, 64)
	return maybe.If(n, err == nil)
}

// ErrCIM: the text is no export of management objects.
var ErrCIM = errors.New("not an export of a system (management objects)")

// An Export is what a system wrote of itself: management objects, or the other desktop system's overview.
type Export struct {
	Objects  []Object
	Overview *Overview // nil where it is none
	Others   []string  // classes of objects that are left out
}

// ParseExport reads what an operating system wrote of itself: management objects as JSON (one object, or an array that
// may nest), as rows with a header (by comma, semicolon or tab), as the tables or the lists of
// "Name : value" lines that shells print by themselves; or the
// other desktop system's overview. In UTF-8, UTF-16 with a byte order mark, or the code page of Western systems. Errors
// wrap ErrCIM.
func ParseExport(data []byte) (x Export, err error) {
	if len(data) > maxExport {
		return x, fmt.Errorf("%w: %d KiB; up to %d are read", ErrCIM, len(data)>>10, maxExport>>10)
	}
	text := strings.TrimSpace(decodeText(data))
	switch {
	case isOverview(text):
		x.Overview, err = parseOverview(text)
	case strings.HasPrefix(text, "{") || strings.HasPrefix(text, "["):
		x.Objects, x.Others, err = cimJSON(text)
	case isList(text):
		x.Objects, x.Others, err = cimList(text)
	case isTable(text):
		x.Objects, x.Others, err = cimTable(text)
	default:
		x.Objects, x.Others, err = cimCSV(text)
	}
	return x, err
}

// A collection is the objects that an export holds, as they are met.
type collection struct {
	objects []Object
	others  []string // classes that are not read
}

// add keeps an object of a class that is read. The error says that there are too
// many.
func (c *collection) add(o Object) (kept bool, err error) {
	other, ok := o.classify()
	if !ok {
		if other = plain.Line(other); other != "" && len(c.others) < mostOthers && !slices.Contains(c.others, other) {
			c.others = append(c.others, other)
		}
		return false, nil
	}
	if len(c.objects) == maxObjects {
		return false, fmt.Errorf("%w: more than %d objects", ErrCIM, maxObjects)
	}
	c.objects = append(c.objects, o)
	return true, nil
}

// mostOthers bounds how many classes that are not read are named.
const mostOthers = 16

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
func cimJSON(text string) ([]Object, []string, error) {
	r := cimReader{Decoder: json.NewDecoder(strings.NewReader(text))}
	r.UseNumber()
	for {
		t, err := r.Token()
		if errors.Is(err, io.EOF) {
			return r.objects, r.others, nil
		}
		if err == nil {
			err = r.value(t, 0, nil)
		}
		if err != nil {
			return r.objects, r.others, fmt.Errorf("%w: JSON at offset %d: %v", ErrCIM, r.InputOffset(), err)
		}
	}
}

type cimReader struct {
	*json.Decoder
	collection
}

// wrapper reports whether shells nest objects under a name.
func wrapper(name string) bool {
	_, known := classNamed(name)
	return known || name == "value"
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
		case isScalar || t == nil: // null is a property that is blank
			if len(o.properties) < maxProperties {
				o.properties[name] = text
			}
		case depth < deepestNest && wrapper(name):
			err = r.value(t, depth+1, nil)
		case name == "CimClass":
			err = r.value(t, depth+1, &o)
		case t == json.Delim('['):
			err = r.scalars(&o, name)
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
	nested := r.objects[before:]
	r.objects = r.objects[:before]
	if kept, err := r.add(o); kept || err != nil {
		return err
	}
	r.objects = append(r.objects, nested...)
	return nil
}

// scalars reads an array that a property holds, as the text of its values; what
// nests deeper is passed over.
func (r *cimReader) scalars(o *Object, name string) error {
	var list []string
	for r.More() {
		t, err := r.Token()
		if err != nil {
			return err
		}
		if text, ok := scalar(t); ok {
			if len(list) < 16 {
				list = append(list, text)
			}
		} else if t != nil {
			if err := r.skip(); err != nil {
				return err
			}
		}
	}
	if len(list) > 0 && len(o.properties) < maxProperties {
		o.properties[name] = strings.Join(list, ",")
	}
	_, err := r.Token()
	return err
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

// classNamed is the class of a name, whatever schema prefix it has.
func classNamed(name string) (Class, bool) {
	if _, bare, found := strings.Cut(name, "_"); found {
		name = bare
	}
	for _, c := range classes {
		if string(c.class) == name {
			return c.class, true
		}
	}
	return "", false
}

// ofProcessor is how a system describes a processor, and who makes it as processors themselves say.
var ofProcessor = pattern.Of(`\bFamily \d+ Model \d+\b|^(?:GenuineIntel|AuthenticAMD|CentaurHauls)$`)

// describesProcessor reports whether values that only processors have tell the class of an object of few properties.
func (o *Object) describesProcessor() bool {
	return ofProcessor().MatchString(o.properties["Description"]) ||
		ofProcessor().MatchString(o.properties["Manufacturer"])
}

// classify finds out what the object is: by its class name, else by what only
// its class has. other is the name of a class that is not read.
func (o *Object) classify() (other string, ok bool) {
	for _, key := range []string{"CreationClassName", "__CLASS", "CimClassName"} {
		name := o.properties[key]
		if o.Class, ok = classNamed(name); ok {
			return "", true
		}
		if name != "" && other == "" {
			other = name
		}
	}
	if other != "" {
		return other, false
	}
	if o.describesProcessor() {
		o.Class = Processor
		return "", true
	}
	blank := func(name string) bool { return o.properties[name] == "" }
	missing := func(name string) bool { return !o.Carries(name) }
	for _, none := range []func(string) bool{blank, missing} { // one that is blank tells, where none has a value
		for _, c := range classes {
			if slices.ContainsFunc(c.tells, func(name string) bool { return !none(name) }) {
				o.Class = c.class
				return "", true
			}
		}
	}
	return "", false
}
