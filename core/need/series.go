package need

import (
	"bytes"
	"errors"
	"fmt"
	"math"
	"strconv"
	"strings"
	"time"

	"epitome/core/jedec"
	"epitome/core/records"
)

// A Field is one figure of a sample.
type Field uint8

// The figures. Sizes are KiB, swap counters pages since boot, stall counters
// microseconds since boot, processor time clock ticks since boot.
const (
	Total Field = iota
	Available
	SwapTotal
	SwapFree
	SwapIn
	SwapOut
	MajorFaults
	MemoryStall // some task waited for memory
	DiskStall   // some task waited for input or output
	CPUStall    // some task waited for a processor
	CPUBusy
	CPUTotal
	fields
)

// fieldNames head the columns of a stored series.
var fieldNames = [fields]string{"total_kib", "available_kib", "swap_total_kib", "swap_free_kib", "swapin_pages",
	"swapout_pages", "major_faults",
	"memory_stall_us", "disk_stall_us", "cpu_stall_us", "cpu_busy_ticks", "cpu_total_ticks"}

// missing marks a figure that the kernel did not show. Samples are many and
// small, so it stands in the array itself.
const missing = math.MinInt64

// A Sample is one look at the kernel's figures.
type Sample struct {
	At     time.Duration // since the series began, by a clock that does not jump
	Wall   time.Duration // since the series began, by the wall clock
	values [fields]int64
}

// Get returns a figure and whether the kernel showed it.
func (s Sample) Get(f Field) (int64, bool) { return s.values[f], s.values[f] != missing }

// NewSample returns a sample without figures.
func NewSample(at, wall time.Duration) Sample {
	s := Sample{At: at, Wall: wall}
	for f := range s.values {
		s.values[f] = missing
	}
	return s
}

// With returns the sample with one figure set.
func (s Sample) With(f Field, v int64) Sample {
	s.values[f] = v
	return s
}

// Texts are the kernel's texts at one moment. Any may be empty: older kernels
// have no pressure files.
type Texts struct {
	MemInfo, VMStat, Memory, Disk, CPU, Stat []byte
}

// Read takes what the texts show.
func (s Sample) Read(t Texts) Sample {
	sizes := records.ParseMemInfo(t.MemInfo)
	for field, name := range map[Field]string{Total: "MemTotal", Available: "MemAvailable", SwapTotal: "SwapTotal",
		SwapFree: "SwapFree"} {
		if size, ok := sizes[name]; ok {
			s.values[field] = int64(size / jedec.KiB)
		}
	}
	if _, ok := sizes["MemAvailable"]; !ok && s.values[Total] != missing {
		// Kernels before 3.14 leave the sum to the reader.
		if free, ok := sizes["MemFree"]; ok {
			s.values[Available] = int64((free + sizes["Cached"] + sizes["Buffers"]) / jedec.KiB)
		}
	}
	for line := range bytes.Lines(t.VMStat) {
		name, figure, _ := bytes.Cut(bytes.TrimSpace(line), []byte{' '})
		field, ok := map[string]Field{"pswpin": SwapIn, "pswpout": SwapOut, "pgmajfault": MajorFaults}[string(name)]
		if ok {
			s.count(field, string(figure))
		}
	}
	for field, text := range map[Field][]byte{MemoryStall: t.Memory, DiskStall: t.Disk, CPUStall: t.CPU} {
		line, _, _ := bytes.Cut(text, []byte{'\n'})
		if _, total, found := strings.Cut(string(line), "total="); found && bytes.HasPrefix(line, []byte("some ")) {
			s.count(field, total)
		}
	}
	s.processor(t.Stat)
	return s
}

// FromCIM takes one look from an OperatingSystem object, whose sizes are in
// KiB; ok is false for any other object.
func FromCIM(o records.Object) (s Sample, ok bool) {
	if o.Class != records.OperatingSystem {
		return s, false
	}
	s = NewSample(0, 0)
	figure := func(name string) (int64, bool) {
		n, ok := o.Number(name).Get()
		return int64(min(n, 1<<50)), ok
	}
	total, ok1 := figure("TotalVisibleMemorySize")
	free, ok2 := figure("FreePhysicalMemory")
	if !ok1 || !ok2 {
		return s, false
	}
	s = s.With(Total, total).With(Available, free)
	virtual, ok1 := figure("TotalVirtualMemorySize")
	freeVirtual, ok2 := figure("FreeVirtualMemory")
	if ok1 && ok2 {
		s = s.With(SwapTotal, max(0, virtual-total)).With(SwapFree, max(0, freeVirtual-free))
	}
	return s, true
}

func (s *Sample) count(f Field, figure string) {
	if n, err := strconv.ParseInt(strings.TrimSpace(figure), 10, 64); err == nil && n >= 0 {
		s.values[f] = n
	}
}

