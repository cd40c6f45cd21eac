package records

import (
	"encoding/hex"
	"encoding/json"
	"fmt"
	"strings"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/plain"
)

// An Overview is what the other desktop system's JSON of its hardware, memory and software says: lists by data type,
// with words for figures ("4 GB"), hexadecimal for makers and part numbers, and "empty" for places without a module.
// Texts are empty where it does not say.
type Overview struct {
	Model, MachineName string
	Processor, System  string
	Processors         maybe.Value[int]
	Upgradeable        string // "Yes", "No"
	Places             []OverviewPlace
	InPackage          bool // memory is in the processor's package: there is no place that anything could go to
}

// An OverviewPlace is one place of an overview.
type OverviewPlace struct {
	Bank, Locator       string
	Size                maybe.Value[jedec.Capacity] // unknown for an empty place
	Generation          maybe.Value[jedec.Generation]
	ECC                 maybe.Value[bool]
	Speed               maybe.Value[int] // as it is written: a rate or a clock
	Maker, Part, Serial string
	HasSerial, HasPart  bool // it has a line for them
}

const (
	overviewMemory   = "SPMemoryDataType"
	overviewHardware = "SPHardwareDataType"
	overviewSoftware = "SPSoftwareDataType"
)

// isOverview reports whether a JSON text is such a description.
func isOverview(text string) bool {
	return strings.HasPrefix(text, "{") && strings.Contains(text, `"`+overviewMemory+`"`)
}

// An overviewItem is one entry of a list, whatever it holds beside texts.
type overviewItem map[string]json.RawMessage

// text is a property that is a string; empty where it is none, or says nothing.
func (i overviewItem) text(name string) string {
	var s string
	if json.Unmarshal(i[name], &s) != nil || strings.EqualFold(s, "empty") {
		return ""
	}
	return plain.Line(s)
}

func (i overviewItem) number(name string) maybe.Value[int] {
	var n int
	err := json.Unmarshal(i[name], &n)
	return maybe.If(n, err == nil && n > 0 && n < 1<<16)
}

// parseOverview reads such a description. Errors wrap ErrCIM.
func parseOverview(text string) (*Overview, error) {
	var doc map[string]json.RawMessage
	if err := json.Unmarshal([]byte(text), &doc); err != nil {
		return nil, fmt.Errorf("%w: JSON: %v", ErrCIM, err)
	}
	o := &Overview{}
	for _, hardware := range overviewList(doc[overviewHardware]) {
		o.Model, o.MachineName = hardware.text("machine_model"), hardware.text("machine_name")
		if o.Processor = hardware.text("cpu_type"); o.Processor == "" {
			o.Processor = hardware.text("chip_type")
		}
		o.Processors = hardware.number("packages")
	}
	for _, software := range overviewList(doc[overviewSoftware]) {
		o.System = software.text("os_version")
	}
	for _, memory := range overviewList(doc[overviewMemory]) {
		for _, item := range overviewList(memory["_items"]) {
			if len(o.Places) < maxObjects {
				o.Places = append(o.Places, overviewPlace(item))
			}
		}
		if size := sizeIn(memory.text(overviewMemory)); size.Known() {
			o.InPackage = true
			g, _ := generationIn(memory.text("dimm_type"))
			o.Places = append(o.Places, OverviewPlace{Locator: "package", Size: size, Generation: g,
				Maker: memory.text("dimm_manufacturer")})
		}
		if o.Upgradeable == "" {
			o.Upgradeable = memory.text("is_memory_upgradeable")
		}
	}
	if len(o.Places) == 0 && o.Upgradeable == "" && o.Model+o.MachineName+o.Processor+o.System == "" {
		return nil, fmt.Errorf("%w: its lists say nothing of a machine", ErrCIM)
	}
	return o, nil
}

func overviewList(raw json.RawMessage) (list []overviewItem) {
	_ = json.Unmarshal(raw, &list) // what is no list of objects says nothing
	return list[:min(len(list), maxObjects)]
}

