package records_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/records"
)

// what an object is and says, for short.
func told(objects []records.Object, class records.Class, property string) (out []string) {
	for _, o := range objects {
		if o.Class == class {
			out = append(out, o.Text(property))
		}
	}
	return out
}

// Real objects carry each other's properties: the class that an object names
// decides, and where it names none, what only its class has.
func TestAnObjectsClassDecidesWhatItsKeysMean(t *testing.T) {
	objects, others, err := records.ParseCIM([]byte(`[
	  {"CreationClassName": "Win32_ComputerSystem", "Name": "WORKSHOP-PC", "NumberOfLogicalProcessors": 8,
"Manufacturer": "Halyard", "Model": "Dunnock 15", "PCSystemType": 2},
	  {"Name": "WORKSHOP-PC", "NumberOfLogicalProcessors": 8, "TotalPhysicalMemory": 8450000000, "Model": "Dunnock 15"},
	  {"CreationClassName": "Win32_Processor", "Name": "Petrel P5", "NumberOfLogicalProcessors": 8,
"SystemCreationClassName": "Win32_ComputerSystem"},
	  {"ChassisTypes": [10], "Manufacturer": "Halyard"},
	  {"SMBIOSBIOSVersion": "1.07", "Manufacturer": "Halyard"},
	  {"CreationClassName": "Win32_Printer", "Name": "Harbour office"}, {"CreationClassName": "Win32_Printer",
"Name": "Quay"}
	]`))
	require.NoError(t, err)
	assert.Equal(t, []string{"Petrel P5"}, told(objects, records.Processor, "Name"))
	assert.Equal(t, []string{"Dunnock 15", "Dunnock 15"}, told(objects, records.ComputerSystem, "Model"))
	assert.Equal(t, []string{"10"}, told(objects, records.SystemEnclosure, "ChassisTypes"))
	assert.Equal(t, []string{"1.07"}, told(objects, records.BIOS, "SMBIOSBIOSVersion"))
	assert.Equal(t, []string{"Win32_Printer"}, others, "named once")
}

// The lists that shells print by themselves: properties a line, long values broken,
// objects apart by empty lines or by a name that comes again.
func TestListsAsShellsPrintThem(t *testing.T) {
	for name, text := range map[string]string{
		"colons": "\r\nBankLabel      : BANK 0\r\nCapacity       : 8589934592\r\nDeviceLocator  : " +
			"ChannelA-DIMM0\r\nPartNumber     : MR4S-8G-\r\n                 2400\r\n\r\n\r\n" +
			"BankLabel      : BANK 2\r\nCapacity       : 4294967296\r\nDeviceLocator  : ChannelB-DIMM0\r\nPartNumber     : " +
			"\r\n\r\nChassisTypes : {10}\r\nManufacturer : Halyard\r\n",
		"equals": "\r\r\nBankLabel=BANK " +
			"0\r\r\nCapacity=8589934592\r\r\nDeviceLocator=ChannelA-DIMM0\r\r\nPartNumber=MR4S-8G-2400\r\r\n" +
			"BankLabel=BANK 2\r\r\nCapacity=4294967296\r\r\nDeviceLocator=ChannelB-DIMM0\r\r\n\r\r\n" +
			"ChassisTypes={10}\r\r\nManufacturer=Halyard\r\r\n",
	} {
		objects, _, err := records.ParseCIM([]byte(text))
		require.NoError(t, err, name)
		assert.Equal(t, []string{"ChannelA-DIMM0", "ChannelB-DIMM0"},
			told(objects, records.PhysicalMemory, "DeviceLocator"), name)
		assert.Equal(t, []string{"8589934592", "4294967296"}, told(objects, records.PhysicalMemory, "Capacity"), name)
		assert.Equal(t, []string{"MR4S-8G-2400", ""}, told(objects, records.PhysicalMemory, "PartNumber"), name)
		assert.Equal(t, []string{"10"}, told(objects, records.SystemEnclosure, "ChassisTypes"), name)
	}
	_, _, err := records.ParseCIM([]byte("Colour : green\nWeight : 3\n"))
	assert.ErrorIs(t, err, records.ErrCIM, "a list of something else")
}

