package records

import (
	"slices"
	"strings"
	"unicode"

	"epitome/core/pattern"
)

// The tables that shells print: a line of property names, in one of them a line of dashes beneath it, then a row an
// object, the cells beneath their names; several tables one after another, apart by empty lines.

var dashes = pattern.Of(`^\s*-+(?:\s+-+)*\s*$`)

// isTable reports whether a text begins as a printed table.
func isTable(text string) bool {
	first, rest, _ := strings.Cut(text, "\n")
	second, _, _ := strings.Cut(rest, "\n")
	return dashes().MatchString(second) && strings.Contains(second, "-") ||
		isHeader(first) && !strings.Contains(strings.TrimSpace(first), "\t")
}

// isHeader reports whether a line has names of properties that are known, and nothing else.
func isHeader(line string) bool {
	names := strings.Fields(line)
	for _, n := range names {
		if !identifier(n) {
			return false
		}
	}
	return slices.ContainsFunc(names, knownProperty)
}

func identifier(s string) bool {
	other := func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) && r != '_' }
	return s != "" && !unicode.IsDigit(rune(s[0])) && strings.IndexFunc(s, other) < 0
}

// knownProperty reports whether a name is one of a property of a class that is read.
func knownProperty(name string) bool {
	return slices.ContainsFunc(classes, func(c classRow) bool {
		return slices.Contains(c.tells, name) || slices.Contains(c.harmless, name)
	})
}

// cimTable reads printed tables.
func cimTable(text string) ([]Object, []string, error) {
	var found collection
	for _, block := range tableBlocks(text) {
		cells := columnsOf(block)
		names := cells(block[0])
		for _, line := range block[1:] {
			if dashes().MatchString(line) {
				continue
			}
			o := Object{properties: make(map[string]string)}
			for i, value := range cells(line) {
				if len(names) <= i || !identifier(names[i]) || len(o.properties) == maxProperties {
					continue
				}
				if cut := strings.TrimRight(value, ".…"); cut != value { // the shell had no room for the rest
					value = ""
				}
				o.properties[names[i]] = strings.Trim(value, "{}")
			}
			if _, err := found.add(o); err != nil {
				return found.objects, found.others, err
			}
		}
	}
	return found.told()
}

// tableBlocks parts a text into its tables, each with its header first.
func tableBlocks(text string) (blocks [][]string) {
	var block []string
	end := func() {
		if len(block) > 1 {
			blocks = append(blocks, block)
		}
		block = nil
	}
	for line := range strings.SplitSeq(strings.ReplaceAll(text, "\r", ""), "\n") {
		switch {
		case strings.TrimSpace(line) == "":
			if len(block) > 1 { // a header may have an empty line behind
				end()
			}
		case len(block) > 1 && !dashes().MatchString(block[1]) && isHeader(line):
			end()
			block = append(block, line)
		default:
			block = append(block, line)
		}
	}
	end()
	return blocks
}

// columnsOf finds where a table's columns part: where every line has a blank, or, where cells run on, before each name
// of the header.
func columnsOf(block []string) func(line string) []string {
	lines := make([][]rune, len(block))
	width := 0
	for i, line := range block {
		lines[i] = []rune(line)
		width = max(width, len(lines[i]))
	}
	blank := func(line []rune, at int) bool { return at >= len(line) || line[at] == ' ' || line[at] == '\t' }
	header := lines[0]
	var starts []int // of the header's names
	for at := range header {
		if !blank(header, at) && (at == 0 || blank(header, at-1)) {
			starts = append(starts, at)
		}
	}
	cuts := []int{0}
	for _, start := range starts[min(1, len(starts)):] {
		cut := start
		for at := start - 1; at > cuts[len(cuts)-1]; at-- { // from the name back to the end of the one before it
			if !blank(header, at) {
				break
			}
			if !slices.ContainsFunc(lines, func(line []rune) bool { return !blank(line, at) }) {
				cut = at
				break
			}
		}
		cuts = append(cuts, cut)
	}
	return func(line string) (cells []string) {
		runes := []rune(line)
		for i, from := range cuts {
			to := width
			if i+1 < len(cuts) {
				to = cuts[i+1]
			}
			cells = append(cells, strings.TrimSpace(string(runes[min(from, len(runes)):min(max(from, to), len(runes))])))
		}
		return cells
	}
}
