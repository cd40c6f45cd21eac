package spd_test

import (
	"fmt"
	"path/filepath"
	"reflect"
	"regexp"
	"slices"
	"strings"
	"testing"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/spd"
	"epitome/core/spd/compose"
	"epitome/golden"
	"epitome/truth/effort"
)

// An original is an image whose bytes are changed one by one; sum makes its checksums right again.
type original struct {
	name  string
	image compose.Image
	sum   func(compose.Image)
}

func originals() []original {
	sum8 := func(im compose.Image) { im.Sum8() }
	crc := func(im compose.Image) { im.CRC(0, 125, 126) }
	crc4 := func(im compose.Image) { im.CRC(0, 125, 126).CRC(128, 253, 254) }
	crc5 := func(im compose.Image) { im.CRC(0, 509, 510).CRC(704, 765, 766).CRC(768, 829, 830).CRC(832, 957, 958) }
	profiles3 := slices.Clone(ddr3())
	profiles3.Put(176, 0x0C, 0x4A, 0x03, 0x13, 1, 8, 1, 10)
	profiles3.Put(185, 0x2D, 8, 80, 0, 0, 0, 88, 88, 0, 0x11, 24, 120).Put(211, 0xFC, 1, 2, 3, 4)
	profiles3.Put(220, 0x30, 9, 100, 0, 0, 0, 100, 100, 0, 0x11, 30, 140)
	registered := ddr4()
	registered.Type, registered.ECC, registered.Ranks, registered.WidthCode = 1, true, 2, 0
	stacked := compose.Image(registered.Bytes())
	stacked.Put(6, 0xA2).Put(10, 0x91).Put(14, 0x80)
	profiled := ddr4()
	profiled.ProfileTCK, profiled.ProfileCL, profiled.ProfileRCD, profiled.ProfileRAS, profiled.ProfileMilliVolts = 556,
		18, 22, 42,
		1350
	profiled5 := slices.Clone(ddr5())
	profiled5.Put(640, 0x0C, 0x4A, 0x30, 0x03)
	for i, tck := range []int{333, 312} {
		at := 704 + 64*i
		profiled5.Put(
			at+1,
			0x27,
		).Word(
			at+5,
			tck,
		).Word(
			at+13,
			12000,
		).Word(
			at+15,
			12667,
		).Word(
			at+17,
			12667,
		).Word(
			at+19,
			25333,
		).
			Word(
				at+21,
				38000,
			)
	}
	profiled5.Put(832, 'E', 'X', 'P', 'O', 0x10, 0x11).Put(842, 0x26).Word(846, 357).Word(848, 12857).Word(850, 12857).
		Word(852, 12857).Word(854, 28571).Word(856, 41428)
	profiled5.Put(882, 0x26).Word(886, 400).Word(888, 16000).Word(890, 16000).Word(892, 16000).Word(894,
		30000).Word(896, 45000)
	low5 := slices.Clone(lowPower())
	low5.Put(2, 0x13)
	return []original{{"SDR", sdr(), sum8}, {"DDR", ddr(), sum8}, {"DDR2", ddr2(), sum8}, {"DDR3 with profiles",
		profiles3, crc4},
		{"DDR4 with a profile", profiled.Bytes(), crc4}, {"DDR4, registered, stacked and asymmetric", stacked, crc4},
		{"LPDDR3", lowPower(), crc}, {"LPDDR5", low5, crc}, {"DDR5", ddr5(), crc5}, {"DDR5 with profiles of both kinds",
			profiled5, crc5}}
}

// changed are the fields in which two modules differ.
func changed(a, b spd.Module) (names []string) {
	x, y := reflect.ValueOf(a), reflect.ValueOf(b)
	for i := range x.NumField() {
		if reflect.DeepEqual(x.Field(i).Interface(), y.Field(i).Interface()) {
			continue // writing both takes a hundred times as long
		}
		if fmt.Sprintf("%+v", x.Field(i)) != fmt.Sprintf("%+v", y.Field(i)) {
			names = append(names, x.Type().Field(i).Name)
		}
	}
	return names
}

// What each byte of each layout says: the fields that change with it, with every bit flipped in turn and with no bit
// or every bit set; what each code becomes is held by TestEveryCodeOfEveryByte. Then what an image cut short at each
// length still says.
func TestEffectOfEachByte(t *testing.T) {
	effort.NotShort(t)
	for _, o := range originals() {
		t.Run(o.name, func(t *testing.T) {
			o.sum(o.image)
			page := effects(decode(t, o.image), o)
			golden.Compare(t, filepath.Join("testdata", "effects", o.name+".txt"), page)
		})
	}
}

func effects(base spd.Module, o original) string {
	var page strings.Builder
	fmt.Fprintf(&page, "%s, %d bytes\n", o.name, len(o.image))
	for i := range base.Profiles {
		base.Profiles[i].Check = maybe.None[spd.Check]()
	}
	v := reflect.ValueOf(base)
	for i := range v.NumField() {
		value := fmt.Sprintf("%+v", v.Field(i))
		if code, ok := v.Field(i).Interface().(jedec.MakerCode); ok {
			value = fmt.Sprintf("bank %d, code %#x", code.Bank, code.Code)
		}
		fmt.Fprintf(&page, "%s: %s\n", v.Type().Field(i).Name, value)
	}
	lines := make([]string, len(o.image))
	for at, was := range o.image {
		var fields []string
		for _, value := range []byte{0, 0xFF, was ^ 1, was ^ 2, was ^ 4, was ^ 8, was ^ 16, was ^ 32, was ^ 64, was ^ 128} {
			image := slices.Clone(o.image)
			image[at] = value
			o.sum(image)
			m, err := spd.Decode(image)
			for i, p := range m.Profiles { // the sums differ with every byte
				if c, ok := p.Check.Get(); ok && c.OK() {
					m.Profiles[i].Check = maybe.None[spd.Check]()
				}
			}
			if err != nil {
				fields = append(fields, "no module")
				continue
			}
			fields = append(fields, changed(base, m)...)
		}
		slices.Sort(fields)
		if fields = slices.Compact(fields); len(fields) > 0 {
			lines[at] = strings.Join(fields, " ")
		}
	}
	write(&page, "byte", lines)
	for n := range lines {
		m, err := spd.Decode(o.image[:n])
		says := "without " + strings.Join(changed(base, m), " ")
		if err != nil {
			says = err.Error()
		}
		lines[n] = regexp.MustCompile(fmt.Sprintf(`\b%d\b`, n)).ReplaceAllString(says+": "+strings.Join(m.Notes, "; "), "N")
	}
	write(&page, "cut at", lines)
	return page.String()
}

// write writes lines that are numbered, those that are alike together, and none of the empty ones.
func write(page *strings.Builder, what string, lines []string) {
	for i := 0; i < len(lines); {
		next := i + 1
		for next < len(lines) && lines[next] == lines[i] {
			next++
		}
		if lines[i] != "" {
			numbers := fmt.Sprint(i)
			if next-1 > i {
				numbers += fmt.Sprint(" to ", next-1)
			}
			fmt.Fprintf(page, "%s %s: %s\n", what, numbers, lines[i])
		}
		i = next
	}
}
