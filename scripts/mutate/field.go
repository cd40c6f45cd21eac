package main

import (
	"encoding/binary"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"
	"time"
)

// A field is one set of test programs, whose switches are set by the files of its folder.
type field struct {
	tree, folder string
	programs     []program
}

// A program holds the tests of one package.
type program struct{ path, pkg string }

// A test is one test, or one of the tests within it.
type test struct {
	program   int
	name, sub string
	took      time.Duration
	seen      map[int]bool // the changes that it comes by
}

// build builds the test programs of the packages.
func build(tree, folder string, packages []string) (*field, error) {
	f := &field{tree: tree, folder: folder}
	bin := filepath.Join(folder, "bin")
	if err := os.MkdirAll(bin, 0o755); err != nil {
		return nil, err
	}
	in := func(args ...string) ([]byte, error) {
		cmd := exec.Command("go", args...)
		cmd.Dir = tree
		out, err := cmd.CombinedOutput()
		if err != nil {
			return nil, fmt.Errorf("go %s: %w\n%s", args[0], err, out)
		}
		return out, nil
	}
	listed, err := in(slices.Concat([]string{"list", "-f", "{{if or .TestGoFiles .XTestGoFiles}}{{.ImportPath}}{{end}}"},
		packages)...)
	if err != nil {
		return nil, err
	}
	tested := strings.Fields(string(listed))
	if _, err := in(slices.Concat([]string{"test", "-c", "-vet=off", "-o", bin + "/", "-ldflags",
		"-X epitome/internal/mutant.folder=" + folder}, tested)...); err != nil {
		return nil, err
	}
	for _, path := range tested {
		pkg := strings.TrimPrefix(path, "epitome/")
		f.programs = append(f.programs, program{filepath.Join(bin, filepath.Base(pkg)+".test"), pkg})
	}
	return f, nil
}

// run runs tests of a program; an error says that they fail, or take longer than they may.
func (f *field) run(p int, pattern string, may time.Duration, more ...string) ([]byte, error) {
	cmd := exec.Command(f.programs[p].path, slices.Concat([]string{"-test.failfast", "-test.timeout", may.String(),
		"-test.run", pattern}, more)...)
	cmd.Dir = filepath.Join(f.tree, f.programs[p].pkg)
	cmd.WaitDelay = time.Second
	return cmd.CombinedOutput()
}

// parts are tests that take longer than this: those within them are run on their own.
const parts = 500 * time.Millisecond

// survey runs every test once on the tree as it is, to learn what it comes by and how long it takes.
func survey(fields []*field, changes int) ([]test, error) {
	var all []test
	for p := range fields[0].programs {
		out, err := fields[0].run(p, "", time.Minute, "-test.list", "^(Test|Fuzz|Example)")
		if err != nil {
			return nil, fmt.Errorf("%s: %w\n%s", fields[0].programs[p].pkg, err, out)
		}
		for name := range strings.Lines(string(out)) {
			if name = strings.TrimSpace(name); regexp.MustCompile(`^(Test|Fuzz|Example)\w*$`).MatchString(name) {
				all = append(all, test{program: p, name: name})
			}
		}
	}
	if err := look(fields, all); err != nil {
		return nil, err
	}
	var long []test
	all = slices.DeleteFunc(all, func(t test) bool {
		if t.took < parts {
			return false
		}
		out, _ := fields[0].run(t.program, t.pattern(), time.Hour, "-test.v")
		known := len(long)
		within := regexp.MustCompile(`(?m)^=== RUN   ` + t.name + `/([^/\n]+)$`)
		for _, m := range within.FindAllStringSubmatch(string(out), -1) {
			long = append(long, test{program: t.program, name: t.name, sub: m[1]})
		}
		return len(long) > known
	})
	if err := look(fields, long); err != nil {
		return nil, err
	}
	all = append(all, long...)
	slices.SortStableFunc(all, func(a, b test) int { return int(a.took - b.took) })
	return all, nil
}

