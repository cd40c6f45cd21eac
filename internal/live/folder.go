package live

import (
	"path"
	"regexp"
	"strings"
	"time"

	"epitome/core/card"
)

// fileKinds recognises collected files by their names, lower case.
var fileKinds = []struct {
	pattern *regexp.Regexp
	kind    card.Kind
}{
	{regexp.MustCompile(`^smbios_entry_point$`), card.EntryPoint},
	{regexp.MustCompile(`^dmi$`), card.Table},
	{regexp.MustCompile(`\.smbios$`), card.TableFile},
	{regexp.MustCompile(`^spd-[0-9a-f]{2}\.bin$`), card.SPD},
	{regexp.MustCompile(`\.spd$`), card.SPD},
	{regexp.MustCompile(`^cpuinfo$`), card.CPUInfo},
	{regexp.MustCompile(`^meminfo$`), card.MemInfo},
	{regexp.MustCompile(`^vmstat$`), card.VMStat},
	{regexp.MustCompile(`^pressure-memory$`), card.Pressure},
	{regexp.MustCompile(`^pci$`), card.PCI},
	{regexp.MustCompile(`^cim.*\.(json|csv)$`), card.CIM},
	{regexp.MustCompile(`^hand.*\.ya?ml$`), card.Hand},
}

var spdAddress = regexp.MustCompile(`^spd-([0-9a-f]{2})\.bin$`)

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
			if !k.pattern.MatchString(lower) {
				continue
			}
			known = true
			if t.take(k.kind, name) {
				if m := spdAddress.FindStringSubmatch(lower); m != nil {
					t.haul.Readings[len(t.haul.Readings)-1].Address = "0x" + m[1]
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
