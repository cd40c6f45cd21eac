package joblog

import (
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"slices"
	"strings"

	"epitome/internal/store"
)

// Beside a log in a file stands its trace: the highest number that was given in each year. It is written before a
// number is, so that a number that anybody saw is in it, whatever becomes of the log.
const (
	traceEnding = ".numbers"
	traceHead   = "epitome-job-numbers: 1\n"
	mostTrace   = 1 << 16
)

// traced reports whether a path has a trace that can be read.
func traced(path string) bool {
	last, err := readTrace(path)
	return err == nil && last != nil
}

// readTrace is the highest number of each year, nil where there is no trace.
func readTrace(path string) (last map[int]int, err error) {
	text, err := store.Read(path+traceEnding, mostTrace)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	rest, ok := strings.CutPrefix(string(text), traceHead)
	if !ok {
		return nil, fmt.Errorf("%w: %s can't be read; remove it, and epitome jobs rebuild FOLDER writes it anew from the "+
			"cards", ErrNumbers, path+traceEnding)
	}
	last = make(map[int]int)
	for line := range strings.Lines(rest) {
		year, which := 0, 0
		if _, err := fmt.Sscanf(line, "%d: %d", &year, &which); err != nil {
			return nil, fmt.Errorf("%w: %s: %q can't be read; remove the file, and epitome jobs rebuild FOLDER writes it anew "+
				"from the cards", ErrNumbers, path+traceEnding, strings.TrimSpace(line))
		}
		last[year] = max(last[year], which)
	}
	return last, nil
}

// writeTrace keeps the highest number of each year; none goes down.
func writeTrace(path string, last map[int]int) error {
	had, err := readTrace(path)
	if err != nil {
		return err
	}
	if had != nil && maps.Equal(had, mostOf(had, last)) {
		return nil
	}
	last = mostOf(had, last)
	text := traceHead
	for _, year := range slices.Sorted(maps.Keys(last)) {
		text += fmt.Sprintf("%d: %d\n", year, last[year])
	}
	return store.Write(path+traceEnding, []byte(text), true)
}

// mostOf is the higher number of each year.
func mostOf(a, b map[int]int) map[int]int {
	most := make(map[int]int)
	for _, x := range []map[int]int{a, b} {
		for year, which := range x {
			most[year] = max(most[year], which)
		}
	}
	return most
}

// numbersBeside is the highest number of each year that anything beside a path tells of: its trace, and logs that
// were set aside. known is false where logs were set aside, there is no trace, and not one of them can be read.
func numbersBeside(path string) (last map[int]int, known bool, err error) {
	last, err = readTrace(path)
	if err != nil || last != nil {
		return last, last != nil, err
	}
	aside := asides(path)
	known = len(aside) == 0
	for _, name := range aside {
		s := salvage(name)
		last, known = mostOf(last, s.last), known || s.counted
	}
	return last, known, nil
}
