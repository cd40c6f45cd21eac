package narrow_test

import (
	"fmt"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/narrow"
)

func ExampleFrom() {
	r, _ := narrow.From(narrow.Clues{Contacts: maybe.Just(240), Form: maybe.Just(jedec.DIMM)})
	for _, c := range r.Candidates {
		fmt.Println(c)
	}
	look, _ := r.Look.Get()
	fmt.Println("look at", look.At)
	// Output:
	// DDR2 DIMM
	// DDR3 DIMM
	// look at where the notch lies, from the left end with the label towards you
}

func ExampleSets() {
	for _, set := range narrow.Sets(12*jedec.GiB, 2, jedec.ModuleSizes(jedec.DDR4)) {
		fmt.Println(set)
	}
	// Output: 8 GB + 4 GB
}
