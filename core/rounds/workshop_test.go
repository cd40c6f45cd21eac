package rounds_test

import (
	"fmt"
	"runtime"
	"strings"
	"testing"

	"epitome/core/rounds"
	"epitome/golden"
	"epitome/loads/rounds/made"
	"epitome/truth/effort"
)

// Rounds as a workshop has them: what is found, how far it may be off, and how much is looked at for it.
func TestRoundsOfAWorkshop(t *testing.T) {
	effort.NotShort(t)
	if runtime.GOARCH != "amd64" {
		t.Skip("others round sums of products in another way")
	}
	var page strings.Builder
	for _, x := range []struct {
		machines, offers int
		budget           bool
	}{{3, 12, false}, {3, 480, false}, {7, 12, false}, {15, 12, false}, {15, 60, false}, {15, 480, false}, {25, 60, false},
		{3, 480, true}, {7, 12, true}, {15, 60, true}, {9, 60, true}} {
		got := rounds.Solve(made.Workshop(x.machines, x.offers, x.budget), nil)
		fmt.Fprintf(&page, "%+v: score %d, %d for %d, exact %v, off %d %d %d, %d nodes, %d orders\n", x, got.Score, got.Cost,
			got.Served, got.Exact, got.OffLeft, got.OffSteps, got.Off, got.Nodes, len(got.Orders))
	}
	golden.Compare(t, "testdata/workshop.txt", page.String())
}
