package evidence

import (
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
