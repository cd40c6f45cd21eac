package main

import (
	_ "embed"
	"fmt"
	"go/ast"
	"go/constant"
	"go/token"
	"go/types"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"

	"golang.org/x/tools/go/packages"
)

// A change is one small way to break a file. Its number is its place among all.
type change struct {
	id   int
	file string
	line int
	kind string
	what string
	row  bool // of a table, which is made before any test runs
}

func (c change) String() string { return fmt.Sprintf("%s:%d: %s", c.file, c.line, c.what) }

//go:embed switch.go.txt
var switches []byte

// copyTree copies what is or could be committed.
func copyTree(tree string) error {
	listed, err := exec.Command("git", "ls-files", "-co", "--exclude-standard", "-z").Output()
	if err != nil {
		return fmt.Errorf("git ls-files: %w", err)
	}
	for name := range strings.SplitSeq(strings.TrimRight(string(listed), "\x00"), "\x00") {
		text, err := os.ReadFile(name)
		if os.IsNotExist(err) {
			continue // deleted and not committed
		}
		if err != nil {
			return err
		}
		if err := write(filepath.Join(tree, name), text); err != nil {
			return err
		}
	}
	return nil
}

// breakAll writes every change into a copy of the tree, each behind its switch.
func breakAll(tree string) ([]change, error) {
	if err := write(filepath.Join(tree, "internal", "mutant", "mutant.go"), switches); err != nil {
		return nil, err
	}
	found, err := packages.Load(&packages.Config{Mode: packages.LoadSyntax | packages.NeedDeps}, "./core/...")
	if err != nil {
		return nil, err
	}
	var all []change
	here, err := os.Getwd()
	if err != nil {
		return nil, err
	}
	for _, p := range found {
		for i, f := range p.Syntax {
			name, err := filepath.Rel(here, p.CompiledGoFiles[i])
			if err != nil || len(p.Errors) > 0 {
				return nil, fmt.Errorf("%s: %v %v", p.CompiledGoFiles[i], err, p.Errors)
			}
			text, err := os.ReadFile(name)
			if err != nil {
				return nil, err
			}
			b := breaker{name: name, set: p.Fset, info: p.TypesInfo, pkg: p.Types, text: text, all: &all}
			if changed := b.file(f); changed != nil {
				if err := write(filepath.Join(tree, name), changed); err != nil {
					return nil, err
				}
			}
		}
	}
	return all, nil
}

func write(path string, text []byte) error {
	if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
		return err
	}
	return os.WriteFile(path, text, 0o755)
}

// A breaker writes the switches into one file.
type breaker struct {
	name  string
	set   *token.FileSet
	pkg   *types.Package
	info  *types.Info
	text  []byte
	all   *[]change
	edits []edit
}

// An edit puts text in the place of bytes. Of those at one place, what closes comes first, the
// inner before the outer.
type edit struct {
	at, until int
	with      string
	closes    bool
	order     int
}

func (b *breaker) put(at, until token.Pos, closes bool, with string, args ...any) {
	b.edits = append(b.edits, edit{b.offset(at), b.offset(until), fmt.Sprintf(with, args...), closes, len(b.edits)})
}

func (b *breaker) offset(p token.Pos) int { return b.set.Position(p).Offset }

func (b *breaker) open(at token.Pos, with string, args ...any)  { b.put(at, at, false, with, args...) }
func (b *breaker) close(at token.Pos, with string, args ...any) { b.put(at, at, true, with, args...) }

// The kinds of changes.
const (
	flipped = "comparison flipped"
	moved   = "bound moved by one"
	joined  = "and, or"
	negated = "not dropped"
	signed  = "plus, minus"
	dropped = "row dropped"
	swapped = "field swapped"
)

func (b *breaker) add(at token.Pos, kind, what string, args ...any) int {
	id := len(*b.all)
	*b.all = append(*b.all, change{id, b.name, b.set.Position(at).Line, kind, fmt.Sprintf(what, args...), kind == dropped})
	return id
}

