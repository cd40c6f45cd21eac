package live_test

import (
	"bytes"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/need"
	"epitome/internal/live"
)

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

// tree writes files below a temporary folder.
func tree(t *testing.T, files map[string]string) string {
	t.Helper()
	root := t.TempDir()
	for name, text := range files {
		path := filepath.Join(root, filepath.FromSlash(name))
		require.NoError(t, os.MkdirAll(filepath.Dir(path), 0o755))
		require.NoError(t, os.WriteFile(path, []byte(text), 0o644))
	}
	return root
}

func notes(h live.Haul) string {
	var b strings.Builder
	for _, n := range h.Notes {
		b.WriteString(n.Source + ": " + n.Says + "\n")
	}
	return b.String()
}

func kinds(h live.Haul) (list []card.Kind) {
	for _, r := range h.Readings {
		list = append(list, r.Kind)
	}
	return list
}

func TestATreeIsReadAsTakenAndSaysWhatIsMissing(t *testing.T) {
	root := tree(t, map[string]string{
		"sys/firmware/dmi/tables/DMI":             "\x7f\x04\x00\x7f\x00\x00",
		"proc/cpuinfo":                            "processor : 0\n",
		"sys/bus/pci/devices/0000:00:1f.0/vendor": "0x8086\n",
		"sys/bus/pci/devices/0000:00:1f.0/device": "0xa305\n",
		"sys/bus/pci/devices/0000:00:1f.0/class":  "0x060100\n",
		"sys/bus/pci/devices/0000:00:02.0/vendor": "0x1234\n", // no device: no line
		"sys/bus/i2c/devices/0-0057/name":         "24c02\n",
		"sys/bus/i2c/devices/0-0058/name":         "spd\n", // no module's address
		"sys/bus/i2c/devices/3-0050/eeprom":       strings.Repeat("\x00", 2000),
	})
	h, err := live.Tree(root, noon)
	require.NoError(t, err)
	assert.Equal(t, []card.Kind{card.Table, card.SPD, card.SPD, card.CPUInfo, card.PCI}, kinds(h))
	assert.Equal(t, "\x7f\x04\x00\x7f\x00\x00", string(h.Readings[0].Data))
	assert.Equal(t, noon, h.Readings[0].Taken)
	assert.Equal(t, "system copy", h.Readings[0].How)
	assert.Contains(t, h.Readings[1].Failure, "modprobe at24")
	assert.Equal(t, "0-0057", h.Readings[1].Address)
	assert.Equal(t, "is longer than any module's EEPROM", h.Readings[2].Failure)
	assert.Equal(t, "0000:00:1f.0 8086:a305 060100\n", string(h.Readings[4].Data))
	said := notes(h)
	for _, want := range []string{"smbios_entry_point: is not there", "proc/meminfo: is not there",
		"proc/pressure/memory: is not there", "2 module EEPROMs shown"} {
		assert.Contains(t, said, want)
	}
	assert.NotContains(t, said, "0-0058")
	assert.True(t, h.HasTable())
	assert.True(t, h.TellsOfMemory())
}

func TestLinksNeverLeadOutOfTheTree(t *testing.T) {
	secret := filepath.Join(t.TempDir(), "secret")
	require.NoError(t, os.WriteFile(secret, []byte("private"), 0o644))
	root := tree(t, map[string]string{"proc/meminfo": "MemTotal: 1 kB\n"})
	require.NoError(t, os.Symlink(secret, filepath.Join(root, "proc", "cpuinfo")))
	require.NoError(t, os.Symlink("meminfo", filepath.Join(root, "proc", "vmstat")))
	h, err := live.Tree(root, noon)
	require.NoError(t, err)
	assert.Equal(t, []card.Kind{card.SPD, card.MemInfo, card.VMStat}, kinds(h),
		"links inside the tree are followed; that no EEPROM was shown is remembered")
	for _, r := range h.Readings {
		assert.NotContains(t, string(r.Data), "private")
	}
	assert.False(t, h.TellsOfMemory())
}

func TestOddFilesAreNamedAndLeftAlone(t *testing.T) {
	root := tree(t, map[string]string{"DMI": "", "spd-50.bin": "image", "SPD-51.BIN": "image", "module.SPD": "image",
		"cim-memory.json": "{}", "hand.yaml": "epitome-hand: 1\n", "notes.txt": "hello"})
	require.NoError(t, os.Mkdir(filepath.Join(root, "cpuinfo"), 0o755))
	require.NoError(t, os.WriteFile(filepath.Join(root, "big.smbios"), bytes.Repeat([]byte{1}, 5<<20), 0o644))
	h, err := live.Folder(root, noon)
	require.NoError(t, err)
	addresses := make(map[string]string)
	for _, r := range h.Readings {
		addresses[filepath.Base(r.Source)] = r.Address
	}
	assert.Equal(t, map[string]string{"spd-50.bin": "0x50", "SPD-51.BIN": "0x51", "module.SPD": "",
		"cim-memory.json": "", "hand.yaml": ""}, addresses)
	said := notes(h)
	for _, want := range []string{"DMI: is empty", "cpuinfo: ", "not a plain file", "big.smbios: too long",
		"notes.txt: not a name that intake knows"} {
		assert.Contains(t, said, want)
	}
}

func TestAFolderThatIsNotThere(t *testing.T) {
	for _, open := range []func(string, time.Time) (live.Haul, error){live.Tree, live.Folder} {
		_, err := open(filepath.Join(t.TempDir(), "nowhere"), noon)
		require.Error(t, err)
		assert.Contains(t, err.Error(), "is not there; name a folder that exists")
	}
	file := filepath.Join(t.TempDir(), "file")
	require.NoError(t, os.WriteFile(file, nil, 0o644))
	_, err := live.Folder(file, noon)
	require.Error(t, err)
	assert.Contains(t, err.Error(), "name a folder")
}

func TestASamplerReadsItsFilesAnew(t *testing.T) {
	root := tree(t, map[string]string{"proc/meminfo": "MemTotal: 1000 kB\nMemAvailable: 400 kB\n",
		"proc/vmstat":          "pswpin 5\npgmajfault 7\n",
		"proc/pressure/memory": "some avg10=0.00 avg60=0.00 avg300=0.00 total=99\n",
		"proc/stat":            "cpu  10 0 5 100 20 0 1 0\n"})
	s, err := live.NewSampler(root, noon)
	require.NoError(t, err)
	defer s.Close()
	first := s.Sample(noon)
	require.NoError(t, os.WriteFile(filepath.Join(root, "proc", "meminfo"),
		[]byte("MemTotal: 1000 kB\nMemAvailable: 300 kB\n"), 0o644))
	second := s.Sample(noon.Add(time.Second))
	for _, x := range []struct {
		sample need.Sample
		field  need.Field
		want   int64
	}{{first, need.Available, 400}, {second, need.Available, 300}, {second, need.SwapIn, 5},
		{second, need.MajorFaults, 7}, {second, need.MemoryStall, 99}, {second, need.CPUBusy, 16}} {
		got, ok := x.sample.Get(x.field)
		assert.True(t, ok)
		assert.Equal(t, x.want, got)
	}
	assert.Equal(t, time.Second, second.At)
	_, ok := second.Get(need.DiskStall)
	assert.False(t, ok, "this kernel has no such file")

	_, err = live.NewSampler(tree(t, map[string]string{"proc/vmstat": "pswpin 5\n"}), noon)
	require.Error(t, err)
	assert.Contains(t, err.Error(), "shows no memory figures")
}
