package rounds

import (
	"fmt"
	"math/rand/v2"
	"runtime"
	"strings"
	"testing"

	"epitome/golden"
	"epitome/truth/effort"
)

// What each stage of the work on small rounds comes to, and how much the search looks at: a bound that climbs less far,
// a start that is worse or a branch that is no longer cut off is slower and not wrong, and shows here.
func TestEffortOfEachStage(t *testing.T) {
	effort.NotShort(t)
	if runtime.GOARCH != "amd64" {
		t.Skip("others round sums of products in another way")
	}
	var page strings.Builder
	for seed := range uint64(100) {
		p := made(rand.New(rand.NewPCG(seed, 99)))
		if seed%4 == 0 { // larger ones, of machines that are not alike
			for range 8 {
				p.Machines = append(p.Machines, made(rand.New(rand.NewPCG(seed, uint64(len(p.Machines))))).Machines...)
			}
			for i := range p.Machines {
				for w := range p.Machines[i].Ways {
					for k := range p.Machines[i].Ways[w].Wants {
						of := p.Machines[i].Ways[w].Wants[k].Items
						for n := range of {
							of[n] %= len(p.Items)
						}
					}
					for n := range p.Machines[i].Ways[w].Frees {
						p.Machines[i].Ways[w].Frees[n] %= len(p.Items)
					}
				}
			}
		}
		s := newState(&p)
		say := func(stage string) {
			fmt.Fprintf(&page, " %s %d at %.3f, split %.3f", stage, s.bestScore, s.lower, s.split)
		}
		fmt.Fprintf(&page, "%d:", seed)
		s.ascend()
		say("ascend")
		fmt.Fprintf(&page, " prices %.2f, money %.3f;", s.price, s.dear)
		if !s.met() {
			s.branch()
			say("branch")
		}
		if !s.met() {
			s.search()
			say("search")
			fmt.Fprintf(&page, " in %d nodes", s.nodes)
		}
		if !s.met() && !s.searched && p.Budget.Known() {
			s.tearUp()
			say("tear up")
		}
		got := s.plan()
		fmt.Fprintf(&page, "; %d for %d machines, exact %v, off %d %d %d, %v\n", got.Cost, got.Served, got.Exact, got.OffLeft,
			got.OffSteps, got.Off, got.Orders)
	}
	golden.Compare(t, "testdata/stages.txt", page.String())
}
