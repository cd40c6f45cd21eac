package records_test

import (
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/records"
)

func text(t *testing.T, name string) []byte {
	data, err := os.ReadFile("../../testdata/captures/" + name)
	require.NoError(t, err)
	return data
}

func TestCPUInfoOfARealKernel(t *testing.T) {
	cpu, ok := records.ParseCPUInfo(text(t, "pc-bios32-768m-core2duo/cpuinfo"))
	require.True(t, ok)
	assert.Equal(t, records.CPU{Vendor: "GenuineIntel", Brand: "Intel(R) Core(TM)2 Duo CPU     T7700  @ 2.40GHz",
		Family: maybe.Just(6), Model: maybe.Just(15), Stepping: maybe.Just(11), LongMode: maybe.Just(true), Logical: 2,
		Packages: 1}, cpu)

	cut, ok := records.ParseCPUInfo(text(t, "q35-uefi64-6g-epyc-rome/cpuinfo")) // cut at 4096 bytes
	require.True(t, ok)
	assert.Equal(t, maybe.Just(49), cut.Model)
}

func TestCPUInfoCutAnywhereYieldsWhatWasThere(t *testing.T) {
	whole := text(t, "pc-bios32-512m-nehalem/cpuinfo")
	for n := range whole {
		cpu, ok := records.ParseCPUInfo(whole[:n])
		if !ok {
			assert.Zero(t, cpu.Logical)
		}
	}
	_, ok := records.ParseCPUInfo([]byte("model name : orphan\n"))
	assert.False(t, ok)
	cpu, _ := records.ParseCPUInfo([]byte("processor : 0\nmodel : -1\nstepping : unknown\nflags : fpu nolm\n"))
	assert.False(t, cpu.Model.Known())
	assert.False(t, cpu.Stepping.Known())
	assert.Equal(t, maybe.Just(false), cpu.LongMode)
}

func TestMemInfo(t *testing.T) {
	sizes := records.ParseMemInfo(text(t, "pc-bios32-512m-nehalem/meminfo"))
	assert.Equal(t, 475452*jedec.KiB, sizes["MemTotal"])
	assert.NotContains(t, sizes, "HugePages_Total", "a count is no size")
	assert.Empty(t, records.ParseMemInfo([]byte("MemTotal: lots kB\nMemFree: -3 kB\nMemTotal\n")))
}
