package evidence

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"epitome/core/catalogue"
	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/reading"
	"epitome/core/smbios/compose"
)

// Where no reading tells a module's generation, it is the only one for sockets that the processor's controller takes.
// What a reading says stands; of a controller of two generations nothing follows, nor of chips on the board.
func TestTheGenerationThatAControllerTakes(t *testing.T) {
	const unknown = 0x02
	const haswell, skylake = "Intel(R) Core(TM) i5-4210U CPU @ 1.70GHz", "Intel(R) Core(TM) i5-6400 CPU @ 2.70GHz"
	for name, c := range map[string]struct {
		processor string
		kind      byte // the firmware's code of the memory's kind
		form      byte
		takes     jedec.Generation
		holds     jedec.Generation
		why       string
	}{
		"one generation":        {haswell, unknown, 0x0D, jedec.DDR3, jedec.DDR3, "Haswell-U"},
		"two of them":           {skylake, unknown, 0x09, 0, 0, ""},
		"a reading tells":       {skylake, 0x1A, 0x09, jedec.DDR4, jedec.DDR4, "table 17"},
		"a reading against it":  {haswell, 0x1A, 0x0D, jedec.DDR4, jedec.DDR4, "table 17"},
		"nobody knows the name": {"Petrel P5", unknown, 0x0D, 0, 0, ""},
		"chips on the board":    {haswell, unknown, 0x0B, jedec.DDR3, 0, "Haswell-U"},
	} {
		d := compose.Device{Handle: 1, Array: 0x1000, MiB: 4096, Type: c.kind, Locator: "DIMM 0", Speed: 1600, Form: c.form,
			Serial: "01010101", Part: "MR-1"}
		m := Weigh(reading.Of(bench(append(chassis(laptop), compose.Array(0x1000, 16<<20, 1), d.Structure(),
			compose.Processor(4, "CPU 0", "", c.processor, 0, 3000, 4))...)), catalogue.Catalogue{})
		assert.Equal(t, c.takes, m.Generation.Or(0), name)
		assert.Equal(t, c.holds, m.Places[0].Module.Generation.Or(0), name)
		if c.why != "" {
			assert.Equal(t, fact.Settled, m.Generation.Standing(), name)
			assert.Contains(t, m.Generation.Why()[0].Says+m.Generation.Why()[0].Source, c.why, name)
		}
	}
}