func overviewPlace(item overviewItem) OverviewPlace {
	bank, locator, split := strings.Cut(item.text("_name"), "/")
	if !split {
		bank, locator = "", bank
	}
	p := OverviewPlace{Bank: bank, Locator: locator, Size: sizeIn(item.text("dimm_size")),
		Maker: item.text("dimm_manufacturer"), Part: fromHex(item.text("dimm_part_number")),
		Serial: item.text("dimm_serial_number")}
	p.Generation, p.ECC = generationIn(item.text("dimm_type"))
	if figure, _, _ := strings.Cut(item.text("dimm_speed"), " "); figure != "" {
		p.Speed = count(figure)
	}
	_, p.HasSerial = item["dimm_serial_number"]
	_, p.HasPart = item["dimm_part_number"]
	return p
}

// generationIn reads the kind of a module, "DDR3", with what may stand behind: "DDR3 ECC".
func generationIn(text string) (g maybe.Value[jedec.Generation], ecc maybe.Value[bool]) {
	name, rest, _ := strings.Cut(text, " ")
	found, _, ok := jedec.ParseGeneration(name)
	if strings.EqualFold(strings.TrimSpace(rest), "ECC") {
		ecc = maybe.Just(true)
	}
	return maybe.If(found, ok), ecc
}

// sizeIn reads "4 GB", unknown where it is no size.
func sizeIn(text string) maybe.Value[jedec.Capacity] {
	size, err := jedec.ParseCapacity(text)
	return maybe.If(size, err == nil && size > 0)
}

// fromHex reads a text that stands as hexadecimal bytes, "0x4D52…", and leaves
// any other as it is.
func fromHex(text string) string {
	digits, found := strings.CutPrefix(text, "0x")
	bytes, err := hex.DecodeString(digits)
	if !found || err != nil {
		return text
	}
	return plain.Line(strings.TrimRight(string(bytes), "\x00 "))
}

// understood writes the overview anew with what findings rest on. Serial numbers of modules go through standIn.
func (o *Overview) understood(standIn func(string) string) ([]byte, error) {
	var items []map[string]string
	memory := map[string]any{"is_memory_upgradeable": o.Upgradeable}
	for _, p := range o.Places {
		kind := ""
		if g, ok := p.Generation.Get(); ok {
			kind = g.String()
		}
		if p.ECC.Or(false) {
			kind += " ECC"
		}
		size := "empty"
		if s, ok := p.Size.Get(); ok {
			size = s.String()
		}
		if o.InPackage && p.Locator == "package" {
			memory[overviewMemory], memory["dimm_type"], memory["dimm_manufacturer"] = size, kind, p.Maker
			continue
		}
		name := p.Locator
		if p.Bank != "" {
			name = p.Bank + "/" + p.Locator
		}
		item := map[string]string{"_name": name, "dimm_size": size, "dimm_type": kind, "dimm_manufacturer": p.Maker}
		if speed, ok := p.Speed.Get(); ok {
			item["dimm_speed"] = fmt.Sprintf("%d MHz", speed)
		}
		if p.HasPart {
			item["dimm_part_number"] = p.Part
		}
		if p.HasSerial {
			item["dimm_serial_number"] = p.Serial
			if p.Serial != "" {
				item["dimm_serial_number"] = standIn(p.Serial)
			}
		}
		items = append(items, item)
	}
	memory["_items"] = items
	hardware := map[string]any{"machine_model": o.Model, "machine_name": o.MachineName, "cpu_type": o.Processor}
	if n, ok := o.Processors.Get(); ok {
		hardware["packages"] = n
	}
	return json.MarshalIndent(map[string]any{overviewHardware: []any{hardware}, overviewMemory: []any{memory},
		overviewSoftware: []any{map[string]string{"os_version": o.System}}}, "", " ")
}
