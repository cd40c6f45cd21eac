package evidence

import (
	"fmt"
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
)

// four are the places of a firmware table that lists what its chipset could have:
// channels A and B, a filled and an empty one each.
func four(part, extra string) machine.Machine {
	var s []compose.Structure
	s = append(chassis(laptop), compose.Array(0x1000, 32<<20, 4))
	for i, name := range []string{"A0", "A1", "B0", "B1"} {
		d := compose.Device{Handle: uint16(i + 1), Array: 0x1000, Form: 0x0D, Type: 0x18,
			Locator: "Channel" + name[:1] + "-DIMM" + name[1:], Serial: fmt.Sprint("0101010", i), Part: part, Speed: 1600,
			Configured: 1600}
		if strings.HasSuffix(name, "0") {
			d.MiB = 4096
		} else {
			d.Type, d.Speed, d.Configured, d.Serial, d.Part = 2, 0, 0, "", ""
		}
		s = append(s, d.Structure())
	}
	c := bench(s...)
	if extra != "" {
		c = hand(c, extra)
	}
	return weighed(c)
}

// placed is each place with how sure it is that it is a socket.
func placed(m machine.Machine) (out []string) {
	for _, p := range m.Places {
		out = append(out, fmt.Sprintf("%s %v %v", p.Name, p.Attach.Or(""), p.Attach.Standing()))
	}
	return out
}

// Who counted the sockets has settled it: places beyond that are firmware's own.
func TestACountLeavesNoRoomForPlacesThatAreNotThere(t *testing.T) {
	require.Len(t, four("KM3LS4G16-11", "").Places, 4, "nobody counted")
	m := four("KM3LS4G16-11", "sockets: 2\n")
	require.Len(t, m.Places, 2, "%v", placed(m))
	assert.Equal(t, "ChannelA-DIMM0", m.Places[0].Name)
	assert.Equal(t, "ChannelB-DIMM0", m.Places[1].Name)
	assert.Equal(t, 0, m.Totals.SocketsFree.Or(-1))
	found := ""
	for _, c := range m.Conflicts {
		found += c.Says + "\n"
	}
	assert.Contains(t, found, "firmware lists 4 sockets, 2 counted; left out: ChannelA-DIMM1, ChannelB-DIMM1",
		"the contrary sign is not lost")

	m = four("KM3LS4G16-11", "sockets: 3\n")
	require.Len(t, m.Places, 3, "%v", placed(m))
	assert.Equal(t, fact.Leaning, m.Places[1].Attach.Standing(), "which of the empty ones is there was not seen")
	assert.Equal(t, 1, m.Totals.SocketsFree.Or(-1))

	m = four("KM3LS4G16-11", "sockets: 3\nplaces: [{name: ChannelB-DIMM1, attach: socket}]\n")
	require.Len(t, m.Places, 3, "%v", placed(m))
	assert.Equal(t, "ChannelB-DIMM1", m.Places[2].Name, "what was seen is there")

	assert.Len(t, four("", "sockets: 2\n").Places, 4,
		"what is filled may be soldered, and the two that were counted the empty ones")
	assert.Len(t, four("KM3LS4G16-11", "sockets: 4\n").Places, 4, "all counted")
	assert.Len(t, four("KM3LS4G16-11", "sockets: 1\n").Places, 4, "a count below what is filled takes nothing away")
}

