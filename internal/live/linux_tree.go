package live

import (
	"path"
	"time"

	"epitome/core/card"
)

// Where a Linux kernel shows what is wanted, below the root.
const (
	dmiFolder = "sys/firmware/dmi/tables"
)

var procTexts = []struct {
	kind card.Kind
	name string
}{
	{card.CPUInfo, "proc/cpuinfo"},
	{card.MemInfo, "proc/meminfo"},
	{card.VMStat, "proc/vmstat"},
	{card.Pressure, "proc/pressure/memory"},
}

// Tree reads a Linux system tree: "/" for this machine, or a folder that
// holds a copy of its sys and proc. The error says that the folder itself
// can't be opened; everything else is a note.
func Tree(folder string, now time.Time) (Haul, error) {
	root, err := openRoot(folder)
	if err != nil {
		return Haul{}, err
	}
	defer root.Close()
	t := taker{root: root, how: "live", show: "/", now: now}
	if folder != "/" {
		t.how, t.show = "system copy", path.Clean(folder)+"/"
	}
	if len(t.names(dmiFolder)) == 0 {
		t.note(t.show+dmiFolder, false,
			"is not there: this machine shows no firmware table (a virtual machine without one, or firmware without SMBIOS)")
	} else {
		t.take(card.EntryPoint, dmiFolder+"/smbios_entry_point")
		t.take(card.Table, dmiFolder+"/DMI")
	}
	t.eeproms()
	for _, p := range procTexts {
		t.take(p.kind, p.name)
	}
	t.pciList()
	return t.haul, nil
}
