package redact_test

import (
	"encoding/base64"
	"encoding/binary"
	"encoding/hex"
	"strings"
	"testing"
	"unicode/utf16"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/catalogue"
	"epitome/core/evidence"
	"epitome/core/reading"
	"epitome/core/redact"
	"epitome/core/smbios/compose"
	spdcompose "epitome/core/spd/compose"
)

// secret is what is planted; no word of it may leave.
const secret = "Quayside-7731"

func wide(s string) (out []byte) {
	for _, u := range utf16.Encode([]rune(s)) {
		out = binary.LittleEndian.AppendUint16(out, u)
	}
	return out
}

// leaks reports whether data holds the secret in any way in which the readers
// would see it.
func leaks(data []byte) bool {
	for _, way := range [][]byte{
		[]byte(secret), wide(secret), []byte(strings.ToLower(secret)), []byte(hex.EncodeToString([]byte(secret))),
		[]byte(base64.StdEncoding.EncodeToString([]byte(secret)))[:12],
	} {
		if strings.Contains(strings.ToLower(string(data)), strings.ToLower(string(way))) {
			return true
		}
	}
	return false
}

// hidden is a firmware table with the secret in every string that is nobody's
// business, and in every structure that memory work does not need.
func hidden() []byte {
	strings := func(kind uint8, handle uint16, long int, fields ...int) compose.Structure {
		s := compose.Structure{Type: kind, Handle: handle, Body: make([]byte, long-4)}
		for i, at := range fields {
			s.Body[at-4] = byte(i + 1)
			s.Strings = append(s.Strings, secret)
		}
		copy(s.Body[long-4-1:], secret)
		return s
	}
	system := strings(1, 0x100, 27, 6, 7, 0x19, 0x1A) // version, serial, SKU, family
	copy(system.Body[4:], secret)                     // the machine's own number, sixteen bytes
	processor := strings(4, 0x400, 48, 0x20, 0x21, 0x22)
	copy(processor.Body[8:12], secret)
	device := compose.Device{Handle: 0x1100, Array: 0x1000, MiB: 8192, Form: 0x0D, Type: 0x1A, Locator: "DIMM A",
		Speed: 2400, Serial: "4F21A09C", Part: "MR4S", Maker: "Marram Memory"}.Structure()
	return compose.Table(append(compose.Identity{Maker: "Halyard", Product: "Gull 14", Serial: secret,
		ChassisKind: 0x0A}.Structures(),
		system, strings(2, 0x200, 17, 6, 7, 8, 10), strings(3, 0x300, 24, 6, 7, 8), processor,
		compose.Array(0x1000, 32<<20, 2), device,
		strings(11, 0xB00, 5), compose.Structure{Type: 11, Handle: 0xB01, Body: []byte{1}, Strings: []string{secret}},
		strings(22, 0x1600, 26, 4, 5, 6, 7), strings(39, 0x2700, 22, 6, 7, 8, 9),
		compose.Structure{Type: 0xDD, Handle: 0xDD00, Body: []byte(secret), Strings: []string{secret}})...)
}

// windowsForm wraps a table as one operating system hands it out.
func windowsForm(table []byte) []byte {
	return append(binary.LittleEndian.AppendUint32([]byte{0, 3, 2, 0}, uint32(len(table))), table...)
}

func image() []byte {
	im := spdcompose.DDR4{Ranks: 1, TCK: 833, TAA: 13750, TRCD: 13750, TRP: 13750, TRAS: 32000, TRC: 45750, FirstCL: 10,
		LastCL: 17, Identity: spdcompose.Identity{Serial: "4F21A09C", Part: "MR4S"}}.Bytes()
	for _, at := range []int{60, 140, 353, 400, 480} {
		copy(im[at:], secret)
	}
	return im
}

