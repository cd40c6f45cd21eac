package evidence

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/machine"
	"epitome/core/maybe"
	"epitome/core/smbios/compose"
	"epitome/truth/effort"
)

func speedy(handle uint16, locator string, kind byte, speed, configured uint16) compose.Device {
	return compose.Device{Handle: handle, Array: 0x1000, MiB: 2048, Form: 0x09, Type: kind, Locator: locator,
		Speed: speed, Configured: configured}
}

func rates(t *testing.T, devices ...compose.Device) (out []string) {
	t.Helper()
	s := append(chassis(tower), compose.Array(0x1000, 32<<20, uint16(len(devices))))
	for _, d := range devices {
		s = append(s, d.Structure())
	}
	for _, p := range weighed(bench(s...)).Places {
		for _, f := range []fact.Fact[jedec.Rate]{p.Module.Rated, p.Running} {
			out = append(out, fmt.Sprintf("%d %v", int(f.Or(0)), f.Standing()))
		}
	}
	return out
}

// "800 MHz" read off as the speed to buy: DDR2-800, or the clock of DDR3-1600?
func TestAFigureIsARateOrAClockByWhatTheGenerationHas(t *testing.T) {
	assert.Equal(t, []string{"800 settled", "667 settled"}, rates(t, speedy(1, "A1", 0x13, 800, 667)),
		"DDR2 has no 1600, and 1333 is none of its rates")
	assert.Equal(t, []string{"1600 leaning", "0 unknown"}[1], rates(t, speedy(1, "A1", 0x18, 800, 800))[1],
		"DDR3 has both 800 and 1600")
	assert.Equal(t, []string{"2400 settled", "2133 settled"}, rates(t, speedy(1, "A1", 0x1A, 2400, 2133)))
	assert.Equal(t, []string{"2400 settled", "2133 settled"}, rates(t, speedy(1, "A1", 0x1A, 1200, 1067)),
		"clocks: DDR4 has no 1200 and no 1067")
	assert.Equal(t, []string{"1333 settled", "1066 settled"}, rates(t, speedy(1, "A1", 0x18, 1334, 533)),
		"1334 is 1333; 533 is no rate of DDR3")
	assert.Equal(t, []string{"3600 leaning", "0 unknown"}, rates(t, speedy(1, "A1", 0x1A, 3600, 0)),
		"no standard rate: taken as it stands, and only leaning")
}

// 1066 in both fields: DDR3-1066, or the clock of DDR3-2133? The processor tells.
func TestTheControllersHighestRateTellsARateFromAClock(t *testing.T) {
	running := func(brand string, speed, configured uint16) string {
		s := append(chassis(tower), compose.Array(0x1000, 32<<20, 1), speedy(1, "A1", 0x18, speed, configured).Structure())
		c := bench(s...)
		if brand != "" {
			c.Readings = append(c.Readings,
				card.Reading{Kind: card.CPUInfo, Source: "cpuinfo", Data: []byte("processor : 0\nmodel name : " + brand + "\n")})
		}
		f := weighed(c).Places[0].Running
		return fmt.Sprintf("%d %v", int(f.Or(0)), f.Standing())
	}
	const mobile = "Intel(R) Core(TM) i3 CPU M 370 @ 2.40GHz"
	assert.Equal(t, "1066 leaning", running(mobile, 1066, 1066), "it drives 1066 at most")
	assert.Equal(t, "0 unknown", running("", 1066, 1066), "no processor is known")
	assert.Equal(t, "0 unknown", running("Intel(R) Core(TM) i5-3470 CPU @ 3.20GHz", 800, 800),
		"1600 is a rate that it drives too")
	assert.Equal(t, "1066 settled", running(mobile, 1333, 533), "figures that leave one reading need no processor")
}

func TestFirmwareDoesNotChangeItsMindFromPlaceToPlace(t *testing.T) {
	assert.Equal(t, []string{"1333 settled", "1333 settled", "1066 leaning", "1066 leaning"},
		rates(t, speedy(1, "A1", 0x18, 1333, 1333), speedy(2, "A2", 0x18, 1066, 1066)),
		"1333 can only be a rate, so 1066 is one too")
	assert.Equal(t, []string{"1333 settled", "1333 settled", "1600 leaning", "1600 leaning"},
		rates(t, speedy(1, "A1", 0x18, 667, 667), speedy(2, "A2", 0x18, 800, 800)),
		"667 can only be a clock, so 800 is one too")
	assert.Equal(t, "0 unknown", rates(t, speedy(1, "A1", 0x18, 667, 667), speedy(2, "A2", 0x18, 800, 800),
		speedy(3, "B1", 0x18, 1333, 1333))[2],
		"contradictory figures tell nothing of the others")
}

