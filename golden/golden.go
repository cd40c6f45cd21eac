// Package golden compares what tests made with a file that was read and found good.
package golden

import (
	"flag"
	"fmt"
	"hash/crc32"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
)

var update = flag.Bool("update", false, "write the golden files anew: read what changed before it is committed")

// most bounds the lines that a failure shows.
const most = 40

// Compare holds a text against a file, and fails with the lines in which they differ; or it writes the file anew.
func Compare(t testing.TB, path, got string) {
	t.Helper()
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
		t.Fatalf("%v; go test -run %s -update writes it: read it before it is committed", err, t.Name())
	}
	if want := string(text); want != got {
		was, now := strings.Split(want, "\n"), strings.Split(got, "\n")
		lost, found := without(was, now), without(now, was)
		if len(lost)+len(found) == 0 {
			lost = []string{"the same lines in another order"}
		}
		t.Errorf("%s differs; go test -run %s -update writes it anew\n%s", path, t.Name(),
			strings.Join(append(lines("- ", lost), lines("+ ", found)...), "\n"))
	}
}

// without are the lines of a text beyond those of another.
func without(text, other []string) []string {
	left := make(map[string]int)
	for _, line := range other {
		left[line]++
	}
	return slices.DeleteFunc(slices.Clone(text), func(line string) bool {
		left[line]--
		return left[line] >= 0
	})
}

func lines(mark string, list []string) (out []string) {
	for _, line := range list[:min(most, len(list))] {
		out = append(out, mark+line)
	}
	return out
}

// A Page is a text of many sections of which much is alike: a line is written where it comes first. What
// a section repeats is held by the sum that its title carries, so that no change of it is lost.
type Page struct {
	text strings.Builder
	said map[string]bool
}

// Add writes a section.
func (p *Page) Add(title string, lines []string) {
	if p.said == nil {
		p.said = make(map[string]bool)
	}
	fmt.Fprintf(&p.text, "## %s (%08x)\n", title, crc32.ChecksumIEEE([]byte(strings.Join(lines, "\n"))))
	for _, line := range lines {
		if !p.said[line] {
			p.said[line] = true
			p.text.WriteString(line + "\n")
		}
	}
}

// Compare holds the page against a file.
func (p *Page) Compare(t testing.TB, path string) {
	t.Helper()
	Compare(t, path, p.text.String())
}