const objects = `[{"CreationClassName":"CIM_ComputerSystem","Name":"Quayside-7731","Domain":"Quayside-7731",
"UserName":"Quayside-7731","DNSHostName":"Quayside-7731","NumberOfLogicalProcessors":8,"TotalPhysicalMemory":8000},
{"Name":"Quayside-7731","NumberOfLogicalProcessors":8,"TotalPhysicalMemory":8000},
{"CreationClassName":"CIM_OperatingSystem","Caption":"Linux","CSName":"Quayside-7731",
"RegisteredUser":"Quayside-7731","SerialNumber":"Quayside-7731","Organization":"Quayside-7731",
"TotalVisibleMemorySize":8000000},
{"CreationClassName":"CIM_PhysicalMemory","DeviceLocator":"DIMM A","Capacity":8589934592,"SerialNumber":"4F21A09C",
"Tag":"Quayside-7731","OtherIdentifyingInfo":"Quayside-7731","Description":"Quayside-7731"},
{"CreationClassName":"CIM_Processor","Name":"Petrel P5","ProcessorId":"5175617900080 6EA","SystemName":"Quayside-7731",
"AssetTag":"Quayside-7731"}]`

// planted is a card with the secret in every field of every kind of reading
// that no finding needs.
func planted() card.Card {
	kernel := "processor\t: 0\nvendor_id\t: Petrel\nmodel name\t: Petrel P5\ncpu family\t: 6\nmodel\t: " +
		"142\nSerial\t\t: Quayside-7731\nHardware\t: Quayside-7731\nflags\t: lm quayside-7731\n"
	c := card.Card{Title: secret, Readings: []card.Reading{
		{Kind: card.TableFile, Data: windowsForm(hidden())},
		{Kind: card.SPD, Address: secret, Data: image()},
		{Kind: card.SPD, Address: "0x51", Failure: "no answer from " + secret},
		{Kind: card.CPUInfo, Data: []byte(kernel)},
		{Kind: card.MemInfo, Data: []byte("MemTotal: 8000000 kB\nQuayside-7731: 12 kB\n")},
		{Kind: card.VMStat, Data: []byte("pswpin 12\nquayside-7731 12\n")},
		{Kind: card.Pressure, Data: []byte("some avg10=0.00 avg60=0.00 avg300=0.00 total=12\nsome Quayside-7731\n")},
		{Kind: card.PCI, Data: []byte("Quayside-7731 8086:a305 060100\n")},
		{Kind: card.CIM, Data: []byte(objects)},
		{Kind: card.CIM, Data: append([]byte{0xFF, 0xFE}, wide(objects)...)},
		{Kind: card.CIM, Data: []byte("Caption,CSName,TotalVisibleMemorySize\r\nLinux,Quayside-7731,8000000\r\n")},
		{Kind: card.Series, Data: []byte("at_ms,total_kib,quayside-7731\n0,8000000,7731\n")},
		{Kind: card.Hand, Data: []byte("epitome-hand: 1\nby: Quayside-7731, keeper\nremarks: Quayside-7731\nmaximum: " +
			"{size: 32GB, from: Quayside-7731}\ndistrust: [Quayside-7731]\nplaces: [{name: DIMM A, holds: 8GB 1Rx8 DDR4-2400 " +
			"of Quayside-7731}]\n")},
		{Kind: card.Hand, Failure: "withdrawn by " + secret, Data: []byte("epitome-hand: 1\n")},
		{Kind: card.Plan, Data: []byte("epitome-plan: 1\ngoal: reach 16 GB for Quayside-7731\ncurrency: " +
			"Quayside-7731\nlists: [{name: /home/Quayside-7731/list.csv, sha256: Quayside-7731}]\nways: [{number: 1, picks: " +
			"[Quayside-7731], put: [{place: DIMM A, stick: 8GB DDR4-2400 SO-DIMM, sku: Quayside-7731}], buys: [{units: 1, " +
			"text: 8GB DDR4-2400 SO-DIMM for Quayside-7731, sku: Quayside-7731, supplier: Quayside-7731, price: " +
			"Quayside-7731}], cost: Quayside-7731}]\n")},
		{Kind: card.Outcome, Data: []byte("epitome-outcome: 1\ndate: Quayside-7731\nproposal: 1\nresult: " +
			"Quayside-7731\ntotal_mib: 8192\ndiffers: [{about: Quayside-7731, predicted: Quayside-7731, found: " +
			"Quayside-7731}]\n")},
	}}
	for i := range c.Readings {
		c.Readings[i].Source, c.Readings[i].How = "/home/"+secret+"/"+string(rune('a'+i)), secret
	}
	return c
}