func TestTheModulesOwnRateTellsHalvedFiguresApart(t *testing.T) {
	// An EEPROM of DDR4-2400 beside figures of 1200: firmware writes clocks.
	d := place(1, "A", "01010101", "")
	d.Speed, d.Configured = 1200, 800
	m := weighed(withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 1), d.Structure())...),
		map[string][]byte{"0-0050": chip("01010101", "X")}))
	assert.Equal(t, maybe.Just(jedec.Rate(2400)), m.Places[0].Module.Rated.Value())
	assert.Equal(t, maybe.Just(jedec.Rate(1600)), m.Places[0].Running.Value(), "800 as a clock; as a rate DDR4 has none")
	// 1600 beside an EEPROM of 2400 is a rate: twice that would be faster than the module.
	d.Speed, d.Configured = 2400, 1600
	m = weighed(withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 1), d.Structure())...),
		map[string][]byte{"0-0050": chip("01010101", "X")}))
	assert.Equal(t, maybe.Just(jedec.Rate(1600)), m.Places[0].Running.Value())
	assert.Equal(t, fact.Settled, m.Places[0].Running.Standing())
}

// The firmware's maximum is per slot on one machine, and lower than what is
// fitted on another.
func TestAMaximumThatIsTooLowIsReadAnotherWay(t *testing.T) {
	with := func(kib uint64, sizes ...uint32) machine.Machine {
		s := append(chassis(tower), compose.Array(0x1000, kib, uint16(len(sizes))))
		for i, size := range sizes {
			s = append(s, compose.Device{Handle: uint16(i + 1), Array: 0x1000, MiB: size, Form: 0x09, Type: 0x1A,
				Locator: fmt.Sprintf("DIMM %d", i)}.Structure())
		}
		return weighed(bench(s...))
	}
	m := with(16<<20, 16384, 16384)
	assert.Equal(t, maybe.Just(32*jedec.GiB), m.Totals.StatedMaximum.Value())
	assert.Contains(t, m.Totals.StatedMaximum.Why()[0].Says, "read as the most of one place: 2 × 16 GB")
	assert.Contains(t, fmt.Sprint(m.Conflicts), "firmware states 16 GB, 32 GB are fitted",
		"and the contradiction is shown")
	m = with(12<<20, 8192, 16384)
	assert.False(t, m.Totals.StatedMaximum.Known(), "per place it would be less than one module: understated")
	assert.Contains(t, m.Totals.StatedMaximum.Why()[0].Says, "understated")
	m = with(32<<20, 8192, 8192)
	assert.Equal(t, maybe.Just(32*jedec.GiB), m.Totals.StatedMaximum.Value(), "nothing contradicts the array's total")
}

