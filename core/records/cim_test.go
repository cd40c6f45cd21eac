package records_test

import (
	"bytes"
	"strings"
	"testing"
	"unicode/utf16"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"epitome/core/maybe"
	"epitome/core/records"
	"epitome/truth/effort"
)

const osObject = `{"CreationClassName": "CIM_OperatingSystem", "Caption": "Windows 10 Home ",
"OSArchitecture": "64-bit", "TotalVisibleMemorySize": 8242340, "FreePhysicalMemory": 712000, "Ignored": null, ` +
	`"CimSystemProperties": {"Namespace": "root"}}`

func TestCIMShapes(t *testing.T) {
	module := `{"CimClass": {"CimClassName": "Win32_PhysicalMemory"}, "DeviceLocator": "DIMM A", "Capacity": 8589934592}`
	for name, text := range map[string]string{
		"one object": osObject, "array": "[" + osObject + "]", "nested": "[[" + osObject + "]]",
		"by class":            `{"OperatingSystem": ` + osObject + `}`,
		"one after the other": osObject + "\n" + module, "with a byte order mark": "\uFEFF" + osObject,
		"class left out":    `{"TotalVisibleMemorySize": "8242340", "Caption": "Windows 10 Home"}`,
		"CSV":               "#TYPE X\n\"Caption\",\"TotalVisibleMemorySize\"\n\"Windows 10 Home\",\"8242340\"\n",
		"CSV of semicolons": "Caption;TotalVisibleMemorySize\r\nWindows 10 Home;8242340\r\n",
	} {
		objects, _, err := objectsIn([]byte(text))
		require.NoError(t, err, name)
		require.NotEmpty(t, objects, name)
		assert.Equal(t, records.OperatingSystem, objects[0].Class, name)
		assert.Equal(t, maybe.Just(uint64(8242340)), objects[0].Number("TotalVisibleMemorySize"), name)
		assert.Equal(t, "Windows 10 Home", objects[0].Text("Caption"), name)
		assert.False(t, objects[0].Number("Ignored").Known(), name)
	}
	objects, _, err := objectsIn([]byte("[" + module + "," + osObject + `,{"Name": "printer"}]`))
	require.NoError(t, err)
	require.Len(t, objects, 2)
	assert.Equal(t, records.PhysicalMemory, objects[0].Class)
	assert.Equal(t, maybe.Just(uint64(8589934592)), objects[0].Number("Capacity"))
}

func TestCIMInUTF16(t *testing.T) {
	for _, little := range []bool{true, false} {
		var data []byte
		for _, u := range append([]uint16{0xFEFF}, utf16.Encode([]rune(osObject))...) {
			if little {
				data = append(data, byte(u), byte(u>>8))
			} else {
				data = append(data, byte(u>>8), byte(u))
			}
		}
		objects, _, err := objectsIn(data)
		require.NoError(t, err)
		require.Len(t, objects, 1)
	}
}

func TestWhatIsNoCIM(t *testing.T) {
	for _, text := range []string{"", "hello", `{"a": `, "\xff\xffrubbish", "a,b\n1,2\n", "\"open"} {
		_, _, err := objectsIn([]byte(text))
		require.ErrorIs(t, err, records.ErrCIM, "%q", text)
	}
	objects, _, err := objectsIn([]byte(`[[[[[[[[[[[[` + osObject + `]]]]]]]]]]]]`))
	require.NoError(t, err)
	assert.Empty(t, objects, "nested deeper than any shell does")
}

func FuzzParseExport(f *testing.F) {
	f.Add([]byte(osObject))
	f.Add([]byte("DeviceLocator Capacity\n------------- --------\nA          8589934592\n"))
	f.Add([]byte("Caption;TotalVisibleMemorySize\r\nWindows 10 Home;8242340\r\n"))
	f.Fuzz(func(t *testing.T, data []byte) {
		objects, _, err := objectsIn(data)
		if err != nil {
			require.ErrorIs(t, err, records.ErrCIM)
		}
		for _, o := range objects {
			require.NotEmpty(t, o.Class)
		}
	})
}

func TestAnExportHasBounds(t *testing.T) {
	effort.NotShort(t)
	for _, text := range []string{strings.Repeat("[", 2_000_000), strings.Repeat(`{"value":`, 300_000),
		"[" + strings.Repeat("1,", 1_000_000) + "1]"} {
		objects, _, _ := objectsIn([]byte(text))
		assert.Empty(t, objects)
	}
	_, _, err := objectsIn([]byte("[" + strings.Repeat(`{"DeviceLocator":"a"},`, 3000) + "1]"))
	assert.ErrorContains(t, err, "more than 2000 objects")
	whole := []byte(`[{"CreationClassName": "Win32_PhysicalMemory", "DeviceLocator": "A"}]`)
	whole = append(whole, bytes.Repeat([]byte(" "), 4<<20-len(whole))...)
	objects, _, err := objectsIn(whole)
	assert.NoError(t, err, "as long as one may be")
	assert.Len(t, objects, 1)
	_, _, err = objectsIn(append(whole, ' '))
	assert.ErrorContains(t, err, "up to 4096 are read")
}

// The computer's own object has the number of its processors too: its name is
// no processor's.
func TestTheComputersNameIsNoProcessor(t *testing.T) {
	objects, _, err := objectsIn([]byte(`{"Name":"QUAY-PC","NumberOfLogicalProcessors":8,
"TotalPhysicalMemory":8000}`))
	require.NoError(t, err)
	for _, o := range objects {
		assert.NotEqual(t, records.Processor, o.Class)
	}
}

// Shells write a description of the class into each object; it names the class
// and is otherwise passed over.
func TestClassDescriptionsArePassedOver(t *testing.T) {
	objects, _, err := objectsIn([]byte(`{"Caption":"Linux","CimClass":{"CimClassName":"CIM_OperatingSystem",
"CimClassProperties":[{"Name":"DeviceLocator"}]},"Names":["DeviceLocator"]}`))
	require.NoError(t, err)
	require.Len(t, objects, 1)
	assert.Equal(t, records.OperatingSystem, objects[0].Class)
}
