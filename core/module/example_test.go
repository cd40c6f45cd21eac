package module_test

import (
	"fmt"

	"epitome/core/module"
)

func ExampleParse() {
	s, _ := module.Parse("16 GB (2x8) DDR4 3200MHz CL22 SODIMM 1,2V")
	size, _ := s.Capacity.Get()
	pieces, _ := s.Pieces.Get()
	grade, _ := s.Grade().Get()
	_, ranksKnown := s.Ranks.Get()
	fmt.Println(pieces, "×", size, grade, ranksKnown)
	_, err := module.Parse("DDR4 SO-DIMM 204-pin 8GB")
	fmt.Println(err)
	// Output:
	// 2 × 8 GB DDR4-3200 false
	// "DDR4 SO-DIMM 204-pin 8GB" contradicts itself: "DDR4" against "204-pin": modules with 204 contacts are DDR3; a DDR4 SO-DIMM has 260
}
