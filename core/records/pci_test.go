package records_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/records"
)

func TestPCIListOfARealKernel(t *testing.T) {
	devices, wrong := records.ParsePCI(text(t, "q35-bios32-1g-skylake-client/pci"))
	assert.Zero(t, wrong)
	require.Len(t, devices, 8)
	assert.Equal(t, records.PCIDevice{Address: "0000:00:1f.0", Vendor: 0x8086, Device: 0x2918, Class: 0x060100},
		devices[5])
	assert.Equal(t, "8086:2918", devices[5].ID())
}

func TestPCILinesThatAreNone(t *testing.T) {
	devices, wrong := records.ParsePCI([]byte("0000:00:00.0 8086:29c0 060000\n\nhello\n0000:00:01.0 " +
		"80861111\n0000:00:02.0 8086:zzzz\n0000:00:03.0 8086:1234\n0 1:2 3 4\n0 12345:1\n0 1:2 1234567\n"))
	assert.Equal(t, 6, wrong)
	require.Len(t, devices, 2)
	assert.Zero(t, devices[1].Class)
}
