package records

import (
	"encoding/hex"
	"encoding/json"
	"fmt"
	"strconv"
	"strings"

	"epitome/core/jedec"
	"epitome/core/plain"
)

// The other desktop system describes its hardware, memory and software as JSON of
// its own: lists by data type, with words for figures ("4 GB"), hexadecimal for
// makers and part numbers, and "empty" for places without a module. What it says
// is brought to the objects and properties of the management classes.

const overviewMemory = "SPMemoryDataType"

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

// parseOverview reads such a description. Errors wrap ErrCIM.
func parseOverview(text string) ([]Object, []string, error) {
	var doc map[string]json.RawMessage
	if err := json.Unmarshal([]byte(text), &doc); err != nil {
		return nil, nil, fmt.Errorf("%w: JSON: %v", ErrCIM, err)
	}
	var found collection
	add := func(class Class, properties map[string]string) {
		for name, value := range properties {
			if value == "" {
				delete(properties, name)
			}
		}
		if len(properties) > 0 && len(found.objects) < maxObjects {
			found.objects = append(found.objects, Object{class, properties})
		}
	}
	for _, hardware := range overviewList(doc["SPHardwareDataType"]) {
		add(ComputerSystem, map[string]string{"Model": hardware.text("machine_model"),
			"MachineName": hardware.text("machine_name")})
		processor := hardware.text("cpu_type")
		if processor == "" {
			processor = hardware.text("chip_type")
		}
		add(Processor, map[string]string{"Name": processor})
	}
	for _, software := range overviewList(doc["SPSoftwareDataType"]) {
		add(OperatingSystem, map[string]string{"Caption": software.text("os_version")})
	}
	places, upgradeable := 0, ""
	for _, memory := range overviewList(doc[overviewMemory]) {
		for _, item := range overviewList(memory["_items"]) {
			places++
			add(PhysicalMemory, overviewPlace(item))
		}
		if size := inBytes(memory.text(overviewMemory)); size != "" {
			// In the package: there is no place that anything could go to.
			add(PhysicalMemory, map[string]string{"DeviceLocator": "package", "Capacity": size,
				"MemoryTypeName": memory.text("dimm_type"),
				"Manufacturer":   memory.text("dimm_manufacturer"), "FormFactor": "21"})
		}
		if upgradeable == "" {
			upgradeable = memory.text("is_memory_upgradeable")
		}
	}
	devices := ""
	if places > 0 {
		devices = strconv.Itoa(places)
	}
	add(PhysicalMemoryArray, map[string]string{"MemoryDevices": devices, "Upgradeable": upgradeable})
	return found.told()
}

func overviewList(raw json.RawMessage) (list []overviewItem) {
	_ = json.Unmarshal(raw, &list) // what is no list of objects says nothing
	return list[:min(len(list), maxObjects)]
}

func overviewPlace(item overviewItem) map[string]string {
	bank, locator, split := strings.Cut(item.text("_name"), "/")
	if !split {
		bank, locator = "", bank
	}
	size := inBytes(item.text("dimm_size"))
	if size == "" {
		size = "0" // it says "empty"
	}
	speed, _, _ := strings.Cut(item.text("dimm_speed"), " ")
	return map[string]string{"BankLabel": bank, "DeviceLocator": locator, "Capacity": size,
		"MemoryTypeName": item.text("dimm_type"), "Speed": speed,
		"Manufacturer": item.text("dimm_manufacturer"), "PartNumber": fromHex(item.text("dimm_part_number")),
		"SerialNumber": item.text("dimm_serial_number")}
}

// inBytes writes "4 GB" as a number of bytes, empty where it is no size.
func inBytes(text string) string {
	size, err := jedec.ParseCapacity(text)
	if err != nil || size <= 0 {
		return ""
	}
	return strconv.FormatInt(int64(size), 10)
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