func TestNoSecretLeavesTheShop(t *testing.T) {
	c := planted()
	for i, r := range c.Readings {
		if len(r.Data) > 0 && !(r.Kind == card.Hand && r.Failure != "") {
			require.True(t, leaks(r.Data), "nothing is planted in reading %d (%s)", i+1, r.Kind)
		}
	}
	shared, leftOut := redact.Card(c)
	assert.Empty(t, leftOut)
	text, err := shared.Encode()
	require.NoError(t, err)
	assert.False(t, leaks(text), "%s", text)
	for _, r := range shared.Readings {
		assert.False(t, leaks(r.Data), "%s: %q", r.Kind, r.Data)
	}
	before, after := evidence.Weigh(reading.Of(c), catalogue.Catalogue{}), evidence.Weigh(reading.Of(shared),
		catalogue.Catalogue{})
	require.Len(t, after.Places, len(before.Places))
	assert.Equal(t, before.Places[0].Module.Rated.Value(), after.Places[0].Module.Rated.Value())
	assert.Equal(t, "0x50", after.Places[0].EEPROMAddress+"0x50"[len(after.Places[0].EEPROMAddress):])
	assert.Equal(t, before.Model.Value(), after.Model.Value())
	assert.Equal(t, before.Processor.Value(), after.Processor.Value())
	assert.Equal(t, before.Totals.Visible.Value(), after.Totals.Visible.Value())
}

func TestEveryFormOfATableIsRedacted(t *testing.T) {
	table := hidden()
	for name, readings := range map[string][]card.Reading{
		"kernel's two files": {{Kind: card.EntryPoint, Source: "e", Data: compose.EntryPoint64(3, 2, len(table))},
			{Kind: card.Table, Source: "t", Data: table}},
		"one file": {{Kind: card.TableFile, Source: "t",
			Data: append(compose.EntryPoint64(3, 2, len(table)), table...)}},
		"one file, padded": {{Kind: card.TableFile, Source: "t",
			Data: append(append(compose.EntryPoint32(2, 8, len(table), 0), 0), table...)}},
		"Windows": {{Kind: card.TableFile, Source: "t", Data: windowsForm(table)}},
		"damaged": {{Kind: card.Table, Source: "t", Data: table[:len(table)-20]}},
	} {
		c := card.Card{Readings: readings}
		shared, leftOut := redact.Card(c)
		assert.Empty(t, leftOut, name)
		require.Len(t, shared.Readings, 1, name)
		assert.False(t, leaks(shared.Readings[0].Data), name)
		before, after := evidence.Weigh(reading.Of(c), catalogue.Catalogue{}), evidence.Weigh(reading.Of(shared),
			catalogue.Catalogue{})
		assert.Equal(t, before.Model, after.Model, name)
		assert.Equal(t, len(before.Places), len(after.Places), name)
	}
}

