package records_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"epitome/core/records"
)

// FuzzTexts gives every text reader the same bytes: whatever they are, none
// panics, and what comes out is fit to be shown.
func FuzzTexts(f *testing.F) {
	f.Add([]byte("processor\t: 0\nvendor_id\t: GenuineIntel\nmodel\t\t: 94\nmodel name\t: X\nflags\t: fpu lm\n"))
	f.Add([]byte("MemTotal:  989992 kB\nHugePages_Total: 0\n"))
	f.Add([]byte("0000:00:1f.0 8086:a305 060100\n"))
	f.Add([]byte(records.HandTemplate))
	f.Add([]byte("epitome-hand: 1\nplaces: [{name: A, attach: socket, takes: SO-DIMM, holds: 8GB PC4-2400T-SA1-11}]\nmaximum: {size: 32GB}\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		cpu, ok := records.ParseCPUInfo(data)
		require.Equal(t, ok, cpu.Logical > 0)
		for _, r := range cpu.Brand + cpu.Vendor {
			require.GreaterOrEqual(t, r, ' ')
		}
		for name, size := range records.ParseMemInfo(data) {
			require.Zero(t, size%1024, "%q", name)
		}
		devices, wrong := records.ParsePCI(data)
		require.GreaterOrEqual(t, wrong, 0)
		for _, d := range devices {
			require.Len(t, d.ID(), 9)
		}
		h, err := records.ParseHand(data)
		if err != nil {
			require.ErrorIs(t, err, records.ErrHand)
			return
		}
		text, err := h.Encode()
		require.NoError(t, err)
		again, err := records.ParseHand(text)
		require.NoError(t, err, "%s", text)
		require.Equal(t, h, again)
	})
}