func TestWhatTheSystemDoesNotSeeIsAccountedFor(t *testing.T) {
	with := func(kib int, sizes ...uint32) string {
		s := append(chassis(tower), compose.Array(0x1000, 64<<20, uint16(len(sizes))))
		for i, size := range sizes {
			s = append(s, compose.Device{Handle: uint16(i + 1), Array: 0x1000, MiB: size, Form: 0x09, Type: 0x1A,
				Locator: fmt.Sprintf("DIMM %d", i)}.Structure())
		}
		return fmt.Sprint(weighed(seesKiB(bench(s...), kib)).Conflicts)
	}
	assert.Equal(t, "[]", with(8048324, 8192), "the usual share")
	assert.Contains(t, with(3090452, 2048, 2048), "a 32-bit system")
	assert.Contains(t, with(8048324, 8192, 8192), "may not be recognised, or not seated")
	assert.Contains(t, with(16344004, 8192), "a module is not listed")
	assert.Contains(t, with(6100000, 8192), "a large graphics share")
	// The bounds, each met and just not met.
	const mib = 1024 // KiB
	for _, c := range []struct {
		seen  int // MiB
		sizes []uint32
		says  string
	}{
		{8192 - 1023, []uint32{8192}, "[]"}, {8192 - 1024, []uint32{8192}, "a large graphics share"}, // an eighth
		{1024 - 511, []uint32{1024}, "[]"}, {1024 - 512, []uint32{1024}, "a large graphics share"}, // 512 MB at least
		{2560, []uint32{4096}, "a 32-bit system"}, {2559, []uint32{4096}, "a large graphics share"},
		{3584, []uint32{8192}, "a 32-bit system"}, {3585, []uint32{8192}, "a large graphics share"},
		{2560, []uint32{2048, 1024}, "a large graphics share"}, // 3 GB fitted: no 32-bit system's limit
		{8192, []uint32{8192, 8192}, "as large as the module in DIMM 0"},
		{8193, []uint32{8192, 8192}, "a large graphics share"},
		{16384 - 12287, []uint32{8192, 8192}, "as large as the module in DIMM 0"},
		{16384 - 12288, []uint32{8192, 8192}, "a large graphics share"},
		{4096 + 1, []uint32{4096}, "a module is not listed"}, {4096, []uint32{4096}, "[]"},
		{4096, []uint32{8192}, "a large graphics share"}, // one place alone: its module is seen
	} {
		got := with(c.seen*mib, c.sizes...)
		assert.Contains(t, got, c.says, c)
		assert.Equal(t, c.says == "[]", got == "[]", c)
	}
}

func TestAVagueModelNameIsFlagged(t *testing.T) {
	m := weighed(bench(compose.Identity{Maker: "Halyard", Product: "Gull Series", ChassisKind: laptop}.Structures()...))
	assert.Contains(t, fmt.Sprint(m.Open), "the exact model is on the label underneath")
	m = weighed(bench(chassis(laptop)...))
	assert.NotContains(t, fmt.Sprint(m.Open), "label underneath", "Gull 14 is exact enough")
}

// Soldered chips that firmware calls a SO-DIMM, sockets that it calls a row of
// chips, and both unknown: no single field decides.
func TestNoSingleFieldDecidesWhatIsSoldered(t *testing.T) {
	for _, form := range []byte{0x0D, 0x0B, 0x02} {
		d := compose.Device{Handle: 1, Array: 0x1000, MiB: 4096, Form: form, Type: 0x1A, Locator: "DIMM 0"}
		m := weighed(bench(append(chassis(laptop), compose.Array(0x1000, 16<<20, 1), d.Structure())...))
		assert.NotEqual(t, fact.Settled, m.Places[0].Attach.Standing(), "form %#x", form)
	}
}

// Firmware that counts only filled places: its list never settles how many
// sockets there are.
func TestAListWithoutAnEmptyPlaceDoesNotSettleTheCount(t *testing.T) {
	full := bench(append(chassis(tower), compose.Array(0x1000, 32<<20, 1),
		speedy(1, "A1", 0x1A, 2400, 2400).Structure())...)
	m := weighed(full)
	assert.Equal(t, fact.Leaning, m.Totals.Sockets.Standing())
	assert.Contains(t, m.Totals.Sockets.Against()[0].Says, "lists filled ones only")
	m = weighed(hand(full, "sockets: 2\n"))
	assert.Equal(t, maybe.Just(2), m.Totals.Sockets.Value(), "counted by eye")
	assert.Equal(t, maybe.Just(1), m.Totals.SocketsFree.Value())
	assert.Equal(t, fact.Settled, m.Totals.Sockets.Standing())
	empty := speedy(2, "A2", 0x1A, 0, 0)
	empty.MiB = 0
	listed := bench(append(chassis(tower), compose.Array(0x1000, 32<<20, 2),
		speedy(1, "A1", 0x1A, 2400, 2400).Structure(), empty.Structure())...)
	m = weighed(listed)
	assert.Equal(t, fact.Leaning, m.Totals.Sockets.Standing(),
		"listed is not seen: firmware may list a socket that the board lacks")
	assert.Equal(t, maybe.Just(1), m.Totals.SocketsFree.Value())
	cpu := func(brand string) card.Card {
		c := listed
		c.Readings = append(slices.Clone(c.Readings),
			card.Reading{Kind: card.CPUInfo, Data: []byte("processor: 0\nmodel name: " + brand + "\n")})
		return c
	}
	assert.Equal(t, fact.Settled, weighed(cpu("Intel(R) Core(TM) i7-7500U CPU @ 2.70GHz")).Totals.Sockets.Standing(),
		"two channels of one slot: the processor agrees")
	assert.Equal(t, fact.Leaning, weighed(cpu("Intel(R) Atom(TM) CPU N450   @ 1.66GHz")).Totals.Sockets.Standing(),
		"it drives one")
	assert.Equal(t, fact.Settled, weighed(hand(listed, "sockets: 2\n")).Totals.Sockets.Standing(), "counted by eye")
}

