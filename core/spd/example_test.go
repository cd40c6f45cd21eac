package spd_test

import (
	"fmt"

	"epitome/core/jedec"
	"epitome/core/spd"
	"epitome/core/spd/compose"
)

func ExampleDecode() {
	image := compose.DDR4{Type: 3, DensityCode: 5, Ranks: 1, WidthCode: 1, TCK: 833, TAA: 13750, TRCD: 13750, TRP: 13750, TRAS: 32000, TRC: 45750,
		FirstCL: 10, LastCL: 18, Height: 30, Identity: compose.Identity{Maker: jedec.MakerCode{Bank: 16, Code: 2}, Part: "MR4S-8G24-17", Serial: "4F21A09C"}}.Bytes()
	m, _ := spd.Decode(image)
	size, _ := m.Capacity.Get()
	grade, _ := m.Grade()
	fmt.Println(size, grade, m.Form, m.Part, m.Checksum())
	image[4]++
	m, _ = spd.Decode(image)
	fmt.Println(m.Checks[0])
	// Output:
	// 8 GB DDR4-2400 SO-DIMM MR4S-8G24-17 ok
	// bytes 0 to 125: bad, 0xDB48 is stored, the bytes make 0x1EB7
}
