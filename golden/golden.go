// Package golden holds what a test made against a page that somebody read and found good. A page is a case: it is
// named for what it shows and short enough to be read whole; what chance makes is held by properties instead.
package golden

import (
	"flag"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

var update = flag.Bool("update", false, "write the golden files anew: read what changed before it is committed")

// MostLines is how long a page may be: more than that nobody reads.
const MostLines = 400

// around is how many lines stand before and after the first difference that a failure shows.
const around = 5

// Compare holds a text against a file, and fails with the first difference, the lines around it, and the command that
// writes the file anew; with -update it writes the file.
func Compare(t testing.TB, path, got string) {
	t.Helper()
	if n := strings.Count(got, "\n"); n > MostLines {
		t.Errorf("%s comes to %d lines; a page has at most %d: show less, or part it by what it shows", path, n, MostLines)
		return
	}
	if *update {
		if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(path, []byte(got), 0o644); err != nil {
			t.Fatal(err)
		}
		return
	}
	text, err := os.ReadFile(path)
	if err != nil {
		t.Fatalf("%v\n%s", err, anew(t))
	}
	if want := string(text); want != got {
		t.Errorf("%s is not what came out:\n%s\n%s", path, Difference(want, got), anew(t))
	}
}

func anew(t testing.TB) string {
	top, _, _ := strings.Cut(t.Name(), "/")
	return fmt.Sprintf("Written anew, once it was read, by:  go test -run '^%s$' . -update  (in the test's folder)", top)
}

// Difference shows where two texts first differ: lines that both have before it, then those that the first alone has
// there ("-"), those that the second alone has ("+"), and what follows. It is empty where they are the same.
func Difference(want, got string) string {
	if want == got {
		return ""
	}
	was, now := strings.Split(want, "\n"), strings.Split(got, "\n")
	first := 0
	for first < min(len(was), len(now)) && was[first] == now[first] {
		first++
	}
	lost, found := apart(was[first:], now[first:])
	var b strings.Builder
	fmt.Fprintf(&b, "@ line %d\n", first+1)
	for i := max(0, first-around); i < first; i++ {
		fmt.Fprintf(&b, "  %s\n", was[i])
	}
	for _, side := range []struct {
		mark  string
		lines []string
	}{{"-", was[first : first+lost]}, {"+", now[first : first+found]}} {
		for i, line := range side.lines {
			if i == 2*around {
				fmt.Fprintf(&b, "%s … and %d more\n", side.mark, len(side.lines)-i)
				break
			}
			fmt.Fprintf(&b, "%s %s\n", side.mark, line)
		}
	}
	for i := first + lost; i < min(len(was), first+lost+around); i++ {
		fmt.Fprintf(&b, "  %s\n", was[i])
	}
	return strings.TrimSuffix(b.String(), "\n")
}

// apart tells how many lines of each text pass before both are at the same line again: the fewest in all.
func apart(was, now []string) (lost, found int) {
	for sum := 1; sum <= len(was)+len(now); sum++ {
		for lost := range min(sum, len(was)) + 1 {
			if found := sum - lost; found <= len(now) && meets(was[lost:], now[found:]) {
				return lost, found
			}
		}
	}
	return len(was), len(now)
}

// meets tells whether two texts go on alike: with the same line that says something, or both with their end.
func meets(was, now []string) bool {
	if len(was) == 0 || len(now) == 0 {
		return len(was) == len(now)
	}
	return was[0] == now[0] && (was[0] != "" || meets(was[1:], now[1:]))
}

// A Page is a text of sections, each with a title.
type Page struct{ text strings.Builder }

// Add writes a section.
func (p *Page) Add(title string, lines ...string) {
	fmt.Fprintf(&p.text, "## %s\n", title)
	for _, line := range lines {
		p.text.WriteString(line + "\n")
	}
}

// Compare holds the page against a file.
func (p *Page) Compare(t testing.TB, path string) {
	t.Helper()
	Compare(t, path, p.text.String())
}
