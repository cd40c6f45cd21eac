// Command mutate breaks the core in small ways, one at a time, and counts how many of them the
// tests notice: it flips comparisons and moves their bounds by one, swaps "and" and "or", plus and
// minus, and fields of one type, drops a "not", and drops rows of tables.
//
//	go run ./scripts/mutate [-n 200] [-seed 1] [-near] [-longest 2s] [-v] [PACKAGE...]
//	go run ./scripts/mutate -n 0 core/need
//	go run ./scripts/mutate -at core/need/need.go:202,core/spd/sdr.go:100
//
// A copy of the tree is built once with all changes in it, each behind a switch; every test is
// run once to see which changes it comes by, and a change is tried on those tests only: on its
// own package's first, then on the pages, the decisions and the sessions, the quickest first.
package main

import (
	"cmp"
	"flag"
	"fmt"
	"maps"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"
)

// beyond are the tests that a change is tried on which those of its own package let through.
var beyond = []string{"./core/...", "./cmd/epitome"}

func main() {
	n := flag.Int("n", 200, "how many changes are tried; 0 for all")
	seed := flag.Uint64("seed", 1, "which ones")
	at := flag.String("at", "", "only the changes on these lines: FILE:LINE,FILE:LINE")
	near := flag.Bool("near", false, "only the tests of its own package and the pages are asked: a quick list")
	longest := flag.Duration("longest", time.Hour, "leave out tests that take longer")
	loud := flag.Bool("v", false, "name the changes that nothing noticed as they come")
	flag.Parse()
	if err := run(*n, *seed, *at, *longest, *near, *loud, flag.Args()); err != nil {
		fmt.Fprintln(os.Stderr, "mutate:", err)
		os.Exit(1)
	}
}

func run(n int, seed uint64, at string, longest time.Duration, near, loud bool, folders []string) error {
	root, err := os.MkdirTemp("", "mutate")
	if err != nil {
		return err
	}
	defer os.RemoveAll(root)
	started := time.Now()
	tree := filepath.Join(root, "tree")
	if err := copyTree(tree); err != nil {
		return err
	}
	all, err := breakAll(tree)
	if err != nil {
		return err
	}
	fmt.Println(kinds(all))
	var fields []*field
	for i := range 2 { // one for each that tries
		f, err := build(tree, filepath.Join(root, fmt.Sprint("field", i)), beyond)
		if err != nil {
			return err
		}
		fields = append(fields, f)
	}
	if err := copyTree(tree); err != nil { // some tests read the sources
		return err
	}
	tests, err := survey(fields, len(all))
	if err != nil {
		return err
	}
	tests = slices.DeleteFunc(tests, func(t test) bool { return t.took > longest })
	tried := sample(all, n, seed, at, folders)
	fmt.Printf("%d of %d changes, %d tests; ready after %s\n", len(tried), len(all), len(tests),
		time.Since(started).Round(time.Second))
	noticed := make([]string, len(tried))
	var wait sync.WaitGroup
	var next, done atomic.Int32
	for _, f := range fields {
		wait.Go(func() {
			for i := int(next.Add(1)) - 1; i < len(tried); i = int(next.Add(1)) - 1 {
				noticed[i] = f.try(tried[i], tests, near)
				if n := done.Add(1); loud && (noticed[i] == "" || n%100 == 0) {
					fmt.Printf("%d tried; %v: %s\n", n, tried[i], cmp.Or(noticed[i], "not noticed"))
				}
			}
		})
	}
	wait.Wait()
	report(tried, noticed)
	fmt.Println("after", time.Since(started).Round(time.Second))
	return nil
}

// sample picks the changes that are tried: those of the lines or folders that are named, n of
// them by chance, or all for 0.
func sample(all []change, n int, seed uint64, at string, folders []string) []change {
	all = slices.DeleteFunc(slices.Clone(all), func(c change) bool {
		return at != "" && !slices.Contains(strings.Split(at, ","), fmt.Sprintf("%s:%d", c.file, c.line)) ||
			len(folders) > 0 && !slices.Contains(folders, filepath.Dir(c.file))
	})
	dice := rand.New(rand.NewPCG(seed, 1))
	dice.Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
	if n == 0 || at != "" {
		return all
	}
	return all[:min(n, len(all))]
}

// kinds counts the changes of each kind.
func kinds(all []change) string {
	count := make(map[string]int)
	for _, c := range all {
		count[c.kind]++
	}
	var parts []string
	for _, kind := range slices.Sorted(maps.Keys(count)) {
		parts = append(parts, fmt.Sprintf("%s %d", kind, count[kind]))
	}
	return strings.Join(parts, "; ")
}

// report sums up what was noticed, by kind and by package.
func report(tried []change, noticed []string) {
	type sum struct{ all, own, beyond int }
	by := map[string]*sum{"": {}}
	for i, c := range tried {
		name := filepath.Dir(c.file)
		for _, of := range []string{c.kind, name, ""} {
			s := by[of]
			if s == nil {
				s = &sum{}
				by[of] = s
			}
			s.all++
			switch noticed[i] {
			case "":
			case name:
				s.own++
			default:
				s.beyond++
			}
		}
		if noticed[i] == "" {
			fmt.Println("not noticed:", c)
		}
	}
	names := slices.Sorted(maps.Keys(by))
	for _, name := range append(names[1:], "") {
		s := by[name]
		fmt.Printf("%-20s %4d changes, %4d noticed by its own tests, %3d by others: %.0f %%\n", cmp.Or(name, "all"),
			s.all, s.own, s.beyond, 100*float64(s.own+s.beyond)/float64(max(s.all, 1)))
	}
}