func TestNamelessTwinsAndSlimChassisPointToSolderedChips(t *testing.T) {
	bank := func(handle uint16, locator string) compose.Structure {
		return compose.Device{Handle: handle, Array: 0x1000, MiB: 4096, Form: 0x0D, Type: 0x1A, Locator: locator, Rank: 1,
			DataBits: 64, TotalBits: 64}.Structure()
	}
	m := weighed(bench(append(chassis(0x1F), compose.Array(0x1000, 16<<20, 2), bank(1, "DIMM 0"), bank(2, "DIMM 1"))...))
	f := m.Places[0].Attach
	assert.NotEqual(t, machine.Socket, f.Or(""), "called a SODIMM, but nameless, one of twins, in a convertible")
	assert.NotEqual(t, fact.Settled, f.Standing())
	assert.Contains(t, fmt.Sprint(f.Why(), f.Against()), "2 places alike and nameless")
	assert.Contains(t, fmt.Sprint(f.Why(), f.Against()), "chassis convertible")
}

func TestADistrustedReadingIsNotUsedAndIsNamed(t *testing.T) {
	c := withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 1),
		place(1, "A", "01010101", "").Structure())...), map[string][]byte{"0-0050": chip("01010101", "X")})
	require.Equal(t, "0x50", weighed(c).Places[0].EEPROMAddress)
	m := weighed(hand(c, "distrust: [\"0x50\"]\n"))
	assert.Equal(t, "", m.Places[0].EEPROMAddress)
	assert.Contains(t, fmt.Sprint(m.Conflicts), "distrusted (hand entry by Jory); not used")
	m = weighed(hand(c, "distrust: [smbios-table]\n"))
	assert.Equal(t, "EEPROM 0x50", m.Places[0].Name, "the table is out; the chip answers still")
}

// A board whose soldered chips come with an EEPROM that calls them a SO-DIMM,
// and firmware that agrees: eyes override all of it, and all of it stays listed.
func TestSightOverridesEverySignTogether(t *testing.T) {
	c := withChips(bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 1),
		place(1, "DIMM 0", "01010101", "MR-1").Structure())...), map[string][]byte{"0-0050": chip("01010101", "MR-1")})
	require.Equal(t, fact.Settled, weighed(c).Places[0].Attach.Standing(), "three signs of two sources")
	f := weighed(hand(c, "places: [{name: DIMM 0, attach: soldered}]\n")).Places[0].Attach
	assert.Equal(t, fact.Settled, f.Standing())
	assert.Equal(t, machine.Soldered, f.Or(""))
	assert.Len(t, f.Against(), 3)
}

// A table that lists thousands of places is no machine's: the first ones are
// used, and it is said. It takes no longer than a machine's.
func TestATableOfThousandsOfPlacesIsBounded(t *testing.T) {
	effort.NotShort(t)
	structures := append(chassis(laptop), compose.Array(0x1000, 32<<20, 3000))
	for i := range 3000 {
		structures = append(structures,
			compose.Device{Handle: uint16(0x2000 + i), Array: 0x1000, MiB: 8192, Form: 0x0D, Type: 0x1A, Locator: "DIMM",
				Speed:  2400,
				Serial: fmt.Sprintf("%08X", i+1), Part: strings.Repeat("P", 5000)}.Structure())
	}
	m := weighed(bench(structures...))
	require.Len(t, m.Places, 512)
	names := make(map[string]bool)
	for _, p := range m.Places {
		assert.False(t, names[p.Name], "%s stands twice", p.Name)
		names[p.Name] = true
		assert.LessOrEqual(t, len(p.Module.Part.Or("")), 140)
	}
	assert.Contains(t, fmt.Sprint(m.Conflicts), "lists 3000 places; no machine has so many, and the first 512 are used")
}
