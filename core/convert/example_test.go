package convert_test

import (
	"fmt"

	"epitome/core/convert"
)

func ExampleFrom() {
	r, _ := convert.From("1333MHz", "")
	for _, reading := range r.Readings {
		fmt.Println(reading.As, reading.Grades[0].Grade)
	}
	fmt.Println(r.Settles)
	// Output:
	// data rate DDR3-1333
	// clock DDR4-2666
	// the generation settles it: no generation has both
}
