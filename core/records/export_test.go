package records_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/jedec"
	"epitome/core/maybe"
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
	objects, others, err := objectsIn([]byte(`[
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
		objects, _, err := objectsIn([]byte(text))
		require.NoError(t, err, name)
		assert.Equal(t, []string{"ChannelA-DIMM0", "ChannelB-DIMM0"},
			told(objects, records.PhysicalMemory, "DeviceLocator"), name)
		assert.Equal(t, []string{"8589934592", "4294967296"}, told(objects, records.PhysicalMemory, "Capacity"), name)
		assert.Equal(t, []string{"MR4S-8G-2400", ""}, told(objects, records.PhysicalMemory, "PartNumber"), name)
		assert.Equal(t, []string{"10"}, told(objects, records.SystemEnclosure, "ChassisTypes"), name)
	}
	_, _, err := objectsIn([]byte("Colour : green\nWeight : 3\n"))
	assert.ErrorIs(t, err, records.ErrCIM, "a list of something else")
}

// A code page of Western systems: every byte means something.
func TestALegacyCodePageIsRead(t *testing.T) {
	objects, _, err := objectsIn([]byte("Caption;TotalVisibleMemorySize\nHarbour OS Familie \xdcbung;8242340\n"))
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
	overviewOf := func(text string) *records.Overview {
		x, err := records.ParseExport([]byte(text))
		require.NoError(t, err, text)
		require.NotNil(t, x.Overview, text)
		assert.Empty(t, x.Objects, "it is no management object's export")
		return x.Overview
	}
	o := overviewOf(overview)
	require.Len(t, o.Places, 2)
	assert.Equal(t, records.OverviewPlace{Bank: "BANK 0", Locator: "ChannelA-DIMM0", Size: maybe.Just(4 * jedec.GiB),
		Generation: maybe.Just(jedec.DDR4), Speed: maybe.Just(2400), Maker: "0x8A2A", Part: "MR4S-8G",
		Serial: "0x16F0A1B2", HasSerial: true, HasPart: true}, o.Places[0])
	assert.Equal(t, records.OverviewPlace{Bank: "BANK 1", Locator: "ChannelB-DIMM0", HasPart: true}, o.Places[1], "empty")
	assert.Equal(t, []string{"Yes", "Tern18,2", "Petrel P5", "Harbour OS 13.6"},
		[]string{o.Upgradeable, o.Model, o.Processor, o.System})

	soldered := overviewOf(`{"SPMemoryDataType": [{"dimm_type": "LPDDR5",
"SPMemoryDataType": "16 GB", "dimm_manufacturer": "Kelpmoor"}]}`)
	assert.True(t, soldered.InPackage)
	assert.Equal(t, "package", soldered.Places[0].Locator)
	checked := overviewOf(strings.Replace(overview, `"dimm_type": "DDR4"`, `"dimm_type": "DDR4 ECC"`, 1))
	assert.Equal(t, maybe.Just(true), checked.Places[0].ECC)
	assert.Equal(t, maybe.Just(jedec.DDR4), checked.Places[0].Generation)
	two := overviewOf(strings.Replace(overview, `"serial_number": "XX"`, `"packages": 2`, 1))
	assert.Equal(t, maybe.Just(2), two.Processors)

	for text, want := range map[string]string{"0x4D52": "MR", "4D52": "4D52", "0xZZ": "0xZZ", "0x4D5": "0x4D5",
		"MR4S": "MR4S", "0x4D522000": "MR", "": ""} {
		assert.Equal(t, want, overviewOf(strings.Replace(overview, "0x4D5234532D3847", text, 1)).Places[0].Part, text)
	}
	for _, broken := range []string{`{"SPMemoryDataType": `, `{"SPMemoryDataType": 3}`, `{"SPMemoryDataType": [1, [2]]}`,
		strings.Replace(overview, `"_items": [`, `"_items": [[[[`, 1)} {
		_, err := records.ParseExport([]byte(broken))
		assert.ErrorIs(t, err, records.ErrCIM, broken)
	}
}

// A copy that leaves the shop says the same of the memory, and no serial number of it.
func TestASharedOverview(t *testing.T) {
	shared, err := records.UnderstoodExport([]byte(overview), func(string) string { return "S-1" })
	require.NoError(t, err)
	before, err := records.ParseExport([]byte(overview))
	require.NoError(t, err)
	after, err := records.ParseExport(shared)
	require.NoError(t, err)
	before.Overview.Places[0].Serial = "S-1"
	assert.Equal(t, before, after)
	assert.NotContains(t, string(shared), "16F0A1B2")
	assert.NotContains(t, string(shared), "XX")
}

// objectsIn are the management objects of an export, and the classes of those that are left out.
func objectsIn(data []byte) ([]records.Object, []string, error) {
	x, err := records.ParseExport(data)
	return x.Objects, x.Others, err
}

// The tables that shells print, with and without a line of dashes, and rows by tabs: what each says of places.
func TestTablesThatShellsPrint(t *testing.T) {
	for name, c := range map[string]struct{ text, want string }{
		"ruled": {"\r\nDeviceLocator     Capacity Speed\r\n-------------     -------- -----\r\n" +
			"DIMM 1         8589934592  2400\r\nDIMM 2         4294967296\r\n\r\n",
			"DIMM 1|8589934592|2400 DIMM 2|4294967296|"},
		"names and cells run on": {"DeviceLocator Capacity   PartNumber\n------------- --------   ----------\n" +
			"A             8589934592 MR4S 8G A\n", "A|8589934592|"},
		"by columns alone": {"BankLabel  Capacity    DeviceLocator   Speed  \n" +
			"BANK 0     8589934592  ChannelA-DIMM0  1600   \n" +
			"           4294967296  ChannelB-DIMM0  1600   \n", "ChannelA-DIMM0|8589934592|1600 ChannelB-DIMM0|4294967296|1600"},
		"by tabs":          {"DeviceLocator\tCapacity\tSpeed\nA\t8589934592\t1600\n", "A|8589934592|1600"},
		"a cell cut short": {"DeviceLocator Capacity\n------------- --------\nChannelA-D... 8589934592\n", "|8589934592|"},
		"two tables": {"DeviceLocator Capacity\n------------- --------\nA             1073741824\n\n" +
			"MemoryDevices MaxCapacity\n------------- -----------\n            2    33554432\n", "A|1073741824|"},
	} {
		objects, _, err := objectsIn([]byte(c.text))
		require.NoError(t, err, name)
		var out []string
		for _, o := range objects {
			if o.Class == records.PhysicalMemory {
				out = append(out, o.Text("DeviceLocator")+"|"+o.Text("Capacity")+"|"+o.Text("Speed"))
			}
		}
		assert.Equal(t, c.want, strings.Join(out, " "), name)
	}
	objects, _, err := objectsIn([]byte("MaxCapacity  \n33554432     \n"))
	require.NoError(t, err, "the answer to one question")
	assert.Equal(t, maybe.Just(uint64(33554432)), objects[0].Number("MaxCapacity"))
	for _, none := range []string{"Colour Weight\n------ ------\ngreen  3\n", "DeviceLocator Capacity\n",
		"------\n------\n"} {
		_, _, err := objectsIn([]byte(none))
		assert.ErrorIs(t, err, records.ErrCIM, none)
	}
}

// A row whose words happen to be names of properties is a row.
func TestARowIsNoHeader(t *testing.T) {
	objects, _, err := objectsIn([]byte("Name              Description                         Manufacturer\n" +
		"----              -----------                         ------------\n" +
		"Petrel P5 6600H   Petrel Family 25 Model 68 Stepping 1 AuthenticAMD\n"))
	require.NoError(t, err)
	assert.Equal(t, []string{"Petrel P5 6600H"}, told(objects, records.Processor, "Name"))
}
