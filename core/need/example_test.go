package need_test

import (
	"fmt"

	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/need"
)

func ExamplePolicy_Size() {
	policy := need.BuiltIn()
	uses, _ := policy.ParseUses("browsing,tabs=40,office")
	a := policy.Size(need.Question{System: "Windows 10 Home", Bits: 64, Uses: uses, Installed: maybe.Just(8 * jedec.GiB)})
	fmt.Println(a.Customer)
	// Output: For what you do your computer wants about 12 GB; it has 8 GB.
}