// look runs tests one by one and notes what they come by.
func look(fields []*field, tests []test) error {
	var wait sync.WaitGroup
	fails := make([]error, len(fields))
	for at, f := range fields {
		wait.Go(func() {
			seen := filepath.Join(f.folder, "seen")
			defer os.Remove(seen)
			for i := at; i < len(tests); i += len(fields) {
				t := &tests[i]
				if fails[at] = os.WriteFile(seen, nil, 0o644); fails[at] != nil {
					return
				}
				start := time.Now()
				if out, err := f.run(t.program, t.pattern(), time.Hour); err != nil { // or everything would seem to be noticed
					fails[at] = fmt.Errorf("%s of %s fails without a change; mend it first\n%.2000s", t.name,
						f.programs[t.program].pkg, out)
					return
				}
				t.took = time.Since(start)
				ids, err := os.ReadFile(seen)
				if err != nil {
					fails[at] = err
					return
				}
				t.seen = make(map[int]bool)
				for ; len(ids) >= 4; ids = ids[4:] {
					t.seen[int(binary.LittleEndian.Uint32(ids))] = true
				}
			}
		})
	}
	wait.Wait()
	return errors.Join(fails...)
}

func (t test) pattern() string {
	if t.sub != "" {
		return exactly(t.name) + "/" + exactly(t.sub)
	}
	return exactly(t.name)
}

func exactly(names ...string) string {
	quoted := make([]string, len(names))
	for i, n := range names {
		quoted[i] = regexp.QuoteMeta(n)
	}
	return "^(" + strings.Join(quoted, "|") + ")$"
}

// try switches a change on and runs the tests that come by it; it returns the package whose tests
// noticed, "" for nobody. Those of its own package come first, and of each the quick ones together.
func (f *field) try(c change, tests []test, near bool) string {
	active := filepath.Join(f.folder, "active")
	defer os.Remove(active)
	var own, others []test
	for _, t := range tests {
		if !c.row && !t.seen[c.id] {
			continue
		}
		if f.programs[t.program].pkg == filepath.Dir(c.file) {
			own = append(own, t)
		} else if !near || strings.HasPrefix(t.name, "TestPages") {
			others = append(others, t)
		}
	}
	for _, some := range [][]test{own, others} {
		for _, b := range batches(some) {
			may := 10*time.Second + 5*b.took
			if os.WriteFile(active, fmt.Appendln(nil, c.id, int(may.Seconds())), 0o644) != nil {
				return "no room"
			}
			if _, err := f.run(b.program, b.pattern, may); err != nil {
				return f.programs[b.program].pkg
			}
		}
	}
	return ""
}

// A batch is what one start of a program runs.
type batch struct {
	program int
	pattern string
	took    time.Duration
}

// batches puts tests together that are quick; they come sorted by how long they take.
func batches(tests []test) (list []batch) {
	type heap struct {
		program int
		parent  string
	}
	names := make(map[heap][]string)
	took := make(map[heap]time.Duration)
	var order []heap
	flush := func(h heap) {
		pattern := exactly(names[h]...)
		if h.parent != "" {
			pattern = exactly(h.parent) + "/" + pattern
		}
		list = append(list, batch{h.program, pattern, took[h]})
		delete(names, h)
		delete(took, h)
	}
	for _, t := range tests {
		h := heap{program: t.program}
		name := t.name
		if t.sub != "" {
			h.parent, name = t.name, t.sub
		}
		if len(names[h]) == 0 {
			order = append(order, h)
		}
		names[h] = append(names[h], name)
		if took[h] += t.took; took[h] > 2*time.Second {
			flush(h)
			order = slices.DeleteFunc(order, func(o heap) bool { return o == h })
		}
	}
	for _, h := range order {
		flush(h)
	}
	slices.SortStableFunc(list, func(a, b batch) int { return int(a.took - b.took) })
	return list
}