// processor reads the first line of /proc/stat: user nice system idle iowait
// irq softirq steal; idle and iowait are not busy.
func (s *Sample) processor(stat []byte) {
	line, _, _ := bytes.Cut(stat, []byte{'\n'})
	words := strings.Fields(string(line))
	if len(words) < 6 || words[0] != "cpu" {
		return
	}
	var total, idle int64
	for i, w := range words[1:min(len(words), 9)] {
		n, err := strconv.ParseInt(w, 10, 64)
		if err != nil || n < 0 {
			return
		}
		total += n
		if i == 3 || i == 4 {
			idle += n
		}
	}
	s.values[CPUBusy], s.values[CPUTotal] = total-idle, total
}

// A Series is samples in the order in which they were taken.
type Series []Sample

// Encode writes a series as a table with a header: milliseconds, then the
// figures, an empty cell where the kernel showed none.
func (s Series) Encode() []byte {
	b := make([]byte, 0, 96*(len(s)+1))
	b = append(b, "at_ms,wall_ms"...)
	for _, name := range fieldNames {
		b = append(append(b, ','), name...)
	}
	b = append(b, '\n')
	for _, x := range s {
		b = x.appendLine(b)
	}
	return b
}

// Line is the sample's line in an encoded series.
func (s Sample) Line() []byte { return s.appendLine(nil) }

func (s Sample) appendLine(b []byte) []byte {
	b = strconv.AppendInt(b, s.At.Milliseconds(), 10)
	b = strconv.AppendInt(append(b, ','), s.Wall.Milliseconds(), 10)
	for _, v := range s.values {
		b = append(b, ',')
		if v != missing {
			b = strconv.AppendInt(b, v, 10)
		}
	}
	return append(b, '\n')
}

// maxSamples bounds a series: a week at six a minute, or a day at one a second.
const maxSamples = 100_000

// ErrSeries is what every error of ParseSeries wraps.
var ErrSeries = errors.New("series can't be read")

// ParseSeries reads what Encode wrote. Columns are found by name, so that one
// with fewer or more is read too. A last line that was cut short is left out.
func ParseSeries(text []byte) (Series, error) {
	header, rest, _ := bytes.Cut(text, []byte{'\n'})
	columns, err := seriesColumns(string(header))
	if err != nil {
		return nil, err
	}
	lines := bytes.Count(rest, []byte{'\n'})
	if lines > maxSamples {
		return nil, fmt.Errorf("%w: %d samples; up to %d are read", ErrSeries, lines, maxSamples)
	}
	series := make(Series, 0, lines)
	for number := 2; len(rest) > 0; number++ {
		line, after, whole := bytes.Cut(rest, []byte{'\n'})
		rest = after
		sample, err := parseSample(line, columns)
		switch {
		case err == nil:
			series = append(series, sample)
		case !whole:
			return series, nil
		default:
			return series, fmt.Errorf("%w: line %d: %v", ErrSeries, number, err)
		}
	}
	return series, nil
}

// columnAt and columnWall are the two times; figures follow from 0 on.
const (
	columnAt = -1 - iota
	columnWall
	columnOther
)

func seriesColumns(header string) ([]int, error) {
	var columns []int
	var hasTime bool
	for name := range strings.SplitSeq(strings.TrimSpace(header), ",") {
		column := columnOther
		switch name {
		case "at_ms":
			column, hasTime = columnAt, true
		case "wall_ms":
			column = columnWall
		}
		for f, known := range fieldNames {
			if name == known {
				column = f
			}
		}
		columns = append(columns, column)
	}
	if !hasTime {
		return nil, fmt.Errorf("%w: its first line names no column at_ms", ErrSeries)
	}
	return columns, nil
}

// parseSample reads one line in a single pass: a day of samples has a million
// cells. A cell is digits with at most a minus before them, or empty.
func parseSample(line []byte, columns []int) (Sample, error) {
	s := NewSample(0, 0)
	var n int64
	column, start, digits := 0, 0, 0
	for i := 0; i <= len(line); i++ {
		if i < len(line) && line[i] != ',' {
			c := line[i]
			switch {
			case c >= '0' && c <= '9' && digits < 18:
				n = n*10 + int64(c-'0')
				digits++
			case c == '-' && i == start:
			default:
				return s, fmt.Errorf("%q is no number", cellAt(line, start))
			}
			continue
		}
		if column >= len(columns) {
			return s, fmt.Errorf("more than %d columns", len(columns))
		}
		switch {
		case digits == 0 && i > start:
			return s, fmt.Errorf("%q is no number", cellAt(line, start))
		case digits > 0:
			if line[start] == '-' {
				n = -n
			}
			s.put(columns[column], n)
		}
		column, start, digits, n = column+1, i+1, 0, 0
	}
	if column < len(columns) {
		return s, fmt.Errorf("%d of %d columns", column, len(columns))
	}
	return s, nil
}

// cellAt returns the cell that begins at start, for quoting.
func cellAt(line []byte, start int) []byte {
	cell, _, _ := bytes.Cut(line[start:], []byte{','})
	return cell[:min(len(cell), 40)]
}

func (s *Sample) put(column int, n int64) {
	switch {
	case column == columnAt:
		s.At = time.Duration(n) * time.Millisecond
	case column == columnWall:
		s.Wall = time.Duration(n) * time.Millisecond
	case column >= 0:
		s.values[column] = n
	}
}