// Where the signs can't tell of a module that names nothing whether it is soldered, a count of the sockets does.
func TestACountTellsWhatIsSoldered(t *testing.T) {
	const named, nameless, byPart, bySerial = "MR4S-8G24", "", "part alone", "serial alone"
	for _, c := range []struct {
		what    string
		chassis byte
		form    byte
		parts   []string // of what is fitted
		array   uint16
		hand    string
		want    string
	}{
		{"nobody counted", laptop, 0x0D, []string{named, nameless}, 2, "", "socket leaning,  disputed"},
		{"one, which is the one with a name", laptop, 0x0D, []string{named, nameless}, 2, "sockets: 1\n",
			"socket leaning, soldered leaning"},
		{"both", laptop, 0x0D, []string{named, nameless}, 2, "sockets: 2\n", "socket settled, socket settled"},
		{"both, and a third is announced", laptop, 0x0D, []string{named, nameless}, 3, "sockets: 2\n",
			"socket leaning, socket leaning"},
		{"more than is listed", laptop, 0x0D, []string{named, nameless}, 3, "sockets: 3\n",
			"socket settled, socket settled, socket settled"},
		{"two of three", laptop, 0x0D, []string{named, nameless, nameless}, 3, "sockets: 2\n",
			"socket leaning,  disputed,  disputed"},
		{"all three", laptop, 0x0D, []string{named, nameless, nameless}, 3, "sockets: 3\n",
			"socket settled, socket settled, socket settled"},
		{"one of three", laptop, 0x0D, []string{named, nameless, nameless}, 3, "sockets: 1\n",
			"socket leaning, soldered leaning, soldered leaning"},
		{"neither, though one has a name", laptop, 0x0D, []string{named, nameless}, 2, "sockets: 0\n",
			"socket leaning,  disputed"},
		{"one of two that the signs call sockets", tower, 0x09, []string{named, nameless}, 2, "sockets: 1\n",
			"socket settled, soldered leaning"},
		{"the other has a part number", tower, 0x09, []string{named, byPart}, 2, "sockets: 1\n",
			"socket settled, socket settled"},
		{"the other has a serial number", tower, 0x09, []string{named, bySerial}, 2, "sockets: 1\n",
			"socket settled, socket settled"},
		{"both of them", tower, 0x09, []string{named, nameless}, 2, "sockets: 2\n", "socket settled, socket settled"},
	} {
		s := append(chassis(c.chassis), compose.Array(0x1000, 32<<20, c.array))
		for i, part := range c.parts {
			d := filled(uint16(i+1), c.form, 0x18, 2048)
			d.Locator = string(rune('A' + i))
			if part == named || part == byPart {
				d.Part = named
			}
			if part == named || part == bySerial {
				d.Serial = "01010101"
			}
			s = append(s, d.Structure())
		}
		card := bench(s...)
		if c.hand != "" {
			card = hand(card, c.hand)
		}
		m := weighed(card)
		var got []string
		for _, p := range m.Places {
			got = append(got, fmt.Sprintf("%v %v", p.Attach.Or(""), p.Attach.Standing()))
			if p.Attach.Or("") == machine.Soldered {
				assert.Equal(t, jedec.Soldered, p.Module.Form.Or(0), c.what)
			}
		}
		assert.Equal(t, c.want, strings.Join(got, ", "), c.what)
	}
}

// A system lists what is filled. What it announces beyond is free, likely; a
// firmware table would describe it, and what that leaves out is not known.
func TestWhatASystemAnnouncesAndDoesNotListIsLikelyFree(t *testing.T) {
	one := `{"CreationClassName":"CIM_PhysicalMemory","DeviceLocator":"ChannelA-DIMM0","Capacity":8589934592,
"FormFactor":12,"SMBIOSMemoryType":26,"Speed":2400,"SerialNumber":"4F21A09C","PartNumber":"MR4S-8G24-17"}`
	export := func(announced int) machine.Machine {
		return weighed(card.Card{Readings: []card.Reading{{Kind: card.CIM, Source: "cim.json", Data: fmt.Appendf(nil,
			`[{"CreationClassName":"CIM_PhysicalMemoryArray","Use":3,"MemoryDevices":%d,"MaxCapacity":33554432},%s]`,
			announced, one)}}})
	}
	m := export(2)
	require.Len(t, m.Places, 2)
	free := m.Places[1]
	assert.Equal(t, machine.Socket, free.Attach.Or(""))
	assert.Equal(t, fact.Leaning, free.Attach.Standing(), "one look would settle it")
	assert.Equal(t, maybe.Just(false), free.Filled.Value())
	assert.Equal(t, maybe.Just("B"), free.Channel.Value(), "two places share two channels")
	assert.Len(t, export(1).Places, 1, "all that is announced is listed")
	assert.Len(t, export(0).Places, 1, "nothing is announced")

	c := bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 2),
		place(1, "DIMM A", "01010101", "MR4S-8G24-17").Structure())...)
	assert.Len(t, weighed(c).Places, 1, "the firmware's own table leaves one out")
	assert.Len(t, weighed(hand(c, "sockets: 2\n")).Places, 2, "and somebody counted it")
}

