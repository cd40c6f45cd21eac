package catalogue

import (
	"regexp"
	"regexp/syntax"
	"slices"
	"strings"
	"sync"
)

// An expression is one of the tables, compiled, with the texts of which one stands in whatever it matches: most names
// have none of them, and are told so in a fraction of the time.
type expression struct {
	re    *regexp.Regexp
	needs []string // in small letters; none where nothing need stand there
}

// compiled are the expressions that were asked, by their text: *expression.
var compiled sync.Map

// matches reports whether an expression of the tables matches a brand string, in whatever letters. One that does not
// compile, as only a user's own entry has, matches nothing.
func matches(text, brand string) bool {
	x, ok := compiled.Load(text)
	if !ok {
		x, _ = compiled.LoadOrStore(text, compile(text))
	}
	return x.(*expression).in(brand)
}

func compile(text string) *expression {
	x := &expression{}
	re, err := regexp.Compile("(?i)" + text)
	if err != nil {
		return x
	}
	x.re = re
	if tree, err := syntax.Parse("(?i)"+text, syntax.Perl); err == nil {
		x.needs = needed(tree.Simplify())
	}
	return x
}

func (x *expression) in(brand string) bool {
	if x.re == nil {
		return false
	}
	lower := strings.ToLower(brand)
	has := func(text string) bool { return strings.Contains(lower, text) }
	return (len(x.needs) == 0 || slices.ContainsFunc(x.needs, has)) && x.re.MatchString(brand)
}

// needed returns texts of which one stands in everything that an expression matches; none where it can't be told.
func needed(x *syntax.Regexp) []string {
	switch x.Op {
	case syntax.OpLiteral:
		return []string{strings.ToLower(string(x.Rune))}
	case syntax.OpCapture, syntax.OpPlus:
		return needed(x.Sub[0])
	case syntax.OpConcat: // every part stands there: the one that tells most
		var best []string
		shortest := func(list []string) int {
			n := len(list[0])
			for _, text := range list {
				n = min(n, len(text))
			}
			return n
		}
		for _, part := range x.Sub {
			if list := needed(part); len(list) > 0 && (len(best) == 0 || shortest(list) > shortest(best)) {
				best = list
			}
		}
		return best
	case syntax.OpAlternate:
		var all []string
		for _, part := range x.Sub {
			list := needed(part)
			if len(list) == 0 {
				return nil
			}
			all = append(all, list...)
		}
		return all
	}
	return nil
}
