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
	f.Add([]byte(records.HandTemplate()))
	f.Add([]byte("epitome-hand: 1\nplaces: [{name: A, attach: socket, takes: SO-DIMM, holds: 8GB " +
		"PC4-2400T-SA1-11}]\nmaximum: {size: 32GB}\n"))
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

// FuzzParseHand reads any text as a filled-in form: what is accepted can be
// written and read again, and says the same.
func FuzzParseHand(f *testing.F) {
	f.Add([]byte(records.HandTemplate()))
	f.Add([]byte("epitome-hand: 1\nby: Jory\nsource: manual\nmachine: {kind: laptop}\nplaces: [{name: A, attach: " +
		"socket, takes: SO-DIMM, holds: free}]\nmaximum: {size: 32GB, from: manual}\nsockets: 2\nrate: 3200\n"))
	f.Fuzz(func(t *testing.T, text []byte) {
		h, err := records.ParseHand(text)
		if err != nil {
			require.ErrorIs(t, err, records.ErrHand)
			return
		}
		again, err := h.Encode()
		require.NoError(t, err)
		if back, err := records.ParseHand(again); err == nil {
			require.Equal(t, len(h.Places), len(back.Places))
			require.Equal(t, h.Maximum.Capacity(), back.Maximum.Capacity())
		}
	})
}

// FuzzParseOutcome reads any text as an outcome.
func FuzzParseOutcome(f *testing.F) {
	f.Add([]byte("epitome-outcome: 1\ndate: 2026-11-27\nproposal: 1\nresult: differs\ntotal_mib: 16384\nplaces: "+
		"[{name: A, mib: 8192, rate_mts: 2400}]\ndiffers: [{about: rate, predicted: a, found: b}]\n"),
		[]byte("epitome-plan: 1\nways: [{number: 1, put: [{place: A}]}]\n"))
	f.Fuzz(func(t *testing.T, text, plan []byte) {
		o, err := records.ParseOutcome(text)
		if err != nil {
			require.ErrorIs(t, err, records.ErrOutcome)
			return
		}
		_, err = o.Encode()
		require.NoError(t, err)
		for _, name := range records.PlannedPlaces(plan, o.Proposal) {
			_ = name
		}
	})
}
