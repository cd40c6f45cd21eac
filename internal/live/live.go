// Package live takes readings: from this machine, from a copy of a Linux
// system tree, or from files collected in a folder. It takes bytes as they
// are and decodes nothing; what could not be taken is reported with the
// reason. It never writes to the machine it reads.
package live

import (
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"sort"
	"strings"
	"syscall"
	"time"

	"epitome/core/card"
)

// maxReading bounds one reading, in bytes. The largest, a firmware table, is
// well under 1 MiB on any machine.
const maxReading = 4 << 20

// A Note says what became of one source: taken, or why not.
type Note struct {
	Source string
	Taken  bool
	Says   string // "505 bytes", or why there is nothing and what to do
}

// A Haul is everything that was read in one go.
type Haul struct {
	Readings []card.Reading
	Notes    []Note
}

// TellsOfMemory reports whether anything was read that tells what memory is
// fitted: a firmware table, a module's EEPROM, a hand entry, or management
// objects.
func (h Haul) TellsOfMemory() bool {
	return h.HasTable() || h.has(card.SPD) || h.has(card.Hand) || h.has(card.CIM) || h.has(card.Panel)
}

// HasTable reports whether a firmware table is among the readings.
func (h Haul) HasTable() bool { return h.has(card.Table) || h.has(card.TableFile) }

// Add puts a reading that was made elsewhere beside the others.
func (h *Haul) Add(r card.Reading) {
	h.Readings = append(h.Readings, r)
	h.Notes = append(h.Notes, Note{Source: r.Source, Taken: true, Says: fmt.Sprintf("%d bytes", len(r.Data))})
}

func (h Haul) has(kind card.Kind) bool {
	for _, r := range h.Readings {
		if r.Kind == kind && len(r.Data) > 0 {
			return true
		}
	}
	return false
}

// A taker collects readings from below one folder.
type taker struct {
	root *os.Root
	how  string // as in card.Reading
	show string // put before a path when it is shown
	now  time.Time
	haul Haul
}

func (t *taker) note(source string, taken bool, format string, args ...any) {
	t.haul.Notes = append(t.haul.Notes, Note{Source: source, Taken: taken, Says: fmt.Sprintf(format, args...)})
}

// take reads one file whole and keeps it as a reading.
func (t *taker) take(kind card.Kind, name string) bool {
	data, err := t.read(name)
	source := t.show + name
	if err != nil {
		t.note(source, false, "%s", explain(err))
		if kind == card.Table {
			// the card remembers why places are not known
			t.keep(card.Reading{Kind: kind, Source: source, Failure: explain(err)})
		}
		return false
	}
	if len(data) == 0 {
		t.note(source, false, "is empty")
		return false
	}
	t.keep(card.Reading{Kind: kind, Source: source, Data: data})
	t.note(source, true, "%d bytes", len(data))
	return true
}

func (t *taker) keep(r card.Reading) {
	r.How, r.Taken = t.how, t.now
	t.haul.Readings = append(t.haul.Readings, r)
}

var errTooLong = errors.New("too long")

func (t *taker) read(name string) ([]byte, error) {
	f, err := t.root.Open(name)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	if info, err := f.Stat(); err == nil && !info.Mode().IsRegular() {
		return nil, fmt.Errorf("%w: not a plain file", fs.ErrInvalid)
	}
	data, err := io.ReadAll(io.LimitReader(f, maxReading+1))
	if err == nil && len(data) > maxReading {
		return nil, fmt.Errorf("%w: over %d bytes, no such reading is that long", errTooLong, maxReading)
	}
	return data, err
}

// explain puts a failed read into words that say what to do.
func explain(err error) string {
	switch {
	case errors.Is(err, fs.ErrPermission):
		return "may not be read by this user; run again as root (sudo)"
	case errors.Is(err, fs.ErrNotExist):
		return "is not there"
	case errors.Is(err, syscall.ENXIO):
		return "the chip did not answer (ENXIO)"
	}
	var p *fs.PathError
	if errors.As(err, &p) {
		err = p.Err
	}
	return err.Error()
}

// openRoot opens the folder that everything is read below. Links that lead
// out of it are not followed.
func openRoot(folder string) (*os.Root, error) {
	root, err := os.OpenRoot(folder)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, fmt.Errorf("%s is not there; name a folder that exists", folder)
	}
	if err != nil {
		return nil, fmt.Errorf("%s can't be opened: %s; name a folder", folder, explain(err))
	}
	return root, nil
}

// names lists the entries of a folder below the root, sorted.
func (t *taker) names(folder string) []string {
	d, err := t.root.Open(folder)
	if err != nil {
		return nil
	}
	defer d.Close()
	names, _ := d.Readdirnames(-1)
	sort.Strings(names)
	return names
}

// pciList writes the devices below /sys/bus/pci/devices one a line: address,
// vendor:device, class, as the card keeps them.
func (t *taker) pciList() {
	const folder = "sys/bus/pci/devices"
	var b strings.Builder
	for _, address := range t.names(folder) {
		vendor, device, class := t.hex(folder, address, "vendor"), t.hex(folder, address, "device"), t.hex(folder, address,
			"class")
		if vendor != "" && device != "" {
			fmt.Fprintf(&b, "%s %s:%s %s\n", address, vendor, device, class)
		}
	}
	if b.Len() == 0 {
		t.note(t.show+folder, false, "lists no device")
		return
	}
	t.keep(card.Reading{Kind: card.PCI, Source: t.show + folder, Data: []byte(b.String())})
	t.note(t.show+folder, true, "%d devices", strings.Count(b.String(), "\n"))
}

// hex reads a sysfs attribute such as "0x8086" without its prefix.
func (t *taker) hex(parts ...string) string {
	data, err := t.read(path.Join(parts...))
	if err != nil || len(data) > 16 {
		return ""
	}
	return strings.TrimPrefix(strings.TrimSpace(string(data)), "0x")
}
