package evidence

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/card"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/smbios/compose"
)

// What a settings panel says is installed counts where nothing else says it.
func TestAPanelSaysWhatIsInstalled(t *testing.T) {
	panel := card.Reading{Kind: card.Panel, Source: "settings panel",
		Data: []byte("Installed RAM\t16.0 GB (15.9 GB usable)\n")}
	alone := weighed(card.Card{Readings: []card.Reading{panel}}).Totals.Installed
	assert.Equal(t, 16*jedec.GiB, alone.Or(0))
	assert.Equal(t, fact.Settled, alone.Standing())
	assert.Equal(t, "settings panel", alone.Why()[0].Source)

	one := place(1, "A", "", "")
	one.MiB = 8192
	beside := bench(append(chassis(laptop), compose.Array(0x1000, 32<<20, 1), one.Structure())...)
	beside.Readings = append(beside.Readings, panel)
	assert.Equal(t, 8*jedec.GiB, weighed(beside).Totals.Installed.Or(0), "the firmware lists what is there")
}

// What a panel says is installed, over the sockets that it says are used, is a module each where only one size comes
// to it.
func TestASumIsSharedOutAmongTheModules(t *testing.T) {
	for _, c := range []struct {
		installed, used string
		kind            string
		each            string // of every filled place
	}{
		{"8.0 GB", "2 of 4", "2400 MHz", "4 GB 4 GB"},
		{"16.0 GB", "1 of 2", "2400 MHz", "16 GB"},
		{"12.0 GB", "2 of 2", "2400 MHz", "? ?"},
		{"16.0 GB", "4 of 4", "2400 MHz", "? ? ? ?"},
		{"16.0 GB", "3 of 4", "2400 MHz", "? ? ?"},
	} {
		m := weighed(card.Card{Readings: []card.Reading{
			{Kind: card.Panel, Source: "settings panel", Data: []byte("Installed RAM\t" + c.installed + "\nSpeed:\t" + c.kind +
				"\nSlots used:\t" + c.used + "\nForm factor:\tDIMM\n")},
			{Kind: card.Hand, Source: "observed", Data: []byte("epitome-hand: 1\n" +
				"machine: {kind: desktop, processor: Intel(R) Core(TM) i5-7500 CPU @ 3.40GHz}\nplaces: [{name: slot 1, " +
				"holds: DDR4-2400 DIMM}]\n")}}})
		var each []string
		for _, p := range m.Places {
			if p.Module == nil {
				continue
			}
			size, known := p.Module.Capacity.Get()
			each = append(each, map[bool]string{true: size.String(), false: "?"}[known])
		}
		assert.Equal(t, c.each, strings.Join(each, " "), "%s, %s", c.installed, c.used)
	}
}
