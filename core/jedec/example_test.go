package jedec_test

import (
	"fmt"

	"epitome/core/jedec"
)

func ExampleParseGrade() {
	for _, spelling := range []string{"PC3-10600", "PC3-10667", "DDR3-1333"} {
		grade, _, _ := jedec.ParseGrade(spelling)
		fmt.Println(grade, grade.Rate, grade.Clock())
	}
	_, _, err := jedec.ParseGrade("PC3-11000")
	fmt.Println(err)
	// Output:
	// DDR3-1333 1333 MT/s 666.67 MHz
	// DDR3-1333 1333 MT/s 666.67 MHz
	// DDR3-1333 1333 MT/s 666.67 MHz
	// no such grade: "PC3-11000"; the nearest are PC3-10600 (DDR3-1333) and PC3-12800 (DDR3-1600)
}

func ExampleParseLabel() {
	label, _ := jedec.ParseLabel("8GB 1Rx8 PC4-2400T-SA1-11")
	means, _ := label.Meaning()
	timing, _ := label.Timing.Get()
	fmt.Println(label.Grade, means.Form, means.Kind, timing)
	// Output: DDR4-2400 SO-DIMM unbuffered 17-17-17
}

func ExampleBin_At() {
	grade, _, _ := jedec.ParseGrade("DDR4-3200")
	slower, _, _ := jedec.ParseGrade("DDR4-2666")
	bin, _ := jedec.BinNamed(grade, "AA")
	timing, _ := bin.At(slower)
	fmt.Println(bin.Name(), bin.Timing, "at 2666:", timing)
	// Output: DDR4-3200AA 22-22-22 at 2666: 19-19-19
}
