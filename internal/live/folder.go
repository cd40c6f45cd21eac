package live

import (
	"path"
	"strings"
	"time"

	"epitome/core/card"
)

// fileKinds recognises collected files by their names, lower case.
var fileKinds = []struct {
	pattern string // as path.Match takes it
	kind    card.Kind
}{
	{"smbios_entry_point", card.EntryPoint},
	{"dmi", card.Table},
	{"*.smbios", card.TableFile},
	{"spd-[0-9a-f][0-9a-f].bin", card.SPD},
	{"*.spd", card.SPD},
	{"cpuinfo", card.CPUInfo},
	{"meminfo", card.MemInfo},
	{"vmstat", card.VMStat},
	{"pressure-memory", card.Pressure},
	{"pci", card.PCI},
	{"cim*.json", card.CIM},
	{"cim*.csv", card.CIM},
	{"cim*.txt", card.CIM},
	{"profile*.json", card.CIM},
	{"panel*.txt", card.Panel},
	{"hand*.yaml", card.Hand},
	{"hand*.yml", card.Hand},
}

// spdAddress returns the bus address that an EEPROM's file is named after.
func spdAddress(name string) (address string, ok bool) {
	rest, found := strings.CutPrefix(name, "spd-")
	digits, named := strings.CutSuffix(rest, ".bin")
	return "0x" + digits, found && named
}

// Folder reads the files that it recognises in a folder. The error says that
// the folder itself can't be opened.
func Folder(folder string, now time.Time) (Haul, error) {
	root, err := openRoot(folder)
	if err != nil {
		return Haul{}, err
	}
	defer root.Close()
	t := taker{root: root, how: "files", show: path.Clean(strings.ReplaceAll(folder, `\`, "/")) + "/", now: now}
	for _, name := range t.names(".") {
		lower := strings.ToLower(name)
		known := false
		for _, k := range fileKinds {
			if ok, _ := path.Match(k.pattern, lower); !ok {
				continue
			}
			known = true
			if t.take(k.kind, name) {
				if address, ok := spdAddress(lower); ok {
					t.haul.Readings[len(t.haul.Readings)-1].Address = address
				}
			}
			break
		}
		if !known {
			t.note(t.show+name, false, "not a name that intake knows; left alone")
		}
	}
	return t.haul, nil
}