// Serial numbers that were one number stay one, however they are spelled;
// what says that there is none stays as it is.
func TestSerialNumbersKeepTheirKinship(t *testing.T) {
	serialOf := func(serials ...string) (out []string) {
		structures := compose.Identity{Maker: "Halyard", ChassisKind: 0x0A}.Structures()
		structures = append(structures, compose.Array(0x1000, 32<<20, uint16(len(serials))))
		for i, s := range serials {
			structures = append(structures,
				compose.Device{Handle: uint16(0x1100 + i), Array: 0x1000, MiB: 8192, Form: 0x0D, Type: 0x1A,
					Locator: "DIMM " + string(rune('A'+i)), Serial: s, Part: "MR4S"}.Structure())
		}
		c := card.Card{Readings: []card.Reading{{Kind: card.Table, Source: "t", Data: compose.Table(structures...)}}}
		shared, _ := redact.Card(c)
		for _, p := range evidence.Weigh(reading.Of(shared), catalogue.Catalogue{}).Places {
			out = append(out, p.Module.Serial.Or("none"))
		}
		return out
	}
	got := serialOf("4F21A09C", "9CA0214F", "4f21a09c", "0x4F21A09C", "1234", "00001234", "SN-99-QUAY", "A1B2C3D4E",
		"Unknown",
		"00000000")
	assert.NotEqual(t, "4F21A09C", got[0])
	turned, _ := hex.DecodeString(got[0])
	assert.Equal(t, strings.ToUpper(hex.EncodeToString([]byte{turned[3], turned[2], turned[1], turned[0]})), got[1])
	assert.Equal(t, strings.ToLower(got[0]), got[2])
	assert.Equal(t, "0x"+got[0], got[3])
	assert.Equal(t, "0000"+got[4], got[5])
	assert.NotEqual(t, "1234", got[4])
	assert.NotContains(t, got[6], "QUAY")
	assert.Equal(t, "X0000004", got[7], "nine digits are no number of an EEPROM")
	assert.Equal(t, []string{"none", "none"}, got[8:], "a placeholder is no serial number, and does not become one")
}

func TestWhatIsNotUnderstoodStaysHome(t *testing.T) {
	shared, leftOut := redact.Card(card.Card{Readings: []card.Reading{
		{Kind: card.SPD, Source: "odd.bin", Data: []byte{1, 2, 0x99, 4}},
		{Kind: card.Hand, Source: "hand", Data: []byte("nonsense: [")},
		{Kind: card.CIM, Source: "cim.json", Data: []byte("{")},
		{Kind: card.MemInfo, Source: "meminfo", Data: []byte("hello\n")},
		{Kind: card.Plan, Source: "p",
			Data: []byte("epitome-plan: 1\nways: [{number: 1, put: [{place: A, stick: a bag of crisps}]}]\n")},
	}})
	assert.Empty(t, shared.Readings)
	require.Len(t, leftOut, 5)
	assert.Equal(t, "spd 1 (spd): it can't be taken apart", leftOut[0])
}

// A card that was shared holds no serial number of the original, whatever its
// bytes are, and can be shared again.
func FuzzCard(f *testing.F) {
	f.Add(hidden())
	f.Add(windowsForm(hidden()))
	f.Add(image())
	f.Add([]byte(objects))
	f.Add([]byte("epitome-hand: 1\nby: Quayside-7731\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		for _, kind := range []card.Kind{card.Table, card.TableFile, card.SPD, card.CIM, card.CPUInfo, card.MemInfo,
			card.PCI, card.Hand, card.Plan, card.Outcome, card.Series} {
			c := card.Card{Readings: []card.Reading{{Kind: kind, Source: "x", Data: data}}}
			shared, _ := redact.Card(c)
			if kind == card.Table || kind == card.SPD || kind == card.CIM {
				before, after := evidence.Weigh(reading.Of(c), catalogue.Catalogue{}), evidence.Weigh(reading.Of(shared),
					catalogue.Catalogue{})
				if len(shared.Readings) > 0 {
					require.Len(t, after.Places, len(before.Places), "%s", kind)
					require.Equal(t, before.Totals.Installed.Value(), after.Totals.Installed.Value(), "%s", kind)
				}
			}
			again, _ := redact.Card(shared)
			require.Len(t, again.Readings, len(shared.Readings), "%s", kind)
		}
	})
}
