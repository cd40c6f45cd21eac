package evidence

import (
	"os"
	"testing"

	"github.com/stretchr/testify/require"

	"epitome/core/card"
	"epitome/core/fact"
)

// FuzzWeigh gives the whole way from readings to findings hostile bytes: it
// never panics, yields the same machine twice, and a finding has a value just
// where its standing says so.
func FuzzWeigh(f *testing.F) {
	table, err := os.ReadFile("../../testdata/captures/q35-bios32-laptop-soldered/DMI")
	require.NoError(f, err)
	f.Add(table, chip("01010101", "X"), []byte(exported),
		[]byte("places: [{name: DIMM A, attach: socket, holds: free}]\n"))
	f.Add([]byte{}, []byte{}, []byte("{}"), []byte("distrust: [spd]\nsockets: 3\n"))
	f.Fuzz(func(t *testing.T, table, image, objects, hand []byte) {
		c := card.Card{Readings: []card.Reading{
			{Kind: card.Table, Source: "DMI", Data: table}, {Kind: card.SPD, Source: "spd", Address: "0x50", Data: image},
			{Kind: card.CIM, Source: "cim", Data: objects},
			{Kind: card.Hand, Source: "hand", Data: append([]byte("epitome-hand: 1\n"), hand...)},
			{Kind: card.PCI, Source: "pci", Data: hand}, {Kind: card.MemInfo, Source: "meminfo", Data: objects},
		}}
		m := weighed(c)
		require.Equal(t, m, weighed(c))
		names := make(map[string]bool)
		for _, p := range m.Places {
			require.False(t, names[p.Name], "two places named %q", p.Name)
			names[p.Name] = true
			require.Equal(t, p.Attach.Known(), p.Attach.Standing() >= fact.Leaning)
			require.Equal(t, p.Filled.Known(), p.Filled.Standing() >= fact.Leaning)
			if p.Module != nil {
				require.Equal(t, p.Module.Rated.Known(), p.Module.Rated.Standing() >= fact.Leaning)
			}
		}
		require.Equal(t, m.Totals.Sockets.Known(), m.Totals.Sockets.Standing() >= fact.Leaning)
	})
}
