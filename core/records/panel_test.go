package records_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/records"
)

func TestPanelLines(t *testing.T) {
	for line, want := range map[string]string{
		"Installed memory (RAM): 8.00 GB (7.88 GB usable)": "8 GB, 7.88 GB usable",
		"8,00 GB (7,88 GB verwendbar)":                     "8 GB, 7.88 GB usable",
		"4.0 GB (3.89 usable)":                             "4 GB, 3.89 GB usable",
		"Installed RAM\t16.0 GB (15.9 GB usable)":          "16 GB, 15.9 GB usable",
		"Installierter RAM 32,0 GB (31,7 GB verwendbar)":   "32 GB, 31.7 GB usable",
		"Installed Physical Memory (RAM)\t16.0 GB":         "16 GB",
		"Total Physical Memory: 15.9 GB":                   ", 15.9 GB usable",
		"Arbeitsspeicher: 16,0 GB":                         "16 GB",
		"Slots used: 1 of 2":                               "1 of 2",
		"Steckplätze: 2 von 4":                             "2 of 4",
		"Speed: 2667 MHz":                                  "at 2667",
		"Geschwindigkeit: 3200 MT/s":                       "at 3200",
		"Form factor: SODIMM":                              "SO-DIMM",
		"Hardware reserved: 124 MB":                        "124 MB reserved",
		"Maximum capacity: 33554432 kB, 2 places":          "most 32 GB, 2 slots",
		"Number Of Devices: 4":                             "4 slots",
	} {
		p, err := records.ParsePanel(line)
		require.NoError(t, err, line)
		assert.Equal(t, want, said(p), line)
	}
	p, err := records.ParsePanel("Speed: 2667 MHz\r\nSlots used: 1 of 2\r\n\r\nForm factor: SODIMM\r\n")
	require.NoError(t, err)
	assert.Equal(t, "1 of 2 at 2667 SO-DIMM", said(p))
	for _, line := range []string{"", "hello", "Slots used: 3 of 2", "sockets=2", "Colour: green",
		"Available: 10.5 GB", "Available Physical Memory: 9.2 GB", "Virtual memory: 18 GB", "Cached: 4.1 GB",
		"In use (Compressed): 5.2 GB (12 MB)", "Disk 0 512 GB", "Verfügbarer Arbeitsspeicher: 3,1 GB"} {
		_, err := records.ParsePanel(line)
		assert.ErrorIs(t, err, records.ErrPanel, line)
	}
}

// said is what was understood, for short.
func said(p records.Panel) string {
	text := ""
	add := func(format string, v any, ok bool) {
		if ok {
			if text != "" && format[0] != ',' {
				text += " "
			}
			text += fmt.Sprintf(format, v)
		}
	}
	add("%v", p.Installed.Or(0), p.Installed.Known())
	add(", %v usable", p.Usable.Or(0), p.Usable.Known())
	add("%v reserved", p.Reserved.Or(0), p.Reserved.Known())
	add("most %v", p.Maximum.Or(0), p.Maximum.Known())
	if p.Used.Known() {
		add("%v", fmt.Sprint(p.Used.Or(0), " of ", p.Slots.Or(0)), true)
	} else if p.Maximum.Known() {
		add(", %v slots", p.Slots.Or(0), p.Slots.Known())
	} else {
		add("%v slots", p.Slots.Or(0), p.Slots.Known())
	}
	add("at %v", p.Speed.Or(0), p.Speed.Known())
	add("%v", p.Form.Or(jedec.FormUnknown), p.Form.Known())
	return text
}

func FuzzParsePanel(f *testing.F) {
	f.Add("Installed memory (RAM): 8.00 GB (7.88 GB usable)\nSlots used: 1 of 2")
	f.Fuzz(func(t *testing.T, text string) {
		if p, err := records.ParsePanel(text); err == nil {
			assert.NotEmpty(t, p.Lines)
		}
	})
}
