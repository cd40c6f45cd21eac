package view

import (
	"fmt"
	"strconv"

	"epitome/core/fact"
	"epitome/core/jedec"
	"epitome/core/maybe"
	"epitome/core/stick"
)

// Facing lays several sticks out as columns, one row a fact, and marks the
// rows in which they differ. at, where it is given, adds the timings at a
// grade of each stick's generation.
func (p *Page) Facing(sticks []stick.Stick, at []jedec.Grade) {
	cells := make([]map[string]string, len(sticks))
	columns := []Column{{"", Left, 0}, {"", Left, 14}}
	width := max(12, (p.Width-17)/len(sticks)-len(columnGap))
	for i, s := range sticks {
		cells[i] = facingCells(s)
		if at != nil {
			cells[i]["At the rate"] = "?"
			if t, ok := s.At(at[i]); ok {
				cells[i]["At the rate"] = fmt.Sprintf("%d: %v", int(at[i].Rate), t)
			}
		}
		columns = append(columns, Column{s.From, Left, width})
	}
	var table [][]string
	differing := 0
	for _, label := range facingOrder {
		row := []string{" ", label}
		same, stated := true, false
		for i := range sticks {
			cell, ok := cells[i][label]
			same, stated = same && cell == cells[0][label], stated || ok
			if !ok {
				cell = mark(fact.Unknown)
			}
			row = append(row, cell)
		}
		if !stated {
			continue
		}
		if !same {
			row[0] = mark(fact.Disputed)
			differing++
		}
		table = append(table, row)
	}
	p.Headline(fmt.Sprintf("%s sticks; they differ in %d of %d facts.", sentence(numberOf(len(sticks))), differing, len(table)))
	p.Blank()
	p.Table(columns, table)
	p.Blank()
	p.Foot(mark(fact.Disputed) + " differs   " + mark(fact.Unknown) + " not stated")
}

// facingOrder is the order of facts when sticks stand side by side.
var facingOrder = []string{"Size", "Generation", "Form", "Rate", "CL", "At the rate", "tAA", "tRCD", "tRP", "tRAS", "tRC", "CLs", "Ranks", "Chips", "Dies",
	"ECC", "Registered", "Supply", "Profile", "Maker", "Chips by", "Part", "Serial", "Made", "Height", "Checksum"}

// facingCells gives each fact that is stated in few characters.
func facingCells(s stick.Stick) map[string]string {
	cells := make(map[string]string)
	put(cells, "Size", s.Capacity, jedec.Capacity.String)
	put(cells, "Generation", s.Generation, jedec.Generation.String)
	put(cells, "Form", s.Form, jedec.Form.String)
	put(cells, "Rate", s.Grade, func(x jedec.Grade) string { return fmt.Sprint(int(x.Rate)) })
	put(cells, "CL", s.CL, jedec.Latency.String)
	for _, t := range namedTimes(s.Times) {
		put(cells, t.name, t.time, jedec.Picoseconds.String)
	}
	if n := len(s.Latencies); n > 0 {
		cells["CLs"] = fmt.Sprintf("%v to %v, %d", s.Latencies[0], s.Latencies[n-1], n)
	}
	put(cells, "Ranks", s.Ranks, strconv.Itoa)
	put(cells, "Chips", s.Width, func(n int) string { return fmt.Sprintf("x%d", n) })
	put(cells, "Dies", s.Density, dieSize)
	yesNo := func(b bool) string { return map[bool]string{true: "yes", false: "no"}[b] }
	put(cells, "ECC", s.ECC, yesNo)
	put(cells, "Registered", s.Registered, yesNo)
	if len(s.MilliVolts) > 0 {
		cells["Supply"] = voltList(s.MilliVolts)
	}
	for _, q := range s.Profiles {
		cells["Profile"] = fmt.Sprint(int(q.Rate))
	}
	put(cells, "Maker", s.Maker, jedec.MakerCode.String)
	put(cells, "Chips by", s.ChipMaker, jedec.MakerCode.String)
	put(cells, "Part", orNull(s.Part), same)
	put(cells, "Serial", orNull(s.Serial), same)
	put(cells, "Made", s.Year, func(y int) string { return fmt.Sprintf("%d/%02d", y, s.Week.Or(0)) })
	put(cells, "Height", s.HeightMM, func(n int) string { return fmt.Sprintf("%d mm", n) })
	put(cells, "Checksum", maybe.If(s.Checksum, s.Kind == "EEPROM"), same)
	return cells
}

// put sets a cell where the fact is known.
func put[T any](cells map[string]string, label string, v maybe.Value[T], words func(T) string) {
	if x, ok := v.Get(); ok {
		cells[label] = words(x)
	}
}
