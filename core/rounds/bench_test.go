package rounds_test

import (
	"fmt"
	"testing"

	"epitome/core/rounds"
	"epitome/loads/rounds/made"
)

func BenchmarkSolve(b *testing.B) {
	for _, budget := range []bool{false, true} {
		for _, machines := range []int{10, 100, 200, 1_000, 10_000} {
			b.Run(fmt.Sprintf("machines=%d/budget=%v", machines, budget), func(b *testing.B) {
				p := made.Workshop(machines, 480, budget)
				var got rounds.Plan
				for b.Loop() {
					got = rounds.Solve(p, nil)
				}
				b.ReportMetric(float64(got.Served), "served")
				b.ReportMetric(float64(got.Off), "off")
				b.ReportMetric(float64(got.OffSteps), "offsteps")
				b.ReportMetric(float64(got.OffLeft), "offleft")
				b.ReportMetric(float64(got.Cost), "cost")
				b.ReportMetric(float64(got.Nodes), "nodes")
			})
		}
	}
}