// A maximum of several times what is soldered speaks for a socket that nobody
// lists; what somebody saw stands over it.
func TestAMaximumAgainstSolderedMemorySpeaksForASocket(t *testing.T) {
	onboard := filled(1, 0x0B, 0x1E, 4096) // low-power memory comes soldered
	stating := func(gib uint64, text string) machine.Machine {
		c := bench(append(chassis(laptop), compose.Array(0x1000, gib<<20, 1), onboard.Structure())...)
		if text != "" {
			c = hand(c, text)
		}
		return weighed(c)
	}
	asks := func(m machine.Machine) bool {
		for _, o := range m.Open {
			if o.About.Topic == machine.AboutSockets {
				return true
			}
		}
		return false
	}
	m := stating(16, "")
	assert.Equal(t, fact.Leaning, m.Totals.Sockets.Standing())
	assert.Equal(t, 0, m.Totals.Sockets.Or(-1), "it is a sign, and no socket")
	assert.True(t, asks(m))
	assert.False(t, asks(stating(4, "")), "just what is soldered")
	assert.False(t, asks(stating(16, "places: [{name: DIMM / BANK, attach: soldered}]\n")), "somebody looked")
}

func TestAPlaceThatSomebodyAddsGetsItsChannelFromItsName(t *testing.T) {
	m := weighed(hand(card.Card{}, "places: [{name: ChannelA-DIMM0, attach: socket}, {name: left, attach: socket}]\n"))
	require.Len(t, m.Places, 2)
	assert.Equal(t, "A", m.Places[0].Channel.Or(""))
	assert.False(t, m.Places[1].Channel.Known())
}

// A count below what is filled: the one that names nothing is soldered, likely; where
// none stands out, the count and the signs contradict each other.
func TestFewerSocketsCountedThanFilled(t *testing.T) {
	named := func(handle uint16, locator, serial, part string) compose.Structure {
		d := filled(handle, 0x0D, 0x1A, 4096)
		d.Locator, d.Serial, d.Part = locator, serial, part
		return d.Structure()
	}
	count := func(n string, second compose.Structure) machine.Machine {
		c := bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 2), named(1, "DIMM A", "0A0B0C01", "MR4"),
			second)...)
		return weighed(hand(c, "sockets: "+n+"\n"))
	}
	m := count("1", named(2, "DIMM B", "0A0B0C02", "MR4"))
	assert.Contains(t, fmt.Sprint(m.Conflicts), "some of them are soldered, or the count is wrong")
	m = count("2", named(2, "DIMM B", "0A0B0C02", "MR4"))
	assert.NotContains(t, fmt.Sprint(m.Conflicts), "count is wrong")
	assert.Equal(t, 2, m.Totals.Sockets.Or(0))
}

func TestWhatIsObservedReachesTheMachine(t *testing.T) {
	c := bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 1), filled(1, 0x0D, 0x18, 4096).Structure())...)
	m := weighed(hand(c, "takes: SO-DIMM\nsupply: 1,35 V\nslots_per_channel: 1\nplaces: [{name: DIMM, channel: B}, "+
		"{name: under the cover, holds: empty}]\n"))
	require.Len(t, m.Places, 2)
	assert.Equal(t, "B", m.Places[0].Channel.Or(""))
	assert.False(t, m.Places[1].Filled.Or(true))
	assert.Equal(t, machine.Socket, m.Places[1].Attach.Or(""))
	assert.Equal(t, jedec.SODIMM, m.Places[1].Form.Or(0), "the form of all sockets")
	var stated []string
	for _, x := range m.Stated {
		stated = append(stated, x.Says)
	}
	assert.Contains(t, stated, "the board gives 1.35 V")
	assert.Contains(t, stated, "1 socket a channel")
}
