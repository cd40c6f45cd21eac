// Command mutate breaks the core in small ways, one at a time, and counts how many of them the
// tests notice: it flips comparisons, swaps "and" and "or", plus and minus, drops a "not", and
// drops rows of tables. Nothing is written into the tree: each change is laid over it.
//
//	go run ./scripts/mutate [-n 200] [-seed 1] [-v] [PACKAGE...]
//	go run ./scripts/mutate -at core/need/need.go:202,core/spd/sdr.go:100
//
// A change that the tests of its own package let through is tried on what is built on them. The
// tree must not change meanwhile: run it in a clone.
package main

import (
	"cmp"
	"encoding/json"
	"flag"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"time"
)

// A change is one small way to break a file.
type change struct {
	file     string
	line     int
	from, to int // bytes that are replaced
	with     string
	what     string
}

// longest is how long the tests of one change may take; one that makes them hang is noticed.
const longest = 4 * time.Minute

// beyond are the tests that a change is tried on which its own package lets through.
var beyond = [][]string{{"-run", "Pages", "./cmd/epitome"}, {"./core/bench"}, {"-run", "Decid", "./internal/cli"},
	{"./cmd/epitome"}}

func main() {
	n := flag.Int("n", 200, "how many changes are tried")
	seed := flag.Uint64("seed", 1, "which ones")
	at := flag.String("at", "", "only the changes on these lines: FILE:LINE,FILE:LINE")
	loud := flag.Bool("v", false, "name the changes that nothing noticed as they come")
	flag.Parse()
	folders := flag.Args()
	if len(folders) == 0 {
		folders, _ = filepath.Glob("core/*")
	}
	var all []change
	for _, folder := range folders {
		files, _ := filepath.Glob(filepath.Join(folder, "*.go"))
		for _, f := range files {
			if !strings.HasSuffix(f, "_test.go") {
				list, err := changes(f)
				if err != nil {
					fmt.Fprintln(os.Stderr, "mutate:", err)
					os.Exit(1)
				}
				all = append(all, list...)
			}
		}
	}
	if *at != "" {
		lines := strings.Split(*at, ",")
		all = slices.DeleteFunc(all, func(c change) bool {
			return !slices.Contains(lines, fmt.Sprintf("%s:%d", c.file, c.line))
		})
	}
	dice := rand.New(rand.NewPCG(*seed, 1))
	dice.Shuffle(len(all), func(i, j int) { all[i], all[j] = all[j], all[i] })
	tried := all[:min(*n, len(all))]
	fmt.Printf("%d of %d changes\n", len(tried), len(all))
	for _, where := range append([][]string{{"./core/..."}}, beyond...) {
		if !pass(where) { // or everything would seem to be noticed
			fmt.Fprintf(os.Stderr, "mutate: the tests of %s fail without a change; mend them first\n", where[len(where)-1])
			os.Exit(1)
		}
	}
	noticed := make([]string, len(tried))
	var wait sync.WaitGroup
	next := make(chan int)
	var done atomic.Int32
	for range 2 {
		wait.Go(func() {
			for i := range next {
				noticed[i] = try(tried[i])
				if n := done.Add(1); *loud && (noticed[i] == "" || n%10 == 0) {
					fmt.Printf("%d tried; %v: %s\n", n, tried[i], cmp.Or(noticed[i], "not noticed"))
				}
			}
		})
	}
	for i := range tried {
		next <- i
	}
	close(next)
	wait.Wait()
	report(tried, noticed)
}

func (c change) String() string { return fmt.Sprintf("%s:%d: %s", c.file, c.line, c.what) }

// opposite are what operators are changed into.
var opposite = map[token.Token]string{token.LSS: "<=", token.LEQ: "<", token.GTR: ">=", token.GEQ: ">", token.EQL: "!=",
	token.NEQ: "==", token.LAND: "||", token.LOR: "&&", token.ADD: "-", token.SUB: "+"}