// file returns the text with switches, nil where there is nothing to change.
func (b *breaker) file(f *ast.File) []byte {
	written := b.places(f)
	ast.Inspect(f, func(n ast.Node) bool {
		switch x := n.(type) {
		case *ast.SelectorExpr:
			if !written[x] {
				b.field(x)
			}
		case *ast.BinaryExpr:
			if b.info.Types[x].Value == nil {
				b.binary(x)
			}
		case *ast.UnaryExpr:
			if x.Op == token.NOT {
				b.turn(x, b.add(x.OpPos, negated, "no !"))
			}
		}
		return true
	})
	for _, d := range f.Decls {
		if g, ok := d.(*ast.GenDecl); ok && g.Tok == token.VAR {
			ast.Inspect(g, b.table)
		}
	}
	if len(b.edits) == 0 {
		return nil
	}
	b.close(f.Name.End(), `; import mutant "epitome/internal/mutant"`)
	slices.SortStableFunc(b.edits, func(x, y edit) int {
		switch {
		case x.at != y.at:
			return x.at - y.at
		case x.closes != y.closes && x.closes:
			return -1
		case x.closes != y.closes:
			return 1
		case x.closes:
			return y.order - x.order
		}
		return x.order - y.order
	})
	var out []byte
	at := 0
	for _, e := range b.edits {
		out = append(append(out, b.text[at:e.at]...), e.with...)
		at = e.until
	}
	return append(out, b.text[at:]...)
}

// turned are comparisons and sums with the function that makes the others of them, and what these are:
// the bound moved by one, and the opposite.
var turned = map[token.Token][3]string{
	token.LSS: {"Less", "<=", ">="},
	token.LEQ: {"LessEq", "<", ">"},
	token.GTR: {"More", ">=", "<="},
	token.GEQ: {"MoreEq", ">", "<"},
	token.ADD: {"Plus", "-"},
	token.SUB: {"Minus", "+"},
}

// other are the operators that are each other's "not", or come to it where all else is turned.
var other = map[token.Token]string{token.EQL: "!=", token.NEQ: "==", token.LAND: "||", token.LOR: "&&"}

func (b *breaker) binary(x *ast.BinaryExpr) {
	with := other[x.Op]
	if t, ok := turned[x.Op]; ok {
		of := ""
		if basic, is := b.info.TypeOf(x).(*types.Basic); is && basic.Info()&types.IsNumeric != 0 {
			of = "[" + basic.Name() + "]" // a shifted constant takes its type from here
		}
		if text, is := b.info.TypeOf(x).Underlying().(*types.Basic); is && text.Info()&types.IsString != 0 {
			return // texts have no minus
		}
		kind := signed
		if t[2] != "" {
			kind = moved
		}
		id := b.add(x.OpPos, kind, "%s for %s", t[1], x.Op)
		if t[2] != "" {
			b.add(x.OpPos, flipped, "%s for %s", t[2], x.Op) // the next number: see the switches
		}
		b.open(x.Pos(), "mutant.%s%s(%d, ", t[0], of, id)
		b.put(x.OpPos, x.OpPos+token.Pos(len(x.Op.String())), false, ",")
		b.close(x.End(), ")")
		return
	}
	switch x.Op {
	case token.EQL, token.NEQ:
		b.turn(x, b.add(x.OpPos, flipped, "%s for %s", with, x.Op))
	case token.LAND, token.LOR: // not (not a and not b) is a or b
		id := b.add(x.OpPos, joined, "%s for %s", with, x.Op)
		b.open(x.Pos(), "((((")
		b.close(x.End(), ") != mutant.On(%d))) != mutant.On(%d))", id, id)
		b.close(x.X.End(), ") != mutant.On(%d))", id)
		b.open(x.Y.Pos(), "((")
	}
}

// turn makes the opposite of what is true or false.
func (b *breaker) turn(x ast.Expr, id int) {
	b.open(x.Pos(), "((")
	b.close(x.End(), ") != mutant.On(%d))", id)
}

