// Package pattern holds regular expressions that cost nothing until they are
// used: compiled at package level they cost every start of the program, of
// which few need any one of them.
package pattern

import (
	"regexp"
	"sync"
)

// Of returns a function that compiles the expression once, when it is first
// called. An expression that does not compile panics then; a test that uses it
// shows.
func Of(expression string) func() *regexp.Regexp {
	return sync.OnceValue(func() *regexp.Regexp { return regexp.MustCompile(expression) })
}
