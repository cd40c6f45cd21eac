// Package effort says how much a test does: everything in CI, less between two edits, little with -short.
package effort

import (
	"os"
	"testing"
)

// Full tells whether the long tests run at their full size: CI sets EPITOME_TEST_FULL.
func Full() bool { return os.Getenv("EPITOME_TEST_FULL") != "" }

// Cases is how many cases by chance a test looks at: all of them in CI, an eighth between two edits, and a twentieth
// with -short; ten at the least, or five.
func Cases(all int) int {
	switch {
	case Full():
		return all
	case testing.Short():
		return max(5, all/20)
	default:
		return max(10, all/8)
	}
}

// NotShort skips a test with -short.
func NotShort(t testing.TB) {
	t.Helper()
	if testing.Short() && !Full() {
		t.Skip("-short")
	}
}