// places are the selectors whose place is meant, not what it holds: what is assigned to, pointed at or
// cut, and what a method is called on.
func (b *breaker) places(f *ast.File) map[*ast.SelectorExpr]bool {
	list := make(map[*ast.SelectorExpr]bool)
	var mark func(x ast.Expr)
	mark = func(x ast.Expr) {
		switch x := x.(type) {
		case *ast.SelectorExpr:
			list[x] = true
			mark(x.X)
		case *ast.IndexExpr:
			mark(x.X)
		case *ast.ParenExpr:
			mark(x.X)
		case *ast.StarExpr:
			mark(x.X)
		}
	}
	ast.Inspect(f, func(n ast.Node) bool {
		switch x := n.(type) {
		case *ast.AssignStmt:
			for _, to := range x.Lhs {
				mark(to)
			}
		case *ast.IncDecStmt:
			mark(x.X)
		case *ast.RangeStmt:
			mark(x.Key)
			mark(x.Value)
		case *ast.UnaryExpr:
			if x.Op == token.AND {
				mark(x.X)
			}
		case *ast.SliceExpr:
			if _, is := b.info.TypeOf(x.X).Underlying().(*types.Array); is {
				mark(x.X)
			}
		case *ast.SelectorExpr:
			if s := b.info.Selections[x]; s != nil && s.Kind() == types.MethodVal {
				if _, is := s.Obj().(*types.Func).Signature().Recv().Type().(*types.Pointer); is {
					mark(x.X)
				}
			}
		}
		return true
	})
	return list
}

// field lets the next field of the same type be taken for one that is read.
func (b *breaker) field(x *ast.SelectorExpr) {
	s := b.info.Selections[x]
	if s == nil || s.Kind() != types.FieldVal || len(s.Index()) != 1 || !plain(x.X) {
		return
	}
	of := s.Recv().Underlying()
	if p, ok := of.(*types.Pointer); ok {
		of = p.Elem().Underlying()
	}
	fields, ok := of.(*types.Struct)
	if !ok {
		return
	}
	for i := 1; i < fields.NumFields(); i++ {
		next := fields.Field((s.Index()[0] + i) % fields.NumFields())
		if !types.Identical(next.Type(), s.Type()) || !next.Exported() && next.Pkg() != b.pkg {
			continue
		}
		id := b.add(x.Sel.Pos(), swapped, "%s for %s", next.Name(), x.Sel.Name)
		b.open(x.Pos(), "mutant.Field(%d, ", id)
		b.close(x.End(), ", %s.%s)", b.text[b.offset(x.X.Pos()):b.offset(x.X.End())], next.Name())
		return
	}
}

// plain reports whether an expression is a name or a field of one, which can be said twice.
func plain(x ast.Expr) bool {
	switch x := x.(type) {
	case *ast.Ident:
		return true
	case *ast.SelectorExpr:
		return plain(x.X)
	}
	return false
}

// table lets each row of a list of four or more be dropped.
func (b *breaker) table(n ast.Node) bool {
	lit, ok := n.(*ast.CompositeLit)
	if !ok || len(lit.Elts) < 4 || lit.Type == nil {
		return true
	}
	drop := func(row ast.Expr) int { return b.add(row.Pos(), dropped, "row dropped") }
	var keys []string
	for _, row := range lit.Elts {
		if kv, ok := row.(*ast.KeyValueExpr); ok {
			if k, elided := kv.Key.(*ast.CompositeLit); elided && k.Type == nil {
				return true // a key that can't be said again
			}
			text := string(b.text[b.offset(kv.Key.Pos()):b.offset(kv.Key.End())])
			if v := b.info.Types[kv.Key].Value; v != nil && v.Kind() == constant.Int {
				text = v.String()
			}
			keys = append(keys, text)
		}
	}
	name := ""
	switch b.info.TypeOf(lit).Underlying().(type) {
	case *types.Map:
		name = "Keys"
	case *types.Slice:
		if len(keys) > 0 {
			return true
		}
		name = "Rows"
	case *types.Array:
		name = "Rows"
		if len(keys) > 0 {
			name = "Places"
		}
	default:
		return true
	}
	first := len(*b.all)
	for _, row := range lit.Elts {
		drop(row)
	}
	b.open(lit.Pos(), "mutant.%s(%d, ", name, first)
	b.close(lit.End(), "%s)", strings.Join(append([]string{""}, keys...), ", "))
	return false
}