// A code page of Western systems: every byte means something.
func TestALegacyCodePageIsRead(t *testing.T) {
	objects, _, err := records.ParseCIM([]byte("Caption;TotalVisibleMemorySize\nHarbour OS Familie \xdcbung;8242340\n"))
	require.NoError(t, err)
	assert.Equal(t, []string{"Harbour OS Familie Übung"}, told(objects, records.OperatingSystem, "Caption"))
}

const overview = `{"SPHardwareDataType": [{"_name": "hardware_overview", "machine_model": "Tern18,2",
"cpu_type": "Petrel P5", "serial_number": "XX"}],
  "SPMemoryDataType": [{"_items": [
    {"_name": "BANK 0/ChannelA-DIMM0", "dimm_manufacturer": "0x8A2A", "dimm_part_number": "0x4D5234532D3847",
"dimm_serial_number": "0x16F0A1B2", "dimm_size": "4 GB", "dimm_speed": "2400 MHz", "dimm_type": "DDR4"},
    {"_name": "BANK 1/ChannelB-DIMM0", "dimm_size": "empty", "dimm_type": "empty", "dimm_speed": "empty",
"dimm_part_number": "empty"}],
    "is_memory_upgradeable": "Yes", "global_ecc_state": "ecc_disabled", "odd": {"a": [1]}}],
  "SPSoftwareDataType": [{"os_version": "Harbour OS 13.6"}]}`

func TestTheOtherSystemsOverview(t *testing.T) {
	objects, _, err := records.ParseCIM([]byte(overview))
	require.NoError(t, err)
	assert.Equal(t, []string{"ChannelA-DIMM0", "ChannelB-DIMM0"}, told(objects, records.PhysicalMemory, "DeviceLocator"))
	assert.Equal(t, []string{"4294967296", "0"}, told(objects, records.PhysicalMemory, "Capacity"))
	assert.Equal(t, []string{"MR4S-8G", ""}, told(objects, records.PhysicalMemory, "PartNumber"), "hexadecimal")
	assert.Equal(t, []string{"2400", ""}, told(objects, records.PhysicalMemory, "Speed"))
	assert.Equal(t, []string{"2"}, told(objects, records.PhysicalMemoryArray, "MemoryDevices"))
	assert.Equal(t, []string{"Yes"}, told(objects, records.PhysicalMemoryArray, "Upgradeable"))
	assert.Equal(t, []string{"Tern18,2"}, told(objects, records.ComputerSystem, "Model"))
	assert.Equal(t, []string{"Harbour OS 13.6"}, told(objects, records.OperatingSystem, "Caption"))

	objects, _, err = records.ParseCIM([]byte(`{"SPMemoryDataType": [{"dimm_type": "LPDDR5",
"SPMemoryDataType": "16 GB", "dimm_manufacturer": "Kelpmoor"}]}`))
	require.NoError(t, err)
	assert.Equal(t, []string{"package"}, told(objects, records.PhysicalMemory, "DeviceLocator"))

	for text, want := range map[string]string{"0x4D52": "MR", "4D52": "4D52", "0xZZ": "0xZZ", "0x4D5": "0x4D5",
		"MR4S": "MR4S", "0x4D522000": "MR", "": ""} {
		objects, _, err = records.ParseCIM([]byte(strings.Replace(overview, "0x4D5234532D3847", text, 1)))
		require.NoError(t, err, text)
		assert.Equal(t, []string{want, ""}, told(objects, records.PhysicalMemory, "PartNumber"), text)
	}

	for _, broken := range []string{`{"SPMemoryDataType": `, `{"SPMemoryDataType": 3}`, `{"SPMemoryDataType": [1, [2]]}`,
		strings.Replace(overview, `"_items": [`, `"_items": [[[[`, 1)} {
		_, _, err = records.ParseCIM([]byte(broken))
		assert.ErrorIs(t, err, records.ErrCIM, broken)
	}
}
