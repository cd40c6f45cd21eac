package demo

import (
	"epitome/core/jedec"
	"epitome/core/spd/compose"
)

// The workshop's makers have no number in the list of makers; the images
// carry codes of a bank beyond it.
func made(code byte, part, serial string, year, week byte) compose.Identity {
	return compose.Identity{Maker: jedec.MakerCode{Bank: 16, Code: code},
		ChipMaker: jedec.MakerCode{Bank: 16, Code: 0x01}, Part: part, Serial: serial, Year: year, Week: week}
}

// gullModule: 8 GB DDR4-2400 SO-DIMM, one rank of 8 Gbit x8.
func gullModule() []byte {
	return compose.DDR4{Type: 3, DensityCode: 5, Ranks: 1, WidthCode: 1, TCK: 833, TAA: 13750, TRCD: 13750, TRP: 13750,
		TRAS: 32000, TRC: 45750,
		FirstCL: 10, LastCL: 18, Height: 30, Identity: made(0x02, "MR4S-8G24-17", "4F21A09C", 0x18, 0x49)}.Bytes()
}

// bollardModule: 2 GB DDR3-1333 DIMM, two ranks of 1 Gbit x8.
func bollardModule() []byte {
	return compose.DDR3{Type: 2, DensityCode: 2, Ranks: 2, WidthCode: 1, TCK: 1500, TAA: 13125, TRCD: 13125, TRP: 13125,
		TRAS: 36000, TRC: 49125,
		FirstCL: 6, LastCL: 9, Identity: made(0x02, "MR3U-2G13-9", "0A11C3F0", 0x11, 0x20)}.Bytes()
}

// breakwaterModule: 8 GB DDR4-2133 DIMM sold for 3600 by its profile.
func breakwaterModule(serial string) []byte {
	return compose.DDR4{Type: 2, DensityCode: 5, Ranks: 1, WidthCode: 1, TCK: 938, TAA: 14060, TRCD: 14060, TRP: 14060,
		TRAS: 33000, TRC: 47060,
		FirstCL: 10, LastCL: 16, Height: 34, Identity: made(0x03, "SQ4-3600C18-8G", serial, 0x19, 0x40),
		ProfileTCK: 556, ProfileCL: 18, ProfileRCD: 22, ProfileRAS: 42, ProfileMilliVolts: 1350}.Bytes()
}
