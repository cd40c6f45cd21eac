package live

import (
	"errors"
	"io"
	"io/fs"
	"path"
	"slices"
	"strings"

	"epitome/core/card"
	"epitome/core/pattern"
)

// Where the kernel shows the chips on its I2C and SMBus wires. A module's
// EEPROM answers at 0x50 to 0x57; beside it stand devices that are none
// (dummies at 0x36 and 0x37, thermal sensors at 0x18 to 0x1f).
const chipFolder = "sys/bus/i2c/devices"

var moduleAddress = pattern.Of(`^\d+-005[0-7]$`)

// chipDrivers names the driver that shows the EEPROM of a device by its name.
var chipDrivers = map[string]string{"ee1004": "ee1004", "spd5118": "spd5118", "spd": "at24", "24c02": "at24",
	"eeprom": "at24"}

// largestEEPROM is a DDR5 hub's.
const largestEEPROM = 1024

// eeproms reads every module EEPROM that the kernel shows. It loads no driver
// and writes to no bus: what is missing is said, with what would help.
func (t *taker) eeproms() {
	devices := 0
	for _, name := range t.names(chipFolder) {
		if !moduleAddress().MatchString(name) {
			continue
		}
		devices++
		t.eeprom(name)
	}
	if devices == 0 {
		t.keep(card.Reading{Kind: card.SPD, Source: t.show + chipFolder,
			Failure: "no module EEPROM is shown: the driver of the bus or of the chips may not be loaded; modprobe at24, " +
				"ee1004 or spd5118 loads one, as root"})
		t.note(t.show+chipFolder, false,
			"shows no module EEPROM. That proves nothing of the slots: the bus driver (i2c-i801 or i2c-piix4) or the "+
				"chip driver "+
				"(at24 to DDR3, ee1004 for DDR4, spd5118 for DDR5) may not be loaded; modprobe loads one, as root")
		return
	}
	t.note(t.show+chipFolder, true,
		"%d module EEPROMs shown; the kernel stops its search early, so a missing one proves nothing", devices)
}

// eeprom reads one chip, whole, or as much of it as answers.
func (t *taker) eeprom(device string) {
	folder := path.Join(chipFolder, device)
	source := t.show + folder
	chip := ""
	if data, err := t.read(folder + "/name"); err == nil {
		chip = strings.TrimSpace(string(data))
	}
	reading := card.Reading{Kind: card.SPD, Source: source, Address: device}
	data, err := t.read(folder + "/eeprom")
	switch {
	case err == nil && len(data) > largestEEPROM:
		reading.Failure = "is longer than any module's EEPROM"
	case err == nil:
		reading.Data = data
	case errors.Is(err, fs.ErrNotExist):
		driver := chipDrivers[chip]
		if driver == "" {
			driver = "at24, ee1004 or spd5118"
		}
		reading.Failure = "no eeprom file: the chip driver is not loaded; modprobe " + driver + " loads it, as root"
	default:
		whole := explain(err)
		if data = t.pieces(folder + "/eeprom"); len(data) > 0 {
			reading.Data = data
			whole += "; its first bytes could be read all the same"
		}
		if slices.Contains(imageSizes, len(data)) {
			whole = "" // it is whole: the driver only would not give it in one go
		}
		reading.Failure = whole
	}
	t.keep(reading)
	switch {
	case reading.Failure == "":
		t.note(source, true, "%d bytes", len(reading.Data))
	case len(reading.Data) > 0:
		t.note(source, true, "%d bytes only: %s", len(reading.Data), reading.Failure)
	default:
		t.note(source, false, "%s", reading.Failure)
	}
}

// imageSizes are the sizes of whole EEPROM images: SDR to DDR3, DDR4, DDR5.
var imageSizes = []int{256, 512, 1024}

// pieces reads a file in small pieces up to the first that fails: a chip whose
// last page can't be reached fails a read of the whole.
func (t *taker) pieces(name string) []byte {
	const piece = 64
	f, err := t.root.Open(name)
	if err != nil {
		return nil
	}
	defer f.Close()
	var data []byte
	for len(data) < largestEEPROM {
		buf := make([]byte, piece)
		n, err := f.ReadAt(buf, int64(len(data)))
		data = append(data, buf[:n]...)
		if n < piece || err != nil && !errors.Is(err, io.EOF) {
			break
		}
	}
	return data
}
