package main

import (
	"go/ast"
	"go/parser"
	"go/token"
	"go/types"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const source = `package p

type pair struct {
	a, b int
	c    string
	d    [2]int
}

var table = []int{1, 2, 3, 4}

var short = []int{1, 2}

var named = map[string]int{"a": 1, "b": 2, "c": 3, "d": 4}

func (p *pair) grow() { p.a++ }

func f(x, y int, p pair) bool {
	if x < y && !(x == 3) || x+1 >= y-2 {
		p.a = p.b
		p.grow()
		return p.c != "" && p.d[0] > len("text"+"s")
	}
	return x > 2
}
`

// Each kind of change, what is left alone, and a text that is still a program.
func TestWhatIsChanged(t *testing.T) {
	set := token.NewFileSet()
	file, err := parser.ParseFile(set, "p.go", source, 0)
	require.NoError(t, err)
	info := &types.Info{Types: make(map[ast.Expr]types.TypeAndValue), Uses: make(map[*ast.Ident]types.Object),
		Defs: make(map[*ast.Ident]types.Object), Selections: make(map[*ast.SelectorExpr]*types.Selection)}
	pkg, err := (&types.Config{}).Check("p", set, []*ast.File{file}, info)
	require.NoError(t, err)
	var all []change
	b := breaker{name: "p.go", set: set, pkg: pkg, info: info, text: []byte(source), all: &all}
	out := b.file(file)
	_, err = parser.ParseFile(token.NewFileSet(), "p.go", out, 0)
	require.NoError(t, err, "%s", out)
	found := make(map[string]int)
	for i, c := range all {
		assert.Equal(t, i, c.id)
		assert.Equal(t, c.kind == dropped, c.row)
		found[c.kind+": "+c.what]++
	}
	assert.Equal(t, map[string]int{
		"row dropped: row dropped":     8, // of a list and of a map; a list of two is none
		"bound moved by one: <= for <": 1, "comparison flipped: >= for <": 1,
		"bound moved by one: > for >=": 1, "comparison flipped: < for >=": 1,
		"bound moved by one: >= for >": 2, "comparison flipped: <= for >": 2,
		"comparison flipped: != for ==": 1, "comparison flipped: == for !=": 1,
		"and, or: || for &&": 2, "and, or: && for ||": 1, "not dropped: no !": 1,
		"plus, minus: - for +": 1, "plus, minus: + for -": 1, // texts are not subtracted
		"field swapped: a for b": 1, // what is assigned to, grows or has no other of its type stays
	}, found)
	assert.Equal(t, "comparison flipped 2; row dropped 1",
		kinds([]change{{kind: dropped}, {kind: flipped}, {kind: flipped}}))
}