// changes lists the small ways to break a file.
func changes(path string) (list []change, err error) {
	text, err := os.ReadFile(path)
	if err != nil {
		return nil, err
	}
	set := token.NewFileSet()
	f, err := parser.ParseFile(set, path, text, 0)
	if err != nil {
		return nil, err
	}
	at := func(p token.Pos) int { return set.Position(p).Offset }
	add := func(from, to int, with, what string, p token.Pos) {
		list = append(list, change{path, set.Position(p).Line, from, to, with, what})
	}
	ast.Inspect(f, func(node ast.Node) bool {
		switch x := node.(type) {
		case *ast.BinaryExpr:
			_, text := x.X.(*ast.BasicLit)
			if with, ok := opposite[x.Op]; ok && !(x.Op == token.ADD && (text || maybeText(x))) {
				add(at(x.OpPos), at(x.OpPos)+len(x.Op.String()), with, fmt.Sprintf("%s for %s", with, x.Op), x.OpPos)
			}
		case *ast.UnaryExpr:
			if x.Op == token.NOT {
				add(at(x.OpPos), at(x.OpPos)+1, "", "no !", x.OpPos)
			}
		}
		return true
	})
	for _, d := range f.Decls { // rows of tables
		g, ok := d.(*ast.GenDecl)
		if !ok || g.Tok != token.VAR {
			continue
		}
		ast.Inspect(g, func(node ast.Node) bool {
			lit, ok := node.(*ast.CompositeLit)
			if !ok || len(lit.Elts) < 4 {
				return true
			}
			if _, map1 := lit.Type.(*ast.MapType); !map1 {
				if _, array := lit.Type.(*ast.ArrayType); !array {
					return true
				}
			}
			for i, e := range lit.Elts[:len(lit.Elts)-1] {
				add(at(e.Pos()), at(lit.Elts[i+1].Pos()), "", "row dropped", e.Pos())
			}
			return false
		})
	}
	return list, nil
}

// maybeText reports whether a sum joins texts.
func maybeText(x *ast.BinaryExpr) (is bool) {
	ast.Inspect(x, func(n ast.Node) bool {
		if lit, ok := n.(*ast.BasicLit); ok && lit.Kind == token.STRING {
			is = true
		}
		return true
	})
	return is
}

// try lays a change over the tree and runs the tests; it returns who noticed, "" for nobody.
func try(c change) string {
	text, err := os.ReadFile(c.file)
	if err != nil {
		return "unreadable"
	}
	dir, err := os.MkdirTemp("", "mutate")
	if err != nil {
		return "no room"
	}
	defer os.RemoveAll(dir)
	broken := filepath.Join(dir, "broken.go")
	mutant := slices.Concat(text[:c.from], []byte(c.with), text[c.to:])
	over, _ := json.Marshal(map[string]map[string]string{"Replace": {must(filepath.Abs(c.file)): broken}})
	overlay := filepath.Join(dir, "overlay.json")
	if os.WriteFile(broken, mutant, 0o644) != nil || os.WriteFile(overlay, over, 0o644) != nil {
		return "no room"
	}
	own := "./" + filepath.Dir(c.file)
	if exec.Command("go", "build", "-overlay", overlay, own).Run() != nil {
		return "compiler" // it counts neither way
	}
	for _, where := range append([][]string{{own}}, beyond...) {
		if !pass(where, "-overlay", overlay) {
			return where[len(where)-1]
		}
	}
	return ""
}

// pass reports whether tests pass.
func pass(where []string, more ...string) bool {
	args := slices.Concat([]string{"test", "-vet=off", "-short", "-failfast", "-timeout", longest.String()}, more, where)
	return exec.Command("go", args...).Run() == nil
}

func must(path string, err error) string {
	if err != nil {
		panic(err)
	}
	return path
}

// report sums up what was noticed, by package.
func report(tried []change, noticed []string) {
	type sum struct{ all, own, beyond int }
	by := make(map[string]*sum)
	total := &sum{}
	for i, c := range tried {
		if noticed[i] == "compiler" {
			continue
		}
		name := filepath.Dir(c.file)
		if by[name] == nil {
			by[name] = &sum{}
		}
		for _, s := range []*sum{by[name], total} {
			s.all++
			switch noticed[i] {
			case "":
			case "./" + name:
				s.own++
			default:
				s.beyond++
			}
		}
		if noticed[i] == "" {
			fmt.Println("not noticed:", c)
		}
	}
	var names []string
	for name := range by {
		names = append(names, name)
	}
	slices.SortFunc(names, func(a, b string) int { return cmp.Compare(a, b) })
	for _, name := range append(names, "all") {
		s := by[name]
		if name == "all" {
			s = total
		}
		if s.all > 0 {
			fmt.Printf("%-18s %3d changes, %3d noticed by its own tests, %2d by others: %.0f %%\n", name, s.all, s.own,
				s.beyond, 100*float64(s.own+s.beyond)/float64(s.all))
		}
	}
}
