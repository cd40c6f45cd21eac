// Command rounds writes a made-up round over many machines in the CPLEX-LP format, for a
// general integer-programming solver, and prints what our own search comes to. It is a
// bench tool: see compare.sh beside it.
//
//	go run ./loads/rounds MACHINES LINES BUDGET > problem.lp
package main

import (
	"bufio"
	"fmt"
	"os"
	"strconv"
	"strings"
	"time"

	"epitome/core/rounds"
	"epitome/loads/rounds/made"
)

func main() {
	if len(os.Args) != 4 {
		fmt.Fprintln(os.Stderr, "usage: rounds MACHINES LINES BUDGET(yes or no) > problem.lp")
		os.Exit(2)
	}
	machines, err1 := strconv.Atoi(os.Args[1])
	lines, err2 := strconv.Atoi(os.Args[2])
	if err1 != nil || err2 != nil {
		fmt.Fprintln(os.Stderr, "rounds: two whole numbers are wanted")
		os.Exit(2)
	}
	p := made.Workshop(machines, lines, os.Args[3] == "yes")
	write(p)
	began := time.Now()
	plan := rounds.Solve(p, nil)
	fmt.Fprintf(os.Stderr, "ours %d, exact %v, off %d, %v\n", plan.Score, plan.Exact, plan.Off,
		time.Since(began).Round(time.Millisecond))
}

// write states the problem: x a machine's way, t the pieces of an item that it takes for a
// want, u units of a lot and w whether any is bought.
func write(p rounds.Problem) {
	w := bufio.NewWriter(os.Stdout)
	defer w.Flush()
	step, left := p.Weights()
	net := make([]strings.Builder, len(p.Items)) // pieces taken less those that come out
	var rows, ints, bins strings.Builder
	fmt.Fprint(w, "Minimize\n score: ")
	constant := int64(0)
	_, limited := p.Budget.Get()
	for i, m := range p.Machines {
		without := int64(0) // without a budget there is enough for all of these rounds
		if limited {
			without = left*int64(m.Need) + step*int64(m.Gain)
		}
		constant += without
		fmt.Fprintf(&rows, " one%d:", i)
		for k, way := range m.Ways {
			fmt.Fprintf(w, " %+d x%d_%d\n", int64(way.Steps)*step+way.Extra-without, i, k)
			fmt.Fprintf(&rows, " + x%d_%d", i, k)
			fmt.Fprintf(&bins, " x%d_%d\n", i, k)
		}
		fmt.Fprintf(&rows, " %s 1\n", map[bool]string{true: "<=", false: "="}[limited])
		for k, way := range m.Ways {
			for j, want := range way.Wants {
				fmt.Fprintf(&rows, " want%d_%d_%d:", i, k, j)
				for _, item := range want.Items {
					fmt.Fprintf(&rows, " + t%d_%d_%d_%d", i, k, j, item)
					fmt.Fprintf(&ints, " t%d_%d_%d_%d\n", i, k, j, item)
					fmt.Fprintf(&net[item], " + t%d_%d_%d_%d", i, k, j, item)
				}
				fmt.Fprintf(&rows, " - %d x%d_%d = 0\n", want.N, i, k)
			}
			for _, item := range way.Frees {
				fmt.Fprintf(&net[item], " - x%d_%d", i, k)
			}
		}
	}
	cost := ""
	for s, item := range p.Items {
		supply := ""
		for k, l := range item.Lots {
			fmt.Fprintf(w, " %+d u%d_%d\n", l.Price, s, k)
			cost += fmt.Sprintf(" + %d u%d_%d\n", l.Price, s, k)
			supply += fmt.Sprintf(" - %d u%d_%d", l.Pieces, s, k)
			most := l.Units
			if most == rounds.Any {
				most = 4 * len(p.Machines)
			}
			fmt.Fprintf(&rows, " most%d_%d: u%d_%d - %d w%d_%d <= 0\n", s, k, s, k, most, s, k)
			fmt.Fprintf(&rows, " least%d_%d: u%d_%d - %d w%d_%d >= 0\n", s, k, s, k, l.MinOrder, s, k)
			fmt.Fprintf(&ints, " u%d_%d\n", s, k)
			fmt.Fprintf(&bins, " w%d_%d\n", s, k)
		}
		if net[s].Len() > 0 {
			fmt.Fprintf(&rows, " item%d:%s%s <= %d\n", s, net[s].String(), supply, item.Free)
		}
	}
	if budget, ok := p.Budget.Get(); ok {
		fmt.Fprintf(&rows, " budget:%s <= %d\n", cost, budget)
	}
	fmt.Fprintf(w, "Subject To\n%sGeneral\n%sBinary\n%sEnd\n", rows.String(), ints.String(), bins.String())
	fmt.Fprintf(os.Stderr, "constant %d\n", constant)
}
